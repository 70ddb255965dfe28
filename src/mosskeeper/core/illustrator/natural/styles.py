"""Hair styles of natural heads: for each how thick hair lies on the skull, and how its strands are laid."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from mosskeeper.core.illustrator.natural.form import Form
from mosskeeper.core.illustrator.natural.strands import Comb, Hair, unit
from mosskeeper.core.illustrator.natural.view import Array

# Paths of what hangs from a knot, in heads from there: to the person's left, down, to the front.
_TAIL = np.array([(0, 0, 0), (0, -0.03, -0.10), (0.02, 0.16, -0.19), (0.05, 0.50, -0.17), (0.04, 0.78, -0.12)])
_BRAID = np.array([(0, 0, 0), (0.10, 0.14, 0.0), (0.28, 0.34, 0.16), (0.26, 0.62, 0.30), (0.24, 0.86, 0.32)])
_SIDE_BRAID = np.array([(0, 0, 0), (0.07, 0.14, 0.05), (0.06, 0.40, 0.16), (0.01, 0.72, 0.22)])
_SIDE_TAIL = np.array([(0, 0, 0), (0.10, 0.02, 0.02), (0.16, 0.16, 0.05), (0.12, 0.42, 0.10), (0.13, 0.62, 0.12)])
_SIDES = (-1, 1)


@dataclass(frozen=True, slots=True)
class NaturalStyle:
    """thick : heads by which hair lies over the skull. comb : lays its strands."""

    comb: Callable[[Comb, Form], None]
    thick: float = 0.016


def hair_of(style: str, f: Form, seed: int) -> Hair:
    """The hair of a style of `hair.STYLES` on a head; the same for the same seed. Raises KeyError where there is no such style."""
    row = STYLES[style]
    made = Hair(row.thick)
    row.comb(Comb(made, f, seed), f)
    return made


def _parted(down: float, wave: float, part: float, inward: float, volume: float, from_: float = 32) -> Callable[[Comb, Form], None]:
    return lambda c, f: c.parted(down, wave, part, inward, volume, from_)


def _fringed(down: float, wave: float, inward: float, volume: float) -> Callable[[Comb, Form], None]:
    def comb(c: Comb, f: Form) -> None:
        c.parted(down, wave, 0, inward, volume, 70)
        c.fringe(f.eye[1] - f.brow[0] - 0.016)

    return comb


def _curly(size: float, n: int) -> Callable[[Comb, Form], None]:
    def comb(c: Comb, f: Form) -> None:
        c.curly(size, n)
        c.h.thick *= 0.72

    return comb


def _knotted(azimuth: float, up: float, add: Callable[[Comb, Array, Array], None]) -> Callable[[Comb, Form], None]:
    """Hair combed to a knot, and what hangs or sits there: add(comb, place, direction)."""

    def comb(c: Comb, f: Form) -> None:
        knot = unit(azimuth, up)
        c.pulled(knot)
        add(c, c.shell(knot, 0.02), knot)

    return comb


def _around(c: Comb, at: Array, knot: Array) -> None:
    angles = np.linspace(-150, 150, 25)
    c.plait(c.shell(unit(angles, 34 + 10 * np.cos(np.deg2rad(angles))), 0.02), 0.05)


def _on_both_sides(azimuth: float, up: float, add: Callable[[Comb, Array, Array, int], None]) -> Callable[[Comb, Form], None]:
    """Hair parted in the middle and combed to both sides: add(comb, place, direction, side)."""

    def comb(c: Comb, f: Form) -> None:
        c.halves()
        for s in _SIDES:
            knot = unit(s * azimuth, up)
            add(c, c.shell(knot), knot, s)

    return comb


def _stubble(c: Comb) -> None:
    c.short(0.03, 0.1, 900, 0.005)


def _shaved(c: Comb, f: Form) -> None:
    _stubble(c)


def _bald(c: Comb, f: Form) -> None:
    c.h.bald = lambda azimuth, y: np.ones_like(azimuth)


def _receding(c: Comb, f: Form) -> None:
    c.h.bald = lambda azimuth, y: np.clip((-0.155 - 0.0014 * (azimuth - 60) - y) / 0.05 + 0.5, 0, 1)
    c.short(0.15, 0.12, 620, 0.015)


def _mohawk(c: Comb, f: Form) -> None:
    _stubble(c)
    c.ridge(0.24, 10)


def _swept_row(
    c: Comb, root: Callable[[Array], Array], end: Callable[[Array], Array], rise: float, n: int, width: float, base: float = 0.004
) -> None:
    """Locks over the top of the head, from unit vectors to others, by shares along the row."""
    t = np.linspace(0, 1, 8)
    c.lay(lambda u, deep: c.swept(root(u), end(u), base + rise * np.sin(t * np.pi * 0.8) + 0.01 * deep, 8), n, width, 6)


def _undercut(c: Comb, f: Form) -> None:
    _stubble(c)
    _swept_row(c, lambda u: unit(-64 + 10 * u, 52 - 30 * u), lambda u: unit(58 - 8 * u, 30 - 34 * u), 0.060, 26, 0.020, 0.02)
    _swept_row(c, lambda u: unit(-80 - 70 * u, 62 + 0 * u), lambda u: unit(88 + 50 * u, 40 + 0 * u), 0.045, 22, 0.020, 0.02)


def _pixie(c: Comb, f: Form) -> None:
    c.short(0.20, 0.08, 1200, 0.018)
    _swept_row(c, lambda u: unit(20.4 * u - 40, 68 + 0 * u), lambda u: unit(61 * u - 19, 31 - 9 * u), 0.034, 16, 0.018)


def _cropped(c: Comb, f: Form) -> None:
    c.short(0.15, 0.20, 1200, 0.018)
    _swept_row(c, lambda u: unit(54 * u - 35, 48 + 0 * u), lambda u: unit(71 * u - 26, 31 + 4 * np.sin(u * 71)), 0.055, 16, 0.018)


def _mullet(c: Comb, f: Form) -> None:
    c.short(0.17, 0.16, 1100, 0.018)
    c.nape(0.30)


def _slicked(c: Comb, f: Form) -> None:
    c.pulled(unit(180, -14))
    c.short(0.12, 0.02, 300, 0.014)


STYLES: dict[str, NaturalStyle] = {
    "cropped": NaturalStyle(_cropped, 0.034),
    "bob": NaturalStyle(_fringed(0.36, 0.004, 0.055, 0.045), 0.034),
    "long straight": NaturalStyle(_parted(0.98, 0.005, -14, 0.0, 0.035), 0.030),
    "long wavy": NaturalStyle(_parted(0.98, 0.030, -14, 0.0, 0.035), 0.030),
    "long with fringe": NaturalStyle(_fringed(0.98, 0.005, 0.0, 0.035), 0.030),
    "bun": NaturalStyle(_knotted(180, 62, lambda c, at, knot: c.ball(at + knot * 0.09, 0.125))),
    "low bun": NaturalStyle(_knotted(180, -2, lambda c, at, knot: c.ball(at + knot * 0.09, 0.125))),
    "topknot": NaturalStyle(_knotted(180, 82, lambda c, at, knot: c.ball(at + knot * 0.07, 0.085))),
    "ponytail": NaturalStyle(_knotted(180, 38, lambda c, at, knot: c.tail(at + _TAIL, 0.075))),
    "braid": NaturalStyle(_knotted(180, -8, lambda c, at, knot: c.plait(at + _BRAID, 0.072))),
    "crown braid": NaturalStyle(_knotted(180, 10, _around)),
    "two braids": NaturalStyle(_on_both_sides(106, -24, lambda c, at, knot, s: c.plait(at + _SIDE_BRAID * (s, 1, 1), 0.062))),
    "pigtails": NaturalStyle(_on_both_sides(106, -24, lambda c, at, knot, s: c.tail(at + _SIDE_TAIL * (s, 1, 1), 0.07))),
    "two buns": NaturalStyle(_on_both_sides(66, 52, lambda c, at, knot, s: c.ball(at + knot * 0.07, 0.10))),
    "curls": NaturalStyle(_curly(0.052, 760), 0.150),
    "short curls": NaturalStyle(_curly(0.034, 760), 0.055),
    "afro": NaturalStyle(_curly(0.046, 1500), 0.24),
    "pixie": NaturalStyle(_pixie, 0.034),
    "shaved": NaturalStyle(_shaved, 0.004),
    "receding": NaturalStyle(_receding, 0.022),
    "bald": NaturalStyle(_bald, 0.0),
    "mohawk": NaturalStyle(_mohawk, 0.004),
    "spiky": NaturalStyle(lambda c, f: c.spikes(0.22, 340), 0.034),
    "locs": NaturalStyle(lambda c, f: c.ropes(0.72), 0.034),
    "cornrows": NaturalStyle(lambda c, f: c.rows(), 0.010),
    "undercut": NaturalStyle(_undercut, 0.006),
    "slicked back": NaturalStyle(_slicked, 0.020),
    "mullet": NaturalStyle(_mullet, 0.034),
    "side-swept": NaturalStyle(_parted(0.74, 0.018, 34, 0.0, 0.050), 0.034),
}
