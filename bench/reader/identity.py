"""How well readings tell persons apart."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from training.heads import FAMILY

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
    """Rows over all pairs of readings; persons come in families, whose first and third are twins, see `training.heads`."""
    same, siblings, twins, others = [], [], [], []
    for i, (one, a) in enumerate(found):
        for other, b in found[i + 1 :]:
            if a.identity is None or b.identity is None:
                continue
            kin = one // FAMILY == other // FAMILY
            alike = kin and {one % FAMILY, other % FAMILY} == {0, 2}
            kind = same if one == other else twins if alike else siblings if kin else others
            kind.append(between(a, b).distance)
    near, of_family, of_twins, far = (np.array(values) for values in (same, siblings, twins, others))
    if min(map(len, (near, of_family, of_twins, far))) == 0:
        return []
    cut = float(np.quantile(far, _FALSE))
    return [
        row(f"identity, area under the curve, {label}", area_under_curve(near, far), "", ">= 0.985"),
        row(f"against siblings only, {label}", area_under_curve(near, of_family), "", ">= 0.92"),
        row(f"against twins only, {label}", area_under_curve(near, of_twins), "", ">= 0.85"),
        row(f"true accepts at 1 % false ones, {label}", float((near <= cut).mean()), "share", ">= 0.8"),
        row(f"refused of one person at drift 1.0, {label}", float((near > 1).mean()), "share"),
        row(f"taken of other persons at drift 1.0, {label}", float((far <= 1).mean()), "share"),
    ]
