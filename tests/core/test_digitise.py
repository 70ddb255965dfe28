"""Drawings on paper become boards: shadow and paper go, lines and colours stay."""

import cv2
import numpy as np
import pytest
from bench.fidelity.board_set import boards

from mosskeeper.core.boards.digitise import digitised
from mosskeeper.core.boards.read import read_board
from mosskeeper.core.errors import ArtistError

BOARDS = {b.name: b for b in boards()}


def photographed(drawing: np.ndarray, tilted: bool = True) -> np.ndarray:
    """A page with a drawing on a dark desk, aslant, with a shadow across it and grain."""
    h, w = drawing.shape[:2]
    alpha = drawing[..., 3:] / 255
    page = np.pad(drawing[..., :3] * alpha + 246 * (1 - alpha), ((40, 40), (40, 40), (0, 0)), constant_values=246).astype(np.float32)
    h, w = page.shape[:2]
    corners = np.array(
        [(90, 70), (w - 10, 40), (w + 60, h + 30), (50, h + 60)] if tilted else [(60, 60), (w + 60, 60), (w + 60, h + 60), (60, h + 60)],
        np.float32,
    )
    matrix = cv2.getPerspectiveTransform(np.array([(0, 0), (w, 0), (w, h), (0, h)], np.float32), corners)
    size = (w + 140, h + 140)
    on_desk = cv2.warpPerspective(page, matrix, size, borderMode=cv2.BORDER_CONSTANT, borderValue=(58, 48, 42))
    shadow = np.linspace(1.0, 0.62, size[0])[None, :, None] * np.linspace(0.95, 1.0, size[1])[:, None, None]
    grain = np.random.default_rng(2).normal(0, 3, on_desk.shape)
    return np.clip(on_desk * shadow + grain, 0, 255).astype(np.uint8)


@pytest.mark.parametrize("tilted", [True, False])
def test_a_stick_figure_on_paper_is_a_pose(tilted: bool) -> None:
    made = digitised(photographed(BOARDS["stick dancer"].picture, tilted))
    assert made.found
    assert made.lined
    assert 0.005 < (made.rgba_u8[..., 3] > 0).mean() < 0.08
    (figure,) = read_board(made.rgba_u8).figures
    assert figure.joints is not None


def test_colours_come_as_they_were_on_white_paper() -> None:
    paper = np.zeros((640, 512, 4), np.uint8)
    cv2.circle(paper, (256, 300), 90, (200, 60, 50, 255), -1)
    made = digitised(photographed(paper))
    assert not made.lined
    inside = made.rgba_u8[..., 3] > 0
    middle = np.median(made.rgba_u8[..., :3][inside], axis=0)
    assert np.abs(middle - (207, 62, 52)).max() < 24
    ys, xs = np.nonzero(inside)
    assert 0.8 < np.ptp(xs) / np.ptp(ys) < 1.25  # laid flat, a disc is round


def test_an_empty_page_and_a_picture_without_paper_are_told() -> None:
    with pytest.raises(ArtistError, match="Nothing drawn"):
        digitised(np.full((300, 240, 3), 240, np.uint8))
    rng = np.random.default_rng(3)
    with pytest.raises(ArtistError, match="paper"):
        digitised(cv2.resize(rng.integers(0, 255, (30, 24, 3), np.uint8), (240, 300), interpolation=cv2.INTER_NEAREST))
