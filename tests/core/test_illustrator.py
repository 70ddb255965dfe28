import itertools

import numpy as np
import pytest

from mosskeeper.core.illustrator.camera import FRAMINGS
from mosskeeper.core.illustrator.companions import COMPANIONS
from mosskeeper.core.illustrator.description import Description, Face, Layout, Part, Person
from mosskeeper.core.illustrator.draw import draw, draw_scene, kept, window_of
from mosskeeper.core.illustrator.hair import STYLES
from mosskeeper.core.illustrator.headwear import HEADWEAR
from mosskeeper.core.illustrator.places import PLACES
from mosskeeper.core.illustrator.props import PROPS
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.illustrator.skeleton import JOINTS
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH
from mosskeeper.core.illustrator.vocabulary.finishes import FINISHES, blended
from mosskeeper.core.illustrator.vocabulary.light import MOODS, TIMES, WEATHERS
from mosskeeper.core.illustrator.vocabulary.outfits import OUTFITS, PATTERNS, has_hood
from mosskeeper.core.illustrator.vocabulary.people import BUILDS, EXPRESSIONS, SUBJECTS
from mosskeeper.core.illustrator.vocabulary.poses import POSES
from mosskeeper.core.pictures.colour import rgb_to_lab

SIZE = (192, 240)


def share(labels: np.ndarray, *parts: Part) -> float:
    return float(np.isin(labels, parts).mean())


# every outfit in a third of the poses, and every pose in a third of the outfits
_WORN = [(outfit, pose) for (k, outfit), (n, pose) in itertools.product(enumerate(OUTFITS), enumerate(POSES)) if (k + n) % 3 == 0]


@pytest.mark.statistics
@pytest.mark.parametrize(("outfit", "pose"), _WORN)
def test_outfits_are_worn_in_all_poses(outfit: str, pose: str) -> None:
    labels = draw(Description(outfit=outfit, layout=Layout(pose=pose, framing="full")), SIZE).labels
    assert share(labels, Part.TOP, Part.OUTER, Part.SLEEVE) > 0.03
    barefoot = not any(name == "boots" for name, _ in OUTFITS[outfit])
    if pose != "sitting on the ground":  # there a gown hides them
        assert share(labels, Part.LEG if barefoot else Part.SHOES) > 0.002
    assert share(labels, Part.FACE) > 0.006
    assert share(labels, Part.HAND) > 0 or "cape" in outfit or POSES[pose].behind


@pytest.mark.statistics
@pytest.mark.parametrize(("hair", "subject"), list(itertools.product(STYLES, SUBJECTS)))
def test_every_hair_style_is_seen_on_everybody(hair: str, subject: str) -> None:
    labels = draw(Description(hair=hair, subject=subject, layout=Layout(framing="bust")), SIZE).labels
    assert 0.02 < share(labels, Part.HAIR) < 0.45 or hair == "bald"
    assert share(labels, Part.EYES) > 0.003
    assert share(labels, Part.MOUTH) > 0.0005


@pytest.mark.statistics
@pytest.mark.parametrize(("place", "time"), list(itertools.product(PLACES, TIMES)))
def test_every_place_is_drawn_at_every_time(place: str, time: str) -> None:
    drawing = draw(Description(place=place, time=time, layout=Layout(framing="full")), SIZE)
    figure = share(drawing.labels, *(p for p in Part if p >= Part.HAIR))
    assert 0.05 < figure < 0.5
    assert drawing.depth[drawing.labels < Part.HAIR].std() > 0.05


@pytest.mark.statistics
def test_night_is_darker_than_noon_everywhere() -> None:
    for place in PLACES:
        noon, night = (draw(Description(place=place, time=t), SIZE).image.mean() for t in ("noon", "night"))
        assert night < noon - 20, place


@pytest.mark.parametrize("prop", [p for p in PROPS if p != "nothing"])
def test_every_prop_is_held_near_a_hand(prop: str) -> None:
    drawing = draw(Description(prop=prop, layout=Layout(pose="presenting", framing="full")), SIZE)
    where = np.argwhere(drawing.labels == Part.PROP)[:, ::-1]
    assert len(where) > 20
    wrist = drawing.joints[JOINTS.index("left wrist")]
    assert np.linalg.norm(where - wrist, axis=1).min() < 14


