"""From a prompt to what it says about each attribute, with a report word by word."""

from __future__ import annotations

import hashlib
from bisect import bisect_left
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import lru_cache

from mosskeeper.core.illustrator.camera import WITHOUT_GROUND
from mosskeeper.core.illustrator.description import MOST_FIGURES, MOST_THINGS, Standing
from mosskeeper.core.illustrator.objects.table import OBJECTS
from mosskeeper.core.words.attributes import OF_PICTURE
from mosskeeper.core.words.cast import Cast, cast, owners
from mosskeeper.core.words.colouring import coloured
from mosskeeper.core.words.garment_words import outermost, outfit_of
from mosskeeper.core.words.grammar import tags
from mosskeeper.core.words.grammar.bindings import Parse, parse
from mosskeeper.core.words.grammar.tags import NOUNS
from mosskeeper.core.words.grammar.words import TOKEN
from mosskeeper.core.words.hair_words import ALONE, HAIR_NOUNS, HAIR_QUALITIES, style
from mosskeeper.core.words.instructions import instructions
from mosskeeper.core.words.lexicon import FILLER, GROUPS, KNOWN_WITHOUT_EFFECT, NEGATIONS, meanings
from mosskeeper.core.words.matching import phrases
from mosskeeper.core.words.reading import Kind, Phrase, Token
from mosskeeper.core.words.thing_words import ThingSaid, things
from mosskeeper.core.words.tints import rgb_of
from mosskeeper.core.words.trades import TRADES, with_trade
from mosskeeper.core.words.unread import nearest, reason

Scores = dict[str, dict[str, float]]  # attribute → value → score
_MOST_WEIGHT = 2.0
_OF_SCENE = ("sky", "background", "companion")  # tints of the picture; the others are a person's
_FILLER_TAGS = (tags.DETERMINER, tags.PREPOSITION, tags.AND, tags.RELATIVE, tags.AUXILIARY, tags.NUMBER, tags.PRONOUN, tags.NOT)
_HOLDING = frozenset("hold carry wear have dress clothe show".split())


@dataclass(frozen=True, slots=True)
class Span:
    """A stretch of the prompt and what was made of it.

    Attributes
    ----------
    says : pairs of attribute and value. tints : pairs of a thing and its colour, "#rrggbb".
    note : why it has no effect, or only some. nearest : for words without effect, what could be written instead.
    belongs : what it is said of, in words; "" where that is plain.
    figures : whom it is about, by their order; () where it is about the picture.
    stands : the thing or animal that it puts into the picture, see `Standing`.
    also : what comes along with it: the clothes and things of a trade.
    """

    start: int
    end: int
    text: str
    kind: Kind
    says: tuple[tuple[str, str], ...] = ()
    note: str = ""
    nearest: str = ""
    tints: tuple[tuple[str, str], ...] = ()
    belongs: str = ""
    figures: tuple[int, ...] = ()
    stands: str = ""
    also: str = ""


@dataclass(frozen=True, slots=True)
class NamedFigure:
    """What a prompt says about one person besides the first. tints : thing → its colour, "#rrggbb"."""

    wanted: Scores = field(default_factory=dict)
    unwanted: Scores = field(default_factory=dict)
    likeness: int | None = None
    behind: bool = False
    tints: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Understanding:
    """tones : "sky", "background" and "companion" → their colour. things : what stands in the picture by itself."""

    spans: tuple[Span, ...] = ()
    wanted: Scores = field(default_factory=dict)  # about the picture and its first person
    unwanted: Scores = field(default_factory=dict)
    likeness: int | None = None  # a person's name stands for one face
    others: tuple[NamedFigure, ...] = ()
    tints: Mapping[str, str] = field(default_factory=dict)
    behind: bool = False
    tones: Mapping[str, str] = field(default_factory=dict)
    things: tuple[Standing, ...] = ()

    @property
    def first(self) -> NamedFigure:
        """The first person, as the others are told."""
        return NamedFigure(self.wanted, self.unwanted, self.likeness, self.behind, self.tints)

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
        return bool(self.wanted or self.unwanted or self.others or self.likeness is not None or self.tints or self.tones or self.things)


