"""Further things that a hand holds: tools, weapons, instruments, food and toys.

Each is drawn with the closing hand at (0, 0), x to the side and y upwards, as for the left hand.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.figure import DrawnFigure
from mosskeeper.core.illustrator.objects.drawn_object import Pencil, Place
from mosskeeper.core.illustrator.shapes import Points

_WOOD, _DARK, _STEEL, _BRASS, _LEATHER, _PAPER = "8a5f3c", "4a3226", "b4bcc4", "c8a04a", "6b4630", "efe6d0"
_SLOT = 174.0


def _turned(places: list[Place], angle: float) -> list[Place]:
    c, s = float(np.cos(angle)), float(np.sin(angle))
    return [(x * c - y * s, x * s + y * c) for x, y in places]


def _blade(pen: Pencil, long: float, half: float, angle: float = -0.25, hilt: str = _BRASS) -> None:
    edge = pen.block(_turned([(-half, 0.12), (-half, long * 0.86), (0, long), (half, long * 0.86), (half, 0.12)], angle), _STEEL, 0.4)
    pen.lines([_turned([(0, 0.15), (0, long * 0.88)], angle)], 0.014, "e8eef2", edge)
    pen.bar(_turned([(-half * 3.4, 0.12), (half * 3.4, 0.12)], angle), 0.045, hilt, 0.3)
    pen.bar(_turned([(0, 0.10), (0, -0.20)], angle), 0.042, _LEATHER, 0.3)
    pen.ball(*_turned([(0, -0.24)], angle)[0], 0.06, 0.06, hilt)


def _staff(pen: Pencil, up: float, down: float, colour: str = _WOOD, half: float = 0.032) -> None:
    pen.bar([(0.06, -down), (0, 0), (-0.05, up)], half, colour, 0.4)


def sword(pen: Pencil) -> None:
    _blade(pen, 1.75, 0.075)


def dagger(pen: Pencil) -> None:
    _blade(pen, 0.75, 0.055)


def axe(pen: Pencil) -> None:
    _staff(pen, 0.85, 0.75)
    pen.blob([(-0.06, 0.84), (0.12, 0.86), (0.42, 1.05), (0.50, 0.70), (0.42, 0.40), (0.12, 0.58), (-0.06, 0.60)], _STEEL, 0.5)


def hammer(pen: Pencil) -> None:
    _staff(pen, 0.60, 0.30)
    pen.box(-0.26, 0.52, 0.20, 0.78, "5f646c", 0.6)


def spear(pen: Pencil) -> None:
    _staff(pen, 2.2, 1.6)
    pen.block([(-0.16, 2.15), (-0.06, 2.65), (0.05, 2.15), (-0.05, 2.05)], _STEEL, 0.4)


def trident(pen: Pencil) -> None:
    _staff(pen, 2.0, 1.6)
    pen.bar([(-0.30, 2.45), (-0.28, 2.05), (-0.05, 1.95), (0.18, 2.05), (0.20, 2.45)], [0.01, 0.035, 0.04, 0.035, 0.01], _BRASS, 0.3)
    pen.bar([(-0.05, 1.9), (-0.06, 2.55)], [0.04, 0.01], _BRASS, 0.3)


def scythe(pen: Pencil) -> None:
    _staff(pen, 1.5, 1.7)
    pen.bar([(-0.05, 1.48), (0.45, 1.58), (0.95, 1.30)], [0.06, 0.09, 0.01], _STEEL, 0.4)


def pitchfork(pen: Pencil) -> None:
    _staff(pen, 1.5, 1.6)
    for x in (-0.20, -0.05, 0.10):
        pen.bar([(-0.05, 1.45), (x, 1.62), (x, 2.05)], [0.03, 0.028, 0.01], "5f646c", 0.3)


def shovel(pen: Pencil) -> None:
    _staff(pen, 0.9, 1.2)
    pen.blob([(-0.10, -1.15), (0.24, -1.12), (0.22, -1.55), (0.08, -1.72), (-0.10, -1.55)], "6f757d", 0.6)
    pen.bar([(-0.16, 0.92), (0.06, 0.92)], 0.04, _WOOD, 0.3)


def pickaxe(pen: Pencil) -> None:
    _staff(pen, 0.9, 0.8)
    pen.bar([(-0.60, 0.72), (-0.05, 0.98), (0.50, 0.76)], [0.01, 0.075, 0.01], "5f646c", 0.5)


def oar(pen: Pencil) -> None:
    _staff(pen, 1.2, 1.2)
    pen.blob([(-0.18, 1.15), (-0.20, 1.95), (-0.05, 2.05), (0.08, 1.95), (0.08, 1.15)], "a97a4c", 0.4)


def shield(pen: Pencil) -> None:
    board = pen.blob(
        [(-0.55, 0.62), (0, 0.74), (0.55, 0.62), (0.52, -0.10), (0.28, -0.62), (0, -0.80), (-0.28, -0.62), (-0.52, -0.10)], "8a3238", 0.7
    )
    pen.patch(board, [(0, 0.8), (0.6, 0.7), (0.55, -0.1), (0, -0.05)], "d8c8a0", 0.9)
    pen.patch(board, [(-0.55, -0.05), (0, 0.0), (0, -0.85), (-0.35, -0.6)], "d8c8a0", 0.9)
    pen.ball(0, 0.0, 0.14, 0.14, _BRASS, 0.5)


def bow(pen: Pencil) -> None:
    pen.lines([[(0.10, 1.05), (0.08, 0.0), (0.10, -1.05)]], 0.010, "efe8da")
    pen.bar([(0.10, 1.08), (-0.16, 0.55), (-0.02, 0.0), (-0.16, -0.55), (0.10, -1.08)], [0.02, 0.04, 0.05, 0.04, 0.02], _WOOD, 0.4)


def wand(pen: Pencil) -> None:
    pen.bar([(0.05, -0.12), (-0.28, 0.72)], [0.035, 0.018], _DARK, 0.3)
    for a in np.linspace(0, 2 * np.pi, 5, endpoint=False):
        pen.bar(
            [(-0.30, 0.80), (-0.30 + 0.16 * np.cos(a + 0.3), 0.80 + 0.16 * np.sin(a + 0.3))],
            [0.05, 0.005],
            "ffe8a0",
            0.0,
            emission=0.95,
            drop=0.0,
        )
    pen.glow(-0.30, 0.80, 1.2, "ffe8b0", 0.7)


def torch(pen: Pencil) -> None:
    pen.bar([(0.05, -0.45), (0, 0.0), (-0.05, 0.62)], [0.04, 0.05, 0.075], _DARK, 0.4)
    for colour, k in (("d9581f", 1.0), ("f0a03a", 0.7), ("ffe08a", 0.4)):
        pen.blob(
            [
                (-0.05 - 0.16 * k, 0.66),
                (-0.05 - 0.18 * k, 0.66 + 0.22 * k),
                (-0.10, 0.66 + 0.58 * k),
                (-0.05 + 0.18 * k, 0.66 + 0.22 * k),
                (-0.05 + 0.14 * k, 0.62),
            ],
            colour,
            0.0,
            emission=1.0,
            drop=0.0,
            line=0.2,
        )
    pen.glow(-0.05, 0.9, 2.6)


def candle(pen: Pencil) -> None:
    pen.ball(0, -0.05, 0.20, 0.06, _BRASS, 0.3)
    pen.box(-0.07, -0.02, 0.07, 0.42, "f0e8d4", 0.5)
    pen.blob([(-0.045, 0.46), (0.0, 0.68), (0.045, 0.46), (0, 0.42)], "ffc85a", 0.0, emission=1.0, drop=0.0)
    pen.glow(0, 0.55, 1.6)


def violin(pen: Pencil) -> None:
    pen.bar([(0.05, 0.15), (-0.36, 0.86)], 0.035, _DARK, 0.3)
    body = pen.blob(
        _turned([(-0.16, 0.22), (-0.11, 0.04), (-0.20, -0.24), (0, -0.36), (0.20, -0.24), (0.11, 0.04), (0.16, 0.22), (0, 0.30)], 0.5),
        "9a4f24",
        0.7,
    )
    pen.lines([_turned([(x, -0.2), (x, 0.3)], 0.5) for x in (-0.03, 0.03)], 0.008, "e8d8b0", body)
    pen.bar([(-0.62, -0.12), (0.60, 0.16)], 0.016, "d8c090", 0.2)


def guitar(pen: Pencil) -> None:
    pen.bar([(-0.05, 0.05), (-0.85, 0.72)], 0.055, _DARK, 0.3)
    pen.box(-0.98, 0.68, -0.80, 0.88, _DARK, 0.3)
    body = pen.blob(
        _turned([(-0.24, 0.30), (-0.17, 0.05), (-0.34, -0.28), (0, -0.52), (0.34, -0.28), (0.17, 0.05), (0.24, 0.30), (0, 0.38)], 0.85),
        "b8783a",
        0.7,
    )
    pen.dot(0.02, -0.02, 0.11, "3a241a")
    pen.lines([_turned([(x, -0.4), (x, 0.4)], 0.85) for x in (-0.04, 0.0, 0.04)], 0.007, "efe2c4", body)


def flute(pen: Pencil) -> None:
    pen.bar([(-0.62, 0.16), (0.40, -0.06)], 0.035, "c8b07a", 0.4)
    for x in (-0.4, -0.25, -0.1, 0.05):
        pen.dot(x, 0.13 - 0.21 * (x + 0.5), 0.016, _DARK)


def drum(pen: Pencil) -> None:
    body = pen.blob([(-0.40, 0.20), (-0.38, -0.40), (0, -0.48), (0.38, -0.40), (0.40, 0.20)], "a83a34", 0.7)
    pen.lines([[(x, 0.2), (x + 0.12, -0.45), (x + 0.24, 0.2)] for x in (-0.44, -0.2, 0.04, 0.28)], 0.018, "efe2c4", body)
    pen.ball(0, 0.20, 0.40, 0.11, "efe6d4", 0.3)


def apple(pen: Pencil) -> None:
    pen.blob([(-0.15, 0.10), (-0.08, 0.24), (0, 0.20), (0.08, 0.24), (0.15, 0.10), (0.08, -0.06), (-0.08, -0.06)], "c8382f", 0.7)
    pen.bar([(0, 0.20), (0.02, 0.30)], 0.012, _DARK, 0.1)
    pen.blob([(0.02, 0.26), (0.10, 0.32), (0.16, 0.27)], "6f9a3f", 0.2)


def orange(pen: Pencil) -> None:
    pen.ball(0.02, 0.14, 0.17, 0.17, "e8902a", 0.7)


def bread(pen: Pencil) -> None:
    loaf = pen.blob([(-0.42, 0.0), (-0.34, 0.20), (0, 0.26), (0.34, 0.20), (0.42, 0.0), (0.30, -0.10), (-0.30, -0.10)], "c08a4a", 0.7)
    pen.lines([[(x, 0.22), (x + 0.10, 0.02)] for x in (-0.24, -0.06, 0.12)], 0.025, "e8c88a", loaf)


def cake(pen: Pencil) -> None:
    pen.ball(0, -0.06, 0.42, 0.07, "d8dce0", 0.3)
    pen.blob([(-0.32, -0.04), (-0.32, 0.26), (0, 0.30), (0.32, 0.26), (0.32, -0.04)], "e8c4a0", 0.5)
    pen.blob(
        [(-0.34, 0.22), (-0.20, 0.12), (-0.06, 0.20), (0.08, 0.11), (0.22, 0.19), (0.34, 0.22), (0.2, 0.34), (-0.2, 0.34)], "e8a0b0", 0.4
    )
    for x in (-0.16, 0.0, 0.16):
        pen.box(x - 0.02, 0.32, x + 0.02, 0.48, "8fb4d8", 0.2)
        pen.dot(x, 0.52, 0.03, "ffc85a", 0.045, emission=1.0)


def ice_cream(pen: Pencil) -> None:
    pen.block([(-0.12, 0.20), (0.12, 0.20), (0.0, -0.22)], "d8a860", 0.4)
    pen.ball(-0.06, 0.28, 0.12, 0.11, "f4d8dc", 0.5)
    pen.ball(0.07, 0.30, 0.11, 0.11, "8a5a3c", 0.5)


def ball(pen: Pencil) -> None:
    pen.ball(0, 0.16, 0.30, 0.30, "c83a34", 0.7)
    pen.bar([(-0.28, 0.10), (0, 0.20), (0.28, 0.10)], 0.05, "f2e8d8", 0.3, drop=0.0)


def balloons(pen: Pencil) -> None:
    for x, y, colour in ((-0.35, 1.5, "c83a34"), (0.30, 1.6, "e0b03a"), (-0.02, 1.95, "4f8ab8")):
        pen.lines([[(0, 0), (x * 0.6, y * 0.5), (x, y - 0.30)]], 0.010, "6a6460")
        pen.blob([(x, y - 0.32), (x - 0.26, y - 0.02), (x - 0.16, y + 0.30), (x + 0.16, y + 0.30), (x + 0.26, y - 0.02)], colour, 0.7)


def teddy(pen: Pencil) -> None:
    fur = "b0824f"
    for s in (-1, 1):
        pen.ball(s * 0.15, -0.30, 0.10, 0.12, fur, 0.5)
        pen.bar([(s * 0.12, 0.05), (s * 0.30, -0.10)], [0.08, 0.075], fur, 0.4)
        pen.ball(s * 0.15, 0.46, 0.08, 0.08, fur, 0.4)
    pen.ball(0, -0.08, 0.22, 0.25, fur, 0.6)
    pen.ball(0, 0.30, 0.21, 0.19, fur, 0.6)
    pen.ball(0, 0.25, 0.09, 0.07, "e0c498", 0.3)
    for x in (-0.08, 0.08):
        pen.dot(x, 0.34, 0.022, "201818")
    pen.dot(0, 0.28, 0.026, "201818")


def doll(pen: Pencil) -> None:
    pen.block([(-0.22, -0.35), (-0.08, 0.12), (0.08, 0.12), (0.22, -0.35)], "a84a5a", 0.5)
    for s in (-1, 1):
        pen.bar([(s * 0.07, 0.06), (s * 0.24, -0.08)], 0.035, "e8c4a0", 0.3)
    pen.ball(0, 0.26, 0.18, 0.18, "c8782f", 0.5)
    pen.ball(0, 0.23, 0.14, 0.14, "efd0b0", 0.4)
    for x in (-0.05, 0.05):
        pen.dot(x, 0.25, 0.018, "201818")


def rose(pen: Pencil) -> None:
    pen.bar([(0.02, -0.35), (0, 0.0), (-0.03, 0.42)], 0.016, "4f7a3a", 0.2)
    for s in (-1, 1):
        pen.blob([(0, 0.15), (s * 0.13, 0.25), (s * 0.18, 0.14)], "5f8a45", 0.3)
    bloom = pen.blob([(-0.14, 0.48), (-0.09, 0.62), (0.03, 0.64), (0.10, 0.54), (0.05, 0.40), (-0.09, 0.39)], "c0283a", 0.6)
    pen.lines([[(-0.08, 0.55), (-0.01, 0.50), (0.05, 0.56)], [(-0.06, 0.46), (0.02, 0.46)]], 0.018, "7a1424", bloom)


def fan(pen: Pencil) -> None:
    arc = [(0.62 * np.sin(a), 0.62 * np.cos(a)) for a in np.linspace(-1.0, 1.0, 13)]
    leaf = pen.block([(0, -0.05), *arc], "b84a5a", 0.5)
    pen.lines([[(0, 0), (0.6 * np.sin(a), 0.6 * np.cos(a))] for a in np.linspace(-0.95, 0.95, 9)], 0.012, "efd8b0", leaf)


def hand_mirror(pen: Pencil) -> None:
    pen.bar([(0, -0.25), (0, 0.20)], 0.04, _BRASS, 0.3)
    pen.ball(0, 0.44, 0.25, 0.29, _BRASS, 0.5)
    pen.ball(0, 0.44, 0.19, 0.23, "c4d4dc", 0.3)


def paintbrush(pen: Pencil) -> None:
    pen.bar([(0.10, -0.40), (0, 0.0), (-0.14, 0.45)], [0.018, 0.028, 0.022], _WOOD, 0.3)
    pen.bar([(-0.14, 0.44), (-0.18, 0.58)], 0.035, _STEEL, 0.2)
    pen.blob([(-0.22, 0.58), (-0.24, 0.72), (-0.24, 0.82), (-0.16, 0.72), (-0.14, 0.58)], "3f6fa8", 0.3)


def quill(pen: Pencil) -> None:
    pen.bar([(0.06, -0.16), (-0.05, 0.20), (-0.26, 0.68)], [0.01, 0.03, 0.01], "efe8da", 0.2)
    pen.blob([(-0.03, 0.12), (-0.22, 0.38), (-0.34, 0.76), (-0.14, 0.60), (-0.02, 0.30)], "e4ddd0", 0.5)


def scroll(pen: Pencil) -> None:
    sheet = pen.box(-0.24, -0.45, 0.24, 0.40, _PAPER, 0.3)
    pen.lines([[(-0.17, y), (0.17, y)] for y in (0.25, 0.12, -0.01, -0.14, -0.27)], 0.014, "8a7a60", sheet)
    for y in (0.42, -0.47):
        pen.bar([(-0.28, y), (0.28, y)], 0.055, "d8c8a0", 0.5)


def newspaper(pen: Pencil) -> None:
    sheet = pen.box(-0.45, -0.35, 0.45, 0.40, "e8e4da", 0.3)
    pen.lines([[(-0.38, 0.28), (0.38, 0.28)]], 0.05, "3a3a3c", sheet)
    pen.lines([[(x, y), (x + 0.30, y)] for x in (-0.38, 0.06) for y in (0.14, 0.05, -0.04, -0.13, -0.22)], 0.012, "7a7a78", sheet)
    pen.lines([[(0, 0.4), (0, -0.35)]], 0.012, "b4b0a4", sheet)


def sack(pen: Pencil) -> None:
    pen.blob([(-0.10, 0.05), (-0.36, -0.35), (-0.34, -0.78), (0, -0.90), (0.34, -0.78), (0.36, -0.35), (0.10, 0.05)], "b0946a", 0.7)
    pen.blob([(-0.10, 0.02), (-0.18, 0.20), (0, 0.14), (0.18, 0.20), (0.10, 0.02)], "a0845c", 0.4)
    pen.bar([(-0.12, 0.02), (0.12, 0.02)], 0.03, _DARK, 0.2)


def telescope(pen: Pencil) -> None:
    for (x0, y0), (x1, y1), w in (
        ((0.10, -0.10), (-0.15, 0.18), 0.055),
        ((-0.12, 0.15), (-0.36, 0.42), 0.075),
        ((-0.33, 0.39), (-0.56, 0.64), 0.095),
    ):
        pen.bar([(x0, y0), (x1, y1)], w, _BRASS, 0.5)
    pen.bar([(-0.53, 0.61), (-0.58, 0.66)], 0.11, _DARK, 0.3)


def magnifier(pen: Pencil) -> None:
    pen.bar([(0.10, -0.22), (-0.05, 0.18)], 0.045, _DARK, 0.3)
    pen.ball(-0.14, 0.40, 0.25, 0.25, "cfe0e6", 0.2, alpha=0.75)
    pen.ring(-0.14, 0.40, 0.25, 0.06, _BRASS)


def wrench(pen: Pencil) -> None:
    pen.bar([(0.10, -0.35), (-0.12, 0.50)], 0.05, _STEEL, 0.4)
    pen.bar([(-0.30, 0.80), (-0.26, 0.56), (-0.10, 0.50), (0.03, 0.64), (0.01, 0.84)], [0.03, 0.06, 0.07, 0.06, 0.03], _STEEL, 0.4)


def cane(pen: Pencil) -> None:
    pen.bar([(-0.16, 0.10), (-0.08, 0.22), (0.04, 0.12), (0.04, -0.60), (0.08, -1.75)], [0.035, 0.038, 0.036, 0.032, 0.03], _DARK, 0.3)


def crutch(pen: Pencil) -> None:
    pen.bar([(-0.12, 1.1), (0, 0.0), (0.02, -1.7)], 0.035, _WOOD, 0.3)
    pen.bar([(0.12, 1.1), (0.06, 0.0), (0.02, -1.0)], 0.035, _WOOD, 0.3)
    pen.bar([(-0.18, 1.12), (0.18, 1.12)], 0.06, _LEATHER, 0.4)


def flag(pen: Pencil) -> None:
    _staff(pen, 2.1, 0.8, half=0.028)
    cloth = pen.blob(
        [(-0.04, 2.05), (0.40, 2.12), (0.80, 1.98), (1.05, 2.02), (1.0, 1.42), (0.75, 1.38), (0.40, 1.52), (-0.02, 1.42)], "b8343a", 0.5
    )
    pen.patch(cloth, [(-0.04, 1.86), (1.05, 1.84), (1.05, 1.62), (-0.04, 1.64)], "f0e8d8", 0.95)


def bottle(pen: Pencil) -> None:
    pen.blob(
        [(-0.05, 0.50), (-0.05, 0.28), (-0.13, 0.14), (-0.13, -0.28), (0.13, -0.28), (0.13, 0.14), (0.05, 0.28), (0.05, 0.50)],
        "3f6a4a",
        0.7,
    )
    pen.box(-0.11, -0.16, 0.11, 0.06, _PAPER, 0.2)
    pen.box(-0.05, 0.48, 0.05, 0.57, "a8845c", 0.2)


def potion(pen: Pencil) -> None:
    pen.blob(
        [(-0.06, 0.42), (-0.06, 0.22), (-0.22, 0.02), (-0.18, -0.20), (0.18, -0.20), (0.22, 0.02), (0.06, 0.22), (0.06, 0.42)],
        "cfe0da",
        0.5,
        alpha=0.85,
    )
    pen.blob([(-0.21, 0.03), (-0.17, -0.18), (0.17, -0.18), (0.21, 0.03)], "8a4fb8", 0.4, emission=0.3)
    pen.box(-0.06, 0.40, 0.06, 0.50, "a8845c", 0.2)


def crystal_ball(pen: Pencil) -> None:
    pen.blob([(-0.22, -0.10), (-0.14, 0.04), (0.14, 0.04), (0.22, -0.10)], _BRASS, 0.4)
    globe = pen.ball(0, 0.26, 0.28, 0.28, "8f9fd8", 0.5, emission=0.25)
    pen.patch(globe, [(-0.15, 0.30), (-0.05, 0.45), (0.05, 0.40), (-0.05, 0.28)], "f0f4ff", 0.8, 1.0)
    pen.glow(0, 0.26, 1.2, "b0b8ff", 0.5)


def skull(pen: Pencil) -> None:
    pen.blob(
        [(-0.22, 0.16), (-0.14, 0.36), (0.10, 0.38), (0.22, 0.18), (0.15, 0.0), (0.12, -0.16), (-0.10, -0.16), (-0.13, 0.0)], "e8e0cc", 0.6
    )
    for x in (-0.08, 0.10):
        pen.dot(x, 0.12, 0.055, "3a302a", 0.065)
    pen.dot(0.01, 0.0, 0.022, "3a302a", 0.035)
    pen.lines([[(x, -0.08), (x, -0.16)] for x in (-0.05, 0.0, 0.05)], 0.012, "6a5f52")


def camera(pen: Pencil) -> None:
    pen.box(-0.10, 0.22, 0.12, 0.34, "2f3034", 0.3)
    pen.box(-0.30, -0.12, 0.30, 0.24, "3a3c42", 0.5)
    pen.ball(0, 0.06, 0.16, 0.16, "1f2024", 0.4)
    pen.ball(0, 0.06, 0.09, 0.09, "6f8fa8", 0.4)
    pen.dot(0.21, 0.16, 0.03, "d8b060")


def phone(pen: Pencil) -> None:
    pen.box(-0.12, -0.18, 0.12, 0.34, "2a2c32", 0.3)
    pen.box(-0.09, -0.12, 0.09, 0.29, "9fc4d8", 0.1, emission=0.4)


def hourglass(pen: Pencil) -> None:
    for y in (-0.28, 0.40):
        pen.box(-0.20, y - 0.04, 0.20, y + 0.04, _WOOD, 0.3)
    pen.block([(-0.15, 0.36), (0.15, 0.36), (0.02, 0.06), (0.15, -0.24), (-0.15, -0.24), (-0.02, 0.06)], "d8e4e6", 0.3, alpha=0.85)
    pen.block([(-0.13, -0.22), (0.13, -0.22), (0.0, -0.06)], "d8b060", 0.3)
    pen.block([(-0.08, 0.22), (0.08, 0.22), (0.0, 0.08)], "d8b060", 0.3)


def tray(pen: Pencil) -> None:
    for x, colour in ((-0.32, "c08a4a"), (0.0, "d09a58"), (0.32, "b87f40")):
        pen.ball(x, 0.16, 0.17, 0.13, colour, 0.6)
    pen.ball(0, 0.03, 0.62, 0.10, "8a9098", 0.4)


def rod(pen: Pencil) -> None:
    pen.bar([(0.18, -0.5), (0, 0.0), (-0.75, 1.9)], [0.03, 0.025, 0.008], _WOOD, 0.2)
    pen.lines([[(-0.75, 1.9), (-0.95, 1.0), (-0.92, 0.2)]], 0.006, "e8e4da")
    pen.ball(-0.92, 0.16, 0.05, 0.07, "c83a34", 0.3)


def rope(pen: Pencil) -> None:
    for k in range(3):
        pen.ring(0.02 * k, -0.26 - 0.03 * k, 0.24, 0.055, "c8a870", 1.25)


def bell(pen: Pencil) -> None:
    pen.bar([(0, -0.05), (0, 0.10)], 0.04, _WOOD, 0.3)
    pen.blob([(-0.06, -0.05), (-0.14, -0.25), (-0.24, -0.42), (0.24, -0.42), (0.14, -0.25), (0.06, -0.05)], _BRASS, 0.7)
    pen.ball(0, -0.45, 0.05, 0.05, _DARK, 0.3)


def coins(pen: Pencil) -> None:
    for x, y in ((-0.14, 0.0), (0.12, 0.02), (-0.02, 0.10), (0.02, -0.03), (0.16, 0.12)):
        pen.ball(x, y, 0.10, 0.06, "e0b43a", 0.5)


def cards(pen: Pencil) -> None:
    for k, a in enumerate((0.5, 0.2, -0.1, -0.4)):
        pen.block(_turned([(-0.13, 0.0), (-0.13, 0.42), (0.13, 0.42), (0.13, 0.0)], a), "f2ece0", 0.3)
        pen.dot(*_turned([(0, 0.22)], a)[0], 0.04, ("c8323a", "2a2a2c")[k % 2])


def briefcase(pen: Pencil) -> None:
    pen.bar([(-0.12, -0.10), (-0.10, 0.02), (0.10, 0.02), (0.12, -0.10)], 0.03, _DARK, 0.2)
    pen.box(-0.48, -0.75, 0.48, -0.10, "6b4228", 0.6)
    pen.box(-0.48, -0.34, 0.48, -0.29, "4a2c1c", 0.2)
    pen.box(-0.07, -0.38, 0.07, -0.26, _BRASS, 0.2)


def smoking_pipe(pen: Pencil) -> None:
    pen.bar([(-0.30, 0.18), (-0.05, 0.05), (0.14, 0.02)], [0.018, 0.022, 0.03], _DARK, 0.2)
    pen.blob([(0.08, 0.00), (0.08, 0.18), (0.24, 0.18), (0.22, -0.02)], "6b3f24", 0.5)
    for k in range(3):
        pen.ball(0.16 + 0.06 * k, 0.32 + 0.18 * k, 0.06 + 0.02 * k, 0.06, "e4e4e0", 0.0, alpha=0.4, labelled=False)


def lute(pen: Pencil) -> None:
    pen.bar([(-0.05, 0.05), (-0.70, 0.60)], 0.05, _DARK, 0.3)
    pen.bar([(-0.70, 0.58), (-0.66, 0.80)], 0.045, _DARK, 0.3)
    pen.blob(
        _turned([(-0.05, 0.42), (-0.30, 0.0), (-0.26, -0.32), (0, -0.44), (0.26, -0.32), (0.30, 0.0), (0.05, 0.42)], 0.85), "c08a4a", 0.7
    )
    pen.dot(0.04, -0.04, 0.10, "4a2c1c")


def bone(pen: Pencil) -> None:
    pen.bar([(-0.28, 0.02), (0.28, 0.06)], 0.055, "ece4d0", 0.4)
    for x, y in ((-0.32, 0.07), (-0.32, -0.03), (0.32, 0.11), (0.32, 0.01)):
        pen.ball(x, y, 0.075, 0.07, "ece4d0", 0.3)


def egg(pen: Pencil) -> None:
    pen.ball(0.02, 0.18, 0.14, 0.18, "efe4d0", 0.6)


def wreath(pen: Pencil) -> None:
    pen.ring(0, -0.30, 0.34, 0.14, "4f7a45")
    for a in np.linspace(0, 2 * np.pi, 9, endpoint=False):
        pen.ball(0.34 * float(np.cos(a)), -0.30 + 0.34 * float(np.sin(a)), 0.06, 0.06, "c8384a", 0.3)


_DRAWINGS: dict[str, Callable[[Pencil], None]] = {
    "sword": sword, "dagger": dagger, "axe": axe, "hammer": hammer, "spear": spear, "trident": trident, "scythe": scythe,
    "pitchfork": pitchfork, "shovel": shovel, "pickaxe": pickaxe, "oar": oar, "shield": shield, "bow": bow, "wand": wand, "torch": torch,
    "candle": candle, "violin": violin, "guitar": guitar, "lute": lute, "flute": flute, "drum": drum, "apple": apple, "orange": orange,
    "bread": bread, "cake": cake, "ice cream": ice_cream, "ball": ball, "balloons": balloons, "teddy bear": teddy, "doll": doll, "rose": rose,
    "fan": fan, "hand mirror": hand_mirror, "paintbrush": paintbrush, "quill": quill, "scroll": scroll, "newspaper": newspaper, "sack": sack,
    "telescope": telescope, "magnifying glass": magnifier, "wrench": wrench, "cane": cane, "crutch": crutch, "flag": flag, "bottle": bottle,
    "potion": potion, "crystal ball": crystal_ball, "skull": skull, "camera": camera, "phone": phone, "hourglass": hourglass, "tray": tray,
    "fishing rod": rod, "rope": rope, "hand bell": bell, "coins": coins, "cards": cards, "briefcase": briefcase, "pipe": smoking_pipe,
    "bone": bone, "egg": egg, "wreath": wreath,
}  # fmt: skip
HEADROOM = {
    "spear": 0.9,
    "trident": 0.8,
    "flag": 0.5,
    "balloons": 0.4,
    "scythe": 0.3,
    "fishing rod": 0.4,
    "pitchfork": 0.3,
}  # as in `props`


def _in_hand(drawing: Callable[[Pencil], None]) -> Callable[[DrawnFigure, Points], None]:
    return lambda f, grip: drawing(Pencil(f, Part.PROP, grip, _SLOT))


HELD: dict[str, Callable[[DrawnFigure, Points], None]] = {name: _in_hand(drawing) for name, drawing in _DRAWINGS.items()}
