"""How well readings tell persons apart."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from bench.report import Row, row
from mosskeeper.core.continuity.drift import between
from mosskeeper.core.reading.reading import FigureRead

_FALSE = 0.01


def area_under_curve(same: NDArray[np.float64], others: NDArray[np.float64]) -> float:
    """The probability that two readings of one person are nearer than two of different persons (Mann, Whitney, 1947)."""
    ordered = np.sort(others)
    above = len(ordered) - np.searchsorted(ordered, same, side="right")
    ties = np.searchsorted(ordered, same, side="right") - np.searchsorted(ordered, same, side="left")
    return float((above + 0.5 * ties).mean() / len(ordered))


def rows(found: list[tuple[int, FigureRead]], label: str) -> list[Row]:
    """Rows over all pairs of readings; persons 2n and 2n + 1 are siblings."""
    same, siblings, others = [], [], []
    for i, (one, a) in enumerate(found):
        for other, b in found[i + 1 :]:
            if a.identity is None or b.identity is None:
                continue
            kind = same if one == other else siblings if one // 2 == other // 2 else others
            kind.append(between(a, b).distance)
    near, kin, far = (np.array(values) for values in (same, siblings, others))
    if min(map(len, (near, kin, far))) == 0:
        return []
    cut = float(np.quantile(far, _FALSE))
    return [
        row(f"identity, area under the curve, {label}", area_under_curve(near, far), "", ">= 0.99"),
        row(f"against siblings only, {label}", area_under_curve(near, kin), "", ">= 0.9"),
        row(f"true accepts at 1 % false ones, {label}", float((near <= cut).mean()), "share"),
        row(f"refused of one person at drift 1.0, {label}", float((near > 1).mean()), "share"),
        row(f"taken of other persons at drift 1.0, {label}", float((far <= 1).mean()), "share"),
    ]
