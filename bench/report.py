"""What all benches share: measuring medians, judging aims, printing a table, writing JSON."""

from __future__ import annotations

import json
import operator
import statistics
import time
from collections.abc import Callable
from dataclasses import asdict, dataclass
from pathlib import Path

_COMPARE = {"<=": operator.le, ">=": operator.ge, "<": operator.lt, ">": operator.gt}


@dataclass(frozen=True, slots=True)
class Row:
    row: str
    value: float
    unit: str
    aim: str = ""
    holds: bool | None = None


def row(name: str, value: float, unit: str, aim: str = "") -> Row:
    """A row; where an aim such as "<= 0.6" is given, whether it holds."""
    holds = None
    if aim:
        relation, bound = aim.split()
        holds = bool(_COMPARE[relation](value, float(bound)))
    return Row(name, round(value, 4), unit, aim, holds)


def median_seconds(work: Callable[[], object], runs: int = 5) -> float:
    """Median wall time of `runs` calls, after one that is not counted."""
    work()
    taken = []
    for _ in range(runs):
        started = time.perf_counter()
        work()
        taken.append(time.perf_counter() - started)
    return statistics.median(taken)


def publish(bench: str, rows: list[Row], json_file: Path | None) -> None:
    """Prints the rows as a table and writes them as JSON where a file is given."""
    width = max(len(r.row) for r in rows)
    print(f"{bench}")
    for r in rows:
        verdict = {True: "holds", False: "MISSED", None: ""}[r.holds]
        print(f"  {r.row:<{width}}  {r.value:>10.3f} {r.unit:<6} {r.aim:<9} {verdict}".rstrip())
    if json_file:
        json_file.write_text(json.dumps({"bench": bench, "rows": [asdict(r) for r in rows]}, indent=2) + "\n")
