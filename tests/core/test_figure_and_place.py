import itertools

import numpy as np
import pytest

from mosskeeper.core.illustrator import printing
from mosskeeper.core.illustrator.camera import FramedFigure, frame
from mosskeeper.core.illustrator.description import Description, Face, Layout, Part
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.places import PLACES, USUAL
from mosskeeper.core.illustrator.skeleton import JOINTS, joints, mirrored
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH, rgb
from mosskeeper.core.illustrator.vocabulary.finishes import FINISHES, blended
from mosskeeper.core.illustrator.vocabulary.light import MOODS, TIMES, light_of
from mosskeeper.core.illustrator.vocabulary.outfits import OUTFITS, USUAL_COLOURS
from mosskeeper.core.illustrator.vocabulary.people import BUILDS, SUBJECTS, body_of
from mosskeeper.core.illustrator.vocabulary.poses import POSES
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab

AT = {name: i for i, name in enumerate(JOINTS)}
SIZE = (192, 240)


@pytest.mark.parametrize(("subject", "pose"), list(itertools.product(SUBJECTS, POSES)))
def test_every_pose_stands_on_the_ground_with_bones_of_the_right_length(subject: str, pose: str) -> None:
    body, posed = SUBJECTS[subject], joints(SUBJECTS[subject], POSES[pose])
    if POSES[pose].lying:  # with the whole body, or on the hands
        assert -0.3 < posed[:, 1].max() < -0.1
    else:
        lowest = max(posed[AT["left ankle"], 1], posed[AT["right ankle"], 1])
        assert lowest == pytest.approx(-0.13 - POSES[pose].lift)
        assert posed[AT["nose"], 1] < posed[AT["left hip"], 1]
    for side, limb in (("left", POSES[pose].left_arm), ("right", POSES[pose].right_arm)):
        upper = np.linalg.norm(posed[AT[f"{side} elbow"]] - posed[AT[f"{side} shoulder"]])
        assert upper == pytest.approx(body.upper_arm * (limb[2] if len(limb) > 2 else 1))


def test_children_are_smaller_than_adults() -> None:
    heights = {s: -joints(SUBJECTS[s], POSES["facing"])[:, 1].min() for s in SUBJECTS}
    assert max(heights["girl"], heights["boy"]) < 0.75 * min(heights["woman"], heights["man"])
    assert heights["old woman"] < heights["woman"]


@pytest.mark.parametrize("build", BUILDS)
def test_builds_keep_a_body_plausible(build: str) -> None:
    for subject in SUBJECTS:
        body, plain = body_of(subject, build), SUBJECTS[subject]
        assert 0.8 < body.shoulder / plain.shoulder < 1.2
        assert 0.9 <= body.thigh / plain.thigh < 1.2


def test_mirroring_swaps_the_names_of_left_and_right_and_twice_is_nothing() -> None:
    posed = joints(SUBJECTS["woman"], POSES["reaching"])
    swapped = mirrored(posed)
    assert np.array_equal(swapped[AT["left wrist"]], posed[AT["right wrist"]])
    assert np.array_equal(swapped[AT["nose"]], posed[AT["nose"]])
    assert np.array_equal(mirrored(swapped), posed)


@pytest.mark.parametrize("size", [(512, 640), (640, 512), (448, 960), (960, 448)])
@pytest.mark.parametrize("pose", ["standing", "reaching", "sitting", "dancing"])
def test_a_full_figure_fits_into_the_frame(size: tuple[int, int], pose: str) -> None:
    posed = joints(SUBJECTS["man"], POSES[pose])
    spot = frame([FramedFigure(posed, Layout(pose, "full"))], size).spots[0]
    px = posed * spot.scale + spot.origin
    assert px[:, 0].min() > 0
    assert px[:, 0].max() < size[0]
    assert px[:, 1].min() > 0
    assert px[:, 1].max() < size[1]


def test_a_wide_framing_shows_a_smaller_figure_and_a_close_one_a_larger() -> None:
    posed = joints(SUBJECTS["woman"], POSES["standing"])
    scales = [
        frame([FramedFigure(posed, Layout("standing", f))], (512, 640)).spots[0].scale for f in ("wide", "full", "half", "bust", "close")
    ]
    assert scales == sorted(scales)


@pytest.mark.statistics
@pytest.mark.parametrize("place", PLACES)
def test_every_place_has_depth_and_an_arrangement_of_its_own(place: str) -> None:
    one, two = (draw(Description(place=place, layout=Layout(framing="wide", ground=g)), SIZE) for g in (0, 3))
    behind = one.labels < Part.HAIR
    assert np.ptp(one.depth[behind]) > 0.2
    assert len(np.unique(one.labels[behind])) >= 2
    assert (one.image != two.image).any()


def test_places_are_told_apart() -> None:
    pictures = {p: draw(Description(place=p, layout=Layout(framing="wide")), (64, 80)).image.astype(int) for p in PLACES}
    for a, b in itertools.combinations(PLACES, 2):  # two landscapes differ less than what somebody is in by chance
        assert np.abs(pictures[a] - pictures[b]).mean() > (6 if a in USUAL and b in USUAL else 1.5), (a, b)


@pytest.mark.parametrize("time", TIMES)
def test_lamps_are_lit_when_it_is_dark(time: str) -> None:
    light = TIMES[time]
    assert light.dark == (time in ("dawn", "dusk", "night"))
    assert np.hypot(*light.toward) == pytest.approx(1)
    assert np.allclose(light.sky_at(0), rgb(light.sky[0]))
    assert np.allclose(light.sky_at(1), rgb(light.sky[2]))


