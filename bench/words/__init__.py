"""How prompts are read: bindings against those that a reader of English finds, what is drawn of them, colours, time."""

from __future__ import annotations

import time
from collections.abc import Iterable
from random import Random

import numpy as np
from skimage.color import deltaE_ciede2000, rgb2lab

from bench.report import Row, row
from bench.words.gold import Binding, Gold, numbered, prompts, scores
from mosskeeper.core.illustrator.description import Description, Layout, Part
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.takes.take import make_take
from mosskeeper.core.words import colours
from mosskeeper.core.words.grammar.bindings import parse
from mosskeeper.core.words.grammar.lexicon import lexicon
from mosskeeper.core.words.grammar.words import split
from mosskeeper.core.words.tints import rgb_of
from mosskeeper.core.words.understand import Span, understand

_CONTENT = "PBGOALSNQCMvge"
_NAMES = 120  # colours that are drawn
_TYPOS = 0.15
_SEEN = 24  # prompts whose takes are looked at
_SEEDS = 4
_NEAR = 12.0  # ΔE2000 at which a drawn colour is the named one


def measure() -> list[Row]:
    own, second = prompts(), prompts("second")
    found = {gold.text: numbered(parse(gold.text)) for gold in (*own, *second)}
    rows = [
        row("bindings, F1, all of our own prompts", scores(own, found)["F1"], "", ">= 0.95"),
        row("bindings, F1, the kept half", scores(_part(own, "kept"), found)["F1"], "", ">= 0.92"),
        row("bindings, F1, prompts by another hand", scores(second, found)["F1"], "", ">= 0.93"),
    ]
    return [*rows, _misspelled(own), _wrongly_owned((*own, *second), found), *_words(own), *_colours(), *_seen(own), *_speed(own)]


def _part(golds: list[Gold], part: str) -> list[Gold]:
    return [gold for gold in golds if gold.part == part]


def _misspelled(golds: list[Gold]) -> Row:
    """F1 with errors in a share of the longer words: the bindings are those of the right words."""
    rng, found = Random(7), {}
    for gold in golds:
        text = gold.text
        for word in parse(gold.text).words:
            if not word.stop and word.first == word.last and len(word.low) >= 5 and rng.random() < _TYPOS:
                wrong = _mistyped(text[word.start : word.end], rng)
                text = text[: word.start] + wrong + text[word.end :] if len(wrong) == word.end - word.start else text
        found[gold.text] = numbered(parse(text))
    return row(f"bindings, F1, with {_TYPOS:.0%} of longer words misspelled", scores(golds, found)["F1"], "", ">= 0.90")


def _mistyped(word: str, rng: Random) -> str:
    """A word with two letters exchanged or one wrong."""
    at = rng.randrange(1, len(word) - 1)
    if rng.random() < 0.5:
        return word[:at] + word[at + 1] + word[at] + word[at + 2 :]
    return word[:at] + rng.choice("abcdefghijklmnopqrstuvwxyz") + word[at + 1 :]


def _words(golds: list[Gold]) -> list[Row]:
    """How many content words are typed and bound, and how many are drawn."""
    tables, content, typed, drawn = lexicon(), 0, 0, 0
    for gold in golds:
        read, spans = parse(gold.text), understand(gold.text).spans
        bound = {w for h, _, d in read.bindings for w in (h, d)}
        for at, word in enumerate(read.words):
            if word.stop or word.tag not in _CONTENT:
                continue
            content += 1
            typed += (tables.known(word.low) or word.tag == "P") and at in bound
            drawn += _is_drawn(spans, word.start, word.end)
    return [
        row("content words typed and bound", typed / content, "", ">= 0.97"),
        row("content words drawn", drawn / content, ""),
    ]


def _wrongly_owned(golds: Iterable[Gold], found: dict[str, set[Binding]]) -> Row:
    """Of qualities and possessions that are drawn and have an owner, the share that is given to another."""
    owned, wrong = 0, 0
    for gold in golds:
        spans, words = understand(gold.text).spans, [word for word in split(gold.text) if not word.stop]
        wanted: dict[int, set[int]] = {}
        for h, relation, d in gold.without_silent():
            if relation in ("is", "has"):
                wanted.setdefault(d, set()).add(h)
        for h, relation, d in gold.brought(found[gold.text]):
            if relation in ("is", "has") and d in wanted and _says(spans, words[d].start, words[d].end):
                owned, wrong = owned + 1, wrong + (h not in wanted[d])
    return row("attributes on the wrong owner, of those that are drawn", wrong / max(owned, 1), "", "<= 0.02")


