"""Heads read closely: aligned by their landmarks, and what follows from the shipped arrays."""

import cv2
import numpy as np
import pytest

from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.face import LANDMARKS
from mosskeeper.core.reading.aligned import SIDE, aligned_row, colour_row
from mosskeeper.core.reading.close_pass import look_closely
from mosskeeper.core.reading.weights import shipped

DRAWN = draw(Description(layout=Layout("facing", "close")), (400, 500))
MARKS = np.stack([DRAWN.landmarks[name] for name in LANDMARKS])
HEIGHT = 2 * DRAWN.head[2]
SHAPE = ((MARKS - MARKS.mean(0)) / HEIGHT).astype(np.float32)


def test_an_aligned_head_is_the_same_however_the_picture_is_turned_and_scaled() -> None:
    plain = aligned_row(DRAWN.image, MARKS, SHAPE)
    turn = cv2.getRotationMatrix2D((200, 250), 25, 0.8)
    turned = cv2.warpAffine(DRAWN.image, turn, (400, 500), flags=cv2.INTER_AREA)
    other = aligned_row(turned, MARKS @ turn[:, :2].T + turn[:, 2], SHAPE)
    strange = aligned_row(turned, MARKS, SHAPE)
    colours = slice(-3 * (SIDE // 8) ** 2, None)
    assert np.abs(plain[colours] - other[colours]).mean() < 0.03
    assert np.abs(plain - other).mean() < np.abs(plain - strange).mean() * 0.5


@pytest.mark.statistics
def test_a_head_is_read_the_same_where_the_picture_is_mirrored_and_its_sides_are_exchanged() -> None:
    x, y, _ = DRAWN.head
    plain = look_closely(DRAWN.image, (x, y), HEIGHT, shipped())
    mirrored = look_closely(np.ascontiguousarray(DRAWN.image[:, ::-1]), (400 - x, y), HEIGHT, shipped())
    right, left = LANDMARKS.index("right pupil"), LANDMARKS.index("left pupil")
    apart = float(np.hypot(*(MARKS[right] - MARKS[left])))
    assert abs(400 - mirrored.landmarks[left, 0] - plain.landmarks[right, 0]) < 0.1 * apart
    assert float(plain.identity @ mirrored.identity) > 0.6
    assert plain.held[0] == pytest.approx(-mirrored.held[0], abs=0.2)


@pytest.mark.statistics
def test_landmarks_lie_where_they_were_drawn() -> None:
    x, y, _ = DRAWN.head
    close = look_closely(DRAWN.image, (x + 0.03 * HEIGHT, y), HEIGHT * 1.05, shipped())
    eyes = np.hypot(*(MARKS[LANDMARKS.index("right pupil")] - MARKS[LANDMARKS.index("left pupil")]))
    assert np.median(np.hypot(*(close.landmarks - MARKS).T)) < 0.08 * eyes


def test_colours_are_measured_where_the_landmarks_are() -> None:
    """Another colour of the eyes changes what the rings about the pupils tell, and little else."""
    blue, green = (draw(Description(layout=Layout("facing", "close"), eyes=eyes), (400, 500)).image for eyes in ("#3060c0", "#40a040"))
    one, other = (colour_row(image, MARKS, SHAPE) for image in (blue, green))
    rings = 2 * 3 * 33
    assert np.abs(one[:rings] - other[:rings]).max() > 0.2
    assert np.abs(one[rings:] - other[rings:]).mean() < 0.02
