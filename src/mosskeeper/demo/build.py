"""Making the demo story, by the same use cases that artists use."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context

import cv2
from sqlalchemy import delete, select, text
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.recipe import Recipe
from mosskeeper.demo.scenario import ANCHOR_WORDS, CAST, SCENES, SHOTS, STORY, SUMMARY
from mosskeeper.engines import BUILT_IN
from mosskeeper.engines.contract import Made, Materials
from mosskeeper.studio import cast, measures, runs, shots, stories, takes, working
from mosskeeper.studio.database import connect, sessions
from mosskeeper.studio.models import Outfit, Run, Shot, Story, StoryScene, Take
from mosskeeper.studio.run_states import RunState

Say = Callable[[str], None]
_WORKER = "the demo"


def make(database_url: str, say: Say) -> None:
    """Makes the demo story, or finishes one whose making was cut off."""
    engine = connect(database_url)
    with sessions(engine)() as session:
        begun = session.scalar(select(Story.id).where(Story.name == STORY)) is not None
    if begun:
        _draw_waiting(sessions(engine), say)
    else:
        _make(sessions(engine), say)
    engine.dispose()


def reset(database_url: str, say: Say) -> None:
    """Throws the demo story away and makes it anew. Other stories stay, pictures too."""
    engine = connect(database_url)
    with sessions(engine).begin() as session:
        story = session.scalar(select(Story).where(Story.name == STORY))
        if story is not None:
            _delete(session, story.id)
    _make(sessions(engine), say)
    engine.dispose()


def _make(make_session: sessionmaker[Session], say: Say) -> None:
    with make_session.begin() as session:
        _lay_out(session)
    _draw_waiting(make_session, say)


def _lay_out(session: Session) -> None:
    """Cast, scenes and shots, each shot with a waiting run."""
    story = stories.create(session, STORY, SUMMARY)
    scenes = {name: StoryScene(story_id=story.id, name=name, words=words) for name, words in SCENES.items()}
    session.add_all(scenes.values())
    members, outfits = {}, {}
    for member in CAST:
        members[member.name] = cast.add_character(session, story.id, member.name, member.traits, member.summary)
        for name, words in member.outfits.items():
            outfits[member.name, name] = Outfit(character_id=members[member.name].id, name=name, words=words)
    session.add_all(outfits.values())
    session.flush()
    for member in CAST:
        recipe = Recipe(words=f"{ANCHOR_WORDS}, in {member.anchor_wear}", seed=member.anchor_seed, count=2, styles=["gouache"])
        shot = shots.create(session, story.id, f"Find {member.name}", None, members[member.name].id, None, recipe)
        _wait(session, shot, recipe)
    for demo in SHOTS:
        recipe = Recipe(words=demo.words, seed=demo.seed, count=demo.count, styles=list(demo.styles))
        shot = shots.create(
            session, story.id, "", scenes[demo.scene].id, members[demo.member].id, outfits[demo.member, demo.outfit].id, recipe
        )
        _wait(session, shot, recipe)


def _wait(session: Session, shot: Shot, recipe: Recipe) -> None:
    run = runs.create(session, shot, recipe.model_copy(update={"given": shot.draft["given"]}))
    run.state = RunState.DRAWING
    # on the table the seed is fresh: the next run brings something new
    shot.draft = {**shot.draft, "seed": None}


def _draw_waiting(make_session: sessionmaker[Session], say: Say) -> None:
    with make_session() as session:
        waiting = list(
            session.scalars(
                select(Run.id)
                .where((Run.state == RunState.DRAWING) | (Run.worker.like(f"{_WORKER} %") & (Run.state == RunState.RUNNING)))
                .order_by(Run.id)
            )
        )
    total, started = len(waiting), time.monotonic()
    say(f"Drawing the demo story “{STORY}”: {total} shots, about a minute.")
    with ProcessPoolExecutor(min(os.cpu_count() or 1, 4), mp_context=get_context("spawn")) as pool:
        jobs = []
        for run_id in waiting:
            with make_session.begin() as session:
                begun = working.begin(session, run_id, _WORKER)
            if begun:
                jobs.append((run_id, [(one, pool.submit(_picture, one.recipe.to_json(), one.seed)) for one in begun.missing]))
        for n, (run_id, pending) in enumerate(jobs, 1):
            with make_session.begin() as session:
                for one, future in pending:
                    made, seconds = future.result()
                    take = working.store_take(session, run_id, one.place, one.seed, made.image, seconds, made.explained, made.says)
                    measures.of_take(session, take)
                _finish(session, run_id)
            if n % 5 == 0 or n == total:
                say(f"  {n} of {total} shots, {time.monotonic() - started:.0f} s")


def _picture(recipe_json: str, seed: int) -> tuple[Made, float]:
    cv2.setNumThreads(1)
    recipe, started = Recipe.model_validate_json(recipe_json), time.monotonic()
    made = BUILT_IN[recipe.engine].generate(recipe, seed, Materials(), lambda _: None, lambda: False)
    return made, time.monotonic() - started


def _finish(session: Session, run_id: int) -> None:
    run = runs.find(session, run_id)
    # several pictures were drawn at once: these times are no measure of a run
    run.started_at = None
    working.end(session, run, RunState.DONE)
    made = list(session.scalars(select(Take).where(Take.run_id == run_id).order_by(Take.place)))
    plan = next((s for s in SHOTS if s.seed == run.seeds[0]), None)
    if plan is None:
        cast.make_anchor(session, made[0], lead=True)
        takes.keep(session, made[0].id)
    elif plan.keep is not None:
        takes.keep(session, made[plan.keep].id)


def _delete(session: Session, story_id: int) -> None:
    """The story with all that belongs to it. What was brought in or cut out is the artist's: it goes to the shelf of the studio."""
    session.execute(delete(Story).where(Story.id == story_id))
    session.execute(
        text(
            "delete from procrastinate_jobs where status = 'todo' and args ->> 'run_id' is not null"
            " and not exists (select 1 from runs where runs.id = (args ->> 'run_id')::int)"
        )
    )
