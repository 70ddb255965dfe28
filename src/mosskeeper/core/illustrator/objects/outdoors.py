"""What stands outdoors: trees, stones, fires, vehicles and boats."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.objects.drawn_object import DrawnObject, Pencil
from mosskeeper.core.illustrator.vocabulary.colours import rgb

_BARK, _LEAF, _DARK_LEAF, _STONE, _WOOD, _IRON = "6b4a34", "5f8a45", "3f6a3c", "8a8880", "8a5f3c", "4a4c52"


def _crown(pen: Pencil, leaf: str, dots: str = "") -> None:
    rng = np.random.default_rng(3)
    pen.bar([(0.05, 0.0), (-0.05, 1.6), (0.08, 3.4)], [0.34, 0.20, 0.12], _BARK, 0.6)
    for x, y in ((-0.9, 3.4), (0.85, 3.6)):
        pen.bar([(0, 2.2), (x * 0.6, 3.0), (x, y)], [0.12, 0.09, 0.04], _BARK, 0.5)
    for k, (x, y, r) in enumerate(
        ((-1.05, 3.5, 0.75), (1.05, 3.6, 0.75), (-0.5, 4.3, 0.85), (0.6, 4.4, 0.85), (0.0, 3.7, 0.9), (0.05, 5.0, 0.7))
    ):
        ring = [
            (x + r * (1 + 0.12 * (-1) ** j) * np.cos(a), y + r * 0.85 * (1 + 0.10 * (-1) ** j) * np.sin(a))
            for j, a in enumerate(np.linspace(0, 2 * np.pi, 16, endpoint=False))
        ]
        clump = pen.blob(ring, rgb(leaf) * (0.82 + 0.05 * k), 0.7)
        spots = [(x + rng.normal(0, 0.35), y + rng.normal(0, 0.3)) for _ in range(14)]
        pen.lines([[(p, q), (p + 0.09, q + 0.05)] for p, q in spots], 0.03, rgb(leaf) * 1.25, clump, 0.6)
        if dots:
            for p, q in spots[:6]:
                pen.ball(p, q, 0.09, 0.09, dots, 0.4, drop=0.2)


def tree(pen: Pencil) -> None:
    _crown(pen, _LEAF)


def apple_tree(pen: Pencil) -> None:
    _crown(pen, _LEAF, "c8382f")


def blossom_tree(pen: Pencil) -> None:
    _crown(pen, "e8b4c0")


def autumn_tree(pen: Pencil) -> None:
    _crown(pen, "c9762f")


def bare_tree(pen: Pencil) -> None:
    pen.bar([(0.05, 0.0), (-0.05, 1.8), (0.0, 3.2)], [0.30, 0.18, 0.10], _BARK, 0.6)
    for x, y, t in ((-1.2, 4.4, 2.0), (1.1, 4.2, 2.3), (-0.5, 5.2, 2.9), (0.5, 5.3, 3.0)):
        middle = (x * 0.55, (t + y) / 2 + 0.1)
        pen.bar([(0, t), middle, (x, y)], [0.10, 0.06, 0.015], _BARK, 0.4)
        for s in (-1, 1):
            pen.bar([middle, (middle[0] + s * 0.4, middle[1] + 0.6)], [0.04, 0.01], _BARK, 0.3)


def pine(pen: Pencil) -> None:
    pen.bar([(0, 0.0), (0, 1.2)], [0.20, 0.16], _BARK, 0.6)
    for k in range(5):
        y, w = 0.8 + 0.85 * k, 1.35 - 0.24 * k
        edge = [
            (-w, y),
            (-w * 0.6, y + 0.12),
            (-w * 0.35, y - 0.02),
            (0, y + 0.10),
            (w * 0.35, y - 0.02),
            (w * 0.6, y + 0.12),
            (w, y),
            (0.12, y + 1.35),
            (-0.12, y + 1.35),
        ]
        tier = pen.block(edge, rgb(_DARK_LEAF) * (0.9 + 0.06 * k), 0.6)
        pen.lines([[(x * w, y + 0.5 - 0.4 * abs(x)), (x * w * 1.2, y + 0.1)] for x in (-0.6, -0.2, 0.3, 0.6)], 0.02, _LEAF, tier, 0.5)


def palm(pen: Pencil) -> None:
    pen.bar([(0.2, 0.0), (-0.05, 2.0), (0.1, 4.2)], [0.22, 0.15, 0.12], "8f6f4a", 0.6)
    for a in (-1.3, -0.7, -0.15, 0.3, 0.8, 1.4):
        tip = (0.1 + 1.8 * np.sin(a), 4.2 + 1.0 * np.cos(a) - 0.5)
        pen.bar(
            [(0.1, 4.2), ((0.1 + tip[0]) / 2, (4.2 + tip[1]) / 2 + 0.45), tip],
            [0.05, 0.20, 0.01],
            rgb(_LEAF) * (0.85 + 0.1 * np.cos(3 * a)),
            0.4,
        )


def bush(pen: Pencil) -> None:
    for x, y, r in ((-0.6, 0.45, 0.5), (0.6, 0.45, 0.5), (0, 0.75, 0.6), (-0.2, 0.4, 0.5), (0.3, 0.35, 0.45)):
        pen.blob(
            [
                (x + r * (1 + 0.12 * (-1) ** j) * np.cos(a), max(y + r * np.sin(a), 0))
                for j, a in enumerate(np.linspace(0, 2 * np.pi, 14, endpoint=False))
            ],
            rgb(_LEAF) * (0.8 + 0.3 * r),
            0.6,
        )


def rose_bush(pen: Pencil) -> None:
    bush(pen)
    for x, y in ((-0.7, 0.6), (-0.25, 1.0), (0.2, 0.7), (0.65, 0.55), (0.45, 1.05), (-0.1, 0.4)):
        pen.ball(x, y, 0.13, 0.12, "c8324a", 0.5)
        pen.lines([[(x - 0.05, y), (x, y + 0.05), (x + 0.05, y - 0.01)]], 0.015, "8a1f34")


def sunflowers(pen: Pencil) -> None:
    for x, h in ((-0.55, 2.2), (0.05, 2.9), (0.6, 1.9)):
        pen.bar([(x, 0.0), (x + 0.06, h / 2), (x, h)], 0.045, "5f8a3a", 0.3)
        for s in (-1, 1):
            pen.blob([(x, h * 0.5), (x + s * 0.25, h * 0.62), (x + s * 0.42, h * 0.5), (x + s * 0.2, h * 0.45)], _LEAF, 0.4)
        for a in np.linspace(0, 2 * np.pi, 14, endpoint=False):
            pen.bar(
                [(x + 0.12 * np.cos(a), h + 0.12 * np.sin(a)), (x + 0.40 * np.cos(a), h + 0.40 * np.sin(a))],
                [0.07, 0.015],
                "e8b02a",
                0.2,
                drop=0.1,
            )
        pen.ball(x, h, 0.19, 0.19, "5a3a24", 0.5)


def mushrooms(pen: Pencil) -> None:
    for x, h, r in ((-0.35, 0.55, 0.34), (0.2, 0.9, 0.48), (0.62, 0.4, 0.26)):
        pen.bar([(x, 0.0), (x, h)], [0.13, 0.09], "ece0c8", 0.5)
        cap = pen.blob(
            [
                (x - r, h - 0.04),
                (x - r * 0.7, h + r * 0.55),
                (x, h + r * 0.8),
                (x + r * 0.7, h + r * 0.55),
                (x + r, h - 0.04),
                (x, h + 0.02),
            ],
            "b8372c",
            0.6,
        )
        for k in range(5):
            pen.patch(
                cap,
                [
                    (x + r * (-0.6 + 0.3 * k) + 0.06 * np.cos(a), h + r * (0.25 + 0.25 * (k % 2)) + 0.05 * np.sin(a))
                    for a in np.linspace(0, 5, 6)
                ],
                "f4ecdc",
            )


def rock(pen: Pencil) -> None:
    stone = pen.blob([(-0.95, 0.0), (-0.85, 0.55), (-0.35, 1.05), (0.3, 1.15), (0.8, 0.7), (1.0, 0.0)], _STONE, 0.8)
    pen.patch(stone, [(-0.6, 0.7), (-0.2, 1.15), (0.4, 1.15), (0.3, 0.85)], "a8a69c", 0.8, 1.0)
    pen.lines([[(0.1, 1.1), (0.2, 0.6), (0.05, 0.2)], [(-0.5, 0.6), (-0.3, 0.3)]], 0.02, "5f5e58", stone)


def fire(pen: Pencil) -> None:
    for a, b in (((-0.6, 0.05), (0.45, 0.28)), ((0.6, 0.05), (-0.45, 0.28)), ((-0.3, 0.04), (0.3, 0.04))):
        pen.bar([a, b], 0.09, _BARK, 0.5)
    for colour, k in (("d9481f", 1.0), ("f0922a", 0.72), ("ffd86a", 0.42)):
        pen.blob(
            [
                (-0.45 * k, 0.12),
                (-0.40 * k, 0.55 * k + 0.1),
                (-0.18 * k, 0.45 * k + 0.1),
                (-0.10 * k, 1.45 * k + 0.1),
                (0.18 * k, 0.75 * k + 0.1),
                (0.34 * k, 1.0 * k + 0.1),
                (0.46 * k, 0.35 * k + 0.1),
                (0.3 * k, 0.10),
            ],
            colour,
            0.0,
            emission=1.0,
            drop=0.0,
            line=0.2,
        )
    pen.glow(0, 0.7, 3.6, "ff9a4a", 1.0)


def gravestone(pen: Pencil) -> None:
    stone = pen.blob([(-0.5, 0.0), (-0.52, 1.2), (-0.3, 1.6), (0, 1.72), (0.3, 1.6), (0.52, 1.2), (0.5, 0.0)], "8f918c", 0.7)
    pen.lines(
        [[(0, 1.45), (0, 0.95)], [(-0.18, 1.28), (0.18, 1.28)], [(-0.28, 0.7), (0.28, 0.7)], [(-0.22, 0.5), (0.22, 0.5)]],
        0.028,
        "55575a",
        stone,
    )
    pen.blob([(-0.7, 0.0), (-0.5, 0.16), (0, 0.12), (0.5, 0.18), (0.7, 0.0)], _LEAF, 0.4)


def fence(pen: Pencil) -> None:
    for y in (0.45, 1.0):
        pen.box(-1.9, y, 1.9, y + 0.14, rgb(_WOOD) * 0.85)
    for x in np.linspace(-1.75, 1.75, 8):
        pen.block([(x - 0.14, 0.0), (x - 0.14, 1.3), (x, 1.48), (x + 0.14, 1.3), (x + 0.14, 0.0)], _WOOD, 0.4)


def wall(pen: Pencil) -> None:
    rng = np.random.default_rng(2)
    pen.box(-2.2, 0.0, 2.2, 1.75, "7a766e")
    for row, y in enumerate(np.arange(0.0, 1.6, 0.36)):
        x = -2.2 - 0.2 * (row % 2)
        while x < 2.15:
            w = rng.uniform(0.5, 0.8)
            pen.box(max(x, -2.2), y, min(x + w - 0.04, 2.2), y + 0.32, rgb("9a948a") * rng.uniform(0.88, 1.08), 0.3, drop=0.1, line=0.5)
            x += w


def lamp_post(pen: Pencil) -> None:
    pen.blob([(-0.2, 0.0), (-0.12, 0.4), (0.12, 0.4), (0.2, 0.0)], _IRON)
    pen.bar([(0, 0.3), (0, 5.0)], 0.06, _IRON, 0.5)
    pen.bar([(-0.3, 4.7), (0.3, 4.7)], 0.04, _IRON, 0.2)
    pen.block([(-0.20, 5.0), (-0.30, 5.65), (0.30, 5.65), (0.20, 5.0)], "ffdf9a", 0.1, emission=0.9)
    pen.block([(-0.36, 5.65), (0, 6.0), (0.36, 5.65)], _IRON, 0.3)
    pen.glow(0, 5.3, 3.2, "ffc870", 0.9)


def signpost(pen: Pencil) -> None:
    pen.bar([(0, 0.0), (0.02, 3.4)], 0.09, _WOOD, 0.5)
    for y, s in ((2.9, 1), (2.35, -1)):
        board = pen.block([(-0.25 * s, y), (0.95 * s, y), (1.2 * s, y + 0.21), (0.95 * s, y + 0.42), (-0.25 * s, y + 0.42)], "b98a5c", 0.3)
        pen.lines([[(0.0, y + 0.2), (0.7 * s, y + 0.2)]], 0.025, "5a3c28", board)


def tent(pen: Pencil) -> None:
    pen.block([(-1.9, 0.0), (0, 2.9), (1.9, 0.0)], "c8b48a", 0.6)
    pen.block([(-0.55, 0.0), (0, 2.5), (0.55, 0.0)], "4a3f34", 0.2)
    pen.block([(-0.55, 0.0), (0, 2.5), (-0.75, 0.0), (-0.95, 0.0)], "d8c8a0", 0.3)


def puddle(pen: Pencil) -> None:
    pool = pen.blob(
        [(-0.95, 0.02), (-0.5, 0.16), (0.2, 0.14), (0.9, 0.06), (0.6, -0.12), (-0.2, -0.16), (-0.8, -0.10)],
        "8fb0c4",
        0.2,
        drop=0.0,
        emission=0.3,
    )
    pen.lines([[(-0.6, 0.05), (0.1, 0.07)], [(0.1, -0.06), (0.6, -0.03)]], 0.015, "e4eef2", pool)


def boat(pen: Pencil) -> None:
    pen.bar([(0.1, 0.6), (0.1, 3.6)], 0.06, _WOOD, 0.4)
    pen.blob([(0.16, 3.5), (1.25, 1.6), (1.2, 1.0), (0.16, 0.95)], "efe6d4", 0.5)
    pen.blob([(0.02, 3.2), (-0.75, 1.0), (0.02, 0.98)], "e4d8c0", 0.5)
    hull = pen.blob([(-1.65, 0.85), (-1.2, 0.12), (0.9, 0.05), (1.6, 0.75), (0.8, 0.62), (-0.8, 0.62)], "4f7a8a", 0.7)
    pen.lines([[(-1.5, 0.6), (0, 0.42), (1.4, 0.55)]], 0.05, "f0e4cf", hull)


def bicycle(pen: Pencil) -> None:
    for x in (-0.75, 0.75):
        pen.ring(x, 0.62, 0.56, 0.075, "34363a")
        for a in np.linspace(0, np.pi, 5, endpoint=False):
            pen.lines([[(x - 0.52 * np.cos(a), 0.62 - 0.52 * np.sin(a)), (x + 0.52 * np.cos(a), 0.62 + 0.52 * np.sin(a))]], 0.008, "a8aeb4")
    red = "a83a34"
    for a, b in (
        ((-0.75, 0.62), (-0.30, 1.35)),
        ((-0.30, 1.35), (0.55, 1.35)),
        ((0.55, 1.35), (0.0, 0.55)),
        ((-0.30, 1.35), (0.0, 0.55)),
        ((-0.75, 0.62), (0.0, 0.55)),
        ((0.75, 0.62), (0.50, 1.65)),
    ):
        pen.bar([a, b], 0.045, red, 0.3)
    pen.bar([(0.30, 1.72), (0.52, 1.68), (0.62, 1.52)], 0.04, "34363a", 0.2)
    pen.blob([(-0.55, 1.48), (-0.4, 1.58), (-0.1, 1.52), (-0.15, 1.44)], "3a2a22", 0.4)
    pen.ring(0.0, 0.55, 0.13, 0.05, "6a7078")


def cart(pen: Pencil) -> None:
    pen.bar([(0.9, 1.0), (2.0, 0.9)], 0.06, _WOOD)
    pen.box(-1.1, 0.85, 1.0, 1.6, _WOOD, 0.6)
    pen.lines([[(-1.05, y), (0.95, y)] for y in (1.1, 1.35)], 0.02, "5a3c28")
    for k in range(6):
        pen.ball(-0.8 + 0.32 * k, 1.68 + 0.06 * (k % 2), 0.26, 0.24, ("c8a04a", "b8873a")[k % 2], 0.5)
    pen.ring(-0.1, 0.65, 0.58, 0.13, "5a3c28")
    for a in np.linspace(0, np.pi, 5, endpoint=False):
        pen.bar([(-0.1 - 0.52 * np.cos(a), 0.65 - 0.52 * np.sin(a)), (-0.1 + 0.52 * np.cos(a), 0.65 + 0.52 * np.sin(a))], 0.035, _WOOD, 0.2)
    pen.ball(-0.1, 0.65, 0.12, 0.12, "5a3c28")


def car(pen: Pencil) -> None:
    paint = "a8443a"
    pen.blob([(-1.1, 1.1), (-0.85, 1.85), (0.55, 1.85), (1.0, 1.15)], rgb(paint) * 0.95, 0.6)
    for x0, x1, t0, t1 in ((-0.9, -0.15, -0.72, -0.15), (-0.02, 0.82, -0.02, 0.50)):
        pen.block([(x0, 1.18), (t0, 1.72), (t1, 1.72), (x1, 1.18)], "b4ccd8", 0.2)
    body = pen.blob([(-2.0, 0.35), (-2.0, 0.95), (-1.2, 1.2), (0.9, 1.2), (1.8, 1.02), (2.05, 0.6), (1.95, 0.32)], paint, 0.7)
    pen.lines([[(-0.1, 1.2), (-0.1, 0.4)], [(-1.9, 0.75), (1.9, 0.72)]], 0.02, "6f2a24", body)
    for x in (-1.2, 1.2):
        pen.ball(x, 0.38, 0.40, 0.40, "2f3034", 0.4)
        pen.ball(x, 0.38, 0.18, 0.18, "b4b8bc", 0.4)
    pen.ball(1.92, 0.82, 0.10, 0.12, "ffe6a8", 0.1, emission=0.6)


def pumpkin(pen: Pencil) -> None:
    pen.ball(0, 0.38, 0.52, 0.38, "d9762a", 0.8)
    for s in (-1, 1):
        pen.ball(s * 0.24, 0.38, 0.28, 0.37, rgb("d9762a") * (1.02 + 0.05 * s), 0.5, drop=0.1)
    pen.ball(0, 0.38, 0.22, 0.37, "e08a3a", 0.5, drop=0.1)
    pen.bar([(0, 0.72), (0.06, 0.92)], [0.06, 0.04], "5f6f34", 0.3)


def cactus(pen: Pencil) -> None:
    green = "5a8a55"
    trunk = pen.bar([(0, 0.0), (0, 1.4), (0, 2.6), (0, 2.75)], [0.28, 0.30, 0.28, 0.12], green, 0.8)
    for s, y in ((-1, 1.1), (1, 1.5)):
        pen.bar([(0.1 * s, y), (s * 0.75, y + 0.02), (s * 0.80, y + 0.95)], [0.16, 0.17, 0.13], green, 0.6)
    pen.lines([[(x, 2.7), (x, 0.0)] for x in (-0.14, 0.0, 0.14)], 0.015, "3f6a3f", trunk)


def hay(pen: Pencil) -> None:
    heap = pen.blob([(-1.2, 0.0), (-1.0, 0.9), (-0.3, 1.55), (0.4, 1.5), (1.0, 0.85), (1.25, 0.0)], "cfa850", 0.8)
    rng = np.random.default_rng(4)
    pen.lines(
        [[(x, y), (x + rng.uniform(-0.2, 0.2), y + 0.25)] for x, y in zip(rng.uniform(-1, 1, 60), rng.uniform(0, 1.3, 60), strict=True)],
        0.018,
        "8f6f2a",
        heap,
    )


def balloon(pen: Pencil) -> None:
    for s in (-1, 1):
        pen.lines([[(s * 0.22, 2.3), (s * 0.5, 2.95)]], 0.015, "5a4a3a")
    pen.block([(-0.26, 1.9), (-0.24, 2.35), (0.24, 2.35), (0.26, 1.9)], "8a5f3c", 0.5)
    ball = pen.blob([(-0.5, 2.9), (-1.15, 3.9), (-0.9, 4.8), (0, 5.15), (0.9, 4.8), (1.15, 3.9), (0.5, 2.9)], "c8523f", 0.8)
    for x in (-0.62, 0.0, 0.62):
        pen.patch(
            ball,
            [(x * 0.4, 2.8), (x - 0.16, 3.9), (x * 0.6, 5.2), (x * 0.6 + 0.1, 5.2), (x + 0.16, 3.9), (x * 0.4 + 0.06, 2.8)],
            "f0dcb0",
            0.9,
        )


OBJECTS: dict[str, DrawnObject] = {
    "tree": DrawnObject(tree, 3.8, 5.6, Part.FOLIAGE, "far"),
    "apple tree": DrawnObject(apple_tree, 3.8, 5.6, Part.FOLIAGE, "far"),
    "blossoming tree": DrawnObject(blossom_tree, 3.8, 5.6, Part.FOLIAGE, "far"),
    "autumn tree": DrawnObject(autumn_tree, 3.8, 5.6, Part.FOLIAGE, "far"),
    "bare tree": DrawnObject(bare_tree, 2.6, 5.4, Part.FOLIAGE, "far"),
    "pine": DrawnObject(pine, 2.8, 5.6, Part.FOLIAGE, "far"),
    "palm": DrawnObject(palm, 3.4, 5.0, Part.FOLIAGE, "far"),
    "bush": DrawnObject(bush, 2.2, 1.4, Part.FOLIAGE),
    "rose bush": DrawnObject(rose_bush, 2.2, 1.4, Part.FOLIAGE),
    "sunflowers": DrawnObject(sunflowers, 1.9, 3.3, Part.FOLIAGE),
    "mushrooms": DrawnObject(mushrooms, 1.6, 1.3, Part.FOLIAGE),
    "rock": DrawnObject(rock, 2.0, 1.2, Part.GROUND, seat=1.0, top=1.05),
    "fire": DrawnObject(fire, 1.3, 1.7, Part.LAMP),
    "gravestone": DrawnObject(gravestone, 1.3, 1.75, Part.STRUCTURE),
    "fence": DrawnObject(fence, 3.8, 1.5, Part.STRUCTURE, "far", seat=1.3),
    "wall": DrawnObject(wall, 4.4, 1.8, Part.STRUCTURE, "far", seat=1.7, top=1.7),
    "lamp post": DrawnObject(lamp_post, 0.8, 6.0, Part.LAMP, "far"),
    "signpost": DrawnObject(signpost, 2.3, 3.4, Part.STRUCTURE),
    "tent": DrawnObject(tent, 3.8, 2.9, Part.STRUCTURE, "far"),
    "puddle": DrawnObject(puddle, 1.9, 0.2, Part.WATER, "flat"),
    "boat": DrawnObject(boat, 3.3, 3.6, Part.STRUCTURE, "far"),
    "bicycle": DrawnObject(bicycle, 2.7, 1.8),
    "cart": DrawnObject(cart, 3.2, 2.0),
    "car": DrawnObject(car, 4.2, 1.9, Part.STRUCTURE, "far"),
    "pumpkin": DrawnObject(pumpkin, 1.1, 0.9),
    "cactus": DrawnObject(cactus, 1.9, 2.8, Part.FOLIAGE),
    "hay": DrawnObject(hay, 2.4, 1.6, seat=1.2, top=1.3),
    "hot-air balloon": DrawnObject(balloon, 2.3, 5.2, Part.STRUCTURE, "air"),
}
