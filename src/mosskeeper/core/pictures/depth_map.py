"""Depth maps as pictures, of 8 or 16 bits."""

from __future__ import annotations

import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image, UnidentifiedImageError

from mosskeeper.core.errors import BadPicture
from mosskeeper.core.pictures.decode import MAX_BYTES, MAX_PIXELS


def read_depth_map(data: bytes, near_is_bright: bool = True, spread: bool = True) -> NDArray[np.float32]:
    """(H, W) 0 near … 1 far.

    Parameters
    ----------
    data : a PNG of 8 or 16 bits; of several channels the luminance is taken.
    near_is_bright : False for maps in which what is near is dark.
    spread : whether its values are spread over the whole range; else black and white of its own bits are the ends.

    Raises
    ------
    BadPicture
        where it is no PNG, damaged, too large, or all of one depth.
    """
    if len(data) > MAX_BYTES:
        raise BadPicture(
            f"This file has {len(data) / 1e6:.0f} MB; at most {MAX_BYTES // 1_000_000} MB are taken. Save it smaller.", "depth"
        )
    try:
        image = Image.open(io.BytesIO(data), formats=("PNG",))
        if image.width * image.height > MAX_PIXELS:
            raise BadPicture(f"This depth map has more than {MAX_PIXELS // 1_000_000} megapixels. Scale it down first.", "depth")
        image.load()
    except UnidentifiedImageError:
        raise BadPicture("A depth map must be a PNG of 8 or 16 bits.", "depth") from None
    except (OSError, ValueError, SyntaxError, EOFError, Image.DecompressionBombError):
        raise BadPicture("This depth map is damaged or cut off and cannot be read. Export it again.", "depth") from None
    deep = image.mode.startswith("I") or image.mode == "F"
    values = np.asarray(image if deep else image.convert("L"), np.float32)
    low, high = (float(values.min()), float(values.max())) if spread else (0.0, 65535.0 if deep else 255.0)
    if high - low < 1e-6:
        raise BadPicture("This depth map is all of one depth, so there is nothing near and nothing far in it.", "depth")
    near = (values - low) / np.float32(high - low)
    return np.asarray(1 - near if near_is_bright else near, np.float32)
