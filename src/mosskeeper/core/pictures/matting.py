"""Cutting somebody out: a soft edge along the picture's own colours, and nothing of the ground in the rim.

1. A band about the mask's border is unknown; inside it the mask is drawn to the picture's edges by a guided filter (He, Sun, Tang,
   "Guided image filtering", 2010).
2. Colours of the rim are taken from the inside by normalised convolution (Knutsson, Westin, 1993), so that none is mixed with the
   ground that was behind.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

F32 = NDArray[np.float32]
_BAND = 0.004  # of the picture's diagonal: half of the width of what is unknown about the border
_EDGE = 4e-4  # variance of the guide under which the filter smooths
_FARTHER = (1.0, 2.5, 6.0)  # bands from which colours are taken, the nearest first
_THIN = 0.02  # of a colour's weight, below which the next farther is taken


def cut_out(picture: NDArray[np.uint8], mask: NDArray[np.bool_]) -> NDArray[np.uint8]:
    """(H, W, 4) uint8: a picture (H, W, 3) with what the mask (H, W) leaves out open.

    Raises ValueError where picture and mask have different sizes, or the mask is empty.
    """
    if picture.shape[:2] != mask.shape:
        raise ValueError(f"a mask of {mask.shape} does not fit a picture of {picture.shape[:2]}")
    if not mask.any():
        raise ValueError("there is nothing to cut out")
    r = max(2, round(_BAND * float(np.hypot(*mask.shape))))
    alpha = _alpha(picture, mask, r)
    colours = _without_ground(picture.astype(np.float32), _sure(mask, r), r)
    inner = alpha[..., None] >= 1
    rgb = np.where(inner, picture, np.clip(colours + 0.5, 0, 255).astype(np.uint8))
    return np.ascontiguousarray(np.dstack([rgb, np.clip(alpha * 255 + 0.5, 0, 255).astype(np.uint8)]))


def _disc(r: int) -> NDArray[np.uint8]:
    return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * r + 1, 2 * r + 1)), np.uint8)


def _sure(mask: NDArray[np.bool_], r: int) -> F32:
    """What lies so far inside that nothing of the ground is in it; of thin parts their middle."""
    inside = cv2.erode(mask.astype(np.uint8), _disc(r), borderValue=1)
    depth = cv2.distanceTransform(np.pad(mask.astype(np.uint8), 1, mode="edge"), cv2.DIST_L2, 3)[1:-1, 1:-1]
    ridge = (depth >= cv2.dilate(depth, _disc(1)) - 0.01) & (depth > 1)
    return np.asarray((inside > 0) | ridge, np.float32)


def _alpha(picture: NDArray[np.uint8], mask: NDArray[np.bool_], r: int) -> F32:
    hard = mask.astype(np.float32)
    inside = cv2.erode(mask.astype(np.uint8), _disc(r), borderValue=1) > 0
    outside = cv2.dilate(mask.astype(np.uint8), _disc(r)) == 0
    guide = picture.astype(np.float32) / np.float32(255)
    soft = np.mean([_guided(guide[..., k], hard, 2 * r) for k in range(3)], axis=0)
    soft = np.clip((soft - 0.08) / 0.84, 0, 1)
    return np.asarray(np.where(inside, 1, np.where(outside, 0, soft)), np.float32)


def _guided(guide: F32, source: F32, radius: int) -> F32:
    def mean(x: F32) -> F32:
        return np.asarray(cv2.blur(x, (2 * radius + 1, 2 * radius + 1), borderType=cv2.BORDER_REFLECT), np.float32)

    m, s = mean(guide), mean(source)
    a = np.asarray(
        (mean(np.asarray(guide * source, np.float32)) - m * s) / (mean(np.asarray(guide * guide, np.float32)) - m * m + np.float32(_EDGE)),
        np.float32,
    )
    return np.asarray(mean(a) * guide + mean(np.asarray(s - a * m, np.float32)), np.float32)


def _without_ground(picture: F32, sure: F32, r: int) -> F32:
    """Colours carried from where they are sure to everywhere else, from as near as possible."""
    out, done = picture * sure[..., None], sure > 0
    for bands in _FARTHER:
        sigma = bands * r
        weight = cv2.GaussianBlur(sure, (0, 0), sigma)
        carried = cv2.GaussianBlur(picture * sure[..., None], (0, 0), sigma)
        reached = ~done & (weight > _THIN)
        out[reached] = carried[reached] / weight[reached][:, None]
        done |= reached
    out[~done] = picture[~done]
    return np.asarray(out, np.float32)
