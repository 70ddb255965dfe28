"""`./moss sheets regions`: people in regions, of many layouts, to be looked at."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.commands.mend_sheets import sheet
from mosskeeper.core.recipe import Recipe, Region
from mosskeeper.core.regions.layouts import LAYOUTS
from mosskeeper.core.takes.take import make_take

U8 = NDArray[np.uint8]
_SIZE = (512, 640)
_SEEDS = (7, 21)
_CAST = (
    "a girl with copper braids, freckles and a mustard rain cape",
    "an old man with white hair and a plum travelling coat",
    "an old woman with silver curls and a teal garden dress",
    "a boy with black hair and a moss green tunic",
)
# layout, common words, and what its regions say
_ROWS: tuple[tuple[str, str, tuple[str, ...]], ...] = (
    ("two side by side", "tide flats, morning, gouache", (f"{_CAST[0]} hands a letter to the old man", _CAST[1])),
    ("two side by side", "two people holding hands on the roof garden at dusk", _CAST[2:4]),
    ("three in a row", "forest path at noon", _CAST[:3]),
    ("four in a row", "four people at the canal market", _CAST),
    ("near and far", "lamp quay at night", _CAST[:2]),
    ("one before the other", "bell tower, dawn", _CAST[1:3]),
    ("large and small", "kite loft, noon", (_CAST[2], _CAST[0])),
    ("one and two behind", "fern house", (_CAST[3], _CAST[0], _CAST[2])),
    ("left and right half", "a woman with red hair, half figure", ("in the kitchen at noon", "the lamp quay at night")),
    ("busts beside each other", "roof garden, portrait", _CAST[1:3]),
)


def make(out: Path, width: int) -> Iterator[Path]:
    """Writes the sheet and yields its path: of each layout two takes, two layouts in a row."""
    out.mkdir(parents=True, exist_ok=True)
    pictures = [take for row in _ROWS for take in _takes(*row)]
    path = out / "regions.jpg"
    rows = [pictures[k : k + 4] for k in range(0, len(pictures), 4)]
    cv2.imwrite(str(path), sheet(rows, width)[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, 82])
    yield path


def _takes(layout: str, common: str, words: tuple[str, ...]) -> Iterator[U8]:
    w, h = _SIZE
    masks, regions = dict[str, U8](), list[Region]()
    for n, ((x0, y0, x1, y1), said) in enumerate(zip(LAYOUTS[layout], words, strict=False)):
        mask = np.zeros((h, w, 3), np.uint8)
        mask[round(y0 * h) : round(y1 * h), round(x0 * w) : round(x1 * w)] = 255
        masks[f"{n + 1:064x}"] = mask
        regions.append(Region(mask=f"{n + 1:064x}", words=said))
    for seed in _SEEDS:
        yield make_take(Recipe(words=common, width=w, height=h, regions=regions), seed, masks).image
