"""What making a take tells on its way, and gives in the end."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Description
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.explained import LayeredScenes


@dataclass(frozen=True, slots=True)
class Progress:
    """Where a take stands. The preview is the denoised estimate, small, (H, W, 3) uint8; None between previews."""

    step: int
    steps: int
    preview: NDArray[np.uint8] | None = None


@dataclass(frozen=True, slots=True)
class TakeResult:
    image: NDArray[np.uint8]  # (H, W, 3) sRGB
    drawing: Drawing | None  # with its maps, without what references and controls add; none where a mask was filled or composed into
    description: Description | None
    explained: LayeredScenes | None = None  # the scenes it was drawn from; none where it is more than a drawing
    says: tuple[str, ...] = ()  # what was done in a mask, for the artist


Report = Callable[[Progress], None]


def report_rest(report: Report, done: int, steps: int) -> None:
    """Tells that all steps after `done` are done, too."""
    for i in range(done, steps):
        report(Progress(i + 1, steps))
