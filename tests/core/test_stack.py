"""Stacks of mends: what stands, what has to be made anew, and what has been made is not made again."""

import pytest
from pydantic import ValidationError

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.recipe import Cue
from mosskeeper.core.stack import MOST_MENDS, Mend, Stack, StackSettings, heights, key_of, recipe_of, top

BASE, MASK, OTHER = "a" * 64, "b" * 64, "c" * 64


def mend(n: int, **more: object) -> Mend:
    return Mend.model_validate({"id": f"m{n}", "mask": MASK, "words": f"thing {n}", "seed": n} | more)


def made_of(stack: Stack) -> dict[str, str]:
    """What would have been made of a stack, from the lowest up."""
    made: dict[str, str] = {}
    for n, _ in enumerate(stack.mends):
        height = heights(stack, made.get)[n]
        if height.recipe is not None and height.mend.seed is not None:
            key = key_of(height.recipe, height.mend.seed)
            made.setdefault(key, key)
    return made


STACK = Stack(base=BASE, size=(256, 320), mends=[mend(1), mend(2), mend(3)])
MADE = made_of(STACK)


def test_each_mend_stands_on_the_one_below() -> None:
    found = heights(STACK, MADE.get)
    assert [h.on for h in found] == [BASE, found[0].picture, found[1].picture]
    assert all(h.stands for h in found)
    assert top(STACK, found) == found[2].picture
    assert top(Stack(base=BASE, size=(256, 320)), []) == BASE


def test_a_lower_one_reworded_leaves_the_upper_ones_to_be_made_anew() -> None:
    found = heights(STACK.with_mend(mend(1, words="other")), MADE.get)
    assert [h.pending for h in found] == [True, True, True]
    assert found[1].on is None
    assert top(STACK, found) is None


def test_hidden_and_unaccepted_mends_change_nothing_and_what_was_made_comes_back() -> None:
    hidden = STACK.with_mend(mend(2, shown=False))
    found = heights(hidden, MADE.get)
    assert (found[1].passed, found[1].picture, found[2].on) == (True, heights(STACK, MADE.get)[1].picture, found[0].picture)
    assert found[2].pending
    assert top(STACK, heights(hidden.with_mend(mend(2)), MADE.get)) is not None
    assert not heights(STACK.with_mend(mend(3, seed=None)), MADE.get)[2].pending


def test_the_order_is_changed_as_far_as_there_is_room() -> None:
    assert [m.id for m in STACK.moved("m1", 1).mends] == ["m2", "m1", "m3"]
    assert [m.id for m in STACK.moved("m1", -5).mends] == ["m1", "m2", "m3"]
    assert [m.id for m in STACK.moved("m1", 99).mends] == ["m2", "m3", "m1"]
    assert STACK.moved("nobody", 1) == STACK


def test_a_wider_canvas_counts_for_all_above() -> None:
    stack = STACK.with_mend(mend(1, wider=(64, 0, 32, 16)))
    found = heights(stack, made_of(stack).get)
    assert [h.size for h in found] == [(256, 320), (352, 336), (352, 336)]
    assert found[0].recipe is not None
    assert (found[0].recipe.width, found[0].recipe.source.mask) == (352, None)  # type: ignore[union-attr]
    with pytest.raises(ArtistError, match="at most 2048"):
        recipe_of(mend(1, wider=(1024, 0, 1024, 0)), BASE, (256, 320), StackSettings())


def test_the_recipe_of_a_mend_says_all_that_makes_it() -> None:
    one = mend(4, negative="fog", strength=0.4, feather=9, outlines=False, count=5, cues=[Cue(picture=OTHER, role="face").model_dump()])
    recipe = recipe_of(one, OTHER, (256, 320), StackSettings(engine="fine", steps=33))
    source = recipe.source
    assert source is not None
    assert (recipe.words, recipe.negative, recipe.count, recipe.engine, recipe.steps) == ("thing 4", "fog", 5, "fine", 33)
    assert (source.picture, source.mask, source.strength, source.feather, source.outlines) == (OTHER, MASK, 0.4, 9, False)
    assert [cue.role for cue in recipe.cues] == ["face"]
    assert key_of(recipe, 1) != key_of(recipe, 2)
    assert key_of(recipe, 1) == key_of(recipe.model_copy(update={"count": 1}), 1)


def test_a_stack_that_cannot_be_is_refused() -> None:
    with pytest.raises(ValidationError, match="one id"):
        Stack(base=BASE, size=(256, 320), mends=[mend(1), mend(1)])
    with pytest.raises(ArtistError):
        STACK.changed(mends=[mend(n) for n in range(MOST_MENDS + 1)])
    with pytest.raises(ValidationError):
        Mend(id="x", strength=1.2)


def test_mends_are_called_by_what_they_ask() -> None:
    assert mend(1).name == "thing 1"
    assert mend(1, words="").name == "taken away"
    assert mend(1, words="", negative="hat").name == "without hat"
    assert mend(1, wider=(16, 0, 0, 0)).name == "a wider canvas"
    assert Mend(id="x").name == "a new mend"


def test_a_mend_made_with_a_reference_alone_is_called_after_that() -> None:
    cue = Cue(role="face", picture="a" * 64, name="Oda")
    assert Mend(id="m", mask="b" * 64, cues=[cue]).name == "face of Oda"
    assert Mend(id="m", mask="b" * 64, cues=[cue.model_copy(update={"on": False})]).name == "taken away"
