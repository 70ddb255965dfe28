"""The shapes on a board: even areas of one colour that hang together."""

from __future__ import annotations

from dataclasses import dataclass, field

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.colour import rgb_to_lab

F64 = NDArray[np.float64]
Mask = NDArray[np.bool_]
Box = tuple[float, float, float, float]  # x0, y0, x1, y1 in px of the reading
SAME = 7.0  # Lab distance of one colour
LEAST = 24  # px of the smallest shape
_MOST = 80  # shapes, the largest
_CODES = 1 << 18  # colours that are told apart when they are counted
_SOFT = 0.08  # share of the paint in colours that hardly occur, from which a board is not flat: more than edges have
_COLOURS = 24  # that a board is read by
_LEAST_EVEN = 0.3  # share of the paint on even areas, below which it is no board
_EVEN = 26  # levels of difference to a neighbour from which a place is no even area


@dataclass(eq=False)
class ReadShape:
    """One shape. `kind` is what it was read as, `pot` what it was painted from, "" nothing said."""

    lab: F64  # (3,)
    mask: Mask  # (h, w)
    pot: str = ""
    kind: str = "thing"
    area: int = 0
    box: Box = (0, 0, 0, 0)
    centre: tuple[float, float] = (0, 0)
    thick: float = 0.0  # px, half the greatest width
    told: bool = field(default=False)  # whether an artist said what it is

    def __post_init__(self) -> None:
        rows, columns = np.flatnonzero(self.mask.any(1)), np.flatnonzero(self.mask.any(0))
        y0, y1, x0, x1 = int(rows[0]), int(rows[-1]) + 1, int(columns[0]), int(columns[-1]) + 1
        inside = self.mask[y0:y1, x0:x1].astype(np.uint8)
        m = cv2.moments(inside, True)
        self.area, self.box = int(m["m00"]), (float(x0), float(y0), float(x1), float(y1))
        self.centre = x0 + m["m10"] / m["m00"], y0 + m["m01"] / m["m00"]
        bordered = cv2.copyMakeBorder(inside, 1, 1, 1, 1, cv2.BORDER_CONSTANT)
        self.thick = float(cv2.distanceTransform(bordered, cv2.DIST_L2, 3).max())

    @property
    def size(self) -> tuple[float, float]:
        return self.box[2] - self.box[0], self.box[3] - self.box[1]


def grown(mask: Mask, px: int) -> Mask:
    """A mask and what is near it, `px` the side of the square that is laid about each point."""
    return np.asarray(cv2.dilate(mask.astype(np.uint8), np.ones((px, px), np.uint8)) > 0)


def together(masks: list[Mask]) -> Mask:
    return np.asarray(np.any(masks, axis=0))


def shapes_of(rgb_u8: NDArray[np.uint8], painted: Mask, pots: dict[str, str]) -> list[ReadShape]:
    """The shapes of a board.

    Parameters
    ----------
    rgb_u8 : (h, w, 3). painted : (h, w), where anything is.
    pots : colours, six hexadecimal digits, and what each stands for.
    """
    if not painted.any():
        return []
    flat = None
    coarse = _codes(rgb_u8[painted])
    tally = np.bincount(coarse, minlength=_CODES)
    if tally[tally < LEAST].sum() > _SOFT * len(coarse):  # soft brushes, grain
        rgb_u8 = np.asarray(cv2.medianBlur(cv2.bilateralFilter(np.ascontiguousarray(rgb_u8), 5, 24, 3), 5), np.uint8)
        step = cv2.morphologyEx(rgb_u8, cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8)).max(2)
        flat = (step < _EVEN)[painted]
        if flat.mean() < _LEAST_EVEN:
            return []  # nothing but specks
        coarse = _codes(rgb_u8[painted])
        tally = np.bincount(coarse, minlength=_CODES)
    one = np.zeros(_CODES, np.int32)
    one[coarse] = np.arange(len(coarse))
    values = np.flatnonzero(tally)
    counts, colours = tally[values], rgb_to_lab(rgb_u8[painted][one[values]].astype(np.float32) / 255).astype(float)
    potted = _potted(pots, colours)
    centres, names = [c for c, _ in potted], [name for _, name in potted]
    for i in np.argsort(-counts, kind="stable")[: 300 if flat is None else 1500]:
        if (counts[i] < (LEAST if flat is None else 3) and len(centres) > 1) or len(centres) >= _COLOURS:
            break
        if all(np.linalg.norm(colours[i] - c) > (SAME if flat is None else 2 * SAME) for c in centres):
            centres.append(colours[i])
            names.append("")
    table = np.zeros(_CODES, np.uint8)
    if flat is not None:
        table[values] = np.square(colours[:, None] - np.array(centres)).sum(2).argmin(1)
        keep = _unmixed(centres, names, table[coarse], flat)
        centres, names = [centres[k] for k in keep], [names[k] for k in keep]
    table[values] = np.square(colours[:, None] - np.array(centres)).sum(2).argmin(1)
    index = np.full(painted.shape, 255, np.uint8)
    index[painted] = table[coarse]
    index = np.where(painted, cv2.medianBlur(index, 3 if flat is None else 5), 255)
    found = []
    for k in range(len(centres)):
        n, parts, stats, _ = cv2.connectedComponentsWithStats((index == k).astype(np.uint8), connectivity=8)
        found += [(int(stats[i, cv2.CC_STAT_AREA]), k, parts, i) for i in range(1, n)]
    least = max(LEAST, sorted((area for area, *_ in found), reverse=True)[:_MOST][-1]) if found else 0
    return [ReadShape(centres[k], parts == i, names[k]) for area, k, parts, i in found if area >= least]


def _codes(rgb_u8: NDArray[np.uint8]) -> NDArray[np.int32]:
    return np.asarray((rgb_u8 >> 2).astype(np.int32) @ np.array([4096, 64, 1], np.int32))


def _potted(pots: dict[str, str], colours: F64) -> list[tuple[F64, str]]:
    """The pots whose colour is on the board; the board's own nearest colour stands for each."""
    out = []
    for colour, name in pots.items():
        lab = rgb_to_lab(np.array([int(colour[i : i + 2], 16) for i in (0, 2, 4)], np.float32) / 255).astype(float)
        if np.linalg.norm(colours - lab, axis=1).min() < SAME / 2:
            out.append((lab, name))
    return out


def _unmixed(centres: list[F64], names: list[str], nearest: NDArray[np.uint8], flat: Mask) -> list[int]:
    """Without the colours of soft edges: those that lie between two others and are seen on no even area."""
    keep = []
    for k, c in enumerate(centres):
        of = nearest == k
        mixed = False
        for i, a in enumerate(centres):
            for b in centres[:i]:
                way = b - a
                t = float((c - a) @ way / max(float(way @ way), 1e-9))
                mixed |= 0.1 < t < 0.9 and float(np.linalg.norm(c - a - t * way)) < 9
        if names[k] or not mixed or (of.any() and float(flat[of].mean()) > 0.5):
            keep.append(k)
    return keep or [0]
