"""Streets, and what is built outdoors: city and village, alley, castle, ruins."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import ellipse, point, points, rectangle, ribbon, spline, taper
from mosskeeper.core.illustrator.vocabulary.colours import rgb

_FOOT = 0.86  # place coordinate where houses meet the ground


def _pane(s: PlaceFrame, x: float, y: float, w: float, h: float, depth: float, slot: float) -> None:
    """A window, lit by night."""
    s.add(rectangle(x - w * 0.12, y - h * 0.08, x + w * 1.12, y + h * 1.08), "e4dccb", Part.STRUCTURE, depth, slot, line=0.3, drop=0.3)
    lit = s.light.windows > 0 and s.rng.random() < 0.6
    s.plain(
        rectangle(x, y, x + w, y + h),
        "ffd890" if lit else s.light.sky_at(0.4) * 0.75,
        Part.LAMP if lit else Part.STRUCTURE,
        depth,
        slot + 0.01,
        emission=0.95 if lit else 0.3,
    )
    s.plain(
        [rectangle(x + w * 0.46, y, x + w * 0.54, y + h), rectangle(x, y + h * 0.46, x + w, y + h * 0.54)],
        "e4dccb",
        Part.STRUCTURE,
        depth,
        slot + 0.02,
    )


def _cobbles(s: PlaceFrame, colour: str, y0: float) -> None:
    s.ground(y0, colour, 0.7, 0.28)
    stones = []
    for k in range(12):
        y = y0 + 0.02 + 0.5 * (k / 12) ** 1.5
        size = 0.012 + 0.035 * (k / 12)
        stones += [ellipse((x + size * (k % 2), y), size * 0.85, size * 0.32, n=10) for x in np.arange(-0.4, 1.4, size * 2.1)]
    s.plain(stones, rgb(colour) * 1.12, Part.GROUND, 0.45, 93.4, alpha=0.6, labelled=False)


def city_street(s: PlaceFrame) -> None:
    s.sky()
    for k, x in enumerate(np.arange(-0.35, 1.4, 0.17)):
        top = 0.30 + 0.16 * s.rng.random()
        s.add(
            rectangle(x, top, x + 0.18, _FOOT),
            rgb("8a94a4") * 0.5 + s.light.sky_at(0.9) * 0.5,
            Part.STRUCTURE,
            0.94,
            20 + 0.1 * k,
            line=0.3,
        )
    for k, (x, w, top, colour) in enumerate(
        ((-0.45, 0.34, -0.1, "a8645a"), (-0.11, 0.27, 0.08, "c8b090"), (0.72, 0.26, 0.02, "8f8a94"), (0.98, 0.42, -0.12, "b08a64"))
    ):
        depth, slot = 0.72 - 0.02 * k, 40 + 3 * k
        s.add(rectangle(x, top, x + w, _FOOT + 0.01), colour, Part.STRUCTURE, depth, slot, shade=0.3, drop=0.8)
        s.add(rectangle(x - 0.01, top - 0.025, x + w + 0.01, top + 0.012), rgb(colour) * 0.8, Part.STRUCTURE, depth, slot + 0.5, drop=0.4)
        for y in np.arange(top + 0.06, 0.60, 0.14):
            for px in np.arange(x + 0.04, x + w - 0.05, 0.085):
                _pane(s, px, y, 0.042, 0.075, depth, slot + 1)
        s.add(rectangle(x + 0.03, 0.66, x + w - 0.03, _FOOT), "3f4a54", Part.STRUCTURE, depth, slot + 1, drop=0.3)
        awning = points((x + 0.01, 0.64), (x + w - 0.01, 0.64), (x + w + 0.01, 0.70), (x - 0.01, 0.70))
        item = s.add(awning, ("b8423a", "4f7a6a", "3f5f8a", "c8923a")[k], Part.STRUCTURE, depth - 0.01, slot + 1.5, shade=0.3)
        s.mark(
            item,
            [
                points((x + i * 0.05, 0.63), (x + i * 0.05 + 0.025, 0.63), (x + i * 0.05 + 0.025, 0.71), (x + i * 0.05, 0.71))
                for i in range(9)
            ],
            "f0e8d8",
            0.9,
        )
    s.ground(_FOOT, "8a8680", 0.7, 0.28)
    s.plain(
        [
            points(
                (0.5 + (j - 6) * 0.14, _FOOT),
                (0.5 + (j - 6) * 0.14 + 0.004, _FOOT),
                (0.5 + (j - 6) * 0.34 + 0.012, 1.5),
                (0.5 + (j - 6) * 0.34, 1.5),
            )
            for j in range(13)
        ],
        "6f6b66",
        Part.GROUND,
        0.5,
        93,
        alpha=0.6,
        labelled=False,
    )
    s.plain(
        [rectangle(-0.9, y, 1.9, y + 0.003 + 0.01 * (y - _FOOT)) for y in (0.89, 0.94, 1.02, 1.14)],
        "6f6b66",
        Part.GROUND,
        0.5,
        93.1,
        alpha=0.6,
        labelled=False,
    )
    for x in (0.14, 0.88):
        s.add(ribbon(points((x, 0.95), (x, 0.44)), [0.007, 0.005]), "34363c", Part.STRUCTURE, 0.55, 94, drop=0.4)
        s.bulb(point(x, 0.42), 0.020, 0.55, 94.2, 0.34, 0.9)


def village_street(s: PlaceFrame) -> None:
    s.sky()
    hill = spline([(-0.6, 0.92), (-0.4, 0.60), (-0.1, 0.52), (0.3, 0.60), (0.7, 0.50), (1.2, 0.58), (1.5, 0.64), (1.6, 0.92)], True, 5)
    s.add(hill, rgb("7f9a7a") * 0.6 + s.light.sky_at(0.9) * 0.4, Part.STRUCTURE, 0.95, 20, line=0.3)
    houses = (
        (0.34, 0.20, 0.66, "d8ccb0", 0.85),
        (0.50, 0.17, 0.68, "c8b48f", 0.84),
        (-0.12, 0.34, 0.46, "e0d4b8", 0.70),
        (0.80, 0.36, 0.44, "d4c09a", 0.68),
    )
    for k, (x, w, top, wall, depth) in enumerate(houses):
        slot, beam = 30 + 4 * k, "5a4030"
        s.add(rectangle(x, top, x + w, _FOOT + 0.02 * (k > 1)), wall, Part.STRUCTURE, depth, slot, shade=0.3)
        beams = [rectangle(x + f * w - 0.006, top, x + f * w + 0.006, _FOOT) for f in (0.02, 0.34, 0.66, 0.98)] + [
            rectangle(x, top + f * (_FOOT - top), x + w, top + f * (_FOOT - top) + 0.012) for f in (0.02, 0.48)
        ]
        s.add(beams, beam, Part.STRUCTURE, depth, slot + 0.4, line=0.3, drop=0.2)
        roof = points((x - 0.04, top + 0.02), (x + w / 2, top - 0.75 * w), (x + w + 0.04, top + 0.02))
        item = s.add(roof, ("8a4a3a", "7a5a44", "94503c", "6f5a4a")[k], Part.STRUCTURE, depth - 0.005, slot + 1, shade=0.5, drop=0.8)
        s.mark(
            item,
            [taper([(x - 0.05, y), (x + w / 2, y + 0.004), (x + w + 0.05, y)], 0.003) for y in np.arange(top - 0.7 * w, top, 0.03)],
            "shade",
            0.6,
        )
        for f in (0.12, 0.72):
            _pane(s, x + f * w, top + 0.10 * w + 0.03, 0.18 * w, 0.24 * w, depth - 0.002, slot + 0.6)
        s.add(
            spline(
                points(
                    (x + 0.42 * w, _FOOT),
                    (x + 0.42 * w, _FOOT - 0.5 * w),
                    (x + 0.50 * w, _FOOT - 0.58 * w),
                    (x + 0.58 * w, _FOOT - 0.5 * w),
                    (x + 0.58 * w, _FOOT),
                ),
                True,
                3,
            ),
            "5f4a38",
            Part.STRUCTURE,
            depth - 0.002,
            slot + 0.7,
            shade=0.4,
        )
    _cobbles(s, "948a78", _FOOT)
    for x in (-0.05, 1.02):
        s.leaves(point(x, 0.92), 0.07, "5f8a45", 0.5, 24, 94)


def alley(s: PlaceFrame) -> None:
    s.sky(clouds=False)
    for side in (-1, 1):
        for k, (near, far, colour) in enumerate(((1.0, 0.42, "6f625c"), (0.42, 0.20, "7f706a"), (0.20, 0.10, "8f827c"))):
            a, b = 0.5 + side * near, 0.5 + side * far
            wall = points((a, -1.2 * near - 0.1), (b, 0.10 - 0.5 * far), (b, _FOOT + 0.10 * far), (a, _FOOT + 0.55 * near))
            item = s.add(wall, rgb(colour) * (0.9 if side < 0 else 1.05), Part.STRUCTURE, 0.5 + 0.14 * k, 30 - 2 * k, shade=0.4, drop=0.6)
            bricks = [
                points(
                    (a + (b - a) * u, 0.9 * v),
                    (a + (b - a) * (u + 0.06), 0.9 * v + 0.002),
                    (a + (b - a) * (u + 0.06), 0.9 * v + 0.02),
                    (a + (b - a) * u, 0.9 * v + 0.018),
                )
                for u in np.arange(0.03, 0.95, 0.075)
                for v in np.arange(-0.1, 1.1, 0.03)
            ]
            s.mark(item, [b_ for b_ in bricks if s.rng.random() < 0.3], "lit" if k % 2 else "shade", 0.4)
        x = 0.5 + side * 0.30
        _pane(s, x - 0.03, 0.30, 0.05, 0.10, 0.6, 32)
        _pane(s, x - 0.03, 0.02, 0.05, 0.10, 0.6, 32)
    s.add(rectangle(0.38, 0.40, 0.62, _FOOT), rgb("a89a90") * 0.7 + s.light.sky_at(0.9) * 0.3, Part.STRUCTURE, 0.93, 19)
    _cobbles(s, "6f6860", _FOOT - 0.02)
    s.plain(taper([(-0.2, 0.16), (0.5, 0.24), (1.2, 0.14)], 0.003), "3a3432", Part.STRUCTURE, 0.6, 60)
    for k, x in enumerate((0.1, 0.32, 0.62, 0.84)):
        s.add(
            points((x - 0.04, 0.20), (x + 0.04, 0.205), (x + 0.035, 0.33), (x - 0.035, 0.33)),
            ("c8b8a0", "a8524a", "5f7a8a", "d8d0c0")[k],
            Part.STRUCTURE,
            0.6,
            61,
            shade=0.4,
        )
    s.bulb(point(0.74, 0.50), 0.018, 0.6, 62, 0.36, 0.9)


def castle(s: PlaceFrame) -> None:
    s.sky()
    hill = spline([(-0.6, 0.90), (-0.1, 0.74), (0.5, 0.66), (1.1, 0.74), (1.6, 0.90)], True, 5)
    s.add(hill, rgb("7f9a70") * 0.75 + s.light.sky_at(0.9) * 0.25, Part.GROUND, 0.93, 20, line=0.3)
    stone = rgb("a8a498") * 0.85 + s.light.sky_at(0.9) * 0.15

    def tower(x: float, w: float, top: float, slot: float, roof: bool) -> None:
        item = s.add(rectangle(x - w, top, x + w, 0.74), stone, Part.STRUCTURE, 0.9, slot, shade=0.6, drop=0.6)
        s.mark(
            item,
            [
                rectangle(px, py, px + 0.022, py + 0.010)
                for px in np.arange(x - w, x + w, 0.035)
                for py in np.arange(top, 0.74, 0.035)
                if s.rng.random() < 0.3
            ],
            "shade",
            0.45,
        )
        teeth = [rectangle(px, top - 0.03, px + w * 0.28, top + 0.005) for px in np.arange(x - w * 1.1, x + w * 0.95, w * 0.48)]
        s.add(teeth, stone * 0.96, Part.STRUCTURE, 0.9, slot + 0.2, line=0.3, drop=0.2)
        if roof:
            s.add(
                points((x - w * 1.25, top - 0.01), (x, top - 3.2 * w), (x + w * 1.25, top - 0.01)),
                "4f5f80",
                Part.STRUCTURE,
                0.9,
                slot + 0.3,
                shade=0.6,
            )
            s.add(
                points((x, top - 3.2 * w), (x + 0.05, top - 3.2 * w + 0.012), (x, top - 3.2 * w + 0.028)),
                "b8423a",
                Part.STRUCTURE,
                0.9,
                slot + 0.4,
                line=0.3,
            )
        for y in np.arange(top + 0.06, 0.62, 0.12):
            lit = s.light.windows > 0
            s.plain(
                rectangle(x - 0.008, y, x + 0.008, y + 0.035),
                "ffd890" if lit else "4a4a50",
                Part.LAMP if lit else Part.STRUCTURE,
                0.9,
                slot + 0.5,
                emission=0.95 if lit else 0.0,
            )

    tower(0.50, 0.10, 0.10, 21, False)
    s.add(rectangle(0.08, 0.46, 0.92, 0.76), stone * 0.97, Part.STRUCTURE, 0.9, 23, shade=0.4)
    s.add(
        [rectangle(x, 0.435, x + 0.03, 0.465) for x in np.arange(0.08, 0.92, 0.055)],
        stone * 0.97,
        Part.STRUCTURE,
        0.9,
        23.1,
        line=0.3,
        drop=0.2,
    )
    for x, w, top, slot in ((0.08, 0.075, 0.26, 24.0), (0.92, 0.075, 0.26, 24.0), (0.34, 0.045, 0.20, 22.0), (0.66, 0.045, 0.20, 22.0)):
        tower(x, w, top, slot, True)
    s.add(spline(points((0.44, 0.76), (0.44, 0.62), (0.50, 0.55), (0.56, 0.62), (0.56, 0.76)), True, 3), "3f342c", Part.STRUCTURE, 0.89, 25)
    s.ground(0.80, "6f8a4c", 0.7, 0.28)
    s.add(
        spline(points((0.46, 0.75), (0.54, 0.75), (0.60, 0.86), (0.80, 1.05), (1.1, 1.7), (-0.1, 1.7), (0.2, 1.05), (0.42, 0.86)), True, 6),
        "b0966c",
        Part.GROUND,
        0.5,
        93.4,
        line=0.3,
        drop=0.2,
    )
    for x in (-0.02, 0.10, 0.90, 1.02):
        s.leaves(point(x, 0.88 + 0.03 * (x < 0.5)), 0.06, "4f7a45", 0.5, 22, 94)


def ruins(s: PlaceFrame) -> None:
    s.sky()
    s.add(
        spline([(-0.6, 0.80), (0.0, 0.62), (0.5, 0.70), (1.1, 0.60), (1.6, 0.80)], True, 5),
        rgb("7f9a7a") * 0.6 + s.light.sky_at(0.9) * 0.4,
        Part.STRUCTURE,
        0.95,
        20,
        line=0.3,
    )
    s.ground(0.78, "74804f", 0.75, 0.28)
    for k, (x, h, whole) in enumerate(((0.02, 0.74, True), (0.24, 0.40, False), (0.76, 0.62, True), (0.98, 0.30, False))):
        y, w, slot = 0.90 + 0.02 * (k % 2), 0.055, 93.2 + k * 0.1
        item = s.add(rectangle(x - w, y - h, x + w, y), rgb("b0a894") * (0.94 + 0.03 * k), Part.STRUCTURE, 0.62, slot, shade=0.7)
        s.mark(item, [rectangle(px, y - h, px + 0.006, y) for px in np.arange(x - w, x + w, 0.022)], "shade", 0.5)
        if whole:
            s.add(rectangle(x - w * 1.5, y - h - 0.04, x + w * 1.5, y - h + 0.01), "b0a894", Part.STRUCTURE, 0.62, slot + 0.02, shade=0.4)
        else:
            s.add(
                points((x - w, y - h), (x - w * 0.4, y - h - 0.05), (x, y - h - 0.01), (x + w * 0.5, y - h - 0.07), (x + w, y - h)),
                "b0a894",
                Part.STRUCTURE,
                0.62,
                slot + 0.02,
                shade=0.4,
            )
        s.leaves(point(x - w, y - h * 0.55), 0.035, "5f8a45", 0.61, 16, slot + 0.04)
    arch = [
        (0.36, 0.86),
        (0.36, 0.46),
        (0.43, 0.36),
        (0.50, 0.33),
        (0.57, 0.36),
        (0.64, 0.46),
        (0.64, 0.86),
        (0.59, 0.86),
        (0.59, 0.50),
        (0.55, 0.43),
        (0.50, 0.40),
        (0.45, 0.43),
        (0.41, 0.50),
        (0.41, 0.86),
    ]
    s.add(points(*arch), "a89f8c", Part.STRUCTURE, 0.75, 92.9, shade=0.6)
    for x, y, r in ((0.14, 1.0, 0.05), (0.86, 1.02, 0.06), (0.30, 0.93, 0.03), (0.70, 0.93, 0.03)):
        s.add(
            points((x - r, y), (x - r * 0.8, y - r * 0.8), (x + r * 0.6, y - r), (x + r, y - r * 0.1)),
            "a8a08c",
            Part.GROUND,
            0.45,
            94,
            shade=0.5,
        )
