"""The person whom words describe, alone."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Person
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.takes.beliefs import Beliefs


def somebody(words: str, rng: np.random.Generator, like: Recipe | None = None) -> Person:
    """The person whom `words` describe; what they leave open is drawn from `rng`.

    like : a recipe whose size, guidance and styles count; nothing that it says of people does.
    """
    alone: dict[str, object] = {"given": "", "held": [], "words": words, "cues": [], "regions": [], "source": None}
    beliefs = Beliefs((like or Recipe()).model_copy(update=alone))
    return beliefs.exemplars(beliefs.composition(rng), rng, 1)[0].figures[0]
