"""Stacks of mends on the pictures of a shot: kept act by act, undone and redone, never overwritten.

An act is a function of the stack as it stands when it arrives, carried out under the stack's lock: acts on different mends, or
on different things of one, never harm each other.
"""

from __future__ import annotations

import secrets
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Any

from pydantic import ValidationError
from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.pictures.resample import fitted
from mosskeeper.core.recipe import SIDE_MULTIPLE, SIZES, explain
from mosskeeper.core.stack import MOST_MENDS, Mend, Stack, StackSettings
from mosskeeper.engines.builtin import FULL
from mosskeeper.studio import drafts, engines, pictures, shots
from mosskeeper.studio.database import locked
from mosskeeper.studio.models import MendStack as Row
from mosskeeper.studio.models import Picture, Shot, StackStep

_TYPING = timedelta(seconds=4)
_LONGEST = 1280  # px of the longer side at which a larger picture is worked on
_MISSING = "There are no mends on this picture any more."


class MendGone(ArtistError):
    """The mend was taken off meanwhile."""

    def __init__(self) -> None:
        super().__init__("This mend was taken off in another tab meanwhile. Undo brings it back.", "mends")


def working_size(width: int, height: int) -> tuple[int, int]:
    """The size at which a picture is worked on: its own where an engine can draw it."""
    longest = max(width, height)
    k = 1.0 if longest <= SIZES[1] else _LONGEST / longest
    k = max(k, SIZES[0] / min(width, height))
    w, h = (max(SIZES[0], round(side * k / SIDE_MULTIPLE) * SIDE_MULTIPLE) for side in (width, height))
    return min(w, SIZES[1]), min(h, SIZES[1])


def find(session: Session, stack_id: int) -> Row:
    row = session.get(Row, stack_id)
    if row is None:
        raise NotFound(_MISSING)
    return row


def known(session: Session, shot_id: int, base: str) -> Row | None:
    """The stack on a picture; None where nothing was laid on it yet."""
    return session.scalar(select(Row).where(Row.shot_id == shot_id, Row.base_sha256 == base))


def kept_names(session: Session, shot_id: int) -> dict[str, list[str]]:
    """The choices that were kept by name in the pictures of a shot, by the picture."""
    query = select(Row.base_sha256, StackStep.body["kept"]).join(
        StackStep, (StackStep.stack_id == Row.id) & (StackStep.number == Row.number)
    )
    return {base: [one["name"] for one in kept] for base, kept in session.execute(query.where(Row.shot_id == shot_id)) if kept}


def count(session: Session, shot_id: int, base: str) -> int:
    """How many mends lie on a picture."""
    row = known(session, shot_id, base)
    return 0 if row is None else len(stack_of(session, row).mends)


def stack_of(session: Session, row: Row) -> Stack:
    return Stack.model_validate(session.get_one(StackStep, (row.id, row.number)).body)


def seen(session: Session, shot_id: int, base: str) -> Stack:
    """The stack on a picture, or the empty one that would lie there; nothing is written."""
    row = known(session, shot_id, base)
    if row is not None:
        return stack_of(session, row)
    picture = pictures.find(session, base)
    return _empty(session, shots.find(session, shot_id), base, working_size(picture.width, picture.height))


def _empty(session: Session, shot: Shot, base: str, size: tuple[int, int]) -> Stack:
    recipe = drafts.of_shot(shot)
    engine = engines.known(session, recipe.engine).engine
    # one that cannot open a mask would make another picture in place of a mend; the page says whose mends they are
    able = engine is not None and {"mask", "wider"} <= set(engine.capabilities().repairs)
    return Stack(base=base, size=size, settings=StackSettings(engine=recipe.engine if able else FULL.key, steps=recipe.steps))


def opened(session: Session, shot_id: int, base: str) -> Row:
    """The stack on a picture of a shot, begun where there is none.

    A picture of a size that no engine draws is worked on at one that fits.
    """
    row = known(session, shot_id, base)
    if row is not None:
        return row
    shot, picture = shots.find(session, shot_id), pictures.find(session, base)
    made = insert(Row).values(shot_id=shot_id, base_sha256=base, number=1).on_conflict_do_nothing().returning(Row.id)
    stack_id = session.scalar(made)
    if stack_id is None:  # another tab was first
        found = known(session, shot_id, base)
        assert found is not None
        return found
    worked = _worked_on(session, picture)
    body = _empty(session, shot, worked.sha256, (worked.width, worked.height)).model_dump()
    session.add(StackStep(stack_id=stack_id, number=1, after=None, page="", thing="", body=body))
    session.flush()
    return find(session, stack_id)


