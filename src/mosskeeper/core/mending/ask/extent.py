"""How much room a part of a figure takes in a scene."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.scene import Scene

_SHRUNK = 0.4


def extent(scene: Scene, n: int, part: Part) -> tuple[float, float, float, float] | None:
    """x0, x1, y0, y1 in px of a part of figure `n`, from a small drawing; None where it is not seen."""
    small = draw_scene(scene.resized(_SHRUNK))
    ys, xs = np.nonzero((small.labels == part) & (small.figures == n + 1))
    return (xs.min() / _SHRUNK, xs.max() / _SHRUNK, ys.min() / _SHRUNK, ys.max() / _SHRUNK) if len(ys) else None
