"""Drift and match: same and other subjects, and how well pictures obey cues."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosskeeper.core.continuity.drift import Drift, between, drift, pooled
from mosskeeper.core.continuity.measures import agreement, rank_correlation, ssim
from mosskeeper.core.illustrator.description import Description, Face, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.skeleton import JOINTS
from mosskeeper.core.pictures.areas import area_mask
from mosskeeper.core.reading.palette import read_palette
from mosskeeper.core.reading.reader import read
from mosskeeper.core.reading.reading import FigureRead, Reading, measured
from mosskeeper.core.recipe import Cue
from mosskeeper.core.role_names import NAMES
from mosskeeper.core.roles.match import match, match_inside
from mosskeeper.core.roles.role import CueComparison
from mosskeeper.core.roles.winners import winner, winners

SIZE = (320, 400)
ONE = Description(
    hair="braid", hair_colour="copper", skin="peach", eyes="green", freckles=True, layout=Layout(framing="bust", view="front")
)
OTHER = Description(
    subject="old man",
    hair="receding",
    hair_colour="white",
    skin="ebony",
    eyes="umber",
    glasses=True,
    face=Face(width=1.12, eye_spacing=0.9),
    layout=Layout(framing="bust", view="front"),
)


def figure(**changes: object) -> FigureRead:
    """A figure as a reader might tell of it."""
    identity = np.eye(64, dtype=np.float32)[0]
    made = FigureRead(
        0.9,
        (0, 0, 1, 1),
        (0.5, 0.3, 0.3),
        np.full((18, 2), 0.5),
        np.ones(18, np.float32),
        np.ones((4, 4), bool),
        {"hair": {"bob": 1.0}, "freckles": {"no": 1.0}},
        {"skin": (0.8, 0.6, 0.5), "hair colour": (0.4, 0.2, 0.1), "eyes": (0.3, 0.5, 0.3)},
        face=Face(),
        identity=identity,
        face_sure=0.9,
    )
    return replace(made, **changes)


def test_a_figure_does_not_drift_from_itself() -> None:
    found = between(figure(), figure())
    assert found.distance == 0
    assert not found.other_person and found.changed == ()


def test_hair_of_another_colour_is_told_as_hair() -> None:
    dyed = figure(colours={**figure().colours, "hair colour": (0.2, 0.8, 0.9)})
    found = between(figure(), dyed)
    assert found.parts["hair"] > found.parts["skin"] == 0
    assert "hair" in found.changed and "skin" not in found.changed


def test_several_anchors_count_as_one_person() -> None:
    """What each anchor's reading has wrong is wrong in another way: together they are nearer than either."""
    right, left = (np.eye(64, dtype=np.float32)[0] + side * 0.4 * np.eye(64, dtype=np.float32)[1] for side in (1, -1))
    anchors = [figure(identity=one / np.float32(np.linalg.norm(one))) for one in (right, left)]
    subject = figure(identity=np.eye(64, dtype=np.float32)[0])
    together = drift(subject, anchors)
    assert together is not None and together.distance < 0.01
    assert all(drift(subject, [one]).distance > 0.02 for one in anchors)  # type: ignore[union-attr]
    stranger = figure(identity=np.eye(64, dtype=np.float32)[2])
    assert drift(stranger, anchors).distance > drift(subject, [anchors[0]]).distance  # type: ignore[union-attr]


def test_colours_and_attributes_of_several_readings_are_their_means() -> None:
    bright, dark = (
        figure(colours={**figure().colours, "skin": (v, v, v)}, attributes={"glasses": told})
        for v, told in ((0.8, {"yes": 1.0}), (0.2, {"no": 1.0}))
    )
    one = pooled([bright, dark])
    assert 0.2 < one.colours["skin"][0] < 0.8
    assert one.attributes["glasses"] == {"no": 0.5, "yes": 0.5}
    assert pooled([bright]) is bright


@pytest.mark.parametrize(
    "subject, anchors",
    [(None, [figure()]), (figure(), []), (figure(), [None]), (figure(face_sure=0.1), [figure()]), (figure(identity=None), [figure()])],
)
def test_drift_is_unknown_where_no_face_was_read(subject: FigureRead | None, anchors: list[FigureRead | None]) -> None:
    assert drift(subject, anchors) is None


