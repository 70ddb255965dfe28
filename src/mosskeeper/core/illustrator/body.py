"""Bare body under the clothes: legs, torso, neck, feet, arms and hands."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.figure import SIDES, Figure
from mosskeeper.core.illustrator.items import Item
from mosskeeper.core.illustrator.shapes import Points, ellipse, limb, point, points, ribbon, spline, taper
from mosskeeper.core.illustrator.vocabulary.colours import Rgb


def draw(f: Figure) -> None:
    k = f.thickness
    for side, sign in SIDES:
        bones = [f.j[f"{side} {name}"] for name in ("hip", "knee", "ankle")]
        f.add(f.union(limb(bones, [0.20 * k, 0.14 * k, 0.085 * k])), f.skin, Part.SKIN, 110)
        foot(f, side, sign, f.skin, Part.SKIN, 111)
    f.add(torso(f, 0), f.skin, Part.SKIN, 112)
    _neck(f)


def _neck(f: Figure) -> None:
    k = f.thickness * (1.18 if f.male else 1.0)
    chin = f.head - f.head_up * 0.3
    neck = f.j["neck"]
    outline = ribbon([chin + f.head_up * 0.1, chin * 0.45 + neck * 0.55, neck + f.down * 0.14], [0.118 * k, 0.118 * k, 0.19 * k])
    item = f.add(outline, f.skin, Part.SKIN, 134, drop=0.2)
    f.mark(item, f.on_head(ellipse((f.turn * 0.03 - 0.02, 0.44), 0.34, 0.22)), "shade", 0.75, 2.5)
    if f.is_.subject in ("woman", "man", "old man"):
        bones = [taper([f.at(s * 0.04, 0.09), f.at(s * 0.15, 0.05), f.at(s * 0.28, 0.04)], 0.012) for s in (-1, 1)]
        f.mark(item, bones, "shade", 0.5, 0.4)


def torso(f: Figure, padding: float, length: float = 1.0) -> Points:
    """Outline of the torso, widened by the thickness of a garment; `length` 1 reaches the hips."""
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


def foot(f: Figure, side: str, sign: int, colour: str | Rgb, part: Part, slot: float, padding: float = 0.0) -> Item:
    ankle, knee = f.j[f"{side} ankle"], f.j[f"{side} knee"]
    d = (ankle - knee) / np.hypot(*(ankle - knee))
    k, flat = f.thickness, d[1] > 0.25
    forward = sign * 0.11 + f.turn * 0.30
    w = 0.105 * k + padding
    if not flat:  # hanging or kneeling: the foot continues the shin
        n = point(-d[1], d[0])
        q = [ankle + n * w - d * 0.05, ankle - n * w - d * 0.05, ankle - n * w * 0.9 + d * 0.2, ankle + d * 0.34,
             ankle + n * w * 0.9 + d * 0.2]  # fmt: skip
    elif abs(forward) < 0.14:  # seen from the front
        offsets = [(-w, -0.06), (w, -0.06), (w * 1.18 + forward * 0.5, 0.09), (w * 0.85 + forward, 0.20),
                   (forward * 1.2, 0.225), (-w * 0.85 + forward, 0.20), (-w * 1.18 + forward * 0.5, 0.09)]  # fmt: skip
        q = [ankle + point(*o) for o in offsets]
    else:
        toe_x = float(np.clip(forward, -0.34, 0.34))
        toe = ankle + point(toe_x, 0.17) * k
        heel = ankle - point(toe_x, 0) * 0.28 + point(0, 0.10)
        s = 1.0 if forward > 0 else -1.0
        q = [ankle + point(-w * s, -0.05), ankle + point(w * s, -0.05), toe + point(w * 0.95 * s, -0.05),
             toe + point(w * 0.75 * s, 0.05), toe + point(-w * 0.75 * s, 0.05), heel + point(-w * 0.8 * s, 0.04)]  # fmt: skip
    item = f.add(spline(q), colour, part, slot)
    if padding and flat:
        sole = ankle + points((-0.6, 0.175), (0.6, 0.175), (0.6, 0.4), (-0.6, 0.4))
        f.mark(item, sole, "deep", 0.55)
    return item


def bare_arm(f: Figure, side: str, slot: float, covered: float) -> None:
    """The arm from where its sleeve ends: `covered` 0.5 is the elbow, 1 the wrist."""
    k = f.thickness
    shoulder, elbow, wrist = (f.j[f"{side} {name}"] for name in ("shoulder", "elbow", "wrist"))
    from_ = max(0.0, covered - 0.12)  # a little under the hem
    if from_ < 0.5:
        bones, widths = [shoulder + (elbow - shoulder) * from_ * 2, elbow, wrist], [(0.125 - 0.06 * from_) * k, 0.095 * k, 0.07 * k]
    else:
        bones, widths = [elbow + (wrist - elbow) * (from_ - 0.5) * 2, wrist], [(0.095 - 0.05 * (from_ - 0.5)) * k, 0.07 * k]
    f.add(f.union(limb(bones, widths)), f.skin, Part.SKIN, slot, shade=0.45)


def hand(f: Figure, side: str, sign: int, gripping: bool) -> None:
    elbow, wrist = f.j[f"{side} elbow"], f.j[f"{side} wrist"]
    d = (wrist - elbow) / np.hypot(*(wrist - elbow) + 1e-6)
    n = point(-d[1], d[0]) * (1 if d[1] > 0 else -1)
    if n[0] * sign > 0:  # the thumb lies towards the body
        n = -n
    k = 0.95 * f.thickness * (0.98 if f.child else 1.05)
    palm: Points = wrist + d * 0.05

    def at(x: float, y: float) -> Points:
        return np.asarray(palm + n * x * k + d * y * k)

    if gripping:
        fist = [(-0.085, -0.03), (0.08, -0.03), (0.125, 0.07), (0.115, 0.17), (0.04, 0.215), (-0.07, 0.205),
                (-0.12, 0.13), (-0.115, 0.04)]  # fmt: skip
        item = f.add(spline([at(*p) for p in fist]), f.skin, Part.HAND, 176, shade=0.45, drop=0.3)
        fingers = [taper([at(-0.12, y), at(-0.02, y + 0.008), at(0.05, y)], 0.0085 * k) for y in (0.075, 0.12, 0.165)]
        f.mark(item, fingers, "deep", 0.55)
        thumb = [(0.07, 0.0), (0.135, 0.04), (0.10, 0.13), (0.02, 0.155), (-0.01, 0.12), (0.05, 0.08)]
        f.add(spline([at(*p) for p in thumb]), f.skin, Part.HAND, 177, shade=0.3, drop=0.0)
        return
    palm_outline = [(-0.08, -0.03), (0.075, -0.03), (0.112, 0.08), (0.10, 0.16)]
    fingers_open = []
    for x, length, lean in ((0.072, 0.285, 0.012), (0.026, 0.325, 0.004), (-0.022, 0.312, -0.006), (-0.066, 0.262, -0.020)):
        fingers_open.append(
            ribbon([at(x, 0.12), at(x + lean * 0.5, (0.12 + length) / 2), at(x + lean, length)],
                   [0.030 * k, 0.027 * k, 0.019 * k]))  # fmt: skip
        fingers_open.append(ellipse(at(x + lean, length - 0.004), 0.019 * k, 0.019 * k, n=10))
    outline = spline([*(at(*p) for p in palm_outline), at(-0.09, 0.17), at(-0.105, 0.07)])
    thumb_open = ribbon([at(0.06, 0.02), at(0.145, 0.09), at(0.155, 0.18)], [0.055 * k, 0.042 * k, 0.028 * k])
    item = f.add(
        f.union([outline, thumb_open, ellipse(at(0.155, 0.178), 0.029 * k, 0.029 * k), *fingers_open]),
        f.skin, Part.HAND, 176, shade=0.4, drop=0.3,
    )  # fmt: skip
    gaps = [taper([at(x, 0.15), at(x * 1.05, 0.25)], 0.006 * k) for x in (-0.044, 0.002, 0.049)]
    f.mark(item, gaps, "deep", 0.5)
