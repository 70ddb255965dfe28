"""Animals that stand beside a figure. A companion is a function and a line in `COMPANIONS`.

Coordinates are those of the figure (head heights, the ground at 0): `at(x, y)` lies x to the side and y above the
ground, seen from the animal, which looks towards the figure.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.figure import DrawnFigure
from mosskeeper.core.illustrator.items import Item
from mosskeeper.core.illustrator.shapes import Points, ellipse, point, points, ribbon, spline, taper
from mosskeeper.core.illustrator.vocabulary.colours import Rgb, rgb

At = Callable[[float, float], Points]
_APART = 1.15  # from the outer foot, hh
_ROOM = 0.08  # of the picture's width, at its borders
_SLOT = 180.0  # before the figure


def draw(f: DrawnFigure, name: str) -> None:
    """Draws the companion of a figure, in the frame of that figure with the companion's number.

    It stands behind the figure's back where the frame has room there, else before it, else in front of the whole company.
    """
    companion = COMPANIONS[name]
    if companion is None:
        return
    middle = (f.j["right ankle"][0] + f.j["left ankle"][0]) / 2
    x0 = min(f.j["right ankle"][0], f.j["right knee"][0]) - _APART
    at_back, at_front = (float(f.px((x, 0.0))[0]) / f.display.width for x in (x0, 2 * middle - x0))
    if _ROOM < at_back < 1 - _ROOM or not _ROOM < at_front < 1 - _ROOM:
        if not _ROOM < at_back < 1 - _ROOM:
            x0 = float((f.display.width / 2 - f.origin[0]) / (f.scale * f.facing))
        stand(f, companion, x0)
    else:
        with f.mirrored_about(float(middle)):
            stand(f, companion, x0)


def stand(f: DrawnFigure, companion: Callable[[DrawnFigure, At], None], x0: float) -> None:
    """Draws a companion with its middle at `x0` of the figure's frame."""

    def at(x: float, y: float) -> Points:
        return point(x0 + x, 0.12 - y)

    f.plain(ellipse(at(0, 0), 0.55, 0.08), rgb("2a1f33"), Part.GROUND, 99.1, depth=0.29, alpha=0.38, blur=4.0, labelled=False)
    companion(f, at)


def _eye(f: DrawnFigure, c: Points, r: float, colour: Rgb) -> None:
    f.plain(ellipse(c, r, r * 1.1, n=14), colour, Part.COMPANION, _SLOT + 5)
    f.plain(ellipse(c + point(0.1 * r, 0), r * 0.55, r * 0.7, n=12), rgb("1f1a1c"), Part.COMPANION, _SLOT + 5.1)
    f.plain(ellipse(c + point(-0.25 * r, -0.35 * r), r * 0.25, r * 0.25, n=8), np.ones(3), Part.COMPANION, _SLOT + 5.2, emission=0.8)


def _body(f: DrawnFigure, outline: list[Points], colour: Rgb, slot: float, shade: float = 0.7) -> Item:
    return f.add(spline(np.array(outline)), colour, Part.COMPANION, _SLOT + slot, shade=shade, depth=0.28)


def fox(f: DrawnFigure, at: At) -> None:
    red, white, dark = rgb("c2662f"), rgb("f2e6d4"), rgb("3f2c28")
    tail = f.add(
        ribbon([at(-0.42, 0.30), at(-0.80, 0.34), at(-0.98, 0.66), at(-0.86, 0.98)], [0.08, 0.18, 0.17, 0.02]),
        red,
        Part.COMPANION,
        _SLOT,
        shade=0.6,
    )
    f.mark(tail, ellipse(at(-0.89, 0.88), 0.14, 0.16), white, 0.95, 0.6, vital=True)
    for x in (-0.32, -0.20, 0.22, 0.34):
        f.add(
            ribbon([at(x, 0.40), at(x + 0.02, 0.20), at(x, 0.02)], [0.085, 0.055, 0.045]),
            dark if x in (-0.20, 0.34) else red * 0.8,
            Part.COMPANION,
            _SLOT + 1,
            shade=0.4,
        )
    _body(f, [at(-0.46, 0.46), at(-0.30, 0.66), at(0.10, 0.66), at(0.36, 0.72), at(0.42, 0.46), at(0.20, 0.34), at(-0.28, 0.32)], red, 2)
    chest = [at(0.26, 0.62), at(0.44, 0.56), at(0.40, 0.36), at(0.26, 0.36)]
    f.add(spline(np.array(chest)), white, Part.COMPANION, _SLOT + 2.5, shade=0.3, drop=0.0)
    for x in (0.24, 0.50):
        f.add(points(at(x - 0.09, 1.00), at(x, 1.26), at(x + 0.09, 0.98)), red * 0.9, Part.COMPANION, _SLOT + 3, shade=0.3)
        f.plain(points(at(x - 0.04, 1.02), at(x, 1.17), at(x + 0.04, 1.01)), dark, Part.COMPANION, _SLOT + 3.1)
    head = _body(
        f,
        [
            at(0.14, 0.92),
            at(0.24, 1.06),
            at(0.48, 1.06),
            at(0.60, 0.92),
            at(0.52, 0.78),
            at(0.66, 0.70),
            at(0.54, 0.66),
            at(0.36, 0.68),
            at(0.20, 0.76),
        ],
        red,
        4,
    )
    f.mark(
        head, spline(np.array([at(0.20, 0.80), at(0.42, 0.84), at(0.66, 0.72), at(0.5, 0.62), at(0.3, 0.64)])), white, 0.95, 0.4, vital=True
    )
    _eye(f, at(0.33, 0.90), 0.035, rgb("c8923f"))
    _eye(f, at(0.50, 0.89), 0.032, rgb("c8923f"))
    f.plain(ellipse(at(0.64, 0.725), 0.035, 0.03), dark, Part.COMPANION, _SLOT + 5.3)


