"""Small things worn over any outfit. An accessory is a function and a line in `ACCESSORIES`; gloves are drawn with hands."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from mosskeeper.core.illustrator import accessories_more, body, garments, skin_marks
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.figure import DrawnFigure
from mosskeeper.core.illustrator.shapes import ellipse, intersect, point, points, resample, ribbon, spline, to_path
from mosskeeper.core.illustrator.vocabulary.colours import rgb
from mosskeeper.core.illustrator.vocabulary.outfits import OUTFITS, covers_shoulders

_OVER_CAPE = 54.0  # slots between what lies on a dress and what lies on a cape


def draw(f: DrawnFigure) -> None:
    has = {name for name, _ in OUTFITS[f.is_.outfit]}
    for name in f.is_.worn:
        if _SAME.get(name) not in has:
            ACCESSORIES[name](f)


def _slot(f: DrawnFigure, slot: float) -> float:
    return slot + _OVER_CAPE if covers_shoulders(f.is_.outfit) else slot


def necklace(f: DrawnFigure) -> None:
    """Beads on a string with a pendant of amber."""
    line = spline([f.at(-0.19, -0.07), f.at(-0.14, 0.10), f.at(0, 0.24), f.at(0.14, 0.10), f.at(0.19, -0.07)], False, 6)
    slot = _slot(f, 137)
    f.plain(
        [ellipse(c, 0.030, 0.030, n=10) for c in resample(line, 13)],
        f.tinted("necklace", rgb("d8b45a")),
        Part.ACCESSORY,
        slot,
        drop=0.4,
        line=0.6,
    )
    stone = f.add(ellipse(f.at(0, 0.30), 0.052, 0.066), rgb("b8532a"), Part.ACCESSORY, slot + 0.1, shade=0.4, drop=0.3)
    f.mark(stone, ellipse(f.at(-0.014, 0.28), 0.014, 0.020, n=8), "lit", 0.9)


def earrings(f: DrawnFigure) -> None:
    if f.hood:
        return
    k = f.is_.face.ear_size
    if f.profile:
        lobes = [f.on_side((-0.05, 0.10 + 0.105 * k))[0]]
    else:
        hidden = [s * f.turn > (0.35 if f.natural else 0.75) for s in (-1, 1)]
        lobes = [
            f.on_lobe(s) if f.natural else f.on_head((s * (0.40 * f.is_.face.width + 0.03), 0.10 + 0.105 * k))[0]
            for s, gone in zip((-1, 1), hidden, strict=True)
            if not gone
        ]
    for lobe in lobes:
        drop = f.add(
            [ellipse(lobe + point(0, 0.02), 0.020, 0.020, n=10), ellipse(lobe + point(0, 0.085), 0.036, 0.048, n=14)],
            f.tinted("earrings", rgb("d8b45a")),
            Part.ACCESSORY,
            162,
            shade=0.2,
            drop=0.4,
        )
        f.mark(drop, ellipse(lobe + point(0, 0.09), 0.018, 0.026, n=10), rgb("2f8a80"), 0.95, vital=True)


def scarf(f: DrawnFigure) -> None:
    garments.scarf(f, f.tinted("scarf", "b"), lift=_slot(f, 0.0))


def bag(f: DrawnFigure) -> None:
    garments.satchel(f, f.tinted("bag", "leather"))


def belt(f: DrawnFigure) -> None:
    w, y = f.hip_width + 0.34, f.torso * 0.66
    upper = spline([f.at(-w, y), f.at(0, y + 0.04), f.at(w, y)], False, 6)
    band = intersect(to_path(np.vstack([upper, (upper + f.down * 0.12)[::-1]])), to_path(body.torso(f, 1.9)))
    f.add(band, f.tinted("belt", "leather"), Part.ACCESSORY, 133.5, shade=0.25)
    buckle = points(f.at(-0.075, y + 0.015), f.at(0.075, y + 0.015), f.at(0.075, y + 0.165), f.at(-0.075, y + 0.165))
    f.add(spline(buckle, True, 3), "brass", Part.ACCESSORY, 133.6, shade=0.2)
    f.plain(ribbon([f.at(0, y + 0.03), f.at(0, y + 0.15)], [0.012] * 2), "iron", Part.ACCESSORY, 133.7)


def gloves(f: DrawnFigure) -> None:
    """Drawn with the hands."""


def bare_feet(f: DrawnFigure) -> None:
    """Nothing more than the feet themselves: `garments.boots` leaves out what would cover them."""


ACCESSORIES: dict[str, Callable[[DrawnFigure], None]] = {
    "necklace": necklace,
    "earrings": earrings,
    "gloves": gloves,
    "scarf": scarf,
    "bag": bag,
    "belt": belt,
    "bare feet": bare_feet,
    **accessories_more.MORE,
    **skin_marks.MARKS,
}
# Components of outfits that are the same thing already.
_SAME = {"scarf": "scarf", "bag": "satchel"}
