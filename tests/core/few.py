"""Takes that choose among few exemplars: what cues, regions and words do to a take does not hang on how many there are."""

from typing import Any

from mosskeeper.core.diffusion.result import TakeResult
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.takes import take
from mosskeeper.core.takes.make import Make

FEW = Make(exemplars=4)


def make_take(recipe: Recipe, seed: int, *given: Any, **named: Any) -> TakeResult:
    return take.make_take(recipe, seed, *given, **{"make": FEW, **named})
