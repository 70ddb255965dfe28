"""Who is who in a prompt: where it speaks of several figures, which phrase belongs to which.

A second figure begins where a connecting word leads to another person ("and an old man", "with a boy"), or where a
number stands before a plural ("two children"). What follows belongs to the latest figure, and so do the adjectives just
before it; "she" and "he" lead back to one that was named. The method is ours.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from mosskeeper.core.illustrator.description import MOST_FIGURES
from mosskeeper.core.words.lexicon import GROUPS, PLURALS
from mosskeeper.core.words.reading import Phrase, Token

CONNECTING = frozenset(["and", "with", "beside", "near", "by", "behind", "next", "alongside", "plus", "together", "before"])
NUMBERS = {
    "one": 1,
    "two": 2,
    "both": 2,
    "three": 3,
    "four": 4,
    "five": 5,
    "six": 6,
    "several": 3,
    "some": 2,
    "2": 2,
    "3": 3,
    "4": 4,
    "5": 5,
}
_PASSED = frozenset(
    ["a", "an", "the", "one", "her", "his", "their", "another", "of", "to", "up", "also", "who", "is", "young", "little", "small", "tall"]
) | set(NUMBERS)
_WOMEN = ("woman", "girl", "old woman")
_PRONOUNS = {
    "she": _WOMEN,
    "her": _WOMEN,
    "he": ("man", "boy", "old man"),
    "him": ("man", "boy", "old man"),
    "his": ("man", "boy", "old man"),
}


@dataclass(slots=True)
class Cast:
    """The figures of a prompt; the first is always there."""

    subjects: list[str | None] = field(default_factory=lambda: [None])
    behind: list[bool] = field(default_factory=lambda: [False])
    names: list[str] = field(default_factory=lambda: [""])
    owner: dict[int, tuple[int, ...]] = field(default_factory=dict)  # first token of a phrase → figures it is about


def cast(phrases: Sequence[Phrase], tokens: Sequence[Token]) -> Cast:
    """Reads who is in a prompt. `phrases` are in order; those that say a subject are taken as mentions of persons."""
    made = Cast()
    covered = {i: p for p in phrases for i in range(p.first, p.last + 1)}
    current: tuple[int, ...] = (0,)
    starts: list[tuple[int, tuple[int, ...]]] = [(0, current)]
    for p in phrases:
        word = tokens[p.first].word
        if p.kind != "name" and p.first == p.last and word in _PRONOUNS and _known(made, _PRONOUNS[word]) is not None:
            back = _known(made, _PRONOUNS[word])
            assert back is not None
            p.says.clear()
            current = (back,)
            starts.append((p.first, current))
            continue
        if p.kind == "name":
            mentioned: list[str | None] = [None]
        elif p.kind == "understood" and any(attribute == "subject" for attribute, _ in p.says):
            mentioned = _mentioned(p, tokens)
        else:
            continue
        begin, link = _noun_phrase(p.first, tokens, covered)
        name = " ".join(tokens[i].word for i in range(p.first, p.last + 1)) if p.kind == "name" else ""
        current, extra = _about(made, current, mentioned, name, link)
        for subject in extra:
            if len(made.subjects) == MOST_FIGURES:
                p.note = f"at most {MOST_FIGURES} figures are drawn"
                break
            made.subjects.append(subject)
            made.behind.append(link == "behind")
            made.names.append(name)
            current = (*current, len(made.subjects) - 1)
        current = current or (len(made.subjects) - 1,)
        starts.append((begin, current))
    for p in phrases:
        for begin, who in starts:
            if p.first >= begin:
                made.owner[p.first] = who
    return made


def _about(
    made: Cast, current: tuple[int, ...], mentioned: list[str | None], name: str, link: str
) -> tuple[tuple[int, ...], list[str | None]]:
    """Whom of those that are there already a mention is about, and who comes with it. link : what it follows, "" nothing."""
    if made.subjects == [None] and not made.names[0]:
        made.subjects[0], made.names[0] = mentioned[0], name
        return (0,), mentioned[1:]
    same = _named(made, name) if name else _same(made, mentioned[0])
    if link and not (name and same is not None):
        return (), mentioned
    if same is not None:
        return (same,), []
    # one more word about the same person: its description, or another wish
    if made.subjects[current[-1]] is None and mentioned[0]:
        made.subjects[current[-1]] = mentioned[0]
    return current[-1:], []


def _mentioned(p: Phrase, tokens: Sequence[Token]) -> list[str | None]:
    phrase = " ".join(tokens[i].word for i in range(p.first, p.last + 1))
    subjects = [value for attribute, value in p.says if attribute == "subject"]
    number, i = 0, p.first - 1
    while i >= 0 and not tokens[i].stop and p.first - i <= 4 and not number:
        number = NUMBERS.get(tokens[i].word, 0)
        i -= 1
    if phrase in GROUPS:
        members, usual = GROUPS[phrase]
        n = number or usual
    elif phrase in PLURALS:
        members, n = tuple(subjects), number or 2
    else:
        return [subjects[0]]
    if n > MOST_FIGURES:
        p.note = f"at most {MOST_FIGURES} figures are drawn"
    return [members[k % len(members)] for k in range(min(n, MOST_FIGURES))]


def _noun_phrase(first: int, tokens: Sequence[Token], covered: dict[int, Phrase]) -> tuple[int, str]:
    """Where the words before a person begin that describe it, and the connecting word before them ('' where none is)."""
    i = first - 1
    while i >= 0:
        word = tokens[i].word
        if tokens[i].stop:
            return i + 1, ""
        if word in CONNECTING:
            return i + 1, "behind" if word == "behind" else word
        about = covered.get(i)
        if word not in _PASSED and (about is None or any(a in ("subject", "outfit", "place", "prop") for a, _ in about.says)):
            return i + 1, ""
        i -= 1
    return 0, ""


def _known(made: Cast, subjects: tuple[str, ...]) -> int | None:
    return next((i for i in reversed(range(len(made.subjects))) if made.subjects[i] in subjects), None)


def _same(made: Cast, subject: str | None) -> int | None:
    return next((i for i, s in enumerate(made.subjects) if s == subject), None)


def _named(made: Cast, name: str) -> int | None:
    """The figure of that name, or of a name that begins or ends with it."""
    for i, known in enumerate(made.names):
        if known and (known == name or name in known.split() or known in name.split()):
            return i
    return None
