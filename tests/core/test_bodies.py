"""Bodies: given skeletons, hands, props in either hand, accessories, wind, camera."""

import cv2
import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from mosskeeper.core.illustrator.accessories import ACCESSORIES
from mosskeeper.core.illustrator.camera import SIDES, FramedFigure, frame
from mosskeeper.core.illustrator.description import WORN, Description, Layout, Part
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.props import PROPS
from mosskeeper.core.illustrator.skeleton import AT, JOINTS, joints, posture
from mosskeeper.core.illustrator.skin_marks import MARKS
from mosskeeper.core.illustrator.vocabulary.people import SUBJECTS
from mosskeeper.core.illustrator.vocabulary.poses import HANDS, POSES

SIZE = (192, 240)
BODY = [i for i, name in enumerate(JOINTS) if not name.endswith(("eye", "ear", "nose"))]
WALK = joints(SUBJECTS["woman"], POSES["walking"])


def standing(skeleton: np.ndarray | None = None, **layout: object) -> Drawing:
    given_ = None if skeleton is None else tuple((float(x), float(y)) for x, y in skeleton)
    return draw(Description(layout=Layout("standing", "full", skeleton=given_, **layout)), SIZE)  # type: ignore[arg-type]


def similarity_left(a: np.ndarray, b: np.ndarray) -> float:
    """What is left between two point sets after the best scale and shift, relative to their size."""
    a, b = a - a.mean(0), b - b.mean(0)
    scale = (a * b).sum() / (a * a).sum()
    return float(np.abs(scale * a - b).max() / np.abs(b).max())


@pytest.mark.statistics
@pytest.mark.parametrize("pose", POSES)
def test_a_given_skeleton_is_followed_whatever_its_unit_and_place(pose: str) -> None:
    asked = joints(SUBJECTS["woman"], POSES[pose])
    drawing = standing(asked * 57.0 + (1234.0, -88.0))
    assert similarity_left(asked[BODY], drawing.joints[BODY]) < 0.02


def test_a_skeleton_in_pixels_stands_on_the_ground() -> None:
    placed = posture(SUBJECTS["man"], POSES["standing"], Layout(skeleton=tuple(map(tuple, WALK * 90 + 400)))).joints
    assert max(placed[AT["left ankle"], 1], placed[AT["right ankle"], 1]) == pytest.approx(-0.13)


def test_missing_joints_hang_on_their_neighbours() -> None:
    holes = WALK * 40.0
    for name in ("left wrist", "left ankle", "right ear", "left ear", "right eye", "left eye", "nose"):
        holes[AT[name]] = np.nan
    drawing = standing(holes)
    known = [i for i in BODY if np.isfinite(holes[i]).all()]
    assert similarity_left(WALK[known], drawing.joints[known]) < 0.02
    assert np.isfinite(drawing.joints).all()


NONE = float("nan")
FLAT = (
    [(NONE, NONE)] * 7
    + [(4859.0, 0.0), (5082.0, 0.0), (0.0, 1.2e-236), (0.0, 0.0)]
    + [(NONE, NONE)] * 4
    + [(1830.0, 0.0)]
    + [(NONE, NONE)] * 2
)


@settings(max_examples=8)
@example([(0.0, NONE), (NONE, 0.0), *FLAT[2:5], (0.0, 0.0), (NONE, 0.0), *FLAT[7:]], "tunic")
@given(
    st.lists(st.tuples(*[st.floats(-1e4, 1e4) | st.just(float("nan")) | st.just(0.0)] * 2), min_size=18, max_size=18),
    st.sampled_from(["tunic", "night cloak", "rain cape", "bark armour"]),
)
def test_no_skeleton_is_too_strange_to_be_drawn(points: list[tuple[float, float]], outfit: str) -> None:
    description = Description(outfit=outfit, layout=Layout("standing", "full", skeleton=tuple(points)))
    drawing = draw(description, (96, 120))
    assert np.isfinite(drawing.joints).all()
    assert drawing.image.std() > 1


@pytest.mark.parametrize("points", [[(0.0, 0.0)] * 18, [(float("nan"), 0.0)] * 18])
def test_a_skeleton_that_says_nothing_leaves_the_pose(points: list[tuple[float, float]]) -> None:
    assert np.allclose(standing(np.array(points)).joints, standing().joints)


def test_a_skeleton_of_another_shape_is_refused() -> None:
    with pytest.raises(ValueError, match="18 joints"):
        draw(Description(layout=Layout(skeleton=((0.0, 0.0),) * 4)), SIZE)


@pytest.mark.parametrize("turn", [-1, 1])
def test_a_profile_is_recognised_in_a_skeleton(turn: int) -> None:
    seen = posture(SUBJECTS["woman"], POSES["facing"], Layout(view="profile", facing=1)).joints * (turn, 1)
    held = posture(SUBJECTS["woman"], POSES["standing"], Layout(skeleton=tuple(map(tuple, seen)))).head
    assert held.profile == turn


