"""What workers do for mends besides making variants: redoing what stands above, and carrying a mend over to other pictures."""

from __future__ import annotations

import hashlib
import json
import logging
from collections.abc import Callable
from dataclasses import asdict

import procrastinate
from procrastinate import JobContext
from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.mending.choose.carried_mask import Nowhere, carried_mask
from mosskeeper.queue.deferring import defer, make_run, want_map
from mosskeeper.queue.names import COPY_MEND, DRAW_CANVAS, FULL_SIZE, READING
from mosskeeper.studio import canvases, choosing, masks, mends, runs, stacks, takes
from mosskeeper.studio.canvases import Joining
from mosskeeper.studio.database import locked
from mosskeeper.studio.models import CopiedMend, Run, Variant
from mosskeeper.studio.models import MendStack as Row
from mosskeeper.studio.run_states import ACTIVE, RunState
from mosskeeper.studio.watching import tell_made

log = logging.getLogger(__name__)


def after_variant(session: Session, variant: Variant) -> None:
    """A variant was stored: whoever looks hears of it."""
    tell_made(session, f"mend {variant.stack_id}")


def after_run(session: Session, app: procrastinate.App, run_id: int) -> None:
    """A run of a mend has ended: where it made one anew, the next one above follows."""
    run = runs.find(session, run_id)
    if run.stack_id is None:
        return
    tell_made(session, f"mend {run.stack_id}")
    if run.redo and run.state == RunState.DONE:
        redo(session, app, run.stack_id)


def redo(session: Session, app: procrastinate.App, stack_id: int) -> Run | None:
    """Lets the lowest mend that stands on another picture now be made anew, and those above it after that; None where all stand."""
    locked(session, Row, stack_id, "There are no mends on this picture any more.")  # of two who ask at once one lets it be made
    found = mends.to_redo(session, stack_id)
    if found is None:
        return None
    shot, recipe, mend_id = found
    at_work = select(Run.id).where(Run.stack_id == stack_id, Run.redo, Run.state.in_(ACTIVE)).limit(1)
    if session.scalar(at_work) is not None:  # it goes on by itself
        return None
    run = runs.create(session, shot, recipe, (), runs.OfMend(stack_id, mend_id, True))
    make_run(session, app, run.id)
    return run


def want_copy(session: Session, app: procrastinate.App, stack_id: int, mend_id: str, take_id: int) -> None:
    """Lets a mend be carried over to another take."""
    once = f"copy {stack_id} {mend_id} {take_id}"
    defer(session, app, COPY_MEND, READING, None, once, 3, stack_id=stack_id, mend_id=mend_id, take_id=take_id)


def copy_mend(context: JobContext, stack_id: int, mend_id: str, take_id: int) -> None:
    """Lays a mend on another take, with its mask where it belongs there, accepted with its seed, and lets it be made.

    Where the part is not seen there, that is noted as a mend without mask that says so.
    """
    sessions: sessionmaker[Session] = context.additional_context["sessions"]
    app: procrastinate.App = context.additional_context["queue"]
    with sessions.begin() as session:
        height = mends.standing_of(session, stack_id).height(mend_id)
        take = takes.find(session, take_id)
        row = stacks.opened(session, take.shot_id, take.picture_sha256)
        there = mends.standing_of(session, row.id)
        if height.on is None or there.top is None:
            log.info("mend %s of stack %s: a mend below it is not made yet", mend_id, stack_id)
            return
        source, target = choosing.made(session, height.on), choosing.made(session, there.top)
        mask = masks.mask_of(session, height.mend, height.size)
        try:
            carried, told = carried_mask(mask, source, target), list[str]()
        except Nowhere as error:
            carried, told = None, [f"not carried over: {error}"]
        sha256 = masks.store_mask(session, carried) if carried is not None and carried.any() else None
        seed = height.mend.seed if height.mend.seed is not None else height.mend.first_seed
        update = {"mask": sha256, "told": told, "seed": seed if sha256 is not None else None}
        copied = stacks.add(session, row.id, height.mend.model_copy(update=update))
        session.add(CopiedMend(from_stack=stack_id, mend=mend_id, to_stack=row.id, copy=copied))
        session.flush()
        redo(session, app, row.id)
        tell_made(session, f"mend {stack_id}")
        tell_made(session, f"mend {row.id}")


def want_canvas(session: Session, app: procrastinate.App, shot_id: int, asked: Joining | None = None) -> None:
    """Lets a canvas be drawn to mend on: an empty one, or pictures joined."""
    told = json.dumps(asdict(asked)) if asked is not None else ""
    key = hashlib.sha256(told.encode()).hexdigest()
    defer(session, app, DRAW_CANVAS, READING, None, f"canvas {shot_id} {key}", 3, shot_id=shot_id, joining=told)


def want_full_size(session: Session, app: procrastinate.App, shot_id: int, stack_id: int) -> None:
    """Lets mends be put back into a picture that was too large to be worked on."""
    defer(session, app, FULL_SIZE, READING, None, f"full size {stack_id}", 3, shot_id=shot_id, stack_id=stack_id)


def put_back(context: JobContext, shot_id: int, stack_id: int) -> None:
    _drawn(context, shot_id, lambda session: canvases.at_full_size(session, stack_id))


def draw_canvas(context: JobContext, shot_id: int, joining: str) -> None:
    asked = Joining(**json.loads(joining)) if joining else None
    _drawn(
        context, shot_id, lambda session: canvases.empty(session, shot_id) if asked is None else canvases.joined(session, shot_id, asked)
    )


def _drawn(context: JobContext, shot_id: int, draw: Callable[[Session], str]) -> None:
    """Draws a canvas; whoever waits for it hears its name, or why there is none."""
    sessions: sessionmaker[Session] = context.additional_context["sessions"]
    app: procrastinate.App = context.additional_context["queue"]
    try:
        with sessions.begin() as session:
            sha256 = draw(session)
            want_map(session, app, choosing.key_of(sha256))
            tell_made(session, f"canvas {shot_id} {sha256}")
    except ArtistError as error:
        with sessions.begin() as session:
            tell_made(session, f"no canvas {shot_id} {error.sentence}")
