"""Light that comes or goes where a picture is changed only inside a mask.

Light that goes stays as it is outside: what of its change reaches the border is carried on inwards and taken back.
Light that comes, as of a lamp, ebbs away towards the border. A membrane alone would wash out a new lamp.
"""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.mending.masks import F32, Mask, eased
from mosskeeper.core.pictures.resample import fitted, linear

_RIM = 2.5  # px: the border's own pixels
_EBBS = 0.6  # of the mask's depth, over which light that comes ebbs away


def ebbing(change: F32, mask: Mask, redrawn: F32, depth: F32, comes: bool) -> F32:
    """What must be added to a change (H, W, 3) so that its light has come to nothing at the mask's border.

    comes : a lamp was lit; else what changes is light that goes, and the shadow or the shine of what came.
    """
    inner = mask & (redrawn < 0.05)
    rim = inner & (depth <= _RIM)
    if not rim.any() or np.abs(change[rim]).max() < 1.0:
        return np.zeros_like(change)
    light = carried_on(change, inner if comes else rim)
    left = 1 - eased(depth / max(_EBBS * float(depth.max()), 1.0)) if comes else np.ones_like(depth)
    return np.asarray(np.where((inner & comes)[..., None], -change, -light) * (left * mask)[..., None], np.float32)


def carried_on(values: NDArray[Any], known: Mask) -> F32:
    """(H, W, c) values where `known`, smoothly carried on everywhere else: push and pull over a pyramid (Gortler et al., 1996)."""
    weight = known.astype(np.float32)
    stack = [(np.asarray(values * weight[..., None], np.float32), weight)]
    while min(stack[-1][1].shape) > 4:
        size = ((stack[-1][1].shape[1] + 1) // 2, (stack[-1][1].shape[0] + 1) // 2)
        stack.append((_halved(stack[-1][0], size), _halved(stack[-1][1], size)))
    v, k = stack[-1]
    out = np.broadcast_to(v.sum((0, 1)) / max(float(k.sum()), 1e-6), v.shape).astype(np.float32)
    for v, k in stack[::-1]:
        trust = np.minimum(k * 4, 1)[..., None]
        out = linear(out, (k.shape[1], k.shape[0])).reshape(v.shape) * (1 - trust) + v / np.maximum(k, 1e-6)[..., None] * trust
    return np.asarray(cv2.GaussianBlur(out, (0, 0), 4).reshape(stack[0][0].shape), np.float32)


def _halved(x: F32, size: tuple[int, int]) -> F32:
    return fitted(x, size).reshape(size[1], size[0], *x.shape[2:])