def test_limbs_behind_the_trunk_are_hidden_by_it() -> None:
    def hands(behind: tuple[str, ...]) -> Drawing:
        crossed = WALK.copy()
        crossed[AT["left elbow"]], crossed[AT["left wrist"]] = crossed[AT["neck"]] + (0.5, 0.9), crossed[AT["neck"]] + (0.0, 1.0)
        return standing(crossed, behind=behind)

    before, after = hands(()), hands(("left arm",))
    assert before.shown[0].visible[AT["left wrist"]]
    assert not after.shown[0].visible[AT["left wrist"]]
    assert (after.labels == Part.HAND).sum() < (before.labels == Part.HAND).sum()


def test_visible_joints_lie_on_their_figure_inside_the_frame() -> None:
    for framing in ("full", "half", "bust"):
        drawing = draw(Description(layout=Layout("waving", framing)), SIZE)
        for (x, y), seen in zip(drawing.joints, drawing.shown[0].visible, strict=True):
            inside = 0 <= round(x) < SIZE[0] and 0 <= round(y) < SIZE[1]
            assert not seen or (inside and drawing.figures[round(y), round(x)] == 1)
    ankles = [AT["left ankle"], AT["right ankle"]]
    assert not draw(Description(layout=Layout("standing", "bust")), SIZE).shown[0].visible[ankles].any()


def test_hands_are_shaped_as_their_pose_asks() -> None:
    """How far a hand reaches from its wrist, in head heights: an open hand and a pointing finger farther than a fist."""

    def reach(pose: str) -> float:
        drawing = draw(Description(outfit="tunic", layout=Layout(pose, "full")), (512, 640))
        hands = np.argwhere(drawing.labels == Part.HAND)[:, ::-1]
        assert len(hands), pose
        wrists = drawing.joints[[AT["left wrist"], AT["right wrist"]]]
        return float(np.linalg.norm(hands[:, None] - wrists[None], axis=2).min(1).max() / drawing.head[2])

    assert {hand for pose in POSES.values() for hand in pose.hands} | {"grip"} == set(HANDS)  # what is held is gripped
    fist, wide, point = reach("hands on hips"), reach("arms wide"), reach("pointing")
    assert fist < wide
    assert fist < point


@pytest.mark.parametrize("prop", [p for p in PROPS if p not in ("nothing", "kite")])
@pytest.mark.parametrize("hand", ["left", "right", "both"])
def test_a_prop_is_held_in_the_hand_that_was_asked(prop: str, hand: str) -> None:
    drawing = draw(Description(prop=prop, layout=Layout("standing", "full", hand=hand)), SIZE)
    where = np.argwhere(drawing.labels == Part.PROP)[:, ::-1]
    assert len(where) > 15
    reach = {side: np.linalg.norm(where - drawing.joints[AT[f"{side} wrist"]], axis=1).min() for side in ("left", "right")}
    for side in ("left", "right") if hand == "both" else (hand,):
        assert reach[side] < 16


@pytest.mark.parametrize("prop", [p for p in PROPS if p not in ("nothing", "kite")])
@pytest.mark.parametrize("framing", ["half", "bust"])
def test_what_is_held_is_in_the_frame_of_near_pictures(prop: str, framing: str) -> None:
    drawing = draw(Description(prop=prop, layout=Layout("standing", framing)), SIZE)
    assert (drawing.labels == Part.PROP).mean() > (0.0012 if prop in ("key", "egg", "apple", "orange", "coins") else 0.003)


def test_an_arm_torn_from_the_trunk_is_bridged() -> None:
    torn = WALK.copy()
    for name in ("left shoulder", "left elbow", "left wrist"):
        torn[AT[name]] += (0.5, -0.3)
    labels = standing(torn).labels
    dressed = np.isin(labels, [Part.TOP, Part.SLEEVE, Part.ACCESSORY]).astype(np.uint8)
    pieces = cv2.connectedComponentsWithStats(dressed)[2][1:, cv2.CC_STAT_AREA]
    assert (pieces > 40).sum() == 1


@pytest.mark.parametrize("facing", [1, -1])
def test_the_right_hand_is_the_persons_own(facing: int) -> None:
    drawing = draw(Description(prop="lantern", layout=Layout("standing", "full", hand="right", facing=facing)), SIZE)
    x = np.argwhere(drawing.labels == Part.PROP)[:, 1].mean()
    assert abs(x - drawing.joints[AT["right wrist"], 0]) < abs(x - drawing.joints[AT["left wrist"], 0])
    assert x < drawing.head[0]  # who faces us has the right hand on the picture's left


