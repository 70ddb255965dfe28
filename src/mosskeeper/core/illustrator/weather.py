"""Rain, snow and mist, laid over a place and its figure."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import ellipse, point, taper

# How much denser each weather makes the air.
HAZE = {"clear": 1.0, "rain": 1.15, "fog": 1.5, "snow": 1.1, "wind": 0.95, "storm": 1.25}

WIND = {"wind": 0.75, "storm": 1.0, "rain": 0.12, "snow": 0.1}  # strength, towards the right


def add(stage: PlaceFrame, weather: str) -> None:
    if weather == "rain":
        _clouds(stage, "7f8a96", 0.40)
        _streaks(stage, 130, 98.0, 0.07, 0.50, 0.5)
        _streaks(stage, 55, 210.0, 0.10, 0.42, 0.1)
        rng = stage.rng
        splashes = [ellipse((rng.uniform(-0.2, 1.2), rng.uniform(1.04, 1.25)), 0.010, 0.003, n=10) for _ in range(30)]
        stage.plain(splashes, "eef4fb", Part.WATER, 0.3, 97.5, emission=0.5, alpha=0.5, labelled=False)
    elif weather == "storm":
        _clouds(stage, "4a5060", 0.45)
        _streaks(stage, 150, 98.0, 0.075, 0.40, 0.5, slant=-0.038)
        _streaks(stage, 60, 210.0, 0.10, 0.28, 0.1, slant=-0.050)
    elif weather == "wind":
        _flying_leaves(stage)
    elif weather == "snow":
        _clouds(stage, "c9d3dc", 0.35)
        _drifts(stage)
        _flakes(stage, 190, 98.0, 0.0050, 0.85, 0.5)
        _flakes(stage, 60, 210.0, 0.0100, 0.9, 0.1)
    elif weather == "fog":
        rng = stage.rng
        for y, alpha, slot in ((0.72, 0.30, 90.0), (0.90, 0.32, 98.5), (1.12, 0.34, 211.0)):
            bank = ellipse((0.5 + rng.uniform(-0.3, 0.3), y), 1.1, 0.09, 0, 40)
            stage.plain(bank, stage.light.fog, Part.SKY, 0.5, slot, emission=1.0, alpha=alpha, blur=22.0, labelled=False)


def _clouds(stage: PlaceFrame, colour: str, alpha: float) -> None:
    rng = stage.rng
    for i in range(7):
        x, y, w = rng.uniform(-0.2, 1.2), rng.uniform(-0.15, 0.30), rng.uniform(0.25, 0.5)
        stage.plain(ellipse((x, y), w, w * 0.30, 0, 30), colour, Part.SKY, 0.985, 0.8 + 0.01 * i, emission=0.6, alpha=alpha, blur=9.0)


def _drifts(stage: PlaceFrame) -> None:
    """Snow that has settled: thin over the ground, in soft banks towards the borders."""
    rng = stage.rng
    for x, y, w, h, alpha in ((0.5, 1.16, 1.1, 0.07, 0.42), (-0.02, 1.235, 0.42, 0.05, 0.9), (1.03, 1.24, 0.40, 0.055, 0.9)):
        bank = ellipse((x + rng.uniform(-0.05, 0.05), y), w, h, 0, 36)
        stage.plain(bank, "f2f6fa", Part.GROUND, 0.3, 97.0, emission=0.25, alpha=alpha, blur=5.0, labelled=False)


def _flying_leaves(stage: PlaceFrame) -> None:
    rng = stage.rng
    for slot, n, size, depth in ((98.0, 26, 0.011, 0.5), (210.0, 9, 0.020, 0.1)):
        for k, colour in enumerate(("a8702f", "8a9a4a", "c9924a")):
            leaves = []
            for _ in range(n // 3):
                c, a = point(rng.uniform(-0.2, 1.2), rng.uniform(0.0, 1.15)), rng.uniform(-0.6, 0.6)
                d = point(np.cos(a), np.sin(a)) * size
                leaves.append(taper([c - d, c + point(0, size * 0.25), c + d], size * 0.36))
            stage.plain(leaves, colour, Part.SKY, depth, slot + 0.01 * k, alpha=0.9, labelled=False)
        gusts = [
            taper([(x, y), (x + 0.07, y - 0.012), (x + 0.16, y + 0.004)], 0.0014)
            for x, y in zip(rng.uniform(-0.2, 1.0, 10), rng.uniform(0, 1.1, 10), strict=True)
        ]
        stage.plain(gusts, "f4f4ee", Part.SKY, depth, slot, emission=0.6, alpha=0.30, labelled=False)


def _streaks(stage: PlaceFrame, n: int, slot: float, length: float, alpha: float, depth: float, slant: float = -0.012) -> None:
    starts = np.stack([stage.rng.uniform(-0.4, 1.4, n), stage.rng.uniform(-0.2, 1.3, n)], 1)
    drops = [taper([p, p + point(slant, length)], 0.0015) for p in starts]
    stage.plain(drops, "eef4fb", Part.SKY, depth, slot, emission=0.7, alpha=alpha, labelled=False)


def _flakes(stage: PlaceFrame, n: int, slot: float, size: float, alpha: float, depth: float) -> None:
    at = np.stack([stage.rng.uniform(-0.4, 1.4, n), stage.rng.uniform(-0.2, 1.3, n)], 1)
    flakes = [ellipse(p, r, r, n=8) for p, r in zip(at, stage.rng.uniform(0.5, 1.3, n) * size, strict=True)]
    stage.plain(flakes, "fbfdff", Part.SKY, depth, slot, emission=0.8, alpha=alpha, labelled=False)
