"""Hair styles seen from the side. A style is one entry in `SIDES`: measures of one head of hair.

Coordinates are those of `Figure.on_side`: x from the back of the skull (−) to the nose (+), y down, the head 1 high.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from mosskeeper.core.illustrator.figure import DrawnFigure
from mosskeeper.core.illustrator.locks import Hair, HairLayer, Strand, combed, curl, lock, plait
from mosskeeper.core.illustrator.shapes import Points, ellipse, points, spline

Curve = tuple[tuple[float, float], ...]


@dataclass(frozen=True, slots=True)
class Side:
    volume: float = 0.02  # above the skull
    low: float = 0.24  # where the hair ends at the nape
    brow: float | None = None  # how low a fringe hangs over the forehead
    ear: bool = False  # hair hangs over the ear, down to `low`
    hanging: float = 0.0  # length of loose hair, 0 none
    wave: float = 0.03
    knot: tuple[float, float, float] | None = None  # x, y, radius
    tail: Curve = ()
    braid: Curve = ()
    braid_width: float = 1.0
    curls: float = 0.0  # radius
    back: float = 0.0  # how far the hairline lies back
    tufts: bool = False
    ridge: float = 0.0  # height of hair that stands along the middle of the skull


SIDES: dict[str, Side] = {
    "cropped": Side(volume=0.03, tufts=True),
    "bob": Side(volume=0.03, low=0.46, brow=-0.14, ear=True),
    "long straight": Side(hanging=1.5, ear=True, low=0.30),
    "long wavy": Side(hanging=1.45, ear=True, low=0.30, wave=0.085),
    "bun": Side(volume=0.0, knot=(-0.36, -0.68, 0.23)),
    "ponytail": Side(volume=0.0, tail=((-0.44, -0.42), (-0.78, -0.42), (-0.86, 0.0), (-0.78, 0.45), (-0.84, 0.95))),
    "curls": Side(volume=0.07, low=0.34, curls=0.125),
    "short curls": Side(volume=0.0, low=0.22, curls=0.085),
    "braid": Side(braid=((-0.40, 0.18), (-0.46, 0.48), (-0.40, 0.82), (-0.34, 1.15), (-0.36, 1.42))),
    "two braids": Side(braid=((-0.16, 0.24), (-0.14, 0.52), (-0.10, 0.82), (-0.14, 1.15)), braid_width=0.84),
    "crown braid": Side(volume=0.0, braid=((0.24, -0.50), (0.02, -0.61), (-0.26, -0.55), (-0.46, -0.34), (-0.50, -0.08)), braid_width=0.9),
    "low bun": Side(volume=0.0, knot=(-0.54, 0.18, 0.19)),
    "long with fringe": Side(hanging=1.5, ear=True, low=0.30, brow=-0.14),
    "pixie": Side(low=0.26, brow=-0.17, tufts=True),
    "shaved": Side(volume=-0.045, low=0.16),
    "receding": Side(volume=-0.02, low=0.22, back=0.26),
}


def build(f: DrawnFigure, more: Mapping[str, Side]) -> Hair:
    """The hair of a head in profile, in its own coordinates. more : sides of further styles."""
    if f.is_.hair == "bald":
        return Hair()
    style, rng = SIDES.get(f.is_.hair) or more.get(f.is_.hair, Side()), f.rng
    made = Hair(front=HairLayer([_cap(style)], _combing(style, rng)))
    if style.tufts:
        for x, y, lean in ((0.22, -0.58, 0.14), (0.06, -0.66, 0.13), (-0.12, -0.66, 0.10), (-0.28, -0.60, 0.05)):
            made.front.outlines.append(lock([(x - 0.12, -0.40), (x, y * 0.94), (x + lean, y - 0.03)], [0.11, 0.08, 0.0]))
    if style.ridge:
        _stand(made, style.ridge)
    if style.brow is not None:
        made.front.outlines.append(lock([(0.02, -0.54), (0.28, -0.42), (0.40, -0.26), (0.41, style.brow)], [0.06, 0.11, 0.075, 0.01]))
    if style.ear:
        made.front.outlines.append(lock([(0.05, -0.36), (0.04, -0.05), (-0.04, 0.20), (-0.06, style.low)], [0.10, 0.10, 0.085, 0.02]))
    if style.hanging:
        _hang(made, style)
    _tied(made, style)
    if style.braid:
        woven = plait(style.braid, style.braid_width)
        if style.braid[-1][1] > 0.5:
            made.over = woven
        else:
            made.crown = woven
            made.front.outlines += woven.outlines
            made.front.strands += woven.strands
    if style.curls:
        _curl(made, style, rng)
    return made


def _cap(style: Side) -> Points:
    """Hair over the skull, from the hairline over the temple, round the ear and down to the nape."""
    v, b = style.volume, style.back
    hairline = [
        (0.33 - b * 1.2, -0.36 - b * 0.35),
        (0.25 - b, -0.22 - b * 0.3),
        (0.13 - b * 0.5, -0.14),
        (0.06, 0.0),
        (0.00, 0.02),
        (-0.10, -0.02),
        (-0.155, 0.08),
        (-0.17, 0.18),
        (-0.24, style.low),
    ]
    skull = [
        (-0.36, style.low + 0.02),
        (-0.47 - v * 0.4, 0.10),
        (-0.545 - v, -0.14),
        (-0.50 - v, -0.34),
        (-0.34 - v * 0.7, -0.53 - v * 0.8),
        (-0.08, -0.60 - v),
        (0.17, -0.55 - v),
        (0.33 - b, -0.43 - v * 0.6 - b * 0.4),
    ]
    return spline(np.array(hairline + skull), True, 5)


def _combing(style: Side, rng: np.random.Generator) -> list[Strand]:
    if style.knot or style.tail:
        to = style.knot[:2] if style.knot else style.tail[0]
        return combed(
            [(0.30, -0.34), (0.10, -0.10), (-0.20, 0.16)], [to, to], [(0.05, -0.48), (-0.16, -0.26), (-0.40, 0.0)], 15, 0.013, rng
        )
    crown = (-0.26, -0.48)
    tips = [(0.33, -0.36), (0.08, -0.04), (-0.20, style.low - 0.04), (-0.42, style.low - 0.06)]
    return combed([crown, crown], tips, [(0.16, -0.52), (-0.04, -0.26), (-0.36, -0.10), (-0.50, -0.20)], 15, 0.013, rng)


def _hang(made: Hair, style: Side) -> None:
    end, wave = style.hanging, style.wave

    def at(x: float, y: float) -> tuple[float, float]:
        return x + wave * np.sin(y * (5 if wave < 0.06 else 8)), y

    back = [
        (-0.20, -0.30),
        (-0.52, -0.2),
        at(-0.62, 0.1),
        at(-0.70, 0.5),
        at(-0.68, 0.9),
        at(-0.66, end - 0.2),
        at(-0.50, end),
        at(-0.34, end - 0.12),
        at(-0.22, end + 0.02),
        at(-0.10, end - 0.3),
        at(-0.05, 0.8),
        at(-0.10, 0.4),
    ]
    strands = [
        (points((x * 0.7 - 0.1, -0.2), at(x, 0.3), at(x, 0.8), at(x * 0.95, end - 0.1)), 0.018) for x in np.linspace(-0.62, -0.16, 9)
    ]
    made.back = HairLayer([spline(np.array(back))], strands)
    # what falls behind the ear lies over the skull and the shoulder
    made.front.outlines.append(
        spline(
            np.array(
                [
                    (-0.10, -0.05),
                    (-0.16, 0.2),
                    at(-0.18, 0.55),
                    at(-0.26, 0.95),
                    at(-0.44, 0.8),
                    at(-0.60, 0.45),
                    (-0.56, 0.0),
                    (-0.3, -0.2),
                ]
            )
        )
    )
    made.front.strands += [(points((x * 0.7, -0.1), at(x, 0.2), at(x * 1.05 - 0.03, 0.7)), 0.014) for x in np.linspace(-0.52, -0.22, 6)]


def _tied(made: Hair, style: Side) -> None:
    """A knot and a tail."""
    if style.knot:
        _knot(made, *style.knot)
    if style.tail:
        made.back.outlines.append(lock(style.tail, [0.08, 0.13, 0.17, 0.16, 0.0]))
        made.back.strands += [(np.array(style.tail) + (k, 0), 0.015) for k in (-0.07, -0.02, 0.04, 0.09)]
        made.front.outlines.append(ellipse((-0.47, -0.40), 0.07, 0.10, 0.5))


def _stand(made: Hair, height: float) -> None:
    """Spikes from the forehead over the crown to the nape."""
    for a in np.linspace(0.75, -2.1, 12):
        out = np.array([np.sin(a), -np.cos(a)])
        foot = np.array([-0.08, -0.10]) + out * (0.42, 0.44)
        made.front.outlines.append(lock([foot, foot + out * height * 0.55, foot + out * height + (0.03, 0)], [0.10, 0.085, 0.0]))
        made.front.strands.append((np.array([foot, foot + out * height * 0.9]), 0.012))


def _knot(made: Hair, x: float, y: float, r: float) -> None:
    t = np.linspace(0, 6.28, 9)
    turns = [
        (
            points(
                (x + r * 0.9 * np.cos(a), y + r * 0.8 * np.sin(a)), (x + r * 0.5 * np.cos(a + 0.9), y + r * 0.45 * np.sin(a + 0.9)), (x, y)
            ),
            0.014,
        )
        for a in t
    ]
    made.crown = HairLayer([ellipse((x, y), r, r * 0.88, 0, 28)], turns)


def _curl(made: Hair, style: Side, rng: np.random.Generator) -> None:
    r = style.curls
    around = np.array(
        [
            (0.30, -0.42),
            (0.16, -0.56),
            (-0.02, -0.62),
            (-0.22, -0.60),
            (-0.40, -0.48),
            (-0.52, -0.30),
            (-0.56, -0.08),
            (-0.50, 0.12),
            (-0.38, style.low),
        ]
    ) * (1 + style.volume, 1 + style.volume)
    for x, y in around:
        made.front.outlines.append(ellipse((x, y), r * rng.uniform(0.85, 1.15), r * rng.uniform(0.85, 1.15), n=14))
    inner = [(0.22, -0.30), (0.10, -0.14), (0.03, 0.0), (-0.14, 0.10), (-0.22, 0.22)]
    made.front.outlines += [ellipse(p, r * 0.8, r * 0.8, n=14) for p in inner]
    made.front.strands = [curl((x, y), r * 0.6, rng.uniform(0, 6)) for x, y in around] + [
        curl((x, y), r * 0.55, rng.uniform(0, 6)) for x, y in rng.uniform((-0.45, -0.5), (0.15, 0.05), (14, 2))
    ]
