"""Colours that words give to single things of a person, put on that person."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any, TypeVar

from mosskeeper.core.illustrator.description import TINTED, Person, Rgb
from mosskeeper.core.illustrator.vocabulary.outfits import GARMENTS, OUTFITS, main_garment

P = TypeVar("P", bound=Person)
_OF_PERSON = {"hair": "hair_colour", "eyes": "eyes", "skin": "skin"}


def rgb_of(tone: str) -> Rgb:
    """ "#rrggbb" as numbers 0…1."""
    r, g, b = (int(tone[i : i + 2], 16) / 255 for i in (1, 3, 5))
    return r, g, b


def in_tints(person: P, tints: Mapping[str, str]) -> P:
    """A person whose things have colours of their own.

    tints : thing → "#rrggbb"; "outfit" is the clothes' first colour and "trim" their second. A colour of the garment that has the
        outfit's first colour becomes that, so that its pattern goes with it.
    """
    if not tints:
        return person
    changes: dict[str, Any] = {field: tints[thing] for thing, field in _OF_PERSON.items() if thing in tints}
    own = dict(person.tints)
    main = main_garment(person.outfit)
    for thing, tone in tints.items():
        if thing in ("outfit", main):
            changes["colour_a"] = rgb_of(tone)
            own.pop(main, None)
        elif thing == "trim":
            changes["colour_b"] = rgb_of(tone)
        elif thing in TINTED:
            own[thing] = rgb_of(tone)
    changes["tints"] = tuple(sorted(own.items()))
    return replace(person, **changes)


def without_effect(person: Person, thing: str) -> bool:
    """Whether a colour of a thing cannot be seen, since the person has no such thing."""
    if thing in (*_OF_PERSON, "outfit", "trim", "lips"):
        return False
    if thing == "hat":
        return person.headwear == "none"
    if thing == "prop":
        return person.prop == "nothing"
    parts = {name for _, arguments in OUTFITS[person.outfit] for name in arguments}  # "belt" and "lining" among them
    return thing not in {*parts, *GARMENTS[person.outfit], *person.worn}
