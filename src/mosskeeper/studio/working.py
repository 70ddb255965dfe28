"""Runs at work: what a worker does with a run, from taking it up to its last take.

A worker takes a run up under a token; what it writes later counts only while the run still has that token, so that of two
workers with one run the one that came later makes it.
"""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import func, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, joinedload

from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.pictures.decode import encode_jpeg
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.words.held import with_held
from mosskeeper.studio import explaining, library, pictures
from mosskeeper.studio.database import locked
from mosskeeper.studio.models import Preview, Run, Shot, Take, Variant
from mosskeeper.studio.run_states import RunState, after
from mosskeeper.studio.runs import announce, recipe_of_place

_MOST_DEATHS = 3  # of workers, one after the other, at one point of one step of one take
_MOST_STEP_DEATHS = 8  # … anywhere in one step: what brings workers down need not do so at the same point each time
_MOST_ERRORS = 2  # of the engine on one take
_MISSING = "This run does not exist."


@dataclass(frozen=True, slots=True)
class Missing:
    """A take that a run still has to make. before : steps of the takes in front of it."""

    place: int
    seed: int
    recipe: Recipe
    before: int


@dataclass(frozen=True, slots=True)
class Begun:
    """A run that was taken up. token : without which nothing can be written to it any more. of_mend : it makes variants of one."""

    token: str
    missing: list[Missing]
    of_mend: bool


def begin(session: Session, run_id: int, worker: str) -> Begun | None:
    """Takes up a run: the takes that are still missing, each with its recipe.

    None where the run needs no work: stopped, done, held, or gone.
    """
    run = session.get(Run, run_id, options=[joinedload(Run.recipe)], with_for_update={"of": Run}, populate_existing=True)
    if run is None or not (run.active or run.state == RunState.DRAWING):
        return None
    if run.state == RunState.STOPPING:
        end(session, run, RunState.STOPPED)
        return None
    token = f"{worker[:60]} {secrets.token_hex(4)}"
    run.state, run.worker, run.attempts, run.pulse = after(run.state, RunState.RUNNING), token, run.attempts + 1, 0
    if run.wait_until is not None:
        run.wait_until, run.message = None, ""
    run.started_at = run.started_at or datetime.now(UTC)
    have = made_places(session, run)
    missing, before, done = [], 0, 0
    for place, seed in enumerate(run.seeds):
        recipe = recipe_of_place(run, place)
        if place in have:
            done += recipe.steps
        else:
            missing.append(Missing(place, seed, recipe, before))
        before += recipe.steps
    run.step = done
    announce(session, run.shot_id)
    return Begun(token, missing, run.stack_id is not None)


def made_places(session: Session, run: Run) -> set[int]:
    """The places of a run that are made: its takes, or its variants of a mend."""
    kind = Take if run.stack_id is None else Variant
    return set(session.scalars(select(kind.place).where(kind.run_id == run.id)))


def cue_pixels(session: Session, recipe: Recipe) -> dict[str, NDArray[np.uint8]]:
    """The pictures of a recipe by name; what sketches leave open stays open."""
    boards = {cue.picture for cue in recipe.cues if cue.acts and cue.role == "sketch"}
    return {
        sha256: pictures.layers(session, sha256) if sha256 in boards else pictures.pixels(session, sha256)
        for sha256 in sorted(recipe.pictures)
    }


def progress(session: Session, run_id: int, token: str, step: int, preview: NDArray[np.uint8] | None) -> bool:
    """Notes how far a run is; False where it was asked to stop, or another worker has it."""
    mine = update(Run).where(Run.id == run_id, Run.worker == token).values(step=step, pulse=0).returning(Run.shot_id, Run.state)
    row = session.execute(mine).one_or_none()
    if row is None:
        return False
    if preview is not None:
        jpeg = encode_jpeg(preview)
        statement = insert(Preview).values(run_id=run_id, number=1, jpeg=jpeg)
        session.execute(statement.on_conflict_do_update(index_elements=["run_id"], set_={"number": Preview.number + 1, "jpeg": jpeg}))
    announce(session, row.shot_id)
    return bool(row.state == RunState.RUNNING)


def stop_requested(session: Session, run_id: int, token: str) -> bool:
    """Whether a run was asked to stop, or is another worker's by now. That it was asked is noted: it tells where a worker died."""
    asked = update(Run).where(Run.id == run_id, Run.worker == token).values(pulse=Run.pulse + 1).returning(Run.state)
    return session.scalar(asked) != RunState.RUNNING


