"""Hair styles seen from in front: each a function from a figure's turn to locks in head coordinates.

A new style is one function and one line in `STYLES`, and one entry in `profile_hair`.
"""

from __future__ import annotations

import itertools

import numpy as np

from mosskeeper.core.illustrator import profile_hair
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.figure import DrawnFigure
from mosskeeper.core.illustrator.hair_more import MORE_CROWNS, MORE_SIDES, MORE_STYLES
from mosskeeper.core.illustrator.locks import NAPE, Hair, HairLayer, Style, cap, combed, curl, lock, plait, stubble
from mosskeeper.core.illustrator.shapes import (
    Points,
    ellipse,
    intersect,
    points,
    spline,
    taper,
    to_path,
    wobble,
)
from mosskeeper.core.illustrator.vocabulary.colours import Rgb
from mosskeeper.core.illustrator.vocabulary.outfits import covers_shoulders


def build(f: DrawnFigure) -> Hair:
    """The figure's hair in figure coordinates."""
    local = profile_hair.build(f, MORE_SIDES) if f.profile else STYLES[f.is_.hair](f.turn, f.rng)
    with f.stretched(f.is_.hair_size, 0.42, -0.35):
        for layer, hold in ((local.back, 0.15), (local.crown, 9.0), (local.front, 0.12), (local.over, 0.3)):
            place = f.on_side if f.profile else f.on_head
            layer.outlines = [place(_moved(f, p, hold)) for p in layer.outlines]
            # thumbnails have no strands
            layer.strands = [(place(_moved(f, p, hold)), w) for p, w in layer.strands] if f.detailed else []
    return local


def _moved(f: DrawnFigure, p: Points, held_to: float) -> Points:
    """Hair that hangs below where the head holds it follows the wind; a nodding head shows more or less of its crown."""
    if f.nod and not f.profile:
        p = p + (0, 1) * (f.nod * 0.055 * np.clip(1 - np.abs(p[:, 1:] + 0.25) / 0.55, 0, 1))
    if not f.wind:
        return p
    mirror = (f.profile or 1, 1)  # a head in profile has its own direction
    return f.blown(p * mirror, held_to, 0.42) * mirror


def hood_inside(f: DrawnFigure) -> Points:
    """What hair may show of itself under a hood."""
    if f.profile:
        return f.on_side(spline([(-0.02, 0.5), (-0.06, 0.1), (-0.02, -0.40), (0.2, -0.62), (0.6, -0.5), (0.6, 0.5)]))
    return f.on_head(
        spline(
            [
                (-0.50, 0.1),
                (-0.46, 0.42),
                (-0.2, 0.52),
                (0.2, 0.52),
                (0.46, 0.42),
                (0.50, 0.1),
                (0.50, -0.3),
                (0.2, -0.6),
                (-0.2, -0.6),
                (-0.50, -0.3),
            ]
        )
    )


def draw(f: DrawnFigure, hair: Hair) -> None:
    colour = f.hair_colour
    if not f.hood:
        _layer(f, hair.back, 105, colour * 0.80)
        _layer(f, hair.crown, 148, colour * 0.88)
        _layer(f, hair.over, 175 if covers_shoulders(f.is_.outfit) else 172, colour)
    _layer(f, hair.front, 160, colour, shine=True)


def _layer(f: DrawnFigure, layer: HairLayer, slot: float, colour: Rgb, shine: bool = False) -> None:
    if not layer.outlines:
        return
    shape = f.union(layer.outlines)
    if f.hood and shine:
        shape = intersect(shape, to_path(hood_inside(f)))
    item = f.add(shape, colour, Part.HAIR, slot, shade=0.7, drop=0.7)
    f.mark(item, (taper(p, w * 1.35, 0.5) for p, w in layer.strands[::2]), "shade", 0.8, 0.5)
    f.mark(item, (taper(p, w * 0.62, 0.55) for p, w in layer.strands), "deep", 0.35)
    f.mark(item, (taper(p + (0.028, -0.012), w * 0.7, 0.5) for p, w in layer.strands[1::2]), "lit", 0.5, 0.4)
    if shine:
        t = np.linspace(-1.25, 0.75, 26) * f.light_side
        arc = np.stack([0.40 * np.sin(t), -0.10 - 0.40 * np.cos(t)], 1)
        ragged = np.where(np.arange(26) % 2, 0.032, -0.03)[:, None]
        band = np.vstack([arc * (1 + ragged), (arc * (0.88 - ragged * 1.3))[::-1]])
        f.mark(item, f.on_head(band), "lit", 0.42, 0.8)


