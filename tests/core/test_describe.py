"""Words from a picture are words that the program understands as what was seen."""

import pytest

from mosskeeper.core.words.attributes import ATTRIBUTES
from mosskeeper.core.words.describe import describe, phrase
from mosskeeper.core.words.understand import understand

SEEN = {
    "subject": {"old woman": 0.9, "woman": 0.1},
    "hair": {"bun": 0.8},
    "hair colour": {"silver": 0.9},
    "eyes": {"umber": 0.8},
    "glasses": {"yes": 0.9},
    "outfit": {"night cloak": 0.9},
    "colour": {"plum": 0.8},
    "trim": {"teal": 0.7},
    "prop": {"lantern": 0.9},
    "place": {"library stair": 0.9},
    "time": {"night": 1.0},
    "finish": {"gouache": 0.9},
    "weather": {"rain": 0.3, "clear": 0.3},
}
_SAID_ALONE = [a for a in ATTRIBUTES if a not in ("turned", "hand", "side", "colour", "trim", "gaze", "angle")]
_UNSAID = ("none", "no", "nobody", "nothing", "free", "level", "plain", "plain light", "average", "clear", "centre")


def best(scores: dict[str, float]) -> str:
    return max(scores, key=lambda value: scores[value])


@pytest.mark.parametrize("attribute", _SAID_ALONE)
def test_every_value_is_said_in_words_that_mean_it(attribute: str) -> None:
    for value in ATTRIBUTES[attribute].values:
        if value not in _UNSAID:
            assert best(understand(phrase(attribute, value)).wanted.get(attribute, {"": 1.0})) == value


@pytest.mark.parametrize("name", ["colour", "trim"])
def test_every_colour_of_cloth_is_said_in_words_that_mean_it(name: str) -> None:
    for value in ATTRIBUTES[name].values:
        other = "mustard" if value != "mustard" else "navy"
        said = describe({"outfit": {"tunic": 0.9}, "colour": {other: 0.9}, "trim": {other: 0.9}, name: {value: 0.9}})[0].words
        assert best(understand(said).wanted[name]) == value


def test_every_hair_of_every_colour_is_said_in_words_that_mean_it() -> None:
    for style in ATTRIBUTES["hair"].values:
        for colour in ATTRIBUTES["hair colour"].values:
            wanted = understand(describe({"subject": {"woman": 0.9}, "hair": {style: 0.9}, "hair colour": {colour: 0.9}})[0].words).wanted
            assert best(wanted["hair"]) == style
            assert style == "shaved" or best(wanted["hair colour"]) == colour


def test_four_descriptions_differ_in_what_stands_first() -> None:
    made = describe(SEEN, ["plum", "charcoal", "dark leaf"])
    assert [one.about for one in made] == ["the subject", "the clothes", "place and light", "finish and palette"]
    firsts = [one.words.split(", ")[0] for one in made]
    assert firsts == ["an old woman", "wearing a plum night cloak with teal trim", "on the library stair", "gouache"]
    assert not any(understand(one.words).unknown for one in made)


def test_what_is_not_sure_is_not_said() -> None:
    assert not any("rain" in one.words for one in describe(SEEN))
    assert describe({}) == []
    assert describe({"subject": {"man": 0.2, "woman": 0.3}}) == []
