"""Depth: what is near and what is far."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.continuity.measures import rank_correlation
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.pictures.resample import fitted
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.reading.structure import correlation
from mosskeeper.core.roles.role import F32, CueComparison, Structure


class Depth(Structure):
    name, order = "depth", 10
    says = "Follows what is near and far in the picture."
    weight, end = 0.6, 50.0
    meaning = "rank correlation of near and far"

    def lacks(self, reading: Reading, skeleton: bool) -> str:
        return "" if reading.depth is not None else "No depth is known of this picture: bring a depth map in, or paint one."

    def asked(self, picture: NDArray[np.uint8], depth: F32 | None, size: tuple[int, int]) -> NDArray[Any]:
        if depth is None:
            raise ValueError("a depth cue needs its depth")
        return fitted(depth, size)

    def agreement(self, drawing: Drawing, asked: NDArray[Any], mask: F32) -> float:
        return max(0.0, correlation(drawing.depth, asked, mask))

    def obeyed(self, compared: CueComparison) -> float | None:
        wanted = compared.depth if compared.depth is not None else compared.source_reading.depth
        got = compared.reading.depth
        if wanted is None or got is None:
            return None
        return max(0.0, rank_correlation(fitted(wanted, (got.shape[1], got.shape[0])), got))


ROLE = Depth()
