"""Drift: how far the subject of a picture is from its anchors, and in what.

Everything is measured between readings, so from pixels. The weights of the parts and the limits were fitted on drawings of
persons that the reader was not trained on; they come with its weights (`training/calibrate.py`).
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from mosskeeper.core.illustrator.description import Face
from mosskeeper.core.illustrator.vocabulary.outfits import has_hood
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab
from mosskeeper.core.reading.photo_reader import LIMIT
from mosskeeper.core.reading.reading import SURE, FigureRead, Reading
from mosskeeper.core.reading.weights import card
from mosskeeper.core.traits import OF_PERSON

PARTS = ("look", "hair", "eyes", "skin", "face shape", "marks")
_MARKS = tuple(trait.name for trait in OF_PERSON if trait.part in ("marks", "glasses", "beard"))
COLOURED = ("hair colour", "skin", "eyes")
_TOLD = ("hair", "hair colour", "facial hair", "glasses", "skin", "eyes")  # what an eye would look for first
_PHOTO = 128  # numbers of an identity that the reader of photographs gives
_CHANGED = 1.0  # from which a part is told as changed


@dataclass(frozen=True, slots=True)
class Drift:
    """distance : 0 the same … 1.0 as far as 19 in 20 pictures of one person elsewhere stay … more.
    parts : of each of PARTS that could be compared, in units of 1.0 = as far as nine in ten readings of one person stay.
    unseen : traits that could not be compared, since one of the pictures does not show them, or they were not read surely.
    """

    distance: float
    parts: Mapping[str, float]
    unseen: tuple[str, ...] = ()

    @property
    def other_person(self) -> bool:
        return self.distance > 1.0

    @property
    def changed(self) -> tuple[str, ...]:
        """The named parts that went too far, the farthest first; without the overall look."""
        far = [(value, name) for name, value in self.parts.items() if name != "look" and value > _CHANGED]
        return tuple(name for _, name in sorted(far, reverse=True))


def raw_parts(a: FigureRead, b: FigureRead) -> dict[str, float]:
    """Distances of the parts in their own units: cosine, Lab, deviations of the face's measures, probabilities."""
    out = {}
    if a.identity is not None and b.identity is not None:
        out["look"] = float(1 - a.identity @ b.identity)
    for part, colour in (("hair", "hair colour"), ("eyes", "eyes"), ("skin", "skin")):
        if colour in a.colours and colour in b.colours:
            one, two = rgb_to_lab(np.asarray([a.colours[colour], b.colours[colour]], np.float32))
            out[part] = float(np.linalg.norm(one - two))
    if "hair" in out:
        out["hair"] = float(np.hypot(out["hair"], 25.0 * _disagreement(a, b, "hair")))
    if a.face is not None and b.face is not None:
        spread = np.asarray(card().scales["face_spread"])
        out["face shape"] = float(np.sqrt(np.square((a.face.as_array() - b.face.as_array()) / spread).mean()))
    marks = [_disagreement(a, b, name) for name in _MARKS if name in a.attributes and name in b.attributes]
    if marks:
        out["marks"] = float(sum(marks))
    return out


def _disagreement(a: FigureRead, b: FigureRead, attribute: str) -> float:
    """0…1: the probability that two readings mean different values."""
    p, q = a.attributes.get(attribute, {}), b.attributes.get(attribute, {})
    if not p or not q:
        return 0.0
    return 1 - sum(p.get(value, 0.0) * q.get(value, 0.0) for value in p) / max(sum(p.values()) * sum(q.values()), 1e-9)


def combined(parts: Mapping[str, float], fitted: Mapping[str, float]) -> float:
    """One distance out of the parts, with the weights that were fitted; not yet in units of the limit."""
    return float(sum(fitted[name] * value for name, value in parts.items()))


def not_measured(pictures: Iterable[Reading]) -> str:
    """Why no drift can be told between pictures; "" where the reader knows their kind of figures."""
    drawn_as = {
        one.contents.surroundings.get("figure", ("", 0.0))[0] for one in pictures if one.contents is not None and one.contents.exact
    }
    return "drift not measured: the reader does not know the faces of natural figures yet" if "natural" in drawn_as else ""


