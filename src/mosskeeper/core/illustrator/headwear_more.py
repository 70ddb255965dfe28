"""Further headwear, which somebody wears only where words name it: crowns, helmets, hats of trades and tales."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.figure import Colour, DrawnFigure
from mosskeeper.core.illustrator.items import Item
from mosskeeper.core.illustrator.objects.drawn_object import tone_of
from mosskeeper.core.illustrator.shapes import ellipse, ribbon, spline, taper
from mosskeeper.core.illustrator.vocabulary.colours import rgb

_GOLD, _STEEL, _STRAW, _FELT, _LINEN = "d8a83a", "9aa2aa", "d9b870", "3a3438", "f2eee4"
Place = tuple[float, float]  # head coordinates: x to the side, y down, the head 1 high


def _blob(f: DrawnFigure, places: list[Place], colour: Colour, slot: float = 164, shade: float = 0.6, corners: bool = False) -> Item:
    outline = f.on_head(places) if corners else spline(f.on_head(places))
    return f.add(outline, tone_of(colour), Part.HEADWEAR, slot, shade=shade, drop=0.6)


def _own(f: DrawnFigure, usual: str) -> Colour:
    """The colour that words give to what is worn on the head, else its usual one."""
    return f.tinted("hat", rgb(usual))


def _dome(low: float, height: float, spread: float = 0.0) -> list[Place]:
    w = 0.50 + spread
    return [
        (-w, low),
        (-w + 0.01, low - 0.16),
        (-0.36, low - height * 0.72),
        (-0.15, low - height),
        (0.15, low - height),
        (0.36, low - height * 0.72),
        (w - 0.01, low - 0.16),
        (w, low),
    ]


def _brim(f: DrawnFigure, colour: Colour, wide: float, y: float = -0.18, droop: float = 0.0) -> Item:
    turn = f.turn * 0.05
    places = [
        (-wide, y + 0.02 + droop),
        (-0.55, y - 0.11),
        (0, y - 0.15),
        (0.55, y - 0.11),
        (wide, y + 0.02 + droop),
        (0.50 + turn, y + 0.12),
        (turn, y + 0.16),
        (-0.50 + turn, y + 0.12),
    ]
    return _blob(f, places, colour, 163, 0.4)


def _band(f: DrawnFigure, on: Item, y: float, colour: Colour, half: float = 0.045) -> None:
    f.mark(on, ribbon(f.on_head([(-0.6, y - 0.06), (0, y), (0.6, y - 0.06)]), [half] * 3), tone_of(colour), 0.95, vital=True)


def crown(f: DrawnFigure) -> None:
    gold = _own(f, _GOLD)
    tips = [(-0.44, -0.62), (-0.22, -0.50), (0.0, -0.72), (0.22, -0.50), (0.44, -0.62)]
    item = _blob(f, [(-0.46, -0.22), *tips, (0.46, -0.22), (0.0, -0.16)], gold, shade=0.6, corners=True)
    _band(f, item, -0.22, f.shaded(gold, 0.8))
    for x, y in (tips[0], tips[2], tips[4]):
        f.plain(ellipse(f.on_head((x, y))[0], 0.045, 0.045, n=12), rgb("f4e6b0"), Part.HEADWEAR, 164.5)
    for x, tone in ((-0.25, "b8323a"), (0.0, "3f6fa8"), (0.25, "b8323a")):
        f.plain(ellipse(f.on_head((x, -0.30 - 0.03 * (x == 0)))[0], 0.04, 0.04, n=12), rgb(tone), Part.HEADWEAR, 164.5)


def tiara(f: DrawnFigure) -> None:
    item = _blob(
        f, [(-0.40, -0.28), (-0.2, -0.42), (0, -0.60), (0.2, -0.42), (0.40, -0.28), (0, -0.34)], _own(f, "d8dce4"), shade=0.3, corners=True
    )
    f.mark(item, ellipse(f.on_head((0, -0.44))[0], 0.04, 0.05), rgb("7fb0d8"), 1.0, vital=True)


def top_hat(f: DrawnFigure) -> None:
    felt = _own(f, _FELT)
    _brim(f, f.shaded(felt, 0.85), 0.66)
    item = _blob(f, [(-0.44, -0.22), (-0.46, -0.95), (-0.2, -1.0), (0.2, -1.0), (0.46, -0.95), (0.44, -0.22), (0, -0.17)], felt, shade=0.7)
    _band(f, item, -0.28, f.is_.colour_b)  # type: ignore[arg-type]


def bowler(f: DrawnFigure) -> None:
    felt = _own(f, _FELT)
    _brim(f, f.shaded(felt, 0.85), 0.62)
    item = _blob(f, _dome(-0.20, 0.52, -0.04), felt, shade=0.7)
    _band(f, item, -0.24, f.shaded(felt, 0.6))


def straw_hat(f: DrawnFigure) -> None:
    straw = _own(f, _STRAW)
    brim = _brim(f, f.shaded(straw, 0.92), 0.88)
    f.mark(brim, (taper(f.on_head([(x * 0.5, -0.22), (x, -0.10)]), 0.010) for x in np.linspace(-0.85, 0.85, 12)), "shade", 0.5)
    item = _blob(f, _dome(-0.20, 0.48, -0.05), straw, shade=0.6)
    _band(f, item, -0.27, f.is_.colour_b)  # type: ignore[arg-type]


def cowboy_hat(f: DrawnFigure) -> None:
    felt = _own(f, "7a5236")
    turn = f.turn * 0.05
    _blob(
        f,
        [(-0.90, -0.42), (-0.6, -0.24), (0, -0.20), (0.6, -0.24), (0.90, -0.42), (0.62, -0.10), (turn, -0.02), (-0.62, -0.10)],
        f.shaded(felt, 0.88),
        163,
        0.4,
    )
    item = _blob(
        f,
        [(-0.42, -0.18), (-0.40, -0.66), (-0.22, -0.74), (0, -0.66), (0.22, -0.74), (0.40, -0.66), (0.42, -0.18), (0, -0.13)],
        felt,
        shade=0.7,
    )
    _band(f, item, -0.26, rgb("3a2a22"))


def pointed_hat(f: DrawnFigure) -> None:
    felt = _own(f, "3a3348")
    _brim(f, f.shaded(felt, 0.85), 0.84, droop=0.02)
    item = _blob(
        f,
        [
            (-0.44, -0.20),
            (-0.30, -0.62),
            (-0.10, -1.00),
            (0.16, -1.32),
            (0.24, -1.22),
            (0.14, -0.95),
            (0.30, -0.60),
            (0.44, -0.20),
            (0, -0.15),
        ],
        felt,
        shade=0.7,
    )
    _band(f, item, -0.28, f.is_.colour_b)  # type: ignore[arg-type]
    f.mark(
        item,
        (
            taper(f.on_head([(-0.12, -0.86), (0.05, -0.80), (0.18, -0.88)]), 0.02),
            taper(f.on_head([(0.0, -1.08), (0.12, -1.05), (0.2, -1.1)]), 0.02),
        ),
        "shade",
        0.7,
    )


def tricorn(f: DrawnFigure) -> None:
    felt = _own(f, "3a3034")
    _blob(f, _dome(-0.20, 0.42, -0.05), felt)
    item = _blob(
        f,
        [
            (-0.72, -0.20),
            (-0.62, -0.52),
            (-0.25, -0.38),
            (0, -0.44),
            (0.25, -0.38),
            (0.62, -0.52),
            (0.72, -0.20),
            (0.3, -0.14),
            (0, -0.24),
            (-0.3, -0.14),
        ],
        f.shaded(felt, 1.15),
        165,
        0.5,
    )
    f.mark(
        item,
        ribbon(f.on_head([(-0.70, -0.22), (-0.3, -0.17), (0, -0.27), (0.3, -0.17), (0.70, -0.22)]), [0.022] * 5),
        rgb(_GOLD),
        0.9,
        vital=True,
    )


def beret(f: DrawnFigure) -> None:
    felt = _own(f, "8a2f3a")
    item = _blob(
        f, [(-0.46, -0.26), (-0.64, -0.46), (-0.40, -0.66), (0.10, -0.70), (0.46, -0.52), (0.46, -0.26), (0, -0.20)], felt, shade=0.6
    )
    _band(f, item, -0.22, f.shaded(felt, 0.75), 0.035)
    f.add(ribbon(f.on_head([(-0.05, -0.66), (-0.03, -0.76)]), [0.02, 0.015]), tone_of(felt), Part.HEADWEAR, 164.2, shade=0.2)


def helmet(f: DrawnFigure) -> None:
    steel = _own(f, _STEEL)
    item = _blob(
        f,
        [
            (-0.54, 0.10),
            (-0.53, -0.22),
            (-0.40, -0.60),
            (-0.12, -0.74),
            (0.12, -0.74),
            (0.40, -0.60),
            (0.53, -0.22),
            (0.54, 0.10),
            (0.42, 0.14),
            (0.38, -0.22),
            (0, -0.28),
            (-0.38, -0.22),
            (-0.42, 0.14),
        ],
        steel,
        165,
        0.8,
    )
    f.mark(item, ribbon(f.on_head([(0, -0.76), (f.turn * 0.03, -0.26)]), [0.05] * 2), "lit", 0.7)
    for x in np.linspace(-0.36, 0.36, 7):
        f.plain(ellipse(f.on_head((x, -0.30))[0], 0.018, 0.018, n=8), rgb("5f656c"), Part.HEADWEAR, 165.2)
    _blob(
        f,
        [(f.turn * 0.10 - 0.045, -0.28), (f.turn * 0.10 + 0.045, -0.28), (f.turn * 0.12 + 0.03, 0.05), (f.turn * 0.12 - 0.03, 0.05)],
        f.shaded(steel, 0.9),
        166,
        0.4,
    )


def turban(f: DrawnFigure) -> None:
    cloth = _own(f, "c8702f")
    item = _blob(
        f,
        [
            (-0.52, -0.14),
            (-0.60, -0.42),
            (-0.36, -0.70),
            (0, -0.78),
            (0.36, -0.70),
            (0.60, -0.42),
            (0.52, -0.14),
            (0.2, -0.30),
            (0, -0.38),
            (-0.2, -0.30),
        ],
        cloth,
        shade=0.7,
    )
    f.mark(
        item,
        (
            taper(f.on_head([(s * 0.55, -0.22 - 0.12 * k), (s * 0.1, -0.42 - 0.11 * k), (-s * 0.35, -0.62 - 0.05 * k)]), 0.02)
            for k in range(3)
            for s in (-1, 1)
        ),
        "shade",
        0.6,
    )
    f.plain(ellipse(f.on_head((0, -0.44))[0], 0.05, 0.06, n=12), rgb("4f8ab8"), Part.HEADWEAR, 164.5)


def bonnet(f: DrawnFigure) -> None:
    cloth = _own(f, _LINEN)
    inner = [(0.36, 0.20), (0.365, -0.10), (0.26, -0.27), (0, -0.33), (-0.26, -0.27), (-0.365, -0.10), (-0.36, 0.20)]
    item = f.add(
        spline(f.on_head([*_dome(0.20, 0.90, 0.10), (0.44, 0.30), *inner, (-0.44, 0.30)]), True, 5),
        tone_of(cloth),
        Part.HEADWEAR,
        164,
        shade=0.6,
    )
    f.mark(
        item,
        (
            taper(f.on_head([(np.sin(a) * 0.40, -0.05 - np.cos(a) * 0.30), (np.sin(a) * 0.56, -0.05 - np.cos(a) * 0.50)]), 0.018)
            for a in np.linspace(-1.3, 1.3, 9)
        ),
        "shade",
        0.5,
    )
    for s in (-1, 1):
        f.add(
            ribbon(f.on_head([(s * 0.42, 0.25), (s * 0.2, 0.52), (s * 0.08, 0.62)]), [0.02, 0.025, 0.03]),
            tone_of(cloth),
            Part.HEADWEAR,
            164.5,
            shade=0.3,
        )


def flower_crown(f: DrawnFigure) -> None:
    f.add(
        ribbon(f.on_head([(-0.48, -0.16), (-0.25, -0.30), (0, -0.34), (0.25, -0.30), (0.48, -0.16)]), [0.04] * 5),
        rgb("5f8a45"),
        Part.HEADWEAR,
        164,
        shade=0.4,
    )
    for k, x in enumerate(np.linspace(-0.44, 0.44, 7)):
        c = f.on_head((x, -0.33 + 0.7 * x * x))[0]
        colour = f.tinted("hat", rgb(("d84a5a", "f0e8dc", "e0b03a", "b87fc8")[k % 4]))
        f.add(
            [ellipse(c + 0.055 * np.array([np.cos(a), np.sin(a)]), 0.05, 0.04, a, 10) for a in np.linspace(0, 5.03, 5)],
            colour,
            Part.HEADWEAR,
            164.2,
            shade=0.3,
            drop=0.3,
        )
        f.plain(ellipse(c, 0.03, 0.03, n=10), rgb("e8c04a"), Part.HEADWEAR, 164.4)


def chef_hat(f: DrawnFigure) -> None:
    white = _own(f, _LINEN)
    _blob(
        f,
        [(-0.46, -0.50), (-0.62, -0.80), (-0.42, -1.06), (-0.12, -1.14), (0.18, -1.14), (0.46, -1.04), (0.62, -0.78), (0.46, -0.50)],
        white,
        164,
        0.7,
    )
    item = _blob(
        f, [(-0.47, -0.20), (-0.46, -0.55), (0.46, -0.55), (0.47, -0.20), (0, -0.15)], f.shaded(white, 0.97), 165, 0.4, corners=True
    )
    f.mark(item, (taper(f.on_head([(x, -0.22), (x, -0.54)]), 0.010) for x in np.linspace(-0.36, 0.36, 6)), "shade", 0.5)


def hair_bow(f: DrawnFigure) -> None:
    cloth = _own(f, "b8323a")
    for s in (-1, 1):
        _blob(f, [(0.28, -0.50), (0.28 + s * 0.26, -0.66), (0.28 + s * 0.28, -0.38)], cloth, 165, 0.4)
    f.add(ellipse(f.on_head((0.28, -0.51))[0], 0.06, 0.07), tone_of(cloth), Part.HEADWEAR, 165.2, shade=0.3)


def hair_band(f: DrawnFigure) -> None:
    f.add(
        ribbon(f.on_head([(-0.47, -0.10), (-0.30, -0.34), (0, -0.42), (0.30, -0.34), (0.47, -0.10)]), [0.05] * 5),
        _own(f, "7a4a8a"),
        Part.HEADWEAR,
        164,
        shade=0.4,
    )


def horns(f: DrawnFigure) -> None:
    for s in (-1, 1):
        f.add(
            ribbon(f.on_head([(s * 0.28, -0.44), (s * 0.50, -0.66), (s * 0.44, -0.98)]), [0.10, 0.07, 0.012]),
            _own(f, "5a4438"),
            Part.HEADWEAR,
            164,
            shade=0.5,
        )


def antlers(f: DrawnFigure) -> None:
    for s in (-1, 1):
        f.add(
            ribbon(f.on_head([(s * 0.22, -0.46), (s * 0.46, -0.82), (s * 0.40, -1.22)]), [0.055, 0.045, 0.012]),
            _own(f, "a8845c"),
            Part.HEADWEAR,
            164,
            shade=0.5,
        )
        for t, reach in ((-0.72, 0.30), (-0.95, 0.26)):
            f.add(
                ribbon(f.on_head([(s * 0.43, t), (s * (0.43 + reach), t - 0.22)]), [0.04, 0.01]),
                _own(f, "a8845c"),
                Part.HEADWEAR,
                164.1,
                shade=0.4,
            )


def halo(f: DrawnFigure) -> None:
    c = f.on_head((0, -0.72))[0]
    f.add(
        [ellipse(c, 0.46, 0.13, n=40), ellipse(c, 0.39, 0.09, n=40)[::-1]],
        rgb("ffe48a"),
        Part.HEADWEAR,
        166,
        shade=0.0,
        emission=0.8,
        drop=0.0,
    )


def headphones(f: DrawnFigure) -> None:
    colour = _own(f, "34363c")
    over = (
        [(-0.02, -0.05), (0.0, -0.45), (0.02, -0.64)]
        if f.profile
        else [(-0.50, -0.05), (-0.42, -0.45), (0, -0.66), (0.42, -0.45), (0.50, -0.05)]
    )
    f.add(ribbon(f.on_side(over) if f.profile else f.on_head(over), [0.035] * len(over)), colour, Part.HEADWEAR, 165, shade=0.3)
    cups = f.on_side([(-0.02, 0.05)]) if f.profile else f.on_head([(-0.49, 0.05), (0.49, 0.05)])
    for cup in cups:
        f.add(ellipse(cup, 0.10, 0.15), colour, Part.HEADWEAR, 165.5, shade=0.5)


MORE: dict[str, Callable[[DrawnFigure], None]] = {
    "crown": crown, "tiara": tiara, "top hat": top_hat, "bowler": bowler, "straw hat": straw_hat, "cowboy hat": cowboy_hat,
    "pointed hat": pointed_hat, "tricorn": tricorn, "beret": beret, "helmet": helmet, "turban": turban, "bonnet": bonnet,
    "flower crown": flower_crown, "chef's hat": chef_hat, "hair bow": hair_bow, "hair band": hair_band, "horns": horns,
    "antlers": antlers, "halo": halo, "headphones": headphones,
}  # fmt: skip
CROWN = {"crown": 0.25, "tiara": 0.1, "top hat": 0.55, "bowler": 0.2, "straw hat": 0.2, "cowboy hat": 0.3, "pointed hat": 0.85, "tricorn": 0.15, "beret": 0.2, "helmet": 0.25, "turban": 0.3, "bonnet": 0.25, "chef's hat": 0.65, "horns": 0.5, "antlers": 0.75, "halo": 0.35, "headphones": 0.2}  # fmt: skip
