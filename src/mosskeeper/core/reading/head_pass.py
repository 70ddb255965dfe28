"""The reader's second pass: one head, cut out of the picture's own pixels."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.colour import lab_to_rgb
from mosskeeper.core.reading.classes import HEAD_COLOURS, LANDMARK_COUNT, POSES_OF_HEAD
from mosskeeper.core.reading.head_crop import REACH, SIDE, crop_matrix, warped
from mosskeeper.core.reading.weights import Weights

F32 = NDArray[np.float32]
_FACE = 14


@dataclass(frozen=True)
class Close:
    """A head seen closely; places in px of the picture."""

    landmarks: NDArray[np.float64]  # (36, 2), NaN where the weights know none
    confidence: F32  # (36,) that each is seen, and how surely it lies there
    named: F32  # logits of the head's attributes
    colours: dict[str, tuple[float, float, float]]  # of skin, hair and eyes without light, sRGB 0…1
    face: F32  # (14,) geometry in the order of `Face`
    held: tuple[float, float, float]  # turn −1…1 (to the picture's right), nod −1 up … 1 down, tilt in radians clockwise
    identity: F32  # (64,) of length 1


def look_closely(
    rgb_u8: NDArray[np.uint8], centre: tuple[float, float], height: float, context: F32, weights: Weights, tilt: float = 0.0
) -> Close:
    """Reads the head of `height` px about `centre` in a picture (H, W, 3)."""
    matrix = crop_matrix(centre, height * REACH, SIDE, tilt)
    crop = warped(rgb_u8, matrix, SIDE)
    x = np.ascontiguousarray(crop.transpose(2, 0, 1)[None], np.float32) / np.float32(255)
    heat, vector = weights.run("head", x=x, context=context[None])
    at, peaks = _places(heat[0])
    back = np.linalg.inv(np.vstack([matrix, [0, 0, 1]]))
    scales = weights.card.scales
    classes = sum(map(len, weights.card.of_head.values()))
    seen, named, colours, face, held, identity = np.split(
        vector[0], np.cumsum([weights.card.landmarks, classes, 3 * len(HEAD_COLOURS), _FACE, len(POSES_OF_HEAD)])
    )
    lab = colours.reshape(-1, 3) * scales["lab_spread"] + np.asarray(scales["lab_middle"])
    rgb = lab_to_rgb(lab.astype(np.float32))
    confidence = 1 / (1 + np.exp(-np.clip(seen, -30, 30))) * np.clip(peaks * 1.6, 0, 1)
    unread = LANDMARK_COUNT - weights.card.landmarks
    return Close(
        np.vstack([at * SIDE @ back[:2, :2].T + back[:2, 2], np.full((unread, 2), np.nan)]),
        np.append(confidence, np.zeros(unread)).astype(np.float32),
        named,
        {name: (float(r), float(g), float(b)) for name, (r, g, b) in zip(HEAD_COLOURS, rgb, strict=True)},
        np.asarray(np.clip(face, -2.2, 2.2) * np.asarray(scales["face_spread"]) + np.asarray(scales["face_middle"]), np.float32),
        (float(np.clip(held[0], -1, 1)), float(np.clip(held[1], -1, 1)), float(held[2] + tilt)),
        np.asarray(identity, np.float32),
    )


def _places(heat: F32) -> tuple[NDArray[np.float64], F32]:
    """(30, 2) expected places in 0…1 of the crop, and the mass about each map's peak."""
    k, h, w = heat.shape
    p = np.exp(heat - heat.max((1, 2), keepdims=True))
    p /= p.sum((1, 2), keepdims=True)
    x, y = (np.arange(w) + 0.5) / w, (np.arange(h) + 0.5) / h
    at = np.stack([p.sum(1) @ x, p.sum(2) @ y], 1)
    peaks = np.zeros(k, np.float32)
    for n in range(k):
        row, column = np.unravel_index(int(p[n].argmax()), (h, w))
        peaks[n] = p[n, max(row - 2, 0) : row + 3, max(column - 2, 0) : column + 3].sum()
    return at, peaks
