"""How a head is cut out of a picture for the reader's second pass, in training and in use alike."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

SIDE = 128  # px of the crop
REACH = 1.8  # head heights that it shows
PAPER = (235, 228, 214)  # what lies beyond the picture's border


def crop_matrix(centre: tuple[float, float], reach: float, side: int, tilt: float = 0.0) -> NDArray[np.float64]:
    """(2, 3) affine matrix from picture to crop.

    centre : px of the middle of the head. reach : px of the picture that the crop's `side` px show.
    tilt : radians by which the head is turned clockwise; the crop shows it upright.
    """
    k = side / reach
    cos, sin = np.cos(tilt) * k, np.sin(tilt) * k
    linear = np.array([[cos, sin], [-sin, cos]])
    return np.concatenate([linear, (side / 2 - linear @ np.asarray(centre, float))[:, None]], 1)


def warped(rgb_u8: NDArray[np.uint8], matrix: NDArray[np.float64], side: int) -> NDArray[np.uint8]:
    """(side, side, 3): the crop, smoothed beforehand where it shrinks the picture."""
    k = float(np.hypot(matrix[0, 0], matrix[1, 0]))
    if k < 0.7:
        x0, y0 = np.floor(_corners(matrix, side).min(0)).astype(int) - 4
        x1, y1 = np.ceil(_corners(matrix, side).max(0)).astype(int) + 4
        h, w = rgb_u8.shape[:2]
        x0, y0, x1, y1 = max(x0, 0), max(y0, 0), min(x1, w), min(y1, h)
        if x1 > x0 and y1 > y0:
            rgb_u8 = np.asarray(cv2.GaussianBlur(rgb_u8[y0:y1, x0:x1], (0, 0), 0.42 / k), np.uint8)
            matrix = np.concatenate([matrix[:, :2], (matrix[:, 2] + matrix[:, :2] @ (x0, y0))[:, None]], 1)
    out = cv2.warpAffine(rgb_u8, matrix, (side, side), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT, borderValue=PAPER)
    return np.asarray(out, np.uint8)


def _corners(matrix: NDArray[np.float64], side: int) -> NDArray[np.float64]:
    square = np.array([[0, 0], [side, 0], [0, side], [side, side]], float)
    return np.asarray((square - matrix[:, 2]) @ np.linalg.inv(matrix[:, :2]).T)