def store_take(
    session: Session,
    run_id: int,
    place: int,
    seed: int,
    image: NDArray[np.uint8],
    seconds: float,
    explained: LayeredScenes | None = None,
    says: Sequence[str] = (),
) -> Take:
    """Stores one take, with what was told in making it; a second time it changes nothing."""
    run = session.get_one(Run, run_id, options=[joinedload(Run.recipe), joinedload(Run.shot)])
    locked(session, Shot, run.shot_id, "This shot does not exist.")
    take = session.scalar(select(Take).where(Take.run_id == run_id, Take.place == place))
    if take is None:
        number = (session.scalar(select(func.max(Take.number)).where(Take.shot_id == run.shot_id)) or 0) + 1
        sha256 = pictures.store(session, image, f"{run.shot.name}, take {number}", "take").sha256
        if explained is not None:
            explaining.note(session, sha256, explained)
        take = Take(shot_id=run.shot_id, run_id=run_id, place=place, number=number, seed=seed, picture_sha256=sha256, seconds=seconds)
        take.says = kept_of(says)
        session.add(take)
        session.flush()
        made_by = recipe_of_place(run, place)
        library.add(
            session,
            sha256,
            "take",
            f"{run.shot.name}, take {number}",
            run.shot.story_id,
            take,
            with_held(made_by.prompt, made_by.held, made_by.styles),
        )
        goes_well(session, run_id)
    announce(session, run.shot_id)
    return take


def kept_of(says: Sequence[str]) -> list[str]:
    """What was told in making a picture, as far as it is kept."""
    return [sentence[:300] for sentence in says[:8]]


def goes_well(session: Session, run_id: int) -> None:
    """Something of a run was made: what went wrong before does not count any more."""
    session.execute(update(Run).where(Run.id == run_id).values(errors=0, deaths=0, step_deaths=0, died_at="", pulse=0))


def finish(session: Session, run_id: int, token: str, state: RunState, message: str = "") -> bool:
    """Ends a run that this worker still has; False where it does not."""
    run = locked(session, Run, run_id, _MISSING)
    if run.worker != token or not run.active:
        return False
    end(session, run, state, message)
    return True


def end(session: Session, run: Run, state: RunState, message: str = "") -> None:
    """Brings a run into a state in which nobody works on it."""
    run.state, run.message, run.finished_at = after(run.state, state), message, datetime.now(UTC)
    if state == RunState.DONE:
        run.step = run.steps
    preview = session.get(Preview, run.id)
    if preview is not None:
        session.delete(preview)
    announce(session, run.shot_id)


def give_back(session: Session, run_id: int, token: str, until: datetime | None = None, message: str = "") -> bool:
    """A worker lets go of a run, which then waits for another, or until its engine is asked again. False where it has it no more."""
    run = locked(session, Run, run_id, _MISSING)
    if run.worker != token:
        return False
    if run.state == RunState.STOPPING:
        end(session, run, RunState.STOPPED)
        return False
    if run.state == RunState.RUNNING:
        run.state, run.worker, run.wait_until, run.message = after(run.state, RunState.WAITING), "", until, message
    announce(session, run.shot_id)
    return True


def errored(session: Session, run_id: int, token: str, sentence: str) -> bool:
    """The engine raised an error on a take. Once may be the machine's fault; twice is the recipe's, and the run fails.

    True where it is to be tried again.
    """
    run = locked(session, Run, run_id, _MISSING)
    if run.worker != token or not run.active:
        return False
    run.errors += 1
    if run.errors >= _MOST_ERRORS:
        end(session, run, RunState.FAILED, sentence)
        return False
    return give_back(session, run_id, token, None, "The engine raised an error; this take is tried once more.")


def died(session: Session, run_id: int) -> bool:
    """The worker that had a run died. True where another is to take it up; after three deaths at one point it is held instead.

    The point is a step of a take and how far in it: workers that are killed at random do not die just there three times in a
    row, while what brings them down does.
    """
    run = session.get(Run, run_id, with_for_update={"of": Run}, populate_existing=True)
    if run is None or not run.active:
        return False
    if run.state == RunState.STOPPING:
        end(session, run, RunState.STOPPED)
        return False
    if run.state != RunState.RUNNING:  # counted already: whoever did that died before another could take it up
        return True
    taken = len(made_places(session, run))
    step, at = f"{taken}:{run.step}:", f"{taken}:{run.step}:{run.pulse}"
    run.step_deaths = run.step_deaths + 1 if run.died_at.startswith(step) else 1
    run.deaths = run.deaths + 1 if run.died_at == at else 1
    run.died_at = at
    if run.deaths >= _MOST_DEATHS or run.step_deaths >= _MOST_STEP_DEATHS:
        end(
            session,
            run,
            RunState.HELD,
            f"{run.step_deaths} workers died in the same step of take {taken + 1}, one after the other: something in this recipe may "
            "bring them down. The recipe and the finished takes are kept.",
        )
        return False
    run.state, run.worker = after(run.state, RunState.WAITING), ""
    announce(session, run.shot_id)
    return True
