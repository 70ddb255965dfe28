"""What can be measured in any picture without knowing what it shows."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.vocabulary.colours import CLOTH
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab
from mosskeeper.core.pictures.resample import fitted, scaled
from mosskeeper.core.reading.palette import Palette

_SIDE = 512  # px of the longer side at which pictures are compared: sharpness depends on the size
_LEAST_SHARE = 0.01
_KEYS = ((0.38, "low key"), (0.66, "middle key"), (1.01, "high key"))  # mean lightness below which


@dataclass(frozen=True, slots=True)
class Measures:
    lightness: float  # 0 black … 1 white, mean
    key: str  # low, middle or high key
    contrast: float  # 0…1, between the 5th and the 95th percentile of lightness
    sharpness: float  # strength of the finest detail over that of coarser detail: 0 blurred, about 1 sharp
    texture: float  # 0…1, mean local deviation of lightness


@dataclass(frozen=True, slots=True)
class NamedColour:
    name: str  # as in the vocabulary of clothes: "moss", "pale teal"
    rgb: tuple[float, float, float]
    share: float  # of the picture's area


def measure(rgb_u8: NDArray[np.uint8]) -> Measures:
    """Measures of a picture (H, W, 3).

    Sharpness compares the energies of two neighbouring bands of a Laplacian pyramid (Burt, Adelson, 1983); the ratio is
    ours.
    """
    light = rgb_to_lab(_fitted(rgb_u8).astype(np.float32) / np.float32(255))[..., 0] / np.float32(100)
    mean = float(light.mean())
    low, high = np.percentile(light, (5, 95))
    fine, coarse = (
        (light - cv2.GaussianBlur(light, (0, 0), 0.8)),
        cv2.GaussianBlur(light, (0, 0), 0.8) - cv2.GaussianBlur(light, (0, 0), 1.6),
    )
    sharpness = float(np.sqrt(np.square(fine).mean() / max(float(np.square(coarse).mean()), 1e-9)))
    local = cv2.GaussianBlur(light * light, (0, 0), 3) - np.square(cv2.GaussianBlur(light, (0, 0), 3))
    return Measures(
        mean, next(name for below, name in _KEYS if mean < below), float(high - low), sharpness, float(np.sqrt(np.maximum(local, 0)).mean())
    )


def tones(rgb_u8: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """(H, W) grey in which colours of one lightness stay apart; plain luminance where that tells more apart.

    References: Lu, Xu, Jia, "Contrast preserving decolorization", 2012, as OpenCV has it.
    """
    grey, _ = cv2.decolor(np.ascontiguousarray(rgb_u8[:, :, ::-1]))
    plain = cv2.cvtColor(rgb_u8, cv2.COLOR_RGB2GRAY)
    return np.asarray(grey if grey.std() >= plain.std() else plain, np.uint8)


def named_palette(palette: Palette) -> list[NamedColour]:
    """The colours of a palette by name, the largest first, those of one name taken together."""
    names = list(CLOTH)
    known = rgb_to_lab(np.asarray([CLOTH[name] for name in names], np.float32))
    found: dict[str, tuple[float, NDArray[np.float32]]] = {}
    for lab, share in zip(palette.lab, palette.area, strict=True):
        name = names[int(np.square(known - lab).sum(1).argmin())]
        area, total = found.get(name, (0.0, np.zeros(3, np.float32)))
        found[name] = (area + float(share), np.asarray(total + lab * share, np.float32))
    out = []
    for name, (area, total) in found.items():
        if area >= _LEAST_SHARE:
            r, g, b = lab_to_rgb(total / np.float32(area))
            out.append(NamedColour(name, (float(r), float(g), float(b)), area))
    return sorted(out, key=lambda colour: -colour.share)


def _fitted(rgb_u8: NDArray[np.uint8]) -> NDArray[np.uint8]:
    k = _SIDE / max(rgb_u8.shape[:2])
    return fitted(rgb_u8, scaled(rgb_u8.shape, k)) if k < 1 else rgb_u8
