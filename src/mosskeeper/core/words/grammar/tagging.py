"""One reading for each word: those that lie on the cheapest way through all (Viterbi)."""

from __future__ import annotations

import re

from mosskeeper.core.words.grammar import tags
from mosskeeper.core.words.grammar.lexicon import Lexicon
from mosskeeper.core.words.grammar.tags import NOUNS, coarse
from mosskeeper.core.words.grammar.words import Word

# Costs of one coarse reading after another, set by hand: "D0" no cost for a determiner. What is not here costs 1.
_AFTER = {
    "^": "D0 Q0 N.2 #0 o.3 i.8 g1 e.8 v3 !.5 d.3 r3 x2 t2",
    "D": "N0 Q0 #0 d.1 e.2 g.3 v6 i6 o6 x6 t3 ,3 &4 !4 D4 r6",
    "#": "N0 Q0 d.3 e.3 g.5 i.4 v.6 x.5 ,.3 t2",
    "d": "Q0 e0 d.1 i1 N2.5 v1.5 g.8 t.5 ,.8 #.5",
    "Q": "N0 Q0 e.2 g.4 &.2 ,.2 i.4 v2 D2 x.8 o.8 r1 t.8 d.6 #2",
    "N": ",0 i0 &0 v.3 g.2 e.2 x0 r0 N.5 Q1 D1.6 t.5 #1.2 d.5 o1.5 !.6",
    "v": "D0 i0 t0 N.6 Q.5 o.1 ,.2 &.3 e.8 g.6 d.3 v2 r2 x3 #.2 !.4",
    "g": "D0 i0 t0 N.3 Q.4 o.1 ,.1 &.2 d.3 v3 e1 g1.5 #.2",
    "e": "i0 t0 ,.1 &.2 D.8 N.4 Q.8 d.5 v1.5 g1 e1 o1 #1",
    "i": "D0 N.1 Q.1 #0 o0 g.6 e.5 v3 d.3 i.8 ,1.5 &3 x4 r.3",
    "t": "D.5 i0 ,0 &.1 N1 Q.8 v1 g.8 e1 d.5 o.3 #.4",
    "&": "D0 N.1 Q.1 #0 o.1 v.3 g.2 e.3 i.3 d.2 !.2 ,2 x1",
    "r": "v0 x0 D.2 N.4 Q.6 o.3 g2 i1 d.4 #.3 e1",
    "o": "v0 x0 ,.2 i.2 &.3 Q.6 e.4 g.3 D1 N2 t.3 d.4 #2 o3",
    "x": "e0 Q0 g0 D0 d0 i.1 N.5 v.8 !0 t.3 o.8 #.2 ,.8",
    "!": "N0 Q0 D.1 e.3 v.1 g.2 d.1 #.2",
    ",": "D0 Q0 N.1 #0 o.1 v.6 g.1 e.2 i.1 &0 r.2 !0 d.1 x.8 t.6 ,0",
}
_STEP = {(a, m.group(1)): float(m.group(2)) for a, row in _AFTER.items() for m in re.finditer(r"(\S)(\d*\.?\d+)", row)}
_UNUSUAL = 1.0
_RANK = 0.3  # for each place down the list of a word's readings
_PLURAL_BEFORE_NOUN = 1.0
_NOUN_OR_ACT = 0.3  # "scarf looks": a second noun in the plural that can be an act
_LIFELESS = (tags.PLACE, tags.PICTURE)  # "ocean waves": places do nothing
_LEFT_OPEN = 4.0  # an article or a preposition as the last word


def tag(words: list[Word], lexicon: Lexicon) -> None:
    """Gives each word its tag and base form."""
    if not words:
        return
    rows: list[dict[str, tuple[float, str, str]]] = []  # tag → cost so far, tag before, base
    before = {tags.START: 0.0}
    for i, word in enumerate(words):
        row: dict[str, tuple[float, str, str]] = {}
        readings = [(word.tag, word.base)] if word.tag else lexicon.readings(word.low)
        if word.owns:
            readings = [one for one in readings if one[0] in NOUNS or one[0] == tags.PRONOUN] or [(tags.OTHER, word.low)]
        acts = any(reading == tags.FINITE and base not in lexicon.sets["still"] for reading, base in readings)
        more = i + 1 < len(words) and not words[i + 1].stop
        goes_on = i + 1 < len(words) and lexicon.closed.get(words[i + 1].low, lexicon.hand.get(words[i + 1].low, " "))[0] in "Dit"
        for rank, (reading, base) in enumerate(readings):
            for last, so_far in before.items():
                cost = so_far + _RANK * (0 if reading == tags.COLOUR and more else rank) + _step(words, rows, i, last, reading)
                if reading in NOUNS and acts and word.low != base:
                    cost += (
                        _NOUN_OR_ACT * (last not in _LIFELESS)
                        if last in NOUNS
                        else 2 * _NOUN_OR_ACT
                        if last == tags.AND and goes_on
                        else 0.0
                    )
                if reading not in row or cost < row[reading][0]:
                    row[reading] = (cost, last, base)
        rows.append(row)
        before = {reading: best[0] for reading, best in row.items()}
    now = min(before, key=lambda reading: before[reading] + _LEFT_OPEN * (reading in (tags.DETERMINER, tags.PREPOSITION)))
    for word, row in zip(reversed(words), reversed(rows), strict=True):
        word.tag, word.base, now = now, row[now][2], row[now][1]


def _step(words: list[Word], rows: list[dict[str, tuple[float, str, str]]], i: int, last: str, reading: str) -> float:
    if reading == tags.FINITE and i and words[i - 1].low == "to":
        return 0.0
    cost = _STEP.get((coarse(last), coarse(reading)), _UNUSUAL)
    if last in NOUNS and reading in NOUNS and words[i - 1].low != rows[-1][last][2]:
        cost += _PLURAL_BEFORE_NOUN
    return cost
