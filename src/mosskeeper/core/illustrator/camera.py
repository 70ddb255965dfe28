"""Where figures stand in the frame, and how near the place is behind them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.arrays import Array
from mosskeeper.core.illustrator.description import Layout, Person
from mosskeeper.core.illustrator.shapes import Points, point
from mosskeeper.core.illustrator.skeleton import JOINTS, posture
from mosskeeper.core.illustrator.vocabulary.people import body_of
from mosskeeper.core.illustrator.vocabulary.poses import POSES

FRAMINGS = ("close", "bust", "half", "full", "wide")
WITHOUT_GROUND = ("close", "bust", "half")  # framings in which hardly any ground is seen
SIDES = ("centre", "left", "right")
_TALL = 1.50 + 1.16 + 1.14 + 1.5  # height of an adult, hh: children stay small beside it
_EARS = [JOINTS.index("right ear"), JOINTS.index("left ear")]
_NECK = JOINTS.index("neck")
_HIPS = [JOINTS.index("right hip"), JOINTS.index("left hip")]
_BESIDE = {"close": 0.12, "bust": 0.15, "half": 0.19, "full": 0.24, "wide": 0.28}  # shift to a side, picture widths
_FITS = 0.905  # of the height that a whole figure may fill, however near it stands
_LYING = 1.2  # times as wide as it may be high: somebody who lies, and is seen in the middle of the frame
_APART = 1.9  # hh between two figures of a group
_BACKWARD = 0.45  # how fast figures shrink with their depth
_ANGLE = {"level": 0.0, "above": 1.0, "below": -1.0}


@dataclass(frozen=True, slots=True)
class Spot:
    """Where one figure stands."""

    scale: float  # pixels of one head height
    origin: Array  # pixel of the figure's origin: between the feet, on the ground


@dataclass(frozen=True, slots=True)
class FramedFigure:
    """One figure to be framed."""

    joints: NDArray[np.float64]  # (18, 2) hh, the ground at 0
    layout: Layout
    child: bool = False
    headroom: float = 0.0  # hh that it needs above the head for what it holds, when it is seen whole
    crown: float = 0.0  # hh by which hair or hat rise above the skull: the frame leaves room for it
    head: float = 1.0  # height of the head in the units of the joints
    grip: Points | None = None  # hh, where it holds something: a half figure is moved until that is seen


@dataclass(frozen=True, slots=True)
class Camera:
    framing: str
    angle: str
    zoom: float  # of the place
    centre: tuple[float, float]  # of the place, in place units
    blur: float  # of the place, in px at 512 wide
    horizon: float  # px from the top
    spots: tuple[Spot, ...]  # of the figures, in their order

    @property
    def shows_ground(self) -> bool:
        return self.blur == 0


def beside(side: str, framing: str) -> float:
    """Shift of a figure that stands left or right in the frame, in picture widths."""
    return {"left": -1.0, "centre": 0.0, "right": 1.0}[side] * _BESIDE[framing]


def shifts(n: int) -> tuple[float, ...]:
    """Shifts of `n` figures that stand side by side, in picture widths: the outermost near the borders."""
    return {1: (0.0,), 2: (-0.19, 0.19), 3: (-0.29, 0.0, 0.29), 4: (-0.33, -0.11, 0.11, 0.33)}[n]


def frame(figures: Sequence[FramedFigure], size: tuple[int, int]) -> Camera:
    """Frames figures in a picture of `size` = (width, height) pixels; the framing and angle of the first are the picture's."""
    w, h = size
    first = figures[0]
    joints, layout = first.joints, first.layout
    if layout.pinned is not None:
        layout = replace(layout, framing=_framing_of(_pin(first, w, h), joints, h))
    x = joints[:, 0]
    ears = np.array([f.joints[_EARS].mean(0) for f in figures])
    ear = ears[0]
    top = min(f.joints[:, 1].min() for f in figures) - 0.75 * max(f.head for f in figures)
    top -= max(max(f.headroom, f.crown * f.head) for f in figures)
    span = max(x.max() - x.min() + 0.9, 2.0)
    look = joints[_NECK, 0] * 0.2 + ear[0] * 0.8
    short = min(h, w * 1.25)  # the figure is sized by the 4:5 frame inside the picture
    company = len(figures)
    widest = w * 0.97 / (_APART * (company - 1) + 2.1) if company > 1 else np.inf
    if layout.framing in ("full", "wide"):
        fill = 0.885 if layout.framing == "full" else 0.60
        tall = max(-top, _TALL * 0.84)
        scale = min(min(short * fill / tall, w * 0.86 / span, widest) * layout.zoom, short * _FITS / tall)
        lies = span > -_LYING * top
        look = (x.min() + x.max()) / 2 * (1.0 if lies else 0.6) + joints[_NECK, 0] * (0.0 if lies else 0.4)
        origin = point(w / 2 - look * scale, h * 0.5 + short * 0.425)
        zoom, centre, blur = (1.0, (0.5, 0.625), 0.0) if layout.framing == "full" else (0.86, (0.5, 0.66), 0.0)
    else:
        heads, eye_height, zoom, centre, blur = {
            "half": (0.80 / (2.6 if first.child else 3.15), 0.34, 1.3, (0.5, 0.55), 0.9),
            "bust": (0.445, 0.44, 1.75, (0.47, 0.48), 2.2),
            "close": (0.60, 0.47, 2.1, (0.47, 0.46), 3.0),
        }[layout.framing]
        if layout.framing != "half":
            eye_height += max(f.crown for f in figures) * heads * 0.5
            heads /= first.head
        eyes = ear[1]
        scale = short * heads
        if company > 1:  # all heads must be seen
            eyes = (ears[:, 1].min() + ears[:, 1].max()) / 2
            scale = min(scale, widest, h * 0.72 / (np.ptp(ears[:, 1]) + 1.5))
        scale *= layout.zoom
        if company > 1 and layout.pinned is None and h * 0.5 + short * (eye_height - 0.5) - eyes * scale < h * 1.06:
            return frame([replace(first, layout=replace(layout, framing="full")), *figures[1:]], size)  # feet in the frame
        if layout.framing == "half":
            look = joints[_NECK, 0] * 0.6 + ear[0] * 0.4
            eye_height -= 0.24 * (1 - first.head)  # small heads need less room above them
        origin = point(w / 2 - look * scale, h * 0.5 + short * (eye_height - 0.5) - eyes * scale)
        if layout.framing == "half" and first.grip is not None and company == 1:
            origin = _moved_for(first.grip, origin, float(scale), w, h)
    tilt = _ANGLE[layout.angle]
    horizon = h * 0.5 + short * (0.02 - 0.22 * tilt)
    spots = [Spot(float(scale), point((origin[0] - w / 2) * layout.facing + w / 2 + layout.shift * w, origin[1]))]
    if layout.pinned is not None:
        spots = [_pin(first, w, h)]
        scale, origin = spots[0].scale, spots[0].origin
    for figure in figures[1:]:
        other, theirs = figure.joints, figure.layout
        if theirs.pinned is not None:
            spots.append(_pin(figure, w, h))
            continue
        away = 1 / (1 + _BACKWARD * theirs.depth)
        own = scale / layout.zoom * theirs.zoom * away
        middle = other[_NECK, 0] * 0.6 + other[_EARS, 0].mean() * 0.4
        ground = horizon + (origin[1] - horizon) * away
        spots.append(Spot(float(own), point(w / 2 - middle * own * theirs.facing + theirs.shift * w, ground)))
    centre = (centre[0], centre[1] + 0.10 * tilt / zoom)
    return Camera(layout.framing, layout.angle, zoom * (1 + 0.06 * abs(layout.shift)), centre, blur, float(horizon), tuple(spots))


