"""Beards and moustaches of storybook and small figures, from in front and from the side.

Coordinates are those of `DrawnFigure.on_head`, and from the side of `on_side`.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import skia

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.figure import DrawnFigure
from mosskeeper.core.illustrator.items import Item
from mosskeeper.core.illustrator.shapes import Points, spline, subtract, taper, to_path

USUAL = ("none", "beard", "moustache")
NAMED = ("goatee", "long beard", "stubble", "sideburns")  # only where words name them
_WITH_MOUSTACHE = ("beard", "long beard", "goatee", "moustache")
_UNSHAVEN = 0.42  # how dark stubble is, of what hair would be


def from_in_front(f: DrawnFigure, face: Item, mouth: float) -> None:
    """Adds what grows on a face that is seen from in front or three-quarter. mouth : its height in head coordinates."""
    kind = f.is_.facial_hair
    if kind in ("beard", "long beard"):
        _beard(f, kind == "long beard", mouth)
    elif kind == "goatee":
        t = f.turn * 0.10
        tuft = [
            (-0.12 + t, 0.385),
            (t, 0.40),
            (0.12 + t, 0.385),
            (0.135 + t, 0.47),
            (0.07 + t, 0.61),
            (t, 0.68),
            (-0.07 + t, 0.61),
            (-0.135 + t, 0.47),
        ]
        item = f.add(spline(f.on_head(tuft)), f.hair_colour, Part.FACIAL_HAIR, 155.5, shade=0.5)
        f.mark(
            item,
            (taper(f.on_head([(x + t, 0.42), (x * 0.7 + t, 0.54), (x * 0.3 + t, 0.64)]), 0.012) for x in (-0.08, 0.0, 0.08)),
            "shade",
            0.6,
            0.3,
        )
    elif kind == "sideburns":
        w, jaw = f.is_.face.width, f.body.jaw + f.is_.face.jaw
        for s in (-1, 1):
            cheek = [
                (s * 0.40 * w, -0.02),
                (s * 0.34 * w, 0.02),
                (s * 0.33 * w, 0.16),
                (s * 0.27 * w, 0.30),
                (s * 0.33 * w, 0.36),
                (s * (0.40 * w + jaw), 0.26),
            ]
            f.add(spline(f.on_head(cheek)), f.hair_colour, Part.FACIAL_HAIR, 155.5, shade=0.4)
    elif kind == "stubble":
        chin = [(-0.42, 0.14), (-0.24, 0.26), (-0.13, 0.25), (0, 0.265), (0.13, 0.25), (0.24, 0.26), (0.42, 0.14), (0.4, 0.6), (-0.4, 0.6)]
        f.mark(face, spline(f.on_head(chin)), f.hair_colour * 0.6 + f.skin * 0.25, _UNSHAVEN, 1.2, vital=True)
    if kind in _WITH_MOUSTACHE:
        y = mouth
        wings = [f.on_face(taper([(0, y - 0.035), (s * 0.09, y - 0.03), (s * 0.17, y + 0.035)], 0.034, 0.35)) for s in (-1, 1)]
        f.add(wings, np.clip(f.hair_colour * 1.06, 0, 1), Part.FACIAL_HAIR, 158, shade=0.2, drop=0.2)


def _beard(f: DrawnFigure, long: bool, y: float) -> None:
    w, jaw, turn = f.is_.face.width, f.body.jaw + f.is_.face.jaw, f.turn
    mw = 0.098 * f.is_.face.mouth_width * f.expression.mouth_width
    chin = (
        [(0.27, 0.64), (0.20, 0.90), (turn * 0.07 + 0.03, 1.10), (-0.20, 0.90), (-0.27, 0.64)]
        if long
        else [(0.24, 0.58), (turn * 0.07 + 0.03, 0.70), (-0.24, 0.58)]
    )
    outline = [
        (-0.395 * w, 0.08),
        (-0.345 * w, 0.2),
        (-0.20 + turn * 0.08, 0.255),
        (turn * 0.12, 0.245),
        (0.20 + turn * 0.08, 0.255),
        (0.345 * w, 0.2),
        (0.395 * w, 0.08),
        (0.40 * w + jaw, 0.34),
        *chin,
        (-0.40 * w - jaw, 0.34),
    ]
    gap = [(-mw * 1.15, y), (0, y - 0.022), (mw * 1.15, y), (mw * 0.8, y + 0.06), (0, y + 0.065), (-mw * 0.8, y + 0.06)]
    shape: skia.Path = subtract(to_path(spline(f.on_head(outline))), to_path(f.on_face(spline(gap))))
    item = f.add(shape, f.hair_colour, Part.FACIAL_HAIR, 155.5, shade=0.5)
    end = 1.0 if long else 0.64
    dark = (taper(f.on_head([(x * 0.8, 0.22), (x, 0.4), (x * 0.55 + turn * 0.05, end)]), 0.016) for x in np.linspace(-0.38, 0.38, 9))
    light = (
        taper(f.on_head([(x * 0.8 + 0.02, 0.26), (x * 0.95 + 0.02, 0.42), (x * 0.55 + turn * 0.05, end - 0.06)]), 0.010)
        for x in np.linspace(-0.34, 0.34, 7)
    )
    f.mark(item, dark, "shade", 0.6, 0.3)
    f.mark(item, light, "lit", 0.25, 0.5)


_SIDES: dict[str, list[tuple[float, float]]] = {
    "beard": [(-0.12, 0.02), (-0.05, 0.02), (0.02, 0.20), (0.16, 0.27), (0.27, 0.27), (0.31, 0.33), (0.36, 0.375), (0.40, 0.44), (0.38, 0.62), (0.24, 0.68),
              (0.04, 0.56), (-0.12, 0.36)],
    "long beard": [(-0.12, 0.02), (-0.05, 0.02), (0.02, 0.20), (0.16, 0.27), (0.27, 0.27), (0.31, 0.33), (0.36, 0.375), (0.40, 0.46), (0.42, 0.80), (0.32, 1.06),
                   (0.16, 0.86), (0.02, 0.60), (-0.12, 0.36)],
    "goatee": [(0.28, 0.40), (0.36, 0.385), (0.41, 0.45), (0.41, 0.58), (0.34, 0.66), (0.28, 0.54)],
    "sideburns": [(-0.12, 0.0), (-0.05, 0.0), (0.00, 0.16), (0.09, 0.30), (0.0, 0.36), (-0.11, 0.28)],
}  # fmt: skip


def from_the_side(f: DrawnFigure, face: Item, side: Callable[..., Points]) -> None:
    """Adds what grows on a face in profile. side : brings places (x, y) of the profile to the figure's coordinates."""
    kind = f.is_.facial_hair
    if kind == "stubble":
        chin = spline(side((-0.06, 0.14), (0.10, 0.24), (0.27, 0.25), (0.44, 0.27), (0.46, 0.62), (0.20, 0.62), (-0.08, 0.40)))
        f.mark(face, chin, f.hair_colour * 0.6 + f.skin * 0.25, _UNSHAVEN, 1.2, vital=True)
    if kind in _SIDES:
        item = f.add(spline(side(*_SIDES[kind])), f.hair_colour, Part.FACIAL_HAIR, 155.5, shade=0.5)
        if kind in ("beard", "long beard"):
            end = 0.62 if kind == "beard" else 0.96
            strands = (
                taper(side((x * 0.9, 0.26 + abs(x - 0.3) * 0.1), (x, 0.42), (x * 0.8 + 0.07, end)), 0.016)
                for x in np.linspace(-0.05, 0.36, 8)
            )
            f.mark(item, strands, "shade", 0.6, 0.3)
    if kind in _WITH_MOUSTACHE:
        f.add(
            taper(side((0.41, 0.262), (0.34, 0.27), (0.27, 0.335)), 0.034, 0.35),
            np.clip(f.hair_colour * 1.06, 0, 1),
            Part.FACIAL_HAIR,
            158,
            shade=0.2,
            drop=0.2,
        )
