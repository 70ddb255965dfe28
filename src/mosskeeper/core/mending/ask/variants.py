"""Variants of a mend: what words leave open is drawn from the seed, what they name is the same in all."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Person, Rgb
from mosskeeper.core.illustrator.scene import Scene, Thing
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH, HAIR_COLOURS
from mosskeeper.core.mending.ask.nearby_numbers import Numbers
from mosskeeper.core.words.attributes import ATTRIBUTES

_SHADE = 0.16  # by which a named colour is lighter or darker
_WIDER, _HIGHER = (0.92, 1.28), (1.0, 1.14)
_SCALE = (0.82, 1.12)
_ASIDE = 0.12  # of a thing's scale, to either side


def varied(given: Scene, asked: Scene, named: frozenset[str], rng: Numbers) -> Scene:
    """A scene that was asked of `given`, in one of the ways that what is `named` (attributes) leaves open."""
    for n, (was, now) in enumerate(zip(given.description.figures, asked.description.figures, strict=False)):
        if was != now:
            asked = asked.with_person(n, _person(was, now, named, rng))
    had = set(given.things)
    things = tuple(thing if thing in had else _thing(thing, rng) for thing in asked.things)
    return replace(asked, things=things)


def _person(was: Person, now: Person, named: frozenset[str], rng: Numbers) -> Person:
    changes: dict[str, object] = {}
    if now.headwear != "none" and (was.headwear, was.headwear_colours) != (now.headwear, now.headwear_colours):
        if not named & {"hat", "outfit"}:
            changes["headwear_colours"] = _colours(now.headwear_colours or (now.colour_a, now.colour_b), "colour" in named, rng)
        changes["headwear_size"] = _sized(now.headwear_size, (0.85, 1.7), (0.95, 1.3), rng)
    if now.hair != was.hair or now.hair_colour != was.hair_colour:
        changes["hair_size"] = _sized(now.hair_size, (1.0, 1.3), (1.0, 1.12), rng)
        if now.hair_colour in HAIR_COLOURS:
            changes["hair_colour"] = "#" + "".join(f"{round(255 * c):02x}" for c in _shaded(_rgb(HAIR_COLOURS[now.hair_colour]), rng))
    if now.outfit != was.outfit:
        a, b = _colours((now.colour_a, now.colour_b), "colour" in named, rng)
        changes |= {"colour_a": a, "colour_b": b}
        if "pattern" not in named:
            changes["pattern"] = str(rng.choice(list(ATTRIBUTES["pattern"].values)))
    elif (now.colour_a, now.colour_b) != (was.colour_a, was.colour_b):
        changes |= {
            "colour_a": _shaded(now.colour_a, rng),
            "colour_b": now.colour_b if now.colour_b == was.colour_b else _shaded(now.colour_b, rng),
        }
    if (now.prop, now.second_prop) != (was.prop, was.second_prop) and now.prop != "nothing":
        changes["prop_size"] = float(np.clip(now.prop_size * rng.uniform(0.85, 1.2), 0.7, 1.7))
    elif now.prop != "nothing" and now.prop_size != was.prop_size:
        changes["prop_size"] = float(np.clip(now.prop_size * rng.uniform(0.9, 1.15), 0.6, 1.8))
    if now.expression != was.expression:
        changes["lids"] = float(rng.uniform(0.8, 1.1))
        changes["look"] = (float(rng.uniform(-0.5, 0.5)), float(rng.uniform(-0.25, 0.25)))
    return replace(now, **changes)  # type: ignore[arg-type]


def _colours(now: tuple[Rgb, Rgb], named: bool, rng: Numbers) -> tuple[Rgb, Rgb]:
    """Two colours of cloth: the named one in another shade, what nobody named any."""
    first, second = rng.choice(len(CLOTH), 2, replace=False)
    cloth = list(CLOTH.values())
    other: Rgb = tuple(map(float, cloth[int(second)]))  # type: ignore[assignment]
    if named:
        return _shaded(now[0], rng), _shaded(now[1], rng)
    return tuple(map(float, cloth[int(first)])), other  # type: ignore[return-value]


def _rgb(colour: NDArray[np.float64]) -> Rgb:
    r, g, b = map(float, colour)
    return r, g, b


def _shaded(colour: Rgb, rng: Numbers) -> Rgb:
    k = float(rng.uniform(-_SHADE, _SHADE))
    r, g, b = (c + (1 - c) * k if k > 0 else c * (1 + k) for c in colour)
    return r, g, b


def _sized(now: tuple[float, float], wide: tuple[float, float], high: tuple[float, float], rng: Numbers) -> tuple[float, float]:
    return float(np.clip(now[0] * rng.uniform(*_WIDER), *wide)), float(np.clip(now[1] * rng.uniform(*_HIGHER), *high))


def _thing(thing: Thing, rng: Numbers) -> Thing:
    x, y = thing.foot
    scale = thing.scale * float(rng.uniform(*_SCALE))
    facing = thing.facing if rng.random() < 0.5 else -thing.facing
    return replace(thing, scale=scale, facing=facing, foot=(x + float(rng.uniform(-_ASIDE, _ASIDE)) * thing.scale, y))
