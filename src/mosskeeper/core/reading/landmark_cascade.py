"""Landmarks refined by a cascade of ridge regressions on the gradients about them (Xiong, De la Torre, "Supervised descent method", 2013).

The network tells places to a fraction of a cell; what is left is in the pixels' edges. Each stage looks at a small grid of rectified
gradients about every landmark, in an upright cut of the head at one scale, and moves all landmarks at once.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

F32 = NDArray[np.float32]
UNIT = 96.0  # px of a head height in the upright cut
_SIDE = 184  # px of the cut
_GRID, _STEP = 5, 5.0  # cells of a landmark's grid, px between them
_QUIET = 20.0  # length below which gradients are noise


def upright(marks: NDArray[np.float64], height: float, tilt: float) -> NDArray[np.float64]:
    """(2, 3): the matrix from the picture to the upright cut about the landmarks. height : of the head, px; tilt : radians, clockwise."""
    k = UNIT / height
    cos, sin = float(np.cos(tilt)) * k, float(np.sin(tilt)) * k
    linear = np.array([[cos, sin], [-sin, cos]])
    return np.concatenate([linear, (_SIDE / 2 - linear @ marks.mean(0))[:, None]], 1)


def gradients_about(rgb_u8: NDArray[np.uint8], marks: NDArray[np.float64], height: float, tilt: float) -> F32:
    """(K · GRID² · 4,) rectified gradients of the lightness about each of K landmarks, each landmark's of length 1 at most.

    rgb_u8 : (H, W, 3). marks : (K, 2) px. height : of the head, px. tilt : radians by which it is turned clockwise.
    """
    matrix = upright(marks, height, tilt)
    k = float(np.hypot(matrix[0, 0], matrix[1, 0]))
    x0, y0 = np.floor(marks.mean(0) - 1.25 * height).astype(int).clip(0)
    near = rgb_u8[y0 : y0 + int(2.5 * height) + 2, x0 : x0 + int(2.5 * height) + 2]
    if near.size == 0:
        return np.zeros(len(marks) * _GRID * _GRID * 4, np.float32)
    if k < 0.75:
        near = np.asarray(cv2.GaussianBlur(near, (0, 0), 0.4 / k), np.uint8)
    moved = np.concatenate([matrix[:, :2], (matrix[:, 2] + matrix[:, :2] @ (x0, y0))[:, None]], 1)
    cut = cv2.warpAffine(near, moved, (_SIDE, _SIDE), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    light = cv2.cvtColor(cut, cv2.COLOR_RGB2LAB)[..., 0].astype(np.float32)
    dx, dy = cv2.Sobel(light, cv2.CV_32F, 1, 0), cv2.Sobel(light, cv2.CV_32F, 0, 1)
    four = cv2.blur(np.stack([np.maximum(dx, 0), np.maximum(-dx, 0), np.maximum(dy, 0), np.maximum(-dy, 0)], 2), (int(_STEP), int(_STEP)))
    at = marks @ matrix[:, :2].T + matrix[:, 2]
    offsets = (np.arange(_GRID) - _GRID // 2) * _STEP
    gx = np.repeat(at[:, 0, None, None] + offsets[None, None], _GRID, 1).reshape(len(marks), -1).astype(np.float32)
    gy = np.repeat(at[:, 1, None, None] + offsets[None, :, None], _GRID, 2).reshape(len(marks), -1).astype(np.float32)
    seen = cv2.remap(four, gx, gy, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE).reshape(len(marks), -1)
    return np.asarray((seen / (np.linalg.norm(seen, axis=1, keepdims=True) + _QUIET)).ravel(), np.float32)


def turned(v: NDArray[np.float64], tilt: float) -> NDArray[np.float64]:
    """(…, 2) vectors turned by `tilt` radians counter-clockwise: from the picture to the upright cut."""
    cos, sin = float(np.cos(tilt)), float(np.sin(tilt))
    return np.stack([v[..., 0] * cos + v[..., 1] * sin, -v[..., 0] * sin + v[..., 1] * cos], -1)


def shape_of(marks: NDArray[np.float64], height: float, tilt: float) -> NDArray[np.float64]:
    """(K, 2) landmarks about their middle, upright, in head heights."""
    return turned(marks - marks.mean(0), tilt) / height


def row_of(rgb_u8: NDArray[np.uint8], marks: NDArray[np.float64], height: float, tilt: float, beside: F32) -> F32:
    """What one stage sees: gradients, the landmarks' shape, what else is known of the head (`beside`), and 1."""
    shape = shape_of(marks, height, tilt).ravel() * 2
    return np.concatenate([gradients_about(rgb_u8, marks, height, tilt), shape, beside, [1.0]]).astype(np.float32)


def refined(
    rgb_u8: NDArray[np.uint8], marks: NDArray[np.float64], height: float, tilt: float, beside: F32, stages: F32
) -> NDArray[np.float64]:
    """Landmarks after all stages.

    stages : (stages, features, 2K) of the trained cascade. Others as in `row_of`. Returns (K, 2) px.
    """
    for stage in stages:
        step = (row_of(rgb_u8, marks, height, tilt, beside) @ stage).reshape(-1, 2).astype(np.float64)
        marks = marks + turned(step, -tilt) * height
    return marks
