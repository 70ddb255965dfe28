"""Finishes that are cut, drawn or glazed rather than painted: what becomes of a finished picture in each.

All functions take a picture (H, W, 3) float32 in 0…1 and give one of the same kind. `u` is the number of pixels per
pixel of a picture 512 wide. The methods are ours.
"""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.paint import PAPER
from mosskeeper.core.pictures.resample import nearest

F32 = NDArray[np.float32]
_LUMA = np.array([0.3, 0.59, 0.11], np.float32)
_FACE = np.isin(np.arange(32), [Part.FACE, Part.BROW, Part.EYES, Part.MOUTH, Part.EAR])
_PAPER = PAPER.astype(np.float32)


def _f32(a: NDArray[Any]) -> F32:
    return np.asarray(a, np.float32)


def _tone(rgb: F32, labels: NDArray[np.uint8], u: float, clip: float = 2.0) -> F32:
    """Lightness (H, W) with its local contrast raised, so that dark scenes keep their forms, and dark faces their drawing."""
    grey = np.clip(rgb @ _LUMA * 255, 0, 255).astype(np.uint8)
    even = cv2.createCLAHE(clip, (4, 4)).apply(grey)
    tone = _f32(cv2.GaussianBlur(even, (0, 0), max(0.4, 0.7 * u)) / np.float32(255))
    face = _FACE[labels]
    if face.any() and (missing := 0.52 - float(np.median(tone[face]))) > 0:
        tone += cv2.GaussianBlur(face.astype(np.float32), (0, 0), max(0.4, 1.2 * u)) * np.float32(missing)
    return tone


def _edges(labels: NDArray[np.uint8], u: float, width: float) -> F32:
    """1 on the borders between parts, `width` px wide at 512."""
    size = max(1, round(width * u))
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size + 1, size + 1))
    border = cv2.morphologyEx(labels, cv2.MORPH_GRADIENT, kernel) > 0
    return _f32(cv2.GaussianBlur(border.astype(np.float32), (0, 0), max(0.4, 0.5 * u)))


def woodcut(rgb: F32, labels: NDArray[np.uint8], warp: F32, u: float, ink: F32) -> F32:
    """Tones carved in lines: grooves that swell with the light, crossed where it is darkest, over flat colour."""
    h, w = labels.shape
    tone = _tone(rgb, labels, u, 3.0)
    y, x = np.mgrid[0:h, 0:w].astype(np.float32)
    slope = cv2.GaussianBlur(tone, (0, 0), 6 * u)
    # grooves follow the forms: the lines are level lines of the height plus the tone
    along = (y + 26 * u * slope + 1.6 * u * warp) / (4.6 * u)
    across = (x * 0.8 + y * 0.6 + 1.6 * u * warp) / (5.4 * u)
    groove, cross = 0.5 + 0.5 * np.cos(2 * np.pi * along), 0.5 + 0.5 * np.cos(2 * np.pi * across)
    dark = np.clip((0.66 - tone) / 0.56, 0, 1)
    sharp = 9.0
    carved = 1 / (1 + np.exp(-sharp * (dark * 1.25 - groove)))
    crossed = 1 / (1 + np.exp(-sharp * ((dark - 0.52) * 1.9 - cross)))
    printed = np.maximum(np.maximum(carved, crossed), _edges(labels, u, 1.6))
    printed = np.where(tone > 0.70, printed * np.clip((0.78 - tone) / 0.08, 0, 1), printed)
    colour = cv2.GaussianBlur(rgb, (0, 0), 1.6 * u)
    colour = _PAPER * 0.30 + np.clip(colour * 1.12 + 0.10, 0, 1) * 0.70
    return _f32(colour * (1 - printed[..., None]) + ink * printed[..., None])


def linocut(rgb: F32, labels: NDArray[np.uint8], warp: F32, fine: F32, u: float, ink: F32, second: F32) -> F32:
    """Two inks and the paper: tones cut into three steps, with gouge marks left standing in the light ones."""
    h, w = labels.shape
    tone = cv2.GaussianBlur(_tone(rgb, labels, u, 4.0), (0, 0), 1.1 * u) + 0.035 * warp
    y, x = np.mgrid[0:h, 0:w].astype(np.float32)
    gouge = np.cos(2 * np.pi * (x * 0.34 + y * 0.94 + 5 * u * warp) / (8.5 * u)) > 0.86
    marks = gouge & (fine > -0.2) & (labels < Part.HAIR)
    step = 14.0
    darkest = 1 / (1 + np.exp(step * 4 * (tone - 0.36)))
    middle = 1 / (1 + np.exp(step * 4 * (tone - 0.62)))
    middle = np.maximum(middle, (marks & (tone < 0.80)) * 0.9)
    darkest = np.maximum(darkest, _edges(labels, u, 1.2) * 0.95)
    speck = np.clip(1 - 0.10 * np.maximum(fine - 1.2, 0), 0.6, 1)
    out = _PAPER * (1 - middle[..., None]) + second * middle[..., None]
    out = out * (1 - darkest[..., None] * speck[..., None]) + ink * (darkest * speck)[..., None]
    return _f32(out)


