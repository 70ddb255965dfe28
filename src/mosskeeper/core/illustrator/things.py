"""Objects, props and companions that stand by themselves: on the ground, or on a crate where no ground is in the frame."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator import companions, props
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.figure import DrawnFigure
from mosskeeper.core.illustrator.items import recoloured
from mosskeeper.core.illustrator.objects.drawn_object import Pencil
from mosskeeper.core.illustrator.objects.table import OBJECTS
from mosskeeper.core.illustrator.scene import Thing
from mosskeeper.core.illustrator.shapes import ellipse, point, points, ribbon, spline
from mosskeeper.core.illustrator.vocabulary.colours import rgb

_PAWS = -0.12  # hh: an animal's feet lie a little below the ground line of figures
_OVERHANG = 0.28  # hh of a crate's top beyond what stands on it


def stand(f: DrawnFigure, thing: Thing) -> None:
    """Adds a thing to the display of `f`, a figure at the thing's place and size that is not drawn itself."""
    display, wide = f.display, 0.50
    companion, drawn = companions.COMPANIONS.get(thing.name), OBJECTS.get(thing.name)
    if drawn is not None:
        wide = drawn.wide / 2
        if drawn.stands not in ("air", "flat"):
            _shadow(f, wide * 0.9)
        drawn.draw(Pencil(f, drawn.part, point(0, 0)))
    elif companion is not None:
        companions.stand(f, companion, 0.0)
        boxes = [item.path.getBounds() for item in display.items if item.labelled]
        middle = (min(b.left() for b in boxes) + max(b.right() for b in boxes)) / 2
        display.move(thing.foot[0] - middle, _PAWS * thing.scale)
    else:
        prop = props.PROPS[thing.name]
        if prop is None:
            return
        prop(f, point(0, 0))
        boxes = [item.path.getBounds() for item in display.items if item.labelled]
        left, right, foot = min(b.left() for b in boxes), max(b.right() for b in boxes), max(b.bottom() for b in boxes)
        wide = (right - left) / thing.scale / 2
        display.move(thing.foot[0] - (left + right) / 2, thing.foot[1] - foot)
        _shadow(f, wide + 0.06)
    if thing.colour is not None:
        recoloured(display.items, np.asarray(thing.colour))
    if thing.perch:
        _crate(f, wide, (display.canvas.size[1] - thing.foot[1]) / thing.scale + 0.4)


def _shadow(f: DrawnFigure, wide: float) -> None:
    f.plain(ellipse((0, 0), wide, 0.07), rgb("2a1f33"), Part.GROUND, 99.1, depth=0.29, alpha=0.38, blur=4.0, labelled=False)


def _crate(f: DrawnFigure, wide: float, deep: float) -> None:
    half = wide + _OVERHANG
    top = points((-half, -0.09), (half, -0.09), (half + 0.02, 0.08), (-half - 0.02, 0.08))
    front = points((-half + 0.06, 0.06), (half - 0.06, 0.06), (half - 0.08, deep), (-half + 0.08, deep))
    item = f.add(spline(front, True, 3), rgb("8a6242"), Part.SEAT, 98.5, depth=0.33)
    f.mark(item, (ribbon(points((-2, dy), (2, dy)), [0.014] * 2) for dy in np.arange(0.34, deep, 0.3)), "shade", 0.8)
    f.add(spline(top, True, 3), rgb("b98a5c"), Part.SEAT, 98.6, depth=0.325, shade=0.3)
