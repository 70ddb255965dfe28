"""Mends by drawing anew: own takes exact outside the mask, strength without double exposure, foreign pictures as far as explained."""

from dataclasses import replace

import cv2
import numpy as np
import pytest

from mosskeeper.core.diffusion.result import TakeResult
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.description import MOST_FIGURES, Description, Layout, Part, Person
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import Scene, scene_of
from mosskeeper.core.inversion.invert import Inverted, invert
from mosskeeper.core.mending.ask.gaze import Gaze, look
from mosskeeper.core.mending.ask.newcomers import with_somebody
from mosskeeper.core.mending.fill.extension import extended_take, unpainted
from mosskeeper.core.mending.fill.joining import Piece, join
from mosskeeper.core.mending.masks import dilated, hardened, opened_at, softly
from mosskeeper.core.mending.redraw.faces import face_of, put_face, put_face_foreign
from mosskeeper.core.mending.redraw.foreign import mend_foreign
from mosskeeper.core.mending.redraw.mend import Mended, Opening, mend
from mosskeeper.core.reading.classes import PART_OF, PARTS
from mosskeeper.core.reading.reader import read
from mosskeeper.core.recipe import Cue, Recipe, Source
from mosskeeper.core.scenes.interpolation import at_strength, on_composition
from tests.core.few import make_take

SIZE = (256, 320)
A, M = "a" * 64, "b" * 64
HALF = Description(
    hair="braid",
    hair_colour="copper",
    outfit="festival coat",
    prop="lantern",
    place="bell tower",
    time="dusk",
    layout=Layout("waving", "half"),
)
WHOLE = replace(HALF, prop="nothing", layout=Layout("standing", "full", shift=-0.18), others=(Person("man", layout=Layout(shift=0.2)),))


def nobody_else(words: str, rng: np.random.Generator) -> Person:
    return Person("old woman", layout=Layout("standing", "full"))


def explained(description: Description) -> tuple[np.ndarray, LayeredScenes]:
    scenes = LayeredScenes.of([scene_of(description, SIZE)])
    return scenes.drawn().image, scenes


HALF_PICTURE, HALF_SCENES = explained(HALF)
WHOLE_PICTURE, WHOLE_SCENES = explained(WHOLE)


def ellipse(x0: float, y0: float, x1: float, y1: float) -> np.ndarray:
    mask = np.zeros(SIZE[::-1], np.uint8)
    cv2.ellipse(mask, (((x0 + x1) / 2, (y0 + y1) / 2), (x1 - x0, y1 - y0), 0), 255, -1)
    return mask > 0


def about_head(scenes: LayeredScenes, up: float = 1.9, down: float = 1.5, wide: float = 1.8) -> np.ndarray:
    x, y, r = scenes.drawn().head
    return ellipse(x - wide * r, y - up * r, x + wide * r, y + down * r)


def mended(words: str, mask: np.ndarray, negative: str = "", **opening: object) -> Mended:
    return mend(HALF_PICTURE, HALF_SCENES, mask, words, negative, nobody_else, Opening(**opening))  # type: ignore[arg-type]


def person_of(made: Mended) -> Person:
    return made.explained.scene.description.figures[0]


# -- own takes -------------------------------------------------------------------------------------------------


def test_a_take_made_of_words_is_drawn_again_to_the_byte() -> None:
    take = make_take(Recipe(words="a woman in the bell tower at noon, half figure", width=256, height=256, steps=4), 3)
    assert take.explained is not None
    assert np.array_equal(take.explained.drawn().image, take.image)
    assert take.explained.scene.description == take.description


@pytest.mark.parametrize(
    ("words", "part", "field", "value"),
    [
        ("a straw hat", Part.HEADWEAR, "headwear", "straw hat"),
        ("round glasses", Part.ACCESSORY, "glasses", True),
        ("black curls", Part.HAIR, "hair", "curls"),
        ("laughing", Part.MOUTH, "expression", "laughing"),
    ],
)
def test_what_is_asked_is_there_and_nothing_else_moves(words: str, part: Part, field: str, value: object) -> None:
    mask = about_head(HALF_SCENES)
    made = mended(words, mask)
    assert getattr(person_of(made), field) == value
    assert (made.after.labels[mask] == part).sum() > 10
    assert np.array_equal(made.picture[~mask], HALF_PICTURE[~mask])
    assert made.after.head == made.before.head
    assert (made.picture != HALF_PICTURE).any(2).sum() > 20


