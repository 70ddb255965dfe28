"""Traits: what a picture holds of a person, their clothes and their surroundings, one row each.

A row says which attribute of `core.words.attributes` the trait is, which fields of a description carry it exactly, on which
switch of a cue it lies, and from which amount of a reference on it is lent. Roles, lending, the measures of the same person
and the pages take their lists from here.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

WORN = ("necklace", "earrings", "gloves", "scarf", "bag", "belt")  # things that somebody wears or does not wear
Carrier = Literal["person", "clothes", "place", "light", "style"]


@dataclass(frozen=True, slots=True)
class Trait:
    """One trait.

    name : the attribute; "face shape" and "cloth colours" are measures and have none. part : the switch of a cue that lends it.
    carrier : what it is a trait of. arrives : the amount (weight times the share of the span) from which a reference lends it;
    the smaller, the more it tells about who somebody is. fields : of a Description, which carry the exact value. early : whether
    the first steps of the denoising count more for it, since it decides where things are. label : how a page calls it.
    """

    name: str
    part: str
    carrier: Carrier
    arrives: float
    fields: tuple[str, ...] = ()
    early: bool = False
    label: str = ""

    @property
    def called(self) -> str:
        return self.label or self.name


TRAITS: tuple[Trait, ...] = (
    # a person, in the order of what tells most about identity
    Trait("subject", "age and sex", "person", 0.05, ("subject",), early=True, label="age and sex"),
    Trait("hair", "hair", "person", 0.15, ("hair", "hair_size")),
    Trait("hair colour", "hair", "person", 0.26, ("hair_colour",)),
    Trait("facial hair", "beard", "person", 0.30, ("facial_hair",), label="beard"),
    Trait("build", "age and sex", "person", 0.34, ("build",), early=True),
    Trait("skin", "skin", "person", 0.45, ("skin",)),
    Trait("glasses", "glasses", "person", 0.48, ("glasses",)),
    Trait("mark", "marks", "person", 0.52, ("mark",), label="scar or mole"),
    Trait("freckles", "marks", "person", 0.55, ("freckles",)),
    Trait("eyes", "face", "person", 0.65, ("eyes",), label="eye colour"),
    Trait("face shape", "face", "person", 0.70, ("face",)),
    # what they wear
    Trait("outfit", "clothes", "clothes", 0.12, ("outfit",)),
    Trait("cloth colours", "clothes", "clothes", 0.50, ("colour_a", "colour_b")),
    Trait("headwear", "hat", "clothes", 0.30, ("headwear", "headwear_colours", "headwear_size"), label="hat"),
    Trait("pattern", "clothes", "clothes", 0.36, ("pattern",)),
    *(Trait(thing, "worn things", "clothes", 0.42, ("worn",)) for thing in WORN),
    # where they are
    Trait("place", "place", "place", 0.10, ("place",), early=True),
    Trait("weather", "weather", "place", 0.30, ("weather",), early=True),
    # how it is lit
    Trait("time", "time of day", "light", 0.20, ("time",), early=True, label="time of day"),
    Trait("light", "light", "light", 0.35, ("light",), early=True),
    # how it is drawn
    Trait("finish", "finish", "style", 0.20, ("finish",), early=True),
)
BY_NAME = {trait.name: trait for trait in TRAITS}
OF_PERSON = tuple(trait for trait in TRAITS if trait.carrier == "person")
MEASURED = ("face shape", "cloth colours")  # continuous: they have no values to choose among


def of_parts(parts: tuple[str, ...]) -> tuple[Trait, ...]:
    """The traits on these switches, in the table's order."""
    return tuple(trait for trait in TRAITS if trait.part in parts)


def parts_of(*carriers: Carrier) -> tuple[str, ...]:
    """The switches of these carriers, in the table's order."""
    return tuple(dict.fromkeys(trait.part for trait in TRAITS if trait.carrier in carriers))


PERSON_PARTS = ("face", "age and sex", "hair", "beard", "marks", "glasses", "skin")  # in the order in which an artist thinks of them
_OF_WHOLE = ("warmth and contrast", "line and grain", "palette")  # measured on the whole picture: no traits
PARTS = (*parts_of("person", "clothes", "place", "light", "style"), *_OF_WHOLE)
