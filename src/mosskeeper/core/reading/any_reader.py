"""`read_any`: a picture, by the reader that sees more in it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.reading import photo_reader
from mosskeeper.core.reading.reader import read
from mosskeeper.core.reading.reading import SURE, Reading
from mosskeeper.core.reading.weights import card


def version() -> str:
    """Changes whenever pictures may be read otherwise."""
    return card().version + (f"+{photo_reader.VERSION}" if photo_reader.installed() else "")


def read_any(picture: NDArray[np.uint8]) -> Reading:
    """Reads a picture (H, W, 3) sRGB by the reader of drawings, or, where that is unsure of its face and the extra `photo`
    finds one, by that."""
    drawn = read(picture)
    if (drawn.main is not None and drawn.main.face_sure >= SURE) or not photo_reader.installed():
        return drawn
    photo = photo_reader.read_photo(picture)
    return photo if photo.figures else drawn