def pencil(rgb: F32, labels: NDArray[np.uint8], brush: F32, fine: F32, u: float) -> F32:
    """A graphite study: hatching that thickens with the dark, contours drawn twice, paper left in the lights."""
    tone = _tone(rgb, labels, u, 2.5)
    h, w = labels.shape
    y, x = np.mgrid[0:h, 0:w].astype(np.float32)
    wander = cv2.GaussianBlur(fine, (0, 0), 5 * u) * 9 * u
    hatch = 0.5 + 0.5 * np.cos(2 * np.pi * (x * 0.72 + y * 0.70 + wander) / (3.4 * u))
    second = 0.5 + 0.5 * np.cos(2 * np.pi * (x * 0.93 - y * 0.36 + wander) / (3.9 * u))
    dark = np.clip((0.86 - tone) / 0.86, 0, 1) ** 1.15
    strokes = dark * (0.42 + 0.62 * hatch * (0.8 + 0.25 * brush)) + np.clip(dark - 0.55, 0, 1) * second * 0.7
    tooth = np.clip(0.86 + 0.20 * fine, 0.3, 1.15)
    graphite = np.clip(strokes * 1.02 * tooth, 0, 0.95)
    lines = cv2.Laplacian(cv2.GaussianBlur(tone, (0, 0), 1.0 * u), cv2.CV_32F, ksize=3) * 3.2
    graphite = np.maximum(graphite, np.clip(_edges(labels, u, 1.0) * 0.62 + np.clip(lines, 0, 0.5), 0, 0.85) * tooth)
    lead = np.array([0.19, 0.20, 0.23], np.float32)
    tint = rgb * 0.16 + _PAPER * 0.84  # a breath of colour, as from a coloured stump
    return _f32(tint * (1 - graphite[..., None]) + lead * graphite[..., None])


def stained_glass(rgb: F32, labels: NDArray[np.uint8], large: F32, fine: F32, u: float) -> F32:
    """Panes of one glowing colour each, in lead: the parts' borders, and more cames across large areas."""
    h, w = labels.shape
    rng = np.random.default_rng(11)
    n = 90
    seeds = np.stack([rng.uniform(0, h, n), rng.uniform(0, w, n)], 1).astype(np.float32)
    small = (max(1, h // 2), max(1, w // 2))
    yy, xx = np.mgrid[0 : small[0], 0 : small[1]].astype(np.float32) * 2
    distance = (yy[..., None] - seeds[:, 0]) ** 2 + (xx[..., None] - seeds[:, 1]) ** 2
    cell = nearest(distance.argmin(2).astype(np.uint8), (w, h))
    behind = labels < Part.HAIR
    panes = np.where(behind, cell, 200).astype(np.uint8)
    lead = np.maximum(_edges(panes, u, 2.2), _edges(np.where(behind, 0, labels).astype(np.uint8), u, 2.4))
    head = (labels >= Part.HAIR) & (labels <= Part.MOUTH)
    lead = np.where(head & (labels != Part.HAIR), lead * 0.75, lead)
    # one colour for each pane behind the figure
    flat = cv2.bilateralFilter(rgb, 7, 0.15, 5 * u)
    index = cell.astype(np.int64)
    counts = np.bincount(index[behind], minlength=n).astype(np.float32) + 1e-6
    means = np.stack([np.bincount(index[behind], rgb[..., c][behind], n) for c in range(3)], 1) / counts[:, None]
    glass = np.where(behind[..., None], flat * 0.35 + means[index].astype(np.float32) * 0.65, flat)
    grey = glass @ _LUMA
    glass = grey[..., None] + (glass - grey[..., None]) * 1.75
    glow = 1.10 + 0.09 * large + 0.035 * fine
    glass = np.clip(glass * glow[..., None] + 0.03, 0, 1)
    came = np.array([0.09, 0.09, 0.11], np.float32) + 0.10 * np.clip(fine, 0, 2)[..., None] * 0.3
    return _f32(glass * (1 - lead[..., None]) + came * lead[..., None])


def felt(rgb: F32, labels: NDArray[np.uint8], fibre: F32, fine: F32, u: float) -> F32:
    """Pieces of felt, cut simply and sewn on: matted fibres, fuzzy edges, a line of stitches inside each piece."""
    h, w = labels.shape
    size = max(3, int(3.2 * u) // 2 * 2 + 1)
    simple: NDArray[Any] = cv2.medianBlur((np.clip(rgb, 0, 1) * 255).astype(np.uint8), size).astype(np.float32) / np.float32(255)
    features: NDArray[Any] = ((labels >= Part.FACE) & (labels <= Part.MOUTH)).astype(np.float32)
    head = cv2.GaussianBlur(features, (0, 0), 1.2 * u)[..., None]
    simple = simple * (1 - head) + rgb * head  # features are embroidered: they stay
    gy, gx = np.mgrid[0:h, 0:w].astype(np.float32)
    fuzz = cv2.GaussianBlur(fine, (0, 0), 0.8 * u) * 2.2 * u * (1 - 0.8 * head[..., 0])
    shaggy = cv2.remap(simple, gx + fuzz, gy + np.roll(fuzz, 9, 1), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT)
    pieces = np.where(labels < Part.HAIR, labels, np.where(head[..., 0] > 0.5, Part.FACE, labels)).astype(np.uint8)
    border = (_edges(pieces, u, 1.0) > 0.4).astype(np.uint8)
    inward = np.minimum(cv2.distanceTransform(1 - border, cv2.DIST_L2, 3), 1000 * u)  # endless where nothing borders
    seam = np.exp(-(((inward - 5.2 * u) / (0.75 * u)) ** 2)) * ((np.cos((gx * 0.9 + gy * 1.15) / (1.9 * u)) > -0.15) & (head[..., 0] < 0.1))
    groove = np.exp(-((inward / (3.0 * u)) ** 2))
    matted = 1 + (0.030 * fibre + 0.040 * fine) * (1 - 0.5 * head[..., 0])
    out = shaggy * matted[..., None] * (1 - 0.24 * groove * (1 - 0.8 * head[..., 0]))[..., None]
    thread = np.clip(out * 0.45 + 0.50, 0, 1)
    stitched = (seam * 0.75)[..., None]
    return _f32(np.clip(out * (1 - stitched) + thread * stitched, 0, 1))
