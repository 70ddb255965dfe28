"""Poses, boards, windows and near variants in mends; what is told of their room; joining by what stays."""

from dataclasses import replace

import cv2
import numpy as np
import pytest

from mosskeeper.core.illustrator.description import Description, Layout, Part
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.mending.choose.choices import choices_of_drawing
from mosskeeper.core.mending.choose.mask_report import told_room
from mosskeeper.core.mending.fill.joining import Piece, join
from mosskeeper.core.mending.redraw.window import moved, moved_back, opened_by
from mosskeeper.core.posing.book import entry, figures_of, placed
from mosskeeper.core.recipe import Cue, Recipe, Source, Variation
from mosskeeper.core.stack import NEAR
from tests.core.few import make_take

SIZE = (256, 320)
P, M, B = "a" * 64, "b" * 64, "c" * 64
GIRL = Description(subject="girl", hair_colour="copper", outfit="garden dress", place="roof garden", layout=Layout("standing", "full"))
SCENE = scene_of(GIRL, SIZE)
EXPLAINED = LayeredScenes.of([SCENE])
DRAWING = EXPLAINED.drawn()
ALL = np.full((320, 256), True)


def mended(cues: list[Cue], mask: np.ndarray = ALL, seed: int = 3, words: str = "", board: np.ndarray | None = None, **more: object):  # type: ignore[no-untyped-def]
    source = Source(picture=P, mask=M, strength=1.0, outlines=True)
    recipe = Recipe(words=words, width=256, height=320, steps=4, cues=cues, source=source, **more)  # type: ignore[arg-type]
    pictures = {P: DRAWING.image, M: np.repeat((mask * 255).astype(np.uint8)[..., None], 3, 2)}
    if board is not None:
        pictures[B] = board
    return make_take(recipe, seed, pictures, explained={P: EXPLAINED})


def pose(name: str) -> list[tuple[float, float]]:
    return [(float(x), float(y)) for x, y in placed(figures_of(entry(name)), None, SIZE)[0].joints]


def test_a_pose_moves_whom_the_mask_is_of_and_who_she_is_stays() -> None:
    cheering = Cue(role="pose", skeleton=pose("cheering"), weight=1, own_body=True)
    made = mended([cheering])
    assert made.explained is not None and "posed" in made.says
    person = made.explained.scene.description.figures[0]
    assert replace(person, layout=GIRL.layout) == GIRL.figures[0]
    wrists = made.explained.scene.postures[0].joints[[4, 7], 1]
    assert (wrists < made.explained.scene.postures[0].joint("neck")[1]).all()  # both hands over the shoulders
    half = mended([cheering.model_copy(update={"weight": 0.4})])
    assert half.explained is not None
    assert wrists.mean() < half.explained.scene.postures[0].joints[[4, 7], 1].mean() < SCENE.postures[0].joints[[4, 7], 1].mean()


def test_a_board_colours_what_it_lies_on_and_adds_what_is_roughed_out_beside() -> None:
    ys, xs = np.nonzero(DRAWING.labels == Part.TOP)
    board = np.zeros((320, 256, 4), np.uint8)
    cv2.circle(board, (int(np.median(xs)), int(np.median(ys))), 14, (40, 70, 200, 255), -1)
    made = mended([Cue(role="sketch", picture=B, weight=1, pots={"2846c8": "cloth"})], board=board)
    assert made.explained is not None
    red, _, blue = made.explained.scene.description.figures[0].colour_a
    assert blue > 0.6 > red
    assert np.array_equal(made.explained.scene.postures[0].joints, SCENE.postures[0].joints) and not made.explained.scene.roughs

    board = np.zeros((320, 256, 4), np.uint8)
    cv2.ellipse(board, (220, 200), (24, 50), 0, 0, 360, (60, 120, 50, 255), -1)
    tree = Cue(role="sketch", picture=B, weight=1, pots={"3c7832": "leaves"})
    right = np.zeros_like(ALL)
    right[:, 150:] = True
    made = mended([tree], right, board=board)
    assert made.explained is not None and [rough.kind for rough in made.explained.scene.roughs] == ["tree"]
    left = mended([tree], ~right, board=board)  # painted where the mask is closed
    assert np.array_equal(left.image, DRAWING.image)


