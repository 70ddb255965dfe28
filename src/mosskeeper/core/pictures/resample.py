"""Changing the size of pictures and maps. Sizes are (width, height) in px; what has the size already is returned as it is."""

from __future__ import annotations

from typing import Any, TypeVar

import cv2
import numpy as np
from numpy.typing import NDArray

A = TypeVar("A", bound=NDArray[Any])


def fitted(x: A, size: tuple[int, int]) -> A:
    """Every pixel the mean of what it covers; enlarged in steps where it grows."""
    return _resized(x, size, cv2.INTER_AREA)


def smooth(x: A, size: tuple[int, int]) -> A:
    """The mean of what is covered where a picture shrinks, cubic where it grows."""
    return _resized(x, size, cv2.INTER_AREA if size[0] < x.shape[1] else cv2.INTER_CUBIC)


def sharp(x: A, size: tuple[int, int]) -> A:
    """The mean of what is covered where a picture shrinks, windowed sinc where it grows."""
    return _resized(x, size, cv2.INTER_AREA if size[0] < x.shape[1] else cv2.INTER_LANCZOS4)


def gentle(x: A, size: tuple[int, int]) -> A:
    """The mean of what is covered where a picture shrinks, linear where it grows."""
    return _resized(x, size, cv2.INTER_AREA if size[0] < x.shape[1] else cv2.INTER_LINEAR)


def cubic(x: A, size: tuple[int, int]) -> A:
    return _resized(x, size, cv2.INTER_CUBIC)


def linear(x: A, size: tuple[int, int]) -> A:
    return _resized(x, size, cv2.INTER_LINEAR)


def nearest(x: A, size: tuple[int, int]) -> A:
    """For labels, which cannot be mixed."""
    return _resized(x, size, cv2.INTER_NEAREST)


def scaled(shape: tuple[int, ...], k: float) -> tuple[int, int]:
    """(width, height) of `shape` (H, W, …) times `k`, at least 1 px."""
    return max(round(shape[1] * k), 1), max(round(shape[0] * k), 1)


def _resized(x: A, size: tuple[int, int], how: int) -> A:
    if (x.shape[1], x.shape[0]) == size:
        return x
    return np.asarray(cv2.resize(x, size, interpolation=how), x.dtype)  # type: ignore[return-value]
