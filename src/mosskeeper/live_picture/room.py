"""A live room: a process that holds what one board needs to be followed, and answers its newest state.

Messages come and answers go on a socket, each a length (4 bytes, big-endian) and a pickle; both ends are ours. What is
overtaken while something is computed is not answered. No database, no network.
"""

from __future__ import annotations

import io
import logging
import pickle
import select
import socket
import struct
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any, BinaryIO

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.boards.told import BoardNote, told
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.kept import LayerCache
from mosskeeper.core.pictures.decode import encode_jpeg, encode_png
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.takes.boards import acting, boards_of
from mosskeeper.core.takes.live_picture import ChosenScene, LivePicture, Poses, choose, live_picture, searches
from mosskeeper.engines import BUILT_IN

log = logging.getLogger(__name__)
KEPT = 120_000_000  # bytes of layers
_BOARD = "b" * 64  # stands for the board that is being drawn
_QUALITY = 84


@dataclass(frozen=True, slots=True)
class LiveRequest:
    """What is asked: the whole recipe with the seed of the live picture, its pictures and readings."""

    recipe: Recipe
    seed: int
    pictures: dict[str, NDArray[np.uint8]]
    readings: dict[str, Reading]


@dataclass(frozen=True, slots=True)
class Painted:
    """A changed rectangle of the board (h, w, 4) at x, y; of a board of `size` (width, height)."""

    size: tuple[int, int]
    at: tuple[int, int]
    rgba_u8: NDArray[np.uint8]
    cue: Cue  # its weight, span, pots and names


@dataclass(frozen=True, slots=True)
class Ask:
    """still : what is wanted is the picture of the recipe as it is kept, without loss."""

    number: int
    words: LiveRequest | None
    painted: Painted | None
    still: bool = False
    poses: list[Cue] | None = None  # pose cues as they are being dragged, in place of the recipe's


@dataclass(frozen=True, slots=True)
class Answer:
    number: int
    picture: bytes = b""  # JPEG, or PNG of what was asked still
    told: list[BoardNote] = field(default_factory=list)
    problem: str = ""
    peak: int = 0  # MiB of memory at most so far
    scenes: dict[str, Any] | None = None  # of what was asked still: `LayeredScenes` as JSON


class Room:
    """What is known of one board."""

    def __init__(self) -> None:
        self._kept = LayerCache(KEPT)
        self._words: LiveRequest | None = None
        self._choice: tuple[object, ChosenScene] | None = None
        self._board: NDArray[np.uint8] | None = None
        self._cue: Cue | None = None
        self._poses: list[Cue] | None = None

    def take(self, ask: Ask) -> None:
        """Notes what an asking brings."""
        if ask.words is not None:
            self._words = ask.words
        self._poses = ask.poses
        if ask.painted is not None:
            p = ask.painted
            if self._board is None or self._board.shape[1::-1] != p.size:
                self._board = np.zeros((p.size[1], p.size[0], 4), np.uint8)
            (x, y), (h, w) = p.at, p.rgba_u8.shape[:2]
            self._board[y : y + h, x : x + w] = p.rgba_u8
            self._cue = p.cue

    def live(self) -> tuple[NDArray[np.uint8], list[BoardNote]]:
        """The picture as the board and the figures stand, and what the board was read as."""
        words = self._as_dragged()
        others = [c for c in words.recipe.cues if self._cue is None or c.id != self._cue.id]
        boards = boards_of(others, words.pictures, words.recipe.steps)
        own = [] if self._cue is None or self._board is None else boards_of([self._cue], {_BOARD: self._board}, words.recipe.steps)
        made = live_picture(self._chosen(words), [*boards, *own], self._kept, _poses(words))
        return made.image, told(own[0].read) if own else []

    def still(self) -> LivePicture:
        """The live picture of the recipe as it is kept."""
        words = self._known()
        boards = boards_of(words.recipe.cues, words.pictures, words.recipe.steps)
        return live_picture(self._chosen(words), boards, self._kept, _poses(words))

    def _known(self) -> LiveRequest:
        if self._words is None:
            raise ValueError("nothing was asked yet")
        return self._words

    def _as_dragged(self) -> LiveRequest:
        """What is asked, with the figures where the hand has them."""
        words = self._known()
        if self._poses is None:
            return words
        cues = [*(cue for cue in words.recipe.cues if cue.role != "pose"), *self._poses]
        return replace(words, recipe=words.recipe.model_copy(update={"cues": cues}))

    def _chosen(self, words: LiveRequest) -> ChosenScene:
        """What the words chose; chosen anew only where something has changed that takes part in choosing."""
        free = not searches(words.recipe, words.pictures)
        cues = [cue for cue in words.recipe.cues if not acting(cue, words.pictures) and not (free and cue.role == "pose")]
        key = words.recipe.model_copy(update={"cues": cues}).to_json(), words.seed
        if self._choice is None or self._choice[0] != key:
            make = (BUILT_IN.get(words.recipe.engine) or BUILT_IN["built-in"]).make
            self._choice = key, choose(words.recipe, words.seed, words.pictures, words.readings, make)
        return self._choice[1]


