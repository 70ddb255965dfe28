"""What the page says of things in the words: what stands in the picture is never listed as missing."""

from mosskeeper.core.recipe import Recipe
from mosskeeper.web.table.view import words_context


def test_an_animal_that_is_held_is_told_to_stand_beside_and_not_as_missing() -> None:
    said = words_context(Recipe(words="a boy holding a puppy, a gramophone"))
    assert [span.text for span in said["told"]] == ["puppy"]
    assert "puppy" not in {span.text for span in [*said["aside"], *said["hints"]]}
    assert "gramophone" in {span.text for span in said["hints"]}


def test_what_a_trade_brings_is_told_apart_from_what_is_missing() -> None:
    said = words_context(Recipe(words="a knight"))
    assert [span.also for span in said["along"]] == ["plate armour, helmet, sword"]
    assert said["aside"] == []
