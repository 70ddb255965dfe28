"""Who is in a prompt: its figures, and which word belongs to which of them."""

from __future__ import annotations

from dataclasses import dataclass, field

from mosskeeper.core.illustrator.description import MOST_FIGURES
from mosskeeper.core.words.grammar import tags
from mosskeeper.core.words.grammar.bindings import OF_PICTURE, Parse
from mosskeeper.core.words.grammar.chunks import Chunk
from mosskeeper.core.words.grammar.lexicon import lexicon
from mosskeeper.core.words.grammar.referents import HER, HIS
from mosskeeper.core.words.grammar.words import Word
from mosskeeper.core.words.lexicon import GROUPS, meanings

NUMBERS = {"one": 1, "two": 2, "both": 2, "pair": 2, "three": 3, "four": 4, "five": 5, "six": 6, "several": 3, "many": 4, "some": 2}
_ADULTS, _CHILDREN, _OLD = ("woman", "man"), ("girl", "boy"), ("old woman", "old man")
_CHILD_NOUNS = frozenset(
    "child kid toddler baby infant newborn youngster preschooler pupil schoolchild orphan teenager teen adolescent grandchild".split()
)
_OLD_NOUNS = frozenset("elder crone hag pensioner grandparent".split())
_OLD_WORDS = frozenset("old elderly aged ancient eldest".split()) | {"seventies", "eighties", "nineties"}
_CHILD_WORDS = frozenset("little small tiny teenage teenaged adolescent".split())
_NOBODY = frozenset("person people figure character someone somebody anyone model subject one ones other others".split())


@dataclass(slots=True)
class Figure:
    """Somebody in a picture. kinds : what this may be of `SUBJECTS`, each as likely; none where nothing is said of it."""

    kinds: tuple[str, ...] = ()
    name: str = ""
    behind: bool = False


@dataclass(slots=True)
class Cast:
    """The figures of a prompt; the first is always there.

    Attributes
    ----------
    of_word : index of a word that stands for persons → their figures.
    crowded : words that name more figures than are drawn.
    """

    figures: list[Figure] = field(default_factory=list)
    of_word: dict[int, tuple[int, ...]] = field(default_factory=dict)
    crowded: set[int] = field(default_factory=set)


def cast(parse: Parse) -> Cast:
    """Reads who is in a prompt."""
    return _Reader(parse).made


