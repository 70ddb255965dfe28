import asyncio
from collections.abc import Callable, Coroutine
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.studio import runs
from mosskeeper.web.live.hub import Hub
from tests.conftest import lay_out

T = TypeVar("T")


def in_a_thread(scenario: Callable[[], Coroutine[None, None, T]]) -> T:
    """Runs a scenario in a loop of its own: the browser tests of the same session keep one in the main thread."""
    with ThreadPoolExecutor(1) as pool:
        return pool.submit(lambda: asyncio.run(scenario())).result()


def test_everybody_who_watches_hears_of_a_change_and_of_a_reconnect(make_session: sessionmaker[Session], database_url: str) -> None:
    async def scenario() -> list[int | None]:
        hub, heard = Hub(database_url), []
        with hub.subscribe() as one, hub.subscribe() as two:
            async with hub.listening():
                heard.append(await asyncio.wait_for(one.get(), 10))  # None: the connection is new, look again

                def change() -> int:
                    with make_session.begin() as session:
                        shot = lay_out(session)
                        runs.announce(session, shot.id)
                        return shot.id

                shot_id = await asyncio.to_thread(change)
                heard.append(await asyncio.wait_for(one.get(), 10))
                assert heard[-1] == shot_id

                def cut() -> None:
                    with make_session() as session:
                        session.connection().exec_driver_sql(
                            "select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and query ilike 'listen%%'"
                        )

                await asyncio.to_thread(cut)
                heard.append(await asyncio.wait_for(one.get(), 15))
                heard.append(await asyncio.wait_for(two.get(), 1))
        return heard

    heard = in_a_thread(scenario)
    assert heard[0] is None
    assert heard[2] is None
    assert heard[3] is None


def test_a_change_that_is_rolled_back_is_not_told(make_session: sessionmaker[Session], database_url: str) -> None:
    async def scenario() -> int:
        hub = Hub(database_url)
        with hub.subscribe() as queue:
            async with hub.listening():
                await asyncio.wait_for(queue.get(), 10)

                def undone() -> None:
                    with make_session() as session:
                        runs.announce(session, lay_out(session).id)
                        session.rollback()

                def done() -> None:
                    with make_session.begin() as session:
                        runs.announce(session, 4711)

                await asyncio.to_thread(undone)
                await asyncio.to_thread(done)
                return await asyncio.wait_for(queue.get(), 10) or 0

    assert in_a_thread(scenario) == 4711
