"""Roof garden: terraces over the rain town, trellises, pots, a string of lamps, puddles."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import ellipse, point, points, rectangle, ribbon, taper, wobble


def build(s: PlaceFrame) -> None:
    s.sky()
    _town(s)
    _towers(s)
    _terrace(s)
    _trellises(s)
    _pots(s)
    _lamps(s)
    _puddles(s)


def _town(s: PlaceFrame) -> None:
    rng = s.rng
    for depth, y, size, colour in ((0.95, 0.50, 0.10, "8b93b8"), (0.82, 0.58, 0.13, "8d6f86"), (0.66, 0.69, 0.17, "7d4f58")):
        x, houses, windows = -0.5, [], []
        while x < 1.5:
            w, h, gable = size * rng.uniform(0.8, 1.5), size * rng.uniform(0.5, 1.3), size * rng.uniform(0.35, 0.7)
            top = y - h
            houses.append(
                points((x, 1.4), (x, top), (x - w * 0.06, top), (x + w * 0.5, top - gable), (x + w * 1.06, top), (x + w, top), (x + w, 1.4))
            )
            if rng.random() < 0.6:
                cx = x + w * rng.uniform(0.15, 0.35)
                houses.append(rectangle(cx, top - gable * 0.95, cx + size * 0.13, top))
                houses.append(rectangle(cx - size * 0.03, top - gable * 0.95 - size * 0.03, cx + size * 0.16, top - gable * 0.93))
            for _ in range(3):
                wx, wy = x + w * rng.uniform(0.15, 0.7), top + size * rng.uniform(0.15, 0.8)
                windows.append(rectangle(wx, wy, wx + size * 0.12, wy + size * 0.19))
            x += w * rng.uniform(0.85, 1.1)
        item = s.add(houses, colour, Part.STRUCTURE, depth, line=0.5, drop=1.0)
        s.mark(item, [h[[2, 3, 4]] for h in houses if len(h) == 7], "5a3550", 0.35)
        lit = s.light.windows > 0.3
        shown = [w for i, w in enumerate(windows) if i % 3 or not lit]
        s.plain(shown, "ffd27a" if lit else "5a6478", Part.LAMP if lit else Part.STRUCTURE, depth, emission=0.85 * lit, alpha=0.9)


def _towers(s: PlaceFrame) -> None:
    tower = points((0.60, 1.2), (0.60, 0.30), (0.585, 0.30), (0.64, 0.19), (0.695, 0.30), (0.68, 0.30), (0.68, 1.2))
    item = s.add(tower, "8a5f72", Part.STRUCTURE, 0.72, line=0.5, drop=1.0)
    s.mark(item, rectangle(0.645, 0.2, 0.7, 1.2), "shade", 0.6)
    lit = s.light.windows > 0.3
    s.add(ellipse((0.64, 0.355), 0.026, 0.026), "fff0c8" if lit else "f4ead0", Part.LAMP, 0.715, emission=0.8 * lit, line=0.5, drop=0.3)
    hands = [taper([(0.64, 0.355), (0.64, 0.337)], 0.0025), taper([(0.64, 0.355), (0.652, 0.36)], 0.0025)]
    s.plain(hands, "4a3340", Part.STRUCTURE, 0.714)
    t = np.linspace(np.pi, 0, 16)
    dome = np.vstack([[(0.215, 1.2)], np.stack([0.30 + 0.085 * np.cos(t), 0.50 - 0.11 * np.sin(t)], 1), [(0.385, 1.2)]])
    item = s.add([dome, rectangle(0.297, 0.33, 0.303, 0.40)], "5f8a8a", Part.STRUCTURE, 0.78, line=0.5, drop=1.0)
    s.mark(item, [taper([(0.30, 0.39), (0.30 + x, 0.43), (0.30 + x * 1.5, 0.50)], 0.003) for x in (-0.04, -0.015, 0.015, 0.04)], "lit", 0.6)


def _terrace(s: PlaceFrame) -> None:
    s.ground(0.98, "a3837a", 0.5, 0.28)
    for i in range(9):
        y = 0.99 + 0.055 * i**1.25 * 0.55
        s.plain(rectangle(-0.8, y, 1.8, y + 0.0035), "7d5f5c", Part.GROUND, 0.4, 95, alpha=0.7)
    item = s.add(rectangle(-0.8, 0.86, 1.8, 1.0), "b08d7c", Part.STRUCTURE, 0.52, gradient=0.6, line=0.8, drop=1.0)
    s.add(rectangle(-0.8, 0.845, 1.8, 0.868), "cfb199", Part.STRUCTURE, 0.51, line=0.8, drop=0.6)
    bricks = [
        rectangle(-0.8 + i * 0.11 + (j % 2) * 0.055, 0.87 + j * 0.035, -0.8 + i * 0.11 + (j % 2) * 0.055 + 0.105, 0.90 + j * 0.035)
        for i in range(24)
        for j in range(4)
        if s.rng.random() < 0.35
    ]
    s.mark(item, bricks, "shade", 0.45)


def _trellises(s: PlaceFrame) -> None:
    rng = s.rng
    for side, x0 in ((-1, -0.02), (1, 0.80)):
        slats = [rectangle(x0 + i * 0.055, 0.34, x0 + i * 0.055 + 0.009, 0.9) for i in range(5)]
        slats += [rectangle(x0 - 0.02, 0.38 + j * 0.08, x0 + 0.24, 0.388 + j * 0.08) for j in range(6)]
        s.add(slats, "6f4a36", Part.STRUCTURE, 0.47, line=0.4)
        for _ in range(9):
            at = point(x0 + rng.uniform(-0.02, 0.24), rng.uniform(0.34, 0.86))
            green = ("5f8a4e", "4b7a55", "7a9a4e")[rng.integers(3)]
            s.leaves(at, rng.uniform(0.035, 0.07), green, 0.46 - rng.uniform(0, 0.02), 16, leaf=0.02, drop=0.6)
        flowers = [ellipse((x0 + rng.uniform(-0.02, 0.24), rng.uniform(0.36, 0.85)), 0.011, 0.011, n=10) for _ in range(16)]
        s.add(flowers, ("f2a7a0", "f3d27a")[side > 0], Part.FOLIAGE, 0.44, line=0.4, drop=0.3)


def _pots(s: PlaceFrame) -> None:
    for x, w, y in ((0.13, 0.15, 1.0), (0.90, 0.17, 1.02), (-0.10, 0.16, 1.04), (1.16, 0.16, 1.03)):
        s.pot(x, y, w, "b4623f", 0.40, 96.5)
        for k in range(5):
            at = point(x + (k - 2) * w * 0.22, y - 0.17 - 0.03 * (k % 2))
            s.leaves(at, 0.055, ("4f8a55", "6d9a4a", "3f7455")[k % 3], 0.40, 16, slot=96.2 + k * 0.1, leaf=0.024)


def _lamps(s: PlaceFrame) -> None:
    t = np.linspace(-0.3, 1.3, 36)
    cable = np.stack([t, 0.235 + 0.10 * np.sin(t * np.pi)], 1)
    s.plain(ribbon(cable[::3], [0.0018] * 3), "3a3236", Part.STRUCTURE, 0.5, 97)
    for i in range(2, 35, 4):
        s.bulb(cable[i] + (0, 0.018), 0.0115, 0.48, 97.1, 0.10, 0.65)


def _puddles(s: PlaceFrame) -> None:
    for x, y, w in ((0.25, 1.16, 0.16), (0.78, 1.12, 0.13), (0.56, 1.21, 0.22)):
        outline = wobble(ellipse((x, y), w, w * 0.16, 0, 30), 0.008, s.rng)
        item = s.add(outline, s.light.sky_at(0.5) * 0.8 + 0.1, Part.WATER, 0.33, 95.5, line=0.4, drop=0.0, alpha=0.85, emission=0.5)
        s.mark(
            item,
            [taper([(x - w * 0.6, y - 0.004), (x + w * 0.3, y - 0.006)], 0.003), ellipse((x + w * 0.3, y + 0.006), w * 0.2, w * 0.03)],
            "lit",
            0.8,
        )
