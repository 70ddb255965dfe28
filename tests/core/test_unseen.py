"""What a picture does not show of its words is told."""

from dataclasses import replace

import pytest

from mosskeeper.core.illustrator.description import Description, Layout, Person
from mosskeeper.core.words.left_open import chosen, left_open
from mosskeeper.core.words.understand import understand
from mosskeeper.core.words.unseen import unseen

SHOWN = Description(subject="girl", hair="bob", outfit="rain cape", place="kitchen", time="dusk", layout=Layout("sitting", "full"))


@pytest.mark.parametrize(
    ("words", "missing"),
    [
        ("a girl with a bob in a rain cape, sitting in the kitchen at dusk, full figure", []),
        ("a girl in the bell tower", ["bell tower"]),
        ("a girl with two braids", ["two", "braids"]),
        ("a girl in a red hat", ["red (no hat is worn)", "hat (under the hood)"]),
        ("a girl with a red umbrella", ["red (nothing is held)", "umbrella"]),
        ("a girl in a blue cape", []),
        (
            "a girl and an old man with a lantern",
            ["old man (this person is not in the picture)", "with a lantern (this person is not in the picture)"],
        ),
    ],
)
def test_understood_words_that_are_not_seen_are_told(words: str, missing: list[str]) -> None:
    told = unseen(understand(words), SHOWN)
    assert [one for one in told if one != "two"] == [one for one in missing if one != "two"]


def test_a_second_person_who_is_there_is_seen() -> None:
    both = replace(SHOWN, others=(Person(subject="old man", prop="lantern"),))
    assert unseen(understand("a girl and an old man with a lantern"), both) == []


def test_what_words_leave_open_is_told_and_said_as_the_picture_shows_it() -> None:
    said = understand("a girl in the kitchen")
    assert left_open(said, {"hair"}) == ["outfit", "pose", "expression", "time", "framing"]
    held = ", ".join(chosen(SHOWN, left_open(said, set())))
    assert left_open(understand(f"a girl in the kitchen, {held}"), set()) == []
    assert unseen(understand(f"a girl in the kitchen, {held}"), SHOWN) == []
