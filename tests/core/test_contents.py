"""What pictures hold as references: scenes exactly, copies again, corrections for ever, several pictures as one person."""

import io
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray
from PIL import Image

from mosskeeper.core.cue_sheet import warnings
from mosskeeper.core.diffusion.conditioning import References
from mosskeeper.core.illustrator.description import Description, Face, Layout, Person
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.reading.contents import SURE, Contents, Subject, nearest_name
from mosskeeper.core.reading.palette import read_palette
from mosskeeper.core.reading.reader import read
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.references.copies import Features, contents_of_copy, features_of, find_copy
from mosskeeper.core.references.of_picture import contents_of_picture
from mosskeeper.core.references.of_scene import contents_of_scenes
from mosskeeper.core.references.pooled import pooled
from mosskeeper.core.references.weighed import WEIGHINGS, probabilities
from mosskeeper.core.traits import OF_PERSON, TRAITS
from tests.core.few import make_take

A, B = "a" * 64, "b" * 64
FLAT = np.full((40, 32, 3), (200, 90, 60), np.uint8)
BEARDED = Person(
    subject="old man",
    build="sturdy",
    skin="umber",
    hair="curls",
    hair_colour="#b34a1c",
    eyes="amber",
    freckles=True,
    glasses=True,
    facial_hair="beard",
    mark="scar",
    face=Face.sampled(np.random.default_rng(3)),
    outfit="tunic",
    hair_size=(1.2, 1.1),
)
LAYOUT = Layout("facing", "bust", view="front")
IDENTITY = ("subject", "build", "skin", "hair", "hair_colour", "hair_size", "eyes", "freckles", "glasses", "facial_hair", "mark", "face")
ELSEWHERE = Recipe(words="in a festival coat at the canal market at dusk, half figure, laughing", width=256, height=256, steps=4)


def described(person: Person, *others: Person, size: tuple[int, int] = (320, 400)) -> LayeredScenes:
    fields = {name: getattr(person, name) for name in Person.__dataclass_fields__ if name != "layout"}
    apart = [replace(one, layout=replace(LAYOUT, shift=0.3, zoom=1.3)) for one in others]
    layout = replace(LAYOUT, shift=-0.25 if others else 0.0)
    return LayeredScenes.of([scene_of(Description(**fields, layout=layout, others=tuple(apart), place="kitchen", time="noon"), size)])


def held(explained: LayeredScenes) -> dict[str, Reading]:
    return {A: replace(Reading(read_palette(FLAT)), contents=contents_of_scenes(explained))}


def person_of(*cues: Cue, readings: dict[str, Reading], words: str = "", seed: int = 2) -> Description:
    recipe = ELSEWHERE.model_copy(update={"cues": list(cues), "words": words or ELSEWHERE.words})
    description = make_take(recipe, seed, {A: FLAT, B: FLAT}, readings=readings).description
    assert description is not None
    return description


@pytest.mark.parametrize("role", ["face", "look"])
def test_the_person_in_a_picture_that_was_drawn_here_is_the_person_drawn(role: str) -> None:
    for seed in range(3):
        drawn = person_of(Cue(picture=A, role=role, weight=0.8), readings=held(described(BEARDED)), seed=seed)
        assert {name: getattr(drawn, name) for name in IDENTITY} == {name: getattr(BEARDED, name) for name in IDENTITY}
        assert (drawn.place, drawn.time, drawn.expression) == ("canal market", "dusk", "laughing")
        assert drawn.outfit == "festival coat"  # words go before the clothes of a look


def test_a_look_brings_the_clothes_with_their_colours_and_a_face_does_not() -> None:
    readings = held(described(replace(BEARDED, colour_a=(0.11, 0.22, 0.33), pattern="striped", worn=("scarf",))))
    bare = "in the bell tower, half figure"
    look, face = (person_of(Cue(picture=A, role=role, weight=0.8), readings=readings, words=bare) for role in ("look", "face"))
    assert (look.outfit, look.colour_a, look.pattern, look.worn) == ("tunic", (0.11, 0.22, 0.33), "striped", ("scarf",))
    assert face.colour_a != (0.11, 0.22, 0.33)
    assert look.place == face.place == "bell tower"


def test_traits_come_one_after_the_other_with_the_weight() -> None:
    readings = held(described(BEARDED))

    def carried(weight: float) -> int:
        lent = References([Cue(picture=A, role="face", weight=weight)], {A: FLAT}, readings, 20, False)
        return sum(bool(lent.scores(trait.name)) for trait in OF_PERSON if trait.name != "face shape")

    numbers = [carried(w) for w in np.linspace(0, 1, 11)]
    assert numbers == sorted(numbers)
    assert numbers[0] == 0
    assert numbers[8] == len(OF_PERSON) - 1  # all at .8
    assert max(np.diff(numbers)) <= 0.3 * numbers[-1]


