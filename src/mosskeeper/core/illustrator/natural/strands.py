"""Hair as strands over masses: where it grows on the skull, how it flows there, and how it hangs.

A style gives a cap (how thick hair lies, and where), and strands. Strands run on a shell over the skull, as unit vectors from its
middle, and from where they leave it down. Everything is in the axes of the resting head, so that it is right in every view, and
is made for all strands of a row at once: arrays (strands, points, 3).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from mosskeeper.core.illustrator.natural.brush import Strokes
from mosskeeper.core.illustrator.natural.form import Form
from mosskeeper.core.illustrator.natural.solid import SKULL, radii
from mosskeeper.core.illustrator.natural.view import Array

# Azimuth from the face in degrees, and the height down to which hair grows.
_LINE = np.array([
    (0, -0.318), (14, -0.316), (28, -0.296), (40, -0.262), (50, -0.205), (60, -0.125), (70, -0.065),
    (77, 0.0), (84, 0.05), (92, 0.02), (104, 0.05), (125, 0.19), (150, 0.25), (180, 0.27),
])  # fmt: skip
Row = Callable[[Array, Array], Array]  # from shares along a row and depths, each (n,), to strands (n, m, 3)


@dataclass(slots=True)
class Hair:
    thick: float = 0.03  # of the cap, hh
    bald: Callable[[Array, Array], Array] | None = None  # of azimuth and height: where nothing grows
    under: Strokes = field(default_factory=Strokes)  # broad and dark
    locks: Strokes = field(default_factory=Strokes)
    fine: Strokes = field(default_factory=Strokes)


def grows(h: Hair, at: Array) -> Array:
    """How far each place of the head (…, 3) is under hair, 0 … 1."""
    azimuth = np.degrees(np.arctan2(np.abs(at[..., 0]), at[..., 2] - 0.04))
    mask = np.clip((np.interp(azimuth, _LINE[:, 0], _LINE[:, 1]) - at[..., 1]) / (0.045 + 0.5 * h.thick) + 0.5, 0, 1)
    return np.asarray(mask if h.bald is None else mask * (1 - h.bald(azimuth, at[..., 1])))


def unit(azimuth: Array | float, up: Array | float) -> Array:
    """Unit vectors (…, 3): azimuth in degrees from the face to the person's left, elevation above the level."""
    a, e = np.broadcast_arrays(np.deg2rad(azimuth), np.deg2rad(up))
    return np.stack([np.sin(a) * np.cos(e), -np.sin(e), np.cos(a) * np.cos(e)], -1)


def _unit(v: Array) -> Array:
    return np.asarray(v / (np.linalg.norm(v, axis=-1, keepdims=True) + 1e-9))


def _edge(azimuth: Array, r: Array) -> Array:
    """Where hair begins on a skull of these radii, as unit vectors of its shell."""
    y = np.interp(np.abs(azimuth), _LINE[:, 0], _LINE[:, 1])
    level = np.sqrt(np.clip(1 - ((y - SKULL[1]) / r[1]) ** 2, 0.05, 1))
    a, b, dz, s, c = r[0] * level, r[2] * level, 0.04 - SKULL[2], np.sin(np.deg2rad(azimuth)), np.cos(np.deg2rad(azimuth))
    p, q, n = (s / a) ** 2 + (c / b) ** 2, dz * c / b**2, (dz / b) ** 2 - 1
    far = (-q + np.sqrt(np.maximum(q * q - p * n, 0))) / p
    return _unit(np.stack([far * s / r[0], (y - SKULL[1]) / r[1], (dz + far * c) / r[2]], -1))


def _taper(n: int, width: Array | float, root: float = 0.5, tip: float = 0.0) -> Array:
    t = np.linspace(0, 1, n)
    return (
        np.asarray(width)[..., None] * np.clip(root + (1 - root) * t / 0.25, 0, 1) * np.clip(tip + (1 - tip) * (1 - t) / 0.45, 0, 1) ** 0.7
    )


