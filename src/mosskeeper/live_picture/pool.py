"""Live rooms: a few worker processes, each following one board for one page, started on demand and ended when idle."""

from __future__ import annotations

import asyncio
import contextlib
import logging
import os
import signal
import socket
import sys
import time
from collections.abc import AsyncIterator
from dataclasses import dataclass, field

from mosskeeper.core.recipe import Cue
from mosskeeper.live_picture.fork_server import HELLO
from mosskeeper.live_picture.room import Answer, Ask, LiveRequest, Painted, packed, unpacked

log = logging.getLogger(__name__)
_IDLE = 150.0  # seconds without a stroke, after which a room is given up
_RESTS = 6.0  # seconds without a stroke, after which a room may go to somebody who paints
_LONGEST = 90.0  # seconds until an answer is given up
_REMAINS = 900.0  # seconds without a room, after which the fork server is given up, too
_BEGIN = "from mosskeeper.live_picture.fork_server import main; raise SystemExit(main())"  # as itself, not as __main__: both ends know its messages
_LARGEST = 600  # MiB, from which a room is left after its answer


class NoRoom(Exception):
    """All rooms are taken."""


class RoomLost(Exception):
    """The room's process ended: what it knew has to be told anew."""


@dataclass(eq=False)
class _Room:
    reader: asyncio.StreamReader
    writer: asyncio.StreamWriter
    process: int | None = None  # a descriptor of its process, once it has said which that is
    waiting: dict[int, asyncio.Future[Answer | None]] = field(default_factory=dict)
    words: str = ""  # of which it knows
    size: tuple[int, int] = (0, 0)
    used: float = field(default_factory=time.monotonic)
    number: int = 0
    listener: asyncio.Task[None] | None = None
    seen: bytes = b""  # the last picture that it answered, JPEG

    @property
    def lost(self) -> bool:
        return self.listener is not None and self.listener.done()

    def leave(self) -> None:
        """Ends it, whatever it is at."""
        self.writer.close()
        if self.process is not None:
            with contextlib.suppress(ProcessLookupError):
                signal.pidfd_send_signal(self.process, signal.SIGKILL)


class _ForkServer:
    """The process from which rooms are forked; begun with the first."""

    def __init__(self) -> None:
        self._process: asyncio.subprocess.Process | None = None
        self._door: socket.socket | None = None

    async def room(self) -> _Room:
        """A new room."""
        if self._door is None or self._process is None or self._process.returncode is not None:
            self.leave()
            self._door, inside = socket.socketpair()
            with inside:
                self._process = await asyncio.create_subprocess_exec(sys.executable, "-c", _BEGIN, stdin=inside.fileno())
        ours, theirs = socket.socketpair()
        with theirs, contextlib.suppress(BrokenPipeError):  # where it has just ended, so has the room
            socket.send_fds(self._door, [b"1"], [theirs.fileno()])
        return _Room(*await asyncio.open_unix_connection(sock=ours))

    def leave(self) -> None:
        if self._door is not None:
            self._door.close()
        if self._process is not None and self._process.returncode is None:
            with contextlib.suppress(ProcessLookupError):
                self._process.kill()
        self._door = None


