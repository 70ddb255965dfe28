import numpy as np
import pytest
from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.queue.app import queue_app, submit
from mosskeeper.studio import cast, estimates, pictures, runs, shots, stories, takes, watching, working
from mosskeeper.studio.models import Anchor, Picture, Run, Take
from tests.conftest import SMALL, lay_out

IMAGE = np.full((8, 6, 3), 120, np.uint8)


def made_takes(session: Session, n: int = 2) -> list[Take]:
    """A finished run with `n` plain pictures as takes."""
    shot = lay_out(session)
    run = runs.create(session, shot, SMALL.model_copy(update={"count": n}))
    working.begin(session, run.id, "test")
    for place, seed in enumerate(run.seeds):
        working.store_take(session, run.id, place, seed, IMAGE + place, 1.0)
    working.end(session, run, "done")
    return takes.of_shot(session, shot.id)


def test_the_same_pixels_are_stored_once(db: Session) -> None:
    first, second = pictures.store(db, IMAGE, "a", "upload"), pictures.store(db, IMAGE, "b", "take")
    assert first.sha256 == second.sha256
    assert db.scalar(select(func.count()).select_from(Picture)) == 1
    assert np.array_equal(pictures.pixels(db, first.sha256), IMAGE)


def test_given_words_come_from_character_outfit_and_scene(db: Session) -> None:
    shot = lay_out(db)
    assert shots.draft(shot).given == "Ada Reed, girl, brown skin, short curls, in red tunic, in the bell tower at noon"
    assert shot.name == "First shot"


def test_recasting_changes_the_given_words_and_drops_a_strangers_outfit(db: Session) -> None:
    shot = lay_out(db)
    other = cast.add_character(db, shot.story_id, "Ben", "boy")
    shots.recast(db, shot.id, shot.scene_id, other.id, shot.outfit_id)
    assert shot.outfit_id is None
    assert shots.draft(shot).given == "Ben, boy, in the bell tower at noon"


def test_fresh_seeds_are_drawn_once_for_a_run(db: Session) -> None:
    shot = lay_out(db)
    run = runs.create(db, shot, SMALL.model_copy(update={"seed": None, "count": 3}))
    assert len(set(run.seeds)) == 3
    assert runs.create(db, shot, SMALL).seeds == [5, 6]


def test_a_run_needs_words_or_a_cue(db: Session) -> None:
    shot = lay_out(db)
    with pytest.raises(ArtistError, match="no words and no cue") as caught:
        runs.create(db, shot, Recipe())
    assert caught.value.field == "words"


def test_a_cue_whose_picture_is_gone_is_told(db: Session) -> None:
    shot = lay_out(db)
    with pytest.raises(ArtistError, match="not in the library"):
        runs.create(db, shot, SMALL.model_copy(update={"cues": [Cue(picture="e" * 64)]}))


def test_an_unknown_engine_is_told_with_those_there_are(db: Session) -> None:
    shot = lay_out(db)
    with pytest.raises(ArtistError, match="Full illustrator"):
        runs.create(db, shot, SMALL.model_copy(update={"engine": "nowhere"}))


def test_a_take_is_stored_once_however_often_it_comes(db: Session) -> None:
    shot = lay_out(db)
    run = runs.create(db, shot, SMALL)
    for _ in range(3):
        working.store_take(db, run.id, 0, 5, IMAGE, 1.0)
    assert db.scalar(select(func.count()).select_from(Take)) == 1


def test_a_run_taken_up_again_makes_only_what_is_missing(db: Session) -> None:
    shot = lay_out(db)
    run = runs.create(db, shot, SMALL)
    begun = working.begin(db, run.id, "one")
    assert begun and [(m.place, m.seed, m.before) for m in begun.missing] == [(0, 5, 0), (1, 6, 6)]
    working.store_take(db, run.id, 0, 5, IMAGE, 1.0)
    again = working.begin(db, run.id, "two")
    assert again and [(m.place, m.seed) for m in again.missing] == [(1, 6)]


def test_a_waiting_run_stops_at_once_and_is_not_begun(db: Session) -> None:
    run = runs.create(db, lay_out(db), SMALL)
    assert runs.stop(db, run.id).state == "stopped"
    assert working.begin(db, run.id, "late worker") is None