def _poses(words: LiveRequest) -> Poses:
    return Poses([cue for cue in words.recipe.cues if cue.role == "pose"], words.readings, words.recipe.steps)


def board_cue(cue: Cue | None, weight: float) -> Cue:
    """The cue of the board that is being drawn, as a room knows it."""
    begins = cue or Cue(role="sketch", picture=_BOARD, start=0, end=100)
    return begins.model_copy(update={"picture": _BOARD, "weight": weight, "area": None, "on": True, "solo": False})


def _peak() -> int:
    """MiB that this process took at most. Not by getrusage: that counts what whoever started it took before, too."""
    status = Path("/proc/self/status").read_text()
    return int(status.split("VmHWM:")[1].split()[0]) // 1024


def serve(end: socket.socket) -> None:
    """Answers until the other end is closed. Raises OSError where it is while an answer is being written."""
    source = io.FileIO(end.fileno(), closefd=False)  # unbuffered: what was read ahead, `select` would not know of
    sink, room = end.makefile("wb"), Room()
    while asks := _newest(source):
        for ask in asks:
            room.take(ask)
        number = asks[-1].number
        try:
            answer = _answer(room, asks[-1])
        except Exception:  # the room stays: the next stroke may be drawn
            log.exception("a live picture could not be drawn")
            answer = Answer(number, problem="This board could not be followed just now. Go on painting, or run it.")
        write(sink, answer)


def _answer(room: Room, ask: Ask) -> Answer:
    if ask.still:
        made = room.still()
        return Answer(ask.number, encode_png(made.image), peak=_peak(), scenes=LayeredScenes.of([made.scene]).to_json())
    image, says = room.live()
    return Answer(ask.number, encode_jpeg(image, _QUALITY), says, "", _peak())


def _newest(source: io.FileIO) -> list[Ask]:
    """The asking that waits, and all that came after it; none at the end."""
    out = []
    first = read(source)
    while first is not None:
        out.append(first)
        ready, _, _ = select.select([source], [], [], 0)
        if not ready:
            break
        first = read(source)
    return out


def read(source: io.FileIO) -> Any:
    """The next message; None at the end."""
    head = _exactly(source, 4)
    if head is None:
        return None
    body = _exactly(source, struct.unpack(">I", head)[0])
    return None if body is None else unpacked(body)


def _exactly(source: io.FileIO, count: int) -> bytes | None:
    got = bytearray()
    while len(got) < count:
        part = source.read(count - len(got))
        if not part:
            return None
        got += part
    return bytes(got)


def write(sink: BinaryIO, message: object) -> None:
    sink.write(packed(message))
    sink.flush()


def unpacked(body: bytes) -> Any:
    """A message without its length. Only what one of our own processes wrote is ever read."""
    return pickle.loads(body)


def packed(message: object) -> bytes:
    body = pickle.dumps(message, pickle.HIGHEST_PROTOCOL)
    return struct.pack(">I", len(body)) + body
