"""Patches of a picture and their nearest neighbours: the kernels of fill and of detail.

Pictures are (H, W, 3) float32 in 0…1, padded by RADIUS on every side, where weights are 0.
"""

from __future__ import annotations

import math

import numba
import numpy as np
from numpy.typing import NDArray

F32 = NDArray[np.float32]
I32 = NDArray[np.int32]
RADIUS = 3  # px: patches are 7 × 7
_jit = numba.njit(cache=True, fastmath=True)


@_jit  # type: ignore[untyped-decorator]
def _cost(x, weight, y, ty, tx, sy, sx, limit):  # type: ignore[no-untyped-def]
    """Weighted mean squared difference of two patches; given up where it must exceed `limit`."""
    total, norm = np.float32(0), np.float32(1e-6)
    for a in range(-RADIUS, RADIUS + 1):
        for b in range(-RADIUS, RADIUS + 1):
            norm += weight[ty + a, tx + b]
    bound = limit * norm
    for a in range(-RADIUS, RADIUS + 1):
        for b in range(-RADIUS, RADIUS + 1):
            g = weight[ty + a, tx + b]
            if g > 0:
                e0 = x[ty + a, tx + b, 0] - y[sy + a, sx + b, 0]
                e1 = x[ty + a, tx + b, 1] - y[sy + a, sx + b, 1]
                e2 = x[ty + a, tx + b, 2] - y[sy + a, sx + b, 2]
                total += g * (e0 * e0 + e1 * e1 + e2 * e2)
        if total > bound:
            return np.float32(1e9)
    return total / norm


@_jit  # type: ignore[untyped-decorator]
def match(x, weight, y, usable, targets, near, cost, lean, reach, state, backwards):  # type: ignore[no-untyped-def]
    """One round of nearest-neighbour search, in place: neighbours' matches are tried, then random places ever nearer.

    x, weight : the picture to be matched and what its pixels count.
    y, usable : the picture matches come from, and where a patch may be centred.
    targets : (n, 2) centres. near : (H, W, 2) their matches, −1 where none. cost : (H, W).
    lean : (2,) what a vertical and a horizontal displacement cost, per px. reach : px of the random search.
    state : (1,) uint32 of the random numbers.

    References: Barnes, Shechtman, Finkelstein, Goldman, "PatchMatch", 2009.
    """
    n = targets.shape[0]
    h, w = usable.shape
    step = -1 if backwards else 1
    seed = state[0]
    for i in range(n):
        ty, tx = targets[n - 1 - i if backwards else i]
        by, bx = near[ty, tx, 0], near[ty, tx, 1]
        best = _cost(x, weight, y, ty, tx, by, bx, np.float32(1e9)) + lean[0] * abs(by - ty) + lean[1] * abs(bx - tx)
        for k in range(2):
            py, px = (ty - step, tx) if k == 0 else (ty, tx - step)
            if py < 0 or py >= h or px < 0 or px >= w or near[py, px, 0] < 0:
                continue
            sy, sx = near[py, px, 0] + ty - py, near[py, px, 1] + tx - px
            if sy < 0 or sy >= h or sx < 0 or sx >= w or not usable[sy, sx] or (sy == by and sx == bx):
                continue
            far = lean[0] * abs(sy - ty) + lean[1] * abs(sx - tx)
            c = _cost(x, weight, y, ty, tx, sy, sx, best - far) + far
            if c < best:
                best, by, bx = c, sy, sx
        radius = reach
        while radius >= 1:
            seed = np.uint32(seed * np.uint32(1664525) + np.uint32(1013904223))
            sy = by + np.int64(seed >> np.uint32(8)) % (2 * radius + 1) - radius
            seed = np.uint32(seed * np.uint32(1664525) + np.uint32(1013904223))
            sx = bx + np.int64(seed >> np.uint32(8)) % (2 * radius + 1) - radius
            radius //= 2
            if sy < 0 or sy >= h or sx < 0 or sx >= w or not usable[sy, sx]:
                continue
            far = lean[0] * abs(sy - ty) + lean[1] * abs(sx - tx)
            c = _cost(x, weight, y, ty, tx, sy, sx, best - far) + far
            if c < best:
                best, by, bx = c, sy, sx
        near[ty, tx, 0], near[ty, tx, 1], cost[ty, tx] = by, bx, best
    state[0] = seed


@_jit  # type: ignore[untyped-decorator]
def vote(y, trust, places, near, cost, sharpness, spread, out):  # type: ignore[no-untyped-def]
    """The posterior mean at `places` (n, 2) over all patches that cover them, into `out`.

    Each patch q votes with y at its match, with odds trust_q · exp(−sharpness · cost_q): the closed-form denoiser whose
    data are the patches of the picture itself, cut down to each patch's nearest one. `spread` px²: how far from its centre
    a patch is still heard.
    """
    h, w = trust.shape
    for i in range(places.shape[0]):
        py, px = places[i]
        least = np.float32(1e9)
        for a in range(-RADIUS, RADIUS + 1):
            for b in range(-RADIUS, RADIUS + 1):
                qy, qx = py + a, px + b
                if 0 <= qy < h and 0 <= qx < w and near[qy, qx, 0] >= 0:
                    least = min(least, cost[qy, qx])
        norm, r, g, bl = np.float32(1e-12), np.float32(0), np.float32(0), np.float32(0)
        for a in range(-RADIUS, RADIUS + 1):
            for b in range(-RADIUS, RADIUS + 1):
                qy, qx = py + a, px + b
                if 0 <= qy < h and 0 <= qx < w and near[qy, qx, 0] >= 0:
                    k = trust[qy, qx] * math.exp(-(cost[qy, qx] - least) * sharpness - (a * a + b * b) / spread)
                    sy, sx = near[qy, qx, 0] - a, near[qy, qx, 1] - b
                    norm += k
                    r += k * y[sy, sx, 0]
                    g += k * y[sy, sx, 1]
                    bl += k * y[sy, sx, 2]
        out[py, px, 0], out[py, px, 1], out[py, px, 2] = r / norm, g / norm, bl / norm


@_jit  # type: ignore[untyped-decorator]
def local_detail(tone, blurred, detail, factor, reach, out):  # type: ignore[no-untyped-def]
    """For every pixel of an enlarged picture the detail that belongs to the most similar 5 × 5 patch near its origin.

    tone (H, W), blurred (h, w), detail (h, w, 3), out (H, W, 3); `factor` H / h; `reach` px of the search in the origin.
    """
    big_h, big_w = tone.shape
    h, w = blurred.shape
    for ty in range(big_h):
        for tx in range(big_w):
            oy, ox = min(max(int(ty / factor), 2 + reach), h - 3 - reach), min(max(int(tx / factor), 2 + reach), w - 3 - reach)
            best, by, bx = np.float32(1e9), oy, ox
            for sy in range(oy - reach, oy + reach + 1):
                for sx in range(ox - reach, ox + reach + 1):
                    c = np.float32(0)
                    for a in range(-2, 3):
                        yy = min(max(ty + a, 0), big_h - 1)
                        for b in range(-2, 3):
                            xx = min(max(tx + b, 0), big_w - 1)
                            e = tone[yy, xx] - blurred[sy + a, sx + b]
                            c += e * e
                        if c >= best:
                            break
                    if c < best:
                        best, by, bx = c, sy, sx
            for q in range(3):
                out[ty, tx, q] = detail[by, bx, q]