def test_a_hat_put_on_and_taken_off_again_leaves_the_picture_as_it_was() -> None:
    on = mended("a straw hat", about_head(HALF_SCENES, down=-0.1), grown=True)
    off = mend(on.picture, on.explained, on.mask, "", "hat", nobody_else)
    assert person_of(on).headwear == "straw hat"
    assert person_of(off).headwear == "none"
    assert (np.abs(off.picture.astype(int) - HALF_PICTURE) > 2).any(2).mean() < 0.02


def test_no_words_take_away_what_the_mask_covers() -> None:
    lantern = dilated(HALF_SCENES.drawn().labels == Part.PROP, 21)
    assert person_of(mended("", lantern)).prop == "nothing"
    man = dilated(WHOLE_SCENES.drawn().figures == 2, 9)
    made = mend(WHOLE_PICTURE, WHOLE_SCENES, man, "", "", nobody_else)
    assert made.explained.scene.absent == {1}
    assert not (made.after.figures == 2).any()
    assert np.array_equal(made.picture[~man], WHOLE_PICTURE[~man])


def test_everything_that_was_done_is_said() -> None:
    everywhere = np.ones(SIZE[::-1], bool)
    for words, negative, sentence in (
        ("a red coat", "", "coat: red"),
        ("round glasses", "", "glasses on"),
        ("", "lantern", "taken out of the hand"),
        ("at night", "", "time: night"),
    ):
        assert any(sentence in told for told in mended(words, everywhere, negative).says), words or negative


def test_the_mask_says_who_is_meant_and_which_hand() -> None:
    man = dilated(WHOLE_SCENES.drawn().figures == 2, 9)
    made = mend(WHOLE_PICTURE, WHOLE_SCENES, man, "a beard", "", nobody_else)
    first, second = made.explained.scene.description.figures
    assert (first.facial_hair, second.facial_hair) == ("none", "beard")
    x, y = WHOLE_SCENES.drawn().shown[0].joints[4]  # the wrist that is right in the picture's own words
    made = mend(WHOLE_PICTURE, WHOLE_SCENES, ellipse(x - 20, y - 10, x + 20, y + 50), "a lantern", "", nobody_else)
    assert made.explained.scene.description.prop == "lantern"
    held = np.argwhere(made.after.labels == Part.PROP).mean(0)
    assert abs(held[1] - x) < 20


def test_a_thing_stands_where_the_mask_is_in_the_grounds_perspective() -> None:
    sizes = []
    for foot in (300, 255):
        mask = ellipse(100, foot - 60, 150, foot)
        made = mend(WHOLE_PICTURE, WHOLE_SCENES, mask, "a fox", "", nobody_else)
        (thing,) = made.explained.scene.things
        ys, xs = np.nonzero(made.after.figures > 3)
        assert abs(xs.mean() - 125) < 12
        assert abs(ys.max() - foot) < 14
        sizes.append(thing.scale)
    assert sizes[0] > sizes[1]


@pytest.mark.parametrize(("thing", "held"), [("an umbrella", True), ("a teapot", False)])
def test_a_large_mask_over_a_hand_is_for_what_is_long_or_for_what_stands_there(thing: str, held: bool) -> None:
    drawing = HALF_SCENES.drawn()
    (x, y), r = drawing.shown[0].joints[7], drawing.head[2]
    mask = ellipse(x - 2.4 * r, y - 3 * r, x + 2.4 * r, y + 2.4 * r)
    made = mended(thing, mask)
    assert (person_of(made).prop == thing.split()[1], len(made.explained.scene.things)) == (held, 0 if held else 1)


def test_a_small_mask_over_the_eyes_moves_the_eyes_and_a_large_one_the_head() -> None:
    x, y, r = HALF_SCENES.drawn().head
    eyes = mended("looking left", ellipse(x - r, y - 0.35 * r, x + r, y + 0.6 * r))
    assert person_of(eyes).look == (-1.0, 0.0)
    assert eyes.explained.scene.postures[0] is HALF_SCENES.scene.postures[0]
    head = mended("looking left", about_head(HALF_SCENES))
    assert head.explained.scene.postures[0].head.turn < -0.5


