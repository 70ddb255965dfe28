"""Milliseconds of one drawing, one thread: backdrop cached and cold, and how the time grows with the pixels."""

from __future__ import annotations

import statistics
import time
from dataclasses import replace
from itertools import cycle

import cv2
import numpy as np

from bench.report import Row, row
from mosskeeper.core.illustrator.description import Description, Face, Layout
from mosskeeper.core.illustrator.draw import draw, kept
from mosskeeper.core.illustrator.places import PLACES
from mosskeeper.core.illustrator.vocabulary.outfits import OUTFITS

Size = tuple[int, int]


def _descriptions() -> list[Description]:
    """One of each place, each in another outfit, half and full figures."""
    outfits, framings = cycle(OUTFITS), cycle(("half", "full"))
    return [replace(Description(), place=p, outfit=next(outfits), layout=Layout("standing", next(framings))) for p in PLACES]


def _median_ms(size: Size, cold: bool, figure: str = "storybook", others: bool = True) -> float:
    """Milliseconds of a drawing of somebody who was not drawn before."""
    taken = []
    for n, description in enumerate(_descriptions()):
        draw(description, size)
        other = Face.sampled(np.random.default_rng(n)), ("bronze", "honey")[n % 2]
        description = replace(
            description,
            figure=figure,
            face=other[0] if others else description.face,
            skin=other[1],
            colour_a=(0.2, 0.3, 0.5),
            colour_b=(0.8, 0.7, 0.4),
        )
        if cold:
            kept.clear()
        started = time.perf_counter()
        draw(description, size)
        taken.append((time.perf_counter() - started) * 1000)
    return statistics.median(taken)


def measure() -> list[Row]:
    cv2.setNumThreads(1)
    full, small, large = (512, 640), (256, 320), (1024, 1280)
    cached = {size: _median_ms(size, cold=False) for size in (full, small, large)}
    return [
        row("drawing 512×640, backdrop cached", cached[full], "ms", "<= 150"),
        row("drawing 256×320, backdrop cached", cached[small], "ms", "<= 50"),
        row("drawing 512×640, cold", _median_ms(full, cold=True), "ms", "<= 350"),
        row("drawing 1024×1280, backdrop cached", cached[large], "ms"),
        row("natural figure 512×640, a known face", _median_ms(full, cold=False, figure="natural", others=False), "ms", "<= 200"),
        row("natural figure 512×640, a new face", _median_ms(full, cold=False, figure="natural"), "ms"),
        row("time of 4 times the pixels of 512×640", cached[large] / cached[full], "×"),
    ]
