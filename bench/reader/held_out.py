"""Pictures with everything known about them: drawings of persons that were never trained on, takes, and the demo's takes."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from training.drawings import Population
from training.heads import FAMILY, member
from training.people import OTHER_POSE, picture, scene

from mosskeeper.core.illustrator.description import Description
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.takes.take import make_take
from mosskeeper.demo import scenario

SIZES = ((512, 640), (512, 512), (640, 512))
HELD_OUT = Population(seed=4052, persons=31 * FAMILY, each=4)


@dataclass(frozen=True)
class Known:
    """A picture, and what is true of it."""

    image: NDArray[np.uint8]
    drawing: Drawing
    description: Description
    poses: list[str]  # of its figures; OTHER_POSE where no name fits
    people: list[int]


def drawings(numbers: range, finish: str | None = None, place: str | None = None) -> Iterator[Known]:
    """Drawings of the held-out persons; in one finish or place where these are given."""
    population = HELD_OUT
    for n in numbers:
        rng = np.random.default_rng([population.seed, 8, n])
        number = n % population.persons
        others = [int(k) for k in rng.integers(0, population.persons, 2)]
        where = scene(rng, finish, place)
        described, poses = picture(member(population.seed, number), [member(population.seed, k) for k in others], where, rng)
        drawing = draw(described, SIZES[int(rng.choice(3, p=(0.7, 0.15, 0.15)))])
        yield Known(drawing.image, drawing, described, poses, [number, *others][: len(drawing.shown)])


def takes(numbers: range) -> Iterator[Known]:
    """Takes of the diffusion core with mixed exemplars: words that leave much open, at low guidance."""
    for n in numbers:
        words = (
            "a woman in the fern house at noon, half figure",
            "a boy at the canal market, full figure",
            "portrait of an old man at dusk",
        )[n % 3]
        take = make_take(Recipe(words=words, guidance=3, steps=12), 9000 + n)
        if take.drawing is not None and take.description is not None:
            yield Known(take.image, take.drawing, take.description, [_pose(take.description)] * len(take.drawing.shown), [])


def demo_takes() -> Iterator[Known]:
    """The first take of every shot of the demo."""
    for shot in scenario.SHOTS:
        member = next(m for m in scenario.CAST if m.name == shot.member)
        words = ", ".join([member.traits, member.outfits[shot.outfit], scenario.SCENES[shot.scene], shot.words])
        take = make_take(Recipe(words=words, styles=list(shot.styles)), shot.seed)
        if take.drawing is not None and take.description is not None:
            yield Known(take.image, take.drawing, take.description, [_pose(take.description)] * len(take.drawing.shown), [])


def _pose(described: Description) -> str:
    return OTHER_POSE if described.layout.skeleton is not None else described.layout.pose
