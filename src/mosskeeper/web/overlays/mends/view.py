"""What the page of the mends overlay is told: how the stack stands, which mend is open, and what it says."""

from __future__ import annotations

from typing import Any

from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.stack import Mend
from mosskeeper.core.words.understand import understand
from mosskeeper.studio import (
    drafts,
    engines,
    estimates,
    mends,
    pictures,
    stacks,
    takes,
)
from mosskeeper.studio.mends import StackState
from mosskeeper.studio.models import Shot, Variant
from mosskeeper.web.references import lends
from mosskeeper.web.render import fragment


def state_of(db: Session, shot: Shot, base: str, mend_id: str) -> dict[str, Any]:
    made = mends.standing(db, shot.id, base)
    chosen = next((h for h in made.heights if h.mend.id == mend_id), None)
    if chosen is None and mend_id != "new":
        chosen = made.heights[-1] if made.heights else None
    mend = chosen.mend if chosen is not None else None
    last = made.heights[-1] if made.heights else None
    own = mends.variants(db, made.row, mend.id) if mend is not None else []
    run = mends.active_run(db, made.row)
    on = chosen.on if chosen is not None else made.top
    undoes, redoes = stacks.can_walk(db, made.row)
    context = {
        "shot": shot,
        "base": base,
        "made": made,
        "chosen": chosen,
        "mend": mend,
        "variants": own,
        "accepted": _accepted(made, own, mend),
        "run": run,
        "price": _price(db, chosen),
        "said": None if mend is None else understand(mend.words),
        "takes": [t for t in takes.of_shot(db, shot.id) if not t.put_aside and t.picture_sha256 != base],
        "copies": mends.copies(db, made.row, mend.id) if mend is not None and made.row is not None else [],
        "large": _too_large(db, base),
        "engine": engines.known(db, made.stack.settings.engine).title,
        "another": made.stack.settings.engine != drafts.of_shot(shot).engine,
        "pending": any(h.pending for h in made.heights),
        "lent": {} if mend is None else lends.shown(db, list(mend.cues)),
        "of_shot": [cue for cue in drafts.of_shot(shot).cues if cue.picture is not None or cue.skeleton is not None],
    }
    size = chosen.size if chosen is not None else _top_size(made)
    return {
        "stack": made.row.id if made.row is not None else 0,
        "number": made.row.number if made.row is not None else 0,
        "mend": mend.id if mend is not None else "",
        "mends": len(made.stack.mends),
        "on": on or "",
        "below": on or (last.on if last is not None and last.on else made.stack.base),
        "size": list(size),
        "kept": [one.name for one in made.stack.kept],
        "mask": (mend.mask or "") if mend is not None else "",
        "wider": list(mend.wider) if mend is not None else [0, 0, 0, 0],
        "window": list(mend.window) if mend is not None and mend.window is not None else None,
        "picture": (chosen.picture if chosen is not None and chosen.stands else on) or made.stack.base,
        "top": made.top or "",
        "undoes": undoes,
        "redoes": redoes,
        "settled": chosen is not None and chosen.stands,
        "runs": run is not None and run.active,
        "fields": {}
        if mend is None
        else {
            "words": mend.words,
            "negative": mend.negative,
            "strength": mend.strength,
            "feather": mend.feather,
            "outlines": mend.outlines,
            "count": mend.count,
        },
        "html": {name: str(fragment(f"overlays/mends/{name}.html", context)) for name in ("told", "variants", "stack", "run", "cues")},
    }


def _too_large(db: Session, base: str) -> str:
    """The size of a picture that is worked on at a smaller one; "" where it is worked on as it is."""
    picture = pictures.find(db, base)
    own = (picture.width, picture.height)
    worked = stacks.working_size(*own)
    return "" if worked == own else f"{own[0]} × {own[1]} px, worked on at {worked[0]} × {worked[1]}"


def _top_size(made: StackState) -> tuple[int, int]:
    w, h = made.stack.size
    for height in made.heights:
        if not height.passed:
            left, above, right, below = height.mend.wider
            w, h = w + left + right, h + above + below
    return w, h


def _accepted(made: StackState, own: list[Variant], mend: Mend | None) -> int | None:
    """The variant that stands in the stack."""
    if mend is None or mend.seed is None:
        return None
    picture = next((h.picture for h in made.heights if h.mend.id == mend.id), None)
    return next((v.id for v in own if v.seed == mend.seed and (picture is None or v.picture_sha256 == picture)), None)


def _price(db: Session, chosen: Any) -> Any:
    if chosen is None or chosen.recipe is None:
        return None
    try:
        return estimates.estimate(db, chosen.recipe)
    except ArtistError:
        return None
