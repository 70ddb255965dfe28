"""Words as artists write them: nothing acts on the wrong thing, and what is not drawn says so."""

import pytest

from mosskeeper.core.words import colours
from mosskeeper.core.words.understand import Understanding, understand


def said(text: str) -> dict[str, list[str]]:
    return {attribute: list(values) for attribute, values in understand(text).wanted.items()}


def notes(read: Understanding) -> dict[str, str]:
    return {span.text: span.note for span in read.spans if span.note}


@pytest.mark.parametrize(
    ("text", "wanted"),
    [
        ("long black hair", {"hair": ["long straight"], "hair colour": ["ink"]}),
        ("messy red hair", {"hair": ["cropped"], "hair colour": ["copper"]}),
        ("curly red hair", {"hair": ["curls"], "hair colour": ["copper"]}),
        ("dresses", {"outfit": ["garden dress"]}),
        ("child", {"subject": ["girl", "boy"]}),
        ("profile portrait", {"view": ["profile"], "framing": ["bust"]}),
        ("stormy sky", {"weather": ["storm"]}),
        ("bald old man", {"hair": ["bald"], "subject": ["old man"]}),
        ("woman sitting cross-legged", {"subject": ["woman"], "pose": ["sitting on the ground"]}),
        ("woman on a beach with ocean waves", {"subject": ["woman"], "place": ["tide flats"]}),
        ("full moon", {"time": ["night"]}),
        ("woman with a painted white face", {"subject": ["woman"]}),
        ("silver-haired man", {"subject": ["man"], "hair colour": ["silver"]}),
        ("a witch in her eighties", {"subject": ["old woman"], "outfit": ["night cloak"], "headwear": ["pointed hat"], "prop": ["broom"]}),
    ],
)
def test_phrases_mean_what_they_say_and_nothing_else(text: str, wanted: dict[str, list[str]]) -> None:
    assert said(text) == wanted


@pytest.mark.parametrize(
    ("text", "tints"),
    [
        ("red boots", {"boots": "#e50000"}),
        ("red umbrella", {"prop": "#e50000"}),
        ("gold earring", {"earrings": colours.cloth("gold")}),
        ("green skin", {"skin": "#15b01a"}),
        ("pink hair", {"hair": "#ff81c0"}),
        ("a blue hat and a red scarf", {"hat": "#0343df", "scarf": "#e50000"}),
        ("white blouse, brown skirt", {"jumper": colours.cloth("white"), "skirt": colours.cloth("brown")}),
        ("a woman with red lips", {"lips": "#e50000"}),
        ("a girl in a red hood", {"cape": "#e50000"}),
        ("a straw hat", {"hat": "#dcc27a"}),
        ("a coat with a cream lining", {"lining": colours.cloth("cream")}),
    ],
)
def test_a_colour_goes_to_the_thing_that_it_is_said_of(text: str, tints: dict[str, str | None]) -> None:
    assert understand(text).tints == tints


def test_dark_skin_is_skin_and_black_is_no_cloth_of_a_person() -> None:
    assert said("dark-skinned woman") == {"subject": ["woman"], "skin": ["umber"]}
    assert said("black woman") == {"subject": ["woman"], "skin": ["ebony"]}


def test_sky_and_background_have_their_own_colours() -> None:
    assert understand("purple sky").tones == {"sky": colours.cloth("purple")}
    assert understand("woman, white background").tones == {"background": colours.cloth("white")}
    assert "background" in understand("plain background").tones


def test_colours_go_to_their_own_persons() -> None:
    read = understand("a woman in a red hat and a man in a blue coat with green boots")
    assert read.tints == {"hat": "#e50000"}
    assert read.others[0].tints == {"coat": "#0343df", "boots": "#15b01a"}


def test_one_and_the_other_are_the_members_of_a_group() -> None:
    read = understand("two men argue, the taller one in a black hat, the other in a brown coat")
    assert (list(read.wanted["headwear"]), list(read.others[0].wanted["outfit"])) == (["hat"], ["festival coat"])
    assert len(read.others) == 1


def test_a_name_and_what_is_said_of_it_are_one_person() -> None:
    read = understand("Marrit Fenn, young woman, fair skin, copper hair in a long braid, in a mustard rain cape, portrait")
    assert read.others == ()
    assert {a: list(v) for a, v in read.wanted.items()} == {
        "subject": ["woman"],
        "skin": ["peach"],
        "hair": ["braid"],
        "hair colour": ["copper"],
        "outfit": ["rain cape"],
        "colour": ["mustard"],
        "framing": ["bust"],
    }


@pytest.mark.parametrize(
    ("words", "people"),
    [("a woman waving", 1), ("a young woman, waving", 1), ("an old sailor with a grey beard", 2), ("a girl beside her", 2), ("waving", 1)],
)
def test_words_after_a_character_are_about_that_character_unless_they_name_another(words: str, people: int) -> None:
    read = understand(f"Marrit Fenn, young woman, fair skin, in a mustard rain cape, in the roof garden, {words}")
    assert 1 + len(read.others) == people


def test_what_is_not_drawn_is_told_with_what_it_is_and_whose() -> None:
    read = understand("a harpooner with a dented helmet")
    assert "drawn without the trade" in notes(read)["harpooner"]
    assert "a quality of helmet" in notes(read)["dented"]


@pytest.mark.parametrize("word", ["back", "chair", "old", "bent", "thorn", "limping"])
def test_no_word_is_offered_what_only_looks_alike(word: str) -> None:
    offered = [span.nearest for span in understand(f"a woman, {word}").spans]
    assert not set(offered) & {"black", "hair", "gold", "arms bent", "horn"}


@pytest.mark.parametrize(("wrong", "right"), [("lantrn", "lantern"), ("umbrela", "umbrella"), ("raincoatt", "raincoat")])
def test_a_typing_error_is_offered_the_word_that_was_meant(wrong: str, right: str) -> None:
    assert next(span.nearest for span in understand(f"a girl, {wrong}").unknown) == right


def test_brackets_weigh_what_they_hold() -> None:
    assert understand("a girl in a (kitchen:1.5)").wanted["place"] == {"kitchen": 1.5}


def test_of_two_garments_the_outer_one_is_worn() -> None:
    assert said("a woman in a white shirt and a blue coat")["outfit"] == ["festival coat"]
    assert understand("a woman in a white shirt and a blue coat").tints["shirt"] == colours.cloth("white")


# -- colours -----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("words", "tone"),
    [("red", "#e50000"), ("moss", "#6d8045"), ("moss-green", "#658b38"), ("wine-coloured", "#7a2f3d"), ("gray", "#929591"), ("very", None)],
)
def test_colours_are_colours(words: str, tone: str | None) -> None:
    assert colours.cloth(words) == tone


@pytest.mark.parametrize(("shade", "lighter"), [("dark red", False), ("pale red", True), ("deep teal", False), ("light teal", True)])
def test_a_shade_before_a_colour_makes_it_darker_or_lighter(shade: str, lighter: bool) -> None:
    def brightness(words: str) -> int:
        tone = colours.cloth(words)
        assert tone is not None
        return sum(int(tone[i : i + 2], 16) for i in (1, 3, 5))

    assert (brightness(shade) > brightness(shade.split()[1])) == lighter


def test_hair_eyes_and_skin_have_the_colours_that_people_have() -> None:
    assert (colours.hair("red"), colours.hair("black"), colours.hair("pink")) == ("copper", "ink", "#ff81c0")
    assert (colours.eyes("blue"), colours.skin("dark"), colours.skin("green")) == ("sky", "umber", "#15b01a")