def understand(text: str, emphasis: Mapping[str, float] | None = None) -> Understanding:
    """Reads a prompt: its grammar (`core.words.grammar`) tells what belongs to what, the lexicon what of that is drawn.

    "Without" and "no" turn what they stand before into unwanted things. An unknown capitalised word is taken for a name, which
    stands for one face.

    Parameters
    ----------
    emphasis : factors on what single phrases say (lower case), 0…2; 1 where none is given. Brackets with numbers in the text
        multiply with them.
    """
    return _understood(text, tuple(sorted((emphasis or {}).items())))


@lru_cache(maxsize=256)
def _understood(text: str, emphasis: tuple[tuple[str, float], ...]) -> Understanding:
    return _Reader(text, dict(emphasis)).understanding()


class _Reader:
    """One prompt on its way to an understanding."""

    def __init__(self, text: str, emphasis: dict[str, float]) -> None:
        self.text, self.emphasis = text, emphasis
        self.tokens = [Token(m.start(), m.end(), m.group()) for m in TOKEN.finditer(text)]
        self.parse: Parse = parse(text)
        starts = [t.start for t in self.tokens]
        self._inside = [range(bisect_left(starts, w.start), bisect_left(starts, w.end)) for w in self.parse.words]  # tokens of each word
        self.cast: Cast = cast(self.parse)
        self.told = instructions(text)
        self.found: list[Phrase] = []
        self.standing: list[ThingSaid] = []
        self.trades: list[tuple[int, str]] = []  # of figures

    def understanding(self) -> Understanding:
        self._instructing()
        self._names()
        self._trades()
        self._people()
        self._things()
        self._beards()
        self.found += phrases(self.parse, self.tokens)
        self._hair()
        self._colours()
        self._garments()
        negated = self._negations()
        self._rest()
        self.found.sort(key=lambda f: f.first)
        for f in self.found:
            if f.kind == "understood" and (f.says or f.tints or f.stands) and f.first in negated:
                f.kind = "negated"
        return self._told()

    # -- what is found, kind by kind ---------------------------------------------------------------------

    def _tokens_of(self, *words: int) -> list[int]:
        return sorted({i for w in words for i in self._inside[w]})

    def _add(self, words: tuple[int, ...], phrase: Phrase) -> bool:
        """Adds what is said by words, unless they are used; stretches of text must not overlap."""
        at = [i for i in self._tokens_of(*words) if not self.tokens[i].used]
        if not at or at != list(range(at[0], at[-1] + 1)):
            at = at[-1:]
        if not at:
            return False
        for i in at:
            self.tokens[i].used = True
        phrase.first, phrase.last = at[0], at[-1]
        self.found.append(phrase)
        return True

    def _instructing(self) -> None:
        for instruction in self.told:
            inside = [i for i, t in enumerate(self.tokens) if instruction.start <= t.start < instruction.end]
            if inside:
                for i in inside:
                    self.tokens[i].used = True
                self.found.append(Phrase(inside[0], inside[-1], [], "instruction", instruction.note))

    def _names(self) -> None:
        for at, word in enumerate(self.parse.words):
            if word.name:
                self._add((at,), Phrase(0, 0, [], "name", "a name: stands for one face", word=at))

    def _trades(self) -> None:
        """Trades that are said of somebody: "a pirate girl"."""
        for at, word in enumerate(self.parse.words):
            of = [h for h in self.parse.heads_of(at, "attr") if h >= 0 and self.cast.of_word.get(h)]
            if word.base in TRADES and of and at not in self.cast.of_word:
                self.trades += [(n, word.base) for h in of for n in self.cast.of_word[h]]
                self._add((at,), Phrase(0, 0, [], also=_comes_with(word.base), word=at))

    def _people(self) -> None:
        for at in self.cast.of_word:
            word = self.parse.words[at]
            silent = word.low in KNOWN_WITHOUT_EFFECT or word.base in KNOWN_WITHOUT_EFFECT
            if word.tag != tags.PERSON or word.name or (silent and word.base not in TRADES):
                continue
            kinds = dict.fromkeys(kind for n in self.cast.of_word[at] for kind in self.cast.figures[n].kinds)
            if not kinds and word.base not in TRADES:
                continue
            ages = self._ages_of(at)
            age = [d for d in ages if d < at]
            near = [d for d in age if d >= at - 1 or all(x in age for x in range(d, at))]
            note = f"at most {MOST_FIGURES} figures are drawn" if at in self.cast.crowded else _trade(word.base)
            known = [(a, v) for a, v in _lexicon_of(word.low, word.base) if a != "subject"]
            says = [("subject", kind) for kind in kinds]
            if word.base in TRADES:
                self.trades += [(n, word.base) for n in self.cast.of_word[at]]
            self._add((*near, at), Phrase(0, 0, [*says, *known], note=note, also=_comes_with(word.base), word=at))
            for apart in (d for d in ages if d not in near):
                self._add((apart,), Phrase(0, 0, list(says), word=at))

    def _ages_of(self, at: int) -> list[int]:
        """Words of age that say something of a person, or of the name by which the same person is called: "Oda Brask, old woman"."""
        names = [w for w, figures in self.cast.of_word.items() if self.parse.words[w].name and figures == self.cast.of_word[at]]
        return sorted({d for w in (at, *names) for d in self.parse.dependents_of(w, "attr") if self.parse.words[d].low in _AGES})

    def _things(self) -> None:
        for one in things(self.parse, self.cast):
            sits = [("pose", "sitting")] if one.where == "under" else []
            if self._add((one.at,), Phrase(0, 0, sits, note=one.note, word=one.at, stands=one.name)):
                self.standing.append(one)

    def _beards(self) -> None:
        """Long beards, whatever stands between the two words: "a long red beard"."""
        for at, word in enumerate(self.parse.words):
            long = [d for d in self.parse.dependents_of(at, "attr") if self.parse.words[d].low in _OF_LONG_BEARDS]
            if word.base == "beard" and long:
                for one in (*long, at):
                    self._add((one,), Phrase(0, 0, [("facial hair", "long beard")], word=at))

    def _hair(self) -> None:
        """The style of each figure's hair, from all that is said of it."""
        by_figure: dict[int, list[tuple[int, str]]] = {}
        for at in range(len(self.parse.words)):
            feature = self._hair_feature(at)
            if feature is None:
                continue
            for n in self._figures(at):
                by_figure.setdefault(n, []).append((at, feature))
        for said in by_figure.values():
            many = any(self._two(at) for at, feature in said if feature in ("braid", "bun"))
            made = style((feature for _, feature in said), many)
            for at, feature in said:
                if made is not None and feature:
                    self._add((at,), Phrase(0, 0, [("hair", made)], word=at))
        for at, word in enumerate(self.parse.words):
            if word.base in HAIR_NOUNS and word.tag == tags.BODY:
                self._add((at,), Phrase(0, 0, [], "filler", word=at))

    def _hair_feature(self, at: int) -> str | None:
        word = self.parse.words[at]
        if word.stop or word.tag in (tags.PREPOSITION, tags.DETERMINER):
            return None
        heads = self.parse.heads_of(at)
        of_hair = any(self.parse.words[h].base in HAIR_NOUNS for h in heads if h >= 0)
        if word.base in HAIR_NOUNS and (of_hair or word.tag in "BGN"):
            return None if word.base == "knot" and not of_hair else HAIR_NOUNS[word.base]
        quality = word.low if word.low in HAIR_QUALITIES else word.base
        if quality not in HAIR_QUALITIES or word.tag in NOUNS:
            return None
        of_somebody = word.low in ALONE and (not heads or any(h < 0 or self.parse.words[h].tag in "PBo" for h in heads))
        of_head = quality in ("shaved", "bald", "shorn", "shaven") and any(h >= 0 and self.parse.words[h].base == "head" for h in heads)
        return HAIR_QUALITIES[quality] if of_hair or of_somebody or of_head or self._hair_listed(at) else None

    def _hair_listed(self, at: int) -> bool:
        """Whether a quality stands in a list beside hair: "copper hair, cropped", "long wavy"."""
        chunk, words = self.parse.chunk_of(at), self.parse.words
        if chunk is None or chunk.kind not in ("Q", "V") or words[at].low not in _LISTED:
            return False
        beside = [w for w in (at - 1, at + 1) if 0 <= w < len(words)]
        alone = all(words[w].stop for w in beside)
        hair = any(w.base in HAIR_NOUNS and w.tag == tags.BODY for w in words) or words[at].low == "cropped"
        return (alone and hair) or any(words[w].low in ALONE or words[w].low in _LISTED for w in beside)

    def _two(self, at: int) -> bool:
        """Whether a word for braids means two of them."""
        word = self.parse.words[at]
        counts = [self.parse.words[d].low for d in self.parse.dependents_of(at, "count")]
        return word.low != word.base or bool({"two", "2", "both"} & set(counts))

    def _colours(self) -> None:
        for one in coloured(self.parse):
            if not one.words:
                continue
            belongs = self._called(one.word)
            phrase = Phrase(0, 0, list(one.says), note=one.note, word=one.word if one.word >= 0 else one.words[-1], belongs=belongs)
            phrase.tints = list(one.tints)
            if one.note:
                phrase.kind = "unknown"
            if not self._add(one.words, phrase):  # of several owners: the same words once more
                same = next((f for f in self.found if f.first <= min(self._tokens_of(*one.words), default=-1) <= f.last), None)
                if same is not None and same.kind == "understood" and one.tints:
                    self.found.append(Phrase(same.first, same.last, list(one.says), "again", word=phrase.word, tints=phrase.tints))
        for f in [f for f in self.found if f.kind == "understood" and (f.tints or any(a in _COLOURS for a, _ in f.says))]:
            if f.word >= 0 and self.parse.words[f.word].tag in "GBOSLA":
                self._add((f.word,), Phrase(0, 0, [], "filler", word=f.word))

    def _garments(self) -> None:
        for at, word in enumerate(self.parse.words):
            base = word.base.rpartition(" ")[2]
            outfit = outfit_of(word.base) or outfit_of(base)
            if word.tag in "GO" and outfit:
                self._free(at)
                self._add((at,), Phrase(0, 0, [("outfit", outfit)], word=at))

    def _free(self, at: int) -> None:
        """Takes back that a word is nothing by itself."""
        inside = self._tokens_of(at)
        for f in [f for f in self.found if f.kind == "filler" and f.first in inside]:
            self.found.remove(f)
            for i in range(f.first, f.last + 1):
                self.tokens[i].used = False

    def _negations(self) -> set[int]:
        """Tokens that stand under a negation."""
        negated = {i for t in self.told if t.unwanted for i, token in enumerate(self.tokens) if t.end <= token.start < t.clause_end}
        inside = {i for f in self.found for i in range(f.first, f.last + 1)}
        active = False
        for i, t in enumerate(self.tokens):
            if t.stop or t.word in ("but", "with"):
                active = False
            elif t.word in NEGATIONS and i not in inside:
                active, t.used = True, True
                self.found.append(Phrase(i, i, [], "filler"))
            elif active:
                negated.add(i)
        return negated

    def _rest(self) -> None:
        for at, word in enumerate(self.parse.words):
            if word.stop:
                continue
            for i in self._tokens_of(at):
                if not self.tokens[i].used and not self.tokens[i].stop:
                    self._unread(at, i)
        for i, t in enumerate(self.tokens):  # weights in brackets and the like
            if not t.used and not t.stop:
                t.used = True
                self.found.append(Phrase(i, i, [], "filler"))

    def _unread(self, at: int, i: int) -> None:
        word, token = self.parse.words[at], self.tokens[i]
        token.used = True
        filler = (
            word.tag in _FILLER_TAGS
            or token.word in FILLER
            or (word.tag == tags.DEGREE and word.first == word.last)
            or word.base in _HOLDING
            or (word.tag == tags.PRONOUN)
        )
        if filler:
            self.found.append(Phrase(i, i, [], "filler", word=at))
            return
        last = self.found[-1] if self.found else None
        if last is not None and last.kind == "unknown" and last.word == at and last.last == i - 1:
            last.last = i  # words of one unit
            return
        if word.tag in NOUNS and self._carries(at):
            self.found.append(Phrase(i, i, [], "filler", word=at))
            return
        offered = nearest(word.low)
        owner = self._called(next((h for h in self.parse.heads_of(at) if h >= 0), -1))
        note = reason(word.tag, word.low, offered, owner)
        self.found.append(Phrase(i, i, [], "unknown", note=note, nearest="" if offered == word.low else offered, word=at, belongs=owner))

    def _carries(self, at: int) -> bool:
        """Whether a noun is only there for what is understood of it: the sky of a stormy sky."""
        if self.parse.words[at].tag not in "BSL":
            return False
        said = {f.word for f in self.found if f.kind == "understood" and (f.says or f.tints)}
        return bool(said & set(self.parse.dependents_of(at, "attr")))

    # -- whose it is ------------------------------------------------------------------------------------

    def _figures(self, at: int) -> tuple[int, ...]:
        """Whom a word is about: by what it is bound to, else whoever was spoken of last."""
        if at < 0:
            return (0,)
        bound = owners(self.parse, self.cast, at)
        if bound:
            return bound
        before = [w for w in self.cast.of_word if w < at]
        return self.cast.of_word[max(before)][-1:] if before else (0,)

    def _called(self, at: int) -> str:
        """A thing and whose it is, in words."""
        if at < 0:
            return ""
        names = [self.parse.words[at].low]
        for _ in range(3):
            heads = [h for h in self.parse.heads_of(at, "has", "of", "in", "on") if h >= 0]
            if not heads:
                break
            at = heads[0]
            names.append(self.parse.words[at].low)
        return " of the ".join(names)

    # -- what comes of it -------------------------------------------------------------------------------

    def _told(self) -> Understanding:
        figures = self.cast.figures
        wanted: list[Scores] = [{} for _ in figures]
        unwanted: list[Scores] = [{} for _ in figures]
        tints: list[dict[str, str]] = [{} for _ in figures]
        tones: dict[str, str] = {}
        spans = []
        for f in self.found:
            start, end = self.tokens[f.first].start, self.tokens[f.last].end
            weight = self.parse.words[f.word].weight if f.word >= 0 else 1.0
            score = min(_MOST_WEIGHT, self.emphasis.get(self.text[start:end].lower(), 1.0) * weight)
            mine = self._figures(f.word) if f.kind in ("understood", "negated", "again", "name") else ()
            if f.kind != "unknown":
                for attribute, value in f.says:
                    self._score(f, attribute, value, score, mine, unwanted if f.kind == "negated" else wanted)
            if f.kind in ("understood", "again") and score > 0:
                for thing, tone in f.tints:
                    if thing in _OF_SCENE:
                        tones[thing] = tone
                        continue
                    if thing in OBJECTS:
                        continue
                    for n in mine:
                        tints[n][thing] = tone
            if f.kind != "again":
                belongs = f.belongs or ""
                says = tuple(dict.fromkeys(f.says))
                about = (
                    ()
                    if (f.says and all(a in OF_PICTURE for a, _ in f.says)) or any(t in _OF_SCENE or t in OBJECTS for t, _ in f.tints)
                    else mine
                )
                about = () if f.stands and not f.says else about
                spans.append(
                    Span(
                        start, end, self.text[start:end], f.kind, says, f.note, f.nearest, tuple(f.tints), belongs, about, f.stands, f.also
                    )
                )
        for n in range(len(figures)):
            _dressed(wanted[n], tints[n])
        for n, trade in self.trades:
            with_trade(trade, wanted[n], tints[n])
        faces = [_likeness(figure.name) for figure in figures]
        others = tuple(NamedFigure(wanted[i], unwanted[i], faces[i], figures[i].behind, tints[i]) for i in range(1, len(figures)))
        return Understanding(
            tuple(spans), wanted[0], unwanted[0], faces[0], others, tints[0], figures[0].behind, tones, self._stands(wanted[0])
        )

    def _stands(self, wanted: Scores) -> tuple[Standing, ...]:
        """What stands in the picture by itself; of several animals that are companions the first stays one."""
        told = {f.word for f in self.found if f.stands and f.kind == "understood"}
        colour = {f.word: rgb_of(tone) for f in self.found for thing, tone in f.tints if thing in OBJECTS}
        out: list[Standing] = []
        at: dict[int, int] = {}
        for one in self.standing:
            if one.at in told:
                at.setdefault(one.at, len(out))
                base = at.get(one.on)
                out += [Standing(one.name, one.where, one.of, colour.get(one.at), base)] * one.count
        companions = wanted.get("companion", {})
        for further in [name for name in companions if name != "nobody"][1:]:
            out.append(Standing(further))
            del companions[further]
        return tuple(out[:MOST_THINGS])

    def _score(self, f: Phrase, attribute: str, value: str, score: float, mine: tuple[int, ...], target: list[Scores]) -> None:
        if attribute in OF_PICTURE:
            target[0].setdefault(attribute, {})[value] = score
            return
        for n in mine:
            if attribute == "subject" and (f.kind == "negated" or value not in self.cast.figures[n].kinds):
                continue  # the cast says who is who
            target[n].setdefault(attribute, {})[value] = score