@pytest.mark.statistics
@pytest.mark.parametrize("finish", [f for f in FINISHES if f != "gouache"])
def test_finishes_differ_from_gouache_in_grey_already(finish: str) -> None:
    plain, other = (draw(Description(finish=(f,)), SIZE).image.mean(2) for f in ("gouache", finish))
    assert np.abs(plain - other).mean() > 4


def test_a_mixed_finish_lies_between_its_parts() -> None:
    a, b, mixed = FINISHES["gouache"], FINISHES["ink and wash"], blended(["gouache", "ink and wash"])
    assert a.line < mixed.line < b.line


@pytest.mark.statistics
@pytest.mark.parametrize("framing", FRAMINGS)
@pytest.mark.parametrize("size", [(128, 288), (288, 128), (256, 256)])
def test_the_head_is_in_the_picture_at_every_framing_and_aspect(framing: str, size: tuple[int, int]) -> None:
    drawing = draw(Description(layout=Layout(framing=framing, pose="reaching")), size)
    x, y, _ = drawing.head
    assert 0 < x < size[0]
    assert 0 < y < size[1]
    assert share(drawing.labels, Part.FACE) > 0


def test_the_same_description_gives_the_same_bytes_with_and_without_cache() -> None:
    description = Description(weather="rain", time="dawn", prop="lantern")
    first = draw(description, SIZE)
    again = draw(description, SIZE)
    kept.clear()
    cold = draw(description, SIZE)
    assert first.image.tobytes() == again.image.tobytes() == cold.image.tobytes()
    assert first.labels.tobytes() == cold.labels.tobytes()


def test_a_mirrored_layout_mirrors_the_figure_and_renames_its_joints() -> None:
    right = draw(Description(layout=Layout(pose="waving", framing="full")), SIZE)
    left = draw(Description(layout=Layout(pose="waving", framing="full", facing=-1)), SIZE)
    raised = JOINTS.index("left wrist"), JOINTS.index("right wrist")
    assert right.joints[raised[0], 1] < right.joints[raised[1], 1]
    assert left.joints[raised[1], 1] < left.joints[raised[0], 1]


@pytest.mark.parametrize("weather", WEATHERS)
def test_weather_changes_the_air_outdoors_and_nothing_indoors(weather: str) -> None:
    outdoors = [draw(Description(place="roof garden", weather=w), SIZE).image for w in ("clear", weather)]
    assert (outdoors[0].tobytes() == outdoors[1].tobytes()) == (weather == "clear")


def test_a_garment_has_the_colour_that_was_asked_at_noon() -> None:
    red, blue = (0.72, 0.28, 0.23), (0.18, 0.25, 0.40)
    means = []
    for colour in (red, blue):
        drawing = draw(Description(outfit="tunic", colour_a=colour, time="noon", layout=Layout(framing="full")), (256, 320))
        means.append(drawing.image[drawing.labels == Part.TOP].mean(0))
    assert means[0][0] > means[0][2] + 40
    assert means[1][2] > means[1][0] + 15


def landmark_distance(face: Face, a: str, b: str) -> float:
    marks = draw(Description(face=face, layout=Layout(framing="close", pose="facing")), SIZE).landmarks
    return float(np.linalg.norm(marks[a] - marks[b]))


@pytest.mark.parametrize(
    ("parameter", "a", "b"),
    [
        ("eye_spacing", "left pupil", "right pupil"),
        ("mouth_width", "mouth left", "mouth right"),
        ("nose_length", "nose tip", "left eye inner"),
        ("length", "chin", "nose tip"),
        ("eye_size", "left eye inner", "left eye outer"),
    ],
)
def test_a_face_parameter_moves_its_landmarks_monotonically(parameter: str, a: str, b: str) -> None:
    distances = [landmark_distance(Face(**{parameter: value}), a, b) for value in (0.85, 0.95, 1.05, 1.15)]
    assert distances == sorted(distances)
    assert distances[-1] > distances[0] * 1.03


