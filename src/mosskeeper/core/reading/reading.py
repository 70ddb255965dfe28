"""What somebody who looked at a picture says of it: the interface between readers and the diffusion core."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Face
from mosskeeper.core.reading.palette import Palette, read_palette

Rgb = tuple[float, float, float]


@dataclass(frozen=True)
class Reading:
    """A picture, read.

    attributes : attribute → value → confidence 0…1, in the names of `core.words.attributes`.
    face : the geometry of the main figure's face.
    colours : albedo of the clothes, "colour" and "trim", sRGB 0…1.
    joints : (18, 2) as shares of width and height, NaN where unseen.
    depth : (H, W) float32, 0 near … 1 far.
    """

    palette: Palette
    attributes: Mapping[str, Mapping[str, float]] = field(default_factory=dict)
    face: Face | None = None
    colours: Mapping[str, Rgb] = field(default_factory=dict)
    joints: NDArray[np.float64] | None = None
    depth: NDArray[np.float32] | None = None


def measured(picture: NDArray[np.uint8]) -> Reading:
    """What plain measurement says of a picture (H, W, 3): its colours."""
    return Reading(read_palette(picture))
