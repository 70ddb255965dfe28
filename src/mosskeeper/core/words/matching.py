"""Phrases of the lexicon in a prompt: the longest first, and only where the words are what the phrase takes them for."""

from __future__ import annotations

from mosskeeper.core.illustrator.vocabulary.outfits import WEAR
from mosskeeper.core.words.attributes import OF_PICTURE as ATTRIBUTES_OF_PICTURE
from mosskeeper.core.words.grammar import tags
from mosskeeper.core.words.grammar.bindings import OF_PICTURE, Parse
from mosskeeper.core.words.grammar.lexicon import lexicon
from mosskeeper.core.words.grammar.tags import NOUNS
from mosskeeper.core.words.grammar.words import Word
from mosskeeper.core.words.lexicon import KNOWN_WITHOUT_EFFECT, meanings
from mosskeeper.core.words.reading import Phrase, Token

_LONGEST = 5  # words of the longest phrase
_ELSEWHERE = ("subject", "hair", "hair colour", "eyes", "skin", "colour", "trim")  # read by what is bound to what, not as phrases
_ACTS = "vge"
# What a word must be read as, for a phrase of one word to be about an attribute.
_TAKES: dict[str, str] = {
    "expression": _ACTS + "QBNt",
    "pose": _ACTS + "Qt",
    "build": "Q",
    "place": "LOSNG",
    "time": "SQNL",
    "weather": "SQNgv",
    "light": "SQN",
    "finish": "SMOCN" + "e",
    "figure": "SQN",
    "framing": "SBNQd",
    "companion": "AQNP",
    "prop": "OGANSBM" + _ACTS,
    "pattern": "QGONSe",
    "outfit": "GONPSQ",
    "headwear": "GONQBAS",
    "tears": "BSON" + _ACTS,
    **dict.fromkeys(("tie", "quiver", "mask", "brooch", "tail", "bracelets", "wings"), "GOBNQe"),
    "facial hair": "BQNGe",
}
_OF_BODY = ("expression", "build", "freckles", "glasses", "facial hair", "mark")  # a quality of these belongs to somebody
# Qualities that are seen on somebody, and on nothing else: "wrinkled" of a shirt, "bandaged" of a hand are not these.
_OF_SOMEBODY = ("bare feet", "rosy cheeks", "dark circles", "wrinkles", "smudges", "bandage", "face tattoo", "arm tattoos")


def phrases(parse: Parse, tokens: list[Token]) -> list[Phrase]:
    """The phrases of the lexicon in a prompt. `tokens` that are found become used."""
    known, found = meanings(), []
    for length in range(min(_LONGEST, len(tokens)), 0, -1):
        for i in range(len(tokens) - length + 1):
            window = tokens[i : i + length]
            if any(t.used or t.stop for t in window):
                continue
            phrase = " ".join([t.plain for t in window])
            said = _said(parse, known, window, phrase)
            note = KNOWN_WITHOUT_EFFECT.get(phrase, "")
            if not said and not note:
                continue
            for t in window:
                t.used = True
            found.append(Phrase(i, i + length - 1, list(said), note=note, word=head_of(parse, window)))
    return found


def head_of(parse: Parse, window: list[Token]) -> int:
    """The word of a stretch by which it is bound to others: its last that is no preposition or article."""
    inside = [w for w, word in enumerate(parse.words) if word.start < window[-1].end and word.end > window[0].start and not word.stop]
    heavy = [w for w in inside if parse.words[w].tag in NOUNS or parse.words[w].tag in "QCMvge"]
    owned = [w for w in heavy if parse.words[w].tag == tags.PERSON]
    return (owned or heavy or inside or [-1])[-1]


def _said(parse: Parse, known: dict[str, tuple[tuple[str, str], ...]], window: list[Token], phrase: str) -> tuple[tuple[str, str], ...]:
    said = known.get(phrase, ())
    if not said and len(window) == 1:
        word = _word_at(parse, window[0])
        if word is not None and not lexicon().known(word.low):
            word = None  # a typing error is offered what it may mean, not taken for it
        if word is not None and word.tag in (tags.FINITE, tags.ING) and word.base != word.low:
            said = known.get(word.base, ()) or known.get(f"{word.base}ing", ())
        elif word is not None and word.tag in NOUNS and word.base != word.low:
            said = known.get(word.base, ())
    said = tuple(pair for pair in said if pair[0] not in _ELSEWHERE)
    if len(window) > 1:
        return said
    return tuple(pair for pair in said if _fits(parse, window[0], *pair))


def _word_at(parse: Parse, token: Token) -> Word | None:
    return next((w for w in parse.words if w.start <= token.start < w.end), None)


def _fits(parse: Parse, token: Token, attribute: str, value: str) -> bool:
    """Whether a word, as it is read and bound, can be about an attribute."""
    at = next((i for i, w in enumerate(parse.words) if w.start <= token.start < w.end), None)
    if at is None:
        return True
    word = parse.words[at]
    if word.name:
        return False
    if word.first != word.last and word.end != token.end:  # inside a unit: "evening" of an evening dress
        return False
    if attribute in _TAKES and word.tag not in _TAKES[attribute]:
        return False
    heads = parse.heads_of(at, "attr")
    kinds = {parse.words[h].tag for h in heads if h != OF_PICTURE}
    if word.first == word.last and _inside_noun(parse, at):
        kinds |= {"N"} if not kinds else set()
    if attribute == "figure" or (attribute == "companion" and word.tag == tags.ANIMAL):
        return True
    if attribute == "framing" and word.tag in "Qd" and heads:
        return False
    chunk = parse.chunk_of(at)
    listed = chunk is not None and chunk.gap > 0 and not (chunk.mark or chunk.article or chunk.says)
    if attribute == "finish":
        bound = [h for h in parse.heads_of(at) if h != OF_PICTURE]
        return (listed or not bound) and not parse.dependents_of(at)
    if (attribute in _OF_SOMEBODY and word.tag not in NOUNS) or value in WEAR:
        owners = {tags.PERSON, tags.PRONOUN, *([tags.GARMENT] if value in WEAR else [])}
        cloth = value in WEAR and any(parse.words[h].base in ("cloth", "fabric") for h in heads if h != OF_PICTURE)
        return cloth or bool(kinds & owners) or (attribute in _OF_SOMEBODY and not heads and listed)
    return _has_owner(word, attribute, kinds, bool(heads), listed)


def _has_owner(word: Word, attribute: str, kinds: set[str], bound: bool, listed: bool) -> bool:
    """Whether what a word is bound to can have an attribute. kinds : tags of that; empty where it is bound to the picture."""
    if attribute == "pattern" and bound:
        return bool(kinds & {tags.GARMENT, tags.PERSON, tags.MATERIAL, tags.THING})
    if attribute in ATTRIBUTES_OF_PICTURE and bound:
        return bool(kinds & {tags.PLACE, tags.PICTURE})
    if attribute in _OF_BODY and word.tag in "Qge" and bound and not listed:
        return bool(kinds & {tags.PERSON, tags.BODY, tags.PRONOUN})
    return not (attribute == "outfit" and word.tag == tags.QUALITY)


def _inside_noun(parse: Parse, at: int) -> bool:
    """Whether a noun stands before the noun that it says something of."""
    return parse.words[at].tag in NOUNS and bool(parse.heads_of(at, "attr"))
