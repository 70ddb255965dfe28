"""Held words: what a chosen picture showed is kept until words say something else."""

import pytest

from mosskeeper.core.merge import merge
from mosskeeper.core.recipe import Recipe, read_recipe
from mosskeeper.core.words.attributes import ATTRIBUTES
from mosskeeper.core.words.held import HELD, held_words, speaking
from mosskeeper.core.words.understand import understand
from tests.core.few import make_take


@pytest.mark.parametrize("attribute", HELD)
def test_what_is_held_is_understood_as_what_was_seen(attribute: str) -> None:
    for value in ATTRIBUTES[attribute].values:
        (words,) = held_words({attribute: {value: 0.9}})
        assert understand(words).wanted[attribute] == {value: 1.0}, words


def test_what_was_not_surely_seen_is_not_held_and_styles_are_surer_than_a_reading() -> None:
    seen = {"place": {"kitchen": 0.4, "kite loft": 0.3}, "time": {"dusk": 0.8}, "finish": {"chalk": 0.9}, "eyes": {"amber": 1.0}}
    assert held_words(seen) == ["at dusk", "chalk"]
    assert held_words(seen, ["linocut", "gouache"]) == ["at dusk", "linocut", "gouache"]


def test_held_words_give_way_to_words_and_styles_about_the_same() -> None:
    held = ["on the night train", "at dusk", "chalk"]
    assert speaking("a girl", held) == held
    assert speaking("a girl in the kitchen", held) == ["at dusk", "chalk"]
    assert speaking("a girl at night", held, ["linocut"]) == ["on the night train"]


def test_held_words_decide_in_every_take_what_the_words_leave_open() -> None:
    free = Recipe(words="a girl", held=["on the night train", "at dusk", "chalk"], width=256, height=256, steps=4)
    made = [make_take(free, seed).description for seed in range(4)]
    assert {(d.place, d.time, d.finish) for d in made} == {("night train", "dusk", ("chalk",))}
    said = make_take(free.model_copy(update={"words": "a girl in the bell tower"}), 1).description
    assert (said.place, said.time) == ("bell tower", "dusk")


def test_held_words_merge_one_by_one_and_older_recipes_hold_nothing() -> None:
    base = Recipe(held=["at dusk", "chalk"])
    mine, theirs = base.model_copy(update={"held": ["chalk"]}), base.model_copy(update={"held": ["at dusk", "chalk", "in the kitchen"]})
    assert merge(base, mine, theirs).recipe.held == ["chalk", "in the kitchen"]
    assert read_recipe({"version": 2, "words": "a boy"}).held == []
