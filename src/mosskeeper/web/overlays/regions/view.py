"""What the page of the regions overlay is told: the regions as they are kept, with the references of each."""

from __future__ import annotations

from typing import Any

from sqlalchemy.orm import Session

from mosskeeper.core.pictures.areas import area_called
from mosskeeper.core.regions.words import fades, own_words
from mosskeeper.studio import drafts, shots
from mosskeeper.web.references import lends
from mosskeeper.web.table.forms import digest, fields_of


def state_of(db: Session, shot_id: int) -> dict[str, Any]:
    shot = shots.find(db, shot_id)
    recipe = drafts.of_shot(shot)
    undoes, redoes = drafts.can_walk(db, shot)
    lent = lends.shown(db, [cue for region in recipe.regions for cue in region.cues])
    return {
        "revision": shot.revision,
        "undoes": undoes,
        "redoes": redoes,
        "words": recipe.words,
        "fields": fields_of(recipe),
        "areas": [
            {"cue": c.id, "name": c.name or c.role, "area": area_called(c.area) or "a part of its own"}
            for c in recipe.cues
            if c.area is not None and all(region.mask != c.area for region in recipe.regions)
        ],
        "rest": digest(recipe.model_copy(update={"regions": []})),
        "regions": [
            {
                "letter": chr(65 + n),
                "fades": fades(own_words(region.prompt)),
                "unknown": [span.text for span in own_words(region.prompt).unknown][:3],
                **region.model_dump(exclude={"cues"}),
                "holds": [c.name or c.role for c in recipe.cues if c.area == region.mask],
                "cues": [
                    {
                        "id": c.id,
                        "role": c.role,
                        "name": c.name,
                        "picture": c.picture,
                        "weight": c.weight,
                        "lends": lends.html(c, lent.get(c.id)),
                    }
                    for c in region.cues
                ],
            }
            for n, region in enumerate(recipe.regions)
        ],
    }