def _says(spans: Iterable[Span], start: int, end: int) -> bool:
    return any(span.says or span.tints for span in spans if span.start < end and span.end > start and span.kind != "unknown")


def _is_drawn(spans: Iterable[Span], start: int, end: int) -> bool:
    at = [span for span in spans if span.start < end and span.end > start]
    return any(span.kind in ("understood", "negated", "name", "filler") for span in at)


def _colours() -> list[Row]:
    """Drawn cloth against the named colour: without light, and as it is seen in neutral light."""
    names = [name for name in colours.names() if " " not in name]
    chosen = [names[i] for i in np.linspace(0, len(names) - 1, _NAMES).astype(int)]
    unlit, seen = [], []
    for name in chosen:
        tone = colours.cloth(name)
        assert tone is not None
        person = Description(outfit="knitted jumper", colour_a=rgb_of(tone), layout=Layout(framing="half", pose="facing"), time="noon")
        drawing = draw_scene(scene_of(person, (256, 320)), with_albedo=True)
        assert drawing.albedo is not None
        cloth = drawing.labels == Part.TOP
        wanted = np.array(rgb_of(colours.named(name)))
        unlit.append(_difference(np.median(drawing.albedo[cloth], axis=0) / 255, wanted))
        seen.append(_difference(np.median(drawing.image[cloth], axis=0) / 255, wanted))
    return [
        row(f"cloth against the named colour, ΔE2000, {_NAMES} names, unlit", float(np.median(unlit)), "", "<= 4"),
        row("the same as it is seen at noon", float(np.median(seen)), "", "<= 4"),
    ]


def _difference(a: np.ndarray, b: np.ndarray) -> float:
    """CIEDE2000 between two sRGB colours, 0…1."""
    return float(deltaE_ciede2000(rgb2lab(a[None, None]), rgb2lab(b[None, None]))[0, 0])


_PARTS = {"boots": Part.SHOES, "hat": Part.HEADWEAR, "prop": Part.PROP}
_LEAST = 24  # px of a thing that can be seen


def _seen(golds: list[Gold]) -> list[Row]:
    """What is understood and seen in takes: things in the part map, colours in the drawing without light."""
    asked, seen = 0, 0
    for gold in golds[:: max(1, len(golds) // _SEEN)]:
        said = understand(gold.text)
        recipe = Recipe(words=f"{gold.text}, full figure", width=256, height=320, steps=4)
        for seed in range(_SEEDS):
            made = make_take(recipe, seed)
            assert made.explained is not None
            drawing = draw_scene(made.explained.scene, with_albedo=True)
            assert drawing.albedo is not None
            for n, (figure, person) in enumerate(zip((said.first, *said.others), made.description.figures, strict=False)):
                own = drawing.figures == n + 1
                for attribute in ("subject", "hair", "outfit", "headwear", "prop", "expression", "pose"):
                    if attribute in figure.wanted:
                        value = person.layout.pose if attribute == "pose" else getattr(person, attribute)
                        asked, seen = asked + 1, seen + bool(set(str(value).split("+")) & set(figure.wanted[attribute]))
                for thing, tone in figure.tints.items():
                    part = _PARTS.get(thing)
                    if part is None:
                        continue
                    there = own & (drawing.labels == part)
                    asked += 1
                    if there.sum() < _LEAST:
                        continue  # what is not there, or hidden, is not seen
                    seen += _difference(np.median(drawing.albedo[there], axis=0) / 255, np.array(rgb_of(tone))) <= _NEAR
    return [
        row(f"understood: values in the scene that was drawn, colours in its pixels, {_SEEDS} seeds", seen / max(asked, 1), "", ">= 0.97")
    ]


def _speed(golds: list[Gold]) -> list[Row]:
    began = time.process_time()
    for gold in golds:
        understand(gold.text + " .")  # not one that is remembered
    each = (time.process_time() - began) / len(golds) * 1000
    began = time.process_time()
    lexicon.__wrapped__()
    started = (time.process_time() - began) * 1000
    return [row("a prompt", each, "ms", "<= 5"), row("start: the tables of words", started, "ms")]
