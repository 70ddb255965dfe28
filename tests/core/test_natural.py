"""Natural and small figures: their proportions, their heads from all sides, and how words and references bring them."""

from dataclasses import replace
from itertools import product

import numpy as np
import pytest

from mosskeeper.core.continuity.drift import not_measured
from mosskeeper.core.illustrator.description import SKIN_PARTS, Description, Face, Layout, Part
from mosskeeper.core.illustrator.draw import draw, draw_scene
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.hair import STYLES
from mosskeeper.core.illustrator.kept import LayerCache
from mosskeeper.core.illustrator.scene import Scene, scene_of
from mosskeeper.core.illustrator.skeleton import AT
from mosskeeper.core.illustrator.skin_marks import MARKS
from mosskeeper.core.illustrator.vocabulary.people import BUILDS, CHILDREN, EXPRESSIONS, HEEL, SUBJECTS, body_of
from mosskeeper.core.mending.redraw.mend import Opening, mend
from mosskeeper.core.reading.reading import Reading, measured
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.references.of_scene import contents_of_scenes
from mosskeeper.core.roles.kinds.face import ROLE as FACE
from mosskeeper.core.takes.beliefs import Beliefs
from mosskeeper.core.takes.described_person import somebody
from mosskeeper.core.words.understand import understand
from mosskeeper.core.words.unseen import unseen

SIZE = (256, 320)
SOMEBODY = Description(figure="natural", place="plain backdrop", layout=Layout("facing", "bust", view="front"))
EYES, EARS = ("right eye", "left eye"), ("right ear", "left ear")


def heads_high(subject: str, build: str, figure: str) -> float:
    body = body_of(subject, build, figure)
    return (HEEL + body.shin + body.thigh + body.torso + body.neck + body.head / 2) / body.head


def seen(view: str = "front", facing: int = 1, **more: object) -> Drawing:
    layout = Layout("facing", "bust", view=view, facing=facing)
    return draw(replace(SOMEBODY, **{"layout": layout, **more}), SIZE)  # type: ignore[arg-type]


def label_at(drawing: Drawing, name: str) -> int:
    x, y = drawing.landmarks[name].round().astype(int)
    return int(drawing.labels[y, x])


@pytest.mark.parametrize(("subject", "build"), list(product(SUBJECTS, BUILDS)))
def test_figures_are_as_many_heads_high_as_their_kind(subject: str, build: str) -> None:
    natural, small = heads_high(subject, build, "natural"), heads_high(subject, build, "small")
    assert 5.2 <= natural <= 6.0 if subject in CHILDREN else 6.8 <= natural <= 8.0
    assert 2.3 <= small <= 3.7
    assert small < heads_high(subject, build, "storybook") < natural


@pytest.mark.parametrize(("view", "facing"), list(product(("front", "three-quarter", "profile"), (1, -1))))
def test_landmarks_of_a_natural_head_lie_on_what_they_name(view: str, facing: int) -> None:
    drawing = seen(view, facing)
    marks = drawing.landmarks
    pupils = [name for name in ("right pupil", "left pupil") if name in marks]
    assert pupils and all(label_at(drawing, name) in (Part.EYES, Part.HAIR) for name in pupils)
    assert label_at(drawing, "nose tip") in (Part.FACE, Part.STRUCTURE) and label_at(drawing, "chin") in SKIN_PARTS
    assert marks["chin"][1] > marks["nose tip"][1] > np.mean([marks[name][1] for name in pupils])
    if view == "front":
        assert marks["right pupil"][0] < marks["left pupil"][0]
        right, left = (drawing.joints[AT[name]][0] for name in EYES)
        assert right < left and drawing.joints[AT["right ear"]][0] < right
    else:  # the nose points to where the head is turned
        ears = np.mean([drawing.joints[AT[name]][0] for name in EARS])
        assert (drawing.joints[AT["nose"]][0] - ears) * facing > 0


@pytest.mark.parametrize("hair", STYLES)
def test_every_hair_style_grows_on_a_natural_head(hair: str) -> None:
    for view in ("front", "profile"):
        drawing = seen(view, hair=hair)
        assert ((drawing.labels == Part.HAIR).sum() > 60) == (hair != "bald")
        assert (drawing.labels == Part.FACE).sum() > 400


def test_every_mood_changes_a_natural_face() -> None:
    images = {mood: seen(expression=mood).image.tobytes() for mood in EXPRESSIONS}
    assert len(set(images.values())) == len(images)


def test_measures_of_a_face_move_a_natural_face() -> None:
    usual = seen()
    wide = seen(face=Face(eye_spacing=1.2, nose_length=1.3))

    def eyes(drawing: Drawing) -> float:
        return float(drawing.landmarks["left pupil"][0] - drawing.landmarks["right pupil"][0])

    assert eyes(wide) > 1.08 * eyes(usual)
    assert wide.landmarks["nose tip"][1] > usual.landmarks["nose tip"][1]