# -- styles ------------------------------------------------------------------------------------------------


def cropped(turn: float, rng: np.random.Generator) -> Hair:
    hairline = [
        (0.40, 0.05),
        (0.375, -0.12),
        (0.30, -0.20),
        (0.22, -0.14),
        (0.12, -0.24),
        (0.03, -0.17),
        (-0.08, -0.27),
        (-0.17, -0.19),
        (-0.27, -0.28),
        (-0.37, -0.12),
        (-0.40, 0.05),
    ]
    front = [cap(0.02, hairline, 0.06)]
    for x, lean, height in ((-0.30, 0.02, 0.60), (-0.16, 0.06, 0.66), (0.0, 0.10, 0.69), (0.16, 0.14, 0.66), (0.29, 0.15, 0.58)):
        front.append(lock([(x * 0.7 - 0.05, -0.42), (x * 0.95, -height * 0.9), (x + lean, -height)], [0.12, 0.085, 0.0]))
    y = turn * 0.05
    front.append(lock([(-0.18 + y, -0.52), (0.10 + y, -0.40), (0.25 + y, -0.20), (0.30 + y, -0.10)], [0.06, 0.12, 0.08, 0]))
    front.append(lock([(-0.15 + y, -0.52), (y, -0.36), (0.08 + y, -0.17)], [0.06, 0.10, 0.0]))
    front.append(lock([(-0.2, -0.5), (-0.32, -0.35), (-0.38, -0.1)], [0.06, 0.10, 0.0]))
    strands = combed(
        [(-0.2, -0.55), (-0.1, -0.58)],
        [(-0.4, -0.05), (-0.1, -0.2), (0.1, -0.2), (0.3, -0.12), (0.43, 0)],
        [(-0.4, -0.35), (-0.1, -0.38), (0.15, -0.42), (0.4, -0.4)],
        13,
        0.014,
        rng,
    )
    return Hair(back=HairLayer([spline(NAPE)]), front=HairLayer(front, strands))


def bob(turn: float, rng: np.random.Generator) -> Hair:
    back = spline(
        [
            (-0.46, -0.3),
            (-0.56, 0.05),
            (-0.58, 0.40),
            (-0.42, 0.50),
            (0, 0.44),
            (0.42, 0.50),
            (0.58, 0.40),
            (0.56, 0.05),
            (0.46, -0.3),
            (0, -0.58),
        ]
    )
    fringe = [
        (0.37, 0.06),
        (0.36, -0.12),
        (0.32, -0.18),
        (0.16, -0.165),
        (0, -0.155),
        (-0.16, -0.165),
        (-0.32, -0.18),
        (-0.36, -0.12),
        (-0.37, 0.06),
    ]
    front = [cap(0.02, fringe, 0.12)]
    strands = combed(
        [(-0.1, -0.58), (0.1, -0.58)],
        [(-0.34, -0.17), (0, -0.15), (0.34, -0.17)],
        [(-0.33, -0.40), (0, -0.4), (0.33, -0.40)],
        12,
        0.013,
        rng,
    )
    for s in (-1, 1):
        front.append(
            lock([(s * 0.36, -0.30), (s * 0.465, 0.0), (s * 0.48, 0.28), (s * 0.37 + turn * 0.02, 0.46)], [0.10, 0.095, 0.10, 0.0])
        )
        strands += [
            (points((s * 0.2, -0.55), (s * (0.42 + k * 0.02), -0.2), (s * (0.42 + k * 0.03), 0.2), (s * 0.40, 0.42)), 0.013)
            for k in range(3)
        ]
    behind = [(points((x * 0.8, -0.1), (x, 0.2), (x * 0.95, 0.46)), 0.015) for x in np.linspace(-0.52, 0.52, 9)]
    return Hair(back=HairLayer([back], behind), front=HairLayer(front, strands))


