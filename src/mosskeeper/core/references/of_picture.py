"""Contents of a picture that was not drawn here: inversion and reader, combined by how often each is right."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.inversion.invert import invert
from mosskeeper.core.reading.contents import Contents, Subject
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.references.of_reading import contents_of_reading
from mosskeeper.core.references.of_scene import who

_EXPLAINED = 0.5  # of a figure, from which what inversion says of it is taken
_CLOTH_SURE = 0.9
_TONES = {"skin": "skin", "hair colour": "hair_colour", "eyes": "eyes"}


def contents_of_picture(picture: NDArray[np.uint8], reading: Reading, check: Callable[[], None] = lambda: None) -> Contents:
    """What a picture (H, W, 3) holds, as its reading and its inversion tell.

    1. The reader names the traits of each figure, with confidences.
    2. Inversion finds the scene that explains the picture; names among which the reader wavers are chosen by drawing them, and the
       colours of skin, hair and cloth are those that explain the pixels under the picture's light.
    3. Of the main figure, where it is explained, inversion's choices and colours are taken; a trait's probability is the reader's
       confidence in the value that was chosen.

    check : asked between drawings; may raise.
    """
    read = contents_of_reading(reading)
    found = invert(picture, reading, check) if read.subjects and reading.reader == "drawings" else None
    if found is None or found.explains["figure"] < _EXPLAINED:
        return read
    subjects = list(read.subjects)
    subjects[0] = _explained(subjects[0], replace(subjects[0], person=who(found.scene.description.figures[0])), reading)
    return replace(read, subjects=tuple(subjects))


def _explained(read: Subject, inverted: Subject, reading: Reading) -> Subject:
    """The reader's subject with what inversion says of it."""
    assert reading.main is not None
    attributes = {**reading.attributes, **reading.main.attributes}
    sure, others = dict(read.sure), dict(read.others)
    for trait in read.sure:
        if trait in ("face shape", "cloth colours"):
            continue
        value = inverted.value(trait)
        told = attributes.get(trait, {})
        sure[trait] = float(told.get(value, 0.0))
        others[trait] = tuple(v for v in sorted(told, key=lambda v: -told[v]) if v != value and told[v] >= 0.4 * sure[trait])[:3]
    person = inverted.person
    for trait, field in _TONES.items():  # inversion measures skin and hair under the light; of eyes it knows no more than the reader
        if trait == "eyes":
            person = replace(person, **{field: getattr(read.person, field)})
    if "cloth colours" in sure:
        sure["cloth colours"] = _CLOTH_SURE
    return Subject(person, sure, {name: told for name, told in others.items() if told}, read.head)
