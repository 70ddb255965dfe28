"""Contours of pictures, and clean lines of scanned drawings."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.resample import fitted, nearest

Mask = NDArray[np.bool_]
_PAPER_WINDOW = 1 / 12  # of the longer side: over which paper is taken to be evenly lit
_SPECK = 1e-5  # of the picture's area: smaller marks are dust


def edges(rgb_u8: NDArray[np.uint8]) -> NDArray[np.bool_]:
    """(H, W) contours by Canny's method, with thresholds from the picture's own gradients.

    References: Canny, "A computational approach to edge detection", 1986.
    """
    smooth = cv2.GaussianBlur(rgb_u8, (0, 0), max(0.8, max(rgb_u8.shape) / 500))
    tone = cv2.cvtColor(smooth, cv2.COLOR_RGB2GRAY)
    gradient = cv2.magnitude(cv2.Sobel(tone, cv2.CV_32F, 1, 0), cv2.Sobel(tone, cv2.CV_32F, 0, 1))
    high = float(np.clip(np.percentile(gradient, 93), 40, 400))
    return np.asarray(cv2.Canny(tone, high * 0.5, high) > 0)


def contours(rgb_u8: NDArray[np.uint8], scales: tuple[int, ...] = (1, 2, 4)) -> NDArray[np.float32]:
    """(H, W) 0…1: the share of scales at which a pixel lies on a contour; 1 is a contour however coarse one looks."""
    h, w = rgb_u8.shape[:2]
    total = np.zeros((h, w), np.float32)
    used = [s for s in scales if min(h, w) // s >= 16] or [1]
    for scale in used:
        level = fitted(rgb_u8, (w // scale, h // scale))
        total += nearest(edges(level).astype(np.uint8), (w, h))
    return np.asarray(total / np.float32(len(used)), np.float32)


def line_art(rgb_u8: NDArray[np.uint8]) -> Mask:
    """(H, W): the lines of a drawing on paper, free of shadows of the scan and of dust.

    The paper is taken for the brightest of each neighbourhood and divided out; what is left is parted in two where that
    separates best.

    References: Otsu, "A threshold selection method from gray-level histograms", 1979.
    """
    h, w = rgb_u8.shape[:2]
    grey = cv2.cvtColor(rgb_u8, cv2.COLOR_RGB2GRAY)
    side = max(3, round(max(h, w) * _PAPER_WINDOW)) | 1
    paper = cv2.GaussianBlur(cv2.dilate(grey, np.ones((side, side), np.uint8)), (0, 0), side / 2)
    flat = np.clip(grey.astype(np.float32) / np.maximum(paper, 1) * 255, 0, 255).astype(np.uint8)
    if int(flat.max()) - int(np.percentile(flat, 0.5)) < 24:
        return np.zeros((h, w), bool)  # nothing was drawn
    threshold, dark = cv2.threshold(flat, 0, 255, cv2.THRESH_BINARY_INV + cv2.THRESH_OTSU)
    if threshold > 235:
        return np.zeros((h, w), bool)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(dark, connectivity=8)
    keep = np.zeros(count, bool)
    keep[1:] = stats[1:, cv2.CC_STAT_AREA] > max(2.0, _SPECK * h * w)
    return np.asarray(keep[labels])
