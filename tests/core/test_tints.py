"""Colours that words give to single things are seen in those things, and nowhere else."""

from dataclasses import replace

import numpy as np
import pytest

from mosskeeper.core.illustrator.description import TINTED, WORN, Description, Layout, Part
from mosskeeper.core.illustrator.draw import draw, draw_scene
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.illustrator.vocabulary.outfits import GARMENTS, OUTFITS
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.takes.take import make_take
from mosskeeper.core.words.tints import in_tints, rgb_of, without_effect

SIZE = (256, 320)
FULL = Description(layout=Layout(framing="full"), outfit="festival coat", headwear="hat")
RED = (0.9, 0.0, 0.0)


def unlit(description: Description, part: Part) -> np.ndarray:
    """Median colour of a part without light, 0…1."""
    drawing = draw_scene(scene_of(description, SIZE), with_albedo=True)
    assert drawing.albedo is not None
    return np.median(drawing.albedo[drawing.labels == part], axis=0) / 255


@pytest.mark.parametrize(
    ("thing", "part", "changes"),
    [
        ("boots", Part.SHOES, {}),
        ("hat", Part.HEADWEAR, {}),
        ("hat", Part.HEADWEAR, {"headwear": "headscarf"}),
        ("trousers", Part.BOTTOM, {}),
        ("prop", Part.PROP, {"prop": "umbrella"}),
        ("gloves", Part.HAND, {"worn": ("gloves",)}),
    ],
)
def test_a_thing_has_the_colour_that_it_is_given(thing: str, part: Part, changes: dict[str, object]) -> None:
    description = replace(FULL, **changes, tints=((thing, RED),))  # type: ignore[arg-type]
    assert np.abs(unlit(description, part) - RED).max() < 0.2


@pytest.mark.parametrize("outfit", OUTFITS)
def test_every_outfit_is_drawn_with_all_its_things_in_their_own_colours(outfit: str) -> None:
    tinted = replace(FULL, outfit=outfit, worn=WORN, prop="umbrella", tints=tuple((thing, RED) for thing in TINTED))
    plain, red = (draw(one, SIZE) for one in (replace(tinted, tints=()), tinted))
    assert np.abs(plain.image.astype(int) - red.image.astype(int))[red.figures == 1].mean() > 8


def test_the_colour_of_boots_changes_nothing_else() -> None:
    plain, tinted = draw(FULL, SIZE), draw(replace(FULL, tints=(("boots", RED),)), SIZE)
    figure = (plain.figures == 1) & (plain.labels != Part.SHOES) & (plain.labels != Part.BOTTOM)
    changed = np.abs(plain.image.astype(int) - tinted.image.astype(int)).max(2) > 24
    assert changed[plain.labels == Part.SHOES].mean() > 0.6
    assert changed[figure].mean() < 0.02


def test_a_sky_and_a_background_have_the_colour_that_they_are_given() -> None:
    violet = (0.5, 0.1, 0.6)
    under = draw(replace(FULL, tones=(("sky", violet),)), SIZE)
    assert np.abs(np.median(under.image[under.labels == Part.SKY], axis=0) / 255 - violet).max() < 0.35
    before = draw(replace(FULL, place="plain backdrop", tones=(("background", violet),)), SIZE)
    behind = before.image[: SIZE[1] // 3][before.figures[: SIZE[1] // 3] == 0]
    assert np.abs(np.median(behind, axis=0) / 255 - violet).max() < 0.2


def test_every_component_of_an_outfit_is_a_garment_that_can_be_coloured() -> None:
    assert {name: len(parts) for name, parts in OUTFITS.items()} == {name: len(garments) for name, garments in GARMENTS.items()}
    assert {garment for garments in GARMENTS.values() for garment in garments} <= set(TINTED)


def test_the_colour_of_the_main_garment_is_the_outfit_s() -> None:
    dyed = in_tints(FULL, {"coat": "#e50000", "boots": "#00ff00", "hair": "#ff81c0"})
    assert (dyed.colour_a, dyed.hair_colour, dyed.tints) == (rgb_of("#e50000"), "#ff81c0", (("boots", rgb_of("#00ff00")),))
    assert (without_effect(dyed, "boots"), without_effect(dyed, "cape"), without_effect(dyed, "prop")) == (False, True, True)
    tunic, cloak = (replace(FULL, outfit=outfit) for outfit in ("tunic", "night cloak"))
    assert (without_effect(tunic, "belt"), without_effect(tunic, "lining"), without_effect(cloak, "lining")) == (False, True, False)


def test_a_scene_with_colours_of_its_own_is_stored_and_drawn_the_same() -> None:
    scene = scene_of(replace(FULL, tints=(("boots", RED),), tones=(("sky", RED),)), SIZE)
    again = LayeredScenes.from_json(LayeredScenes.of([scene]).to_json())
    assert np.array_equal(again.drawn().image, draw_scene(scene).image)


def test_a_take_obeys_the_colours_of_its_words_in_every_seed() -> None:
    recipe = Recipe(words="a girl in a blue coat with red boots, full figure, plain white background", width=256, height=320, steps=4)
    for seed in range(3):
        made = make_take(recipe, seed).description
        assert (made.colour_a, dict(made.tints)["boots"], made.place) == (rgb_of("#0343df"), rgb_of("#e50000"), "plain backdrop")


def test_a_finish_that_nobody_named_is_the_same_in_all_takes() -> None:
    recipe = Recipe(words="a girl", width=256, height=256, steps=4)
    assert {make_take(recipe, seed).description.finish for seed in range(5)} == {("gouache",)}
