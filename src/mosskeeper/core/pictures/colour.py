"""Conversions between colour spaces. Inside core, `rgb` is float32 sRGB in 0…1 and `lab` CIE L*a*b* (D65)."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import ArrayLike, NDArray

F32 = NDArray[np.float32]


def rgb_to_lab(rgb: ArrayLike) -> F32:
    """(…, 3) sRGB in 0…1 → (…, 3) Lab: L 0…100, a and b about ±100. Source: CIE 15, by OpenCV."""
    a = np.ascontiguousarray(rgb, np.float32)
    return np.asarray(cv2.cvtColor(a.reshape(1, -1, 3), cv2.COLOR_RGB2Lab).reshape(a.shape), np.float32)


def lab_to_rgb(lab: ArrayLike) -> F32:
    """(…, 3) Lab → (…, 3) sRGB, clipped to 0…1."""
    a = np.ascontiguousarray(lab, np.float32)
    rgb = cv2.cvtColor(a.reshape(1, -1, 3), cv2.COLOR_Lab2RGB).reshape(a.shape)
    return np.clip(rgb, 0, 1).astype(np.float32)
