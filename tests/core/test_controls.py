"""Controls over where things are: pose, edges, tone, depth, sketch; regions; schedules."""

import itertools
from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mosskeeper.core.diffusion.control_maps import control
from mosskeeper.core.diffusion.integrators import step
from mosskeeper.core.diffusion.schedule import noise_levels
from mosskeeper.core.illustrator.camera import standing_in
from mosskeeper.core.illustrator.description import Description, Layout, Part, Person
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.skeleton import joints
from mosskeeper.core.illustrator.vocabulary.people import SUBJECTS
from mosskeeper.core.illustrator.vocabulary.poses import POSES
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.contours import edges
from mosskeeper.core.reading.palette import read_palette
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.reading.structure import coarse_tone, edge_f_score
from mosskeeper.core.recipe import Cue, Recipe, Region
from mosskeeper.core.regions.overlaps import overlap
from mosskeeper.core.takes.beliefs import Beliefs
from mosskeeper.core.takes.composition import choose
from mosskeeper.core.takes.pose import between, posed
from mosskeeper.core.takes.regions import shares
from tests.core.few import make_take

A, B, M, N = "a" * 64, "b" * 64, "e" * 64, "f" * 64
SIZE = (256, 256)
BASE = Recipe(
    words="a woman in a navy festival coat in the bell tower at noon, half figure, facing the viewer", width=256, height=256, steps=6
)
LEFT = np.zeros((256, 256, 3), np.uint8)
LEFT[:, :128] = 255


@pytest.mark.parametrize("schedule", ["karras", "linear"])
@pytest.mark.parametrize("steps", [4, 21, 60])
def test_a_schedule_falls_to_zero(schedule: str, steps: int) -> None:
    levels = noise_levels(schedule, steps)
    assert len(levels) == steps + 1
    assert (np.diff(levels) < 0).all()
    assert levels[-1] == 0


@given(st.integers(0, 1000))
def test_the_ancestral_sampler_without_fresh_noise_is_eulers(seed: int) -> None:
    rng = np.random.default_rng(seed)
    x, d = (rng.normal(size=(4, 5, 3)).astype(np.float32) for _ in range(2))
    euler, ancestral = (step(x, d, 2.0, 1.1, s, lambda *_: d, lambda: x * 0 + 9, 0.0) for s in ("euler", "ancestral"))  # type: ignore[arg-type]
    assert np.allclose(euler, ancestral, atol=1e-6)


@pytest.mark.parametrize("changes", [{"schedule": "linear"}, {"sampler": "ancestral", "eta": 0.3}])
def test_schedule_and_eta_leave_what_was_asked(changes: dict[str, object]) -> None:
    take = make_take(BASE.model_copy(update=changes), 1)
    assert (take.description.outfit, take.description.place) == ("festival coat", "bell tower")


# -- pose ------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("pose", ["dancing", "running", "sitting", "arms wide"])
def test_a_pose_cue_of_full_weight_puts_every_joint_where_it_is_asked(pose: str) -> None:
    source = draw(Description(layout=Layout(pose, "full", shift=0.08)), SIZE)
    cue = Cue(role="pose", skeleton=[(float(x), float(y)) for x, y in source.joints / SIZE], weight=1)
    made = make_take(BASE.model_copy(update={"words": "a man in a tunic", "cues": [cue]}), 2)
    height = np.ptp(source.joints[:, 1])
    assert np.hypot(*(made.drawing.joints - source.joints)[1:14].T).max() < 0.05 * height


@given(st.sampled_from(list(POSES)), st.sampled_from(list(POSES)))
def test_a_pose_moves_towards_the_given_one_without_turning_back(own: str, aim: str) -> None:
    a, b = (joints(SUBJECTS["woman"], POSES[p]) for p in (own, aim))
    assert np.allclose(between(a, b, 0.0), a)
    assert np.allclose(between(a, b, 1.0) - between(a, b, 1.0)[1], b - b[1])
    bones = [(p - p[2])[3] for p in (a, *(between(a, b, w) for w in (0.25, 0.5, 0.75)), b)]  # the right upper arm
    angles = np.unwrap([np.arctan2(y, x) for x, y in bones])
    assert (np.diff(angles) * np.sign(angles[-1] - angles[0]) >= -1e-9).all()


