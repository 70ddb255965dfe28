"""People cut out of pictures: made by a worker, kept as a map. Own takes by their drawing, any other picture by what was read."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from sqlalchemy.orm import Session

from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.pictures.matting import cut_out
from mosskeeper.core.pictures.resample import linear
from mosskeeper.core.reading.classes import FIGURE
from mosskeeper.studio import explaining, pictures, readings

_OPEN = 0.5


def made(session: Session, sha256: str) -> tuple[bytes, dict[str, Any]]:
    """Who is in a picture, as PNG with an open ground; empty where nobody is. For workers, since it draws or reads."""
    picture = pictures.pixels(session, sha256)
    mask = _people(session, sha256, picture.shape[:2])
    if not mask.any():
        return b"", {}
    return encode_png(cut_out(picture, mask)), {"covers": float(mask.mean())}


def _people(session: Session, sha256: str, shape: tuple[int, ...]) -> NDArray[np.bool_]:
    """(H, W): where people are, with what they wear and hold."""
    explained = explaining.of_picture(session, sha256)
    if explained is not None and explained.holds and explained.size == (shape[1], shape[0]):
        drawing = explained.drawn()
        return np.asarray((drawing.figures > 0) & (drawing.figures <= len(drawing.shown)), bool)
    read = readings.of_picture(session, sha256)
    if read.parts is None or not read.figures:
        return np.zeros(shape, bool)
    theirs = ((read.parts >= FIGURE.start) & (read.parts < FIGURE.stop)).astype(np.float32)
    return np.asarray(linear(theirs, (shape[1], shape[0])).reshape(shape) > _OPEN, bool)
