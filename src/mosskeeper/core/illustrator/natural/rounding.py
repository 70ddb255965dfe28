"""Light on the flat cloth and limbs of a natural figure as if they were round, so that body and head have one light."""

from __future__ import annotations

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.natural import planes
from mosskeeper.core.illustrator.shapes import Points
from mosskeeper.core.illustrator.vocabulary.light import Light

_SWELLS = 0.13  # units of the body from the borders of a part to where it is highest
_SOLIDS = (Part.HAIR, Part.FACIAL_HAIR, Part.FACE, Part.BROW, Part.EYES, Part.MOUTH, Part.EAR, Part.NECK)  # lit by themselves


def rounded(colours: NDArray[np.uint8], labels: NDArray[np.uint8], scale: float, light: Light, shoulders: Points) -> NDArray[np.uint8]:
    """The colours of a layer with each part swelling from its borders; but not at the shoulders, where sleeves are sewn on.

    Parameters
    ----------
    colours : (h, w, 4), multiplied by their alpha. labels : (h, w) Part, 0 where there is nothing.
    scale : px of a unit of the body. shoulders : (n, 2) px of the layer.
    """
    small, s = np.ascontiguousarray(labels[::2, ::2]), scale / 2  # what is soft needs no fine grid
    high, most = np.zeros(small.shape, np.float32), _SWELLS * s
    for part in np.flatnonzero(np.bincount(small.ravel(), minlength=1))[1:]:
        if part not in _SOLIDS:
            inside = np.minimum(cv2.distanceTransform((small == part).astype(np.uint8), cv2.DIST_L2, 3) / most, 1)
            high += np.sqrt(inside * (2 - inside)) * most
    high = np.asarray(cv2.GaussianBlur(high, (0, 0), max(0.035 * s, 0.8)), np.float32)
    gx, gy = cv2.Sobel(high, cv2.CV_32F, 1, 0, scale=0.125), cv2.Sobel(high, cv2.CV_32F, 0, 1, scale=0.125)
    sun = planes.direction(light)
    more = (-gx * sun[0] - gy * sun[1] + sun[2]) / np.sqrt(gx * gx + gy * gy + 1) - sun[2]
    y, x = np.ogrid[: small.shape[0], : small.shape[1]]
    for at in shoulders / 2:
        more *= 1 - np.exp(-((((x - at[0]) ** 2 + (y - at[1]) ** 2) / (0.21 * s) ** 2) ** 2))
    more = np.where(np.isin(small, [int(p) for p in _SOLIDS]), 0, more)
    more = np.asarray(cv2.resize(np.clip(more * 0.85, -0.6, 0.4).astype(np.float32), labels.shape[::-1]), np.float32)
    dark = (1 - np.array(light.shadow) ** 1.25 * 0.86).astype(np.float32)
    return np.asarray(_relit(colours, more, dark, np.asarray(light.rim, np.float32)))


@numba.njit(cache=True)  # type: ignore[untyped-decorator]
def _relit(colours, more, dark, rim):  # type: ignore[no-untyped-def]
    """Colours (h, w, 4) darkened where `more` (h, w) is below 0, and lightened towards the rim's colour where it is above."""
    out = colours.copy()
    for y in range(colours.shape[0]):
        for x in range(colours.shape[1]):
            if more[y, x] == 0:
                continue
            alpha = colours[y, x, 3] / 255
            for q in range(3):
                own = colours[y, x, q] / 255
                if more[y, x] < 0:
                    own *= 1 + more[y, x] * dark[q]
                else:
                    own += (rim[q] * alpha - own * 0.86) * more[y, x] * 0.50
                out[y, x, q] = int(min(max(own, 0.0), alpha) * 255 + 0.5)
    return out