def test_a_missing_wrist_stays_the_seeds_own() -> None:
    skeleton = joints(SUBJECTS["woman"], POSES["walking"]) * 40 + 128
    skeleton[7] = np.nan
    layout = posed(Layout("standing", "full"), Person(), skeleton / SIZE, 1.0, SIZE)
    assert np.isfinite(np.array(layout.skeleton)).all()


def test_a_pose_cue_without_any_joint_changes_nothing() -> None:
    nothing = BASE.model_copy(update={"cues": [Cue(role="pose", skeleton=[None] * 18, weight=1)]})
    assert make_take(nothing, 3).image.tobytes() == make_take(BASE, 3).image.tobytes()


# -- structure -------------------------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def target() -> np.ndarray:
    return make_take(
        Recipe(words="a boy in a mustard rain cape on the night train at dusk, full figure", width=256, height=256, steps=4), 8
    ).image


def agreement(role: str, weight: float, target: np.ndarray, seed: int = 4) -> float:
    free = BASE.model_copy(update={"words": "a woman in the bell tower at noon", "cues": [Cue(role=role, picture=A, weight=weight)]})
    made = make_take(free, seed, {A: target}).image
    if role == "edges":
        return edge_f_score(edges(made), edges(target))
    return -float(np.abs(coarse_tone(made) - coarse_tone(target)).mean())


@pytest.mark.statistics
@pytest.mark.parametrize("role", ["edges", "tone", "sketch"])
def test_structure_is_followed_more_with_more_weight(role: str, target: np.ndarray) -> None:
    none, half, full = (agreement(role, w, target) for w in (0.0, 0.5, 1.0))
    assert none < half < full


def test_a_control_acts_only_in_its_area(target: np.ndarray) -> None:
    plain = np.full((256, 256, 3), 0.1, np.float32)
    inside = control("tone", 1.0, target, LEFT[..., 0].astype(np.float32) / 255).added_to(plain)
    assert np.array_equal(inside[:, 128:], plain[:, 128:])
    assert np.abs(inside[:, :128] - plain[:, :128]).mean() > 0.02
    one, other = draw(Description(layout=Layout("dancing", "full")), SIZE), draw(Description(place="kitchen"), SIZE)
    halves = other.image.copy()
    halves[:, :128] = one.image[:, :128]
    asked = control("tone", 1.0, halves, LEFT[..., 0].astype(np.float32) / 255)
    assert asked.agreement(one) > 0.95 > asked.agreement(other)


def test_a_sketch_acts_only_where_something_was_painted() -> None:
    board = np.zeros((64, 64, 4), np.uint8)
    board[:, :32] = (220, 40, 40, 255)
    x = control("sketch", 1.0, board).added_to(np.zeros((64, 64, 3), np.float32))
    assert x[32, 8, 0] > 0.4
    assert np.abs(x[:, 48:]).max() < 0.02


@pytest.mark.parametrize("role", ["edges", "tone", "depth", "sketch"])
def test_a_drawing_agrees_with_itself_more_than_with_another(role: str) -> None:
    one, two = (
        draw(Description(layout=Layout("dancing", "full")), SIZE),
        draw(Description(place="kitchen", layout=Layout("sitting", "half")), SIZE),
    )
    asked = control(role, 1.0, one.image, depth=one.depth)
    assert asked.agreement(one) > asked.agreement(two) + 0.1
    if role != "sketch":  # which asks for parts, not for colours
        assert asked.agreement(one) == pytest.approx(1, abs=0.02)


