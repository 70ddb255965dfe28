"""Readings of stored pictures: kept, read anew with new weights, joined with points placed by hand."""

import numpy as np
import pytest
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.reading.any_reader import read_any
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.formats.reading_document import pack, unpack
from mosskeeper.studio import pictures, readings
from mosskeeper.studio.models import StoredReading

FIGURE = draw(Description(layout=Layout(framing="full")), (192, 240)).image
POINTS: list[tuple[float, float] | None] = [(0.5, 0.1 + 0.04 * k) for k in range(18)]


@pytest.fixture
def sha256(db: Session) -> str:
    stored = pictures.store(db, FIGURE, "a figure", "upload").sha256
    readings.of_picture(db, stored)
    return stored


@pytest.mark.statistics
def test_looking_reads_nothing_and_points_wait_for_the_reading(db: Session) -> None:
    stored = pictures.store(db, FIGURE, "a figure", "upload").sha256
    assert readings.known(db, stored) is None
    assert readings.known_face_checks(db, [stored]) == {}
    with pytest.raises(ArtistError, match="still being read"):
        readings.place(db, stored, [(0.5, 0.5)] * 18)
    readings.of_picture(db, stored)
    known = readings.known(db, stored)
    assert known is not None and known.main is not None
    assert stored in readings.known_face_checks(db, [stored])


def test_a_reading_survives_being_stored() -> None:
    reading = read_any(FIGURE)
    again = unpack(*pack(reading))
    assert again.attributes == reading.attributes and again.version == reading.version
    assert len(again.figures) == len(reading.figures) > 0
    for a, b in zip(again.figures, reading.figures, strict=True):
        assert np.allclose(a.joints, b.joints) and np.array_equal(a.mask, b.mask) and a.head == b.head
        assert (a.face is None) == (b.face is None)
    assert reading.depth is not None and again.depth is not None
    assert np.abs(again.depth - reading.depth).max() < 0.01


@pytest.mark.statistics
def test_a_picture_is_read_once(db: Session, sha256: str) -> None:
    first = readings.of_picture(db, sha256)
    stored = db.get_one(StoredReading, sha256)
    stored.body = {**stored.body, "attributes": {"outfit": {"tunic": 1.0}}}  # seen again only where the stored one is used
    db.flush()
    assert first.attributes != readings.of_picture(db, sha256).attributes == {"outfit": {"tunic": 1.0}}
    assert db.scalar(select(func.count()).select_from(StoredReading)) == 1


@pytest.mark.statistics
def test_other_weights_read_it_anew_and_keep_the_placed_points(db: Session, sha256: str) -> None:
    first = readings.of_picture(db, sha256)
    readings.place(db, sha256, POINTS)
    stored = db.get_one(StoredReading, sha256)
    stored.version, stored.body = "older weights", {"format": -1}
    db.flush()
    again = readings.of_picture(db, sha256)
    assert again.attributes == first.attributes
    assert np.allclose(again.joints, POINTS)


def test_points_placed_by_hand_take_the_place_of_those_read_and_are_taken_back(db: Session, sha256: str) -> None:
    read = readings.of_picture(db, sha256).joints
    some = [*POINTS[:6], *[None] * 12]
    placed = readings.place(db, sha256, some).joints
    assert placed is not None and np.allclose(placed[:6], POINTS[:6]) and np.isnan(placed[6:]).all()
    assert readings.placed_by_hand(db, sha256)
    taken_back = readings.place(db, sha256, None).joints
    assert not readings.placed_by_hand(db, sha256)
    assert (read is None) == (taken_back is None)


@pytest.mark.statistics
@pytest.mark.parametrize("points, told", [(POINTS[:5], "at least 3"), ([None] * 18, "at least 3"), ([(9.0, 0.5), *POINTS[1:]], "outside")])
def test_points_that_make_no_pose_are_refused_in_words(
    db: Session, sha256: str, points: list[tuple[float, float] | None], told: str
) -> None:
    with pytest.raises(ArtistError, match=told):
        readings.place(db, sha256, points)
    assert not readings.placed_by_hand(db, sha256)


@pytest.mark.statistics
def test_only_pictures_of_cues_that_act_are_read(db: Session, sha256: str) -> None:
    idle = pictures.store(db, FIGURE[::-1].copy(), "other", "upload").sha256
    recipe = Recipe(words="a woman", cues=[Cue(picture=sha256), Cue(picture=idle, on=False)])
    assert set(readings.of_recipe(db, recipe)) == {sha256}


def test_a_picture_that_does_not_exist_is_told(db: Session) -> None:
    with pytest.raises(NotFound):
        readings.of_picture(db, "0" * 64)


@pytest.mark.statistics
def test_an_anchor_has_no_drift_and_neither_has_a_picture_of_nobody(db: Session, sha256: str) -> None:
    assert readings.drift_of(db, sha256, []) == (None, "")
    assert readings.drift_of(db, sha256, [sha256]) == (None, "")
    grey = pictures.store(db, np.full((80, 64, 3), 128, np.uint8), "grey", "upload").sha256
    assert readings.drift_of(db, grey, [sha256]) == (None, "")
    near = pictures.store(db, np.ascontiguousarray(FIGURE[:, 2:]), "near", "take").sha256
    found, _ = readings.drift_of(db, near, [sha256])
    assert found is None or found.distance < 1


def test_a_depth_map_takes_the_place_of_the_one_read(db: Session, sha256: str) -> None:
    read = readings.of_picture(db, sha256).depth
    grey = np.tile(np.linspace(40, 200, 64).astype(np.uint8), (80, 1))
    brought = encode_png(np.repeat(grey[..., None], 3, 2))
    depth = readings.place_depth(db, sha256, brought).depth
    assert depth is not None and depth[0, 0] > 0.97 and depth[0, -1] < 0.03  # spread over the whole range
    painted = readings.place_depth(db, sha256, brought, painted=True).depth
    assert painted is not None and painted[0, 0] == pytest.approx(1 - 40 / 255, abs=0.01)
    back = readings.place_depth(db, sha256, None).depth
    assert read is not None and back is not None and np.array_equal(back, read)


def test_what_is_no_depth_map_is_told_and_changes_nothing(db: Session, sha256: str) -> None:
    with pytest.raises(ArtistError, match="PNG"):
        readings.place_depth(db, sha256, b"no picture")
    assert not readings.depth_by_hand(db, sha256)
