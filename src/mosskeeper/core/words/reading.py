"""What the reading of a prompt works on: its tokens, and the phrases found in them."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

Kind = Literal["understood", "negated", "name", "filler", "instruction", "unknown", "again"]  # again: the same words, for a further owner


@dataclass(slots=True)
class Token:
    start: int
    end: int
    text: str
    used: bool = False
    word: str = field(init=False)  # in lower case
    plain: str = field(init=False)  # as the lexicon has it: lower case, without hyphens
    stop: bool = field(init=False)  # no word

    def __post_init__(self) -> None:
        self.word = self.text.lower()
        self.plain = self.word.replace("-", " ").replace("’", "'").strip("'")
        self.stop = not self.text[0].isalnum()


@dataclass(slots=True)
class Phrase:
    """A stretch of tokens, first … last, and what was made of it."""

    first: int
    last: int
    says: list[tuple[str, str]]
    kind: Kind = "understood"
    note: str = ""
    nearest: str = ""
    word: int = -1  # by which it is bound to others, see `Parse`
    tints: list[tuple[str, str]] = field(default_factory=list)  # pairs of a thing and its colour
    belongs: str = ""  # to what, in words
    also: str = ""  # what comes along: the clothes and things of a trade
    stands: str = ""  # the object, prop or companion that it puts into the picture
