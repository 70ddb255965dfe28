"""From a prompt to what it says about each attribute, with a report word by word."""

from __future__ import annotations

import hashlib
import re
from dataclasses import dataclass, field
from typing import Literal

from rapidfuzz import fuzz, process

from mosskeeper.core.words.lexicon import (
    COLOUR_WORDS,
    FILLER,
    KNOWN_WITHOUT_EFFECT,
    NEGATIONS,
    NOUNS,
    meanings,
    vocabulary,
)

Kind = Literal["understood", "negated", "name", "filler", "unknown"]
_TOKEN = re.compile(r"[A-Za-zÀ-ÿ]+(?:'[a-z]+)?|[0-9]+|[,.;:!?\n]")
_LONGEST = 5  # words of the longest phrase
_NEAR_ENOUGH = 82  # rapidfuzz score of a suggestion worth showing


@dataclass(frozen=True, slots=True)
class Span:
    """A stretch of the prompt and what was made of it."""

    start: int
    end: int
    text: str
    kind: Kind
    says: tuple[tuple[str, str], ...] = ()  # pairs of attribute and value
    note: str = ""
    nearest: str = ""  # for unknown words


@dataclass(frozen=True, slots=True)
class Understanding:
    spans: tuple[Span, ...] = ()
    wanted: dict[str, dict[str, float]] = field(default_factory=dict)  # attribute → value → score
    unwanted: dict[str, dict[str, float]] = field(default_factory=dict)
    likeness: int | None = None  # a person's name stands for one face

    @property
    def unknown(self) -> list[Span]:
        return [s for s in self.spans if s.kind == "unknown"]

    @property
    def understood_anything(self) -> bool:
        return bool(self.wanted or self.unwanted or self.likeness is not None)


@dataclass(slots=True)
class _Token:
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
class _Found:
    """A phrase that was recognised: tokens first … last, and what it says."""

    first: int
    last: int
    says: list[tuple[str, str]]
    kind: Kind = "understood"
    note: str = ""
    nearest: str = ""


def understand(text: str) -> Understanding:
    """Reads a prompt.

    Phrases are matched before words, the longest first. A colour belongs to the next noun of its clause (or, if
    none follows, to the one before); "without" and "no" turn the rest of their clause into unwanted things. An
    unknown capitalised word is taken for a name, which stands for one face. The method is ours.
    """
    tokens = [_Token(m.start(), m.end(), m.group()) for m in _TOKEN.finditer(text)]
    found = _phrases(tokens)
    found += _colours(tokens, found)
    negated = _negations(tokens, found)
    found += _rest(tokens)
    found.sort(key=lambda f: f.first)

    wanted: dict[str, dict[str, float]] = {}
    unwanted: dict[str, dict[str, float]] = {}
    names: list[str] = []
    spans = []
    for f in found:
        kind = f.kind
        if kind == "understood" and f.says and f.first in negated:
            kind = "negated"
        target = unwanted if kind == "negated" else wanted
        for attribute, value in f.says:
            target.setdefault(attribute, {})[value] = 1.0
        start, end = tokens[f.first].start, tokens[f.last].end
        if kind == "name":
            names.append(text[start:end].lower())
        spans.append(Span(start, end, text[start:end], kind, tuple(f.says), f.note, f.nearest))
    likeness = int.from_bytes(hashlib.sha256(" ".join(names).encode()).digest()[:4], "big") if names else None
    return Understanding(tuple(spans), wanted, unwanted, likeness)


def _phrases(tokens: list[_Token]) -> list[_Found]:
    known, found = meanings(), []
    for length in range(min(_LONGEST, len(tokens)), 0, -1):
        for i in range(len(tokens) - length + 1):
            window = tokens[i : i + length]
            if any(t.used or t.stop for t in window):
                continue
            phrase = " ".join(t.word for t in window)
            note = KNOWN_WITHOUT_EFFECT.get(phrase, "")
            if phrase not in known and not note:
                continue
            if length == 1 and phrase in COLOUR_WORDS and phrase not in ("day",):
                continue  # "moss", "ink": first see whether it colours something
            for t in window:
                t.used = True
            found.append(_Found(i, i + length - 1, list(known.get(phrase, ())), note=note))
    return found