def test_strangers_have_other_faces() -> None:
    faces = [Face.sampled(np.random.default_rng(seed)).as_array() for seed in range(30)]
    apart = [np.abs(a - b).max() for a, b in itertools.combinations(faces, 2)]
    assert min(apart) > 0.05


def test_expressions_change_the_mouth_or_the_brows() -> None:
    """In the face, by pixels that are seen to differ; outside of it nothing moves."""
    drawings = {e: draw(Description(expression=e, layout=Layout(framing="close")), SIZE) for e in EXPRESSIONS}
    for (a, one), (b, other) in itertools.combinations(drawings.items(), 2):
        differ = np.abs(one.image.astype(int) - other.image).max(2) > 12
        face = np.isin(one.labels, (Part.FACE, Part.EYES, Part.MOUTH, Part.BROW))
        assert differ[face].mean() > 0.004, (a, b)
        assert differ[one.labels < Part.HAIR].mean() < 0.002, (a, b)


@pytest.mark.statistics
@pytest.mark.parametrize("outfit", OUTFITS)
def test_a_hood_hides_long_hair(outfit: str) -> None:
    hair = share(draw(Description(outfit=outfit, hair="long straight", layout=Layout(framing="bust")), SIZE).labels, Part.HAIR)
    assert (hair < 0.12) == has_hood(outfit)


@pytest.mark.parametrize("companion", [c for c in COMPANIONS if c != "nobody"])
def test_a_companion_stands_on_the_ground_beside_the_figure(companion: str) -> None:
    drawing = draw(Description(companion=companion, layout=Layout(framing="full")), (256, 320))
    where = np.argwhere(drawing.labels == Part.COMPANION)
    assert len(where) > 400
    feet = drawing.joints[[JOINTS.index("left ankle"), JOINTS.index("right ankle")], 1].mean()
    assert abs(where[:, 0].max() - feet) < 26
    figure = np.argwhere((drawing.labels >= Part.HAIR) & (drawing.labels <= Part.PROP))
    assert where[:, 1].mean() < figure[:, 1].mean() - 20


@pytest.mark.parametrize("wear", [w for w in HEADWEAR if w != "none"])
def test_headwear_covers_hair_and_leaves_the_face(wear: str) -> None:
    bare, covered = (draw(Description(headwear=w, hair="bob", layout=Layout(framing="bust")), SIZE).labels for w in ("none", wear))
    light = wear in ("tiara", "hair bow", "hair band", "horns", "antlers", "halo", "headphones", "flower crown")
    assert share(covered, Part.HEADWEAR) > (0.004 if light else 0.03)
    assert share(covered, Part.HAIR) < share(bare, Part.HAIR) * (1.01 if light else 0.86)
    assert share(covered, Part.FACE) > share(bare, Part.FACE) * 0.7


@pytest.mark.parametrize("pattern", [p for p in PATTERNS if p != "plain"])
def test_a_pattern_shows_both_colours_on_the_cloth(pattern: str) -> None:
    def spread(kind: str) -> float:
        description = Description(
            outfit="nightshirt", pattern=kind, colour_a=(0.95, 0.94, 0.9), colour_b=(0.1, 0.2, 0.5), layout=Layout(framing="full")
        )
        drawing = draw(description, (256, 320))
        return float(drawing.image[drawing.labels == Part.TOP].std(0).mean())

    assert spread(pattern) > spread("plain") * 1.15


@pytest.mark.parametrize("facial_hair", ["beard", "moustache"])
def test_facial_hair_is_hair_on_the_lower_face(facial_hair: str) -> None:
    plain, grown = (
        draw(Description(subject="man", hair="shaved", facial_hair=h, layout=Layout(framing="bust")), SIZE) for h in ("none", facial_hair)
    )
    below = slice(int(plain.head[1]), None)
    assert (grown.labels[below] == Part.FACIAL_HAIR).sum() > (plain.labels[below] == Part.FACIAL_HAIR).sum() + 30


