"""Forest path: tall trunks in layers of haze, a winding path, roots, ferns and shafts of light."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import Points, ellipse, point, points, spline, taper


def build(s: PlaceFrame) -> None:
    s.sky(clouds=False)
    _trees(s)
    if s.light.background > 0.7:
        for x in (0.20, 0.42, 0.66):
            shaft = points((x, -0.3), (x + 0.08, -0.3), (x + 0.30, 1.1), (x + 0.12, 1.1))
            s.plain(shaft, np.asarray(s.light.rim), Part.LAMP, 0.6, 60, emission=1.0, alpha=0.14, blur=9.0, labelled=False)
    s.ground(0.86, "5f6f45", 0.75, 0.28)
    path = points((0.50, 0.86), (0.545, 0.86), (0.60, 0.93), (0.70, 1.02), (1.02, 1.6), (-0.06, 1.6), (0.28, 1.05), (0.46, 0.94))
    item = s.add(spline(path, True, 6), "a58a64", Part.GROUND, 0.45, 93.5, drop=0.3, line=0.3)
    s.mark(item, [ellipse((s.rng.uniform(0.1, 0.9), 0.9 + 0.35 * s.rng.random()), 0.02, 0.006, n=10) for _ in range(40)], "shade", 0.5)
    _undergrowth(s)
    for x, y, k in ((0.16, 1.06, 1.0), (0.20, 1.075, 0.7), (0.86, 1.03, 0.9)):
        _mushroom(s, x, y, k)


def _trees(s: PlaceFrame) -> None:
    """Crowns in the haze, then trunks and their leaves from the farthest to the nearest."""
    for depth, y, colour in ((0.95, 0.50, "8fa894"), (0.88, 0.60, "7f9c84")):
        for i in range(11):
            s.leaves(
                point(-0.4 + i * 0.18 + s.rng.uniform(-0.04, 0.04), y + s.rng.uniform(-0.1, 0.04)),
                0.16,
                colour,
                depth,
                12,
                leaf=0.035,
                line=0.3,
                shade=0.0,
            )
    for depth, count, width, colour in ((0.88, 9, 0.018, "7f8a7a"), (0.76, 7, 0.030, "6a6f60"), (0.62, 5, 0.046, "5a5646")):
        for i in range(count):
            x = -0.45 + (i + s.rng.uniform(0.1, 0.9)) * 1.9 / count
            if abs(x - 0.5) > 0.10 + 0.16 * (0.9 - depth):
                _trunk(s, x, 0.86 + (0.9 - depth) * 0.35, width, depth, colour)
        for i in range(8):
            s.leaves(
                point(-0.3 + i * 0.23 + s.rng.uniform(-0.06, 0.06), 0.02 + s.rng.uniform(-0.12, 0.12)),
                0.17,
                ("5f8a55", "6f9a58", "4f7a50")[i % 3],
                depth - 0.02,
                24,
                leaf=0.034,
                shade=0.3,
                drop=0.6,
            )


def _undergrowth(s: PlaceFrame) -> None:
    """Ferns and low leaves on both sides of the path."""
    for i in range(26):
        side = -1 if i % 2 else 1
        y = 0.88 + 0.30 * s.rng.random()
        x = 0.5 + side * (0.10 + (y - 0.86) * 1.3 + 0.36 * s.rng.random())
        if i % 3:
            s.frond(
                point(x, y),
                -np.pi / 2 + side * s.rng.uniform(-0.2, 0.7),
                s.rng.uniform(0.10, 0.24),
                ("5e9468", "7fae62", "4f8a58")[i % 3],
                0.6 - (y - 0.86),
                94 + (y - 0.86) * 8,
                n=10,
                drop=0.5,
            )
        else:
            s.leaves(
                point(x, y), 0.05, ("4f7a48", "6d8a4a")[i % 2], 0.6 - (y - 0.86), 14, slot=94 + (y - 0.86) * 8, stretch=1.5, leaf=0.022
            )
    if s.light.dark:
        for _ in range(16):
            at = point(s.rng.uniform(0, 1), s.rng.uniform(0.4, 1.1))
            s.plain(ellipse(at, 0.004, 0.004, n=8), "e8f0a0", Part.LAMP, 0.4, 97, emission=1.0)
            s.lamp(at, 0.05, "d8f08a", 0.6)
    for x, width in ((-0.08, 0.10), (1.08, 0.12)):
        _trunk(s, x, 1.28, width, 0.34, "453f34", slot=97.5)
    s.near_fronds("2a4a34")


def _trunk(s: PlaceFrame, x: float, y: float, w: float, depth: float, colour: str, slot: float | None = None) -> None:
    lean = s.rng.uniform(-0.03, 0.03)
    left: list[Points] = [
        point(x - w * 1.7, y),
        point(x - w, y - 0.10),
        point(x - w * 0.8 + lean, 0.3),
        point(x - w * 0.7 + lean * 2, -0.9),
    ]
    right: list[Points] = [
        point(x + w * 1.7, y),
        point(x + w, y - 0.10),
        point(x + w * 0.8 + lean, 0.3),
        point(x + w * 0.7 + lean * 2, -0.9),
    ]
    item = s.add(np.vstack([spline(left, False, 5), spline(right, False, 5)[::-1]]), colour, Part.FOLIAGE, depth, slot, shade=0.4, drop=0.8)
    bark = [
        taper([(x + w * u, y - 0.1), (x + w * u * 0.9 + lean * 0.6, 0.5), (x + w * u * 0.8 + lean, 0.1)], w * 0.07)
        for u in (-0.6, -0.2, 0.25, 0.65)
    ]
    s.mark(item, bark, "shade", 0.6)
    moss = [ellipse((x - w * 0.5, y - 0.05 - 0.09 * k), w * 0.55, w * 0.5, n=12) for k in range(3)]
    s.mark(item, moss, "7f9a4e", 0.35, 2)


def _mushroom(s: PlaceFrame, x: float, y: float, k: float) -> None:
    s.add(
        spline(points((x - 0.012 * k, y), (x - 0.009 * k, y - 0.05 * k), (x + 0.009 * k, y - 0.05 * k), (x + 0.012 * k, y)), True, 4),
        "f0e4cf",
        Part.FOLIAGE,
        0.36,
        96.6,
        shade=0.4,
    )
    t = np.linspace(np.pi, 0, 14)
    cap = np.stack([x + 0.036 * k * np.cos(t), y - 0.045 * k - 0.034 * k * np.sin(t)], 1)
    item = s.add(cap, "b8483a", Part.FOLIAGE, 0.355, 96.7, shade=0.4, drop=0.5)
    s.mark(
        item,
        [ellipse((x + dx * k, y - dy * k), 0.005 * k, 0.004 * k, n=8) for dx, dy in ((-0.015, 0.058), (0.004, 0.068), (0.018, 0.055))],
        "f6ecd8",
        1.0,
    )
