"""Colours on their way: mixed in Lab."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from mosskeeper.core.illustrator.description import Rgb
from mosskeeper.core.illustrator.vocabulary.colours import rgb
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab


def rgb_of(lab: ArrayLike) -> Rgb:
    red, green, blue = (float(np.clip(v, 0, 1)) for v in lab_to_rgb(np.asarray(lab, np.float32)))
    return red, green, blue


def hexadecimal(colour: ArrayLike) -> str:
    return "".join(f"{int(np.clip(round(float(v) * 255), 0, 255)):02x}" for v in np.asarray(colour))


def mixed_rgb(own: ArrayLike, lab: ArrayLike, share: float) -> Rgb:
    """From a colour 0…1 towards one in Lab."""
    return rgb_of(rgb_to_lab(np.asarray(own, np.float32)) * (1 - share) + np.asarray(lab, np.float32) * share)


def mixed_hex(a: str, b: str, share: float) -> str:
    return hexadecimal(mixed_rgb(rgb(a), rgb_to_lab(np.asarray(rgb(b), np.float32)), share))
