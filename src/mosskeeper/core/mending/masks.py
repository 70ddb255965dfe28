"""Masks (H, W): grown, how deep a place lies in them, how softly they begin."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

F32 = NDArray[np.float32]
Mask = NDArray[np.bool_]


def dilated(mask: NDArray[Any], px: int) -> Mask:
    """A mask grown by px // 2 on every side."""
    shape = cv2.MORPH_ELLIPSE if px > 6 else cv2.MORPH_RECT
    return np.asarray(cv2.dilate(np.asarray(mask).astype(np.uint8), cv2.getStructuringElement(shape, (px, px))) > 0)


def eroded(mask: NDArray[Any], px: int) -> Mask:
    """A mask shrunk by px // 2 on every side, but not at the picture's border."""
    return np.asarray(cv2.erode(np.asarray(mask).astype(np.uint8), np.ones((px, px), np.uint8)) > 0)


def depth_in(mask: Mask) -> F32:
    """px to the mask's border, 0 outside; the picture's own border is none."""
    return np.asarray(cv2.distanceTransform(np.pad(mask, 1, mode="edge").astype(np.uint8), cv2.DIST_L2, 5)[1:-1, 1:-1], np.float32)


def eased(x: NDArray[Any]) -> F32:
    """0…1, level at both ends."""
    x = np.clip(x, 0, 1)
    return np.asarray(x * x * (3 - 2 * x), np.float32)
