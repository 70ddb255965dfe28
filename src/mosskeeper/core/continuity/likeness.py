"""Likeness: one vector a picture, near for pictures that look alike in person, clothes, place and colours."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.reading.palette import Palette
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.words.attributes import ATTRIBUTES

F32 = NDArray[np.float32]
VERSION = "1"
_IDENTITY = 64
_NAMED = {"subject": 0.7, "hair": 0.6, "outfit": 0.9, "place": 1.0, "time": 0.5, "weather": 0.3, "finish": 0.5, "framing": 0.4}
_GRID = np.array([(L, a, b) for L in (15, 40, 65, 90) for a in (-30, 0, 30) for b in (-30, 0, 30)], np.float32)  # Lab
_SOFT = 22.0  # ΔE76 over which a colour counts for a corner of the grid
_OF_COLOURS = 1.1
_OF_PERSON = 1.3
LENGTH = _IDENTITY + sum(len(ATTRIBUTES[name].values) for name in _NAMED) + len(_GRID)


def likeness(reading: Reading) -> F32:
    """(LENGTH,) of length 1: the face's identity, what was named, and the colours, each weighted; absent where it was not read."""
    identity = np.zeros(_IDENTITY, np.float32)
    main = reading.main
    if main is not None and main.identity is not None and len(main.identity) == _IDENTITY:
        identity = _OF_PERSON * main.face_sure * main.identity
    named = []
    for name, weight in _NAMED.items():
        belief = reading.attributes.get(name, {})
        values = np.array([belief.get(value, 0.0) for value in ATTRIBUTES[name].values], np.float32)
        named.append(weight * values)
    whole = np.concatenate([identity, *named, _OF_COLOURS * _colours(reading.palette)])
    return np.asarray(whole / max(float(np.linalg.norm(whole)), 1e-6), np.float32)


def _colours(palette: Palette) -> F32:
    away = np.linalg.norm(palette.lab[:, None] - _GRID[None], axis=2)
    weight = np.exp(-((away / _SOFT) ** 2))
    spread = (palette.area[:, None] * weight / (weight.sum(1, keepdims=True) + 1e-6)).sum(0)
    root = np.sqrt(spread)  # Bhattacharyya: the product of two is the overlap of their colours
    return np.asarray(root / max(float(np.linalg.norm(root)), 1e-6), np.float32)


def near_colour(palettes: F32, lab: F32, near: float = 18.0) -> F32:
    """How much of each picture has a colour: the area of its palette about it.

    palettes : (N, K, 4) Lab and area. lab : (3,). near : ΔE76 over which a colour counts as the same. Returns (N,) 0…1.
    """
    away = np.linalg.norm(palettes[:, :, :3] - lab, axis=2)
    return np.asarray((palettes[:, :, 3] * np.exp(-((away / near) ** 2))).sum(1), np.float32)
