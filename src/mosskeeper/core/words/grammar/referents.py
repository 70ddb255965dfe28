"""Whom pronouns and second mentions mean. "One" and "the other" are persons of their own; "his" tells whose sex was open."""

from __future__ import annotations

import re

from mosskeeper.core.words.grammar import tags
from mosskeeper.core.words.grammar.chunks import COMMA, Chunk
from mosskeeper.core.words.grammar.lexicon import Lexicon
from mosskeeper.core.words.grammar.tags import NOUNS
from mosskeeper.core.words.grammar.words import Word

HER, HIS = "her", "his"
_FEMALE, _MALE = re.compile(r"(woman|girl|maid|[^cn]ess)$"), re.compile(r"(man|boy)$")


def sex_of(word: Word, lexicon: Lexicon) -> str:
    """ "her", "his" or "", by a noun or pronoun."""
    if word.low in ("she", "her", "herself") or word.base in lexicon.sets["female"] or _FEMALE.search(word.base):
        return HER
    male = word.low in ("he", "him", "himself") or word.base in lexicon.sets["male"] or _MALE.search(word.base)
    return HIS if male else ""


def refer(chunks: list[Chunk], words: list[Word], lexicon: Lexicon) -> None:
    """Fills in `refers` and `sex`."""
    people: list[int] = []
    for i, chunk in enumerate(chunks[1:], 1):
        word = words[chunk.at]
        chunk.sex = sex_of(word, lexicon) if chunk.kind in "Po" else ""
        _told_by_owner(chunks, people, chunk)
        if chunk.kind == tags.PERSON and not chunk.possessive:
            same = _again(chunks, words, people, i)
            chunk.refers = [] if same is None else [same]
        elif chunk.kind == tags.PRONOUN and chunk.sex:
            fits = [p for p in people if chunks[p].sex == chunk.sex] or [p for p in people if not chunks[p].sex and not chunks[p].plural]
            chunk.refers = fits[:1] if word.low in ("she", "he") else fits[-1:]
            for p in chunk.refers:
                chunks[p].sex = chunk.sex
        elif chunk.kind == tags.PRONOUN and word.low in ("they", "them", "both"):
            chunk.refers = people[-2:] if people and not chunks[people[-1]].plural else people[-1:]
        elif word.low in ("it", "his", "hers", "theirs"):
            chunk.refers = [k for k in range(1, i) if chunks[k].kind in "OGAB" and chunks[k].plural == chunk.plural][-1:]
        elif chunk.kind == tags.RELATIVE:
            nouns = [k for k in range(1, i) if chunks[k].kind in NOUNS]
            chunk.refers = people[-1:] if word.low in ("who", "whose") else nouns[-1:]
        if chunk.somebody and not chunk.refers:
            people.append(i)


def meant(chunks: list[Chunk], i: int) -> list[int]:
    """The chunks that a chunk stands for, itself where it stands for no other."""
    out = [i]
    for _ in range(3):
        out = [x for k in out for x in (chunks[k].refers or [k])]
    return list(dict.fromkeys(out))


def _told_by_owner(chunks: list[Chunk], people: list[int], chunk: Chunk) -> None:
    """ "A clerk with ink on her cuffs": her settles the sex of the nearest person whose sex is open."""
    if chunk.owner not in (HIS, HER) or not people or chunks[people[-1]].sex == chunk.owner:
        return
    unsaid = [p for p in people if not chunks[p].sex and not chunks[p].plural]
    if unsaid and (unsaid[-1] == people[-1] or not any(chunks[p].sex == chunk.owner for p in people)):
        chunks[unsaid[-1]].sex = chunk.owner


def _again(chunks: list[Chunk], words: list[Word], people: list[int], i: int) -> int | None:
    """The person of whom a noun speaks once more: the same noun, "the girl" of a known her, or an apposition."""
    chunk = chunks[i]
    bare = not (chunk.article or chunk.says or chunk.mark or chunk.joined or chunk.plural)
    for p in people:
        first, again = words[chunks[p].at], words[chunk.at]
        if first.name and again.name and (first.base in again.base.split() or again.base in first.base.split()):
            return p
        if first.base != again.base or chunk.says:
            continue
        if chunk.article not in ("a", "an", "another") or (chunk.gap and not chunk.joined and not chunks[p].says):
            return p
    if people and chunk.gap == COMMA and not (chunk.mark or chunk.joined or chunk.plural):
        last, beside = chunks[people[-1]], people[-1] in meant(chunks, i - 1)
        named, renamed = words[last.at].name, words[chunk.at].name
        mentions = {words[chunks[k].at].base for k in range(1, i) if chunks[k].refers == [people[-1]]}
        if named != renamed and (words[chunk.at].base in mentions or (beside and (named or not last.plural))):
            return people[-1]  # "Marrit Fenn, a young woman", "a woman, Marrit Fenn"
        if bare and not named and not (last.plural or last.article):
            return people[-1]  # "girl, witch, red hat"
    known = [p for p in people if chunk.article == "the" and chunk.sex and chunks[p].sex == chunk.sex and chunks[p].owner]
    if known:
        return known[-1]
    beside = bool(people) and people[-1] == i - 1 and chunk.gap == COMMA and not chunk.joined and not chunk.mark and not chunk.plural
    return people[-1] if beside and chunk.article in ("a", "an", "the") else None