def test_a_natural_drawing_is_the_same_bytes_again_and_after_others() -> None:
    scene = scene_of(replace(SOMEBODY, layout=Layout("waving", "full"), hair="two braids"), SIZE)
    first = draw_scene(scene, layers=LayerCache())
    storybook = scene_of(replace(scene.description, figure="storybook"), SIZE)
    plain = draw_scene(storybook, layers=LayerCache())
    again = draw_scene(Scene.from_json(scene.to_json()), layers=LayerCache())
    assert np.array_equal(first.image, again.image) and np.array_equal(first.labels, again.labels)
    assert np.array_equal(plain.image, draw_scene(storybook, layers=LayerCache()).image)
    assert not np.array_equal(plain.image, first.image)


def test_hands_and_neck_of_a_natural_figure_are_seen() -> None:
    labels = draw(replace(SOMEBODY, layout=Layout("standing", "full")), SIZE).labels
    assert all((labels == part).any() for part in (Part.HAND, Part.NECK, Part.HAIR, Part.FACE, Part.TOP, Part.SHOES))


def test_a_hood_hides_what_lies_outside_of_its_opening() -> None:
    open_, hooded = seen(hair="long straight"), seen(hair="long straight", outfit="rain cape")
    assert (hooded.labels == Part.HAIR).sum() < 0.6 * (open_.labels == Part.HAIR).sum()
    assert (hooded.labels == Part.FACE).sum() > 0.5 * (open_.labels == Part.FACE).sum()


@pytest.mark.parametrize("finish", ["gouache", "ink and wash", "watercolour", "paper cut", "stained glass"])
def test_a_natural_head_is_in_the_finish_of_its_picture(finish: str) -> None:
    drawing = seen(finish=(finish,), skin="ebony")
    face = drawing.image[drawing.labels == Part.FACE].mean(0)
    pale = seen(finish=(finish,), skin="porcelain")
    assert pale.image[pale.labels == Part.FACE].mean() > face.mean() + 20


def test_farther_figures_of_mist_are_paler() -> None:
    near = seen(skin="ebony", hair="shaved")
    far = replace(near.shown[0].person, layout=Layout("facing", "full", depth=0.95, shift=0.25))
    misty = draw(
        replace(SOMEBODY, others=(far,), weather="fog", skin="ebony", hair="shaved", layout=Layout("facing", "full", shift=-0.2)), SIZE
    )
    tones = [misty.image[(misty.labels == Part.FACE) & (misty.figures == n)].mean() for n in (1, 2)]
    assert tones[1] > tones[0]


@pytest.mark.parametrize(
    ("words", "figure"),
    [
        ("natural figures, two boys on a pier", "natural"),
        ("a realistic knight in a forest", "natural"),
        ("a girl with braids, small figures", "small"),
        ("a chibi knight", "small"),
        ("storybook figure of a man", "storybook"),
    ],
)
def test_words_name_the_kind_of_figure(words: str, figure: str) -> None:
    said = understand(words)
    assert said.wanted["figure"] == {figure: 1.0} and not said.unknown
    assert said.wanted["subject"]


def test_the_kind_of_figure_changes_nobody_else() -> None:
    def first(words: str) -> Description:
        beliefs, rng = Beliefs(Recipe(words=words)), np.random.default_rng(11)
        return beliefs.exemplars(beliefs.composition(rng), rng, 1)[0]

    plain, natural = first("two women in a garden"), first("two women in a garden, natural figures")
    assert {one.figure for one in plain.figures} == {"storybook"}
    assert {one.figure for one in natural.figures} == {"natural"}
    others = tuple(replace(one, figure="storybook") for one in natural.others)
    assert replace(natural, figure="storybook", others=others) == plain


def test_a_kind_of_figure_that_is_not_in_the_take_is_told() -> None:
    said = understand("natural figure of a woman")
    assert "natural" in " ".join(str(one) for one in unseen(said, replace(SOMEBODY, figure="storybook")))
    assert not unseen(said, SOMEBODY)


def test_no_drift_is_told_of_natural_figures() -> None:
    def read_as(figure: str) -> Reading:
        scene = scene_of(replace(SOMEBODY, figure=figure), SIZE)
        return replace(measured(draw_scene(scene).image), contents=contents_of_scenes(LayeredScenes.of([scene])))

    natural, storybook = read_as("natural"), read_as("storybook")
    assert not_measured([storybook, storybook]) == ""
    assert "natural figures" in not_measured([storybook, natural])
    assert FACE.alike(storybook, natural) is None


def test_a_picture_lends_the_kind_of_its_figures() -> None:
    scene = scene_of(replace(SOMEBODY, layout=Layout("standing", "full")), SIZE)
    contents = contents_of_scenes(LayeredScenes.of([scene]))
    assert contents.surroundings["figure"] == ("natural", 1.0)
    head = contents.subjects[0].head
    assert head is not None
    drawn = np.argwhere(np.isin(draw_scene(scene).labels, (Part.FACE, Part.HAIR)))
    assert head[2] * SIZE[1] == pytest.approx(np.ptp(drawn[:, 0]), rel=0.45)


