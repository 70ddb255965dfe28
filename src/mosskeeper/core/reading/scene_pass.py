"""The reader's first pass: the whole picture, its maps, and the figures in it, each on its own."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.resample import fitted, gentle, linear
from mosskeeper.core.reading.classes import FIGURE, JOINT_COUNT, PARTS
from mosskeeper.core.reading.weights import Weights

F32 = NDArray[np.float32]
AREA = 176 * 176  # px at which a picture is read, about
_STEP = 16  # the network halves four times
_LEAST, _MOST = 64, 448  # px of a side
_CELL = 4  # px per cell of the coarse maps
_OFFSET = 8.0  # cells per unit of the offset maps
_SIZE = 16.0  # px: unit of head sizes
_HEAD = 0.30  # confidence from which a head is one
_MOST_HEADS = 12
_APART = 0.55  # head heights that two heads keep
_SMALLEST = 14.0  # cells of a figure
_HEADLESS = 0.02  # of the picture, from which a figure without a head is told


@dataclass(frozen=True)
class FigureFound:
    """One figure as the first pass found it; places in px of the picture."""

    head: tuple[float, float, float]  # x, y, height; of height 0 where no head was found
    sure: float  # 0…1 that somebody is there
    mask: F32  # (h, w) 0…1, at half the size that was read
    joints: NDArray[np.float64]  # (18, 2) px
    joint_confidence: F32  # (18,)
    named: F32  # logits of its attributes
    colours: tuple[F32 | None, F32 | None]  # Lab of the first and second colour of its clothes


@dataclass(frozen=True)
class SceneFound:
    """What the first pass made of a picture."""

    parts: F32  # (parts, h, w) probabilities at half the size that was read
    depth: F32  # (h, w) 0 near … 1 far
    albedo: F32  # (h, w, 3) Lab of the figures without light
    picture: F32  # logits of the picture's attributes
    figures: list[FigureFound]  # the largest first


def read_size(width: int, height: int, area: int = AREA) -> tuple[int, int]:
    """(width, height) at which a picture is read: its proportions, multiples of 16, about `area`."""
    k = np.sqrt(area / (width * height))
    w, h = (int(np.clip(round(side * k / _STEP) * _STEP, _LEAST, _MOST)) for side in (width, height))
    return w, h


def look(rgb_u8: NDArray[np.uint8], weights: Weights, area: int = AREA) -> SceneFound:
    """The first pass over a picture (H, W, 3) of any size from 1×1."""
    height, width = rgb_u8.shape[:2]
    w, h = read_size(width, height, area)
    small = gentle(rgb_u8, (w, h))
    x = np.ascontiguousarray(small.transpose(2, 0, 1)[None], np.float32) / np.float32(255)
    fine, coarse, features, whole, picture = weights.run("scene", x=x)
    n = len(PARTS)
    parts = _softmax(fine[0, :n], 0)
    lab = fine[0, n + 1 : n + 4].transpose(1, 2, 0) * np.float32(weights.card.scales["lab"])
    seen = SceneFound(parts, np.clip(fine[0, n], 0, 1), np.asarray(lab, np.float32), picture[0], [])
    owned = _figures(parts, coarse[0])
    if owned:
        quarters = [fitted(mask, (w // _CELL, h // _CELL)) for _, _, mask in owned]
        masks = np.asarray(np.stack(quarters), np.float32)
        vectors = _pooled(x, fine, coarse, features, whole, masks)
        logits = weights.run("figure", seen=vectors)[0]
        scale = np.array([width / w, height / h])
        cloth = _sigmoid(fine[0, n + 4 : n + 6])
        for (head, sure, mask), quarter, row in zip(owned, masks, logits, strict=True):
            cells, peaks = _joints(coarse[0], quarter, head)
            confidence = _sigmoid(row[-JOINT_COUNT:]) * np.clip(peaks * 2.5, 0, 1)
            at = (cells + 0.5) * _CELL * scale
            seen.figures.append(
                FigureFound(
                    (head[0] * _CELL * scale[0], head[1] * _CELL * scale[1], head[2] * _CELL * scale[1]),
                    sure,
                    mask,
                    at,
                    confidence.astype(np.float32),
                    row[:-JOINT_COUNT],
                    (_cloth(seen.albedo, cloth[0] * mask), _cloth(seen.albedo, cloth[1] * mask)),
                )
            )
        seen.figures.sort(key=lambda found: -float(found.mask.sum()) * (0.5 + found.sure))
    return seen


def _softmax(x: F32, axis: int) -> F32:
    e = np.exp(x - x.max(axis, keepdims=True))
    return np.asarray(e / e.sum(axis, keepdims=True), np.float32)


def _sigmoid(x: F32) -> F32:
    return np.asarray(1 / (1 + np.exp(-np.clip(x, -30, 30))), np.float32)


def _heads(coarse: F32) -> list[tuple[float, float, float, float]]:
    """x, y, height in cells and confidence of the heads, the surest first."""
    sure = _sigmoid(coarse[JOINT_COUNT])
    peak = (sure >= cv2.dilate(sure, np.ones((3, 3), np.uint8))) & (sure > _HEAD)
    rows, columns = np.nonzero(peak)
    found: list[tuple[float, float, float, float]] = []
    for k in np.argsort(-sure[rows, columns]):
        y, x = int(rows[k]), int(columns[k])
        size = float(np.exp(np.clip(coarse[JOINT_COUNT + 3, y, x], -3, 4)) * _SIZE / _CELL)
        dx, dy = coarse[JOINT_COUNT + 1 : JOINT_COUNT + 3, y, x] * _OFFSET
        cx, cy = x + 0.5 + float(np.clip(dx, -1, 1)), y + 0.5 + float(np.clip(dy, -1, 1))
        if all(np.hypot(cx - a, cy - b) > _APART * max(size, c) for a, b, c, _ in found):
            found.append((cx, cy, size, float(sure[y, x])))
        if len(found) == _MOST_HEADS:
            break
    return found


def _figures(parts: F32, coarse: F32) -> list[tuple[tuple[float, float, float], float, F32]]:
    """Head (cells), confidence and mask at half size of each figure: every pixel goes to the head that it points to."""
    figure = parts[FIGURE].sum(0)
    h, w = figure.shape
    heads = _heads(coarse)
    if not heads:
        if (figure > 0.5).mean() < _HEADLESS:
            return []
        y, x = np.average(np.argwhere(figure > 0.5), axis=0) / 2
        return [((float(x), float(y), 0.0), 0.2, figure)]
    dx, dy = (linear(coarse[JOINT_COUNT + k], (w, h)) * _OFFSET for k in (1, 2))
    x, y = np.meshgrid((np.arange(w) + 0.5) / 2, (np.arange(h) + 0.5) / 2)
    away = np.stack([np.hypot(x + dx - hx, y + dy - hy) / max(size, 1.0) for hx, hy, size, _ in heads])
    nearest = away.argmin(0)
    owned = []
    for n, (hx, hy, size, sure) in enumerate(heads):
        mask = np.asarray(figure * (nearest == n), np.float32)
        if mask.sum() / 4 >= _SMALLEST:
            owned.append(((hx, hy, size), sure, mask))
    return owned


def _pooled(x: F32, fine: F32, coarse: F32, features: F32, whole: F32, masks: F32) -> F32:
    """What the figure network is given of each figure; as `training.networks.pooled`."""
    n = len(PARTS)
    small, half = _shrunk(x[0], 4), _shrunk(fine[0], 2)
    parts = _softmax(half[:n], 0)[FIGURE]
    carried = np.concatenate([features[0], small, half[n + 1 : n + 4]]).reshape(-1, parts[0].size).T
    rows = []
    for mask in masks:
        weight = (parts * mask).reshape(len(parts), -1)
        area = weight.mean(1, keepdims=True)
        by_part = weight @ carried / (area * weight.shape[1] + 0.5)
        share = area / (area.sum() + 1e-4)
        inside = features[0] * mask
        rows.append(
            np.concatenate(
                [
                    by_part.ravel(),
                    share.ravel(),
                    inside.sum((1, 2)) / (mask.sum() + 0.5),
                    inside.max((1, 2)),
                    whole[0],
                    _relative(coarse[0], mask),
                ]
            )
        )
    return np.asarray(rows, np.float32)


def _shrunk(maps: F32, k: int) -> F32:
    _, h, w = maps.shape
    maps = maps[:, : h // k * k, : w // k * k]
    total = sum(maps[:, i::k, j::k] for i in range(k) for j in range(k))  # many times faster than a mean over short axes
    return np.asarray(total / np.float32(k * k), np.float32)


def _relative(coarse: F32, mask: F32) -> F32:
    """Where the joints are, from the middle of the figure, in its own size."""
    _, h, w = coarse.shape
    p = _softmax((coarse[:JOINT_COUNT] - 6.0 * (1 - mask)).reshape(JOINT_COUNT, -1), 1)
    y, x = np.mgrid[:h, :w]
    at = np.stack([p @ x.ravel(), p @ y.ravel()], 1)
    at -= at.mean(0)
    return np.asarray((at / (np.abs(at).mean() + 0.5)).ravel(), np.float32)


def _joints(coarse: F32, mask: F32, head: tuple[float, float, float]) -> tuple[NDArray[np.float64], F32]:
    """(18, 2) cells and the share of each joint's certainty that lies there, of one figure."""
    _, h, w = coarse.shape
    near = cv2.dilate(mask, np.ones((5, 5), np.uint8)) if head[2] else np.ones((h, w), np.float32)
    maps = _softmax(coarse[:JOINT_COUNT].reshape(JOINT_COUNT, -1), 1).reshape(JOINT_COUNT, h, w) * (0.02 + near)
    at, peaks = np.zeros((JOINT_COUNT, 2)), np.zeros(JOINT_COUNT, np.float32)
    for k, one in enumerate(maps):
        y, x = divmod(int(one.argmax()), w)
        y0, y1, x0, x1 = max(y - 2, 0), min(y + 3, h), max(x - 2, 0), min(x + 3, w)
        window = one[y0:y1, x0:x1]
        total = float(window.sum()) + 1e-9
        at[k] = (window.sum(0) @ np.arange(x0, x1)) / total, (window.sum(1) @ np.arange(y0, y1)) / total
        peaks[k] = total
    return at, peaks


def _cloth(lab: F32, weight: F32) -> F32 | None:
    """Lab of the cloth under `weight`: the median of what is surely of it."""
    sure = weight > 0.5
    if sure.sum() < 6:
        sure = weight > 0.25
    return np.asarray(np.median(lab[sure], axis=0), np.float32) if sure.sum() >= 4 else None
