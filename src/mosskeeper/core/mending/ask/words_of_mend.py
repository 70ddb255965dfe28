"""What the words of a mend ask, attribute by attribute."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from mosskeeper.core.illustrator.description import Standing
from mosskeeper.core.mending.ask.gaze import Gaze, look
from mosskeeper.core.mending.ask.instructions import Resized, plainly, resizing
from mosskeeper.core.traits import OF_PLACE
from mosskeeper.core.words.understand import understand


@dataclass(frozen=True, slots=True)
class Said:
    """What words ask, attribute by attribute."""

    names: dict[str, list[str]]  # all values that are named
    wanted: dict[str, str]  # the one that is named most
    gone: dict[str, set[str]]  # what is sent away
    look: Gaze | None = None
    size: Resized | None = None
    spoken: dict[tuple[str, str], str] = field(default_factory=dict)  # attribute and value → the words that said so
    tints: dict[str, str] = field(default_factory=dict)  # thing → its colour, "#rrggbb"
    coloured: dict[str, str] = field(default_factory=dict)  # thing → the words that said its colour
    stands: tuple[Standing, ...] = ()  # things and animals by themselves

    def without_place(self) -> Said:
        """What is left where the words are about open country: neither another place nor things that stand there."""
        wanted = {a: v for a, v in self.wanted.items() if a not in OF_PLACE}
        return replace(self, names={a: v for a, v in self.names.items() if a not in OF_PLACE}, wanted=wanted, stands=())


def said(words: str, negative: str = "") -> Said:
    size = resizing(words)
    heard = understand(plainly(words) if size is None else "")
    names = {a: list(v) for a, v in heard.wanted.items()}
    wanted = {a: max(v, key=lambda x: v[x]) for a, v in heard.wanted.items()}
    gone = {a: set(v) for scores in (heard.unwanted, understand(negative).wanted) for a, v in scores.items()}
    spoken = {pair: span.text.lower() for span in heard.spans for pair in span.says}
    coloured = {thing: span.text.lower() for span in heard.spans for thing, _ in span.tints}
    for span in (*(s for s in heard.spans if s.kind == "negated"), *understand(negative).spans):
        if span.stands:
            gone.setdefault("thing", set()).add(span.stands)
    return Said(names, wanted, gone, look(words), size, spoken, dict(heard.tints), coloured, heard.things)
