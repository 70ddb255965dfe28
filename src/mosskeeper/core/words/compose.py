"""Prompts that the engine understands word by word: fresh ones, and variations of one that is there."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.vocabulary.colours import CLOTH
from mosskeeper.core.words.attributes import ATTRIBUTES
from mosskeeper.core.words.colours import is_colour
from mosskeeper.core.words.describe import located
from mosskeeper.core.words.understand import Span, understand

# What a variation may change: how the subject is shown, never who it is or what it wears.
VARIED = ("pose", "expression", "place", "time", "weather", "light", "framing", "view", "gaze", "angle", "prop")
_SAID = {  # values that are no words by themselves, or would read badly alone
    ("light", "plain light"): "even light",
    ("weather", "clear"): "clear sky",
    ("view", "front"): "front view",
    ("view", "three-quarter"): "three quarter view",
    ("view", "profile"): "in profile",
    ("gaze", "up"): "looking up",
    ("gaze", "down"): "looking down",
    ("angle", "above"): "from above",
    ("angle", "below"): "from below",
    ("angle", "level"): "at eye level",
    ("framing", "close"): "close up",
    ("framing", "bust"): "head and shoulders",
    ("framing", "half"): "half figure",
    ("framing", "full"): "full figure",
    ("framing", "wide"): "wide shot",
}
_UNSAID = {("view", "free"), ("gaze", "level"), ("prop", "nothing")}
_WITHOUT_ARTICLE = ("flowers", "rain overalls", "bark armour")
_HAIR = ("copper", "black", "silver", "blond", "brown", "ginger", "white")
_CLOTH_WORDS = tuple(name for name in CLOTH if is_colour(name))


def phrase(attribute: str, value: str) -> str:
    """Words that the engine understands as this value."""
    return _SAID.get((attribute, value), value)


def fresh_prompt(rng: np.random.Generator) -> str:
    """A prompt at random, all of whose words are understood."""

    def pick(attribute: str) -> str:
        values = [v for v in ATTRIBUTES[attribute].values if (attribute, v) not in _UNSAID and v not in ("none", "average", "nobody")]
        return str(rng.choice(values))

    subject = pick("subject")
    if rng.random() < 0.3:
        subject = f"{pick('build')} {subject}"
    parts = [_one(subject)]
    if rng.random() < 0.5:
        parts += [f"{rng.choice(_HAIR)} hair", pick("hair")]
    outfit = pick("outfit")
    clothes = f"{rng.choice(_CLOTH_WORDS)} {outfit}"
    parts.append(f"in {clothes if outfit in _WITHOUT_ARTICLE else _one(clothes)}")
    parts.append(phrase("expression", pick("expression")))
    parts.append(_told("prop", pick("prop")) if rng.random() < 0.4 else phrase("pose", pick("pose")))
    parts.append(f"{_told('place', pick('place'))} {_told('time', pick('time'))}")
    if rng.random() < 0.4:
        parts.append(phrase("weather", pick("weather")))
    parts.append(phrase("framing", pick("framing")))
    return ", ".join(parts)


def _one(thing: str) -> str:
    return f"{'an' if thing[0] in 'aeiou' else 'a'} {thing}"


def _told(attribute: str, value: str) -> str:
    said = phrase(attribute, value)
    match attribute:
        case "prop":
            return f"holding {said if said in _WITHOUT_ARTICLE else _one(said)}"
        case "place" | "time":
            return located(attribute, said)
        case _:
            return said


def variations(text: str, n: int, rng: np.random.Generator) -> list[str]:
    """Up to `n` prompts that differ from `text` and from each other in one or two of the things in VARIED.

    A phrase that is there is replaced by another value of its attribute; where there is none, one is added.
    """
    read = understand(text)
    spans = {a: span for span in read.spans if span.kind == "understood" and len(span.says) == 1 for a, _ in span.says if a in VARIED}
    made: dict[str, None] = {}
    for _ in range(n * 6):
        if len(made) == n:
            break
        changed = text
        for attribute in rng.choice(VARIED, size=int(rng.integers(1, 3)), replace=False):
            changed = _changed(changed, str(attribute), spans.get(str(attribute)), rng)
        if changed != text:
            made[changed] = None
    return list(made)


def _changed(text: str, attribute: str, span: Span | None, rng: np.random.Generator) -> str:
    now = span.says[0][1] if span else None
    choices = [v for v in ATTRIBUTES[attribute].values if v != now and (attribute, v) not in _UNSAID]
    value = str(rng.choice(choices))
    if span is None:
        return f"{text.rstrip().rstrip(',.')}, {_told(attribute, value)}".lstrip(", ")
    return text.replace(span.text, phrase(attribute, value), 1)
