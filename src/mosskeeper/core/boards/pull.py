"""The pull: every part of a drawing softly to the colour of the shape that it stands for.

Each part is moved in Lab from its own median to the shape's colour, as far as the weight says; what is far from the
median (a belt, a trim, a cloud) is moved less. Sky and ground are moved row by row, so that a course of colours stays
one. No part is touched by another's colour, so nothing stains. The method is ours.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.boards.compose import Composed, soft_share
from mosskeeper.core.boards.shapes import F64, Mask
from mosskeeper.core.illustrator.description import SKIN_PARTS, Part
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.places import OPEN_COUNTRY
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab

F32 = NDArray[np.float32]
Parts = dict[str, tuple[Part, ...]]
_GROUPS: Parts = {
    "hair": (Part.HAIR,),
    "skin": tuple(p for p in SKIN_PARTS if p != Part.EYES),
    "upper": (Part.TOP, Part.SLEEVE, Part.OUTER),
    "lower": (Part.BOTTOM,),
}
_STANDING = ((Part.LAMP, ("disc",)), (Part.WATER, ("water",)), (Part.FOLIAGE, ("tree",)))
_FREE, _SPREAD = 10.0, {"hair": 60.0, "skin": 60.0, "upper": 26.0, "lower": 26.0}  # Lab: moved in full up to, and how fast less
_STEADY = 60.0  # of a place that is on its way out: it is moved as a whole
_FEW = 8  # px


def pulled(drawn: Drawing, c: Composed, coarse: int = 1, image: NDArray[np.uint8] | None = None) -> NDArray[np.uint8]:
    """A drawing's picture, or `image` of it, in the board's colours; `coarse` times as fast on a coarser grid."""
    image = drawn.image if image is None else image
    if c.weight <= 0:
        return image
    whole = rgb_to_lab(image.astype(np.float32) / np.float32(255))
    every = np.s_[::coarse, ::coarse]
    lab = np.ascontiguousarray(whole[every], np.float32)
    labels, numbers = (np.ascontiguousarray(a[every], np.uint8) for a in (drawn.labels, drawn.figures))
    things = _things(c, labels.shape) & (numbers == 0)
    way: NDArray[np.float32] = np.zeros_like(lab)
    for n, seen in c.matched:
        there = numbers == n + 1
        for name, parts in parts_of(labels, there).items():
            if name not in seen.colours:
                continue
            # garments that a shape stands for each come from their own colour
            for those in [(part,) for part in parts] if name in ("upper", "lower") else [parts]:
                where = there & np.isin(labels, those)
                if where.sum() > _FEW:
                    own = lab[where]
                    way[where] = _step(own, np.median(own, axis=0), seen.colours[name], _FREE, _SPREAD[name])
    for part, kinds in _STANDING:
        tones = {tuple(s.lab): s.lab for s in c.read.of(*kinds)}
        where = (things if part != Part.LAMP else numbers == 0) & (labels == part)
        if len(tones) == 1 and where.sum() > _FEW:  # with two colours of one kind, each keeps what the drawing gave it
            own = lab[where]
            way[where] = _step(own, np.median(own, axis=0), next(iter(tones.values())), _FREE, 40.0)
    _pull_place(way, lab, labels, (numbers == 0) & ~things, c, coarse)
    way = np.asarray(cv2.blur(way, (3, 3)), np.float32)
    if coarse > 1:
        way = np.asarray(cv2.resize(way, whole.shape[1::-1], interpolation=cv2.INTER_LINEAR), np.float32)
    soft = np.float32(soft_share(c.weight))
    return np.asarray(np.clip(lab_to_rgb(whole + way * soft), 0, 1) * 255 + 0.5, np.uint8)


def _pull_place(way: F32, lab: F32, labels: NDArray[np.uint8], place: Mask, c: Composed, coarse: int) -> None:
    """Adds the way of sky and ground, row by row, in place."""
    h, leaving = lab.shape[0], c.scene.farther is not None
    row = c.read.horizon
    line = float(h) if row is None else c.scene.camera.horizon / coarse
    rows = np.arange(h)
    above, below = labels == Part.SKY, labels == Part.GROUND
    if c.read.wall or leaving:  # a wall, or a place that is on its way out: all that is seen of it
        above = (rows[:, None] < line) & (labels != Part.LAMP)
        below = below | (rows[:, None] >= line) if leaving else below
    free = _STEADY if leaving else 30.0 if c.read.wall else 18.0
    for course, where, a, b in ((c.read.sky, place & above, 0.0, line), (c.read.ground, place & below, line, float(h))):
        if course is None or where.sum() < 20 or b - a < 2:
            continue
        at = (rows + 0.5 - a) / (b - a) * len(course) - 0.5
        want = np.stack([np.interp(at, np.arange(len(course)), course[:, i]) for i in range(3)], 1).astype(np.float32)
        # clouds and posts count little in the rows' own colours
        middle = np.median(lab[where][:: 1 + where.sum() // 4000], axis=0)
        count = where * np.exp(-(((lab - middle) ** 2).sum(2)) / (2 * 40.0**2))
        own = _low((lab * count[..., None]).sum(1), h) / np.maximum(_low(count.sum(1)[:, None], h), 1e-3)
        y = np.nonzero(where)[0]
        way[where] = _step(lab[where], own[y], want[y], 8, free)
        # what the drawing itself does not move: walls of a place that goes, walls and ground of one that stays
        still = where & (labels != Part.SKY) & ((labels != Part.GROUND) | (not leaving and c.scene.description.place != OPEN_COUNTRY))
        way[still] *= c.weight / max(soft_share(c.weight), 1e-6)


def _low(rows: NDArray[np.floating], h: int) -> F32:
    return np.asarray(cv2.GaussianBlur(rows.astype(np.float32), (1, 0), sigmaX=1e-3, sigmaY=h / 40), np.float32).reshape(rows.shape)


def _things(c: Composed, shape: tuple[int, ...]) -> Mask:
    """(h, w): where shapes of the board stand in the place; their colours are their own."""
    out, size = np.zeros(shape, np.uint8), np.array(shape[1::-1])
    for rough in c.scene.roughs:
        foot = np.array(rough.foot)
        p = foot + (np.array(rough.outline) - foot) * ((1, rough.grown) if rough.kind == "water" else rough.grown)
        cv2.fillPoly(out, [np.round(p * size).astype(np.int32)], 1)
    return np.asarray(cv2.dilate(out, np.ones((5, 5), np.uint8)) > 0)


def parts_of(labels: NDArray[np.uint8], there: Mask) -> Parts:
    """The groups, with what hangs out below a cape or a short coat among what is worn below."""
    top, outer = (np.nonzero(there & (labels == p))[0] for p in (Part.TOP, Part.OUTER))
    if len(top) > 20 and len(outer) > 20 and top.mean() > outer.mean() + 0.1 * np.ptp(np.nonzero(there)[0]):
        return _GROUPS | {"upper": (Part.SLEEVE, Part.OUTER), "lower": (Part.BOTTOM, Part.TOP)}
    return _GROUPS


def _step(own: F32, middle: F64 | F32, want: F64 | F32, free: float, spread: float) -> F32:
    """(N, 3): by how much each pixel goes from `middle` to `want`."""
    off = (own - middle) * np.array([0.35, 1, 1], np.float32)
    far = np.sqrt((off * off).sum(1))
    step = np.broadcast_to(np.asarray(want, np.float32) - middle, own.shape).copy()
    light = np.broadcast_to(np.asarray(middle)[..., 0], len(own))
    room = np.where(step[:, 0] < 0, own[:, 0] / np.maximum(light, 1), (100 - own[:, 0]) / np.maximum(100 - light, 1))
    step[:, 0] *= np.clip(room, 0, 1.3)  # dark stays off black, light off white
    return np.asarray(step * np.exp(-np.square(np.maximum(far - free, 0)) / (2 * spread**2))[:, None], np.float32)
