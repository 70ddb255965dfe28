"""Line plots as numbers for an SVG template: no drawing here, only where things are."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

WIDTH, HEIGHT = 420, 190  # units of the view box
LEFT, RIGHT, TOP, BOTTOM = 34, 96, 12, 26
_THUMBNAIL = (12.0, 34.0)  # width of the narrowest and widest; they are 4 : 5
_APART = 4.0  # of a thumbnail from its dot
_FINE = 10.0  # scales up to here are told with two digits


@dataclass(frozen=True, slots=True)
class Thumbnail:
    """A picture at a dot, by its upper left corner."""

    picture: str
    x: float
    y: float
    width: float
    height: float

    def overlaps(self, other: Thumbnail) -> bool:
        return abs(self.x - other.x) < (self.width + other.width) / 2 and abs(self.y - other.y) < (self.height + other.height) / 2


@dataclass(frozen=True, slots=True)
class Dot:
    x: float
    y: float
    told: str
    href: str = ""
    thumbnail: Thumbnail | None = None


@dataclass(frozen=True, slots=True)
class PlotLine:
    """One series. dots : only where it was measured. paths : its unbroken stretches, as points of polylines."""

    name: str
    tint: str
    dots: list[Dot]
    paths: list[str]
    label_y: float


@dataclass(frozen=True, slots=True)
class Plot:
    title: str
    lines: list[PlotLine]
    x_labels: list[tuple[float, str]]
    y_labels: list[tuple[float, str]]
    limit: float | None = None  # y of a line that marks a limit
    limit_said: str = ""


@dataclass(frozen=True, slots=True)
class Series:
    """values : one for each place along the dial; None where it was not measured. hrefs, notes : of its dots, where they lead somewhere.
    pictures : their names, shown at the dots as far as there is room; the highest values go first.
    """

    name: str
    tint: str
    values: Sequence[float | None]
    hrefs: Sequence[str] = ()
    notes: Sequence[str] = ()
    pictures: Sequence[str] = ()


def plot(
    title: str, along: Sequence[float | str], series: Sequence[Series], top: float, limit: float | None = None, said: str = ""
) -> Plot:
    """A plot of several series along the values of a dial, from 0 to `top`."""
    xs = _places(along, _THUMBNAIL[1] / 2 if any(one.pictures for one in series) else 0.0)

    def y_of(value: float) -> float:
        return TOP + (HEIGHT - TOP - BOTTOM) * (1 - min(max(value / top, 0.0), 1.0))

    lines = []
    for one in series:
        dots: list[Dot] = []
        stretches: list[list[Dot]] = [[]]
        for n, (x, where, value) in enumerate(zip(xs, along, one.values, strict=True)):
            if value is None:
                stretches.append([])
                continue
            told = f"{value:.2f}" if top <= _FINE else f"{value:.0f}"
            note = one.notes[n] if one.notes else f"at {said_of(where)}"
            dot = Dot(round(x, 1), round(y_of(value), 1), f"{one.name} {told}, {note}", one.hrefs[n] if one.hrefs else "")
            dots.append(dot)
            stretches[-1].append(dot)
        if one.pictures:
            shown = [sha256 for sha256, value in zip(one.pictures, one.values, strict=True) if value is not None]
            dots = _with_thumbnails(dots, shown)
        paths = [" ".join(f"{d.x},{d.y}" for d in stretch) for stretch in stretches if len(stretch) > 1]
        lines.append(PlotLine(one.name, one.tint, dots, paths, dots[-1].y if dots else 0.0))
    ticks = [(y_of(top * k / 4), f"{top * k / 4:g}") for k in range(5)]
    every = max(1, -(-len(along) // 8))
    labels = [(x, said_of(value)) for i, (x, value) in enumerate(zip(xs, along, strict=True)) if i % every == 0]
    return Plot(title, _spread(lines), labels, ticks, y_of(limit) if limit is not None else None, said)


def said_of(value: float | str) -> str:
    return (value or "no style") if isinstance(value, str) else f"{value:g}"


def _places(along: Sequence[float | str], inset: float) -> list[float]:
    """x of each value: by its size where all are numbers, evenly otherwise. inset : room before the first and after the last."""
    left, width = LEFT + inset, WIDTH - LEFT - RIGHT - 2 * inset
    numbers = [v for v in along if not isinstance(v, str)]
    if len(numbers) == len(along) and max(numbers) > min(numbers):
        low, high = min(numbers), max(numbers)
        return [left + width * (v - low) / (high - low) for v in numbers]
    return [left + width * (i / max(len(along) - 1, 1)) for i in range(len(along))]


def _with_thumbnails(dots: list[Dot], pictures: Sequence[str]) -> list[Dot]:
    """The dots with their pictures, above them where there is room, below otherwise; those that would cover another are left out."""
    width = min(max(0.95 * (WIDTH - LEFT - RIGHT - _THUMBNAIL[1]) / max(len(dots) - 1, 1), _THUMBNAIL[0]), _THUMBNAIL[1])
    height = 1.25 * width
    placed: dict[int, Thumbnail] = {}
    for n in sorted(range(len(dots)), key=lambda n: dots[n].y):
        above = dots[n].y - _APART - height
        y = above if above > 0 else dots[n].y + _APART
        own = Thumbnail(pictures[n], round(dots[n].x - width / 2, 1), round(y, 1), round(width, 1), round(height, 1))
        if not any(own.overlaps(other) for other in placed.values()):
            placed[n] = own
    return [replace(dot, thumbnail=placed.get(n)) for n, dot in enumerate(dots)]


def _spread(lines: list[PlotLine], apart: float = 12.0) -> list[PlotLine]:
    """The lines with their labels moved apart, so that none covers another."""
    out: list[PlotLine] = []
    lowest = -apart
    for line in sorted(lines, key=lambda one: one.label_y):
        lowest = max(line.label_y, lowest + apart)
        out.append(PlotLine(line.name, line.tint, line.dots, line.paths, lowest))
    return out
