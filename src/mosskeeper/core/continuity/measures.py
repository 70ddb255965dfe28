"""Measures of agreement between maps and between beliefs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import cv2
import numpy as np
from numpy.typing import NDArray

F32 = NDArray[np.float32]


def agreement(a: Mapping[str, float], b: Mapping[str, float]) -> float:
    """0…1: how far two beliefs about one attribute overlap (Bhattacharyya coefficient)."""
    total = np.sqrt(sum(a.values()) * sum(b.values()))
    return float(sum(np.sqrt(p * b.get(value, 0.0)) for value, p in a.items()) / total) if total else 0.0


def agreements(a: Mapping[str, Mapping[str, float]], b: Mapping[str, Mapping[str, float]], names: Sequence[str]) -> list[float]:
    """The agreement in each of the named attributes that both beliefs have."""
    return [agreement(a[name], b[name]) for name in names if name in a and name in b]


def ssim(a: F32, b: F32) -> float:
    """Mean structural similarity of two maps (H, W) in 0…1.

    References: Wang, Bovik, Sheikh, Simoncelli, "Image quality assessment", 2004.
    """

    def low(x: F32) -> F32:
        return np.asarray(cv2.GaussianBlur(x, (0, 0), 1.5), np.float32)

    ma, mb = low(a), low(b)
    va, vb, cov = low(a * a) - ma * ma, low(b * b) - mb * mb, low(a * b) - ma * mb
    c1, c2 = 0.01**2, 0.03**2
    return float((((2 * ma * mb + c1) * (2 * cov + c2)) / ((ma * ma + mb * mb + c1) * (va + vb + c2))).mean())


def rank_correlation(a: F32, b: F32) -> float:
    """Spearman's rank correlation of two maps of one size; 0 where one of them is flat."""
    x, y = (_ranks(m.ravel()) for m in (a, b))
    spread = float(x.std() * y.std())
    return float(((x - x.mean()) * (y - y.mean())).mean() / spread) if spread > 1e-9 else 0.0


def _ranks(values: NDArray[np.floating]) -> NDArray[np.float64]:
    """Mean ranks, equal values sharing theirs."""
    _, inverse, counts = np.unique(values, return_inverse=True, return_counts=True)
    ends = np.cumsum(counts)
    return np.asarray((ends - (counts - 1) / 2)[inverse], np.float64)
