"""What is on a board: ground and sky, a sun or moon, figures as blobs or sticks, things.

1. Colours are clustered in Lab; connected areas of a colour are shapes. What nobody painted stays open.
2. Wide shapes that reach the border are the ground and the sky, or a wall; between them lies the horizon.
3. A small bright disc in the sky is a sun or moon; a ring with lines is a stick figure; shapes that touch, stand upright
   and have something like skin near their top are a figure; the others are things.
What was painted from a pot, and what an artist said of a shape, is that. The method is ours.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import get_args

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.boards import blobs, sticks
from mosskeeper.core.boards.seen import FigureOnBoard
from mosskeeper.core.boards.shapes import F64, ReadShape, grown, shapes_of, together
from mosskeeper.core.recipe import ShapeKind

HIGH = 320  # px of the height at which boards are read
KNOTS = 9  # of a colour's course down the sky or the ground
KINDS: tuple[str, ...] = get_args(ShapeKind)
# What a pot says of a shape; the pots of a figure say which part of it.
POTS = {
    "skin": "",
    "hair": "",
    "cloth": "",
    "second cloth": "",
    "sky": "sky",
    "ground": "ground",
    "water": "water",
    "leaves": "tree",
    "wall": "wall",
    "light": "light",
}
OF_FIGURE = ("skin", "hair", "cloth", "second cloth")
_FIRST_LOOK = 128  # px of the longer side at which it is asked whether a picture is a board
_COURSE = 18.0  # Lab from top to bottom, from which colours above the horizon are a course, as skies have
_SPECKS = 0.3  # of what was painted, that shapes must hold together
_BUSY = 0.27  # of its pixels that lie on no even area, from which a picture is no board: boards have .2, drawings .33 at least


@dataclass(eq=False)
class BoardRead:
    """A board as it was read; places in px of a reading of `size` (width, height)."""

    size: tuple[int, int]
    painted: float  # share that was painted
    shapes: list[ReadShape]
    horizon: float | None = None
    sky: F64 | None = None  # (KNOTS, 3) Lab from the top to the horizon
    ground: F64 | None = None  # (KNOTS, 3) from the horizon to the bottom
    noise: bool = False  # it is all specks, and nothing was read
    wall: bool = False  # what lies above the horizon is no sky
    disc: tuple[float, float, float] | None = None  # x, y, radius
    disc_lab: F64 | None = None
    figures: list[FigureOnBoard] = field(default_factory=list)

    def of(self, *kinds: str) -> list[ReadShape]:
        return [s for s in self.shapes if s.kind in kinds]

    def at(self, x: float, y: float) -> ReadShape | None:
        """The shape at a place, shares of width and height."""
        column, row = (min(int(v * side), side - 1) for v, side in zip((x, y), self.size, strict=True))
        return next((s for s in self.shapes if s.mask[row, column]), None)


def read_board(
    board_u8: NDArray[np.uint8], pots: Mapping[str, str] | None = None, named: Sequence[tuple[float, float, str]] = ()
) -> BoardRead:
    """Reads a board.

    Parameters
    ----------
    board_u8 : (H, W, 4), where alpha is 0 nothing was painted; or (H, W, 3), painted everywhere.
    pots : colours (six hexadecimal digits) and the pot, of POTS, that each was painted from.
    named : (x, y, kind): what an artist said of the shapes at places, shares of width and height; kinds of KINDS.
    """
    size = (max(32, round(board_u8.shape[1] * HIGH / board_u8.shape[0])), HIGH)
    small = cv2.resize(board_u8, size, interpolation=cv2.INTER_NEAREST)  # no colours between two
    painted = small[..., 3] > 127 if small.shape[2] == 4 else np.ones(small.shape[:2], bool)
    shapes = shapes_of(np.ascontiguousarray(small[..., :3]), painted, dict(pots or {}))
    read = BoardRead(size, float(painted.mean()), shapes)
    if painted.any() and sum(s.area for s in shapes) < _SPECKS * painted.sum():
        read.shapes, read.noise = [], True
        return read
    _say(read, named)
    _bands(read)
    _disc(read)
    for figure, of in sticks.find(read.of("thing")):
        read.figures.append(figure)
        for s in of:
            s.kind = "stick"
    _hills(read)
    for figure, of in blobs.find([*read.of("thing"), *(s for s in read.of("figure"))], read.size):
        read.figures.append(figure)
        for s in of:
            s.kind = "figure"
    for s in read.of("figure"):
        if not any((f.mask & s.mask).any() for f in read.figures):
            s.kind = "thing"  # said to be somebody, and nothing of a body is there
    _things(read)
    read.wall = bool(read.of("wall")) or _is_wall(read)
    return read


def is_board(picture_u8: NDArray[np.uint8]) -> bool:
    """Whether a picture is a board: painted in part, or of even areas; a finished picture or a photograph is none."""
    if picture_u8.shape[2] == 4 and (picture_u8[..., 3] < 128).mean() > 0.02:
        return True
    k = _FIRST_LOOK / max(picture_u8.shape[:2])
    side = (max(8, round(picture_u8.shape[1] * k)), max(8, round(picture_u8.shape[0] * k)))
    small = cv2.resize(np.ascontiguousarray(picture_u8[..., :3]), side, interpolation=cv2.INTER_AREA)
    step = cv2.morphologyEx(cv2.medianBlur(small, 3), cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8)).max(2)
    return bool((step > 12).mean() < _BUSY)


def _say(read: BoardRead, named: Sequence[tuple[float, float, str]]) -> None:
    for s in read.shapes:
        if POTS.get(s.pot):
            s.kind, s.told = POTS[s.pot], True
    for x, y, kind in named:
        shape = read.at(x, y)
        if shape is not None and kind in KINDS:
            shape.kind, shape.told = kind, True


# -- ground and sky ---------------------------------------------------------------------------------------------------


def _bands(read: BoardRead) -> None:
    """Ground and sky: shapes of one colour that together reach the bottom or the top and are wide; the horizon between them."""
    h, wide = read.size[1], _wide(read)
    told = {kind: read.of(kind) for kind in ("sky", "wall", "ground", "water")}
    if wide:
        tops = [_top(kin) for _, kin in wide]
        labs = [np.mean([t.lab for t in kin], axis=0) for _, kin in wide]
        split = _split(tops, labs, h)
        water = [k for k in range(1, len(wide) - 1) if labs[k][2] < -8 and labs[k][0] < labs[k - 1][0] - 8 and tops[k] > 0.3 * h]
        if water:  # blue, darker than what lies above, between sky and ground
            split = min(split, water[0])
        for k, (_, kin) in enumerate(wide):
            for s in kin:
                s.kind = "water" if k in water else "sky" if k < split else "ground"
        line = tops[min(split, len(tops) - 1)]
        for s in read.of("thing"):  # islands of the sky, between hills or branches
            if any(np.linalg.norm(s.lab - t.lab) < 2 for t in read.of("sky")) and s.box[3] <= line + 4:
                s.kind = "sky"
        read.horizon = tops[split] if split < len(wide) and tops[split] > 0.08 * h else None
        lowest = tops[-1] if water else None
    else:
        lowest = None
    if told["ground"] or told["water"]:
        read.horizon = _top([*read.of("ground"), *read.of("water")])
    elif read.horizon is None and (told["sky"] or told["wall"]):
        above = together([s.mask for s in (*told["sky"], *told["wall"])])
        bottom = float(np.median((h - np.argmax(above[::-1], axis=0))[above.any(0)]))
        read.horizon = bottom if bottom < 0.94 * h else None
    line = read.horizon if read.horizon is not None else float(h)
    read.sky = _course(read, ("sky", "wall"), 0, line)
    read.ground = _course(read, ("ground",), lowest if lowest is not None else line, h)


def _wide(read: BoardRead) -> list[tuple[float, list[ReadShape]]]:
    (w, h), wide = read.size, list[tuple[float, list[ReadShape]]]()
    open_ones = [s for s in read.shapes if s.pot not in OF_FIGURE and (not s.told or s.kind in ("sky", "ground", "water", "wall"))]
    for s in open_ones:
        if s.told or any(any(s is t for t in kin) for _, kin in wide):
            continue
        kin = [
            t
            for t in open_ones
            if not t.told
            and np.linalg.norm(t.lab - s.lab) < 4
            and (t.mask[:, [0, -1]].any() or t.mask[[0, -1]].any())
            and t.thick > 0.02 * h
        ]
        if kin:
            mask = together([t.mask for t in kin])
            if mask.sum() > 0.03 * w * h and mask.any(0).mean() > 0.5 and mask[:, 0].any() and mask[:, -1].any():
                wide.append((float(np.median(np.nonzero(mask)[0])), kin))
    return sorted(wide, key=lambda one: one[0])


def _top(kin: list[ReadShape]) -> float:
    """The median row at which shapes begin from above."""
    mask = together([t.mask for t in kin])
    return float(np.median(np.argmax(mask, axis=0)[mask.any(0)]))


def _split(tops: list[float], labs: list[F64], h: int) -> int:
    """How many of the bands, from above, are sky."""
    split = len(tops) - 1 if len(tops) > 1 else (0 if tops[0] > 0.2 * h else 1)
    while split > 1 and tops[split - 1] > 0.40 * h:
        alike = np.linalg.norm(labs[split - 1] - labs[-1]) < np.linalg.norm(labs[split - 1] - labs[split - 2])
        if not (tops[split - 1] > 0.62 * h or alike):
            break
        split -= 1
    return split


def _course(read: BoardRead, kinds: tuple[str, ...], y0: float, y1: float) -> F64 | None:
    """The colour of sky or ground from y0 to y1, at KNOTS heights."""
    found = read.of(*kinds)
    if not found or y1 - y0 < 2:
        return None
    out = np.full((KNOTS, 3), np.nan)
    for k in range(KNOTS):
        a, b = (int(np.clip(y0 + (y1 - y0) * t / KNOTS, 0, read.size[1] - 1)) for t in (k, k + 1))
        areas = np.array([s.mask[a : max(b, a + 1)].sum() for s in found], float)
        if areas.sum() > 3:
            out[k] = areas @ np.array([s.lab for s in found]) / areas.sum()
    known = np.isfinite(out[:, 0])
    if not known.any():
        return None
    return np.stack([np.interp(np.arange(KNOTS), np.nonzero(known)[0], out[known, i]) for i in range(3)], 1)


def _is_wall(read: BoardRead) -> bool:
    """Brown, ochre or green at the top is no sky, where it is of one colour and neither sun nor cloud is on it."""
    if read.sky is None or read.disc is not None or read.of("cloud") or any(s.told for s in read.of("sky")):
        return False
    if np.linalg.norm(np.ptp(read.sky, axis=0)) > _COURSE:
        return False
    top = read.sky[:3].mean(0)
    return bool(50 < np.degrees(np.arctan2(top[2], top[1])) < 175 and np.hypot(top[1], top[2]) > 11)


# -- the sun, and things ------------------------------------------------------------------------------------------------


def _disc(read: BoardRead) -> None:
    w, h = read.size
    line = read.horizon or h * 0.6
    for s in sorted(read.shapes, key=lambda s: (s.kind != "light", -s.lab[0])):
        (bw, bh), (x, y) = s.size, s.centre
        r = max(bw, bh) / 2
        round_one = min(bw, bh) >= 0.7 * max(bw, bh) and s.area >= 0.85 * np.pi * bw * bh / 4
        if s.kind == "light":
            if y > line + r or r > 0.2 * w:
                continue
        elif s.kind != "thing" or s.pot or not 0.015 * w < r < 0.14 * w or s.lab[0] < 68 or not round_one or y > line + r:
            continue
        else:
            ring = grown(s.mask, 7) & ~s.mask
            around = [t for t in read.shapes if t is not s and (t.mask & ring).any()]
            if any(t.kind not in ("sky", "ground", "water") for t in around):
                continue
            if around and all(s.lab[0] < t.lab[0] + 3 and s.lab[2] < t.lab[2] + 20 for t in around):
                continue
        s.kind, read.disc, read.disc_lab = "disc", (x, y, r), s.lab
        return


def _hills(read: BoardRead) -> None:
    (w, h), line = read.size, read.horizon or read.size[1] * 0.6
    things = read.of("thing")
    for s in things:
        bw, bh = s.size
        if any(blobs.under(face, s) for face in things if face is not s):
            continue  # somebody's coat
        if not s.pot and abs(s.box[3] - line) < 0.05 * h and bw > 0.2 * w and bw > bh > 0.05 * h and s.thick > 0.04 * h:
            s.kind = "hill"


def _things(read: BoardRead) -> None:
    h, line = read.size[1], read.horizon or read.size[1] * 0.6
    for s in read.of("thing"):
        if s.told:
            continue
        (_, y0, _, y1), (bw, bh), hue = s.box, s.size, np.degrees(np.arctan2(s.lab[2], s.lab[1]))
        if 95 < hue < 170 and np.hypot(s.lab[1], s.lab[2]) > 12 and s.area > 0.5 * bw * bh:
            s.kind = "tree"
        elif y1 < line and s.lab[0] > 70 and bw > 1.2 * bh and s.area > 0.5 * bw * bh and read.sky is not None:
            s.kind = "cloud"
        elif s.lab[2] < -8 and y0 > line - 0.02 * h and bw > 2 * bh:
            s.kind = "water"
        elif y1 < line and s.lab[0] > 60 and s.area > 0.85 * bw * bh and read.sky is not None:
            s.kind = "window"
        elif bh > 1.6 * bw:
            s.kind = "trunk"
