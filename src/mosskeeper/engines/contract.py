"""What an engine is: it says what it can do, and turns a recipe and a seed into a picture."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.result import Report
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.explained import LayeredScenes
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
    least_steps: int = 4
    max_cues: int = 12
    repairs: tuple[str, ...] = ()  # of REPAIRS


# begins with a picture; changes it in a mask; makes its canvas wider; puts a face on it; enlarges it
REPAIRS = ("source", "mask", "wider", "face", "larger")


@dataclass(frozen=True, slots=True)
class Estimate:
    sparks: float  # price; sparks are a made-up unit for budgets
    seconds: float


@dataclass(frozen=True, slots=True)
class Materials:
    """What a recipe's pictures are, by the names in it: (H, W, 3) uint8.

    readings : what a reader saw in those of cues; an engine may look for itself. explained : the scenes of those that are takes.
    """

    pictures: Mapping[str, NDArray[np.uint8]] = field(default_factory=dict)
    readings: Mapping[str, Reading] = field(default_factory=dict)
    explained: Mapping[str, LayeredScenes] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Made:
    """One picture (H, W, 3) uint8, and the scenes it was drawn from where the engine knows them."""

    image: NDArray[np.uint8]
    explained: LayeredScenes | None = None
    says: tuple[str, ...] = ()  # what was done where a mask was open, for the artist


class Busy(Exception):
    """The engine has no time now. `after` : seconds in which to ask again, where it says."""

    def __init__(self, after: float | None = None) -> None:
        super().__init__("the engine is busy")
        self.after = after


class EngineFailed(ArtistError):
    """The engine broke, or answered what cannot be used. The recipe stays as it is."""


class Engine(Protocol):
    @property
    def key(self) -> str: ...

    @property
    def title(self) -> str: ...

    @property
    def about(self) -> str: ...

    def capabilities(self) -> Capabilities: ...

    def estimate(self, recipe: Recipe) -> Estimate:
        """Price and expected time of all takes that the recipe asks for."""
        ...

    def generate(
        self,
        recipe: Recipe,
        seed: int,
        materials: Materials,
        report: Report,
        should_stop: Callable[[], bool],
    ) -> Made:
        """One picture. Raises `Stopped` soon after `should_stop` says so, `Busy` or `EngineFailed`."""
        ...


@dataclass(frozen=True, slots=True)
class Misfit:
    """What of a recipe an engine cannot do, and what it will do instead. cue : its place, where it is about one."""

    sentence: str
    cue: int | None = None


def misfits(recipe: Recipe, engine: Engine) -> list[Misfit]:
    """All that of a recipe does not fit an engine. Nothing of the recipe is changed."""
    can, title = engine.capabilities(), engine.title
    out = []
    acting = [i for i, cue in enumerate(recipe.cues) if cue.acts]
    for i in acting:
        cue = recipe.cues[i]
        if cue.role not in can.roles:
            out.append(Misfit(f"{title} does not know the role “{cue.role}”: the cue will not act.", i))
        if cue.weight > can.max_weight:
            out.append(Misfit(f"{title} takes weights up to {can.max_weight:g}: {cue.weight:g} acts like {can.max_weight:g}.", i))
    out += [Misfit(f"{title} takes {can.max_cues} cues: this one will not act.", i) for i in acting[can.max_cues :]]
    if recipe.sampler not in can.samplers:
        out.append(Misfit(f"{title} has no sampler “{recipe.sampler}”: it uses {can.samplers[0]}."))
    if recipe.steps < can.least_steps:
        out.append(Misfit(f"{title} takes at least {can.least_steps} steps: {recipe.steps} act like {can.least_steps}."))
    for style in recipe.styles:
        if style not in can.styles:
            knows = f" It knows {', '.join(can.styles)}." if can.styles else ""
            out.append(Misfit(f"{title} has no style “{style}”: it leaves it out.{knows}"))
    repair = _repair(recipe)
    if repair is not None and repair not in can.repairs:
        out.append(Misfit(_CANNOT[repair].format(title)))
    for side, name in ((recipe.width, "width"), (recipe.height, "height")):
        if not can.sides[0] <= side <= can.sides[1]:
            out.append(Misfit(f"{title} draws from {can.sides[0]} to {can.sides[1]} px: the {name} of {side} does not fit."))
        elif side % can.side_multiple:
            out.append(Misfit(f"{title} draws sides in multiples of {can.side_multiple} px: the {name} of {side} does not fit."))
    return out


_CANNOT = {
    "source": "{} cannot begin with a picture: it makes a new one of the words.",
    "mask": "{} cannot change a picture in a mask: it makes a whole new one of the words.",
    "face": "{} cannot put a face on a picture: it makes a new one of the words.",
    "larger": "{} cannot enlarge a picture: it makes a new one of the words.",
    "wider": "{} cannot extend a picture: it makes a new one of the words on the whole canvas.",
}


def _repair(recipe: Recipe) -> str | None:
    """What a recipe does with its source picture, of REPAIRS."""
    own = recipe.source
    if own is None or own.denoised:
        return None if own is None else "source"
    return "wider" if own.extends else "mask" if own.mask is not None else "face" if own.face is not None else "larger"


def fitted(recipe: Recipe, can: Capabilities) -> Recipe:
    """The recipe as an engine carries it out: what `misfits` tells, done. Sizes are left: a picture of another size was not asked for."""
    cues = [
        cue.model_copy(update={"weight": min(cue.weight, can.max_weight)}) for cue in recipe.cues if cue.acts and cue.role in can.roles
    ][: can.max_cues]
    return recipe.model_copy(
        update={
            "cues": cues,
            "sampler": recipe.sampler if recipe.sampler in can.samplers else can.samplers[0],
            "steps": max(recipe.steps, can.least_steps),
            "styles": [s for s in recipe.styles if s in can.styles],
            "source": recipe.source if _repair(recipe) in can.repairs else None,
        }
    )
