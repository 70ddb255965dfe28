"""`./moss bench subject`: whether the person in a reference is the person drawn.

References are read as the studio reads them: from their stored scene, as a copy that is recognised, or by inversion of pixels.
What came of a take is told from the scene that was drawn.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import cv2

from bench.report import Row

_PAGE = Path(__file__).parents[2] / "docs" / "subject.md"
_HEAD = """# The subject: is the person in the reference the person drawn?

Written by `./moss bench subject`: 24 people over all ages, complexions, hair styles, beards, glasses and marks, made by a seed of
their own; the reference is a bust in plain light, the takes six fresh scenes each, in other light, weather, finish, view, expression
and outfit, with no trait words. References are read as the studio reads them. `./moss sheets subject` draws the people in a row each.

| measured | aim | reached | |
| --- | --- | --- | --- |
"""


def measure() -> list[Row]:
    """All rows; the page in docs is written anew."""
    from bench.subject import elsewhere, measures, own

    parts: list[Callable[[], list[Row]]] = [
        *(own.face, own.copies, own.look, own.leaks, own.weights, own.pairs_in_regions),
        *(elsewhere.explained, elsewhere.corrected, elsewhere.proposals, measures.judged),
    ]
    rows: list[Row] = []
    with ProcessPoolExecutor(2, initializer=cv2.setNumThreads, initargs=(1,)) as pool:
        for made in [pool.submit(_timed, part) for part in parts]:
            rows += made.result()
    _PAGE.write_text(page(rows))
    return rows


def page(rows: list[Row]) -> str:
    verdict = {True: "holds", False: "**missed**", None: ""}
    lines = [f"| {r.row} | {r.aim.replace('<=', '≤').replace('>=', '≥')} | {r.value:.3g} {r.unit} | {verdict[r.holds]} |" for r in rows]
    return _HEAD + "\n".join(lines) + "\n"


def _timed(part: Callable[[], list[Row]]) -> list[Row]:
    started = time.perf_counter()
    rows = part()
    print(f"  {part.__name__.replace('_', ' ')}: {time.perf_counter() - started:.0f} s", flush=True)
    return rows
