"""The fork server: a process that has everything loaded, from which live rooms are forked.

A room that begins by itself is busy for more than a second before it looks at a board. One that is forked begins at once,
and shares what was loaded with the others. Each message on the fork server's socket carries one end of a room's own; the
room says its process id on it and then speaks as `live_picture.room` does. The fork server ends when its socket does.
"""

from __future__ import annotations

import gc
import logging
import os
import select
import signal
import socket
import struct
import sys

import cv2

from mosskeeper.core.recipe import Recipe
from mosskeeper.live_picture import room as live_room
from mosskeeper.live_picture.room import Ask, LiveRequest, Room

log = logging.getLogger(__name__)
_QUIET = 2.0  # seconds after which the first room has its first picture, or nearly
HELLO = struct.Struct(">I")  # a room's process id


def main() -> int:
    """Forks rooms until standard input, which is the socket, ends."""
    cv2.setNumThreads(1)
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)  # nobody waits for rooms: who speaks with one sees its end
    door, warm = socket.socket(fileno=sys.stdin.fileno()), False
    while True:
        asked, _, _ = select.select([door], [], [], None if warm else _QUIET)
        if not asked:  # nobody waits for a first picture now
            _warm_up()
            warm = True
            continue
        message, (*ends,), _, _ = socket.recv_fds(door, 1, 1)
        if not message:
            return 0
        for end in ends:
            if os.fork() == 0:
                door.close()
                _room(socket.socket(fileno=end))
            os.close(end)


def _warm_up() -> None:
    """A live picture, so that the next rooms find all compiled kernels loaded."""
    room = Room()
    room.take(Ask(0, LiveRequest(Recipe(width=256, height=256, steps=4), 0, {}, {}), None))
    room.live()
    gc.freeze()  # or the collector would touch, and so copy, what rooms share


def _room(end: socket.socket) -> None:
    """A room's whole life, in a process of its own."""
    status = 1
    try:
        signal.signal(signal.SIGCHLD, signal.SIG_DFL)
        end.sendall(HELLO.pack(os.getpid()))
        live_room.serve(end)
        status = 0
    except OSError:
        pass  # who asked is gone
    except Exception:
        log.exception("a live room ended")
    finally:
        os._exit(status)  # never back into the fork server's own life
