"""Fern house: a glass vault over ferns, big leaves, a path of tiles, hanging pots."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import ellipse, point, points, rectangle, ribbon, spline, taper


def build(s: PlaceFrame) -> None:
    s.sky(clouds=False)
    _distance(s)
    _vault(s)
    _thicket(s)
    _broad_leaves(s)
    _path(s)
    _beds(s)
    _hanging_pots(s)
    if s.light.dark:
        for x, y in ((0.3, 0.3), (0.7, 0.34), (0.5, 0.2)):
            s.plain(ribbon(points((x, -0.2), (x, y - 0.02)), [0.0012] * 2), "3a3a3a", Part.STRUCTURE, 0.6)
            s.bulb(point(x, y), 0.022, 0.6, 60.0, 0.26, 0.7)
    s.near_fronds()


def _distance(s: PlaceFrame) -> None:
    for depth, y, radius, colour in ((0.93, 0.55, 0.12, "7fa08c"), (0.84, 0.64, 0.10, "6f9a7c")):
        for i in range(10):
            s.leaves(point(-0.3 + i * 0.19, y + s.rng.uniform(-0.03, 0.03)), radius, colour, depth, 10, leaf=0.03, line=0.3, shade=0.0)


def _vault(s: PlaceFrame) -> None:
    frame = "8fa5a0" if s.light.background < 0.9 else "dfe6d8"
    arcs = []
    for k, (half, top) in enumerate(((0.62, -0.08), (0.46, 0.08), (0.32, 0.22))):
        t = np.linspace(0, np.pi, 40)
        arc = np.stack([0.5 - np.cos(t) * half, 0.62 - (0.62 - top) * np.sin(t) ** 0.9], 1)
        arc = np.vstack([[arc[0, 0], 1.0], arc, [arc[-1, 0], 1.0]])
        arcs.append(arc)
        s.add(ribbon(arc[::2], [0.010 - 0.0022 * k]), frame, Part.STRUCTURE, (0.50, 0.62, 0.74)[k], drop=0.6)
    for i in range(2, 40, 5):
        s.add([ribbon(points(arcs[k][i], arcs[k + 1][i]), [0.004, 0.003]) for k in (0, 1)], frame, Part.STRUCTURE, 0.6, line=0.4, drop=0.3)
    panes = [rectangle(x - 0.002, 0.30, x + 0.002, 0.9) for x in np.linspace(0.18, 0.82, 7)]
    panes += [rectangle(0.18, y - 0.002, 0.82, y + 0.002) for y in (0.42, 0.56, 0.70)]
    s.add(panes, frame, Part.STRUCTURE, 0.76, line=0.3, drop=0.2)
    if not s.light.dark:
        for x in (0.15, 0.36, 0.60):
            shaft = points((x, -0.2), (x + 0.10, -0.2), (x + 0.32, 1.1), (x + 0.12, 1.1))
            s.plain(shaft, np.asarray(s.light.rim), Part.LAMP, 0.6, 60, emission=1.0, alpha=0.13, blur=7.0, labelled=False)


def _thicket(s: PlaceFrame) -> None:
    rows = ((0.72, 0.74, 0.085, ("5f9a66", "79a85a")), (0.64, 0.82, 0.09, ("3f8058", "5a9450")), (0.58, 0.90, 0.08, ("2f6e50", "4a8a4e")))
    for depth, y, radius, colours in rows:
        for i in range(11):
            x = -0.25 + i * 0.15 + s.rng.uniform(-0.03, 0.03)
            aside = abs(x - 0.5)
            at = point(x, y + 0.05 - 0.26 * min(aside, 0.4) + s.rng.uniform(-0.02, 0.02))
            s.leaves(at, radius * (0.8 + 0.6 * aside), colours[i % 2], depth, 16, leaf=0.028, shade=0.3, drop=0.7)


def _broad_leaves(s: PlaceFrame) -> None:
    rng = s.rng
    for side in (-1, 1):
        for i in range(6):
            root = point(0.5 + side * (0.36 + rng.uniform(-0.02, 0.12)), 0.95)
            angle, length = -np.pi / 2 + side * rng.uniform(-0.5, 0.75), rng.uniform(0.30, 0.48)
            d = point(np.cos(angle), np.sin(angle))
            m, droop = point(-d[1], d[0]), point(side * 0.04, 0.02)
            tip = root + d * length + point(side * 0.08, 0.06)
            outline = [
                root,
                root + d * length * 0.35 - m * 0.02,
                root + d * length * 0.62 - m * 0.075,
                root + d * length * 0.88 - m * 0.05 + droop,
                tip,
                root + d * length * 0.86 + m * 0.05 + droop,
                root + d * length * 0.6 + m * 0.07,
                root + d * length * 0.35 + m * 0.02,
            ]
            item = s.add(
                spline(np.array(outline)), ("5fa557", "3f8a5c", "86b452")[i % 3], Part.FOLIAGE, 0.555 - 0.005 * i, shade=0.35, drop=0.9
            )
            s.mark(item, taper([root, root + d * length * 0.6, tip], 0.006), "lit", 0.8)
            veins = [
                taper([root + d * length * t, root + d * length * (t + 0.1) + m * q * 0.07], 0.0028)
                for t in np.linspace(0.4, 0.85, 6)
                for q in (-1, 1)
            ]
            s.mark(item, veins, "shade", 0.8)


def _path(s: PlaceFrame) -> None:
    s.ground(0.93, "8f8a66", 0.62, 0.28)

    def x(y: float, u: float) -> float:
        return 0.5 + u * (0.10 + (y - 0.93) * 1.05)

    for i in range(7):
        y0, y1 = 0.94 + 0.30 * (i / 7) ** 1.35, 0.94 + 0.30 * ((i + 0.92) / 7) ** 1.35
        shift = (i % 2) * 0.12
        tiles = [
            points((x(y0, u), y0), (x(y0, u + 0.62), y0), (x(y1, u + 0.62), y1), (x(y1, u), y1)) for u in (-1 + shift, -0.31, 0.38 - shift)
        ]
        s.add(tiles, ("c4b796", "b6aa8d")[i % 2], Part.GROUND, 0.5 - 0.02 * i, 94, line=0.4, drop=0.2)
    for side in (-1, 1):
        for i in range(9):
            at = point(0.5 + side * (0.20 + i * 0.075), 0.965 + 0.05 * s.rng.random() + i * 0.012)
            s.leaves(at, 0.045, ("4f8a55", "3d7552", "6f9a4a")[i % 3], 0.5 - 0.01 * i, 16, slot=94.6 + i * 0.05, stretch=1.3, leaf=0.024)
            if i % 2 == 0:
                green = ("5e9a68", "7fae62")[i // 2 % 2]
                s.frond(
                    point(0.5 + side * (0.24 + i * 0.08), 1.05 + 0.02 * i),
                    -np.pi / 2 + side * 0.5,
                    0.20,
                    green,
                    0.42,
                    95 + i * 0.05,
                    n=10,
                    drop=0.6,
                )


def _beds(s: PlaceFrame) -> None:
    rng = s.rng
    for side in (-1, 1):
        for k, (depth, y, n) in enumerate(((0.60, 0.90, 5), (0.50, 0.97, 6), (0.42, 1.05, 6))):
            for i in range(n):
                root = point(0.5 + side * (0.24 + 0.06 * k + i * 0.075 + rng.uniform(-0.02, 0.02)), y + rng.uniform(-0.02, 0.04))
                green = ("5e9468", "477f5b", "7fae62", "39705a")[rng.integers(4)]
                s.frond(
                    root,
                    -np.pi / 2 + side * rng.uniform(-0.35, 0.9),
                    rng.uniform(0.22, 0.36),
                    green,
                    depth + rng.uniform(-0.02, 0.02),
                    curl=rng.uniform(0.5, 1.2),
                    n=11,
                    drop=0.6,
                )
            s.leaves(
                point(0.5 + side * (0.42 + 0.05 * k), y + 0.02), 0.07, ("3f7a58", "55875a")[k % 2], depth - 0.03, 18, stretch=2.0, leaf=0.03
            )
        flowers = [ellipse((0.5 + side * rng.uniform(0.25, 0.55), rng.uniform(0.78, 1.0)), 0.013, 0.011, n=10) for _ in range(9)]
        s.add(flowers, ("f6b8a0", "f7e0a0")[side > 0], Part.FOLIAGE, 0.42, line=0.4, drop=0.3)


def _hanging_pots(s: PlaceFrame) -> None:
    for x, y in ((0.16, 0.20), (0.84, 0.16), (0.68, 0.04)):
        s.plain(ribbon(points((x, -0.3), (x, y)), [0.0016] * 2), "4c4a44", Part.STRUCTURE, 0.47)
        bowl = points((x - 0.045, y), (x + 0.045, y), (x + 0.03, y + 0.055), (x - 0.03, y + 0.055))
        s.add(spline(bowl, True, 4), "b9704a", Part.STRUCTURE, 0.46, shade=0.4, line=0.8, drop=0.8)
        for i in range(8):
            green = ("6fa565", "4f8a60")[i % 2]
            s.frond(point(x, y + 0.005), -np.pi / 2 + (i - 3.5) * 0.42, s.rng.uniform(0.10, 0.16), green, 0.455, curl=1.9, n=9, drop=0.4)