def test_faces_of_different_readers_are_not_compared() -> None:
    photo = figure(identity=np.ones(128, np.float32) / 128**0.5)
    assert drift(figure(), [photo]) is None
    assert isinstance(drift(photo, [photo]), Drift)
    with pytest.raises(ValueError, match="different readers"):
        between(figure(), photo)


def test_a_drawn_person_is_nearer_to_herself_in_other_clothes_than_to_an_old_man() -> None:
    anchor = read(draw(ONE, SIZE).image).main
    again = read(draw(replace(ONE, outfit="night cloak", place="lamp quay", expression="sad", time="dusk"), SIZE).image).main
    stranger = read(draw(OTHER, SIZE).image).main
    same, other = drift(again, [anchor]), drift(stranger, [anchor])
    assert same is not None and other is not None
    assert same.distance < other.distance
    assert other.other_person


# -- match -----------------------------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def pictures() -> dict[str, tuple[np.ndarray, Reading]]:
    made = {name: draw(d, SIZE).image for name, d in (("one", ONE), ("other", OTHER))}
    return {name: (image, read(image)) for name, image in made.items()}


@pytest.mark.parametrize("role", NAMES)
def test_a_picture_matches_itself_best(role: str, pictures: dict[str, tuple[np.ndarray, Reading]]) -> None:
    itself = match(role, CueComparison(*pictures["one"], *pictures["one"]))
    other = match(role, CueComparison(*pictures["other"], *pictures["one"]))
    assert itself.meaning and itself.score is not None
    assert itself.score > 90
    assert other.score is None or other.score < itself.score


def test_what_cannot_be_measured_is_unknown() -> None:
    flat = np.full((40, 30, 3), 120, np.uint8)
    told = {
        role: match(role, CueComparison(flat, measured(flat), flat, measured(flat))).score
        for role in ("face", "pose", "outfit", "depth", "place")
    }
    assert set(told.values()) == {None}


def test_a_role_that_does_not_exist_is_an_error(pictures: dict[str, tuple[np.ndarray, Reading]]) -> None:
    with pytest.raises(KeyError):
        match("mood", CueComparison(*pictures["one"], *pictures["one"]))


def test_a_pose_matches_wherever_and_however_large_it_stands() -> None:
    rng = np.random.default_rng(2)
    joints = rng.uniform(0.2, 0.8, (len(JOINTS), 2))
    flat = np.full((400, 400, 3), 90, np.uint8)
    reading = replace(measured(flat), joints=joints * 0.5 + 0.1)
    assert match("pose", CueComparison(flat, measured(flat), flat, reading, skeleton=joints)).score == pytest.approx(100)
    mirrored = replace(reading, joints=reading.joints * (-1, 1) + (1, 0))
    assert match("pose", CueComparison(flat, measured(flat), flat, mirrored, skeleton=joints)).score < 60  # type: ignore[operator]


def test_a_sketch_is_compared_only_where_something_was_painted() -> None:
    board = np.zeros((60, 60, 4), np.uint8)
    board[20:40, 20:40] = (200, 40, 40, 255)
    picture = np.full((60, 60, 3), (30, 90, 160), np.uint8)
    picture[14:46, 14:46] = (200, 40, 40)
    score = match("sketch", CueComparison(board, measured(board[:, :, :3]), picture, measured(picture))).score
    assert score is not None and score > 85
    assert match("sketch", CueComparison(np.zeros((60, 60, 4), np.uint8), measured(picture), picture, measured(picture))).score is None


@pytest.mark.statistics
@given(
    st.dictionaries(st.sampled_from("abcde"), st.floats(0.01, 1), min_size=1),
    st.dictionaries(st.sampled_from("abcde"), st.floats(0.01, 1), min_size=1),
)
def test_agreement_is_symmetric_and_full_only_for_equal_beliefs(a: dict[str, float], b: dict[str, float]) -> None:
    assert agreement(a, b) == pytest.approx(agreement(b, a))
    assert -1e-9 <= agreement(a, b) <= 1 + 1e-9
    assert agreement(a, a) == pytest.approx(1)