class _Reader:
    def __init__(self, parse: Parse) -> None:
        self.parse, self.made = parse, Cast()
        self.groups: list[tuple[int, ...]] = []  # figures named by one word, of which "one" and "the other" may speak
        self.taken: set[int] = set()
        for i, chunk in enumerate(parse.chunks):
            if i and chunk.kind in (tags.PERSON, tags.PRONOUN) and not chunk.possessive:
                self._mention(i, chunk)
        if not self.made.figures:
            self.made.figures.append(Figure())
        self._behind()

    def _mention(self, i: int, chunk: Chunk) -> None:
        word = self.parse.words[chunk.at]
        if chunk.refers:
            meant = {f for k in chunk.refers for f in self.made.of_word.get(self.parse.chunks[k].at, ())}
            self.made.of_word[chunk.at] = tuple(sorted(meant))
            self._add_to(meant, chunk, word)
            return
        if i not in self.parse.people:
            return
        if chunk.kind == tags.PRONOUN:
            self._pronoun(chunk, word)
            return
        wanted = self._members(chunk, word)
        room = MOST_FIGURES - len(self.made.figures)
        if len(wanted) > room:
            self.made.crowded.add(chunk.at)
        numbers = tuple(range(len(self.made.figures), len(self.made.figures) + min(len(wanted), room)))
        self.made.figures += wanted[:room]
        self.made.of_word[chunk.at] = numbers or (len(self.made.figures) - 1,)
        self.groups += [numbers] if len(numbers) > 1 else []

    def _pronoun(self, chunk: Chunk, word: Word) -> None:
        figures = self.made.figures
        if word.low in ("one", "ones", "other", "others") and self.groups:
            left = [n for group in self.groups for n in group if n not in self.taken]
            if left:
                self.taken.add(left[0])
                self.made.of_word[chunk.at] = (left[0],)
                return
        if not figures:
            figures.append(Figure(_kinds(_ADULTS, chunk.sex) if chunk.sex else ()))
        self.made.of_word[chunk.at] = (len(figures) - 1,)

    def _add_to(self, meant: set[int], chunk: Chunk, word: Word) -> None:
        """A second mention tells more: "Marrit Fenn, an old woman"."""
        if chunk.kind != tags.PERSON or len(meant) != 1:
            return
        figure = self.made.figures[next(iter(meant))]
        told = self._kinds_of(chunk, word)
        if word.name:
            figure.name = figure.name or word.base
        elif told and (not figure.kinds or set(told) <= set(figure.kinds)):
            figure.kinds = told

    def _members(self, chunk: Chunk, word: Word) -> list[Figure]:
        """The figures that a noun names."""
        count = self._count(chunk)
        if word.name:
            return [Figure((), word.base)]
        if word.low in GROUPS or word.base in GROUPS:
            kinds, usual = GROUPS.get(word.low) or GROUPS[word.base]
            return [Figure((kinds[k % len(kinds)],)) for k in range(min(count or usual, MOST_FIGURES + 1))]
        kinds = self._kinds_of(chunk, word)
        many = count or (2 if chunk.plural and word.low != word.base else 1)
        if many > 1 and len(kinds) > 1 and not chunk.sex:  # of several, not all are alike
            return [Figure((kinds[k % len(kinds)],)) for k in range(min(many, MOST_FIGURES + 1))]
        return [Figure(kinds) for _ in range(min(many, MOST_FIGURES + 1))]

    def _count(self, chunk: Chunk) -> int:
        said = [self.parse.words[d].low for h, relation, d in self.parse.bindings if h == chunk.at and relation == "count"]
        return next((int(s) if s.isdigit() else NUMBERS[s] for s in said if s.isdigit() or s in NUMBERS), 0)

    def _kinds_of(self, chunk: Chunk, word: Word) -> tuple[str, ...]:
        """What a noun with its qualities says of age and sex."""
        inside = {b for _, relation, b in chunk.says if relation == "attr"}
        says = {self.parse.words[d].base for d in {*inside, *self.parse.dependents_of(chunk.at, "attr")}}
        own = tuple(v for a, v in meanings().get(word.base, ()) if a == "subject")
        if not own and not lexicon().known(word.low):
            return ()  # guessed by its ending only
        if word.base in _NOBODY and not own:
            return _kinds(_OLD, chunk.sex) if says & _OLD_WORDS else ()
        ages: tuple[str, ...] = _CHILDREN if word.base in _CHILD_NOUNS else _OLD if word.base in _OLD_NOUNS else _ADULTS
        if own:
            sex, ages = _sex(own[0]), _ages(own[0])
        else:
            sex = chunk.sex
        if says & _OLD_WORDS and ages is _ADULTS:
            ages = _OLD
        elif (says & _CHILD_WORDS and ages is _ADULTS and not own) or ("teenage" in says and ages is _ADULTS):
            ages = _CHILDREN
        return _kinds(ages, sex)

    def _behind(self) -> None:
        """Who stands behind another, by "behind" and "in front of"."""
        for h, relation, d in self.parse.bindings:
            if h == OF_PICTURE or relation not in ("behind", "in front of"):
                continue
            far, near = (h, d) if relation == "behind" else (d, h)
            there, before = self.made.of_word.get(far, ()), self.made.of_word.get(near, ())
            if there and before and set(there) != set(before):
                for n in there:
                    self.made.figures[n].behind = True


def owners(parse: Parse, made: Cast, word: int) -> tuple[int, ...]:
    """The figures that a word belongs to, itself where it stands for somebody; () where it belongs to the picture or to nothing."""
    seen, level = set[int](), [word]
    while level:
        found = {f for w in level for f in made.of_word.get(w, ())}
        if found:
            return tuple(sorted(found))
        seen |= set(level)
        level = [h for w in level for h in parse.heads_of(w) if h not in seen and h != OF_PICTURE]
    return ()


def _sex(kind: str) -> str:
    return HER if kind.endswith(("woman", "girl")) else HIS


def _ages(kind: str) -> tuple[str, ...]:
    return next(ages for ages in (_ADULTS, _CHILDREN, _OLD) if kind in ages)


def _kinds(ages: tuple[str, ...], sex: str) -> tuple[str, ...]:
    return tuple(kind for kind in ages if not sex or _sex(kind) == sex)
