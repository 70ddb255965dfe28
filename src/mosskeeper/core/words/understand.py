"""From a prompt to what it says about each attribute, with a report word by word."""

from __future__ import annotations

import hashlib
import re
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field

from rapidfuzz import fuzz, process

from mosskeeper.core.illustrator.camera import WITHOUT_GROUND
from mosskeeper.core.words.attributes import OF_PICTURE
from mosskeeper.core.words.figures import CONNECTING, NUMBERS, cast
from mosskeeper.core.words.instructions import Instruction, instructions
from mosskeeper.core.words.lexicon import (
    COLOUR_WORDS,
    FILLER,
    GROUPS,
    KNOWN_WITHOUT_EFFECT,
    NEGATIONS,
    NOUNS,
    meanings,
    shaded,
    vocabulary,
)
from mosskeeper.core.words.reading import Kind, Phrase, Token

Scores = dict[str, dict[str, float]]  # attribute → value → score
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
class NamedFigure:
    """What a prompt says about one person besides the first."""

    wanted: Scores = field(default_factory=dict)
    unwanted: Scores = field(default_factory=dict)
    likeness: int | None = None
    behind: bool = False


@dataclass(frozen=True, slots=True)
class Understanding:
    spans: tuple[Span, ...] = ()
    wanted: Scores = field(default_factory=dict)  # about the picture and its first person
    unwanted: Scores = field(default_factory=dict)
    likeness: int | None = None  # a person's name stands for one face
    others: tuple[NamedFigure, ...] = ()

    @property
    def unknown(self) -> list[Span]:
        return [s for s in self.spans if s.kind == "unknown"]

    @property
    def instructions(self) -> list[Span]:
        return [s for s in self.spans if s.kind == "instruction"]

    @property
    def beyond_the_frame(self) -> list[tuple[str, str]]:
        """Named framings that show hardly any ground, each with who is named and stands on it."""
        framings, companions = (self.wanted.get(a, {}) for a in ("framing", "companion"))
        return [(f, c) for f in framings if f in WITHOUT_GROUND for c in companions if c != "nobody"]

    @property
    def understood_anything(self) -> bool:
        return bool(self.wanted or self.unwanted or self.others or self.likeness is not None)


def understand(text: str, emphasis: Mapping[str, float] | None = None) -> Understanding:
    """Reads a prompt.

    Phrases are matched before words, the longest first. A colour belongs to the next noun of its clause (or, if
    none follows, to the one before); "without" and "no" turn the rest of their clause into unwanted things. An
    unknown capitalised word is taken for a name, which stands for one face. The method is ours.

    Parameters
    ----------
    emphasis : factors on what single phrases say (lower case), 0…2; 1 where none is given.
    """
    tokens = [Token(m.start(), m.end(), m.group()) for m in _TOKEN.finditer(text)]
    told = instructions(text)
    found = _instructing(tokens, told)
    found += _phrases(tokens)
    found += _colours(tokens, found)
    negated = _negations(tokens, found) | _sent_away(tokens, told)
    found += _rest(tokens)
    found.sort(key=lambda f: f.first)
    for f in found:
        if f.kind == "understood" and f.says and f.first in negated:
            f.kind = "negated"

    who = cast(found, tokens)
    wanted: list[Scores] = [{} for _ in who.subjects]
    unwanted: list[Scores] = [{} for _ in who.subjects]
    spans = []
    for f in found:
        start, end = tokens[f.first].start, tokens[f.last].end
        score = (emphasis or {}).get(text[start:end].lower(), 1.0)
        target = unwanted if f.kind == "negated" else wanted
        for attribute, value in f.says:
            if attribute == "subject" and f.kind != "negated":
                continue  # the cast says who is who
            for n in (0,) if attribute in OF_PICTURE else who.owner.get(f.first, (0,)):
                target[n].setdefault(attribute, {})[value] = score
        if f.kind == "understood":
            for attribute, value in f.says:
                if attribute == "subject":
                    _mention(wanted, who.owner.get(f.first, (0,)), who.subjects, value, score)
        spans.append(Span(start, end, text[start:end], f.kind, tuple(f.says), f.note, f.nearest))
    faces = [int.from_bytes(hashlib.sha256(name.encode()).digest()[:4], "big") if name else None for name in who.names]
    others = tuple(NamedFigure(wanted[i], unwanted[i], faces[i], who.behind[i]) for i in range(1, len(wanted)))
    return Understanding(tuple(spans), wanted[0], unwanted[0], faces[0], others)


def _mention(wanted: list[Scores], figures: tuple[int, ...], subjects: list[str | None], value: str, score: float) -> None:
    for n in figures:
        if len(figures) == 1 or subjects[n] == value:
            wanted[n].setdefault("subject", {})[value] = score


def _instructing(tokens: list[Token], told: list[Instruction]) -> list[Phrase]:
    found = []
    for instruction in told:
        inside = [i for i, t in enumerate(tokens) if instruction.start <= t.start < instruction.end]
        if inside:
            for i in inside:
                tokens[i].used = True
            found.append(Phrase(inside[0], inside[-1], [], "instruction", instruction.note))
    return found