class Rooms:
    """The rooms of one web process, by the page that draws in each."""

    def __init__(self, most: int = 2, idle: float = _IDLE) -> None:
        self._most, self._idle = most, idle
        self._rooms: dict[str, _Room] = {}
        self._fork_server, self._quiet_since = _ForkServer(), time.monotonic()
        self._opening = asyncio.Lock()

    @contextlib.asynccontextmanager
    async def open(self) -> AsyncIterator[Rooms]:
        """Rooms while the application runs; all are left at its end."""
        tidying = asyncio.create_task(self._tidy())
        try:
            yield self
        finally:
            tidying.cancel()
            for key in list(self._rooms):
                self._leave(key)
            self._fork_server.leave()

    def knows(self, key: str, size: tuple[int, int]) -> tuple[str, bool]:
        """By what the words that a page's room knows are known, "" none; and whether it knows a board of a size."""
        room = self._rooms.get(key)
        if room is None or room.lost:
            return "", False
        return room.words, room.size == size

    async def ask(
        self, key: str, words: tuple[str, LiveRequest] | None, painted: Painted | None, still: bool = False, poses: list[Cue] | None = None
    ) -> Answer | None:
        """The newest picture after what was told now; None where something newer overtook it.

        Parameters
        ----------
        words : by what they are known, and what they are; None where the room knows them.

        Raises
        ------
        NoRoom
            where all rooms are taken.
        RoomLost
            where the room ended before it answered.
        """
        whole = painted is None or painted.rgba_u8.shape[1::-1] == painted.size
        room = await self._room(key, begins=words is not None and whole)
        room.used = time.monotonic()
        room.number += 1
        number = room.number
        if words is not None:
            room.words = words[0]
        if painted is not None:
            room.size = painted.size
        future: asyncio.Future[Answer | None] = asyncio.get_running_loop().create_future()
        room.waiting[number] = future
        try:
            room.writer.write(packed(Ask(number, None if words is None else words[1], painted, still, poses)))
            await room.writer.drain()
            answer = await asyncio.wait_for(future, _LONGEST)
        except (OSError, TimeoutError):
            self._leave(key, room)
            raise RoomLost from None
        finally:
            room.waiting.pop(number, None)
            if not future.cancelled() and future.done():
                future.exception()  # it was told, if not by this future
        if answer is not None and not still and not answer.problem:
            room.seen = answer.picture
        if answer is not None and answer.peak > _LARGEST:
            log.warning("a live room took %d MiB and is left", answer.peak)
            self._leave(key, room)
        return answer

    def seen(self, key: str) -> bytes:
        """The last picture that a page's room answered, JPEG; empty where there is none."""
        room = self._rooms.get(key)
        return b"" if room is None else room.seen

    def leave(self, key: str) -> None:
        """Gives a page's room to others."""
        self._leave(key)

    async def _room(self, key: str, begins: bool) -> _Room:
        """A page's room; a new one only where what is told is enough to begin with: it may have been lost since it was looked for."""
        async with self._opening:
            room = self._rooms.get(key)
            if room is not None and not room.lost:
                return room
            if not begins:
                raise RoomLost
            self._leave(key)
            for other, one in list(self._rooms.items()):
                if one.lost or time.monotonic() - one.used > self._idle:
                    self._leave(other)
            if len(self._rooms) >= self._most:
                quiet = min(self._rooms, key=lambda k: self._rooms[k].used)
                if self._rooms[quiet].waiting or time.monotonic() - self._rooms[quiet].used < _RESTS:
                    raise NoRoom
                self._leave(quiet)  # who rests gets one again with the next stroke
            room = self._rooms[key] = await self._fork_server.room()
            room.listener = asyncio.create_task(_listen(room))
            return room

    def _leave(self, key: str, only: _Room | None = None) -> None:
        room = self._rooms.get(key)
        if room is None or (only is not None and room is not only):
            return
        del self._rooms[key]
        room.leave()

    async def _tidy(self) -> None:
        while True:
            await asyncio.sleep(min(self._idle, 10))
            now = time.monotonic()
            for key, room in list(self._rooms.items()):
                if room.lost or now - room.used > self._idle:
                    self._leave(key)
            if self._rooms:
                self._quiet_since = now
            elif now - self._quiet_since > _REMAINS and not self._opening.locked():
                self._fork_server.leave()


async def _listen(room: _Room) -> None:
    """Hands answers to those who wait; who was overtaken gets none."""
    try:
        (pid,) = HELLO.unpack(await room.reader.readexactly(HELLO.size))
        room.process = os.pidfd_open(pid)
        while True:
            head = await room.reader.readexactly(4)
            body = await room.reader.readexactly(int.from_bytes(head, "big"))
            answer = unpacked(body)
            assert isinstance(answer, Answer)
            for number in [n for n in room.waiting if n <= answer.number]:
                future = room.waiting.pop(number)
                if not future.done():
                    future.set_result(answer if number == answer.number else None)
    except (asyncio.IncompleteReadError, OSError):
        pass
    finally:
        room.writer.close()
        if room.process is not None:
            os.close(room.process)
            room.process = None
        for future in room.waiting.values():
            if not future.done():
                future.set_exception(RoomLost())
        room.waiting.clear()
