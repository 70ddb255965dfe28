"""Patterns of cloth, and what wear does to it: patches, stains and tears."""

from __future__ import annotations

import itertools

import numpy as np

from mosskeeper.core.illustrator.figure import Colour, DrawnFigure
from mosskeeper.core.illustrator.items import Item
from mosskeeper.core.illustrator.shapes import Points, ellipse, point, ribbon, spline, taper
from mosskeeper.core.illustrator.vocabulary.colours import Rgb, rgb
from mosskeeper.core.illustrator.vocabulary.outfits import WEAR


def add(f: DrawnFigure, item: Item, colour: Colour) -> None:
    """The outfit's pattern in its second colour, on cloth of its first; it hangs along the spine."""
    kind = f.is_.pattern
    if kind == "plain" or not isinstance(colour, str) or colour != "a":
        return
    base, second = np.asarray(f.is_.colour_a), np.asarray(f.is_.colour_b)
    ink = second if np.abs(base - second).max() > 0.15 else np.clip(base * 0.55, 0, 1)
    long = f.torso + 2.2
    xs, ys = np.arange(-1.7, 1.71, 0.17), np.arange(-0.2, long, 0.19)
    stripes = [ribbon([f.at(x, -0.2), f.at(x * 1.02, f.torso * 0.6), f.at(x * 1.25, long)], [0.030] * 3) for x in xs]
    if kind == "striped":
        f.mark(item, stripes, ink, 0.85, vital=True)
    elif kind == "dotted":
        dots = [ellipse(f.at(x + 0.085 * (j % 2), y), 0.034, 0.034, n=10) for x in xs for j, y in enumerate(ys)]
        f.mark(item, dots, ink, 0.9, vital=True)
    elif kind == "checked":
        f.mark(item, stripes, ink, 0.42, vital=True)
        f.mark(item, [ribbon([f.at(-1.8, y), f.at(0, y + 0.02), f.at(1.8, y)], [0.030] * 3) for y in ys], ink, 0.42, vital=True)
    elif kind in WEAR:
        _worn_down(f, item, kind, ink)
    else:
        for j, y in enumerate(ys[::2]):
            for x in xs[::2]:
                c = f.at(x + 0.17 * (j % 2), y)
                petals = [ellipse(c + point(0.045 * np.cos(a), 0.045 * np.sin(a)), 0.036, 0.018, a, 8) for a in np.linspace(0, 5.03, 5)]
                f.mark(item, petals, ink, 0.85, vital=True)
                f.mark(item, ellipse(c, 0.016, 0.016, n=8), "mustard", 0.95)


_WORN_AT = (
    (-0.24, 0.48, 0.3),
    (0.22, 0.92, -0.2),
    (-0.12, 1.42, 0.1),
    (0.30, 1.78, 0.25),
    (-0.46, 1.95, -0.3),
    (0.10, 2.30, 0.15),
    (-0.30, 2.75, 0.2),
)


def _worn_down(f: DrawnFigure, item: Item, kind: str, ink: Rgb) -> None:
    """Patches, stains or tears of cloth, at places (x, y, slant) on it."""
    for k, (x, y, slant) in enumerate(_WORN_AT):
        c, s = np.cos(slant), np.sin(slant)

        def at(u: float, v: float, x: float = x, y: float = y, c: float = c, s: float = s) -> Points:
            return f.at(x + u * c - v * s, y + u * s + v * c)

        if kind == "patched":
            patch = spline([at(-0.12, -0.11), at(0.12, -0.12), at(0.13, 0.11), at(-0.11, 0.12)], True, 3)
            f.mark(item, patch, np.clip(ink * (1.0, 0.82, 0.9, 1.1)[k % 4], 0, 1), 0.92, vital=True)
            edge = [(-0.12, -0.11), (0.12, -0.12), (0.13, 0.11), (-0.11, 0.12), (-0.12, -0.11)]
            stitches = [ribbon([at(a * 0.9 + b * 0.1, p * 0.9 + q * 0.1), at(a * 0.4 + b * 0.6, p * 0.4 + q * 0.6)], [0.008] * 2)
                        for (a, p), (b, q) in itertools.pairwise(edge)]  # fmt: skip
            f.mark(item, stitches, "deep", 0.8)
        elif kind == "stained":
            f.mark(
                item, [ellipse(at(0, 0), 0.15 - 0.01 * k, 0.10), ellipse(at(0.12, 0.09), 0.06, 0.05)], rgb("4a3a2a"), 0.42, 0.6, vital=True
            )
        else:
            slit = spline([at(-0.15, 0.0), at(-0.05, -0.045), at(0.03, -0.02), at(0.16, -0.03), at(0.05, 0.045), at(-0.04, 0.03)], True, 3)
            f.mark(item, slit, "deep", 0.95, vital=True)
            f.mark(item, taper([at(-0.10, 0.02), at(0.0, 0.035), at(0.10, 0.0)], 0.014), "lit", 0.5)
