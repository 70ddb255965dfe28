"""Rows of pictures from elsewhere: the same people redrawn by other hands, explained by inversion, and corrected by the artist."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import cache
from statistics import mean

from bench.report import Row, row
from bench.subject.own import IDENTITY, SIZE, TAKE, A, same
from bench.subject.proposals import brought
from bench.subject.renderers import RENDERERS
from mosskeeper.commands.subject_people import SCENES, people, portrait
from mosskeeper.core.illustrator.description import Person
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.reading.any_reader import read_any
from mosskeeper.core.reading.contents import SURE, Subject
from mosskeeper.core.reading.proposal import propose
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.references.of_picture import contents_of_picture
from mosskeeper.core.takes.take import make_take
from mosskeeper.core.traits import MEASURED, OF_PERSON

_ASKED = ("hair", "hair colour", "facial hair", "glasses", "age", "sex")


@cache
def _read() -> list[tuple[int, str, Reading]]:
    """Every person by every renderer, read from pixels."""
    out = []
    for n, person in enumerate(people()):
        drawing = draw_scene(scene_of(portrait(person, n), SIZE), with_albedo=True)
        for name, render in RENDERERS.items():
            picture = render(drawing)
            reading = read_any(picture)
            out.append((n, name, replace(reading, contents=contents_of_picture(picture, reading))))
    return out


def _traits(subject: Subject, name: str) -> tuple[str, bool]:
    """The value of a trait, and whether it is sure."""
    if name not in ("age", "sex"):
        return subject.value(name), subject.sure.get(name, 0.0) >= SURE
    who, sure = subject.value("subject"), subject.sure.get("subject", 0.0) >= SURE
    if name == "sex":
        return "male" if who.split()[-1] in ("man", "boy") else "female", sure
    return "old" if who.startswith("old") else "child" if who in ("girl", "boy") else "adult", sure


def explained() -> list[Row]:
    rows = []
    for name in _ASKED:
        told = []
        for n, _, reading in _read():
            subject = None if reading.contents is None else reading.contents.subject(None)
            truth = _traits(Subject(people()[n], {}), name)[0]
            value, sure = ("", False) if subject is None else _traits(subject, name)
            told.append((value == truth, sure))
        surely = [right for right, sure in told if sure]
        rows.append(
            row(f"from elsewhere: {name} right after inversion, of {len(told)}", mean(right for right, _ in told), "share", ">= 0.8")
        )
        if surely:
            rows.append(row(f"the same where it is sure ({len(surely)})", mean(surely), "share", ">= 0.93"))
    return rows


def _corrections(person: Person, subject: Subject) -> dict[str, str]:
    """What an artist would correct."""
    true = Subject(person, {})
    named = [trait.name for trait in OF_PERSON if trait.name not in MEASURED]
    return {name: true.value(name) for name in named if name not in subject.sure or subject.value(name) != true.value(name)}


def _with_corrections() -> Iterator[bool]:
    names = tuple(name for name in IDENTITY if name not in ("face", "hair_colour", "skin", "eyes"))
    for n, _, reading in _read()[::3]:
        subject = None if reading.contents is None else reading.contents.subject(None)
        if subject is None:
            yield False
            continue
        cue = Cue(id="1", role="face", picture=A, weight=0.8, corrected=_corrections(people()[n], subject))
        words, styles = SCENES[n % len(SCENES)]
        recipe = Recipe(words=words, styles=styles, width=TAKE[0], height=TAKE[1], steps=8, cues=[cue])
        made = make_take(recipe, n, {A: reference_pixels()}, readings={A: reading}).description
        assert made is not None
        yield same(made, people()[n], names) and Subject(made, {}).value("hair colour") == people()[n].hair_colour


@cache
def reference_pixels():  # type: ignore[no-untyped-def]
    """Stands for the picture of a face reference, of which takes use the reading alone."""
    return draw_scene(scene_of(portrait(people()[0], 0), (64, 80))).image


def corrected() -> list[Row]:
    right = list(_with_corrections())
    return [row(f"the same after the artist's corrections: all right, of {len(right)} takes", mean(right), "share", ">= 1")]


def proposals() -> list[Row]:
    right = [propose(one.picture, read_any(one.picture)).role in one.roles for one in brought()]
    return [row(f"proposed role right, of {len(right)} pictures as artists bring them", mean(right), "share", ">= 0.9")]