@pytest.mark.parametrize(("time", "mood"), list(itertools.product(TIMES, MOODS)))
def test_moods_keep_light_in_range(time: str, mood: str) -> None:
    light = light_of(time, mood, "storm")
    assert all(0.2 < v < 1.3 for v in (*light.key, *light.rim))
    assert all(0 < v <= 1.0001 for v in light.shadow)
    assert 0.2 < light.background <= 1.1


def test_blending_no_finish_is_gouache_and_order_does_not_matter_much() -> None:
    assert blended([]) == FINISHES["gouache"]
    ab, ba = blended(["chalk", "linocut"]), blended(["linocut", "chalk"])
    assert ab.linocut == pytest.approx(ba.linocut)
    with pytest.raises(KeyError):
        blended(["glitter"])


def made(finish: str) -> np.ndarray:
    description = Description(finish=(finish,), place="roof garden", layout=Layout(framing="half"))
    return draw(description, (256, 320)).image.astype(np.float32) / 255


def test_linocut_prints_two_inks_on_paper() -> None:
    flat = (made("linocut").reshape(-1, 3) * 7).round().astype(int)
    _, counts = np.unique(flat, axis=0, return_counts=True)
    assert np.sort(counts)[-6:].sum() > 0.55 * len(flat)


def test_a_pencil_study_has_hardly_any_colour() -> None:
    def chroma(rgb01: np.ndarray) -> float:
        return float(np.hypot(*np.moveaxis(rgb_to_lab(rgb01)[..., 1:], -1, 0)).mean())

    assert chroma(made("pencil study")) < 0.4 * chroma(made("gouache"))


def test_a_woodcut_carves_fine_lines() -> None:
    def detail(rgb01: np.ndarray) -> float:
        return float(np.abs(np.diff(rgb01.mean(2), axis=0)).mean())

    assert detail(made("woodcut print")) > 2 * detail(made("gouache"))


def test_stained_glass_is_leaded_and_saturated() -> None:
    glass, plain = made("stained glass"), made("gouache")
    assert (glass.max(2) < 0.2).mean() > (plain.max(2) < 0.2).mean() + 0.02
    assert np.ptp(glass, axis=2).mean() > np.ptp(plain, axis=2).mean()


@pytest.mark.parametrize("process", ["woodcut", "linocut", "pencil", "stained_glass", "felt"])
@pytest.mark.parametrize("value", [0.0, 0.5, 1.0])
def test_printing_a_blank_picture_stays_in_range(process: str, value: float) -> None:
    rng = np.random.default_rng(0)
    blank, labels = np.full((60, 48, 3), value, np.float32), np.zeros((60, 48), np.uint8)
    noise = rng.normal(size=(60, 48)).astype(np.float32)
    ink = np.array([0.1, 0.1, 0.1], np.float32)
    out = {
        "woodcut": lambda: printing.woodcut(blank, labels, noise, 0.2, ink),
        "linocut": lambda: printing.linocut(blank, labels, noise, noise, 0.2, ink, ink * 4),
        "pencil": lambda: printing.pencil(blank, labels, noise, noise, 0.2),
        "stained_glass": lambda: printing.stained_glass(blank, labels, noise, noise, 0.2),
        "felt": lambda: printing.felt(blank, labels, noise, noise, 0.2),
    }[process]()
    assert out.shape == blank.shape
    assert np.isfinite(out).all()
    assert out.min() > -0.05
    assert out.max() < 1.1


def test_every_outfit_has_usual_colours_that_exist() -> None:
    assert set(USUAL_COLOURS) == set(OUTFITS)
    assert all(colour in CLOTH for pair in USUAL_COLOURS.values() for colour in pair)


@pytest.mark.parametrize("seed", range(6))
def test_a_face_survives_being_written_as_numbers(seed: int) -> None:
    face = Face.sampled(np.random.default_rng(seed))
    assert Face.from_array(face.as_array()) == face


def test_one_likeness_is_nearer_to_itself_over_expressions_than_to_strangers() -> None:
    def shape(face: Face, expression: str) -> np.ndarray:
        marks = draw(Description(face=face, expression=expression, layout=Layout("facing", "close")), SIZE).landmarks
        names = ("left pupil", "right pupil", "nose tip", "chin")
        return np.array([marks[n] for n in names]) - marks["nose tip"]

    faces = [Face.sampled(np.random.default_rng(s)) for s in (1, 2, 3)]
    for face in faces:
        same = np.abs(shape(face, "calm") - shape(face, "angry")).max()
        others = min(np.abs(shape(face, "calm") - shape(other, "calm")).max() for other in faces if other is not face)
        assert same < others


def test_colours_survive_the_way_to_lab_and_back() -> None:
    colours = np.random.default_rng(0).uniform(0, 1, (50, 3)).astype(np.float32)
    assert np.abs(lab_to_rgb(rgb_to_lab(colours)) - colours).max() < 0.01
    assert rgb_to_lab(np.ones(3))[0] == pytest.approx(100, abs=0.1)


@pytest.mark.parametrize("wear", ["none", "hat", "cap"])
@pytest.mark.parametrize("hair", ["bun", "curls", "cropped"])
def test_a_whole_figure_that_stands_near_keeps_its_hat_in_the_frame(wear: str, hair: str) -> None:
    near = Description(headwear=wear, hair=hair, layout=Layout("standing", "full", zoom=1.08))
    labels = draw(near, (192, 240)).labels
    assert not np.isin(labels[:3], (Part.HAIR, Part.HEADWEAR)).any()
