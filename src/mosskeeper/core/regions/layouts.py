"""Layouts: arrangements of regions to begin with, from front to back. Boxes are shares of width and height."""

from __future__ import annotations

import re
from collections.abc import Sequence

from mosskeeper.core.words.attributes import OF_PICTURE
from mosskeeper.core.words.understand import understand

Box = tuple[float, float, float, float]  # left, top, right, bottom

LAYOUTS: dict[str, tuple[Box, ...]] = {
    "two side by side": ((0.05, 0.14, 0.49, 0.95), (0.51, 0.14, 0.95, 0.95)),
    "three in a row": ((0.02, 0.18, 0.34, 0.96), (0.35, 0.18, 0.66, 0.96), (0.67, 0.18, 0.98, 0.96)),
    "four in a row": ((0.01, 0.2, 0.25, 0.95), (0.26, 0.2, 0.5, 0.95), (0.51, 0.2, 0.75, 0.95), (0.76, 0.2, 0.99, 0.95)),
    "near and far": ((0.03, 0.1, 0.52, 0.98), (0.62, 0.3, 0.9, 0.72)),
    "far and near": ((0.48, 0.1, 0.97, 0.98), (0.1, 0.3, 0.38, 0.72)),
    "one before the other": ((0.28, 0.24, 0.68, 0.97), (0.46, 0.1, 0.94, 0.93)),
    "large and small": ((0.04, 0.08, 0.56, 0.96), (0.62, 0.42, 0.94, 0.96)),
    "three depths": ((0.02, 0.08, 0.42, 0.98), (0.42, 0.25, 0.68, 0.84), (0.72, 0.34, 0.92, 0.74)),
    "one and two behind": ((0.28, 0.2, 0.72, 0.98), (0.04, 0.28, 0.34, 0.82), (0.66, 0.28, 0.96, 0.82)),
    "left and right half": ((0.0, 0.0, 0.5, 1.0), (0.5, 0.0, 1.0, 1.0)),
    "above and below": ((0.0, 0.5, 1.0, 1.0), (0.0, 0.0, 1.0, 0.5)),
    "someone in a place": ((0.28, 0.12, 0.72, 0.95), (0.0, 0.0, 1.0, 1.0)),
    "busts beside each other": ((0.0, 0.14, 0.5, 1.0), (0.5, 0.14, 1.0, 1.0)),
}

_OF_ALL = set(OF_PICTURE) - {"companion"}  # what words say of the whole picture
_FOR = {1: "someone in a place", 2: "two side by side", 3: "three in a row", 4: "four in a row"}
_BETWEEN = re.compile(r"\s*(?:,?\s+(?:and|with|beside|next to|alongside|plus)\s+|,\s*)(?=(?:an?|the|one|another)\b|[A-Z])", re.I)
_GIVEN = re.compile(
    r"\b(hands?|gives?|offers?|passes|shows?|looks at|waves to|smiles at|kisses|hugs|holds hands with|shakes hands with)\b", re.I
)

_LED_TO = re.compile(r"\b(?:to|at|hands with|kisses|hugs)\s+((?:an?|the|another)\s+.*)$", re.I)


def layout_for(count: int) -> tuple[Box, ...]:
    """The layout that is proposed for a number of people."""
    return LAYOUTS[_FOR.get(count, "four in a row")][:count]


def proposed(words: str) -> list[str]:
    """The words of a region for each person that words speak of, from left to right; the rest is of the whole picture.

    “A girl hands a letter to an old man” are two: the girl with what she does, and the old man.
    """
    out = list[str]()
    for part in _BETWEEN.split(words):
        said = understand(part)
        subjects = said.wanted.get("subject", {})
        if not subjects and said.likeness is None:
            if out and not set(said.wanted) & _OF_ALL:
                out[-1] = f"{out[-1]}, {part.strip()}"
            continue
        led = _LED_TO.search(part) if _GIVEN.search(part) else None
        whom = next(iter(understand(led.group(1)).wanted.get("subject", {})), None) if led else None
        if led is None or whom is None:
            out.append(part.strip(" .,"))
        else:  # what is said of the other is said there
            out += [f"{part[: led.start(1)].strip()} the {whom}", led.group(1).strip(" .,")]
    return out[:4]


def common_left(words: str, regions: Sequence[str]) -> str:
    """What of the words is left for the whole picture, once people have regions of their own."""
    parts = [part.strip(" .,") for part in _BETWEEN.split(words)]
    taken = " ".join(regions)
    return ", ".join(part for part in parts if part and part not in taken and not understand(part).wanted.get("subject"))
