"""Where a figure stands in the frame, and how near the place is behind it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Layout
from mosskeeper.core.illustrator.shapes import Points, point
from mosskeeper.core.illustrator.skeleton import JOINTS

FRAMINGS = ("close", "bust", "half", "full", "wide")
_TALL = 1.50 + 1.16 + 1.14 + 1.5  # height of an adult, hh: children stay small beside it
_EARS = [JOINTS.index("right ear"), JOINTS.index("left ear")]
_NECK = JOINTS.index("neck")


@dataclass(frozen=True, slots=True)
class Camera:
    scale: float  # pixels of one head height
    origin: Points  # pixel of the figure's origin: between the feet, on the ground
    zoom: float  # of the place
    centre: tuple[float, float]  # of the place, in place units
    blur: float  # of the place, in px at 512 wide

    @property
    def shows_ground(self) -> bool:
        return self.blur == 0


def frame(joints: NDArray[np.float64], layout: Layout, size: tuple[int, int], child: bool) -> Camera:
    """Frames a figure (18 joints in hh, ground at 0) in a picture of `size` = (width, height) pixels."""
    w, h = size
    x, y = joints[:, 0], joints[:, 1]
    top = y.min() - 0.75
    ear = joints[_EARS].mean(0)
    span = max(x.max() - x.min() + 0.9, 2.0)
    look = joints[_NECK, 0] * 0.2 + ear[0] * 0.8
    short = min(h, w * 1.25)  # the figure is sized by the 4:5 frame inside the picture
    if layout.framing in ("full", "wide"):
        fill = 0.885 if layout.framing == "full" else 0.60
        scale = min(short * fill / max(-top, _TALL * 0.84), w * 0.86 / span) * layout.zoom
        look = (x.min() + x.max()) / 2 * 0.6 + joints[_NECK, 0] * 0.4
        origin = point(w / 2 - look * scale, h * 0.5 + short * 0.425)
        zoom, centre, blur = (1.0, (0.5, 0.625), 0.0) if layout.framing == "full" else (0.86, (0.5, 0.66), 0.0)
    else:
        heads, eye_height, zoom, centre, blur = {
            "half": (0.80 / (2.6 if child else 3.15), 0.34, 1.3, (0.5, 0.55), 0.9),
            "bust": (0.445, 0.44, 1.75, (0.47, 0.48), 2.2),
            "close": (0.60, 0.47, 2.1, (0.47, 0.46), 3.0),
        }[layout.framing]
        scale = short * heads * layout.zoom
        if layout.framing == "half":
            look = joints[_NECK, 0] * 0.6 + ear[0] * 0.4
        origin = point(w / 2 - look * scale, h * 0.5 + short * (eye_height - 0.5) - ear[1] * scale)
    offset = (origin[0] - w / 2) * layout.facing + w / 2 + layout.shift * w
    return Camera(float(scale), point(offset, origin[1]), zoom * (1 + 0.06 * abs(layout.shift)), centre, blur)
