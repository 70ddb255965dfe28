"""Match of a cue that acts in a part of the picture: measured in that part."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.continuity.match import Match, match
from mosskeeper.core.pictures.areas import cut_to
from mosskeeper.core.reading.any_reader import read_any
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import REFERENCES


def match_inside(
    mask: NDArray[np.uint8], role: str, source: NDArray[np.uint8], source_reading: Reading, picture: NDArray[np.uint8], reading: Reading
) -> Match:
    """How well the part of `picture` (H, W, 3) under a mask obeys a cue; see `match`.

    A reference lends all of its picture, so the part is read for itself; structure is that of the same part of the source.

    Raises KeyError where there is no such role.
    """
    part = cut_to(picture, mask)
    if role in REFERENCES:
        told = match(role, source, source_reading, part, read_any(part))
    else:
        depths = [None if depth is None else cut_to(depth, mask) for depth in (source_reading.depth, reading.depth)]
        told = match(role, cut_to(source, mask), replace(source_reading, depth=depths[0]), part, replace(reading, depth=depths[1]))
    return replace(told, meaning=f"{told.meaning}; in the part where the cue acts")
