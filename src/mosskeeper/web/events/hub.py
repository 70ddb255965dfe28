"""From the database's NOTIFY to everybody who watches: one connection that listens, one statement a tick, however many watch."""

from __future__ import annotations

import asyncio
import contextlib
import json
import logging
import time
from collections.abc import AsyncIterator, Iterator
from dataclasses import asdict
from typing import Any

import psycopg
from sqlalchemy.exc import DBAPIError
from sqlalchemy.exc import TimeoutError as PoolTimeoutError
from sqlalchemy.orm import Session, sessionmaker
from starlette.concurrency import run_in_threadpool

from mosskeeper.studio import watching
from mosskeeper.studio.runs import CHANNEL
from mosskeeper.studio.watching import MADE

log = logging.getLogger(__name__)
_TICK = 0.25  # seconds between two ticks, at the least
_LOOK_AGAIN = 5.0  # seconds: a worker that comes or goes sends no note
_MOST_BEHIND = 200  # ticks that a watcher may be behind before it is told to look at everything again
AGAIN = json.dumps({"again": True})


class Hub:
    """Watchers get ticks as JSON: `runs` that changed, `made` what a worker has made, `workers` how many are alive, and
    `again` where something may have been missed.
    """

    def __init__(self, database_url: str, sessions: sessionmaker[Session]) -> None:
        self._url, self._sessions = database_url, sessions
        self._watching: set[asyncio.Queue[str]] = set()
        self._shots: set[int] = set()
        self._made: list[str] = []
        self._workers: int | None = None
        self._noted = asyncio.Event()

    @contextlib.asynccontextmanager
    async def listening(self) -> AsyncIterator[None]:
        tasks = [asyncio.create_task(self._listen()), asyncio.create_task(self._tick())]
        try:
            yield
        finally:
            for task in tasks:
                task.cancel()
            await asyncio.gather(*tasks, return_exceptions=True)

    @contextlib.contextmanager
    def subscribe(self) -> Iterator[asyncio.Queue[str]]:
        """A queue of ticks. Subscribe first and read `now` then, so that nothing falls in between."""
        queue: asyncio.Queue[str] = asyncio.Queue()
        self._watching.add(queue)
        try:
            yield queue
        finally:
            self._watching.discard(queue)

    async def now(self) -> str:
        """The tick of all that is at work, for somebody who begins to watch."""

        def look() -> str:
            with self._sessions() as session:
                runs = [asdict(one) for one in watching.at_work(session)]
                return json.dumps({"hello": True, "runs": runs, "workers": watching.workers_alive(session)})

        return await run_in_threadpool(look)

    async def _listen(self) -> None:
        while True:
            try:
                async with await psycopg.AsyncConnection.connect(self._url, autocommit=True, connect_timeout=5) as connection:
                    await connection.execute(f"listen {CHANNEL}")
                    await connection.execute(f"listen {MADE}")
                    self._send(AGAIN)
                    async for note in connection.notifies():
                        if note.channel == CHANNEL:
                            self._shots.add(int(note.payload))
                        else:
                            self._made.append(note.payload)
                        self._noted.set()
            except psycopg.Error as error:
                log.warning("not listening to the database (%s): trying again", type(error).__name__)
            await asyncio.sleep(1)

    async def _tick(self) -> None:
        looked = 0.0  # at the workers
        while True:
            with contextlib.suppress(TimeoutError):
                await asyncio.wait_for(self._noted.wait(), _LOOK_AGAIN)
            self._noted.clear()
            due = time.monotonic() - looked >= _LOOK_AGAIN  # also where notes never cease
            shots, made = sorted(self._shots), list(dict.fromkeys(self._made))
            self._shots, self._made = set(), []
            if self._watching:
                try:
                    told = await run_in_threadpool(self._look, shots, made, due)
                    looked = time.monotonic() if due else looked
                except (DBAPIError, PoolTimeoutError):
                    told = None
                    self._shots.update(shots)  # told when the database is back
                if told:
                    self._send(json.dumps(told))
            await asyncio.sleep(_TICK)

    def _look(self, shots: list[int], made: list[str], workers_too: bool) -> dict[str, Any]:
        told: dict[str, Any] = {"made": made} if made else {}
        with self._sessions() as session:
            if shots:
                told["runs"] = [asdict(one) for one in watching.standing(session, shots)]
            if workers_too:
                workers = watching.workers_alive(session)
                if workers != self._workers:
                    told["workers"] = self._workers = workers
        return told

    def _send(self, tick: str) -> None:
        for queue in self._watching:
            if queue.qsize() > _MOST_BEHIND:
                while not queue.empty():
                    queue.get_nowait()
                queue.put_nowait(AGAIN)
            queue.put_nowait(tick)
