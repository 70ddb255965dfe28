"""Boards of sketch cues in a take: after the parts have chosen, words and board are composed into one scene."""

from __future__ import annotations

from collections.abc import Container, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.boards.compose import Composed, compose
from mosskeeper.core.boards.pull import pulled
from mosskeeper.core.boards.read import BoardRead, is_board, read_board
from mosskeeper.core.diffusion.conditioning import EARLY, amount_of
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.pictures.resample import fitted
from mosskeeper.core.reading.structure import grey
from mosskeeper.core.recipe import Cue
from mosskeeper.core.takes.beliefs import Beliefs

U8 = NDArray[np.uint8]
# What a board may change where nobody says it.
_OPEN = ("hair", "headwear", "outfit", "pose", "place", "time", "light", "weather")
_EASE = 1.18  # measured on boards: the largest of ten steps of the dial is least
_SURE = 0.6  # probability from which references say something as words do


@dataclass(frozen=True, slots=True, eq=False)
class BoardControl:
    """A board as it acts: what was read of it, and its place on the dial from words (0) to board (1)."""

    read: BoardRead
    weight: float


def acting(cue: Cue, pictures: Mapping[str, U8]) -> bool:
    """Whether a cue is a sketch whose picture is a board."""
    return cue.acts and cue.role == "sketch" and cue.picture is not None and is_board(pictures[cue.picture])


def boards_of(cues: Sequence[Cue], pictures: Mapping[str, U8], steps: int, opened: NDArray[np.bool_] | None = None) -> list[BoardControl]:
    """The boards among cues, in an order that does not depend on that of the cues. opened : (H, W), where alone they act."""
    found = [cue for cue in cues if acting(cue, pictures)]
    found.sort(key=lambda c: (c.picture or "", c.start, c.end, c.weight))
    out = []
    for cue in found:
        weight = eased(min(1.0, amount_of(cue, steps, EARLY)))
        if weight > 0:
            out.append(BoardControl(_read(cue, pictures, opened), weight))
    return out


def eased(dial: float) -> float:
    """How far on the way to the board the dial stands, 0…1: slower towards its end, where what comes to its place is seen most."""
    return float(1 - (1 - dial) ** _EASE)


def _read(cue: Cue, pictures: Mapping[str, U8], opened: NDArray[np.bool_] | None) -> BoardRead:
    assert cue.picture is not None
    board = pictures[cue.picture]
    h, w = board.shape[:2]
    masks = [] if cue.area is None else [grey(pictures[cue.area])]
    masks += [] if opened is None else [opened.astype(np.float32)]
    for mask in masks:
        inside = fitted(mask, (w, h)) > 0.5
        alpha = board[..., 3] if board.shape[2] == 4 else np.full((h, w), 255, np.uint8)
        board = np.dstack([board[..., :3], np.where(inside, alpha, 0).astype(np.uint8)])
    return read_board(board, cue.pots, cue.named)


def said_of(beliefs: Beliefs, figures: int) -> list[Container[str]]:
    """For each figure, the attributes that words name, or references say as surely; those of the picture with the first."""
    out: list[Container[str]] = []
    for n in range(min(figures, len(beliefs.figures))):
        lent = {a for a in _OPEN if n == 0 and beliefs.references.scores(a) and max(beliefs.probabilities(a, n).values()) > _SURE}
        out.append(lent | {a for a in _OPEN if beliefs.says(a, n)})
    return out


def on_boards(scene: Scene, boards: Sequence[BoardControl], said: list[Container[str]], held: Sequence[float] = ()) -> list[Composed]:
    """The scene moved by one board after the other; the last one's scene is drawn. said, held : as of `compose`."""
    out = list[Composed]()
    for board in boards:
        out.append(compose(out[-1].scene if out else scene, board.read, said, board.weight, held))
    return out


def in_board_colours(drawing: Drawing, composed: Sequence[Composed]) -> U8:
    """The drawing's picture (H, W, 3) in the colours of its boards."""
    image = drawing.image
    for one in composed:
        image = pulled(drawing, one, image=image)
    return image