def test_a_running_run_is_asked_to_stop(db: Session) -> None:
    run = runs.create(db, lay_out(db), SMALL)
    begun = working.begin(db, run.id, "w")
    assert begun and working.progress(db, run.id, begun.token, 1, None)
    runs.stop(db, run.id)
    assert not working.progress(db, run.id, begun.token, 2, IMAGE)
    assert watching.standing(db, [run.shot_id])[0].preview == 1


def test_run_and_job_exist_together_or_not_at_all(make_session: sessionmaker[Session], database_url: str) -> None:
    app = queue_app(database_url)
    with make_session.begin() as session:
        shot = lay_out(session)
    try:
        with make_session.begin() as session:
            submit(session, app, shots.find(session, shot.id), SMALL)
            raise RuntimeError
    except RuntimeError:
        pass
    count = "select count(*) from procrastinate_jobs where task_name = 'make_takes'"
    with make_session.begin() as session:
        assert session.connection().exec_driver_sql(count).scalar() == 0
        assert session.scalar(select(func.count()).select_from(Run)) == 0
        submit(session, app, shots.find(session, shot.id), SMALL)
        assert session.connection().exec_driver_sql(count).scalar() == 1


def test_keeping_a_take_lets_the_one_before_go(db: Session) -> None:
    newer, older = made_takes(db)
    takes.keep(db, older.id)
    takes.keep(db, newer.id)
    db.refresh(older)
    assert (newer.kept, older.kept) == (True, False)
    assert not takes.take_back(db, newer.id).kept


def test_putting_aside_hides_and_brings_back(db: Session) -> None:
    take = made_takes(db)[0]
    takes.keep(db, take.id)
    aside = takes.put_aside(db, take.id, True)
    assert aside.put_aside
    assert not aside.kept
    assert not takes.put_aside(db, take.id, False).put_aside


def test_takes_are_numbered_through_the_shot_and_carry_their_recipe(db: Session) -> None:
    made = made_takes(db, 3)
    assert [t.number for t in made] == [3, 2, 1]
    recipe = takes.recipe_of(takes.find(db, made[0].id))
    assert (recipe.seed, recipe.count) == (7, 1)


def test_a_new_lead_anchor_takes_the_place_of_the_old_one(db: Session) -> None:
    newer, older = (takes.find(db, t.id) for t in made_takes(db))
    cast.make_anchor(db, older, lead=True)
    cast.make_anchor(db, newer, lead=True)
    leads = {a.take_id: a.lead for a in db.scalars(select(Anchor))}
    assert leads == {older.id: False, newer.id: True}


def test_a_shot_without_a_character_has_no_anchor_to_give(db: Session) -> None:
    take = takes.find(db, made_takes(db)[0].id)
    take.shot.character_id = None
    with pytest.raises(ArtistError, match="no character"):
        cast.make_anchor(db, take, lead=True)


def test_the_database_itself_allows_one_kept_take_a_shot(db: Session) -> None:
    made = made_takes(db)
    with pytest.raises(IntegrityError), db.begin_nested():
        for take in made:
            take.kept = True
        db.flush()


def test_the_board_shows_the_kept_take_of_each_shot(db: Session) -> None:
    newer, older = made_takes(db)
    takes.keep(db, older.id)
    board = stories.board(db, older.shot.story_id)
    ((scene, cells),) = board.rows
    assert scene.name == "Bell tower"
    (cell,) = cells[0]
    assert cell.take is not None
    assert (cell.take.id, cell.takes) == (older.id, 2)
    assert newer.id != cell.take.id


def test_the_price_is_the_engines_and_the_time_is_learned(db: Session) -> None:
    run = runs.create(db, lay_out(db), SMALL)
    before = estimates.estimate(db, SMALL)
    working.begin(db, run.id, "w")
    working.end(db, run, "done")
    run.finished_at = run.started_at + (run.finished_at - run.started_at).__class__(seconds=run.expected_seconds * 4)
    db.flush()
    after = estimates.estimate(db, SMALL)
    assert after.sparks == before.sparks
    assert after.seconds == pytest.approx(before.seconds * 4, rel=0.1)


@pytest.mark.parametrize("find", [stories.find, shots.find, takes.find, runs.find, cast.find])
def test_what_does_not_exist_is_told(db: Session, find: object) -> None:
    with pytest.raises(NotFound, match="does not exist"):
        find(db, 999)  # type: ignore[operator]


@pytest.mark.parametrize("name", ["", "   ", "x" * 161])
def test_a_story_needs_a_fitting_name(db: Session, name: str) -> None:
    with pytest.raises(ArtistError) as caught:
        stories.create(db, name)
    assert caught.value.field == "name"