def test_a_mend_keeps_a_natural_figure_natural() -> None:
    scene = scene_of(SOMEBODY, SIZE)
    drawing = draw_scene(scene)
    mask = np.zeros(drawing.labels.shape, bool)
    x, y, r = drawing.head
    mask[max(int(y - 2 * r), 0) : int(y + 1.6 * r), max(int(x - 2 * r), 0) : int(x + 2 * r)] = True
    made = mend(drawing.image, LayeredScenes.of([scene]), mask, "round glasses", "", somebody, Opening())
    assert made.explained.layers[-1].scene.description.figure == "natural"
    changed = np.abs(made.picture.astype(int) - drawing.image).max(2) > 20
    assert changed.sum() > 20 and not (changed & ~mask).any()


@pytest.mark.parametrize("kind", ["goatee", "long beard", "sideburns"])
@pytest.mark.parametrize("figure", ["storybook", "natural"])
@pytest.mark.parametrize("view", ["front", "profile"])
def test_beards_that_words_name_are_seen_where_they_grow(kind: str, figure: str, view: str) -> None:
    drawing = seen(view, facial_hair=kind, figure=figure, subject="man", hair="cropped")
    rows, columns = np.nonzero(drawing.labels == Part.FACIAL_HAIR)
    assert rows.size > 20
    x, y, r = drawing.head
    lowest = (rows.max() - y) / r
    assert lowest > 1.5 if kind == "long beard" else lowest < 1.5
    if kind == "goatee" and view == "front":
        assert np.ptp(columns) < 0.8 * r
    if kind == "sideburns" and view == "front":
        assert columns.min() < x - 0.4 * r and columns.max() > x + 0.4 * r


def test_stubble_darkens_a_shaven_chin() -> None:
    for figure in ("storybook", "natural"):
        shaven, unshaven = (
            seen(facial_hair=kind, figure=figure, subject="man", hair="cropped", skin="peach", hair_colour="ink")
            for kind in ("none", "stubble")
        )
        chin = tuple(shaven.landmarks["chin"].round().astype(int)[::-1] - (3, 0))
        assert unshaven.image[chin].mean() < shaven.image[chin].mean() - 8


@pytest.mark.parametrize(
    ("words", "style"),
    [
        ("a man with a mohawk", "mohawk"),
        ("woman with an afro", "afro"),
        ("girl with pigtails", "pigtails"),
        ("girl with space buns", "two buns"),
        ("bald man", "bald"),
        ("short spiky red hair", "spiky"),
        ("woman with dreadlocks", "locs"),
        ("man with slicked back hair", "slicked back"),
        ("side-swept black hair", "side-swept"),
        ("woman with braided pigtails", "two braids"),
    ],
)
def test_words_name_hair(words: str, style: str) -> None:
    said = understand(words)
    assert said.wanted["hair"] == {style: 1.0} and not said.unknown


@pytest.mark.parametrize(
    ("words", "kind"), [("a man with a long red beard", "long beard"), ("man with a red beard", "beard"), ("an unshaven man", "stubble")]
)
def test_words_name_beards(words: str, kind: str) -> None:
    assert understand(words).wanted["facial hair"] == {kind: 1.0}


@pytest.mark.parametrize("pattern", ["patched", "stained", "torn"])
def test_states_of_cloth_are_seen_on_the_cloth_alone(pattern: str) -> None:
    plain = seen(outfit="tunic", layout=Layout("standing", "full"))
    worn = seen(outfit="tunic", pattern=pattern, layout=Layout("standing", "full"))
    changed = np.abs(plain.image.astype(int) - worn.image).max(2) > 25
    cloth = np.isin(plain.labels, (Part.TOP, Part.SLEEVE, Part.BOTTOM, Part.OUTER))
    assert changed.sum() > 15 and (changed & cloth).sum() > 0.8 * changed.sum()


@pytest.mark.parametrize(
    "words",
    ["a weathered boat", "man in a wrinkled shirt", "woman with a bandaged hand", "a tattooed dragon", "torn paper", "a fallen tree", "two men in a boxing ring",
     "an exhausted dog beside a woman", "a flushed sky", "leaves lie on the ground"],
)  # fmt: skip
def test_what_is_said_of_things_is_not_drawn_on_people(words: str) -> None:
    said = understand(words)
    assert not {*MARKS, "bare feet", "pattern", "pose"} & set(said.wanted) and said.unknown


@pytest.mark.parametrize(
    ("words", "mark"),
    [
        ("a tattooed man", "arm tattoos"),
        ("a girl, barefoot, freckled", "bare feet"),
        ("wrinkled old woman", "wrinkles"),
        ("a bandaged soldier", "bandage"),
    ],
)
def test_what_is_said_of_people_is_drawn_on_them(words: str, mark: str) -> None:
    assert understand(words).wanted[mark] == {"yes": 1.0}


def test_ages_said_of_a_name_are_understood() -> None:
    assert not understand("Oda Brask, old woman").unknown
