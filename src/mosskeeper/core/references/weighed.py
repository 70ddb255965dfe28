"""Which value a trait of a foreign picture has, and how surely: reader and drawing weighed by how much each was found to tell.

For each value the evidence is summed (multinomial logit): the logarithm of the reader's confidence, and how well the head drawn
with the value explains the pixels. The weights were fitted by `training/weigh_traits.py` on drawings in all finishes of persons
that the reader was not trained on.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.illustrator.skeleton import AT
from mosskeeper.core.illustrator.vocabulary.people import SUBJECTS
from mosskeeper.core.inversion.closely import Fit, HeadView
from mosskeeper.core.reading.reading import SURE, FigureRead
from mosskeeper.core.words.attributes import ATTRIBUTES

F64 = NDArray[np.float64]
_DOUBTED = 0.01  # confidence that a value has at least: the reader may be wrong of any
_SHOULDERS = 10.0  # of the squared logarithm by which shoulders are broader than a subject's
_MOST_SHOULDERS = 6.0


@dataclass(frozen=True, slots=True, eq=False)
class ReadFigure:
    """A picture (H, W, 3) with what the reader says: its confidences by attribute, and the main figure."""

    picture: NDArray[np.uint8]
    read: Mapping[str, Mapping[str, float]]
    figure: FigureRead


@dataclass(frozen=True, slots=True)
class Weighing:
    """How a trait is weighed. field : of a person. plain : its value without structure of its own.
    evidence : names of what is summed, weights : of each. honest : factor on the resulting probability, where it promises too much.
    """

    field: str
    plain: object
    evidence: tuple[str, ...]
    weights: tuple[float, ...]
    honest: float = 1.0


WEIGHINGS: dict[str, Weighing] = {
    "subject": Weighing("subject", "woman", ("read", "shoulders"), (1.35, 1.27), 0.75),
    "hair": Weighing("hair", "shaved", ("read", "cost", "inverted"), (0.82, 1.73, 0.89)),
    "facial hair": Weighing("facial_hair", "none", ("read", "cost", "fine", "explains"), (1.22, 1.49, 0.26, 1.30)),
    "glasses": Weighing("glasses", False, ("read", "cost", "fine", "explains"), (1.17, 0.36, 0.31, 2.10)),
}
_DRAWN = ("cost", "fine", "explains")  # evidence for which the head is drawn with each value
_ORDER = ("hair", "facial hair", "glasses", "subject")  # what covers most is settled first


def evidence(weighing: Weighing, name: str, seen: ReadFigure, scene: Scene) -> F64:
    """(values, kinds of evidence) of a trait, larger is likelier. scene : as far as it is settled."""
    values = ATTRIBUTES[name].values
    columns: dict[str, F64] = {}
    if set(weighing.evidence) & set(_DRAWN):
        view = HeadView(seen.picture, scene, 0)
        fits = [Fit(0.0, 0.0, 0.0)] * len(values) if view.empty else view.fits(weighing.field, _drawn(name), weighing.plain)
        costs, fine = np.array([one.cost for one in fits]), np.array([one.fine for one in fits])
        columns = {"cost": costs.min() - costs, "fine": fine - fine.max(), "explains": np.array([one.explains for one in fits])}
    if "shoulders" in weighing.evidence:
        columns["shoulders"] = _shoulders(seen.figure, values, seen.picture.shape[0] / seen.picture.shape[1])
    columns["read"] = np.log(np.array([seen.read.get(name, {}).get(value, 0.0) for value in values]) + _DOUBTED)
    inverted = getattr(scene.description.figures[0], weighing.field)
    columns["inverted"] = np.array([float(value == inverted) for value in _drawn(name)])
    return np.stack([columns[kind] for kind in weighing.evidence], 1)


def _drawn(name: str) -> list[object]:
    """The values of a trait as a person has them."""
    return [value == "yes" if name == "glasses" else value for value in ATTRIBUTES[name].values]


def probabilities(weighing: Weighing, seen: F64) -> F64:
    """The probability of each value, of evidence (values, kinds)."""
    odds = seen @ np.array(weighing.weights)
    p = np.exp(odds - odds.max())
    return np.asarray(p / p.sum())


def weighed(seen: ReadFigure, scene: Scene) -> tuple[Scene, dict[str, dict[str, float]]]:
    """The scene of a picture with the likeliest values of its main figure, and the probability of each value by trait.

    scene : as inversion found it.
    """
    told: dict[str, dict[str, float]] = {}
    for name in _ORDER:
        weighing = WEIGHINGS[name]
        p = probabilities(weighing, evidence(weighing, name, seen, scene))
        told[name] = {value: float(share) * weighing.honest for value, share in zip(ATTRIBUTES[name].values, p, strict=True)}
        person = replace(scene.description.figures[0], **{weighing.field: _drawn(name)[int(p.argmax())]})  # type: ignore[arg-type]
        scene = scene.with_person(0, person)
    return scene, told


def _shoulders(figure: FigureRead, values: tuple[str, ...], tall: float) -> F64:
    """How well each subject's shoulders fit those that were read, 0 or less; 0 for all where they were not."""
    places = [AT["right shoulder"], AT["left shoulder"]]
    if figure.head is None or figure.joint_confidence[places].min() <= SURE:
        return np.zeros(len(values))
    right, left = figure.joints[places] / (tall, 1.0)  # in heights of the picture
    broad = max(float(np.hypot(*(right - left))) / figure.head[2], 0.2)
    usual = np.array([2 * SUBJECTS[value].shoulder for value in values])
    return np.asarray(-np.minimum(_SHOULDERS * np.square(np.log(broad / usual)), _MOST_SHOULDERS))
