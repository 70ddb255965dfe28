"""What a word can be: by hand (`tables/types.txt`), else from a wide table of English words, else by its ending."""

from __future__ import annotations

import gzip
from collections import defaultdict
from collections.abc import Iterable
from functools import cache
from pathlib import Path

from rapidfuzz import process
from rapidfuzz.distance import OSA

from mosskeeper.core.words.grammar import tags
from mosskeeper.core.words.grammar.tags import BEFORE_NOUNS, CLOSED_KINDS, NOUNS, OPEN_KINDS

_TABLES = Path(__file__).parent.parent / "tables"
Reading = tuple[str, str]  # tag, base form
_LEAST_MISTYPED = 4  # letters of a word that can be a typing error
_LONG_WORD = 7  # letters from which it may differ in two
_ENDINGS: tuple[tuple[tuple[str, ...], str], ...] = (  # of words in no table → tags, the likeliest first
    (("ing",), "gQ"),
    (("ed",), "eQ"),
    (("ly",), "dQ"),
    (("y", "ous", "ful", "less", "ish", "ant", "ent", "ic", "al", "ive"), "QN"),
    (("er", "or", "ist", "man", "ess", "smith", "herd", "ian"), "PN"),
    (("s",), "NQv"),
    (("",), "NQ"),
)


class Lexicon:
    """The tables of words.

    Attributes
    ----------
    hand, closed, wide : word or unit → letters of `tags`, the likeliest first.
    sets : name → words that the grammar treats in a way of their own.
    """

    def __init__(self, types: str, wide: dict[str, str]) -> None:
        self.wide = wide
        hand: dict[str, str] = defaultdict(str)
        closed: dict[str, str] = defaultdict(str)
        sets: dict[str, list[str]] = defaultdict(list)
        kind = ""
        for line in types.splitlines():
            if line.startswith("#") or not line.strip():
                continue
            if not line.startswith(" "):
                kind = line.strip()
                continue
            into = hand if kind in OPEN_KINDS else closed if kind in CLOSED_KINDS else None
            for word in line.replace("_", " _").replace(" _", "_").split():
                word = word.replace("_", " ")
                if into is None:
                    sets[kind].append(word)
                    continue
                letter = OPEN_KINDS.get(kind) or CLOSED_KINDS[kind]
                into[word] += "" if letter in into[word] else letter
        self.hand, self.closed = dict(hand), dict(closed)
        self.sets = {name: frozenset(words) for name, words in sets.items()}
        self._irregular: dict[str, tuple[str, str]] = {}
        for name, form in (("plurals", "s"), ("pasts", tags.PAST), ("gerunds", tags.ING)):
            for pair in sets[name]:
                inflected, _, base = pair.partition("/")
                self._irregular[inflected] = (base, form)
        self._single: list[str] | None = None  # words without units, made when a typing error asks for them
        self._spelled = dict(pair.split("/") for pair in sets["spellings"])

    def adding(self, units: Iterable[tuple[str, str]]) -> None:
        """Takes in phrases with their letter, where the tables by hand have none."""
        for phrase, letter in units:
            if phrase not in self.hand and phrase not in self.closed:
                self.hand[phrase] = letter

    def letters(self, base: str) -> str:
        return self.hand.get(base) or self.wide.get(base, "")

    def known(self, word: str) -> bool:
        """Whether it is an English word as far as the tables tell, in this form or by its base."""
        if word in self.closed or self.letters(word) or word in self._irregular or word in self._spelled:
            return True
        if "-" in word:
            return all(self.known(part) for part in word.split("-") if part)
        return any(self.letters(base) for base, _ in self._bases(word))

    def unit(self, phrase: str) -> str:
        """The letter of several words that are one; '' where they are none."""
        for table in (self.hand, self.wide):
            found = table.get(phrase) or table.get(singular(phrase))
            if found:
                return found[0]
        return ""

    def by_hand(self, phrase: str) -> bool:
        return phrase in self.hand or singular(phrase) in self.hand

    @cache  # noqa: B019  one lexicon lives as long as the program
    def readings(self, word: str) -> list[Reading]:
        """What a lower-case word can be, the likeliest first. What stands in the table by hand goes before all else."""
        word = self._spelled.get(word, word)
        if word in self.closed:
            return [(tag, word) for tag in self.closed[word]] + [(tags.DEGREE, word)] * (word == "half")
        if word[0].isdigit():
            return [(tags.NUMBER, word)]
        if "-" in word:
            return self._compound(word)
        forms = [(word, ""), *self._bases(word)]
        if (word.endswith(("ing", "ed")) or word in self._irregular) and word not in self.hand:
            forms = forms[1:] + forms[:1]
        out = [reading for base, form in forms for reading in _inflected(self.hand.get(base, ""), base, form)]
        for base, form in forms:
            out += _inflected(_lacking(self.wide.get(base, ""), self.hand.get(base, "")), base, form)
        out += [(tags.FINITE, base) for tag, base in out if tag == tags.PAST]
        if word not in self.hand and any(tag in (tags.ING, tags.PAST) for tag, _ in out):
            out = [(tag, base) for tag, base in out if tag not in NOUNS and tag != tags.QUALITY]
        if not out and (meant := self.mistyped(word)):
            return self.readings(meant)
        return list(dict.fromkeys(out)) or _by_ending(word)

    def mistyped(self, word: str) -> str:
        """The word of the tables by hand of which a word in no table is a typing error; "" where none is near enough."""
        if len(word) < _LEAST_MISTYPED or self.known(word):
            return ""
        if self._single is None:
            self._single = [w for w in (*self.hand, *self.closed) if " " not in w and len(w) >= _LEAST_MISTYPED - 1]
        most = 1 if len(word) < _LONG_WORD else 2
        for form in dict.fromkeys((word, singular(word))):
            hit = process.extractOne(form, self._single, scorer=OSA.distance, score_cutoff=most)
            if hit is not None:
                return str(hit[0])
        return ""

    def _bases(self, word: str) -> list[tuple[str, str]]:
        """Base forms that an inflected form may have, each with its form: s, g, e, or '' for compared qualities."""
        if word in self._irregular:
            return [self._irregular[word]]
        if word.endswith("men") and len(word) > 4:
            return [(word[:-2] + "an", "s")]
        out: list[tuple[str, str]] = []
        if word.endswith("s") and not word.endswith("ss") and len(word) > 3:
            out.append((word[:-1], "s"))
            out += [(word[:-2], "s")] if word.endswith("es") else []
            out += [(word[:-3] + "y", "s")] if word.endswith("ies") else []
        for ending, form in (("ing", tags.ING), ("ed", tags.PAST), ("er", ""), ("est", "")):
            if word.endswith(ending) and len(word) > len(ending) + 2:
                stem = word[: -len(ending)]
                out += [(stem, form), (stem + "e", form)]
                if stem[-1] == stem[-2]:
                    out.append((stem[:-1], form))
                elif stem[-1] == "i":
                    out.append((stem[:-1] + "y", form))
        return [(base, form) for base, form in out if form or tags.QUALITY in self.letters(base)]

    def _compound(self, word: str) -> list[Reading]:
        """ "silver-haired", "moss-green", "rolled-up" are qualities; else a compound is what its last word is."""
        own = [(letter, word) for letter in self.letters(word) if letter in NOUNS or letter in BEFORE_NOUNS]
        if own:
            return own
        last = word.rpartition("-")[2]
        letters = self.letters(last) or self.letters(singular(last)) if last else ""
        if last.endswith(("ed", "ing", "en")) or not letters or letters[0] not in NOUNS:
            return [(tags.COLOUR if letters[:1] == tags.COLOUR else tags.QUALITY, word)]
        return [(letters[0], word), (tags.QUALITY, word)]


