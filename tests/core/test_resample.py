import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosskeeper.core.pictures.resample import cubic, fitted, gentle, linear, nearest, scaled, sharp, smooth

WAYS = (cubic, fitted, gentle, linear, nearest, sharp, smooth)
sides = st.integers(1, 24)


@given(st.sampled_from(WAYS), sides, sides, sides, sides, st.sampled_from((np.uint8, np.float32)))
def test_a_picture_gets_the_size_that_is_asked_and_keeps_its_kind(way, w, h, to_w, to_h, kind) -> None:  # type: ignore[no-untyped-def]
    picture = np.random.default_rng(3).integers(0, 255, (h, w, 3)).astype(kind)
    made = way(picture, (to_w, to_h))
    assert made.shape == (to_h, to_w, 3)
    assert made.dtype == kind


@pytest.mark.parametrize("way", WAYS)
def test_what_has_the_size_already_is_not_touched(way) -> None:  # type: ignore[no-untyped-def]
    picture = np.random.default_rng(3).integers(0, 255, (7, 5, 3), np.uint8)
    assert way(picture, (5, 7)) is picture


@given(sides, sides)
def test_a_plain_colour_stays_plain(w: int, h: int) -> None:
    plain = np.full((9, 11, 3), 137, np.uint8)
    for way in WAYS:
        assert (way(plain, (w, h)) == 137).all()


def test_shrinking_takes_the_mean_and_labels_are_never_mixed() -> None:
    board = np.kron(np.array([[0, 200], [200, 0]], np.uint8), np.ones((2, 2), np.uint8))
    assert fitted(board, (1, 1)).item() == 100
    assert set(np.unique(nearest(board, (3, 3)))) <= {0, 200}


@pytest.mark.parametrize(("k", "size"), [(0.5, (10, 20)), (0.001, (1, 1)), (2.0, (40, 80))])
def test_a_scaled_size_has_at_least_one_pixel(k: float, size: tuple[int, int]) -> None:
    assert scaled((40, 20, 3), k) == size
