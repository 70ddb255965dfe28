"""Held words: what a chosen picture shows and no word names is kept, until a word names it or it is let go."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from mosskeeper.core.words.describe import SURE_ENOUGH, phrase
from mosskeeper.core.words.understand import understand

HELD = ("place", "time", "weather", "light", "finish")  # what a shot of somebody leaves open most often
_NAMED = {("weather", "clear"): "clear weather"}  # where a value alone does not say of what it is one


def held_words(attributes: Mapping[str, Mapping[str, float]], styles: Sequence[str] = ()) -> list[str]:
    """Phrases for what was surely seen in a picture, by a reader's attributes. styles : of its recipe, surer than any reading."""
    seen = {name: max(values, key=lambda v: values[v]) for name, values in attributes.items() if name in HELD and values}
    sure = {name: value for name, value in seen.items() if attributes[name][value] >= SURE_ENOUGH and value != "unknown"}
    out = [_NAMED.get((name, sure[name]), phrase(name, sure[name])) for name in HELD if name in sure and not (name == "finish" and styles)]
    return [*out, *styles]


def with_held(prompt: str, held: Sequence[str], styles: Sequence[str] = ()) -> str:
    """The prompt, and after it the held phrases that speak."""
    return ", ".join(filter(None, (prompt, *speaking(prompt, held, styles))))


def speaking(prompt: str, held: Sequence[str], styles: Sequence[str] = ()) -> list[str]:
    """Those of the held phrases that speak: each gives way where the prompt, or a chosen style, says what it is about."""
    said = set(understand(prompt).wanted) | ({"finish"} if styles else set())
    return [words for words in held if not said & set(understand(words).wanted)]
