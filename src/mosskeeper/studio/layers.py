"""A take in layers, as OpenRaster: the picture, and over it, hidden, its boards and the masks of its regions and areas."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from sqlalchemy.orm import Session

from mosskeeper.core.pictures.areas import area_called
from mosskeeper.core.pictures.resample import fitted, smooth
from mosskeeper.core.reading.structure import grey
from mosskeeper.core.recipe import Recipe
from mosskeeper.formats.openraster import RasterLayer, opaque, openraster
from mosskeeper.studio import pictures, takes
from mosskeeper.studio.models import Take

_NAME = 60  # characters of a layer's name


def of_take(session: Session, take: Take) -> bytes:
    """The file of a take."""
    image, recipe = pictures.pixels(session, take.picture_sha256), takes.recipe_of(take)
    size = image.shape[1], image.shape[0]
    layers = [RasterLayer(f"take {take.number}", opaque(image)), *_boards(session, recipe, size), *_masks(session, recipe, size)]
    return openraster(size, layers, image)


def _boards(session: Session, recipe: Recipe, size: tuple[int, int]) -> list[RasterLayer]:
    boards = [cue for cue in recipe.cues if cue.role == "sketch" and cue.picture is not None]
    return [
        RasterLayer(cue.name or "board", _with_alpha(fitted(pictures.layers(session, cue.picture or ""), size)), visible=False)
        for cue in boards
    ]


def _masks(session: Session, recipe: Recipe, size: tuple[int, int]) -> list[RasterLayer]:
    """Of the regions, from the one farthest back, and of areas of references that are no regions."""
    named = {
        region.mask: f"region {chr(65 + n)}: {region.name or region.prompt}" for n, region in reversed(list(enumerate(recipe.regions)))
    }
    for cue in recipe.cues:
        if cue.area is not None:
            named.setdefault(cue.area, f"where {cue.name or cue.role} acts: {area_called(cue.area) or 'its own part'}")
    return [RasterLayer(name.strip(": ")[:_NAME], _white(session, mask, size), visible=False) for mask, name in named.items()]


def _white(session: Session, mask: str, size: tuple[int, int]) -> NDArray[np.uint8]:
    opened = smooth(grey(pictures.pixels(session, mask)), size)
    alpha = np.clip(255 * opened + 0.5, 0, 255).astype(np.uint8)
    return np.dstack([np.full((*alpha.shape, 3), 255, np.uint8), alpha])


def _with_alpha(picture_u8: NDArray[np.uint8]) -> NDArray[np.uint8]:
    return picture_u8 if picture_u8.shape[2] == 4 else opaque(picture_u8)
