"""Real workers as processes: killed, stopped, without a database."""

import signal

import numpy as np
import pytest
from sqlalchemy import func, select
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.recipe import Recipe
from mosskeeper.queue.app import queue_app, submit
from mosskeeper.studio import explaining, measures, mends, pictures, runs, shots, takes, working
from mosskeeper.studio.models import Run, Take, Variant
from tests.conftest import SMALL, Processes, lay_out, wait_for
from tests.studio.test_mends import based, laid

LONG = SMALL.model_copy(update={"width": 512, "height": 640, "steps": 40, "count": 4})

pytestmark = pytest.mark.slow


def enqueue(make_session: sessionmaker[Session], database_url: str, recipe: Recipe) -> int:
    with make_session.begin() as session:
        shot = session.scalar(select(Run.shot_id)) or lay_out(session).id
        return submit(session, queue_app(database_url), shots.find(session, shot), recipe).id


def look(make_session: sessionmaker[Session], run_id: int) -> Run:
    with make_session() as session:
        return runs.find(session, run_id)


def takes_of(make_session: sessionmaker[Session], run_id: int) -> list[int]:
    with make_session() as session:
        return list(session.scalars(select(Take.place).where(Take.run_id == run_id).order_by(Take.place)))


def test_a_run_becomes_takes(make_session: sessionmaker[Session], database_url: str, processes: Processes) -> None:
    processes.worker()
    run_id = enqueue(make_session, database_url, SMALL)
    wait_for(lambda: look(make_session, run_id).state == "done", 120)
    assert takes_of(make_session, run_id) == [0, 1]
    assert look(make_session, run_id).step == 12
    with make_session() as session:
        for take in session.scalars(select(Take)):
            scenes = explaining.of_picture(session, take.picture_sha256)
            assert scenes is not None
            assert np.array_equal(scenes.drawn().image, pictures.pixels(session, take.picture_sha256))


def test_a_killed_workers_run_is_finished_by_another_once(
    make_session: sessionmaker[Session], database_url: str, processes: Processes
) -> None:
    victim = processes.worker()
    run_id = enqueue(make_session, database_url, LONG)
    wait_for(lambda: takes_of(make_session, run_id), 120)
    victim.send_signal(signal.SIGKILL)
    victim.wait()
    before = takes_of(make_session, run_id)
    assert look(make_session, run_id).state == "running"
    assert len(before) < LONG.count
    processes.worker()
    wait_for(lambda: look(make_session, run_id).state == "done", 90)
    assert takes_of(make_session, run_id) == [0, 1, 2, 3]
    with make_session() as session:
        assert session.scalar(select(func.count()).select_from(Take)) == 4
        assert sorted(session.scalars(select(Take.seed))) == [5, 6, 7, 8]
    assert look(make_session, run_id).attempts == 2


def test_variants_of_a_mend_are_finished_by_another_worker(
    make_session: sessionmaker[Session], database_url: str, processes: Processes
) -> None:
    with make_session.begin() as session:
        shot, base = based(session)
        stack, mend = laid(session, shot, base, words="silver hair", count=8)
    victim = processes.worker()
    with make_session.begin() as session:
        run_id = submit(session, queue_app(database_url), *mends.asked(session, stack, mend), (), runs.OfMend(stack, mend)).id

    def made() -> list[int]:
        with make_session() as session:
            return list(session.scalars(select(Variant.place).where(Variant.run_id == run_id).order_by(Variant.place)))

    wait_for(made)
    victim.send_signal(signal.SIGKILL)
    victim.wait()
    assert look(make_session, run_id).state == "running" and len(made()) < 8
    processes.worker()
    wait_for(lambda: look(make_session, run_id).state == "done")
    assert made() == list(range(8))


