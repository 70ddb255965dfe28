"""Guidance, negative words, variety."""

from __future__ import annotations

import itertools

import numpy as np

from bench.fidelity.setting import BASE, drawn, other, reading, sha, with_cues
from bench.report import Row, row
from mosskeeper.core.diffusion.result import TakeResult
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.takes.beliefs import Beliefs
from mosskeeper.core.takes.take import make_take

_NAMED = (
    (
        "a woman with copper hair in a braid, in a navy festival coat at the canal market at noon, holding a lantern",
        {"hair_colour": "copper", "hair": "braid", "outfit": "festival coat", "place": "canal market", "prop": "lantern"},
    ),
    (
        "an old man with a beard and a hat on the lamp quay at dusk in the rain, laughing",
        {
            "subject": "old man",
            "facial_hair": "beard",
            "headwear": "hat",
            "place": "lamp quay",
            "time": "dusk",
            "weather": "rain",
            "expression": "laughing",
        },
    ),
    (
        "a girl with two braids in a garden dress in the kitchen at night, with a cat",
        {"subject": "girl", "hair": "two braids", "outfit": "garden dress", "place": "kitchen", "time": "night", "companion": "cat"},
    ),
)
_ATTRIBUTE = {"hair_colour": "hair colour", "facial_hair": "facial hair"}


def guidance(seeds: int) -> list[Row]:
    """Share of what words name that is in the pictures. A thing must be in the part map, too."""
    rows = []
    shares = {}
    for g in (0, 3, 7, 12):
        takes = [(asked, make_take(_recipe(words, g), seed)) for words, asked in _NAMED for seed in range(seeds)]
        shares[g] = float(np.mean([_present(take, name, value) for asked, take in takes for name, value in asked.items()]))
        if g == 7:
            same = float(np.mean([np.array_equal(take.image, drawn(take)[0].image) for _, take in takes]))
            rows.append(row("pictures that show their description byte for byte", same, "share", ">= 1"))
    prior = float(
        np.mean(
            [
                Beliefs(_recipe(words, 0)).probabilities(_ATTRIBUTE.get(name, name))[value]
                for words, asked in _NAMED
                for name, value in asked.items()
            ]
        )
    )
    noise = 2.5 * float(np.sqrt(prior * (1 - prior) / (seeds * len(_NAMED) * 6)))
    rows.append(row("named attributes at guidance 0, less their prior", abs(shares[0] - prior), "share", f"<= {max(noise, 0.03):.3f}"))
    rows.append(row("named attributes at guidance 3", shares[3], "share"))
    rows.append(row("named attributes at guidance 7", shares[7], "share", ">= 0.95"))
    rows.append(row("named attributes at guidance 12", shares[12], "share", ">= 0.95"))
    rises = min(shares[3] - shares[0], shares[7] - shares[3], shares[12] - shares[7] + 0.02)
    rows.append(row("smallest rise of that share from guidance to guidance", rises, "share", ">= 0"))
    return rows


def negative(seeds: int) -> list[Row]:
    """Share of takes at noon or in the rain where these are not wanted: as likely as possible without, as rare with."""
    plain = BASE.model_copy(update={"words": "a woman in a rain cape, half figure", "negative": ""})
    without = plain.model_copy(update={"negative": "fern house, roof garden, noon, green, long hair"})

    def share(recipe: Recipe) -> float:
        found = []
        for seed in range(2 * seeds):
            _, d = drawn(make_take(recipe, seed))
            found += [d.place in ("fern house", "roof garden"), d.time == "noon", d.hair.startswith("long straight")]
        return float(np.mean(found))

    return [
        row("unwanted attributes without negative words", share(plain), "share"),
        row("unwanted attributes with negative words at guidance 7", share(without), "share", "<= 0.05"),
    ]


def variety(seeds: int) -> list[Row]:
    """Mean pairwise difference of takes over seeds, and how a heavy look reference takes it away."""
    pictures, readings = {sha(0): other(0).image}, {sha(0): reading(0)}
    spread = []
    for weight in (0.0, 0.5, 1.0):
        recipe = with_cues(Cue(picture=sha(0), weight=weight))
        takes = [make_take(recipe, seed, pictures, readings=readings).image.astype(np.float32) for seed in range(min(seeds, 10))]
        spread.append(float(np.mean([np.abs(a - b).mean() for a, b in itertools.combinations(takes, 2)])))
    return [
        row("difference between seeds at reference weight 0", spread[0], "levels"),
        row("the same at weight 0.5, as a share", spread[1] / spread[0], "share", "> 0.2"),
        row("the same at weight 1, as a share of that at 0.5", spread[2] / spread[1], "share", "< 1"),
    ]


def _recipe(words: str, g: float) -> Recipe:
    return BASE.model_copy(update={"words": words, "guidance": float(g)})


_PARTS = {"prop": Part.PROP, "headwear": Part.HEADWEAR, "companion": Part.COMPANION, "facial_hair": Part.FACIAL_HAIR}


def _present(take: TakeResult, name: str, value: str) -> bool:
    drawing, description = drawn(take)
    if getattr(description, name) != value:
        return False
    visible = drawing.camera.framing in ("full", "wide", "half") or name in ("headwear", "facial_hair")
    return name not in _PARTS or not visible or bool((drawing.labels == _PARTS[name]).any())
