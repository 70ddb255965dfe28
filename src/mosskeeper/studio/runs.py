"""Runs: from a shot's recipe to takes. The states of a run and all that changes them."""

from __future__ import annotations

import hashlib
import json
import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import func, select, text, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, joinedload

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.pictures.decode import encode_jpeg
from mosskeeper.core.recipe import MAX_SEED, Recipe, read_recipe
from mosskeeper.core.sweep import Dial, cells, recipe_at
from mosskeeper.engines.contract import Estimate
from mosskeeper.studio import engines, library, pictures
from mosskeeper.studio.database import read_bytes
from mosskeeper.studio.models import Picture, Preview, RecipeDocument, Run, Shot, Take

ACTIVE = ("waiting", "running", "stopping")
CHANNEL = "runs"  # of NOTIFY: the payload is the id of the shot
_LEARN_FROM = 20  # past runs that expected times are learned from


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
    return list(session.scalars(select(Run).where(Run.shot_id == shot_id).order_by(Run.id.desc()).limit(limit)))


def estimate(session: Session, recipe: Recipe, dials: Sequence[Dial] = ()) -> Estimate:
    """Price and expected seconds of all takes; the time is corrected by how long past runs of the engine took on this machine."""
    own = _own_estimates(session, recipe, dials)
    factors = {key: _factor(session, key) for key, _ in own}
    return _sum([Estimate(e.sparks, e.seconds * factors[key]) for key, e in own])


def _own_estimates(session: Session, recipe: Recipe, dials: Sequence[Dial]) -> list[tuple[str, Estimate]]:
    """What the engines themselves say: of the recipe, or of each cell of a sweep."""
    parts = [recipe_at(recipe, dials, place).with_seed(0) for place in range(cells(dials))] if dials else [recipe]
    by_key = {key: engines.find(session, key) for key in {part.engine for part in parts}}
    return [(part.engine, by_key[part.engine].estimate(part)) for part in parts]


def _sum(estimates: list[Estimate]) -> Estimate:
    return Estimate(round(sum(e.sparks for e in estimates), 1), round(sum(e.seconds for e in estimates), 1))


def _factor(session: Session, engine: str) -> float:
    """How much longer than its engine said a run takes here: the median of the last ones; of all engines where this one has none."""
    return _median_factor(session, engine) or _median_factor(session, None) or 1.0