def test_a_worker_that_is_told_to_end_gives_its_run_back(
    make_session: sessionmaker[Session], database_url: str, processes: Processes
) -> None:
    first = processes.worker()
    longer = LONG.model_copy(update={"steps": 60, "count": 8})  # than the seconds a worker has to come to an end
    run_id = enqueue(make_session, database_url, longer)
    wait_for(lambda: look(make_session, run_id).step > 3, 120)
    first.terminate()
    assert first.wait(20) == 0
    assert look(make_session, run_id).state == "waiting"
    before = takes_of(make_session, run_id)
    processes.worker()
    wait_for(lambda: len(takes_of(make_session, run_id)) > len(before), 120)
    assert takes_of(make_session, run_id) == list(range(len(before) + 1))


def test_stopping_ends_a_run_and_keeps_what_is_finished(
    make_session: sessionmaker[Session], database_url: str, processes: Processes
) -> None:
    processes.worker()
    run_id = enqueue(make_session, database_url, LONG)
    wait_for(lambda: takes_of(make_session, run_id), 120)
    with make_session.begin() as session:
        runs.stop(session, run_id)
    wait_for(lambda: look(make_session, run_id).state == "stopped", 60)
    assert 1 <= len(takes_of(make_session, run_id)) < 4


def test_a_worker_outlives_a_loss_of_all_its_connections(
    make_session: sessionmaker[Session], database_url: str, processes: Processes
) -> None:
    worker = processes.worker()
    with make_session() as session:
        session.connection().exec_driver_sql(
            "select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()"
        )
    run_id = enqueue(make_session, database_url, SMALL)
    wait_for(lambda: look(make_session, run_id).state == "done", 120)
    assert worker.poll() is None


def test_a_second_worker_adds_capacity(make_session: sessionmaker[Session], database_url: str, processes: Processes) -> None:
    processes.worker()
    processes.worker()
    ids = [enqueue(make_session, database_url, LONG) for _ in range(2)]
    wait_for(lambda: all(look(make_session, i).step > 0 for i in ids), 120)
    assert len({look(make_session, i).worker for i in ids}) == 2


def test_a_rescue_that_died_with_its_worker_keeps_nobody_from_being_rescued(
    make_session: sessionmaker[Session], database_url: str, processes: Processes
) -> None:
    run_id = enqueue(make_session, database_url, SMALL)
    with make_session.begin() as session:
        connection = session.connection()
        dead = connection.exec_driver_sql(
            "insert into procrastinate_workers (last_heartbeat) values (now() - interval '1 hour') returning id"
        ).scalar_one()
        connection.exec_driver_sql(
            "insert into procrastinate_jobs (queue_name, task_name, status, worker_id, args) values ('house', 'rescue', 'doing', %s, '{}')",
            (dead,),
        )
        connection.exec_driver_sql("update procrastinate_jobs set status = 'doing', worker_id = %s where task_name = 'make_takes'", (dead,))
        working.begin(session, run_id, "dead")
    processes.worker()
    wait_for(lambda: look(make_session, run_id).state == "done", 120)
    assert takes_of(make_session, run_id) == [0, 1]


def test_a_run_whose_job_is_gone_gets_a_new_one(make_session: sessionmaker[Session], database_url: str, processes: Processes) -> None:
    run_id = enqueue(make_session, database_url, SMALL)
    with make_session.begin() as session:
        session.connection().exec_driver_sql("delete from procrastinate_jobs")
        session.connection().exec_driver_sql("update runs set created_at = now() - interval '1 minute'")
    processes.worker()
    wait_for(lambda: look(make_session, run_id).state == "done", 120)


def test_a_take_is_measured_by_a_job_of_its_own(make_session: sessionmaker[Session], database_url: str, processes: Processes) -> None:
    processes.worker()
    run_id = enqueue(make_session, database_url, SMALL)

    def measured() -> int:
        with make_session() as session:
            return len(measures.known(session, takes.of_shot(session, look(make_session, run_id).shot_id)))

    wait_for(lambda: measured() == SMALL.count, 90)
