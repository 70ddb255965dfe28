"""Choosing by name, acts on masks, masks carried over to other pictures, instructions, variants."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from mosskeeper.core.illustrator.description import Description, Layout, Part, Person
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import Scene, Thing, scene_of
from mosskeeper.core.mending.ask.changed_scene import Leeway
from mosskeeper.core.mending.ask.instructions import plainly, resizing
from mosskeeper.core.mending.ask.landscape import empty_canvas
from mosskeeper.core.mending.choose.carried_mask import Nowhere, carried_mask, meant
from mosskeeper.core.mending.choose.choices import Choices, choices_of_drawing, choices_of_reading
from mosskeeper.core.mending.choose.mask_edits import ACTS, acted, by_colour, grown, laid_on, shrunk, smoothed, without_holes
from mosskeeper.core.mending.choose.mask_report import told_mask
from mosskeeper.core.mending.choose.quick import Quick, opened_by, quick_mends
from mosskeeper.core.mending.redraw.mend import Mended, Opening, mend
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.reader import read

SIZE = (256, 320)
GIRL = Description(
    subject="girl",
    hair="braid",
    hair_colour="copper",
    outfit="festival coat",
    prop="lantern",
    place="bell tower",
    layout=Layout("waving", "half"),
)
PAIR = replace(
    GIRL,
    prop="nothing",
    layout=Layout("standing", "full", shift=-0.18),
    others=(Person("man", layout=Layout("standing", "full", shift=0.2)),),
)
masks = arrays(bool, st.tuples(st.integers(5, 24), st.integers(5, 24)))


def drawn(description: Description) -> tuple[Scene, np.ndarray, Choices]:
    scene = scene_of(description, SIZE)
    drawing = LayeredScenes.of([scene]).drawn()
    return scene, drawing.image, choices_of_drawing(drawing, scene)


def offered(choices: Choices) -> dict[str, Quick]:
    return {one.key: one for one in quick_mends(choices)}


SCENE, PICTURE, CHOICES = drawn(GIRL)
TWO = drawn(PAIR)[2]


def changed(words: str, mask: np.ndarray, seed: int | None = None, description: Description = GIRL, negative: str = "") -> Mended:
    scene = scene_of(description, SIZE)
    explained = LayeredScenes.of([scene])
    leeway = None if seed is None else Leeway(None, np.random.default_rng(seed))

    def nobody(words: str, rng: np.random.Generator) -> Person:
        return Person("old man", layout=Layout("standing", "full"))

    return mend(explained.drawn().image, explained, mask, words, negative, nobody, Opening(3.0, True), leeway=leeway)


def test_parts_are_chosen_as_they_were_drawn_and_a_figure_is_all_of_its_parts() -> None:
    drawing = LayeredScenes.of([SCENE]).drawn()
    assert np.array_equal(CHOICES.mask("1 hair"), (drawing.labels == Part.HAIR) & (drawing.figures == 1))
    assert np.array_equal(CHOICES.mask("1 thing in the hand"), (drawing.labels == Part.PROP) & (drawing.figures == 1))
    figure = CHOICES.mask("1 figure")
    assert (figure & (drawing.figures == 1)).sum() > 0.98 * (drawing.figures == 1).sum()
    for choice in CHOICES.choices:
        if choice.figure == 0 and not choice.key.startswith("but"):
            assert not (CHOICES.mask(choice.key) & ~figure).any(), choice.key
    assert np.array_equal(CHOICES.mask("but 1"), ~figure)
    with pytest.raises(KeyError):
        CHOICES.mask("1 wings")


def test_eyes_and_hands_lie_where_the_drawing_has_them() -> None:
    shown = LayeredScenes.of([SCENE]).drawn().shown[0]
    for side in ("right", "left"):
        x, y = shown.landmarks[f"{side} pupil"].round().astype(int)
        assert CHOICES.mask(f"1 {side} eye")[y, x]
    assert not (CHOICES.mask("1 right eye") & CHOICES.mask("1 left eye")).any()


def test_what_can_be_chosen_survives_being_kept() -> None:
    again = Choices.from_json(CHOICES.atoms, CHOICES.to_json())
    assert again.choices == CHOICES.choices
    assert again.frames == CHOICES.frames
    with pytest.raises(ValueError, match="damaged"):
        Choices.from_json(CHOICES.atoms, {"choices": 3})


def test_figures_are_called_by_name_and_alike_ones_from_the_left() -> None:
    assert CHOICES.called(["Marrit"]).people == ("Marrit",)
    assert next(c.name for c in CHOICES.called(["Marrit"]).choices if c.key == "1 hair") == "Marrit’s hair"
    assert set(TWO.people) == {"the girl", "the man"}
    twins = drawn(replace(PAIR, others=(Person("girl", layout=Layout("standing", "full", shift=0.2)),)))[2]
    assert twins.people == ("the girl 1 from the left", "the girl 2 from the left")


def test_things_that_stand_there_have_their_names() -> None:
    scene = replace(SCENE, things=(Thing("fox", (200.0, 300.0), 60.0),))
    choices = choices_of_drawing(LayeredScenes.of([scene]).drawn(), scene)
    assert [c.name for c in choices.choices if c.key.startswith("thing")] == ["the fox"]
    assert choices.mask("thing 1").sum() > 100
    assert "thing 1" in offered(choices)


def test_a_read_picture_has_about_the_parts_that_were_drawn() -> None:
    found = choices_of_reading(read(PICTURE), SIZE)
    for key in ("1 hair", "1 figure", "1 face"):
        a, b = CHOICES.mask(key), found.mask(key)
        assert (a & b).sum() / (a | b).sum() > 0.6, key


def test_a_mask_says_what_it_is_of() -> None:
    named = CHOICES.called(["Marrit"])
    told = told_mask(grown(named.mask("1 hair"), 2), named)
    assert told[0] == "Marrit’s hair"
    assert "px" in told[-1]
    assert "nothing is chosen" in told_mask(np.zeros(SIZE[::-1], bool), named)[0]
    assert told_mask(np.ones(SIZE[::-1], bool), named) == ["all of the picture"]
    dot = np.zeros(SIZE[::-1], bool)
    dot[100, 100] = True
    assert any("nothing that can be drawn fits" in sentence for sentence in told_mask(dot, named))
    half = named.mask("1 hair") & (np.arange(SIZE[1])[:, None] < np.nonzero(named.mask("1 hair"))[0].mean())
    assert "touches" in told_mask(half, named)[0]


@given(masks, st.floats(1, 6))
def test_grown_holds_the_mask_and_shrunk_lies_in_it(mask: np.ndarray, px: float) -> None:
    assert not (mask & ~grown(mask, px)).any()
    assert not (shrunk(mask, px) & ~mask).any()
    if mask.any() and not mask.all():
        assert grown(mask, px).sum() > mask.sum()
        assert shrunk(mask, px).sum() < mask.sum()


@given(masks)
def test_acts_keep_the_shape_and_turning_over_twice_is_nothing(mask: np.ndarray) -> None:
    for act in ACTS:
        assert acted(mask, act).shape == mask.shape
    assert np.array_equal(acted(acted(mask, "turn over"), "turn over"), mask)
    filled = without_holes(mask)
    assert not (mask & ~filled).any()
    assert np.array_equal(without_holes(filled), filled)
    assert np.array_equal(laid_on(mask, mask, "add"), mask)
    assert not laid_on(mask, mask, "take").any()


def test_a_ring_is_filled_and_a_hair_is_smoothed_away() -> None:
    mask = np.zeros((40, 40), bool)
    mask[10:30, 10:30] = True
    mask[15:25, 15:25] = False
    assert without_holes(mask)[20, 20]
    mask[5, 2:38] = True
    assert not smoothed(mask, 2)[5, 5]


def test_a_colour_is_chosen_as_far_as_it_hangs_together() -> None:
    picture = np.full((30, 40, 3), 230, np.uint8)
    picture[5:15, 5:15] = picture[5:15, 25:35] = (200, 40, 40)
    found = by_colour(np.asarray(rgb_to_lab(picture.astype(np.float32) / 255), np.float32), (8, 8), 10)
    assert found[5:15, 5:15].all()
    assert found.sum() == 100


@pytest.mark.parametrize("key", ["1 hair", "1 face", "1 thing in the hand", "1 head", "1 coat"])
def test_a_mask_of_a_part_is_carried_to_that_part(key: str) -> None:
    other = drawn(replace(GIRL, layout=Layout("standing", "half", shift=0.12, zoom=0.85, facing=-1), hair_colour="silver"))[2]
    carried = carried_mask(grown(CHOICES.mask(key), 3), CHOICES, other)
    own = other.mask(key)
    assert (carried & own).sum() > 0.98 * own.sum()
    assert carried.sum() < 2.0 * own.sum()


def test_a_mask_beside_the_head_stays_beside_the_head_and_who_is_not_there_is_told() -> None:
    head = CHOICES.frames[0].at["head"]
    mask = np.zeros(SIZE[::-1], bool)
    y, x = int(head[1] - 1.6 * head[2]), int(head[0])
    mask[max(0, y - 12) : y + 12, x - 14 : x + 14] = True
    other = drawn(replace(GIRL, layout=Layout("standing", "half", shift=0.15, zoom=0.9)))[2]
    ys, xs = np.nonzero(carried_mask(mask, CHOICES, other))
    there = other.frames[0].at["head"]
    assert abs(xs.mean() - there[0]) < 0.35 * there[2]
    assert ys.mean() < there[1] - there[2]
    assert [c.key for c in meant(TWO.mask("2 figure"), TWO)] == ["2 figure"]
    with pytest.raises(Nowhere, match="not seen"):
        carried_mask(TWO.mask("2 figure"), TWO, CHOICES)


@pytest.mark.parametrize(
    ("words", "what", "larger"),
    [
        ("make the fox bigger", "fox", True),
        ("a smaller lantern", "lantern", False),
        ("make her hair longer", "hair", True),
        ("larger hat", "hat", True),
    ],
)
def test_bigger_and_smaller_are_heard(words: str, what: str, larger: bool) -> None:
    found = resizing(words)
    assert found is not None
    assert (what in found.what, found.by > 1) == (True, larger)


def test_off_and_on_are_said_as_descriptions_are() -> None:
    assert plainly("glasses off") == "without glasses"
    assert plainly("hat on") == "hat"
    assert plainly("a red hat") == "a red hat"
    assert resizing("a big red coat") is None


def test_a_prop_is_drawn_larger_by_redrawing() -> None:
    mask = grown(CHOICES.mask("1 thing in the hand"), 40)
    made = changed("make the lantern bigger", mask)
    assert (made.after.labels == Part.PROP).sum() > 1.3 * (made.before.labels == Part.PROP).sum()
    assert any("larger" in sentence for sentence in made.says)
    assert any("ground gives" in sentence for sentence in changed("make her bigger", mask).says)


@pytest.mark.parametrize(("words", "part"), [("give her a beanie", Part.HEADWEAR), ("add glasses", Part.ACCESSORY)])
def test_instructions_are_understood_as_what_they_name(words: str, part: Part) -> None:
    made = changed(words, grown(CHOICES.mask("1 head"), 20))
    assert (made.after.labels == part).sum() > (made.before.labels == part).sum() + 60


def test_variants_differ_in_what_words_leave_open_and_obey_what_they_name() -> None:
    mask = grown(CHOICES.mask("1 hair"), 14)
    made = [changed("a hat", mask, seed) for seed in (1, 2, 3)]
    labs = [rgb_to_lab(one.picture.astype(np.float32) / 255)[mask] for one in made]
    for a, b in ((0, 1), (0, 2), (1, 2)):
        assert np.linalg.norm(labs[a] - labs[b], axis=1).mean() > 6
    assert all((one.after.labels == Part.HEADWEAR).sum() > 200 for one in made)
    again = changed("a hat", mask, 1)
    assert np.array_equal(again.picture, made[0].picture)


def test_quick_mends_are_those_of_what_is_seen() -> None:
    keys = {one.key for one in quick_mends(CHOICES)}
    assert {"1 hat on", "1 empty hand", "1 eyes"} <= keys
    assert "1 hat off" not in keys
    hatted = drawn(replace(GIRL, headwear="hat"))[2]
    assert {"1 hat off"} <= {one.key for one in quick_mends(hatted)}
    assert "1 hat on" not in offered(hatted)
    assert all("the man" in one.name or "the girl" in one.name for one in quick_mends(TWO) if one.key[0] in "12")


def test_a_hat_by_one_press_opens_the_head_and_no_more_than_a_hat_needs() -> None:
    mask, head = opened_by(offered(CHOICES)["1 hat on"], CHOICES), CHOICES.frames[0].at["head"]
    assert mask[max(0, int(head[1] - head[2])), int(head[0])]
    ys, xs = np.nonzero(mask)
    assert np.ptp(xs) < 4.2 * head[2]
    assert ys.max() < head[1] + 3 * head[2]


def test_on_an_empty_canvas_part_after_part_makes_one_scene() -> None:
    explained = empty_canvas(SIZE)
    picture = explained.drawn().image
    low, middle = np.zeros(SIZE[::-1], bool), np.zeros(SIZE[::-1], bool)
    low[210:], middle[150:205] = True, True
    person = np.zeros(SIZE[::-1], bool)
    person[120:312, 30:100] = True

    def somebody(words: str, rng: np.random.Generator) -> Person:
        return Person("old woman", layout=Layout("standing", "full"))

    for mask, words in ((low, "sand"), (middle, "the sea"), (middle, "mountains"), (person, "an old woman"), (low & ~person, "a fox")):
        made = mend(picture, explained, mask, words, "", somebody, Opening(3.0, True))
        picture, explained = made.picture, made.explained
        assert made.says
        assert len(explained.layers) == 1
    scene = explained.scene
    assert ([r.kind for r in scene.roughs], [t.name for t in scene.things]) == (["water", "hill"], ["fox"])
    assert (scene.ground[0][0] > scene.ground[0][2], len(scene.description.figures), scene.absent) == (True, 2, {0})
    drawn = explained.drawn()
    assert np.array_equal(drawn.image, picture)
    assert drawn.shown[1].person.subject == "old woman"


def test_what_comes_over_several_layers_is_one_and_whole() -> None:
    scene = scene_of(replace(GIRL, prop="nothing", layout=Layout("standing", "full", shift=-0.2)), SIZE)
    explained = LayeredScenes.of([scene])
    upper = np.zeros(SIZE[::-1], bool)
    upper[:150] = True
    night = mend(explained.drawn().image, explained, upper, "at night", "", lambda w, r: Person(), Opening(3.0))
    assert len(night.explained.layers) == 2
    place = np.zeros(SIZE[::-1], bool)
    place[170:312, 150:230] = True
    made = mend(
        night.picture,
        night.explained,
        place,
        "an old man",
        "",
        lambda w, rng: Person(str(rng.choice(["old man", "boy", "girl"])), layout=Layout("standing", "full")),
        Opening(3.0, True),
        leeway=Leeway(None, np.random.default_rng(4)),
    )
    subjects = {layer.scene.description.figures[1].subject for layer in made.explained.layers if len(layer.scene.description.figures) > 1}
    assert len(subjects) == 1
