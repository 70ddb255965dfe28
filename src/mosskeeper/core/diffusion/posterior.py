"""The denoiser: the posterior mean over exemplars, segment by segment."""

from __future__ import annotations

import numba
import numpy as np
from numpy.typing import NDArray

F32 = NDArray[np.float32]
TEMPERATURE = 0.35


class Segments:
    """A partition of a picture's pixels.

    Parameters
    ----------
    labels : (H, W) integers 0 … n − 1.
    """

    def __init__(self, labels: NDArray[np.integer], n: int) -> None:
        self.labels, self.n = labels, n
        flat = labels.ravel()
        self._order = np.argsort(flat, kind="stable")
        counts = np.bincount(flat, minlength=n)
        self._present = np.flatnonzero(counts)
        self._starts = np.concatenate([[0], np.cumsum(counts[self._present])[:-1]])
        self._counts = counts[self._present].astype(np.float32)

    def means(self, values: F32) -> F32:
        """Mean over each segment: (K, P) → (K, n); 0 where a segment has no pixels."""
        out = np.zeros((values.shape[0], self.n), np.float32)
        sums = np.add.reduceat(values[:, self._order], self._starts, axis=1)
        out[:, self._present] = sums / self._counts
        return out


@numba.njit(cache=True)  # type: ignore[untyped-decorator]
def _products(exemplars: F32, x: F32) -> F32:
    """(K, P): of every pixel of every exemplar (K, P, 3) with that of a picture (P, 3)."""
    k, p, _ = exemplars.shape
    out = np.empty((k, p), np.float32)
    for i in range(k):
        for j in range(p):
            out[i, j] = exemplars[i, j, 0] * x[j, 0] + exemplars[i, j, 1] * x[j, 1] + exemplars[i, j, 2] * x[j, 2]
    return out


@numba.njit(cache=True)  # type: ignore[untyped-decorator]
def _mixed(weights: F32, labels: NDArray[np.integer], exemplars: F32) -> F32:
    """(P, 3): the exemplars (K, P, 3), by the weights (K, n) of each pixel's segment."""
    k, p, _ = exemplars.shape
    out = np.zeros((p, 3), np.float32)
    for i in range(k):
        for j in range(p):
            w = weights[i, labels[j]]
            for c in range(3):
                out[j, c] += w * exemplars[i, j, c]
    return out


class Posterior:
    """D(x; σ) = Σ_k w_k(s) E_k, with one set of weights for each segment s.

    log w_k(s) = log π_k(s) − mean_s(|E_k|² − 2 x·E_k) / (2 σ² T): the closed form of the optimal denoiser for a
    data distribution of K points (e.g. Karras et al. 2022, appendix B.3), taken over segments of a shared layout
    instead of whole pictures, with the mean in place of the sum (our tempering), so that weights stay graded.

    Parameters
    ----------
    exemplars : (K, H, W, 3) float32 in −1…1.
    segments : the shared partition of H × W.
    log_prior : (K, n) float32; None for equal odds.
    """

    def __init__(self, exemplars: F32, segments: Segments, log_prior: F32 | None = None, temperature: float = TEMPERATURE) -> None:
        k = exemplars.shape[0]
        self._shape = exemplars.shape[1:]
        self._exemplars = exemplars.reshape(k, -1, 3)
        self._segments, self._temperature = segments, temperature
        self._log_prior = np.zeros((k, segments.n), np.float32) if log_prior is None else log_prior
        self._squares = segments.means(np.square(self._exemplars).sum(2))

    def weights(self, x: F32, sigma: float) -> F32:
        """(K, n), summing to one over K."""
        cross = _products(self._exemplars, np.ascontiguousarray(x, np.float32).reshape(-1, 3))
        cost = self._squares - 2 * self._segments.means(cross)
        logits = self._log_prior - cost / np.float32(2 * sigma**2 * self._temperature)
        logits -= logits.max(0, keepdims=True)
        w = np.exp(logits)
        return np.asarray(w / w.sum(0, keepdims=True), np.float32)

    def mean(self, weights: F32) -> F32:
        """(H, W, 3): the exemplars mixed by the weights of each pixel's segment."""
        mixed = _mixed(np.asarray(weights, np.float32), self._segments.labels.ravel(), self._exemplars)
        return np.asarray(mixed.reshape(self._shape), np.float32)

    def __call__(self, x: F32, sigma: float) -> F32:
        return self.mean(self.weights(x, sigma))
