"""Birds that stand or fly: one drawing, whose measures make a crow, an owl or a goose; and other small animals."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.objects.drawn_object import DrawnObject, Pencil
from mosskeeper.core.illustrator.vocabulary.colours import rgb


@dataclass(frozen=True, slots=True)
class Bird:
    """Measures of a bird, in hh.

    Attributes
    ----------
    long, deep : of the body. leg : its length. neck : from the body to the head, to the front and up. head : radius.
    beak : length, drop of its tip, half height. colour, breast, dark : of back, breast and wing tips. bill, feet : their colours.
    tail : length. comb : colour of a comb or crest, "" none. face : colour about the eyes, "" none.
    """

    long: float
    deep: float
    leg: float
    neck: tuple[float, float]
    head: float
    beak: tuple[float, float, float]
    colour: str
    breast: str
    dark: str
    bill: str
    feet: str
    tail: float = 0.3
    comb: str = ""
    face: str = ""
    eye: str = "2a2022"
    upright: float = 0.35  # how far the body stands up, 0 level … 1


BIRDS: dict[str, Bird] = {
    "crow": Bird(0.62, 0.32, 0.22, (0.05, 0.16), 0.15, (0.20, 0.04, 0.050), "2e2f3a", "3a3b48", "1c1c24", "24242a", "2c2a2c", 0.34, eye="8a8f98"),
    "pigeon": Bird(0.48, 0.30, 0.14, (0.05, 0.16), 0.115, (0.10, 0.03, 0.030), "8d97a6", "a3939c", "4a505c", "4a4648", "b8524a", 0.24, eye="d8642f"),
    "dove": Bird(0.46, 0.28, 0.14, (0.05, 0.16), 0.115, (0.10, 0.03, 0.030), "f2efe8", "faf7f0", "d2ccc0", "b88a7a", "b8625a", 0.26),
    "gull": Bird(0.66, 0.30, 0.26, (0.08, 0.16), 0.14, (0.18, 0.05, 0.045), "a9b2bc", "f6f4ee", "34383f", "e0b43a", "d9a05a", 0.24, eye="d8c03a"),
    "owl": Bird(0.56, 0.46, 0.10, (0.02, 0.16), 0.25, (0.07, 0.08, 0.045), "8a6544", "d9bd94", "4f3828", "c8a04a", "c8a878", 0.20, face="e8d6b4", eye="e0a02a", upright=0.9),
    "hawk": Bird(0.66, 0.34, 0.20, (0.03, 0.18), 0.155, (0.11, 0.09, 0.055), "7a5234", "e4d2b0", "3f2a20", "d8a83a", "e0b03a", 0.40, eye="e0a82a", upright=0.7),
    "parrot": Bird(0.56, 0.32, 0.12, (0.03, 0.16), 0.165, (0.10, 0.12, 0.070), "2f9a4a", "e0c03a", "2f5aa8", "3a3436", "6a6260", 0.62, eye="e8a02a", upright=0.75),
    "goose": Bird(0.98, 0.50, 0.30, (0.12, 0.66), 0.15, (0.22, 0.05, 0.060), "efece2", "f8f5ec", "c9c2b4", "e0882f", "d97a2a", 0.24),
    "swan": Bird(1.25, 0.56, 0.12, (0.16, 0.98), 0.15, (0.22, 0.06, 0.055), "f6f4ee", "fbfaf5", "dcd6ca", "d9642a", "33302f", 0.26),
    "duck": Bird(0.68, 0.36, 0.14, (0.06, 0.26), 0.15, (0.20, 0.04, 0.055), "8d7a62", "a5653f", "4a3f3a", "d8b03a", "d9822f", 0.22, face="2f6a4a"),
    "hen": Bird(0.64, 0.46, 0.20, (0.06, 0.28), 0.13, (0.10, 0.03, 0.040), "b0622f", "c9824a", "6f3a20", "d8a84a", "d8a84a", 0.34, comb="c8322a"),
    "rooster": Bird(0.70, 0.48, 0.26, (0.08, 0.40), 0.14, (0.11, 0.03, 0.045), "a8502a", "d8923a", "1f4a44", "d8a84a", "d8a84a", 0.62, comb="d02a24"),
    "penguin": Bird(0.72, 0.52, 0.06, (0.02, 0.22), 0.17, (0.15, 0.03, 0.040), "2c3038", "f6f3ea", "1f2228", "3a3638", "d9822f", 0.14, eye="d8c8a0", upright=1.0),
}  # fmt: skip


def standing(bird: Bird) -> Callable[[Pencil], None]:
    """A drawing of a bird that stands."""
    return lambda pen: _stand(pen, bird)


def _stand(pen: Pencil, b: Bird) -> None:
    up = b.upright * 0.9
    axis = np.array([np.cos(up), np.sin(up)])
    side = np.array([-axis[1], axis[0]])
    centre = np.array([0.0, b.leg + 0.5 * b.deep + 0.25 * b.long * np.sin(up)])

    def on(u: float, v: float) -> tuple[float, float]:
        """A place on the body: u along it from tail (−1) to breast (1), v from belly (−1) to back (1)."""
        p = centre + axis * u * b.long / 2 + side * v * b.deep / 2
        return float(p[0]), float(p[1])

    for x, tone in ((-0.05, 0.8), (0.07, 1.0)):
        pen.bar([(x, centre[1] - 0.3 * b.deep), (x + 0.01, 0.03)], 0.022 + 0.01 * b.deep, rgb(b.feet) * tone, 0.2)
        for toe in (-0.06, 0.06, 0.13):
            pen.bar([(x + 0.01, 0.03), (x + toe, 0.0)], [0.022, 0.014], rgb(b.feet) * tone, 0.1)
    tail = [on(-0.75, 0.25), on(-1.0 - 2 * b.tail / b.long, 0.15), on(-1.0 - 1.9 * b.tail / b.long, -0.3), on(-0.75, -0.35)]
    pen.blob(tail, b.dark, 0.5)
    neck = on(0.78, 0.40)
    head = neck[0] + b.neck[0], neck[1] + b.neck[1]
    body = pen.blob(
        [on(-1, 0.1), on(-0.5, 0.75), on(0.2, 1.0), on(0.85, 0.75), on(1.05, 0.0), on(0.6, -0.9), on(-0.2, -1.0), on(-0.8, -0.5)],
        b.colour,
        0.7,
    )
    pen.bar(
        [on(0.55, 0.1), ((neck[0] + head[0]) / 2 + 0.3 * b.neck[0], (neck[1] + head[1]) / 2), head],
        [0.34 * b.deep, 0.20 * b.deep + 0.02, b.head * 0.80],
        b.breast if b.neck[1] > 0.5 else b.colour,
        0.4,
    )
    pen.patch(body, [on(1.1, 0.35), on(0.85, -0.9), on(-0.1, -1.2), on(0.15, -0.45), on(0.55, 0.1)], b.breast, 0.95, 0.6)
    wing = pen.blob(
        [on(0.45, 0.75), on(0.50, 0.1), on(0.0, -0.35), on(-0.7, -0.15), on(-1.25, 0.15), on(-0.5, 0.7)],
        rgb(b.colour) * 0.88,
        0.5,
        drop=0.3,
    )
    pen.patch(wing, [on(-0.5, 0.1), on(-0.8, -0.2), on(-1.3, 0.1), on(-0.8, 0.4)], b.dark, 0.8, 0.8)
    pen.lines([[on(0.15 - 0.22 * k, 0.45), on(-0.15 - 0.24 * k, -0.15)] for k in range(4)], 0.012, b.dark, wing)
    if b.comb:
        pen.blob(
            [
                (head[0] - 0.11, head[1] + 0.7 * b.head),
                (head[0] - 0.10, head[1] + 1.6 * b.head),
                (head[0] - 0.03, head[1] + 1.15 * b.head),
                (head[0] + 0.03, head[1] + 1.8 * b.head),
                (head[0] + 0.08, head[1] + 1.1 * b.head),
                (head[0] + 0.12, head[1] + 0.6 * b.head),
            ],
            b.comb,
            0.3,
        )
    long, drop, half = b.beak
    x, y = head[0] + 0.82 * b.head, head[1] - 0.05 * b.head
    if b.face and b.head > 0.2:  # an owl looks at us
        pen.ball(*head, b.head, b.head * 0.95, b.colour, 0.5)
        for s in (-1, 1):
            pen.blob(
                [
                    (head[0] + s * 0.45 * b.head, head[1] + 0.75 * b.head),
                    (head[0] + s * 0.85 * b.head, head[1] + 1.35 * b.head),
                    (head[0] + s * 0.95 * b.head, head[1] + 0.5 * b.head),
                ],
                b.dark,
                0.3,
            )
            pen.dot(head[0] + s * 0.42 * b.head, head[1] + 0.08 * b.head, 0.46 * b.head, b.face, 0.50 * b.head)
            pen.eye(head[0] + s * 0.40 * b.head, head[1] + 0.10 * b.head, 0.24 * b.head, b.eye)
        pen.blob(
            [(head[0] - half, head[1] - 0.02), (head[0] + half, head[1] - 0.02), (head[0], head[1] - drop - 0.1 * b.head)], b.bill, 0.2
        )
        return
    pen.blob(
        [
            (x - 0.2 * b.head, y + half),
            (x + 0.7 * long, y + 0.3 * half - 0.3 * drop),
            (x + long, y - drop),
            (x + 0.5 * long, y - half - 0.2 * drop),
            (x - 0.2 * b.head, y - half),
        ],
        b.bill,
        0.3,
    )
    pen.ball(*head, b.head, b.head, b.face or (b.breast if b.neck[1] > 0.5 else b.colour), 0.5)
    if b.comb:
        pen.ball(head[0] + 0.7 * b.head, head[1] - 0.9 * b.head, 0.35 * b.head, 0.5 * b.head, b.comb, 0.2)
    pen.eye(head[0] + 0.30 * b.head, head[1] + 0.18 * b.head, max(0.20 * b.head, 0.022), b.eye)


def butterflies(pen: Pencil) -> None:
    for k, (x, y, size) in enumerate(((-0.30, 1.9, 0.20), (0.20, 2.6, 0.24), (0.46, 1.5, 0.16))):
        colour = ("d9822f", "4f7fa8", "d8b03a")[k]
        for s in (-1, 1):
            wing = pen.blob(
                [(x, y), (x + s * 0.5 * size, y + size), (x + s * 1.2 * size, y + 0.8 * size), (x + s * 0.9 * size, y)], colour, 0.3
            )
            pen.patch(
                wing,
                [(x + s * 0.9 * size, y + 0.8 * size), (x + s * 1.3 * size, y + 0.9 * size), (x + s * 1.1 * size, y + 0.4 * size)],
                "2c2422",
                0.9,
                0.3,
            )
            pen.blob(
                [(x, y), (x + s * 0.8 * size, y), (x + s * 0.7 * size, y - 0.7 * size), (x + s * 0.2 * size, y - 0.6 * size)], colour, 0.3
            )
        pen.bar([(x, y + 0.35 * size), (x, y - 0.45 * size)], 0.10 * size, "2c2422", 0.2)


def frog(pen: Pencil) -> None:
    green, pale = "5f9a3f", "d8dc9a"
    pen.blob([(-0.30, 0.02), (-0.34, 0.16), (-0.22, 0.28), (-0.06, 0.18), (0.02, 0.02)], rgb(green) * 0.85, 0.4)
    body = pen.blob([(-0.26, 0.10), (-0.20, 0.30), (0.05, 0.42), (0.24, 0.36), (0.28, 0.14), (0.05, 0.03)], green, 0.7)
    pen.patch(body, [(0.30, 0.26), (0.28, 0.05), (0.0, 0.0), (0.10, 0.2)], pale, 0.9, 0.5)
    pen.bar([(0.15, 0.20), (0.13, 0.05)], [0.055, 0.04], green, 0.4)
    pen.blob([(0.09, 0.0), (0.12, 0.07), (0.24, 0.05), (0.28, 0.0)], green, 0.3)
    pen.ball(0.12, 0.43, 0.07, 0.07, green, 0.3)
    pen.eye(0.13, 0.44, 0.05, "d8b03a")
    pen.lines([[(0.28, 0.29), (0.16, 0.26), (0.10, 0.28)]], 0.012, "2f4a24")


def snake(pen: Pencil) -> None:
    back, n = "5f7a3a", 26
    t = np.linspace(0, 1, n)
    path = [(float(-0.62 + 0.9 * u + 0.02 * np.sin(9 * u)), float(0.10 + 0.10 * np.sin(u * 9.5) ** 2)) for u in t]
    coil = [*path[:-1], (0.34, 0.30), (0.38, 0.58), (0.50, 0.70)]
    body = pen.bar(coil, [0.02, *[0.085] * (len(coil) - 3), 0.075, 0.07], back, 0.7)
    pen.lines([[(x, y + 0.08), (x + 0.03, y - 0.06)] for x, y in path[3::3]], 0.025, "2f3a22", body, 0.8)
    pen.blob([(0.42, 0.68), (0.48, 0.80), (0.64, 0.78), (0.74, 0.69), (0.62, 0.63)], back, 0.4)
    pen.eye(0.58, 0.73, 0.025, "e0b43a")
    pen.lines([[(0.73, 0.69), (0.82, 0.70), (0.88, 0.73)], [(0.82, 0.70), (0.88, 0.67)]], 0.008, "b8322a")


def fish(pen: Pencil) -> None:
    silver, blue = "a8b4bc", "4f6f8a"
    pen.blob([(-0.40, 0.22), (-0.66, 0.44), (-0.58, 0.22), (-0.66, 0.0)], blue, 0.4)
    body = pen.blob([(-0.44, 0.22), (-0.10, 0.42), (0.30, 0.38), (0.52, 0.22), (0.30, 0.06), (-0.10, 0.03)], silver, 0.7)
    pen.patch(body, [(-0.5, 0.3), (-0.1, 0.5), (0.4, 0.46), (0.5, 0.28), (0.1, 0.30)], blue, 0.8, 1.0)
    pen.blob([(-0.05, 0.40), (0.12, 0.54), (0.22, 0.38)], blue, 0.3)
    pen.lines([[(0.26, 0.36), (0.20, 0.22), (0.26, 0.08)]], 0.014, "2f3f4a", body)
    pen.eye(0.38, 0.27, 0.035, "e8e4d0")


def turtle(pen: Pencil) -> None:
    skin = "8a9a5a"
    for x in (-0.32, 0.26):
        pen.blob([(x - 0.10, 0.0), (x - 0.08, 0.20), (x + 0.10, 0.20), (x + 0.12, 0.0)], skin, 0.4)
    pen.bar([(0.34, 0.20), (0.56, 0.34)], [0.09, 0.10], skin, 0.4)
    pen.ball(0.62, 0.36, 0.13, 0.11, skin, 0.5)
    shell = pen.blob([(-0.50, 0.12), (-0.34, 0.44), (0.0, 0.56), (0.32, 0.42), (0.46, 0.12)], "6b5a34", 0.8)
    pen.lines([[(-0.2, 0.55), (-0.28, 0.1)], [(0.12, 0.56), (0.18, 0.1)], [(-0.45, 0.28), (0.42, 0.28)]], 0.018, "3f3420", shell)
    pen.eye(0.67, 0.39, 0.025, "201818")


def dragon(pen: Pencil) -> None:
    green, pale, dark = "4f7a4a", "d8cf9a", "24402f"
    wing = pen.blob(
        [(-0.10, 1.75), (-0.9, 3.2), (-2.0, 3.3), (-1.75, 2.7), (-1.9, 2.2), (-1.3, 2.2), (-1.1, 1.7), (-0.6, 1.8)], rgb(dark) * 1.3, 0.5
    )
    pen.lines([[(-0.15, 1.75), (-0.95, 3.1)], [(-0.9, 3.1), (-1.75, 2.7)], [(-0.9, 3.1), (-1.3, 2.2)]], 0.05, green, wing)
    pen.bar([(-0.75, 1.0), (-1.5, 0.7), (-1.9, 0.25), (-2.4, 0.20), (-2.6, 0.55)], [0.42, 0.28, 0.16, 0.10, 0.03], green, 0.6)
    pen.blob([(-2.75, 0.55), (-2.6, 0.85), (-2.45, 0.55), (-2.6, 0.48)], dark, 0.4)
    for x, tone in ((-0.55, 0.8), (0.55, 0.8), (-0.80, 1.0), (0.35, 1.0)):
        pen.bar([(x, 1.1), (x - 0.08, 0.5), (x + 0.04, 0.08)], [0.30, 0.15, 0.12], rgb(green) * tone, 0.5)
        pen.blob([(x - 0.12, 0.0), (x - 0.08, 0.18), (x + 0.20, 0.16), (x + 0.32, 0.0)], rgb(green) * tone, 0.3)
    body = pen.blob(
        [(-1.05, 1.05), (-0.8, 1.6), (-0.1, 1.75), (0.6, 1.7), (0.95, 1.25), (0.6, 0.75), (-0.1, 0.68), (-0.8, 0.72)], green, 0.8
    )
    pen.patch(body, [(0.95, 1.2), (0.5, 0.85), (-0.6, 0.85), (-0.7, 0.6), (0.6, 0.6), (1.0, 0.9)], pale, 0.85, 0.8)
    neck = pen.bar([(0.55, 1.35), (1.05, 1.8), (1.0, 2.35), (1.3, 2.75)], [0.40, 0.27, 0.22, 0.22], green, 0.6)
    pen.lines(
        [[(0.80, 1.2), (1.05, 1.35)], [(1.0, 1.5), (1.25, 1.6)], [(1.05, 1.9), (1.28, 1.95)], [(1.05, 2.2), (1.25, 2.25)]], 0.04, pale, neck
    )
    for x, y in ((0.1, 1.72), (-0.4, 1.68), (0.62, 1.72), (0.86, 2.1), (0.86, 2.45)):
        pen.block([(x - 0.12, y - 0.04), (x - 0.04, y + 0.22), (x + 0.10, y - 0.02)], dark, 0.3)
    for x, tone in ((1.16, 0.8), (1.26, 1.0)):
        pen.bar([(x, 2.92), (x - 0.25, 3.2), (x - 0.55, 3.25)], [0.07, 0.05, 0.01], rgb("d8c8a0") * tone, 0.3)
    pen.blob(
        [(1.02, 2.7), (1.15, 3.0), (1.45, 3.02), (1.75, 2.86), (2.05, 2.82), (2.08, 2.66), (1.8, 2.58), (1.4, 2.5), (1.15, 2.52)],
        green,
        0.6,
    )
    pen.lines([[(2.06, 2.70), (1.7, 2.66), (1.45, 2.70)]], 0.018, dark)
    pen.dot(1.98, 2.79, 0.028, dark)
    pen.eye(1.48, 2.87, 0.065, "e8b02a")


OBJECTS: dict[str, DrawnObject] = {
    **{
        name: DrawnObject(
            standing(b), b.long + 2 * b.tail + b.neck[0] + b.beak[0], b.leg + b.deep + b.neck[1] + 2 * b.head + 0.3 * b.long, Part.COMPANION
        )
        for name, b in BIRDS.items()
    },
    "butterflies": DrawnObject(butterflies, 1.4, 2.9, Part.COMPANION, "air"),
    "frog": DrawnObject(frog, 0.7, 0.5, Part.COMPANION),
    "snake": DrawnObject(snake, 1.5, 0.8, Part.COMPANION),
    "fish": DrawnObject(fish, 1.2, 0.55, Part.COMPANION),
    "turtle": DrawnObject(turtle, 1.3, 0.6, Part.COMPANION),
    "dragon": DrawnObject(dragon, 4.9, 3.4, Part.COMPANION),
}
