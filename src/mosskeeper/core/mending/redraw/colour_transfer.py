"""Carrying over: a changed drawing in the colours that the picture itself has.

A picture is rarely just the drawing of its scene: references pulled its colours, somebody painted on it. What it has
besides the drawing is found where both show the same, layer by layer, and given to what is drawn anew.
"""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import SKIN_PARTS, Part
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.mending.masks import F32, Mask
from mosskeeper.core.mending.redraw.light import carried_on
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab

_RIDGE = 1.2  # pull of a layer's colour map towards no change, in Lab units squared
_NEAR = 22.0  # px at 512 wide over which what a picture has besides its drawing is carried on
_LAYERS = 3  # the place, skin, what else figures are
_FARTHEST = 14.0  # Lab units by which a part may be shifted


def carried(picture: NDArray[np.uint8], before: Drawing, after: Drawing, redrawn: F32, trusted: Mask | None = None) -> F32:
    """The changed drawing with what the picture has besides its own drawing: (H, W, 3) in 0…255.

    Layer by layer a colour map from the drawing to the picture, then what is left, carried on smoothly. Where nothing is
    redrawn, the picture itself takes the change of light.

    Parameters
    ----------
    redrawn : (H, W) 0…1, from `replaced`.
    trusted : where drawing and picture show the same part, if they do not lie on each other pixel by pixel.
    """
    plain = after.image.astype(np.float32)
    lit = picture + (plain - before.image.astype(np.float32))
    if (picture == before.image).all():
        return plain
    if trusted is None and np.abs(picture.astype(np.float32) - before.image)[redrawn < 0.05].mean() < 1.0:
        besides = carried_on(picture.astype(np.float32) - before.image, redrawn < 0.05)  # an own take that carries mends
        return np.asarray(lit + (plain + besides - lit) * redrawn[..., None], np.float32)
    p, b, a = (rgb_to_lab(x.astype(np.float32) / np.float32(255)) for x in (picture, before.image, after.image))
    of_before, of_after = _layers(before.labels), _layers(after.labels)
    sigma = float(_NEAR * np.sqrt(p.shape[0] * p.shape[1] / (512 * 640)))
    mapped, total = np.zeros_like(a), np.zeros(a.shape[:2], np.float32)
    for k in range(_LAYERS):
        soft = cv2.GaussianBlur((of_after == k).astype(np.float32), (0, 0), 1.0)
        if soft.max() < 0.01:
            continue
        inside = cv2.erode((of_before == k).astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
        inside &= redrawn < 0.1 if trusted is None else trusted
        own = _colour_map(b[inside], p[inside]) if trusted is None else _colour_shift(b, p, inside, before.labels)
        rest = p - (b @ own[:3] + own[3])
        odd = np.square(np.abs(rest - cv2.GaussianBlur(rest, (0, 0), 3)).max(2) / 8) + np.square(np.linalg.norm(rest, axis=2) / 25)
        agree = (inside * np.exp(-odd)).astype(np.float32)
        near = cv2.GaussianBlur(agree, (0, 0), sigma) + 0.02
        besides = cv2.GaussianBlur(rest * agree[..., None], (0, 0), sigma) / near[..., None]
        mapped += (a @ own[:3] + own[3] + besides) * soft[..., None]
        total += soft
    tones = lab_to_rgb(mapped / np.maximum(total, 1e-3)[..., None]) * 255
    return np.asarray(lit + (tones - lit) * redrawn[..., None], np.float32)


def _layers(labels: NDArray[np.uint8]) -> NDArray[Any]:
    return np.where(np.isin(labels, SKIN_PARTS), 1, np.where((labels >= Part.HAIR) & (labels <= Part.COMPANION), 2, 0))


def _colour_map(x: F32, y: F32) -> F32:
    """(4, 3) affine map of colours x → y, held to no change by a ridge; fitted twice, the second time without what fits badly."""
    m = np.vstack([np.eye(3), np.zeros(3)])
    if len(x) < 60:
        return m.astype(np.float32)
    step = max(1, len(x) // 20000)
    given, wanted = x[::step].astype(np.float64), y[::step].astype(np.float64)
    keep = np.ones(len(given), bool)
    for _ in range(2):
        middle = given[keep].mean(0)
        q = np.hstack([given[keep] - middle, np.ones((keep.sum(), 1))])
        m = np.linalg.solve(q.T @ q + np.diag([1.0, 1.0, 1.0, 0.02]) * _RIDGE * len(q), q.T @ (wanted[keep] - given[keep]))
        m[:3] += np.eye(3)
        m[3] += middle - middle @ m[:3]
        error = np.linalg.norm(given @ m[:3] + m[3] - wanted, axis=1)
        keep = error < max(2.5 * float(np.median(error)), 3.0)
    return m.astype(np.float32)


def _colour_shift(b: F32, p: F32, inside: Mask, labels: NDArray[np.uint8]) -> F32:
    """The same where drawing and picture do not register: the range of lightness, and each part's median."""
    k, move = np.eye(3, dtype=np.float32), np.zeros(3)
    there = [m for part in np.unique(labels[inside]) if (m := inside & (labels == part)).sum() > 40]
    if there:
        (x0, x1), (y0, y1) = np.percentile(b[inside][:, 0], (10, 90)), np.percentile(p[inside][:, 0], (10, 90))
        k[0, 0] = np.clip((y1 - y0 + 4) / (x1 - x0 + 4), 0.75, 1.35)
        shifts = [np.clip(np.median(p[m], 0) - np.median(b[m], 0) @ k, -_FARTHEST, _FARTHEST) * m.sum() for m in there]
        move = np.sum(shifts, axis=0) / sum(m.sum() for m in there)
    return np.vstack([k, move]).astype(np.float32)
