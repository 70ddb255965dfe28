"""Library stair: shelves to the ceiling, an arched window, a carpet and a sweeping stair."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame, dot
from mosskeeper.core.illustrator.shapes import Points, ellipse, point, points, rectangle, ribbon, spline
from mosskeeper.core.illustrator.vocabulary.colours import rgb

_SPINES = ("a8483c", "c98f3a", "3f6f72", "55607f", "7d8a4a", "8a5570", "d9c08a", "6e4a3a", "9a5f3a")


def build(s: PlaceFrame) -> None:
    s.plain(rectangle(-1, -0.8, 2, 1.5), "6a4a44", Part.STRUCTURE, 0.93, 0)
    _window(s)
    _shelves(s, -0.55, 0.27, -0.30, 0.92, 9)
    _shelves(s, 0.73, 1.55, -0.30, 0.92, 9)
    if s.light.background > 0.7:
        _shafts(s)
    _floor(s)
    _stair(s)
    _books_and_lamp(s)
    for x in (0.30, 0.70):
        s.plain(ribbon(points((x, -0.5), (x, 0.06)), [0.0015] * 2), "3a2a26", Part.STRUCTURE, 0.55)
        shade = points((x - 0.03, 0.085), (x + 0.03, 0.085), (x + 0.012, 0.05), (x - 0.012, 0.05))
        s.add(spline(shade, True, 4), "c8923f", Part.STRUCTURE, 0.54, line=0.5)
        s.bulb(point(x, 0.095), 0.019, 0.535, 47.2, 0.24, 0.7)
    motes = [dot(s.rng, (0, 1), (0.1, 1.1), (0.0008, 0.0022)) for _ in range(46)]
    s.plain(motes, "fff0cc", Part.LAMP, 0.3, 98, emission=1.0, alpha=0.6, labelled=False)


def _shelves(s: PlaceFrame, x0: float, x1: float, y0: float, y1: float, rows: int) -> None:
    rng, depth = s.rng, 0.80
    s.add(rectangle(x0 - 0.012, y0 - 0.012, x1 + 0.012, y1), "6b442e", Part.STRUCTURE, depth, line=0.8, drop=1.1)
    s.add(rectangle(x0, y0, x1, y1), "3b2622", Part.STRUCTURE, depth - 0.001, line=0.4, drop=0.0)
    height = (y1 - y0) / rows
    by_colour: dict[int, list[Points]] = {}
    for j in range(rows):
        board, x = y0 + (j + 1) * height - 0.010, x0 + 0.003
        while x < x1 - 0.012:
            w, h, colour = rng.uniform(0.010, 0.021), height * rng.uniform(0.55, 0.84), int(rng.integers(len(_SPINES)))
            if rng.random() < 0.09:  # a gap on the shelf
                x += w * 1.3
                continue
            by_colour.setdefault(colour, []).append(rectangle(x, board - h, min(x + w * 0.92, x1), board))
            x += w
    for colour, books in by_colour.items():
        item = s.add(books, _SPINES[colour], Part.STRUCTURE, depth - 0.002, line=0.3, drop=0.15)
        s.mark(item, [rectangle(q[0, 0], q[0, 1] + 0.012, q[1, 0], q[0, 1] + 0.016) for q in books], "f0d79a", 0.6)
        s.mark(item, [rectangle(q[1, 0] - 0.003, q[0, 1], q[1, 0], q[2, 1]) for q in books], "shade", 0.8)
    boards = [rectangle(x0 - 0.012, y0 + (j + 1) * height - 0.010, x1 + 0.012, y0 + (j + 1) * height) for j in range(rows)]
    s.add(boards, "8a5a3a", Part.STRUCTURE, depth - 0.003, line=0.5, drop=0.6)


def _window(s: PlaceFrame) -> None:
    x, half, top, bottom = 0.5, 0.175, 0.10, 0.66
    t = np.linspace(np.pi, 0, 24)

    def arch(w: float) -> Points:
        return np.vstack([[(x - w, bottom)], np.stack([x + w * np.cos(t), top + 0.16 - w * np.sin(t)], 1), [(x + w, bottom)]])

    s.add(arch(half + 0.03), "a07a58", Part.STRUCTURE, 0.90, line=0.8, drop=0.8)
    glass = s.plain(arch(half), s.light.sky_at(0), Part.LAMP, 0.895, emission=1.0, line=0.6)
    for i in range(12):
        s.mark(glass, rectangle(0, top - 0.06 + i * 0.052, 1, bottom), s.light.sky_at(i / 11), 1.0)
    bars = [
        rectangle(x - 0.004, top - 0.02, x + 0.004, bottom),
        rectangle(x - half * 0.55 - 0.003, top + 0.04, x - half * 0.55 + 0.003, bottom),
        rectangle(x + half * 0.55 - 0.003, top + 0.04, x + half * 0.55 + 0.003, bottom),
    ]
    bars += [rectangle(x - half, y, x + half, y + 0.006) for y in (0.26, 0.39, 0.52)]
    s.add(bars, "7a5a44", Part.STRUCTURE, 0.89, line=0.4, drop=0.3)
    night = s.light.background < 0.7
    s.lamp(point(x, 0.38), 0.55, "8fb0ff" if night else "ffd0a0" if s.light.dark else "fff4d8", 0.30)


def _shafts(s: PlaceFrame) -> None:
    side = -1 if s.light.direction[0] > 0 else 1
    for k in range(3):
        x = 0.36 + 0.11 * k
        shaft = points((x, 0.14), (x + 0.07, 0.14), (x + 0.07 + side * 0.52, 1.2), (x - 0.10 + side * 0.52, 1.2))
        s.plain(shaft, np.asarray(s.light.rim), Part.LAMP, 0.7, 80, emission=1.0, alpha=0.15, blur=6.0, labelled=False)


def _floor(s: PlaceFrame) -> None:
    s.ground(0.95, "7a4c38", 0.62, 0.28)
    for i in range(12):
        y = 0.952 + 0.29 * (i / 12) ** 1.5
        s.plain(rectangle(-0.9, y, 1.9, y + 0.0025 + 0.0004 * i), "55332a", Part.GROUND, 0.45, 94, alpha=0.7)
    carpet = points((0.20, 0.985), (0.80, 0.985), (1.16, 1.6), (-0.16, 1.6))
    item = s.add(carpet, "9a3f44", Part.GROUND, 0.40, 94.5, line=0.5, drop=0.2)
    borders = [points((0.5 + q * 0.27, 0.985), (0.5 + q * 0.255, 0.985), (0.5 + q * 0.55, 1.6), (0.5 + q * 0.59, 1.6)) for q in (-1, 1)]
    s.mark(item, borders, "e6b65a", 0.85)


def _stair(s: PlaceFrame) -> None:
    n, foot, head = 13, point(0.68, 1.02), point(1.12, 0.34)
    run = head - foot
    for i in reversed(range(n)):
        a, c = foot + run * (i / n), foot + run * ((i + 1) / n)
        depth, slot = 0.50 - 0.004 * i, 95 + i * 0.01
        s.add(
            rectangle(a[0], c[1], 1.9, 1.045 if i == 0 else a[1] + 0.01),
            ("8a5c40", "7d523a")[i % 2],
            Part.STRUCTURE,
            depth,
            slot,
            line=0.5,
            drop=0.4,
        )
        s.add(rectangle(a[0] - 0.008, c[1] - 0.008, 1.9, c[1] + 0.006), "b98456", Part.STRUCTURE, depth, slot + 0.005, line=0.4, drop=0.3)
    posts = [
        ribbon([foot + run * ((i + 0.4) / n) + point(-0.01, dy) for dy in (-0.04, -0.11, -0.185)], [0.0035, 0.0075, 0.0035])
        for i in range(n)
    ]
    s.add(posts, "c79a62", Part.STRUCTURE, 0.44, 96, line=0.4, drop=0.4)
    rail = [foot + point(-0.015, -0.20), foot + run * 0.5 + point(-0.01, -0.185), head + point(0, -0.18)]
    s.add(ribbon(rail, [0.012, 0.011, 0.010]), "5f3526", Part.STRUCTURE, 0.43, 96.1, line=0.7, drop=0.8)
    s.add(
        [rectangle(0.655, 0.80, 0.685, 1.04), ellipse((0.67, 0.79), 0.024, 0.024)],
        "5f3526",
        Part.STRUCTURE,
        0.42,
        96.2,
        shade=0.3,
        line=0.7,
        drop=0.8,
    )


def _books_and_lamp(s: PlaceFrame) -> None:
    y = 1.07
    for i in range(6):
        w, h, x = s.rng.uniform(0.12, 0.18), 0.028, 0.10 + s.rng.uniform(-0.015, 0.015)
        y -= h
        s.add(
            rectangle(x - w / 2, y, x + w / 2, y + h * 0.96),
            _SPINES[(i * 2 + 1) % 9],
            Part.STRUCTURE,
            0.40,
            96.5,
            shade=0.2,
            line=0.7,
            drop=0.6,
        )
        s.add(
            rectangle(x - w / 2 + 0.004, y + 0.004, x - w / 2 + 0.016, y + h * 0.96 - 0.004),
            "f0e0bc",
            Part.STRUCTURE,
            0.40,
            96.5,
            line=0.3,
            drop=0.0,
        )
    s.add(rectangle(0.095, y - 0.09, 0.105, y), "5a4a3a", Part.STRUCTURE, 0.4, 96.5, line=0.4, drop=0.3)
    lit = s.light.dark
    shade = points((0.06, y - 0.085), (0.14, y - 0.085), (0.122, y - 0.15), (0.078, y - 0.15))
    s.add(spline(shade, True, 5), rgb("ffdd92" if lit else "e6d3a0"), Part.LAMP, 0.4, 96.6, emission=0.8 * lit)
    if lit:
        s.lamp(point(0.10, y - 0.10), 0.36, "ffb45a", 0.8 * max(s.light.windows, 0.4))
