"""The scenes of pictures in the studio: stored once with a take, found for a recipe that begins with it, never in the way."""

import threading

import numpy as np
from sqlalchemy import func, select, update
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.illustrator.description import Description
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.recipe import Recipe, Source
from mosskeeper.studio import explaining, runs, working
from mosskeeper.studio.models import StoredScenes
from tests.conftest import SMALL, lay_out

SCENES = LayeredScenes.of([scene_of(Description(place="bell tower"), (96, 120))])
IMAGE = np.full((120, 96, 3), 90, np.uint8)


def stored(session: Session) -> str:
    run = runs.create(session, lay_out(session), SMALL)
    return working.store_take(session, run.id, 0, 5, IMAGE, 1.0, SCENES).picture_sha256


def beginning_with(sha256: str) -> Recipe:
    return Recipe(source=Source(picture=sha256))


def test_a_take_is_found_with_its_scenes_by_a_recipe_that_begins_with_it(db: Session) -> None:
    sha256 = stored(db)
    found = explaining.of_recipe(db, beginning_with(sha256))[sha256]
    assert np.array_equal(found.drawn().image, SCENES.drawn().image)
    assert explaining.of_recipe(db, Recipe()) == {}
    assert explaining.of_recipe(db, beginning_with("0" * 64)) == {}


def test_scenes_that_cannot_be_read_are_as_if_there_were_none(db: Session) -> None:
    sha256 = stored(db)
    for body in (
        {},
        {"version": 99},
        {"version": 1, "illustrator": 1, "layers": []},
        {"version": 1, "illustrator": 1, "layers": [{"scene": 3}]},
    ):
        db.execute(update(StoredScenes).values(body=body))
        db.expire_all()
        assert explaining.of_picture(db, sha256) is None


def test_two_workers_that_store_the_same_picture_store_its_scenes_once(make_session: sessionmaker[Session]) -> None:
    with make_session.begin() as session:
        run = runs.create(session, lay_out(session), SMALL)
        run_id = run.id
    both = threading.Barrier(2)

    def store(place: int) -> None:
        with make_session.begin() as session:
            both.wait()
            working.store_take(session, run_id, place, 5, IMAGE, 1.0, SCENES)

    workers = [threading.Thread(target=store, args=(place,)) for place in (0, 1)]
    for worker in workers:
        worker.start()
    for worker in workers:
        worker.join()
    with make_session() as session:
        assert session.scalar(select(func.count()).select_from(StoredScenes)) == 1
