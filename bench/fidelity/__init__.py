"""`./moss bench fidelity`: whether every control of the diffusion core does what it says, measured in pixels and part maps."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import cv2

from bench.report import Row

SEEDS, QUICK = 20, 5
_PAGE = Path(__file__).parents[2] / "docs" / "fidelity.md"
_HEAD = """# Fidelity of the diffusion core

Written by `./moss bench fidelity`{how}. Every figure is measured on pictures that the run made, in their pixels and part maps.
References are known as in the studio: by their stored scenes, and in rows of their own from their pixels, by reader and inversion.

| measured | aim | reached | |
| --- | --- | --- | --- |
"""


def measure(quick: bool = False) -> list[Row]:
    """All rows; the page in docs is written anew."""
    cv2.setNumThreads(1)
    seeds = QUICK if quick else SEEDS
    rows = []
    with ProcessPoolExecutor(initializer=cv2.setNumThreads, initargs=(1,)) as pool:  # these measure no time
        for made in [pool.submit(_timed, part, seeds) for part in _parts()]:
            rows += made.result()
    for part in _timing_parts():
        rows += _timed(part, seeds)
    _PAGE.write_text(page(rows, seeds))
    return rows


def page(rows: list[Row], seeds: int) -> str:
    verdict = {True: "holds", False: "**missed**", None: ""}
    lines = [f"| {r.row} | {r.aim.replace('<=', '≤').replace('>=', '≥')} | {r.value:.3g} {r.unit} | {verdict[r.holds]} |" for r in rows]
    return _HEAD.format(how=f", over {seeds} seeds") + "\n".join(lines) + "\n"


def _timed(part: Callable[[int], list[Row]], seeds: int) -> list[Row]:
    started = time.perf_counter()
    rows = part(seeds)
    print(f"  {part.__name__.replace('_', ' ')}: {time.perf_counter() - started:.0f} s", flush=True)
    return rows


def _parts() -> Iterator[Callable[[int], list[Row]]]:
    from bench.fidelity import boards, controls, mends, poses, references, repairs, words

    yield from (words.guidance, words.negative, references.first_pair, references.second_pair, references.third_pair)
    yield from (references.crossed, references.bytes_and_order, references.balance, words.variety, references.spans, controls.pose)
    yield from (controls.edge_cues, controls.tone_cues, controls.depth_cues, controls.regions, repairs.strength, repairs.masks)
    yield from (boards.boards_at_work, poses.book_poses, poses.other_bodies)
    yield from (mends.scenes, mends.own, mends.foreign, mends.strengths, mends.larger)


def _timing_parts() -> Iterator[Callable[[int], list[Row]]]:
    from bench.fidelity import costs, mends, repairs

    # first: the peak of a process that is started begins with that of the one which starts it
    yield from (costs.costs, repairs.fills, repairs.enlarging, mends.times)
