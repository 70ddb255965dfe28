"""Rows of references that were drawn here: by their stored scene, or recognised after they were saved again."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import cache
from statistics import mean

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from bench.report import Row, row
from mosskeeper.commands.subject_people import COUNT, SCENES, people, portrait
from mosskeeper.core.illustrator.description import Description, Person
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.pictures.areas import area_mask
from mosskeeper.core.reading.any_reader import read_any
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Cue, Recipe, Region
from mosskeeper.core.references.copies import features_of
from mosskeeper.core.references.of_scene import head_of
from mosskeeper.core.references.resolve import resolved
from mosskeeper.core.takes.take import make_take
from mosskeeper.core.traits import OF_PERSON

U8 = NDArray[np.uint8]
SIZE = (512, 640)
TAKE = (384, 480)
A, B, LEFT, RIGHT = "a" * 64, "b" * 64, "c" * 64, "d" * 64
IDENTITY = ("subject", "build", "skin", "hair", "hair_colour", "eyes", "freckles", "glasses", "facial_hair", "mark", "face")
_CLOTHES = ("outfit", "pattern", "colour_a", "colour_b")
_WORDLESS = "in the bell tower at noon, half figure, calm"  # of no clothes


@cache
def reference_of(n: int) -> tuple[U8, LayeredScenes]:
    """The bust of person `n`: a picture and its stored scene."""
    scene = scene_of(portrait(people()[n], n), SIZE)
    return draw_scene(scene).image, LayeredScenes.of([scene])


@cache
def read_as_own(n: int) -> Reading:
    """The reading of that bust with what its stored scene says."""
    picture, explained = reference_of(n)
    reading = read_any(picture)
    return replace(reading, contents=resolved(picture, reading, features_of(picture), explained, (), _nothing))


def _nothing(name: str) -> tuple[U8, LayeredScenes | None]:
    raise KeyError(name)


def takes(n: int, role: str, reading: Reading, picture: U8, weight: float = 0.8) -> Iterator[Description]:
    """Person `n` in six fresh scenes."""
    for k, (words, styles) in enumerate(SCENES):
        cue = Cue(id="1", role=role, picture=A, weight=weight)
        recipe = Recipe(words=words, styles=styles, width=TAKE[0], height=TAKE[1], cues=[cue])
        made = make_take(recipe, 1000 * n + k, {A: picture}, readings={A: reading}).description
        assert made is not None
        yield made


def same(made: Person, wanted: Person, names: tuple[str, ...] = IDENTITY) -> bool:
    """Whether all these traits of a person are as wanted, together."""
    return all(getattr(made, name) == getattr(wanted, name) for name in names)


def face() -> list[Row]:
    right = [same(d, person) for n, person in enumerate(people()) for d in takes(n, "face", read_as_own(n), reference_of(n)[0])]
    return [row(f"own take as face reference at .8: identity traits all right, of {len(right)} takes", mean(right), "share", ">= 0.97")]


def _saved_again(n: int) -> U8:
    """The bust as JPEG 85, at 70 %, cropped to the head."""
    picture, explained = reference_of(n)
    head = head_of(explained.scene, 0)
    assert head is not None
    x, y, side = head[0] * SIZE[0], head[1] * SIZE[1], 1.15 * head[2] * SIZE[1]
    cut = picture[max(0, round(y - side)) : round(y + side), max(0, round(x - 0.85 * side)) : round(x + 0.85 * side)]
    small = Image.fromarray(cut).resize((round(cut.shape[1] * 0.7), round(cut.shape[0] * 0.7)), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    small.save(out, "JPEG", quality=85)
    return np.asarray(Image.open(out))


def copies() -> list[Row]:
    known = [(str(n), features_of(reference_of(n)[0])) for n in range(COUNT)]
    right, found = [], 0
    for n, person in enumerate(people()):
        picture = _saved_again(n)
        reading = read_any(picture)
        contents = resolved(picture, reading, features_of(picture), None, known, lambda name: reference_of(int(name)))
        found += contents.origin == "found" and contents.copy_of == str(n)
        right += [same(d, person) for d in takes(n, "face", replace(reading, contents=contents), picture)]
    return [
        row(f"saved as JPEG 85, at 70 %, cropped to the head: recognised, of {COUNT}", found / COUNT, "share"),
        row("the same: identity traits all right", mean(right), "share", ">= 0.95"),
    ]


def look() -> list[Row]:
    who, dressed = [], []
    for n, person in enumerate(people()):
        for k in range(len(SCENES)):
            recipe = Recipe(words=_WORDLESS, width=TAKE[0], height=TAKE[1], cues=[Cue(id="1", role="look", picture=A, weight=0.8)])
            made = make_take(recipe, 77 * n + k, {A: reference_of(n)[0]}, readings={A: read_as_own(n)}).description
            assert made is not None
            who.append(same(made, person))
            dressed.append(same(made, person, _CLOTHES))
    return [
        row("own take as look reference at .8: identity traits all right", mean(who), "share", ">= 0.95"),
        row("the same: outfit, pattern and both colours right", mean(dressed), "share", ">= 0.95"),
    ]


def leaks() -> list[Row]:
    """How much oftener clothes, place and pose are the reference's with it than without."""
    over: dict[str, list[float]] = {}
    for n in range(0, COUNT, 3):
        own = reference_of(n)[1].scene.description
        for k in range(8):
            base = Recipe(words="", width=256, height=320, steps=8)
            cued = base.model_copy(update={"cues": [Cue(id="1", role="face", picture=A, weight=0.8)]})
            with_it, without = (
                make_take(r, 31 * n + k, {A: reference_of(n)[0]}, readings={A: read_as_own(n)}).description for r in (cued, base)
            )
            assert with_it is not None
            assert without is not None
            for name, of in (("clothes", "outfit"), ("place", "place"), ("time", "time")):
                over.setdefault(name, []).append(
                    float(getattr(with_it, of) == getattr(own, of)) - float(getattr(without, of) == getattr(own, of))
                )
            over.setdefault("pose", []).append(
                float(with_it.layout.pose == own.layout.pose) - float(without.layout.pose == own.layout.pose)
            )
    worst = max(over, key=lambda name: mean(over[name]))
    return [row(f"leaks of a face reference over chance, the most ({worst})", max(mean(over[worst]), 0.0), "share", "<= 0.03")]


