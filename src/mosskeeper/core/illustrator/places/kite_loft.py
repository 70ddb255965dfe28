"""Kite loft: rafters under a steep roof, a round window, kites hanging and half made."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import Points, ellipse, point, points, rectangle, ribbon, spline, taper
from mosskeeper.core.illustrator.vocabulary.colours import rgb

_SAILS = (("c9543c", "e8c25a"), ("3f7a7c", "f0e4cf"), ("e0a33a", "8a5570"), ("6f9a8e", "c9543c"), ("f0e4cf", "3f6f72"))


def build(s: PlaceFrame) -> None:
    s.plain(rectangle(-1, -0.9, 2, 1.6), "8a6a52", Part.STRUCTURE, 0.92, 0)
    _boards(s)
    _window(s)
    _rafters(s)
    s.ground(0.97, "8f6a4c", 0.60, 0.28)
    for i in range(13):
        x = -0.9 + i * 0.22
        s.plain(
            points(
                (0.5 + (x - 0.3) * 0.6, 0.97),
                (0.5 + (x - 0.3) * 0.6 + 0.004, 0.97),
                (0.5 + (x - 0.3) * 1.9 + 0.012, 1.6),
                (0.5 + (x - 0.3) * 1.9, 1.6),
            ),
            "5f4330",
            Part.GROUND,
            0.45,
            94,
            alpha=0.7,
        )
    _bench(s)
    for i, (x, y, size, turn) in enumerate(
        (
            (0.16, 0.30, 0.15, 0.3),
            (0.84, 0.24, 0.17, -0.4),
            (0.62, 0.10, 0.10, 0.6),
            (0.34, 0.08, 0.09, -0.5),
            (1.06, 0.52, 0.14, 0.2),
            (-0.06, 0.58, 0.13, -0.3),
        )
    ):
        _kite(s, point(x, y), size, turn, _SAILS[i % 5], 0.60 - 0.04 * (i % 3))
    if s.light.background > 0.7:
        shaft = points((0.40, 0.28), (0.60, 0.28), (0.50, 1.3), (0.02, 1.3))
        s.plain(shaft, np.asarray(s.light.rim), Part.LAMP, 0.6, 90, emission=1.0, alpha=0.16, blur=8.0, labelled=False)


def _boards(s: PlaceFrame) -> None:
    for side in (-1, 1):
        for i in range(16):
            x = 0.5 + side * i * 0.075
            s.plain(
                points((x, -0.9), (x + side * 0.003, -0.9), (x + side * 0.003, 1.0), (x, 1.0)), "5f4330", Part.STRUCTURE, 0.91, 1, alpha=0.6
            )


def _window(s: PlaceFrame) -> None:
    c = point(0.5, 0.36)
    s.add(ellipse(c, 0.20, 0.20, n=40), "6b4a38", Part.STRUCTURE, 0.90, 2, drop=1.0)
    glass = s.plain(ellipse(c, 0.178, 0.178, n=40), s.light.sky_at(0.3), Part.SKY, 0.89, 2.1, emission=1.0)
    for i in range(10):
        s.mark(glass, rectangle(0, 0.18 + i * 0.036, 1, 0.6), s.light.sky_at(0.2 + 0.08 * i), 1.0)
    roofs = [
        points(
            (0.32 + i * 0.06, 0.6),
            (0.32 + i * 0.06, 0.48),
            (0.35 + i * 0.06, 0.44 - 0.02 * (i % 2)),
            (0.38 + i * 0.06, 0.48),
            (0.38 + i * 0.06, 0.6),
        )
        for i in range(6)
    ]
    s.mark(glass, roofs, "7d6f8a", 0.9)
    bars = [rectangle(0.496, 0.18, 0.504, 0.54), rectangle(0.32, 0.356, 0.68, 0.364)]
    s.add(bars, "6b4a38", Part.STRUCTURE, 0.885, 2.2, drop=0.3)
    s.lamp(c, 0.5, "8fb0ff" if s.light.background < 0.7 else "fff0d0", 0.35)


def _rafters(s: PlaceFrame) -> None:
    for depth, spread, width in ((0.80, 0.34, 0.018), (0.66, 0.50, 0.026), (0.52, 0.70, 0.038)):
        for side in (-1, 1):
            beam = ribbon(
                points((0.5 + side * spread, 1.05), (0.5 + side * spread * 0.86, 0.5), (0.5, -0.25 - spread * 0.2)), [width, width, width]
            )
            s.add(beam, "6f4f38", Part.STRUCTURE, depth, drop=1.0, shade=0.2)
        s.add(
            ribbon(points((0.5 - spread * 0.80, 0.24), (0.5 + spread * 0.80, 0.24)), [width * 0.8] * 2),
            "7d5a40",
            Part.STRUCTURE,
            depth - 0.01,
            drop=0.8,
        )


def _kite(s: PlaceFrame, c: Points, size: float, turn: float, colours: tuple[str, str], depth: float) -> None:
    cos, sin = np.cos(turn), np.sin(turn)

    def at(x: float, y: float) -> Points:
        return c + point(x * cos - y * sin, x * sin + y * cos) * size

    sail = points(at(0, -1), at(0.62, -0.2), at(0, 1), at(-0.62, -0.2))
    item = s.add(sail, colours[0], Part.STRUCTURE, depth, drop=1.0, shade=0.25)
    s.mark(item, [points(at(0, -1), at(0.62, -0.2), at(0, -0.2)), points(at(0, 1), at(-0.62, -0.2), at(0, -0.2))], colours[1], 0.95)
    s.add(
        [taper([at(0, -1), at(0, 1)], size * 0.02), taper([at(-0.62, -0.2), at(0.62, -0.2)], size * 0.02)],
        "5f4330",
        Part.STRUCTURE,
        depth - 0.001,
        drop=0.2,
    )
    tail = [at(0, 1) + point(0.02 * np.sin(k * 1.7), k * 0.035) for k in range(6)]
    s.plain(ribbon(tail, [0.0016] * 3), "5f4330", Part.STRUCTURE, depth - 0.002)
    bows = [
        p
        for t in tail[1::2]
        for p in (points(t, t + (0.016, -0.008), t + (0.016, 0.008)), points(t, t - (0.016, 0.008), t + (-0.016, 0.008)))
    ]
    s.add(bows, colours[1], Part.STRUCTURE, depth - 0.003, drop=0.2, line=0.4)
    s.plain(ribbon(points(at(0, -1), at(0, -1) + (0, -1.2)), [0.001] * 2), "4a3a30", Part.STRUCTURE, depth)


def _bench(s: PlaceFrame) -> None:
    s.add([rectangle(0.74, 0.93, 0.765, 1.16), rectangle(1.16, 0.93, 1.185, 1.16)], "6b4a38", Part.STRUCTURE, 0.42, 96, drop=0.6)
    s.add(rectangle(0.70, 0.905, 1.30, 0.935), "a5784f", Part.STRUCTURE, 0.41, 96.2, drop=0.8)
    for i, colour in enumerate(("c9543c", "e8c25a", "3f7a7c", "f0e4cf")):
        s.add(ellipse((0.80 + i * 0.075, 0.885), 0.028, 0.022, n=16), colour, Part.STRUCTURE, 0.40, 96.3, drop=0.4, shade=0.3)
    s.bulb(point(0.76, 0.865), 0.02, 0.40, 96.4, 0.34, 0.8)
    for x, height in ((0.06, 0.46), (0.02, 0.40), (0.11, 0.36)):
        s.add(ribbon(points((x, 1.12), (x + 0.03, 1.12 - height)), [0.006, 0.005]), rgb("b98a5c"), Part.STRUCTURE, 0.41, 96.1, drop=0.6)
    s.add(
        spline(points((-0.04, 1.02), (0.16, 1.02), (0.13, 1.16), (-0.01, 1.16)), True, 4),
        "9a6b48",
        Part.STRUCTURE,
        0.40,
        96.2,
        drop=0.8,
        shade=0.5,
    )
