"""Contents of any picture as far as a reader saw it, without inversion."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Person
from mosskeeper.core.inversion.guess import hexadecimal
from mosskeeper.core.reading.classes import UNKNOWN
from mosskeeper.core.reading.contents import TONES, Contents, Subject
from mosskeeper.core.reading.reading import Attributes, FigureRead, Reading
from mosskeeper.core.traits import OF_FIGURE, changes

_NEAR = 0.4  # of the likeliest value's confidence, from which another is told beside it
_CLOTH = (("colour_a", "colour"), ("colour_b", "trim"))
_SURROUNDINGS = ("place", "weather", "time", "light")


def contents_of_reading(reading: Reading) -> Contents:
    """What a reading says, each trait as sure as the reader is."""
    if reading.figures:
        own = [({**reading.attributes, **f.attributes} if n == 0 else f.attributes) for n, f in enumerate(reading.figures)]
        subjects = [subject_read(attributes, figure) for attributes, figure in zip(own, reading.figures, strict=True)]
    else:
        alone = FigureRead(
            1.0, (0, 0, 1, 1), None, np.zeros((18, 2)), np.zeros(18, np.float32), np.zeros((1, 1), bool),
            reading.attributes, reading.colours, face=reading.face, face_sure=float(reading.face is not None),
        )  # fmt: skip
        found = subject_read(reading.attributes, alone)
        subjects = [found] if found.sure else []
    around = {name: told for name in _SURROUNDINGS if (told := likeliest(reading.attributes, name)) is not None}
    finish = likeliest(reading.attributes, "finish")
    return Contents(tuple(subjects), around, () if finish is None else (finish[0],), 0.0 if finish is None else finish[1])


def subject_read(attributes: Attributes, figure: FigureRead) -> Subject:
    """One figure as the reader names it: `attributes` of it, colours and face as they were measured in `figure`."""
    named: dict[str, object] = {}
    sure: dict[str, float] = {}
    others: dict[str, tuple[str, ...]] = {}
    values: dict[str, str] = {}
    for trait in OF_FIGURE:
        told = None if trait.kind == "measure" else likeliest(attributes, trait.name)
        if told is None:
            continue
        values[trait.name], sure[trait.name] = told
        others[trait.name] = _rivals(attributes, trait.name)
    named |= changes(Person(), values)
    for name in TONES:
        if name in figure.colours and name in sure:
            named[name.replace(" ", "_")] = hexadecimal(figure.colours[name])
    for field, name in _CLOTH:
        if name in figure.colours:
            named[field], sure["cloth colours"] = tuple(map(float, figure.colours[name])), 1.0
    if figure.face is not None:
        named["face"], sure["face shape"] = figure.face, figure.face_sure
    return Subject(Person(**named), sure, {k: v for k, v in others.items() if v}, figure.head)  # type: ignore[arg-type]


def likeliest(attributes: Attributes, name: str) -> tuple[str, float] | None:
    """The likeliest value of an attribute and its confidence; None where nothing is told of it."""
    told = attributes.get(name) or {}
    if not told:
        return None
    best = max(told, key=lambda value: told[value])
    return None if best == UNKNOWN else (best, float(min(told[best], 1.0)))


def _rivals(attributes: Attributes, name: str) -> tuple[str, ...]:
    told = attributes[name]
    best = max(told.values())
    return tuple(value for value in sorted(told, key=lambda v: -told[v])[1:4] if told[value] >= _NEAR * best)
