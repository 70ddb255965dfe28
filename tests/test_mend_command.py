"""`./moss mend` and `./moss invert`: files in, files out, without web or database."""

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from mosskeeper.commands.mend import Wish, invert_file, mend_file
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import Scene, scene_of
from mosskeeper.core.mending.redraw.mend import Opening
from mosskeeper.core.pictures.decode import decode, encode_png
from mosskeeper.core.recipe import Recipe
from mosskeeper.formats.png import scenes_of, with_recipe

SCENES = LayeredScenes.of([scene_of(Description(place="bell tower", layout=Layout(framing="half")), (256, 320))])
PICTURE = SCENES.drawn().image


@pytest.fixture
def mask(tmp_path: Path) -> Path:
    x, y, r = SCENES.drawn().head
    shape = np.zeros((320, 256, 3), np.uint8)
    shape[max(0, round(y - 2 * r)) : round(y), max(0, round(x - 1.8 * r)) : round(x + 1.8 * r)] = 255
    path = tmp_path / "mask.png"
    path.write_bytes(encode_png(shape))
    return path


def written(path: Path, explained: LayeredScenes | None) -> Path:
    path.write_bytes(with_recipe(encode_png(PICTURE), Recipe(words="a woman"), "take", explained))
    return path


def test_a_take_is_mended_from_the_scenes_that_it_carries_and_can_be_mended_again(tmp_path: Path, mask: Path) -> None:
    take, out = written(tmp_path / "take.png", SCENES), tmp_path / "out" / "mended.png"
    says = mend_file(take, mask, Wish("a straw hat"), out)
    made, opened = decode(out.read_bytes()).rgb_u8, decode(mask.read_bytes()).rgb_u8[..., 0] > 0
    assert any("hat" in sentence for sentence in says)
    assert np.array_equal(made[~opened], PICTURE[~opened])
    assert not np.array_equal(made, PICTURE)
    scenes = scenes_of(out.read_bytes())
    assert scenes is not None and scenes.scene.description.headwear == "straw hat"
    mend_file(out, mask, Wish(negative="hat"), tmp_path / "again.png")
    again = decode((tmp_path / "again.png").read_bytes()).rgb_u8
    assert (np.abs(again.astype(int) - PICTURE) > 2).any(2).mean() < 0.02


@pytest.mark.statistics
def test_a_picture_without_scenes_is_explained_first(tmp_path: Path, mask: Path) -> None:
    for name, explained in (("foreign.png", None), ("older.png", replace(SCENES, illustrator=0))):
        says = mend_file(written(tmp_path / name, explained), mask, Wish("a straw hat", opening=Opening(grown=True)), tmp_path / "m.png")
        assert any("hat" in sentence for sentence in says)
        assert any("older illustrator" in sentence for sentence in says) == (name == "older.png")


def test_the_scene_of_a_picture_is_written_as_json_that_can_be_drawn(tmp_path: Path) -> None:
    found = invert_file(written(tmp_path / "p.png", None), tmp_path / "scene.json")
    scene = Scene.from_json(json.loads((tmp_path / "scene.json").read_text()))
    assert scene.size == (256, 320)
    assert np.array_equal(draw_scene(scene).image, draw_scene(found.scene).image)


def test_what_cannot_be_done_is_said(tmp_path: Path, mask: Path) -> None:
    black = tmp_path / "black.png"
    black.write_bytes(encode_png(np.zeros((20, 20, 3), np.uint8)))
    with pytest.raises(ArtistError, match="is black"):
        mend_file(written(tmp_path / "t.png", SCENES), black, Wish("a hat"), tmp_path / "m.png")
    with pytest.raises(ArtistError, match="Nobody was recognised"):
        invert_file(black, tmp_path / "scene.json")


def test_damaged_scenes_in_a_picture_count_as_none() -> None:
    data = with_recipe(encode_png(PICTURE), Recipe(), "t", SCENES)
    assert scenes_of(data) is not None
    assert scenes_of(encode_png(PICTURE)) is None
    assert scenes_of(b"no picture") is None