def test_two_props_are_held_in_two_hands() -> None:
    drawing = draw(Description(prop="lantern", second_prop="staff", layout=Layout("standing", "full")), SIZE)
    columns = np.argwhere(drawing.labels == Part.PROP)[:, 1]
    assert columns.min() < drawing.head[0] - 5
    assert columns.max() > drawing.head[0] + 5


@pytest.mark.parametrize("thing", WORN)
def test_every_accessory_is_seen(thing: str) -> None:
    assert set(ACCESSORIES) == set(WORN)
    on_skin = ("tears", "face paint", "pointed ears", "bare feet", *(mark for mark in MARKS if mark not in ("finger ring", "plaster")))
    small = thing in ("necklace", "earrings", "scarf", "brooch", *on_skin) and thing != "bare feet"
    layout, outfit = (
        Layout("facing", "half" if small else "full"),
        "t-shirt and jeans" if thing in ("bare feet", "arm tattoos") else "nightshirt",
    )
    plain, wearing = (draw(Description(worn=w, outfit=outfit, hair="shaved", layout=layout), (256, 320)) for w in ((), (thing,)))
    if thing == "gloves":
        hands = [d.image[d.labels == Part.HAND].astype(float).mean(0) for d in (plain, wearing)]
        assert np.abs(hands[0] - hands[1]).max() > 30
    elif thing in on_skin:
        assert (np.abs(plain.image.astype(int) - wearing.image).max(2) > 14).sum() > 8
    else:
        assert (wearing.labels == Part.ACCESSORY).sum() > (plain.labels == Part.ACCESSORY).sum() + 8


@pytest.mark.parametrize(("outfit", "part"), [("night cloak", Part.OUTER), ("ball gown", Part.TOP), ("tunic", Part.HAIR)])
def test_wind_carries_hair_and_cloth_to_the_right(outfit: str, part: Part) -> None:
    def middle(weather: str, facing: int) -> float:
        description = Description(
            outfit=outfit, hair="long wavy", weather=weather, place="roof garden", layout=Layout("standing", "full", facing=facing)
        )
        return float(np.argwhere(draw(description, SIZE).labels == part)[:, 1].mean())

    for facing in (1, -1):
        assert middle("storm", facing) > middle("clear", facing) + 1


def test_there_is_less_wind_indoors() -> None:
    def blown(place: str) -> int:
        still, storm = (
            draw(Description(hair="long wavy", weather=w, place=place, layout=Layout("standing", "full")), SIZE) for w in ("clear", "storm")
        )
        return int(((still.labels == Part.HAIR) != (storm.labels == Part.HAIR)).sum())

    assert blown("kitchen") < 0.6 * blown("roof garden")


@pytest.mark.parametrize("framing", ["close", "bust", "half", "full", "wide"])
def test_the_subject_stands_where_it_was_asked(framing: str) -> None:
    from mosskeeper.core.illustrator.camera import beside

    heads = [
        draw(Description(layout=Layout("facing", framing, shift=beside(side, framing))), SIZE).head[0]
        for side in ("left", "centre", "right")
    ]
    assert heads == sorted(heads)
    assert heads[2] - heads[0] > 0.2 * SIZE[0]
    assert set(SIDES) == {"left", "centre", "right"}


def test_a_high_camera_shortens_the_body_and_raises_the_horizon() -> None:
    shots = {angle: standing(angle=angle) for angle in ("above", "level", "below")}
    heights = {angle: np.ptp(d.joints[:, 1]) / d.shown[0].head[2] for angle, d in shots.items()}
    assert heights["above"] < heights["level"] < heights["below"]
    assert shots["above"].camera.horizon < shots["level"].camera.horizon < shots["below"].camera.horizon


@pytest.mark.parametrize("size", [(144, 336), (336, 144), (128, 288), (288, 128), (240, 240)])
@pytest.mark.parametrize("framing", ["close", "half", "full"])
def test_any_aspect_shows_the_head(size: tuple[int, int], framing: str) -> None:
    drawing = draw(Description(layout=Layout("standing", framing)), size)
    x, y, _ = drawing.head
    assert 0 < x < size[0]
    assert 0 < y < size[1]
    assert (drawing.labels == Part.FACE).mean() > 0.002


def test_the_light_of_a_drawing_points_where_the_time_says() -> None:
    noon, dusk = (draw(Description(time=t), (64, 80)).light for t in ("noon", "dusk"))
    assert np.hypot(*noon) == pytest.approx(1)
    assert noon[1] < dusk[1] < 0  # higher at noon


def test_framing_one_is_framing_a_company_of_one() -> None:
    camera = frame([FramedFigure(WALK, Layout("walking", "full"))], SIZE)
    assert len(camera.spots) == 1
    assert camera.shows_ground
