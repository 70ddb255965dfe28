"""Handling and light of a picture as numbers: how lines, grain and colour are treated, and how warm and how contrasted it is lit.

Lightness is parted into bands by Gaussian smoothing (a Laplacian pyramid without subsampling; Burt, Adelson, 1983).
"""

from __future__ import annotations

from dataclasses import astuple, dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.pictures.resample import fitted, scaled

F32 = NDArray[np.float32]
_SIDE = 512  # px of the longer side at which pictures are measured
GRAIN, LINE = 0.9, 3.2  # px at that size: below the first is grain, between both are lines and edges
_LEAST = 0.25  # Lab units of a band that are taken for something
_HALVED = 0.7  # log ratio at which likeness is halved
_APART = (22.0, 9.0, 9.0, 12.0)  # Lab units between the light of unlike pictures: mean and spread of lightness, a*, b*


@dataclass(frozen=True, slots=True)
class Handling:
    """Root mean squares in Lab units. grain : finest structure. line : lines and edges. colour : chroma about grey."""

    grain: float
    line: float
    colour: float


@dataclass(frozen=True, slots=True)
class LightSeen:
    """Lab units. lightness, spread : mean and deviation of coarse lightness. a, b : mean of the colour axes; b is warmth."""

    lightness: float
    spread: float
    a: float
    b: float


def bands(light: F32, size: int) -> tuple[F32, F32, F32]:
    """Lightness (H, W) of a picture with a longer side of `size` px as (coarse, line, grain), which sum to it."""
    k = size / _SIDE
    fine = np.asarray(cv2.GaussianBlur(light, (0, 0), max(GRAIN * k, 0.3)), np.float32)
    coarse = np.asarray(cv2.GaussianBlur(fine, (0, 0), max(LINE * k, 0.5)), np.float32)
    return coarse, fine - coarse, light - fine


def measure_handling(rgb_u8: NDArray[np.uint8]) -> Handling:
    """The handling of a picture (H, W, 3)."""
    lab = _lab(rgb_u8)
    _, line, grain = bands(lab[..., 0], max(lab.shape[:2]))
    return Handling(_rms(grain), _rms(line), float(np.sqrt(np.square(lab[..., 1:]).sum(2).mean())))


def measure_light(rgb_u8: NDArray[np.uint8]) -> LightSeen:
    """The light of a picture (H, W, 3)."""
    lab = _lab(rgb_u8)
    coarse = cv2.GaussianBlur(lab[..., 0], (0, 0), 8)
    return LightSeen(float(coarse.mean()), float(coarse.std()), float(lab[..., 1].mean()), float(lab[..., 2].mean()))


def handled_alike(a: Handling, b: Handling) -> float:
    """0…1: how alike two pictures are handled; 1 the same, .5 where a measure is double."""
    ratios = [abs(float(np.log(max(x, _LEAST) / max(y, _LEAST)))) for x, y in zip(astuple(a), astuple(b), strict=True)]
    return float(0.5 ** (np.mean(ratios) / _HALVED))


def lit_alike(a: LightSeen, b: LightSeen) -> float:
    """0…1: how alike two pictures are lit; 1 the same, 0 as far as unlike pictures are."""
    far = [abs(x - y) / apart for x, y, apart in zip(astuple(a), astuple(b), _APART, strict=True)]
    return float(np.clip(1 - np.mean(far), 0, 1))


def _lab(rgb_u8: NDArray[np.uint8]) -> F32:
    small = fitted(np.ascontiguousarray(rgb_u8[:, :, :3]), scaled(rgb_u8.shape, min(1.0, _SIDE / max(rgb_u8.shape[:2]))))
    return np.asarray(rgb_to_lab(small.astype(np.float32) / np.float32(255)), np.float32)


def _rms(band: F32) -> float:
    return float(np.sqrt(np.square(band).mean()))
