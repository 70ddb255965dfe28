"""The bindings of a prompt: which quality, garment, thing and act belongs to whom."""

from __future__ import annotations

from dataclasses import dataclass, field

from mosskeeper.core.words.grammar.arcs import Arcs
from mosskeeper.core.words.grammar.chunks import VERB, Chunk, Chunker, Said
from mosskeeper.core.words.grammar.lexicon import Lexicon, lexicon
from mosskeeper.core.words.grammar.referents import meant, refer
from mosskeeper.core.words.grammar.tagging import tag
from mosskeeper.core.words.grammar.words import Word, split, with_names, with_units

OF_PICTURE = -1


@dataclass(slots=True)
class Parse:
    """What the grammar finds in a prompt.

    Attributes
    ----------
    bindings : (head, relation, dependent), indices of `words`; −1 is the picture. Relations: attr, degree, count, does, obj, to,
        has, lacks, of, and any preposition.
    people : the chunks that are persons of their own, in order.
    """

    words: list[Word] = field(default_factory=list)
    chunks: list[Chunk] = field(default_factory=list)
    bindings: set[Said] = field(default_factory=set)
    people: list[int] = field(default_factory=list)

    def chunk_of(self, word: int) -> Chunk | None:
        """The chunk whose head is a word."""
        return next((chunk for chunk in self.chunks[1:] if chunk.at == word), None)

    def heads_of(self, word: int, *relations: str) -> list[int]:
        """The words to which a word is bound by one of the relations, by any where none is given; −1 the picture."""
        return [h for h, relation, d in self.bindings if d == word and (not relations or relation in relations)]

    def dependents_of(self, word: int, *relations: str) -> list[int]:
        return sorted(d for h, relation, d in self.bindings if h == word and (not relations or relation in relations))


def parse(text: str, tables: Lexicon | None = None) -> Parse:
    """Reads a prompt."""
    tables = tables or lexicon()
    words = with_units(with_names(split(text), tables), tables)
    if not words:
        return Parse()
    tag(words, tables)
    chunks = Chunker(words, tables).chunks
    refer(chunks, words, tables)
    people = [i for i, c in enumerate(chunks) if c.somebody and not c.refers]
    binder = _Binder(Arcs(chunks, words, tables), people)
    return Parse(words, chunks, binder.bindings(), people)


class _Binder:
    """From heads of chunks to bindings of words: pronouns taken for what they mean, a verb's places for its doer's."""

    def __init__(self, arcs: Arcs, people: list[int]) -> None:
        self.arcs, self.people = arcs, people
        self.chunks, self.words, self.label = arcs.chunks, arcs.words, arcs.label
        self.heads = arcs.heads()
        self.out: set[Said] = set()

    def bindings(self) -> set[Said]:
        for d in range(1, len(self.chunks)):
            self._bind(d)
        placed = {(x, h) for h, relation, x in self.out if relation not in ("has", "of")}
        return {(h, relation, x) for h, relation, x in self.out if relation != "has" or (h, x) not in placed}

    def _word(self, i: int) -> int:
        return self.chunks[i].at if i else OF_PICTURE

    def _doers(self, v: int, depth: int = 0) -> list[int]:
        """Who does what a verb says."""
        chunks, h = self.chunks, self.heads[v]
        if chunks[h].kind == VERB and depth < 5:
            return self._doers(h, depth + 1)
        who = meant(chunks, h) if h else []
        if chunks[h].joined and chunks[h].kind in "PA":
            verb = chunks[v]
            if verb.plural or (verb.form == "g" and verb.gap):
                who += [p for p in range(1, h) if chunks[p].kind in "PA" and not chunks[p].possessive][-1:]
        return who

    def _bind(self, d: int) -> None:
        chunk, h, me = self.chunks[d], self.heads[d], self._word(d)
        label = self.label[h][d]
        bound = [] if not h else self._doers(h) if self.chunks[h].kind == VERB else meant(self.chunks, h)
        stands_for = self._word(meant(self.chunks, d)[0])
        self.out |= {(stands_for if a == me else a, relation, b) for a, relation, b in chunk.says}
        self._possessions(d, label)
        has = "lacks" if chunk.negated else "has"
        if label == "has" and len(self.people) > 1 and not self.chunks[h].plural and self._shared(chunk):
            bound = self.people  # "matching boots"
        if label == "pic":
            acts = any(self.heads[k] == d and self.label[d][k] == "does" for k in range(1, len(self.chunks)))
            if not acts:
                self.out.add((OF_PICTURE, has, me))
        elif label in ("does", "attr", "conj"):
            verb = chunk.kind == VERB
            relation = "lacks" if chunk.negated else "does" if verb else "attr"
            self.out |= {(self._word(p), relation, me) for p in (self._doers(d) if verb else bound)}
        elif label == "obj":
            self._object(d, bound)
        elif label:
            relation = has if label == "has" else label
            self.out |= {(self._word(p), relation, self._word(x)) for p in bound for x in meant(self.chunks, d)}

    def _possessions(self, d: int, label: str) -> None:
        chunk, me = self.chunks[d], self._word(d)
        if chunk.possessor:
            self.out.add((self._word(chunk.possessor), "has", me))
        if chunk.owner and label != "has" and chunk.kind in "BGO" and not chunk.negated:
            owners = [p for p in self.people if p < d and self.chunks[p].sex in ("", chunk.owner)]
            self.out |= {(self._word(p), "has", me) for p in owners[-1:]}

    def _object(self, d: int, bound: list[int]) -> None:
        h = self.heads[d]
        objects = [k for k in range(1, len(self.chunks)) if self.heads[k] == h and self.label[h][k] == "obj"]
        if len(objects) > 1 and d == objects[0] and self.chunks[d].kind == "P":  # "shows the girl a letter"
            self.out |= {(self._word(p), "to", self._word(x)) for p in bound for x in meant(self.chunks, d)}
        else:
            self.out |= {(self._word(h), "obj", self._word(x)) for x in meant(self.chunks, d)}

    def _shared(self, chunk: Chunk) -> bool:
        shared = self.arcs.sets["shared"]
        return any(relation == "attr" and self.words[b].base in shared for _, relation, b in chunk.says)
