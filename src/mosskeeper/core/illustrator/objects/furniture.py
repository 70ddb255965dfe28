"""Furniture and vessels: what stands in rooms, workshops and yards."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.objects.drawn_object import DrawnObject, Pencil
from mosskeeper.core.illustrator.vocabulary.colours import rgb

_WOOD, _PALE, _DARK, _IRON, _BRASS = "8a5f3c", "b98a5c", "5a3c28", "4a4c52", "c8a04a"


def table(pen: Pencil) -> None:
    for x, tone in ((-0.95, 0.8), (0.95, 0.8), (-1.12, 1.0), (1.12, 1.0)):
        pen.bar([(x, 1.95), (x, 0.0)], [0.085, 0.065], rgb(_WOOD) * tone)
    pen.box(-1.2, 1.78, 1.2, 1.98, rgb(_WOOD) * 0.85)
    top = pen.block([(-1.35, 1.96), (-1.20, 2.22), (1.20, 2.22), (1.35, 1.96), (1.35, 1.88), (-1.35, 1.88)], _PALE)
    pen.lines([[(-1.3, 2.02), (1.3, 2.02)], [(-1.24, 2.12), (1.24, 2.12)]], 0.012, _WOOD, top)


def chair(pen: Pencil) -> None:
    pen.bar([(-0.42, 0.95), (-0.46, 0.0)], 0.055, rgb(_WOOD) * 0.75)
    pen.bar([(0.34, 0.95), (0.38, 0.0)], 0.055, rgb(_WOOD) * 0.75)
    for x in (-0.44, 0.40):
        pen.bar([(x, 0.9), (x - 0.03, 2.35)], 0.055, _WOOD)
    for y in (1.45, 1.80, 2.20):
        pen.bar([(-0.45, y), (0.38, y)], 0.065 if y < 2 else 0.10, _WOOD, 0.3)
    pen.block([(-0.60, 1.02), (-0.45, 1.22), (0.42, 1.22), (0.56, 1.02), (0.56, 0.92), (-0.60, 0.92)], _PALE)
    for x in (-0.54, 0.50):
        pen.bar([(x, 0.95), (x, 0.0)], 0.06, _WOOD)
    pen.bar([(-0.54, 0.4), (0.50, 0.4)], 0.035, _WOOD, 0.2)


def stool(pen: Pencil) -> None:
    for x, foot in ((-0.20, -0.34), (0.20, 0.34), (0.0, 0.04)):
        pen.bar([(x, 1.0), (foot, 0.0)], 0.055, _WOOD)
    pen.blob([(-0.42, 1.0), (-0.30, 1.14), (0.30, 1.14), (0.42, 1.0), (0.30, 0.90), (-0.30, 0.90)], _PALE)


def bench(pen: Pencil) -> None:
    for x in (-1.15, 1.15):
        pen.bar([(x, 2.05), (x - 0.04, 1.0), (x, 0.0)], 0.07, _IRON)
        pen.bar([(x + 0.10 * np.sign(x), 0.95), (x + 0.16 * np.sign(x), 0.0)], 0.06, _IRON)
    for y in (1.35, 1.62, 1.90):
        pen.box(-1.35, y, 1.35, y + 0.17, _WOOD)
    for k, y in enumerate((0.98, 1.08)):
        pen.box(-1.38 - 0.04 * (1 - k), y - 0.06, 1.38 + 0.04 * (1 - k), y + 0.05, _PALE)


def throne(pen: Pencil) -> None:
    gold, red = "c89a3a", "8a2430"
    back = pen.blob([(-0.75, 0.2), (-0.78, 2.9), (-0.45, 3.5), (0, 3.95), (0.45, 3.5), (0.78, 2.9), (0.75, 0.2)], gold, 0.7)
    pen.lines([[(-0.6, 0.6), (-0.62, 2.9)], [(0.6, 0.6), (0.62, 2.9)]], 0.03, "8a6420", back)
    pen.blob([(-0.55, 1.2), (-0.56, 2.8), (0, 3.4), (0.56, 2.8), (0.55, 1.2)], red, 0.6)
    for x, y in ((-0.75, 3.0), (0.75, 3.0), (0, 3.98)):
        pen.ball(x, y, 0.14, 0.14, gold)
    pen.block([(-0.95, 0.5), (-0.85, 1.62), (0.85, 1.62), (0.95, 0.5)], red)
    for s in (-1, 1):
        pen.bar([(s * 0.95, 0.0), (s * 0.95, 2.1)], 0.13, gold)
        pen.bar([(s * 0.80, 2.1), (s * 1.08, 2.1)], 0.10, gold)
    pen.box(-1.2, 0.0, 1.2, 0.5, rgb(gold) * 0.75)
    pen.box(-1.4, 0.0, 1.4, 0.14, "6f6a66")


def bed(pen: Pencil) -> None:
    pen.block([(-1.75, 0.3), (-1.75, 2.0), (-1.55, 2.15), (-1.45, 2.0), (-1.45, 0.3)], _WOOD)
    pen.box(-1.6, 0.35, 1.6, 0.75, _WOOD)
    quilt = pen.blob(
        [(-1.5, 0.7), (-1.45, 1.15), (-0.4, 1.28), (0.8, 1.22), (1.55, 1.12), (1.62, 0.5), (0.2, 0.42), (-1.2, 0.5)], "7d93a8", 0.6
    )
    pen.lines([[(x, 1.3), (x + 0.08, 0.4)] for x in np.linspace(-1.0, 1.3, 6)], 0.02, "5f7488", quilt)
    pen.lines([[(-1.5, y), (1.6, y)] for y in (0.72, 0.98)], 0.02, "5f7488", quilt)
    pen.blob([(-1.42, 1.0), (-1.36, 1.45), (-0.75, 1.5), (-0.62, 1.15), (-0.9, 1.0)], "f0ebdf", 0.5)
    for x, top in ((-1.68, 0.4), (1.62, 1.5)):
        pen.bar([(x, 0.0), (x, top)], 0.08, _WOOD)


def sofa(pen: Pencil) -> None:
    cloth = "8a4f4a"
    back = pen.blob([(-1.5, 0.5), (-1.45, 1.8), (-0.7, 2.05), (0.7, 2.05), (1.45, 1.8), (1.5, 0.5)], cloth, 0.7)
    pen.lines([[(-0.5, 2.1), (-0.48, 1.0)], [(0.5, 2.1), (0.48, 1.0)]], 0.02, "5f322f", back)
    for x in (-0.62, 0.62):
        pen.blob([(x - 0.62, 0.75), (x - 0.60, 1.12), (x + 0.60, 1.12), (x + 0.62, 0.75)], rgb(cloth) * 1.12)
    pen.box(-1.5, 0.25, 1.5, 0.80, cloth)
    for s in (-1, 1):
        pen.blob([(s * 1.25, 0.2), (s * 1.22, 1.30), (s * 1.45, 1.48), (s * 1.72, 1.30), (s * 1.70, 0.2)], rgb(cloth) * 0.95)
        pen.bar([(s * 1.45, 0.22), (s * 1.45, 0.0)], 0.06, _DARK)


def barrel(pen: Pencil) -> None:
    body = pen.blob([(-0.45, 0.02), (-0.60, 0.70), (-0.46, 1.38), (0.46, 1.38), (0.60, 0.70), (0.45, 0.02)], _WOOD, 0.8)
    pen.lines([[(x, 1.38), (x * 1.25, 0.7), (x, 0.0)] for x in np.linspace(-0.36, 0.36, 6)], 0.012, _DARK, body)
    for y, w in ((0.28, 0.56), (1.10, 0.56)):
        pen.bar([(-w, y), (0, y - 0.05), (w, y)], 0.05, _IRON, 0.3)
    pen.ball(0, 1.38, 0.46, 0.10, _PALE, 0.3)


def crate(pen: Pencil) -> None:
    pen.box(-0.6, 0.0, 0.6, 1.0, _WOOD)
    for y in (0.04, 0.36, 0.68):
        pen.box(-0.6, y, 0.6, y + 0.28, _PALE, 0.3)
    for x in (-0.56, 0.46):
        pen.box(x, 0.0, x + 0.11, 1.0, _WOOD, 0.3)


def chest(pen: Pencil) -> None:
    pen.box(-0.75, 0.0, 0.75, 0.62, _WOOD)
    pen.blob([(-0.78, 0.60), (-0.70, 0.98), (0, 1.12), (0.70, 0.98), (0.78, 0.60)], rgb(_WOOD) * 1.1)
    for x in (-0.62, 0.62):
        pen.bar([(x, 0.0), (x, 0.62), (x * 0.94, 1.02)], 0.05, _BRASS, 0.2)
    pen.box(-0.78, 0.56, 0.78, 0.66, _BRASS, 0.2)
    pen.box(-0.11, 0.42, 0.11, 0.68, _BRASS, 0.3)
    pen.dot(0, 0.53, 0.035, _DARK)


def mirror(pen: Pencil) -> None:
    pen.bar([(-0.5, 0.0), (-0.3, 0.5)], 0.06, _DARK)
    pen.bar([(0.5, 0.0), (0.3, 0.5)], 0.06, _DARK)
    pen.blob([(-0.62, 0.4), (-0.66, 2.6), (-0.3, 3.2), (0, 3.3), (0.3, 3.2), (0.66, 2.6), (0.62, 0.4)], _BRASS, 0.6)
    glass = pen.blob([(-0.50, 0.55), (-0.53, 2.55), (-0.2, 3.05), (0, 3.1), (0.2, 3.05), (0.53, 2.55), (0.50, 0.55)], "b4c4cc", 0.3)
    pen.patch(glass, [(-0.4, 1.2), (0.1, 2.9), (0.3, 2.9), (-0.2, 1.0)], "e4ecee", 0.7, 1.0)


def bookshelf(pen: Pencil) -> None:
    pen.box(-1.1, 0.0, 1.1, 4.2, _DARK)
    rng = np.random.default_rng(5)
    for y in np.arange(0.15, 3.9, 0.8):
        x = -0.98
        while x < 0.86:
            w, h = rng.uniform(0.09, 0.17), rng.uniform(0.45, 0.64)
            pen.box(
                x,
                y,
                min(x + w, 0.98),
                y + h,
                ("8a3f3a", "3f5f7a", "c8a05a", "5f6f4a", "6a4a6a", "d8c8a8")[int(rng.integers(6))],
                0.2,
                drop=0.1,
            )
            x += w + 0.01
        pen.box(-1.04, y - 0.09, 1.04, y, _WOOD, 0.2)


def clock(pen: Pencil) -> None:
    pen.block(
        [(-0.45, 0.0), (-0.40, 2.6), (-0.52, 2.7), (-0.52, 3.7), (0, 4.05), (0.52, 3.7), (0.52, 2.7), (0.40, 2.6), (0.45, 0.0)], _WOOD
    )
    pen.box(-0.26, 0.5, 0.26, 2.3, "3a2a22", 0.2)
    pen.bar([(0.04, 2.2), (0.10, 1.0)], 0.018, _BRASS, 0.1)
    pen.ball(0.10, 0.95, 0.15, 0.15, _BRASS)
    pen.ball(0, 3.22, 0.38, 0.38, "f2ead8", 0.2)
    pen.lines([[(0, 3.22), (0.0, 3.50)], [(0, 3.22), (0.20, 3.12)]], 0.022, "2a2220")
    for a in np.linspace(0, 2 * np.pi, 12, endpoint=False):
        pen.dot(0.31 * float(np.cos(a)), 3.22 + 0.31 * float(np.sin(a)), 0.020, "2a2220")


def stove(pen: Pencil) -> None:
    pen.bar([(0.25, 1.6), (0.25, 4.2)], 0.13, _IRON)
    pen.box(-0.7, 0.18, 0.7, 1.62, _IRON, 0.6)
    pen.box(-0.8, 1.58, 0.8, 1.74, rgb(_IRON) * 0.8)
    for s in (-1, 1):
        pen.bar([(s * 0.6, 0.2), (s * 0.66, 0.0)], 0.07, rgb(_IRON) * 0.7)
    pen.box(-0.4, 0.5, 0.4, 1.15, "241a18", 0.1)
    pen.blob([(-0.30, 0.54), (-0.22, 0.85), (-0.06, 0.75), (0.06, 1.0), (0.22, 0.8), (0.30, 0.54)], "e8822a", 0.0, emission=0.9)
    pen.glow(0, 0.8, 2.2)


def cauldron(pen: Pencil) -> None:
    for x in (-0.34, 0.34):
        pen.bar([(x, 0.25), (x * 1.2, 0.0)], 0.07, _IRON)
    pot = pen.blob([(-0.55, 1.02), (-0.72, 0.62), (-0.52, 0.20), (0, 0.08), (0.52, 0.20), (0.72, 0.62), (0.55, 1.02)], "34363c", 0.8)
    pen.lines([[(-0.5, 0.85), (-0.6, 0.55), (-0.45, 0.3)]], 0.035, "5f636a", pot)
    pen.ball(0, 1.04, 0.60, 0.13, rgb("34363c") * 1.2, 0.3)
    pen.ball(0, 1.05, 0.50, 0.09, "6f9a3f", 0.2, emission=0.3)
    for x, y, r in ((-0.2, 1.12, 0.06), (0.15, 1.16, 0.08), (0.3, 1.08, 0.05)):
        pen.ball(x, y, r, r, "9ac45a", 0.2, alpha=0.85)
    for x in (-0.2, 0.1, 0.3):
        pen.bar(
            [(x, 1.25), (x + 0.10, 1.5), (x - 0.05, 1.8), (x + 0.08, 2.1)],
            [0.03, 0.07, 0.06, 0.01],
            "e8ece4",
            0.0,
            alpha=0.4,
            labelled=False,
        )


def easel(pen: Pencil) -> None:
    for a, b in (((-0.05, 3.6), (-0.75, 0.0)), ((0.05, 3.6), (0.75, 0.0)), ((0, 3.5), (0.1, 0.2))):
        pen.bar([a, b], 0.05, _WOOD)
    sheet = pen.box(-0.85, 1.45, 0.85, 3.15, "f4efe4", 0.2)
    pen.patch(sheet, [(-0.85, 1.4), (-0.85, 2.1), (0, 2.3), (0.9, 2.0), (0.9, 1.4)], "7a9a6a", 0.8, 2.0)
    pen.patch(sheet, [(0.2, 2.5), (0.4, 2.8), (0.6, 2.5), (0.4, 2.35)], "d9a04a", 0.8, 1.0)
    pen.box(-0.95, 1.32, 0.95, 1.46, _WOOD)


def candles(pen: Pencil) -> None:
    for x, h in ((-0.22, 0.55), (0.02, 0.85), (0.24, 0.42)):
        pen.box(x - 0.075, 0.0, x + 0.075, h, "efe6d0", 0.5)
        pen.blob([(x - 0.045, h + 0.05), (x, h + 0.26), (x + 0.045, h + 0.05), (x, h + 0.01)], "ffc24a", 0.0, emission=1.0, drop=0.0)
        pen.glow(x, h + 0.1, 1.3, strength=0.5)
    pen.ball(0, 0.0, 0.45, 0.06, _BRASS, 0.3)


def suitcase(pen: Pencil) -> None:
    pen.bar([(-0.16, 0.85), (-0.14, 1.0), (0.14, 1.0), (0.16, 0.85)], 0.035, _DARK, 0.2)
    case = pen.blob([(-0.62, 0.02), (-0.64, 0.86), (0.64, 0.86), (0.62, 0.02)], "9a6238", 0.6)
    pen.lines([[(-0.36, 0.9), (-0.36, 0)], [(0.36, 0.9), (0.36, 0)]], 0.06, _DARK, case)
    for x in (-0.36, 0.36):
        pen.box(x - 0.06, 0.5, x + 0.06, 0.62, _BRASS, 0.2)


def bucket(pen: Pencil) -> None:
    pen.bar([(-0.34, 0.66), (-0.2, 0.95), (0.2, 0.95), (0.34, 0.66)], 0.02, _IRON, 0.1)
    pen.blob([(-0.38, 0.68), (-0.27, 0.03), (0.27, 0.03), (0.38, 0.68)], "8a9298", 0.7)
    pen.ball(0, 0.68, 0.38, 0.08, "6f98a8", 0.3)


def bathtub(pen: Pencil) -> None:
    for x in (-0.9, 0.9):
        pen.ball(x, 0.12, 0.12, 0.14, _BRASS)
    pen.blob([(-1.35, 1.15), (-1.2, 0.45), (-0.7, 0.2), (0.7, 0.2), (1.2, 0.45), (1.4, 1.2), (0.8, 1.08), (-0.8, 1.08)], "eef0ee", 0.7)
    for k, (x, y) in enumerate(((-0.8, 1.15), (-0.45, 1.25), (-0.1, 1.2), (0.25, 1.28), (0.6, 1.18), (0.9, 1.2))):
        pen.ball(x, y, 0.20 + 0.03 * (k % 2), 0.15, "f8fafa", 0.3)


def flower_pot(pen: Pencil) -> None:
    for k, a in enumerate(np.linspace(-0.9, 0.9, 9)):
        tip = (float(np.sin(a)) * 0.6, 0.6 + float(np.cos(a)) * (0.55 + 0.1 * (k % 2)))
        pen.bar([(0, 0.5), (tip[0] * 0.5, tip[1] * 0.8), tip], [0.02, 0.05, 0.01], "5f8a4a", 0.3, drop=0.2)
        if k % 2 == 0:
            pen.ball(*tip, 0.09, 0.09, ("c8524a", "e0b04a", "d8d0e8")[k // 2 % 3], 0.3, drop=0.3)
    pen.blob([(-0.34, 0.55), (-0.25, 0.0), (0.25, 0.0), (0.34, 0.55)], "b0603c", 0.7)
    pen.box(-0.38, 0.48, 0.38, 0.62, rgb("b0603c") * 1.1, 0.3)


def wheelchair(pen: Pencil) -> None:
    pen.ring(-0.15, 0.75, 0.68, 0.10, "3a3c42")
    for a in np.linspace(0, np.pi, 6, endpoint=False):
        pen.lines(
            [[(-0.15 - 0.62 * np.cos(a), 0.75 - 0.62 * np.sin(a)), (-0.15 + 0.62 * np.cos(a), 0.75 + 0.62 * np.sin(a))]], 0.012, "8a9098"
        )
    pen.ring(0.70, 0.22, 0.18, 0.08, "3a3c42")
    pen.bar([(-0.55, 2.2), (-0.50, 1.1), (0.45, 1.05), (0.72, 0.3), (1.0, 0.2)], 0.05, "6a7078")
    pen.box(-0.58, 1.1, -0.42, 2.1, "4a5a7a")
    pen.box(-0.5, 1.0, 0.48, 1.16, "4a5a7a")
    pen.bar([(-0.5, 1.5), (0.35, 1.5)], 0.05, _DARK)


OBJECTS: dict[str, DrawnObject] = {
    "table": DrawnObject(table, 2.7, 2.25, top=2.15),
    "chair": DrawnObject(chair, 1.2, 2.4, Part.SEAT, seat=1.15, top=1.15),
    "stool": DrawnObject(stool, 0.9, 1.15, Part.SEAT, seat=1.05, top=1.1),
    "bench": DrawnObject(bench, 2.9, 2.1, Part.SEAT, seat=1.05, top=1.05),
    "throne": DrawnObject(throne, 2.8, 4.1, Part.SEAT, "far", seat=1.6),
    "bed": DrawnObject(bed, 3.5, 2.15, Part.SEAT, seat=1.15, top=1.15),
    "sofa": DrawnObject(sofa, 3.4, 2.1, Part.SEAT, seat=1.05, top=1.1),
    "barrel": DrawnObject(barrel, 1.2, 1.5, seat=1.38, top=1.38),
    "crate": DrawnObject(crate, 1.2, 1.0, seat=1.0, top=1.0),
    "chest": DrawnObject(chest, 1.6, 1.1, seat=1.05, top=1.0),
    "mirror": DrawnObject(mirror, 1.4, 3.3),
    "bookshelf": DrawnObject(bookshelf, 2.2, 4.2, stands="far"),
    "clock": DrawnObject(clock, 1.1, 4.1),
    "stove": DrawnObject(stove, 1.6, 4.2, top=1.7),
    "cauldron": DrawnObject(cauldron, 1.5, 2.0),
    "easel": DrawnObject(easel, 1.9, 3.6),
    "candles": DrawnObject(candles, 0.9, 1.1),
    "suitcase": DrawnObject(suitcase, 1.3, 1.0, seat=0.86, top=0.86),
    "bucket": DrawnObject(bucket, 0.8, 0.95),
    "bathtub": DrawnObject(bathtub, 2.8, 1.4),
    "flower pot": DrawnObject(flower_pot, 1.2, 1.3),
    "wheelchair": DrawnObject(wheelchair, 1.8, 2.2, Part.SEAT, seat=1.1),
}