def test_a_mask_that_is_too_small_is_told_and_its_outline_can_be_opened() -> None:
    x, y, r = HALF_SCENES.drawn().head
    small = ellipse(x - 0.6 * r, y - 1.5 * r, x + 0.6 * r, y - 0.4 * r)
    cut = mended("a straw hat", small)
    assert any("open its outline" in sentence for sentence in cut.says)
    grown = mended("a straw hat", small, grown=True)
    assert not any("open its outline" in sentence for sentence in grown.says)
    assert (grown.mask & ~small).sum() > 200
    assert np.array_equal(grown.picture[~grown.mask], HALF_PICTURE[~grown.mask])


def test_words_that_mean_nothing_change_nothing_and_it_is_said() -> None:
    made = mended("a glimmwort", about_head(HALF_SCENES))
    assert np.array_equal(made.picture, HALF_PICTURE)
    assert any("nothing changes" in sentence for sentence in made.says)


def test_a_hat_keeps_its_colours_when_the_coat_gets_others() -> None:
    hat = mended("a straw hat", about_head(HALF_SCENES, down=-0.1), grown=True)
    coat = mend(hat.picture, hat.explained, np.ones(SIZE[::-1], bool), "a red coat", "", nobody_else)
    assert coat.after.albedo is not None and hat.after.albedo is not None
    straw = (coat.after.labels == Part.HEADWEAR) & (hat.after.labels == Part.HEADWEAR)
    assert straw.sum() > 300
    assert np.array_equal(coat.after.albedo[straw], hat.after.albedo[straw])


def test_another_finish_or_time_keeps_the_composition() -> None:
    for words, field in (("in watercolour", "finish"), ("at night", "time")):
        made = mended(words, np.ones(SIZE[::-1], bool))
        assert getattr(made.explained.scene.description, field) != getattr(HALF, field)
        assert np.array_equal(made.after.figures, made.before.figures)
        assert np.abs(made.picture.astype(int) - HALF_PICTURE).mean() > 8
        assert np.array_equal(made.picture, made.after.image)


def test_a_thing_put_where_no_floor_is_stands_on_a_crate() -> None:
    made = mend(WHOLE_PICTURE, WHOLE_SCENES, ellipse(100, 90, 150, 150), "a fox", "", nobody_else)
    (thing,) = made.explained.scene.things
    assert thing.perch
    assert any("crate" in sentence for sentence in made.says)


def test_somebody_comes_in_on_the_ground_and_a_full_picture_says_so() -> None:
    mask = ellipse(150, 110, 230, 300)
    picture, scenes = explained(replace(WHOLE, others=()))
    made = mend(picture, scenes, mask, "an old woman", "", nobody_else)
    assert [p.subject for p in made.explained.scene.description.figures] == ["woman", "old woman"]
    assert (made.after.figures == 2).sum() > 500
    scene = made.explained.scene
    while len(scene.postures) < MOST_FIGURES:
        scene = with_somebody(scene, mask, nobody_else("", np.random.default_rng(0)))
    with pytest.raises(ArtistError, match="take one away"):
        with_somebody(scene, mask, nobody_else("", np.random.default_rng(0)))


def test_what_references_did_to_a_take_goes_over_to_what_is_drawn_anew() -> None:
    teal = np.full((64, 64, 3), (20, 120, 130), np.uint8)
    recipe = Recipe(words="a woman in the bell tower at noon, half figure, calm", width=256, height=320, steps=6)
    pulled = recipe.model_copy(update={"cues": [Cue(role="palette", picture=A, weight=1)]})
    plain, take = make_take(recipe, 3), make_take(pulled, 3, {A: teal})
    assert take.explained is not None
    mask = about_head(take.explained, down=-0.1)
    for picture, scenes, besides in ((take.image, take.explained, True), (plain.image, plain.explained, False)):
        assert scenes is not None
        made = mend(picture, scenes, mask, "a straw hat", "", nobody_else, Opening(grown=True))
        hat = made.after.labels == Part.HEADWEAR
        assert (np.abs(made.picture[hat].mean(0) - made.after.image[hat].mean(0)).sum() > 15) == besides


