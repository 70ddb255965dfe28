"""The built-in engine: the procedural illustrator behind a closed-form denoiser."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import get_args

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.structure import ROLES
from mosskeeper.core.diffusion.take import EXEMPLARS, make_take
from mosskeeper.core.diffusion.take import Progress as TakeProgress
from mosskeeper.core.illustrator.vocabulary.finishes import FINISHES
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import SIDE_MULTIPLE, SIZES, Recipe, Role, Sampler
from mosskeeper.engines.contract import Capabilities, Estimate, Progress

_MEGAPIXEL = 1_000_000


class BuiltinEngine:
    key = "built-in"
    title = "Built-in illustrator"
    about = (
        "A small stand-in for a large model: it knows a limited vocabulary, draws what it understood with its own "
        "illustrator, and denoises towards those drawings. It needs no accelerator and no network."
    )

    def capabilities(self) -> Capabilities:
        return Capabilities(get_args(Role), get_args(Sampler), tuple(FINISHES), SIZES, SIDE_MULTIPLE, 1.5, True)

    def estimate(self, recipe: Recipe) -> Estimate:
        area = recipe.width * recipe.height / _MEGAPIXEL
        steps = recipe.steps * (2 if recipe.sampler == "heun" else 1)
        sparks = recipe.count * (0.5 + 0.25 * steps * area)
        searches = any(cue.acts and cue.role in ROLES for cue in recipe.cues) or (recipe.source is not None and recipe.source.mask is None)
        paths = 1 + sum(region.acts for region in recipe.regions)
        seconds = recipe.count * (paths * (0.05 * EXEMPLARS + area * (1.0 + 0.03 * steps)) + 2.5 * searches)
        return Estimate(round(sparks, 1), round(seconds, 1))

    def generate(
        self,
        recipe: Recipe,
        seed: int,
        pictures: Mapping[str, NDArray[np.uint8]],
        readings: Mapping[str, Reading],
        report: Callable[[Progress], None],
        should_stop: Callable[[], bool],
    ) -> NDArray[np.uint8]:
        known = recipe.model_copy(update={"styles": [s for s in recipe.styles if s in FINISHES]})

        def pass_on(p: TakeProgress) -> None:
            report(Progress(p.step, p.steps, p.preview))

        return make_take(known, seed, pictures, pass_on, should_stop, readings).image