def test_near_variants_are_nearer_to_theirs_than_others_are() -> None:
    x, y, size = DRAWING.shown[0].head
    mask = np.hypot(*(np.mgrid[:320, :256] - np.array([y - 0.4 * size, x])[:, None, None])) < 1.2 * size

    def seen(seed: int, variation: Variation | None = None) -> np.ndarray:
        return np.asarray(mended([], mask, seed, "a festival coat and a hat", variation=variation).image, float)

    first = seen(3)
    near = [np.abs(seen(k, Variation(seed=3, amount=NEAR)) - first).mean() for k in range(20, 26)]
    others = [np.abs(seen(k) - first).mean() for k in range(20, 26)]
    assert np.mean(near) < 0.75 * np.mean(others)
    assert max(near) > 0


@pytest.mark.parametrize("words", ["a fox", "an old man"])
def test_in_a_window_over_the_edge_the_place_goes_on_with_what_the_words_ask(words: str) -> None:
    wider, window = (0, 0, 128, 0), (230, 120, 140, 196)

    def made(words: str) -> np.ndarray:
        source = Source(picture=P, wider=wider, window=window, strength=1.0, outlines=False)
        take = make_take(
            Recipe(words=words, width=384, height=320, steps=4, source=source), 5, {P: DRAWING.image}, explained={P: EXPLAINED}
        )
        return take.image.astype(int)

    plain, asked = made(""), made(words)
    changed = np.abs(asked - plain).max(2) > 8
    assert not changed[~opened_by(window, (384, 320))].any()
    assert np.array_equal(plain[:, :256], DRAWING.image)
    columns = np.flatnonzero(changed.sum(0) > 4)
    assert changed.sum() > 400 and 256 < columns.mean() < 370  # it stands beyond the picture's edge


def test_a_scene_moved_to_its_wider_canvas_and_back_is_the_same() -> None:
    wider = (32, 16, 48, 0)
    there = moved(SCENE, wider)
    assert there.floor == pytest.approx(SCENE.floor + 16)
    back = moved_back(there, wider, SCENE)
    assert back.size == SCENE.size and np.allclose(back.camera.spots[0].origin, SCENE.camera.spots[0].origin)


def test_what_needs_more_room_is_told_before_anything_is_run() -> None:
    choices = choices_of_drawing(DRAWING, SCENE)
    x, y, _ = DRAWING.shown[0].head
    narrow = np.zeros_like(ALL)
    narrow[int(y) : int(y) + 30, int(x) - 12 : int(x) + 12] = True
    assert any("above what is open: it will be cut" in s for s in told_room(narrow, choices, "a hat", False))
    assert any("umbrella needs about" in s and "is opened" in s for s in told_room(narrow, choices, "an umbrella", True))
    assert told_room(ALL, choices, "an umbrella and a hat", False) == []
    assert told_room(narrow, None, "a hat", False) == []


def test_joined_pictures_go_on_into_each_other_where_they_need_not_stay() -> None:
    rows = np.repeat((np.arange(96) // 12 % 2 * 120 + 60)[:, None], 128, 1)
    first, second = (
        np.clip(rows[..., None] + np.random.default_rng(k).normal(0, 6, (96, 128, 3)), 0, 255).astype(np.uint8) for k in (1, 2)
    )
    stays = np.zeros((96, 128), bool)
    stays[:, :70] = True
    made = join(Piece(first, stays=stays), Piece(second), 32)
    assert made.picture.shape == (96, 288, 3)
    assert np.array_equal(made.picture[:, :70], first[:, :70])
    assert np.array_equal(made.picture[:, 160:], second)
    assert not np.array_equal(made.picture[:, 100:128], first[:, 100:])
    three = join(made, Piece(first), 16)
    assert three.picture.shape == (96, 288 + 16 + 128, 3) and three.figures is not None and three.figures.shape == (96, 432)