def test_a_sketch_is_followed_by_who_stands_in_its_shapes() -> None:
    board = np.full((256, 256, 3), (240, 200, 150), np.uint8)
    board[150:] = (60, 80, 90)
    cv2.rectangle(board, (150, 110), (230, 255), (150, 40, 40), -1)
    cv2.ellipse(board, (190, 80), (30, 38), 0, 0, 360, (225, 170, 140), -1)
    free = BASE.model_copy(update={"words": "a woman, half figure"})
    plain, drawn = (make_take(free.model_copy(update={"cues": c}), 3, {A: board}) for c in ([], [Cue(role="sketch", picture=A, weight=1)]))
    assert abs(drawn.drawing.shown[0].head[0] - 190) < abs(plain.drawing.shown[0].head[0] - 190)
    assert drawn.image[200, 190, 0] > drawn.image[200, 190, 2] + 40


def test_the_same_structure_cue_without_weight_changes_no_byte(target: np.ndarray) -> None:
    silent = BASE.model_copy(update={"cues": [Cue(role="edges", picture=A, weight=0)]})
    assert make_take(silent, 3, {A: target}).image.tobytes() == make_take(BASE, 3).image.tobytes()


@pytest.mark.statistics
def test_the_composition_agrees_the_more_the_heavier_the_cue_and_is_the_seeds_own_without() -> None:
    free = BASE.model_copy(update={"words": "a woman in the bell tower"})
    beliefs = Beliefs(free)
    own = beliefs.composition(np.random.default_rng(2))
    example = beliefs.exemplars(own, np.random.default_rng(3), 1)[0]
    picture = draw(replace(example, layout=Layout("dancing", "full", shift=0.15)), SIZE).image
    reached = []
    for amount in (1e-6, 0.3, 0.6, 1.0):
        asked = control("edges", amount, picture)
        composition, place = choose(own, example, beliefs, [asked], SIZE, lambda: None)
        if amount < 0.01:
            assert composition == own
        drawing = draw(replace(example, layout=composition.stances[0].layout, place=place), (80, 80))
        reached.append(asked.agreement(drawing))
        assert place == "bell tower"  # the words rule the others out
    assert (np.diff(reached) >= 0).all()
    assert reached[-1] > reached[0] + 0.05


@pytest.mark.parametrize("subject", ["girl", "man"])
@pytest.mark.parametrize("box", [(0.05, 0.1, 0.4, 0.95), (0.5, 0.3, 0.95, 1.0), (0.1, 0.1, 0.9, 0.9)])
def test_a_whole_figure_fills_its_box_and_stays_in_it(subject: str, box: tuple[float, float, float, float]) -> None:
    layout = standing_in(box, Layout("standing", "full"), Person(subject=subject), SIZE)
    figure = draw(Description(subject=subject, layout=layout), SIZE).figures == 1
    ys, xs = np.nonzero(figure)
    assert xs.mean() / 256 == pytest.approx((box[0] + box[2]) / 2, abs=0.04)
    assert ys.max() / 256 == pytest.approx(box[3], abs=0.05)
    assert ys.min() / 256 > box[1] - 0.04


# -- regions ---------------------------------------------------------------------------------------------------


@settings(deadline=None)
@given(st.integers(0, 1000), st.integers(1, 5))
def test_masks_partition_the_picture(seed: int, n: int) -> None:
    rng = np.random.default_rng(seed)
    masks = [rng.random((7, 9), np.float32) * (rng.random() > 0.2) for _ in range(n)]
    parts = shares(masks, (7, 9))
    assert len(parts) == n + 1
    assert np.allclose(sum(parts), 1, atol=1e-5)
    assert all((p >= -1e-6).all() for p in parts)


def test_the_overlap_of_masks_is_a_share_of_the_smaller() -> None:
    a, b = np.zeros((10, 10), np.float32), np.zeros((10, 10), np.float32)
    a[:, :6], b[:, 5:] = 1, 1
    assert overlap(a, b) == pytest.approx(10 / 50)
    assert overlap(a, b * 0) == 0


