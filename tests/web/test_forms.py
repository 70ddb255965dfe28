import pytest
from hypothesis import given
from hypothesis import strategies as st
from starlette.datastructures import FormData

from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.web.render import number, seconds
from mosskeeper.web.table.forms import FIELDS, optional_id, recipe_from_form
from mosskeeper.web.table.view import words_context

SHA = "b" * 64


def form_of(recipe: Recipe) -> FormData:
    """The fields that the light table shows for a recipe."""
    items: list[tuple[str, str]] = [
        (name, str(getattr(recipe, name)))
        for name in ("words", "negative", "width", "height", "steps", "sampler", "guidance", "count", "engine")
    ]
    items.append(("seed", "" if recipe.seed is None else str(recipe.seed)))
    items += [("has-styles", "yes"), ("has-cues", "yes"), *(("styles", s) for s in recipe.styles)]
    for i, cue in enumerate(recipe.cues):
        items += [
            (f"cue-{i}-{n}", "" if getattr(cue, n) is None else str(getattr(cue, n)))
            for n in ("picture", "name", "role", "weight", "start", "end")
        ]
        if cue.on:
            items.append((f"cue-{i}-on", "on"))
    return FormData(items)


@given(
    st.builds(
        Recipe,
        words=st.text(st.characters(codec="utf-8", exclude_categories=("Cc", "Cs")), max_size=40),
        guidance=st.floats(0, 20).map(lambda v: round(v, 2)),
        seed=st.none() | st.integers(0, 2**31 - 1),
        styles=st.lists(st.sampled_from(["chalk", "linocut"]), unique=True),
        cues=st.lists(
            st.builds(lambda w, on: Cue(picture=SHA, name="x", weight=round(w, 2), on=on), st.floats(0, 1.5), st.booleans()), max_size=3
        ),
    )
)
def test_what_the_table_shows_is_what_it_saves(recipe: Recipe) -> None:
    read, problems = recipe_from_form(form_of(recipe), Recipe())
    assert problems == {}
    assert read == recipe


def test_given_words_have_no_field_and_stay() -> None:
    read, _ = recipe_from_form(FormData([("words", "calm")]), Recipe(given="Ada", steps=9))
    assert read is not None
    assert (read.given, read.words, read.steps) == ("Ada", "calm", 9)


def test_what_a_cue_has_beyond_its_fields_stays() -> None:
    own = Recipe(
        cues=[
            Cue(role="pose", skeleton=[(0.5, 0.5)] * 17 + [None], weight=0.7),
            Cue(role="edges", picture=SHA, area="c" * 64, weight=0.4),
        ]
    )
    read, problems = recipe_from_form(form_of(own), own)
    assert problems == {}
    assert read is not None
    assert read.cues == own.cues


def test_every_problem_has_a_field_on_the_page() -> None:
    form = FormData([("steps", "x"), ("guidance", "99"), ("has-cues", "1"), ("cue-0-picture", "zz"), ("cue-0-weight", "-1")])
    read, problems = recipe_from_form(form, Recipe())
    assert read is None
    assert set(problems) == {"steps", "guidance", "cues"}
    assert set(problems) <= set(FIELDS)


def test_line_ends_of_browsers_become_plain() -> None:
    read, _ = recipe_from_form(FormData([("words", "one\r\ntwo")]), Recipe())
    assert read is not None
    assert read.words == "one\ntwo"


@pytest.mark.parametrize(("typed", "meant"), [("6,5", 6.5), (" 7 ", 7.0), ("0", 0.0)])
def test_numbers_are_read_as_people_write_them(typed: str, meant: float) -> None:
    read, _ = recipe_from_form(FormData([("guidance", typed)]), Recipe())
    assert read is not None
    assert read.guidance == meant


@pytest.mark.parametrize(("value", "meant"), [("12", 12), ("", None), ("x", None), ("-3", None)])
def test_an_empty_choice_is_no_id(value: str, meant: int | None) -> None:
    assert optional_id({"scene": value}, "scene") == meant


def test_pieces_of_the_prompt_join_to_the_prompt() -> None:
    words = "  a boy, with a lantrn; calm at dusk  "
    context = words_context(Recipe(words=words))
    assert "".join(text for text, _ in context["pieces"]) == words.strip()
    assert [s.text for s in context["hints"]] == ["lantrn"]
    assert not context["nothing"]


def test_two_wishes_for_one_thing_are_pointed_out() -> None:
    conflicts = dict(words_context(Recipe(given="at dusk", words="at night"))["conflicts"])
    assert conflicts["time"] == ["dusk", "night"]


def test_numbers_and_times_read_well() -> None:
    assert (number(12.0), number(6.54)) == ("12", "6.5")
    assert (seconds(4.4), seconds(200)) == ("4 s", "3 min")
