from collections.abc import Callable

import cv2
import numpy as np
import pytest

from mosskeeper.core.diffusion.exemplars import GROUPS, recombined
from mosskeeper.core.diffusion.result import Progress
from mosskeeper.core.errors import Stopped
from mosskeeper.core.illustrator.description import Description, Part
from mosskeeper.core.reading.palette import palette_distance, read_palette
from mosskeeper.core.recipe import Cue, Recipe
from tests.core.few import make_take

SHA = "c" * 64
BASE = Recipe(words="a girl in a garden dress in the bell tower at noon, full figure", width=256, height=320, steps=8)


@pytest.fixture(scope="module")
def reference() -> np.ndarray:
    return make_take(Recipe(words="at the canal market at dusk", width=256, height=256, steps=6), 3).image


def with_cue(weight: float, start: float = 0, end: float = 100, on: bool = True) -> Recipe:
    return BASE.model_copy(update={"cues": [Cue(picture=SHA, weight=weight, start=start, end=end, on=on)]})


def distance(recipe: Recipe, reference: np.ndarray, seed: int = 1) -> float:
    return palette_distance(read_palette(make_take(recipe, seed, {SHA: reference}).image), read_palette(reference))


def test_one_recipe_and_seed_give_the_same_bytes() -> None:
    assert make_take(BASE, 7).image.tobytes() == make_take(BASE, 7).image.tobytes()


def test_the_number_of_threads_changes_no_byte() -> None:
    usual = cv2.getNumThreads()
    made = set()
    try:
        for threads in (1, 2, 5):
            cv2.setNumThreads(threads)
            made.add(make_take(BASE, 7).image.tobytes())
    finally:
        cv2.setNumThreads(usual)
    assert len(made) == 1


def test_seeds_give_different_pictures() -> None:
    a, b = make_take(BASE, 1).image.astype(int), make_take(BASE, 2).image.astype(int)
    assert np.abs(a - b).mean() > 3


def test_the_picture_has_the_size_of_the_recipe() -> None:
    assert make_take(BASE.model_copy(update={"width": 320, "height": 256}), 1).image.shape == (256, 320, 3)


@pytest.mark.parametrize("silent", [with_cue(0.0), with_cue(0.9, on=False)])
def test_a_cue_without_weight_or_switched_off_changes_no_byte(silent: Recipe, reference: np.ndarray) -> None:
    assert make_take(silent, 5, {SHA: reference}).image.tobytes() == make_take(BASE, 5).image.tobytes()


@pytest.mark.statistics
@pytest.mark.parametrize("seed", [1, 2, 3])
def test_a_heavier_reference_brings_the_take_closer_to_it_without_jumps(seed: int, reference: np.ndarray) -> None:
    distances = [distance(with_cue(w), reference, seed) for w in np.linspace(0, 1, 6)]
    falls = -np.diff(distances)
    assert distances[-1] < distances[0] * 0.75
    assert (falls > -0.5).all()  # ΔE: what re-measuring a palette may wobble
    assert falls.max() < 0.45 * (distances[0] - distances[-1])


def test_a_cue_that_acts_in_one_half_pulls_less_than_one_that_acts_throughout(reference: np.ndarray) -> None:
    none, early, late, whole = (distance(r, reference) for r in (BASE, with_cue(0.9, 0, 50), with_cue(0.9, 50, 100), with_cue(0.9)))
    assert whole < early < none
    assert whole < late < none


def test_a_span_that_holds_no_step_does_nothing(reference: np.ndarray) -> None:
    empty = make_take(with_cue(0.9, 99.9, 100), 4, {SHA: reference}).image
    assert np.abs(empty.astype(int) - make_take(BASE, 4).image).mean() < 0.5


