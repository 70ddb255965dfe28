"""Words of a prompt that change nothing in the drawing: what they are, whose, and what could be written instead."""

from __future__ import annotations

from collections import Counter
from functools import cache, lru_cache

from rapidfuzz import process
from rapidfuzz.distance import OSA

from mosskeeper.core.words.grammar import tags
from mosskeeper.core.words.grammar.lexicon import kin, lexicon, singular
from mosskeeper.core.words.lexicon import meanings, vocabulary

_SAID_IN_PHRASES = ("view", "gaze", "angle", "framing", "turned", "side")  # attributes whose words mean little by themselves
_SHORT, _LONG = 1, 2  # letters that a typing error may change, in words under and from seven letters


@lru_cache(4096)
def nearest(word: str) -> str:
    """What the lexicon draws for the same or nearly the same thing; '' where nothing is honest.

    A word that is known is its own nearest. An English word has a synonym or its kind, never what only looks alike; a word that is
    none has the word that it is a typing error of.
    """
    if word in vocabulary():
        return word
    if len(word) < 3:
        return ""
    base = singular(word)
    if lexicon().known(word):
        alike = [one for name in (word, base) for one in kin().get(name, ()) if one in meanings()]
        drawn = next((one for one in alike if set(lexicon().letters(one)) & tags.NOUNS), "")
        return drawn or _holding(word)
    return mistyped(word, vocabulary()) or mistyped(word, _by_hand())


def mistyped(word: str, known: tuple[str, ...]) -> str:
    """The known word of which a word is a typing error; '' where none is near enough."""
    most = _SHORT if len(word) < 7 else _LONG
    hit = process.extractOne(word, known, scorer=OSA.distance, score_cutoff=most)
    return hit[0] if hit else ""


@cache
def _by_hand() -> tuple[str, ...]:
    return tuple(sorted(word for word in lexicon().hand if len(word) > 2))


def _holding(word: str) -> str:
    """The shortest phrase with a word in it, where more than half of all such phrases mean the same."""
    phrases = {phrase: said for phrase, said in meanings().items() if word in phrase.split() and said[0][0] in _SAID_IN_PHRASES}
    if not phrases:
        return ""
    meant, count = Counter(phrases.values()).most_common(1)[0]
    return min((p for p, said in phrases.items() if said == meant), key=len) if 2 * count > len(phrases) else ""


def reason(tag: str, low: str, offered: str, owner: str) -> str:
    """Why a word has no effect, for the artist."""
    if not lexicon().known(low):
        return "unknown" if not offered else "unknown; a typing error?"
    what = tags.NAMES.get(tag, "a word")
    of = f" of {owner}" if owner and owner != low else ""
    return f"{what}{of}, not drawn yet"
