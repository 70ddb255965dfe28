"""What references lend: attributes, faces, colours, by role, weight, span and balance."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mosskeeper.core.diffusion.conditioning import EARLY, LATE, References, amount_of
from mosskeeper.core.diffusion.palette_pulls import Pulls
from mosskeeper.core.illustrator.description import Description, Face, Layout
from mosskeeper.core.pictures.areas import area_mask
from mosskeeper.core.reading.palette import read_palette
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.takes.regions import read_areas
from tests.core.few import make_take

A, B, C = "a" * 64, "b" * 64, "c" * 64
FLAT = np.full((40, 32, 3), (200, 90, 60), np.uint8)
PLAIN = Recipe(width=256, height=256, steps=4)


def read(confidence: float = 1.0, **attributes: str) -> Reading:
    return Reading(read_palette(FLAT), {a.replace("_", " "): {v: confidence} for a, v in attributes.items()})


def lent(*cues: Cue, readings: dict[str, Reading] | None = None, balance: bool = False, steps: int = 20) -> References:
    return References(list(cues), {A: FLAT, B: FLAT, C: FLAT}, readings or {}, steps, balance)


def share(recipe: Recipe, readings: dict[str, Reading], field: str, value: object, seeds: int = 4) -> float:
    made = [make_take(recipe, seed, {A: FLAT, B: FLAT}, readings=readings).description for seed in range(seeds)]
    return float(np.mean([getattr(d, field) == value for d in made]))


@given(st.floats(0.01, 1.5), st.integers(4, 60), st.floats(-0.9, 0.9))
def test_a_cue_over_the_whole_denoising_acts_with_its_weight(weight: float, steps: int, lean: float) -> None:
    assert amount_of(Cue(picture=A, weight=weight), steps, lean) == pytest.approx(weight)


@given(st.integers(1, 99), st.sampled_from([EARLY, 0.0, LATE]))
def test_the_parts_of_a_span_add_up_to_the_whole(cut: int, lean: float) -> None:
    early, late = (amount_of(Cue(picture=A, weight=1, start=s, end=e), 20, lean) for s, e in ((0, cut), (cut, 100)))
    assert early + late == pytest.approx(1)


def test_early_steps_count_more_for_the_place_and_late_ones_for_the_skin() -> None:
    readings = {A: read(place="kitchen", skin="ebony")}

    def halves(role: str) -> tuple[References, References]:
        early, late = (lent(Cue(picture=A, role=role, weight=1, start=s, end=e), readings=readings) for s, e in ((0, 50), (50, 100)))
        return early, late

    early, late = halves("place")
    assert early.scores("place")["kitchen"] > late.scores("place")["kitchen"]
    early, late = halves("face")
    assert early.scores("skin").get("ebony", 0) < late.scores("skin")["ebony"]


@pytest.mark.parametrize(
    ("role", "gives", "keeps"),
    [
        ("face", "skin", "outfit"),
        ("outfit", "outfit", "skin"),
        ("place", "place", "outfit"),
        ("look", "skin", "place"),
        ("light", "time", "place"),
        ("style", "finish", "skin"),
        ("palette", "", "place"),
    ],
)
def test_a_role_lends_only_what_it_is_about(role: str, gives: str, keeps: str) -> None:
    readings = {A: read(skin="ebony", outfit="ball gown", place="kitchen", pose="dancing", time="night", finish="chalk")}
    some = lent(Cue(picture=A, role=role, weight=1), readings=readings)
    assert not some.scores(keeps)
    assert not gives or some.scores(gives)


@pytest.mark.statistics
def test_a_reading_reaches_the_take_in_proportion_to_the_weight() -> None:
    readings = {A: read(place="kitchen", time="night", weather="snow", light="low key")}
    takes = [
        [
            make_take(
                PLAIN.model_copy(update={"cues": [Cue(picture=A, role="place", weight=w)]}), s, {A: FLAT}, readings=readings
            ).description
            for s in range(3)
        ]
        for w in (0.0, 0.15, 0.3, 1.0)
    ]
    carried = [
        np.mean([(d.place == "kitchen") + (d.time == "night") + (d.weather == "snow") + (d.light == "low key") for d in of]) for of in takes
    ]
    assert carried == sorted(carried)
    assert carried[0] < carried[1] < carried[2] < carried[3] == 4


@pytest.mark.statistics
@pytest.mark.parametrize("weight", [0.4, 1.5])
def test_words_go_before_a_reference_for_what_they_name(weight: float) -> None:
    recipe = PLAIN.model_copy(update={"words": "in the bell tower", "cues": [Cue(picture=A, role="place", weight=weight)]})
    assert share(recipe, {A: read(place="kitchen", time="night")}, "place", "bell tower") == 1
    assert share(recipe, {A: read(place="kitchen", time="night")}, "time", "night") == 1  # of which they say nothing
    deaf = recipe.model_copy(update={"guidance": 0.0})
    assert share(deaf, {A: read(place="kitchen")}, "place", "kitchen") == 1


@pytest.mark.statistics
def test_a_word_that_leaves_the_age_open_takes_it_from_the_reference() -> None:
    cue = Cue(picture=A, role="face", weight=0.8)
    readings = {A: read(subject="old woman")}
    for words, subject in (("a woman", "old woman"), ("a girl", "girl")):
        assert share(PLAIN.model_copy(update={"words": words, "cues": [cue]}), readings, "subject", subject) == 1


def test_a_face_comes_nearer_with_the_weight_and_never_jumps() -> None:
    theirs = Face.sampled(np.random.default_rng(5))
    own = Face.sampled(np.random.default_rng(6))
    readings = {A: Reading(read_palette(FLAT), face=theirs)}
    left = [
        float(np.abs(lent(Cue(picture=A, role="face", weight=w), readings=readings).face(own).as_array() - theirs.as_array()).sum())
        for w in np.linspace(0.01, 1, 11)
    ]
    assert (np.diff(left) <= 0).all()
    assert left[-1] == 0
    assert -np.diff(left).min() < 0.25 * left[0]


def test_balance_makes_a_sure_and_an_unsure_reading_equal() -> None:
    readings = {A: read(1.0, place="kitchen"), B: read(0.75, place="night train")}
    cues = (Cue(picture=A, role="place", weight=0.6), Cue(picture=B, role="place", weight=0.6))
    one, even = lent(*cues, readings=readings).scores("place"), lent(*cues, readings=readings, balance=True).scores("place")
    assert one["kitchen"] > one["night train"] + 0.5
    assert even["kitchen"] == pytest.approx(even["night train"])


@pytest.mark.statistics
@settings(max_examples=3, deadline=None)
@given(st.permutations([0, 1, 2]))
def test_the_order_of_three_references_changes_no_byte(order: list[int]) -> None:
    cues = [Cue(picture=A, weight=0.5), Cue(picture=B, role="outfit", weight=0.8), Cue(picture=C, role="face", weight=0.3)]
    readings = {A: read(place="kitchen", hair="bun"), B: read(outfit="ball gown"), C: read(skin="umber")}
    pictures = {A: FLAT, B: FLAT[:, ::-1] // 2, C: FLAT // 3}
    usual, other = (
        make_take(PLAIN.model_copy(update={"cues": c}), 3, pictures, readings=readings) for c in (cues, [cues[i] for i in order])
    )
    assert usual.image.tobytes() == other.image.tobytes()


def test_an_outfit_reference_dyes_the_clothes_and_not_the_place() -> None:
    base = PLAIN.model_copy(update={"words": "a woman in a tunic in the bell tower at noon, half figure"})
    readings = {A: Reading(read_palette(FLAT), {"outfit": {"tunic": 1.0}}, colours={"colour": (0.1, 0.2, 0.8)})}
    plain, dyed = (
        make_take(base, 2),
        make_take(base.model_copy(update={"cues": [Cue(picture=A, role="outfit", weight=1)]}), 2, {A: FLAT}, readings=readings),
    )
    assert np.hypot(*(np.array(dyed.description.colour_a) - (0.1, 0.2, 0.8))[:2]) < np.hypot(
        *(np.array(plain.description.colour_a) - (0.1, 0.2, 0.8))[:2]
    )
    behind = plain.drawing.labels < 4
    assert np.abs(plain.image.astype(int) - dyed.image)[behind & (dyed.drawing.labels < 4)].mean() < 4


@pytest.mark.statistics
@given(st.integers(1, 59), st.integers(4, 40))
def test_the_pulls_of_two_halves_add_up_to_that_of_the_whole(cut: int, steps: int) -> None:
    def at_the_end(start: float, end: float) -> float:
        some = lent(Cue(picture=A, role="palette", weight=0.8, start=start, end=end), steps=steps)
        pulls = Pulls(some.lent, steps, False, {})
        for i in range(steps):
            pulls.advance(i)
        return pulls.amounts()[0]

    assert at_the_end(0, cut) + at_the_end(cut, 100) == pytest.approx(at_the_end(0, 100)) == pytest.approx(0.8)


def test_roles_without_colours_pull_none() -> None:
    assert not Pulls(lent(Cue(picture=A, role="face", weight=1)).lent, 20, False, {})
    x = np.zeros((8, 8, 3), np.float32)
    silent = Pulls(lent(Cue(picture=A, role="palette", weight=1)).lent, 20, False, {})
    assert silent.applied(x) is x  # before it has begun


@pytest.mark.statistics
def test_a_reference_with_an_area_changes_nothing_outside_of_it() -> None:
    readings = {A: read(place="kitchen", time="night"), B: read(place="bell tower", time="noon")}
    pictures = {A: FLAT, B: 255 - FLAT, C: area_mask("left")}
    base = Recipe(words="a woman in a red tunic", width=256, height=256, steps=8, cues=[Cue(picture=B, role="place", weight=0.6)])
    plain = make_take(base, 5, pictures, readings=readings).image.astype(int)
    for role in ("look", "place", "palette"):
        confined = base.model_copy(update={"cues": [*base.cues, Cue(picture=A, role=role, area=C, weight=1)]})
        made = make_take(confined, 5, pictures, readings=readings).image.astype(int)
        assert np.abs(made - plain)[:, 150:].max() <= 1
        assert np.abs(made - plain)[:, :100].mean() > 3


def test_a_reference_confined_to_everything_acts_like_one_without_an_area() -> None:
    readings = {A: read(hair="bun", outfit="ball gown")}
    cues = [Cue(picture=A, weight=0.8), Cue(picture=A, weight=0.8, area=C)]
    free, confined = (
        make_take(PLAIN.model_copy(update={"cues": [cue]}), 3, {A: FLAT, C: np.full_like(FLAT, 255)}, readings=readings) for cue in cues
    )
    assert confined.explained is not None
    assert confined.explained.layers[-1].scene.description == free.description
    assert np.abs(free.image.astype(int) - confined.image).mean() < 5  # the colours are pulled from what is there


@pytest.mark.parametrize(
    ("role", "takes", "leaves"),
    [
        ("place", ("place", "light"), ("eyes", "outfit", "face")),
        ("outfit", ("outfit", "worn", "colour_a"), ("eyes", "place", "hair")),
        ("face", ("eyes", "face"), ("outfit", "place")),
        ("look", ("eyes", "outfit", "hair", "hair_colour"), ("subject", "finish", "place", "layout")),
    ],
)
def test_in_its_area_a_reference_changes_only_what_its_role_lends(role: str, takes: tuple[str, ...], leaves: tuple[str, ...]) -> None:
    own = Recipe(cues=[Cue(picture=A, role=role, area=C)])
    (patch,) = read_areas(own, {C: area_mask("left")})
    rng = np.random.default_rng(1)
    here = Description(
        eyes="brown",
        outfit="apron",
        face=Face.sampled(rng),
        place="kitchen",
        light="candles",
        worn=("scarf",),
        colour_a=(0, 0, 1),
        hair="bun",
        hair_colour="black",
        subject="man",
        finish=("chalk",),
        layout=Layout("dancing"),
    )
    drawn = patch.described(Description(), here)
    assert all(getattr(drawn, name) == getattr(here, name) for name in takes)
    assert all(getattr(drawn, name) == getattr(Description(), name) for name in leaves)
