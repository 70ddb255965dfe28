"""Contents of a picture that was not drawn here: inversion and reader, combined by how often each is right."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Person
from mosskeeper.core.illustrator.vocabulary.colours import rgb
from mosskeeper.core.inversion.invert import invert
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.contents import TONES, Contents, Subject
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.references.of_reading import contents_of_reading
from mosskeeper.core.references.of_scene import who
from mosskeeper.core.references.weighed import ReadFigure, weighed

_EXPLAINED = 0.5  # of a figure, from which what inversion says of it is taken
_CLOTH_SURE = 0.9
_LIKELY = 0.35  # of the likeliest value's probability, from which another is told beside it
# Most that the reader's word alone is worth, where it was found to be wrong more often than it thinks (docs/reader.md).
_TRUSTED = {"build": 0.4, "mark": 0.55, "freckles": 0.65, "eyes": 0.45}
_MEASURED = {"skin": 9.0, "hair colour": 11.0}  # Lab units: median error with which inversion finds colours under a picture's light


def contents_of_picture(picture: NDArray[np.uint8], reading: Reading, check: Callable[[], None] = lambda: None) -> Contents:
    """What a picture (H, W, 3) holds, as its reading and its inversion tell.

    1. The reader names the traits of each figure, with confidences.
    2. Inversion finds the scene that explains the picture, with the colours of skin, hair and cloth under its light.
    3. Of the main figure hair, beard, glasses, age and sex are weighed by drawing the head with each value (`weighed`).
    4. Names of skin and hair follow from the colours that inversion found; what the reader alone says is trusted as often as it is right.

    check : asked between drawings; may raise.
    """
    read = contents_of_reading(reading)
    trusted = replace(read, subjects=tuple(_trusted(one) for one in read.subjects))
    found = invert(picture, reading, check) if read.subjects and reading.reader == "drawings" else None
    if found is None or reading.main is None or found.explains["figure"] < _EXPLAINED:
        return trusted
    attributes = {**reading.attributes, **reading.main.attributes}
    scene, told = weighed(ReadFigure(picture, attributes, reading.main), found.scene)
    own = _explained(trusted.subjects[0], who(scene.description.figures[0]), told)
    return replace(trusted, subjects=(own, *trusted.subjects[1:]))


def _trusted(read: Subject) -> Subject:
    """The reader's subject, no surer of a trait than the reader was found to be right."""
    return replace(read, sure={name: min(p, _TRUSTED.get(name, 1.0)) for name, p in read.sure.items()})


def _explained(read: Subject, person: Person, told: Mapping[str, Mapping[str, float]]) -> Subject:
    """The reader's subject with what inversion says of it."""
    told = {**told, **{name: _named(name, str(getattr(person, name.replace(" ", "_"))), error) for name, error in _MEASURED.items()}}
    sure, others = dict(read.sure), dict(read.others)
    for name, values in told.items():
        ranked = sorted(values, key=lambda value: -values[value])
        sure[name] = values[ranked[0]]
        others[name] = tuple(value for value in ranked[1:4] if values[value] >= _LIKELY * sure[name])
    if "cloth colours" in sure:
        sure["cloth colours"] = _CLOTH_SURE
    kept = {name: getattr(read.person, name) for name in ("eyes", "freckles", "mark")}
    return Subject(replace(person, **kept), sure, {name: values for name, values in others.items() if values}, read.head)


def _named(trait: str, tone: str, error: float) -> dict[str, float]:
    """The probabilities of a colour's names, of a tone (#rrggbb or a name) that was found with an error, Lab units."""
    table = TONES[trait]
    if not tone.startswith("#"):
        return {tone: 1.0}
    names = list(table)
    known = rgb_to_lab(np.asarray([table[name] for name in names], np.float32))
    away = np.linalg.norm(known - rgb_to_lab(np.asarray(rgb(tone[1:]), np.float32)), axis=1)
    p = np.exp(-np.square(away / error) / 2 + np.square(away.min() / error) / 2)
    return {name: float(share) for name, share in zip(names, p / p.sum(), strict=True)}