def test_a_reference_without_weight_changes_no_byte() -> None:
    plain, silent = (
        make_take(ELSEWHERE.model_copy(update={"cues": cues}), 4, {A: FLAT}, readings=held(described(BEARDED))).image.tobytes()
        for cues in ([], [Cue(picture=A, role="face", weight=0)])
    )
    assert plain == silent


@pytest.mark.parametrize(("off", "kept"), [("hair", "hair"), ("glasses", "glasses"), ("beard", "facial_hair")])
def test_a_part_that_is_switched_off_is_not_lent(off: str, kept: str) -> None:
    readings = held(described(BEARDED))
    parts = [part for part in ("face", "age and sex", "hair", "beard", "marks", "glasses", "skin") if part != off]
    some = References([Cue(picture=A, role="face", weight=1, parts=parts)], {A: FLAT}, readings, 20, False)
    trait = next(trait for trait in TRAITS if trait.fields and trait.fields[0] == kept)
    assert not some.scores(trait.name)
    assert some.scores("skin")


def test_hair_alone_is_lent_where_it_alone_is_switched_on() -> None:
    readings = held(described(BEARDED))
    some = References([Cue(picture=A, role="face", weight=1, parts=["hair"])], {A: FLAT}, readings, 20, False)
    assert {trait.name for trait in TRAITS if some.scores(trait.name)} == {"hair", "hair colour"}


@pytest.mark.statistics
def test_two_people_mix_by_trait_and_give_no_third() -> None:
    girl = Person(
        subject="girl", skin="porcelain", hair="braid", hair_colour="straw", eyes="sky", face=Face.sampled(np.random.default_rng(8))
    )
    readings = {**held(described(BEARDED)), B: held(described(girl))[A]}
    cues = (Cue(id="1", picture=A, role="face", weight=0.8), Cue(id="2", picture=B, role="face", weight=0.8))
    for seed in range(3):
        drawn = person_of(*cues, readings=readings, seed=seed)
        for name in ("subject", "skin", "hair", "hair_colour", "eyes", "glasses", "facial_hair", "mark"):
            assert getattr(drawn, name) in (getattr(BEARDED, name), getattr(girl, name)), name


def test_of_several_figures_the_largest_is_meant_or_the_one_that_is_chosen() -> None:
    girl = Person(subject="girl", hair="braid", hair_colour="straw")
    contents = contents_of_scenes(described(BEARDED, girl))
    assert len(contents.subjects) == 2
    assert contents.largest == 1  # drawn nearer
    readings = {A: replace(Reading(read_palette(FLAT)), contents=contents)}
    for number, subject in ((None, "girl"), (0, "old man"), (1, "girl")):
        assert person_of(Cue(picture=A, role="face", weight=0.8, subject=number), readings=readings).subject == subject


def test_a_figure_that_was_taken_away_is_lent_no_more() -> None:
    explained = described(BEARDED, Person(subject="girl"))
    gone = LayeredScenes.of([replace(explained.scene, absent=frozenset({1}))])
    contents = contents_of_scenes(gone)
    assert contents.subject(None) is not None
    assert contents.subject(None).person.subject == "old man"


def test_contents_survive_as_documents_to_the_bit() -> None:
    contents = contents_of_scenes(described(BEARDED))
    assert Contents.from_json(contents.to_json()) == contents
    with pytest.raises(ValueError, match="no contents"):
        Contents.from_json({"subjects": 3})


# -- copies ----------------------------------------------------------------------------------------------------

DRAWN = described(BEARDED)
PICTURE = draw_scene(DRAWN.scene).image
OTHER = draw_scene(described(replace(BEARDED, glasses=False)).scene).image
KNOWN = [("own", features_of(PICTURE)), ("other", features_of(OTHER))]


def jpeg(picture: NDArray[np.uint8], quality: int = 85) -> NDArray[np.uint8]:
    out = io.BytesIO()
    Image.fromarray(picture).save(out, "JPEG", quality=quality)
    return np.asarray(Image.open(out))


def scaled_by(picture: NDArray[np.uint8], k: float) -> NDArray[np.uint8]:
    h, w = picture.shape[:2]
    return np.asarray(Image.fromarray(picture).resize((round(w * k), round(h * k)), Image.Resampling.LANCZOS))


@pytest.mark.parametrize(
    "changed",
    [jpeg, lambda p: scaled_by(p, 0.7), lambda p: jpeg(p[20:300, 40:290]), lambda p: jpeg(scaled_by(p[20:300, 40:290], 0.7))],
    ids=["jpeg", "70 %", "cropped", "all of it"],
)
def test_a_take_is_recognised_after_it_was_saved_scaled_and_cropped(changed: object) -> None:
    made = np.ascontiguousarray(changed(PICTURE))  # type: ignore[operator]
    copy = find_copy(made, features_of(made), KNOWN, {"own": PICTURE, "other": OTHER}.__getitem__)
    assert copy is not None
    assert copy.name == "own"
    contents = contents_of_copy(contents_of_scenes(DRAWN), copy, (320, 400), (made.shape[1], made.shape[0]))
    assert contents.origin == "found"
    assert contents.subject(None).person.facial_hair == "beard"


