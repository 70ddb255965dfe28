"""What the reading of a prompt works on: its tokens, and the phrases found in them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Kind = Literal["understood", "negated", "name", "filler", "instruction", "unknown"]


@dataclass(slots=True)
class Token:
    start: int
    end: int
    text: str
    used: bool = False

    @property
    def word(self) -> str:
        return self.text.lower()

    @property
    def stop(self) -> bool:
        return not self.text[0].isalnum()


@dataclass(slots=True)
class Phrase:
    """A stretch of tokens, first … last, and what was made of it."""

    first: int
    last: int
    says: list[tuple[str, str]]
    kind: Kind = "understood"
    note: str = ""
    nearest: str = ""
