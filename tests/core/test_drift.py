"""Drift between two readings, by hand: what it compares, in which units, and what it cannot tell."""

from dataclasses import replace

import numpy as np
import pytest

from mosskeeper.core.continuity.drift import Drift, between, drift, raw_parts
from mosskeeper.core.illustrator.description import Face
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.photo_reader import LIMIT
from mosskeeper.core.reading.reading import SURE, FigureRead
from mosskeeper.core.reading.weights import card

UP, SIDE = (np.eye(64, dtype=np.float32)[k] for k in (0, 1))
NOWHERE = np.full((18, 2), np.nan)


def figure(**known: object) -> FigureRead:
    plain = FigureRead(
        sure=1.0, box=(0, 0, 1, 1), head=(0.5, 0.3, 0.2), joints=NOWHERE, joint_confidence=np.zeros(18, np.float32),
        mask=np.ones((4, 4), bool), identity=UP, face_sure=1.0,
    )  # fmt: skip
    return replace(plain, **known)  # type: ignore[arg-type]


def test_the_same_figure_is_not_apart_from_itself() -> None:
    one = figure(colours={"skin": (0.8, 0.6, 0.5)}, face=Face(), attributes={"freckles": {"yes": 1.0}, "hair": {"bob": 1.0}})
    told = between(one, one)
    assert told.distance == pytest.approx(0, abs=1e-6)
    assert set(told.parts) == {"look", "skin", "face shape", "marks"}
    assert max(told.parts.values()) == pytest.approx(0, abs=1e-6)
    assert not told.other_person


def test_the_look_is_the_cosine_and_colours_are_compared_in_lab() -> None:
    red, blue = (0.8, 0.2, 0.1), (0.1, 0.2, 0.8)
    parts = raw_parts(figure(colours={"skin": red}), figure(identity=SIDE, colours={"skin": blue, "eyes": red}))
    lab = rgb_to_lab(np.asarray([red, blue], np.float32))
    assert parts == {"look": pytest.approx(1.0), "skin": pytest.approx(float(np.linalg.norm(lab[0] - lab[1])))}


def test_another_hair_style_adds_to_another_hair_colour() -> None:
    red, brown = (0.6, 0.25, 0.1), (0.3, 0.2, 0.1)
    colour = raw_parts(figure(colours={"hair colour": red}), figure(colours={"hair colour": brown}))["hair"]
    bun = figure(colours={"hair colour": brown}, attributes={"hair": {"bun": 1.0}})
    both = raw_parts(figure(colours={"hair colour": red}, attributes={"hair": {"bob": 1.0}}), bun)["hair"]
    assert both == pytest.approx(float(np.hypot(colour, 25.0)))
    half = raw_parts(figure(colours={"hair colour": red}, attributes={"hair": {"bob": 0.5, "bun": 0.5}}), bun)["hair"]
    assert half == pytest.approx(float(np.hypot(colour, 12.5)))


def test_a_face_is_compared_only_where_both_have_one() -> None:
    own = Face()
    other = Face.from_array(own.as_array() + np.asarray(card().scales["face_spread"]))
    assert raw_parts(figure(face=own), figure(face=other))["face shape"] == pytest.approx(1.0)
    for a, b in ((own, None), (None, own), (None, None)):
        assert "face shape" not in raw_parts(figure(face=a), figure(face=b))


def test_marks_count_where_both_readings_speak_of_them() -> None:
    marked = figure(attributes={"freckles": {"yes": 1.0}, "glasses": {"no": 1.0}, "mark": {}})
    assert raw_parts(marked, figure(attributes={"freckles": {"no": 1.0}, "glasses": {"no": 1.0}, "mark": {"scar": 1.0}}))[
        "marks"
    ] == pytest.approx(1)
    assert "marks" not in raw_parts(marked, figure())


def test_the_distance_is_in_units_of_the_limit_and_parts_in_what_is_usual() -> None:
    told, raw = card().identity, raw_parts(figure(), figure(identity=SIDE))
    found = between(figure(), figure(identity=SIDE))
    assert found.distance == pytest.approx(told["weights"]["look"] * raw["look"] / told["limit"])
    assert found.parts == {"look": pytest.approx(raw["look"] / told["usual"]["look"])}


def test_faces_of_photographs_are_told_by_their_own_reader_s_limit() -> None:
    one, other = np.zeros(128, np.float32), np.zeros(128, np.float32)
    other[0] = LIMIT
    found = between(figure(identity=one), figure(identity=other))
    assert (found.distance, found.parts) == (pytest.approx(1.0), {})
    with pytest.raises(ValueError, match="different readers"):
        between(figure(), figure(identity=one))


def test_exactly_the_limit_is_still_the_same_person_and_parts_are_told_from_above_it() -> None:
    assert not Drift(1.0, {}).other_person
    assert Drift(1.001, {}).other_person
    told = Drift(0.4, {"look": 9.0, "hair": 1.2, "skin": 1.0, "eyes": 2.5, "marks": 0.3})
    assert told.changed == ("eyes", "hair")  # the farthest first; the look is no part that can be named


def test_what_cannot_be_compared_is_left_out() -> None:
    near, far = figure(identity=UP), figure(identity=SIDE)
    photograph, unsure = figure(identity=np.zeros(128, np.float32)), figure(face_sure=SURE * 0.5 - 0.01)
    found = drift(near, [None, photograph, unsure, near])
    assert drift(near, [far, near]).distance > 0  # type: ignore[union-attr]
    assert found is not None
    assert found.distance == pytest.approx(0, abs=1e-6)
    assert drift(near, [None, photograph, unsure]) is None
    assert drift(None, [near]) is None
    assert drift(unsure, [near]) is None
    assert drift(figure(face_sure=SURE * 0.5), [near]) is not None
    assert drift(figure(identity=None), [near]) is None