def test_somebody_else_in_the_same_place_is_no_copy() -> None:
    shaved = draw_scene(described(replace(BEARDED, facial_hair="none", hair="bob")).scene).image
    assert find_copy(shaved, features_of(shaved), KNOWN, {"own": PICTURE, "other": OTHER}.__getitem__) is None
    assert find_copy(FLAT, features_of(FLAT), KNOWN, {"own": PICTURE, "other": OTHER}.__getitem__) is None


def test_features_are_packed_and_damaged_ones_refused() -> None:
    own = KNOWN[0][1]
    again = Features.unpack(own.pack())
    assert np.array_equal(again.codes, own.codes)
    assert np.array_equal(again.points, own.points)
    with pytest.raises(ValueError, match="no features"):
        Features.unpack(own.pack()[:-1])


# -- corrections, pooling, words --------------------------------------------------------------------------------


@given(st.sampled_from([t for t in OF_PERSON if t.name != "face shape"]), st.data())
def test_what_an_artist_corrects_is_sure_and_is_what_is_lent(trait: object, data: st.DataObject) -> None:
    from mosskeeper.core.words.attributes import ATTRIBUTES

    value = data.draw(st.sampled_from(ATTRIBUTES[trait.name].values))  # type: ignore[attr-defined]
    corrected = Subject(BEARDED, {}).corrected({trait.name: value})  # type: ignore[attr-defined]
    assert corrected.value(trait.name) == value  # type: ignore[attr-defined]
    assert corrected.sure[trait.name] >= SURE  # type: ignore[attr-defined]


def test_anchors_are_pooled_as_one_person() -> None:
    unsure = Subject(replace(BEARDED, hair="bun", facial_hair="none"), {"hair": 0.4, "facial hair": 0.5, "skin": 0.9})
    sure = Subject(BEARDED, {"hair": 0.95, "facial hair": 0.95, "skin": 0.9})
    one = pooled([unsure, sure])
    assert (one.person.hair, one.person.facial_hair, one.person.skin) == ("curls", "beard", "umber")
    assert pooled([sure, unsure]).person == sure.person
    with pytest.raises(ValueError, match="nobody"):
        pooled([])


def test_words_that_say_otherwise_are_told_beside_the_cue() -> None:
    cue = Cue(picture=A, role="face", weight=0.8)
    told = warnings(Recipe(words="a man with black hair", cues=[cue]), held(described(BEARDED)))
    assert any("Your words say ink; the reference says" in one.sentence for one in told)
    assert not any("old man" in one.sentence for one in told)  # "a man" leaves the age open
    assert warnings(Recipe(words="in the kitchen", cues=[cue]), held(described(BEARDED))) == []


def test_a_picture_in_which_nobody_is_says_so() -> None:
    empty = {A: Reading(read_palette(FLAT), contents=Contents())}
    for role in ("face", "look", "outfit"):
        (told,) = warnings(Recipe(cues=[Cue(picture=A, role=role, weight=0.8)]), empty)
        assert "is r" in told.sentence
    take = make_take(ELSEWHERE.model_copy(update={"cues": [Cue(picture=A, role="face", name="Wall")]}), 1, {A: FLAT}, readings=empty)
    assert any("“Wall” lends nobody" in sentence for sentence in take.says)


def test_an_exact_colour_is_called_by_the_nearest_name() -> None:
    assert nearest_name("hair colour", "#b5562b") == "copper"
    assert nearest_name("hair colour", "copper") == "copper"


# -- pictures from elsewhere -------------------------------------------------------------------------------------


@pytest.mark.statistics
def test_a_beard_and_glasses_in_a_picture_from_elsewhere_are_found_by_drawing_them() -> None:
    picture = draw_scene(described(replace(BEARDED, mark="none", freckles=False), size=(400, 500)).scene).image
    contents = contents_of_picture(picture, read(picture))
    subject = contents.subject(None)
    assert contents.origin == "explained"
    assert subject is not None
    assert (subject.value("facial hair"), subject.value("glasses")) == ("beard", "yes")
    assert nearest_name("hair colour", subject.person.hair_colour) in ("copper", "ginger")
    assert set(subject.unsure()) >= {"eyes", "build"}  # of which only the reader tells, and it errs


def test_a_picture_of_nobody_has_surroundings_at_most() -> None:
    flat = np.full((200, 160, 3), (120, 160, 200), np.uint8)
    assert contents_of_picture(flat, read(flat)).subjects == ()


def test_traits_are_weighed_by_all_evidence_and_none_alone_decides() -> None:
    weighing = WEIGHINGS["glasses"]
    plain = np.zeros((2, len(weighing.evidence)))
    assert probabilities(weighing, plain) == pytest.approx([0.5, 0.5])
    seen = plain.copy()
    seen[1] = 1.0
    assert probabilities(weighing, seen)[1] > 0.9
    assert probabilities(weighing, seen).sum() == pytest.approx(1)
