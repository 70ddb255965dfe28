"""Lamp quay: a stone quay with tall lamps in a row, boats and masts in the haze."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import ellipse, point, points, rectangle, ribbon, spline, taper, wobble

_LEVEL = 0.74


def build(s: PlaceFrame) -> None:
    s.sky()
    _far_shore(s)
    s.water(_LEVEL, 60, reach=0.30)
    for x, y, size, depth, colour in (
        (0.20, 0.80, 0.10, 0.78, "8a5a4a"),
        (0.66, 0.79, 0.08, 0.84, "4f6f7a"),
        (0.92, 0.88, 0.17, 0.60, "7a3f3a"),
    ):
        _ship(s, x, y, size, depth, colour)
    s.haze(((0.70, 0.40), (0.78, 0.30)), 76)
    _quay(s)
    for i, (x, scale) in enumerate(((-0.30, 0.58), (0.08, 0.72), (0.98, 0.95), (1.32, 0.72))):
        _lamp_post(s, x, 1.02 + 0.03 * scale, scale, 0.46 - 0.02 * i)
    for x in (0.0, 0.34, 0.68, 1.02):
        _bollard(s, x)


def _far_shore(s: PlaceFrame) -> None:
    x, houses = -0.5, []
    while x < 1.5:
        w, h = s.rng.uniform(0.05, 0.11), s.rng.uniform(0.06, 0.17)
        houses.append(
            points((x, _LEVEL + 0.01), (x, _LEVEL - h), (x + w / 2, _LEVEL - h - 0.03), (x + w, _LEVEL - h), (x + w, _LEVEL + 0.01))
        )
        x += w
    s.add(houses, "7f7a94", Part.STRUCTURE, 0.94, 20, line=0.4, drop=0.6)
    if s.light.dark:
        lights = [ellipse((s.rng.uniform(-0.3, 1.3), _LEVEL - s.rng.uniform(0.01, 0.08)), 0.003, 0.004, n=6) for _ in range(30)]
        s.plain(lights, "ffd890", Part.LAMP, 0.93, 21, emission=1.0)


def _ship(s: PlaceFrame, x: float, y: float, size: float, depth: float, colour: str) -> None:
    slot = 62 + (1 - depth) * 20
    masts = [
        ribbon(points((x + dx * size, y), (x + dx * size + 0.004, y - h * size)), [0.006 * size / 0.1, 0.003 * size / 0.1])
        for dx, h in ((-0.25, 2.0), (0.25, 2.6))
    ]
    s.add(masts, "5a4638", Part.STRUCTURE, depth, slot, line=0.4, drop=0.4)
    ropes = [
        taper([(x + a * size, y - h * size), (x + b * size, y - 0.15 * size)], 0.0014)
        for a, h, b in ((0.25, 2.5, 0.95), (0.25, 2.5, -0.25), (-0.25, 1.9, -0.95))
    ]
    s.plain(ropes, "4a3f3a", Part.STRUCTURE, depth, slot)
    sail = points((x - 0.20 * size, y - 1.8 * size), (x + 0.22 * size, y - 0.5 * size), (x - 0.22 * size, y - 0.45 * size))
    s.add(sail, "e6dcc4", Part.STRUCTURE, depth, slot + 0.01, gradient=0.4, line=0.5)
    hull = points(
        (x - size, y - 0.30 * size), (x + size * 1.1, y - 0.36 * size), (x + size * 0.8, y + 0.12 * size), (x - size * 0.8, y + 0.12 * size)
    )
    item = s.add(spline(hull, True, 4), colour, Part.STRUCTURE, depth, slot + 0.02, drop=0.8, shade=0.2)
    s.mark(item, ribbon(points((x - size * 1.2, y - 0.2 * size), (x + size * 1.2, y - 0.24 * size)), [0.05 * size] * 2), "f0d8a8", 0.7)
    s.bulb(point(x + size * 0.8, y - 0.46 * size), 0.05 * size, depth - 0.01, slot + 0.03, size * 1.2, 0.6)


def _quay(s: PlaceFrame) -> None:
    q0 = 1.0
    s.add(rectangle(-0.9, q0, 1.9, q0 + 0.07), "8f8a86", Part.STRUCTURE, 0.40, 93, drop=0.8, gradient=0.6)
    s.ground(q0 + 0.02, "a8a29a", 0.38, 0.28)
    for i in range(6):
        y0, y1 = q0 + 0.022 + 0.24 * (i / 6) ** 1.3, q0 + 0.022 + 0.24 * ((i + 0.92) / 6) ** 1.3
        n = 12 - i
        stones = [
            points(
                (0.5 + (j - n / 2) * 2.6 / n + 0.006 + (i % 2) * 0.06, y0),
                (0.5 + (j + 1 - n / 2) * 2.6 / n - 0.006 + (i % 2) * 0.06, y0),
                (0.5 + (j + 1 - n / 2) * 2.7 / n - 0.006 + (i % 2) * 0.06, y1),
                (0.5 + (j - n / 2) * 2.7 / n + 0.006 + (i % 2) * 0.06, y1),
            )
            for j in range(n)
        ]
        s.add(stones, ("b8b2a8", "a49e96")[i % 2], Part.GROUND, 0.34, 94.5, line=0.3, drop=0.0)
    for x, w in ((0.30, 0.18), (0.74, 0.14)):
        puddle = wobble(ellipse((x, 1.17), w, w * 0.13, 0, 30), 0.006, s.rng)
        s.plain(puddle, s.light.sky_at(0.6), Part.WATER, 0.33, 95, alpha=0.6, emission=0.6)


def _lamp_post(s: PlaceFrame, x: float, y: float, k: float, depth: float) -> None:
    top = y - 0.86 * k
    s.add(
        ribbon(points((x, y), (x, y - 0.4 * k), (x, top)), [0.016 * k, 0.010 * k, 0.008 * k]),
        "3b3f44",
        Part.STRUCTURE,
        depth,
        95.6,
        drop=0.8,
    )
    s.add(
        [rectangle(x - 0.028 * k, y - 0.03 * k, x + 0.028 * k, y), rectangle(x - 0.02 * k, y - 0.42 * k, x + 0.02 * k, y - 0.40 * k)],
        "3b3f44",
        Part.STRUCTURE,
        depth,
        95.7,
    )
    glass = points((x - 0.030 * k, top), (x + 0.030 * k, top), (x + 0.044 * k, top - 0.09 * k), (x - 0.044 * k, top - 0.09 * k))
    lit = 0.95 if s.light.windows > 0 else 0.2
    s.add(glass, "ffe2a0", Part.LAMP, depth - 0.005, 95.8, emission=lit)
    s.add(
        points((x - 0.052 * k, top - 0.09 * k), (x + 0.052 * k, top - 0.09 * k), (x, top - 0.14 * k)),
        "3b3f44",
        Part.STRUCTURE,
        depth - 0.006,
        95.9,
    )
    if s.light.dark:
        s.lamp(point(x, top - 0.045 * k), 0.34 * k, "ffbd6a", 0.85)


def _bollard(s: PlaceFrame, x: float) -> None:
    outline = points(
        (x - 0.022, 1.075),
        (x + 0.022, 1.075),
        (x + 0.026, 1.01),
        (x + 0.034, 1.0),
        (x + 0.03, 0.985),
        (x - 0.03, 0.985),
        (x - 0.034, 1.0),
        (x - 0.026, 1.01),
    )
    s.add(spline(outline, True, 4), "4a4d52", Part.STRUCTURE, 0.36, 96, shade=0.4, drop=0.8)
    rope = [(x + 0.34 * t, 1.03 + 0.06 * np.sin(np.pi * t)) for t in np.linspace(0, 1, 6)]
    s.add(ribbon(rope, [0.005] * 3), "b59a6a", Part.STRUCTURE, 0.36, 96.1, line=0.4, drop=0.4)
