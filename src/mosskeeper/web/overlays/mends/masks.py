"""Routes of what a mend opens: the mask that the hand made, acts on it, what is chosen by name or by colour."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from fastapi import APIRouter, Query
from fastapi.responses import JSONResponse, Response

from mosskeeper.core.mending.choose.mask_edits import Act, Way
from mosskeeper.core.mending.masks import hardened
from mosskeeper.core.pictures.decode import MAX_BYTES, decode
from mosskeeper.core.reading.structure import grey
from mosskeeper.queue.deferring import want_map
from mosskeeper.studio import (
    choosing,
    masks,
    offers,
    pictures,
    shots,
)
from mosskeeper.web.deps import Db, Id, Look, PageId, Queue, Text, Upload
from mosskeeper.web.overlays.mends.answers import Base, acted

router = APIRouter()


@router.post("/stacks/{stack_id}/mends/{mend}/mask")
def keep_mask(
    db: Db,
    page_id: PageId,
    stack_id: Id,
    mend: str,
    mask: Upload,
    base: Annotated[str, Query(max_length=64)] = "",
    over: Annotated[bool, Query()] = False,
) -> JSONResponse:
    """Keeps what the hand opened. Another tab's mask is not painted over: 409, and both are there to choose from."""

    def keep() -> None:
        opened = hardened(np.asarray(grey(decode(mask.file.read(MAX_BYTES + 1)).rgb_u8), np.float32))
        masks.keep_mask(db, stack_id, mend, opened, base, page_id, over)

    return acted(db, stack_id, keep, mend)


@router.post("/stacks/{stack_id}/mends/{mend}/act")
def act(
    db: Db,
    page_id: PageId,
    stack_id: Id,
    mend: str,
    act: Act,
    px: Annotated[float, Query(ge=0, le=200)] = 6,
) -> JSONResponse:
    """Grows, shrinks, smooths, fills or turns over what is open."""
    return acted(db, stack_id, lambda: masks.act_on_mask(db, stack_id, mend, act, px, page_id), mend)


@router.post("/stacks/{stack_id}/mends/{mend}/choose")
def choose(
    db: Db, page_id: PageId, stack_id: Id, mend: str, key: Annotated[list[str], Query(max_length=12)], way: Way = "only"
) -> JSONResponse:
    """Opens what is chosen by name."""
    return acted(db, stack_id, lambda: masks.choose(db, stack_id, mend, key, way, page_id), mend)


@router.post("/stacks/{stack_id}/mends/{mend}/kept")
def keep_choice(db: Db, page_id: PageId, stack_id: Id, mend: str, name: Text = "") -> JSONResponse:
    """Keeps what is open by a name."""
    return acted(db, stack_id, lambda: masks.keep_choice(db, stack_id, mend, name, page_id), mend)


@router.post("/stacks/{stack_id}/mends/{mend}/alike")
def alike(
    db: Db,
    page_id: PageId,
    stack_id: Id,
    mend: str,
    x: Annotated[int, Query(ge=0, lt=4096)],
    y: Annotated[int, Query(ge=0, lt=4096)],
    near: Annotated[float, Query(ge=1, le=60)] = 12,
    way: Way = "only",
) -> JSONResponse:
    """Opens what hangs together with a place and is near to its colour."""
    return acted(db, stack_id, lambda: masks.choose_alike(db, stack_id, mend, (x, y), near, way, page_id), mend)


@router.get("/shots/{shot_id}/choices.json")
def choices(db: Look, shot_id: Id, picture: Base) -> JSONResponse:
    """What can be chosen by name in a picture; empty until a worker has found it."""
    shot = shots.find(db, shot_id)
    found = masks.choices_on(db, shot, picture)
    quick = [{"key": q.key, "name": q.name} for q in offers.quick_offers(db, shot, picture)]
    return JSONResponse({"there": found is not None, "quick": quick, **({} if found is None else found.to_json())})


@router.post("/shots/{shot_id}/choices")
def want_choices(db: Db, queue: Queue, shot_id: Id, picture: Base) -> Response:
    """Asks what can be chosen by name in a picture: 204 where it is known, 202 where a worker looks for it now."""
    shots.find(db, shot_id)
    if choosing.known(db, picture) is not None:
        return Response(status_code=204)
    pictures.find(db, picture)
    want_map(db, queue, choosing.key_of(picture))
    return Response(status_code=202)