def drift(subject: FigureRead | None, anchors: Iterable[FigureRead | None]) -> Drift | None:
    """How far a subject is from its anchors, taken as one person; None where no face was read in it, or in any anchor."""
    if subject is None or not _comparable(subject):
        return None
    read = [anchor for anchor in anchors if anchor is not None and _comparable(anchor) and _alike(subject, anchor)]
    return between(subject, pooled(read)) if read else None


def pooled(readings: Sequence[FigureRead]) -> FigureRead:
    """Several readings of one person by the same reader as one: what is wrong in each is wrong in another way, and their mean is nearer.

    Identity, face and colours are means; of each attribute the probabilities are. All else is the first's.
    """
    if len(readings) == 1:
        return readings[0]
    who = np.mean([one.identity for one in readings if one.identity is not None], axis=0)
    if len(who) != _PHOTO:  # theirs are of no fixed length
        who = who / max(float(np.linalg.norm(who)), 1e-6)
    faces = [one.face.as_array() for one in readings if one.face is not None]
    colours = {name: [one.colours[name] for one in readings if name in one.colours] for name in COLOURED}
    return replace(
        readings[0],
        identity=np.asarray(who, np.float32),
        face=Face.from_array(np.mean(faces, axis=0)) if faces else None,
        colours={name: _mean_colour(values) for name, values in colours.items() if values},
        attributes={name: _mean_of(readings, name) for name in sorted({name for one in readings for name in one.attributes})},
    )


def _mean_colour(values: Sequence[tuple[float, float, float]]) -> tuple[float, float, float]:
    r, g, b = lab_to_rgb(rgb_to_lab(np.asarray(values, np.float32)).mean(0))
    return float(r), float(g), float(b)


def _mean_of(readings: Sequence[FigureRead], name: str) -> dict[str, float]:
    told = [one.attributes[name] for one in readings if name in one.attributes]
    return {value: sum(one.get(value, 0.0) for one in told) / len(told) for value in sorted({value for one in told for value in one})}


def between(a: FigureRead, b: FigureRead) -> Drift:
    """The distance of two figures whose faces were read by the same reader.

    Raises ValueError where they were read by different ones: their identities cannot be compared.
    """
    assert a.identity is not None and b.identity is not None
    if len(a.identity) != len(b.identity):
        raise ValueError("faces that different readers read cannot be compared")
    if len(a.identity) == _PHOTO:
        return Drift(float(np.linalg.norm(a.identity - b.identity)) / LIMIT, {})
    told = card().identity
    parts = raw_parts(a, b)
    distance = combined(parts, told["weights"]) / told["limit"]
    return Drift(distance, {name: value / told["usual"][name] for name, value in parts.items()}, unseen(a, b))


def unseen(a: FigureRead, b: FigureRead) -> tuple[str, ...]:
    """Traits of identity that two figures cannot be compared by: covered, turned away, too dark, or not read surely in one of them."""
    return tuple(trait.called for trait in OF_PERSON if trait.name in _TOLD and not (_shows(a, trait.name) and _shows(b, trait.name)))


def _shows(figure: FigureRead, name: str) -> bool:
    if name == "hair" and (_likely(figure, "headwear") not in ("", "none") or _hooded(figure)):
        return False
    if name in ("glasses", "mark") and _likely(figure, "view") == "profile":
        return False
    if name in COLOURED:
        return name in figure.colours
    told = figure.attributes.get(name, {})
    return bool(told) and max(told.values()) >= SURE


def _likely(figure: FigureRead, name: str) -> str:
    told = figure.attributes.get(name, {})
    best = max(told, key=lambda value: told[value], default="")
    return best if best and told[best] >= SURE else ""


def _hooded(figure: FigureRead) -> bool:
    outfit = _likely(figure, "outfit")
    return bool(outfit) and has_hood(outfit)


def _alike(a: FigureRead, b: FigureRead) -> bool:
    return a.identity is not None and b.identity is not None and len(a.identity) == len(b.identity)


def _comparable(figure: FigureRead) -> bool:
    return figure.identity is not None and figure.face_sure >= SURE * 0.5
