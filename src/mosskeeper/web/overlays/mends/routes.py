"""Routes of the mends overlay: its page, its state, and what a mend is told and run."""

from __future__ import annotations

from collections.abc import ItemsView
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request
from fastapi.responses import JSONResponse, Response
from sqlalchemy.orm import Session

from mosskeeper.core.mending.choose.mask_edits import ACTS
from mosskeeper.queue.app import submit
from mosskeeper.studio import (
    acts,
    library,
    masks,
    mends,
    offers,
    runs,
    shots,
    stacks,
)
from mosskeeper.web.deps import After, Db, Fields, Id, Look, NewId, PageId, Queue
from mosskeeper.web.overlays.mends.answers import Base, MendId, acted
from mosskeeper.web.overlays.mends.view import state_of
from mosskeeper.web.render import page
from mosskeeper.web.table import view as table

router = APIRouter()
_JOINABLE = 24  # takes, and brought pictures, that are offered
TakeId = Annotated[int | None, Query(ge=0, lt=2**31)]
_TOLD = ("words", "negative", "strength", "feather", "outlines", "count")  # fields of a mend that the page sends


@router.get("/shots/{shot_id}/mends")
def overlay(
    request: Request,
    db: Look,
    shot_id: Id,
    take: TakeId = None,
    base: Annotated[str, Query(pattern=r"^([0-9a-f]{64})?$")] = "",
    mend: MendId = "",
) -> Response:
    made = table.gather(db, shot_id, take)
    own = base or (made.shown.picture_sha256 if made.shown is not None else "")
    made.mends = stacks.count(db, shot_id, own) if own else 0
    context = table.context(made) | {
        "overlay": "mends",
        "base": own,
        "acts": ACTS,
        "kept_of": stacks.kept_names(db, shot_id),
        "others": [(name, called) for name, called in _joinable(db, made) if name != own],
    }
    if not own:
        return page(request, "overlays/mends/none.html", context)
    return page(request, "overlays/mends/mends.html", context | {"state": state_of(db, made.shot, own, mend)})


def _joinable(db: Session, made: table.Table) -> ItemsView[str, str]:
    """Pictures with which one of the shot can be joined, and how each is called: its takes, then what was brought to its story."""
    takes = {take.picture_sha256: f"take {take.number}" for take in made.takes[:_JOINABLE]}
    brought = library.search(db, library.SearchQuery(story=made.shot.story_id, kind="upload")).entries[:_JOINABLE]
    return ({one.picture_sha256: one.name or "a brought picture" for one in brought} | takes).items()


@router.get("/shots/{shot_id}/mends.json")
def state(db: Look, shot_id: Id, base: Base, mend: MendId = "") -> JSONResponse:
    """How the mends on a picture stand: for a page that acted, waited, or watches."""
    return JSONResponse(state_of(db, shots.find(db, shot_id), base, mend))


@router.post("/shots/{shot_id}/mends")
def add(db: Db, page_id: PageId, shot_id: Id, base: Base, mend: NewId = "") -> JSONResponse:
    """Lays one more mend on a picture, with nothing chosen yet."""
    row = stacks.opened(db, shot_id, base)
    return acted(db, row.id, lambda: stacks.add(db, row.id, page=page_id, name=mend), mend or None)


@router.post("/stacks/{stack_id}/mends/{mend}")
def edit(db: Db, page_id: PageId, stack_id: Id, mend: str, form: Fields) -> JSONResponse:
    """Changes what a mend is told: words, without, strength and so on; what is not sent stays, what is sent empty is emptied."""
    update: dict[str, Any] = {name: str(form[name]) for name in _TOLD if name in form}
    if "wider" in form:
        update["wider"] = str(form["wider"]).split()
    if "window" in form:
        update["window"] = str(form["window"]).split() or None
    return acted(db, stack_id, lambda: masks.tell(db, stack_id, mend, update, page_id), mend)


@router.post("/shots/{shot_id}/mends/quick")
def quick(
    db: Db, queue: Queue, page_id: PageId, shot_id: Id, base: Base, key: Annotated[str, Query(max_length=40)], mend: NewId = ""
) -> JSONResponse:
    """A mend that is offered by what is seen: chosen, worded and run by one press."""
    row = stacks.opened(db, shot_id, base)

    def press() -> str:
        fresh = offers.quick(db, row.id, key, page_id, mend)
        _run(db, queue, row.id, fresh)
        return fresh

    return acted(db, row.id, press, mend or None)


@router.post("/stacks/{stack_id}/mends/{mend}/run")
def run(
    db: Db,
    queue: Queue,
    after: After,
    stack_id: Id,
    mend: str,
    more: Annotated[bool, Query()] = False,
    near: Annotated[int | None, Query(ge=1, lt=2**31)] = None,
) -> JSONResponse:
    """Makes variants of a mend; `more` makes others than there are, `near` a variant to which they should be near."""

    def press() -> None:
        acts.require(db, after)
        if more:
            mends.other_seeds(db, stack_id, mend, near)
        _run(db, queue, stack_id, mend)

    return acted(db, stack_id, press, mend)


def _run(db: Session, queue: Queue, stack_id: int, mend: str) -> None:
    shot, recipe = mends.asked(db, stack_id, mend)
    submit(db, queue, shot, recipe, (), runs.OfMend(stack_id, mend))
