"""Things and animals that stand by themselves: drawn, placed, named by words, and what trades bring along."""

from dataclasses import replace

import numpy as np
import pytest

from mosskeeper.core.illustrator.description import MOST_THINGS, Description, Layout, Part, Person, Standing
from mosskeeper.core.illustrator.draw import draw, draw_scene
from mosskeeper.core.illustrator.objects.table import OBJECTS
from mosskeeper.core.illustrator.placing import row
from mosskeeper.core.illustrator.scene import Scene, scene_of
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.takes.beliefs import Beliefs
from mosskeeper.core.takes.habits import usual_of
from mosskeeper.core.words.attributes import ATTRIBUTES
from mosskeeper.core.words.thing_words import object_called
from mosskeeper.core.words.trades import TRADES
from mosskeeper.core.words.understand import understand
from mosskeeper.core.words.unseen import unseen

SIZE = (256, 320)
ALONE = Description(place="plain backdrop", layout=Layout("standing", "full"))


def things_of(text: str) -> list[tuple[str, str]]:
    return [(one.name, one.where) for one in understand(text).things]


@pytest.mark.parametrize("name", OBJECTS)
def test_an_object_fills_the_box_of_its_row_and_carries_its_label(name: str) -> None:
    scene = replace(scene_of(replace(ALONE, things=(Standing(name),)), SIZE), absent=frozenset({0}))
    thing, one = scene.things[0], OBJECTS[name]
    own = draw_scene(scene).figures == 3
    assert own.sum() > 12
    ys, xs = np.nonzero(own)
    reach = one.wide * thing.scale * 0.5
    assert xs.min() > thing.foot[0] - 1.35 * reach - 4 and xs.max() < thing.foot[0] + 1.35 * reach + 4
    assert ys.min() > thing.foot[1] - 1.2 * one.tall * thing.scale - 4


@pytest.mark.parametrize("framing", ["full", "wide", "half", "bust"])
@pytest.mark.parametrize("name", ["dog", "horse", "owl", "lamp post", "table", "butterflies"])
def test_a_thing_beside_somebody_is_seen(name: str, framing: str) -> None:
    d = replace(ALONE, things=(Standing(name),), layout=Layout("standing", framing))
    assert (draw(d, SIZE).figures == 3).mean() > 0.001


def test_things_stand_beside_behind_before_and_under_whom_they_belong_to() -> None:
    def scene(where: str, name: str, pose: str = "standing") -> Scene:
        return scene_of(replace(ALONE, things=(Standing(name, where),), layout=Layout(pose, "full")), SIZE)

    beside, behind, before = (scene(where, "barrel").things[0] for where in ("beside", "behind", "before"))
    assert before.depth < 0 < beside.depth < behind.depth
    assert before.foot[1] > beside.foot[1] > behind.foot[1]
    under = scene("under", "chair", "sitting")
    hips = (under.postures[0].joint("right hip") + under.postures[0].joint("left hip")) / 2
    assert abs(under.things[0].foot[0] - (hips[0] * under.camera.spots[0].scale + under.camera.spots[0].origin[0])) < 12
    assert not under.postures[0].seated, "the crate of somebody who sits gives way to the chair"


def test_what_stands_on_another_thing_stands_on_its_top() -> None:
    scene = scene_of(replace(ALONE, things=(Standing("table", "before"), Standing("candles", on=0), Standing("cauldron", on=0))), SIZE)
    table, candles, cauldron = scene.things
    assert candles.foot[1] == pytest.approx(table.foot[1] - (row("table").top - 0.08) * table.scale)
    assert candles.foot[0] != cauldron.foot[0]


def test_a_thing_has_the_colour_that_it_is_given() -> None:
    plain, red = (draw(replace(ALONE, things=(Standing("horse", colour=c),)), SIZE) for c in (None, (0.9, 0.05, 0.05)))
    there = plain.figures == 3
    assert red.image[there][:, 0].mean() > red.image[there][:, 1].mean() + 60
    assert (plain.figures == red.figures).all()


def test_a_scene_with_things_comes_back_from_its_document() -> None:
    scene = scene_of(replace(ALONE, things=(Standing("dog", colour=(0.1, 0.2, 0.3)), Standing("table", "before"))), SIZE)
    again = Scene.from_json(scene.to_json())
    assert again.things == scene.things
    assert again.description.things == scene.description.things


def test_no_more_things_are_placed_than_are_drawn() -> None:
    assert len(scene_of(replace(ALONE, things=(Standing("crow"),) * 12), SIZE).things) == MOST_THINGS


