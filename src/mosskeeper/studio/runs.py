"""Runs: from a shot's recipe to a waiting run, and what an artist does with runs."""

from __future__ import annotations

import hashlib
import json
import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import case, func, select, text
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, joinedload, selectinload

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.recipe import MAX_SEED, Recipe, read_recipe
from mosskeeper.core.sweep import Dial, cells, recipe_at
from mosskeeper.studio import estimates
from mosskeeper.studio.database import locked
from mosskeeper.studio.models import Picture, Preview, RecipeDocument, Run, Shot
from mosskeeper.studio.run_states import ACTIVE, AT_WORK, TROUBLED, RunState, after

CHANNEL = "runs"  # of NOTIFY: the payload is the id of the shot


def find(session: Session, run_id: int) -> Run:
    run = session.get(Run, run_id, options=[joinedload(Run.recipe), joinedload(Run.shot)])
    if run is None:
        raise NotFound("This run does not exist.")
    return run


def active(session: Session) -> list[Run]:
    """All runs that wait or run, the oldest first."""
    query = select(Run).where(Run.state.in_(ACTIVE)).order_by(Run.id).options(joinedload(Run.shot))
    return list(session.scalars(query))


def of_shot(session: Session, shot_id: int, limit: int = 1) -> list[Run]:
    query = select(Run).where(Run.shot_id == shot_id, Run.stack_id.is_(None)).order_by(Run.id.desc()).limit(limit)
    return list(session.scalars(query.options(joinedload(Run.recipe), selectinload(Run.takes))))


def current(session: Session, shot_id: int) -> Run | None:
    """The run of a shot that is at work; of several that wait the first; where none is, the newest."""
    at_work, waiting = Run.state.in_(AT_WORK), Run.state == RunState.WAITING
    in_turn = case((Run.state.in_(ACTIVE), Run.id), else_=-Run.id)
    query = select(Run).where(Run.shot_id == shot_id, Run.stack_id.is_(None)).order_by(at_work.desc(), waiting.desc(), in_turn)
    return session.scalar(query.limit(1).options(joinedload(Run.recipe)))


def behind(session: Session, run: Run) -> int:
    """How many runs of the same shot wait behind one that is at work."""
    later = select(func.count()).where(Run.shot_id == run.shot_id, Run.stack_id.is_(None), Run.state.in_(ACTIVE), Run.id != run.id)
    return session.scalar(later) or 0


def troubled(session: Session, story_id: int) -> list[Run]:
    """The held and failed runs of a story that nobody has dismissed, the newest first."""
    query = select(Run).join(Shot, Shot.id == Run.shot_id).where(Shot.story_id == story_id)
    query = query.where(Run.state.in_(TROUBLED), Run.dismissed_at.is_(None)).order_by(Run.id.desc())
    return list(session.scalars(query.options(joinedload(Run.shot))))


def troubled_of_shot(session: Session, shot_id: int) -> list[Run]:
    query = select(Run).where(Run.shot_id == shot_id, Run.state.in_(TROUBLED), Run.dismissed_at.is_(None))
    return list(session.scalars(query.order_by(Run.id.desc())))


@dataclass(frozen=True, slots=True)
class OfMend:
    """What a run makes variants for. redo : once it is done, the mends above are made anew as well."""

    stack: int
    mend: str
    redo: bool = False


