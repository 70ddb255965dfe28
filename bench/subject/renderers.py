"""Pictures by other hands: the people redrawn flat, in lines, and softly, in none of the illustrator's finishes.

Each begins with the shapes of a drawing (its picture without texture, and its parts) and has a hand of its own from there: even
colours, contours and shading are made anew.
"""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.drawing import Drawing

U8 = NDArray[np.uint8]
_PAPER = np.array([250, 249, 246], np.float32)
_INK = np.array([38, 34, 40], np.float32)


def _shapes(drawing: Drawing) -> NDArray[np.float32]:
    """(H, W, 3): the picture without texture, its skin, hair and cloth in their colours without light."""
    assert drawing.albedo is not None
    calm = cv2.bilateralFilter(np.ascontiguousarray(drawing.image), 7, 40, 5).astype(np.float32)
    out = calm.copy()
    for part in np.unique(drawing.labels[drawing.figures > 0]):
        there = (drawing.labels == part) & (drawing.figures > 0)
        if part not in (Part.EYES, Part.BROW, Part.MOUTH) and there.sum() > 20:
            lighter = (np.median(drawing.albedo[there], axis=0) + 2) / (np.median(calm[there], axis=0) + 2)
            out[there] = np.clip(calm[there] * np.clip(lighter, 0.4, 2.5), 0, 255)
    return out


def flat(drawing: Drawing) -> U8:
    """Even shapes without light, texture or lines; the place one even colour a part."""
    base = np.clip(_shapes(drawing), 0, 255).astype(np.uint8)
    out = cv2.pyrMeanShiftFiltering(np.ascontiguousarray(base[:, :, ::-1]), 7, 22)[:, :, ::-1].copy()
    for part in np.unique(drawing.labels[drawing.figures == 0]):
        there = (drawing.labels == part) & (drawing.figures == 0)
        out[there] = np.median(drawing.image[there], axis=0)
    return np.asarray(out, np.uint8)


def line(drawing: Drawing) -> U8:
    """Ink contours on paper, with thin washes of colour inside the figure."""
    base = _shapes(drawing)
    lab = cv2.cvtColor(np.clip(base, 0, 255).astype(np.uint8), cv2.COLOR_RGB2LAB).astype(np.float32)
    steep = np.zeros(lab.shape[:2], np.float32)
    for channel in range(3):
        x, y = (cv2.Sobel(lab[..., channel], cv2.CV_32F, *d, ksize=3) for d in ((1, 0), (0, 1)))
        steep = np.maximum(steep, np.hypot(x, y))
    ink = np.clip((steep - 45) / 90, 0, 1)
    parts = drawing.labels.astype(np.int32) + 64 * drawing.figures.astype(np.int32)
    border = (cv2.morphologyEx(parts.astype(np.float32), cv2.MORPH_GRADIENT, np.ones((2, 2), np.uint8)) > 0).astype(np.float32)
    ink = cv2.GaussianBlur(np.maximum(ink, border * 0.9), (0, 0), 0.6)[..., None]
    wash = cv2.GaussianBlur(base, (0, 0), 1.6)
    share = np.where(drawing.figures[..., None] > 0, 0.95, 0.12).astype(np.float32)
    tone = _PAPER * (1 - share) + wash * share
    return np.asarray(np.clip(tone * (1 - ink) + _INK * ink, 0, 255), np.uint8)


def soft(drawing: Drawing) -> U8:
    """Modelled under one warm lamp, edges lost, the place out of focus."""
    base = _shapes(drawing)
    h, w = drawing.labels.shape
    relief = np.zeros((h, w), np.float32)
    for part in np.unique(drawing.labels[drawing.figures > 0]):
        inside = ((drawing.labels == part) & (drawing.figures > 0)).astype(np.uint8)
        if part not in (Part.EYES, Part.BROW, Part.MOUTH):
            relief += np.minimum(cv2.distanceTransform(inside, cv2.DIST_L2, 5), 0.04 * h)
    relief = cv2.GaussianBlur(relief, (0, 0), 0.012 * h)
    lean = cv2.Sobel(relief, cv2.CV_32F, 1, 0) * 0.5 - cv2.Sobel(relief, cv2.CV_32F, 0, 1) * 0.6
    y, x = np.mgrid[:h, :w].astype(np.float32)
    lamp = 1.08 - 0.26 * np.hypot(x / w - 0.32, y / h - 0.22)
    lit = base * (lamp * np.clip(1 + 0.06 * lean, 0.82, 1.14))[..., None] * np.array([1.03, 1.0, 0.94], np.float32)
    away = cv2.GaussianBlur(drawing.image.astype(np.float32), (0, 0), 9) * 0.92
    figure = cv2.GaussianBlur((drawing.figures > 0).astype(np.float32), (0, 0), 1.2)[..., None]
    return np.asarray(np.clip(cv2.GaussianBlur(lit * figure + away * (1 - figure), (0, 0), 0.6), 0, 255), np.uint8)


RENDERERS: dict[str, Callable[[Drawing], U8]] = {"flat": flat, "line": line, "soft": soft}
