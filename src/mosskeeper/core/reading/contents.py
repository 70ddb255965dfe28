"""Contents of a picture: what a reference can lend, figure by figure and of the surroundings, each with how sure it is.

Contents come from the stored scene of a picture that was drawn here, which is exact, or from inversion and reader
(`core.references`). Measures never look at them: match and drift are taken from pixels alone.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cache
from typing import Any, Literal

import numpy as np
from pydantic import TypeAdapter, ValidationError

from mosskeeper.core.illustrator.description import Person
from mosskeeper.core.illustrator.vocabulary.colours import EYE_COLOURS, HAIR_COLOURS, SKINS, named, rgb
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.traits import BY_NAME, MEASURED, OF_FIGURE, OF_PERSON, changes, value_in

Origin = Literal["scene", "found", "explained"]
SURE = 0.7  # probability from which a trait is lent as surely as one of a stored scene
TONES = {"skin": SKINS, "hair colour": HAIR_COLOURS, "eyes": EYE_COLOURS}


@dataclass(frozen=True, slots=True)
class Subject:
    """One figure of a picture.

    person : its traits; colours may be exact (#rrggbb) and not of a table. sure : trait → probability 0…1 that its value is right;
    what is missing there is not known at all. others : trait → values that are nearly as likely, the likeliest first.
    head : x, y of its middle and its height, as shares of the picture's width, height and height; None where it is not in the frame.
    """

    person: Person
    sure: Mapping[str, float]
    others: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    head: tuple[float, float, float] | None = None

    def value(self, trait: str) -> str:
        """The value of a trait in the words of `core.words.attributes`; of an exact colour the nearest of its table.

        Raises KeyError where no trait has this name, ValueError where it is a measure.
        """
        value = value_in(self.person, BY_NAME[trait])
        return nearest_name(trait, value) if trait in TONES else value

    def tone(self, trait: str) -> tuple[float, float, float]:
        """The colour of skin, hair or eyes, sRGB 0…1. Raises KeyError where the trait is none of these."""
        r, g, b = named(TONES[trait], str(getattr(self.person, BY_NAME[trait].fields[0])))
        return float(r), float(g), float(b)

    def corrected(self, values: Mapping[str, str]) -> Subject:
        """The subject with traits as an artist says they are, which is sure. What is no trait of a person or their clothes is left."""
        known = {trait.name: values[trait.name] for trait in OF_FIGURE if trait.name in values and trait.kind != "measure"}
        others = {name: told for name, told in self.others.items() if name not in known}
        person = replace(self.person, **changes(self.person, known))
        return replace(self, person=person, sure={**self.sure, **dict.fromkeys(known, 1.0)}, others=others)

    def unsure(self) -> tuple[str, ...]:
        """Traits of the person that are not known surely, in the order of the table."""
        return tuple(t.name for t in OF_PERSON if t.name not in MEASURED and self.sure.get(t.name, 0.0) < SURE)


@dataclass(frozen=True, slots=True)
class Contents:
    """What a picture holds.

    subjects : its figures. surroundings : place, weather, time and light, each with its probability. finish : the styles of its
    drawing, finish_sure their probability. origin : "scene" where it was drawn here, "found" where it is a copy of such a picture,
    "explained" where inversion and reader say so. copy_of : of a found one, the picture that it was recognised as.
    """

    subjects: tuple[Subject, ...] = ()
    surroundings: Mapping[str, tuple[str, float]] = field(default_factory=dict)
    finish: tuple[str, ...] = ()
    finish_sure: float = 0.0
    origin: Origin = "explained"
    copy_of: str = ""

    @property
    def largest(self) -> int:
        """The number of the subject that is meant where nothing is said: the one with the largest head."""
        heads = [0.0 if one.head is None else one.head[2] for one in self.subjects]
        return int(np.argmax(heads)) if heads else 0

    def meant(self, number: int | None) -> int:
        """The number of the subject that is meant by `number`: the largest where none is named, or none has it."""
        return self.largest if number is None or number >= len(self.subjects) else number

    def subject(self, number: int | None) -> Subject | None:
        """The subject that is meant by a number; None where nobody is in the picture."""
        return self.subjects[self.meant(number)] if self.subjects else None

    @property
    def exact(self) -> bool:
        """Whether a stored scene says it."""
        return self.origin != "explained"

    def to_json(self) -> dict[str, Any]:
        """A document that JSON can hold; `from_json` gives it back bit for bit."""
        document: dict[str, Any] = json.loads(json.dumps(_adapter().dump_python(self, mode="json")))
        return document

    @staticmethod
    def from_json(document: dict[str, Any]) -> Contents:
        """Raises ValueError where the document is none."""
        try:
            return _adapter().validate_python(document)
        except ValidationError as e:
            raise ValueError(f"these are no contents: {e.errors()[0]['msg']}") from None


@cache
def _adapter() -> TypeAdapter[Contents]:
    return TypeAdapter(Contents)


def nearest_name(trait: str, value: str) -> str:
    """The name of a colour of skin, hair or eyes: its own, or of an exact one (#rrggbb) the nearest in Lab."""
    if not value.startswith("#"):
        return value
    table = TONES[trait]
    names = list(table)
    known = rgb_to_lab(np.asarray([table[name] for name in names], np.float32))
    own = rgb_to_lab(np.asarray(rgb(value[1:]), np.float32))
    return names[int(np.linalg.norm(known - own, axis=1).argmin())]
