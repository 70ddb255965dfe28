"""What words say about the eyes: whether they are open, and where they look."""

from __future__ import annotations

import re
from dataclasses import dataclass

_LIDS = (
    (r"\b(eyes? (are )?(closed|shut)|(closed|shut) eyes?|asleep|sleeping)\b", 0.0),
    (r"\b(eyes? (wide )?open|open eyes?|awake)\b", 1.15),
)
_WAY = r"\b(?:look|looks|looking|glancing|gazing|eyes)\s+(?:to the |to |towards the )?(left|right|up|down)"
_WAYS = {"left": (-1.0, 0.0), "right": (1.0, 0.0), "up": (0.0, -1.0), "down": (0.0, 1.0)}


@dataclass(frozen=True, slots=True)
class Gaze:
    lids: float | None = None  # how far open; None: as they are
    way: tuple[float, float] | None = None  # right, down in the picture


def look(words: str) -> Gaze | None:
    """What words say about eyes; None where they say nothing."""
    lids = next((v for pattern, v in _LIDS if re.search(pattern, words, re.IGNORECASE)), None)
    found = re.search(_WAY, words, re.IGNORECASE)
    way = _WAYS[found.group(1).lower()] if found else None
    return None if lids is None and way is None else Gaze(lids, way)
