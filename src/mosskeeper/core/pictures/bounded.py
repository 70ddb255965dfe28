"""Pictures bounded in size once, when they come in: no page, reader or engine looks at more."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.resample import fitted, scaled

MOST_PIXELS = 2048 * 2048  # as large as the largest take


def bounded(layers_u8: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """A picture (H, W, 3 or 4) of at most MOST_PIXELS, of the same shape; one that is not larger is given as it is."""
    h, w = layers_u8.shape[:2]
    if h * w <= MOST_PIXELS:
        return layers_u8
    return fitted(layers_u8, scaled(layers_u8.shape, float(np.sqrt(MOST_PIXELS / (h * w)))))
