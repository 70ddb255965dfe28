"""Coloured noise: what the denoising starts from.

White noise averages out over a segment, so that every seed would fall to the exemplar nearest the mean.
Half of the variance is therefore spread over octaves of the picture, half is constant over each segment.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.resample import nearest

F32 = NDArray[np.float32]
_CELLS = (1, 4, 16, 64)  # px


def octaves(rng: np.random.Generator, height: int, width: int) -> F32:
    """(H, W, 3) noise of variance 1, equal parts over four sizes of cell."""
    total = np.zeros((height, width, 3), np.float32)
    for cell in _CELLS:
        shape = (max(2, height // cell), max(2, width // cell), 3)
        coarse = rng.standard_normal(shape, dtype=np.float32)
        total += nearest(coarse, (width, height))
    return total / np.float32(np.sqrt(len(_CELLS)))


def coloured(rng: np.random.Generator, labels: NDArray[np.integer], segments: int) -> F32:
    """(H, W, 3) noise of variance 1 for a picture whose segments are given by `labels` (H, W)."""
    height, width = labels.shape
    constant = rng.standard_normal((segments, 3), dtype=np.float32)
    mixed = octaves(rng, height, width) + constant[labels]
    return np.asarray(mixed * np.float32(np.sqrt(0.5)), np.float32)
