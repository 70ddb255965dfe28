"""Rows of judged pairs: the same person elsewhere, with one trait changed, siblings, strangers; drift must say what an eye says."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from bench.report import Row, row
from mosskeeper.commands.subject_people import elsewhere, people, portrait, sibling, with_one_change
from mosskeeper.core.continuity.drift import drift
from mosskeeper.core.illustrator.description import Description
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.reading.reader import read
from mosskeeper.core.reading.reading import FigureRead

_SEED = 20261202
_AIMS = {"same": ">= 0.95", "one trait changed": ">= 0.9", "sibling": ">= 0.85", "stranger": ">= 0.98"}


@dataclass(frozen=True, slots=True, eq=False)
class Pair:
    kind: str
    anchor: FigureRead | None
    other: FigureRead | None
    change: str = ""


def pairs(count: int = 24, seed: int = _SEED) -> Iterator[Pair]:
    """Pairs of pictures as an eye judges them, read from their pixels."""
    rng = np.random.default_rng(seed)
    own = people(count, seed)
    anchors = [_read(portrait(person, n)) for n, person in enumerate(own)]
    for n, person in enumerate(own):
        for _ in range(3):
            yield Pair("same", anchors[n], _read(elsewhere(person, rng)))
        for _ in range(3):
            change, other = with_one_change(person, rng)
            yield Pair("one trait changed", anchors[n], _read(elsewhere(other, rng)), change)
        yield Pair("sibling", anchors[n], _read(elsewhere(sibling(person, rng), rng)))
        stranger = replace(own[(n + 1) % count], skin=person.skin, hair_colour=person.hair_colour)
        yield Pair("stranger", anchors[n], _read(elsewhere(stranger, rng)))


def _read(description: Description) -> FigureRead | None:
    return read(draw_scene(scene_of(description, (448, 560))).image).main


def judged() -> list[Row]:
    right: dict[str, list[bool]] = {kind: [] for kind in _AIMS}
    untold = 0
    for pair in pairs():
        found = drift(pair.other, [pair.anchor])
        untold += found is None
        if found is not None:
            right[pair.kind].append(found.other_person == (pair.kind != "same"))
    rows = [
        row(f"judged pairs, {kind}: drift on the right side of 1, of {len(of)}", float(np.mean(of)), "share", _AIMS[kind])
        for kind, of in right.items()
    ]
    return [*rows, row("judged pairs of which nothing can be told", float(untold), "")]
