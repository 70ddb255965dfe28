"""A source picture: how much of it stays at a denoise strength, and where a mask leaves it untouched.

Every place of the picture follows either the source or the new drawing, in an order that a random field sets, smooth over
the background and nearly constant over each part of a figure; with growing strength place after place goes over. The
strength is remapped to quantiles of the change, so that the response is even. The method is ours: no noised source is
denoised here, since between two pictures that gives dead zones and ghosts.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.resample import cubic

F32 = NDArray[np.float32]
_BLOTS = 5  # of the background that go over together, along the longer side
_WITHIN = 0.25  # how much places within one part of a figure differ
_SOFT = 0.06  # of the field's own deviation: how gradually they go over
_COLOUR_KEPT = 0.5  # how far the new drawing's coarse colours follow the source at low strengths


def between(
    source: F32, target: F32, labels: NDArray[np.uint8], figures: NDArray[np.uint8], strength: float, rng: np.random.Generator
) -> F32:
    """A signal between a source and a new drawing, both (H, W, 3) in −1…1.

    Parameters
    ----------
    labels, figures : of the new drawing; changes respect the borders of its figures' parts.
    strength : 0 the source … 1 the new drawing.
    """
    if strength <= 0:
        return source
    if strength >= 1:
        return target
    near = _coloured_like(target, source, _COLOUR_KEPT * (1 - strength))
    change = np.abs(near - source).mean(2)
    field = _resistance(change, labels, figures, rng)
    order = np.argsort(field, axis=None)
    reached = np.cumsum(change.ravel()[order], dtype=np.float64)
    at = min(int(np.searchsorted(reached, strength * reached[-1])), order.size - 1)
    mask = 1 / (1 + np.exp(np.clip((field - field.ravel()[order[at]]) / np.float32(_SOFT), -30, 30)))
    mask = mask.astype(np.float32)[..., None]
    return np.asarray(source * (1 - mask) + near * mask, np.float32)


def _resistance(change: F32, labels: NDArray[np.uint8], figures: NDArray[np.uint8], rng: np.random.Generator) -> F32:
    """(H, W): how long each place stays with the source: smooth over the background, nearly one value for each part of a figure.

    Random, and longer where much would change.
    """
    h, w = labels.shape
    cells = max(2, round(h / max(h, w) * _BLOTS)), max(2, round(w / max(h, w) * _BLOTS))
    coarse, fine = (rng.standard_normal((cells[0] * k, cells[1] * k), dtype=np.float32) for k in (1, 3))
    smooth = cubic(coarse, (w, h)) + 0.35 * cubic(fine, (w, h))
    wide = cv2.GaussianBlur(change, (0, 0), max(h, w) / _BLOTS / 2)
    field = np.asarray(smooth + wide / max(float(wide.std()), 1e-6) * 0.5, np.float32)
    part = figures.astype(np.int64) * 32 + labels
    for value in np.unique(part[figures > 0]):
        inside_part = part == value
        mean = field[inside_part].mean()
        field[inside_part] = mean + _WITHIN * (field[inside_part] - mean)
    return np.asarray(cv2.GaussianBlur(field, (0, 0), max(1.0, max(h, w) / 300)), np.float32)


def inside(source_u8: NDArray[np.uint8], changed_u8: NDArray[np.uint8], mask: F32, feather: float) -> NDArray[np.uint8]:
    """A picture changed only where a mask (H, W) 0…1 is open, as far as it is; outside it stays bit for bit, inside the change fades in.

    `feather` is the way in px over which it fades in, inwards from the mask's border.
    """
    opened = mask > 0
    if feather >= 0.5:
        depth = cv2.distanceTransform(np.pad(opened, 1, mode="edge").astype(np.uint8), cv2.DIST_L2, 5)[1:-1, 1:-1]
        amount = np.clip(depth / np.float32(feather), 0, 1) * opened
        amount = amount * amount * (3 - 2 * amount)
    else:
        amount = opened.astype(np.float32)
    amount = amount * mask
    mixed = source_u8 * (1 - amount[..., None]) + changed_u8.astype(np.float32) * amount[..., None]
    return np.where(opened[..., None], np.clip(mixed + 0.5, 0, 255).astype(np.uint8), source_u8)


def _coloured_like(target: F32, source: F32, amount: float) -> F32:
    sigma = max(target.shape[:2]) / 24
    shift = cv2.GaussianBlur(source, (0, 0), sigma) - cv2.GaussianBlur(target, (0, 0), sigma)
    return np.asarray(np.clip(target + shift * np.float32(amount), -1, 1), np.float32)
