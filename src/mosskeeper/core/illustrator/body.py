"""Bare body under the clothes: legs, torso, neck, feet, arms and hands."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.figure import SIDES, Colour, DrawnFigure
from mosskeeper.core.illustrator.items import Item
from mosskeeper.core.illustrator.shapes import Points, ellipse, limb, point, points, ribbon, spline, taper, unit
from mosskeeper.core.illustrator.vocabulary.poses import HANDS, Hand


def draw(f: DrawnFigure) -> None:
    k = f.thickness
    for side, sign in SIDES:
        bones = [f.j[f"{side} {name}"] for name in ("hip", "knee", "ankle")]
        f.add(f.union(limb(bones, [0.20 * k, 0.14 * k, 0.085 * k])), "skin", Part.LEG, _leg_slot(f, side, 110))
        foot(f, side, sign, "skin", Part.LEG, _leg_slot(f, side, 111))
    f.add(torso(f, 0), "skin", Part.SKIN, 112)
    if not f.natural:  # whose neck is a solid, as the head is
        _neck(f)


def _leg_slot(f: DrawnFigure, side: str, slot: float) -> float:
    return slot - 0.5 if f"{side} leg" in f.posture.behind else slot


def _neck(f: DrawnFigure) -> None:
    k = f.thickness * (1.18 if f.male else 1.0)
    chin = f.head - f.head_up * 0.3
    neck = f.j["neck"]
    outline = ribbon([chin + f.head_up * 0.1, chin * 0.45 + neck * 0.55, neck + f.down * 0.14], [0.118 * k, 0.118 * k, 0.19 * k])
    item = f.add(outline, "skin", Part.NECK, 134, drop=0.2)
    f.mark(item, f.on_head(ellipse((f.turn * 0.03 - 0.02, 0.44), 0.34, 0.22)), "shade", 0.75, 2.5)
    if f.is_.subject in ("woman", "man", "old man"):
        bones = (taper([f.at(s * 0.04, 0.09), f.at(s * 0.15, 0.05), f.at(s * 0.28, 0.04)], 0.012) for s in (-1, 1))
        f.mark(item, bones, "shade", 0.5, 0.4)


def torso(f: DrawnFigure, padding: float, length: float = 1.0) -> Points:
    """Outline of the torso, widened by the thickness of a garment; `length` 1 reaches the hips."""
    if f.natural:
        return _sloping_torso(f, padding, length)
    p, t = padding * 0.05, f.torso
    waist = f.hip_width * f.body.waist + 0.10 + p
    chest = f.shoulder_width * 0.78 + p + 0.06
    hip = f.hip_width + 0.16 + p if length > 0.9 else waist + 0.02
    half = [
        (0.13 + p * 0.4, -0.10),
        (f.shoulder_width * 0.72, -0.035 - p * 0.3),
        (f.shoulder_width + 0.10 + p, 0.10),
        (chest, t * 0.33),
        (waist, t * 0.66),
        (hip, t * length),
    ]
    outline = [f.at(-x, y) for x, y in half]
    outline += [f.at(0, t * length + 0.1)]
    outline += [f.at(x, y) for x, y in reversed(half)]
    return spline([*outline, f.at(0, -0.03)])


def _sloping_torso(f: DrawnFigure, padding: float, length: float) -> Points:
    """The torso of a natural figure: its shoulders slope from the neck to the arms."""
    p, t, s = padding * 0.05, f.torso, f.shoulder_width
    waist = min(f.hip_width * f.body.waist + 0.10 + p, f.hip_width + 0.12 + p)
    hip = f.hip_width + 0.16 + p if length > 0.9 else min(waist, f.hip_width + 0.10)
    half = [
        (0.125 + p * 0.5, -0.15),
        (s * 0.46, -0.045 - p * 0.3),
        (s * 0.86, 0.055 - p * 0.2),
        (s + 0.005 + p * 0.5, 0.18),
        (s * 0.84 + p + 0.02, t * 0.36),
        (waist, t * 0.66),
        (hip, t * length),
    ]
    outline = [f.at(-x, y) for x, y in half] + [f.at(0, t * length + 0.1)] + [f.at(x, y) for x, y in reversed(half)]
    return spline([*outline, f.at(0, -0.03)])


def foot(f: DrawnFigure, side: str, sign: int, colour: Colour, part: Part, slot: float, padding: float = 0.0) -> Item:
    ankle, knee = f.j[f"{side} ankle"], f.j[f"{side} knee"]
    d = unit(ankle - knee)
    k, flat = f.thickness, d[1] > 0.25
    forward = sign * 0.11 + f.turn * 0.30
    w = 0.105 * k + padding
    if not flat:  # hanging or kneeling: the foot continues the shin
        n = point(-d[1], d[0])
        q = [
            ankle + n * w - d * 0.05,
            ankle - n * w - d * 0.05,
            ankle - n * w * 0.9 + d * 0.2,
            ankle + d * 0.34,
            ankle + n * w * 0.9 + d * 0.2,
        ]
    elif abs(forward) < 0.14:  # seen from the front
        offsets = [
            (-w, -0.06),
            (w, -0.06),
            (w * 1.18 + forward * 0.5, 0.09),
            (w * 0.85 + forward, 0.20),
            (forward * 1.2, 0.225),
            (-w * 0.85 + forward, 0.20),
            (-w * 1.18 + forward * 0.5, 0.09),
        ]
        q = [ankle + point(*o) for o in offsets]
    else:
        toe_x = float(np.clip(forward, -0.34, 0.34))
        toe = ankle + point(toe_x, 0.17) * k
        heel = ankle - point(toe_x, 0) * 0.28 + point(0, 0.10)
        s = 1.0 if forward > 0 else -1.0
        q = [
            ankle + point(-w * s, -0.05),
            ankle + point(w * s, -0.05),
            toe + point(w * 0.95 * s, -0.05),
            toe + point(w * 0.75 * s, 0.05),
            toe + point(-w * 0.75 * s, 0.05),
            heel + point(-w * 0.8 * s, 0.04),
        ]
    item = f.add(spline(q), colour, part, slot)
    if padding and flat:
        sole = ankle + points((-0.6, 0.175), (0.6, 0.175), (0.6, 0.4), (-0.6, 0.4))
        f.mark(item, sole, "deep", 0.55)
    return item


def bare_arm(f: DrawnFigure, side: str, slot: float, covered: float) -> None:
    """The arm from where its sleeve ends: `covered` 0.5 is the elbow, 1 the wrist."""
    k = f.thickness
    shoulder, elbow, wrist = (f.j[f"{side} {name}"] for name in ("shoulder", "elbow", "wrist"))
    from_ = max(0.0, covered - 0.12)  # a little under the hem
    if from_ < 0.5:
        root = f.arm_from(side) if from_ == 0 else []
        bones = [*root, shoulder + (elbow - shoulder) * from_ * 2, elbow, wrist]
        widths = [0.13 * k] * len(root) + [(0.125 - 0.06 * from_) * k, 0.095 * k, 0.07 * k]
    else:
        bones, widths = [elbow + (wrist - elbow) * (from_ - 0.5) * 2, wrist], [(0.095 - 0.05 * (from_ - 0.5)) * k, 0.07 * k]
    f.add(f.union(limb(bones, widths)), "skin", Part.SKIN, slot, shade=0.45)


@dataclass(frozen=True, slots=True)
class Palm:
    """The frame of one hand: from the wrist, x towards the thumb and y along the fingers, in hands of 0.34 hh."""

    wrist: Points
    along: Points
    thumbward: Points
    size: float

    def at(self, x: float, y: float) -> Points:
        return np.asarray(self.wrist + self.along * 0.05 + (self.thumbward * x + self.along * y) * self.size)


def palm(f: DrawnFigure, side: str, sign: int) -> Palm:
    elbow, wrist = f.j[f"{side} elbow"], f.j[f"{side} wrist"]
    length = float(np.hypot(*(wrist - elbow)))
    d = (wrist - elbow) / length if length > 1e-6 else point(0, 1)
    n = point(-d[1], d[0]) * (1 if d[1] > 0 else -1)
    if n[0] * sign > 0:  # the thumb lies towards the body
        n = -n
    return Palm(wrist, d, n, 0.95 * f.thickness * (0.98 if f.child else 1.05))


def hand(f: DrawnFigure, side: str, sign: int, gripping: bool) -> None:
    """A hand in the pose that the posture names for it; one that holds something grips it."""
    p = palm(f, side, sign)
    k, at = p.size, p.at
    gloved = "gloves" in f.is_.worn
    colour: Colour = f.tinted("gloves", "b") if gloved else "skin"
    slot = f.arm_slot(side, 176)
    name = "grip" if gripping else f.posture.hands[0 if side == "right" else 1]
    shape = HANDS[name]
    if gripping or name == "fist":
        fist = [(-0.085, -0.03), (0.08, -0.03), (0.125, 0.07), (0.115, 0.17), (0.04, 0.215), (-0.07, 0.205), (-0.12, 0.13), (-0.115, 0.04)]
        item = f.add(spline([at(*q) for q in fist]), colour, Part.HAND, slot, shade=0.45, drop=0.3)
        knuckles = (taper([at(-0.12, y), at(-0.02, y + 0.008), at(0.05, y)], 0.0085 * k) for y in (0.075, 0.12, 0.165))
        f.mark(item, knuckles, "deep", 0.55)
        thumb = [(0.07, 0.0), (0.135, 0.04), (0.10, 0.13), (0.02, 0.155), (-0.01, 0.12), (0.05, 0.08)]
        f.add(spline([at(*q) for q in thumb]), colour, Part.HAND, slot + 1, shade=0.3, drop=0.0)
    else:
        item = f.add(f.union(_open_hand(p, shape)), colour, Part.HAND, slot, shade=0.4, drop=0.3)
        gaps = (
            taper([at(x, 0.15), at(x * 1.05, 0.15 + 0.10 * shape.fingers[i][0])], 0.006 * k) for i, x in enumerate((0.049, 0.002, -0.044))
        )
        f.mark(item, gaps, "deep", 0.5)
        curled = (
            taper([at(x - 0.022, 0.165), at(x, 0.185), at(x + 0.022, 0.165)], 0.007 * k)
            for x, (length, _) in zip(_ROOTS, shape.fingers, strict=True)
            if length < 0.34
        )
        f.mark(item, curled, "deep", 0.6)
    if gloved:
        cuff = spline([at(-0.105, -0.075), at(0.105, -0.075), at(0.095, 0.02), at(-0.095, 0.02)], True, 4)
        f.add(cuff, f.shaded(colour, 0.9), Part.HAND, slot + 0.5, shade=0.3, drop=0.2)


_ROOTS = (0.072, 0.026, -0.022, -0.066)  # index to little finger, across the palm
_FINGER = 0.21  # length of a finger 1 long, hh
_WIDTHS = (0.031, 0.028, 0.020)


def _open_hand(p: Palm, shape: Hand) -> list[Points]:
    k, at = p.size, p.at
    outlines = [spline([at(-0.08, -0.03), at(0.075, -0.03), at(0.112, 0.08), at(0.10, 0.16), at(-0.09, 0.17), at(-0.105, 0.07)])]
    for x, (length, spread) in zip(_ROOTS, shape.fingers, strict=True):
        tip = 0.13 + _FINGER * length
        lean = spread * 0.024 * length
        outlines.append(ribbon([at(x, 0.11), at(x + lean * 0.45, (0.12 + tip) / 2), at(x + lean, tip - 0.018)], [w * k for w in _WIDTHS]))
        outlines.append(ellipse(at(x + lean, tip - 0.02), 0.0205 * k, 0.0205 * k, n=10))
    angle, reach = np.deg2rad(shape.thumb), 0.185 * shape.thumb_length
    end = (0.055 + np.sin(angle) * reach, 0.03 + np.cos(angle) * reach)
    bend = (0.075 + np.sin(angle) * reach * 0.55, 0.03 + np.cos(angle) * reach * 0.42)
    outlines.append(ribbon([at(0.055, 0.015), at(*bend), at(*end)], [0.055 * k, 0.042 * k, 0.029 * k]))
    outlines.append(ellipse(at(*end), 0.030 * k, 0.030 * k, n=10))
    return outlines
