"""A head laid so that its landmarks are where those of a mean face are: what is always in the same place is read more surely."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.face import LANDMARKS
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.head_crop import warped

F32 = NDArray[np.float32]
SIDE, _REACH = 96, 0.62  # px of the aligned head, head heights from its middle to its border
_WIDE, _FAR = 112, 0.75  # the same of the head whose colours are measured
_RINGS = (1.5, 3.0, 4.5, 6.5)  # px from the middle of a pupil: pupil, iris, white, lids
_PUPILS = (LANDMARKS.index("right pupil"), LANDMARKS.index("left pupil"))
_LAB = np.float32(50.0)
_CELL, _COLOURS = 6, 8  # px of a cell of contrasts, and of one of colours
_FINE, _COARSE = 1.2, 3.0  # px: standard deviations between which contrasts are told apart
_LUMINANCE = np.array([0.3, 0.55, 0.15], np.float32)


def aligned_row(rgb_u8: NDArray[np.uint8], marks: NDArray[np.float64], shape: NDArray[np.float32]) -> F32:
    """Contrasts of light and of redness in cells of the aligned head, strongest and mean, and colours in larger ones.

    rgb_u8 : (H, W, 3). marks : (K, 2) px of the landmarks. shape : (K, 2) those of the mean face in head heights about their middle.
    """
    x = warped(rgb_u8, _matrix(marks, shape, SIDE, _REACH), SIDE).astype(np.float32) / np.float32(255)
    maps = []
    for channel in (x @ _LUMINANCE, x[:, :, 0] - x[:, :, 1]):
        fine, coarse = (cv2.GaussianBlur(channel, (0, 0), sigma) for sigma in (_FINE, _COARSE))
        between = fine - coarse
        maps += [np.abs(channel - fine), np.maximum(between, 0), np.maximum(-between, 0)]
    cells = np.stack(maps, 2).reshape(SIDE // _CELL, _CELL, SIDE // _CELL, _CELL, -1)
    colours = cv2.resize(x, (SIDE // _COLOURS, SIDE // _COLOURS), interpolation=cv2.INTER_AREA)
    parts = (np.sqrt(cells.mean((1, 3))) * 4, np.sqrt(cells.max((1, 3))) * 2, colours * 2)
    return np.concatenate([part.ravel() for part in parts]).astype(np.float32)


def colour_row(rgb_u8: NDArray[np.uint8], marks: NDArray[np.float64], shape: NDArray[np.float32]) -> F32:
    """Lab on rings about the pupils, at all landmarks, and in cells of the aligned head: by them the colours without light are told.

    The white of the eye, the pupil and what lies about the head tell the light. Parameters as `aligned_row`.
    """
    matrix = _matrix(marks, shape, _WIDE, _FAR)
    lab = rgb_to_lab(warped(rgb_u8, matrix, _WIDE).astype(np.float32) / np.float32(255)) / _LAB
    at = marks @ matrix[:, :2].T + matrix[:, 2]
    angle = np.arange(8) * np.pi / 4
    ring = np.concatenate([np.zeros((1, 2)), *(r * np.stack([np.cos(angle), np.sin(angle)], 1) for r in _RINGS)])
    cells = cv2.resize(lab, (_WIDE // _COLOURS, _WIDE // _COLOURS), interpolation=cv2.INTER_AREA)
    about = [_sampled(lab, at[pupil] + ring) for pupil in _PUPILS]
    return np.concatenate([*about, _sampled(np.asarray(cv2.blur(lab, (3, 3)), np.float32), at), cells.ravel()]).astype(np.float32)


def _sampled(lab: F32, at: NDArray[np.float64]) -> F32:
    x, y = at.astype(np.float32).T
    return np.asarray(cv2.remap(lab, x[None], y[None], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)[0].ravel(), np.float32)


def _matrix(marks: NDArray[np.float64], shape: NDArray[np.float32], side: int, reach: float) -> NDArray[np.float64]:
    """(2, 3) from the picture to the aligned head: the similarity that brings the landmarks nearest to the mean face."""
    middle = marks.mean(0)
    a, b = shape.astype(np.float64), marks - middle
    turned = np.array([(a * b).sum(), a[:, 0] @ b[:, 1] - a[:, 1] @ b[:, 0]])
    c, s = turned * (side / (2 * reach)) / max(float((turned * turned).sum()), 1e-9) * float((a * a).sum())
    linear = np.array([[c, s], [-s, c]])
    return np.concatenate([linear, (side / 2 - linear @ middle)[:, None]], 1)
