"""What places are built with: a coordinate frame, sky, ground, leaves and lamps.

Place coordinates: x 0…1 over the width of a 4:5 picture, y 0…1.25 down, feet at about 1.12. A place may
draw beyond that frame, for wider pictures. Depth runs from 0 (near) to 1 (far).
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.items import DisplayList, Item, Lamp, Mark
from mosskeeper.core.illustrator.shapes import (
    Points,
    ellipse,
    normals,
    point,
    points,
    rectangle,
    ribbon,
    spline,
    taper,
    to_path,
    wobble,
)
from mosskeeper.core.illustrator.vocabulary.colours import Rgb, rgb
from mosskeeper.core.illustrator.vocabulary.light import Light

Outlines = Points | Iterable[Points]


def dot(rng: np.random.Generator, x: tuple[float, float], y: tuple[float, float], radius: tuple[float, float]) -> Points:
    r = rng.uniform(*radius)
    return ellipse((rng.uniform(*x), rng.uniform(*y)), r, r, n=6)


def _blades(centre: Points, wide: float, high: float, leaf: float, drawn: Points) -> Points:
    """(n, 6, 2): outlines of leaves on a ring. drawn : of each where on the ring (radians), how far out, how turned, how long."""
    t, q, turn, long = drawn.T
    p = centre + np.stack([np.cos(t) * wide * q, np.sin(t) * high * q], 1)
    angle = t + turn * 0.6
    d = np.stack([np.cos(angle), np.sin(angle)], 1) * (leaf * long)[:, None]
    m = np.stack([-d[:, 1], d[:, 0]], 1)
    return np.stack([p - d, p - d * 0.2 + m * 0.42, p + d * 0.5 + m * 0.25, p + d * 1.1, p + d * 0.4 - m * 0.28, p - d * 0.2 - m * 0.42], 1)


class PlaceFrame:
    """The frame a place is built in.

    `zoom` magnifies about `centre`, as a longer lens would; `detailed` False is for thumbnails, which
    get fewer leaves. `own_disc` False leaves out the sun or moon that the place would have. `tones` are colours that
    the ground is given from far to near, `roughed` the kinds of shapes that a board puts into it, `cleared` the boxes
    (shares of width and height) in which people stand for whom room is made.
    """

    def __init__(
        self,
        display: DisplayList,
        light: Light,
        zoom: float,
        centre: tuple[float, float],
        seed: int,
        detailed: bool,
        own_disc: bool = True,
        tones: tuple[Rgb, ...] = (),
        roughed: frozenset[str] = frozenset(),
        cleared: tuple[tuple[float, float, float, float], ...] = (),
    ) -> None:
        self.own_disc, self.tones, self.roughed = own_disc, tones, roughed
        self.display, self.light, self.zoom, self.centre = display, light, zoom, point(*centre)
        self.rng = np.random.default_rng(seed)
        self.detailed = detailed
        (w, h), (left, top, _, _) = display.canvas.size, display.canvas.wider
        self.unit = max(w, h / 1.25)  # pixels of one place unit: covers any aspect
        self.middle = point(left + 0.5 * w, top + 0.5 * h)
        corners = np.array(cleared, float).reshape(-1, 2, 2) * (w, h) + (left, top)
        self.cleared = self.placed(corners).reshape(-1, 4)

    def taken(self, x0: float, y0: float, x1: float, y1: float) -> bool:
        """Whether somebody stands in a box of the place: what can stand elsewhere, or be left out, is not drawn there."""
        return any(x0 < right and x1 > left and y0 < low and y1 > high for left, high, right, low in self.cleared)

    def px(self, p: Points) -> Points:
        return (np.asarray(p, float) - self.centre) * (self.zoom * self.unit) + self.middle

    def placed(self, p: Points) -> Points:
        """Place coordinates of points in px of the canvas."""
        return (np.asarray(p, float) - self.middle) / (self.zoom * self.unit) + self.centre

    def add(self, outlines: Outlines, colour: str | Rgb, part: Part, depth: float, slot: float | None = None, **options: Any) -> Item:
        """Adds an item; without a slot, the farther is painted first."""
        if isinstance(outlines, np.ndarray):
            outlines = [outlines]
        options.setdefault("line", 0.6)
        options.setdefault("drop", 0.5)
        path = to_path(outlines, placed=self.px)
        albedo = rgb(colour) if isinstance(colour, str) else colour
        item = Item(path, albedo, part, depth, 10 + (1 - depth) * 80 if slot is None else slot, **options)
        self.display.items.append(item)
        return item

    def plain(self, outlines: Outlines, colour: str | Rgb, part: Part, depth: float, slot: float | None = None, **options: Any) -> Item:
        return self.add(outlines, colour, part, depth, slot, **({"line": 0.0, "drop": 0.0} | options))

    def mark(self, item: Item, outlines: Outlines, tone: str | Rgb = "shade", alpha: float = 0.5, blur: float = 0.0) -> None:
        if isinstance(outlines, np.ndarray):
            outlines = [outlines]
        if isinstance(tone, str) and tone not in ("shade", "lit", "deep"):
            tone = rgb(tone)
        item.marks.append(Mark(to_path(outlines, placed=self.px), tone, alpha, blur))

    def lamp(self, at: Points, radius: float, colour: str, strength: float) -> None:
        x, y = self.px(at)
        self.display.lamps.append(Lamp(float(x), float(y), radius * self.unit * self.zoom, rgb(colour), strength))

    def bulb(self, at: Points, size: float, depth: float, slot: float, reach: float, strength: float) -> None:
        """A small lamp that is seen: bright by night, plain glass by day."""
        lit = 0.95 if self.light.windows > 0 else 0.25
        self.add(ellipse(at, size, size * 1.2), "ffe2a0", Part.LAMP, depth, slot, emission=lit, drop=0.3)
        if self.light.dark:
            self.lamp(at, reach, "ffbd6a", strength)

    # -- sky and ground ----------------------------------------------------------------------------------

    def sky(self, clouds: bool = True) -> None:
        bands, bottom = 28, 0.66
        for i in range(bands):
            y0 = -0.4 + i * (bottom + 0.4) / bands
            y1 = -0.4 + (i + 1.06) * (bottom + 0.4) / bands + (0.9 if i == bands - 1 else 0)
            self.plain(rectangle(-0.8, y0, 1.8, y1), self.light.sky_at(i / (bands - 1)), Part.SKY, 1.0, i * 0.01, emission=1.0)
        if self.light.background < 0.7:
            self._stars()
        elif self.light.dark and self.own_disc:
            sun = point(0.2 if self.light.direction[0] < 0 else 0.82, 0.50)
            self.plain(ellipse(sun, 0.085, 0.085), "fff0c8", Part.LAMP, 1.0, 0.5, emission=1.0, alpha=0.9)
            self.lamp(sun, 0.6, "ffc58a", 0.75)
        if clouds and "cloud" not in self.roughed:
            for i in range(5):
                self._cloud(i)

    def _stars(self) -> None:
        rng = self.rng
        stars = [dot(rng, (-0.2, 1.2), (-0.2, 0.5), (0.0008, 0.0024)) for _ in range(60)]
        self.plain(stars, "fff6dc", Part.SKY, 1.0, 0.5, emission=1.0, alpha=0.85)
        if not self.own_disc:
            return
        self.plain(ellipse((0.78, 0.16), 0.055, 0.055), "fdf3d0", Part.LAMP, 1.0, 0.5, emission=1.0)
        self.plain(ellipse((0.80, 0.15), 0.048, 0.048), self.light.sky_at(0.1), Part.SKY, 1.0, 0.5, emission=1.0)
        self.lamp(point(0.78, 0.16), 0.35, "b8c8ff", 0.5)

    def _cloud(self, i: int) -> None:
        x, y, s = self.rng.uniform(-0.1, 1.1), self.rng.uniform(-0.02, 0.42), self.rng.uniform(0.08, 0.16)
        puffs = [
            ellipse((x + k * s * 0.55, y - abs(np.cos(k)) * s * 0.12), s * (0.62 - 0.09 * abs(k)), s * (0.22 - 0.03 * abs(k)), n=16)
            for k in (-2, -1, 0, 1, 2)
        ]
        if self.light.background < 0.7:
            colour = self.light.sky_at(0.5) * 1.15
        else:
            colour = (self.light.sky_at(0.5) * 0.35 + self.light.sky_at(1.0) * 0.65) * 0.75 + 0.25
        self.add(puffs, np.clip(colour, 0, 1), Part.SKY, 0.99, 0.6 + i * 0.01, emission=1.0, line=0.0, alpha=0.75)

    def ground(self, y0: float, colour: str, far: float = 0.75, near: float = 0.28, bands: int = 14) -> None:
        for i in range(bands):
            t = i / bands
            depth = far + (near - far) * min(1, t**0.75 * 1.35)
            self.plain(rectangle(-0.9, y0 + (1.85 - y0) * t**1.5, 1.9, 1.85), colour, Part.GROUND, depth, 92 + i * 0.05)

    def water(self, level: float, slot: float, depth: tuple[float, float] = (0.9, 0.35), reach: float = 0.28, tint: str = "4f7f86") -> None:
        """A sheet of water from `level` down, darker towards us, with ripples that hold the sky."""
        far, near = depth
        colour = self.light.sky_at(0.55) * 0.5 + rgb(tint) * 0.5 * np.asarray(self.light.key)
        for i in range(12):
            t = i / 12
            band = rectangle(-0.9, level + reach * t**1.4, 1.9, 1.6)
            self.plain(band, colour * (1 - 0.26 * t), Part.WATER, far + (near - far) * t, slot + i * 0.05, emission=0.6)
        ripples = []
        for _ in range(90):
            x, y, length = self.rng.uniform(-0.4, 1.3), level + reach * 0.9 * self.rng.random() ** 1.2, self.rng.uniform(0.03, 0.14)
            ripples.append(taper([(x, y), (x + length, y + 0.001)], 0.0022 + 0.015 * (y - level)))
        middle = (far + near) / 2
        self.plain(ripples[::2], self.light.sky_at(1.0), Part.WATER, middle, slot + 1, emission=0.8, alpha=0.55, labelled=False)
        self.plain(ripples[1::2], colour * 0.6, Part.WATER, middle, slot + 1, emission=0.6, alpha=0.5, labelled=False)

    def haze(self, heights: tuple[tuple[float, float], ...], slot: float) -> None:
        """Banks of mist at the given (height, alpha)."""
        for y, alpha in heights:
            bank = wobble(ellipse((0.5 + self.rng.uniform(-0.2, 0.2), y), 0.85, 0.05, 0, 40), 0.02, self.rng)
            self.plain(bank, self.light.fog, Part.WATER, 0.7, slot, emission=1.0, alpha=alpha, blur=15.0, labelled=False)

    # -- plants ------------------------------------------------------------------------------------------

    def leaves(
        self,
        centre: Points,
        radius: float,
        colour: str | Rgb,
        depth: float,
        n: int = 26,
        slot: float | None = None,
        stretch: float = 1.0,
        leaf: float = 0.018,
        **options: Any,
    ) -> Item:
        """A clump of leaves with a ragged edge."""
        rng = self.rng
        n = n if self.detailed else n // 3
        clumps = [
            ellipse(
                centre + point(rng.uniform(-0.5, 0.5) * radius * stretch, rng.uniform(-0.4, 0.4) * radius),
                radius * stretch * 0.62,
                radius * 0.55,
                n=16,
            )
            for _ in range(4)
        ]
        drawn = [(rng.uniform(0, 2 * np.pi), rng.uniform(0.55, 1.08), rng.normal(), rng.uniform(0.7, 1.4)) for _ in range(n)]
        blades = _blades(centre, radius * stretch, radius, leaf, np.array(drawn).reshape(-1, 4))
        options.setdefault("shade", 0.5)
        options.setdefault("line", 0.4)
        item = self.add([*clumps, *blades], colour, Part.FOLIAGE, depth, slot, **options)
        if self.detailed:
            strokes = []
            for _ in range(n):
                p = centre + point(rng.normal() * radius * stretch * 0.5, rng.normal() * radius * 0.45)
                angle, length = rng.uniform(-0.9, 0.9) - np.pi / 2, leaf * rng.uniform(0.6, 1.2)
                strokes.append(taper([p, p + point(np.cos(angle), np.sin(angle)) * length * 1.5], length * 0.36))
            self.mark(item, strokes[::2], "lit", 0.6)
            self.mark(item, strokes[1::2], "shade", 0.8)
        return item

    def frond(
        self,
        root: Points,
        angle: float,
        length: float,
        colour: str | Rgb,
        depth: float,
        slot: float | None = None,
        curl: float = 0.9,
        n: int = 15,
        width: float = 0.24,
        **options: Any,
    ) -> Item:
        """A fern frond: a bending stem with paired leaflets."""
        n = n if self.detailed else max(5, n // 2)
        t = np.linspace(0, 1, n + 1)
        bend = angle + curl * t**1.5 * np.sign(np.cos(angle) + 1e-3)
        steps = np.stack([np.cos(bend), np.sin(bend)], 1) * length / n
        stem = np.vstack([root, root + np.cumsum(steps, 0)])
        outlines = [ribbon(stem[::3], [length * 0.012, length * 0.004])]
        across = normals(stem)
        i = np.arange(1, n + 1)
        reach = (length * width * np.sin(np.pi * np.minimum(1.0, 0.12 + 0.9 * i / n)) ** 0.8 * (1 - 0.3 * i / n))[:, None, None]
        sides = np.array([-1.0, 1.0])[:, None]
        d = across[1 : n + 1, None] * sides * 0.85 + steps[1 : n + 1, None] / (length / n) * 0.55  # (n, 2, 2): of each pair
        root_of = np.broadcast_to(stem[1 : n + 1, None], d.shape)
        tip = root_of + d * reach + reach * (0, 0.18)
        m = np.stack([-d[..., 1], d[..., 0]], -1) * reach * 0.15
        leaflets = np.stack([root_of, root_of * 0.55 + tip * 0.45 + m, tip, root_of * 0.55 + tip * 0.45 - m], 2)
        outlines += list(leaflets.reshape(-1, 4, 2))
        options.setdefault("line", 0.3)
        item = self.add(outlines, colour, Part.FOLIAGE, depth, slot, **options)
        self.mark(item, ribbon(stem[::3], [length * 0.010, length * 0.003]), "lit", 0.8)
        return item

    def near_fronds(self, colour: str = "234a3f") -> None:
        """Dark ferns at the lower corners, in front of everything: they give the picture its depth."""
        base = rgb(colour)
        left, right = self.taken(-0.1, 0.92, 0.36, 1.3), self.taken(0.72, 0.94, 1.1, 1.3)
        for i in range(0 if left else 4):
            self.frond(
                point(-0.06 + 0.03 * i, 1.30), -1.25 + i * 0.16, 0.42, base * (0.9 + 0.12 * i), 0.06, 205 + i, 1.0, 13, 0.22, drop=1.6
            )
        for i in range(0 if right else 3):
            self.frond(
                point(1.06 - 0.02 * i, 1.32), -1.9 - i * 0.16, 0.36, base * (0.85 + 0.12 * i), 0.06, 205 + i, 1.0, 12, 0.22, drop=1.6
            )

    def pot(self, x: float, y: float, w: float, colour: str, depth: float, slot: float) -> None:
        outline = points((x - w * 0.5, y - 0.12), (x + w * 0.5, y - 0.12), (x + w * 0.40, y + 0.06), (x - w * 0.40, y + 0.06))
        item = self.add(spline(outline, True, 4), colour, Part.STRUCTURE, depth, slot, shade=0.6, line=0.8, drop=1.0)
        self.mark(item, rectangle(x - w, y - 0.115, x + w, y - 0.09), "lit", 0.5)