def test_rank_correlation_and_ssim_of_known_maps() -> None:
    x = np.random.default_rng(0).uniform(0, 1, (40, 50)).astype(np.float32)
    assert rank_correlation(x, np.exp(3 * x)) == pytest.approx(1)
    assert rank_correlation(x, -x) == pytest.approx(-1)
    assert rank_correlation(x, np.zeros_like(x)) == 0
    assert ssim(x, x) == pytest.approx(1)
    assert ssim(x, 1 - x) < 0.2


def test_which_reference_won_is_told_only_where_it_is_clear() -> None:
    flat = measured(np.full((8, 8, 3), 90, np.uint8))
    got, a, b = (replace(flat, attributes={"outfit": v}) for v in ({"tunic": 0.9, "ball gown": 0.1}, {"tunic": 1.0}, {"ball gown": 1.0}))
    assert winner("outfit", got, {0: a, 1: b}) == 0
    assert winner("outfit", got, {0: a, 1: a}) is None
    assert winner("hair", got, {0: a}) is None


def test_a_picture_took_from_each_reference_only_what_that_role_lends() -> None:
    flat = measured(np.full((8, 8, 3), 90, np.uint8))
    navy, red = (0.1, 0.15, 0.4), (0.8, 0.1, 0.1)
    first = replace(flat, attributes={"outfit": {"tunic": 1.0}, "place": {"bell tower": 1.0}}, colours={"colour": red})
    second = replace(flat, attributes={"outfit": {"ball gown": 1.0}, "place": {"library stair": 1.0}}, colours={"colour": navy})
    took = replace(flat, attributes={"outfit": {"ball gown": 0.9}, "place": {"bell tower": 0.9}}, colours={"colour": navy})
    sources = {"a" * 64: first, "b" * 64: second}
    looks = [Cue(picture="a" * 64, role="look"), Cue(picture="b" * 64, role="look")]
    assert winners(looks, took, sources) == {"outfit": 1, "colour of the clothes": 1}
    places = [look.model_copy(update={"role": "place"}) for look in looks]
    assert winners(places, took, sources) == {"place": 0}
    assert winners([looks[0], places[1]], took, sources) == {}
    bare = [looks[0], looks[1].model_copy(update={"parts": ["hair"]})]  # clothes that are switched off win nothing
    assert winners(bare, took, sources) == {}
    assert winners([looks[0], looks[1].model_copy(update={"on": False})], took, sources) == {}


@pytest.mark.parametrize("role", ["tone", "edges", "depth", "palette"])
def test_a_cue_is_matched_in_its_part_of_the_picture(role: str) -> None:
    drawn = draw(Description(layout=Layout(framing="half"), place="bell tower"), (256, 320))
    half, depth = drawn.image.copy(), drawn.depth.astype(np.float32).copy()
    half[:, 128:] = half[::-1, 128:][:, ::-1] // 3 + np.uint8(150)
    depth[:, 128:] = 1 - depth[:, 128:]
    source, own = Reading(read_palette(drawn.image), depth=drawn.depth.astype(np.float32)), Reading(read_palette(half), depth=depth)
    left, right = (match_inside(area_mask(name), role, CueComparison(drawn.image, source, half, own)) for name in ("left", "right"))
    assert left.score is not None
    assert right.score is not None
    assert left.score > right.score + 15
    assert left.meaning.endswith("in the part where the cue acts")


def test_a_reference_of_one_area_wins_nothing_of_the_whole_picture() -> None:
    names = ["a" * 64, "b" * 64]
    image = np.zeros((8, 8, 3), np.uint8)
    seen = {name: Reading(read_palette(image), {"hair": {value: 1.0}}) for name, value in zip(names, ("bun", "bob"), strict=True)}
    cues = [Cue(picture=name) for name in names]
    assert winners(cues, seen[names[0]], seen) == {"hair": 0}
    assert winners([cues[0].model_copy(update={"area": "c" * 64}), cues[1]], seen[names[0]], seen) == {}
