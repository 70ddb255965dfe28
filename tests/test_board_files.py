"""Boards in files: with their pieces, inside takes, and what is damaged."""

import hashlib
import io

import numpy as np
import pytest
from PIL import Image, PngImagePlugin

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.pictures.decode import decode, encode_png, on_paper
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.formats.board import BOARD_CHUNK, MOST_PIECES, BoardDocument, board_of, read_document, with_board
from mosskeeper.formats.png import PICTURES_CHUNK, pictures_of, recipe_of, with_recipe

RGBA = np.dstack([np.full((40, 32, 3), (200, 30, 60), np.uint8), np.zeros((40, 32), np.uint8)])
RGBA[10:20, 8:24, 3] = 255
STROKE = {"kind": "stroke", "colour": "c81e3c", "cover": 1, "points": [8, 10, 4, 24, 20, 4]}
BOARD = BoardDocument.model_validate(
    {"pieces": [STROKE, {"kind": "disc", "colour": "e8bf9e", "at": [4, 5], "size": [6, 6]}], "pots": {"c81e3c": "cloth"}}
)


def test_a_board_comes_back_with_its_pieces_and_its_open_parts() -> None:
    data = with_board(RGBA, BOARD)
    assert data == with_board(RGBA, BOARD)
    assert board_of(data) == BOARD
    layers = decode(data).layers_u8
    assert layers.shape == (40, 32, 4)
    assert (layers[..., 3] == RGBA[..., 3]).all()
    assert (layers[12, 12, :3] == (200, 30, 60)).all()


def test_elsewhere_a_picture_with_open_parts_lies_on_paper() -> None:
    decoded = decode(encode_png(RGBA))
    assert (decoded.rgb_u8 == on_paper(decoded.layers_u8)).all()
    assert (decoded.rgb_u8[0, 0] == (247, 244, 236)).all()
    assert any("transparent" in note for note in decoded.notes)
    covered = RGBA.copy()
    covered[..., 3] = 255
    assert decode(encode_png(covered)).layers_u8.shape[2] == 3


@pytest.mark.parametrize(
    "text",
    [
        "no JSON",
        "[]",
        '{"pieces": [{"kind": "stroke", "colour": "red", "points": [1, 2, 3]}]}',
        '{"pieces": [{"kind": "stroke", "colour": "c81e3c", "points": [1e9, 2, 3]}]}',
        '{"pieces": [{"kind": "lever"}]}',
        '{"pots": {"c81e3c": "gold"}}',
    ],
)
def test_a_document_that_is_no_board_is_told(text: str) -> None:
    with pytest.raises(ArtistError, match="left as it was"):
        read_document(text)


def test_more_pieces_than_a_board_can_have_are_told_by_number() -> None:
    many = BoardDocument.model_construct(version=1, pieces=[BOARD.pieces[0]] * (MOST_PIECES + 1), pots={})
    with pytest.raises(ArtistError, match=str(MOST_PIECES)):
        read_document(many.model_dump_json())
    with pytest.raises(ArtistError, match="too much"):
        read_document(" " * 2_000_000)


def test_a_picture_whose_board_is_damaged_is_a_picture_all_the_same() -> None:
    info, out = PngImagePlugin.PngInfo(), io.BytesIO()
    info.add_itxt(BOARD_CHUNK, "{broken")
    Image.fromarray(RGBA, "RGBA").save(out, "PNG", pnginfo=info)
    assert board_of(out.getvalue()) is None
    assert board_of(b"no picture") is None
    assert decode(out.getvalue()).layers_u8.shape == (40, 32, 4)


def test_a_take_carries_the_boards_of_its_recipe() -> None:
    board = with_board(RGBA, BOARD)
    sha = hashlib.sha256(board).hexdigest()
    recipe = Recipe(cues=[Cue(role="sketch", picture=sha, pots=BOARD.pots)], seed=4)
    take = with_recipe(encode_png(RGBA[..., :3]), recipe, "a take", None, {sha: board})
    assert recipe_of(take) == recipe
    assert pictures_of(take) == {sha: board}


def test_a_board_that_is_not_what_its_name_says_is_left() -> None:
    info, out = PngImagePlugin.PngInfo(), io.BytesIO()
    info.add_itxt(PICTURES_CHUNK, '{"' + "a" * 64 + '": "QUJD", "b": 3}')
    Image.fromarray(RGBA[..., :3]).save(out, "PNG", pnginfo=info)
    assert pictures_of(out.getvalue()) == {}
    assert pictures_of(encode_png(RGBA)) == {}
