"""Enlarging takes: the recipe by which a take is made anew, larger."""

from __future__ import annotations

from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.recipe import SIDE_MULTIPLE, SIZES, Recipe, Source
from mosskeeper.core.takes.enlarge import FACTORS
from mosskeeper.studio import takes
from mosskeeper.studio.models import Picture, Shot, Take

AMOUNT = 0.3  # of freedom: what was drawn here gets true detail, and stays the picture that it was
_STEPS = 4  # nothing is denoised: an engine asks for some steps all the same


def factors(sides: tuple[int, int]) -> tuple[int, ...]:
    """How many times as large an engine can make a picture of so many px."""
    return tuple(f for f in FACTORS if all(side * f <= SIZES[1] and not side * f % SIDE_MULTIPLE for side in sides))


def asked(session: Session, take: Take, factor: int) -> tuple[Shot, Recipe]:
    """The shot, and the recipe that makes a take larger.

    Raises ArtistError where no engine here can make it that large.
    """
    picture = session.get_one(Picture, take.picture_sha256)
    if factor not in factors((picture.width, picture.height)):
        raise ArtistError(
            f"This take cannot be made {factor} times as large: sides go up to {SIZES[1]} px. It has {picture.width} × {picture.height} px.",
            "larger",
        )
    recipe = takes.recipe_of(take)
    source = Source(picture=picture.sha256, larger=AMOUNT)
    width, height = picture.width * factor, picture.height * factor
    return take.shot, Recipe(
        source=source, given=recipe.given, words=recipe.words, seed=take.seed, count=1, steps=_STEPS, width=width, height=height
    )
