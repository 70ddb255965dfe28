"""`./moss mend` and `./moss invert`: mends and scenes as files, without web or database."""

from __future__ import annotations

import json
from dataclasses import dataclass, field
from pathlib import Path

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.inversion.invert import Inverted, invert
from mosskeeper.core.mending.redraw.mend import Opening
from mosskeeper.core.pictures.decode import decode, encode_png
from mosskeeper.core.pictures.resample import smooth
from mosskeeper.core.reading.any_reader import read_any
from mosskeeper.core.reading.structure import grey
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.takes.described_person import somebody
from mosskeeper.core.takes.explained_source import explanation
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
    known = scenes_of(data)
    takes_scenes = known is not None and known.holds and known.size == (w, h)
    explained = explanation(rgb_u8, known, None if takes_scenes else read_any(rgb_u8))
    if explained is None:
        raise ArtistError(f"No scene explains {picture}: nobody was recognised in it, or too little of them. Choose one that shows a face.")
    made = explained.mended(opened, wish.words, wish.negative, somebody, wish.opening, wish.strength)
    out.parent.mkdir(parents=True, exist_ok=True)
    recipe, scenes = recipe_of(data) or Recipe(words=wish.words), made.explained if explained.is_take else None
    out.write_bytes(with_recipe(encode_png(made.picture), recipe, out.stem, scenes))
    return (*explained.says, *made.says)


def invert_file(picture: Path, out: Path) -> Inverted:
    """Writes the scene that explains a picture as JSON. Raises ArtistError with what is wrong."""
    rgb_u8 = decode(picture.read_bytes()).rgb_u8
    reading = read_any(rgb_u8)
    found = invert(rgb_u8, reading)
    if found is None:
        seen = [max(values, key=lambda v: values[v]) for values in reading.attributes.values() if values][:3]
        told = f" What was seen: {', '.join(seen)}." if seen else ""
        raise ArtistError(f"Nobody was recognised in {picture}, so no scene explains it.{told} Choose a picture that shows a face.")
    out.parent.mkdir(parents=True, exist_ok=True)
    out.write_text(json.dumps(found.scene.to_json(), indent=1))
    return found