def cat(f: DrawnFigure, at: At) -> None:
    grey, pale, dark = rgb("6a6f78"), rgb("e8e2d6"), rgb("3f434c")
    f.add(
        ribbon([at(-0.30, 0.14), at(-0.62, 0.12), at(-0.74, 0.42), at(-0.60, 0.62)], [0.07, 0.07, 0.06, 0.03]),
        grey,
        Part.COMPANION,
        _SLOT,
        shade=0.5,
    )
    body = _body(f, [at(-0.34, 0.06), at(-0.36, 0.36), at(-0.16, 0.66), at(0.10, 0.76), at(0.24, 0.60), at(0.26, 0.06)], grey, 1)
    bars = (taper([at(-0.36, y), at(-0.24, y + 0.02), at(-0.12, y - 0.03)], 0.022) for y in (0.24, 0.36, 0.48))
    f.mark(body, bars, dark, 0.7)
    f.add(
        spline(np.array([at(0.02, 0.62), at(0.22, 0.58), at(0.22, 0.28), at(0.08, 0.24)])),
        pale,
        Part.COMPANION,
        _SLOT + 1.5,
        shade=0.3,
        drop=0.0,
    )
    for x in (0.06, 0.20):
        f.add(
            ribbon([at(x, 0.36), at(x + 0.01, 0.16), at(x + 0.02, 0.03)], [0.07, 0.055, 0.065]), grey, Part.COMPANION, _SLOT + 2, shade=0.4
        )
        f.add(ellipse(at(x + 0.03, 0.03), 0.075, 0.045), pale, Part.COMPANION, _SLOT + 2.1, shade=0.3)
    for x in (-0.02, 0.28):
        f.add(points(at(x - 0.09, 1.00), at(x, 1.20), at(x + 0.09, 0.98)), grey, Part.COMPANION, _SLOT + 3, shade=0.3)
        f.plain(points(at(x - 0.04, 1.0), at(x, 1.12), at(x + 0.04, 0.99)), rgb("c99a8f"), Part.COMPANION, _SLOT + 3.1)
    head = _body(
        f,
        [at(-0.16, 0.86), at(-0.08, 1.05), at(0.14, 1.08), at(0.36, 1.04), at(0.43, 0.86), at(0.30, 0.70), at(0.13, 0.66), at(-0.05, 0.70)],
        grey,
        4,
    )
    f.mark(head, (taper([at(0.14 + x, 1.06), at(0.14 + x * 0.8, 0.98)], 0.018) for x in (-0.08, 0.0, 0.08)), dark, 0.8)
    f.mark(head, ellipse(at(0.15, 0.75), 0.13, 0.075), pale, 0.95, 0.4, vital=True)
    for x in (0.03, 0.27):
        _eye(f, at(x, 0.88), 0.045, rgb("b8c04a"))
    f.plain(points(at(0.12, 0.795), at(0.18, 0.795), at(0.15, 0.765)), rgb("b87a72"), Part.COMPANION, _SLOT + 5.3)
    whiskers = [taper([at(0.15 + s * 0.09, 0.76), at(0.15 + s * 0.34, 0.76 + d)], 0.006) for s in (-1, 1) for d in (-0.03, 0.03)]
    f.plain(whiskers, pale, Part.COMPANION, _SLOT + 5.4)


