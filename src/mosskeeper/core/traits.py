"""Traits: what a picture holds of a person, their clothes and their surroundings, one row each.

A row says which attribute of `core.words.attributes` the trait is, which fields of a description carry it exactly, in which parts
of a drawing it shows, which switch of a cue lends it, which segment of the denoising decides it, when it goes over on the way
between two scenes, and how its values are said. Prompts, references, mends, denoising, interpolation, drift and the pages take
their lists from here: a new trait is a row here, its field of `Person`, its drawing and its words.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal, Protocol

USUAL_WORN = ("necklace", "earrings", "gloves", "scarf", "bag", "belt")  # things that somebody may wear by chance
NAMED_WORN = ("sunglasses", "goggles", "eyepatch", "mask", "face cover", "tears", "face paint", "tie", "bow tie", "brooch", "medal", "bracelets",
             "quiver", "backpack", "wings", "fairy wings", "tail", "pointed ears", "bare feet", "rosy cheeks", "dark circles", "wrinkles", "smudges",
             "plaster", "bandage", "face tattoo", "arm tattoos", "nose ring", "finger ring")  # only where words name them  # fmt: skip
WORN = (*USUAL_WORN, *NAMED_WORN)
_ON_HEAD = {
    "pointed ears": "EAR",
    "bare feet": "LEG",
    "bandage": "HEADWEAR",
    "arm tattoos": "SKIN",
    **dict.fromkeys(("tears", "face paint", "rosy cheeks", "dark circles", "wrinkles", "smudges", "face tattoo"), "FACE"),
}  # the parts of those that are no accessories
Carrier = Literal["person", "clothes", "place", "light", "style", "moment"]
Kind = Literal["name", "tone", "switch", "worn", "measure"]
_DRESS = ("TOP", "SLEEVE", "BOTTOM", "OUTER", "SHOES")


@dataclass(frozen=True, slots=True)
class Trait:
    """One trait.

    Attributes
    ----------
    name : of its attribute in `core.words.attributes`; "face shape" and "cloth colours" are measures and have none there.
    part : the switch of a cue that lends it; "" where no cue does.
    carrier : what it is a trait of; "moment" is what somebody does or holds in one picture only.
    arrives : 0…1, the amount (weight times the share of the span) from which a reference lends it; the smaller, the more it tells
        about who somebody is.
    fields : of a Description, which carry the exact value; the first is the value's own.
    kind : "name" one of the attribute's values, "tone" a colour name or #rrggbb, "switch" yes or no, "worn" a thing of `WORN`,
        "measure" numbers without names.
    group : the segment of the denoising that decides it; "" where it decides where things are.
    vote : its turn among the traits of its group: what is decided before narrows what is chosen next.
    order : its turn on the way between two scenes, small things first; 0 where it goes over gradually or with the place.
    shows_in : names of `Part`s of a drawing in which it is seen; empty where it is seen in the face, the whole body or the place.
    form : how a value is said; "" where `core.words.describe` has its own way.
    off : the value of a thing that is not there; "" where there is always some value.
    of_face : whether it goes along where a face is put on another picture.
    facial : whether it changes how the face is drawn.
    early : whether the first steps of the denoising count more for it, since it decides where things are.
    label : how a page calls it, where that is not its name.
    """

    name: str
    part: str
    carrier: Carrier
    arrives: float
    fields: tuple[str, ...] = ()
    kind: Kind = "name"
    group: str = ""
    order: int = 0
    shows_in: tuple[str, ...] = ()
    form: str = "{}"
    off: str = ""
    of_face: bool = False
    facial: bool = False
    early: bool = False
    label: str = ""
    vote: int = 0

    @property
    def called(self) -> str:
        return self.label or self.name

    @property
    def field(self) -> str:
        """The field of a description that holds its value."""
        return self.fields[0]


_NEVER = 1.01  # an amount that no reference reaches
TRAITS: tuple[Trait, ...] = (
    # a person, in the order of what tells most about identity
    Trait("subject", "age and sex", "person", 0.05, ("subject",), order=11, facial=True, early=True, label="age and sex"),
    Trait("hair", "hair", "person", 0.15, ("hair", "hair_size"), group="hair", order=9, shows_in=("HAIR",), form="{} hair"),
    Trait("hair colour", "hair", "person", 0.26, ("hair_colour",), "tone", group="hair", shows_in=("HAIR",), form="{} hair"),
    Trait(
        "facial hair",
        "beard",
        "person",
        0.30,
        ("facial_hair",),
        group="person",
        order=5,
        shows_in=("FACIAL_HAIR",),
        off="none",
        of_face=True,
        label="beard",
        vote=5,
    ),
    Trait("build", "age and sex", "person", 0.34, ("build",), order=11, form="{} build", early=True),
    Trait("skin", "skin", "person", 0.45, ("skin",), "tone", group="person", form="{} skin", of_face=True, facial=True, vote=1),
    Trait("glasses", "glasses", "person", 0.48, ("glasses",), "switch", "person", 2, ("ACCESSORY",), off="no", of_face=True, vote=4),
    Trait(
        "mark",
        "marks",
        "person",
        0.52,
        ("mark",),
        group="person",
        order=1,
        off="none",
        of_face=True,
        facial=True,
        label="scar or mole",
        vote=6,
    ),
    Trait("freckles", "marks", "person", 0.55, ("freckles",), "switch", "person", 1, off="no", of_face=True, facial=True, vote=7),
    Trait(
        "eyes",
        "face",
        "person",
        0.65,
        ("eyes",),
        "tone",
        group="person",
        form="{} eyes",
        of_face=True,
        facial=True,
        label="eye colour",
        vote=3,
    ),
    Trait("face shape", "face", "person", 0.70, ("face",), "measure", group="person", of_face=True, facial=True, vote=8),
    # what they wear
    Trait("outfit", "clothes", "clothes", 0.12, ("outfit", "tints"), group="dress", order=10, shows_in=_DRESS, form="a {}"),
    Trait("cloth colours", "clothes", "clothes", 0.50, ("colour_a", "colour_b"), "measure", group="dress", shows_in=_DRESS),
    Trait(
        "headwear",
        "hat",
        "clothes",
        0.30,
        ("headwear", "headwear_colours", "headwear_size"),
        group="hair",
        order=6,
        shows_in=("HEADWEAR",),
        form="a {}",
        off="none",
        label="hat",
    ),
    Trait("pattern", "clothes", "clothes", 0.36, ("pattern",), group="dress", order=7, shows_in=_DRESS, form="{} cloth"),
    *(
        Trait(thing, "worn things", "clothes", 0.42, ("worn",), "worn", "dress", 4, (_ON_HEAD.get(thing, "ACCESSORY"), "HAND"), off="no")
        for thing in WORN
    ),
    # where they are
    Trait("place", "place", "place", 0.10, ("place",), group="place", form="", early=True, vote=1),
    Trait("weather", "weather", "place", 0.30, ("weather",), group="place", order=8, early=True, vote=3),
    # how it is lit
    Trait("time", "time of day", "light", 0.20, ("time",), group="place", form="", early=True, label="time of day", vote=2),
    Trait("light", "light", "light", 0.35, ("light",), group="place", early=True, vote=4),
    # how it is drawn
    Trait("finish", "finish", "style", 0.20, ("finish",), early=True),
    Trait("figure", "finish", "style", 0.20, ("figure",), form="{} figures", early=True, label="kind of figure"),
    # what belongs to one picture only: no reference lends it
    Trait("expression", "", "moment", _NEVER, ("expression",), group="person", facial=True, vote=2),
    Trait(
        "prop",
        "",
        "moment",
        _NEVER,
        ("prop", "second_prop"),
        group="prop",
        order=3,
        shows_in=("PROP", "HAND"),
        form="holding a {}",
        off="nothing",
    ),
    Trait("companion", "", "moment", _NEVER, ("companion",), group="companion", order=12, form="with a {}", off="nobody"),
)
BY_NAME = {trait.name: trait for trait in TRAITS}
OF_PERSON = tuple(trait for trait in TRAITS if trait.carrier == "person")
OF_FIGURE = tuple(trait for trait in TRAITS if trait.carrier in ("person", "clothes"))
OF_PLACE = tuple(trait.name for trait in TRAITS if trait.carrier in ("place", "light"))
MEASURED = tuple(trait.name for trait in TRAITS if trait.kind == "measure")  # continuous: they have no values to choose among
SIZES = ("headwear_size", "hair_size")  # fields of traits that hold numbers


class HasTraits(Protocol):
    """Whatever holds the fields of a person."""

    @property
    def worn(self) -> tuple[str, ...]: ...


def of_parts(parts: tuple[str, ...]) -> tuple[Trait, ...]:
    """The traits on these switches, in the table's order."""
    return tuple(trait for trait in TRAITS if trait.part in parts)


