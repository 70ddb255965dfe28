"""What can be turned along a sweep: one object a dial, with its words, what it begins with, and how it is turned in a recipe."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.posing import book
from mosskeeper.core.recipe import Cue, Recipe, Region
from mosskeeper.core.regions.words import fades, own_words

Document = dict[str, Any]
SAID, SAID_TOO = "said", "said-too"  # the dials whose values are phrases: each cell says one besides the words of all
FACE_ON = "face-on"  # the dial whose values are pictures: each gets the face of the references
Turn = Callable[[Document, Any], None]


@dataclass(frozen=True, slots=True)
class DialKind:
    """begins : first and last value and their count; None of a dial whose values are chosen by name. whole : it takes whole
    numbers only. turn : sets a value in a recipe document. there : whether a recipe has it.
    """

    name: str
    said: str
    turn: Turn
    begins: tuple[float, float, int] | None = None
    whole: bool = False
    there: Callable[[Recipe], bool] = lambda _: True


def _field(name: str) -> Turn:
    def turn(document: Document, value: Any) -> None:
        document[name] = value

    return turn


def _strength(document: Document, value: Any) -> None:
    document["source"]["strength"] = value


def _style(document: Document, value: Any) -> None:
    document["styles"] = [value] if value else []


def _pose(document: Document, value: Any) -> None:
    """Puts the figures of an entry of the pose book where the first pose cue has its own, on their own bodies."""
    try:
        posed = book.figures_of(book.entry(str(value)))
    except KeyError:
        raise ArtistError(f"The pose book has no pose “{value}”.", "sweep") from None
    size = document["width"], document["height"]
    mine = next((cue for cue in document["cues"] if cue["role"] == "pose" and cue["skeleton"] is not None), None)
    begins = (
        {"role": "pose", "weight": 1.0, "end": 100.0}
        if mine is None
        else {k: mine[k] for k in ("weight", "start", "end")} | {"role": "pose"}
    )
    document["cues"] = [cue for cue in document["cues"] if cue["role"] != "pose"]
    for n, one in enumerate(book.placed(posed, None if mine is None else mine["skeleton"], size)):
        document["cues"].append(
            begins
            | {"id": f"book{n}", "name": str(value), "figure": n, "skeleton": one.joints.tolist(), "hands": one.hands}
            | {"behind": list(one.behind), "own_body": len(posed) == 1}
        )


def _said(document: Document, value: Any) -> None:
    """Says a phrase besides the words that are there."""
    document["words"] = ", ".join(part for part in (document["words"], str(value)) if part)


_TARGET = re.compile(r"(\d{1,4})x(\d{1,4}) ([0-9a-f]{64})(?: ([0-7]))?")


def target(sha256: str, size: tuple[int, int], figure: int | None = None) -> str:
    """The value of the dial "face on" for a picture: its size on the canvas, its name, and which figure is meant."""
    return f"{size[0]}x{size[1]} {sha256}" + ("" if figure is None else f" {figure}")


def picture_of_target(value: str) -> str:
    """The picture of a value of the dial "face on".

    Raises ValueError where the value is none of that dial.
    """
    found = _TARGET.fullmatch(value)
    if found is None:
        raise ValueError(f"{value!r} names no picture")
    return found[3]


def _face_on(document: Document, value: Any) -> None:
    """Puts the face of the references on a picture."""
    found = _TARGET.fullmatch(str(value))
    if found is None:
        raise ArtistError("A face goes on a picture: choose one.", "sweep")
    document["width"], document["height"] = int(found[1]), int(found[2])
    document["source"] = {"picture": found[3], "face": {"figure": None if found[4] is None else int(found[4])}}


_OF_RECIPE = (
    DialKind(SAID, "words besides", _said),
    DialKind(SAID_TOO, "more words besides", _said),
    DialKind("strength", "denoise strength", _strength, (0.2, 0.8, 4), there=lambda recipe: recipe.source is not None),
    DialKind("style", "style", _style),
    DialKind("engine", "engine", _field("engine")),
    DialKind("guidance", "guidance", _field("guidance"), (2, 12, 6)),
    DialKind("steps", "steps", _field("steps"), (8, 32, 4), whole=True),
    DialKind("seed", "seed", _field("seed"), (1, 6, 6), whole=True),
    DialKind("pose", "pose of the book", _pose),
    DialKind(FACE_ON, "face on", _face_on, there=lambda recipe: any(cue.role == "face" for cue in recipe.cues)),
)
_OF_CUE = (("weight", "weight", (0, 1, 6)), ("end", "span end", (40, 100, 4)), ("start", "span start", (0, 60, 4)))


def _cue_dials(cue: Cue) -> list[DialKind]:
    def turning(name: str) -> Turn:
        def turn(document: Document, value: Any) -> None:
            next(c for c in document["cues"] if c["id"] == cue.id)[name] = value

        return turn

    return [DialKind(f"cue-{cue.id}-{name}", f"{said} of {cue.name or cue.role}", turning(name), begins) for name, said, begins in _OF_CUE]


_OF_REGION = (("strength", "strength", (0, 1, 6)), ("feather", "border", (0, 0.2, 5)))


def _region_dials(region: Region, letter: str) -> list[DialKind]:
    def turning(name: str) -> Turn:
        def turn(document: Document, value: Any) -> None:
            next(r for r in document["regions"] if r["id"] == region.id)[name] = value

        return turn

    called = f"region {letter}{f', {region.name}' if region.name else ''}"
    kinds = [DialKind(f"region-{region.id}-{name}", f"{said} of {called}", turning(name), begins) for name, said, begins in _OF_REGION]
    return kinds if fades(own_words(region.prompt)) else kinds[:1]  # people and things have no border that could be soft


def dials_of(recipe: Recipe) -> dict[str, DialKind]:
    """Every dial that can be swept on a recipe, by its name."""
    kinds = [kind for cue in recipe.cues for kind in _cue_dials(cue)]
    kinds += [kind for n, region in enumerate(recipe.regions) for kind in _region_dials(region, chr(65 + n))]
    kinds += [kind for kind in _OF_RECIPE if kind.there(recipe)]
    return {kind.name: kind for kind in kinds}
