"""Routes of the stack of mends: accepted, hidden, moved, taken off, carried over, put on the board."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import JSONResponse, Response

from mosskeeper.core.errors import ArtistError
from mosskeeper.queue import mending
from mosskeeper.queue.deferring import want_measures
from mosskeeper.studio import (
    acts,
    mends,
    stacks,
)
from mosskeeper.studio.models import Variant
from mosskeeper.web.deps import Db, Id, PageId, Queue
from mosskeeper.web.overlays.mends.answers import MendId, acted

router = APIRouter()


@router.post("/stacks/{stack_id}/variants/{variant_id}/accept")
def accept(db: Db, queue: Queue, page_id: PageId, stack_id: Id, variant_id: Id) -> JSONResponse:
    """Accepts a variant; mends above it are made anew on it."""

    def press() -> str:
        mends.accept(db, stack_id, variant_id, page_id)
        mending.redo(db, queue, stack_id)
        variant = db.get_one(Variant, variant_id)
        return variant.mend

    return acted(db, stack_id, press)


@router.post("/stacks/{stack_id}/mends/{mend}/shown")
def show(db: Db, queue: Queue, page_id: PageId, stack_id: Id, mend: str, shown: Annotated[bool, Query()]) -> JSONResponse:
    """Hides a mend, or shows it again; mends above it are made anew where they were not made so before."""
    return _restacked(
        db,
        queue,
        stack_id,
        mend,
        lambda: stacks.edit_mend(db, stack_id, mend, lambda one: one.model_copy(update={"shown": shown}), page_id),
    )


@router.post("/stacks/{stack_id}/mends/{mend}/order")
def order(db: Db, queue: Queue, page_id: PageId, stack_id: Id, mend: str, by: Annotated[int, Query(ge=-24, le=24)]) -> JSONResponse:
    """Moves a mend up or down the stack."""
    return _restacked(db, queue, stack_id, mend, lambda: stacks.edit(db, stack_id, lambda stack: stack.moved(mend, by), page_id))


@router.post("/stacks/{stack_id}/mends/{mend}/off")
def take_off(db: Db, queue: Queue, page_id: PageId, stack_id: Id, mend: str) -> JSONResponse:
    """Takes a mend off; undo brings it back, with its variants."""

    def off() -> None:
        stacks.edit(db, stack_id, lambda stack: stack.changed(mends=[one for one in stack.mends if one.id != mend]), page_id)

    return _restacked(db, queue, stack_id, "", off)


def _restacked(db: Db, queue: Queue, stack_id: int, mend: str, change: Callable[[], object]) -> JSONResponse:
    def changed() -> None:
        change()
        mending.redo(db, queue, stack_id)

    return acted(db, stack_id, changed, mend)


@router.post("/stacks/{stack_id}/walk")
def walk(db: Db, stack_id: Id, back: bool, mend: MendId = "") -> JSONResponse:
    """One act back, or forth again."""
    return acted(db, stack_id, lambda: stacks.walk(db, stack_id, back), mend)


@router.post("/stacks/{stack_id}/redo")
def redo(db: Db, queue: Queue, stack_id: Id, mend: MendId = "") -> JSONResponse:
    """Makes anew what stands on another picture now, from the lowest up."""
    return acted(db, stack_id, lambda: mending.redo(db, queue, stack_id), mend)


@router.post("/stacks/{stack_id}/mends/{mend}/copy")
def copy(db: Db, queue: Queue, stack_id: Id, mend: str, take: Annotated[list[int], Query(max_length=60)]) -> JSONResponse:
    """Carries a mend over to other takes: a worker finds where it belongs in each, and makes it."""

    def carry() -> None:
        mends.standing_of(db, stack_id).height(mend)
        for take_id in take:
            mending.want_copy(db, queue, stack_id, mend, take_id)

    return acted(db, stack_id, carry, mend)


@router.post("/stacks/{stack_id}/take")
def as_take(db: Db, queue: Queue, stack_id: Id) -> Response:
    """Puts the mended picture on the shot's board."""
    made = False

    def lay() -> None:
        nonlocal made
        take, made = mends.as_take(db, stack_id)
        if made:
            want_measures(db, queue, take.id)

    try:
        acts.once(db, lay)
        take, _ = mends.as_take(db, stack_id)  # there by now
    except ArtistError as error:
        return JSONResponse({"problem": error.sentence}, 422)
    return JSONResponse({"take": take.id, "number": take.number, "fresh": made})


@router.post("/stacks/{stack_id}/full")
def full_size(db: Db, queue: Queue, stack_id: Id) -> JSONResponse:
    """Puts what was mended back into the picture as it came, at its own size."""
    row = stacks.find(db, stack_id)
    mending.want_full_size(db, queue, row.shot_id, stack_id)
    return JSONResponse({"waits": True}, 202)
