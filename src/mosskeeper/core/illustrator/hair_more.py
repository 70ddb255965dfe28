"""Hair styles that nobody has by chance, only where words name them: seen from in front, and the rows of their sides.

They are drawn as the styles of `hair` are, in head coordinates: x right, y down, the head 1 high.
"""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.locks import NAPE, Hair, HairLayer, Strand, Style, cap, combed, curl, lock, stubble
from mosskeeper.core.illustrator.profile_hair import Side
from mosskeeper.core.illustrator.shapes import Points, ellipse, points, spline, wobble

_HIGH_LINE = [
    (0.385, -0.06),
    (0.35, -0.20),
    (0.24, -0.31),
    (0.08, -0.355),
    (-0.08, -0.355),
    (-0.24, -0.31),
    (-0.35, -0.20),
    (-0.385, -0.06),
]
_LINE = [
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


def _combed_back(rng: np.random.Generator, to: tuple[float, float], thickness: float = 0.0) -> HairLayer:
    """Hair combed from the forehead to a place."""
    bend = [(-0.44, -0.32), (-0.2, -0.48), (0, -0.48), (0.2, -0.48), (0.44, -0.32)]
    ends = [(to[0] - 0.12, to[1]), (to[0] + 0.12, to[1])]
    return HairLayer([cap(thickness, _LINE, 0.10)], combed(_LINE[::2], ends, bend, 17, 0.013, rng))


def bald(turn: float, rng: np.random.Generator) -> Hair:
    return Hair()


def afro(turn: float, rng: np.random.Generator) -> Hair:
    back: list[Points] = [ellipse((0, -0.24), 0.74, 0.68)]
    rim = np.linspace(-0.55, np.pi + 0.55, 26)
    for t in rim:
        r = rng.uniform(0.08, 0.12)
        back.append(ellipse((0.74 * np.cos(t), -0.24 - 0.68 * np.sin(t)), r, r, n=12))
    behind = [
        curl((0.7 * q * np.cos(t), -0.24 - 0.66 * q * np.sin(t)), 0.06, rng.uniform(0, 6)) for q in (1.0, 0.84, 0.68) for t in rim[1::2]
    ]
    front: list[Points] = [cap(0.05, _HIGH_LINE, 0.0)]
    for t in np.linspace(0.1, np.pi - 0.1, 12):
        r = rng.uniform(0.07, 0.10)
        front.append(ellipse((0.37 * np.cos(t) + turn * 0.02, -0.06 - 0.32 * np.sin(t)), r, r, n=12))
    front += [ellipse((s * x, y), 0.11, 0.12, n=12) for s in (-1, 1) for x, y in ((0.46, 0.06), (0.50, -0.12), (0.50, -0.30))]
    strands = [curl((0.42 * q * np.cos(t), -0.08 - 0.40 * q * np.sin(t)), 0.055, rng.uniform(0, 6)) for q in (1.0, 1.25) for t in rim[4:-4]]
    return Hair(back=HairLayer(back, behind), front=HairLayer(front, strands))


def mohawk(turn: float, rng: np.random.Generator) -> Hair:
    x = turn * 0.05
    spikes = [
        lock([(x + a * 0.5, -0.42), (x + a, -0.70), (x + a * 1.7, -0.98 + abs(a) * 0.9)], [0.07, 0.075, 0.0])
        for a in np.linspace(-0.15, 0.15, 5)
    ]
    ridge = [lock([(x, -0.30), (x + a * 0.5, -0.48), (x + a, -0.66)], [0.04, 0.07, 0.03]) for a in (-0.07, 0.0, 0.07)]
    strands = [(points((x + a * 0.5, -0.40), (x + a, -0.66), (x + a * 1.5, -0.90)), 0.012) for a in np.linspace(-0.16, 0.16, 9)]
    return Hair(
        crown=HairLayer(spikes, strands), front=HairLayer([cap(-0.045, _HIGH_LINE, -0.04), *spikes, *ridge], [*stubble(rng), *strands])
    )


def spiky(turn: float, rng: np.random.Generator) -> Hair:
    front: list[Points] = [cap(0.02, _LINE, 0.08)]
    for a in np.linspace(-1.25, 1.25, 9):
        reach = 0.80 + rng.uniform(-0.05, 0.06)
        tip = (np.sin(a) * reach * 0.82 + turn * 0.03, -0.14 - np.cos(a) * reach * 0.80)
        front.append(
            lock([(np.sin(a) * 0.26, -0.22 - np.cos(a) * 0.24), (np.sin(a) * 0.46, -0.16 - np.cos(a) * 0.46), tip], [0.11, 0.09, 0.0])
        )
    for x, y in ((-0.24, -0.16), (-0.08, -0.12), (0.10, -0.14), (0.25, -0.18)):
        front.append(lock([(x * 0.8, -0.42), (x + 0.02, -0.30), (x + turn * 0.03, y)], [0.07, 0.06, 0.0]))
    strands = [
        (points((np.sin(a) * 0.25, -0.2 - np.cos(a) * 0.3), (np.sin(a) * 0.55, -0.15 - np.cos(a) * 0.6)), 0.012)
        for a in np.linspace(-1.2, 1.2, 13)
    ]
    return Hair(back=HairLayer([spline(NAPE)]), front=HairLayer(front, strands))


def pigtails(turn: float, rng: np.random.Generator) -> Hair:
    front, back = _combed_back(rng, (0.0, -0.57)), HairLayer([spline(NAPE)])
    for s in (-1, 1):
        tail = [(s * 0.40, -0.24), (s * 0.64, -0.26), (s * 0.74, 0.06), (s * 0.66, 0.50), (s * 0.72, 0.84)]
        back.outlines += [lock(tail, [0.06, 0.13, 0.16, 0.12, 0.0]), ellipse((s * 0.47, -0.25), 0.06, 0.08)]
        back.strands += [(np.array(tail) + (k, 0), 0.014) for k in (-0.06, 0.0, 0.06)]
    front.strands += [(points((0, -0.58), (0.01, -0.46), (0, -0.35)), 0.014)]
    return Hair(back=back, front=front)


def two_buns(turn: float, rng: np.random.Generator) -> Hair:
    knots, turns = list[Points](), list[Strand]()
    for s in (-1, 1):
        c = (s * 0.36 - turn * 0.05, -0.62)
        knots.append(wobble(ellipse(c, 0.19, 0.17, 0, 26), 0.010, rng))
        for t in np.linspace(0, 6.28, 8):
            turns.append(
                (
                    points(
                        (c[0] + 0.16 * np.cos(t), c[1] + 0.15 * np.sin(t)),
                        (c[0] + 0.08 * np.cos(t + 0.9), c[1] + 0.07 * np.sin(t + 0.9)),
                        c,
                    ),
                    0.012,
                )
            )
    front = _combed_back(rng, (0.0, -0.57))
    front.strands += [(points((0, -0.58), (0.01, -0.46), (0, -0.35)), 0.014)]
    return Hair(back=HairLayer([spline(NAPE)]), crown=HairLayer(knots, turns), front=front)


def locs(turn: float, rng: np.random.Generator) -> Hair:
    back, behind, front, marks = [spline(NAPE)], list[Strand](), [cap(0.03, _LINE, 0.12)], list[Strand]()
    for x in np.linspace(-0.56, 0.56, 11):
        rope = [(x * 0.7, -0.30), (x, 0.10), (x * 1.08 + rng.uniform(-0.03, 0.03), 0.62), (x * 1.1, 1.12 + rng.uniform(-0.12, 0.12))]
        back.append(lock(rope, [0.055, 0.062, 0.06, 0.03]))
        behind += [(np.array(rope) + (k, 0), 0.012) for k in (-0.03, 0.03)]
    for s in (-1, 1):
        for k in range(4):
            root = (s * (0.03 + 0.09 * k), -0.56 + 0.04 * k)
            rope = [root, (s * (0.34 + 0.05 * k), -0.34), (s * (0.45 + 0.035 * k), 0.06), (s * (0.46 + 0.05 * k), 0.48 + 0.10 * (k % 2))]
            front.append(lock(rope, [0.045, 0.055, 0.052, 0.03]))
            marks += [(np.array(rope) + (0.03 * s, 0), 0.011)]
    return Hair(back=HairLayer(back, behind), front=HairLayer(front, marks))


def cornrows(turn: float, rng: np.random.Generator) -> Hair:
    rows, lobes = list[Strand](), list[Points]()
    for x in np.linspace(-0.36, 0.36, 9):
        start, end = (x, -0.35 + 0.55 * x * x), (x * 0.55 + turn * 0.02, -0.60)
        rows.append((points(start, (x * 0.85, -0.48), end), 0.020))
        rows += [(points((start[0] - 0.025, y), (start[0] + 0.02, y - 0.02)), 0.009) for y in np.linspace(start[1], -0.52, 4)]
    for s in (-1, 1):
        lobes += [
            lock([(s * 0.36, 0.10), (s * (0.40 + 0.06 * k), 0.34), (s * (0.39 + 0.07 * k), 0.60)], [0.04, 0.045, 0.02]) for k in (0, 1)
        ]
    return Hair(back=HairLayer([spline(NAPE), *lobes]), front=HairLayer([cap(-0.03, _HIGH_LINE, 0.0)], rows))


def undercut(turn: float, rng: np.random.Generator) -> Hair:
    top = [
        (-0.36, -0.34),
        (-0.30, -0.56),
        (-0.04, -0.70),
        (0.26, -0.64),
        (0.44, -0.44),
        (0.42, -0.24),
        (0.26, -0.30),
        (0.06, -0.38),
        (-0.14, -0.40),
        (-0.28, -0.30),
    ]
    fall = lock([(-0.14, -0.56), (0.18, -0.48), (0.38, -0.28), (0.42, -0.06)], [0.06, 0.13, 0.09, 0.0])
    strands = combed([(-0.30, -0.40), (-0.10, -0.60)], [(0.42, -0.16), (0.36, -0.34)], [(0.05, -0.56), (0.14, -0.62)], 12, 0.013, rng)
    return Hair(front=HairLayer([cap(-0.045, _HIGH_LINE, -0.04), spline(np.array(top)), fall], [*stubble(rng), *strands]))


def slicked_back(turn: float, rng: np.random.Generator) -> Hair:
    return Hair(back=HairLayer([spline(NAPE)]), front=_combed_back(rng, (0.0, -0.58), 0.015))


def topknot(turn: float, rng: np.random.Generator) -> Hair:
    c = (turn * -0.04, -0.70)
    turns = [(points((c[0] + 0.10 * np.cos(t), c[1] + 0.10 * np.sin(t)), c), 0.012) for t in np.linspace(0, 6.28, 7)]
    knot = HairLayer([wobble(ellipse(c, 0.125, 0.13, 0, 22), 0.008, rng)], turns)
    return Hair(back=HairLayer([spline(NAPE)]), crown=knot, front=_combed_back(rng, (c[0], -0.60)))


def mullet(turn: float, rng: np.random.Generator) -> Hair:
    tips = [(-0.50, 0.66), (-0.36, 0.60), (-0.24, 0.72), (-0.06, 0.62), (0.10, 0.74), (0.26, 0.62), (0.40, 0.70), (0.50, 0.58)]
    back = spline(np.array([(-0.45, -0.3), (-0.50, 0.2), *tips, (0.50, 0.2), (0.45, -0.3), (0, -0.56)]))
    front: list[Points] = [cap(0.02, _LINE, 0.06)]
    for x, y in ((-0.26, -0.14), (-0.10, -0.18), (0.06, -0.13), (0.22, -0.17)):
        front.append(lock([(x * 0.6, -0.52), (x, -0.36), (x + 0.04, y)], [0.07, 0.08, 0.0]))
    strands = combed([(-0.2, -0.56), (0.2, -0.56)], [(-0.3, -0.16), (0.3, -0.16)], [(-0.3, -0.4), (0.3, -0.4)], 12, 0.012, rng)
    behind = [(points((x * 0.8, -0.1), (x, 0.3), (x, 0.62)), 0.014) for x in np.linspace(-0.44, 0.44, 9)]
    return Hair(back=HairLayer([back], behind), front=HairLayer(front, strands))


def side_swept(turn: float, rng: np.random.Generator) -> Hair:
    parting = [(0.39, 0.08), (0.36, -0.14), (0.20, -0.28), (-0.02, -0.36), (-0.20, -0.46), (-0.30, -0.28), (-0.37, -0.10), (-0.39, 0.08)]
    over = [
        lock([(-0.20, -0.54), (0.20, -0.44), (0.45, -0.10), (0.56, 0.36), (0.50, 0.84), (0.36, 1.16)], [0.04, 0.13, 0.11, 0.15, 0.14, 0.0]),
        lock([(-0.18, -0.53), (0.14, -0.36), (0.36, -0.10), (0.42, 0.20)], [0.03, 0.08, 0.06, 0.0]),
    ]
    tucked = lock([(-0.24, -0.50), (-0.40, -0.26), (-0.43, 0.02), (-0.40, 0.26)], [0.03, 0.08, 0.06, 0.02])
    strands = [
        (points((-0.2, -0.55), (0.2 + k, -0.44), (0.45 + k, -0.1), (0.55 + k, 0.36), (0.46 + k, 0.9)), 0.014)
        for k in (-0.08, -0.03, 0.03, 0.08)
    ]
    behind = spline(np.array([(-0.44, -0.2), (-0.44, 0.3), (0.10, 0.52), (0.40, 1.0), (0.62, 0.8), (0.60, 0.2), (0.45, -0.3), (0, -0.56)]))
    return Hair(back=HairLayer([behind]), front=HairLayer([cap(0.02, parting, 0.12), *over, tucked], strands))


MORE_STYLES: dict[str, Style] = {
    "afro": afro,
    "mohawk": mohawk,
    "spiky": spiky,
    "pigtails": pigtails,
    "two buns": two_buns,
    "locs": locs,
    "cornrows": cornrows,
    "undercut": undercut,
    "slicked back": slicked_back,
    "topknot": topknot,
    "mullet": mullet,
    "side-swept": side_swept,
    "bald": bald,
}
MORE_CROWNS = {"afro": 0.34, "mohawk": 0.40, "spiky": 0.30, "two buns": 0.22, "topknot": 0.26}  # heads above the skull
MORE_SIDES: dict[str, Side] = {
    "afro": Side(volume=0.24, low=0.34, curls=0.15),
    "mohawk": Side(volume=-0.045, low=0.16, ridge=0.30),
    "spiky": Side(volume=0.02, tufts=True, ridge=0.16),
    "pigtails": Side(volume=0.0, tail=((-0.14, -0.22), (-0.34, -0.22), (-0.40, 0.10), (-0.32, 0.52), (-0.38, 0.86))),
    "two buns": Side(volume=0.0, knot=(-0.10, -0.66, 0.19)),
    "locs": Side(hanging=1.1, ear=True, low=0.30, wave=0.015),
    "cornrows": Side(volume=-0.03, low=0.20),
    "undercut": Side(volume=-0.02, low=0.12, brow=-0.30),
    "slicked back": Side(volume=0.01, low=0.26),
    "topknot": Side(volume=0.0, knot=(-0.08, -0.70, 0.13)),
    "mullet": Side(volume=0.03, hanging=0.66, tufts=True),
    "side-swept": Side(hanging=1.15, ear=True, low=0.30, wave=0.06),
    "bald": Side(),
}
