"""Rooms by name: one drawing, whose rows make a tavern, a throne room or a school; and a cave, a ship's deck and space."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame, dot
from mosskeeper.core.illustrator.shapes import Points, ellipse, point, points, rectangle, ribbon, spline, taper
from mosskeeper.core.illustrator.vocabulary.colours import rgb

_FOOT = 0.90  # place coordinate where wall and floor meet


@dataclass(frozen=True, slots=True)
class Room:
    """What a room is made of.

    Attributes
    ----------
    wall, floor : colours, hexadecimal. of : the wall's material: "plaster", "stone", "wood", "brick" or "paper".
    laid : the floor's: "boards", "stone", "tiles" or "carpet". windows : "arched", "square", "tall", "round" or "none".
    has : what stands along the wall, by the names of this module's drawings.
    """

    wall: str
    floor: str
    of: str = "plaster"
    laid: str = "boards"
    windows: str = "square"
    has: tuple[str, ...] = ()


ROOMS: dict[str, Room] = {
    "castle hall": Room("9a9488", "7a746a", "stone", "stone", "arched", ("banners", "torches", "long_table")),
    "throne room": Room("8f8a94", "a89a84", "stone", "tiles", "tall", ("columns", "banners", "red_carpet", "dais")),
    "tavern": Room("8a6a48", "6f4f34", "wood", "boards", "square", ("beams", "bar", "barrels", "lamps")),
    "forge": Room("6f5f58", "5a504a", "brick", "stone", "none", ("furnace", "tools", "anvil")),
    "workshop": Room("a88a64", "7a5f44", "wood", "boards", "square", ("tools", "workbench", "lamps")),
    "living room": Room("c8b494", "8a6a4c", "paper", "carpet", "tall", ("curtains", "pictures", "sofa", "lamps")),
    "bedroom": Room("b4bccc", "94785c", "paper", "carpet", "tall", ("curtains", "pictures", "bed")),
    "school": Room("c8c4a8", "8f7050", "plaster", "boards", "tall", ("blackboard", "desks")),
    "bath": Room("a8c4c8", "8fa8ac", "tiles", "tiles", "round", ("pool", "columns")),
    "theatre stage": Room("5a2430", "8a6444", "plaster", "boards", "none", ("stage_curtains", "footlights")),
    "corridor": Room("b8ac98", "7a4a40", "paper", "carpet", "none", ("doors", "lamps")),
    "cafe": Room("c4a888", "94745a", "brick", "tiles", "tall", ("bar", "lamps", "small_tables")),
    "laboratory": Room("b4c0c0", "8a9494", "tiles", "tiles", "square", ("workbench", "flasks", "shelves")),
    "church": Room("b4aca0", "948c80", "stone", "stone", "arched", ("columns", "pews", "candles")),
    "shop": Room("b89a74", "8a6a4c", "wood", "boards", "square", ("shelves", "bar", "lamps")),
    "hospital": Room("d4dcd8", "b0bab6", "plaster", "tiles", "tall", ("bed", "curtains")),
    "cellar": Room("74695f", "5f564e", "stone", "stone", "none", ("barrels", "shelves", "torches")),
    "barn": Room("8f5f44", "b09050", "wood", "boards", "none", ("beams", "hay", "tools")),
    "dining room": Room("a87a6a", "7a5a44", "paper", "boards", "tall", ("curtains", "pictures", "long_table", "lamps")),
    "office": Room("b8b4a8", "7a7468", "plaster", "carpet", "square", ("shelves", "workbench", "lamps")),
}


def building(room: Room) -> Callable[[PlaceFrame], None]:
    """What builds a room."""
    return lambda s: _Built(s, room).build()


class _Built:
    def __init__(self, s: PlaceFrame, room: Room) -> None:
        self.s, self.room = s, room

    def build(self) -> None:
        self._wall()
        if self.room.windows != "none":
            for x in (0.16, 0.84):
                self._window(x)
        self._floor()
        for name in self.room.has:
            getattr(self, f"_{name}")()

    # -- walls and floor ------------------------------------------------------------------------------------

    def _wall(self) -> None:
        s, wall = self.s, rgb(self.room.wall)
        s.plain(rectangle(-1, -0.9, 2, 1.6), wall, Part.STRUCTURE, 0.75, 0)
        match self.room.of:
            case "stone" | "brick" | "tiles":
                w, h = {"stone": (0.12, 0.062), "brick": (0.062, 0.026), "tiles": (0.055, 0.055)}[self.room.of]
                blocks = [
                    (
                        rectangle(
                            x + (w / 2) * (j % 2) * (self.room.of != "tiles"),
                            y,
                            x + (w / 2) * (j % 2) * (self.room.of != "tiles") + w * 0.94,
                            y + h * 0.90,
                        )
                    )
                    for j, y in enumerate(np.arange(-0.4, _FOOT, h))
                    for x in np.arange(-0.6, 1.6, w)
                ]
                order = s.rng.permutation(len(blocks))
                for tone, chosen in ((0.94, order[: len(order) // 3]), (1.06, order[len(order) // 3 : 2 * len(order) // 3])):
                    s.plain([blocks[i] for i in chosen], np.clip(wall * tone, 0, 1), Part.STRUCTURE, 0.749, 0.5)
            case "wood":
                s.plain(
                    [rectangle(x, -0.9, x + 0.004, _FOOT) for x in np.arange(-0.6, 1.6, 0.075)], wall * 0.78, Part.STRUCTURE, 0.749, 0.5
                )
                grain = [
                    taper([(x, y), (x + 0.003, y + 0.08), (x, y + 0.16)], 0.0016)
                    for x, y in zip(s.rng.uniform(-0.5, 1.5, 60), s.rng.uniform(-0.2, 0.8, 60), strict=True)
                ]
                s.plain(grain, wall * 0.85, Part.STRUCTURE, 0.749, 0.6)
            case "paper":
                s.plain(
                    [rectangle(x, -0.9, x + 0.03, 0.66) for x in np.arange(-0.6, 1.6, 0.075)],
                    np.clip(wall * 1.05, 0, 1),
                    Part.STRUCTURE,
                    0.749,
                    0.5,
                )
                s.add(rectangle(-0.9, 0.66, 1.9, _FOOT), wall * 0.80, Part.STRUCTURE, 0.748, 0.6, line=0.3, drop=0.3)
            case _:
                pass
        s.add(rectangle(-0.9, _FOOT - 0.025, 1.9, _FOOT + 0.005), wall * 0.7, Part.STRUCTURE, 0.747, 1, line=0.3, drop=0.3)

    def _floor(self) -> None:
        s, colour = self.s, rgb(self.room.floor)
        s.ground(_FOOT, self.room.floor, 0.70, 0.28)
        ray = [
            points(
                (0.5 + (j - 9) * 0.11, _FOOT),
                (0.5 + (j - 9) * 0.11 + 0.003, _FOOT),
                (0.5 + (j - 9) * 0.26 + 0.008, 1.6),
                (0.5 + (j - 9) * 0.26, 1.6),
            )
            for j in range(19)
        ]
        rows = [rectangle(-0.9, y, 1.9, y + 0.002 + 0.012 * (y - _FOOT)) for y in (0.925, 0.965, 1.02, 1.10, 1.21)]
        match self.room.laid:
            case "boards":
                s.plain(ray, colour * 0.78, Part.GROUND, 0.5, 93, labelled=False)
            case "carpet":
                s.plain(ellipse((0.5, 1.10), 0.52, 0.13, n=60), np.clip(colour * 1.15 + 0.03, 0, 1), Part.GROUND, 0.45, 93)
                s.plain(
                    [ellipse((0.5, 1.10), 0.46, 0.112, n=60), ellipse((0.5, 1.10), 0.44, 0.106, n=60)[::-1]],
                    colour * 0.75,
                    Part.GROUND,
                    0.45,
                    93.1,
                    labelled=False,
                )
            case _:
                s.plain([*ray, *rows], colour * 0.84, Part.GROUND, 0.5, 93, labelled=False)

    def _window(self, x: float) -> None:
        s, kind = self.s, self.room.windows
        w, top, low = {
            "arched": (0.075, 0.12, 0.56),
            "tall": (0.09, 0.0, 0.62),
            "square": (0.085, 0.22, 0.50),
            "round": (0.09, 0.18, 0.36),
        }[kind]
        outline = ellipse((x, (top + low) / 2), w, (low - top) / 2, n=36) if kind == "round" else rectangle(x - w, top, x + w, low)
        if kind == "arched":
            outline = points(
                (x - w, low),
                (x - w, top + 0.08),
                (x - w * 0.6, top + 0.015),
                (x, top - 0.03),
                (x + w * 0.6, top + 0.015),
                (x + w, top + 0.08),
                (x + w, low),
            )
        middle = point(x, (top + low) / 2)
        s.add((outline - middle) * 1.14 + middle, rgb(self.room.wall) * 0.72, Part.STRUCTURE, 0.74, 2, line=0.4, drop=0.5)
        glass = s.plain(outline, s.light.sky_at(0.3), Part.SKY, 0.97, 2.1, emission=1.0)
        for i in range(8):
            s.mark(glass, rectangle(x - w, top + i * (low - top) / 8, x + w, low), s.light.sky_at(0.2 + 0.1 * i), 1.0)
        s.plain(
            [rectangle(x - 0.004, top, x + 0.004, low), *(rectangle(x - w, y, x + w, y + 0.007) for y in np.linspace(top, low, 4)[1:-1])],
            rgb(self.room.wall) * 0.6,
            Part.STRUCTURE,
            0.739,
            2.2,
        )

    # -- what stands along the walls ---------------------------------------------------------------------------

    def _block(self, x0: float, y0: float, x1: float, y1: float, colour: str, slot: float, depth: float = 0.62, shade: float = 0.4) -> None:
        self.s.add(rectangle(x0, y0, x1, y1), colour, Part.STRUCTURE, depth, slot, shade=shade, drop=0.6)

    def _beams(self) -> None:
        for x in np.arange(-0.5, 1.6, 0.3):
            self._block(x, -0.9, x + 0.05, 0.02, "5a4030", 30, 0.6)
        self._block(-0.9, 0.0, 1.9, 0.05, "4f382a", 30.5, 0.58)

    def _banners(self) -> None:
        for k, x in enumerate((0.36, 0.64)):
            item = self.s.add(
                points((x - 0.05, 0.04), (x + 0.05, 0.04), (x + 0.05, 0.42), (x, 0.48), (x - 0.05, 0.42)),
                ("8a2a34", "2f4f7a")[k],
                Part.STRUCTURE,
                0.7,
                12,
                shade=0.4,
                drop=0.7,
            )
            self.s.mark(item, [ellipse((x, 0.2), 0.025, 0.03), rectangle(x - 0.05, 0.34, x + 0.05, 0.36)], "e0bc5a", 0.95)

    def _torches(self) -> None:
        for x in (0.28, 0.72):
            self.s.add(ribbon(points((x, 0.46), (x, 0.36)), [0.008, 0.012]), "4a3a2c", Part.STRUCTURE, 0.7, 14, drop=0.4)
            self.s.bulb(point(x, 0.325), 0.024, 0.7, 14.2, 0.45, 1.0)

    def _lamps(self) -> None:
        for x in (0.30, 0.70):
            self.s.plain(taper([(x, -0.3), (x, 0.10)], 0.002), "3a302a", Part.STRUCTURE, 0.6, 31)
            self.s.add(
                points((x - 0.035, 0.13), (x - 0.015, 0.09), (x + 0.015, 0.09), (x + 0.035, 0.13)),
                "b8803a",
                Part.STRUCTURE,
                0.6,
                31.1,
                drop=0.3,
            )
            self.s.bulb(point(x, 0.14), 0.017, 0.6, 31.2, 0.5, 0.9)

    def _candles(self) -> None:
        for x in (0.33, 0.67):
            self.s.add(ribbon(points((x, 0.90), (x, 0.64)), [0.006] * 2), "b8903f", Part.STRUCTURE, 0.68, 14, drop=0.3)
            for d in (-0.03, 0.0, 0.03):
                self.s.add(rectangle(x + d - 0.006, 0.58, x + d + 0.006, 0.64), "efe6d0", Part.STRUCTURE, 0.68, 14.1, line=0.3, drop=0.2)
                self.s.bulb(point(x + d, 0.565), 0.009, 0.68, 14.2, 0.22, 0.5)

    def _columns(self) -> None:
        for x in (-0.06, 0.30, 0.70, 1.06):
            self._block(x - 0.04, -0.9, x + 0.04, _FOOT + 0.015, self.room.wall, 13, 0.66, 0.8)
            self.s.plain(
                [rectangle(x + d, -0.9, x + d + 0.003, _FOOT) for d in (-0.025, -0.008, 0.01, 0.026)],
                rgb(self.room.wall) * 0.8,
                Part.STRUCTURE,
                0.659,
                13.1,
            )
            self._block(x - 0.055, _FOOT - 0.03, x + 0.055, _FOOT + 0.02, self.room.wall, 13.2, 0.655)

    def _red_carpet(self) -> None:
        carpet = points((0.42, _FOOT), (0.58, _FOOT), (0.86, 1.6), (0.14, 1.6))
        item = self.s.add(carpet, "9a2a34", Part.GROUND, 0.45, 93.5, line=0.3, drop=0.1)
        self.s.mark(
            item,
            [
                points((0.43, _FOOT), (0.44, _FOOT), (0.20, 1.6), (0.17, 1.6)),
                points((0.56, _FOOT), (0.57, _FOOT), (0.83, 1.6), (0.80, 1.6)),
            ],
            "d8b04a",
            0.9,
        )

    def _dais(self) -> None:
        for k in range(3):
            self._block(0.30 + 0.03 * k, 0.86 - 0.02 * k, 0.70 - 0.03 * k, 0.90 - 0.02 * k, "b0a48c", 15 + 0.1 * k, 0.68)
        self.s.add(
            spline(points((0.43, 0.84), (0.42, 0.48), (0.50, 0.36), (0.58, 0.48), (0.57, 0.84)), True, 3),
            "c89a3a",
            Part.SEAT,
            0.67,
            15.5,
            shade=0.6,
        )
        self.s.add(rectangle(0.45, 0.52, 0.55, 0.80), "8a2430", Part.SEAT, 0.669, 15.6, shade=0.4)

    def _long_table(self) -> None:
        self._block(0.04, 0.78, 0.96, 0.81, "8a5f3c", 16, 0.60)
        for x in (0.08, 0.90):
            self._block(x, 0.81, x + 0.03, 0.95, "6b4630", 15.9, 0.60)
        for k, x in enumerate(np.linspace(0.12, 0.88, 8)):
            if k % 2:
                self.s.add(ellipse((x, 0.772), 0.03, 0.010), "d8d0c0", Part.STRUCTURE, 0.595, 16.2, line=0.3)
            else:
                self._block(x - 0.01, 0.73, x + 0.01, 0.78, ("b8903f", "6f8a6a")[k // 2 % 2], 16.2, 0.595)

    def _bar(self) -> None:
        for y in (0.40, 0.54):
            self._block(0.30, y, 0.70, y + 0.012, "5a4030", 9, 0.72)
            for x in np.arange(0.32, 0.69, 0.032):
                h = 0.05 + 0.03 * self.s.rng.random()
                self._block(
                    x, y - h, x + 0.018, y, ("4f6a4a", "8a4a3a", "b8903f", "5f6f8a", "d8c8a8")[int(self.s.rng.integers(5))], 9.2, 0.719
                )
        self._block(-0.3, 0.70, 1.3, 0.94, "6b452c", 16, 0.62)
        self.s.plain([rectangle(x, 0.74, x + 0.12, 0.90) for x in np.arange(-0.26, 1.3, 0.155)], "7d5434", Part.STRUCTURE, 0.619, 16.1)
        self._block(-0.3, 0.68, 1.3, 0.71, "94683f", 16.2, 0.615)

    def _barrels(self) -> None:
        for x, y in ((-0.04, 0.96), (0.09, 0.97), (0.94, 0.96), (1.06, 0.97)):
            body = spline(
                points(
                    (x - 0.05, y), (x - 0.066, y - 0.085), (x - 0.05, y - 0.17), (x + 0.05, y - 0.17), (x + 0.066, y - 0.085), (x + 0.05, y)
                ),
                True,
                4,
            )
            item = self.s.add(body, "8a5f3c", Part.STRUCTURE, 0.55, 94, shade=0.7)
            self.s.mark(item, [rectangle(x - 0.1, y - v - 0.012, x + 0.1, y - v) for v in (0.03, 0.13)], "4a4c52", 0.95)

    def _furnace(self) -> None:
        self._block(0.30, 0.36, 0.70, _FOOT + 0.01, "7a5048", 10, 0.70, 0.5)
        self._block(0.36, -0.9, 0.64, 0.36, "6f4a42", 9.8, 0.705, 0.5)
        self.s.plain(
            spline(points((0.40, 0.84), (0.40, 0.62), (0.50, 0.54), (0.60, 0.62), (0.60, 0.84)), True, 3),
            "2a1c18",
            Part.STRUCTURE,
            0.70,
            10.2,
        )
        for colour, k in (("d8501f", 1.0), ("f0962a", 0.7), ("ffd86a", 0.4)):
            flame = [
                (0.50 - 0.085 * k, 0.83),
                (0.50 - 0.07 * k, 0.83 - 0.12 * k),
                (0.50 - 0.02 * k, 0.83 - 0.08 * k),
                (0.50 + 0.01 * k, 0.83 - 0.21 * k),
                (0.50 + 0.05 * k, 0.83 - 0.10 * k),
                (0.50 + 0.085 * k, 0.83),
            ]
            self.s.plain(spline(points(*flame), True, 4), colour, Part.LAMP, 0.69, 10.3, emission=1.0)
        self.s.lamp(point(0.5, 0.75), 0.7, "ff9a4a", 1.0)

    def _anvil(self) -> None:
        self._block(0.06, 0.86, 0.18, 0.97, "5a4030", 94, 0.55)
        self.s.add(
            spline(
                points((0.02, 0.80), (0.22, 0.80), (0.20, 0.84), (0.15, 0.85), (0.16, 0.87), (0.08, 0.87), (0.09, 0.85), (0.0, 0.82)),
                True,
                3,
            ),
            "4a4e56",
            Part.STRUCTURE,
            0.55,
            94.1,
            shade=0.6,
        )

    def _tools(self) -> None:
        self._block(0.26, 0.24, 0.74, 0.255, "5a4030", 11, 0.72)
        for k, x in enumerate(np.linspace(0.29, 0.71, 8)):
            self.s.add(
                ribbon(points((x, 0.26), (x, 0.36 + 0.03 * (k % 3))), [0.004, 0.005]),
                "8a6444",
                Part.STRUCTURE,
                0.715,
                11.1,
                line=0.3,
                drop=0.3,
            )
            head = [
                rectangle(x - 0.018, 0.35, x + 0.018, 0.375),
                ellipse((x, 0.40), 0.016, 0.022),
                points((x - 0.02, 0.36), (x + 0.02, 0.36), (x, 0.43)),
            ][k % 3]
            self.s.add(head, "8f959c", Part.STRUCTURE, 0.714, 11.2, line=0.3, drop=0.2)

    def _workbench(self) -> None:
        self._block(-0.2, 0.74, 1.2, 0.77, "a87a4c", 16, 0.62)
        for x in (-0.1, 0.22, 0.76, 1.08):
            self._block(x, 0.77, x + 0.03, 0.94, "7a5636", 15.9, 0.62)
        for k, x in enumerate((0.02, 0.18, 0.82, 0.98)):
            self._block(x, 0.74 - 0.05 - 0.02 * (k % 2), x + 0.07, 0.74, ("b8903f", "6f8a94", "a8524a", "c8b894")[k], 16.1, 0.615)

    def _flasks(self) -> None:
        for k, x in enumerate((0.08, 0.26, 0.72, 0.90)):
            flask = points((x - 0.01, 0.62), (x + 0.01, 0.62), (x + 0.012, 0.67), (x + 0.035, 0.735), (x - 0.035, 0.735), (x - 0.012, 0.67))
            self.s.add(flask, ("6fb08a", "b06fa8", "6f9fd0", "d8b04a")[k], Part.STRUCTURE, 0.60, 16.4, shade=0.4, emission=0.2)

    def _shelves(self) -> None:
        for y in (0.16, 0.32, 0.48):
            self._block(0.30, y, 0.70, y + 0.012, "6b4a34", 9, 0.72)
            for x in np.arange(0.315, 0.68, 0.036):
                h = 0.06 + 0.05 * self.s.rng.random()
                self._block(
                    x,
                    y - h,
                    x + 0.026,
                    y,
                    ("8a4a3a", "4f6a7a", "b8903f", "6f7a5a", "c8b894", "7a5a74")[int(self.s.rng.integers(6))],
                    9.2,
                    0.719,
                )

    def _curtains(self) -> None:
        for x in (0.16, 0.84):
            for d in (-1, 1):
                cloth = points(
                    (x + d * 0.06, -0.04), (x + d * 0.15, -0.04), (x + d * 0.155, 0.72), (x + d * 0.09, 0.72), (x + d * 0.105, 0.35)
                )
                item = self.s.add(spline(cloth, True, 3), "8a4f4a", Part.STRUCTURE, 0.73, 3, shade=0.6)
                self.s.mark(
                    item, [taper([(x + d * u, -0.02), (x + d * (u + 0.01), 0.7)], 0.004) for u in (0.085, 0.11, 0.135)], "shade", 0.7
                )

    def _pictures(self) -> None:
        for x, y, w, h in ((0.40, 0.22, 0.055, 0.07), (0.53, 0.18, 0.045, 0.055), (0.62, 0.28, 0.04, 0.05)):
            self._block(x - w, y - h, x + w, y + h, "b8903f", 6, 0.74)
            inner = self.s.add(
                rectangle(x - w * 0.8, y - h * 0.82, x + w * 0.8, y + h * 0.82), "9ab0b8", Part.STRUCTURE, 0.739, 6.1, line=0.3
            )
            self.s.mark(
                inner,
                spline(points((x - w, y + h * 0.3), (x, y - 0.1 * h), (x + w, y + h * 0.4), (x + w, y + h), (x - w, y + h))),
                "7a8a5a",
                0.9,
            )

    def _sofa(self) -> None:
        self.s.add(
            spline(points((0.24, 0.94), (0.24, 0.70), (0.36, 0.64), (0.64, 0.64), (0.76, 0.70), (0.76, 0.94)), True, 4),
            "7a5a6a",
            Part.STRUCTURE,
            0.64,
            15,
            shade=0.6,
        )
        self._block(0.26, 0.80, 0.74, 0.90, "8a6878", 15.2, 0.635)

    def _bed(self) -> None:
        self._block(0.56, 0.56, 0.60, 0.95, "6b4a34", 15, 0.64)
        self._block(0.58, 0.76, 1.2, 0.93, "8a6444", 15.1, 0.64)
        self.s.add(
            spline(points((0.60, 0.78), (0.70, 0.71), (1.25, 0.72), (1.25, 0.90), (0.62, 0.89)), True, 4),
            "c8d0dc",
            Part.STRUCTURE,
            0.63,
            15.3,
            shade=0.5,
        )
        self.s.add(
            spline(points((0.61, 0.76), (0.62, 0.69), (0.73, 0.69), (0.74, 0.76)), True, 4),
            "f0ece2",
            Part.STRUCTURE,
            0.625,
            15.4,
            shade=0.4,
        )

    def _blackboard(self) -> None:
        self._block(0.28, 0.14, 0.72, 0.52, "8a6444", 6, 0.74)
        board = self.s.add(rectangle(0.295, 0.155, 0.705, 0.505), "2f4a40", Part.STRUCTURE, 0.739, 6.1, line=0.3)
        strokes = [
            taper([(0.32 + 0.12 * k, y), (0.37 + 0.12 * k, y - 0.01), (0.41 + 0.12 * k, y)], 0.004)
            for k in range(3)
            for y in (0.22, 0.29, 0.36, 0.43)
        ]
        self.s.mark(board, strokes, "e4e8e0", 0.8)

    def _desks(self) -> None:
        for x in (-0.02, 0.86):
            self._block(x, 0.82, x + 0.16, 0.84, "a87a4c", 94, 0.56)
            for d in (0.01, 0.13):
                self._block(x + d, 0.84, x + d + 0.015, 0.99, "7a5636", 93.9, 0.56)

    def _pool(self) -> None:
        water = ellipse((0.5, 1.0), 0.62, 0.07, n=60)
        self.s.add([water * 1.0], "6fb0bc", Part.WATER, 0.55, 93.6, line=0.4, emission=0.3)
        self.s.plain(
            [taper([(x, y), (x + 0.1, y + 0.002)], 0.002) for x, y in ((0.1, 0.98), (0.4, 1.02), (0.7, 0.99), (0.25, 1.04))],
            "d8eef0",
            Part.WATER,
            0.54,
            93.7,
            alpha=0.7,
            labelled=False,
        )
        for x in (0.2, 0.5, 0.8):
            steam = wobble_column(x, self.s)
            self.s.plain(steam, "ffffff", Part.STRUCTURE, 0.5, 95, alpha=0.14, blur=14.0, labelled=False)

    def _stage_curtains(self) -> None:
        for d in (-1, 1):
            cloth = points(
                (0.5 + d * 0.30, -0.6), (0.5 + d * 1.0, -0.6), (0.5 + d * 1.0, 0.98), (0.5 + d * 0.44, 0.98), (0.5 + d * 0.40, 0.4)
            )
            item = self.s.add(spline(cloth, True, 3), "9a2430", Part.STRUCTURE, 0.6, 40, shade=0.6)
            self.s.mark(
                item, [taper([(0.5 + d * u, -0.5), (0.5 + d * (u + 0.02), 0.95)], 0.010) for u in np.arange(0.36, 0.9, 0.055)], "shade", 0.8
            )
        self.s.add(
            spline(
                points(
                    (-0.5, -0.6), (-0.5, 0.02), (0.0, 0.10), (0.25, 0.03), (0.5, 0.10), (0.75, 0.03), (1.0, 0.10), (1.5, 0.02), (1.5, -0.6)
                ),
                True,
                4,
            ),
            "8a1f2c",
            Part.STRUCTURE,
            0.58,
            41,
            shade=0.5,
        )

    def _footlights(self) -> None:
        for x in np.linspace(0.06, 0.94, 7):
            self.s.bulb(point(x, 1.20), 0.012, 0.2, 204, 0.2, 0.6)
        beam = points((0.44, -0.4), (0.56, -0.4), (0.86, 1.1), (0.14, 1.1))
        self.s.plain(beam, "fff0c8", Part.STRUCTURE, 0.6, 42, alpha=0.14, blur=10.0, emission=1.0, labelled=False)

    def _doors(self) -> None:
        inner = points((0.36, 0.24), (0.64, 0.24), (0.64, _FOOT), (0.36, _FOOT))
        self.s.add(inner, rgb(self.room.wall) * 0.72, Part.STRUCTURE, 0.92, 5, line=0.4)
        self._block(0.44, 0.36, 0.56, _FOOT, "6b4a34", 5.2, 0.9)
        for d in (-1, 1):
            for a, b in ((0.62, 0.46), (0.40, 0.30), (0.255, 0.20)):
                x0, x1 = 0.5 + d * a, 0.5 + d * b
                door = points(
                    (x0, 0.30 - 0.28 * (a - 0.2)),
                    (x1, 0.30 - 0.28 * (b - 0.2)),
                    (x1, _FOOT + 0.10 * (b - 0.14)),
                    (x0, _FOOT + 0.10 * (a - 0.14)),
                )
                self.s.add(door, "7a5640", Part.STRUCTURE, 0.7, 5.5, shade=0.4, drop=0.4)

    def _small_tables(self) -> None:
        for x in (-0.02, 1.0):
            self.s.add(ribbon(points((x, 0.86), (x, 1.0)), [0.008, 0.012]), "3a3432", Part.STRUCTURE, 0.5, 93.9, drop=0.3)
            self.s.add(ellipse((x, 0.85), 0.11, 0.02), "b8947a", Part.STRUCTURE, 0.5, 94, line=0.4)
            self._block(x - 0.02, 0.81, x + 0.015, 0.845, "f0e8d8", 94.1, 0.495)

    def _pews(self) -> None:
        for d in (-1, 1):
            for k in range(3):
                x0, x1, y = 0.5 + d * (0.20 + 0.05 * k), 0.5 + d * 0.9, 0.84 + 0.06 * k
                self._block(min(x0, x1), y - 0.06, max(x0, x1), y + 0.05, "7a5640", 93.5 + 0.2 * k, 0.62 - 0.05 * k)

    def _hay(self) -> None:
        for x in (-0.05, 1.02):
            heap = spline(points((x - 0.2, 0.98), (x - 0.14, 0.80), (x, 0.72), (x + 0.14, 0.80), (x + 0.2, 0.98)), True, 4)
            item = self.s.add(heap, "cfa850", Part.STRUCTURE, 0.56, 94, shade=0.6)
            self.s.mark(
                item,
                [
                    taper([(u, v), (u + 0.02, v - 0.03)], 0.002)
                    for u, v in zip(self.s.rng.uniform(x - 0.15, x + 0.15, 40), self.s.rng.uniform(0.78, 0.98, 40), strict=True)
                ],
                "8f6f2a",
                0.8,
            )


def wobble_column(x: float, s: PlaceFrame) -> Points:
    """A column of steam."""
    return ribbon(points((x, 1.0), (x + 0.03, 0.75), (x - 0.03, 0.5), (x + 0.02, 0.25)), [0.03, 0.06, 0.07, 0.02])


def cave(s: PlaceFrame) -> None:
    s.plain(rectangle(-1, -0.9, 2, 1.6), "3a3632", Part.STRUCTURE, 0.8, 0)
    mouth = spline(points((0.34, 0.86), (0.30, 0.56), (0.42, 0.34), (0.56, 0.30), (0.68, 0.44), (0.70, 0.70), (0.66, 0.86)), True, 5)
    glass = s.plain(mouth, s.light.sky_at(0.5), Part.SKY, 0.98, 1, emission=1.0)
    for i in range(8):
        s.mark(glass, rectangle(0.2, 0.3 + i * 0.07, 0.8, 0.9), s.light.sky_at(0.3 + 0.08 * i), 1.0)
    for k, (grow, tone) in enumerate(((1.15, 0.62), (1.5, 0.85), (2.1, 1.0))):
        ring = (mouth - (0.5, 0.62)) * grow + (0.5, 0.62)
        s.add([rectangle(-1, -1, 2, 2), ring[::-1]], rgb("6a5f54") * tone, Part.STRUCTURE, 0.76 - 0.06 * k, 3 + k, shade=0.4, drop=0.8)
    for x, long in zip(np.linspace(-0.1, 1.1, 14), s.rng.uniform(0.05, 0.26, 14), strict=True):
        s.add(
            points((x - 0.035, -0.5), (x + 0.035, -0.5), (x + 0.004, long), (x - 0.004, long)),
            rgb("574d44") * s.rng.uniform(0.9, 1.15),
            Part.STRUCTURE,
            0.55,
            20,
            shade=0.5,
        )
    s.ground(0.86, "5a5148", 0.72, 0.28)
    for x, y, r in ((0.02, 0.98, 0.10), (0.98, 0.97, 0.11), (0.20, 0.92, 0.05), (0.82, 0.92, 0.05), (0.10, 1.12, 0.06)):
        s.add(
            spline(points((x - r, y), (x - 0.5 * r, y - 0.7 * r), (x + 0.3 * r, y - 0.9 * r), (x + r, y)), True, 4),
            rgb("6f655a") * s.rng.uniform(0.9, 1.1),
            Part.GROUND,
            0.5,
            94,
            shade=0.6,
        )


def ship_deck(s: PlaceFrame) -> None:
    s.sky()
    s.water(0.60, 20, (0.95, 0.8), reach=0.2)
    s.add(ribbon(points((0.5, 0.95), (0.5, -0.9)), [0.028, 0.02]), "7a5a3c", Part.STRUCTURE, 0.7, 40, shade=0.6)
    s.add(ribbon(points((0.0, -0.02), (1.0, -0.02)), [0.014] * 2), "7a5a3c", Part.STRUCTURE, 0.69, 40.2)
    sail = s.add(
        spline(points((0.02, 0.0), (0.98, 0.0), (0.92, 0.26), (0.98, 0.44), (0.5, 0.50), (0.02, 0.44), (0.08, 0.26)), True, 4),
        "efe6d4",
        Part.STRUCTURE,
        0.68,
        40.4,
        shade=0.6,
    )
    s.mark(sail, [taper([(x, 0.0), (x * 0.96 + 0.02, 0.46)], 0.003) for x in (0.2, 0.35, 0.65, 0.8)], "shade", 0.7)
    s.plain([taper([(0.5, -0.3), (x, 0.80)], 0.0025) for x in (-0.1, 0.06, 0.94, 1.1)], "5a4a38", Part.STRUCTURE, 0.66, 41)
    s.add(rectangle(-0.9, 0.74, 1.9, 0.765), "8a6242", Part.STRUCTURE, 0.6, 42)
    s.add([rectangle(x, 0.76, x + 0.018, 0.90) for x in np.arange(-0.5, 1.5, 0.075)], "9a7048", Part.STRUCTURE, 0.6, 41.9, line=0.4)
    s.add(rectangle(-0.9, 0.89, 1.9, 0.91), "8a6242", Part.STRUCTURE, 0.6, 42)
    s.ground(0.90, "a87f54", 0.6, 0.28)
    s.plain(
        [
            points(
                (0.5 + (j - 9) * 0.09, 0.90),
                (0.5 + (j - 9) * 0.09 + 0.003, 0.90),
                (0.5 + (j - 9) * 0.24 + 0.008, 1.6),
                (0.5 + (j - 9) * 0.24, 1.6),
            )
            for j in range(19)
        ],
        "7d5a38",
        Part.GROUND,
        0.45,
        93,
        labelled=False,
    )
    for r in (0.07, 0.052, 0.034):
        s.add(
            [ellipse((0.95, 1.04), r, r * 0.4, n=30), ellipse((0.95, 1.04), r * 0.82, r * 0.32, n=30)[::-1]],
            "c8b080",
            Part.STRUCTURE,
            0.4,
            94,
            line=0.4,
        )


def outer_space(s: PlaceFrame) -> None:
    s.plain(rectangle(-1, -0.9, 2, 1.6), "10142a", Part.SKY, 1.0, 0, emission=1.0)
    s.plain(ellipse((0.3, 0.3), 0.7, 0.3, 0.5), "2a2450", Part.SKY, 1.0, 0.1, emission=1.0, alpha=0.6, blur=40.0)
    s.plain([dot(s.rng, (-0.3, 1.3), (-0.3, 0.9), (0.0008, 0.003)) for _ in range(160)], "fff6e0", Part.SKY, 1.0, 0.3, emission=1.0)
    planet = s.add(ellipse((0.80, 0.24), 0.15, 0.15, n=60), "c8845a", Part.SKY, 0.98, 0.5, emission=0.8, shade=0.5, line=0.0)
    s.mark(planet, [rectangle(0.6, y, 1.0, y + 0.018) for y in (0.16, 0.22, 0.29, 0.34)], "e0b088", 0.7)
    s.add(
        [ellipse((0.80, 0.25), 0.25, 0.05, -0.25, 60), ellipse((0.80, 0.25), 0.21, 0.036, -0.25, 60)[::-1]],
        "e8d0a8",
        Part.SKY,
        0.975,
        0.6,
        emission=0.8,
        line=0.0,
        alpha=0.85,
    )
    s.ground(0.80, "8f8a88", 0.85, 0.28)
    s.add(
        spline([(-0.6, 0.86), (-0.1, 0.76), (0.3, 0.80), (0.6, 0.755), (1.1, 0.79), (1.6, 0.86)], True, 5),
        "9a9490",
        Part.GROUND,
        0.86,
        92,
        line=0.3,
    )
    for x, y, r in ((0.1, 0.92, 0.07), (0.85, 0.90, 0.08), (0.3, 1.08, 0.10), (0.75, 1.12, 0.12), (0.52, 0.87, 0.04)):
        crater = s.plain(ellipse((x, y), r, r * 0.28), "6f6a6a", Part.GROUND, 0.6, 93, labelled=False)
        s.mark(crater, ellipse((x + r * 0.1, y + r * 0.08), r * 0.9, r * 0.2), "a8a29e", 0.8)


def under_water(s: PlaceFrame) -> None:
    for i in range(24):
        t = i / 23
        s.plain(
            rectangle(-1, -0.5 + t * 1.6, 2, 2.0),
            rgb("5fb0c4") * (1 - t) + rgb("1f4a64") * t,
            Part.WATER,
            0.98 - 0.5 * t,
            0.02 * i,
            emission=0.7,
        )
    for x in (0.1, 0.34, 0.62, 0.86):
        s.plain(
            points((x, -0.5), (x + 0.07, -0.5), (x + 0.24, 1.2), (x + 0.02, 1.2)),
            "d8f4f4",
            Part.WATER,
            0.7,
            2,
            emission=1.0,
            alpha=0.12,
            blur=10.0,
            labelled=False,
        )
    s.ground(0.96, "c8b488", 0.6, 0.28)
    for x in (-0.02, 0.08, 0.20, 0.82, 0.93, 1.03):
        for d in (-0.02, 0.0, 0.022):
            h = s.rng.uniform(0.2, 0.5)
            s.add(
                ribbon(
                    points((x + d, 1.02), (x + d + 0.03, 1.02 - 0.4 * h), (x + d - 0.02, 1.02 - 0.75 * h), (x + d + 0.02, 1.02 - h)),
                    [0.008, 0.013, 0.011, 0.002],
                ),
                rgb("3f7a54") * s.rng.uniform(0.8, 1.2),
                Part.FOLIAGE,
                0.5,
                94,
                shade=0.3,
                line=0.4,
            )
    for k, (x, y) in enumerate(((0.20, 0.30), (0.30, 0.36), (0.78, 0.22), (0.84, 0.48), (0.12, 0.55))):
        s.add(
            spline(
                points(
                    (x - 0.03, y),
                    (x, y - 0.015),
                    (x + 0.03, y),
                    (x + 0.045, y - 0.012),
                    (x + 0.045, y + 0.012),
                    (x + 0.03, y),
                    (x, y + 0.015),
                ),
                True,
                4,
            ),
            ("e0923a", "d8d0a8", "c8524a", "e8c04a", "8fb0d8")[k],
            Part.WATER,
            0.7,
            30,
            line=0.4,
        )
    s.plain(
        [
            ellipse((x, y), r, r, n=14)
            for x, y, r in zip(s.rng.uniform(0, 1, 24), s.rng.uniform(0.1, 1.0, 24), s.rng.uniform(0.003, 0.010, 24), strict=True)
        ],
        "e4f8fa",
        Part.WATER,
        0.6,
        40,
        alpha=0.6,
        labelled=False,
    )
