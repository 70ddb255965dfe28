"""Layouts for `./moss bench regions`: boxes with words of their own, and common words. The second half was set up after the code."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Box = tuple[float, float, float, float]  # shares: left, top, right, bottom
Asked = dict[str, str]  # attribute → the name of its colour


@dataclass(frozen=True, slots=True)
class Somebody:
    words: str
    colours: tuple[tuple[str, str], ...]


def _one(who: str, hair: str, skin: str, cloth: str, outfit: str) -> Somebody:
    words = f"{who} with {hair} hair, {skin} skin, {cloth} {outfit}"
    return Somebody(words, (("hair colour", hair), ("skin", skin), ("colour", cloth)))


@dataclass(frozen=True, slots=True)
class Trial:
    """counted : the common words count or name people. level : regions whose people stand at one depth."""

    name: str
    common: str
    regions: tuple[tuple[Box, Somebody | str], ...]
    size: tuple[int, int] = (512, 640)
    counted: bool = False
    level: tuple[int, ...] = ()
    after: bool = False

    @property
    def people(self) -> dict[int, Somebody]:
        return {n: who for n, (_, who) in enumerate(self.regions) if isinstance(who, Somebody)}

    def words(self, n: int) -> str:
        who = self.regions[n][1]
        return who.words if isinstance(who, Somebody) else who

    def mask(self, n: int) -> NDArray[np.float32]:
        (x0, y0, x1, y1), _ = self.regions[n]
        out = np.zeros(self.size[::-1], np.float32)
        w, h = self.size
        out[round(y0 * h) : round(y1 * h), round(x0 * w) : round(x1 * w)] = 1
        return out


WREN = _one("a woman", "copper", "porcelain", "teal", "tunic")
HOB = _one("an old man", "white", "olive", "mustard", "travelling coat")
TILL = _one("a girl", "ink", "bronze", "rose", "garden dress")
BRAM = _one("a man", "straw", "peach", "navy", "knitted jumper")
PIP = _one("a boy", "ginger", "honey", "moss", "tunic")
EDDA = _one("an old woman", "silver", "umber", "plum", "garden dress")
L, R, WIDE = (0.05, 0.15, 0.48, 0.95), (0.52, 0.15, 0.95, 0.95), (640, 512)
THIRDS = ((0.02, 0.18, 0.34, 0.96), (0.35, 0.18, 0.66, 0.96), (0.67, 0.18, 0.98, 0.96))
FOURTHS = tuple((0.01 + 0.25 * k, 0.1, 0.24 + 0.25 * k, 0.95) for k in range(4))

TRIALS = (
    Trial("pair, counted", "two people, forest path, noon", ((L, WREN), (R, HOB)), counted=True, level=(0, 1)),
    Trial("pair", "forest path, noon", ((L, WREN), (R, HOB)), level=(0, 1)),
    Trial(
        "three, counted",
        "three people on the festival bridge, morning",
        tuple(zip(THIRDS, (BRAM, WREN, HOB), strict=True)),
        counted=True,
        level=(0, 1, 2),
    ),
    Trial(
        "four, counted", "four people, moss well, noon", tuple(zip(FOURTHS, (WREN, PIP, HOB, TILL), strict=True)), WIDE, True, (0, 1, 2, 3)
    ),
    Trial("grown-up and child", "roof garden, morning", ((L, BRAM), (R, TILL)), level=(0, 1)),
    Trial("near and far", "tide flats, morning", (((0.04, 0.1, 0.52, 0.98), WREN), ((0.62, 0.3, 0.9, 0.72), HOB))),
    Trial("one before the other", "lamp quay, dusk", (((0.3, 0.2, 0.72, 0.97), TILL), ((0.48, 0.08, 0.95, 0.95), BRAM))),
    Trial("half figures", "half figure, library stair", (((0.0, 0.12, 0.5, 1.0), WREN), ((0.5, 0.12, 1.0, 1.0), HOB)), level=(0, 1)),
    Trial("a letter", "the woman hands a letter to the old man, forest path, morning", ((L, WREN), (R, HOB)), counted=True, level=(0, 1)),
    Trial(
        "hand in hand",
        "two people holding hands, tide flats, noon",
        (((0.08, 0.12, 0.5, 0.96), BRAM), ((0.5, 0.3, 0.92, 0.96), TILL)),
        counted=True,
        level=(0, 1),
    ),
    Trial(
        "two places",
        "",
        (((0.0, 0.0, 0.5, 1.0), "forest path, noon"), ((0.5, 0.0, 1.0, 1.0), "tide flats, night"), (L, WREN), (R, HOB)),
        level=(2, 3),
    ),
    Trial("old pair", "bell tower, noon", ((L, EDDA), (R, HOB)), level=(0, 1), after=True),
    Trial(
        "named twice",
        "an old woman and a girl in the canal market, morning",
        ((L, EDDA), (R, TILL)),
        counted=True,
        level=(0, 1),
        after=True,
    ),
    Trial("wide three", "kitchen, morning", tuple(zip(THIRDS, (EDDA, TILL, BRAM), strict=True)), WIDE, level=(0, 1, 2), after=True),
    Trial("children", "children, fern house, noon", ((L, PIP), (R, TILL)), counted=True, level=(0, 1), after=True),
    Trial("far pair", "tide flats, dusk", (((0.1, 0.35, 0.4, 0.8), BRAM), ((0.6, 0.35, 0.9, 0.8), WREN)), level=(0, 1), after=True),
    Trial(
        "three depths",
        "canal market, noon",
        (((0.02, 0.08, 0.42, 0.98), HOB), ((0.42, 0.25, 0.68, 0.84), WREN), ((0.72, 0.34, 0.92, 0.74), PIP)),
        after=True,
    ),
    Trial(
        "a crowd of four",
        "friends, festival bridge, dusk",
        tuple(zip(FOURTHS, (BRAM, EDDA, WREN, PIP), strict=True)),
        WIDE,
        True,
        (0, 1, 2, 3),
        after=True,
    ),
    Trial("rain and sun", "roof garden", (((0.0, 0.0, 0.5, 1.0), "rain"), (L, PIP), (R, EDDA)), level=(1, 2), after=True),
    Trial(
        "shakes hands",
        "two people shaking hands, bell tower, morning",
        (((0.06, 0.14, 0.5, 0.95), HOB), ((0.5, 0.14, 0.94, 0.95), BRAM)),
        counted=True,
        level=(0, 1),
        after=True,
    ),
    Trial(
        "overlapping by a seventh",
        "seed vault",
        (((0.05, 0.12, 0.55, 0.95), WREN), ((0.48, 0.12, 0.95, 0.95), BRAM)),
        level=(0, 1),
        after=True,
    ),
)
