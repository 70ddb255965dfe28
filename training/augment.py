"""What happens to a stored drawing before a network sees it: another crop, another light, now and then another background or hand.

Random choices widen what the networks know; all targets follow them.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

F32 = NDArray[np.float32]
Rng = np.random.Generator
PAPER = (235, 228, 214)


def photometric(x: F32, rng: Rng) -> tuple[F32, bool]:
    """(H, W, 3) in 0…1 with other light, blur, noise and compression; and whether its colours still tell anything."""
    coloured = True
    if rng.uniform() < 0.4:
        x = x * (1 + rng.normal(size=3).astype(np.float32) * np.float32(0.03))
        x = np.clip(x, 0, 1) ** np.float32(np.exp(rng.normal() * 0.10))
        x = (x - 0.5) * np.float32(np.exp(rng.normal() * 0.08)) + np.float32(0.5 + rng.normal() * 0.02)
        grey = x.mean(2, keepdims=True)
        x = grey + (x - grey) * np.float32(np.exp(rng.normal() * 0.10))
    if rng.uniform() < 0.03:
        x, coloured = np.repeat(x.mean(2, keepdims=True), 3, 2), False
    u = rng.uniform()
    if u < 0.15:
        x = cv2.GaussianBlur(x, (0, 0), rng.uniform(0.4, 1.1))
    elif u < 0.25:
        x = x + (x - cv2.GaussianBlur(x, (0, 0), 1.0)) * np.float32(rng.uniform(0.3, 1.0))
    if rng.uniform() < 0.2:
        x = x + rng.normal(size=x.shape).astype(np.float32) * np.float32(rng.uniform(0.01, 0.04))
    x = np.clip(x, 0, 1)
    if rng.uniform() < 0.15:
        code = cv2.imencode(".jpg", (x * 255).astype(np.uint8), [cv2.IMWRITE_JPEG_QUALITY, int(rng.integers(35, 92))])[1]
        x = cv2.imdecode(code, cv2.IMREAD_COLOR).astype(np.float32) / 255
    return np.ascontiguousarray(x, np.float32), coloured


def random_ground(h: int, w: int, rng: Rng) -> F32:
    """(h, w, 3) in 0…1: a sheet, a gradient, blots or stripes of any colour."""
    a, b = rng.uniform(0, 1, 3).astype(np.float32), rng.uniform(0, 1, 3).astype(np.float32)
    kind = rng.integers(4)
    if kind == 0:
        return np.broadcast_to(a, (h, w, 3)).copy()
    if kind == 1:
        t = np.linspace(0, 1, h, dtype=np.float32)[:, None, None]
        return np.broadcast_to(a * (1 - t) + b * t, (h, w, 3)).copy()
    coarse = rng.uniform(0, 1, (int(rng.integers(3, 14)), int(rng.integers(3, 14)), 3)).astype(np.float32)
    blots = cv2.resize(coarse, (w, h), interpolation=cv2.INTER_CUBIC if kind == 2 else cv2.INTER_NEAREST)
    return np.clip(blots * 0.7 + a * 0.3, 0, 1).astype(np.float32)


def other_hand(albedo: F32, figure: NDArray[np.bool_], parts: NDArray[np.uint8], rng: Rng) -> tuple[F32, bool]:
    """The figures as another hand might have drawn them, on any ground: flat, in lines, or as a silhouette; and whether in colour."""
    h, w = parts.shape
    ground = random_ground(h, w, rng)
    kind = rng.uniform()
    outline = cv2.morphologyEx(parts, cv2.MORPH_GRADIENT, np.ones((2, 2), np.uint8)) > 0
    if kind < 0.5:
        out = np.where(figure[..., None], albedo, ground)
        if rng.uniform() < 0.6:
            out[outline & cv2.dilate(figure.astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool)] = rng.uniform(0, 0.25)
        return out, True
    if kind < 0.8:
        paper = np.full((h, w, 3), rng.uniform(0.85, 1), np.float32)
        steps = cv2.morphologyEx((albedo * 255).astype(np.uint8), cv2.MORPH_GRADIENT, np.ones((2, 2), np.uint8)).max(2) > 24
        paper[(steps | outline) & cv2.dilate(figure.astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool)] = rng.uniform(0, 0.3)
        return paper, False
    dark = rng.uniform(0, 0.25, 3).astype(np.float32)
    light = np.clip(ground * 0.4 + 0.6, 0, 1)
    return np.where(figure[..., None], dark, light).astype(np.float32), False


def covered(x: F32, rng: Rng, most: float = 0.3) -> NDArray[np.bool_]:
    """Covers a rectangle of `x` in place; (H, W) where."""
    h, w = x.shape[:2]
    a, b = int(rng.integers(6, max(7, int(w * most)))), int(rng.integers(6, max(7, int(h * most))))
    x0, y0 = int(rng.integers(0, w - a)), int(rng.integers(0, h - b))
    hidden = np.zeros((h, w), bool)
    hidden[y0 : y0 + b, x0 : x0 + a] = True
    x[hidden] = rng.uniform(0, 1, 3)
    return hidden


def affine(source: tuple[float, float], size: tuple[int, int], k: float, degrees: float, flip: bool) -> NDArray[np.float64]:
    """(2, 3): the matrix that brings the point `source` into the middle of a picture of `size`, scaled, turned and flipped."""
    t = np.deg2rad(degrees)
    linear = np.array([[np.cos(t), -np.sin(t)], [np.sin(t), np.cos(t)]]) * k
    if flip:
        linear = np.diag([-1.0, 1.0]) @ linear
    return np.concatenate([linear, (np.array(size) / 2 - linear @ np.asarray(source, float))[:, None]], 1)


def resampled(image: NDArray[np.uint8], matrix: NDArray[np.float64], size: tuple[int, int], border: int) -> F32:
    k = float(np.sqrt(abs(np.linalg.det(matrix[:, :2]))))
    if k < 0.75:
        image = cv2.GaussianBlur(image, (0, 0), 0.38 / k)
    out = cv2.warpAffine(image, matrix, size, flags=cv2.INTER_LINEAR, borderMode=border, borderValue=PAPER)
    return out.astype(np.float32) / np.float32(255)