def _long(turn: float, wave: float) -> Hair:
    sway = -turn * 0.16

    def hang(s: float, x: float, y: float) -> tuple[float, float]:
        return s * x + sway * max(0.0, y) * 0.8 + wave * np.sin(y * (5 if wave < 0.06 else 8) + s), y

    back = spline(
        [
            (-0.45, -0.3),
            hang(-1, 0.55, 0.1),
            hang(-1, 0.62, 0.5),
            hang(-1, 0.60, 0.9),
            hang(-1, 0.66, 1.25),
            hang(-1, 0.50, 1.52),
            hang(-1, 0.3, 1.40),
            hang(-1, 0.1, 1.56),
            hang(1, 0.15, 1.42),
            hang(1, 0.35, 1.55),
            hang(1, 0.60, 1.3),
            hang(1, 0.60, 0.9),
            hang(1, 0.62, 0.5),
            hang(1, 0.55, 0.1),
            (0.45, -0.3),
            (0, -0.58),
        ]
    )
    behind = [
        (points((x * 0.6, -0.2), hang(1, x, 0.3), hang(1, x * 1.05, 0.8), hang(1, x * 1.1, 1.42)), 0.018)
        for x in np.linspace(-0.55, 0.55, 12)
    ]
    parting = [
        (0.39, 0.08),
        (0.37, -0.10),
        (0.27, -0.26),
        (0.12, -0.36),
        (-0.04, -0.43),
        (-0.17, -0.34),
        (-0.29, -0.24),
        (-0.37, -0.10),
        (-0.39, 0.08),
    ]
    front, strands = [cap(0.02, parting, 0.12)], []
    for s in (-1, 1):
        front.append(
            lock(
                [(-0.06, -0.52), (s * 0.30, -0.38), (s * 0.43, -0.05), hang(s, 0.44, 0.25), hang(s, 0.50, 0.55), hang(s, 0.44, 0.85)],
                [0.03, 0.11, 0.085, 0.095, 0.085, 0.0],
            )
        )
        front.append(
            lock(
                [(-0.06, -0.52), (s * 0.26, -0.33), (s * 0.37, -0.05), (s * 0.335, 0.16), (s * 0.40, 0.32)], [0.03, 0.07, 0.05, 0.035, 0.0]
            )
        )
        for k in (-0.06, -0.02, 0.03, 0.065):
            strands.append(
                (
                    points(
                        (-0.06, -0.55),
                        (s * (0.31 + k), -0.36),
                        (s * (0.43 + k), -0.05),
                        hang(s, 0.44 + k, 0.25),
                        hang(s, 0.50 + k, 0.55),
                        hang(s, 0.45 + k, 0.8),
                    ),
                    0.014,
                )
            )
    return Hair(back=HairLayer([back], behind), front=HairLayer(front, strands))


def long_straight(turn: float, rng: np.random.Generator) -> Hair:
    return _long(turn, 0.03)


def long_wavy(turn: float, rng: np.random.Generator) -> Hair:
    return _long(turn, 0.085)


def _drawn_back(rng: np.random.Generator, to: tuple[float, float]) -> HairLayer:
    hairline = [
        (0.40, 0.06),
        (0.375, -0.12),
        (0.29, -0.26),
        (0.14, -0.34),
        (0, -0.35),
        (-0.14, -0.34),
        (-0.29, -0.26),
        (-0.375, -0.12),
        (-0.40, 0.06),
    ]
    front = [cap(0.0, hairline, 0.10)]
    for s in (-1, 1):
        front.append(lock([(s * 0.34, -0.28), (s * 0.405, -0.02), (s * 0.36, 0.17), (s * 0.42, 0.34)], [0.05, 0.035, 0.025, 0.0]))
    front.append(lock([(0.10, -0.42), (0.17, -0.24), (0.28, -0.12)], [0.05, 0.035, 0]))
    strands = combed(
        [(-0.42, 0.0), (-0.3, -0.26), (0, -0.35), (0.3, -0.26), (0.42, 0.0)],
        [(to[0] - 0.12, to[1]), (to[0] + 0.12, to[1])],
        [(-0.44, -0.32), (-0.2, -0.48), (0, -0.48), (0.2, -0.48), (0.44, -0.32)],
        15,
        0.013,
        rng,
    )
    return HairLayer(front, strands)


