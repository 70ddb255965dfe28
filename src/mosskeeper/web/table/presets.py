"""Presets on the light table: saving one, and taking one over after seeing what changes."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import Response

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.recipe import differences
from mosskeeper.studio import drafts, presets, shots
from mosskeeper.web.deps import Db, Id, Look, Text
from mosskeeper.web.render import fragment, part, parts

router = APIRouter()


@router.get("/shots/{shot_id}/presets")
def listed(db: Look, shot_id: Id) -> Response:
    return _listed(db, shot_id)


def _listed(db: Db, shot_id: Id, **more: object) -> Response:
    shot = shots.find(db, shot_id)
    context = {"shot": shot, "presets": presets.for_shot(db, shot), **more}
    return parts(part("word-offers", fragment("table/presets.html", context)), status=422 if "problem" in more else 200)


@router.post("/shots/{shot_id}/presets")
def save(db: Db, shot_id: Id, preset: Text = "", whose: Text = "") -> Response:
    """Saves the recipe on the table under a name, for its character or for the studio."""
    shot = shots.find(db, shot_id)
    try:
        presets.save(db, preset, shots.draft(shot), shot.character_id if whose == "character" else None)
    except ArtistError as error:
        return _listed(db, shot_id, problem=error.sentence)
    return _listed(db, shot_id)


@router.get("/shots/{shot_id}/presets/{preset_id}")
def offer(db: Look, shot_id: Id, preset_id: Id) -> Response:
    """What taking a preset over would change, with its words and without."""
    shot, preset = shots.find(db, shot_id), presets.find(db, preset_id)
    draft = shots.draft(shot)
    context = {
        "shot": shot,
        "preset": preset,
        "changes": differences(draft, presets.applied(preset, draft, False)),
        "words": differences(draft, presets.applied(preset, draft, True)),
    }
    return parts(part("word-offers", fragment("table/preset_offer.html", context)))


@router.post("/shots/{shot_id}/presets/{preset_id}")
def take_over(db: Db, shot_id: Id, preset_id: Id, words: Annotated[bool, Query()] = False) -> Response:
    preset = presets.find(db, preset_id)
    drafts.edit(db, shot_id, lambda now: presets.applied(preset, now, words))
    return Response(headers={"HX-Refresh": "true"})


@router.post("/shots/{shot_id}/presets/{preset_id}/rename")
def rename(db: Db, shot_id: Id, preset_id: Id, name: Text = "") -> Response:
    try:
        presets.rename(db, preset_id, name)
    except ArtistError as error:
        return _listed(db, shot_id, problem=error.sentence)
    return _listed(db, shot_id)


@router.post("/shots/{shot_id}/presets/{preset_id}/put-away")
def put_away(db: Db, shot_id: Id, preset_id: Id, back: Annotated[bool, Query()] = False) -> Response:
    gone = presets.put_away(db, preset_id, not back)
    return _listed(db, shot_id, gone=None if back else gone)
