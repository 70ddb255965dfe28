"""What a board was read as, in words that can be corrected."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from mosskeeper.core.boards.read import BoardRead
from mosskeeper.core.boards.seen import FigureOnBoard
from mosskeeper.core.boards.shapes import F64, ReadShape
from mosskeeper.core.illustrator.skeleton import AT
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH
from mosskeeper.core.pictures.colour import rgb_to_lab

_MOST = 14
_LEAST_THICK = 1.5  # px: thinner shapes are not drawn
_THINGS = ("tree", "trunk", "cloud", "hill", "water", "window", "light", "thing")


@dataclass(frozen=True, slots=True)
class BoardNote:
    """One thing on a board. at : a place on it, shares of width and height. kind : as in KINDS, "" where it cannot be corrected."""

    words: str
    kind: str
    at: tuple[float, float]


def told(read: BoardRead) -> list[BoardNote]:
    """What is on a board, the most important first."""
    w, h = read.size
    if read.noise:
        return [BoardNote("nothing: it is all specks. Paint even areas, or lines on open ground", "", (0.5, 0.5))]
    out = [BoardNote(_figure(f, read), "figure" if f.joints is None else "", _inside(f.mask, read)) for f in read.figures]
    if read.disc is not None and read.disc_lab is not None:
        x, y, _ = read.disc
        moon = read.sky is not None and read.sky[0][0] < 30
        out.append(BoardNote(f"{'moon' if moon else 'sun'}, {_where(x / w, y / h)}", "light", (x / w, y / h)))
    for kinds, word in ((("sky", "wall"), "wall" if read.wall else "sky"), (("ground",), "ground")):
        found = read.of(*kinds)
        if found:
            most = max(found, key=lambda s: s.area)
            colour = named(most.lab)
            says = word if colour == word else f"{colour} {word}"
            if word == "ground" and read.horizon is not None:
                says += f" from {round(100 * read.horizon / h)} %"
            out.append(BoardNote(says, "wall" if word == "wall" else kinds[0], _inside(most.mask, read)))
    things = sorted((s for s in read.of(*_THINGS) if s.thick > _LEAST_THICK), key=lambda s: -s.area)
    out += [BoardNote(_thing(s, read), s.kind, _inside(s.mask, read)) for s in things]
    return out[:_MOST]


def named(lab: F64) -> str:
    """The name of the cloth colour that is nearest."""
    names = list(CLOTH)
    labs = rgb_to_lab(np.array([CLOTH[n] for n in names], np.float32))
    return names[int(np.square(labs - np.asarray(lab)).sum(1).argmin())]


def _figure(f: FigureOnBoard, read: BoardRead) -> str:
    x = (f.box[0] + f.box[2]) / 2 / read.size[0]
    if f.joints is not None:
        hands = f.joints[[AT["right wrist"], AT["left wrist"]], 1]
        raised = int((hands < f.joints[AT["neck"], 1]).sum())
        return f"figure in lines, {_side(x)}" + ("", ", one arm up", ", arms up")[raised]
    says = [f"figure, {_side(x)}"]
    if "hair" in f.colours:
        says.append(f"{'long' if f.long_hair else 'short'} {named(f.colours['hair'])} hair")
    if "upper" in f.colours:
        says.append(f"in {named(f.colours['upper'])}")
    return ", ".join(says) + (", cut by the border" if f.cut else "")


def _thing(s: ReadShape, read: BoardRead) -> str:
    w, h = read.size
    return f"{named(s.lab)} {s.kind}, {_where(s.centre[0] / w, s.centre[1] / h)}"


def _side(x: float) -> str:
    return "left" if x < 0.38 else "right" if x > 0.62 else "in the middle"


def _where(x: float, y: float) -> str:
    high = "upper " if y < 0.34 else "lower " if y > 0.66 else ""
    side = "left" if x < 0.38 else "right" if x > 0.62 else "middle"
    return high + side


def _inside(mask: np.ndarray, read: BoardRead) -> tuple[float, float]:  # type: ignore[type-arg]
    """A place that surely lies on a mask: as far from its edges as any."""
    deep = cv2.distanceTransform(np.pad(mask.astype(np.uint8), 1), cv2.DIST_L2, 3)[1:-1, 1:-1]
    row, column = np.unravel_index(int(deep.argmax()), deep.shape)
    return round((float(column) + 0.5) / read.size[0], 4), round((float(row) + 0.5) / read.size[1], 4)
