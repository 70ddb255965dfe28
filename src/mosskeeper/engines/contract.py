"""What an engine is: it says what it can do, and turns a recipe and a seed into a picture."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Recipe


@dataclass(frozen=True, slots=True)
class Capabilities:
    roles: tuple[str, ...]
    samplers: tuple[str, ...]
    styles: tuple[str, ...]
    sides: tuple[int, int]  # px, least and most
    side_multiple: int
    max_weight: float
    deterministic: bool


@dataclass(frozen=True, slots=True)
class Estimate:
    sparks: float  # price; sparks are a made-up unit for budgets
    seconds: float


@dataclass(frozen=True, slots=True)
class Progress:
    """Where one picture stands: `preview` is the denoised estimate (H, W, 3) uint8, or None."""

    step: int
    steps: int
    preview: NDArray[np.uint8] | None = None


class Engine(Protocol):
    key: str
    title: str
    about: str

    def capabilities(self) -> Capabilities: ...

    def estimate(self, recipe: Recipe) -> Estimate:
        """Price and expected time of all takes that the recipe asks for."""
        ...

    def generate(
        self,
        recipe: Recipe,
        seed: int,
        pictures: Mapping[str, NDArray[np.uint8]],
        readings: Mapping[str, Reading],
        report: Callable[[Progress], None],
        should_stop: Callable[[], bool],
    ) -> NDArray[np.uint8]:
        """One picture (H, W, 3) uint8. Raises `Stopped` soon after `should_stop` says so.

        pictures : by the names in the recipe. readings : what a reader saw in those of cues; an engine may look for itself.
        """
        ...


def misfits(recipe: Recipe, engine: Engine) -> list[str]:
    """What of a recipe the engine cannot do, as sentences, with what it will do instead."""
    can, out = engine.capabilities(), []
    for cue in recipe.cues:
        if cue.acts and cue.role not in can.roles:
            out.append(f"{engine.title} does not know the role “{cue.role}”: the cue will not act.")
        if cue.acts and cue.weight > can.max_weight:
            out.append(f"{engine.title} takes weights up to {can.max_weight:g}: {cue.weight:g} acts like {can.max_weight:g}.")
    if recipe.sampler not in can.samplers:
        out.append(f"{engine.title} has no sampler “{recipe.sampler}”: it uses {can.samplers[0]}.")
    for style in recipe.styles:
        if style not in can.styles:
            out.append(f"{engine.title} has no style “{style}”: it leaves it out.")
    for side, name in ((recipe.width, "width"), (recipe.height, "height")):
        if not can.sides[0] <= side <= can.sides[1]:
            out.append(f"{engine.title} draws from {can.sides[0]} to {can.sides[1]} px: the {name} of {side} does not fit.")
    return out
