"""What all fidelity measurements share: recipes, seeds, readings, simple statistics."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from functools import cache

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.result import TakeResult
from mosskeeper.core.illustrator.description import Description, Part
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.any_reader import read_any
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.references.of_picture import contents_of_picture
from mosskeeper.core.references.of_scene import contents_of_scenes
from mosskeeper.core.takes.take import make_take

SIZE = (256, 320)
BASE = Recipe(words="a young woman in the fern house at noon, half figure", width=SIZE[0], height=SIZE[1], steps=12)
OTHERS = (  # what references and controls are taken from
    "Oda Brask, an old woman with silver curls and glasses in a plum night cloak on the library stair at night, half figure",
    "Tobin Quill, a boy with black short curls in a mustard rain cape on the festival bridge at dusk, half figure",
    "a man with a beard in a teal courier uniform at the tide flats at dawn, half figure",
)
# Attributes of the words' vocabulary and the field of a description that holds each.
FIELDS = {
    "subject": "subject",
    "build": "build",
    "skin": "skin",
    "hair": "hair",
    "hair colour": "hair_colour",
    "eyes": "eyes",
    "expression": "expression",
    "outfit": "outfit",
    "pattern": "pattern",
    "headwear": "headwear",
    "prop": "prop",
    "facial hair": "facial_hair",
    "mark": "mark",
    "companion": "companion",
    "place": "place",
    "time": "time",
    "weather": "weather",
    "light": "light",
}
DRESS = (Part.TOP, Part.SLEEVE, Part.BOTTOM, Part.OUTER)


def sha(n: int) -> str:
    return f"{n:064x}"


@cache
def other(n: int, width: int = SIZE[0], height: int = SIZE[1]) -> TakeResult:
    """A picture to refer to."""
    return make_take(Recipe(words=OTHERS[n], width=width, height=height, steps=8, guidance=9), 500 + n)


def drawn(take: TakeResult) -> tuple[Drawing, Description]:
    assert take.drawing is not None and take.description is not None
    return take.drawing, take.description


@cache
def reading(n: int, exact: bool = True) -> Reading:
    """The reading of an own picture as the studio has it: from its pixels, and where `exact` with what its stored scene holds."""
    take = other(n)
    read = read_any(take.image)
    assert take.explained is not None
    contents = contents_of_scenes(take.explained) if exact else contents_of_picture(take.image, read)
    return replace(read, contents=contents)


def with_cues(*cues: Cue, base: Recipe = BASE, **changes: object) -> Recipe:
    return base.model_copy(update={"cues": list(cues), **changes})


def lab_of(image: NDArray[np.uint8], where: NDArray[np.bool_]) -> NDArray[np.float32]:
    """Median Lab colour of a place."""
    return np.asarray(np.median(rgb_to_lab(image[where].astype(np.float32) / 255), 0), np.float32)


def rank_correlation(a: Sequence[float] | NDArray[np.floating], b: Sequence[float] | NDArray[np.floating]) -> float:
    """Spearman's."""
    ranks = [np.argsort(np.argsort(np.asarray(v).ravel())).astype(float) for v in (a, b)]
    return float(np.corrcoef(*ranks)[0, 1])


def largest_step(curve: Iterable[float]) -> float:
    """The largest step of a curve as a share of its whole range."""
    c = np.asarray(list(curve))
    return float(np.abs(np.diff(c)).max() / max(abs(c[-1] - c[0]), 1e-9))


def psnr(a: NDArray[np.uint8], b: NDArray[np.uint8]) -> float:
    error = float(np.square(a.astype(np.float64) - b).mean())
    return float(10 * np.log10(255**2 / max(error, 1e-3)))