def test_a_colour_stays_in_its_region() -> None:
    recipe = BASE.model_copy(update={"regions": [Region(mask=M, words="red coat", feather=0)]})
    plain, made = make_take(BASE, 3), make_take(recipe, 3, {M: LEFT})
    coat = np.isin(plain.drawing.labels, (Part.OUTER, Part.SLEEVE))
    lab = rgb_to_lab(made.image.astype(np.float32) / 255)
    left = LEFT[..., 0] > 0
    assert np.median(lab[coat & left][:, 1]) > 40
    assert np.median(lab[coat & ~left][:, 1]) < 20
    assert np.array_equal(made.image[~left], plain.image[~left])


def test_two_regions_hold_two_people_each_with_what_was_said_of_them() -> None:
    regions = [
        Region(mask=M, words="a girl with copper hair in a moss tunic"),
        Region(mask=N, words="Oda Brask, an old woman with silver curls"),
    ]
    recipe = BASE.model_copy(update={"words": "in the bell tower at noon", "regions": regions, "guidance": 9.0})
    take = make_take(recipe, 1, {M: LEFT, N: 255 - LEFT})
    girl, woman = take.drawing.shown
    assert (girl.person.subject, girl.person.hair_colour) == ("girl", "copper")
    assert (woman.person.subject, woman.person.hair) == ("old woman", "curls")
    assert girl.head[0] < 128 < woman.head[0]


def test_what_a_persons_region_lends_reaches_only_them() -> None:
    flat = np.full((32, 32, 3), (120, 110, 100), np.uint8)
    readings = {B: Reading(read_palette(flat), {"outfit": {"ball gown": 1.0}, "glasses": {"yes": 1.0}})}
    regions = [Region(mask=M, words="a girl"), Region(mask=N, words="an old woman", cues=[Cue(picture=B, weight=1.2)])]
    recipe = BASE.model_copy(update={"words": "in the bell tower at noon", "regions": regions, "guidance": 9.0})
    gowns = glasses = 0
    for seed in range(4, 8):
        girl, woman = (s.person for s in make_take(recipe, seed, {M: LEFT, N: 255 - LEFT, B: flat}, readings=readings).drawing.shown)
        gowns += (woman.outfit == "ball gown") - (girl.outfit == "ball gown")
        glasses += woman.glasses - girl.glasses
    assert gowns >= 3
    assert glasses >= 3


def test_a_region_of_no_strength_without_words_or_with_an_empty_mask_changes_no_byte() -> None:
    plain = make_take(BASE, 5).image.tobytes()
    for region, mask in itertools.product([Region(mask=M, words="red coat", strength=0), Region(mask=M)], [LEFT]):
        assert make_take(BASE.model_copy(update={"regions": [region]}), 5, {M: mask}).image.tobytes() == plain
    assert make_take(BASE.model_copy(update={"regions": [Region(mask=M, words="red coat")]}), 5, {M: LEFT * 0}).image.tobytes() == plain


def test_a_region_may_have_references_of_its_own() -> None:
    red = np.full((32, 32, 3), (190, 30, 30), np.uint8)
    region = Region(mask=M, words="at dusk", cues=[Cue(picture=B, weight=1)], feather=0)
    made = make_take(BASE.model_copy(update={"regions": [region]}), 3, {M: LEFT, B: red})
    assert np.array_equal(made.image[:, 128:], make_take(BASE, 3).image[:, 128:])


def test_a_soft_mask_fades() -> None:
    fading = cv2.resize(np.tile(np.linspace(255, 0, 256, dtype=np.uint8), (256, 1)), (256, 256))
    mask = np.repeat(fading[..., None], 3, 2)
    plain = make_take(BASE, 3).image.astype(int)
    made = make_take(BASE.model_copy(update={"regions": [Region(mask=M, words="at night")]}), 3, {M: mask}).image
    change = np.abs(made - plain).mean((0, 2))
    assert change[:60].mean() > change[100:150].mean() > change[230:].mean()
