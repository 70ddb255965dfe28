"""What hair is made of: locks, caps, combed strands, curls and plaits, in head coordinates.

A style gives four layers, from behind the head to over the clothes. A layer is a set of outlines, united, and strands
drawn into it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import ArrayLike

from mosskeeper.core.illustrator.shapes import Points, ellipse, points, resample, ribbon, spline

Strand = tuple[Points, float]


@dataclass(slots=True)
class HairLayer:
    outlines: list[Points] = field(default_factory=list)
    strands: list[Strand] = field(default_factory=list)


@dataclass(slots=True)
class Hair:
    back: HairLayer = field(default_factory=HairLayer)
    crown: HairLayer = field(default_factory=HairLayer)  # behind the face, above the skull: a bun
    front: HairLayer = field(default_factory=HairLayer)
    over: HairLayer = field(default_factory=HairLayer)  # over the clothes: braids


# Hair at the back of the neck, seen from in front.
NAPE = points((-0.45, -0.2), (-0.44, 0.22), (-0.25, 0.37), (0.25, 0.37), (0.44, 0.22), (0.45, -0.2), (0, -0.5))
Style = Callable[[float, np.random.Generator], Hair]


def cap(thickness: float, hairline: ArrayLike, low: float) -> Points:
    """Hair over the skull down to a hairline; `low` is where it ends at the temples."""
    t = thickness
    dome = [
        (-0.43 - t * 0.6, low),
        (-0.46 - t, -0.15),
        (-0.415 - t, -0.38),
        (-0.25 - t * 0.5, -0.545 - t),
        (0, -0.595 - t),
        (0.25 + t * 0.5, -0.545 - t),
        (0.415 + t, -0.38),
        (0.46 + t, -0.15),
        (0.43 + t * 0.6, low),
    ]
    return spline(np.vstack([dome, hairline]), True, 5)


def stubble(rng: np.random.Generator, n: int = 40) -> list[Strand]:
    """Short hairs on a shaved skull."""
    xs, ys = rng.uniform(-0.38, 0.38, n), rng.uniform(-0.52, -0.36, n)
    return [(points((x, y), (x + 0.012, y - 0.03)), 0.007) for x, y in zip(xs, ys, strict=True)]


def lock(control: ArrayLike, half_widths: list[float]) -> Points:
    return ribbon(control, half_widths, 5)


def combed(roots: ArrayLike, tips: ArrayLike, bend: ArrayLike, n: int, width: float, rng: np.random.Generator) -> list[Strand]:
    """Strands from roots over a bend to tips, at random places along the three lines."""

    def along(line: ArrayLike, u: float) -> list[float]:
        p = np.asarray(line, float)
        return [float(np.interp(u, np.linspace(0, 1, len(p)), p[:, k])) for k in (0, 1)]

    out = []
    for i in range(n):
        u = (i + rng.uniform(0.1, 0.9)) / n
        out.append((np.array([along(roots, u), along(bend, u), along(tips, u)]), width * rng.uniform(0.7, 1.3)))
    return out


def curl(centre: tuple[float, float], radius: float, start: float) -> Strand:
    k = np.arange(5)
    r, a = radius * (1 - k * 0.13), start + k * 1.1
    return np.stack([centre[0] + r * np.cos(a), centre[1] + r * np.sin(a)], 1), 0.014


def plait(control: ArrayLike, thickness: float) -> HairLayer:
    """A three-strand plait along a curve: overlapping lobes to both sides, and a loose tip."""
    n = 12
    path = resample(spline(control, False, 6), n)
    lobes, strands = [], []
    for i in range(n - 1):
        k = thickness * (1 - 0.035 * i)
        for side in (-1, 1):
            c = (path[i] + path[i + 1]) / 2 + (side * 0.055 * k, 0.04 * (side > 0))
            lobes.append(ellipse(c, 0.108 * k, 0.070 * k, side * -0.85, 16))
            strands.append((points(c + (-0.05 * side, -0.05), c, c + (0.04 * side, 0.06)), 0.014))
    tip = path[-1]
    lobes.append(lock([tip - (0, 0.03), tip + (0.02, 0.12), tip + (0, 0.26)], [0.04, 0.075, 0.0]))
    return HairLayer(lobes, strands)