@pytest.mark.parametrize(
    ("words", "told"),
    [
        ("eyes closed", Gaze(lids=0.0)),
        ("looking to the left", Gaze(way=(-1.0, 0.0))),
        ("eyes open, looking up", Gaze(1.15, (0.0, -1.0))),
        ("a red hat", None),
    ],
)
def test_what_words_say_about_eyes(words: str, told: Gaze | None) -> None:
    assert look(words) == told


# -- strength --------------------------------------------------------------------------------------------------


@pytest.mark.statistics
def test_the_way_to_another_picture_is_even_and_every_point_of_it_is_one_drawing() -> None:
    other = Description("man", hair="cropped", facial_hair="beard", outfit="ball gown", place="lamp quay", time="noon", expression="sad")
    first = HALF_SCENES.scene
    last = on_composition(first, other)
    assert last.camera.framing == first.camera.framing
    start = draw_scene(first).image.astype(int)
    far = []
    for k in range(11):
        scene = at_strength(first, last, k / 10)
        assert isinstance(scene, Scene)
        far.append(float(np.abs(draw_scene(scene).image - start).mean()))
    steps = np.diff(far) / far[-1]
    assert far[0] == 0
    assert steps.min() > 0
    assert steps.max() < 0.2


def test_a_recipe_with_a_known_source_follows_its_strength() -> None:
    recipe = Recipe(words="a man with a beard at the lamp quay", width=256, height=320, steps=4)

    def made(strength: float) -> TakeResult:
        return make_take(
            recipe.model_copy(update={"source": Source(picture=A, strength=strength)}), 5, {A: HALF_PICTURE}, explained={A: HALF_SCENES}
        )

    same, new = made(0.0), made(1.0)
    assert np.array_equal(same.image, HALF_PICTURE)
    assert new.description is not None and new.description.subject == "man"
    assert new.drawing is not None
    assert np.hypot(*np.subtract(new.drawing.head[:2], HALF_SCENES.drawn().head[:2])) < 0.5 * new.drawing.head[2]


def test_a_masked_recipe_is_a_mend_and_says_what_was_done() -> None:
    mask = about_head(HALF_SCENES, down=-0.1)
    opened = np.repeat(mask[..., None].astype(np.uint8) * 255, 3, 2)
    recipe = Recipe(words="a straw hat", width=256, height=320, steps=4, source=Source(picture=A, mask=M, strength=1))
    take = make_take(recipe, 1, {A: HALF_PICTURE, M: opened}, explained={A: HALF_SCENES})
    assert np.array_equal(take.image[~mask], HALF_PICTURE[~mask])
    assert any("hat" in sentence for sentence in take.says)
    assert take.explained is not None and take.description is not None and take.description.headwear == "straw hat"
    older = replace(HALF_SCENES, illustrator=0)
    readings = {A: read(HALF_PICTURE)}
    again = make_take(recipe, 1, {A: HALF_PICTURE, M: opened}, readings=readings, explained={A: older})
    assert any("older illustrator" in sentence for sentence in again.says)
    assert again.explained is None  # the scene that was found does not draw all of that picture
    assert np.array_equal(again.image[~mask], HALF_PICTURE[~mask])


def test_a_soft_border_of_a_mask_lets_a_change_fade_in_and_nothing_outside_of_it() -> None:
    hard = about_head(HALF_SCENES, down=-0.1)
    soft = cv2.GaussianBlur(hard.astype(np.float32), (0, 0), 6)
    recipe = Recipe(
        words="a straw hat", width=256, height=320, steps=4, source=Source(picture=A, mask=M, strength=1, feather=0, outlines=False)
    )
    images = []
    for mask in (hard.astype(np.float32), soft):
        opened = np.repeat(np.round(mask[..., None] * 255).astype(np.uint8), 3, 2)
        images.append(make_take(recipe, 1, {A: HALF_PICTURE, M: opened}, explained={A: HALF_SCENES}).image)
    acts = opened_at(soft, SIZE)
    assert np.array_equal(images[1][acts == 0], HALF_PICTURE[acts == 0])
    rim = (acts > 0.1) & (acts < 0.9)
    step_hard, step_soft = (np.abs(np.diff(image.astype(int), axis=0)).max(2)[rim[1:]].max() for image in images)
    assert rim.any() and not np.array_equal(images[1], HALF_PICTURE) and step_soft <= step_hard