def _inflected(letters: str, base: str, form: str) -> list[Reading]:
    out: list[Reading] = []
    for letter in letters:
        if letter == tags.VERB:
            out.append((tags.FINITE if form in ("", "s") else form, base))
        elif letter == tags.DETERMINER and not form:  # in the wide table: an adverb
            out.append((tags.DEGREE if base.endswith("ly") else tags.PARTICLE, base))
        elif (letter in NOUNS and form in ("", "s")) or (not form and letter in "QCMdti"):
            out.append((letter, base))
    return out


def _lacking(wide: str, hand: str) -> str:
    """What the wide table adds to a word of the table by hand: acts where that has nouns only, nouns where it has acts only."""
    if not hand:
        return wide
    if hand == tags.VERB:
        return "".join(letter for letter in wide if letter in NOUNS)
    return tags.VERB if tags.VERB in wide and all(letter in NOUNS for letter in hand) else ""


def _by_ending(word: str) -> list[Reading]:
    return next([(tag, word) for tag in found] for endings, found in _ENDINGS if word.endswith(endings))


@cache
def singular(phrase: str) -> str:
    """The phrase with its last word in the singular, by rule."""
    head, _, last = phrase.rpartition(" ")
    if last.endswith("men"):
        last = last[:-2] + "an"
    elif last.endswith("ies"):
        last = last[:-3] + "y"
    elif last.endswith("s") and not last.endswith("ss"):
        last = last[:-1]
    return f"{head} {last}".strip()


def _table(name: str) -> list[tuple[str, list[str]]]:
    """Lines "key<TAB>values" of a packed table."""
    lines = gzip.decompress((_TABLES / name).read_bytes()).decode().splitlines()
    return [(key, values.split("|")) for key, _, values in (line.partition("\t") for line in lines)]


@cache
def lexicon() -> Lexicon:
    """The tables that ship with the program."""
    wide: dict[str, str] = {}
    for letters, words in _table("wide.txt.gz"):
        wide.update(dict.fromkeys(words, letters))
    return Lexicon((_TABLES / "types.txt").read_text(), wide)


@cache
def kin() -> dict[str, list[str]]:
    """Noun → common words for the same thing, and for what it is a kind of."""
    return dict(_table("kin.txt.gz"))
