"""Hats, caps and scarves. They sit on the head over the hair; a hood is worn alone."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from mosskeeper.core.illustrator import headwear_more
from mosskeeper.core.illustrator.description import Part, Rgb
from mosskeeper.core.illustrator.figure import DrawnFigure
from mosskeeper.core.illustrator.shapes import ellipse, point, ribbon, spline, taper

_SKULL = 0.50  # half width of what sits on the skull, however large a hat is
_BRIM = -0.20  # height from which a crown rises


def draw(f: DrawnFigure) -> None:
    wear = HEADWEAR[f.is_.headwear]
    if wear is not None and not f.hood:
        with f.coloured(_colours(f)), f.stretched(f.is_.headwear_size, _SKULL, _BRIM):
            wear(f)


def _colours(f: DrawnFigure) -> tuple[Rgb, Rgb] | None:
    """First and second colour of what is worn on the head; None: those of the outfit."""
    own = dict(f.is_.tints).get("hat")
    if own is None:
        return f.is_.headwear_colours
    first, second = f.is_.headwear_colours or (f.is_.colour_a, f.is_.colour_b)
    return (own, second) if f.is_.headwear in _FIRST_COLOUR else (first, own)


def _crown(f: DrawnFigure, low: float, height: float, spread: float = 0.0) -> list[tuple[float, float]]:
    k = 0.07 if f.is_.hair in ("curls", "short curls") else 0.0
    w = 0.50 + k + spread
    return [
        (-w, low),
        (-w + 0.01, low - 0.16),
        (-0.36 - k, low - height * 0.72),
        (-0.15, low - height),
        (0.15, low - height),
        (0.36 + k, low - height * 0.72),
        (w - 0.01, low - 0.16),
        (w, low),
    ]


def hat(f: DrawnFigure) -> None:
    """A felt hat with a wide brim and a band."""
    colour = f.colour("b")
    turn = f.turn * 0.05
    brim = spline(
        f.on_head(
            [
                (-0.82, -0.17),
                (-0.55, -0.30),
                (0, -0.34),
                (0.55, -0.30),
                (0.82, -0.17),
                (0.50 + turn, -0.06),
                (turn, -0.03),
                (-0.50 + turn, -0.06),
            ]
        )
    )
    under = f.add(brim, colour * 0.82, Part.HEADWEAR, 163, shade=0.4, drop=0.9)
    f.mark(under, ellipse(f.on_head((turn, -0.16))[0], 0.44, 0.10), "deep", 0.45, 1.5)
    crown = f.add(spline(f.on_head(_crown(f, -0.20, 0.60, -0.03))), colour, Part.HEADWEAR, 164, shade=0.7)
    f.mark(crown, ribbon(f.on_head([(-0.54, -0.30), (0, -0.24), (0.54, -0.30)]), [0.055] * 3), "a", 0.95, vital=True)
    f.mark(crown, taper(f.on_head([(-0.12, -0.74), (0.0, -0.66), (0.14, -0.76)]), 0.03), "shade", 0.7, 0.8)


def cap(f: DrawnFigure) -> None:
    """A soft cap with a short peak."""
    colour, turn = f.colour("b"), f.turn
    dome = f.add(spline(f.on_head(_crown(f, -0.20, 0.50, 0.02))), colour, Part.HEADWEAR, 164, shade=0.7)
    seams = (taper(f.on_head([(x * 1.5, -0.22), (x * 1.1, -0.50), (x * 0.2, -0.68)]), 0.010) for x in (-0.24, 0.0, 0.24))
    f.mark(dome, seams, "shade", 0.7)
    peak = [
        (-0.40 + turn * 0.25, -0.24),
        (turn * 0.2, -0.27),
        (0.40 + turn * 0.25, -0.24),
        (0.42 + turn * 0.34, -0.12),
        (turn * 0.42, -0.06),
        (-0.42 + turn * 0.34, -0.12),
    ]
    f.add(spline(f.on_head(peak)), colour * 0.78, Part.HEADWEAR, 165, shade=0.4, drop=0.8)
    f.add(ellipse(f.on_head((0, -0.70))[0], 0.035, 0.03), f.colour("a"), Part.HEADWEAR, 165, shade=0.2, drop=0.2)


def headscarf(f: DrawnFigure) -> None:
    """A scarf tied under the chin's side, hair showing at the brow."""
    colour, turn = f.colour("a"), f.turn
    outer = _crown(f, 0.14, 0.80, 0.02)
    inner = [
        (0.37 + turn * 0.03, 0.16),
        (0.365, -0.10),
        (0.26, -0.27),
        (turn * 0.05, -0.33),
        (-0.26, -0.27),
        (-0.365, -0.10),
        (-0.37 + turn * 0.03, 0.16),
    ]
    cloth = f.add(spline(f.on_head([*outer, (0.44, 0.30), *inner, (-0.44, 0.30)]), True, 5), colour, Part.HEADWEAR, 164, shade=0.6)
    f.mark(cloth, (taper(f.on_head([(s * 0.10, -0.60), (s * 0.40, -0.30), (s * 0.47, 0.10)]), 0.02) for s in (-1, 1)), "shade", 0.6, 0.8)
    dots = (ellipse(f.on_head((x, y))[0], 0.026, 0.026, n=10) for x in np.linspace(-0.42, 0.42, 6) for y in (-0.56, -0.42))
    f.mark(cloth, dots, "b", 0.9)
    knot = f.on_head((0.30 * (1 if turn <= 0 else -1), 0.50))[0]
    for a in (-0.5, 0.35):
        end = knot + point(np.sin(a) * 0.24, np.cos(a) * 0.24)
        f.add(ribbon(np.array([knot, (knot + end) / 2, end]), [0.03, 0.05, 0.02]), colour, Part.HEADWEAR, 163.5, shade=0.3, drop=0.3)
    f.add(ellipse(knot, 0.06, 0.05), colour, Part.HEADWEAR, 164.5, shade=0.3, drop=0.3)


HEADWEAR: dict[str, Callable[[DrawnFigure], None] | None] = {"none": None, "hat": hat, "cap": cap, "headscarf": headscarf}
USUAL = tuple(HEADWEAR)  # what somebody may wear by chance
HEADWEAR |= headwear_more.MORE
_FIRST_COLOUR = ("headscarf",)  # the others are in the second colour, with something in the first
CROWN = {"hat": 0.22, "cap": 0.12} | headwear_more.CROWN  # hh that it rises above the skull