def test_a_mask_that_is_only_drawn_evenly_is_hard() -> None:
    disc = cv2.circle(np.zeros((80, 80, 3), np.uint8), (40, 40), 20, (255, 255, 255), -1, cv2.LINE_AA)[..., 0] / np.float32(255)
    assert set(np.unique(hardened(disc))) == {0.0, 1.0}
    blurred = cv2.GaussianBlur(disc, (0, 0), 5)
    assert len(np.unique(hardened(blurred))) > 50
    assert np.array_equal(opened_at(disc, (160, 160)) > 0, opened_at(disc, (160, 160)) > 0.9)
    changed = softly(np.zeros((80, 80, 3), np.uint8), np.full((80, 80, 3), 200, np.uint8), hardened(blurred))
    assert changed[0, 0, 0] == 0 and changed[40, 40, 0] == pytest.approx(200, abs=4) and 0 < changed[40, 60, 0] < 200


# -- foreign pictures ------------------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def foreign() -> Inverted:
    found = invert(HALF_PICTURE, read(HALF_PICTURE))
    assert found is not None
    return found


def test_a_picture_is_explained_by_a_scene_that_lies_on_it(foreign: Inverted) -> None:
    drawing = draw_scene(foreign.scene)
    own = HALF_SCENES.drawn()
    figure, there = drawing.figures == 1, own.figures == 1
    assert (figure & there).sum() / (figure | there).sum() > 0.7
    assert np.hypot(drawing.head[0] - own.head[0], drawing.head[1] - own.head[1]) < 0.4 * own.head[2]
    assert set(foreign.explains) >= {"figure", "hair", "face"}
    assert all(0 <= share <= 1 for share in foreign.explains.values())


@pytest.mark.statistics
def test_joints_that_the_artist_placed_decide_how_the_figure_stands() -> None:
    seen = read(HALF_PICTURE)
    assert seen.joints is not None
    placed = seen.joints.copy()
    placed[3], placed[4] = (0.22, 0.66), (0.14, 0.50)  # elbow and wrist
    found = invert(HALF_PICTURE, replace(seen, joints=placed))
    assert found is not None
    elbow, wrist = draw_scene(found.scene).joints[[3, 4]]
    assert np.hypot(*(elbow - placed[3] * SIZE)) < 20
    assert np.hypot(*(wrist - placed[4] * SIZE)) < 20


def test_a_picture_without_anybody_is_not_explained() -> None:
    nothing = np.full((320, 256, 3), 150, np.uint8)
    assert invert(nothing, read(nothing)) is None


@pytest.mark.parametrize("words", ["a straw hat", "round glasses", "a red coat", "laughing", ""])
def test_a_foreign_picture_is_changed_only_in_the_mask(words: str, foreign: Inverted) -> None:
    mask = np.zeros(SIZE[::-1], bool)
    mask[20:300, 40:220] = True
    made = mend_foreign(HALF_PICTURE, foreign, mask, words, "", nobody_else)
    assert np.array_equal(made.picture[~mask], HALF_PICTURE[~mask])
    assert np.abs(made.picture.astype(int) - HALF_PICTURE)[mask].mean() > 0.1


def test_what_is_taken_out_of_a_foreign_picture_leaves_no_stain(foreign: Inverted) -> None:
    mask = dilated(PART_OF[draw_scene(foreign.scene).labels] == PARTS.index("hair"), 5)
    made = mend_foreign(HALF_PICTURE, foreign, mask, "", "", nobody_else)
    burnt, before = ((one[mask] == 255).any(1).mean() for one in (made.picture, HALF_PICTURE))
    assert burnt <= before + 0.02