def _sent_away(tokens: list[Token], told: list[Instruction]) -> set[int]:
    """Indices of tokens that an instruction wants to be gone."""
    return {i for t in told if t.unwanted for i, token in enumerate(tokens) if t.end <= token.start < t.clause_end}


def _phrases(tokens: list[Token]) -> list[Phrase]:
    known, found = meanings(), []
    for length in range(min(_LONGEST, len(tokens)), 0, -1):
        for i in range(len(tokens) - length + 1):
            window = tokens[i : i + length]
            if any(t.used or t.stop for t in window):
                continue
            phrase = " ".join(t.word for t in window)
            note = KNOWN_WITHOUT_EFFECT.get(phrase, "")
            if phrase not in known and phrase not in GROUPS and not note:
                continue
            if length == 1 and phrase in COLOUR_WORDS and phrase not in ("day",):
                continue  # "moss", "ink": first see whether it colours something
            for t in window:
                t.used = True
            says = [("subject", member) for member in dict.fromkeys(GROUPS[phrase][0])] if phrase in GROUPS else list(known.get(phrase, ()))
            found.append(Phrase(i, i + length - 1, says, note=note))
    return found


def _noun(found: Phrase, tokens: list[Token]) -> str | None:
    """What a colour beside this phrase would colour."""
    for attribute, _ in found.says:
        if attribute == "outfit":
            return "colour"
        if attribute == "headwear":
            return "trim"
        if attribute in ("hair", "facial hair"):
            return "hair colour"
    return NOUNS.get(tokens[found.last].word)


def _colours(tokens: list[Token], phrases: list[Phrase]) -> list[Phrase]:
    nouns = {f.first: (f, target) for f in phrases if (target := _noun(f, tokens))}
    for i, t in enumerate(tokens):
        if not t.used and t.word in NOUNS:
            t.used = True
            f = Phrase(i, i, [])
            phrases.append(f)
            nouns[i] = (f, NOUNS[t.word])
    found = []
    for length in (3, 2, 1):
        for i in range(len(tokens) - length + 1):
            window = tokens[i : i + length]
            colour = " ".join(t.word for t in window)
            meant = shaded(colour)
            if meant is None or any(t.used for t in window):
                continue
            target = _bound_to(i + length - 1, i, tokens, nouns)
            if target is None:
                said = list(meanings().get(colour, ())) or [("colour", meant[0])]
            else:
                value = meant[{"colour": 0, "trim": 0, "hair colour": 1, "eyes": 2}[target]]
                said = [(target, value)] if value else []
            for t in window:
                t.used = True
            found.append(Phrase(i, i + length - 1, said, note="" if said else "no such colour here"))
    return found


def _bound_to(last: int, first: int, tokens: list[Token], nouns: dict[int, tuple[Phrase, str]]) -> str | None:
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


def _colour_follows(at: int, tokens: list[Token]) -> bool:
    return at + 1 < len(tokens) and tokens[at + 1].word in COLOUR_WORDS


def _negations(tokens: list[Token], found: list[Phrase]) -> set[int]:
    """Indices of tokens that stand under a negation: up to the end of its clause."""
    negated, active = set(), False
    inside = {i for f in found for i in range(f.first, f.last + 1)}
    for i, t in enumerate(tokens):
        if t.stop or t.word in ("but", "with"):
            active = False
        elif t.word in NEGATIONS and i not in inside:
            active, t.used = True, True
            found.append(Phrase(i, i, [], "filler"))
        elif active:
            negated.add(i)
    return negated


def _rest(tokens: list[Token]) -> list[Phrase]:
    found: list[Phrase] = []
    for i, t in enumerate(tokens):
        if t.used or t.stop:
            continue
        t.used = True
        if t.word in FILLER or t.word in CONNECTING or t.word in NUMBERS or t.text.isdigit():
            found.append(Phrase(i, i, [], "filler"))
        elif t.text[0].isupper() and t.word not in vocabulary():
            if found and found[-1].kind == "name" and found[-1].last == i - 1:
                found[-1].last = i
            else:
                found.append(Phrase(i, i, [], "name", note="a name: stands for one face"))
        else:
            found.append(Phrase(i, i, [], "unknown", nearest=nearest(t.word)))
    return found


def nearest(word: str) -> str:
    """The known phrase that looks most like a word, or that holds it and mostly means one thing; '' where none is near."""
    if len(word) < 3:
        return ""
    hit = process.extractOne(word, vocabulary(), scorer=fuzz.ratio, score_cutoff=_NEAR_ENOUGH)
    return hit[0] if hit else _holding(word)


def _holding(word: str) -> str:
    """The shortest phrase with a word in it, where more than half of all such phrases mean the same."""
    phrases = {phrase: said for phrase, said in meanings().items() if word in phrase.split()}
    if not phrases:
        return ""
    meant, count = Counter(phrases.values()).most_common(1)[0]
    return min((p for p, said in phrases.items() if said == meant), key=len) if 2 * count > len(phrases) else ""
