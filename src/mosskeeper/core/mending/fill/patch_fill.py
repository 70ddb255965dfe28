"""Fill: what is missing in a picture is made up from the rest of it, coarse to fine.

The denoiser is the posterior mean over the picture's own patches, each patch standing for its nearest neighbour; the
noise level falls from level to level. It serves removal, extension by any side, and joining two pictures.

References: the search is PatchMatch (Barnes et al. 2009), the coarse-to-fine voting that of Wexler, Shechtman, Irani,
"Space-time completion of video", 2007; reading it as a denoiser with falling noise is ours.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.mending.fill.patches import RADIUS, match, vote
from mosskeeper.core.mending.masks import Mask, dilated
from mosskeeper.core.pictures.resample import cubic, fitted

F32 = NDArray[np.float32]
_ROUNDS = (1, 2, 3, 5, 8, 10)  # of search and vote, from the finest level to the coarsest
_GROWING = 12  # where nothing is there yet
_KNOWN = np.float32(1.3)  # what a known pixel counts in a match, a new one at the border .9
_NOISE = (0.05, 0.35)  # σ at the finest and the coarsest level, of a picture in 0…1
_FAITH = 1.25  # by which trust falls with every px into the hole
_SMOOTH, _CRISP = 8.0, 0.5  # px² over which patches are heard: on the way, and in the last round, which must not blur
_SHALLOW = 6.0  # px: a hole this deep needs no coarser level
_SMALLEST = 40  # px of a level's shorter side
_LEVELS = 6
STAYS = 2e-4  # cost of a displacement by the whole side, where it may go anywhere


@dataclass(frozen=True)
class _Level:
    picture: F32
    hole: Mask
    source: Mask  # where patches may come from


def fill(
    rgb_u8: NDArray[np.uint8],
    hole: Mask,
    seed: int = 0,
    lean: tuple[float, float] = (STAYS, STAYS),
    source: Mask | None = None,
    begun: bool = False,
    check: Callable[[], None] = lambda: None,
) -> NDArray[np.uint8]:
    """A picture (H, W, 3) with its `hole` (H, W) filled; outside it stays bit for bit.

    Parameters
    ----------
    seed : another one gives another filling.
    lean : what a match costs that lies a whole height, or width, away.
    source : where what is filled in may come from, and what it has to go on from; everywhere outside the hole without it.
    begun : what the picture shows in the hole is a first sketch of what should be there.
    check : asked between rounds; may raise.

    Raises
    ------
    ValueError
        where nothing, or nearly nothing, is left to fill from.
    """
    if not hole.any():
        return rgb_u8.copy()
    known = ~hole if source is None else source & ~hole
    levels = _pyramid(rgb_u8, hole, known, begun)
    if levels is None:
        raise ValueError("the hole leaves too little of the picture to fill it from")
    state = np.array([seed * 2654435761 % 2**32 or 1], np.uint32)
    near: NDArray[np.int32] | None = None
    picture = levels[-1].picture
    for depth in range(len(levels) - 1, -1, -1):
        picture, near = _refined(
            levels[depth], depth, len(levels), None if near is None and not begun else picture, near, lean, state, check
        )
    out = rgb_u8.copy()
    out[hole] = np.clip(picture[hole] * 255 + 0.5, 0, 255).astype(np.uint8)
    return out


def _pyramid(rgb_u8: NDArray[np.uint8], hole: Mask, source: Mask, begun: bool) -> list[_Level] | None:
    levels = [_Level(rgb_u8.astype(np.float32) / np.float32(255), hole, source)]
    while len(levels) < _LEVELS:
        last = levels[-1]
        depth = cv2.distanceTransform(np.pad(last.hole, 1, mode="edge").astype(np.uint8), cv2.DIST_L2, 3).max()
        h, w = last.hole.shape
        if depth < _SHALLOW or min(h, w) < 2 * _SMALLEST:
            break
        size = ((w + 1) // 2, (h + 1) // 2)
        kept = np.ones((h, w), np.float32) if begun else (~last.hole).astype(np.float32)
        share = fitted(kept, size)
        mean = fitted(last.picture * kept[..., None], size) / np.maximum(share, 0.25)[..., None]
        usable = fitted(last.source.astype(np.float32), size) > 0.99
        hole = fitted(last.hole.astype(np.float32), size) > 0.5
        levels.append(_Level(np.asarray(mean, np.float32), hole, usable))
    while levels and not _centres(levels[-1]).any():
        levels.pop()
    return levels or None


def _centres(level: _Level) -> Mask:
    """Where a patch lies wholly in the source."""
    inside = np.pad(level.source & ~level.hole, 1).astype(np.uint8)
    kernel = np.ones((2 * RADIUS + 1, 2 * RADIUS + 1), np.uint8)
    return np.asarray(cv2.erode(inside, kernel, borderValue=0)[1:-1, 1:-1] > 0)


def _refined(
    level: _Level,
    depth: int,
    levels: int,
    coarser: F32 | None,
    near: NDArray[np.int32] | None,
    lean: tuple[float, float],
    state: NDArray[np.uint32],
    check: Callable[[], None],
) -> tuple[F32, NDArray[np.int32]]:
    """One level filled: the picture, and the matches (H, W, 2) of its hole.

    Matches are sought on coarse levels and only followed on the finest. What is known but no source counts nothing in a
    match: the place behind a figure goes on. Where nothing is there yet, the hole grows from its border inwards.
    """
    (h, w), hole, usable = level.hole.shape, level.hole, _centres(level)
    finest, grows = depth == 0 and levels > 1, depth == levels - 1 and coarser is None
    around = hole if finest else dilated(hole, 2 * RADIUS + 1)
    pad = [(RADIUS, RADIUS), (RADIUS, RADIUS)]
    into = np.pad(cv2.distanceTransform(np.pad(hole, 1, mode="edge").astype(np.uint8), cv2.DIST_L2, 3)[1:-1, 1:-1], pad)
    inner = into[RADIUS:-RADIUS, RADIUS:-RADIUS].astype(np.float32)
    trust = np.pad(np.maximum(_FAITH**-inner, 1e-5).astype(np.float32), pad)
    counts = np.pad(level.source * _KNOWN, pad) + np.pad(hole, pad) * np.maximum(trust, np.float32(0.3)) * np.float32(0.9)
    start = level.picture.copy()
    if coarser is None:
        eight = np.clip(level.picture * 255, 0, 255).astype(np.uint8)
        start[hole] = cv2.inpaint(eight, hole.astype(np.uint8), 3, cv2.INPAINT_NS)[hole].astype(np.float32) / 255
    else:
        start[hole] = cubic(coarser, (w, h))[hole]
    x, y = np.pad(start, [*pad, (0, 0)], mode="edge"), np.pad(level.picture, [*pad, (0, 0)], mode="edge")
    moved = np.pad(_started(near, around, usable, state), [*pad, (0, 0)], constant_values=-1)
    moved[moved >= 0] += RADIUS
    cost, usable_padded = np.full(trust.shape, 1e9, np.float32), np.pad(usable, pad)
    targets, places = ((np.argwhere(m) + RADIUS).astype(np.int32) for m in (around, hole))
    rate = np.array([lean[0] / h, lean[1] / w], np.float32)
    rounds = _GROWING if grows else _ROUNDS[min(depth, len(_ROUNDS) - 1)]
    reach = 0 if finest else max(h, w) if depth >= levels - 2 else max(4, min(h, w) // 12)
    for n in range(rounds):
        check()
        weight = np.where((into > 1.5 * n) & grows, np.float32(0.01), counts).astype(np.float32)
        match(x, weight, y, usable_padded, targets, moved, cost, rate, reach, state, n % 2 == 1)
        t = (depth + 1 - (n + 1) / rounds) / (max(levels - 1, 1) + 1)
        sigma = _NOISE[0] * (_NOISE[1] / _NOISE[0]) ** t
        spread = _CRISP if depth == 0 and n == rounds - 1 else _SMOOTH
        vote(y, trust, places, moved, cost, np.float32(1 / sigma**2), np.float32(spread), x)
    found = moved[RADIUS:-RADIUS, RADIUS:-RADIUS].copy()
    found[found >= 0] -= RADIUS
    return x[RADIUS:-RADIUS, RADIUS:-RADIUS].copy(), found


def _started(near: NDArray[np.int32] | None, around: Mask, usable: Mask, state: NDArray[np.uint32]) -> NDArray[np.int32]:
    """First matches: those of the coarser level, scaled; random ones where that has none."""
    h, w = around.shape
    out = np.full((h, w, 2), -1, np.int32)
    ty, tx = np.nonzero(around)
    places = np.argwhere(usable)
    rng = np.random.default_rng(int(state[0]))
    guess = places[rng.integers(0, len(places), len(ty))]
    if near is not None:
        coarse = near[np.minimum(ty // 2, near.shape[0] - 1), np.minimum(tx // 2, near.shape[1] - 1)]
        scaled = coarse * 2 + np.stack([ty % 2, tx % 2], 1)
        fits = (coarse[:, 0] >= 0) & (scaled[:, 0] < h) & (scaled[:, 1] < w)
        fits[fits] = usable[scaled[fits, 0], scaled[fits, 1]]
        guess = np.where(fits[:, None], scaled, guess)
    out[ty, tx] = guess
    return out