def bun(turn: float, rng: np.random.Generator) -> Hair:
    x = turn * -0.08
    knot = wobble(ellipse((x, -0.76), 0.25, 0.21, 0, 30), 0.012, rng)
    turns = [
        (
            points(
                (x + 0.22 * np.cos(t), -0.76 + 0.19 * np.sin(t)),
                (x + 0.12 * np.cos(t + 0.9), -0.76 + 0.1 * np.sin(t + 0.9)),
                (x + 0.03 * np.cos(t + 1.6), -0.76),
            ),
            0.014,
        )
        for t in np.linspace(0, 6.28, 9)
    ]
    return Hair(crown=HairLayer([knot], turns), front=_drawn_back(rng, (x, -0.62)))


def ponytail(turn: float, rng: np.random.Generator) -> Hair:
    s = -1 if turn > 0 else 1
    tail = [(s * 0.10, -0.50), (s * 0.46, -0.56), (s * 0.66, -0.22), (s * 0.62, 0.30), (s * 0.70, 0.78), (s * 0.60, 1.02)]
    strands = [(np.array(tail) + (k, 0), 0.015) for k in (-0.07, -0.02, 0.03, 0.08)]
    band = ellipse((s * 0.30, -0.555), 0.07, 0.09, 0.4)
    return Hair(
        back=HairLayer([spline(NAPE), lock(tail, [0.08, 0.12, 0.17, 0.17, 0.13, 0.0]), band], strands),
        front=_drawn_back(rng, (s * 0.2, -0.56)),
    )


def curls(turn: float, rng: np.random.Generator) -> Hair:
    back = [ellipse((0, -0.15), 0.56, 0.52)]
    for t in np.linspace(-0.35, np.pi + 0.35, 17):
        rx, ry = rng.uniform(0.10, 0.15, 2)
        back.append(ellipse((0.604 * np.cos(t), -0.12 - 0.54 * np.sin(t)), rx, ry, n=14))
    behind = [
        curl((0.5 * np.cos(t) * q, -0.12 - 0.5 * np.sin(t) * q), 0.075, rng.uniform(0, 6))
        for q in (1.12, 0.85)
        for t in np.linspace(-0.2, np.pi + 0.2, 13)
    ]
    return Hair(back=HairLayer(back, behind), front=_curly_front(turn, rng, 1.0))


def short_curls(turn: float, rng: np.random.Generator) -> Hair:
    back = [ellipse((0, -0.16), 0.47, 0.45)]
    for t in np.linspace(-0.15, np.pi + 0.15, 17):
        rx, ry = rng.uniform(0.07, 0.10, 2)
        back.append(ellipse((0.47 * np.cos(t), -0.14 - 0.45 * np.sin(t)), rx, ry, n=12))
    behind = [curl((0.45 * np.cos(t), -0.14 - 0.44 * np.sin(t)), 0.055, rng.uniform(0, 6)) for t in np.linspace(-0.1, np.pi + 0.1, 15)]
    return Hair(back=HairLayer(back, behind), front=_curly_front(turn, rng, 0.82))


def _curly_front(turn: float, rng: np.random.Generator, size: float) -> HairLayer:
    hairline = [(0.38, 0.0), (0.36, -0.15), (0.28, -0.25), (0.1, -0.30), (-0.1, -0.30), (-0.28, -0.25), (-0.36, -0.15), (-0.38, 0.0)]
    front = [cap(0.0, hairline, 0.0)]
    for t in np.linspace(0.12, np.pi - 0.12, 10):
        rx, ry = rng.uniform(0.07, 0.10, 2) * size
        front.append(ellipse((0.36 * np.cos(t) + turn * 0.02, -0.02 - 0.31 * np.sin(t)), rx, ry, n=14))
    for s in (-1, 1):
        front += [ellipse((s * 0.43, 0.05), 0.09 * size, 0.1 * size, n=14), ellipse((s * 0.47, -0.12), 0.1 * size, 0.1 * size, n=14)]
        if size > 0.9:
            front.append(ellipse((s * 0.45, 0.19), 0.07, 0.08, n=14))
    strands = [
        curl((0.40 * np.cos(t) * q, -0.05 - 0.38 * np.sin(t) * q), 0.06 * size, rng.uniform(0, 6))
        for q in (1.0, 1.25)
        for t in np.linspace(-0.1, np.pi + 0.1, 11)
    ]
    return HairLayer(front, strands)


