"""Where a drawn face is laid over that of a picture."""

from __future__ import annotations

import cv2
import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.face import LANDMARKS
from mosskeeper.core.inversion.invert import Inverted
from mosskeeper.core.mending.masks import F32, dilated
from mosskeeper.core.reading.classes import PARTS

_INNER = (Part.FACE, Part.BROW, Part.EYES, Part.MOUTH, Part.FACIAL_HAIR)
_EYE = ("eye inner", "eye outer", "upper lid", "lower lid", "brow inner", "brow middle", "brow outer")
# Features by their landmarks, and how far about them skin goes with them, in radii of the head.
_FEATURES = (
    *((tuple(f"{side} {name}" for name in _EYE), 0.17) for side in ("right", "left")),
    (("mouth right", "mouth left", "upper lip", "lower lip"), 0.20),
)


def face_matte(after: Drawing, inverted: Inverted, whole: bool, n: int) -> F32:
    """(H, W) 0…1: the drawn face of figure `n`; only eyes, brows and mouth with the skin about them, where the rest of the face stays."""
    read_of, (h, w), r = inverted.figures[n], after.labels.shape, after.shown[n].head[2]
    inside = np.isin(after.labels, _INNER) & (after.figures == n + 1)
    if whole or read_of.landmarks is None:
        there = inside & (dilated(inverted.parts == PARTS.index("face"), 3) | (after.labels != Part.FACE))
        matte = there.astype(np.float32)
        return np.asarray(np.minimum(cv2.GaussianBlur(matte, (0, 0), 0.03 * r), matte * 4), np.float32)
    read, matte = dict(zip(LANDMARKS, read_of.landmarks * (w, h), strict=True)), np.zeros((h, w), np.float32)
    for names, about in _FEATURES:  # where they were read, and where they are drawn
        places = [p for found in (read, after.shown[n].landmarks) for name, p in found.items() if name in names]
        hull = cv2.convexHull(np.array(places, np.float32)).astype(np.int32)
        cv2.fillConvexPoly(matte, hull, [1.0])
        cv2.polylines(matte, [hull], True, [1.0], max(1, round(2 * about * r)))
    return np.asarray(cv2.GaussianBlur(matte * inside, (0, 0), 0.05 * r) * inside, np.float32)
