"""Sheets of a character, and the anchor's face put on pictures."""

from dataclasses import replace

import numpy as np
import pytest

from mosskeeper.core.dials import FACE_ON, SAID, SAID_TOO, picture_of_target, target
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.description import Description, Layout, Part, Person
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.mending.masks import dilated
from mosskeeper.core.reading.any_reader import read_any
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Cue, FacePut, Recipe, Source
from mosskeeper.core.references.of_scene import contents_of_scenes
from mosskeeper.core.sheets import KINDS, MOST_OWN, dials, kind_called
from mosskeeper.core.sweep import MOST_TARGETS, Dial, check, recipe_at
from mosskeeper.core.takes.repair import NO_FACE
from mosskeeper.core.takes.take import make_take
from mosskeeper.core.words.understand import understand

ANCHOR, TARGET, NOBODY = "a" * 64, "b" * 64, "c" * 64
SIZE = (256, 320)


def drawn(description: Description) -> tuple[np.ndarray, LayeredScenes]:
    scenes = LayeredScenes.of([scene_of(description, SIZE)])
    return scenes.drawn().image, scenes


def known(picture: np.ndarray, scenes: LayeredScenes) -> Reading:
    return replace(read_any(picture), contents=contents_of_scenes(scenes))


BEARDED = drawn(
    Description(
        subject="man", skin="umber", hair="curls", hair_colour="ink", facial_hair="beard", glasses=True, layout=Layout("facing", "bust")
    )
)
TWO = drawn(
    Description(
        subject="woman",
        skin="porcelain",
        hair="bun",
        expression="joyful",
        layout=Layout("facing", "half", shift=-0.2),
        others=(Person(subject="girl", hair="braid", layout=Layout("standing", "half", shift=0.25)),),
    )
)


def with_face(put: FacePut, target_: str = TARGET, own: bool = True, **cue: object):  # type: ignore[no-untyped-def]
    picture = TWO[0] if target_ == TARGET else np.full((320, 256, 3), 200, np.uint8)
    recipe = Recipe(
        width=SIZE[0],
        height=SIZE[1],
        steps=4,
        source=Source(picture=target_, face=put),
        cues=[Cue(role="face", picture=ANCHOR, weight=1.0, **cue)],  # type: ignore[arg-type]
    )
    readings = {ANCHOR: known(*BEARDED)} | ({} if own else {target_: read_any(picture)})
    return make_take(recipe, 1, {ANCHOR: BEARDED[0], target_: picture}, readings=readings, explained={TARGET: TWO[1]} if own else None)


def test_the_face_goes_on_the_largest_and_nobody_else_and_nothing_but_skin_and_head_changes() -> None:
    made = with_face(FacePut())
    assert made.explained is not None
    (was, other), (now, beside) = TWO[1].scene.description.figures, made.explained.scene.description.figures
    assert (now.skin, now.facial_hair, now.glasses, now.hair, now.subject) == ("umber", "beard", True, "curls", "man")
    assert (now.expression, now.outfit, now.colour_a, now.layout) == (was.expression, was.outfit, was.colour_a, was.layout)
    assert beside == other
    before, after = TWO[1].drawn(), made.explained.drawn()
    head = [Part.HAIR, Part.FACIAL_HAIR, Part.FACE, Part.BROW, Part.EYES, Part.MOUTH, Part.EAR, Part.NECK, Part.SKIN, Part.LEG, Part.HAND,
            Part.ACCESSORY]  # fmt: skip
    there = dilated(np.any([(d.figures == 1) & np.isin(d.labels, head) for d in (before, after)], axis=0), 25)
    assert np.array_equal(made.image[~there], TWO[0][~there])
    assert not np.array_equal(made.image, TWO[0])


def test_another_figure_can_be_meant_and_a_childs_body_is_told() -> None:
    made = with_face(FacePut(figure=1))
    assert made.explained is not None
    assert [p.facial_hair for p in made.explained.scene.description.figures] == ["none", "beard"]
    assert made.explained.scene.description.figures[1].subject == "girl"
    assert any("a child's" in said for said in made.says)


def test_hair_can_be_left_out() -> None:
    made = with_face(FacePut(), parts=["face", "skin"])
    assert made.explained is not None
    now = made.explained.scene.description.figures[0]
    assert (now.skin, now.hair, now.facial_hair) == ("umber", "bun", "none")


@pytest.mark.parametrize(("put", "where", "why"), [(FacePut(figure=5), TARGET, "not in it"), (FacePut(), NOBODY, "nobody was recognised")])
def test_where_the_face_cannot_go_the_picture_stays_and_it_is_told(put: FacePut, where: str, why: str) -> None:
    made = with_face(put, where, own=where == TARGET)
    assert np.array_equal(made.image, TWO[0] if where == TARGET else np.full((320, 256, 3), 200, np.uint8))
    assert made.says[0].startswith(NO_FACE)
    assert why in made.says[0]


