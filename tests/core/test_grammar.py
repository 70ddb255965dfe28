"""The grammar of prompts: what belongs to what."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosskeeper.core.words.grammar import tags
from mosskeeper.core.words.grammar.bindings import OF_PICTURE, parse
from mosskeeper.core.words.grammar.lexicon import lexicon, singular
from mosskeeper.core.words.grammar.words import split


def bound(text: str) -> set[str]:
    """Bindings as "head relation dependent"; the picture is "."."""
    read = parse(text)
    name = {OF_PICTURE: "."} | {i: word.low for i, word in enumerate(read.words)}
    return {f"{name[h]} {relation} {name[d]}" for h, relation, d in read.bindings}


@pytest.mark.parametrize(
    ("text", "wanted"),
    [
        ("a tall woman in a red coat", {"woman attr tall", "woman has coat", "coat attr red"}),
        ("long black hair", {"hair attr long", "hair attr black"}),
        ("her red boots, a girl", {"boots attr red"}),
        ("a boy with a dusty blue cap", {"boy has cap", "cap attr blue"}),
        ("a boy with a dark teal cap", {"boy has cap", "cap attr teal", "teal degree dark"}),
        ("two girls on a pier", {"girls count two", ". has pier"}),
        ("a man without a hat", {"man lacks hat"}),
        ("the old man gives the little girl a red apple", {"gives obj apple", "man to girl", "apple attr red"}),
        ("a clerk with ink on her cuffs", {"clerk has ink", "ink on cuffs"}),
        ("a monk pours water into a bowl", {"pours obj water", "monk into bowl"}),
        ("a sailor taking off his cap", {"taking obj cap"}),
        ("an old man's face, deep wrinkles", {"man attr old", "man has face", "man has wrinkles"}),
        ("a girl behind an old woman", {"girl behind woman"}),
    ],
)
def test_what_belongs_together_is_bound(text: str, wanted: set[str]) -> None:
    assert wanted <= bound(text)


def test_pronouns_lead_back_to_whom_they_mean() -> None:
    said = bound("a girl and an old man, she holds a kite, he is laughing")
    assert {"girl does holds", "man does laughing"} <= said


def test_names_are_persons_and_a_second_mention_is_the_same() -> None:
    read = parse("Marrit Fenn, woman, copper braid, Marrit waving")
    assert [read.words[read.chunks[i].at].low for i in read.people] == ["marrit fenn"]
    assert "marrit fenn has braid" in bound("Marrit Fenn, woman, copper braid")


def test_known_words_with_capitals_are_no_names() -> None:
    assert not any(word.name for word in parse("Soft Light, Red Coat").words)


@pytest.mark.parametrize(
    ("text", "weights"),
    [
        ("(red coat:1.3), boots", {"red": 1.3, "coat": 1.3, "boots": 1.0}),
        ("((coat))", {"coat": 1.1 * 1.1}),
        ("[coat]", {"coat": 1 / 1.1}),
        ("(coat:9)", {"coat": 2.0}),
        ("coat)", {"coat": 1.0}),
    ],
)
def test_brackets_and_numbers_weigh_words(text: str, weights: dict[str, float]) -> None:
    assert {w.low: pytest.approx(w.weight) for w in split(text) if not w.stop} == weights


@pytest.mark.parametrize(
    ("word", "tag", "base"),
    [
        ("boots", tags.GARMENT, "boot"),
        ("women", tags.PERSON, "woman"),
        ("running", tags.ING, "run"),
        ("torn", tags.PAST, "tear"),
        ("moss-green", tags.COLOUR, "moss-green"),
        ("silver-haired", tags.QUALITY, "silver-haired"),
        ("harpooner", tags.PERSON, "harpooner"),
        ("gray", tags.COLOUR, "grey"),
    ],
)
def test_inflected_and_compound_words_are_read(word: str, tag: str, base: str) -> None:
    assert (tag, base) in lexicon().readings(word)


def test_no_word_has_an_unknown_letter() -> None:
    letters = set("".join([*lexicon().hand.values(), *lexicon().wide.values()]))
    assert letters <= set(tags.NAMES) | {*tags.OPEN_KINDS.values(), tags.DETERMINER}


def test_singulars_keep_words_that_only_end_so() -> None:
    assert [singular(w) for w in ("red coats", "fairies", "glass", "women")] == ["red coat", "fairy", "glass", "woman"]


@given(st.text(alphabet=st.sampled_from("abc de,.()[]:1'’-without red coat of ß\n Ж9"), max_size=80))
def test_any_text_is_parsed_and_every_binding_is_of_its_words(text: str) -> None:
    read = parse(text)
    assert all(OF_PICTURE <= h < len(read.words) and 0 <= d < len(read.words) for h, _, d in read.bindings)
    assert all(a.end <= b.start for a, b in zip(read.words, read.words[1:], strict=False))
