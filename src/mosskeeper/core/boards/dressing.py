"""Who a figure on a board is: the words' person in the board's colours, and what its shapes suggest where words are silent."""

from __future__ import annotations

from collections.abc import Container
from dataclasses import replace
from typing import Any

import numpy as np

from mosskeeper.core.boards.seen import FigureOnBoard
from mosskeeper.core.boards.shapes import F64
from mosskeeper.core.boards.tones import hexadecimal, mixed_rgb
from mosskeeper.core.illustrator.description import Person
from mosskeeper.core.illustrator.vocabulary.colours import HAIR_COLOURS, SKINS, named
from mosskeeper.core.illustrator.vocabulary.outfits import OUTFITS
from mosskeeper.core.illustrator.vocabulary.people import MEN

NAMES_AT = {"hair": 0.35, "headwear": 0.45, "outfit": 0.55}  # weights at which names change that words leave open
_SHORT = ("cropped", "bob", "pixie", "short curls", "shaved", "receding", "bun", "low bun", "crown braid")
_ONE_COLOUR = 6.0  # Lab distance of upper and lower that are one garment


def dressed(p: Person, seen: FigureOnBoard, weight: float, soft: float, said: Container[str]) -> Person:
    """The person as a board has it.

    Parameters
    ----------
    weight : 0…1, at which names change. soft : share by which colours go over.
    said : attributes that words name.
    """
    changes, c = dict[str, Any](), seen.colours
    if "hair" in c:
        changes["hair_colour"] = _tone(HAIR_COLOURS, p.hair_colour, c["hair"], soft)
        if ("hair" not in said and weight >= NAMES_AT["hair"] and seen.long_hair == (p.hair in _SHORT)) or p.hair in ("shaved", "receding"):
            changes["hair"] = "long straight" if seen.long_hair else "cropped" if p.subject in (*MEN, "boy") else "bob"
        if "hair" in said:
            changes.pop("hair", None)
        if "headwear" not in said and weight >= NAMES_AT["headwear"]:
            changes["headwear"] = "none"
    if "skin" in c:
        changes["skin"] = _tone(SKINS, p.skin, c["skin"], soft)
    if "upper" in c:
        changes |= _clothes(p, c, weight, soft, said)
    return replace(p, **changes)


def _tone(table: dict[str, Any], own: str, lab: F64, soft: float) -> str:
    return own if soft <= 0 else "#" + hexadecimal(mixed_rgb(named(table, own), lab, soft))


def _clothes(p: Person, c: dict[str, F64], weight: float, soft: float, said: Container[str]) -> dict[str, Any]:
    changes, whole = dict[str, Any](), "lower" in c and np.linalg.norm(c["upper"] - c["lower"]) < _ONE_COLOUR
    if "outfit" not in said and weight >= NAMES_AT["outfit"] and "lower" in c:
        long = "travelling coat" if p.subject in MEN or p.subject == "boy" else "garden dress"
        changes["outfit"] = long if whole else "knitted jumper"
    outfit = changes.get("outfit", p.outfit)
    upper, lower = ("colour_b", "colour_a") if outfit == "rain overalls" else ("colour_a", "colour_b")
    changes[upper] = mixed_rgb(getattr(p, upper), c["upper"], soft)
    below = [arguments.get("colour") for name, arguments in OUTFITS[outfit] if name in ("trousers", "tunic")]
    if "lower" in c and not whole and below and below[0] == lower[-1]:
        changes[lower] = mixed_rgb(getattr(p, lower), c["lower"], soft)
    return changes
