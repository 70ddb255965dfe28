"""From the database's NOTIFY to everybody who watches: one LISTEN connection a web process."""

from __future__ import annotations

import asyncio
import contextlib
import logging
from collections.abc import AsyncIterator, Iterator

import psycopg

from mosskeeper.studio.runs import CHANNEL

log = logging.getLogger(__name__)


class Hub:
    def __init__(self, database_url: str) -> None:
        self._url = database_url
        self._watching: set[asyncio.Queue[int | None]] = set()

    @contextlib.asynccontextmanager
    async def listening(self) -> AsyncIterator[None]:
        task = asyncio.create_task(self._listen())
        try:
            yield
        finally:
            task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await task

    @contextlib.contextmanager
    def subscribe(self) -> Iterator[asyncio.Queue[int | None]]:
        """A queue of the shots in which something changed; None says: look again, something may have been missed.

        Subscribe first and read the state then, so that nothing falls in between.
        """
        queue: asyncio.Queue[int | None] = asyncio.Queue()
        self._watching.add(queue)
        try:
            yield queue
        finally:
            self._watching.discard(queue)

    async def _listen(self) -> None:
        while True:
            try:
                async with await psycopg.AsyncConnection.connect(self._url, autocommit=True, connect_timeout=5) as connection:
                    await connection.execute(f"listen {CHANNEL}")
                    self._tell(None)
                    async for note in connection.notifies():
                        self._tell(int(note.payload))
            except psycopg.Error as error:
                log.warning("not listening to the database (%s): trying again", type(error).__name__)
            await asyncio.sleep(1)

    def _tell(self, shot_id: int | None) -> None:
        for queue in self._watching:
            queue.put_nowait(shot_id)
