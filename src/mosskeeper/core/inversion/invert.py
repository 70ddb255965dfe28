"""Inversion: the scene that explains a picture that was not drawn here.

Aligned by joints and landmarks, its unsure names chosen by drawing small and comparing, its colours in closed form. How
far that goes is limited by the reader, and told.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.inversion.aligned import aligned
from mosskeeper.core.inversion.compared import FigureComparison
from mosskeeper.core.inversion.guess import first_guess
from mosskeeper.core.pictures.resample import nearest
from mosskeeper.core.reading.reading import FigureRead, Reading

_UNSURE = ("subject", "headwear", "hair", "outfit", "glasses", "facial hair", "expression", "hair")  # chosen by comparing, in this order


@dataclass(frozen=True, slots=True)
class _Trial:
    """How a name is chosen. values : that are tried. prior : what a factor of e in the reader's confidence counts, in Lab units of
    mean difference. better : by which another name must explain more.
    """

    values: int = 4
    prior: float = 0.5
    better: float = 0.15


_TRIALS = {"hair": _Trial(6, 0.25, 0.05)}  # hairdresses differ in few pixels, and the reader is in doubt of them most
_DOUBT = 0.6  # confidence below which a name is told to be unsure
_TOLD = ("place", "time", "weather", "light", "finish")


@dataclass(frozen=True, slots=True, eq=False)
class Inverted:
    """A picture explained by a scene.

    parts : (H, W), the reader's map of PARTS at the picture's size. explains : of the main figure, "figure" and each part group:
    how much of the drawing lies on what was read, 0…1. cost : mean difference over the figure, Lab units. unsure : attributes of
    which the reader was in doubt.
    """

    scene: Scene
    reading: Reading
    figures: tuple[FigureRead, ...]  # of the scene, in their order
    parts: NDArray[np.uint8]
    explains: dict[str, float]
    cost: float
    unsure: tuple[str, ...]


def invert(picture: NDArray[np.uint8], reading: Reading, check: Callable[[], None] = lambda: None) -> Inverted | None:
    """The scene that explains a picture (H, W, 3); None where nobody's head is seen in it, as `reading` tells.

    Parameters
    ----------
    reading : of the picture, by a reader and not only measured.
    check : asked between drawings; may raise.
    """
    h, w = picture.shape[:2]
    scene = laid(reading, (w, h))
    if scene is None or reading.parts is None:
        return None
    parts = nearest(reading.parts, (w, h))
    figures = [f for f in reading.figures if f.head is not None][: len(scene.postures)]
    seen = [FigureComparison(picture, parts, n, figure) for n, figure in enumerate(figures)]
    for one in seen:
        scene = one.coloured(one.coloured(scene))
    scene = _named(scene, seen[0], reading, check)
    scene = seen[0].coloured(aligned(scene, 0, figures[0]))
    return Inverted(scene, reading, tuple(figures), parts, seen[0].explained(scene), seen[0].cost(scene), _doubted(reading))


def laid(reading: Reading, size: tuple[int, int]) -> Scene | None:
    """Where everything stands in a picture of `size`, without who it is: what inversion begins with. None where nobody is seen."""
    scene = first_guess(reading, size)
    if scene is not None:
        for n, figure in enumerate([f for f in reading.figures if f.head is not None][: len(scene.postures)]):
            scene = aligned(scene, n, figure)
    return scene


def _named(scene: Scene, seen: FigureComparison, reading: Reading, check: Callable[[], None]) -> Scene:
    """The scene with the unsure names of its main figure as they explain the picture best."""
    main = reading.main
    assert main is not None
    best = seen.cost(scene)
    for name in _UNSURE:
        told, field = main.attributes.get(name, {}), name.replace(" ", "_")
        own, trial = _spoken(getattr(scene.description, field)), _TRIALS.get(name, _Trial())
        for value in sorted(told, key=lambda v: -told[v])[: trial.values]:
            if value == own:
                continue
            check()
            named: dict[str, object] = {field: value == "yes" if name == "glasses" else value}
            other = seen.coloured(scene.with_person(0, replace(scene.description.figures[0], **named)))  # type: ignore[arg-type]
            cost = seen.cost(other)
            if cost + trial.prior * float(np.log(max(told.get(own, 0.02), 0.02)) - np.log(max(told[value], 1e-4))) < best - trial.better:
                scene, best, own = other, cost, value
    return scene


def _doubted(reading: Reading) -> tuple[str, ...]:
    main = reading.main
    assert main is not None
    told = {**{a: reading.attributes.get(a, {}) for a in _TOLD}, **{a: main.attributes.get(a, {}) for a in _UNSURE}}
    return tuple(a for a, values in told.items() if not values or max(values.values()) < _DOUBT)


def _spoken(value: object) -> str:
    return ("yes" if value else "no") if isinstance(value, bool) else str(value)
