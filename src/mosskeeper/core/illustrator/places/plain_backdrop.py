"""A plain backdrop in a colour that it is given, a little lighter behind the figure, as in a studio."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import ellipse, points

_USUAL = np.array([0.86, 0.85, 0.82])
_FLOOR = 0.80  # place coordinate where wall and floor run into each other


def build(s: PlaceFrame) -> None:
    own = np.asarray(s.tones[0]) if s.tones else _USUAL
    s.plain(points((-1.5, -1.5), (2.5, -1.5), (2.5, 2.5), (-1.5, 2.5)), own, Part.STRUCTURE, 0.9, 10, emission=1.0)
    lit = np.clip(own * 1.04 + 0.02, 0, 1)
    s.plain(ellipse((0.5, 0.42), 0.42, 0.40, n=60), lit, Part.STRUCTURE, 0.9, 11, emission=1.0, blur=60.0, alpha=0.6)
    floor = points((-1.5, _FLOOR), (2.5, _FLOOR), (2.5, 2.5), (-1.5, 2.5))
    s.plain(floor, np.clip(own * 0.93, 0, 1), Part.GROUND, 0.6, 12, emission=1.0, blur=40.0)