_COLOURS = ("hair colour", "eyes", "skin", "colour", "trim")
_LISTED = frozenset("long short cropped messy tousled straight loose shorn wavy curly".split())
_OF_LONG_BEARDS = frozenset("long flowing bushy huge".split())
_AGES = frozenset("young old elderly aged ancient little small teenage teenaged adult middle-aged".split())


def _trade(base: str) -> str:
    known = {"man", "woman", "girl", "boy", "lady", "gentleman", "child", "kid", "person"}
    return "" if base in known or base in TRADES or _lexicon_of(base, base) else "a person, drawn without the trade"


def _comes_with(base: str) -> str:
    """What somebody of a trade has, in words; "" where the noun is none."""
    return ", ".join(_of_trade(attribute, value) for attribute, value in TRADES.get(base, {}).items() if not attribute.startswith("tint "))


def _of_trade(attribute: str, value: str) -> str:
    return {"yes": attribute}.get(value, f"{attribute} of its own" if value.startswith("#") else value)


def _lexicon_of(low: str, base: str) -> tuple[tuple[str, str], ...]:
    if low in GROUPS or base in GROUPS:
        return (("subject", ""),)
    return meanings().get(low, ()) or meanings().get(base, ())


def _likeness(name: str) -> int | None:
    return int.from_bytes(hashlib.sha256(name.encode()).digest()[:4], "big") if name else None


def _dressed(wanted: Scores, tints: dict[str, str]) -> None:
    """Of several outfits that are named the outer one is worn; a colour of the clothes is that of the outfit."""
    outfits = list(wanted.get("outfit", {}))
    if len(outfits) > 1:
        kept = outermost(outfits)
        wanted["outfit"] = {name: score for name, score in wanted["outfit"].items() if name in kept}
    if set(wanted.get("outfit", {})) == {"jumper and skirt"} and "shirt" in tints:
        tints.setdefault("jumper", tints.pop("shirt"))
