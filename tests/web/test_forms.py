import pytest
from hypothesis import given
from hypothesis import strategies as st
from starlette.datastructures import FormData

from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.web.render import number, seconds
from mosskeeper.web.table.forms import FIELDS, fields_of, optional_id, read_edits
from mosskeeper.web.table.view import words_context

SHA = "b" * 64


def form_of(recipe: Recipe) -> FormData:
    """All fields that the light table shows for a recipe, as if each had been edited."""
    return FormData([(name, value) for name, values in fields_of(recipe).items() for value in values or [""]])


def read(form: FormData, shown: Recipe) -> tuple[Recipe | None, dict[str, str]]:
    edited = read_edits(form, shown)
    return edited.mine, edited.problems


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
    blank = Recipe(cues=[cue.model_copy(update={"weight": 0.1, "on": True}) for cue in recipe.cues])
    mine, problems = read(form_of(recipe), blank)
    assert problems == {}
    assert mine == recipe


def test_what_a_field_replaces_stands_in_the_base() -> None:
    shown = Recipe(words="now", steps=9)
    edited = read_edits(FormData([("words", "mine"), ("was-words", "before"), ("steps", "12")]), shown)
    assert (edited.base.words, edited.base.steps) == ("before", 9)
    assert edited.mine is not None
    assert (edited.mine.words, edited.mine.steps) == ("mine", 12)


def test_an_invented_past_is_not_believed() -> None:
    edited = read_edits(FormData([("steps", "12"), ("was-steps", "many")]), Recipe(steps=9))
    assert edited.base.steps == 9


def test_fields_of_a_cue_that_is_gone_change_nothing() -> None:
    mine, problems = read(FormData([("cue-zz-weight", "1"), ("words", "calm")]), Recipe())
    assert (mine, problems) == (Recipe(words="calm"), {})


def test_given_words_have_no_field_and_stay() -> None:
    mine, _ = read(FormData([("words", "calm")]), Recipe(given="Ada", steps=9))
    assert mine is not None
    assert (mine.given, mine.words, mine.steps) == ("Ada", "calm", 9)


def test_what_a_cue_has_beyond_its_fields_stays() -> None:
    own = Recipe(
        cues=[
            Cue(role="pose", skeleton=[(0.5, 0.5)] * 17 + [None], weight=0.7),
            Cue(role="edges", picture=SHA, area="c" * 64, weight=0.4),
        ]
    )
    mine, problems = read(form_of(own), own)
    assert problems == {}
    assert mine is not None
    assert mine.cues == own.cues


def test_every_problem_has_a_field_on_the_page() -> None:
    form = FormData([("steps", "x"), ("guidance", "99"), ("cue-0-weight", "-1")])
    mine, problems = read(form, Recipe(cues=[Cue(picture=SHA)]))
    assert mine is None
    assert set(problems) == {"steps", "guidance", "cues"}
    assert set(problems) <= set(FIELDS)


def test_line_ends_of_browsers_become_plain() -> None:
    mine, _ = read(FormData([("words", "one\r\ntwo")]), Recipe())
    assert mine is not None
    assert mine.words == "one\ntwo"


@pytest.mark.parametrize(("typed", "meant"), [("6,5", 6.5), (" 7 ", 7.0), ("0", 0.0)])
def test_numbers_are_read_as_people_write_them(typed: str, meant: float) -> None:
    mine, _ = read(FormData([("guidance", typed)]), Recipe())
    assert mine is not None
    assert mine.guidance == meant


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


def test_who_stands_on_ground_that_the_framing_hardly_shows_is_told() -> None:
    assert words_context(Recipe(given="with a cat", words="half figure"))["beyond"] == [("half", "cat")]
    assert words_context(Recipe(words="a girl with a cat, full figure"))["beyond"] == []


def test_numbers_and_times_read_well() -> None:
    assert (number(12.0), number(6.54)) == ("12", "6.5")
    assert (seconds(4.4), seconds(200)) == ("4 s", "3 min")
