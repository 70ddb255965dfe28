"""What an artist should know of cues before a run: what is likely to go wrong."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from mosskeeper.core.diffusion.conditioning import References
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.roles import reference, role
from mosskeeper.core.traits import TRAITS, Trait
from mosskeeper.core.words.understand import Scores, understand

_HEAVY = 0.85
_HEARD = 1.0  # guidance from which words are heard
_MOST_TOLD = 3
_APART = 0.35  # agreement of two sources under which they pull apart


@dataclass(frozen=True, slots=True)
class Warning:
    """A sentence about the cue in this place of the sheet."""

    place: int
    sentence: str


def warnings(recipe: Recipe, readings: Mapping[str, Reading]) -> list[Warning]:
    """What is likely to go wrong with the cues of a recipe, in their order.

    readings : of the cues' pictures, by name; what is missing there is not judged.
    """
    out = []
    said = understand(recipe.prompt).wanted
    for place, cue in enumerate(recipe.cues):
        if cue.acts:
            reading = readings.get(cue.picture or "")
            out += [Warning(place, sentence) for sentence in _alone(cue, recipe.steps, reading)]
            otherwise = _against_words(cue, recipe, reading, said) if reading is not None else ""
            out += [Warning(place, otherwise)] if otherwise else []
    for (_, a), (j, b) in combinations(enumerate(recipe.cues), 2):
        if a.acts and b.acts and a.role == b.role and _overlap(a, b):
            sentence = _together(a, b, readings)
            if sentence:
                out.append(Warning(j, sentence))
    return sorted(out, key=lambda w: w.place)


def _alone(cue: Cue, steps: int, reading: Reading | None) -> list[str]:
    out, kind = [], role(cue.role)
    if cue.weight > _HEAVY and kind.too_heavy:
        out.append(f"A weight over {_HEAVY:g} {kind.too_heavy}.".replace("0.", "."))
    middles = 100 * (np.arange(steps) + 0.5) / steps
    if not ((middles >= cue.start) & (middles < cue.end)).any():
        out.append(f"Its span holds no step: with {steps} steps, one is {100 / steps:.0f} % long. Widen the span.")
    lacking = kind.lacks(reading, cue.skeleton is not None) if reading is not None else ""
    return [*out, lacking] if lacking else out


def _against_words(cue: Cue, recipe: Recipe, reading: Reading, said: Scores) -> str:
    """Where words, which go before references, say otherwise than a reference; "" where they do not."""
    if reference(cue.role) is None or recipe.guidance < _HEARD:
        return ""
    lent = References([cue], {}, {cue.picture or "": reading}, recipe.steps, False)
    otherwise = list[str]()
    for trait in TRAITS:
        theirs = lent.scores(trait.name)
        mine = [value for value in said.get(trait.name, {}) if value not in theirs]
        if not theirs or not mine or (trait.name == "subject" and any(value.endswith(mine[0]) for value in theirs)):
            continue
        otherwise.append(f"your words say {_spoken(trait, mine[0])}; the reference says {_spoken(trait, next(iter(theirs)))}")
    if recipe.styles and lent.scores("finish"):
        otherwise.append(f"the style {recipe.styles[0]} is chosen; the reference would be in {next(iter(lent.scores('finish')))}")
    sentence = ", and ".join(otherwise[:_MOST_TOLD])
    return f"{sentence[0].upper()}{sentence[1:]}. The words go first." if sentence else ""


def _spoken(trait: Trait, value: str) -> str:
    return {"yes": trait.called, "no": f"no {trait.called}", "none": f"no {trait.called}"}.get(value, value)


def _overlap(a: Cue, b: Cue) -> bool:
    return min(a.end, b.end) > max(a.start, b.start) and a.area == b.area


def _together(a: Cue, b: Cue, readings: Mapping[str, Reading]) -> str | None:
    other = f"“{a.name or a.role}”"
    if a.role == "pose":
        return f"Two poses act at once, this one and {other}: a figure can follow only one. Part their spans, or turn one off."
    one, two = readings.get(a.picture or ""), readings.get(b.picture or "")
    lender = reference(a.role)
    if lender is None or a.picture == b.picture or one is None or two is None:
        return None
    agreed = lender.alike(one, two)
    if agreed is None or agreed >= _APART:
        return None
    return f"This one and {other} pull apart: as {a.role} they agree to {100 * agreed:.0f} of 100. Lower one, or part their spans."


def soloed(recipe: Recipe) -> Recipe:
    """The recipe as it runs: where cues are soloed, or regions, all others of their kind are off."""
    update = {}
    for name, those in (("cues", recipe.cues), ("regions", recipe.regions)):
        if any(one.solo for one in those):
            update[name] = [one.model_copy(update={"on": one.on and one.solo, "solo": False}) for one in those]
    return recipe.model_copy(update=update) if update else recipe


def neutral(recipe: Recipe) -> Recipe:
    """The recipe without any style: what is left of the finish comes from words and references."""
    return recipe.model_copy(update={"styles": []})
