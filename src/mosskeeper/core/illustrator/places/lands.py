"""Landscapes by name: one drawing, whose rows make a meadow, a desert or a mountain pass."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import ellipse, point, points, rectangle, ribbon, spline, taper
from mosskeeper.core.illustrator.vocabulary.colours import rgb

_HORIZON = 0.64  # place coordinate
_LEAF, _DARK_LEAF = "5f8a45", "3f6a3c"
_ROWS = tuple(range(11))  # from far to near


@dataclass(frozen=True, slots=True)
class Land:
    """What a landscape is made of.

    Attributes
    ----------
    near, far : colours of the ground, hexadecimal.
    rises : what stands on the horizon: "hills", "mountains", "dunes", "wood", "cliffs" or "none".
    rock : its colour. grows : on the ground, from far to near. path, lake : whether there is one.
    """

    near: str
    far: str
    rises: str = "hills"
    rock: str = "6f8a7a"
    grows: tuple[str, ...] = ()
    path: bool = False
    lake: bool = False


LANDS: dict[str, Land] = {
    "meadow": Land("6f8f45", "9ab070", "hills", "7f9a7a", ("grass", "flowers")),
    "wheat field": Land("c8a04a", "d8bc70", "hills", "8a9a70", ("wheat",), path=True),
    "mountain pass": Land("7a7a68", "9a9a8a", "mountains", "6f7a8a", ("rocks", "pines"), path=True),
    "desert": Land("d8a860", "e4c08a", "dunes", "d09a58", ("rocks", "cacti")),
    "snow field": Land("e8eef2", "dce6ee", "mountains", "8a9ab0", ("pines", "drifts")),
    "lake shore": Land("8a9060", "9aa878", "mountains", "6f8090", ("reeds", "rocks"), lake=True),
    "jungle": Land("3f5f34", "5f8050", "wood", "3f6a48", ("palms", "ferns")),
    "park": Land("6f9450", "94b074", "wood", "5f8a58", ("trees", "flowers"), path=True),
    "orchard": Land("7a9450", "9ab074", "hills", "7f9a70", ("apples", "grass")),
    "graveyard": Land("5f6a4a", "7a8464", "wood", "5a6a5f", ("graves", "grass"), path=True),
    "swamp": Land("5a6444", "6f7a5a", "wood", "4f5f50", ("reeds", "pools")),
    "hillside": Land("74904a", "94aa6c", "hills", "6f8a60", ("grass", "rocks"), path=True),
    "cliffs": Land("7a8454", "94a070", "cliffs", "8a8078", ("grass", "rocks")),
    "garden": Land("6a8f4a", "8fae70", "wood", "5a8450", ("hedges", "flowers"), path=True),
    "battlefield": Land("6f6450", "8a7f6c", "hills", "6f6a64", ("rocks", "flags")),
    "river bank": Land("6f8a4c", "94aa74", "wood", "5f8060", ("reeds", "grass"), lake=True),
}


def building(land: Land) -> Callable[[PlaceFrame], None]:
    """What builds a landscape."""
    return lambda s: _Built(s, land).build()


_GROWS: dict[str, tuple[str, tuple[int, ...]]] = {  # what grows: how it is drawn, and in which rows
    "grass": ("grass", _ROWS),
    "wheat": ("wheat", _ROWS),
    "flowers": ("flowers", _ROWS),
    "rocks": ("rocks", (1, 4, 7, 10)),
    "pines": ("pines", (0, 1, 3)),
    "drifts": ("drifts", (1, 3, 5, 7, 9)),
    "cacti": ("cacti", (2, 5)),
    "reeds": ("reeds", (2, 3, 7, 9)),
    "pools": ("pools", (0, 3, 6, 9)),
    "palms": ("palms", (0, 2, 3, 5, 7)),
    "ferns": ("ferns", (3, 4, 5, 6, 7, 8, 9, 10)),
    "trees": ("trees", (1, 3, 5)),
    "apples": ("trees", (1, 3, 5)),
    "graves": ("graves", (2, 4, 6, 9)),
    "hedges": ("hedges", (2, 5)),
    "flags": ("flags", (2, 4)),
}


@dataclass(frozen=True, slots=True)
class _Row:
    """One row of what grows, from far (k = 0) to near (10). y : place coordinate. near : where in its middle somebody stands."""

    s: PlaceFrame
    k: int
    depth: float
    y: float
    size: float
    slot: float
    near: bool

    @staticmethod
    def of(s: PlaceFrame, k: int) -> _Row:
        return _Row(s, k, 0.86 - 0.052 * k, _HORIZON + 0.02 + 0.62 * (k / 10) ** 1.6, 0.22 + 1.1 * (k / 10) ** 1.3, 62 + 2.8 * k, k >= 8)

    def across(self, n: int) -> list[float]:
        """Places across the row, fewer in thumbnails, and none where somebody stands."""
        xs = [float(self.s.rng.uniform(-0.25, 1.25)) for _ in range(n if self.s.detailed else max(1, n // 2))]
        return [x for x in xs if not (self.near and 0.22 < x < 0.78)]


class _Built:
    def __init__(self, s: PlaceFrame, land: Land) -> None:
        self.s, self.land = s, land

    def build(self) -> None:
        s = self.s
        s.sky()
        getattr(self, f"_{self.land.rises}")()
        self._ground()
        if self.land.lake:
            s.water(_HORIZON + 0.01, 40, (0.88, 0.6), reach=0.14)
            shore = [(x, _HORIZON + 0.16 + 0.02 * np.sin(9 * x)) for x in np.linspace(-0.9, 1.9, 20)]
            s.add(spline([*shore, (1.9, 2.0), (-0.9, 2.0)], True, 2), self.land.near, Part.GROUND, 0.55, 60, line=0.4)
        if self.land.path:
            path = points(
                (0.485, _HORIZON + 0.02),
                (0.515, _HORIZON + 0.02),
                (0.55, 0.80),
                (0.70, 1.0),
                (1.05, 1.7),
                (-0.05, 1.7),
                (0.30, 1.0),
                (0.46, 0.80),
            )
            s.add(spline(path, True, 6), rgb("b89a70") * 0.5 + rgb(self.land.near) * 0.5, Part.GROUND, 0.5, 61, line=0.3, drop=0.2)
        for what in self.land.grows:
            drawn, rows = _GROWS[what]
            for k in rows:
                getattr(self, f"_{drawn}")(_Row.of(s, k))

    def _ground(self) -> None:
        near, far = rgb(self.land.near), rgb(self.land.far)
        for i in range(18):
            t = i / 18
            colour = far * (1 - min(1, t * 1.6)) + near * min(1, t * 1.6)
            self.s.plain(
                rectangle(-0.9, _HORIZON + (1.9 - _HORIZON) * t**1.6, 1.9, 2.0),
                colour * (1.02 - 0.04 * (i % 2)),
                Part.GROUND,
                0.88 - 0.58 * min(1, t * 1.3),
                22 + i * 0.05,
            )

    # -- the horizon ---------------------------------------------------------------------------------------

    def _ridge(self, high: float, rough: float, share: float, slot: float, depth: float, sharp: bool = False) -> None:
        s = self.s
        n = 17 if sharp else 12
        x = np.linspace(-0.4, 1.4, n)
        y = _HORIZON - high * (0.55 + 0.45 * np.sin(x * 7 + s.rng.uniform(0, 6))) - rough * s.rng.uniform(0, 1, n)
        line = [(-0.5, _HORIZON + 0.06), *zip(x, y, strict=True), (1.5, _HORIZON + 0.06)]
        outline = np.array(line) if sharp else spline(line, True, 4)
        colour = rgb(self.land.rock) * (1 - share) + self.s.light.sky_at(0.9) * share
        item = s.add(outline, colour, Part.STRUCTURE, depth, slot, line=0.3, drop=0.3)
        if sharp:
            for px, py in zip(x, y, strict=True):
                s.mark(
                    item,
                    points(
                        (px, py - 0.02),
                        (px + 0.05, py + 0.075),
                        (px + 0.02, py + 0.055),
                        (px, py + 0.085),
                        (px - 0.03, py + 0.05),
                        (px - 0.05, py + 0.07),
                    ),
                    "f2f4f6",
                    0.85,
                )
                s.mark(item, points((px, py), (px + 0.09, py + 0.30), (px + 0.02, py + 0.28)), "shade", 0.5)

    def _hills(self) -> None:
        for k, (high, share) in enumerate(((0.12, 0.55), (0.08, 0.35), (0.045, 0.12))):
            self._ridge(high, 0.01, share, 19 + k, 0.96 - 0.02 * k)

    def _mountains(self) -> None:
        self._ridge(0.30, 0.22, 0.50, 19, 0.97, sharp=True)
        self._ridge(0.16, 0.14, 0.22, 20, 0.95, sharp=True)
        self._ridge(0.05, 0.01, 0.10, 21, 0.92)

    def _dunes(self) -> None:
        for k, (high, share) in enumerate(((0.15, 0.35), (0.09, 0.18), (0.04, 0.0))):
            self._ridge(high, 0.0, share, 19 + k, 0.96 - 0.02 * k)

    def _wood(self) -> None:
        s = self.s
        for depth, y, share in ((0.95, 0.54, 0.45), (0.92, 0.60, 0.2)):
            colour = rgb(self.land.rock) * (1 - share) + s.light.sky_at(0.9) * share
            for i in range(13):
                s.leaves(point(-0.35 + i * 0.145, y + s.rng.uniform(-0.06, 0.04)), 0.12, colour, depth, 14, leaf=0.026, line=0.3)  # type: ignore[arg-type]

    def _cliffs(self) -> None:
        s = self.s
        s.water(_HORIZON - 0.10, 18, (0.95, 0.9), reach=0.12)
        for side in (-1, 1):
            x = 0.5 + side * 0.62
            face = points(
                (x, 0.30),
                (0.5 + side * 0.30, 0.34),
                (0.5 + side * 0.26, 0.50),
                (0.5 + side * 0.20, _HORIZON + 0.04),
                (x + side * 0.4, _HORIZON + 0.06),
                (x + side * 0.4, 0.26),
            )
            item = s.add(spline(face, True, 3), self.land.rock, Part.STRUCTURE, 0.9, 21, shade=0.5)
            s.mark(
                item,
                [
                    taper([(0.5 + side * u, 0.36), (0.5 + side * (u - 0.03), 0.5), (0.5 + side * (u - 0.01), 0.64)], 0.006)
                    for u in np.linspace(0.28, 0.6, 6)
                ],
                "shade",
                0.7,
            )

    # -- what grows and lies on the ground -------------------------------------------------------------------

    def _grass(self, row: _Row) -> None:
        s = self.s
        blades = [
            taper([(x + d, row.y), (x + 1.8 * d, row.y - 0.02 * row.size), (x + 3 * d, row.y - 0.04 * row.size)], 0.003 * row.size, 0.3)
            for x in row.across(16)
            for d in (-0.006 * row.size, 0.0, 0.006 * row.size)
        ]
        s.plain(blades, rgb(self.land.near) * s.rng.uniform(0.75, 0.95), Part.FOLIAGE, row.depth, row.slot)

    def _wheat(self, row: _Row) -> None:
        s = self.s
        stalks = [
            taper(
                [(x, row.y), (x + 0.006 * row.size, row.y - 0.05 * row.size), (x + 0.014 * row.size, row.y - 0.085 * row.size)],
                0.004 * row.size,
                0.2,
            )
            for x in np.linspace(-0.3, 1.3, 70 if s.detailed else 30) + s.rng.uniform(-0.01, 0.01)
            if not (row.near and 0.3 < x < 0.7)
        ]
        s.plain(stalks, rgb("d8b45a") * s.rng.uniform(0.85, 1.05), Part.FOLIAGE, row.depth, row.slot)

    def _flowers(self, row: _Row) -> None:
        s = self.s
        for colour in ("d8524a", "e8c04a", "f0ece0", "9a7fc8"):
            s.plain(
                [ellipse((x, row.y - s.rng.uniform(0, 0.03) * row.size), 0.007 * row.size, 0.006 * row.size, n=8) for x in row.across(5)],
                colour,
                Part.FOLIAGE,
                row.depth,
                row.slot + 0.1,
            )

    def _rocks(self, row: _Row) -> None:
        s = self.s
        for x in row.across(3):
            r = 0.04 * row.size * s.rng.uniform(0.6, 1.3)
            s.add(
                spline(
                    points(
                        (x - r, row.y),
                        (x - 0.6 * r, row.y - 0.6 * r),
                        (x + 0.1 * r, row.y - 0.8 * r),
                        (x + 0.8 * r, row.y - 0.4 * r),
                        (x + r, row.y),
                    ),
                    True,
                    4,
                ),
                rgb("8f8a80") * s.rng.uniform(0.85, 1.05),
                Part.GROUND,
                row.depth,
                row.slot,
                shade=0.6,
            )

    def _pines(self, row: _Row) -> None:
        s = self.s
        for x in row.across(7 - row.k):
            h = 0.20 * row.size
            s.add(
                points(
                    (x - 0.3 * h, row.y),
                    (x - 0.12 * h, row.y - 0.45 * h),
                    (x - 0.2 * h, row.y - 0.42 * h),
                    (x, row.y - 1.1 * h),
                    (x + 0.2 * h, row.y - 0.42 * h),
                    (x + 0.12 * h, row.y - 0.45 * h),
                    (x + 0.3 * h, row.y),
                ),
                rgb("3f5f4a"),
                Part.FOLIAGE,
                row.depth,
                row.slot,
                shade=0.5,
            )

    def _drifts(self, row: _Row) -> None:
        s = self.s
        s.plain(
            [
                taper([(x, row.y), (x + 0.10 * row.size, row.y - 0.006 * row.size), (x + 0.2 * row.size, row.y)], 0.005 * row.size)
                for x in row.across(5)
            ],
            "c4d4e4",
            Part.GROUND,
            row.depth,
            row.slot,
            alpha=0.7,
            labelled=False,
        )

    def _cacti(self, row: _Row) -> None:
        s = self.s
        for x in row.across(3):
            h = 0.14 * row.size
            s.add(
                [
                    ribbon(points((x, row.y), (x, row.y - h)), [0.16 * h, 0.13 * h]),
                    ribbon(points((x, row.y - 0.4 * h), (x + 0.3 * h, row.y - 0.42 * h), (x + 0.32 * h, row.y - 0.75 * h)), [0.09 * h] * 3),
                ],
                "5a8a55",
                Part.FOLIAGE,
                row.depth,
                row.slot,
                shade=0.5,
            )

    def _reeds(self, row: _Row) -> None:
        s = self.s
        for x in row.across(6):
            s.add(
                [
                    taper(
                        [(x + d, row.y), (x + d * 1.3, row.y - 0.10 * row.size), (x + d * 2.2, row.y - 0.18 * row.size)],
                        0.005 * row.size,
                        0.3,
                    )
                    for d in (-0.02 * row.size, -0.006 * row.size, 0.008 * row.size, 0.022 * row.size)
                ],
                rgb("8a9a5a") * s.rng.uniform(0.8, 1.0),
                Part.FOLIAGE,
                row.depth,
                row.slot,
                line=0.3,
            )

    def _pools(self, row: _Row) -> None:
        s = self.s
        for x in row.across(4):
            s.plain(
                ellipse((x, row.y), 0.11 * row.size, 0.016 * row.size),
                s.light.sky_at(0.6),
                Part.WATER,
                row.depth,
                row.slot,
                emission=0.7,
                alpha=0.85,
            )

    def _palms(self, row: _Row) -> None:
        s = self.s
        for x in row.across(7 if row.k < 5 else 4):
            h = 0.55 * row.size
            s.add(
                ribbon(points((x, row.y), (x + 0.05 * h, row.y - 0.5 * h), (x + 0.02 * h, row.y - h)), [0.035 * h, 0.028 * h, 0.02 * h]),
                "7a6244",
                Part.FOLIAGE,
                row.depth,
                row.slot,
                shade=0.4,
            )
            for a in np.linspace(-1.4, 1.4, 6):
                s.frond(point(x + 0.02 * h, row.y - h), a - np.pi / 2, 0.5 * h, "4f8048", row.depth, row.slot + 0.2, 1.2, 9)

    def _ferns(self, row: _Row) -> None:
        s = self.s
        for x in row.across(5):
            for a in (-2.2, -1.6, -1.0):
                s.frond(point(x, row.y), a, 0.18 * row.size, rgb(_DARK_LEAF) * s.rng.uniform(0.8, 1.1), row.depth, row.slot, 0.8, 9)

    def _trees(self, row: _Row) -> None:
        s = self.s
        for x in row.across(4):
            h = 0.30 * row.size
            s.add(
                ribbon(points((x, row.y), (x, row.y - 0.55 * h)), [0.05 * h, 0.035 * h]),
                "6b4a34",
                Part.FOLIAGE,
                row.depth,
                row.slot,
                shade=0.4,
            )
            crown = s.leaves(point(x, row.y - 0.85 * h), 0.34 * h, _LEAF, row.depth, 22, row.slot + 0.2, leaf=0.07 * h)
            if "apples" in self.land.grows:
                s.mark(
                    crown,
                    [
                        ellipse((x + s.rng.normal(0, 0.16) * h, row.y - 0.85 * h + s.rng.normal(0, 0.13) * h), 0.028 * h, 0.028 * h, n=8)
                        for _ in range(9)
                    ],
                    "c8382f",
                    1.0,
                )

    def _graves(self, row: _Row) -> None:
        s = self.s
        for x in row.across(4):
            h = 0.10 * row.size
            s.add(
                spline(
                    points(
                        (x - 0.35 * h, row.y),
                        (x - 0.36 * h, row.y - 0.8 * h),
                        (x, row.y - 1.15 * h),
                        (x + 0.36 * h, row.y - 0.8 * h),
                        (x + 0.35 * h, row.y),
                    ),
                    True,
                    4,
                ),
                rgb("8f918c") * s.rng.uniform(0.85, 1.05),
                Part.STRUCTURE,
                row.depth,
                row.slot,
                shade=0.6,
            )

    def _hedges(self, row: _Row) -> None:
        s = self.s
        for x0, x1 in ((-0.4, 0.36), (0.64, 1.4)):
            s.leaves(
                point((x0 + x1) / 2, row.y - 0.03 * row.size),
                0.09 * row.size,
                rgb(_DARK_LEAF) * 1.1,
                row.depth,
                40,
                row.slot,
                stretch=(x1 - x0) / (0.18 * row.size),
                leaf=0.02 * row.size,
            )  # type: ignore[arg-type]

    def _flags(self, row: _Row) -> None:
        s = self.s
        for x in row.across(4):
            h = 0.16 * row.size
            s.add(
                ribbon(points((x, row.y), (x + 0.1 * h, row.y - h)), [0.012 * h] * 2),
                "5a4636",
                Part.STRUCTURE,
                row.depth,
                row.slot,
                line=0.3,
            )
            s.add(
                points((x + 0.1 * h, row.y - h), (x + 0.55 * h, row.y - 0.9 * h), (x + 0.09 * h, row.y - 0.68 * h)),
                ("a83a34", "3f5f8a")[row.k % 4 // 2],
                Part.STRUCTURE,
                row.depth,
                row.slot + 0.1,
                shade=0.3,
            )
