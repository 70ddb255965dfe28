"""What an artist should know of cues before a run: how each role begins, and what is likely to go wrong."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from mosskeeper.core.continuity.match import alike
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import REFERENCES, Cue, Recipe

_LEAST_JOINTS = 4


@dataclass(frozen=True, slots=True)
class Beginning:
    """The weight and span that a new cue of a role gets, and what the role does to the picture."""

    weight: float
    start: float
    end: float
    says: str


BEGINNINGS = {
    "look": Beginning(0.5, 0, 100, "Draws person, clothes, place and colours towards the picture. Over .7 it leaves little to the words."),
    "face": Beginning(0.8, 20, 100, "Draws the face alone. It begins at 20 %, so that words and pose lay out the picture first."),
    "outfit": Beginning(0.7, 0, 90, "Draws the clothes and their colours, not who wears them."),
    "place": Beginning(0.6, 0, 60, "Draws place, time of day, weather and light. It ends at 60 %, so that details stay with the words."),
    "palette": Beginning(0.6, 0, 100, "Moves the colours towards those of the picture, skin protected."),
    "pose": Beginning(
        0.9, 0, 60, "Puts the joints where they are in the picture. Poses are settled early: what acts after 60 % only stiffens."
    ),
    "edges": Beginning(0.6, 0, 60, "Follows the contours of the picture."),
    "tone": Beginning(0.5, 0, 50, "Follows light and dark of the picture."),
    "depth": Beginning(0.6, 0, 50, "Follows what is near and far in the picture."),
    "sketch": Beginning(0.7, 0, 50, "Follows rough shapes and their colours."),
}

CONFINABLE = tuple(role for role in BEGINNINGS if role != "pose")  # roles that can act in a part of the picture alone
_HEAVY = 0.85
_TOO_HEAVY = {
    "look": "will copy the picture and mute words and styles",
    "outfit": "will copy the clothes whatever the words say of them",
    "place": "will copy the place whatever the words say of it",
    "palette": "leaves the styles no colours of their own",
    "edges": "follows every contour: words can no longer move anything",
    "tone": "fixes light and dark everywhere: words can no longer change the light",
    "sketch": "copies the sketch with its roughness",
}
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
    for place, cue in enumerate(recipe.cues):
        if cue.acts:
            out += [Warning(place, sentence) for sentence in _alone(cue, recipe.steps, readings.get(cue.picture or ""))]
    for (_, a), (j, b) in combinations(enumerate(recipe.cues), 2):
        if a.acts and b.acts and a.role == b.role and _overlap(a, b):
            sentence = _together(a, b, readings)
            if sentence:
                out.append(Warning(j, sentence))
    return sorted(out, key=lambda w: w.place)


def _alone(cue: Cue, steps: int, reading: Reading | None) -> list[str]:
    out = []
    if cue.weight > _HEAVY and cue.role in _TOO_HEAVY:
        out.append(f"A weight over {_HEAVY:g} {_TOO_HEAVY[cue.role]}.".replace("0.", "."))
    middles = 100 * (np.arange(steps) + 0.5) / steps
    if not ((middles >= cue.start) & (middles < cue.end)).any():
        out.append(f"Its span holds no step: with {steps} steps, one is {100 / steps:.0f} % long. Widen the span.")
    if reading is None:
        return out
    if cue.role == "face" and (reading.main is None or reading.main.identity is None):
        out.append("No face is read in this picture, so it cannot lend one: choose a picture in which it is seen clearly.")
    if cue.role == "pose" and cue.skeleton is None and (reading.joints is None or np.isfinite(reading.joints).all(1).sum() < _LEAST_JOINTS):
        out.append("Hardly a joint is read in this picture: place the points by hand, and the pose can act.")
    if cue.role == "depth" and reading.depth is None:
        out.append("No depth is known of this picture: bring a depth map in, or paint one.")
    return out


def _overlap(a: Cue, b: Cue) -> bool:
    return min(a.end, b.end) > max(a.start, b.start) and a.area == b.area


def _together(a: Cue, b: Cue, readings: Mapping[str, Reading]) -> str | None:
    other = f"“{a.name or a.role}”"
    if a.role == "pose":
        return f"Two poses act at once, this one and {other}: a figure can follow only one. Part their spans, or turn one off."
    one, two = readings.get(a.picture or ""), readings.get(b.picture or "")
    if a.role not in REFERENCES or a.picture == b.picture or one is None or two is None:
        return None
    agreed = alike(a.role, one, two)
    if agreed is None or agreed >= _APART:
        return None
    return f"This one and {other} pull apart: as {a.role} they agree to {100 * agreed:.0f} of 100. Lower one, or part their spans."


def soloed(recipe: Recipe) -> Recipe:
    """The recipe as it runs: where cues are soloed, all others are off."""
    if not any(cue.solo for cue in recipe.cues):
        return recipe
    cues = [cue.model_copy(update={"on": cue.on and cue.solo, "solo": False}) for cue in recipe.cues]
    return recipe.model_copy(update={"cues": cues})


def neutral(recipe: Recipe) -> Recipe:
    """The recipe without any style: what is left of the finish comes from words and references."""
    return recipe.model_copy(update={"styles": []})
