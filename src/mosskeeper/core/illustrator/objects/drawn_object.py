"""`DrawnObject`, a row of the tables of objects, and the pencil with which their drawings are made."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.figure import Colour, DrawnFigure
from mosskeeper.core.illustrator.items import Item
from mosskeeper.core.illustrator.shapes import Points, ellipse, point, rectangle, ribbon, spline, taper
from mosskeeper.core.illustrator.vocabulary.colours import rgb

_SLOT = 180.0
_LIFT = 0.04  # slots from one stroke to the next, so that what is drawn later lies before what was drawn earlier
Place = tuple[float, float]  # hh from the middle, hh above the ground


def tone_of(colour: Colour) -> Colour:
    """A colour of six hexadecimal digits as numbers; every other as it is."""
    hexadecimal = isinstance(colour, str) and len(colour) == 6 and all(c in "0123456789abcdef" for c in colour)
    return rgb(colour) if hexadecimal else colour  # type: ignore[arg-type]


class Pencil:
    """Draws an object in its own coordinates, one item over the other.

    f : the frame of the object, whose scale is px of a head height. part : the label of what is drawn. foot : where the object's
    middle stands on the ground, in hh of the frame.
    """

    def __init__(self, f: DrawnFigure, part: Part, foot: Points, slot: float = _SLOT) -> None:
        self.f, self.part, self.foot, self.slot = f, part, foot, slot

    def at(self, x: float, y: float) -> Points:
        return self.foot + point(x, -y)

    def _points(self, places: Sequence[Place]) -> Points:
        return np.array([self.at(*p) for p in places])

    def _next(self) -> float:
        self.slot += _LIFT
        return self.slot

    def add(self, outline: Points | list[Points], colour: Colour, shade: float = 0.6, **options: float) -> Item:
        options.setdefault("depth", 0.28)
        tone = tone_of(colour)
        return self.f.add(outline, tone, self.part, self._next(), shade=shade, **options)

    def blob(self, places: Sequence[Place], colour: Colour, shade: float = 0.6, **options: float) -> Item:
        """A round outline through places."""
        return self.add(spline(self._points(places)), colour, shade, **options)

    def block(self, places: Sequence[Place], colour: Colour, shade: float = 0.4, **options: float) -> Item:
        """An outline with corners."""
        return self.add(self._points(places), colour, shade, **options)

    def box(self, x0: float, y0: float, x1: float, y1: float, colour: Colour, shade: float = 0.4, **options: float) -> Item:
        (left, low), (right, high) = self.at(min(x0, x1), min(y0, y1)), self.at(max(x0, x1), max(y0, y1))
        return self.add(rectangle(left, high, right, low), colour, shade, **options)

    def ball(self, x: float, y: float, rx: float, ry: float, colour: Colour, shade: float = 0.6, **options: float) -> Item:
        return self.add(ellipse(self.at(x, y), rx, ry, n=34), colour, shade, **options)

    def ring(self, x: float, y: float, r: float, wide: float, colour: Colour, flat: float = 1.0) -> Item:
        """A ring of radius `r`, `flat` times as high as wide."""
        c = self.at(x, y)
        outlines = [ellipse(c, r + wide / 2, (r + wide / 2) * flat, n=40), ellipse(c, r - wide / 2, (r - wide / 2) * flat, n=40)[::-1]]
        return self.add(outlines, colour, 0.2, drop=0.3)

    def bar(self, places: Sequence[Place], width: float | Sequence[float], colour: Colour, shade: float = 0.4, **options: float) -> Item:
        """A stroke of half widths `width`, hh."""
        widths = [width] * len(places) if isinstance(width, float | int) else list(width)
        return self.add(ribbon(self._points(places), widths), colour, shade, **options)

    def plain(self, outline: Points | list[Points], colour: Colour, **options: float) -> Item:
        tone = tone_of(colour)
        return self.f.plain(outline, tone, self.part, self._next(), depth=0.279, **options)

    def dot(self, x: float, y: float, r: float, colour: Colour, ry: float | None = None, **options: float) -> Item:
        return self.plain(ellipse(self.at(x, y), r, r if ry is None else ry, n=14), colour, **options)

    def lines(
        self, strokes: Iterable[Sequence[Place]], width: float, colour: Colour = "deep", on: Item | None = None, alpha: float = 0.7
    ) -> None:
        """Thin strokes: on an item, which cuts them off, or over everything."""
        tapers = [taper(list(self._points(s)), width) for s in strokes]
        if on is not None:
            tone = tone_of(colour)
            self.f.mark(on, tapers, tone, alpha)
        else:
            self.plain(tapers, colour, alpha=alpha)

    def patch(self, on: Item, places: Sequence[Place], colour: Colour, alpha: float = 0.9, blur: float = 0.0) -> None:
        """A round patch of another colour on an item."""
        tone = tone_of(colour)
        self.f.mark(on, spline(self._points(places)), tone, alpha, blur, vital=True)

    def eye(self, x: float, y: float, r: float, colour: str = "c8923f") -> None:
        self.dot(x, y, r, colour, r * 1.1)
        self.dot(x + 0.1 * r, y, r * 0.6, "1f1a1c", r * 0.75)
        self.dot(x - 0.25 * r, y + 0.35 * r, r * 0.25, "ffffff", emission=0.8)

    def glow(self, x: float, y: float, reach: float, colour: str = "ffb85a", strength: float = 0.8) -> None:
        """Light of its own, by night and by day."""
        self.f.lamp(self.at(x, y), reach, rgb(colour), strength * max(self.f.air.glow, 0.3))


@dataclass(frozen=True, slots=True)
class DrawnObject:
    """One object.

    Attributes
    ----------
    draw : draws it with its middle on the ground at (0, 0).
    wide, tall : hh that it fills, from border to border and from the ground up.
    part : the label of its pixels.
    seat, top : hh above the ground at which somebody sits on it, and other things stand on it; 0 where they do not.
    outdoors : whether it is hardly ever seen in a room.
    stands : "ground"; "air" what flies; "far" what stands behind everybody; "flat" what lies on the ground before somebody.
    """

    draw: Callable[[Pencil], None]
    wide: float
    tall: float
    part: Part = Part.PROP
    stands: str = "ground"
    seat: float = 0.0
    top: float = 0.0
    outdoors: bool = False
