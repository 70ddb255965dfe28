"""Tone: light and dark of a picture, without its detail."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.continuity.measures import ssim
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.pictures.resample import smooth
from mosskeeper.core.pictures.signal import signal
from mosskeeper.core.reading.structure import LUMA, coarse_tone, correlation, without_detail
from mosskeeper.core.reading.structure import compared as fitting
from mosskeeper.core.roles.role import F32, CueComparison, Structure


class Tone(Structure):
    name, order = "tone", 9
    says = "Follows light and dark of the picture."
    end = 50.0
    too_heavy = "fixes light and dark everywhere: words can no longer change the light"
    meaning = "structural similarity of light and dark"

    def asked(self, picture: NDArray[np.uint8], depth: F32 | None, size: tuple[int, int]) -> NDArray[Any]:
        return coarse_tone(smooth(picture[:, :, :3], size))

    def agreement(self, drawing: Drawing, asked: NDArray[Any], mask: F32) -> float:
        return max(0.0, correlation(coarse_tone(drawing.image), asked, mask))

    def added(self, estimate: F32, picture: NDArray[np.uint8], mask: F32) -> F32:
        missing = without_detail((signal(picture) - estimate) @ LUMA)
        return np.asarray(np.clip(estimate + missing[..., None] * mask, -1, 1), np.float32)

    def obeyed(self, compared: CueComparison) -> float | None:
        own = fitting(compared.picture)
        return max(0.0, ssim(coarse_tone(own), coarse_tone(fitting(compared.source, own.shape))))


ROLE = Tone()
