"""Hands of natural figures: a palm, four fingers of three bones each, and a thumb."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator import body
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.figure import Colour, DrawnFigure
from mosskeeper.core.illustrator.shapes import Points, ellipse, ribbon, spline, taper
from mosskeeper.core.illustrator.vocabulary.poses import HANDS

# In lengths of the hand: x towards the thumb and y along the fingers, from the wrist.
_ROOTS = ((0.150, 0.495, 0.80), (0.050, 0.530, 0.92), (-0.050, 0.505, 0.85), (-0.142, 0.440, 0.66))  # x, y, length; index to little finger
_FINGER = 0.50  # length of a finger 1 long
_BONES = np.array([[0.48], [0.30], [0.22]])  # shares of a finger
_PALM = ((-0.125, 0.0), (0.125, 0.0), (0.185, 0.20), (0.198, 0.47), (0.0, 0.545), (-0.192, 0.42), (-0.172, 0.18))
_CURLED = 0.34  # reach below which a finger is bent into the palm
_BENT = np.array([0.4, 1.4, 2.4])  # of a hand at rest, bone by bone


def hand(f: DrawnFigure, side: str, sign: int, gripping: bool) -> None:
    """A hand in the shape that the posture names for it; one that holds something grips it. sign : −1 right, 1 left."""
    frame = body.palm(f, side, sign)
    long = f.head_size * (0.72 if f.child else 0.80 if f.male else 0.76)
    name = "grip" if gripping else f.posture.hands[0 if side == "right" else 1]
    shape, bend = HANDS[name], 0.16 if name in ("relaxed", "cupped") else 0.0
    slot = f.arm_slot(side, 176)

    def at(x: float, y: float) -> Points:
        return np.asarray(frame.wrist + (frame.thumbward * x + frame.along * (y - 0.02)) * long)

    fingers, lines, nails = list[Points](), list[Points](), list[Points]()
    for (x, y, length), (reach, spread) in zip(_ROOTS, shape.fingers, strict=True):
        curled = reach < _CURLED
        own = _FINGER * length * (0.36 if curled else 0.42 + 0.56 * min(reach, 1.05))
        angles = np.deg2rad(spread * 7.0) + bend * _BENT
        joints = np.cumsum(np.stack([np.sin(angles), np.cos(angles)], 1) * own * _BONES, 0) + (x, y)
        steps = [at(x, y - 0.06), *(at(*joint) for joint in joints)]
        w = 0.047 * long * (0.9 if x < -0.1 else 1.0) * (1.0 if f.male else 0.94)
        fingers += [ribbon(steps, [w, w * 0.98, w * 0.88, w * 0.66], 5), ellipse(steps[-1], w * 0.70, w * 0.70, n=10)]
        gap = [at(x - 0.050, y - 0.01), (steps[1] + steps[2]) / 2 - frame.thumbward * w, steps[-1] - frame.thumbward * w * 0.8]
        lines.append(taper(gap, 0.009 * long, 0.35))
        if curled:
            lines.append(taper([at(x - 0.045, y + own * 0.92), at(x, y + own * 1.02), at(x + 0.045, y + own * 0.92)], 0.010 * long))
        else:
            nails.append(ellipse(steps[-1] - (steps[-1] - steps[-2]) * 0.06, w * 0.40, w * 0.48, n=10))
    angle, reach = np.deg2rad(shape.thumb * 0.85), 0.40 * shape.thumb_length
    joint = (0.145 + np.sin(angle) * reach * 0.50, 0.10 + np.cos(angle) * reach * 0.55)
    tip = (joint[0] + np.sin(angle * 0.55) * reach * 0.52, joint[1] + np.cos(angle * 0.55) * reach * 0.56)
    thumb = [
        ribbon([at(0.08, 0.04), at(*joint), at(*tip)], [0.078 * long, 0.056 * long, 0.040 * long], 5),
        ellipse(at(*tip), 0.040 * long, 0.044 * long, n=10),
    ]
    closed, gloved = name in ("fist", "grip"), "gloves" in f.is_.worn
    colour: Colour = f.tinted("gloves", "b") if gloved else "skin"
    palm = spline([at(*place) for place in _PALM])
    item = f.add(f.union([palm, *fingers, *([] if closed else thumb)]), colour, Part.HAND, slot, shade=0.42, drop=0.3)
    f.mark(item, lines, "deep", 0.55, 0.2)
    knuckles = (taper([at(x - 0.03, y - 0.055), at(x, y - 0.045), at(x + 0.03, y - 0.055)], 0.010 * long) for x, y, _ in _ROOTS)
    f.mark(item, knuckles, "shade", 0.5, 0.3)
    if not gloved:
        f.mark(item, nails, "lit", 0.45, 0.2)
    if closed:
        f.add(f.union(thumb), colour, Part.HAND, slot + 1, shade=0.4, drop=0.25)
    else:
        f.mark(item, taper([at(0.17, 0.12), at(0.175, 0.24), at(joint[0] - 0.055, joint[1] + 0.04)], 0.011 * long), "deep", 0.45, 0.2)
