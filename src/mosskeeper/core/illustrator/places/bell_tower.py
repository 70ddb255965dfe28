"""Bell tower: open arches high over the roofs, a great bell on its beam, pigeons' perches, wind."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import ellipse, point, points, rectangle, ribbon, spline, taper


def build(s: PlaceFrame) -> None:
    s.sky()
    _roofs_below(s)
    t = np.linspace(np.pi, 0, 24)
    for cx, half, depth in ((0.5, 0.31, 0.50), (-0.32, 0.26, 0.52), (1.32, 0.26, 0.52)):
        ring = np.vstack(
            [
                [(cx - half - 0.02, 1.0)],
                np.stack([cx + (half + 0.02) * np.cos(t), 0.36 - (half + 0.02) * np.sin(t)], 1),
                [(cx + half + 0.02, 1.0)],
            ]
        )
        s.add(ribbon(ring[::2], [0.026] * 4), "c2b49a", Part.STRUCTURE, depth, 40.3, drop=0.9)
    _masonry(s)
    _bell(s)
    s.add(rectangle(-0.9, 0.90, 1.9, 1.0), "a89a84", Part.STRUCTURE, 0.48, 92, drop=1.0, gradient=0.5)
    s.add(rectangle(-0.9, 0.885, 1.9, 0.905), "c9bca4", Part.STRUCTURE, 0.47, 92.1, drop=0.6)
    s.ground(0.99, "9a8a74", 0.45, 0.28)
    for i in range(9):
        y = 0.995 + 0.28 * (i / 9) ** 1.4
        s.plain(rectangle(-0.9, y, 1.9, y + 0.003), "6f6252", Part.GROUND, 0.42, 94.5, alpha=0.7)
    for x in (0.12, 0.91):
        rope = [(x, -0.4), (x + 0.01, 0.4), (x, 0.98)]
        s.add(ribbon(rope, [0.007] * 3), "b59a6a", Part.STRUCTURE, 0.42, 96, line=0.4, drop=0.6)
        s.add(ribbon(points((x, 0.72), (x, 0.86)), [0.012] * 2), "9a3f44", Part.STRUCTURE, 0.415, 96.1, line=0.4, drop=0.4)
    birds = [
        taper([(x - 0.02, y), (x, y + 0.008), (x + 0.02, y - 0.002)], 0.003)
        for x, y in ((0.34, 0.30), (0.40, 0.26), (0.62, 0.34), (0.66, 0.31), (0.30, 0.40))
    ]
    s.plain(birds, "5a5f6a", Part.STRUCTURE, 0.9, 30)
    s.bulb(point(0.78, 0.84), 0.02, 0.44, 96.2, 0.34, 0.8)


def _roofs_below(s: PlaceFrame) -> None:
    for depth, y, size, colour in ((0.95, 0.70, 0.06, "8b93b8"), (0.86, 0.77, 0.08, "8d6f86"), (0.76, 0.85, 0.11, "7d4f58")):
        x, houses = -0.5, []
        while x < 1.5:
            w, gable = size * s.rng.uniform(0.8, 1.5), size * s.rng.uniform(0.4, 0.8)
            top = y - size * s.rng.uniform(0.1, 0.5)
            houses.append(points((x, 1.2), (x, top), (x + w / 2, top - gable), (x + w, top), (x + w, 1.2)))
            x += w * s.rng.uniform(0.85, 1.05)
        s.add(houses, colour, Part.STRUCTURE, depth, line=0.4, drop=0.8)
        if s.light.windows > 0.3:
            lit = [
                rectangle(wx, wy, wx + size * 0.1, wy + size * 0.16)
                for wx, wy in ((s.rng.uniform(-0.4, 1.4), y + s.rng.uniform(0, 0.08)) for _ in range(18))
            ]
            s.plain(lit, "ffd27a", Part.LAMP, depth, emission=0.9)


def _masonry(s: PlaceFrame) -> None:
    """Piers between the arches: what is left of the wall."""
    t = np.linspace(np.pi, 0, 24)
    for x0, x1 in ((-0.06, 0.19), (0.81, 1.06)):
        item = s.add(rectangle(x0, -0.9, x1, 1.0), "b5a68c", Part.STRUCTURE, 0.51, 40, drop=0.8, shade=0.15)
        stones = [
            rectangle(x0 + (j % 2) * 0.05 + i * 0.1, -0.3 + j * 0.07, x0 + (j % 2) * 0.05 + i * 0.1 + 0.092, -0.238 + j * 0.07)
            for i in range(-1, 4)
            for j in range(19)
            if s.rng.random() < 0.45
        ]
        s.mark(item, stones, "shade", 0.35)
    above = np.vstack(
        [
            [(-0.9, -0.9), (1.9, -0.9), (1.9, 0.36), (0.81, 0.36)],
            np.stack([0.5 + 0.31 * np.cos(t[::-1]), 0.36 - 0.31 * np.sin(t[::-1])], 1),
            [(0.19, 0.36), (-0.9, 0.36)],
        ]
    )
    s.add(above, "b0a188", Part.STRUCTURE, 0.515, 40.1, drop=0.5)


def _bell(s: PlaceFrame) -> None:
    """Above and beside the middle, where no head stands under it like under a hat."""
    x, y = 0.70, -0.02
    s.add(rectangle(-0.9, y - 0.10, 1.9, y - 0.04), "6b4a38", Part.STRUCTURE, 0.46, 88, drop=1.0, shade=0.3)
    half = ((0.06, -0.02), (0.10, 0.06), (0.125, 0.16), (0.17, 0.22))
    bell = points(*((x + dx, y + dy) for dx, dy in half), *((x - dx, y + dy) for dx, dy in reversed(half)))
    item = s.add(spline(bell, True, 5), "b0863f", Part.STRUCTURE, 0.45, 88.2, shade=0.8, drop=1.0)
    s.mark(
        item, [ribbon(points((x - 0.2, y + dy), (x, y + dy + 0.012), (x + 0.2, y + dy)), [0.005] * 3) for dy in (0.04, 0.16)], "shade", 0.8
    )
    s.mark(item, taper([(x - 0.07, y + 0.01), (x - 0.09, y + 0.10), (x - 0.115, y + 0.18)], 0.014), "lit", 0.8, 1)
    s.add(ellipse((x, y + 0.235), 0.024, 0.024), "7d6034", Part.STRUCTURE, 0.455, 88.1, drop=0.4)
