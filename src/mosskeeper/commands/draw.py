"""`./moss draw`: a recipe's takes as files, without web or database.

The pictures of its cues are read as the studio reads them, so the same recipe and pictures give the same bytes here and there.
"""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.cue_sheet import warnings
from mosskeeper.core.errors import ArtistError, BadRecipe
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.pictures.bounded import bounded
from mosskeeper.core.pictures.decode import decode, encode_png, on_paper
from mosskeeper.core.reading.any_reader import read_any
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import MAX_SEED, Cue, Recipe, read_recipe
from mosskeeper.core.references.copies import Features, features_of
from mosskeeper.core.references.resolve import resolved
from mosskeeper.engines import BUILT_IN
from mosskeeper.engines.contract import Materials
from mosskeeper.formats.png import own_scenes, recipe_of, with_recipe
from mosskeeper.formats.reading_document import as_stored


def draw_recipe(
    path: Path, seed: int | None, out: Path, cue_files: list[Path], tell: Callable[[str], None] = lambda _: None
) -> Iterator[Path]:
    """Makes the recipe's takes and yields the path of each. tell : gets sentences about cues that will not act as they are meant to.

    Raises ArtistError with what is wrong.
    """
    recipe = _read(path)
    brought = _brought(cue_files)
    pictures = {sha256: one.layers_u8 for sha256, one in brought.items()}
    names = {cue.picture: cue.name or cue.role for cue in _cues(recipe)}
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
    materials = _materials(recipe, brought)
    for one in warnings(recipe, materials.readings):
        tell(f"{recipe.cues[one.place].name or recipe.cues[one.place].role}: {one.sentence}")
    for i in range(recipe.count):
        own = recipe.with_seed((first + i) % (MAX_SEED + 1))
        assert own.seed is not None
        made = engine.generate(own, own.seed, materials, lambda _: None, lambda: False)
        target = out / f"{path.stem}-{own.seed}.png"
        target.write_bytes(with_recipe(encode_png(made.image), own, path.stem, made.explained))
        yield target


@dataclass(frozen=True, slots=True, eq=False)
class _Brought:
    """A picture that was given. layers_u8 : (H, W, 3 or 4). scenes : where it is a take that carries them."""

    rgb_u8: NDArray[np.uint8]
    layers_u8: NDArray[np.uint8]
    scenes: LayeredScenes | None
    features: Features


def _brought(files: list[Path]) -> dict[str, _Brought]:
    """The given pictures by the SHA-256 that they have in the studio."""
    found = {}
    for file in files:
        data = file.read_bytes()
        decoded = decode(data)
        layers_u8 = bounded(decoded.layers_u8)
        rgb_u8 = on_paper(layers_u8)
        found[hashlib.sha256(encode_png(layers_u8)).hexdigest()] = _Brought(
            rgb_u8, layers_u8, own_scenes(data, decoded.rgb_u8), features_of(rgb_u8)
        )
    return found


def _cues(recipe: Recipe) -> list[Cue]:
    return [*recipe.cues, *(cue for region in recipe.regions for cue in region.cues)]


def _materials(recipe: Recipe, brought: dict[str, _Brought]) -> Materials:
    """Pictures, readings and scenes of a recipe as a worker of the studio gathers them."""
    boards = {cue.picture for cue in recipe.cues if cue.acts and cue.role == "sketch"}
    pictures = {name: one.layers_u8 if name in boards else one.rgb_u8 for name, one in brought.items() if name in recipe.pictures}
    source = None if recipe.source is None else recipe.source.picture
    explained = {name: scenes for name, one in brought.items() if name == source and (scenes := one.scenes) is not None}
    drawn_here = {name for name, scenes in explained.items() if scenes.holds and scenes.size == recipe.source_size}
    asked = {cue.picture for cue in _cues(recipe) if cue.acts} | {source}
    readings = {name: _reading(name, brought) for name in sorted(brought) if name in asked and name not in drawn_here}
    return Materials(pictures, readings, explained)


def _reading(name: str, brought: dict[str, _Brought]) -> Reading:
    """The reading of a picture with what it holds as a reference; copies are looked for among the takes that were given."""
    one = brought[name]
    takes = [(other, picture.features) for other, picture in sorted(brought.items()) if other != name and picture.scenes is not None]
    reading = read_any(one.rgb_u8)
    contents = resolved(one.rgb_u8, reading, one.features, one.scenes, takes, lambda other: (brought[other].rgb_u8, brought[other].scenes))
    return as_stored(replace(reading, contents=contents))


def _read(path: Path) -> Recipe:
    data = path.read_bytes()
    if data.startswith(b"\x89PNG"):
        recipe = recipe_of(data)
        if recipe is None:
            raise BadRecipe(f"{path} carries no recipe.")
        return recipe
    return read_recipe(data)