def _median_factor(session: Session, engine: str | None) -> float | None:
    query = (
        select(func.extract("epoch", Run.finished_at - Run.started_at), Run.expected_seconds, Run.attempts)
        .join(RecipeDocument, RecipeDocument.sha256 == Run.recipe_sha256)
        .where(Run.state == "done", Run.started_at.is_not(None), Run.expected_seconds > 0)
    )
    if engine is not None:
        query = query.where(RecipeDocument.body["engine"].astext == engine)
    past = session.execute(query.order_by(Run.id.desc()).limit(_LEARN_FROM)).all()
    # a run keeps what the engine itself says, so the ratio is not taken against what was corrected already
    ratios = sorted(float(took) / expected for took, expected, attempts in past if took and attempts <= 1)
    return min(max(ratios[len(ratios) // 2], 0.1), 20.0) if ratios else None


def create(session: Session, shot: Shot, recipe: Recipe, dials: Sequence[Dial] = ()) -> Run:
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
    body = recipe.model_dump()
    sha = hashlib.sha256(json.dumps(body, sort_keys=True).encode()).hexdigest()
    session.execute(insert(RecipeDocument).values(sha256=sha, body=body).on_conflict_do_nothing())
    own = _sum([e for _, e in _own_estimates(session, recipe, dials)])
    run = Run(
        shot_id=shot.id,
        recipe_sha256=sha,
        seeds=seeds,
        steps=steps,
        state="waiting",
        sparks=own.sparks,
        expected_seconds=own.seconds,
        dials=[dial.model_dump(mode="json") for dial in dials],
    )
    session.add(run)
    session.flush()
    announce(session, shot.id)
    return run


def announce(session: Session, shot_id: int) -> None:
    """Tells all who watch that something about a shot's runs changed; sent when the transaction commits."""
    session.execute(text("select pg_notify(:channel, :shot)"), {"channel": CHANNEL, "shot": str(shot_id)})


@dataclass(frozen=True, slots=True)
class Missing:
    """A take that a run still has to make. before : steps of the takes in front of it."""

    place: int
    seed: int
    recipe: Recipe
    before: int


def begin(session: Session, run_id: int, worker: str) -> list[Missing] | None:
    """Takes up a run: the takes that are still missing, each with its recipe.

    None where the run needs no work: stopped, done, or gone.
    """
    run = session.get(Run, run_id, options=[joinedload(Run.recipe)], with_for_update={"of": Run})
    if run is None or not run.active:
        return None
    if run.state == "stopping":
        finish(session, run_id, "stopped")
        return None
    run.state, run.worker, run.attempts = "running", worker, run.attempts + 1
    if run.wait_until is not None:
        run.wait_until, run.message = None, ""
    run.started_at = run.started_at or datetime.now(UTC)
    have = set(session.scalars(select(Take.place).where(Take.run_id == run_id)))
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
    return missing


def dials_of(run: Run) -> list[Dial]:
    return [Dial.model_validate(dial) for dial in run.dials]


def recipe_of_place(run: Run, place: int) -> Recipe:
    """The complete recipe of the take in this place of a run, with its seed."""
    recipe = read_recipe(run.recipe.body)
    dials = dials_of(run)
    return (recipe_at(recipe, dials, place) if dials else recipe).with_seed(run.seeds[place])


def cue_pixels(session: Session, recipe: Recipe) -> dict[str, NDArray[np.uint8]]:
    return {sha256: pictures.pixels(session, sha256) for sha256 in sorted(recipe.pictures)}


def progress(session: Session, run_id: int, step: int, preview: NDArray[np.uint8] | None) -> bool:
    """Notes how far a run is; False where it was asked to stop."""
    row = session.execute(update(Run).where(Run.id == run_id).values(step=step).returning(Run.shot_id, Run.state)).one_or_none()
    if row is None:
        return False
    if preview is not None:
        jpeg = encode_jpeg(preview)
        statement = insert(Preview).values(run_id=run_id, number=1, jpeg=jpeg)
        session.execute(statement.on_conflict_do_update(index_elements=["run_id"], set_={"number": Preview.number + 1, "jpeg": jpeg}))
    announce(session, row.shot_id)
    return bool(row.state == "running")


def stop_requested(session: Session, run_id: int) -> bool:
    return session.scalar(select(Run.state).where(Run.id == run_id)) != "running"


def store_take(session: Session, run_id: int, place: int, seed: int, image: NDArray[np.uint8], seconds: float) -> Take:
    """Stores one take; a second time it changes nothing."""
    run = find(session, run_id)
    session.execute(select(Shot.id).where(Shot.id == run.shot_id).with_for_update())
    take = session.scalar(select(Take).where(Take.run_id == run_id, Take.place == place))
    if take is None:
        number = (session.scalar(select(func.max(Take.number)).where(Take.shot_id == run.shot_id)) or 0) + 1
        sha256 = pictures.store(session, image, f"{run.shot.name}, take {number}", "take").sha256
        take = Take(shot_id=run.shot_id, run_id=run_id, place=place, number=number, seed=seed, picture_sha256=sha256, seconds=seconds)
        session.add(take)
        session.flush()
        library.add(session, sha256, "take", f"{run.shot.name}, take {number}", run.shot.story_id, take, recipe_of_place(run, place).prompt)
    announce(session, run.shot_id)
    return take


def finish(session: Session, run_id: int, state: str, message: str = "") -> None:
    run = find(session, run_id)
    run.state, run.message, run.finished_at = state, message, datetime.now(UTC)
    if state == "done":
        run.step = run.steps
    preview = session.get(Preview, run_id)
    if preview is not None:
        session.delete(preview)
    announce(session, run.shot_id)


def give_back(session: Session, run_id: int, until: datetime | None = None, message: str = "") -> None:
    """A worker lets go of a run, which then waits for another; or until its engine is asked again."""
    run = find(session, run_id)
    if run.state == "running":
        run.state, run.worker, run.wait_until, run.message = "waiting", "", until, message
        run.given_back += 1
    announce(session, run.shot_id)


def deaths(session: Session, run_id: int) -> int:
    """How many workers died in a run that is at work: those that took it up and never let go."""
    run = find(session, run_id)
    return run.attempts - run.given_back


def take_up_again(session: Session, run_id: int) -> Run | None:
    """Puts a run whose engine stayed busy back into waiting; its recipe and finished takes are as they were. None where it is not held."""
    run = session.get(Run, run_id, with_for_update=True)
    if run is None:
        raise NotFound("This run does not exist.")
    if run.state != "held":
        return None
    run.state, run.message, run.finished_at, run.attempts, run.given_back = "waiting", "", None, 0, 0
    announce(session, run.shot_id)
    session.flush()
    return run


def stop(session: Session, run_id: int) -> Run:
    """Stops a run: at once where it only waits, within one step where it runs. Finished takes stay."""
    run = session.get(Run, run_id, with_for_update=True)
    if run is None:
        raise NotFound("This run does not exist.")
    if run.state == "waiting":
        finish(session, run_id, "stopped")
    elif run.state == "running":
        run.state = "stopping"
        announce(session, run.shot_id)
    session.flush()
    return run


def preview_jpeg(session: Session, run_id: int) -> bytes:
    data = read_bytes(session, "select jpeg from previews where run_id = %s", run_id)
    if data is None:
        raise NotFound("This run has no preview now.")
    return data


def preview_number(session: Session, run_id: int) -> int | None:
    return session.scalar(select(Preview.number).where(Preview.run_id == run_id))


def workers_alive(session: Session, within_seconds: float = 20.0) -> int:
    """Workers whose heartbeat was seen lately."""
    return int(
        session.scalar(
            text("select count(*) from procrastinate_workers where last_heartbeat > now() - make_interval(secs => :s)"),
            {"s": within_seconds},
        )
        or 0
    )
