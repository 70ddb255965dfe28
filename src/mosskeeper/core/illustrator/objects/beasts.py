"""Animals on four legs: one drawing, whose measures make a dog, a horse or a bear."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.items import Item
from mosskeeper.core.illustrator.objects.drawn_object import DrawnObject, Pencil
from mosskeeper.core.illustrator.vocabulary.colours import rgb


@dataclass(frozen=True, slots=True)
class Beast:
    """Measures of a four-legged animal, in hh.

    Attributes
    ----------
    long, high, deep : of the trunk: from rump to chest, the withers above the ground, from back to belly.
    leg : half the width of a leg. neck : from the chest to the head, to the front and up.
    head : half the height of the skull. muzzle : how far it goes beyond the skull, how far down, and its half height at the nose.
    ears : "pointed", "hanging", "round", "long" or "small". tail : "plume", "thin", "stub", "brush", "curl" or "horse".
    colour, pale, dark : of the coat, of belly and muzzle, of feet, nose and mane; hexadecimal.
    mane : whether it has one. horns : "none", "curved", "straight" or "antlers". marks : "none", "spots", "stripes", "patches" or "wool".
    """

    long: float
    high: float
    deep: float
    leg: float
    neck: tuple[float, float]
    head: float
    muzzle: tuple[float, float, float]
    ears: str
    tail: str
    colour: str
    pale: str
    dark: str
    mane: bool = False
    horns: str = "none"
    marks: str = "none"
    eye: str = "8a5a2a"


BEASTS: dict[str, Beast] = {
    "dog": Beast(1.15, 1.02, 0.44, 0.075, (0.16, 0.30), 0.20, (0.25, 0.05, 0.085), "hanging", "curl", "a9713f", "ecd9b8", "3a2a26"),
    "wolf": Beast(1.45, 1.20, 0.50, 0.080, (0.26, 0.24), 0.21, (0.34, 0.09, 0.075), "pointed", "brush", "7d8088", "d9d5cc", "34343a", eye="d8b03a"),
    "horse": Beast(2.25, 2.75, 0.86, 0.115, (0.42, 0.92), 0.24, (0.58, 0.36, 0.130), "small", "horse", "7a4a2c", "8f5c38", "2f2222", mane=True),
    "donkey": Beast(1.60, 1.95, 0.68, 0.090, (0.30, 0.58), 0.21, (0.46, 0.26, 0.120), "long", "thin", "8b8480", "ddd6ca", "44403f", mane=True),
    "cow": Beast(2.10, 2.15, 0.95, 0.120, (0.34, 0.22), 0.26, (0.44, 0.26, 0.170), "hanging", "thin", "efe7da", "f6efe4", "4a3630", horns="curved", marks="patches"),
    "sheep": Beast(1.20, 1.12, 0.66, 0.060, (0.14, 0.16), 0.17, (0.26, 0.14, 0.085), "hanging", "stub", "ece5d6", "cfc2ae", "4a4140", marks="wool"),
    "goat": Beast(1.15, 1.28, 0.52, 0.060, (0.20, 0.40), 0.17, (0.30, 0.12, 0.080), "hanging", "stub", "d9cdb8", "efe8da", "57473c", horns="curved"),
    "pig": Beast(1.35, 0.98, 0.66, 0.085, (0.16, 0.02), 0.25, (0.24, 0.08, 0.120), "pointed", "curl", "e3a79c", "eebfb4", "a8685f"),
    "deer": Beast(1.55, 1.62, 0.56, 0.060, (0.28, 0.56), 0.18, (0.34, 0.10, 0.075), "pointed", "stub", "a8693c", "e8d3b0", "3f2c26", horns="antlers"),
    "bear": Beast(1.90, 1.55, 0.98, 0.150, (0.22, 0.16), 0.34, (0.32, 0.10, 0.130), "round", "stub", "6b4630", "b08a5f", "2f211c"),
    "lion": Beast(1.75, 1.42, 0.62, 0.110, (0.28, 0.30), 0.28, (0.24, 0.08, 0.130), "round", "thin", "cf9a4e", "ecd2a0", "6f3f22", mane=True, eye="d8a03a"),
    "tiger": Beast(1.75, 1.32, 0.60, 0.110, (0.28, 0.22), 0.27, (0.22, 0.08, 0.125), "round", "thin", "d9822f", "f4e6d0", "2c2422", marks="stripes", eye="c8c04a"),
    "leopard": Beast(1.55, 1.18, 0.50, 0.085, (0.26, 0.20), 0.22, (0.18, 0.07, 0.100), "round", "thin", "d9aa58", "f2e3c4", "2f2624", marks="spots", eye="b8c04a"),
    "rabbit": Beast(0.62, 0.48, 0.38, 0.055, (0.06, 0.20), 0.15, (0.10, 0.03, 0.060), "long", "stub", "a8927a", "efe8dc", "5f4a40", eye="5a3a2a"),
    "mouse": Beast(0.34, 0.22, 0.20, 0.022, (0.03, 0.04), 0.085, (0.10, 0.04, 0.022), "round", "thin", "8f8a88", "d8d0cc", "3a3434", eye="201818"),
    "squirrel": Beast(0.46, 0.42, 0.26, 0.040, (0.04, 0.16), 0.12, (0.09, 0.03, 0.040), "pointed", "plume", "b0612f", "f0dfc8", "4f2f22", eye="201818"),
}  # fmt: skip


def drawing_of(beast: Beast) -> Callable[[Pencil], None]:
    """A drawing of an animal with these measures."""
    return lambda pen: _Drawn(pen, beast).draw()


class _Drawn:
    def __init__(self, pen: Pencil, beast: Beast) -> None:
        self.pen, self.b = pen, beast
        self.skull = beast.long / 2 + beast.neck[0], beast.high - 0.1 * beast.deep + beast.neck[1]

    def draw(self) -> None:
        b, pen = self.b, self.pen
        self._tail()
        for x, front in ((-0.34, False), (0.28, True)):
            self._leg(x * b.long, front, 0.80)
        self._horns(-0.10, 0.8)
        self._ear(-0.16, 0.85)
        self._neck()
        trunk = self._trunk()
        for x, front in ((-0.42, False), (0.38, True)):
            self._leg(x * b.long, front, 1.0)
        self._coat(trunk)
        self._head()
        self._horns(0.02, 1.0)
        self._ear(0.06, 1.0)
        if b.mane and b.tail == "thin" and b.ears == "round":
            return
        pen.eye(self.skull[0] + 0.30 * b.head, self.skull[1] + 0.22 * b.head, max(0.16 * b.head, 0.018), b.eye)

    def _trunk(self) -> Item:
        b, h, d, half = self.b, self.b.high, self.b.deep, self.b.long / 2
        return self.pen.blob(
            [
                (-half, h - 0.50 * d), (-half * 0.92, h - 0.10 * d), (-half * 0.5, h + 0.02 * d), (0, h - 0.05 * d), (half * 0.6, h + 0.02 * d),
                (half * 0.98, h - 0.18 * d), (half * 1.02, h - 0.58 * d), (half * 0.62, h - 1.0 * d), (0, h - 0.95 * d), (-half * 0.62, h - 0.84 * d),
            ],
            b.colour, 0.7,
        )  # fmt: skip

    def _leg(self, x: float, front: bool, tone: float) -> None:
        b, top = self.b, self.b.high - 0.55 * self.b.deep
        thick = b.leg * (1.9 if front else 2.3)
        bend = (x + 0.02, top * 0.45) if front else (x - 0.45 * b.leg - 0.05 * top, top * 0.42)
        colour = rgb(b.colour if b.marks != "wool" else b.dark) * tone
        self.pen.bar([(x + 0.02, top), bend, (x, 0.07)], [thick, b.leg * 1.05, b.leg * 0.85], colour, 0.4)
        foot = b.dark if b.ears in ("small", "long") or b.horns != "none" or b.marks == "wool" else b.colour
        self.pen.blob(
            [(x - b.leg, 0.0), (x - b.leg * 0.8, b.leg * 1.3), (x + b.leg * 0.9, b.leg * 1.3), (x + b.leg * 1.7, 0.02)],
            rgb(foot) * tone,
            0.3,
        )

    def _neck(self) -> None:
        b, (x, y) = self.b, self.skull
        colour = b.colour
        root = b.long / 2 - 0.16 * b.long, b.high - 0.34 * b.deep
        self.pen.bar(
            [root, ((root[0] + x) / 2, (root[1] + y) / 2 + 0.02), (x - 0.1 * b.head, y)],
            [0.38 * b.deep, 0.30 * b.deep, b.head * 0.78],
            colour,
            0.5,
        )
        if b.mane and b.ears == "round":
            ring = [
                (x + 0.1 * b.head + 1.75 * b.head * np.cos(a), y - 0.1 * b.head + 1.75 * b.head * np.sin(a) * (1 + 0.1 * (-1) ** k))
                for k, a in enumerate(np.linspace(0, 6.0, 18))
            ]
            mane = self.pen.blob(ring, b.dark, 0.7)
            strokes = [
                [(x + 0.9 * b.head * np.cos(a), y + 0.9 * b.head * np.sin(a)), (x + 1.6 * b.head * np.cos(a), y + 1.6 * b.head * np.sin(a))]
                for a in np.linspace(0, 6, 22)
            ]
            self.pen.lines(strokes, 0.02, "a0662f", mane)
        elif b.mane:
            self.pen.bar(
                [(x - 0.5 * b.head, y + 0.9 * b.head), (x - 1.1 * b.head, y - 0.2 * b.head), (root[0] - 0.06, b.high + 0.02)],
                [0.05, 0.13 * b.deep, 0.04],
                b.dark,
                0.5,
            )

    def _head(self) -> None:
        b, (x, y), (out, drop, nose), r = self.b, self.skull, self.b.muzzle, self.b.head
        tip = x + 0.55 * r + out, y - drop
        wool = b.marks == "wool"
        face = self.pen.blob(
            [
                (x - 0.85 * r, y - 0.1 * r), (x - 0.55 * r, y + 0.75 * r), (x + 0.20 * r, y + 0.90 * r), (x + 0.75 * r, y + 0.40 * r), (tip[0] - 0.3 * nose, tip[1] + nose),
                (tip[0] + 0.5 * nose, tip[1] + 0.1 * nose), (tip[0] - 0.3 * nose, tip[1] - nose), (x + 0.35 * r, y - 0.80 * r - 0.3 * drop), (x - 0.45 * r, y - 0.75 * r),
            ],
            b.dark if wool else b.colour, 0.6,
        )  # fmt: skip
        if not wool:
            self.pen.patch(
                face,
                [
                    (x + 0.5 * r, y - 0.35 * r - 0.4 * drop),
                    (tip[0] + nose, tip[1] + 0.2 * nose),
                    (tip[0], tip[1] - 1.4 * nose),
                    (x + 0.2 * r, y - 1.0 * r - 0.3 * drop),
                ],
                b.pale,
                0.9,
                0.6,
            )
        self.pen.dot(tip[0] + 0.2 * nose, tip[1] + 0.35 * nose, 0.42 * nose, rgb(b.dark) * 0.8, 0.34 * nose)
        self.pen.lines(
            [[(tip[0] + 0.1 * nose, tip[1] - 0.3 * nose), (tip[0] - 0.5 * out, tip[1] - 0.35 * nose + 0.3 * drop)]],
            0.012,
            rgb(b.dark) * 0.7,
        )
        if b.mane and b.ears == "round":
            self.pen.eye(x + 0.35 * r, y + 0.25 * r, 0.13 * r, b.eye)
        if wool:
            self.pen.blob(
                [(x - 0.9 * r + 0.3 * r * k, y + (0.55 + 0.35 * (k % 2)) * r) for k in range(5)]
                + [(x + 0.1 * r, y + 0.35 * r), (x - 0.8 * r, y + 0.2 * r)],
                b.colour,
                0.5,
            )

    def _ear(self, dx: float, tone: float) -> None:
        b, (x, y), r = self.b, self.skull, self.b.head
        x += dx * 2.2 * r - 0.30 * r
        colour = rgb(b.dark if b.marks == "wool" else b.colour) * tone * 0.92
        match b.ears:
            case "pointed" | "small":
                k = 1.0 if b.ears == "pointed" else 0.75
                self.pen.blob(
                    [
                        (x - 0.30 * r, y + 0.60 * r),
                        (x - 0.05 * r, y + (0.8 + 0.9 * k) * r),
                        (x + 0.12 * r, y + (0.8 + 0.6 * k) * r),
                        (x + 0.28 * r, y + 0.62 * r),
                    ],
                    colour,
                    0.4,
                )
            case "hanging":
                self.pen.blob(
                    [
                        (x - 0.1 * r, y + 0.75 * r),
                        (x - 0.50 * r, y + 0.45 * r),
                        (x - 0.55 * r, y - 0.55 * r),
                        (x - 0.18 * r, y - 0.60 * r),
                        (x + 0.12 * r, y + 0.3 * r),
                    ],
                    colour * 0.85,
                    0.4,
                )
            case "long":
                self.pen.bar(
                    [(x, y + 0.6 * r), (x - 0.15 * r, y + 1.5 * r), (x - 0.35 * r, y + 2.5 * r)],
                    [0.20 * r, 0.30 * r, 0.06 * r],
                    colour,
                    0.4,
                )
            case _:
                self.pen.ball(x - 0.05 * r, y + 0.85 * r, 0.30 * r, 0.30 * r, colour, 0.4)

    def _horns(self, dx: float, tone: float) -> None:
        b, (x, y), r = self.b, self.skull, self.b.head
        x, bone = x + dx, rgb("d8c8a0") * tone
        if b.horns == "curved":
            self.pen.bar(
                [(x - 0.2 * r, y + 0.7 * r), (x - 0.2 * r, y + 1.5 * r), (x - 0.8 * r, y + 2.1 * r)], [0.16 * r, 0.12 * r, 0.02], bone, 0.4
            )
        elif b.horns == "antlers":
            main = [(x - 0.2 * r, y + 0.7 * r), (x - 0.6 * r, y + 2.0 * r), (x - 0.1 * r, y + 3.6 * r)]
            self.pen.bar(main, [0.13 * r, 0.11 * r, 0.03], bone, 0.4)
            for t, side in ((1.4, 0.9), (2.2, 1.0), (2.9, 0.7)):
                self.pen.bar([(x - 0.45 * r, y + t * r), (x + side * 0.7 * r, y + (t + 0.55) * r)], [0.09 * r, 0.02], bone, 0.3)

    def _tail(self) -> None:
        b, x, y = self.b, -self.b.long / 2, self.b.high - 0.12 * self.b.deep
        match b.tail:
            case "plume":
                self.pen.bar(
                    [(x + 0.05, y - 0.1), (x - 0.16, y + 0.02), (x - 0.17, y + 0.24), (x - 0.02, y + 0.32)],
                    [0.04, 0.09, 0.10, 0.03],
                    b.colour,
                    0.6,
                )
            case "brush":
                tail = self.pen.bar([(x + 0.08, y), (x - 0.22, y - 0.22), (x - 0.34, y - 0.62)], [0.08, 0.14, 0.03], b.colour, 0.5)
                self.pen.patch(
                    tail, [(x - 0.42, y - 0.7), (x - 0.24, y - 0.7), (x - 0.26, y - 0.48), (x - 0.42, y - 0.48)], b.dark, 0.7, 1.0
                )
            case "curl":
                self.pen.bar(
                    [(x + 0.06, y - 0.02), (x - 0.20, y + 0.10), (x - 0.24, y + 0.36), (x - 0.06, y + 0.40)],
                    [0.07, 0.06, 0.05, 0.02],
                    b.colour,
                    0.5,
                )
            case "thin":
                end = (x - 0.32 * b.long, y - 0.35 * b.high)
                self.pen.bar(
                    [(x + 0.05, y), (x - 0.18 * b.long, y - 0.05 * b.high), end],
                    [0.05 * b.high, 0.035 * b.high, 0.03 * b.high],
                    b.colour,
                    0.4,
                )
                self.pen.ball(*end, 0.05 * b.high, 0.07 * b.high, b.dark if b.ears != "long" or b.high > 1 else b.colour, 0.3)
            case "horse":
                self.pen.bar([(x + 0.06, y), (x - 0.28, y - 0.30), (x - 0.30, y - 1.35)], [0.07, 0.15, 0.04], b.dark, 0.5)
            case _:
                self.pen.ball(x, y - 0.06, 0.14 * b.deep + 0.02, 0.14 * b.deep + 0.02, b.pale, 0.5)

    def _coat(self, trunk: Item) -> None:
        b, half, h, d = self.b, self.b.long / 2, self.b.high, self.b.deep
        if b.marks == "none":
            self.pen.patch(
                trunk,
                [
                    (-half * 0.6, h - d * 0.86),
                    (0, h - d * 0.80),
                    (half * 0.8, h - d * 0.74),
                    (half * 0.6, h - d * 1.1),
                    (-half * 0.5, h - d),
                ],
                b.pale,
                0.6,
                2.0,
            )
        elif b.marks == "wool":
            for k, (x, y) in enumerate([(i * 0.19 - 0.58, h - 0.02 - j * 0.19) for j in range(4) for i in range(7)]):
                self.pen.ball(x * b.long / 1.2 + 0.05 * (k % 2), y, 0.15, 0.14, b.colour, 0.35, drop=0.1, line=0.5)
        elif b.marks == "patches":
            for x, y, r in ((-0.5, 0.25, 0.34), (0.25, 0.45, 0.30), (0.8, 0.2, 0.22)):
                self.pen.patch(
                    trunk,
                    [
                        (x * half + r * np.cos(a) * 1.2, h - y * d * 1.3 + r * np.sin(a) * (0.8 + 0.2 * (k % 2)))
                        for k, a in enumerate(np.linspace(0, 5.4, 7))
                    ],
                    b.dark,
                )
        elif b.marks == "stripes":
            self.pen.lines(
                [[(x, h + 0.03), (x + 0.03, h - 0.35 * d), (x - 0.05, h - 0.72 * d)] for x in np.linspace(-half * 0.9, half * 0.85, 9)],
                0.035,
                b.dark,
                trunk,
                0.9,
            )
        else:
            for k in range(26):
                x, y = half * 0.88 * np.sin(k * 2.4), h - d * (0.12 + 0.6 * ((k * 0.37) % 1))
                self.pen.patch(trunk, [(x + 0.045 * np.cos(a), y + 0.045 * np.sin(a)) for a in np.linspace(0, 5, 6)], b.dark, 0.85)


OBJECTS: dict[str, DrawnObject] = {
    name: DrawnObject(
        drawing_of(beast),
        beast.long + 2 * beast.neck[0] + beast.muzzle[0] + 0.5,
        beast.high + beast.neck[1] + beast.head * 2,
        Part.COMPANION,
    )
    for name, beast in BEASTS.items()
}
