"""Sweeps: one or two dials over their values, everything else of a recipe fixed."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from mosskeeper.core.dials import FACE_ON, DialKind, dials_of
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.recipe import Recipe, explain

MOST_CELLS = 100
MOST_TARGETS = 200  # pictures that get a face in one run
Value = Annotated[float, Field(allow_inf_nan=False)] | Annotated[str, Field(max_length=200)]


class Dial(BaseModel):
    """One thing that changes along a sweep, and the values it takes.

    name : one of `core.dials`: guidance, steps, seed, strength (of the source picture), style, engine, said, face-on, or
        cue-ID-weight, -start or -end.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)
    name: Annotated[str, Field(max_length=30)]
    values: Annotated[tuple[Value, ...], Field(min_length=1, max_length=MOST_TARGETS)]


def spread(kind: DialKind, first: float, last: float, count: int) -> Dial:
    """A dial over `count` even values from first to last; whole numbers where the dial has only those.

    Raises ArtistError where there are fewer than two values, or the range is empty.
    """
    if not 2 <= count <= MOST_CELLS:
        raise ArtistError(f"A dial takes 2 to {MOST_CELLS} values.", "sweep")
    if first == last:
        raise ArtistError("A dial needs a range: let it end elsewhere than it begins.", "sweep")
    values = np.linspace(first, last, count)
    rounded = [float(round(v)) for v in values] if kind.whole else [round(float(v), 3) for v in values]
    return Dial(name=kind.name, values=tuple(dict.fromkeys(rounded)))


def cells(dials: Sequence[Dial]) -> int:
    return int(np.prod([len(dial.values) for dial in dials])) if dials else 0


def values_at(dials: Sequence[Dial], place: int) -> list[float | str]:
    """The values of all dials in a cell; cells are counted along the first dial, then along the second."""
    out = []
    for dial in dials:
        place, k = divmod(place, len(dial.values))
        out.append(dial.values[k])
    return out


def recipe_at(recipe: Recipe, dials: Sequence[Dial], place: int) -> Recipe:
    """The recipe of one cell.

    Raises
    ------
    ArtistError
        where there is no such dial on this recipe, or it cannot take such a value.
    """
    document, kinds = recipe.model_dump(), dials_of(recipe)
    for dial, value in zip(dials, values_at(dials, place), strict=True):
        kind = kinds.get(dial.name)
        if kind is None:
            raise ArtistError("This shot has no such dial any more. Choose another.", "sweep")
        kind.turn(document, int(value) if kind.whole and not isinstance(value, str) else value)
    try:
        return Recipe.model_validate(document)
    except ValidationError as error:
        raise ArtistError(f"This sweep leaves what is possible. {explain(error)[0][1]}", "sweep") from None


def check(recipe: Recipe, dials: Sequence[Dial]) -> None:
    """Raises ArtistError where a sweep cannot be made: too many cells, one dial twice, or values out of range."""
    if not 1 <= len(dials) <= 2:
        raise ArtistError("A sweep has one dial, or two.", "sweep")
    if len({dial.name for dial in dials}) < len(dials):
        raise ArtistError("Both dials are the same. Choose two different ones, or one alone.", "sweep")
    if dials[0].name == FACE_ON:
        if cells(dials) > MOST_TARGETS:
            raise ArtistError(f"A face goes on at most {MOST_TARGETS} pictures in one run. Take fewer.", "sweep")
    elif cells(dials) > MOST_CELLS:
        raise ArtistError(f"A sweep has at most {MOST_CELLS} cells. Take fewer values.", "sweep")
    for place in range(cells(dials)):
        recipe_at(recipe, dials, place)
