"""The stack of mends that lies on a picture: each can be re-worded, weakened, hidden, moved and taken off, for ever.

A mend is never burnt in. Where it was made, and on what, is found by the recipe that makes it: that of its own words and mask
on the picture of the height below. So the picture at any height is exact, and what has been made once is not made again.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field, ValidationError, model_validator

from mosskeeper.core import limits
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.recipe import (
    MAX_SEED,
    SIZES,
    Cues,
    Document,
    Picture,
    Recipe,
    Side,
    Source,
    Variation,
    Words,
    explain,
)

VERSION: Literal[1] = 1
MOST_MENDS = 24
NEAR = 0.6  # of the numbers of a variant that others near to it have
MendId = Annotated[str, Field(pattern=r"^[a-z0-9]{1,12}$")]


class Mend(Document):
    """One repair: what a mask opens, what should stand there, and which of its variants was accepted."""

    id: MendId
    mask: Annotated[Picture | None, Field(description="white where the picture may change; None: nothing is chosen yet")] = None
    words: Annotated[Words, Field(max_length=limits.WORDS)] = ""
    negative: Annotated[Words, Field(max_length=limits.WITHOUT)] = ""
    strength: Annotated[float, Field(ge=0, le=1)] = 1.0
    feather: Annotated[float, Field(ge=0, le=64)] = 3.0
    outlines: bool = True
    wider: tuple[Side, Side, Side, Side] = (0, 0, 0, 0)
    window: Annotated[tuple[int, int, int, int] | None, Field(description="px on the wider canvas: left, top, width, height")] = None
    near: Annotated[int | None, Field(ge=0, le=MAX_SEED, description="of the variant that others are made near to")] = None
    cues: Annotated[Cues, Field(max_length=6)] = Field(default_factory=list)
    count: Annotated[int, Field(ge=1, le=8)] = 3
    first_seed: Annotated[int, Field(ge=0, le=MAX_SEED)] = 1
    seed: Annotated[int | None, Field(ge=0, le=MAX_SEED, description="of the accepted variant")] = None
    shown: bool = True
    told: Annotated[list[str], Field(max_length=8, description="what the mask was read as")] = Field(default_factory=list)

    @property
    def name(self) -> str:
        if any(self.wider) and not (self.window and self.words):
            return "a wider canvas"
        if self.mask is None and not self.words and not self.negative:
            return "a new mend"
        lent = ", ".join(f"{cue.role} of {cue.name or 'a picture'}" for cue in self.cues if cue.acts)
        return self.words or (f"without {self.negative}" if self.negative else lent or "taken away")

    @property
    def ready(self) -> bool:
        return self.mask is not None or any(self.wider)


class KeptMask(Document):
    """A choice that was kept by name."""

    name: Annotated[Words, Field(min_length=1, max_length=limits.TAG)]
    mask: Picture


class StackSettings(Document):
    """What all mends of a stack are made with."""

    engine: Annotated[Words, Field(max_length=60)] = "built-in"
    steps: Annotated[int, Field(ge=4, le=60)] = 20


class Stack(Document):
    version: Literal[1] = VERSION
    base: Picture
    size: tuple[int, int]  # width, height of the base
    settings: StackSettings = StackSettings()
    kept: Annotated[list[KeptMask], Field(max_length=40, description="choices by name, for any mend")] = Field(default_factory=list)
    mends: Annotated[list[Mend], Field(max_length=MOST_MENDS, description="from the lowest to the uppermost")] = Field(default_factory=list)

    @model_validator(mode="after")
    def _told_apart(self) -> Stack:
        if len({mend.id for mend in self.mends}) < len(self.mends):
            raise ValueError("two mends have one id")
        return self

    def mend(self, mend_id: str) -> Mend | None:
        return next((mend for mend in self.mends if mend.id == mend_id), None)

    def with_mend(self, mend: Mend) -> Stack:
        """With one mend exchanged."""
        return self.changed(mends=[mend if one.id == mend.id else one for one in self.mends])

    def moved(self, mend_id: str, by: int) -> Stack:
        """With one mend higher (or lower), as far as there is room."""
        order = list(self.mends)
        at = next((k for k, one in enumerate(order) if one.id == mend_id), None)
        if at is None:
            return self
        one = order.pop(at)
        order.insert(min(max(at + by, 0), len(order)), one)
        return self.changed(mends=order)

    def changed(self, **update: object) -> Stack:
        """Raises ArtistError where the changed stack cannot be used."""
        try:
            return Stack.model_validate(self.model_dump() | {name: _plain(value) for name, value in update.items()})
        except ValidationError as error:
            field, sentence = explain(error)[0]
            raise ArtistError(sentence, field) from None


def _plain(value: object) -> object:
    return [one.model_dump() for one in value] if isinstance(value, list) else value


@dataclass(frozen=True, slots=True)
class Height:
    """How a mend stands. on : the picture below it, None where that is not made yet. size : of `on`.

    picture : what it makes of that, also where it is hidden; None where that is not made. passed : hidden, or not accepted: it
    changes nothing.
    """

    mend: Mend
    on: str | None
    size: tuple[int, int]
    recipe: Recipe | None
    picture: str | None
    passed: bool

    @property
    def stands(self) -> bool:
        """Whether the picture at its height is what it made."""
        return not self.passed and self.picture is not None

    @property
    def pending(self) -> bool:
        """Whether it was accepted and stands on another picture now, or says something else."""
        return not self.passed and self.picture is None


def recipe_of(mend: Mend, on: str, size: tuple[int, int], settings: StackSettings) -> Recipe:
    """The recipe that makes variants of a mend on a picture of a size (width, height).

    Raises ArtistError where the canvas would become larger than pictures can be.
    """
    left, top, right, below = mend.wider
    width, height = size[0] + left + right, size[1] + top + below
    if max(width, height) > SIZES[1]:
        raise ArtistError(f"The canvas would be {width} × {height} px; at most {SIZES[1]} are possible on a side.", "wider")
    try:
        return Recipe(
            words=mend.words,
            negative=mend.negative,
            width=width,
            height=height,
            steps=settings.steps,
            engine=settings.engine,
            cues=mend.cues,
            count=mend.count,
            seed=mend.first_seed,
            variation=None if mend.near is None else Variation(seed=mend.near, amount=NEAR),
            source=Source(
                picture=on,
                strength=mend.strength,
                mask=None if any(mend.wider) else mend.mask,
                feather=mend.feather,
                outlines=mend.outlines,
                wider=mend.wider,
                window=mend.window if any(mend.wider) else None,
            ),
        )
    except ValidationError as error:
        field, sentence = explain(error)[0]
        raise ArtistError(sentence, field) from None


def key_of(recipe: Recipe, seed: int) -> str:
    """The name of what a recipe makes with a seed."""
    return hashlib.sha256(recipe.with_seed(seed).to_json().encode()).hexdigest()


def heights(stack: Stack, made: Callable[[str], str | None]) -> list[Height]:
    """How each mend stands, from the lowest up. made : the picture under a name of `key_of`, None where it was not made yet."""
    on: str | None = stack.base
    size, out = stack.size, list[Height]()
    for mend in stack.mends:
        recipe = recipe_of(mend, on, size, stack.settings) if on is not None and mend.ready else None
        passed = not mend.shown or mend.seed is None
        picture = None if recipe is None or mend.seed is None else made(key_of(recipe, mend.seed))
        out.append(Height(mend, on, size, recipe, picture, passed))
        if not passed:
            on = picture
            size = (size[0] + mend.wider[0] + mend.wider[2], size[1] + mend.wider[1] + mend.wider[3])
    return out


def top(stack: Stack, of: list[Height]) -> str | None:
    """The picture at the uppermost height; None where a mend below has to be made first."""
    if any(height.pending for height in of):
        return None
    return next((height.picture for height in reversed(of) if height.stands), stack.base)
