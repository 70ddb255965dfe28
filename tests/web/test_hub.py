import asyncio
import json
from collections.abc import Callable, Coroutine
from concurrent.futures import ThreadPoolExecutor
from typing import Any, TypeVar

from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.studio import runs, shots, working
from mosskeeper.studio.watching import tell_made
from mosskeeper.web.events.hub import Hub
from tests.conftest import SMALL, lay_out

T = TypeVar("T")
Queue = asyncio.Queue[str]


def in_a_thread(scenario: Callable[[], Coroutine[None, None, T]]) -> T:
    """Runs a scenario in a loop of its own: the browser tests of the same session keep one in the main thread."""
    with ThreadPoolExecutor(1) as pool:
        return pool.submit(lambda: asyncio.run(scenario())).result()


async def tick_with(queue: Queue, name: str) -> Any:
    """What the first tick that has something of this name says of it."""
    while True:
        told = json.loads(await asyncio.wait_for(queue.get(), 15))
        if name in told:
            return told[name]


def begun(make_session: sessionmaker[Session]) -> tuple[int, int, str]:
    """A run at work: its shot, itself and its token."""
    with make_session.begin() as session:
        shot = lay_out(session)
        run = runs.create(session, shot, SMALL)
        taken_up = working.begin(session, run.id, "w")
        assert taken_up is not None
        return shot.id, run.id, taken_up.token


def test_everybody_who_watches_hears_of_each_step_and_of_a_reconnect(make_session: sessionmaker[Session], database_url: str) -> None:
    shot_id, run_id, token = begun(make_session)

    def step() -> None:
        with make_session.begin() as session:
            working.progress(session, run_id, token, 3, None)

    def cut() -> None:
        with make_session() as session:
            session.connection().exec_driver_sql(
                "select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and query ilike 'listen%%'"
            )

    async def scenario() -> None:
        hub = Hub(database_url, make_session)
        with hub.subscribe() as one, hub.subscribe() as two:
            async with hub.listening():
                await tick_with(one, "again")
                await asyncio.to_thread(step)
                for queue in (one, two):
                    (told,) = await tick_with(queue, "runs")
                    assert (told["shot"], told["run"], told["step"], told["state"], told["made"]) == (shot_id, run_id, 3, "running", 0)
                await asyncio.to_thread(cut)
                assert await tick_with(one, "again")

    in_a_thread(scenario)


def test_a_flood_of_notes_becomes_few_ticks_and_the_last_state_is_told(make_session: sessionmaker[Session], database_url: str) -> None:
    _, run_id, token = begun(make_session)

    def flood() -> None:
        for step in range(1, 12):
            with make_session.begin() as session:
                working.progress(session, run_id, token, step, None)

    async def scenario() -> int:
        hub, ticks = Hub(database_url, make_session), 0
        with hub.subscribe() as queue:
            async with hub.listening():
                await tick_with(queue, "again")
                await asyncio.to_thread(flood)
                while True:
                    ticks += 1
                    if (await tick_with(queue, "runs"))[0]["step"] == 11:
                        return ticks

    assert in_a_thread(scenario) < 8


def test_a_change_that_is_rolled_back_is_not_told(make_session: sessionmaker[Session], database_url: str) -> None:
    def undone() -> None:
        with make_session() as session:
            tell_made(session, "reading of what was undone")
            session.rollback()

    def done() -> None:
        with make_session.begin() as session:
            tell_made(session, "take 7")

    async def scenario() -> list[str]:
        hub = Hub(database_url, make_session)
        with hub.subscribe() as queue:
            async with hub.listening():
                await tick_with(queue, "again")
                await asyncio.to_thread(undone)
                await asyncio.to_thread(done)
                return await tick_with(queue, "made")

    assert in_a_thread(scenario) == ["take 7"]


def test_somebody_who_begins_to_watch_is_told_what_is_at_work(make_session: sessionmaker[Session], database_url: str) -> None:
    shot_id, run_id, _ = begun(make_session)
    with make_session.begin() as session:
        ended = runs.create(session, shots.find(session, lay_out(session).id), SMALL)
        working.end(session, ended, "done")
    hello = json.loads(in_a_thread(Hub(database_url, make_session).now))
    assert [(run["shot"], run["run"]) for run in hello["runs"]] == [(shot_id, run_id)]
    assert hello["hello"]