def weights() -> list[Row]:
    """Traits carried at weights 0, .2 … 1, beyond those that agree by chance."""
    steps, byte_equal, rises = [], True, []
    for n in range(0, COUNT, 4):
        person, carried = people()[n], []
        for weight in (0.0, 0.2, 0.4, 0.6, 0.8, 1.0):
            made = takes(n, "face", read_as_own(n), reference_of(n)[0], weight)
            carried.append(mean(sum(getattr(d, t.fields[0]) == getattr(person, t.fields[0]) for t in OF_PERSON) for d in made))
        rises.append(min(np.diff(carried)))
        steps.append(max(np.diff(carried)) / (carried[-1] - carried[0]))
        words, styles = SCENES[0]
        plain = Recipe(words=words, styles=styles, width=256, height=320, steps=6)
        silent = plain.model_copy(update={"cues": [Cue(id="1", role="face", picture=A, weight=0)]})
        images = [make_take(r, 5, {A: reference_of(n)[0]}, readings={A: read_as_own(n)}).image.tobytes() for r in (plain, silent)]
        byte_equal &= images[0] == images[1]
    return [
        row("weight 0, .2 … 1: smallest rise of the number of traits carried", min(rises), "", ">= 0"),
        row("largest step, median of people, share of the whole", float(np.median(steps)), "share", "<= 0.3"),
        row("byte equality at weight 0", float(byte_equal), "share", ">= 1"),
    ]


def pairs_in_regions() -> list[Row]:
    """Two people in two halves, each with a reference of their own."""
    crossed, wrong, count = 0, 0, 100
    masks = {LEFT: area_mask("left"), RIGHT: area_mask("right")}
    for k in range(count):
        one, two = k % COUNT, (k * 7 + 5) % COUNT
        two = two if two != one else (two + 1) % COUNT
        regions = [
            Region(id=str(m), mask=mask, words=people()[n].subject, cues=[Cue(id="1", role="face", picture=name, weight=0.8)])
            for m, (n, name, mask) in enumerate(((one, A, LEFT), (two, B, RIGHT)))
        ]
        recipe = Recipe(words="at the canal market, half figure", width=384, height=320, steps=8, regions=regions)
        pictures = {**masks, A: reference_of(one)[0], B: reference_of(two)[0]}
        made = make_take(recipe, 9000 + k, pictures, readings={A: read_as_own(one), B: read_as_own(two)}).description
        assert made is not None
        for figure, own, other in zip(made.figures, (one, two), (two, one), strict=False):
            for name in IDENTITY:
                value, mine, theirs = getattr(figure, name), getattr(people()[own], name), getattr(people()[other], name)
                crossed += value != mine and value == theirs
                wrong += value != mine
    return [
        row(f"pairs of people in two regions: traits that crossed, of {count} pairs", float(crossed), "", "<= 0"),
        row("the same: traits that are not their own reference's", float(wrong), ""),
    ]


Measure = Callable[[], list[Row]]
