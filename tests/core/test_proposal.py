"""For which role a picture seems to be meant."""

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.reading.any_reader import read_any
from mosskeeper.core.reading.contours import edges
from mosskeeper.core.reading.palette import read_palette
from mosskeeper.core.reading.proposal import propose
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.role_names import NAMES

Picture = NDArray[np.uint8]
SIZE = (320, 400)
LIMBS = ((1, 2), (2, 3), (3, 4), (1, 5), (5, 6), (6, 7), (1, 8), (8, 9), (9, 10), (1, 11), (11, 12), (12, 13), (0, 1))


def seems(picture: Picture) -> str:
    return propose(picture, read_any(picture)).role


def sticks(joints: NDArray[np.float64], ink: int, ground: int) -> Picture:
    paper = np.full((SIZE[1], SIZE[0], 3), ground, np.uint8)
    for a, b in LIMBS:
        cv2.line(paper, *(tuple(int(v) for v in joints[n]) for n in (a, b)), (ink, ink, ink), 4, cv2.LINE_AA)
    return paper


@pytest.mark.statistics
@pytest.mark.parametrize("finish", ["gouache", "linocut", "pencil study", "chalk"])
def test_a_head_alone_is_a_face_and_a_figure_a_look_in_every_finish(finish: str) -> None:
    heads, figures = (
        draw(Description(place="night train", finish=(finish,), layout=Layout("standing", framing)), SIZE).image
        for framing in ("close", "full")
    )
    assert (seems(heads), seems(figures)) == ("face", "look")


@pytest.mark.statistics
@pytest.mark.parametrize("pose", ["standing", "dancing"])
def test_sticks_are_a_pose_and_outlines_are_edges_dark_on_light_and_light_on_dark(pose: str) -> None:
    drawing = draw(Description(place="bell tower", layout=Layout(pose, "full")), SIZE)
    outlines = np.repeat(np.where(edges(drawing.image) > 0.5, 0, 255).astype(np.uint8)[..., None], 3, 2)
    assert seems(sticks(drawing.joints, 0, 255)) == seems(sticks(drawing.joints, 240, 20)) == "pose"
    assert seems(outlines) == seems(255 - outlines) == "edges"


def test_flat_shapes_are_a_sketch_and_greys_a_depth_map() -> None:
    board = np.full((400, 320, 3), (240, 200, 150), np.uint8)
    board[250:] = (60, 80, 90)
    cv2.rectangle(board, (190, 160), (280, 399), (150, 40, 40), -1)
    cv2.ellipse(board, (235, 110), (38, 48), 0, 0, 360, (225, 170, 140), -1)
    assert seems(board) == "sketch"
    depth = draw(Description(place="night train", layout=Layout("standing", "full")), SIZE).depth.astype(np.float32)
    assert seems(np.repeat((255 * (1 - depth / depth.max())).astype(np.uint8)[..., None], 3, 2)) == "depth"


def test_a_place_with_nobody_in_it_is_a_place() -> None:
    drawing = draw(Description(place="canal market", layout=Layout("standing", "full")), (640, 400))
    empty = drawing.image[:, : int(np.nonzero((drawing.figures > 0).any(0))[0][0]) - 4]
    assert seems(np.ascontiguousarray(empty)) == "place"


@pytest.mark.parametrize("tone", [0, 128, 255])
def test_a_picture_of_nothing_has_a_role_too(tone: int) -> None:
    plain = np.full((40, 32, 3), tone, np.uint8)
    assert propose(plain, Reading(read_palette(plain))).role in NAMES


@pytest.mark.parametrize("shape", [(320, 256), (20, 20)])
@pytest.mark.parametrize("long", [None, 1])
def test_a_single_stroke_or_dot_is_nobody(shape: tuple[int, int], long: int | None) -> None:
    plain = np.full((*shape, 3), (40, 120, 200), np.uint8)
    plain[shape[0] // 4, :long] = 0
    assert seems(plain) not in ("pose", "edges")
