"""Rain, snow and mist, laid over a place and its figure."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import Stage
from mosskeeper.core.illustrator.shapes import ellipse, point, taper

# How much denser each weather makes the air.
HAZE = {"clear": 1.0, "rain": 1.15, "fog": 1.5, "snow": 1.1}


def add(stage: Stage, weather: str) -> None:
    if weather == "rain":
        _streaks(stage, 90, 98.0, 0.06, 0.35, 0.5)
        _streaks(stage, 40, 210.0, 0.085, 0.26, 0.1)
        rng = stage.rng
        splashes = [ellipse((rng.uniform(-0.2, 1.2), rng.uniform(1.04, 1.25)), 0.010, 0.003, n=10) for _ in range(30)]
        stage.plain(splashes, "eef4fb", Part.WATER, 0.3, 97.5, emission=0.5, alpha=0.5, labelled=False)
    elif weather == "snow":
        _flakes(stage, 110, 98.0, 0.0035, 0.75, 0.5)
        _flakes(stage, 46, 210.0, 0.0065, 0.85, 0.1)
    elif weather == "fog":
        rng = stage.rng
        for y, alpha, slot in ((0.72, 0.30, 90.0), (0.90, 0.32, 98.5), (1.12, 0.34, 211.0)):
            bank = ellipse((0.5 + rng.uniform(-0.3, 0.3), y), 1.1, 0.09, 0, 40)
            stage.plain(bank, stage.light.fog, Part.FOREGROUND, 0.5, slot, emission=1.0, alpha=alpha, blur=22.0, labelled=False)


def _streaks(stage: Stage, n: int, slot: float, length: float, alpha: float, depth: float) -> None:
    starts = np.stack([stage.rng.uniform(-0.4, 1.4, n), stage.rng.uniform(-0.2, 1.3, n)], 1)
    drops = [taper([p, p + point(-0.012, length)], 0.0011) for p in starts]
    stage.plain(drops, "eef4fb", Part.FOREGROUND, depth, slot, emission=0.7, alpha=alpha, labelled=False)


def _flakes(stage: Stage, n: int, slot: float, size: float, alpha: float, depth: float) -> None:
    at = np.stack([stage.rng.uniform(-0.4, 1.4, n), stage.rng.uniform(-0.2, 1.3, n)], 1)
    flakes = [ellipse(p, r, r, n=8) for p, r in zip(at, stage.rng.uniform(0.5, 1.3, n) * size, strict=True)]
    stage.plain(flakes, "fbfdff", Part.FOREGROUND, depth, slot, emission=0.8, alpha=alpha, labelled=False)