@pytest.mark.parametrize("figure", [0, 1])
@pytest.mark.statistics
def test_on_a_picture_that_was_not_drawn_here_whoever_is_meant_gets_face_and_hair_and_the_rest_stays(figure: int) -> None:
    made = with_face(FacePut(figure=figure), own=False)
    shown = TWO[1].drawn()
    x, y, r = shown.shown[figure].head
    rest = ~dilated(shown.figures == figure + 1, 61)
    assert np.array_equal(made.image[rest], TWO[0][rest])
    for low, high in ((0, r / 3), (r / 2, r * 0.9)):  # cheeks, and the chin under the beard
        there = np.s_[round(y + low) : round(y + high), round(x - r / 3) : round(x + r / 3)]
        assert made.image[there].mean() < TWO[0][there].mean() - 20
    brown, ink = (one[round(y - 0.8 * r), round(x)].mean() for one in (TWO[0], made.image))
    assert ink < brown


def test_a_recipe_without_a_face_is_written_as_it_always_was() -> None:
    assert "face" not in Recipe(source=Source(picture=TARGET)).model_dump()["source"]
    put = Recipe(source=Source(picture=TARGET, face=FacePut(figure=2)))
    assert Recipe.model_validate(put.model_dump()) == put


# -- dials ---------------------------------------------------------------------------------------------------------


def test_a_face_goes_on_each_picture_of_its_dial_in_that_pictures_size() -> None:
    recipe = Recipe(cues=[Cue(role="face", picture=ANCHOR)], steps=4)
    dial = Dial(name=FACE_ON, values=(target(TARGET, (512, 640)), target(NOBODY, (320, 256), 3)))
    check(recipe, [dial])
    first, second = (recipe_at(recipe, [dial], place) for place in range(2))
    assert first.source is not None
    assert second.source is not None
    assert (first.width, first.height, first.source.picture, first.source.face) == (512, 640, TARGET, FacePut())
    assert (second.width, second.height, second.source.face) == (320, 256, FacePut(figure=3))
    assert [picture_of_target(str(value)) for value in dial.values] == [TARGET, NOBODY]
    many = Dial(name=FACE_ON, values=tuple(target(f"{n:064x}", SIZE) for n in range(MOST_TARGETS)))
    check(recipe, [many])


@pytest.mark.parametrize("value", ["", TARGET, f"512x640 {TARGET[:-1]}", f"512x640 {TARGET} 9", f"5x640 {TARGET}"])
def test_what_names_no_picture_is_refused(value: str) -> None:
    with pytest.raises(ArtistError):
        recipe_at(Recipe(cues=[Cue(role="face", picture=ANCHOR)]), [Dial(name=FACE_ON, values=(value,))], 0)


@pytest.mark.parametrize("kind", KINDS.values(), ids=lambda kind: kind.name)
def test_every_phrase_of_a_sheet_is_understood_and_says_something_besides_the_words_of_all(kind) -> None:  # type: ignore[no-untyped-def]
    common = understand(kind.words)
    assert not common.unknown
    for phrase in (*kind.phrases, *kind.down):
        both = understand(f"{kind.words}, {phrase}")
        assert not both.unknown
        assert both.wanted != common.wanted or phrase in kind.words


def test_phrases_of_a_sheet_are_the_kinds_then_the_wardrobe_or_ones_own() -> None:
    (worn, views) = dials(KINDS["outfits"], ["red tunic", "blue coat"])
    assert (worn.name, worn.values, views.name) == (SAID, ("in red tunic", "in blue coat"), SAID_TOO)
    (said,) = dials(KINDS["expressions"], ["red tunic"], " winking \n\ncalm\n")
    assert said.values == (*KINDS["expressions"].phrases, "winking")
    recipe = Recipe(words="bust", count=1)
    assert recipe_at(recipe, (worn, views), 3).words == f"bust, in blue coat, {views.values[1]}"
    assert recipe_at(Recipe(count=1), (said,), 1).words == "joyful"


def test_a_sheet_with_nothing_to_show_or_too_much_is_refused() -> None:
    with pytest.raises(ArtistError, match="wardrobe is empty"):
        dials(KINDS["outfits"])
    with pytest.raises(ArtistError, match=str(MOST_OWN)):
        dials(KINDS["expressions"], own="\n".join(f"phrase {n}" for n in range(MOST_OWN + 1)))
    with pytest.raises(ArtistError, match="no such sheet"):
        kind_called("horoscopes")
