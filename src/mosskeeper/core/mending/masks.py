"""Masks (H, W): grown, how deep a place lies in them, how softly they begin."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.resample import smooth

F32 = NDArray[np.float32]
Mask = NDArray[np.bool_]
Soft = NDArray[np.float32]  # 0…1
_NOTHING = 0.02  # of a mask, below which it is closed
_PLAIN = 2.5  # px of a border that is only drawn evenly


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


def hardened(opened: Soft) -> Soft:
    """A mask 0…1 as it acts: one whose border is no softer than a pixel or two is hard, a softer one stays as it is."""
    hard = opened > 0.5
    between = (opened > _NOTHING) & (opened < 1 - _NOTHING)
    soft = bool((between & (np.maximum(depth_in(hard), depth_in(~hard)) > _PLAIN)).any())
    return np.where(opened > _NOTHING, opened, 0).astype(np.float32) if soft else hard.astype(np.float32)


def opened_at(grey: Soft, size: tuple[int, int]) -> Soft:
    """A stored mask 0…1 as it acts on a picture of a size (width, height)."""
    as_it_acts = hardened(grey)
    hard = bool(np.isin(as_it_acts, (0, 1)).all())
    sized = smooth(as_it_acts, size)
    return (sized > 0.5).astype(np.float32) if hard else np.clip(sized, 0, 1)


def softly(picture_u8: NDArray[np.uint8], changed_u8: NDArray[np.uint8], opened: Soft) -> NDArray[np.uint8]:
    """A changed picture (H, W, 3) as far as a mask (H, W) is open: at 1 all of the change, at 0 the picture, bit for bit."""
    between = (opened > 0) & (opened < 1)
    amount = opened[between, None]
    out = np.where((opened > 0)[..., None], changed_u8, picture_u8)
    out[between] = np.clip(picture_u8[between] * (1 - amount) + changed_u8[between] * amount + 0.5, 0, 255).astype(np.uint8)
    return out


def eased(x: NDArray[Any]) -> F32:
    """0…1, level at both ends."""
    x = np.clip(x, 0, 1)
    return np.asarray(x * x * (3 - 2 * x), np.float32)
