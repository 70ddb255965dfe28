"""Canal market: gabled houses over water, a bridge, a boat, a quay with striped stalls."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import ellipse, points, rectangle, ribbon, spline

_WATER_LINE = 0.87
_WALLS = ("d0764e", "e0a85a", "b85a56", "6f9a8e", "d69a80", "8f6f9a")


def build(s: PlaceFrame) -> None:
    s.sky()
    for k, depth in enumerate((0.93, 0.80, 0.66, 0.54)):
        w, aside, height = (0.11, 0.13, 0.16, 0.22)[k], (0.07, 0.17, 0.29, 0.43)[k], (0.34, 0.46, 0.60, 0.76)[k]
        base = _WATER_LINE + k * 0.022
        for side in (-1, 1):
            for i in range((2, 2, 1, 2)[k]):
                x = 0.5 + side * (aside + i * w * 0.98) - (w if side < 0 else 0)
                _house(s, x, w, base - height + s.rng.uniform(-0.04, 0.04), base, depth, _WALLS[s.rng.integers(6)])
    s.water(_WATER_LINE, 70)
    s.haze(((0.80, 0.42), (0.70, 0.30), (0.88, 0.30)), 76)
    _bridge(s)
    _boat(s)
    _quay(s)
    for x0, w, colour in ((0.80, 0.34, "c9543c"), (-0.14, 0.30, "3f7a7c")):
        _stall(s, x0, w, colour)


def _house(s: PlaceFrame, x: float, w: float, top: float, base: float, depth: float, colour: str) -> None:
    steps = (
        (0, 0),
        (0.10, 0),
        (0.22, -0.035),
        (0.34, -0.045),
        (0.42, -0.085),
        (0.58, -0.085),
        (0.66, -0.045),
        (0.78, -0.035),
        (0.90, 0),
        (1, 0),
    )
    outline = points((x, base), *((x + w * u, top + dy) for u, dy in steps), (x + w, base))
    item = s.add(outline, colour, Part.STRUCTURE, depth, gradient=0.5, line=0.8, drop=1.2)
    s.mark(item, rectangle(x - 0.1, top - 0.004, x + w + 0.1, top + 0.008), "shade", 0.8)
    columns, rows = max(2, int(w / 0.055)), int((base - top - 0.1) / 0.105)
    centres = [(x + w * (i + 0.5) / columns, top + 0.06 + j * 0.105) for i in range(columns) for j in range(rows)]
    s.add(
        [rectangle(cx - 0.017, cy - 0.03, cx + 0.017, cy + 0.031) for cx, cy in centres],
        "f0e4cf",
        Part.STRUCTURE,
        depth - 0.001,
        line=0.3,
        drop=0.2,
    )
    panes = [rectangle(cx - 0.013, cy - 0.026, cx + 0.013, cy + 0.026) for cx, cy in centres]
    lit = s.rng.random(len(panes)) < s.light.windows * 0.65
    dark_panes = [p for p, on in zip(panes, lit, strict=True) if not on]
    lit_panes = [p for p, on in zip(panes, lit, strict=True) if on]
    if dark_panes:
        s.plain(dark_panes, "5a6678", Part.STRUCTURE, depth - 0.002)
    if lit_panes:
        s.plain(lit_panes, "ffcf7a", Part.LAMP, depth - 0.002, emission=0.9)
    s.plain([rectangle(p[0, 0], p[0, 1] + 0.025, p[2, 0], p[0, 1] + 0.027) for p in panes], "f0e4cf", Part.STRUCTURE, depth - 0.003)


def _bridge(s: PlaceFrame) -> None:
    w, t = _WATER_LINE, np.linspace(np.pi, 0, 24)
    arch = np.stack([0.5 + 0.15 * np.cos(t), w + 0.02 - 0.095 * np.sin(t)], 1)
    deck = np.stack([np.linspace(0.28, 0.72, 14), w - 0.085 - 0.055 * np.sin(np.linspace(0, np.pi, 14))], 1)
    outline = np.vstack([[(0.28, w + 0.02), (0.28, w - 0.08)], deck, [(0.72, w - 0.08), (0.72, w + 0.02)], arch[::-1]])
    item = s.add(outline, "b59d8f", Part.STRUCTURE, 0.74, 72, line=0.7, drop=0.8)
    s.mark(item, ribbon(arch + (0, -0.012), [0.008] * 5), "lit", 0.5)
    posts = [
        rectangle(
            x - 0.003,
            w - 0.118 - 0.055 * np.sin((x - 0.28) / 0.44 * np.pi),
            x + 0.003,
            w - 0.08 - 0.055 * np.sin((x - 0.28) / 0.44 * np.pi),
        )
        for x in np.linspace(0.29, 0.71, 15)
    ]
    rail = ribbon(points((0.28, w - 0.118), (0.5, w - 0.173), (0.72, w - 0.118)), [0.004] * 3)
    s.add([*posts, rail], "8a766e", Part.STRUCTURE, 0.735, 72.1, line=0.3, drop=0.3)


def _boat(s: PlaceFrame) -> None:
    x, y = 0.17, 0.985
    for i in range(6):
        fruit = ellipse((x - 0.07 + 0.03 * i, y - 0.02 - 0.012 * (i % 2)), 0.02, 0.018, n=14)
        s.add(fruit, ("e0a33a", "c9543c", "8aa04a")[i % 3], Part.STRUCTURE, 0.5, 77.5, line=0.5, drop=0.3)
    hull = points(
        (x - 0.16, y - 0.045), (x - 0.11, y - 0.01), (x + 0.10, y - 0.01), (x + 0.17, y - 0.055), (x + 0.13, y + 0.03), (x - 0.12, y + 0.03)
    )
    item = s.add(spline(hull, True, 5), "8a4a3a", Part.STRUCTURE, 0.5, 78, shade=0.4, line=0.8, drop=0.8)
    s.mark(item, ribbon(points((x - 0.2, y - 0.02), (x + 0.2, y - 0.02)), [0.006] * 2), "f0d8a8", 0.8)


def _quay(s: PlaceFrame) -> None:
    q0 = 1.045
    s.add(rectangle(-0.8, q0, 1.8, q0 + 0.05), "8d7d74", Part.STRUCTURE, 0.38, 93, line=0.8, drop=0.8, gradient=0.5)
    s.ground(q0 + 0.012, "b3a091", 0.36, 0.28)
    for i in range(6):
        y0, y1 = q0 + 0.014 + 0.2 * (i / 6) ** 1.3, q0 + 0.014 + 0.2 * ((i + 0.93) / 6) ** 1.3
        n, shift = 13 - i, (i % 2) * 0.05

        def x(j: float, k: float, n: int = n, shift: float = shift) -> float:
            return 0.5 + ((j - n / 2) * 2.2 / n + shift) * k

        stones = [
            points((x(j, 1) + 0.006, y0), (x(j + 1, 1) - 0.006, y0), (x(j + 1, 1.04) - 0.006, y1), (x(j, 1.04) + 0.006, y1))
            for j in range(n)
        ]
        s.add(stones, ("beab9b", "a99686")[i % 2], Part.GROUND, 0.33, 94.5, line=0.3, drop=0.0)


def _stall(s: PlaceFrame, x0: float, w: float, colour: str) -> None:
    y, n = 0.62, 7
    posts = [rectangle(x0 + 0.02, y, x0 + 0.03, 1.09), rectangle(x0 + w - 0.03, y, x0 + w - 0.02, 1.09)]
    s.add(posts, "6b4a38", Part.STRUCTURE, 0.42, 96, drop=0.6)
    for i in range(11):
        fruit = ellipse((x0 + 0.03 + w * 0.085 * i, 0.925 - 0.014 * (i % 2)), 0.020, 0.019, n=14)
        s.add(
            fruit,
            ("e0a33a", "d9634a", "8aa04a", "e8c25a")[(i // 3) % 4],
            Part.STRUCTURE,
            0.40,
            96.1 + 0.01 * (i % 2),
            shade=0.25,
            line=0.5,
            drop=0.4,
        )
    s.add(rectangle(x0, 0.95, x0 + w, 1.10), "9a6b48", Part.STRUCTURE, 0.41, 96.2, line=0.8, drop=0.8, gradient=0.5)
    s.add(rectangle(x0 - 0.01, 0.935, x0 + w + 0.01, 0.957), "b98a5c", Part.STRUCTURE, 0.405, 96.3)
    for i in range(n):
        a, b = x0 + w * i / n, x0 + w * (i + 1) / n

        def top(x: float) -> float:
            return x0 + w / 2 + (x - x0 - w / 2) * 0.82

        scallop = ellipse(((a + b) / 2, y), w / n / 2, 0.018, 0, 16)[:9]
        stripe = np.vstack([[(top(a), y - 0.085), (top(b), y - 0.085), (b, y)], scallop, [(a, y)]])
        s.add(stripe, colour if i % 2 == 0 else "f0e4cf", Part.STRUCTURE, 0.41, 96.6, drop=0.6, gradient=0.35)
    lamp = np.array([x0 + w * 0.5, y + 0.05])
    s.plain(ribbon(points(lamp - (0, 0.05), lamp - (0, 0.02)), [0.0012] * 2), "3a3a3a", Part.STRUCTURE, 0.4, 96.7)
    s.bulb(lamp, 0.017, 0.40, 96.7, 0.30, 0.75)
