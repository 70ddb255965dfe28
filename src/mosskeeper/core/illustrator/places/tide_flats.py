"""Tide flats: wet sand to the horizon, pools that hold the sky, posts and a leaning boat."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import ellipse, point, points, rectangle, ribbon, spline, taper, wobble

_HORIZON = 0.62


def build(s: PlaceFrame) -> None:
    s.sky()
    s.plain(rectangle(-0.9, _HORIZON - 0.012, 1.9, _HORIZON + 0.05), s.light.sky_at(0.4) * 0.8, Part.WATER, 0.95, 20, emission=0.7)
    islands = points(
        (-0.2, _HORIZON),
        (-0.05, _HORIZON - 0.03),
        (0.16, _HORIZON - 0.035),
        (0.30, _HORIZON),
        (0.80, _HORIZON),
        (0.92, _HORIZON - 0.022),
        (1.2, _HORIZON - 0.03),
        (1.4, _HORIZON),
    )
    s.add(spline(islands, True, 4), "7f8a9a", Part.STRUCTURE, 0.93, 20.5, line=0.3, drop=0.3)
    _sand(s)
    for depth, y, size in ((0.80, 0.69, 0.5), (0.62, 0.78, 0.8), (0.5, 0.90, 1.2)):
        _posts(s, y, size, depth)
    if not s.taken(0.56, 0.84, 1.06, 1.0):
        _boat(s)
    _birds(s)
    for side in (-1, 1):
        for i in range(7):
            root = point(0.5 + side * (0.46 + 0.05 * i), 1.06 + 0.03 * (i % 3))
            for k in range(4):
                blade = [root + (0.008 * k, 0), root + (0.01 * k + 0.012 * side, -0.09), root + (0.012 * k + side * 0.05, -0.17 - 0.02 * k)]
                s.add(
                    taper(blade, 0.0045, 0.3), ("8a9a5a", "a3a860", "6f8a54")[k % 3], Part.FOLIAGE, 0.38, 96 + 0.1 * i, line=0.3, drop=0.4
                )


def _sand(s: PlaceFrame) -> None:
    for i in range(16):
        t = i / 16
        depth = 0.9 + (0.28 - 0.9) * min(1, t**0.7 * 1.15)
        s.plain(rectangle(-0.9, _HORIZON + 0.03 + 1.2 * t**1.9, 1.9, 1.9), "b8a890", Part.GROUND, depth, 21 + i * 0.05)
    for _ in range(26):
        y = _HORIZON + 0.05 + 0.60 * s.rng.random() ** 1.6
        k = (y - _HORIZON) / 0.6
        w = s.rng.uniform(0.10, 0.34) * (0.35 + 1.1 * k)
        pool = wobble(ellipse((s.rng.uniform(-0.4, 1.4), y), w, w * (0.05 + 0.07 * k), 0, 30), 0.01 * (0.3 + k), s.rng)
        item = s.plain(pool, s.light.sky_at(0.25 + 0.7 * (1 - k)), Part.WATER, 0.85 - 0.5 * k, 40 + 40 * k, emission=0.75, alpha=0.9)
        s.mark(item, taper([(pool[:, 0].min(), y - w * 0.01), (pool[:, 0].max(), y - w * 0.01)], w * 0.012), "lit", 0.5)
    ripples = [
        taper([(x, y), (x + length * 0.5, y + 0.004), (x + length, y)], 0.0022)
        for x, y, length in ((s.rng.uniform(-0.3, 1.2), 0.86 + 0.36 * s.rng.random(), s.rng.uniform(0.05, 0.16)) for _ in range(60))
    ]
    s.plain(ripples, "8f8068", Part.GROUND, 0.4, 92, alpha=0.55, labelled=False)


def _posts(s: PlaceFrame, y: float, size: float, depth: float) -> None:
    posts = []
    for i in range(8):
        x, lean = -0.3 + i * 0.23 + s.rng.uniform(-0.05, 0.05), s.rng.uniform(-0.012, 0.012)
        posts.append(ribbon(points((x, y), (x + lean * size, y - s.rng.uniform(0.06, 0.11) * size)), [0.007 * size, 0.006 * size]))
    s.add(posts, "6b5a50", Part.STRUCTURE, depth, line=0.4, drop=0.5)


def _boat(s: PlaceFrame) -> None:
    x, y = 0.82, 0.93
    s.plain(ellipse((x, y + 0.045), 0.22, 0.02), "5f5048", Part.GROUND, 0.45, 94, alpha=0.35, blur=4.0, labelled=False)
    hull = points(
        (x - 0.21, y - 0.07), (x - 0.13, y - 0.03), (x + 0.12, y - 0.01), (x + 0.22, y - 0.03), (x + 0.15, y + 0.05), (x - 0.12, y + 0.05)
    )
    item = s.add(spline(hull, True, 5), "3f6f7a", Part.STRUCTURE, 0.45, 95, shade=0.4, drop=1.0)
    s.mark(item, ribbon(points((x - 0.25, y - 0.055), (x, y - 0.012), (x + 0.25, y - 0.02)), [0.008] * 3), "f0e4cf", 0.9)
    s.add(ribbon(points((x - 0.02, y - 0.02), (x + 0.05, y - 0.42)), [0.008, 0.005]), "7d5a40", Part.STRUCTURE, 0.45, 94.9, drop=0.5)
    s.plain(
        [taper([(x + 0.05, y - 0.42), (x + 0.20, y - 0.03)], 0.0015), taper([(x + 0.05, y - 0.42), (x - 0.19, y - 0.06)], 0.0015)],
        "5a4a40",
        Part.STRUCTURE,
        0.45,
        94.8,
    )
    s.bulb(point(x + 0.04, y - 0.36), 0.014, 0.445, 95.2, 0.24, 0.7)


def _birds(s: PlaceFrame) -> None:
    for x, y, k in ((0.16, 0.83, 1.0), (0.24, 0.815, 0.9), (0.10, 0.80, 0.8)):
        s.add(ellipse((x, y - 0.022 * k), 0.016 * k, 0.010 * k, -0.3, 14), "e6e0d4", Part.STRUCTURE, 0.6, 70, line=0.4, drop=0.3)
        legs = [taper([(x + d * k, y - 0.014 * k), (x + d * k, y + 0.004)], 0.0016 * k) for d in (-0.004, 0.004)]
        s.plain(
            [*legs, taper([(x + 0.014 * k, y - 0.03 * k), (x + 0.034 * k, y - 0.026 * k)], 0.002 * k)], "8a5a3a", Part.STRUCTURE, 0.6, 69.9
        )
    far = [
        taper([(x - 0.016, y - 0.004), (x, y), (x + 0.016, y - 0.005)], 0.0022)
        for x, y in zip(np.linspace(0.2, 0.7, 7), 0.30 + 0.05 * s.rng.random(7), strict=True)
    ]
    s.plain(far, "5f6674", Part.STRUCTURE, 0.9, 19)
