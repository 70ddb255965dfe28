"""What differs between two drawings of nearly one scene: what is drawn anew, and what is only lit otherwise."""

from __future__ import annotations

import cv2
import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.mending.masks import F32, Mask, dilated

_SEEN = 10.0  # grey levels of fine difference from which a place is redrawn, not only lit
_SOFT = 5.0  # px: what is smoother is light
_REACHED = 0.02  # of a piece that must lie in the mask for the mask to be opened to all of it
_DARK = 24.0  # levels under which ratios say little


def replaced(before: Drawing, after: Drawing) -> F32:
    """(H, W) 0…1, soft by a pixel: where something else is drawn, and not only lit otherwise.

    Light adds or multiplies smoothly: what is smooth in the difference or in the ratio of two drawings is light.
    """
    x, y = (one.image.astype(np.float32) for one in (before, after))
    rough = [np.abs(c - cv2.GaussianBlur(c, (0, 0), _SOFT)) for c in (y - x, np.log((y + _DARK) / (x + _DARK)) * 70)]
    fine = np.minimum(*rough).max(2) > _SEEN
    both = cv2.morphologyEx((fine | other_parts(before, after)).astype(np.uint8), cv2.MORPH_CLOSE, np.ones((5, 5), np.uint8))
    both = cv2.morphologyEx(both, cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    return np.asarray(np.clip(cv2.GaussianBlur(dilated(both, 3).astype(np.float32), (0, 0), 1.0) * 1.3, 0, 1), np.float32)


def other_parts(before: Drawing, after: Drawing) -> Mask:
    """(H, W): another part, another colour of cloth, skin or hair. Both were drawn with their albedo."""
    assert before.albedo is not None and after.albedo is not None
    recoloured = cv2.absdiff(before.albedo, after.albedo).max(2) > 3
    another = (before.figures != after.figures) & (np.minimum(before.labels, after.labels) >= Part.HAIR)
    return np.asarray(recoloured | (before.labels != after.labels) | another)


def mask_grown(mask: Mask, redrawn: Mask) -> Mask:
    """The mask grown to the outlines of what changes in it: whole connected pieces, wherever they reach."""
    n, pieces, stats, _ = cv2.connectedComponentsWithStats(redrawn.astype(np.uint8), connectivity=8)
    inside = np.bincount(pieces[mask], minlength=n)
    reached = [k for k in range(1, n) if inside[k] > max(_REACHED * stats[k, cv2.CC_STAT_AREA], 30)]
    return mask | dilated(np.isin(pieces, reached), 9)
