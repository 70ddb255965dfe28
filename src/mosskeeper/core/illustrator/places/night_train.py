"""Night train: a compartment with a wide window, plush seats, a brass lamp, the land going by."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import ellipse, point, points, rectangle, ribbon, spline

_PLUSH, _WOOD = "7a3540", "7d543a"


def build(s: PlaceFrame) -> None:
    s.plain(rectangle(-1, -0.9, 2, 1.6), _WOOD, Part.STRUCTURE, 0.60, 0)
    _outside(s)
    _panels(s)
    s.add(rectangle(-0.9, -0.02, 1.9, 0.02), "5f3f2c", Part.STRUCTURE, 0.56, 30, drop=0.8)
    _rack(s)
    for side in (-1, 1):
        _seat(s, side)
        x = 0.5 + side * 0.47
        s.add(ribbon(points((x, 0.16), (x, 0.26)), [0.008] * 2), "c8923f", Part.STRUCTURE, 0.52, 90)
        s.add(
            spline(points((x - 0.05, 0.33), (x + 0.05, 0.33), (x + 0.032, 0.25), (x - 0.032, 0.25)), True, 4),
            "ffd892",
            Part.LAMP,
            0.51,
            90.1,
            emission=0.5 + 0.45 * s.light.windows,
        )
        s.lamp(point(x, 0.34), 0.40, "ffb45a", 0.35 + 0.5 * s.light.windows)
    s.ground(1.02, "5f4638", 0.42, 0.28)
    runner = points((0.24, 1.02), (0.76, 1.02), (1.0, 1.6), (0.0, 1.6))
    item = s.add(runner, "4a5f6a", Part.GROUND, 0.36, 94.5, drop=0.2)
    s.mark(
        item,
        [points((0.5 + q * 0.235, 1.02), (0.5 + q * 0.222, 1.02), (0.5 + q * 0.42, 1.6), (0.5 + q * 0.45, 1.6)) for q in (-1, 1)],
        "d9b86a",
        0.8,
    )


def _outside(s: PlaceFrame) -> None:
    s.add(rectangle(0.10, 0.10, 0.90, 0.70), "5f3f2c", Part.STRUCTURE, 0.62, 1, drop=0.8)
    glass = s.plain(rectangle(0.125, 0.125, 0.875, 0.675), s.light.sky_at(0.2), Part.SKY, 0.98, 1.1, emission=1.0)
    for i in range(12):
        s.mark(glass, rectangle(0, 0.125 + i * 0.04, 1, 0.8), s.light.sky_at(0.15 + i * 0.065), 1.0)
    if s.light.background < 0.7:
        s.mark(
            glass, [ellipse((s.rng.uniform(0.13, 0.87), s.rng.uniform(0.13, 0.42)), 0.0018, 0.0018, n=6) for _ in range(40)], "fff6dc", 0.9
        )
        s.mark(glass, ellipse((0.72, 0.24), 0.04, 0.04), "fdf3d0", 1.0)
    x = np.linspace(0, 1, 30)
    for y, amp, tone in ((0.50, 0.035, "7f8aa0"), (0.56, 0.03, "66788a"), (0.61, 0.02, "4f6a62")):
        ridge = y - amp * (np.sin(x * 7 + y * 40) + 0.5 * np.sin(x * 17 + y * 90))
        fade = 0.55 if s.light.background < 0.7 else 0.85
        s.mark(glass, np.vstack([np.stack([x, ridge], 1), [(1, 0.9), (0, 0.9)]]), tone, fade)
    lights = [ellipse((s.rng.uniform(0.14, 0.86), s.rng.uniform(0.585, 0.64)), 0.006, 0.0022, n=8) for _ in range(12)]
    if s.light.dark:
        s.mark(glass, lights, "ffd27a", 0.95)
    poles = [rectangle(px, 0.30, px + 0.006, 0.675) for px in (0.30, 0.64)]
    s.mark(glass, poles, "3f3a40", 0.6, 1.5)
    s.mark(
        glass,
        [points((0.20, 0.12), (0.28, 0.12), (0.16, 0.68), (0.08, 0.68)), points((0.60, 0.12), (0.63, 0.12), (0.51, 0.68), (0.48, 0.68))],
        "ffffff",
        0.10,
    )
    s.add([rectangle(0.495, 0.125, 0.505, 0.675), rectangle(0.125, 0.235, 0.875, 0.245)], "6b4630", Part.STRUCTURE, 0.61, 2, drop=0.4)
    for side in (-1, 1):
        x0 = 0.5 + side * 0.40
        fold = [
            points(
                (x0 + side * (k * 0.03), 0.06),
                (x0 + side * (k * 0.03 + 0.03), 0.06),
                (x0 + side * (k * 0.022 + 0.03), 0.74),
                (x0 + side * (k * 0.022), 0.74),
            )
            for k in range(-3, 2)
        ]
        for k, f in enumerate(fold):
            s.add(f, ("8a3f4a", "7a3540")[k % 2], Part.STRUCTURE, 0.58, 3, line=0.4, drop=0.5)
    s.add(rectangle(0.02, 0.045, 0.98, 0.068), "c8923f", Part.STRUCTURE, 0.57, 3.2, drop=0.4)


def _panels(s: PlaceFrame) -> None:
    for x0 in (-0.55, -0.25, 1.0, 1.3):
        s.add(rectangle(x0, 0.10, x0 + 0.22, 0.66), "8a6044", Part.STRUCTURE, 0.59, 1.5, drop=0.6)
    s.add(rectangle(-0.9, 0.70, 1.9, 1.06), "6b452f", Part.STRUCTURE, 0.57, 3.5, drop=0.6, gradient=0.5)
    for i in range(14):
        s.plain(rectangle(-0.9 + i * 0.2, 0.71, -0.896 + i * 0.2, 1.05), "4a2f22", Part.STRUCTURE, 0.565, 3.6, alpha=0.6)


def _rack(s: PlaceFrame) -> None:
    s.add(ribbon(points((-0.6, -0.10), (1.6, -0.10)), [0.008] * 2), "c8923f", Part.STRUCTURE, 0.52, 80, drop=0.6)
    for x, w, h, colour in (
        (0.10, 0.22, 0.12, "8a5a3a"),
        (0.70, 0.26, 0.10, "4f5f4a"),
        (-0.30, 0.2, 0.11, "6a4a5a"),
        (1.14, 0.22, 0.12, "8a6a3a"),
    ):
        s.add(
            spline(points((x, -0.11 - h), (x + w, -0.11 - h), (x + w, -0.11), (x, -0.11)), True, 2),
            colour,
            Part.STRUCTURE,
            0.51,
            80.2,
            shade=0.4,
            drop=0.8,
        )
        s.add(
            [rectangle(x + w * q - 0.008, -0.11 - h, x + w * q + 0.008, -0.11) for q in (0.25, 0.75)],
            "4a3426",
            Part.STRUCTURE,
            0.508,
            80.3,
            drop=0.2,
        )


def _seat(s: PlaceFrame, side: int) -> None:
    def at(x: float, y: float) -> tuple[float, float]:
        return 0.5 + side * x, y

    back = points(at(0.44, 0.50), at(0.80, 0.46), at(0.90, 1.12), at(0.46, 1.06))
    item = s.add(spline(back, True, 3), _PLUSH, Part.STRUCTURE, 0.44, 95.4, shade=0.5, drop=1.0)
    s.mark(
        item,
        [ellipse(at(0.53 + 0.09 * (k % 3) + 0.02 * (k // 3), 0.60 + 0.13 * (k // 3)), 0.008, 0.008, n=10) for k in range(9)],
        "deep",
        0.8,
    )
    s.add(
        spline(points(at(0.38, 0.94), at(0.80, 0.96), at(0.95, 1.10), at(0.95, 1.2), at(0.36, 1.08)), True, 3),
        "8f4450",
        Part.STRUCTURE,
        0.40,
        95.8,
        shade=0.5,
        drop=1.0,
    )
    s.add(
        spline(points(at(0.35, 0.84), at(0.42, 0.82), at(0.45, 1.08), at(0.37, 1.10)), True, 3),
        "6b452f",
        Part.STRUCTURE,
        0.39,
        96,
        shade=0.4,
        drop=0.8,
    )