def _braid_front(rng: np.random.Generator) -> HairLayer:
    hairline = [(0.39, 0.08), (0.37, -0.10), (0.30, -0.20), (0.10, -0.27), (-0.08, -0.38), (-0.24, -0.27), (-0.37, -0.10), (-0.39, 0.08)]
    front = [
        cap(0.01, hairline, 0.12),
        lock([(-0.10, -0.50), (0.16, -0.36), (0.33, -0.16), (0.41, 0.08), (0.38, 0.26)], [0.03, 0.09, 0.07, 0.04, 0]),
        lock([(-0.12, -0.50), (-0.3, -0.34), (-0.39, -0.05), (-0.40, 0.2)], [0.03, 0.08, 0.05, 0]),
    ]
    strands = combed(
        [(-0.14, -0.57), (-0.06, -0.57)],
        [(-0.43, 0.1), (-0.2, -0.3), (0.2, -0.24), (0.43, 0.12)],
        [(-0.42, -0.28), (-0.2, -0.42), (0.2, -0.42), (0.42, -0.28)],
        13,
        0.013,
        rng,
    )
    return HairLayer(front, strands)


def braid(turn: float, rng: np.random.Generator) -> Hair:
    # the braid hangs on the far side of a turned head, and slides across the nape in between
    s = float(-np.tanh(turn * 9)) if abs(turn) > 0.02 else 1.0
    s = np.sign(s) * max(abs(s), 0.75)
    hang = [(s * 0.40, 0.22), (s * 0.50, 0.50), (s * 0.46, 0.80), (s * 0.38, 1.15), (s * 0.40, 1.42)]
    return Hair(back=HairLayer([spline(NAPE)]), front=_braid_front(rng), over=plait(hang, 1.0))


def two_braids(turn: float, rng: np.random.Generator) -> Hair:
    over = HairLayer()
    for s in (-1, 1):
        woven = plait([(s * 0.42, 0.20), (s * 0.52, 0.46), (s * 0.50, 0.74), (s * 0.44, 1.02), (s * 0.45, 1.2)], 0.84)
        over.outlines += woven.outlines
        over.strands += woven.strands
    return Hair(back=HairLayer([spline(NAPE)]), front=_braid_front(rng), over=over)


def shaved(turn: float, rng: np.random.Generator) -> Hair:
    hairline = [
        (0.385, -0.06),
        (0.35, -0.20),
        (0.24, -0.31),
        (0.08, -0.355),
        (-0.08, -0.355),
        (-0.24, -0.31),
        (-0.35, -0.20),
        (-0.385, -0.06),
    ]
    return Hair(front=HairLayer([cap(-0.045, hairline, -0.04)], stubble(rng)))


def receding(turn: float, rng: np.random.Generator) -> Hair:
    front = []
    for s in (-1, 1):
        front.append(lock([(s * 0.385, -0.33), (s * 0.445, -0.18), (s * 0.455, 0.0), (s * 0.41, 0.16)], [0.012, 0.072, 0.075, 0.03]))
    front.append(lock([(-0.20, -0.525), (-0.04, -0.575), (0.10, -0.515)], [0.0, 0.026, 0.0]))
    front.append(lock([(-0.04, -0.545), (0.10, -0.575), (0.24, -0.50)], [0.0, 0.022, 0.0]))
    strands = [
        (points((s * 0.40, -0.28), (s * (0.44 + k), -0.15), (s * (0.44 + k), 0.1)), 0.012) for s in (-1, 1) for k in (-0.03, 0.0, 0.03)
    ]
    return Hair(back=HairLayer([spline(NAPE)]), front=HairLayer(front, strands))


