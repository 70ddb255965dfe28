"""Real workers as processes: killed, stopped, without a database."""

import signal
from collections.abc import Iterator

import numpy as np
import pytest
from sqlalchemy import func, select
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.cluster import Cluster
from mosskeeper.core.recipe import Recipe
from mosskeeper.queue.app import queue_app, submit
from mosskeeper.studio import explaining, measures, mends, pictures, runs, shots, working
from mosskeeper.studio.database import connect, sessions
from mosskeeper.studio.models import Run, Take, Variant
from tests.conftest import SMALL, Processes, fresh_database, lay_out, wait_for
from tests.studio.test_mends import based, laid

LONG = SMALL.model_copy(update={"steps": 40, "count": 6})


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


@pytest.fixture(scope="module")
def studio(cluster: Cluster, tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[sessionmaker[Session], str, Processes]]:
    """A database with one worker on it, for those that do it no harm."""
    url = fresh_database(cluster)
    processes, engine = Processes(url, tmp_path_factory.mktemp("worker")), connect(url)
    processes.worker()
    yield sessions(engine), url, processes
    processes.stop()
    engine.dispose()


Studio = tuple[sessionmaker[Session], str, Processes]


def test_a_run_becomes_takes_and_a_job_of_its_own_measures_them(studio: Studio) -> None:
    make_session, url, _ = studio
    run_id = enqueue(make_session, url, SMALL)
    wait_for(lambda: look(make_session, run_id).state == "done")
    assert takes_of(make_session, run_id) == [0, 1]
    assert look(make_session, run_id).step == 12
    with make_session() as session:
        for take in session.scalars(select(Take).where(Take.run_id == run_id)):
            scenes = explaining.of_picture(session, take.picture_sha256)
            assert scenes is not None
            assert np.array_equal(scenes.drawn().image, pictures.pixels(session, take.picture_sha256))

    def measured() -> set[int]:
        with make_session() as session:
            return set(measures.known(session, session.scalars(select(Take).where(Take.run_id == run_id)).all()))

    wait_for(lambda: len(measured()) == SMALL.count)


def test_stopping_ends_a_run_and_keeps_what_is_finished(studio: Studio) -> None:
    make_session, url, _ = studio
    run_id = enqueue(make_session, url, LONG)
    wait_for(lambda: takes_of(make_session, run_id))
    with make_session.begin() as session:
        runs.stop(session, run_id)
    wait_for(lambda: look(make_session, run_id).state == "stopped")
    assert 1 <= len(takes_of(make_session, run_id)) < LONG.count


@pytest.mark.process
def test_a_worker_outlives_a_loss_of_all_its_connections(studio: Studio) -> None:
    make_session, url, processes = studio
    with make_session() as session:
        session.connection().exec_driver_sql(
            "select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()"
        )
    run_id = enqueue(make_session, url, SMALL)
    wait_for(lambda: look(make_session, run_id).state == "done")
    assert [process.poll() for process in processes.started] == [None] * len(processes.started)


@pytest.mark.process
def test_a_run_whose_job_is_gone_gets_a_new_one(studio: Studio) -> None:
    make_session, _, _ = studio
    with make_session.begin() as session:
        run_id = runs.create(session, shots.find(session, lay_out(session).id), SMALL).id
        session.connection().exec_driver_sql("update runs set created_at = now() - interval '1 minute' where id = %s", (run_id,))
    wait_for(lambda: look(make_session, run_id).state == "done")


@pytest.mark.process
def test_a_second_worker_adds_capacity(studio: Studio) -> None:
    make_session, url, processes = studio
    processes.worker()
    ids = [enqueue(make_session, url, LONG) for _ in range(2)]
    wait_for(lambda: all(look(make_session, i).step > 0 for i in ids))
    assert len({look(make_session, i).worker for i in ids}) == 2


@pytest.mark.process
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
    assert takes_of(make_session, run_id) == [0, 1, 2, 3, 4, 5]
    with make_session() as session:
        assert session.scalar(select(func.count()).select_from(Take)) == LONG.count
        assert sorted(session.scalars(select(Take.seed))) == [5, 6, 7, 8, 9, 10]
    assert look(make_session, run_id).attempts == 2


@pytest.mark.process
def test_variants_of_a_mend_are_finished_by_another_worker(
    make_session: sessionmaker[Session], database_url: str, processes: Processes
) -> None:
    with make_session.begin() as session:
        shot, base = based(session)
        stack, mend = laid(session, shot, base, words="silver hair", count=5)
    victim = processes.worker()
    with make_session.begin() as session:
        run_id = submit(session, queue_app(database_url), *mends.asked(session, stack, mend), (), runs.OfMend(stack, mend)).id

    def made() -> list[int]:
        with make_session() as session:
            return list(session.scalars(select(Variant.place).where(Variant.run_id == run_id).order_by(Variant.place)))

    wait_for(made)
    victim.send_signal(signal.SIGKILL)
    victim.wait()
    assert look(make_session, run_id).state == "running" and len(made()) < 5
    processes.worker()
    wait_for(lambda: look(make_session, run_id).state == "done")
    assert made() == list(range(5))


@pytest.mark.process
def test_a_worker_that_is_told_to_end_gives_its_run_back(
    make_session: sessionmaker[Session], database_url: str, processes: Processes
) -> None:
    first = processes.worker()
    # longer than the seconds a worker has to come to an end
    longer = LONG.model_copy(update={"width": 512, "height": 640, "steps": 60, "count": 8})
    run_id = enqueue(make_session, database_url, longer)
    wait_for(lambda: look(make_session, run_id).step > 3, 120)
    first.terminate()
    assert first.wait(20) == 0
    assert look(make_session, run_id).state == "waiting"
    before = takes_of(make_session, run_id)
    processes.worker()
    wait_for(lambda: len(takes_of(make_session, run_id)) > len(before), 120)
    assert takes_of(make_session, run_id) == list(range(len(before) + 1))


@pytest.mark.process
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