@pytest.mark.parametrize("mark", ["scar", "mole"])
def test_a_mark_changes_a_small_part_of_the_face(mark: str) -> None:
    plain, marked = (draw(Description(mark=m, layout=Layout(framing="close")), (256, 320)).image.astype(int) for m in ("none", mark))
    changed = np.abs(plain - marked).max(2) > 12
    assert 10 < changed.sum() < 2500


@pytest.mark.parametrize("build", [b for b in BUILDS if b != "average"])
def test_a_build_changes_the_silhouette(build: str) -> None:
    areas = [
        share(draw(Description(build=b, outfit="tunic", layout=Layout(framing="full", pose="facing")), SIZE).labels, Part.TOP, Part.BOTTOM)
        for b in ("average", build)
    ]
    if build == "tall":  # a whole figure fills the frame: longer, it is narrower
        assert areas[1] < areas[0] * 0.97
    elif build == "slight":
        assert areas[1] < areas[0]
    else:
        assert areas[1] > areas[0]


def test_moods_change_the_light_as_their_names_say() -> None:
    brightness = {mood: draw(Description(light=mood, place="kitchen"), SIZE).image.mean() for mood in MOODS}
    assert brightness["low key"] < brightness["plain light"] - 10
    assert brightness["high key"] > brightness["low key"] + 15
    warm = {mood: draw(Description(light=mood, place="kitchen"), SIZE).image.mean((0, 1)) for mood in ("lantern light", "moonlight")}
    assert warm["lantern light"][0] - warm["lantern light"][2] > warm["moonlight"][0] - warm["moonlight"][2] + 10


def test_an_unknown_name_is_an_error() -> None:
    with pytest.raises(KeyError):
        draw(Description(place="the moon"), SIZE)


def hue(lab: np.ndarray) -> float:
    return float(np.degrees(np.arctan2(lab[2], lab[1])))


def test_every_colour_is_found_on_its_cloth_at_noon_within_15_degrees_of_hue() -> None:
    for name, colour in CLOTH.items():
        lab = rgb_to_lab(np.asarray(colour, np.float32))
        if np.hypot(lab[1], lab[2]) < 10:  # greys have no hue to speak of
            continue
        r, g, b = map(float, colour)
        description = Description(outfit="tunic", colour_a=(r, g, b), time="noon", place="bell tower", layout=Layout("facing", "half"))
        drawing = draw(description, (128, 160))
        seen = np.median(rgb_to_lab(drawing.image[drawing.labels == Part.TOP].astype(np.float32) / 255), axis=0)
        assert abs((hue(seen) - hue(lab) + 180) % 360 - 180) <= 15, name


def test_a_window_is_drawn_as_it_is_in_the_whole_picture() -> None:
    scene, box = scene_of(Description(), (256, 320)), (60, 20, 196, 166)
    whole, window = draw_scene(scene), draw_scene(scene, wider=window_of((256, 320), box))
    cut = whole.image[box[1] : box[3], box[0] : box[2]].astype(int)
    assert window.image.shape == cut.shape
    assert (np.abs(cut - window.image)[24:-24, 24:-24].max(2) > 12).mean() < 0.01
    assert (whole.labels[box[1] : box[3], box[0] : box[2]] != window.labels).mean() < 0.01
    assert np.allclose(np.subtract(whole.shown[0].head, window.shown[0].head), (60, 20, 0))


@pytest.mark.parametrize("box", [(-1, 0, 40, 40), (0, 0, 10, 40), (0, 0, 300, 40)])
def test_a_window_outside_of_the_picture_or_too_small_is_refused(box: tuple[int, int, int, int]) -> None:
    with pytest.raises(ValueError, match="no window"):
        window_of((256, 320), box)


def test_somebody_pinned_close_by_stays_there_when_others_come() -> None:
    pinned = Layout("facing", "bust", pinned=(0.5, 0.3, 0.3))
    beside = Person(subject="girl", layout=Layout("standing", "bust", shift=0.3))
    spots = scene_of(Description(subject="man", layout=pinned, others=(beside,)), (256, 320)).camera.spots
    assert spots[0].scale == pytest.approx(0.3 * 320)
