"""Source pictures, masks, fill, extension, joining, enlarging, variation."""

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mosskeeper.core.errors import ArtistError, Stopped
from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.mending.fill.extension import extended
from mosskeeper.core.mending.fill.joining import Piece, join
from mosskeeper.core.mending.fill.patch_fill import fill
from mosskeeper.core.recipe import Recipe, Source, Variation
from mosskeeper.core.takes.enlarge import enlarged, redrawn
from mosskeeper.core.takes.source_picture import inside
from tests.core.few import make_take

A, M = "a" * 64, "e" * 64
BASE = Recipe(words="a woman with copper hair in a tunic in the bell tower at noon, bust", width=256, height=256, steps=6)


@pytest.fixture(scope="module")
def source() -> np.ndarray:
    return make_take(Recipe(words="a boy at the canal market at dusk, bust", width=256, height=256, steps=4), 8).image


def stripes(h: int = 96, w: int = 128) -> np.ndarray:
    """Level stripes with a little grain: what is to run on must be at the right height."""
    rows = (np.arange(h) // 12 % 2 * 120 + 60)[:, None, None]
    return np.clip(rows + np.random.default_rng(1).normal(0, 6, (h, w, 3)), 0, 255).astype(np.uint8)


# -- denoise strength ------------------------------------------------------------------------------------------


@pytest.mark.statistics
def test_strength_goes_evenly_from_the_source_to_a_new_picture(source: np.ndarray) -> None:
    curve = []
    for strength in np.linspace(0, 1, 6):
        made = make_take(BASE.model_copy(update={"source": Source(picture=A, strength=float(strength))}), 3, {A: source}).image
        curve.append(float(np.abs(made.astype(int) - source).mean()))
    assert curve[0] == 0
    assert (np.diff(curve) > 0).all()
    unexplained = make_take(BASE.model_copy(update={"source": Source(picture=A, strength=0.5)}), 3, {A: source})
    assert any("no scene explains" in sentence for sentence in unexplained.says)
    assert np.diff(curve).max() < 0.4 * curve[-1]


# -- masks -----------------------------------------------------------------------------------------------------


@settings(deadline=None)
@given(st.integers(0, 1000), st.floats(0, 12))
def test_outside_a_mask_every_byte_stays(seed: int, feather: float) -> None:
    rng = np.random.default_rng(seed)
    start, changed = rng.integers(0, 255, (2, 40, 50, 3), np.uint8)
    mask = cv2.GaussianBlur(rng.random((40, 50), np.float32), (0, 0), 4)
    mask = np.clip(2 * (mask - mask.min()) / np.ptp(mask) - 0.5, 0, 1)
    made = inside(start, changed, mask, feather)
    assert np.array_equal(made[mask == 0], start[mask == 0])


@pytest.mark.parametrize("words", ["", "a hat", "teal hair", "a forest path at night", "a fox", "a necklace", "an old man", "glimmwort"])
def test_a_masked_change_leaves_the_rest_bit_for_bit_and_changes_the_masked_place(words: str, source: np.ndarray) -> None:
    mask = np.zeros((256, 256, 3), np.uint8)
    cv2.ellipse(mask, (128, 80), (70, 55), 0, 0, 360, (255, 255, 255), -1)
    recipe = BASE.model_copy(update={"words": words, "source": Source(picture=A, mask=M)})
    made = make_take(recipe, 5, {A: source, M: mask}).image
    opened = mask[..., 0] > 0
    assert np.array_equal(made[~opened], source[~opened])
    assert np.abs(made.astype(int) - source)[opened].mean() > 1


@pytest.mark.parametrize("words", ["", "a hat"])
def test_a_masked_change_reports_its_end_and_can_be_stopped(words: str, source: np.ndarray) -> None:
    mask = np.zeros((256, 256, 3), np.uint8)
    mask[40:90, 80:180] = 255
    recipe = BASE.model_copy(update={"words": words, "source": Source(picture=A, mask=M)})
    seen: list[int] = []
    make_take(recipe, 5, {A: source, M: mask}, lambda p: seen.append(p.step))
    assert seen[-1] == recipe.steps  # what is filled has no steps on the way
    assert seen == sorted(seen)
    with pytest.raises(Stopped):
        make_take(recipe, 5, {A: source, M: mask}, should_stop=lambda: True)


def test_below_half_strength_what_is_asked_lies_thinly_over_what_was_there(source: np.ndarray) -> None:
    mask = np.zeros((256, 256, 3), np.uint8)
    mask[20:120, 60:200] = 255
    changes = []
    for strength in (0.0, 0.2, 0.5, 1.0):
        recipe = BASE.model_copy(update={"words": "teal hair", "source": Source(picture=A, mask=M, strength=strength)})
        changes.append(float(np.abs(make_take(recipe, 5, {A: source, M: mask}).image.astype(int) - source).mean()))
    assert changes[0] == 0 < changes[1] < changes[2] == changes[3]


def test_another_hair_colour_keeps_light_and_grain(source: np.ndarray) -> None:
    mask = np.zeros((256, 256, 3), np.uint8)
    mask[20:90, 60:200] = 255
    made = make_take(
        BASE.model_copy(update={"words": "teal hair", "source": Source(picture=A, mask=M, feather=0)}), 5, {A: source, M: mask}
    ).image
    tones = [cv2.cvtColor(p, cv2.COLOR_RGB2GRAY)[20:90, 60:200].astype(float).ravel() for p in (source, made)]
    assert np.corrcoef(*tones)[0, 1] > 0.9


def test_an_empty_mask_gives_the_source_back(source: np.ndarray) -> None:
    for words in ("", "a hat"):
        recipe = BASE.model_copy(update={"words": words, "source": Source(picture=A, mask=M)})
        assert np.array_equal(make_take(recipe, 1, {A: source, M: np.zeros_like(source)}).image, source)


# -- fill ------------------------------------------------------------------------------------------------------


def test_what_is_filled_continues_lines_and_texture() -> None:
    truth = stripes()
    hole = np.zeros(truth.shape[:2], bool)
    hole[20:70, 50:85] = True
    broken = truth.copy()
    broken[hole] = 255
    made = fill(broken, hole)
    assert np.array_equal(made[~hole], truth[~hole])
    rows = made[20:70, 50:85].mean((1, 2)) > 120
    assert (rows == (truth[20:70, 50:85].mean((1, 2)) > 120)).mean() > 0.9
    assert made[24:34, 55:80].std() > 0.4 * truth[24:34, 55:80].std()


def test_seeds_fill_differently_and_one_seed_always_alike() -> None:
    noise = np.random.default_rng(2).integers(0, 255, (64, 64, 3), np.uint8)
    hole = np.zeros((64, 64), bool)
    hole[20:40, 20:40] = True
    first, again, other = (fill(noise, hole, seed) for seed in (1, 1, 2))
    assert np.array_equal(first, again)
    assert not np.array_equal(first, other)


@pytest.mark.parametrize("sides", [(32, 0, 0, 0), (0, 24, 0, 0), (0, 0, 100, 0), (0, 0, 0, 16), (10, 12, 14, 16)])
def test_an_extension_keeps_the_picture_and_lets_level_lines_run_on(sides: tuple[int, int, int, int]) -> None:
    picture = stripes()
    left, top, right, bottom = sides
    made = extended(picture, (left, top, right, bottom))
    assert made.shape == (96 + top + bottom, 128 + left + right, 3)
    assert np.array_equal(made[top : top + 96, left : left + 128], picture)
    if left + right and not top + bottom:
        new = np.hstack([made[:, :left], made[:, left + 128 :]])
        assert ((new.mean((1, 2)) > 120) == (picture.mean((1, 2)) > 120)).mean() > 0.85


@pytest.mark.parametrize("below", [False, True])
def test_joined_pictures_keep_both_sides(below: bool) -> None:
    a, b = stripes(), stripes()[:, ::-1] // 2
    made = join(Piece(a), Piece(b), 30, below).picture
    assert made.shape == ((96 * 2 + 30, 128, 3) if below else (96, 128 * 2 + 30, 3))
    assert np.array_equal(made[:96, :128], a)
    assert np.array_equal(made[-96:, -128:], b)


def test_a_hole_that_leaves_nothing_is_refused() -> None:
    with pytest.raises(ValueError, match="too little"):
        fill(stripes(), np.ones((96, 128), bool))


def test_a_fill_can_be_stopped() -> None:
    def stop() -> None:
        raise Stopped

    with pytest.raises(Stopped):
        fill(stripes(), np.pad(np.ones((20, 20), bool), ((30, 46), (50, 58))), check=stop)


# -- enlarging and variation -----------------------------------------------------------------------------------


@pytest.mark.statistics
@pytest.mark.parametrize("factor", [2, 4])
def test_own_takes_gain_true_detail(factor: int) -> None:
    take = make_take(BASE, 4)
    large = redrawn(take.image, take.explained, factor)
    truth = draw(take.description, (256 * factor, 256 * factor)).image
    plain = cv2.resize(take.image, None, fx=factor, fy=factor, interpolation=cv2.INTER_LANCZOS4)
    assert large.shape == truth.shape
    assert np.square(large.astype(float) - truth).mean() < np.square(plain.astype(float) - truth).mean()


@given(st.integers(0, 50))
@settings(max_examples=5, deadline=None)
def test_an_enlarged_picture_reduces_to_the_one_that_was_given(seed: int) -> None:
    rng = np.random.default_rng(seed)
    picture = cv2.GaussianBlur(rng.integers(0, 255, (48, 40, 3), np.uint8), (0, 0), 2)
    back = cv2.resize(enlarged(picture, 2), (40, 48), interpolation=cv2.INTER_AREA)
    assert np.abs(back.astype(int) - picture).max() <= 4


def test_detail_is_the_artists_choice() -> None:
    picture = stripes()
    soft, rich = enlarged(picture, 2, 0.0), enlarged(picture, 2, 1.0)
    assert cv2.Laplacian(rich, cv2.CV_32F).std() > cv2.Laplacian(soft, cv2.CV_32F).std()


def test_enlarging_by_three_is_refused() -> None:
    with pytest.raises(ValueError, match="2 or 4"):
        enlarged(stripes(), 3)
    with pytest.raises(ValueError, match="32 px"):
        enlarged(stripes()[:20, :20], 2)


@pytest.mark.statistics
def test_a_variation_keeps_the_composition_and_differs_more_with_its_amount() -> None:
    loose = BASE.model_copy(update={"words": "a woman, half figure"})
    plain = make_take(loose, 6)
    same = make_take(loose.model_copy(update={"variation": Variation(seed=9, amount=0.0)}), 6)
    assert same.image.tobytes() == plain.image.tobytes()
    changes = []
    for amount in (0.15, 1.0):
        total = 0.0
        for other in range(4):
            made = make_take(loose.model_copy(update={"variation": Variation(seed=other, amount=amount)}), 6)
            assert np.allclose(made.drawing.joints, plain.drawing.joints)
            total += float(np.abs(made.image.astype(int) - plain.image).mean())
        changes.append(total)
    assert changes[0] < changes[1]


@pytest.mark.parametrize("own", [True, False])
def test_a_recipe_enlarges_its_source_and_what_was_drawn_here_goes_on_being_known(own: bool) -> None:
    scenes = LayeredScenes.of([scene_of(Description(layout=Layout("facing", "bust")), (128, 160))])
    small, recipe = scenes.drawn().image, Recipe(width=256, height=320, steps=4, source=Source(picture=A, larger=0.3))
    made = make_take(recipe, 1, {A: small}, explained={A: scenes} if own else None)
    assert made.image.shape == (320, 256, 3)
    assert np.abs(cv2.resize(made.image, (128, 160), interpolation=cv2.INTER_AREA).astype(float) - small).mean() < 4
    assert (made.explained is not None and made.explained.size == (256, 320)) == own
    assert bool(made.says) != own


@pytest.mark.parametrize("size", [(384, 480), (256, 336)])
def test_a_size_that_is_no_multiple_of_the_picture_is_refused(size: tuple[int, int]) -> None:
    recipe = Recipe(width=size[0], height=size[1], source=Source(picture=A, larger=0.0))
    with pytest.raises(ArtistError, match="2 or 4 times"):
        make_take(recipe, 1, {A: np.zeros((160, 128, 3), np.uint8)})


def test_scenes_laid_over_each_other_are_larger_together() -> None:
    first, second = (scene_of(Description(hair=hair, layout=Layout("facing", "bust")), (128, 160)) for hair in ("bun", "bob"))
    right = np.zeros((160, 128), np.float32)
    right[:, 64:] = 1
    large = LayeredScenes.of([first, second], [1 - right, right]).resized(2)
    assert large.size == (256, 320)
    assert np.allclose(sum(large.shares()), 1)
    drawn, alone = large.drawn().image, LayeredScenes.of([second.resized(2)]).drawn().image
    assert np.array_equal(drawn[:, 140:], alone[:, 140:])
