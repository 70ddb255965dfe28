"""How far two pictures are apart, pixel by pixel."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.pictures.resample import fitted

F32 = NDArray[np.float32]
_JUST_SEEN, _FAR = 2.3, 50.0  # ΔE76: noticeable, and where the scale of the map ends
_RAMP = np.array([[247, 244, 236], [214, 206, 160], [196, 128, 74], [156, 65, 37], [60, 20, 20]], np.float32)  # sRGB, near … far


def delta_e_map(a: NDArray[np.uint8], b: NDArray[np.uint8]) -> F32:
    """(H, W) ΔE*ab of two pictures (H, W, 3), the second brought to the size of the first.

    References: CIE 015, Euclidean distance in L*a*b* ("ΔE76").
    """
    h, w = a.shape[:2]
    other = b if b.shape[:2] == (h, w) else fitted(b, (w, h))
    lab_a, lab_b = (rgb_to_lab(np.asarray(x, np.float32) / np.float32(255)) for x in (a, other))
    return np.asarray(np.linalg.norm(lab_a - lab_b, axis=2), np.float32)


def drawn(delta_e: F32) -> NDArray[np.uint8]:
    """(H, W, 3) sRGB of a map of differences: paper where none is seen, darker the farther."""
    t = np.clip((delta_e - _JUST_SEEN) / (_FAR - _JUST_SEEN), 0, 1) ** 0.6 * (len(_RAMP) - 1)
    low = np.minimum(t.astype(np.int64), len(_RAMP) - 2)
    share = (t - low)[..., None]
    return np.asarray(_RAMP[low] * (1 - share) + _RAMP[low + 1] * share + 0.5, np.uint8)


def share_seen(delta_e: F32) -> float:
    """0…1: the share of pixels whose difference is noticed."""
    return float((delta_e > _JUST_SEEN).mean())
