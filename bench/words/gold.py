"""Wanted bindings of prompts, and how found ones are held against them. The form of the files stands at the top of `prompts.txt`.

Found bindings are first written as the wanted ones are: acts that hold ("holding a cup") count as having, places of acts stand at
their doer, and what the picture has is not told as a relation besides.
"""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, field
from pathlib import Path

from mosskeeper.core.words.grammar.bindings import Parse
from mosskeeper.core.words.grammar.words import split

Binding = tuple[int, str, int]
_SIGNS = {"<": "attr", "!": "does", "+": "has", "~": "lacks", ">": "obj", "^": "degree", "*": "count"}
_ITEM = re.compile(r"([^<!+~>^*@]+)([<!+~>^*]|@[^:]+:)(.+)")
_HOLDING = {w + e for w in ("hold", "carr", "wear", "ha") for e in ("s", "ing", "y", "ies", "ying", "ve", "d", "ving")} | {"hold", "wear"}
_SAME = {"does": "is", "attr": "is", "with": "has"}  # relations that are not told apart
_NO_PLACE = ("is", "has", "lacks", "obj", "degree", "count")


@dataclass
class Gold:
    """One prompt with its wanted bindings, as numbers of words."""

    part: str
    text: str
    low: list[str]
    wanted: set[Binding] = field(default_factory=set)
    to: dict[int, int] = field(default_factory=dict)  # words of a unit → its last; second mentions → the first
    silent: set[int] = field(default_factory=set)
    neutral: set[Binding] = field(default_factory=set)
    doers: dict[int, list[int]] = field(default_factory=lambda: defaultdict(list))
    acts: set[int] = field(default_factory=set)

    @staticmethod
    def read(line: str) -> Gold:
        part, text, items, remarks = (piece.strip() for piece in line.split("|"))
        gold = Gold(part, text, [w.low for w in split(text) if not w.stop])
        raw: list[Binding] = []
        for item in items.split():
            m = _ITEM.fullmatch(item)
            assert m, item
            relation = _SIGNS.get(m.group(2)) or m.group(2)[1:-1]
            raw += [(gold._at(m.group(1)), relation, gold._at(dependent)) for dependent in m.group(3).split(",")]
        for remark in remarks.split():
            kind, _, about = remark.partition("=")
            if kind == "same":
                a, b = about.split("=")
                gold.to[gold._at(a)] = gold._at(b)
            elif "/" in about:
                a, relation, b = about.split("/")
                gold.neutral.add((gold._at(a), _SAME.get(relation, relation), gold._at(b)))
            elif "+" in about or "@" in about or "<" in about or "*" in about:
                m = _ITEM.fullmatch(about)
                assert m
                relation = _SIGNS.get(m.group(2)) or m.group(2)[1:-1]
                gold.neutral.add((gold._at(m.group(1)), _SAME.get(relation, relation), gold._at(m.group(3))))
            else:
                word, _, n = about.partition("#")
                found = [i for i, low in enumerate(gold.low) if low == word.split("_")[-1]]
                gold.silent |= set(found if not n else found[int(n) - 1 : int(n)])
        gold.wanted = {gold._plain(*b) for b in raw}
        for h, relation, d in raw:
            if relation in ("does", "attr", "lacks"):
                gold.doers[d].append(h)
        gold.acts = set(gold.doers) - {h for h, relation, _ in raw if relation != "obj"}
        return gold

    def _at(self, said: str) -> int:
        if said == ".":
            return -1
        word, _, n = said.lower().partition("#")
        parts = word.split("_")
        places = [i for i in range(len(self.low)) if self.low[i : i + len(parts)] == parts]
        assert places, f"{said} is not in: {self.text}"
        first = places[int(n or 1) - 1]
        last = first + len(parts) - 1
        self.to |= dict.fromkeys(range(first, last), last)
        return last

    def _plain(self, h: int, relation: str, d: int) -> Binding:
        return self.to.get(h, h), _SAME.get(relation, relation), self.to.get(d, d)

    def brought(self, found: Iterable[Binding]) -> set[Binding]:
        """Found bindings as the wanted ones are written, without what does not matter."""
        found, out = set(found), set[Binding]()
        for h, relation, d in found:
            if relation == "obj" and h >= 0 and self.low[h] in _HOLDING:
                out |= {self._plain(p, "has", d) for p, does, x in found if x == h and does in ("does", "attr")}
            elif relation not in ("obj", "degree", "count", "attr", "does", "has", "lacks") and h in self.acts:
                out |= {self._plain(p, relation, d) for p in self.doers[h]}
            else:
                out.add(self._plain(h, relation, d))
        places, owned = {d for h, _, d in self.wanted if h == -1}, {d for _, r, d in self.wanted if r == "has"}
        elsewhere = {d for h, _, d in self.wanted if h != -1}
        kept = set()
        for h, relation, d in out:
            if d in places and h != -1 and relation not in _NO_PLACE:
                h, relation = -1, "has"  # on the pier: the pier is the picture's place
            free = h == d or bool({h, d} & self.silent) or (h, relation, d) in self.neutral or (h, "?", d) in self.neutral
            held = d >= 0 and self.low[d] in _HOLDING and relation == "is"
            besides = relation == "has" and h != -1 and d not in owned and d in elsewhere  # one may say, too, whose it is
            if not (free or held or besides):
                kept.add((h, relation, d))
        return kept

    def without_silent(self) -> set[Binding]:
        return {b for b in self.wanted if not {b[0], b[2]} & self.silent and b not in self.neutral}


def numbered(parsed: Parse) -> set[Binding]:
    """Bindings by the numbers of words in the prompt; of units, by their last, to which the others belong."""
    words = parsed.words
    inside = {(w.last, "degree" if w.tag == "C" else "attr", n) for w in words for n in range(w.first, w.last) if not w.stop}
    return inside | {(-1 if h < 0 else words[h].last, relation, words[d].last) for h, relation, d in parsed.bindings if d >= 0}


def prompts(name: str = "prompts") -> list[Gold]:
    lines = (Path(__file__).parent / f"{name}.txt").read_text().splitlines()
    return [Gold.read(line) for line in lines if line and not line.startswith("#")]


def scores(golds: list[Gold], found: dict[str, set[Binding]]) -> dict[str, float]:
    """Precision, recall and F1. found : by the text of the prompt."""
    total: Counter[str] = Counter()
    for gold in golds:
        wanted, mine = gold.without_silent(), gold.brought(found[gold.text])
        total.update(hit=len(wanted & mine), wanted=len(wanted), found=len(mine))
    precision, recall = total["hit"] / max(total["found"], 1), total["hit"] / max(total["wanted"], 1)
    return {"P": precision, "R": recall, "F1": 2 * precision * recall / max(precision + recall, 1e-9), "n": total["wanted"]}
