"""`./moss draw`: a recipe's takes as files, without web or database."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Iterator
from pathlib import Path

from mosskeeper.core.errors import ArtistError, BadRecipe
from mosskeeper.core.pictures.decode import decode, encode_png
from mosskeeper.core.recipe import MAX_SEED, Recipe, read_recipe
from mosskeeper.engines import BUILT_IN
from mosskeeper.engines.contract import Materials
from mosskeeper.formats.png import recipe_of, with_recipe


def draw_recipe(path: Path, seed: int | None, out: Path, cue_files: list[Path]) -> Iterator[Path]:
    """Makes the recipe's takes and yields the path of each. Raises ArtistError with what is wrong."""
    recipe = _read(path)
    pictures = {}
    for file in cue_files:
        rgb_u8 = decode(file.read_bytes()).rgb_u8
        pictures[hashlib.sha256(encode_png(rgb_u8)).hexdigest()] = rgb_u8
    names = {cue.picture: cue.name or cue.role for cue in recipe.cues}
    for sha256 in sorted(recipe.pictures - set(pictures)):
        raise ArtistError(
            f"The recipe uses the picture {sha256[:12]}… ({names.get(sha256, 'a mask or source')}): give its file with --cue."
        )
    engine = BUILT_IN.get(recipe.engine)
    if engine is None:
        raise ArtistError(
            f"The recipe asks for the engine “{recipe.engine}”, which is not built in. Run it in the studio that is connected to it.",
            "engine",
        )
    first = seed if seed is not None else recipe.seed if recipe.seed is not None else secrets.randbelow(MAX_SEED)
    out.mkdir(parents=True, exist_ok=True)
    for i in range(recipe.count):
        own = recipe.with_seed((first + i) % (MAX_SEED + 1))
        assert own.seed is not None
        made = engine.generate(own, own.seed, Materials(pictures), lambda _: None, lambda: False)
        target = out / f"{path.stem}-{own.seed}.png"
        target.write_bytes(with_recipe(encode_png(made.image), own, path.stem, made.explained))
        yield target


def _read(path: Path) -> Recipe:
    data = path.read_bytes()
    if data.startswith(b"\x89PNG"):
        recipe = recipe_of(data)
        if recipe is None:
            raise BadRecipe(f"{path} carries no recipe.")
        return recipe
    return read_recipe(data)
