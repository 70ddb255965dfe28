"""People for the bench and the sheets of subjects: over all ages, complexions, hair styles, beards, glasses and marks; and scenes to put them in."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from mosskeeper.core.illustrator.description import Description, Face, Layout, Person
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH
from mosskeeper.core.illustrator.vocabulary.outfits import USUAL_COLOURS
from mosskeeper.core.illustrator.vocabulary.people import MEN, SUBJECTS
from mosskeeper.core.words.attributes import ATTRIBUTES

SEED = 20261201  # was drawn for this bench alone
COUNT = 24
_HIDING = ("rain cape", "diver's suit", "beekeeper's veil", "night cloak")  # in which a head is not seen
_GREY = ("silver", "white")

# Fresh scenes: other light, weather, finish, view, expression and outfit than any portrait of the people has; no trait words.
SCENES = (
    ("on the roof garden at dawn, in the rain, wearing a rain cape, half figure, smiling", ["ink and wash"]),
    ("in the library at night, lantern light, in a festival coat, bust, thoughtful, three-quarter view", ["gouache"]),
    ("at the canal market at dusk, in a tunic, half figure, laughing", ["chalk"]),
    ("in the kitchen in the morning, in an apron, bust, sad", ["felt collage"]),
    ("in the bell tower at noon, wind, in a travelling coat, half figure, angry", ["linocut"]),
    ("on the tide flats in fog, in a ball gown, full figure, calm", ["gouache"]),
)


def people(count: int = COUNT, seed: int = SEED) -> list[Person]:
    """`count` persons that differ in everything that tells who somebody is."""
    rng = np.random.default_rng(seed)
    return [_person(rng, n) for n in range(count)]


def _person(rng: np.random.Generator, n: int) -> Person:
    subjects, hairs = tuple(SUBJECTS), ATTRIBUTES["hair"].values
    subject = subjects[n % len(subjects)]
    old = subject.startswith("old")
    colours = [c for c in ATTRIBUTES["hair colour"].values if not old or c in _GREY or rng.random() < 0.3]

    def any_of(name: str) -> str:
        return str(rng.choice(ATTRIBUTES[name].values))

    outfit = any_of("outfit")
    first, second = (tuple(map(float, CLOTH[c])) for c in (rng.choice(list(CLOTH)), USUAL_COLOURS[outfit][1]))
    return Person(
        subject=subject,
        build=str(rng.choice(ATTRIBUTES["build"].values)),
        skin=any_of("skin"),
        hair=str(hairs[(7 * n + int(rng.integers(3))) % len(hairs)]),
        hair_colour=str(rng.choice(colours)),
        eyes=any_of("eyes"),
        freckles=bool(rng.random() < 0.3),
        glasses=bool(rng.random() < 0.35),
        facial_hair=str(rng.choice(("none", "beard", "moustache"))) if subject in MEN else "none",
        mark=str(rng.choice(("none", "none", "scar", "mole"))),
        face=Face.sampled(rng),
        outfit=outfit,
        colour_a=first,  # type: ignore[arg-type]
        colour_b=second,  # type: ignore[arg-type]
    )


def portrait(person: Person, n: int) -> Description:
    """A bust of a person from the front, in plain light."""
    layout = Layout("facing", "bust", ground=n % 6, view="front")
    described = {name: getattr(person, name) for name in Person.__dataclass_fields__ if name != "layout"}
    return Description(**described, layout=layout, place=("kitchen", "roof garden", "seed vault")[n % 3], time="noon")


def sibling(person: Person, rng: np.random.Generator) -> Person:
    """Somebody with the same hair, skin, age, sex and marks, and another face and eyes."""
    others = [eyes for eyes in ATTRIBUTES["eyes"].values if eyes != person.eyes]
    return replace(person, face=Face.sampled(rng), eyes=str(rng.choice(others)))


def with_one_change(person: Person, rng: np.random.Generator) -> tuple[str, Person]:
    """The same person with one trait of identity changed, and which: beard, hair, glasses, age or sex."""
    kinds = ["hair", "glasses", "age", "sex", *(["beard"] if person.subject in MEN else [])]
    kind = str(rng.choice(kinds))
    old, sex = person.subject.startswith("old"), person.subject.split()[-1]
    if kind == "hair":
        return kind, replace(person, hair=str(rng.choice([h for h in ATTRIBUTES["hair"].values if h != person.hair])))
    if kind == "glasses":
        return kind, replace(person, glasses=not person.glasses)
    if kind == "age":
        return kind, replace(person, subject=sex if old else f"old {'woman' if sex in ('woman', 'girl') else 'man'}")
    if kind == "sex":
        other = {"woman": "man", "man": "woman", "girl": "boy", "boy": "girl"}[sex]
        return kind, replace(person, subject=f"old {other}" if old else other, facial_hair="none")
    return kind, replace(person, facial_hair="none" if person.facial_hair != "none" else "beard")


def elsewhere(person: Person, rng: np.random.Generator) -> Description:
    """A person in a scene, clothes, light, finish and expression at random."""

    def any_of(name: str) -> str:
        return str(rng.choice(ATTRIBUTES[name].values))

    outfit = str(rng.choice([one for one in ATTRIBUTES["outfit"].values if one not in _HIDING]))
    layout = Layout(
        str(rng.choice(("facing", "standing"))),
        str(rng.choice(("bust", "half", "close"))),
        facing=int(rng.choice((-1, 1))),
        ground=int(rng.integers(6)),
        view=str(rng.choice(("front", "front", "three-quarter"))),
    )
    described = portrait(replace(person, outfit=outfit, expression=any_of("expression")), 0)
    weather = str(rng.choice(("clear", "clear", "rain", "fog")))
    return replace(described, layout=layout, place=any_of("place"), time=any_of("time"), weather=weather, finish=(any_of("finish"),))
