"""Exemplars of one composition, drawn small, and the denoiser over them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.control_maps import Control
from mosskeeper.core.diffusion.posterior import Posterior, Segments
from mosskeeper.core.illustrator.description import MOST_FIGURES, SKIN_PARTS, Description, Part, Person
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.scene import Scene, scene_of
from mosskeeper.core.pictures.signal import signal
from mosskeeper.core.traits import fields_of_group

F32 = NDArray[np.float32]
SMALL_AREA = 128 * 160  # px of the small exemplars
_PICKY = 14.0  # log odds between an exemplar that agrees wholly with a control of weight 1 and one that does not at all
# Segments of the picture that choose their exemplar separately, and the fields of a description that each decides.
OF_PERSON = {group: fields_of_group(group) for group in ("hair", "person", "dress", "prop")}
OTHERS = ("second", "third", "fourth")  # figures
GROUPS: dict[str, tuple[str, ...]] = {
    "place": fields_of_group("place"),
    **OF_PERSON,
    "companion": fields_of_group("companion"),
    **dict.fromkeys(OTHERS, ()),
}
_GROUP_NAMES = tuple(GROUPS)
_GROUP_OF_PART = np.zeros(len(Part), np.int64)
for _part in Part:
    _name = (
        "place"
        if _part < Part.HAIR
        else "hair"
        if _part in (Part.HAIR, Part.HEADWEAR)
        else "person"
        if _part in (*SKIN_PARTS, Part.FACIAL_HAIR)
        else "prop"
        if _part == Part.PROP
        else "companion"
        if _part == Part.COMPANION
        else "dress"
    )
    _GROUP_OF_PART[_part] = _GROUP_NAMES.index(_name)


def small_size(size: tuple[int, int], area: int = SMALL_AREA) -> tuple[int, int]:
    """(width, height) of the same shape with at most about `area` pixels."""
    w, h = size
    k = min(1.0, float(np.sqrt(area / (w * h))))
    return max(32, round(w * k)), max(32, round(h * k))


@dataclass
class Exemplars:
    """Descriptions on one composition, their small drawings, and the posterior over them."""

    descriptions: list[Description]
    drawings: list[Drawing]
    segments: Segments
    posterior: Posterior
    weights: F32

    @classmethod
    def drawn(
        cls,
        descriptions: list[Description],
        size: tuple[int, int],
        controls: Sequence[Control] = (),
        check: Callable[[], None] = lambda: None,
        stage: Callable[[Scene], Scene] = lambda scene: scene,
    ) -> Exemplars:
        """Draws them at `size`, each on its stage; where words say much, many are the same and drawn once. `check` is asked before each."""
        done: dict[Description, Drawing] = {}
        for description in descriptions:
            check()
            if description not in done:
                done[description] = draw_scene(stage(scene_of(description, size)))
        drawings = [done[d] for d in descriptions]
        segments = Segments(_shared_segments(drawings), _groups_of(drawings))
        favour = np.zeros(len(drawings), np.float32)
        for control in controls:
            favour += np.array([_PICKY * min(control.amount, 1.0) * control.agreement(d) for d in drawings], np.float32)
        prior = np.repeat((favour - favour.mean())[:, None], segments.n, 1).astype(np.float32)
        signals = np.stack([signal(d.image) for d in drawings])
        return cls(
            descriptions, drawings, segments, Posterior(signals, segments, prior), np.full((len(drawings), segments.n), 1, np.float32)
        )

    def estimate(self, x: F32, sigma: float) -> F32:
        """The denoised estimate; its weights are remembered for `chosen`."""
        self.weights = self.posterior.weights(x, sigma)
        return self.posterior.mean(self.weights)

    def chosen(self) -> Description:
        return recombined(self.descriptions, self.weights)


def recombined(descriptions: list[Description], weights: F32) -> Description:
    """One description: for each group of attributes, what its segment follows most.

    Attribute by attribute, the value with the greatest total weight wins, among the exemplars that agree with what
    won before it: eleven exemplars that say the same outweigh one that says something else, however loud that is.

    Parameters
    ----------
    weights : (K, groups) as the posterior gives them.
    """
    column = dict(zip(GROUPS, weights.T, strict=False))
    changes: dict[str, object] = {}
    for group, attributes in GROUPS.items():
        if attributes:
            changes |= _voted(descriptions, column[group], attributes)
    others = []
    for n, group in enumerate(OTHERS[: len(descriptions[0].others)]):
        versions = [d.others[n] for d in descriptions]
        chosen: dict[str, object] = {}
        for attributes in OF_PERSON.values():
            chosen |= _voted(versions, column[group], attributes)
        others.append(replace(versions[0], **chosen))  # type: ignore[arg-type]
    return replace(descriptions[0], others=tuple(others), **changes)  # type: ignore[arg-type]


def _voted(versions: Sequence[Person], weights: F32, attributes: tuple[str, ...]) -> dict[str, object]:
    agreeing = list(range(len(versions)))
    winners: dict[str, object] = {}
    for name in attributes:
        votes: dict[object, float] = {}
        for k in agreeing:
            value = getattr(versions[k], name)
            votes[value] = votes.get(value, 0.0) + float(weights[k])
        winners[name] = winner = max(votes, key=lambda value: votes[value])
        agreeing = [k for k in agreeing if getattr(versions[k], name) == winner]
    return winners


def _groups_of(drawings: list[Drawing]) -> int:
    """How many groups there are: a fourth figure's only where there is one, so that seeds give what they gave before there could be."""
    return len(GROUPS) - (len(drawings[0].shown) < MOST_FIGURES)


def _shared_segments(drawings: list[Drawing]) -> NDArray[np.int64]:
    """(H, W): for each pixel, the group that most exemplars show there."""
    groups = _GROUP_OF_PART[np.stack([d.labels for d in drawings])]
    numbers = np.stack([d.figures for d in drawings])
    for n, name in enumerate(OTHERS[: len(drawings[0].shown) - 1], 2):
        groups[numbers == n] = _GROUP_NAMES.index(name)
    votes = np.stack([(groups == g).sum(0) for g in range(_groups_of(drawings))])
    return np.asarray(votes.argmax(0), np.int64)
