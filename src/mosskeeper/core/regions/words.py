"""What regions say of each other: who hands what to whom, who holds whose hand, who looks at whom."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from mosskeeper.core.words.understand import Understanding, understand

Kind = Literal["gives", "holds", "shakes", "looks"]
Wanted = Literal["person", "thing", "place"]
AROUND = ("place", "time", "weather", "light")

_WHOM = r"(?:\s+(?:with|at|to)\s+[a-z' ]+?(?=[,.;]|$))?"
_PATTERNS: tuple[tuple[Kind, re.Pattern[str]], ...] = (
    (
        "gives",
        re.compile(
            r"\b(?:hands?|gives?|handing|giving|offers?|offering|passes|passing)\s+(?:(?:him|her|them)\s+)?(?:an?|the)\s+([a-z ]+?)(?=\s+to\b|[,.;]|$)",
            re.I,
        ),
    ),
    ("holds", re.compile(r"\b(?:holds? hands|holding hands|hand in hand)\b" + _WHOM, re.I)),
    ("shakes", re.compile(r"\b(?:shakes?|shaking) hands\b" + _WHOM, re.I)),
    (
        "looks",
        re.compile(r"\b(?:looks?|looking|smiles?|smiling|waves?|waving)\s+(?:at|to)\s+(?:the|an?|him|her|them|each)\b[a-z' ]*", re.I),
    ),
)
_TO = re.compile(r"\bto (?:the|an?|him|her|them)\b[a-z ]*", re.I)


@dataclass(frozen=True, slots=True)
class Relation:
    """Between two people, by their numbers. thing : what is given, "" nothing."""

    who: int
    whom: int
    kind: Kind
    thing: str = ""


def own_words(words: str) -> Understanding:
    """What a region says about its own people: without whom its relations lead to."""
    for _, pattern in _PATTERNS:
        words = pattern.sub("", words)
    return understand(_TO.sub("", words))


def wants(said: Understanding) -> frozenset[Wanted]:
    """What a region's words ask for: people, else a thing that stands by itself; and a place."""
    out: set[Wanted] = set()
    if "subject" in said.wanted or said.likeness is not None:
        out.add("person")
    elif {"companion", "prop"} & said.wanted.keys() or said.things:
        out.add("thing")
    if set(AROUND) & said.wanted.keys():
        out.add("place")
    return frozenset(out)


def fades(said: Understanding) -> bool:
    """Whether what a region says goes over into what is about it at its border: people and things do not."""
    wanted = wants(said)
    return "place" in wanted or not wanted


def relations(
    regions: Sequence[str], common: str, subjects: Sequence[str], region_of: Sequence[int | None], at: Sequence[float]
) -> list[Relation]:
    """Who does what with whom.

    Parameters
    ----------
    regions, common : their words.
    subjects, region_of, at : of each person: what they are, their region (None: of the common words), where they stand across.
    """

    def spoken(text: str, but: int | None = None) -> int | None:
        names = understand(text).wanted.get("subject", {})
        return next((n for n, subject in enumerate(subjects) if n != but and subject in names), None)

    found: list[Relation] = []
    for region, text in [(None, common), *enumerate(regions)]:
        for kind, pattern in _PATTERNS:
            said = pattern.search(text)
            if said is None or len(subjects) < 2:
                continue
            own = next((n for n, r in enumerate(region_of) if r == region), 0)
            who = (spoken(text[: said.start()]) or 0) if region is None else own
            whom = spoken(text[said.end() :] if kind == "gives" else said.group(), who)
            if whom is None:
                whom = min((n for n in range(len(subjects)) if n != who), key=lambda n: abs(at[n] - at[who]))
            thing = next(iter(understand(said.group(1)).wanted.get("prop", {})), "") if kind == "gives" else ""
            if not any({who, whom} == {one.who, one.whom} for one in found):
                found.append(Relation(who, whom, kind, thing))
    return found
