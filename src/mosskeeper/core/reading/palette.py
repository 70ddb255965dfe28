"""Palettes: the main colours of a picture and their areas."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.pictures.resample import fitted

F32 = NDArray[np.float32]
COLOURS = 10
FAR = 45.0  # ΔE76 between palettes of unrelated pictures
_SIDE = 64  # px of the reduced picture that is measured


@dataclass(frozen=True, slots=True)
class Palette:
    lab: F32  # (COLOURS, 3)
    area: F32  # (COLOURS,) shares, summing to 1


def read_palette(rgb_u8: NDArray[np.uint8]) -> Palette:
    """The 10 main colours of a picture (H, W, 3) by k-means in Lab, started from the farthest-point colours.

    Deterministic. References: Lloyd, "Least squares quantization in PCM", 1982; Gonzalez, "Clustering to minimize
    the maximum intercluster distance", 1985, for the start.
    """
    small = fitted(rgb_u8, (_SIDE, _SIDE))
    lab = rgb_to_lab(small.astype(np.float32).reshape(-1, 3) / 255)
    centres = _spread_out(lab)
    nearest = np.zeros(len(lab), np.intp)
    for _ in range(12):
        before, nearest = nearest, (np.square(centres).sum(1) - 2 * (lab @ centres.T)).argmin(1)  # as by squared distances
        if np.array_equal(before, nearest):
            break
        counts = np.bincount(nearest, minlength=COLOURS)
        for channel in range(3):
            sums = np.bincount(nearest, lab[:, channel], COLOURS)
            centres[:, channel] = np.where(counts, sums / np.maximum(counts, 1), centres[:, channel])
    counts = np.bincount(nearest, minlength=COLOURS).astype(np.float32)
    return Palette(centres.astype(np.float32), counts / counts.sum())


def _spread_out(lab: F32) -> F32:
    chosen = [lab.mean(0)]
    distance = np.square(lab - chosen[0]).sum(1)
    for _ in range(COLOURS - 1):
        chosen.append(lab[int(distance.argmax())])
        distance = np.minimum(distance, np.square(lab - chosen[-1]).sum(1))
    return np.asarray(chosen, np.float32)


def transport_plan(source: Palette, target: Palette, lightness: float = 1.6, epsilon: float = 0.03, rounds: int = 200) -> F32:
    """(COLOURS, COLOURS) entropic optimal transport between two palettes; rows sum to the source's areas.

    References: Cuturi, "Sinkhorn distances: lightspeed computation of optimal transport", 2013.
    """
    cost = _cost(source, target, lightness)
    kernel = np.exp(-cost / (epsilon * max(float(cost.max()), 1e-6)))
    a, b = source.area.astype(np.float64) + 1e-4, target.area.astype(np.float64) + 1e-4
    a, b = a / a.sum(), b / b.sum()
    u = np.ones(COLOURS)
    for _ in range(rounds):
        v = b / (kernel.T @ u + 1e-12)
        u = a / (kernel @ v + 1e-12)
    return np.asarray(u[:, None] * kernel * v[None], np.float32)


def _cost(source: Palette, target: Palette, lightness: float) -> NDArray[np.float64]:
    d = source.lab[:, None].astype(np.float64) - target.lab[None]
    return np.asarray(np.square(lightness * d[..., 0]) + np.square(d[..., 1:]).sum(-1))


def palette_distance(a: Palette, b: Palette) -> float:
    """Mean Lab distance that colours travel from one palette to the other under the optimal plan (ΔE76)."""
    plan = transport_plan(a, b, lightness=1.0)
    return float((plan * np.sqrt(_cost(a, b, 1.0))).sum() / plan.sum())
