"""Several figures in the words, emphasis, instructions, and prompts that compose themselves."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosskeeper.core.errors import BadRecipe
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH
from mosskeeper.core.recipe import Recipe, read_recipe
from mosskeeper.core.takes.beliefs import Beliefs
from mosskeeper.core.words.attributes import ATTRIBUTES
from mosskeeper.core.words.compose import VARIED, fresh_prompt, variations
from mosskeeper.core.words.understand import Understanding, understand


def people(text: str) -> list[dict[str, list[str]]]:
    read = understand(text)
    return [{a: list(v) for a, v in scores.items()} for scores in (read.wanted, *(o.wanted for o in read.others))]


def test_two_people_joined_by_and_have_what_stands_beside_them() -> None:
    girl, man = people("a girl in a red coat and an old man in a blue cloak with a lantern, in the kite loft")
    assert girl == {"subject": ["girl"], "colour": ["brick"], "outfit": ["festival coat"], "place": ["kite loft"]}
    assert man == {"subject": ["old man"], "colour": ["navy"], "outfit": ["night cloak"], "prop": ["lantern"]}


def test_adjectives_before_a_person_belong_to_it() -> None:
    woman, man = people("a joyful sturdy woman with a sad slight man")
    assert woman["build"] == ["sturdy"]
    assert woman["expression"] == ["joyful"]
    assert man["build"] == ["slight"]
    assert man["expression"] == ["sad"]


@pytest.mark.parametrize(
    ("text", "subjects"),
    [
        ("two children", ["girl", "boy"]),
        ("three women", ["woman"] * 3),
        ("children playing", ["girl", "boy"]),
        ("a couple at dusk", ["woman", "man"]),
        ("a family in the kitchen", ["woman", "man", "girl"]),
        ("a woman with her daughter and a boy", ["woman", "girl", "boy"]),
        ("two old men", ["old man", "old man"]),
        ("a girl", ["girl"]),
        ("a girl, a girl, calm", ["girl"]),
        ("five girls", ["girl"] * 4),
    ],
)
def test_counts_and_groups(text: str, subjects: list[str]) -> None:
    assert [p["subject"][0] for p in people(text)] == subjects


def test_more_than_four_are_told() -> None:
    assert any("at most 4" in span.note for span in understand("five girls").spans)
    crowd = "a girl and a boy and a man and a woman and an old man"
    assert any("at most 4" in span.note for span in understand(crowd).spans)


def test_what_is_said_of_a_group_is_said_of_each() -> None:
    assert all(p["colour"] == ["brick"] and p["outfit"] == ["rain cape"] for p in people("two children in red capes"))


def test_pronouns_lead_back_to_whom_they_mean() -> None:
    girl, man = people("a girl and an old man, she holds a kite, he is laughing")
    assert girl["prop"] == ["kite"]
    assert man["expression"] == ["laughing"]


def test_two_names_are_two_faces_and_one_name_twice_is_one() -> None:
    both = understand("Marrit and Tobin on the bridge")
    assert len(both.others) == 1
    assert both.likeness != both.others[0].likeness
    once = understand("Marrit Fenn, woman, copper braid, Marrit Fenn waving")
    assert once.others == ()
    assert once.likeness == understand("Marrit Fenn").likeness


def test_who_is_behind_is_said() -> None:
    girl_behind, in_front = understand("a girl behind an old woman"), understand("a girl in front of an old woman")
    assert (girl_behind.behind, girl_behind.others[0].behind) == (True, False)
    assert (in_front.behind, in_front.others[0].behind) == (False, True)
    assert not understand("a girl beside an old woman").others[0].behind


def test_an_animal_is_no_second_person() -> None:
    assert understand("a man with a fox").others == ()


def test_without_is_about_the_figure_it_stands_beside() -> None:
    read = understand("a woman and a man without a beard")
    assert read.unwanted == {}
    assert read.others[0].unwanted == {"facial hair": {"beard": 1.0}}


@given(
    st.lists(
        st.sampled_from(
            [
                "a",
                "girl",
                "and",
                "two",
                "old",
                "men",
                "with",
                "she",
                "red",
                "coat",
                "without",
                "the",
                "children",
                "Marrit",
                ",",
                ".",
                "behind",
                "he",
                "lantern",
                "make",
                "her",
            ]
        ),
        max_size=14,
    )
)
def test_any_company_has_at_most_four_and_every_span_lies_in_the_text(words: list[str]) -> None:
    text = " ".join(words)
    read = understand(text)
    assert len(read.others) <= 3
    assert all(text[s.start : s.end] == s.text for s in read.spans)


# -- colours ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("text", "colour"),
    [
        ("a pale moss-green dress", "pale moss"),
        ("a dark red cloak", "dark brick"),
        ("a bright yellow cape", "mustard"),
        ("a deep teal coat", "dark teal"),
    ],
)
def test_shades_of_colours_are_understood(text: str, colour: str) -> None:
    assert list(understand(text).wanted["colour"]) == [colour]
    assert colour in CLOTH


# -- emphasis --------------------------------------------------------------------------------------------------


def test_emphasis_scales_what_one_phrase_says() -> None:
    read = understand("a girl in the kitchen at dusk", {"in the kitchen": 2.0, "dusk": 0.0})
    assert read.wanted["place"]["kitchen"] == 2.0
    assert read.wanted["time"]["dusk"] == 0.0
    assert read.wanted["subject"]["girl"] == 1.0


def test_more_emphasis_makes_a_thing_likelier_and_none_leaves_the_prior() -> None:
    def chance(factor: float | None) -> float:
        emphasis = {} if factor is None else {"snow": factor}
        return Beliefs(Recipe(words="a girl in the snow", guidance=2, emphasis=emphasis)).probabilities("weather")["snow"]

    chances = [chance(f) for f in (0.0, 0.5, 1.0, 1.5, 2.0)]
    assert chances == sorted(chances)
    assert chance(1.0) == chance(None)
    assert chance(0.0) == pytest.approx(Beliefs(Recipe(words="a girl", guidance=2)).probabilities("weather")["snow"])


def test_emphasis_out_of_range_is_refused_in_words() -> None:
    with pytest.raises(BadRecipe, match="at most 2"):
        read_recipe({"words": "a girl", "emphasis": {"girl": 3}})


# -- instructions ----------------------------------------------------------------------------------------------


def told(text: str) -> list[str]:
    return [span.note for span in understand(text).instructions]


@pytest.mark.parametrize(
    ("text", "advice"),
    [
        ("remove the hat", "write “hat” under Without"),
        ("a girl, make her taller", "write “tall”"),
        ("change the coat to a dark green cloak", "write “dark green cloak”"),
        ("please add a lantern", "write “lantern”"),
        ("can you draw a woman", "nobody to ask"),
        ("get rid of the glasses", "write “glasses” under Without"),
    ],
)
def test_instructions_are_answered_with_how_to_describe(text: str, advice: str) -> None:
    assert any(advice in note for note in told(text))


def test_what_is_to_be_removed_is_unwanted_and_what_is_to_be_added_is_wanted() -> None:
    assert understand("a woman, remove the glasses").unwanted == {"glasses": {"yes": 1.0}}
    assert "lantern" in understand("add a lantern").wanted["prop"]


@pytest.mark.parametrize(
    "text", ["a girl in a red coat", "a woman showing a letter", "a man carrying a basket", "put-upon old man", "hands on hips"]
)
def test_descriptions_are_no_instructions(text: str) -> None:
    assert told(text) == []


# -- composed prompts ------------------------------------------------------------------------------------------


@pytest.mark.parametrize("seed", range(40))
def test_a_fresh_prompt_is_understood_word_by_word(seed: int) -> None:
    read = understand(fresh_prompt(np.random.default_rng(seed)))
    assert read.unknown == []
    assert read.others == ()
    assert {"subject", "outfit", "colour", "place", "time", "framing", "expression"} <= set(read.wanted)


def test_fresh_prompts_differ_and_come_again_with_their_seed() -> None:
    prompts = [fresh_prompt(np.random.default_rng(s)) for s in range(20)]
    assert len(set(prompts)) == 20
    assert prompts[3] == fresh_prompt(np.random.default_rng(3))


@pytest.mark.parametrize("text", ["a girl in a red coat, waving, in the kitchen at dusk", "Marrit Fenn, copper braid", "an old man", ""])
def test_variations_change_one_or_two_things_and_keep_the_person(text: str) -> None:
    before = understand(text)
    made = variations(text, 6, np.random.default_rng(1))
    assert len(set(made)) == 6
    for other in made:
        read = understand(other)
        assert read.unknown == before.unknown
        changed = {a for a in ATTRIBUTES if read.wanted.get(a) != before.wanted.get(a)}
        assert 1 <= len(changed) <= 2
        assert changed <= set(VARIED)
        assert read.likeness == before.likeness


def test_reading_keeps_its_order_and_type() -> None:
    assert isinstance(understand(""), Understanding)
    assert understand("").others == ()
