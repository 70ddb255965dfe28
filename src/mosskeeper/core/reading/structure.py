"""Structure of pictures: contours, tones and shapes, and how far two of a kind agree. The scales are ours."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.pictures.resample import fitted
from mosskeeper.core.reading.palette import read_palette

F32 = NDArray[np.float32]
COMPARED = 256  # px of the longer side at which structure is compared
LUMA = np.array([0.299, 0.587, 0.114], np.float32)
_LINE = 0.34  # how dark a full edge cue draws its lines
_COARSE = 28.0  # a tone or sketch target is followed down to this fraction of the picture's longer side


def grey(picture: NDArray[np.uint8]) -> F32:
    """(H, W) 0…1: the luminance of a picture, as a mask."""
    return np.asarray(picture[:, :, :3].astype(np.float32) @ LUMA / np.float32(255), np.float32)


def edge_f_score(found: NDArray[np.bool_], wanted: NDArray[np.bool_], where: NDArray[np.bool_] | None = None) -> float:
    """Harmonic mean of precision and recall of contours, within a tolerance of about 1 % of the longer side.

    References: Martin, Fowlkes, Malik, "Learning to detect natural image boundaries", 2004 (without its matching).
    """
    if where is not None:
        found, wanted = found & where, wanted & where
    if not found.any() or not wanted.any():
        return 0.0
    size = 2 * max(1, round(max(found.shape) / 100)) + 1
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    near_wanted, near_found = (cv2.dilate(e.astype(np.uint8), kernel) > 0 for e in (wanted, found))
    precision, recall = (found & near_wanted).sum() / found.sum(), (wanted & near_found).sum() / wanted.sum()
    return float(2 * precision * recall / max(precision + recall, 1e-9))


def coarse_tone(rgb_u8: NDArray[np.uint8]) -> F32:
    """(H, W) luminance without detail."""
    return without_detail(grey(rgb_u8))


def shared_information(a: NDArray[np.integer], b: NDArray[np.integer], mask: F32) -> float:
    """0…1: how much two partitions (H, W) of a picture say of each other, their mutual information over their mean entropy.

    References: Strehl, Ghosh, "Cluster ensembles", 2002 (normalised mutual information).
    """
    joint = np.zeros((int(a.max()) + 1, int(b.max()) + 1))
    np.add.at(joint, (a.ravel(), b.ravel()), mask.ravel())
    joint /= joint.sum()
    of_a, of_b = joint.sum(1), joint.sum(0)
    entropies = [-float((p[p > 0] * np.log(p[p > 0])).sum()) for p in (of_a, of_b, joint.ravel())]
    if min(entropies[:2]) < 1e-9:
        return 0.0
    return float(2 * (entropies[0] + entropies[1] - entropies[2]) / (entropies[0] + entropies[1]))


def flat_colours(rgb_u8: NDArray[np.uint8]) -> NDArray[np.intp]:
    """(H, W): for each pixel the nearest of the picture's main colours; what a flat sketch consists of."""
    lab = rgb_to_lab(rgb_u8.astype(np.float32) / np.float32(255))
    centres = read_palette(rgb_u8).lab
    return np.asarray(np.square(lab[:, :, None] - centres).sum(-1).argmin(-1))


def without_detail(x: NDArray[np.floating]) -> F32:
    """A map (H, W) or (H, W, 3) without detail."""
    h, w = x.shape[:2]
    return np.asarray(cv2.GaussianBlur(np.ascontiguousarray(x, np.float32), (0, 0), max(w, h) / _COARSE / 2), np.float32)


def correlation(a: F32, b: F32, mask: F32) -> float:
    """−1…1: of two maps (H, W), where a mask 0…1 lets them count; 0 where one is flat."""
    total = mask.sum()
    da, db = a - (a * mask).sum() / total, b - (b * mask).sum() / total
    scale = np.sqrt((mask * da * da).sum() * (mask * db * db).sum())
    return float((mask * da * db).sum() / scale) if scale > 1e-9 else 0.0


def compared(picture: NDArray[np.uint8], shape: tuple[int, ...] | None = None) -> NDArray[np.uint8]:
    """(h, w, 3): a picture at the size at which structure is compared, or at a shape."""
    if shape is not None:
        return fitted(picture[:, :, :3], (shape[1], shape[0]))
    k = COMPARED / max(picture.shape[:2])
    return fitted(picture[:, :, :3], (max(round(picture.shape[1] * k), 1), max(round(picture.shape[0] * k), 1)))


def lined(estimate: F32, lines: NDArray[np.bool_], mask: F32) -> F32:
    """An estimate (H, W, 3) in −1…1 with dark lines; mask : (H, W, 1) 0…1."""
    h, w = lines.shape
    soft = cv2.GaussianBlur(lines.astype(np.float32), (0, 0), max(0.6, max(w, h) / 900))
    soft = np.clip(soft / max(float(soft.max()), 1e-6), 0, 1)[..., None] * mask * np.float32(_LINE)
    return np.asarray((estimate + 1) * (1 - soft) - 1, np.float32)
