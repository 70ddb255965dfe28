"""Maps of a picture, drawn as pictures of the same size, for somebody who looks at them."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.resample import linear, nearest
from mosskeeper.core.reading.classes import PARTS
from mosskeeper.core.reading.contours import contours, line_art
from mosskeeper.core.reading.measures import tones
from mosskeeper.core.reading.reading import Reading

MAPS = ("parts", "depth", "edges", "lines", "tone")
_TINTS = np.random.default_rng(11).integers(70, 230, (len(PARTS), 3)).astype(np.uint8)


def draw_map(kind: str, picture: NDArray[np.uint8], read: Reading) -> NDArray[np.uint8] | None:
    """(H, W, 3) uint8: a map of a picture (H, W, 3); None where the reader made no such map.

    Raises KeyError where there is no such kind.
    """
    h, w = picture.shape[:2]
    match kind:
        case "parts":
            if read.parts is None:
                return None
            return np.asarray(cv2.addWeighted(picture, 0.35, _TINTS[nearest(read.parts, (w, h))], 0.65, 0), np.uint8)
        case "depth":
            if read.depth is None:
                return None
            grey = 255 - (linear(read.depth, (w, h)).clip(0, 1) * 255).astype(np.uint8)
        case "edges":
            grey = 255 - (contours(picture) * 255).astype(np.uint8)
        case "lines":
            grey = np.where(line_art(picture), 0, 255).astype(np.uint8)
        case "tone":
            grey = tones(picture)
        case _:
            raise KeyError(kind)
    return np.repeat(grey[..., None], 3, 2)