def heron(f: DrawnFigure, at: At) -> None:
    blue, pale, dark = rgb("8496a8"), rgb("eceae2"), rgb("3a424e")
    for x in (-0.06, 0.10):
        f.add(
            ribbon([at(x, 0.95), at(x + 0.03, 0.50), at(x, 0.06)], [0.032, 0.026, 0.022]), rgb("b8923f"), Part.COMPANION, _SLOT, shade=0.2
        )
        f.add(
            [taper([at(x, 0.05), at(x + dx, 0.01)], 0.018) for dx in (-0.10, 0.06, 0.15)], rgb("b8923f"), Part.COMPANION, _SLOT, shade=0.0
        )
    f.add(
        ribbon([at(0.16, 1.20), at(0.40, 1.48), at(0.14, 1.78), at(0.30, 2.12)], [0.11, 0.075, 0.06, 0.065]),
        pale,
        Part.COMPANION,
        _SLOT + 1,
        shade=0.5,
    )
    body = _body(f, [at(-0.62, 0.84), at(-0.30, 1.14), at(0.06, 1.34), at(0.28, 1.24), at(0.22, 0.98), at(-0.06, 0.86)], blue, 2)
    feathers = (
        taper([at(-0.02 - 0.1 * k, 1.24 - 0.06 * k), at(-0.24 - 0.09 * k, 1.02 - 0.04 * k), at(-0.52 - 0.03 * k, 0.86)], 0.045)
        for k in range(4)
    )
    f.mark(body, feathers, "shade", 0.7, 0.6)
    f.mark(body, [taper([at(-0.10, 0.94), at(-0.40, 0.86), at(-0.64, 0.82)], 0.05)], dark, 0.85, vital=True)
    f.add(
        spline(np.array([at(0.20, 2.10), at(0.30, 2.25), at(0.44, 2.22), at(0.46, 2.12), at(0.34, 2.06)])),
        pale,
        Part.COMPANION,
        _SLOT + 3,
        shade=0.4,
    )
    f.add(taper([at(0.40, 2.22), at(0.18, 2.26), at(-0.06, 2.16)], 0.035, 0.3), dark, Part.COMPANION, _SLOT + 3.5, shade=0.0)
    f.add(points(at(0.43, 2.20), at(0.86, 2.10), at(0.44, 2.11)), rgb("d9a03a"), Part.COMPANION, _SLOT + 3.2, shade=0.2)
    _eye(f, at(0.38, 2.175), 0.026, rgb("e0b43a"))


def snail(f: DrawnFigure, at: At) -> None:
    skin, shell = rgb("b8a27c"), rgb("a8623a")
    foot = [at(-0.60, 0.02), at(-0.30, 0.15), at(0.20, 0.18), at(0.40, 0.44), at(0.58, 0.46), at(0.60, 0.30), at(0.50, 0.03)]
    _body(f, foot, skin, 1, 0.6)
    for x, lean in ((0.46, -0.03), (0.56, 0.07)):
        f.add(ribbon([at(x, 0.42), at(x + lean, 0.66)], [0.022, 0.018]), skin, Part.COMPANION, _SLOT + 2, shade=0.2)
        f.plain(ellipse(at(x + lean, 0.68), 0.035, 0.035), rgb("2f2a2c"), Part.COMPANION, _SLOT + 2.1)
    house = f.add(ellipse(at(-0.10, 0.46), 0.40, 0.36, n=34), shell, Part.COMPANION, _SLOT + 3, shade=0.8)
    t = np.linspace(0, 4.6 * np.pi, 46)
    r = 0.34 * (1 - t / (5.1 * np.pi))
    spiral = np.stack([r * np.cos(t), r * np.sin(t)], 1) * (1, 0.9) + at(-0.10, 0.46)
    f.mark(house, ribbon(spiral, [0.030, 0.026, 0.014]), "deep", 0.8, vital=True)
    f.mark(house, ribbon(spiral * (1, 1) + (0.02, -0.03), [0.014, 0.012, 0.008]), "lit", 0.7)
    f.mark(
        house,
        (ellipse(at(-0.10 + 0.36 * np.cos(a), 0.46 + 0.32 * np.sin(a)), 0.03, 0.045, -a, 10) for a in np.linspace(0.3, 5.9, 9)),
        rgb("e0b874"),
        0.7,
    )
    moss = [ellipse(at(-0.10 + dx, 0.80 - 0.05 * abs(dx) * 4), 0.08, 0.05, n=12) for dx in (-0.16, -0.04, 0.09)]
    f.add(moss, "moss", Part.COMPANION, _SLOT + 3.5, shade=0.4, drop=0.2)


COMPANIONS: dict[str, Callable[[DrawnFigure, At], None] | None] = {"nobody": None, "fox": fox, "cat": cat, "heron": heron, "snail": snail}
