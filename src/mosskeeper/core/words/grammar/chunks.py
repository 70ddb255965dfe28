"""Chunks of a prompt: noun phrases, verbs, qualities that stand alone, pronouns. What stands between them becomes their features."""

from __future__ import annotations

from dataclasses import dataclass, field

from mosskeeper.core.words.grammar import tags
from mosskeeper.core.words.grammar.lexicon import Lexicon
from mosskeeper.core.words.grammar.tags import BEFORE_NOUNS, NOUNS
from mosskeeper.core.words.grammar.words import Word

Said = tuple[int, str, int]  # head, relation, dependent: indices of words; −1 the picture
VERB, PICTURE = "V", tags.START  # kinds of chunks besides the tags
NO_GAP, COMMA, SENTENCE = 0, 1, 3


@dataclass(slots=True)
class Chunk:
    """One chunk. The first of a prompt stands for the picture.

    Attributes
    ----------
    kind : tag of its head word; V for verbs.
    at : index of its head word.
    mark : preposition before it.
    gap : what separates it from the chunk before.
    joined : by "and". shares : the mark of the chunk to which "and" joins it.
    predicate : after "is" or "has". form : of a verb, its tag.
    owner : "his" or "her" before it. sex : the same, of a person.
    possessor : the chunk of "man's"; 0 where there is none.
    says : what is certain inside it. refers : chunks that a pronoun or a second mention stands for.
    """

    kind: str
    at: int
    mark: str = ""
    gap: int = NO_GAP
    joined: bool = False
    shares: bool = False
    negated: bool = False
    predicate: bool = False
    form: str = ""
    plural: bool = False
    article: str = ""
    owner: str = ""
    sex: str = ""
    possessor: int = 0
    says: list[Said] = field(default_factory=list)
    refers: list[int] = field(default_factory=list)

    @property
    def possessive(self) -> bool:
        return self.mark == "'s"

    @property
    def somebody(self) -> bool:
        return self.kind in "Po" and not self.possessive


