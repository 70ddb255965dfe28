"""Where a picture itself shows some of its parts, cut out along its own colours."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.inversion.invert import Inverted
from mosskeeper.core.mending.masks import Mask, dilated, eroded
from mosskeeper.core.pictures.resample import fitted, linear, nearest, scaled
from mosskeeper.core.reading.classes import PART_OF, PARTS

FIRST_OF_FIGURE = PARTS.index("hair")
_REACH = 0.12  # of a head's radius, by which the reader's borders may be wrong
_SIDE = 200  # px of the longer side at which is cut
_ROUNDS = 2


def part_of_picture(picture: NDArray[np.uint8], inverted: Inverted, before: Drawing, groups: NDArray[Any], n: int) -> Mask:
    """(H, W): where a picture shows some of PARTS of figure `n`, by their indices.

    What was read is grown to borders of its colours (Rother, Kolmogorov, Blake, "GrabCut", 2004).
    """
    told, there = np.isin(inverted.parts, groups), np.isin(PART_OF[before.labels], groups) & (before.figures == n + 1)
    if len(inverted.figures) > 1:
        told &= dilated(nearest(inverted.figures[n].mask.astype(np.uint8), (told.shape[1], told.shape[0])), 9)
    if not told.any():
        return told
    r = max(3, round(_REACH * before.shown[n].head[2]))
    maybe, sure = dilated(told | (there & (inverted.parts >= FIRST_OF_FIGURE)), 2 * r + 1), eroded(told, r)
    ys, xs = np.nonzero(maybe)
    box = np.s_[max(ys.min() - 2 * r, 0) : ys.max() + 2 * r, max(xs.min() - 2 * r, 0) : xs.max() + 2 * r]
    shape = maybe[box].shape
    size = scaled(shape, min(1.0, _SIDE / max(shape)))
    seeds = np.full((size[1], size[0]), cv2.GC_BGD, np.uint8)
    for where, kind in ((maybe, cv2.GC_PR_BGD), (told, cv2.GC_PR_FGD), (sure, cv2.GC_FGD)):
        seeds[nearest(np.ascontiguousarray(where[box]).astype(np.uint8), size) > 0] = kind
    if (seeds == cv2.GC_FGD).sum() < 10:
        return told
    small = fitted(np.ascontiguousarray(picture[box]), size)
    cv2.setRNGSeed(1)
    cv2.grabCut(small, seeds, None, np.zeros((1, 65)), np.zeros((1, 65)), _ROUNDS, cv2.GC_INIT_WITH_MASK)  # type: ignore[call-overload]
    out = np.zeros(told.shape, bool)
    out[box] = linear((seeds % 2).astype(np.float32), (shape[1], shape[0])) > 0.4
    return out