def create(session: Session, shot: Shot, recipe: Recipe, dials: Sequence[Dial] = (), of_mend: OfMend | None = None) -> Run:
    """A waiting run for the recipe, or for a sweep of its dials. Fresh seeds are drawn here, so that a restarted run makes the same takes.

    Raises
    ------
    ArtistError
        where there is nothing to draw, or a cue's picture is gone.
    """
    acting = [cue for cue in recipe.cues if cue.acts]
    if not (recipe.prompt.strip() or acting or recipe.source or recipe.regions):
        raise ArtistError("There are no words and no cue. Say what should be seen, or put a picture on the cue sheet.", "words")
    gone = recipe.pictures - set(session.scalars(select(Picture.sha256).where(Picture.sha256.in_(recipe.pictures))))
    for cue in acting:
        if cue.picture in gone:
            raise ArtistError(
                f"The picture of the cue “{cue.name or cue.role}” is not in the library any more. Drop it here again.", "cues"
            )
    if gone:
        raise ArtistError("A picture that this recipe starts from, or a mask, is not in the library any more. Choose it again.", "cues")
    first = recipe.seed if recipe.seed is not None else secrets.randbelow(MAX_SEED)
    seeds = [(first + i) % (MAX_SEED + 1) for i in range(recipe.count)]
    steps = recipe.count * recipe.steps
    if dials:
        recipe = recipe.model_copy(update={"seed": first, "count": 1})
        of_cells = [recipe_at(recipe, dials, place) for place in range(cells(dials))]
        seeds = [first if cell.seed is None else cell.seed for cell in of_cells]
        steps = sum(cell.steps for cell in of_cells)
    sha = store_recipe(session, recipe)
    own = estimates.total([e for _, e in estimates.own_estimates(session, recipe, dials)])
    run = Run(
        shot_id=shot.id,
        recipe_sha256=sha,
        seeds=seeds,
        steps=steps,
        state=RunState.WAITING,
        sparks=own.sparks,
        expected_seconds=own.seconds,
        dials=[dial.model_dump(mode="json") for dial in dials],
    )
    if of_mend is not None:
        run.stack_id, run.mend, run.redo = of_mend.stack, of_mend.mend, of_mend.redo
    session.add(run)
    session.flush()
    announce(session, shot.id)
    return run


def finished(session: Session, shot_id: int, recipe: Recipe, message: str, of_mend: OfMend | None = None) -> Run:
    """A run that nobody has to make: what its recipe, which has a seed, makes is there already."""
    assert recipe.seed is not None
    run = Run(
        shot_id=shot_id,
        recipe_sha256=store_recipe(session, recipe),
        seeds=[recipe.seed],
        steps=recipe.steps,
        step=recipe.steps,
        state=RunState.DONE,
        sparks=0.0,
        expected_seconds=0.0,
        message=message,
        stack_id=None if of_mend is None else of_mend.stack,
        mend="" if of_mend is None else of_mend.mend,
    )
    session.add(run)
    session.flush()
    return run


def store_recipe(session: Session, recipe: Recipe) -> str:
    """Stores a recipe once; the name under which it is."""
    body = recipe.model_dump()
    sha = hashlib.sha256(json.dumps(body, sort_keys=True).encode()).hexdigest()
    session.execute(insert(RecipeDocument).values(sha256=sha, body=body).on_conflict_do_nothing())
    return sha


def announce(session: Session, shot_id: int) -> None:
    """Tells all who watch that something about a shot's runs changed; sent when the transaction commits."""
    session.execute(text("select pg_notify(:channel, :shot)"), {"channel": CHANNEL, "shot": str(shot_id)})


def dials_of(run: Run) -> list[Dial]:
    return [Dial.model_validate(dial) for dial in run.dials]


def recipe_of_place(run: Run, place: int) -> Recipe:
    """The complete recipe of the take in this place of a run, with its seed."""
    recipe = read_recipe(run.recipe.body)
    dials = dials_of(run)
    return (recipe_at(recipe, dials, place) if dials else recipe).with_seed(run.seeds[place])


def take_up_again(session: Session, run_id: int) -> Run | None:
    """Puts a held or failed run back into waiting; its recipe and finished takes are as they were. None where it is neither."""
    run = locked(session, Run, run_id, "This run does not exist.")
    if run.state not in TROUBLED:
        return None
    run.state, run.message, run.finished_at, run.attempts = after(run.state, RunState.WAITING), "", None, 0
    run.errors, run.deaths, run.step_deaths, run.died_at, run.dismissed_at = 0, 0, 0, "", None
    announce(session, run.shot_id)
    session.flush()
    return run


def dismiss(session: Session, run_id: int) -> Run:
    """The artist has seen that a run failed or was held: it is shown no more. What it made stays."""
    run = locked(session, Run, run_id, "This run does not exist.")
    if run.state in TROUBLED and run.dismissed_at is None:
        run.dismissed_at = datetime.now(UTC)
        announce(session, run.shot_id)
        session.flush()
    return run


def stop(session: Session, run_id: int) -> Run:
    """Stops a run: at once where it only waits, within one step where it runs. Finished takes stay."""
    run = locked(session, Run, run_id, "This run does not exist.")
    if run.state == RunState.WAITING:
        run.state, run.finished_at = after(run.state, RunState.STOPPED), datetime.now(UTC)
        preview = session.get(Preview, run_id)
        if preview is not None:
            session.delete(preview)
    elif run.state == RunState.RUNNING:
        run.state = after(run.state, RunState.STOPPING)
    announce(session, run.shot_id)
    session.flush()
    return run
