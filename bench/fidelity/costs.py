"""Seconds and memory of a take with each kind of control, each alone in a process of its own."""

from __future__ import annotations

import json
import subprocess
import sys
import time
from statistics import median

import numpy as np

from bench import engine
from bench.report import Row, row
from mosskeeper.core.mending.fill.extension import extended
from mosskeeper.core.recipe import Cue, Recipe, Region, Source
from mosskeeper.core.takes.enlarge import enlarged
from mosskeeper.core.takes.make import Make
from mosskeeper.core.takes.take import make_take

_WORDS = "a woman in a navy festival coat at the canal market at dusk, half figure"
_A, _M = "a" * 64, "b" * 64
_PLAIN = Recipe(words=_WORDS, width=512, height=640)
_KINDS: dict[str, dict[str, object]] = {
    "words alone": {},
    "three look references": {"cues": [Cue(picture=_A, weight=w) for w in (0.3, 0.5, 0.7)]},
    "a pose": {"cues": [Cue(role="pose", weight=1, skeleton=[(0.3 + 0.02 * n, 0.2 + 0.04 * n) for n in range(18)])]},
    "edges": {"cues": [Cue(role="edges", picture=_A, weight=0.7)]},
    "a sketch": {"cues": [Cue(role="sketch", picture=_A, weight=0.7)]},
    "two regions": {"regions": [Region(mask=_M, words="red coat"), Region(mask=_M, words="at night", strength=0.5)]},
    "a source": {"source": Source(picture=_A, strength=0.5)},
    "a mask and words": {"source": Source(picture=_A, mask=_M), "words": "a hat"},
    "a mask without words": {"source": Source(picture=_A, mask=_M), "words": ""},
}


def costs(_: int) -> list[Row]:
    rows = []
    for kind in (*_KINDS, "extension by 25 %", "enlarging ×2"):
        told = subprocess.run([sys.executable, "-m", __name__, kind], capture_output=True, text=True, check=True).stdout
        seconds, peak = json.loads(told)
        rows.append(row(f"512×640 with {kind}: time", seconds, "s"))
        rows.append(row(f"512×640 with {kind}: peak memory, with the interpreter", peak, "MiB", "<= 500"))
    by_side = {side: _seconds(side) for side in (512, 1024, 2048)}
    _, sampling, _ = engine.takes(engine.FULL, 5, Make(exemplars=16))
    return [
        *rows,
        row("sampling 512×640, 20 steps, 16 exemplars, one thread", sampling, "s", "<= 0.6"),
        row("take 512×512", by_side[512], "s"),
        row("take 1024×1024", by_side[1024], "s"),
        row("take 2048×2048", by_side[2048], "s"),
        row("time of 16 times the pixels", by_side[2048] / by_side[512], "×", "<= 16"),
    ]


def _seconds(side: int) -> float:
    taken = []
    for seed in range(3):
        started = time.perf_counter()
        make_take(Recipe(words=_WORDS, width=side, height=side), seed)
        taken.append(time.perf_counter() - started)
    return median(taken)


def _alone(kind: str) -> None:
    """Makes one kind three times and prints the median of seconds and the peak of memory, for the process that asked."""
    import resource

    import cv2

    cv2.setNumThreads(1)
    rng = np.random.default_rng(0)
    start = cv2.GaussianBlur(rng.integers(0, 255, (640, 512, 3), np.uint8), (0, 0), 9)
    mask = np.zeros_like(start)
    mask[200:400, 150:350] = 255
    taken = []
    for seed in range(4):
        started = time.perf_counter()
        if kind == "extension by 25 %":
            extended(start, (0, 0, 128, 0), seed=seed)
        elif kind == "enlarging ×2":
            enlarged(start, 2)
        else:
            make_take(_PLAIN.model_copy(update=_KINDS[kind]), seed, {_A: start, _M: mask})
        taken.append(time.perf_counter() - started)
    print(json.dumps([median(taken[1:]), resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024]))


if __name__ == "__main__":
    _alone(sys.argv[1])