def _pin(figure: FramedFigure, w: int, h: int) -> Spot:
    """Where a figure stands whose neck and size are given."""
    assert figure.layout.pinned is not None
    x, y, size = figure.layout.pinned
    neck = figure.joints[_NECK] * (figure.layout.facing, 1)
    return Spot(float(size * h), point(x * w, y * h) - neck * size * h)


def _framing_of(spot: Spot, joints: NDArray[np.float64], h: int) -> str:
    """The framing in which a figure stands there."""
    if spot.origin[1] < h * 1.04:
        return "full" if spot.scale > 0.12 * h else "wide"
    hips = spot.origin[1] + joints[_HIPS, 1].max() * spot.scale
    return "half" if hips < h * 1.1 else "bust" if spot.scale < 0.52 * h else "close"


def _moved_for(grip: Points, origin: Points, scale: float, w: int, h: int) -> Points:
    """The origin moved, within limits, so that what is held at `grip` comes into the frame."""
    x, y = origin + grip * scale
    margin = 0.32 * scale
    aside = np.clip(x, margin, w - margin) - x
    down = np.clip(y, margin, None) - y
    return np.asarray(origin + point(np.clip(aside, -0.22 * w, 0.22 * w), np.clip(down, 0, 0.14 * h)))


def standing_in(box: tuple[float, float, float, float], layout: Layout, person: Person, size: tuple[int, int]) -> Layout:
    """The layout of a figure that fills a box (x0, y0, x1, y1, shares of width and height): whole in a tall one, else cut."""
    w, h = size
    x0, y0, x1, y1 = box[0] * w, box[1] * h, box[2] * w, box[3] * h
    joints = posture(body_of(person.subject, person.build, person.figure), POSES[layout.pose], layout).joints
    whole = 1.1 - joints[:, 1].min()  # hh, with room above the head
    to_neck = joints[_NECK, 1] - joints[_EARS, 1].mean() + 0.85
    scale = (y1 - y0) / whole
    if layout.framing not in ("full", "wide") and scale < (x1 - x0) / 3.4:  # broad: from the head to below the waist
        scale = min((y1 - y0) / (to_neck + 1.9), (x1 - x0) / 1.9)
    else:
        scale = min(scale, (x1 - x0) / 2.2)
    neck = y0 + to_neck * scale if layout.framing not in ("full", "wide") else y1 + joints[_NECK, 1] * scale - 0.05 * scale
    return replace(layout, pinned=((x0 + x1) / 2 / w, neck / h, scale / h), shift=0.0)
