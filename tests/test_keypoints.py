"""COCO key points in and out."""

import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosskeeper.core.errors import BadPicture
from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.skeleton import JOINTS
from mosskeeper.formats.keypoints import NAMES, read_keypoints, write_keypoints

NECK = JOINTS.index("neck")


@given(st.lists(st.none() | st.tuples(st.integers(0, 2000), st.integers(0, 2000)), min_size=18, max_size=18), st.integers(1, 3))
def test_what_is_written_is_read_again(points: list[tuple[int, int] | None], figures: int) -> None:
    joints = np.array([(np.nan, np.nan) if p is None else p for p in points], float)
    read = read_keypoints(write_keypoints([joints] * figures, (2048, 2048)))
    assert len(read) == figures
    others = [i for i in range(18) if i != NECK]
    assert np.array_equal(read[0][others], joints[others], equal_nan=True)


def test_the_neck_is_the_middle_of_the_shoulders() -> None:
    joints = draw(Description(layout=Layout("standing", "full")), (192, 240)).joints
    (read,) = read_keypoints(write_keypoints([joints], (192, 240)))
    shoulders = joints[[JOINTS.index("left shoulder"), JOINTS.index("right shoulder")]]
    assert np.allclose(read[NECK], shoulders.mean(0), atol=0.02)


def test_a_bare_annotation_and_a_list_are_read_too() -> None:
    points = [v for n in range(17) for v in (10 * n, 5 * n, 2)]
    one, many = (read_keypoints(json.dumps(d).encode()) for d in ({"keypoints": points}, [{"keypoints": points}, {"id": 3}]))
    assert np.array_equal(one[0], many[0])
    assert one[0][JOINTS.index(NAMES[3])].tolist() == [30, 15]


def test_points_that_are_not_there_are_unknown() -> None:
    points = [5.0, 6.0, 0] * 17
    (read,) = read_keypoints(json.dumps({"keypoints": points}).encode())
    assert np.isnan(read).all()


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"{", "JSON"),
        (b"[" * 100_000, "JSON"),
        (b"7", "list of annotations"),
        (b"{}", "no “keypoints”"),
        (b'{"annotations": 3}', "list of annotations"),
        (b'{"keypoints": [1, 2]}', "17 key points"),
        (b'{"keypoints": ["a", {}]}', "numbers"),
    ],
)
def test_a_bad_file_is_explained(data: bytes, says: str) -> None:
    with pytest.raises(BadPicture, match=says):
        read_keypoints(data)
