"""What becomes of runs whose workers die, whose engine errs, or which two workers have."""

import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.studio import runs, working
from mosskeeper.studio.models import Run, Take
from tests.conftest import SMALL, lay_out
from tests.studio.test_studio import IMAGE

ENOUGH = 3


def begun(session: Session) -> tuple[Run, str]:
    run = runs.create(session, lay_out(session), SMALL)
    taken_up = working.begin(session, run.id, "one")
    assert taken_up is not None
    return run, taken_up.token


def again(session: Session, run: Run) -> str:
    taken_up = working.begin(session, run.id, "next")
    assert taken_up is not None
    return taken_up.token


def test_deaths_in_different_steps_never_hold_a_run(db: Session) -> None:
    run, token = begun(db)
    for step in range(1, 8):
        working.progress(db, run.id, token, step, None)
        assert working.died(db, run.id)
        token = again(db, run)
    db.refresh(run)
    assert (run.state, run.deaths) == ("running", 1)


def test_three_deaths_in_one_step_of_one_take_hold_the_run_with_what_happened(db: Session) -> None:
    run, token = begun(db)
    for nth in range(ENOUGH):
        working.progress(db, run.id, token, 4, None)
        goes_on = working.died(db, run.id)
        assert goes_on == (nth < ENOUGH - 1)
        if goes_on:
            token = again(db, run)
    db.refresh(run)
    assert run.state == "held"
    assert "died in the same step of take 1" in run.message
    assert working.begin(db, run.id, "late") is None


def test_deaths_at_different_points_of_one_step_are_taken_for_chance_but_not_for_ever(db: Session) -> None:
    run, token = begun(db)
    for nth in range(1, 9):
        working.progress(db, run.id, token, 4, None)
        for _ in range(nth):  # how far the engine came in the step
            assert not working.stop_requested(db, run.id, token)
        goes_on = working.died(db, run.id)
        assert goes_on == (nth < 8)
        if goes_on:
            token = again(db, run)
    db.refresh(run)
    assert (run.state, run.deaths) == ("held", 1)
    assert "8 workers died in the same step" in run.message


def test_a_stored_take_forgives_the_deaths_before_it(db: Session) -> None:
    run, token = begun(db)
    for _ in range(ENOUGH - 1):
        working.progress(db, run.id, token, 4, None)
        working.died(db, run.id)
        token = again(db, run)
    working.store_take(db, run.id, 0, 5, IMAGE, 1.0)
    working.died(db, run.id)
    db.refresh(run)
    assert (run.state, run.deaths) == ("waiting", 1)


def test_an_error_of_the_engine_is_tried_once_more_and_fails_the_second_time(db: Session) -> None:
    run, token = begun(db)
    assert working.errored(db, run.id, token, "It broke.")
    assert run.state == "waiting"
    assert not working.errored(db, run.id, again(db, run), "It broke.")
    assert (run.state, run.message) == ("failed", "It broke.")


def test_an_error_on_another_take_counts_anew(db: Session) -> None:
    run, token = begun(db)
    working.errored(db, run.id, token, "It broke.")
    token = again(db, run)
    working.store_take(db, run.id, 0, 5, IMAGE, 1.0)
    assert working.errored(db, run.id, token, "It broke.")
    assert run.state == "waiting"


def test_of_two_workers_with_one_run_the_one_that_came_later_writes(make_session: sessionmaker[Session]) -> None:
    with make_session.begin() as session:
        run, old = begun(session)
    with make_session.begin() as session:
        new = again(session, run)
    with make_session.begin() as session:
        assert not working.progress(session, run.id, old, 3, None)
        assert working.stop_requested(session, run.id, old)
        assert not working.finish(session, run.id, old, "failed", "late")
        assert not working.give_back(session, run.id, old)
    with make_session.begin() as session:
        assert working.progress(session, run.id, new, 3, None)
        assert working.finish(session, run.id, new, "done")
        assert runs.find(session, run.id).state == "done"


@pytest.mark.parametrize("state", ["held", "failed"])
def test_what_went_wrong_is_shown_until_it_is_dismissed_and_can_be_tried_again(db: Session, state: str) -> None:
    run, token = begun(db)
    working.finish(db, run.id, token, state, "So it was.")
    later = runs.create(db, run.shot, SMALL)
    working.end(db, later, "done")
    assert [one.id for one in runs.troubled(db, run.shot.story_id)] == [run.id]
    assert [one.id for one in runs.troubled_of_shot(db, run.shot_id)] == [run.id]
    runs.dismiss(db, run.id)
    assert runs.troubled(db, run.shot.story_id) == []
    assert runs.take_up_again(db, run.id) is not None
    assert (run.state, run.errors, run.deaths, run.dismissed_at) == ("waiting", 0, 0, None)


def test_a_run_that_is_asked_to_stop_while_its_worker_dies_is_stopped(db: Session) -> None:
    run, _ = begun(db)
    runs.stop(db, run.id)
    assert not working.died(db, run.id)
    db.refresh(run)
    assert run.state == "stopped"


def test_a_take_is_stored_once_by_two_workers_at_the_same_time(make_session: sessionmaker[Session]) -> None:
    from concurrent.futures import ThreadPoolExecutor
    from threading import Barrier

    with make_session.begin() as session:
        run, _ = begun(session)
    together = Barrier(2)

    def store(_: int) -> int:
        together.wait()
        with make_session.begin() as session:
            return working.store_take(session, run.id, 0, 5, IMAGE, 1.0).id

    with ThreadPoolExecutor(2) as pool:
        first, second = pool.map(store, range(2))
    assert first == second
    with make_session() as session:
        assert len(session.scalars(select(Take)).all()) == 1
