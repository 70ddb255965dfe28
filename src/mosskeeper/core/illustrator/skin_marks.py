"""What may be seen on somebody's skin where words name it: blushes, dark circles, wrinkles, tattoos, soot, plasters and bandages."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from mosskeeper.core.illustrator.accessories_more import EYE, LEVEL, on_features
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.figure import DrawnFigure
from mosskeeper.core.illustrator.shapes import ellipse, ribbon, taper
from mosskeeper.core.illustrator.vocabulary.colours import rgb

_SLOT = 160.2  # on the face, below what is worn there
_INK = rgb("2c3a4a")


def _sides(f: DrawnFigure) -> tuple[int, ...]:
    """The sides of the face that are seen: −1 right, 1 left; of a profile the one that is drawn."""
    return (-1,) if f.profile else (-1, 1)


def rosy_cheeks(f: DrawnFigure) -> None:
    for s in _sides(f):
        cheek = ellipse(on_features(f, [(s * 0.235, 0.20)])[0], 0.095 * f.head_size, 0.065 * f.head_size)
        f.plain(cheek, f.skin * np.array([1.06, 0.66, 0.66]), Part.FACE, _SLOT, alpha=0.49, blur=2.4, labelled=False)


def dark_circles(f: DrawnFigure) -> None:
    for s in _sides(f):
        x = s * EYE * f.is_.face.eye_spacing
        below = on_features(f, [(x - 0.10, LEVEL + 0.07), (x, LEVEL + 0.125), (x + 0.10, LEVEL + 0.07)])
        f.plain(taper(below, 0.034 * f.head_size, 0.5), f.skin * np.array([0.50, 0.38, 0.50]), Part.FACE, _SLOT, alpha=0.48, labelled=False)


def wrinkles(f: DrawnFigure) -> None:
    line, k = f.skin * np.array([0.62, 0.46, 0.44]), f.head_size
    for y in (-0.20, -0.155, -0.11):
        f.plain(
            taper(on_features(f, [(-0.17, y + 0.012), (0.0, y), (0.17, y + 0.012)]), 0.008 * k, 0.5),
            line,
            Part.FACE,
            _SLOT,
            alpha=0.48,
            labelled=False,
        )
    for s in _sides(f):
        for dy in (-0.03, 0.005, 0.04):
            corner = on_features(f, [(s * 0.29, LEVEL + dy * 0.5), (s * 0.35, LEVEL + dy)])
            f.plain(taper(corner, 0.007 * k, 0.3), line, Part.FACE, _SLOT, alpha=0.48, labelled=False)
        fold = on_features(f, [(s * 0.09, 0.23), (s * 0.145, 0.29), (s * 0.15, 0.36)])
        f.plain(taper(fold, 0.009 * k, 0.4), line, Part.FACE, _SLOT, alpha=0.48, labelled=False)


def smudges(f: DrawnFigure) -> None:
    for x, y, wide, high, lean in ((-0.22, 0.21, 0.10, 0.035, 0.5), (0.13, -0.13, 0.11, 0.04, -0.3), (0.12, 0.37, 0.06, 0.03, 0.2)):
        smear = ellipse(on_features(f, [(x, y)])[0], wide * f.head_size, high * f.head_size, lean)
        f.plain(smear, rgb("57504a"), Part.FACE, _SLOT, alpha=0.42, blur=1.2, labelled=False)


def plaster(f: DrawnFigure) -> None:
    strip = on_features(f, [(-0.085, 0.165), (0.0, 0.145), (0.085, 0.165)])
    item = f.add(ribbon(strip, [0.030 * f.head_size] * 3), rgb("d9b48a"), Part.ACCESSORY, _SLOT + 0.3, shade=0.2, drop=0.2)
    f.mark(item, ellipse(on_features(f, [(0, 0.147)])[0], 0.026 * f.head_size, 0.026 * f.head_size), "lit", 0.7)


def bandage(f: DrawnFigure) -> None:
    cloth = f.tinted("bandage", rgb("ece4d2"))
    for y, slant in ((-0.235, 0.02), (-0.165, -0.02)):
        across = f.on_head(
            [(-0.46, y + 0.10 + slant), (-0.25, y + 0.01 + slant), (0, y - 0.03), (0.25, y + 0.01 - slant), (0.46, y + 0.10 - slant)]
        )
        f.add(ribbon(across, [0.045 * f.head_size] * 5), cloth, Part.HEADWEAR, 163.8 + y, shade=0.4, drop=0.3)


def face_tattoo(f: DrawnFigure) -> None:
    ink, k = f.tinted("tattoo", _INK), f.head_size
    for s in _sides(f)[-1:]:
        spiral = [(s * 0.20 + 0.07 * np.cos(t) * (1 - t / 9), 0.22 + 0.07 * np.sin(t) * (1 - t / 9)) for t in np.linspace(0, 6.6, 16)]
        f.plain(ribbon(on_features(f, spiral), [0.010 * k] * 16), ink, Part.FACE, _SLOT + 0.1, alpha=0.8)
        f.plain(
            taper(on_features(f, [(s * 0.13, 0.13), (s * 0.17, 0.33), (s * 0.11, 0.43)]), 0.016 * k), ink, Part.FACE, _SLOT + 0.1, alpha=0.8
        )


def arm_tattoos(f: DrawnFigure) -> None:
    ink = f.tinted("tattoo", _INK)
    for side in ("right", "left"):
        elbow, wrist = f.j[f"{side} elbow"], f.j[f"{side} wrist"]
        along = wrist - elbow
        d = along / max(float(np.hypot(*along)), 1e-6)
        n = np.array([-d[1], d[0]])
        slot = f.arm_slot(side, 175.5)
        for k, t in enumerate((0.30, 0.48, 0.66)):
            c = elbow + along * t
            band = [c - n * 0.075, c + d * (0.05 if k % 2 else -0.05), c + n * 0.075]
            f.plain(ribbon(band, [0.014] * 3), ink, Part.SKIN, slot, alpha=0.8)
            f.plain(ellipse(c + d * 0.07, 0.020, 0.020), ink, Part.SKIN, slot, alpha=0.8)


def nose_ring(f: DrawnFigure) -> None:
    c, k = on_features(f, [(0.045, 0.215)])[0], f.head_size
    f.add([ellipse(c, 0.034 * k, 0.036 * k), ellipse(c, 0.021 * k, 0.023 * k)[::-1]], rgb("d8b04a"), Part.ACCESSORY, _SLOT + 0.6, shade=0.2)


def finger_ring(f: DrawnFigure) -> None:
    elbow, wrist = f.j["left elbow"], f.j["left wrist"]
    d = (wrist - elbow) / max(float(np.hypot(*(wrist - elbow))), 1e-6)
    c = wrist + d * 0.20
    slot = f.arm_slot("left", 177.5)
    f.add(ellipse(c, 0.042, 0.026, float(np.arctan2(d[0], -d[1]))), f.tinted("ring", rgb("d8b04a")), Part.ACCESSORY, slot, shade=0.3)
    f.plain(ellipse(c, 0.018, 0.018), rgb("c23a4a"), Part.ACCESSORY, slot + 0.1)


MARKS: dict[str, Callable[[DrawnFigure], None]] = {
    "rosy cheeks": rosy_cheeks, "dark circles": dark_circles, "wrinkles": wrinkles, "smudges": smudges, "plaster": plaster, "bandage": bandage,
    "face tattoo": face_tattoo, "arm tattoos": arm_tattoos, "nose ring": nose_ring, "finger ring": finger_ring,
}  # fmt: skip
