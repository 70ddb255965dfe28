"""Seed vault: a barrel vault of stone lined with drawers, jars that glimmer, a pool of light."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import Points, ellipse, point, points, rectangle, ribbon, spline

_JARS = ("8ad0b0", "e8c25a", "d98a6a", "9ab0d8", "b8d88a")


def _arch(half: float, top: float, base: float = 1.0) -> Points:
    t = np.linspace(np.pi, 0, 26)
    return np.vstack([[(0.5 - half, base)], np.stack([0.5 + half * np.cos(t), top + half - half * np.sin(t)], 1), [(0.5 + half, base)]])


def build(s: PlaceFrame) -> None:
    s.plain(rectangle(-1, -0.9, 2, 1.6), "5a5f62", Part.STRUCTURE, 0.5, 0)
    for k, (half, top) in enumerate(((0.60, 0.02), (0.46, 0.14), (0.34, 0.25), (0.24, 0.34))):
        depth = 0.55 + 0.11 * k
        s.add(_arch(half, top), ("8f8a80", "7d7a74", "6f6f6c", "62666a")[k], Part.STRUCTURE, depth, 2 + k * 0.5, drop=1.2)
        s.add(
            _arch(half * 0.93, top + half * 0.07),
            ("6a6a68", "5f6264", "565c60", "4c5459")[k],
            Part.STRUCTURE,
            depth + 0.02,
            2.2 + k * 0.5,
            drop=0.8,
        )
    end = s.add(_arch(0.17, 0.42), "3f4a4c", Part.STRUCTURE, 0.93, 5, drop=0.8)
    s.mark(end, ellipse((0.5, 0.62), 0.10, 0.16), "9fd8b8", 0.55, 9)
    s.lamp(point(0.5, 0.60), 0.40, "a8f0c8", 0.55 + 0.25 * s.light.glow)
    for side in (-1, 1):
        for k, (x0, x1, y0, y1, depth) in enumerate(
            ((0.26, 0.36, 0.46, 0.92, 0.74), (0.36, 0.50, 0.38, 0.95, 0.62), (0.50, 0.72, 0.28, 1.0, 0.50))
        ):
            _drawers(s, side, x0, x1, y0, y1, depth, rows=6 + k)
    s.ground(0.93, "6f6c64", 0.62, 0.28)
    for i in range(7):
        y0, y1 = 0.935 + 0.31 * (i / 7) ** 1.35, 0.935 + 0.31 * ((i + 0.93) / 7) ** 1.35
        tiles = [
            points(
                (0.5 + (u) * (0.12 + (y0 - 0.93) * 1.3), y0),
                (0.5 + (u + 0.46) * (0.12 + (y0 - 0.93) * 1.3), y0),
                (0.5 + (u + 0.46) * (0.12 + (y1 - 0.93) * 1.3), y1),
                (0.5 + u * (0.12 + (y1 - 0.93) * 1.3), y1),
            )
            for u in np.arange(-2.0, 2.0, 0.5) + (i % 2) * 0.25
        ]
        s.add(tiles, ("8a867c", "7d7a72")[i % 2], Part.GROUND, 0.5 - 0.02 * i, 94, line=0.3, drop=0.0)
    for x in (0.5,):
        s.plain(ribbon(points((x, -0.6), (x, 0.10)), [0.002] * 2), "2f3336", Part.STRUCTURE, 0.55, 90)
        s.bulb(point(x, 0.13), 0.024, 0.54, 90.1, 0.40, 0.8)
    for side in (-1, 1):
        for i in range(3):
            x, y = 0.5 + side * (0.40 + i * 0.085), 1.10 + 0.03 * (i % 2)
            _sack(s, x, y, 0.085, ("b59a6a", "a58a5f", "c2a878")[i])


def _drawers(s: PlaceFrame, side: int, x0: float, x1: float, y0: float, y1: float, depth: float, rows: int) -> None:
    a, b = 0.5 + side * x0, 0.5 + side * x1
    slot = 20 + (1 - depth) * 60
    rise = 0.06 * (x1 - x0) / 0.14

    def at(u: float, v: float) -> tuple[float, float]:
        top, bottom = y0 - rise * u, y1 + rise * u * 0.7
        return a + (b - a) * u, top + (bottom - top) * v

    s.add(points(at(0, 0), at(1, 0), at(1, 1), at(0, 1)), "5f4636", Part.STRUCTURE, depth, slot, drop=0.8)
    columns = 3
    fronts, knobs = [], []
    jars: dict[int, list[Points]] = {}
    for i in range(columns):
        for j in range(rows):
            u0, u1, v0, v1 = (i + 0.08) / columns, (i + 0.92) / columns, (j + 0.10) / rows, (j + 0.90) / rows
            if s.rng.random() < 0.28:  # an open niche with a jar
                jars.setdefault(int(s.rng.integers(5)), []).append(
                    points(at(u0 + 0.06, v0 + 0.02), at(u1 - 0.06, v0 + 0.02), at(u1 - 0.05, v1), at(u0 + 0.05, v1))
                )
            else:
                fronts.append(points(at(u0, v0), at(u1, v0), at(u1, v1), at(u0, v1)))
                c = at((u0 + u1) / 2, (v0 + v1) / 2)
                knobs.append(ellipse(c, 0.005 * (x1 - x0) / 0.12, 0.005 * (x1 - x0) / 0.12, n=8))
    s.add(fronts, "8a6a4c", Part.STRUCTURE, depth - 0.002, slot + 0.1, line=0.4, drop=0.3)
    s.add(knobs, "c8923f", Part.STRUCTURE, depth - 0.003, slot + 0.2, line=0.3, drop=0.2)
    for colour, glass in jars.items():
        s.add(glass, _JARS[colour], Part.LAMP, depth - 0.003, slot + 0.2, emission=0.35 + 0.35 * s.light.windows, line=0.4, drop=0.3)


def _sack(s: PlaceFrame, x: float, y: float, w: float, colour: str) -> None:
    body = points(
        (x - w * 0.5, y + 0.05),
        (x - w * 0.55, y - 0.05),
        (x - w * 0.28, y - 0.12),
        (x + w * 0.28, y - 0.12),
        (x + w * 0.55, y - 0.05),
        (x + w * 0.5, y + 0.05),
    )
    item = s.add(spline(body), colour, Part.STRUCTURE, 0.39, 96.5, shade=0.5, drop=0.9)
    s.mark(item, ribbon(points((x - w * 0.3, y - 0.105), (x, y - 0.095), (x + w * 0.3, y - 0.105)), [0.006] * 3), "5f4636", 0.8)
