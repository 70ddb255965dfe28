"""Who is in a picture with regions: people named in regions are the people; the common words neither add to them nor double them."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.conditioning import References
from mosskeeper.core.recipe import Recipe, Region
from mosskeeper.core.words.attributes import OF_PICTURE
from mosskeeper.core.words.held import with_held
from mosskeeper.core.words.lexicon import GROUPS
from mosskeeper.core.words.understand import NamedFigure, Scores, Understanding, understand

_PLAINLY = 1.6  # by how much more what a region says counts: few versions of it are drawn, and none should stray
_ANYBODY = re.compile(rf"\b({'|'.join(GROUPS)})\b", re.IGNORECASE)


@dataclass(frozen=True, slots=True, eq=False)
class Placed:
    """Person `k` of `many` of a region: what its words say of them, and its mask (H, W) 0…1. number : of the region, from 0."""

    figure: NamedFigure
    mask: NDArray[np.float32]
    region: Region
    number: int
    k: int = 0
    many: int = 1
    references: References | None = None  # what the region's own cues lend to this person


@dataclass(frozen=True, slots=True)
class CastMember:
    """Somebody of the cast. usual : who this is by the common words alone; None: they do not know this person."""

    figure: NamedFigure
    usual: NamedFigure | None


def cast(common: Understanding, prompt: str, placed: Sequence[Placed]) -> tuple[list[CastMember], list[str]]:
    """The people of a picture with regions, in the regions' order, and what is told about those of the common words."""
    first = common.first
    named = [first, *common.others] if "subject" in common.wanted or common.likeness is not None else []
    anybody, left, made = bool(_ANYBODY.search(prompt)), list(range(len(named))), list[CastMember]()
    # what is said of everybody is said of these, too
    all_say = {} if named else first.wanted
    for one in placed:
        match = _match(one.figure, named, left, anybody)
        base = NamedFigure(all_say, first.unwanted) if match is None else named[match]
        left = [n for n in left if n != match]
        # of a number of people nobody in particular is meant: which kind of person each would be does not count
        usual = (
            base if match is None or not anybody else replace(base, wanted={**base.wanted, "subject": one.figure.wanted.get("subject", {})})
        )
        made.append(
            CastMember(
                _of_picture(_over(usual, one.figure), first, not made), None if match is None else _of_picture(usual, first, not made)
            )
        )
    told = []
    if anybody and len(named) > len(placed):
        told.append(f"The common words speak of {len(named)} people; the picture has the {len(placed)} of the regions.")
    elif not anybody:
        for n in left:
            who = next(iter(named[n].wanted.get("subject", {})), "person")
            told.append(f"The {who} of the common words is in no region and is not drawn: give the {who} a region.")
    return made, told


def present(recipe: Recipe, placed: Sequence[Placed]) -> list[Placed]:
    """Those who are in the picture at all: in a region without strength only whom the common words name."""
    common = understand(with_held(recipe.prompt, recipe.held, recipe.styles), recipe.emphasis)
    roles, _ = cast(common, recipe.prompt, placed)
    return [one for one, role in zip(placed, roles, strict=True) if one.region.strength > 0 or role.usual is not None]


def _match(own: NamedFigure, named: Sequence[NamedFigure], left: Sequence[int], anybody: bool) -> int | None:
    """Who of the common words is the person of a region."""
    for n in left:
        if own.likeness is not None and named[n].likeness == own.likeness:
            return n
    subjects = own.wanted.get("subject", {}).keys()
    for n in left:
        if subjects & named[n].wanted.get("subject", {}).keys() and (own.likeness is None or named[n].likeness is None):
            return n
    return left[0] if anybody and left else None


def plainly(said: Scores) -> Scores:
    """What a region says, as much as it counts there."""
    return {attribute: {value: _PLAINLY * score for value, score in values.items()} for attribute, values in said.items()}


def _over(base: NamedFigure, own: NamedFigure) -> NamedFigure:
    unwanted = {**{a: v for a, v in base.unwanted.items() if a not in own.wanted}, **own.unwanted}
    return replace(
        own,
        wanted={**base.wanted, **plainly(own.wanted)},
        unwanted=unwanted,
        likeness=own.likeness if own.likeness is not None else base.likeness,
        tints={**base.tints, **own.tints},
    )


def _of_picture(figure: NamedFigure, common: NamedFigure, leads: bool) -> NamedFigure:
    """What is of the whole picture is said by the common words alone, and with the first person."""
    wanted: Scores = {a: v for a, v in figure.wanted.items() if a not in OF_PICTURE}
    if leads:
        wanted |= {a: v for a, v in common.wanted.items() if a in OF_PICTURE}
    return replace(figure, wanted=wanted)