def _noun(found: _Found, tokens: list[_Token]) -> str | None:
    """What a colour beside this phrase would colour."""
    for attribute, _ in found.says:
        if attribute == "outfit":
            return "colour"
        if attribute == "headwear":
            return "trim"
        if attribute in ("hair", "facial hair"):
            return "hair colour"
    return NOUNS.get(tokens[found.last].word)


def _colours(tokens: list[_Token], phrases: list[_Found]) -> list[_Found]:
    nouns = {f.first: (f, target) for f in phrases if (target := _noun(f, tokens))}
    for i, t in enumerate(tokens):
        if not t.used and t.word in NOUNS:
            t.used = True
            f = _Found(i, i, [])
            phrases.append(f)
            nouns[i] = (f, NOUNS[t.word])
    found = []
    for length in (2, 1):
        for i in range(len(tokens) - length + 1):
            window = tokens[i : i + length]
            colour = " ".join(t.word for t in window)
            if colour not in COLOUR_WORDS or any(t.used for t in window):
                continue
            target = _bound_to(i + length - 1, i, tokens, nouns)
            if target is None:
                said = list(meanings().get(colour, ())) or [("colour", COLOUR_WORDS[colour][0])]
            else:
                value = COLOUR_WORDS[colour][{"colour": 0, "trim": 0, "hair colour": 1, "eyes": 2}[target]]
                said = [(target, value)] if value else []
            for t in window:
                t.used = True
            found.append(_Found(i, i + length - 1, said, note="" if said else "no such colour here"))
    return found


def _bound_to(last: int, first: int, tokens: list[_Token], nouns: dict[int, tuple[_Found, str]]) -> str | None:
    for j in range(last + 1, len(tokens)):
        if tokens[j].stop or (tokens[j].word == "and" and _colour_follows(j, tokens) is False):
            break
        if j in nouns:
            return nouns[j][1]
    for j in range(first - 1, -1, -1):
        if tokens[j].stop:
            break
        if j in nouns:
            return nouns[j][1]
    return None


def _colour_follows(at: int, tokens: list[_Token]) -> bool:
    return at + 1 < len(tokens) and tokens[at + 1].word in COLOUR_WORDS


def _negations(tokens: list[_Token], found: list[_Found]) -> set[int]:
    """Indices of tokens that stand under a negation: up to the end of its clause."""
    negated, active = set(), False
    inside = {i for f in found for i in range(f.first, f.last + 1)}
    for i, t in enumerate(tokens):
        if t.stop or t.word in ("but", "with"):
            active = False
        elif t.word in NEGATIONS and i not in inside:
            active, t.used = True, True
            found.append(_Found(i, i, [], "filler"))
        elif active:
            negated.add(i)
    return negated


def _rest(tokens: list[_Token]) -> list[_Found]:
    found: list[_Found] = []
    for i, t in enumerate(tokens):
        if t.used or t.stop:
            continue
        t.used = True
        if t.word in FILLER or t.text.isdigit():
            found.append(_Found(i, i, [], "filler"))
        elif t.text[0].isupper() and t.word not in vocabulary():
            if found and found[-1].kind == "name" and found[-1].last == i - 1:
                found[-1].last = i
            else:
                found.append(_Found(i, i, [], "name", note="a name: stands for one face"))
        else:
            found.append(_Found(i, i, [], "unknown", nearest=nearest(t.word)))
    return found


def nearest(word: str) -> str:
    """The known phrase that looks most like a word, or '' where none is near."""
    if len(word) < 3:
        return ""
    hit = process.extractOne(word, vocabulary(), scorer=fuzz.ratio, score_cutoff=_NEAR_ENOUGH)
    return hit[0] if hit else ""