@pytest.mark.parametrize(
    ("text", "things"),
    [
        ("a girl with a dog", [("dog", "beside")]),
        ("a woman and three crows", [("crow", "beside")] * 3),
        ("an old man behind a table", [("table", "before")]),
        ("a lion behind a boy", [("lion", "behind")]),
        ("a girl on a park bench", [("bench", "under")]),
        ("a man standing on a chair", [("chair", "beside")]),
        ("a woman without a dog", []),
        ("a table, a man at the table", [("table", "beside")]),
        ("a woman holding a hand mirror", []),
    ],
)
def test_words_put_things_into_the_picture(text: str, things: list[tuple[str, str]]) -> None:
    assert things_of(text) == things


def test_colours_and_places_of_things_are_those_that_the_words_give() -> None:
    said = understand("a girl beside a red bicycle, a table with a candle on it")
    bicycle, table, candle = said.things
    assert bicycle.colour is not None and bicycle.colour[0] > 2 * bicycle.colour[1]
    assert (table.name, candle.name, candle.on) == ("table", "candles", 1)


def test_a_second_animal_stands_there_too() -> None:
    said = understand("a boy with a cat and a fox")
    assert (list(said.wanted["companion"]), [one.name for one in said.things]) == (["cat"], ["fox"])


def test_a_thing_that_a_take_lacks_is_told() -> None:
    said = understand("a woman beside a horse")
    assert unseen(said, ALONE) == ["horse"]
    assert unseen(said, replace(ALONE, things=said.things)) == []


@pytest.mark.parametrize("word", ["puppy", "raven", "armchair", "street lamp", "rocking chair", "pine tree"])
def test_other_words_mean_the_same_object(word: str) -> None:
    assert object_called(word) in OBJECTS


@pytest.mark.parametrize("trade", TRADES)
def test_a_trade_is_made_of_what_can_be_drawn(trade: str) -> None:
    for attribute, value in TRADES[trade].items():
        if attribute.startswith("tint ") or value.startswith("#"):
            assert int(value[1:], 16) >= 0
        else:
            assert value in ATTRIBUTES[attribute].every, (trade, attribute)


def test_what_is_named_beside_a_trade_wins() -> None:
    knight = understand("a knight in a green dress holding a rose").wanted
    assert (list(knight["outfit"]), list(knight["prop"]), list(knight["headwear"])) == (["garden dress"], ["rose"], ["helmet"])
    assert list(understand("a pirate girl").wanted["headwear"]) == ["tricorn"]


def exemplars(words: str, n: int = 24) -> list[Person]:
    beliefs, rng = Beliefs(Recipe(words=words)), np.random.default_rng(3)
    return list(beliefs.exemplars(beliefs.composition(rng), rng, n))


def test_what_only_words_bring_is_never_there_by_chance() -> None:
    for one in exemplars("somebody", 200):
        assert one.outfit in ATTRIBUTES["outfit"].values and one.prop in ATTRIBUTES["prop"].values
    assert {one.outfit for one in exemplars("a man in a space suit")} == {"space suit"}


def test_men_and_boys_have_the_hair_and_clothes_of_their_kind_where_nobody_says() -> None:
    boys = exemplars("a boy", 60)
    assert np.mean([one.outfit in ("garden dress", "ball gown", "jumper and skirt") for one in boys]) < 0.05
    assert np.mean([usual_of("boy")["hair"].get(one.hair, 1.0) < 0.1 for one in boys]) < 0.15
    assert {one.outfit for one in exemplars("a boy in a garden dress")} == {"garden dress"}


def test_trees_and_horses_stand_outdoors_where_the_place_is_open() -> None:
    beliefs, rng = Beliefs(Recipe(words="a woman beside a horse")), np.random.default_rng(5)
    indoors = {"fern house", "library stair", "kite loft", "seed vault", "night train", "kitchen"}
    made = beliefs.exemplars(beliefs.composition(rng), rng, 40)
    assert np.mean([one.place in indoors for one in made]) < 0.1
    assert all(one.layout.framing in ("full", "wide") and one.things[0].name == "horse" for one in made)


def test_an_object_is_no_part_of_a_person() -> None:
    labels, figures = (lambda d: (d.labels, d.figures))(draw(replace(ALONE, things=(Standing("tree", "behind"),)), SIZE))
    assert set(np.unique(labels[figures == 3])) <= {int(Part.FOLIAGE)}
