"""Pictures as what a denoiser works on: float32 in −1…1."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

F32 = NDArray[np.float32]


def signal(rgb_u8: NDArray[np.uint8]) -> F32:
    """A picture in −1…1."""
    return np.asarray(rgb_u8.astype(np.float32) / np.float32(127.5) - 1, np.float32)


def picture(x: F32) -> NDArray[np.uint8]:
    """A signal as a picture."""
    return np.asarray(np.clip((x + 1) * 127.5 + 0.5, 0, 255), np.uint8)
