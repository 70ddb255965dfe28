"""What each region of a take decided: found by a worker, kept as a map, looked at by pages."""

from __future__ import annotations

from typing import Any

from sqlalchemy.orm import Session

from mosskeeper.core.diffusion.influence import influence, told
from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.pictures.difference import drawn
from mosskeeper.engines import BUILT_IN
from mosskeeper.studio import readings, takes, working


def key_of(take_id: int, region: int) -> str:
    return f"influence:{take_id}:{region}"


def check(session: Session, take_id: int, region: int) -> None:
    """Raises NotFound where the take has no such region, ArtistError where it was made by another engine."""
    recipe = takes.recipe_of(takes.find(session, take_id))
    if region >= len(recipe.regions):
        raise NotFound("This take has no such region.")
    if recipe.engine not in BUILT_IN:
        raise ArtistError("What a region did is known only of takes that the built-in engines made.", "regions")


def made(session: Session, take_id: int, region: int) -> tuple[bytes, dict[str, Any]]:
    """The map of a region's influence as PNG, and what is told of it: for workers, since it draws."""
    check(session, take_id, region)
    take = takes.find(session, take_id)
    recipe = takes.recipe_of(take)
    pixels = working.cue_pixels(session, recipe)
    found = influence(recipe, take.seed, region, pixels, readings.known_of_recipe(session, recipe), BUILT_IN[recipe.engine].make)
    return encode_png(drawn(found.map)), found.to_json() | {"told": told(found, chr(65 + region))}
