"""Which value a trait of a foreign picture has, and how surely: reader and drawing weighed by how much each was found to tell.

For each value the evidence is summed (multinomial logit): the logarithm of the reader's confidence, and how well the head drawn
with the value explains the pixels. The weights were fitted by `training/weigh_traits.py` on drawings in all finishes of persons
that the reader was not trained on.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.illustrator.skeleton import AT
from mosskeeper.core.illustrator.vocabulary.people import SUBJECTS
from mosskeeper.core.inversion.closely import FACE, HEAD, Fit, HeadView
from mosskeeper.core.reading.reading import SURE, FigureRead
from mosskeeper.core.words.attributes import ATTRIBUTES

F64 = NDArray[np.float64]
_DOUBTED = 0.01  # confidence that a value has at least: the reader may be wrong of any
_SHOULDERS = 10.0  # of the squared logarithm by which shoulders are broader than a subject's
_MOST_SHOULDERS = 6.0


@dataclass(frozen=True, slots=True)
class Weighing:
    """How a trait is weighed. field : of a person. plain : its value without structure of its own. head_px : at which it is drawn.
    evidence : names of what is summed, weights : of each. honest : factor on the resulting probability, where it promises too much.
    """

    field: str
    plain: object
    head_px: float
    evidence: tuple[str, ...]
    weights: tuple[float, ...]
    honest: float = 1.0


WEIGHINGS: dict[str, Weighing] = {
    "subject": Weighing("subject", "woman", FACE, ("read", "fine", "shoulders"), (1.19, 0.65, 1.01), 0.88),
    "hair": Weighing("hair", "shaved", HEAD, ("read", "cost"), (0.86, 2.85)),
    "facial hair": Weighing("facial_hair", "none", HEAD, ("read", "cost", "fine", "explains"), (1.22, 1.49, 0.26, 1.30)),
    "glasses": Weighing("glasses", False, HEAD, ("read", "cost", "fine", "explains"), (1.17, 0.36, 0.31, 2.10)),
}
_ORDER = ("hair", "facial hair", "glasses", "subject")  # what covers most is settled first


def evidence(
    weighing: Weighing, read: Mapping[str, float], fits: list[Fit], values: tuple[str, ...], figure: FigureRead, tall: float
) -> F64:
    """(values, kinds of evidence), larger is likelier. tall : height of the picture over its width."""
    costs, fine = np.array([one.cost for one in fits]), np.array([one.fine for one in fits])
    columns = {
        "read": np.log(np.array([read.get(value, 0.0) for value in values]) + _DOUBTED),
        "cost": costs.min() - costs,
        "fine": fine - fine.max(),
        "explains": np.array([one.explains for one in fits]),
    }
    if "shoulders" in weighing.evidence:
        columns["shoulders"] = _shoulders(figure, values, tall)
    return np.stack([columns[name] for name in weighing.evidence], 1)


def probabilities(weighing: Weighing, seen: F64) -> F64:
    """The probability of each value, of evidence (values, kinds)."""
    odds = seen @ np.array(weighing.weights)
    p = np.exp(odds - odds.max())
    return np.asarray(p / p.sum())


def weighed(
    picture: NDArray[np.uint8], scene: Scene, read: Mapping[str, Mapping[str, float]], figure: FigureRead
) -> tuple[Scene, dict[str, dict[str, float]]]:
    """The scene of a picture (H, W, 3) with the likeliest values of its main figure, and the probability of each value by trait.

    scene : as inversion found it. read : the reader's confidences by attribute. figure : the main figure, as it was read.
    """
    told: dict[str, dict[str, float]] = {}
    tall = picture.shape[0] / picture.shape[1]
    for name in _ORDER:
        weighing, values = WEIGHINGS[name], ATTRIBUTES[name].values
        view = HeadView(picture, scene, 0, weighing.head_px)
        if view.empty:
            continue
        drawn: list[object] = [value == "yes" for value in values] if name == "glasses" else list(values)
        plain = weighing.plain if weighing.plain in drawn else drawn[0]
        fits = view.fits(weighing.field, drawn, plain)
        p = probabilities(weighing, evidence(weighing, read.get(name, {}), fits, values, figure, tall))
        told[name] = {value: float(share) * weighing.honest for value, share in zip(values, p, strict=True)}
        scene = view.with_value(scene, weighing.field, drawn[int(p.argmax())])
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
