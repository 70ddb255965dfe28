"""Instructions to a person and web addresses in a prompt: found, and answered with what to write or do instead."""

from __future__ import annotations

import re
from dataclasses import dataclass

_AWAY = r"(?:remove|delete|erase|take away|take off|get rid of|lose|drop|hide)"
_START = r"(?:^|(?<=[,.;:!?\n])|(?<=\band )|(?<=\bplease )|(?<=\bthen ))\s*"
_THING = r"(?P<rest>[^,.;:!?\n]*)"
_FORMS = (
    (re.compile(rf"{_START}(?P<verb>{_AWAY})\b(?:\s+(?:the|her|his|their|any|all))*\s*{_THING}", re.I), "away"),
    (re.compile(rf"{_START}(?P<verb>(?:change|turn|replace|swap)\b[^,.;:!?\n]*?\b(?:to|into|with|by|for))\s+{_THING}", re.I), "into"),
    (re.compile(rf"{_START}(?P<verb>(?:make|let|have|keep|get)\s+(?:her|him|it|them|the \w+|everything)\b)\s*{_THING}", re.I), "be"),
    (
        re.compile(
            rf"{_START}(?P<verb>(?:add|put|give|show|draw|paint|create|generate|insert)\b(?:\s+(?:me|her|him|them|in|on))*)\s+{_THING}",
            re.I,
        ),
        "be",
    ),
    (re.compile(rf"{_START}(?P<verb>(?:can|could|would) you|please|i want|i would like|do not|don't)\b\s*{_THING}", re.I), "ask"),
)
_ADDRESS = re.compile(r"(?:\b(?:https?|ftp|file)://|\bwww\.|\bdata:image/)\S+", re.I)
_FETCHES_NOTHING = "The studio fetches nothing from the network. Save the picture, and drop its file on the page."
_COMPARED = {
    "taller": "tall",
    "thinner": "thin",
    "younger": "young",
    "happier": "happy",
    "sadder": "sad",
    "darker": "dark",
    "brighter": "bright light",
    "stronger": "strong",
    "rounder": "round",
    "smaller": "little",
    "angrier": "angry",
    "longer": "long",
    "shorter": "short",
}


@dataclass(frozen=True, slots=True)
class Instruction:
    start: int
    end: int  # of the instructing words, in characters
    clause_end: int
    unwanted: bool  # the clause names what should go
    note: str


def instructions(text: str) -> list[Instruction]:
    """The clauses of a prompt that tell somebody what to do instead of saying what is to be seen."""
    found = [Instruction(m.start(), m.end(), m.end(), False, _FETCHES_NOTHING) for m in _ADDRESS.finditer(text)]
    for pattern, kind in _FORMS:
        for m in pattern.finditer(text):
            start, end = m.span("verb")
            if any(start < f.clause_end and f.start < m.end() for f in found):
                continue
            rest = _described(m.group("rest"))
            if kind == "away":
                note = (
                    f"Words say what is seen, not what to do: write “{rest}” under Without."
                    if rest
                    else "Write what should go under Without."
                )
            elif kind == "ask":
                note = "Words say what is seen; there is nobody to ask. Write only what should be in the picture."
            else:
                note = f"Words say what is seen, not what to do: write “{rest}”." if rest else "Write what should be seen instead."
            found.append(Instruction(start, end, m.end(), kind == "away", note))
    return sorted(found, key=lambda f: f.start)


def _described(rest: str) -> str:
    words = [_COMPARED.get(word.lower(), word) for word in rest.split()]
    while words and words[0].lower() in ("the", "a", "an", "more", "look", "looking", "be", "her", "his", "to"):
        words.pop(0)
    return " ".join(words)