def parts_of(*carriers: Carrier) -> tuple[str, ...]:
    """The switches of these carriers, in the table's order."""
    return tuple(dict.fromkeys(trait.part for trait in TRAITS if trait.carrier in carriers))


def fields_of_group(group: str) -> tuple[str, ...]:
    """The fields of a description that a segment of the denoising decides, in the order in which they are decided."""
    own = sorted((trait for trait in TRAITS if trait.group == group), key=lambda trait: trait.vote)
    return tuple(dict.fromkeys(name for trait in own for name in trait.fields))


def value_in(person: HasTraits, trait: Trait) -> str:
    """The value that somebody has of a trait, as `core.words.attributes` names it; of an exact colour its #rrggbb.

    Raises ValueError where the trait is a measure.
    """
    if trait.kind == "measure":
        raise ValueError(f"{trait.name} is a measure and has no named value")
    if trait.kind == "worn":
        return "yes" if trait.name in person.worn else "no"
    value = getattr(person, trait.field)
    return ("yes" if value else "no") if trait.kind == "switch" else str(value)


def changes(person: HasTraits, values: Mapping[str, str]) -> dict[str, Any]:
    """The fields of a person that change where traits take other values.

    values : trait → value, as `value_in` gives it. Names that are no trait of a figure, and measures, are left aside.
    """
    out: dict[str, Any] = {}
    worn = set(person.worn)
    for trait in TRAITS:
        if trait.name not in values or trait.carrier not in ("person", "clothes", "moment") or trait.kind == "measure":
            continue
        value = values[trait.name]
        if trait.kind == "worn":
            worn = worn | {trait.name} if value == "yes" else worn - {trait.name}
        else:
            out[trait.field] = value == "yes" if trait.kind == "switch" else value
    out["worn"] = tuple(thing for thing in WORN if thing in worn)
    return out


PERSON_PARTS = ("face", "age and sex", "hair", "beard", "marks", "glasses", "skin")  # in the order in which an artist thinks of them
_OF_WHOLE = ("warmth and contrast", "line and grain", "palette")  # measured on the whole picture: no traits
PARTS = (*parts_of("person", "clothes", "place", "light", "style"), *_OF_WHOLE)