@pytest.mark.statistics
def test_of_several_people_in_a_foreign_picture_the_one_under_the_mask_changes() -> None:
    group = replace(
        WHOLE, layout=Layout("standing", "half", shift=-0.2), others=(Person("man", hair="cropped", layout=Layout("standing", shift=0.22)),)
    )
    picture, scenes = explained(group)
    found = invert(picture, read(picture))
    assert found is not None and len(found.figures) == 2
    x, y, r = scenes.drawn().shown[1].head
    mask = ellipse(x - 1.8 * r, y - 2 * r, x + 1.8 * r, y + 1.2 * r)
    made = mend_foreign(picture, found, mask, "a straw hat", "", nobody_else)
    hats = [p.headwear for p in made.explained.scene.description.figures]
    which = int(np.argmin([abs(s.head[0] - x) for s in made.before.shown]))
    assert hats[which] == "straw hat"
    assert hats[1 - which] == "none"
    assert np.array_equal(made.picture[~mask], picture[~mask])


def test_a_face_is_put_on_and_the_hat_and_the_place_stay(foreign: Inverted) -> None:
    anchor = replace(HALF, skin="umber", eyes="sky", freckles=True, hair_colour="ink")
    own = put_face(HALF_PICTURE, HALF_SCENES, 0, face_of(anchor))
    person = own.explained.scene.description.figures[0]
    assert (person.skin, person.eyes, person.hair_colour) == ("umber", "sky", "copper")
    place = ~dilated(HALF_SCENES.drawn().figures > 0, 61)
    for made in (own, put_face_foreign(HALF_PICTURE, foreign, 0, face_of(anchor))):
        assert np.array_equal(made.picture[place], HALF_PICTURE[place])
        x, y, r = (round(v) for v in HALF_SCENES.drawn().head)
        cheek = np.s_[y + r // 4 : y + r // 2, x - r // 4 : x + r // 4]
        assert made.picture[cheek].mean() < HALF_PICTURE[cheek].mean() - 10


@pytest.mark.statistics
def test_a_recipe_makes_the_canvas_of_its_source_wider() -> None:
    wide = Recipe(width=384, height=320, steps=4, source=Source(picture=A, wider=(64, 0, 64, 0)))
    known = make_take(wide, 1, {A: WHOLE_PICTURE}, explained={A: WHOLE_SCENES})
    foreign = make_take(wide, 1, {A: WHOLE_PICTURE}, readings={A: read(WHOLE_PICTURE)})
    for take in (known, foreign):
        assert take.image.shape == (320, 384, 3)
        assert np.array_equal(take.image[:, 64:320], WHOLE_PICTURE)
    assert not np.array_equal(known.image, foreign.image)
    with pytest.raises(ValueError, match="canvas"):
        Recipe(width=256, height=256, source=Source(picture=A, wider=(200, 0, 40, 0)))


# -- larger pictures -------------------------------------------------------------------------------------------


@pytest.mark.parametrize("finish", ["gouache", "watercolour"])
def test_an_own_take_grows_into_the_same_place_without_anybody_new(finish: str) -> None:
    picture, scenes = explained(replace(WHOLE, finish=(finish,), others=()))
    made = extended_take(picture, scenes, (60, 0, 40, 0))
    assert made.shape == (320, 356, 3)
    margin = 14 if finish == "watercolour" else 0
    assert np.array_equal(made[:, 60 + margin : 316 - margin], picture[:, margin : 256 - margin])
    assert unpainted(picture).any() == unpainted(made).any() == (finish == "watercolour")
    drawn = draw_scene(scenes.scene, wider=(60, 0, 40, 0))
    assert not (drawn.figures[:, :50] > 0).any()


def test_two_takes_are_joined_over_the_place_of_both() -> None:
    first, second = Piece(WHOLE_PICTURE, WHOLE_SCENES), Piece(HALF_PICTURE, HALF_SCENES)
    made = join(first, second, 64).picture
    assert made.shape == (320, 256 + 64 + 256, 3)
    assert np.array_equal(made[:, :256], WHOLE_PICTURE)
    assert np.array_equal(made[:, 320:], HALF_PICTURE)
    steep = np.abs(np.diff(made.astype(int), axis=1)).mean((0, 2))
    usual = np.median([np.abs(np.diff(p.astype(int), axis=1)).mean() for p in (WHOLE_PICTURE, HALF_PICTURE)])
    assert steep[252:324].max() < 3 * usual
