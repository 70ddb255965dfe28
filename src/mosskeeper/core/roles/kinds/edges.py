"""Edges: the contours of a picture."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.pictures.resample import smooth
from mosskeeper.core.reading.contours import edges
from mosskeeper.core.reading.structure import compared as fitting
from mosskeeper.core.reading.structure import edge_f_score, lined
from mosskeeper.core.roles.role import F32, CueComparison, Structure


class Edges(Structure):
    name, order = "edges", 8
    says = "Follows the contours of the picture."
    weight, end = 0.6, 60.0
    too_heavy = "follows every contour: words can no longer move anything"
    meaning = "contours found in both: harmonic mean of precision and recall"

    def asked(self, picture: NDArray[np.uint8], depth: F32 | None, size: tuple[int, int]) -> NDArray[Any]:
        return edges(smooth(picture[:, :, :3], size))

    def agreement(self, drawing: Drawing, asked: NDArray[Any], mask: F32) -> float:
        return edge_f_score(edges(drawing.image), asked, mask > 0.5)

    def added(self, estimate: F32, picture: NDArray[np.uint8], mask: F32) -> F32:
        return lined(estimate, edges(picture), mask)

    def obeyed(self, compared: CueComparison) -> float | None:
        own = fitting(compared.picture)
        return edge_f_score(edges(own), edges(fitting(compared.source, own.shape)))


ROLE = Edges()
