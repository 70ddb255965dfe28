"""Areas of a picture that have a name: masks for cues that act in one part only."""

from __future__ import annotations

import hashlib
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.decode import encode_png

SIDE = 256  # px; masks are stretched to the picture
AREAS = ("left", "right", "above", "below", "middle")
_SOFT = 0.08  # of the side, over which the border fades


def area_mask(name: str) -> NDArray[np.uint8]:
    """(SIDE, SIDE, 3) white where the area is, fading over its border.

    Raises KeyError where there is no such area.
    """
    across = (np.arange(SIDE) + 0.5) / SIDE

    def up_to(distance: NDArray[np.float64]) -> NDArray[np.float64]:
        """1 inside, 0 outside, of the signed distance to the border as a share of the side."""
        return np.clip(0.5 + distance / _SOFT, 0, 1)

    x, y = across[None, :] + 0 * across[:, None], across[:, None] + 0 * across[None, :]
    inside = {
        "left": lambda: up_to(0.5 - x),
        "right": lambda: up_to(x - 0.5),
        "above": lambda: up_to(0.5 - y),
        "below": lambda: up_to(y - 0.5),
        "middle": lambda: up_to(0.3 - np.hypot(x - 0.5, y - 0.5)),
    }[name]()
    return np.repeat(np.round(255 * inside).astype(np.uint8)[..., None], 3, 2)


def area_called(sha256: str) -> str | None:
    """The name of the area whose mask is stored under a name; None for other masks."""
    return _by_mask().get(sha256)


@cache
def _by_mask() -> dict[str, str]:
    return {hashlib.sha256(encode_png(area_mask(name))).hexdigest(): name for name in AREAS}


def cut_to(picture: NDArray[Any], mask: NDArray[np.uint8]) -> NDArray[Any]:
    """The part of a picture or map (H, W, …) that holds the white of a mask, which is stretched to it; all of it where nothing is white."""
    rows, columns = (np.flatnonzero((mask[..., 0] > 127).any(axis)) for axis in (1, 0))
    if not len(rows):
        return picture
    (h, w), (mask_h, mask_w) = picture.shape[:2], mask.shape[:2]
    top, bottom = rows[0] * h // mask_h, -(-(rows[-1] + 1) * h // mask_h)
    left, right = columns[0] * w // mask_w, -(-(columns[-1] + 1) * w // mask_w)
    return np.ascontiguousarray(picture[top:bottom, left:right])