def test_the_order_of_cues_never_matters(reference: np.ndarray) -> None:
    pictures = {SHA: reference, "d" * 64: reference[:, ::-1] // 2}
    one, two = Cue(picture=SHA, weight=0.4), Cue(picture="d" * 64, weight=0.7)
    a, b = (make_take(BASE.model_copy(update={"cues": cues}), 2, pictures).image for cues in ([one, two], [two, one]))
    assert a.tobytes() == b.tobytes()


def test_a_look_keeps_the_skin(reference: np.ndarray) -> None:
    plain, pulled = make_take(BASE, 6), make_take(with_cue(1.0), 6, {SHA: reference})
    skin = plain.drawing.labels == Part.FACE
    change = np.abs(pulled.image.astype(int) - plain.image).mean(2)
    assert change[skin].mean() < 0.5 * change[~skin].mean()


def test_progress_comes_after_every_step_with_previews_between() -> None:
    seen: list[Progress] = []
    make_take(BASE, 1, report=seen.append)
    assert [p.step for p in seen] == list(range(1, 9))
    previews = [p.preview for p in seen if p.preview is not None]
    assert len(previews) >= 3
    assert all(p.dtype == np.uint8 and p.shape[2] == 3 for p in previews)


def test_a_take_stops_within_one_step() -> None:
    steps: list[int] = []
    with pytest.raises(Stopped):
        make_take(BASE, 1, report=lambda p: steps.append(p.step), should_stop=lambda: len(steps) >= 3)
    assert steps == [1, 2, 3]


def test_a_take_stops_before_its_first_step() -> None:
    with pytest.raises(Stopped):
        make_take(BASE, 1, should_stop=lambda: True)


@pytest.mark.parametrize("sampler", ["euler", "heun", "ancestral"])
def test_every_sampler_draws_what_was_asked(sampler: str) -> None:
    take = make_take(BASE.model_copy(update={"sampler": sampler, "guidance": 9.0}), 3)
    assert (take.description.subject, take.description.outfit, take.description.place) == ("girl", "garden dress", "bell tower")


@pytest.mark.statistics
def test_words_are_found_in_most_takes_and_absent_without_guidance() -> None:
    def share(guidance: float) -> float:
        recipe = Recipe(words="at night on the library stair, a plum cloak", guidance=guidance, width=256, height=256, steps=4)
        made = [make_take(recipe, seed).description for seed in range(6)]
        return sum((d.time == "night") + (d.place == "library stair") + (d.outfit == "night cloak") for d in made) / 18

    assert share(7) > 0.95
    assert share(0) < 0.6


def test_many_exemplars_that_agree_outweigh_one_that_does_not() -> None:
    fair, dark = Description(skin="peach"), Description(skin="ebony", eyes="amber")
    weights = np.full((12, len(GROUPS)), 0.07, np.float32)
    weights[4] = 0.23
    chosen = recombined([dark if k == 4 else fair for k in range(12)], weights)
    assert (chosen.skin, chosen.eyes) == ("peach", fair.eyes)


def test_styles_of_the_recipe_rule_over_words() -> None:
    take = make_take(BASE.model_copy(update={"styles": ["chalk"]}), 1)
    assert take.description.finish == ("chalk",)


def test_a_missing_picture_is_an_error() -> None:
    with pytest.raises(KeyError):
        make_take(with_cue(0.5), 1, {})


def test_two_people_in_the_words_are_two_figures_in_the_take_each_as_described() -> None:
    words = "a girl in a red tunic and an old man in a navy tunic, in the bell tower at noon, full figure"
    right = 0
    for seed in range(6):
        take = make_take(Recipe(words=words, width=256, height=320, steps=8, guidance=8), seed)
        assert len(take.drawing.shown) == 2
        girl, man = (s.person for s in take.drawing.shown)
        assert (girl.subject, man.subject) == ("girl", "old man")
        cloth = [take.image[(take.drawing.figures == n) & np.isin(take.drawing.labels, (Part.TOP, Part.SLEEVE))].mean(0) for n in (1, 2)]
        right += bool(cloth[0][0] > cloth[0][2] + 30 and cloth[1][2] > cloth[1][0])
    assert right >= 5


def test_without_guidance_nobody_joins() -> None:
    take = make_take(Recipe(words="a girl and an old man", width=256, height=256, steps=4, guidance=0), 1)
    assert len(take.drawing.shown) == 1


def test_two_props_and_a_blend_of_expressions_reach_the_take() -> None:
    take = make_take(Recipe(words="a woman, sad and thoughtful, with a lantern and a book", width=256, height=256, steps=6, guidance=12), 2)
    assert {take.description.prop, take.description.second_prop} == {"lantern", "book"}
    assert take.description.expression == "sad+thoughtful"


@pytest.mark.statistics
@pytest.mark.parametrize(
    ("words", "read"),
    [
        ("a woman in profile", lambda d: d.layout.view == "profile"),
        ("a woman looking down", lambda d: d.layout.gaze == "down"),
        ("a woman from above", lambda d: d.layout.angle == "above"),
        ("a woman facing left", lambda d: d.layout.facing == -1),
        ("a woman with a necklace and gloves", lambda d: d.worn == ("necklace", "gloves")),
        ("a woman on the left", lambda d: d.layout.shift < -0.08),
    ],
)
def test_words_about_head_camera_and_accessories_reach_the_take(words: str, read: Callable[[Description], bool]) -> None:
    recipe = Recipe(words=words, width=256, height=256, steps=4, guidance=10)
    assert sum(read(make_take(recipe, seed).description) for seed in range(5)) >= 4
