"""Heads from all sides: views, gazes, landmarks, expressions that blend."""

import itertools
from dataclasses import astuple

import numpy as np
import pytest

from mosskeeper.core.illustrator.description import Description, Face, Layout, Part
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.face import LANDMARKS
from mosskeeper.core.illustrator.hair import STYLES
from mosskeeper.core.illustrator.hair_more import MORE_SIDES
from mosskeeper.core.illustrator.natural.styles import STYLES as NATURAL_STYLES
from mosskeeper.core.illustrator.profile_hair import SIDES
from mosskeeper.core.illustrator.skeleton import AT, GAZES, VIEWS
from mosskeeper.core.illustrator.vocabulary.people import EXPRESSIONS, SUBJECTS, expression_of

SIZE = (192, 240)


def head(view: str = "front", gaze: str = "level", facing: int = 1, **more: object) -> Drawing:
    layout = Layout("facing", "bust", facing=facing, view=view, gaze=gaze)
    return draw(Description(layout=layout, **more), SIZE)  # type: ignore[arg-type]


def test_every_style_has_a_side() -> None:
    assert {*SIDES, *MORE_SIDES} == set(STYLES) == set(NATURAL_STYLES)


@pytest.mark.parametrize(("hair", "facing"), list(itertools.product(STYLES, (1, -1))))
def test_every_style_is_seen_in_profile_from_both_sides(hair: str, facing: int) -> None:
    drawing = head("profile", hair=hair, facing=facing)
    hair_share = (drawing.labels == Part.HAIR).mean()
    assert 0.02 < hair_share < 0.4 or (hair == "bald" and not hair_share)
    nose, (x, _, radius) = drawing.landmarks["nose tip"], drawing.head
    assert (nose[0] - x) * facing > 0.7 * radius
    columns = np.argwhere(drawing.labels == Part.FACE)[:, 1]
    assert (columns.mean() - x) * facing > 0 or hair == "bald"  # whose skull is face, too


@pytest.mark.parametrize("subject", SUBJECTS)
@pytest.mark.parametrize("view", [v for v in VIEWS if v != "free"])
def test_landmarks_lie_on_the_parts_they_name(subject: str, view: str) -> None:
    drawing = head(view, subject=subject, hair="shaved")
    on = {
        "pupil": (Part.EYES,),
        "nose tip": (Part.FACE,),
        "chin": (Part.FACE, Part.NECK),
        "cheek": (Part.FACE,),
        "brow middle": (Part.BROW, Part.FACE),
    }
    for name, (x, y) in drawing.landmarks.items():
        for mark, parts in on.items():
            if name.endswith(mark):
                near = drawing.labels[int(y) - 3 : int(y) + 4, int(x) - 3 : int(x) + 4]
                assert np.isin(near, parts).any(), name


def test_a_front_view_has_all_landmarks_and_a_profile_those_of_its_side() -> None:
    assert len(LANDMARKS) >= 24
    assert set(head("front").landmarks) == set(LANDMARKS)
    right, left = head("profile").landmarks, head("profile", facing=-1).landmarks
    assert set(right) < set(LANDMARKS)
    assert "right pupil" in right
    assert "left pupil" not in right
    assert "left pupil" in left
    assert "right pupil" not in left


def test_the_far_eye_and_ear_of_a_profile_are_not_visible() -> None:
    visible = head("profile", hair="shaved").shown[0].visible
    assert visible[AT["right eye"]]
    assert not visible[AT["left eye"]]
    assert not visible[AT["left ear"]]


@pytest.mark.parametrize("view", ["front", "three-quarter", "profile"])
def test_a_raised_gaze_raises_the_eyes_and_a_lowered_one_lowers_them(view: str) -> None:
    heights = [head(view, gaze).landmarks["right pupil"][1] for gaze in ("up", "level", "down")]
    assert heights == sorted(heights)
    assert heights[2] - heights[0] > 4
    assert set(GAZES) == {"up", "level", "down"}


def test_views_turn_the_nose_away_from_the_middle() -> None:
    offsets = [abs(d.landmarks["nose tip"][0] - d.head[0]) for d in (head("front"), head("three-quarter"), head("profile"))]
    assert offsets == sorted(offsets)


@pytest.mark.parametrize(
    ("parameter", "a", "b"),
    [("nose_length", "nose tip", "right eye inner"), ("length", "chin", "nose tip"), ("eye_size", "right upper lid", "right lower lid")],
)
def test_a_face_parameter_moves_its_landmarks_in_profile_too(parameter: str, a: str, b: str) -> None:
    def distance(value: float) -> float:
        marks = head("profile", face=Face(**{parameter: value})).landmarks
        return float(np.linalg.norm(marks[a] - marks[b]))

    distances = [distance(v) for v in (0.85, 0.95, 1.05, 1.15)]
    assert distances == sorted(distances)
    assert distances[-1] > distances[0] * 1.03


@pytest.mark.parametrize(
    ("parameter", "values", "a", "b"),
    [
        ("brow_height", (-0.03, -0.01, 0.01, 0.03), "left brow middle", "left pupil"),
        ("width", (0.9, 0.97, 1.03, 1.1), "left jaw", "right jaw"),
        ("jaw", (-0.03, -0.01, 0.01, 0.03), "left jaw", "right jaw"),
        ("nose_width", (0.8, 0.95, 1.05, 1.2), "left nostril", "right nostril"),
        ("eye_tilt", (-0.02, -0.007, 0.007, 0.02), "left eye outer", "left cheek"),
        ("cheek", (-0.02, -0.007, 0.007, 0.02), "left cheek", "left cheek"),
    ],
)
def test_more_face_parameters_move_their_landmarks(parameter: str, values: tuple[float, ...], a: str, b: str) -> None:
    marks = [head(face=Face(**{parameter: value})).landmarks for value in values]
    if a == b:  # the cheek is no landmark distance: it is seen in the contour
        widths = [(head(face=Face(**{parameter: v}), hair="shaved").labels == Part.FACE).sum() for v in values]
        assert widths == sorted(widths)
        return
    distances = [float(np.linalg.norm(m[a] - m[b])) for m in marks]
    assert distances == sorted(distances)
    assert distances[-1] > distances[0]


def test_a_blend_of_expressions_lies_between_them() -> None:
    sad, joyful, both = (np.array(astuple(expression_of(name))) for name in ("sad", "joyful", "sad+joyful"))
    assert np.allclose(both, (sad + joyful) / 2)
    assert np.allclose(astuple(expression_of("calm")), astuple(EXPRESSIONS["calm"]))
    with pytest.raises(KeyError):
        expression_of("calm+hungry")


@pytest.mark.parametrize("outfit", ["rain cape"])
@pytest.mark.parametrize("facing", [1, -1])
def test_a_hood_in_profile_leaves_the_face_free(outfit: str, facing: int) -> None:
    drawing = head("profile", outfit=outfit, facing=facing)
    assert (drawing.labels == Part.FACE).mean() > 0.02
    x, y = drawing.landmarks["nose tip"].astype(int)
    assert Part.FACE in drawing.labels[y - 2 : y + 3, x - 4 : x + 5]
