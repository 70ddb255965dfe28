"""Which chunk belongs to which: a cost for every arc from a head to a dependent, and for each chunk its cheapest head.

Costs are set by hand; they look at kinds, prepositions, distance, commas and persons in between.
"""

from __future__ import annotations

from mosskeeper.core.words.grammar.chunks import NO_GAP, PICTURE, VERB, Chunk
from mosskeeper.core.words.grammar.lexicon import Lexicon
from mosskeeper.core.words.grammar.tags import BEFORE_NOUNS, FINITE, ING, NOUNS, PAST
from mosskeeper.core.words.grammar.words import Word

Rule = tuple[str, float]  # label and cost of an arc
_FAR = 99.0
_TOWARDS = ("to", "at", "for", "towards", "toward", "into")
_OF_ACTS = ("into", "onto", "by", "through", "across", "against")  # prepositions that say where an act is done or where to
_CHUNK_BETWEEN = 0.12
_GAP = (0.0, 0.25, 1.6, 1.6)  # by the kind of gap
_PERSON_BETWEEN = 0.9
_OWNER_FITS, _OWNER_DIFFERS = -0.4, 3.0


class Arcs:
    """Costs and labels of all arcs of a prompt."""

    def __init__(self, chunks: list[Chunk], words: list[Word], lexicon: Lexicon) -> None:
        self.chunks, self.words, self.sets = chunks, words, lexicon.sets
        n = len(chunks)
        self.cost = [[_FAR] * n for _ in range(n)]
        self.label = [[""] * n for _ in range(n)]
        self._gaps, self._people = [0.0] * (n + 1), [0] * (n + 1)
        for i, chunk in enumerate(chunks):
            self._gaps[i + 1] = self._gaps[i] + _GAP[chunk.gap]
            self._people[i + 1] = self._people[i] + (chunk.kind in "Por" and not chunk.possessive)
        for d in range(1, n):
            for h in range(n):
                if h != d:
                    self._weigh(h, d)

    def heads(self) -> list[int]:
        """The head of each chunk; what "and" joins shares its head; a ring is cut."""
        n = len(self.chunks)
        heads = [0] + [min(range(n), key=lambda h, d=d: self.cost[h][d]) for d in range(1, n)]  # type: ignore[misc]
        for d in range(1, n):
            seen, h = {d}, heads[d]
            while h and h not in seen:
                seen.add(h)
                h = heads[h]
            heads[d] = 0 if h else heads[d]
        for d in range(2, n):
            if self.chunks[d].shares and heads[d - 1]:
                heads[d] = heads[d - 1]
                self.label[heads[d]][d] = self.label[heads[d]][d - 1]
        return heads

    def _weigh(self, h: int, d: int) -> None:
        head, chunk = self.chunks[h], self.chunks[d]
        low, high = min(h, d), max(h, d)
        rule = None if head.possessive else self._rule(head, chunk, h < d, high - low == 1)
        if rule is None:
            return
        self.label[h][d], cost = rule
        if h:
            cost += _CHUNK_BETWEEN * (high - low - 1) + self._gaps[high + 1] - self._gaps[low + 1]
            agree = chunk.kind == VERB and chunk.plural and head.plural
            if chunk.kind != "P" and not agree:
                cost += _PERSON_BETWEEN * (self._people[high] - self._people[low + 1])
            if chunk.owner in ("his", "her") and head.kind in "Po" and rule[0] == "has" and head.sex:
                object_ = not chunk.mark and not chunk.gap and self.chunks[d - 1].kind == VERB  # "strokes his beard"
                cost += _OWNER_DIFFERS if head.sex != chunk.owner else 0.0 if object_ else _OWNER_FITS
        self.cost[h][d] = cost

    def _rule(self, h: Chunk, d: Chunk, right: bool, near: bool) -> Rule | None:
        """Label and cost by kinds alone. right : the dependent follows its head. near : nothing is between."""
        kind, mark, head = d.kind, d.mark, h.kind
        person = head in "PAor"
        chained = 0.2 if h.mark else 0.0
        if kind in "or":
            return self._pronoun(h, d, right, near, chained)
        if kind == VERB:
            return self._verb(h, d, right, near, person)
        if kind in BEFORE_NOUNS:
            return self._quality(h, d, right, near, person)
        if kind in "LS":
            if head == VERB and right and mark in _TOWARDS and self.words[h.at].base in self.sets["gaze"]:
                return mark, 0.0  # "looking at the sky"
            return "pic", 0.3 if head == PICTURE else 0.35
        if mark == "'s":
            return "", 0.0 if head == PICTURE else 0.4
        if mark == "of" and right and head in "BGOALNPS":
            return "of", 0.0 if near else 0.8
        if kind == "P":
            return self._person(h, d, right, person, chained)
        if head == PICTURE:
            return "pic" if self._scenic(d) else "", 2.5 if kind in "ON" else 3.5 if kind in "BG" else 1.0
        return self._noun(h, d, right, near, person, chained)

    def _pronoun(self, h: Chunk, d: Chunk, right: bool, near: bool, chained: float) -> Rule | None:
        free = not d.mark and not d.gap and right
        if h.kind == VERB and right and (d.mark or (free and not d.predicate)):
            return d.mark or "obj", 0.2 if h.form == FINITE or not d.mark else 0.5
        if h.kind == PICTURE:
            return "", 2.0 if d.mark else 0.3
        if d.mark and right and h.kind in "BGOPAor":
            return d.mark, (0.4 if h.kind in "BGO" and near else 0.5) + chained
        return None

    def _person(self, h: Chunk, d: Chunk, right: bool, person: bool, chained: float) -> Rule | None:
        mark = d.mark
        if h.kind == PICTURE:
            return "", 2.0 if mark else 0.0
        if h.kind == VERB:
            free = not mark and not d.gap and right
            return ("obj", -0.1) if free else (mark, 0.2) if mark and right else None
        if mark and ((right and h.kind in NOUNS) or person):
            return mark, (0.4 if person else 1.2) + chained
        return None

    def _quality(self, h: Chunk, d: Chunk, right: bool, near: bool, person: bool) -> Rule | None:
        if h.kind in NOUNS or h.kind in "or":
            beside = right and ((near and not d.gap) or d.predicate)
            cost = 0.0 if beside else 0.4 if person and right else 1.6 if right else 1.3 if person else 3.0
            return "attr", cost + (0.3 if h.kind in "LS" else 0.0)
        if h.kind == VERB and right and not d.gap:
            return "attr", 0.2 if near and self.words[h.at].base in self.sets["states"] else 1.2
        return ("", 3.0) if h.kind == PICTURE else None

    def _verb(self, h: Chunk, d: Chunk, right: bool, near: bool, person: bool) -> Rule | None:
        if h.kind == VERB and right:
            cost = 0.1 if d.joined or d.mark == "to" else 0.9 if d.form == ING else 1.2
            return "conj", cost + (1.0 if h.form == PAST else 0.0)
        if person:
            wrong = d.form == FINITE and not d.predicate and h.kind in "PAo" and d.plural != (h.plural or h.joined)  # "she argue"
            cost = 1.5 * (not right) + 0.3 * (d.form == PAST and not near) + 1.2 * wrong + 0.8 * (h.kind == "A" and d.gap > 0)
            return "does", cost
        if h.kind in "BGOSN" and right:
            if d.form == FINITE:
                return "does", 0.1 if near and h.gap and not h.mark else 2.2 if d.gap else 0.9
            animate = d.form == ING and self.words[d.at].base not in self.sets["of-things"]  # gloves hold nothing
            return "attr", 0.7 * animate + (0.0 if near and not d.gap else 0.9 if not d.gap else 2.0)
        return ("", 4.0) if h.kind == PICTURE else ("", 1.5) if h.kind == "L" else None

    def _noun(self, h: Chunk, d: Chunk, right: bool, near: bool, person: bool, chained: float) -> Rule | None:
        if h.kind == VERB:
            return self._of_verb(h, d, right, near)
        kind, mark = d.kind, d.mark
        part = self.words[d.at].base in self.sets["parts-of-things"]
        within = mark == "in" and bool(d.owner)  # "a ribbon in her hair"
        having, towards = mark in self.sets["with"] and not within, mark in ("to", "at", "for", "towards")
        if person:
            if kind == "A" and h.kind == "A":
                return None
            if not mark or having:
                cost = 0.0 if kind in "BG" else 0.3
                cost += 0.8 * (not right) + 0.6 * (mark == "in" and kind in "OBN") + 0.8 * (h.kind == "A" and d.gap > 0)
                return "has", cost + (2.0 if self._scenic(d) else 0.0)
            if h.kind == "A" and near and right and not d.gap:
                return mark, 0.15 + chained  # "a hawk on her glove"
            return mark, (0.6 if right else 0.9) + chained
        if h.kind not in "BGON" or not right:
            return None
        if not mark or mark == "having":
            joins = part and kind == "G" and h.kind in "GO" and not d.gap
            return ("has", 1.2) if mark or joins else None
        if mark == "with" and not d.gap:
            return "has", 0.0 if part else 0.7 if kind in "ON" or h.kind == kind else 1.1
        if towards or mark == "from":
            return mark, 1.0 if near else 1.6
        return mark, (0.2 if near and not d.gap else 0.7 if not d.gap else 1.5) + chained

    def _scenic(self, d: Chunk) -> bool:
        """ ", seagulls, waves": what stands alone and belongs to the picture."""
        return not d.mark and d.gap > 0 and self.words[d.at].base in self.sets["scenery"]

    def _of_verb(self, h: Chunk, d: Chunk, right: bool, near: bool) -> Rule | None:
        mark, having = d.mark, d.mark in self.sets["with"]
        if not mark:
            given = self.words[h.at].base in self.sets["dative"] and d.article in ("a", "an")
            return ("obj", -0.9 if given else 0.0) if right and d.gap == NO_GAP else None
        if h.form == PAST and near and right:
            return "has" if mark == "in" and d.kind == "G" else mark, 0.0
        if right:
            towards = mark in ("to", "at", "for", "towards")
            if mark in _OF_ACTS:
                return mark, -0.3  # "pours water into a bowl"
            return mark, 0.9 if mark == "with" else 0.5 if having else 0.1 if towards else 0.2
        return (mark, 1.0) if not having else None
