"""Kitchen: a tiled hearth with a pot, shelves of crockery, a window over the sink, a long table."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import ellipse, point, points, rectangle, ribbon, spline, taper


def build(s: PlaceFrame) -> None:
    s.plain(rectangle(-1, -0.9, 2, 1.6), "d8c6a4", Part.STRUCTURE, 0.70, 0)
    _tiles(s)
    _window(s)
    _hearth(s)
    _shelves(s)
    for x in np.arange(-0.7, 1.8, 0.31):
        s.add(rectangle(x, -0.7, x + 0.045, -0.02), "7d5a40", Part.STRUCTURE, 0.55, 30, drop=0.9, shade=0.2)
    s.add(rectangle(-0.9, -0.04, 1.9, 0.02), "6b4a34", Part.STRUCTURE, 0.54, 30.2, drop=0.8)
    for i, x in enumerate((0.34, 0.46, 0.58)):
        _pan(s, x, 0.02, 0.05 + 0.008 * i, ("b8703f", "7d7a76", "b0863f")[i])
    s.ground(0.96, "a87f5c", 0.50, 0.28)
    for i in range(6):
        y0, y1 = 0.965 + 0.28 * (i / 6) ** 1.35, 0.965 + 0.28 * ((i + 0.94) / 6) ** 1.35
        n = 11 - i
        tiles = [
            points(
                (0.5 + (j - n / 2) * 2.6 / n + 0.004, y0),
                (0.5 + (j + 1 - n / 2) * 2.6 / n - 0.004, y0),
                (0.5 + (j + 1 - n / 2) * 2.75 / n - 0.004, y1),
                (0.5 + (j - n / 2) * 2.75 / n + 0.004, y1),
            )
            for j in range(n)
        ]
        s.add(tiles[i % 2 :: 2], "b5674a", Part.GROUND, 0.45, 94, line=0.3, drop=0.0)
        s.add(tiles[(i + 1) % 2 :: 2], "d9c29a", Part.GROUND, 0.45, 94, line=0.3, drop=0.0)
    _table(s)


def _tiles(s: PlaceFrame) -> None:
    rows = [
        rectangle(-0.9 + i * 0.075 + 0.003, 0.60 + j * 0.075, -0.9 + (i + 1) * 0.075 - 0.003, 0.672 + j * 0.075)
        for i in range(38)
        for j in range(5)
    ]
    s.add(rows, "e8e0cc", Part.STRUCTURE, 0.69, 1, line=0.3, drop=0.2)
    s.add([r for r in rows if s.rng.random() < 0.16], "6f9aa0", Part.STRUCTURE, 0.688, 1.1, line=0.3, drop=0.0)


def _window(s: PlaceFrame) -> None:
    s.add(rectangle(0.30, 0.10, 0.66, 0.56), "f0e6d0", Part.STRUCTURE, 0.68, 2, drop=0.9)
    glass = s.plain(rectangle(0.32, 0.12, 0.64, 0.54), s.light.sky_at(0.2), Part.SKY, 0.97, 2.1, emission=1.0)
    for i in range(9):
        s.mark(glass, rectangle(0, 0.12 + i * 0.047, 1, 0.6), s.light.sky_at(0.2 + 0.09 * i), 1.0)
    s.mark(glass, [ellipse((0.34 + i * 0.05, 0.53), 0.05, 0.06 + 0.02 * (i % 2), n=14) for i in range(7)], "6f8f6a", 0.85)
    s.add([rectangle(0.476, 0.12, 0.484, 0.54), rectangle(0.32, 0.30, 0.64, 0.308)], "f0e6d0", Part.STRUCTURE, 0.675, 2.2, drop=0.3)
    s.add(rectangle(0.28, 0.555, 0.68, 0.575), "c9a878", Part.STRUCTURE, 0.66, 2.3, drop=0.6)
    for x, colour in ((0.36, "b4623f"), (0.58, "b4623f"), (0.47, "5f8a8a")):
        s.add(
            spline(points((x - 0.03, 0.50), (x + 0.03, 0.50), (x + 0.022, 0.557), (x - 0.022, 0.557)), True, 4),
            colour,
            Part.STRUCTURE,
            0.65,
            2.5,
            shade=0.4,
            drop=0.5,
        )
        s.leaves(point(x, 0.46), 0.045, ("5f8a4e", "7a9a4e")[x > 0.5], 0.655, 16, slot=2.4, leaf=0.02)
    s.lamp(point(0.48, 0.33), 0.5, "8fb0ff" if s.light.background < 0.7 else "fff0d0", 0.30)


def _hearth(s: PlaceFrame) -> None:
    s.add(points((0.72, 0.16), (1.30, 0.16), (1.24, -0.5), (0.80, -0.5)), "c9b894", Part.STRUCTURE, 0.62, 10, drop=1.0, gradient=0.4)
    s.add(rectangle(0.70, 0.15, 1.34, 0.20), "8a6044", Part.STRUCTURE, 0.60, 10.2, drop=0.9)
    s.add(rectangle(0.74, 0.20, 1.30, 0.98), "a5694c", Part.STRUCTURE, 0.61, 10.1, drop=0.8)
    s.add(rectangle(0.80, 0.44, 1.24, 0.96), "3a2c28", Part.STRUCTURE, 0.605, 10.3, drop=0.3)
    for dx, h in ((-0.08, 0.16), (-0.03, 0.22), (0.03, 0.19), (0.08, 0.14)):
        x = 1.0 + dx
        s.plain(
            spline(points((x - 0.03, 0.92), (x - 0.02, 0.92 - h * 0.5), (x, 0.92 - h), (x + 0.02, 0.92 - h * 0.5), (x + 0.03, 0.92))),
            "ffb04a",
            Part.LAMP,
            0.60,
            10.4,
            emission=1.0,
            alpha=0.9,
        )
    s.lamp(point(1.0, 0.82), 0.46, "ff9a4a", 0.7)
    s.add(ribbon(points((1.0, 0.44), (1.0, 0.60)), [0.006] * 2), "2f2c2c", Part.STRUCTURE, 0.60, 10.5)
    s.add(
        spline(points((0.90, 0.62), (1.10, 0.62), (1.12, 0.72), (1.05, 0.80), (0.95, 0.80), (0.88, 0.72)), True, 4),
        "4a4a4c",
        Part.STRUCTURE,
        0.59,
        10.6,
        shade=0.6,
        drop=0.8,
    )


def _shelves(s: PlaceFrame) -> None:
    for y in (0.12, 0.30, 0.48):
        s.add(rectangle(-0.60, y, 0.24, y + 0.022), "8a6044", Part.STRUCTURE, 0.64, 12, drop=0.9)
        x = -0.56
        while x < 0.20:
            w, h = s.rng.uniform(0.035, 0.06), s.rng.uniform(0.05, 0.11)
            colour = ("f0e6d0", "6f9aa0", "c9543c", "e0b45a", "8a9a6a", "b8703f")[s.rng.integers(6)]
            jar = points(
                (x, y), (x - 0.004, y - h * 0.7), (x + w * 0.2, y - h), (x + w * 0.8, y - h), (x + w + 0.004, y - h * 0.7), (x + w, y)
            )
            s.add(spline(jar, True, 4), colour, Part.STRUCTURE, 0.635, 12.1, shade=0.35, line=0.5, drop=0.5)
            x += w + 0.018
    for i in range(5):
        s.add(
            taper([(-0.5 + i * 0.14, 0.03), (-0.495 + i * 0.14, 0.08)], 0.016, 0.6),
            ("8a9a5a", "a86a8a")[i % 2],
            Part.FOLIAGE,
            0.6,
            30.4,
            drop=0.4,
        )


def _pan(s: PlaceFrame, x: float, y: float, r: float, colour: str) -> None:
    s.add(ribbon(points((x, y), (x, y + 0.08)), [0.006] * 2), "4a4440", Part.STRUCTURE, 0.53, 31, drop=0.4)
    s.add(ellipse((x, y + 0.08 + r), r, r), colour, Part.STRUCTURE, 0.525, 31.1, shade=0.5, drop=0.8)


def _table(s: PlaceFrame) -> None:
    s.add([rectangle(-0.34, 0.93, -0.30, 1.2), rectangle(0.16, 0.93, 0.20, 1.2)], "7d5a40", Part.STRUCTURE, 0.40, 96, drop=0.7)
    s.add(rectangle(-0.45, 0.895, 0.25, 0.935), "b98a5c", Part.STRUCTURE, 0.39, 96.2, drop=0.9)
    s.add(
        spline(points((-0.02, 0.80), (0.12, 0.80), (0.10, 0.895), (0.0, 0.895)), True, 4),
        "f0e6d0",
        Part.STRUCTURE,
        0.385,
        96.3,
        shade=0.5,
        drop=0.6,
    )
    for i in range(5):
        s.add(
            ellipse((0.0 + i * 0.026, 0.795 - 0.012 * (i % 2)), 0.02, 0.02, n=14),
            ("d9634a", "8aa04a", "e8c25a")[i % 3],
            Part.STRUCTURE,
            0.386,
            96.25,
            shade=0.3,
            drop=0.3,
        )
    s.add(
        spline(points((-0.26, 0.86), (-0.14, 0.86), (-0.12, 0.895), (-0.28, 0.895)), True, 3),
        "c9925a",
        Part.STRUCTURE,
        0.385,
        96.3,
        shade=0.5,
        drop=0.5,
    )
    s.bulb(point(0.185, 0.865), 0.018, 0.385, 96.4, 0.30, 0.7)
