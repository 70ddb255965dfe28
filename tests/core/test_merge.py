"""Merging edits of one recipe, as a property of all recipes."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.merge import merge
from mosskeeper.core.recipe import Cue, Recipe

SHA = "a" * 64
IDS = ("one", "two", "three")
cue = st.builds(
    lambda i, w, e, on: Cue(id=i, picture=SHA, weight=w, end=e, on=on),
    st.sampled_from(IDS),
    st.sampled_from((0.2, 0.5, 0.9)),
    st.sampled_from((50.0, 80.0)),
    st.booleans(),
)
recipes = st.builds(
    Recipe,
    words=st.sampled_from(("", "a girl", "a boy")),
    steps=st.sampled_from((8, 20)),
    seed=st.sampled_from((None, 3)),
    styles=st.lists(st.sampled_from(("chalk", "linocut", "gouache")), unique=True),
    emphasis=st.dictionaries(st.sampled_from(("girl", "red")), st.sampled_from((0.6, 1.6))),
    cues=st.lists(cue, max_size=3, unique_by=lambda c: c.id),
)


def by_id(recipe: Recipe) -> dict[str, Cue]:
    return {c.id: c for c in recipe.cues}


def same(a: Recipe, b: Recipe) -> bool:
    """Equal but for the order of styles and cues."""
    return a.model_copy(update={"cues": [], "styles": []}) == b.model_copy(update={"cues": [], "styles": []}) and (
        by_id(a) == by_id(b) and set(a.styles) == set(b.styles)
    )


@given(recipes, recipes)
def test_an_edit_that_meets_no_other_stands_as_it_is(base: Recipe, mine: Recipe) -> None:
    merged = merge(base, mine, base)
    assert merged.clashes == ()
    assert same(merged.recipe, mine)


@given(recipes, recipes)
def test_who_edited_nothing_gets_what_stands_there(base: Recipe, theirs: Recipe) -> None:
    merged = merge(base, base, theirs)
    assert merged.clashes == ()
    assert same(merged.recipe, theirs)


@given(recipes, recipes)
def test_the_same_edit_made_twice_is_made_once(base: Recipe, both: Recipe) -> None:
    merged = merge(base, both, both)
    assert merged.clashes == ()
    assert same(merged.recipe, both)


@given(recipes, recipes, recipes)
def test_every_value_is_one_of_the_two_and_what_clashed_is_theirs(base: Recipe, mine: Recipe, theirs: Recipe) -> None:
    try:
        merged = merge(base, mine, theirs)
    except ArtistError:
        return
    clashed = {clash.field for clash in merged.clashes}
    for name in ("words", "steps", "seed"):
        got, own, other = (getattr(r, name) for r in (merged.recipe, mine, theirs))
        assert got in (own, other)
        assert (name in clashed) == (own != other and getattr(base, name) not in (own, other))
        if name in clashed:
            assert got == other


@given(recipes, recipes, recipes)
def test_whoever_comes_first_both_get_the_same_where_nothing_clashes(base: Recipe, a: Recipe, b: Recipe) -> None:
    try:
        one, two = merge(base, a, b), merge(base, b, a)
    except ArtistError:
        return
    if not one.clashes:
        assert not two.clashes
        assert by_id(one.recipe) == by_id(two.recipe)
        assert (one.recipe.words, one.recipe.steps, one.recipe.seed) == (two.recipe.words, two.recipe.steps, two.recipe.seed)
        assert set(one.recipe.styles) == set(two.recipe.styles)


def on(*cues: Cue, **more: Any) -> Recipe:
    return Recipe(cues=list(cues), **more)


ONE, TWO = Cue(id="one", picture=SHA, name="study"), Cue(id="two", picture=SHA)


def test_weight_and_span_of_one_cue_are_different_things() -> None:
    mine, theirs = ONE.model_copy(update={"weight": 0.9}), ONE.model_copy(update={"end": 60.0})
    merged = merge(on(ONE), on(mine), on(theirs))
    assert merged.clashes == ()
    assert (merged.recipe.cues[0].weight, merged.recipe.cues[0].end) == (0.9, 60.0)


def test_two_weights_of_one_cue_clash_with_both_values() -> None:
    merged = merge(on(ONE), on(ONE.model_copy(update={"weight": 0.9})), on(ONE.model_copy(update={"weight": 0.2})))
    (clash,) = merged.clashes
    assert (clash.field, clash.label, clash.mine, clash.theirs) == ("cue-one-weight", "Weight of “study”", "0.9", "0.2")


@pytest.mark.parametrize(("mine_gone", "told"), [(True, ("taken off", "changed")), (False, ("changed", "taken off"))])
def test_taking_a_cue_off_clashes_with_changing_it(mine_gone: bool, told: tuple[str, str]) -> None:
    changed = ONE.model_copy(update={"weight": 0.9})
    merged = merge(on(ONE, TWO), on(TWO) if mine_gone else on(changed, TWO), on(changed, TWO) if mine_gone else on(TWO))
    (clash,) = merged.clashes
    assert (clash.field, clash.mine, clash.theirs) == ("cue-one", *told)


def test_a_cue_that_both_took_off_is_off_and_new_ones_of_both_are_on() -> None:
    three, four = (Cue(id=name, picture=SHA) for name in ("three", "four"))
    merged = merge(on(ONE), on(three), on(four))
    assert merged.clashes == ()
    assert set(by_id(merged.recipe)) == {"three", "four"}


def test_a_span_of_which_each_moved_another_end_and_nothing_is_left_is_told() -> None:
    start, end = ONE.model_copy(update={"start": 70.0}), ONE.model_copy(update={"end": 40.0})
    with pytest.raises(ArtistError, match="Both changes together"):
        merge(on(ONE), on(start), on(end))


def test_given_words_are_never_edited() -> None:
    merged = merge(Recipe(given="old"), Recipe(given="mine"), Recipe(given="theirs", words="x"))
    assert merged.recipe.given == "theirs"
