import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosskeeper.core.words.attributes import ATTRIBUTES
from mosskeeper.core.words.lexicon import meanings, vocabulary
from mosskeeper.core.words.said import with_said
from mosskeeper.core.words.understand import nearest, understand


def wanted(text: str) -> dict[str, list[str]]:
    return {attribute: sorted(values) for attribute, values in understand(text).wanted.items()}


@pytest.mark.parametrize(
    ("words", "now"),
    [
        ("", "kitchen"),
        ("a girl, waving.", "a girl, waving, kitchen"),
        ("a girl in the bell tower, waving", "a girl in the kitchen, waving"),
        ("bell tower, a girl, tide flats", "kitchen, a girl, "),
    ],
)
def test_a_place_is_said_in_place_of_another(words: str, now: str) -> None:
    assert with_said(words, "place", "kitchen") == now
    assert set(understand(now).wanted["place"]) == {"kitchen"}


def test_phrases_are_understood_before_their_words() -> None:
    assert wanted("a canal market at dusk")["place"] == ["canal market"]
    assert wanted("hair in a long braid")["hair"] == ["braid"]
    assert wanted("an old woman")["subject"] == ["old woman"]


@pytest.mark.parametrize(
    ("text", "attribute", "value"),
    [
        ("copper hair in a long braid", "hair colour", "copper"),
        ("black tight curls", "hair colour", "ink"),
        ("green eyes", "eyes", "green"),
        ("a navy festival coat", "colour", "navy"),
        ("a coat in moss-green", "colour", "moss"),
        ("cream trim", "trim", "cream"),
        ("silver curls", "hair colour", "silver"),
    ],
)
def test_a_colour_belongs_to_the_noun_beside_it(text: str, attribute: str, value: str) -> None:
    assert wanted(text)[attribute] == [value]


def test_two_colours_go_to_their_own_nouns() -> None:
    said = understand("a red scarf and a blue coat, green eyes")
    assert said.tints == {"scarf": "#e50000", "coat": "#0343df"}
    assert (list(said.wanted["colour"]), list(said.wanted["eyes"])) == (["navy"], ["green"])


def test_without_turns_the_rest_of_its_clause_into_unwanted_things() -> None:
    understanding = understand("a girl without glasses or freckles, with a lantern")
    assert understanding.unwanted == {"glasses": {"yes": 1.0}, "freckles": {"yes": 1.0}}
    assert "lantern" in understanding.wanted["prop"]


def test_unknown_words_are_reported_with_the_nearest_known_one() -> None:
    unknown = understand("a lantrn beside a gramophone").unknown
    assert next((s.text, s.nearest) for s in unknown) == ("lantrn", "lantern")
    assert unknown[1].text == "gramophone"


def test_a_name_stands_for_one_face() -> None:
    first, second = understand("Marrit Fenn, calm").likeness, understand("portrait of Marrit Fenn").likeness
    assert first is not None
    assert first == second
    assert first != understand("Oda Brask").likeness
    assert understand("a calm woman").likeness is None


@given(st.text(alphabet=st.sampled_from("abc de,.'without no red coat ß\n Ж9"), max_size=80))
def test_any_text_is_read_and_its_spans_lie_in_it_in_order(text: str) -> None:
    spans = understand(text).spans
    assert all(text[s.start : s.end] == s.text for s in spans)
    assert all(a.end <= b.start for a, b in itertools.pairwise(spans))


def test_every_phrase_says_something_that_exists() -> None:
    for phrase, said in meanings().items():
        for attribute, value in said:
            assert value in ATTRIBUTES[attribute].every, phrase


@pytest.mark.parametrize(
    "attribute",
    [
        "subject",
        "hair",
        "outfit",
        "place",
        "time",
        "pose",
        "framing",
        "prop",
        "expression",
        "finish",
        "headwear",
        "pattern",
        "companion",
        "light",
        "build",
    ],
)
def test_every_value_can_be_said_by_its_own_name(attribute: str) -> None:
    for value in ATTRIBUTES[attribute].values:
        if value in ("nothing", "none", "nobody", "average"):
            continue
        assert value in understand(value).wanted.get(attribute, {}), value


def test_the_lexicon_is_large() -> None:
    assert len(vocabulary()) >= 700


@pytest.mark.parametrize(("word", "offered"), [("front", "front view"), ("seen", ""), ("zebra", "")])
def test_a_word_of_phrases_that_mean_one_thing_is_offered_their_shortest(word: str, offered: str) -> None:
    assert nearest(word) == offered


def test_a_figure_seen_from_in_front_is_understood_without_a_rest() -> None:
    found = understand("a woman, half figure, seen from in front")
    assert "front" in found.wanted["view"]
    assert not [s.text for s in found.spans if s.kind == "unknown"]


def test_known_words_are_their_own_nearest() -> None:
    assert all(nearest(word) == word for word in vocabulary() if len(word) > 2)
