"""How well readings tell persons apart."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray
from training.heads import FAMILY

from bench.report import Row, row
from mosskeeper.core.continuity.drift import between, pooled
from mosskeeper.core.reading.reading import FigureRead

_FALSE = 0.01
_POOLED = 3  # readings of a person that stand for them


def area_under_curve(same: NDArray[np.float64], others: NDArray[np.float64]) -> float:
    """The probability that two readings of one person are nearer than two of different persons (Mann, Whitney, 1947)."""
    ordered = np.sort(others)
    above = len(ordered) - np.searchsorted(ordered, same, side="right")
    ties = np.searchsorted(ordered, same, side="right") - np.searchsorted(ordered, same, side="left")
    return float((above + 0.5 * ties).mean() / len(ordered))


def rows(found: list[tuple[int, FigureRead]], label: str) -> list[Row]:
    """Rows over all pairs of readings, and of readings with three of a person; persons come in families, see `training.heads`."""
    read = [(one, figure) for one, figure in found if figure.identity is not None]
    single = _Apart(((one, a), (other, b)) for i, (one, a) in enumerate(read) for other, b in read[i + 1 :])
    of_each: dict[int, list[FigureRead]] = {}
    for one, figure in read:
        of_each.setdefault(one, []).append(figure)
    threes = {one: (pooled(figures[:_POOLED]), figures[:_POOLED]) for one, figures in of_each.items() if len(figures) > _POOLED}
    against = _Apart(
        ((one, anchors), (other, figure))
        for one, (anchors, own) in threes.items()
        for other, figure in read
        if not any(figure is used for used in own)
    )
    if not (single.whole and against.whole):
        return []
    near, far = single.same, single.others
    return (
        single.rows(f"{label}", (0.985, 0.92, 0.85, 0.8))
        + against.rows(f"three readings pooled, {label}", (0.995, 0.97, 0.92, 0.93))
        + [
            row(f"refused of one person at drift 1.0, {label}", float((near > 1).mean()), "share"),
            row(f"taken of other persons at drift 1.0, {label}", float((far <= 1).mean()), "share"),
        ]
    )


class _Apart:
    """Distances of pairs: of one person, siblings, twins (the first and third of a family), others."""

    def __init__(self, pairs: Iterable[tuple[tuple[int, FigureRead], tuple[int, FigureRead]]]) -> None:
        found: dict[str, list[float]] = {"same": [], "siblings": [], "twins": [], "others": []}
        for (one, a), (other, b) in pairs:
            kin = one // FAMILY == other // FAMILY
            alike = kin and {one % FAMILY, other % FAMILY} == {0, 2}
            kind = "same" if one == other else "twins" if alike else "siblings" if kin else "others"
            found[kind].append(between(a, b).distance)
        self.same, self.siblings, self.twins, self.others = (np.array(values) for values in found.values())
        self.whole = all(found.values())

    def rows(self, label: str, aims: tuple[float, float, float, float]) -> list[Row]:
        cut = float(np.quantile(self.others, _FALSE))
        return [
            row(f"identity, area under the curve, {label}", area_under_curve(self.same, self.others), "", f">= {aims[0]}"),
            row(f"against siblings only, {label}", area_under_curve(self.same, self.siblings), "", f">= {aims[1]}"),
            row(f"against twins only, {label}", area_under_curve(self.same, self.twins), "", f">= {aims[2]}"),
            row(f"true accepts at 1 % false ones, {label}", float((self.same <= cut).mean()), "share", f">= {aims[3]}"),
        ]
