"""The built-in engines: the procedural illustrator behind a closed-form denoiser, in three makes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import get_args

from mosskeeper.core.diffusion.conditioning import confined
from mosskeeper.core.diffusion.result import Progress, Report
from mosskeeper.core.illustrator.vocabulary.finishes import FINISHES
from mosskeeper.core.recipe import SIDE_MULTIPLE, SIZES, Recipe, Sampler
from mosskeeper.core.role_names import NAMES
from mosskeeper.core.roles import role
from mosskeeper.core.roles.role import Structure
from mosskeeper.core.takes.make import ILLUSTRATOR, Make
from mosskeeper.core.takes.take import make_take
from mosskeeper.engines.contract import REPAIRS, Capabilities, Estimate, Made, Materials, fitted

_MEGAPIXEL = 1_000_000
_STAND_IN = (
    "A small stand-in for a large model: it knows a limited vocabulary, draws what it understood with its own "
    "illustrator, and denoises towards those drawings. It needs no accelerator and no network."
)
_DRY = ("pencil study", "chalk", "ink and wash")
_NEVER = 1e-7


@dataclass(frozen=True, slots=True)
class BuiltinEngine:
    """One make of the illustrator. price : of its sparks and seconds, the full illustrator's being 1."""

    key: str
    title: str
    about: str
    make: Make = ILLUSTRATOR
    samplers: tuple[Sampler, ...] = get_args(Sampler)
    styles: tuple[str, ...] = tuple(FINISHES)
    price: float = 1.0

    def capabilities(self) -> Capabilities:
        return Capabilities(NAMES, self.samplers, self.styles, SIZES, SIDE_MULTIPLE, 1.5, True, self.make.least_steps, repairs=REPAIRS)

    def estimate(self, recipe: Recipe) -> Estimate:
        recipe = fitted(recipe, self.capabilities())
        area = recipe.width * recipe.height / _MEGAPIXEL
        steps = recipe.steps * (2 if recipe.sampler == "heun" else 1)
        sparks = self.price * recipe.count * (0.5 + 0.25 * steps * area)
        searches = any(cue.acts and isinstance(role(cue.role), Structure) for cue in recipe.cues) or (
            recipe.source is not None and recipe.source.denoised
        )
        paths = 1 + sum(region.acts for region in recipe.regions) + len({cue.area for cue in recipe.cues if confined(cue) is not None})
        drawn = self.make.scale**2
        if recipe.source is not None and not recipe.source.denoised:
            return Estimate(round(sparks, 1), round(recipe.count * (0.3 + 2.5 * area), 1))
        seconds = recipe.count * (paths * (0.05 * self.make.exemplars + area * (drawn + 0.03 * steps)) + 2.5 * searches)
        return Estimate(round(sparks, 1), round(seconds, 1))

    def generate(
        self,
        recipe: Recipe,
        seed: int,
        materials: Materials,
        report: Report,
        should_stop: Callable[[], bool],
    ) -> Made:
        def pass_on(p: Progress) -> None:
            report(Progress(round(p.step * recipe.steps / p.steps), recipe.steps, p.preview))

        own, m = fitted(recipe, self.capabilities()), materials
        take = make_take(own, seed, m.pictures, pass_on, should_stop, m.readings, self.make, m.explained)
        return Made(take.image, take.explained, take.says)


SKETCHER = BuiltinEngine(
    "sketcher",
    "Quick sketcher",
    "The stand-in, sketching: half the exemplars, a soft drawing in pencil, chalk or ink, a third of the price.",
    Make(exemplars=6, priors={"finish": {f: 1.0 if f in _DRY else _NEVER for f in FINISHES}}, scale=0.6),
    ("euler",),
    _DRY,
    0.35,
)
FULL = BuiltinEngine("built-in", "Full illustrator", _STAND_IN)
FINE = BuiltinEngine(
    "fine",
    "Fine illustrator",
    "The stand-in, taking its time: twice the exemplars, Heun's method over at least 32 steps, lines drawn half as large again and brought down.",
    Make(exemplars=24, scale=1.5, least_steps=32),
    ("heun",),
    price=2.0,
)