def _worked_on(session: Session, picture: Picture) -> Picture:
    size = working_size(picture.width, picture.height)
    if size == (picture.width, picture.height):
        return picture
    smaller = fitted(pictures.pixels(session, picture.sha256), size)
    return pictures.store(session, smaller, f"{picture.name}, {size[0]} × {size[1]}"[:160], "worked on")


def edit(session: Session, stack_id: int, change: Callable[[Stack], Stack], page: str = "", thing: str = "") -> Stack:
    """Changes a stack: one step of its history.

    Parameters
    ----------
    thing : what is edited; what one page edits of one thing within seconds is one step. "" for acts that stand alone.

    Raises
    ------
    ArtistError
        where the changed stack cannot be used.
    """
    row = locked(session, Row, stack_id, _MISSING)
    here = session.get_one(StackStep, (stack_id, row.number), populate_existing=True)
    before = Stack.model_validate(here.body)
    after = change(before)
    if after == before:
        return after
    last = session.scalar(select(func.max(StackStep.number)).where(StackStep.stack_id == stack_id)) or here.number
    now = datetime.now(UTC)
    goes_on = thing and (here.page, here.thing, here.number) == (page, thing, last) and now - here.created_at < _TYPING
    if goes_on:
        here.body, here.created_at = after.model_dump(), now
    else:
        step = StackStep(stack_id=stack_id, number=last + 1, after=row.number, page=page, thing=thing[:40], body=after.model_dump())
        session.add(step)
        row.number = last + 1
    session.flush()
    return after


def edit_mend(session: Session, stack_id: int, mend_id: str, change: Callable[[Mend], Mend], page: str = "", thing: str = "") -> Stack:
    """Changes one mend. Raises Gone where it is not on the stack any more."""

    def changed(stack: Stack) -> Stack:
        mend = stack.mend(mend_id)
        if mend is None:
            raise MendGone
        return stack.with_mend(change(mend))

    return edit(session, stack_id, changed, page, f"{mend_id} {thing}" if thing else "")


def tell(session: Session, stack_id: int, mend_id: str, update: dict[str, Any], page: str = "") -> Stack:
    """Changes what a mend is told, field by field, as it was typed.

    Raises ArtistError with a sentence where a value cannot be.
    """
    thing = " ".join(sorted(update.keys() - {"told"}))
    return edit_mend(session, stack_id, mend_id, lambda mend: told(mend, update), page, thing)


def told(mend: Mend, update: dict[str, Any]) -> Mend:
    """Raises ArtistError with a sentence where a value cannot be."""
    try:
        return Mend.model_validate(mend.model_dump() | update)
    except ValidationError as error:
        field, sentence = explain(error)[0]
        raise ArtistError(sentence, field) from None


def add(session: Session, stack_id: int, mend: Mend | None = None, page: str = "", name: str = "") -> str:
    """Lays one more mend on top; its id, which is `name` where the page has made one."""
    fresh = name or secrets.token_hex(4)

    def changed(stack: Stack) -> Stack:
        if len(stack.mends) >= MOST_MENDS:
            raise ArtistError(
                f"There are {MOST_MENDS} mends on this picture: put the mended take on the board and go on from that.", "mends"
            )
        new = (mend or Mend(id=fresh)).model_copy(update={"id": fresh, "first_seed": secrets.randbelow(2**31)})
        return stack.changed(mends=[*stack.mends, new])

    edit(session, stack_id, changed, page)
    return fresh


def walk(session: Session, stack_id: int, back: bool) -> Stack:
    """One step back, or forth; where there is none, nothing changes."""
    row = locked(session, Row, stack_id, _MISSING)
    here = session.get_one(StackStep, (stack_id, row.number), populate_existing=True)
    to = here.after if back else _next(session, here)
    if to is not None:
        row.number = to
        session.flush()
    return stack_of(session, row)


def can_walk(session: Session, row: Row | None) -> tuple[bool, bool]:
    """Whether there is a step back, and one forth."""
    if row is None:
        return False, False
    here = session.get_one(StackStep, (row.id, row.number))
    return here.after is not None, _next(session, here) is not None


def _next(session: Session, here: StackStep) -> int | None:
    query = select(func.max(StackStep.number)).where(StackStep.stack_id == here.stack_id, StackStep.after == here.number)
    return session.scalar(query)