class Comb:
    """Strands over one skull, laid into the hair of a head."""

    def __init__(self, h: Hair, f: Form, seed: int) -> None:
        self.h, self.rng, self.r = h, np.random.default_rng(seed), radii(f)

    def shell(self, u: Array, lift: Array | float = 0.0) -> Array:
        return SKULL + u * (self.r + (self.h.thick + np.asarray(lift))[..., None])

    def swept(self, a: Array, b: Array, lift: Array, m: int) -> Array:
        """Strands of `m` points over the shell, from unit vectors to others."""
        t, a, b = np.linspace(0, 1, m)[:, None], np.atleast_2d(a)[:, None], np.atleast_2d(b)[:, None]
        angle = np.arccos(np.clip((a * b).sum(-1, keepdims=True), -1, 1)) + 1e-6
        return self.shell((np.sin((1 - t) * angle) * a + np.sin(t * angle) * b) / np.sin(angle), lift)

    def hung(self, line: Array, down: Array, out: Array, phase: Array, wave: float, inward: float, m: int) -> Array:
        """The strands going on downwards from their ends, for `down` hh: first outwards, then as gravity has it, waved, turned in."""
        end, way, t = line[:, -1:], _unit(line[:, -1:] - line[:, -2:-1]), np.linspace(0, 1, m + 1)[1:, None]
        down, out, phase = (v[:, None, None] for v in (down, out, phase))
        slack = np.minimum(0.14 / down, 0.4)
        eased = slack * (1 - np.exp(-t / slack))  # they leave the head in their own direction
        side = _unit((end + (0, 0, 0.05)) * (1, 0, 1))
        across = np.stack([-side[..., 2], 0 * side[..., 0], side[..., 0]], -1)
        bend = (
            end
            + way * down * eased
            + (0, 1, 0) * down * (t - eased)
            + side * (out * np.sin(np.pi * np.clip(t * 1.1, 0, 1)) - inward * t**2)
        )
        bend = bend + wave * t**0.5 * (across * np.sin(t * down * 9 + phase) + side * 0.6 * np.cos(t * down * 9 + phase))
        return np.concatenate([line, bend], 1)

    def lay(self, make: Row, n: int, width: float, strands: int = 5) -> None:
        """Locks side by side along a row: each a broad dark stroke, strands that gather at its tip, and a few fine ones in the light."""
        rng, h = self.rng, self.h
        u = (np.arange(n) + rng.uniform(0.2, 0.8, n)) / n
        line = make(u, np.zeros((n, 1)))
        m, under = line.shape[1], line[::2]
        h.under.add(under, _taper(m, np.full(len(under), width * 1.6), 0.3), 0.24 + 0.05 * rng.uniform(-1, 1, len(under)))
        beside, v, t = (
            make(u + 0.55 / n, rng.uniform(0.2, 0.8, (n, 1))) - line,
            rng.uniform(-1, 1, (n, strands + 3)),
            np.linspace(0, 1, m)[:, None],
        )
        strand = (
            line[:, None] + beside[:, None] * v[..., None, None] * (1.5 - 0.8 * t**2) + rng.normal(0, 0.0025, (*v.shape, 1, 3)) * (0.4 + t)
        )
        own = (0.46 + 0.12 * rng.uniform(-1, 1, (n, 1))) - 0.10 * np.abs(v) + 0.10 * rng.uniform(-1, 1, v.shape)
        wide = width * rng.uniform(0.28, 0.50, v.shape)
        for kind, cut, thin, more in ((h.locks, np.s_[:, :strands], 1.0, 0.0), (h.fine, np.s_[:, strands:], 0.30, 0.16)):
            kind.add(strand[cut].reshape(-1, m, 3), _taper(m, (wide[cut] * thin).ravel()), (own[cut] + more).ravel())

    def share(self, line: Array, widths: Array | tuple[float, ...], tones: tuple[float, ...], root: float = 0.6, tip: float = 0.0) -> None:
        """Deals strands out to the layers in turn: one to the broad dark ones, two to the locks, one to the fine ones."""
        for k, (kind, width, tone) in enumerate(zip((self.h.under, self.h.locks, self.h.locks, self.h.fine), widths, tones, strict=True)):
            own = line[k::4]
            kind.add(own, _taper(own.shape[1], np.full(len(own), width), root, tip), tone + 0.13 * self.rng.uniform(-1, 1, len(own)))

    def scattered(self, n: int, least: float, lift: float = 0.0) -> Array:
        """Unit vectors (about n, 3) spread over where hair grows."""
        u = _unit(self.rng.normal(size=(n * 2, 3)))
        return u[grows(self.h, self.shell(u, lift)) > least][:n]

    # -- families of styles -----------------------------------------------------------------------------------

    def parted(self, down: float, wave: float, part: float, inward: float, volume: float, from_: float) -> None:
        """Hair from a parting over both sides and the back of the head, hanging."""
        t = np.linspace(0, 1, 13)
        for s in (-1, 1):

            def side(u: Array, deep: Array, s: int = s) -> Array:
                root, end = (
                    unit(part + s * 1.5, from_ + (124 - from_) * np.minimum(u * 1.15, 1)),
                    unit(s * (64 + 110 * np.clip(u, 0, 1) ** 0.9), 2 - 8 * u),
                )
                line = self.swept(root, end, volume * np.sin((0.10 + 0.90 * t) * np.pi * 0.72) * (0.35 + 0.65 * t) + 0.010 * deep, 13)
                return self.hung(
                    line,
                    down * (0.94 + 0.08 * ((u * 7.77) % 1)),
                    0.03 + 0.02 * deep[:, 0],
                    s * 1.2 + 5 * u,
                    wave,
                    inward,
                    12 if down > 0.5 else 7,
                )

            self.lay(side, 30, 0.021, 4)

    def ridge(self, height: float, n: int) -> None:
        """Hair that stands along the middle of the skull, from the forehead to the nape."""
        around = np.concatenate([np.linspace(22, 90, n), np.linspace(90, 165, n)])
        rng = self.rng
        for aside in (-0.05, -0.02, 0.0, 0.02, 0.05):
            root = unit(0, around) + (aside, 0, 0)
            lean = np.stack([np.full(len(around), aside * 1.5), 0 * around, np.full(len(around), -0.10)], 1)
            t = np.linspace(0, 1, 6)[:, None]
            reach = (height * rng.uniform(0.85, 1.15, len(around)))[:, None, None]
            line = self.shell(root)[:, None] + (_unit(root)[:, None] + lean[:, None] * t) * reach * t
            many = np.repeat(line, 8, 0) + rng.normal(0, 0.012, (len(line) * 8, 1, 3)) * (1.4 - t)
            self.share(many, (0.030, 0.016, 0.012, 0.005), (0.22, 0.42, 0.50, 0.66), 1.0)

    def spikes(self, height: float, n: int) -> None:
        """Pointed tufts that stand off the whole skull."""
        rng, u = self.rng, self.scattered(n, 0.6)
        u = u[u[:, 1] < 0.05]
        t = np.linspace(0, 1, 5)[:, None]
        way = _unit(u + (0, -0.55, 0.12) + rng.normal(0, 0.10, u.shape))
        line = self.shell(u, -0.01)[:, None] + way[:, None] * (height * rng.uniform(0.7, 1.1, (len(u), 1, 1))) * t
        self.share(line, (0.034, 0.024, 0.018, 0.006), (0.22, 0.42, 0.50, 0.66), 1.0)
        self.short(0.13, 0.3, 700, 0.018)

    def rows(self) -> None:
        """Narrow plaits in rows over the skull, from the forehead to the nape."""
        side, t = np.linspace(-56, 56, 11), np.linspace(0, 1, 24)
        for a in side:
            line = self.swept(_edge(np.array([a * 0.9]), self.r), unit(180 - a * 0.62, -16), 0.004 + 0.010 * np.abs(np.sin(t * 44)), 24)[0]
            many = line + self.rng.normal(0, 0.006, (10, 1, 3))
            self.share(many, (0.026, 0.014, 0.010, 0.004), (0.16, 0.36, 0.46, 0.62), 0.8, 0.4)

    def ropes(self, down: float) -> None:
        """Thick twisted strands that hang all around."""
        t = np.linspace(0, 1, 13)
        for s in (-1, 1):

            def rope(u: Array, deep: Array, s: int = s) -> Array:
                root, end = unit(s * 1.5, 32 + 92 * np.minimum(u * 1.1, 1)), unit(s * (62 + 112 * np.clip(u, 0, 1) ** 0.9), 2 - 8 * u)
                line = self.swept(root, end, 0.045 * np.sin((0.1 + 0.9 * t) * np.pi * 0.72) + 0.008 * deep, 13)
                return self.hung(line, down * (0.86 + 0.24 * ((u * 7.77) % 1)), 0.05 + 0.02 * deep[:, 0], s * 1.2 + 5 * u, 0.010, 0.0, 12)

            u = (np.arange(17) + 0.5) / 17
            line = rope(u, np.zeros((17, 1)))
            twist = np.repeat(line, 8, 0) + self.rng.normal(0, 0.010, (17 * 8, 1, 3))
            self.share(twist, (0.034, 0.020, 0.014, 0.005), (0.18, 0.38, 0.46, 0.60), 0.8, 0.5)

    def nape(self, down: float) -> None:
        """Hair that hangs from the back of the head only."""
        t = np.linspace(0, 1, 9)

        def one(u: Array, deep: Array) -> Array:
            line = self.swept(unit(110 + 140 * u, 30), unit(110 + 140 * u, -18), 0.01 + 0.02 * t, 9)
            return self.hung(line, np.full(len(u), down) * (0.85 + 0.3 * ((u * 7.7) % 1)), 0.03 + 0 * u, 5 * u, 0.006, 0.0, 7)

        self.lay(one, 26, 0.021, 4)

    def fringe(self, low: float) -> None:
        t, down = np.linspace(0, 1, 9), np.degrees(np.arcsin(np.clip((SKULL[1] - low) / 0.40, -1, 1)))
        self.lay(
            lambda u, deep: self.swept(
                unit(50 * u - 25, 70),
                unit(100 * u - 50, down + 2.2 * np.sin(u * 57)),
                0.002 + 0.036 * np.sin(t * np.pi * 0.8) + 0.008 * deep,
                9,
            ),
            17,
            0.019,
            6,
        )

    def short(self, length: float, stand: float, n: int, width: float) -> None:
        """Short hair, lying as it grows away from the crown; `stand` lifts its tips."""
        rng, u, t = self.rng, self.scattered(n, 0.5), np.linspace(0, 1, 5)
        away = u - unit(172, 62)
        way = _unit(away - u * (away * u).sum(-1, keepdims=True)) + rng.normal(0, 0.12, u.shape)
        own = (length * rng.uniform(0.7, 1.3, len(u)) * (0.5 + 0.5 * np.clip((0.1 - self.shell(u)[:, 1]) / 0.45, 0, 1)))[:, None]
        path = _unit(u[:, None] + way[:, None] * (t * own)[..., None] / 0.38)
        self.share(
            self.shell(path, stand * own * t**1.4 - 0.010), width * np.array([0.95, 0.50, 0.36, 0.16]), (0.24, 0.42, 0.50, 0.62), 0.7
        )

    def curly(self, size: float, n: int) -> None:
        """Curls: small crescents and rings over the whole shell."""
        rng, u = self.rng, self.scattered(n, 0.35, -self.h.thick * 0.8)
        a = _unit(np.cross(u, rng.normal(size=u.shape)))
        r, turn = (
            (size * rng.uniform(0.7, 1.25, len(u)))[:, None, None],
            (np.linspace(0, 1, 10) * rng.uniform(3.4, 5.4, (len(u), 1)))[..., None],
        )
        spiral = (np.cos(turn) * a[:, None] + np.sin(turn) * np.cross(u, a)[:, None]) * r * (1 - 0.09 * turn)
        line = self.shell(u, rng.uniform(-0.03, 0.012, len(u)))[:, None] + spiral + u[:, None] * 0.25 * r * np.sin(turn * 1.3)
        self.share(line, size * np.array([0.55, 0.24, 0.20, 0.09]), (0.18, 0.36, 0.44, 0.62), 0.6, 0.2)

    def pulled(self, knot: Array) -> None:
        """Hair combed from the hairline to a knot."""
        t = np.linspace(0, 1, 12)
        self.lay(
            lambda u, deep: self.swept(
                _edge(360 * (u % 1) - 180, self.r), knot, -0.010 + 0.030 * np.sin(t**0.8 * np.pi) + 0.006 * deep, 12
            ),
            66,
            0.015,
            4,
        )

    def halves(self) -> None:
        """Hair combed from a parting to behind both ears."""
        t = np.linspace(0, 1, 12)
        for s in (-1, 1):

            def one(u: Array, deep: Array, s: int = s) -> Array:
                root = np.where((u < 0.6)[:, None], unit(s * 1.5, 32 + 97 * u), unit(180 - s * 1.5, 90 - (u - 0.6) * 230))
                return self.swept(root, unit(s * 106, -24), -0.004 + 0.024 * np.sin(t * np.pi) + 0.006 * deep, 12)

            self.lay(one, 34, 0.018)

    def ball(self, at: Array, r: float, n: int = 120) -> None:
        """A bun: strands wound about a ball."""
        rng, axis = self.rng, _unit(np.array([0, -0.5, -0.85]) + self.rng.normal(0, 0.35, (n, 3)))
        a, own = _unit(np.cross(axis, [1, 0, 0.2])), r * np.sin(rng.uniform(0.5, 1.57, (n, 1, 1)))
        t = rng.uniform(0, 6.28, (n, 1, 1)) + np.linspace(0, 2.2, 9)[:, None]
        ring = (np.cos(t) * a[:, None] + np.sin(t) * np.cross(axis, a)[:, None]) * own
        line = at + ring + axis[:, None] * np.sqrt(np.maximum(r * r - own * own, 0)) * rng.choice([-1, 1], (n, 1, 1))
        self.share(line, (r * 0.36, r * 0.15, r * 0.11, r * 0.05), (0.22, 0.42, 0.48, 0.62), 0.5, 0.2)

    def tail(self, path: Array, width: float) -> None:
        """A bundle of strands along a path (k, 3)."""
        spine, swell = _along(path, 15), np.sin(np.pi * np.clip(0.12 + 0.80 * np.linspace(0, 1, 15), 0, 1)) ** 0.7

        def one(u: Array, deep: Array) -> Array:
            a, r = 2 * np.pi * (u * 5.17 + deep[:, 0] * 0.13), width * np.sqrt((u * 7.3) % 1)
            return spine + (np.stack([np.cos(a), 0 * a, np.sin(a)], -1) * r[:, None])[:, None] * swell[:, None]

        self.lay(one, 34, 0.018)

    def plait(self, path: Array, width: float) -> None:
        """A plait along a path (k, 3): lobes to both sides, and a loose tip."""
        spine, rng = _along(path, 60), self.rng
        k, s, j = (v.ravel() for v in np.meshgrid(np.arange(13), (-1, 1), np.arange(12), indexing="ij"))
        lobe, u = _along(np.array([[-0.15, -0.55, 0.2], [0.75, -0.18, 0.55], [0.72, 0.22, 0.60], [0.10, 0.72, 0.35]]), 8), j / 11 - 0.5
        off = lobe * np.stack([s, 1 + 0 * s, 1 + 0 * s], -1)[:, None] + np.stack([-u * 0.34 * s, u * 0.80, 0.08 + 0 * u], -1)[:, None]
        line = spine[(k * 4.2).astype(int) + 1 + 2 * (s > 0)][:, None] + off * (width * (1 - 0.030 * k))[:, None, None]
        edge, fine = j % 11 == 0, (j % 3 == 0) & (j % 11 > 0)
        for kind, pick, wide, tone in (
            (self.h.under, edge, 0.20, 0.18),
            (self.h.locks, ~edge & ~fine, 0.10, 0.45),
            (self.h.fine, fine, 0.04, 0.62),
        ):
            kind.add(
                line[pick],
                _taper(8, width * wide * (1 - 0.03 * k[pick]), 0.5, 0.2),
                tone + 0.10 * rng.uniform(-1, 1, int(pick.sum())) - 0.10 * np.abs(u[pick]),
            )
        loose = rng.normal(0, 0.25, (16, 1, 3)) * width * np.array([[0], [0.8], [0.5]])
        self.share(
            spine[-1] + loose + np.array([(0, -0.03, 0), (0, 0.05, 0), (0, 0.13, 0)]),
            (0.012, 0.010, 0.007, 0.004),
            (0.25, 0.42, 0.50, 0.62),
        )