def pixie(turn: float, rng: np.random.Generator) -> Hair:
    hairline = [(0.39, 0.10), (0.375, -0.10), (0.28, -0.17), (0.10, -0.12), (-0.10, -0.19), (-0.26, -0.24), (-0.37, -0.12), (-0.40, 0.10)]
    front = [cap(0.02, hairline, 0.12)]
    for x, y in ((0.30, 0.0), (0.16, -0.05), (0.02, -0.09)):
        front.append(lock([(-0.22, -0.50), (x * 0.4, -0.36), (x + turn * 0.03, y - 0.08)], [0.05, 0.10, 0.0]))
    for s in (-1, 1):
        front.append(lock([(s * 0.38, -0.24), (s * 0.43, 0.02), (s * 0.37, 0.20)], [0.07, 0.06, 0.0]))
    strands = combed(
        [(-0.25, -0.55), (-0.12, -0.58)],
        [(-0.42, 0.05), (-0.1, -0.16), (0.2, -0.1), (0.42, 0.05)],
        [(-0.42, -0.30), (-0.1, -0.42), (0.2, -0.40), (0.42, -0.30)],
        14,
        0.013,
        rng,
    )
    return Hair(back=HairLayer([spline(NAPE)]), front=HairLayer(front, strands))


def long_fringe(turn: float, rng: np.random.Generator) -> Hair:
    made = _long(turn, 0.03)
    fringe = [
        (0.37, 0.02),
        (0.36, -0.14),
        (0.30, -0.17),
        (0.15, -0.155),
        (0, -0.15),
        (-0.15, -0.155),
        (-0.30, -0.17),
        (-0.36, -0.14),
        (-0.37, 0.02),
    ]
    made.front.outlines[0] = cap(0.02, fringe, 0.12)
    made.front.strands += combed(
        [(-0.1, -0.58), (0.1, -0.58)],
        [(-0.33, -0.16), (0, -0.15), (0.33, -0.16)],
        [(-0.32, -0.40), (0, -0.42), (0.32, -0.40)],
        10,
        0.013,
        rng,
    )
    return made


def low_bun(turn: float, rng: np.random.Generator) -> Hair:
    s = -1.0 if turn > 0 else 1.0
    knot = wobble(ellipse((s * 0.34, 0.42), 0.20, 0.18, 0, 28), 0.010, rng)
    turns = [
        (
            points(
                (s * 0.34 + 0.17 * np.cos(t), 0.42 + 0.15 * np.sin(t)),
                (s * 0.34 + 0.08 * np.cos(t + 1), 0.42 + 0.07 * np.sin(t + 1)),
                (s * 0.34, 0.42),
            ),
            0.013,
        )
        for t in np.linspace(0, 6.28, 8)
    ]
    return Hair(back=HairLayer([spline(NAPE), knot], turns), front=_drawn_back(rng, (0.0, -0.57)))


def crown_braid(turn: float, rng: np.random.Generator) -> Hair:
    front = _drawn_back(rng, (0.0, -0.57))
    t = np.linspace(np.pi * 0.96, np.pi * 0.04, 13)
    lobes, strands = [], []
    for a, b in itertools.pairwise(t):
        m = (a + b) / 2
        for side in (-1, 1):
            r = 0.50 + side * 0.045
            c = (r * np.cos(m), -0.13 - r * 0.90 * np.sin(m))
            lobes.append(ellipse(c, 0.095, 0.062, -m + side * 0.7, 16))
            strands.append((points(c + np.array((-0.04, 0.02)), c, c + np.array((0.05, -0.02))), 0.013))
    return Hair(back=HairLayer([spline(NAPE)]), crown=HairLayer(lobes, strands), front=front)


STYLES: dict[str, Style] = {
    "cropped": cropped,
    "bob": bob,
    "long straight": long_straight,
    "long wavy": long_wavy,
    "bun": bun,
    "ponytail": ponytail,
    "curls": curls,
    "short curls": short_curls,
    "braid": braid,
    "two braids": two_braids,
    "crown braid": crown_braid,
    "low bun": low_bun,
    "long with fringe": long_fringe,
    "pixie": pixie,
    "shaved": shaved,
    "receding": receding,
}
USUAL_STYLES = tuple(STYLES)  # what somebody may have by chance
STYLES |= MORE_STYLES
CROWN = {"bun": 0.34, "curls": 0.14, **MORE_CROWNS}  # hh that it rises above the skull
