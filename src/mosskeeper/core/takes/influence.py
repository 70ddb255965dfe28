"""What each region of a take decided: the take is chosen again without the region's words, with all standing still.

So influence is where the posterior chose otherwise, not where the mask lies: what reaches beyond the region and its own people
has bled.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.mending.masks import Mask, dilated
from mosskeeper.core.pictures.difference import delta_e_map
from mosskeeper.core.pictures.resample import fitted
from mosskeeper.core.reading.structure import grey
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.regions.words import own_words, wants
from mosskeeper.core.takes.make import ILLUSTRATOR, Make
from mosskeeper.core.takes.take import Pictures, Readings, arranged
from mosskeeper.core.words.said import without

F32 = NDArray[np.float32]
CHANGED = 4.0  # ΔE from which a pixel counts as changed
_BORDER, _AIR = 12, 40  # px about a region, and about a place that fades into another, that count as it
_OUTLINE = 4  # px about a figure: its outline, and the light at its edge
_LEAST = 40  # px that a word must change to be said to act


@dataclass(frozen=True, slots=True)
class Bled:
    """What an attribute of a region changed. acts : share of the picture. bled : of that, what lies neither in the region nor on its
    people, 0…1. into : of that, what lies on the people of other regions, by their number.
    """

    attribute: str
    acts: float
    bled: float
    into: Mapping[int, float]


@dataclass(frozen=True, slots=True, eq=False)
class Influence:
    """Of one region. map : (H, W) ΔE between the picture with and without its words. out : (H, W), where they bled.
    bled : as of an attribute, of all its words. overhang : of what they changed, what lies on its people outside of it.
    """

    map: F32
    out: Mask
    bled: float
    overhang: float
    attributes: tuple[Bled, ...]

    def to_json(self) -> dict[str, Any]:
        return {
            "acts": float((self.map > CHANGED).mean()),
            "bled": self.bled,
            "overhang": self.overhang,
            "attributes": [
                {"attribute": b.attribute, "acts": b.acts, "bled": b.bled, "into": {str(n): v for n, v in b.into.items()}}
                for b in self.attributes
            ],
        }


def influence(
    recipe: Recipe,
    seed: int,
    region: int,
    pictures: Pictures,
    readings: Readings | None = None,
    make: Make = ILLUSTRATOR,
    check: Callable[[], None] = lambda: None,
) -> Influence:
    """What a region of a recipe decided in the take of a seed.

    Raises IndexError where the recipe has no such region.
    """
    own = recipe.regions[region]
    asked = arranged(recipe, seed, pictures, readings or {}, make, check)
    numbers = [n + 1 for n, at in enumerate(asked.regions) if at == region]
    said = own_words(own.prompt)

    def with_words(words: str) -> LayeredScenes:
        changed = [r.model_copy(update={"words": words, "given": ""}) if n == region else r for n, r in enumerate(recipe.regions)]
        return arranged(recipe.model_copy(update={"regions": changed}), seed, pictures, readings or {}, make, check, asked).scenes

    full = asked.scenes.drawn()
    mask = fitted(grey(pictures[own.mask]), (recipe.width, recipe.height)) > 0.5
    border = _AIR if "place" in wants(said) and not numbers else _BORDER
    others = {n: at for n, at in enumerate(asked.regions, 1) if at is not None and at != region}

    def judged(attribute: str, words: str) -> tuple[Bled, float, F32, Mask]:
        rest = with_words(words).drawn()
        far = delta_e_map(full.image, rest.image)
        changed = np.asarray(far > CHANGED)
        people = np.isin(full.figures, numbers) | np.isin(rest.figures, numbers)
        near, inside = dilated(people, 2 * _OUTLINE + 1), dilated(mask, 2 * border + 1)
        total = int(changed.sum())
        if total < _LEAST:
            return Bled(attribute, total / changed.size, 0.0, {}), 0.0, far, np.zeros_like(changed)
        out = changed & ~inside & ~near
        into = {at: float((out & (full.figures == n)).sum() / total) for n, at in others.items()}
        bled = Bled(attribute, total / changed.size, float(out.sum() / total), {n: v for n, v in into.items() if v > 0})
        return bled, float((changed & ~inside & near).sum() / total), far, out

    # without its words there are still the same people
    alone = " and ".join(f"a {asked.composition.stances[n - 1].subject}" for n in numbers)
    everything, overhang, far, out = judged("", alone)
    attributes = [a for a in said.wanted if a != "subject" and without(own.prompt, a) != own.prompt] if numbers else []
    each = tuple(judged(a, without(own.prompt, a))[0] for a in attributes)
    return Influence(far, out, everything.bled, overhang, each)


def told(found: Influence, letter: str) -> list[str]:
    """What a region did, in sentences. letter : by which it is called."""
    if not found.attributes and found.map.max(initial=0) <= CHANGED:
        return [f"{letter} says only who is there; all else is as the seed has it."]
    out = [
        f"{letter} acted on {_per_cent(float((found.map > CHANGED).mean()))} of the picture; {_per_cent(found.bled)} of that bled beyond it and its people."
    ]
    for one in found.attributes:
        if one.acts * found.map.size < _LEAST:
            out.append(f"{letter}’s {one.attribute} changed nothing: it would be so without the words.")
        elif one.bled > 0:
            into = ", ".join(f"{_per_cent(share)} in {chr(65 + n)}" for n, share in one.into.items())
            out.append(f"{letter}’s {one.attribute} bled by {_per_cent(one.bled)}{f': {into}' if into else ''}.")
    if all(one.bled == 0 for one in found.attributes) and found.attributes:
        out.append(f"Nothing of {letter}’s {', '.join(one.attribute for one in found.attributes)} bled.")
    return out


def _per_cent(share: float) -> str:
    return f"{share:.0%}".replace("%", " %") if share >= 0.005 or share == 0 else "less than 1 %"
