"""Seconds and memory of a take, alone in a process of its own."""

from __future__ import annotations

import subprocess
import sys
import time
from statistics import median

from bench import engine
from bench.report import Row, row
from mosskeeper.core.diffusion import take as take_module
from mosskeeper.core.diffusion.take import make_take
from mosskeeper.core.recipe import Recipe

_WORDS = "a woman in a navy festival coat at the canal market at dusk, half figure"
_MEASURED = """
import resource, sys, cv2
cv2.setNumThreads(1)
from mosskeeper.core.diffusion.take import make_take
from mosskeeper.core.recipe import Recipe
make_take(Recipe(words={words!r}, width={w}, height={h}), 1)
print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)
"""


def costs(_: int) -> list[Row]:
    peak = float(
        subprocess.run(
            [sys.executable, "-c", _MEASURED.format(words=_WORDS, w=512, h=640)], capture_output=True, text=True, check=True
        ).stdout
    )
    seconds = {side: _seconds(side) for side in (512, 1024, 2048)}
    usual, take_module.EXEMPLARS = take_module.EXEMPLARS, 16
    try:
        _, sampling, _ = engine.takes(engine.FULL, 5)
    finally:
        take_module.EXEMPLARS = usual
    return [
        row("sampling 512×640, 20 steps, 16 exemplars, one thread", sampling, "s", "<= 0.6"),
        row("peak memory of a take, 512×640, with the interpreter", peak, "MiB", "<= 500"),
        row("take 512×512", seconds[512], "s"),
        row("take 1024×1024", seconds[1024], "s"),
        row("take 2048×2048", seconds[2048], "s"),
        row("time of 16 times the pixels", seconds[2048] / seconds[512], "×", "<= 16"),
    ]


def _seconds(side: int) -> float:
    taken = []
    for seed in range(3):
        started = time.perf_counter()
        make_take(Recipe(words=_WORDS, width=side, height=side), seed)
        taken.append(time.perf_counter() - started)
    return median(taken)