def _along(path: Array, n: int) -> Array:
    return np.stack([np.interp(np.linspace(0, 1, n), np.linspace(0, 1, len(path)), path[:, k]) for k in range(3)], 1)


def beard_of(f: Form, kind: str, at: Array, seed: int) -> tuple[Array, Strokes, Strokes]:
    """A beard or a moustache: how far each place of the head (…, 3) is under it, broad strokes and fine ones."""
    rng, (x, y, z) = np.random.default_rng(seed), np.moveaxis(at, -1, 0)
    x, (my, mw, lip, *_), cy, ny, ey = np.abs(x), f.mouth, f.face[1], f.nose[0], f.eye[1]
    mask = np.zeros(x.shape)
    if kind != "moustache":
        top = np.interp(
            x,
            (0, 0.045, mw + 0.02, mw + 0.05, 0.20, 0.26, 0.33),
            (my + 0.052, my + 0.050, my + 0.016, my - 0.040, ny - 0.005, ey + 0.10, ey + 0.03),
        )
        mask = np.clip((y - top) / 0.030 + 0.5, 0, 1) * np.clip(z / 0.05, 0, 1) * np.clip((cy + 0.06 - y) / 0.04, 0, 1)
    if kind == "goatee":
        mask *= np.clip((0.085 - x) / 0.02 + 0.5, 0, 1)
    elif kind == "sideburns":
        mask *= np.clip((x - 0.215) / 0.03 + 0.5, 0, 1) * np.clip((my + 0.03 - y) / 0.04, 0, 1)
    high = np.interp(x, (0, 0.02, mw * 0.9, mw + 0.03), (ny + 0.022, ny + 0.018, my - 0.042, my - 0.012))
    low = np.interp(x, (0, mw * 0.6, mw + 0.03), (my - 0.021 * lip - 0.004, my - 0.018, my + 0.020))
    stache = np.clip((y - high) / 0.014 + 0.5, 0, 1) * np.clip((low - y) / 0.012 + 0.5, 0, 1) * (x < mw + 0.035) * (z > 0.25)
    under, fine = Strokes(), Strokes()
    area = np.linalg.norm(np.gradient(at, axis=1), axis=-1) * np.linalg.norm(np.gradient(at, axis=0), axis=-1)
    t = np.linspace(0, 1, 4)[:, None]

    def grown(where: Array, n: int, reach: float, width: float, aside: float, out: float) -> None:
        rows, columns = np.nonzero(where > 0.5)
        weight = area[rows, columns]
        pick = rng.choice(len(rows), n, p=weight / weight.sum())
        i, j, (u, v) = rows[pick], columns[pick], rng.uniform(0, 1, (2, n, 1))  # between the mesh's places, or they would stand in file
        i, j = np.minimum(i, at.shape[0] - 2), np.minimum(j, at.shape[1] - 2)
        root = (at[i, j] * (1 - u) + at[i, j + 1] * u) * (1 - v) + (at[i + 1, j] * (1 - u) + at[i + 1, j + 1] * u) * v
        normal, s, sway = _unit(root - (0, 0.22, 0.10)), np.sign(root[:, :1]), np.clip(np.abs(root[:, :1]) * 6, 0, 1)
        way = (
            np.concatenate([aside * s * (1 if aside > 0.3 else sway), 1 + 0 * s, 0 * s], 1) + normal * out + rng.normal(0, 0.10, root.shape)
        )
        way = _unit(way - normal * np.minimum((way * normal).sum(1, keepdims=True), 0))
        own = (reach * rng.uniform(0.6, 1.25, n))[:, None, None]
        if reach > 0.1:  # a long beard is short on the cheeks
            low, front = np.clip((root[:, 1] - ny) / (cy - ny - 0.03), 0, 1) ** 1.5, np.clip((root[:, 2] - 0.10) / 0.18, 0, 1)
            own *= (0.20 + 0.80 * low * front)[:, None, None]
        bend = np.concatenate([-0.18 * s * sway, 0.25 + 0 * s, 0 * s], 1)[:, None]
        line = (root + normal * 0.006)[:, None] + way[:, None] * own * t + bend * own * t**2
        for strokes, cut, wide, tone in ((under, np.s_[::2], width, 0.40), (fine, np.s_[1::2], width * 0.38, 0.54)):
            strokes.add(line[cut], _taper(4, np.full(len(line[cut]), wide), 0.7), tone + 0.13 * rng.uniform(-1, 1, len(line[cut])))

    if kind == "stubble":
        grown(np.maximum(mask, stache), 1500, 0.010, 0.0016, 0.10, 0.34)
        return 0.42 * np.maximum(mask, stache), under, fine
    n, reach, out = {
        "beard": (1500, 0.052, 0.34),
        "long beard": (1900, 0.32, 0.16),
        "goatee": (500, 0.075, 0.30),
        "sideburns": (500, 0.030, 0.30),
    }.get(kind, (0, 0, 0))
    if n:
        grown(mask, n, reach, 0.0034, 0.10, out)
    if kind != "sideburns":
        grown(stache, 420, 0.046, 0.0028, 1.15, 0.22)
    return np.maximum(mask, 0 * stache if kind == "sideburns" else stache), under, fine
