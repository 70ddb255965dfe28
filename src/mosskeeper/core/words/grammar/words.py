"""The words of a prompt, with where they stand; several words that are one are one."""

from __future__ import annotations

import re
from dataclasses import dataclass

from mosskeeper.core.words.grammar import tags
from mosskeeper.core.words.grammar.lexicon import Lexicon, singular

TOKEN = re.compile(r"[A-Za-zÀ-ÿ]+(?:[-‐'’][A-Za-zÀ-ÿ]+)*(?:'s|’s|'t|')?|\d+(?:\.\d+)?|[,;:.!?\n()\[\]{}&|/]")
_WEIGHT = re.compile(r":\s*(\d*\.?\d+)\s*\)")
_LONGEST = 4  # words of a unit
_OPENS, _CLOSES = "([{", ")]}"
_BRACKET = 1.1  # factor of a pair of brackets without a number, as the trade writes it
_MOST = 2.0


@dataclass(slots=True)
class Word:
    """A word, or a unit of several, or a stop.

    Attributes
    ----------
    first, last : numbers of its words in the prompt, stops not counted; −1 for a stop.
    owns : whether it stands in the possessive ("man's").
    weight : what brackets and numbers give it; 1 where they say nothing.
    capital : whether it is written with a capital. name : whether it is a person's name.
    """

    start: int
    end: int
    low: str
    first: int
    last: int
    tag: str = ""
    base: str = ""
    owns: bool = False
    weight: float = 1.0
    capital: bool = False
    name: bool = False

    @property
    def stop(self) -> bool:
        return self.last < 0


def split(text: str) -> list[Word]:
    """Words and stops as they are written."""
    numbers = {m.start(1): (m.end(), float(m.group(1))) for m in _WEIGHT.finditer(text)}
    words: list[Word] = []
    number, open_at = 0, list[int]()
    for m in TOKEN.finditer(text):
        low = m.group().lower().replace("’", "'").replace("‐", "-")
        if m.start() in numbers:
            continue
        if low in _OPENS:
            open_at.append(len(words))
        elif low in _CLOSES and open_at:
            said = next((value for end, value in numbers.values() if end == m.end()), None)
            factor = said if said is not None else _BRACKET if low == ")" else 1 / _BRACKET if low == "]" else 1.0
            for word in words[open_at.pop() :]:
                word.weight = min(_MOST, word.weight * factor)
        if low[0].isalnum():
            owns = low.endswith(("'s", "s'", "'"))
            words.append(Word(m.start(), m.end(), re.sub(r"'s?$", "", low), number, number, owns=owns, capital=m.group()[0].isupper()))
            number += 1
        elif low == "&":
            words.append(Word(m.start(), m.end(), "and", -1, -1))
        else:
            words.append(Word(m.start(), m.end(), low, -1, -1, tag=tags.STOP))
    return words


def with_units(words: list[Word], lexicon: Lexicon) -> list[Word]:
    """The words with the longest units joined."""
    out: list[Word] = []
    i = 0
    while i < len(words):
        unit, taken = words[i], 1
        for n in range(min(_LONGEST, len(words) - i), 1, -1):
            found = _unit(words[i : i + n], lexicon)
            if found is not None:
                unit, taken = found, n
                break
        out.append(unit)
        i += taken
    return out


def _unit(window: list[Word], lexicon: Lexicon) -> Word | None:
    first, last = window[0], window[-1]
    if any(w.stop for w in window) or first.low in lexicon.closed or last.low in lexicon.closed:
        return None
    phrase = " ".join(w.low + ("'s" if w.owns and w is not last else "") for w in window)
    letter = lexicon.unit(phrase)
    if not letter:
        return None
    if not lexicon.by_hand(phrase) and (letter not in "PGOALB" or set(lexicon.hand.get(first.low, " ")) & set("QCMd")):
        return None  # "rubber boots": the material stays a quality
    base = phrase if lexicon.letters(phrase) else singular(phrase)
    return Word(
        first.start, last.end, phrase, first.first, last.last, letter, base, last.owns, max(w.weight for w in window), first.capital
    )


def with_names(words: list[Word], lexicon: Lexicon) -> list[Word]:
    """The words with capitalised ones that no table knows as names of persons; names side by side are one."""
    out: list[Word] = []
    for word in words:
        last = out[-1] if out else None
        beside = last is not None and last.name and not last.owns and last.last == word.first - 1
        if not word.capital or word.stop or word.tag or lexicon.known(word.low):
            family = word.capital and beside and not word.stop and word.low not in lexicon.closed  # "Ada Reed", though reeds are known
            if not family:
                out.append(word)
                continue
        if beside and last is not None:
            low = f"{last.low} {word.low}"
            out[-1] = Word(last.start, word.end, low, last.first, word.last, tags.PERSON, low, word.owns, word.weight, True, True)
        else:
            out.append(
                Word(word.start, word.end, word.low, word.first, word.last, tags.PERSON, word.low, word.owns, word.weight, True, True)
            )
    return out
