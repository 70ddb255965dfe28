"""Seconds of the built-in engine: whole takes, their sampling, the first preview."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from itertools import count

import cv2
import numpy as np

from bench.report import Row, median_seconds, row
from mosskeeper.core.diffusion import exemplars as exemplars_module
from mosskeeper.core.diffusion.exemplars import SMALL_AREA
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.takes import take as take_module
from mosskeeper.core.takes.make import EXEMPLARS, ILLUSTRATOR, Make
from mosskeeper.core.takes.take import make_take

FULL = Recipe(
    given="Marrit Fenn, young woman, copper hair in a long braid, in a navy festival coat",
    words="at the canal market at dusk, holding up a lantern, half figure, calm",
    width=512,
    height=640,
    steps=20,
)


def measure() -> list[Row]:
    cv2.setNumThreads(1)
    preview = FULL.model_copy(update={"width": 256, "height": 320})
    whole, sampling, first = takes(FULL)
    small_whole, _, _ = takes(preview)
    exemplars = np.zeros((EXEMPLARS, SMALL_AREA, 3), np.float32)
    target = np.zeros((FULL.height, FULL.width, 3), np.float32)
    copying = median_seconds(lambda: (exemplars.copy(), target.copy()), 25)
    return [
        row("take 512×640, 20 steps, one thread", whole, "s", "<= 2"),
        row("of which sampling", sampling, "s", "<= 0.6"),
        row("time to first preview", first, "s"),
        row("take 256×320", small_whole, "s", "<= 0.5"),
        row("sampling over copying its exemplars once", sampling / copying, "×"),
    ]


def takes(recipe: Recipe, runs: int = 7, make: Make = ILLUSTRATOR) -> tuple[float, float, float]:
    """Medians over fresh seeds: whole take, all but the drawing of exemplars, time to the first preview."""
    seeds = count(1000)
    make_take(recipe, next(seeds))
    wholes, samplings, firsts = [], [], []
    own_draws = take_module.draw_scene, exemplars_module.draw_scene
    for _ in range(runs):
        drawing = 0.0
        firsts_here: list[float] = []

        def timed(draw: Callable[..., Drawing]) -> Callable[..., Drawing]:
            def drawn(*arguments: object) -> Drawing:
                nonlocal drawing
                begun = time.perf_counter()
                result = draw(*arguments)
                drawing += time.perf_counter() - begun
                return result

            return drawn

        take_module.draw_scene, exemplars_module.draw_scene = map(timed, own_draws)
        started = time.perf_counter()
        try:
            make_take(recipe, next(seeds), report=lambda _, s=started, f=firsts_here: f.append(time.perf_counter() - s), make=make)
        finally:
            take_module.draw_scene, exemplars_module.draw_scene = own_draws
        whole = time.perf_counter() - started
        wholes.append(whole)
        samplings.append(whole - drawing)
        firsts.append(firsts_here[0])
    return statistics.median(wholes), statistics.median(samplings), statistics.median(firsts)
