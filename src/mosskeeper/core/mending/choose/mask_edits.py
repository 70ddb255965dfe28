"""Acts on a mask (H, W) of which white is where a picture may change: grown, shrunk, smoothed, filled, turned over, joined."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal, TypeVar, get_args

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.mending.masks import Mask, depth_in

M = TypeVar("M", Mask, NDArray[np.float32])
Act = Literal["grow", "shrink", "smooth", "fill holes", "turn over"]
ACTS: tuple[Act, ...] = get_args(Act)
Way = Literal["add", "take", "meet", "only"]  # of laying another mask on one: both, without it, only where both are, in its place


def grown(mask: Mask, px: float) -> Mask:
    """The mask with all that lies within `px` of it."""
    return np.asarray(depth_in(~mask) <= px) if mask.any() else mask


def shrunk(mask: Mask, px: float) -> Mask:
    """The mask without what lies within `px` of its border; the picture's own border is none."""
    return np.asarray(depth_in(mask) > px)


def smoothed(mask: Mask, px: float) -> Mask:
    """The mask with an even border: corners and hairs narrower than about 2 `px` go."""
    blurred = cv2.GaussianBlur(mask.astype(np.float32), (0, 0), max(px, 0.5), borderType=cv2.BORDER_REPLICATE)
    return np.asarray(blurred >= 0.5)


def without_holes(mask: Mask) -> Mask:
    """The mask with all that it wholly encloses."""
    padded = np.pad(~mask, 1, constant_values=True).astype(np.uint8)
    _, labels = cv2.connectedComponents(padded, connectivity=4)
    return np.asarray(labels != labels[0, 0])[1:-1, 1:-1]


def acted(mask: Mask, act: Act, px: float = 4.0) -> Mask:
    """The mask after an act."""
    acts: dict[Act, Callable[[], Mask]] = {
        "grow": lambda: grown(mask, px),
        "shrink": lambda: shrunk(mask, px),
        "smooth": lambda: smoothed(mask, px),
        "fill holes": lambda: without_holes(mask),
        "turn over": lambda: ~mask,
    }
    return acts[act]()


def laid_on(mask: M, other: Mask, way: Way) -> M:
    """A mask, which may be soft, joined with a hard one."""
    acts: dict[Way, Callable[[], NDArray[Any]]] = {
        "add": lambda: np.where(other, 1, mask),
        "take": lambda: np.where(other, 0, mask),
        "meet": lambda: np.where(other, mask, 0),
        "only": lambda: other,
    }
    return acts[way]().astype(mask.dtype)  # type: ignore[return-value]


def by_colour(lab: NDArray[np.float32], at: tuple[int, int], near: float) -> Mask:
    """What hangs together with a place (x, y) and is within ΔE `near` of its colour. lab : (H, W, 3) CIE Lab."""
    x, y = at
    alike = np.linalg.norm(lab - lab[y, x], axis=2) <= near
    _, labels = cv2.connectedComponents(alike.astype(np.uint8), connectivity=4)
    return np.asarray(labels == labels[y, x])