class Chunker:
    """Reads tagged words from left to right into `chunks`."""

    def __init__(self, words: list[Word], lexicon: Lexicon) -> None:
        self.words, self.sets = words, lexicon.sets
        self.chunks = [Chunk(PICTURE, -1)]
        self._next = Chunk("", -1)  # what is known already of the chunk to come
        i = 0
        while i < len(words):
            i = self._read(i)

    def _put(self, chunk: Chunk, keep: bool = False) -> None:
        """Adds a chunk with what stood before it. keep : that stands for the chunk after it, too."""
        waiting, last = self._next, self.chunks[-1]
        chunk.gap, chunk.joined = waiting.gap, waiting.joined
        if keep:
            waiting.gap, waiting.joined = NO_GAP, False
        else:
            chunk.mark, chunk.negated, chunk.predicate = waiting.mark, waiting.negated, waiting.predicate
            self._next = Chunk("", -1)
        if chunk.form == tags.ING and chunk.predicate:
            chunk.form = tags.FINITE
        alike = chunk.kind in NOUNS and last.kind in NOUNS and (chunk.kind == last.kind or "P" not in (chunk.kind, last.kind))
        own = bool(last.owner) and not chunk.owner and bool(chunk.says)  # "a mole on her chin and thick eyebrows"
        if chunk.joined and not chunk.mark and last.mark and alike and not own:
            chunk.mark, chunk.shares = last.mark, True
        self.chunks.append(chunk)

    def _read(self, i: int) -> int:
        """Reads what stands at i; where to go on."""
        word, waiting = self.words[i], self._next
        match word.tag:
            case tags.STOP:
                comma = word.low in ",()[]{}&|/"
                self._next = Chunk("", -1, gap=max(waiting.gap, COMMA if comma else SENTENCE))
            case tags.AND:
                waiting.joined = True
            case tags.PREPOSITION if not self._phrasal(i):
                waiting.mark = word.base
            case tags.PREPOSITION:
                pass
            case tags.NOT:
                waiting.negated = True
            case tags.AUXILIARY:
                self._auxiliary(i)
            case tags.RELATIVE if word.low == "while":
                waiting.gap = max(waiting.gap, COMMA)
            case tags.PRONOUN | tags.RELATIVE:
                self._put(Chunk("O" if word.low in ("it", "his", "hers", "theirs") else word.tag, i, plural=word.low != "it"))
            case tags.FINITE:
                self._put(Chunk(VERB, i, form=tags.FINITE, plural=word.low == word.base))
            case tags.PARTICLE:
                self._particle(i)
            case tags.DETERMINER if i + 1 < len(self.words) and self.words[i + 1].low in self.sets["decades"]:
                waiting.mark = ""
                self._put(Chunk(tags.QUALITY, i + 1))
                return i + 2
            case _:
                return self._phrase(i)
        return i + 1

    def _auxiliary(self, i: int) -> None:
        word, waiting = self.words[i], self._next
        waiting.negated |= word.low.endswith("'t")
        waiting.predicate = True
        perfect = i + 1 < len(self.words) and self.words[i + 1].tag == tags.PAST
        if word.low in ("has", "have", "having", "had") and not perfect:
            waiting.mark = "having"

    def _phrasal(self, i: int) -> bool:
        """Whether a preposition belongs to the verb before it: "taking off his hat"."""
        last = self.chunks[-1]
        return last.kind == VERB and last.at == i - 1 and f"{self.words[i - 1].base}/{self.words[i].low}" in self.sets["phrasal"]

    def _particle(self, i: int) -> None:
        """ "hood down", "sleeves up": the particle says how they are worn."""
        last = self.chunks[-1]
        ends = i + 1 == len(self.words) or self.words[i + 1].tag == tags.STOP
        if last.kind in "BG" and last.at == i - 1 and ends:
            self._put(Chunk(tags.QUALITY, i))

    def _phrase(self, i: int) -> int:
        words, end = self.words, self._end(i)
        head = next((k for k in range(end - 1, i - 1, -1) if words[k].tag in NOUNS), -1)
        if words[end - 1].tag == tags.MATERIAL:
            head = end - 1  # "a woman in silk"
        if head < 0 and end < len(words) and words[end].tag == tags.PRONOUN and words[end].low in ("one", "ones", "other"):
            self._put(self._filled(Chunk(tags.PRONOUN, end), i))  # "the left one"
            return end + 1
        if head < 0:
            self._qualities(i, end)
            return end
        chunk = self._filled(Chunk(tags.THING if words[head].tag == tags.MATERIAL else words[head].tag, head), i)
        if words[head].owns and head + 1 < len(words):
            end = self._end(head + 1)
            owned = next((k for k in range(end - 1, head, -1) if words[k].tag in NOUNS), -1)
            if owned > 0:
                if words[owned].tag != tags.BODY or self._next.mark not in ("", "of"):  # of "an old man's face" the man is in the picture
                    chunk.mark = "'s"
                self._put(chunk, keep=True)
                self._put(self._filled(Chunk(words[owned].tag, owned, possessor=len(self.chunks) - 1), head + 1))
                return owned + 1
        self._put(chunk)
        return head + 1

    def _end(self, i: int) -> int:
        """Where a noun phrase that begins at i ends: after its last noun, or after the last quality where it has none."""
        words, k, noun = self.words, i, False
        while k < len(words):
            tag = words[k].tag
            if tag in NOUNS:
                noun = True
                if words[k].owns:
                    return k + 1
            elif tag in (tags.AND, tags.STOP) and not noun and k > i and words[k].low in ("and", ",", "but", "or"):
                if not self._listed(i, k):
                    break
            elif (
                noun
                or tag not in (*BEFORE_NOUNS, *"D#deg")
                or (tag == tags.DETERMINER and k > i)
                or (tag == tags.ING and k == i and not self._adjective(k))
            ):
                break
            k += 1
        return max(k, i + 1)

    def _listed(self, i: int, k: int) -> bool:
        """Whether what stands at k joins two qualities of one noun: "a small, red and white flag"."""
        words = self.words
        goes_on = k + 1 < len(words) and words[k + 1].tag in (*BEFORE_NOUNS, tags.DEGREE) and self._noun_follows(k + 1)
        begun = words[k].tag != tags.STOP or any(w.tag in "D#" for w in words[i:k])
        return words[k - 1].tag in BEFORE_NOUNS and goes_on and begun

    def _noun_follows(self, k: int) -> bool:
        while k < len(self.words) and self.words[k].tag in (*BEFORE_NOUNS, *"deg"):
            k += 1
        return k < len(self.words) and self.words[k].tag in NOUNS

    def _adjective(self, k: int) -> bool:
        """Whether a word in -ing stands before its noun as a quality."""
        before = self.words[k - 1] if k else None
        opens = before is not None and (before.tag in ("D", "#", "d", "!", "&", *BEFORE_NOUNS) or before.low in ("of", "with", "in"))
        return opens and self._noun_follows(k)

    def _qualities(self, i: int, end: int) -> None:
        """Qualities without a noun, each a chunk."""
        degrees: list[int] = []
        for k in range(i, end):
            word = self.words[k]
            shade = word.tag in BEFORE_NOUNS and k + 1 < end and word.low in self.sets["shades"] and self.words[k + 1].tag in BEFORE_NOUNS
            if word.tag == tags.DEGREE or shade:
                degrees.append(k)
            elif word.tag in (*BEFORE_NOUNS, *"eg#"):
                if word.tag in (tags.PAST, tags.ING):
                    chunk = Chunk(VERB, k, form=word.tag)
                else:
                    chunk = Chunk(tags.PRONOUN if word.tag == tags.NUMBER else tags.QUALITY, k)
                chunk.says = [(k, "degree", d) for d in degrees]
                degrees = []
                self._put(chunk)

    def _filled(self, chunk: Chunk, i: int) -> Chunk:
        """The chunk with what the words from i to its head say of it."""
        words, degrees = self.words, list[int]()
        at, head = chunk.at, words[chunk.at]
        chunk.plural = head.low != head.base or head.low in self.sets["groups"]
        for k in range(i, at):
            word = words[k]
            if word.tag == tags.DETERMINER:
                chunk.article, chunk.owner = word.low, word.low if word.low in ("his", "her", "their", "its") else ""
            elif word.tag == tags.NUMBER:
                chunk.says.append((at, "count", k))
            elif word.tag == tags.DEGREE or (
                word.tag == tags.QUALITY and word.low in self.sets["shades"] and words[k + 1].tag == tags.COLOUR
            ):
                degrees.append(k)
            elif word.tag in (*BEFORE_NOUNS, *"eg", *NOUNS):
                chunk.says += [(at, "attr", k), *((k, "degree", d) for d in degrees)]
                degrees = []
        return chunk
