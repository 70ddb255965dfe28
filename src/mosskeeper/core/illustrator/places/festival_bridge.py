"""Festival bridge: a wooden bridge under strings of flags and paper lamps, the river and hills beyond."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import ellipse, point, points, rectangle, ribbon, wobble

_FLAGS = ("c9543c", "e8c25a", "3f7a7c", "f0e4cf", "8a5570")


def build(s: PlaceFrame) -> None:
    s.sky()
    for depth, y, amp, colour in ((0.95, 0.60, 0.05, "8f9fb8"), (0.86, 0.66, 0.04, "7d927f"), (0.76, 0.72, 0.03, "6a8a62")):
        across = np.linspace(-0.9, 1.9, 40)
        hill = y - amp * (np.sin(across * 4.1 + y * 30) + 0.6 * np.sin(across * 9.3 + y * 50))
        s.add(np.vstack([np.stack([across, hill], 1), [(1.9, 1.4), (-0.9, 1.4)]]), colour, Part.FOLIAGE, depth, line=0.4, drop=0.8)
    for i in range(14):
        s.leaves(
            point(-0.4 + i * 0.14 + s.rng.uniform(-0.03, 0.03), 0.74 + s.rng.uniform(-0.02, 0.02)),
            0.05,
            ("5f8a58", "6f9a5a", "4f7a55")[i % 3],
            0.70,
            10,
            leaf=0.02,
        )
    _river(s)
    _railing(s, 0.86, 0.55, 96.0, 0.016)
    s.ground(0.985, "9a7350", 0.5, 0.28)
    for i in range(12):
        y = 0.985 + 0.30 * (i / 12) ** 1.4
        s.plain(rectangle(-0.9, y, 1.9, y + 0.003 + 0.0005 * i), "5f4330", Part.GROUND, 0.42, 94.5, alpha=0.75)
    for x, top, k in ((0.02, 0.30, 1.0), (0.98, 0.26, 1.05)):
        s.add(ribbon(points((x, 1.10), (x, top)), [0.018 * k, 0.014 * k]), "6b4632", Part.STRUCTURE, 0.44, 96.6, shade=0.3, drop=1.0)
        s.add(
            [rectangle(x - 0.03 * k, top - 0.03, x + 0.03 * k, top), ellipse((x, top - 0.04), 0.022, 0.022)],
            "8a3f36",
            Part.STRUCTURE,
            0.435,
            96.7,
            drop=0.6,
        )
    _string(s, (-0.5, 0.22), (0.02, 0.33), 0.10, 97.0)
    _string(s, (0.02, 0.33), (0.98, 0.29), 0.16, 97.2)
    _string(s, (0.98, 0.29), (1.5, 0.20), 0.10, 97.0)
    _string(s, (0.10, 0.02), (0.90, 0.00), 0.13, 60.0)
    paper = [ellipse((s.rng.uniform(-0.2, 1.2), s.rng.uniform(0.0, 1.1)), 0.006, 0.003, s.rng.uniform(0, 3), 6) for _ in range(40)]
    for k in range(5):
        s.plain(paper[k::5], _FLAGS[k], Part.SKY, 0.3, 98 + k * 0.01, emission=0.2, alpha=0.9, labelled=False)


def _river(s: PlaceFrame) -> None:
    level = 0.78
    s.water(level, 55, depth=(0.72, 0.5), reach=0.24, tint="4f8a90")
    if s.light.dark:  # floating lights
        for _ in range(9):
            at = point(s.rng.uniform(-0.1, 1.1), level + 0.03 + 0.10 * s.rng.random())
            s.plain(ellipse(at, 0.010, 0.007), "ffdf9a", Part.LAMP, 0.6, 57, emission=1.0)
            s.lamp(at, 0.07, "ffbd6a", 0.6)


def _railing(s: PlaceFrame, y: float, depth: float, slot: float, width: float) -> None:
    posts = [rectangle(x - width * 0.4, y, x + width * 0.4, 1.02) for x in np.arange(-0.7, 1.75, 0.11)]
    s.add(posts, "a5483c", Part.STRUCTURE, depth, slot, line=0.5, drop=0.6)
    s.add(
        [rectangle(-0.9, y - width, 1.9, y + width * 0.4), rectangle(-0.9, y + 0.09, 1.9, y + 0.10)],
        "b8584a",
        Part.STRUCTURE,
        depth - 0.01,
        slot + 0.1,
        drop=0.8,
    )


def _string(s: PlaceFrame, a: tuple[float, float], b: tuple[float, float], sag: float, slot: float) -> None:
    t = np.linspace(0, 1, 15)
    x, y = a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t + sag * np.sin(np.pi * t)
    s.plain(ribbon(np.stack([x, y], 1)[::2], [0.0018] * 3), "4a3a34", Part.STRUCTURE, 0.5, slot)
    for i in range(1, 14):
        at = point(x[i], y[i])
        if i % 4 == 2:
            lamp = wobble(ellipse(at + (0, 0.030), 0.022, 0.026, 0, 16), 0.001, s.rng)
            lit = 0.85 if s.light.windows > 0 else 0.15
            s.add(lamp, ("ffd27a", "ffb08a")[i // 4 % 2], Part.LAMP, 0.48, slot + 0.1, emission=lit, line=0.5, drop=0.3)
            if s.light.dark:
                s.lamp(at + (0, 0.03), 0.13, "ffb45a", 0.7)
        else:
            s.add(
                points(at + (-0.014, 0), at + (0.014, 0), at + (0, 0.042)),
                _FLAGS[i % 5],
                Part.STRUCTURE,
                0.49,
                slot + 0.05,
                line=0.4,
                drop=0.3,
            )
