"""`./moss mend` and `./moss invert`: mends and scenes as files, without web or database."""

from __future__ import annotations

import json
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np

from mosskeeper.core.diffusion.somebody import somebody
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.explained import Explained
from mosskeeper.core.inversion.invert import Inverted, invert
from mosskeeper.core.mending.foreign import mend_foreign
from mosskeeper.core.mending.mend import Mended, Opening, mend
from mosskeeper.core.pictures.decode import decode, encode_png
from mosskeeper.core.pictures.resample import smooth
from mosskeeper.core.reading.any_reader import read_any
from mosskeeper.core.reading.structure import grey
from mosskeeper.core.recipe import Recipe
from mosskeeper.formats.png import recipe_of, scenes_of, with_recipe


@dataclass(frozen=True, slots=True)
class Wish:
    """What is asked of a mend."""

    words: str = ""
    negative: str = ""
    strength: float = 1.0
    opening: Opening = field(default_factory=Opening)


def mend_file(picture: Path, mask: Path, wish: Wish, out: Path) -> tuple[str, ...]:
    """Mends a picture where a mask is white, and says what was done. Raises ArtistError with what is wrong."""
    data = picture.read_bytes()
    rgb_u8 = decode(data).rgb_u8
    h, w = rgb_u8.shape[:2]
    opened = smooth(grey(decode(mask.read_bytes()).rgb_u8), (w, h)) > 0.5
    if not opened.any():
        raise ArtistError(f"{mask} is black: paint white where the picture may change.")
    explained, says = scenes_of(data), tuple[str, ...]()
    if explained is not None and not explained.holds:
        says = ("this take was drawn by an older illustrator: it was read like any picture",)
    made = _mended(rgb_u8, explained, opened, wish, picture)
    out.parent.mkdir(parents=True, exist_ok=True)
    scenes = made.explained if explained is not None else None
    out.write_bytes(with_recipe(encode_png(made.picture), recipe_of(data) or Recipe(words=wish.words), out.stem, scenes))
    return (*says, *made.says)


def _mended(rgb_u8: np.ndarray, explained: Explained | None, opened: np.ndarray, wish: Wish, picture: Path) -> Mended:
    if explained is not None and explained.holds and explained.size == rgb_u8.shape[1::-1]:
        return mend(rgb_u8, explained, opened, wish.words, wish.negative, somebody, wish.opening, wish.strength)
    return mend_foreign(rgb_u8, _inverted(rgb_u8, picture), opened, wish.words, wish.negative, somebody, wish.opening, wish.strength)


def invert_file(picture: Path, out: Path) -> Inverted:
    """Writes the scene that explains a picture as JSON. Raises ArtistError with what is wrong."""
    found = _inverted(decode(picture.read_bytes()).rgb_u8, picture)
    out.parent.mkdir(parents=True, exist_ok=True)
    out.write_text(json.dumps(found.scene.to_json(), indent=1))
    return found


def _inverted(rgb_u8: np.ndarray, picture: Path) -> Inverted:
    reading = read_any(rgb_u8)
    found = invert(rgb_u8, reading)
    if found is None:
        seen = [max(values, key=lambda v: values[v]) for values in reading.attributes.values() if values][:3]
        told = f" What was seen: {', '.join(seen)}." if seen else ""
        raise ArtistError(f"Nobody was recognised in {picture}, so no scene explains it.{told} Choose a picture that shows a face.")
    return found
