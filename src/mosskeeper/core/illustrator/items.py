"""The display list: what is drawn, in painter's order. Items know no style; finishes know no anatomy."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np
import skia
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import SKIN_PARTS, Part
from mosskeeper.core.illustrator.vocabulary.colours import Rgb

_ALIKE = 0.04  # between a colour and the shade of another
FIGURE_SLOT = 100.0  # items from here on are the figure; below lies the place


@dataclass(frozen=True, slots=True)
class Canvas:
    """What is drawn on: a picture, one that goes on beyond it, or a window of it."""

    size: tuple[int, int]  # of the picture, width and height in px
    wider: tuple[int, int, int, int] = (0, 0, 0, 0)  # px added to the left, at the top, to the right, below; less than 0: cut off there

    @property
    def width(self) -> int:
        return self.size[0] + self.wider[0] + self.wider[2]

    @property
    def height(self) -> int:
        return self.size[1] + self.wider[1] + self.wider[3]

    @property
    def unit(self) -> float:
        """Pixels per pixel of a picture 512 wide: line widths and blurs scale with it."""
        return float(np.sqrt(self.size[0] * self.size[1] / (512 * 640)))


def _settle(path: skia.Path) -> None:
    """Lets a path find out what it otherwise would while it is painted for the first time: a second time it were painted otherwise."""
    path.isConvex()
    path.getBounds()


@dataclass(frozen=True, slots=True)
class Dye:
    """A colour that a person has, as cloth or skin: what is built once is given to others in theirs."""

    of: str  # "a", "b" or "skin"
    times: float = 1.0
    plus: float = 0.0

    def on(self, own: Rgb) -> Rgb:
        """The colour, where the person's is `own`."""
        colour = np.asarray(own) * self.times + self.plus
        return np.clip(colour, 0, 1) if self.times > 1 else colour


@dataclass(slots=True)
class Mark:
    """A stroke inside an item: 'shade', 'lit' or 'deep' of the item's own colour, or a colour of its own."""

    path: skia.Path
    tone: str | Rgb
    alpha: float
    blur: float
    dye: Dye | None = None  # what the tone will be

    def __post_init__(self) -> None:
        _settle(self.path)


@dataclass(frozen=True, slots=True)
class Painting:
    """Pixels that an item consists of, in place of one colour: what is modelled in light rather than filled."""

    corner: tuple[int, int]  # x, y px
    colours: NDArray[np.float32]  # (h, w, 4) 0…1, multiplied by their alpha, in the picture's light
    parts: NDArray[np.uint8]  # (h, w) Part; 0 where there is nothing
    unlit: tuple[Rgb, Rgb]  # colours without light: of skin, and of all else

    @property
    def box(self) -> tuple[slice, slice]:
        """Rows and columns of the picture."""
        (x, y), (h, w) = self.corner, self.parts.shape
        return slice(y, y + h), slice(x, x + w)

    def own_colours(self) -> NDArray[np.uint8]:
        """Colours without light, (h, w, 3) sRGB."""
        skin, rest = self.unlit
        own = np.where(np.isin(self.parts, [int(part) for part in SKIN_PARTS])[..., None], skin, rest)
        return np.ascontiguousarray(np.rint(np.clip(own, 0, 1) * 255), np.uint8)


@dataclass(slots=True)
class Item:
    path: skia.Path
    albedo: Rgb
    part: Part
    depth: float  # 0 near … 1 far
    slot: float  # painter's order
    shade: float = 0.0  # form shadow; 0 flat
    line: float = 0.0  # weight of an ink outline
    emission: float = 0.0  # 1: not touched by the light
    drop: float = 0.0  # weight of the shadow thrown on what lies below
    alpha: float = 1.0
    gradient: float = 0.0  # top to bottom, from light to shade
    blur: float = 0.0
    rim: bool = True  # catches a line of light on its lit side
    labelled: bool = True
    figure: int = 0  # 0 the place, 1… the persons, then their companion
    marks: list[Mark] = field(default_factory=list)
    dye: Dye | None = None  # what the albedo will be
    painting: Painting | None = None  # its pixels; `path` is their outline then

    def __post_init__(self) -> None:
        _settle(self.path)


def dyed(items: list[Item], colour: Callable[[Dye], Rgb]) -> list[Item]:
    """The items with every dye in its colour. Those that have any are copied: others may share them."""
    return [
        item
        if item.dye is None and not any(mark.dye for mark in item.marks)
        else replace(
            item,
            albedo=item.albedo if item.dye is None else colour(item.dye),
            marks=[mark if mark.dye is None else replace(mark, tone=colour(mark.dye), dye=None) for mark in item.marks],
            dye=None,
        )
        for item in items
    ]


def recoloured(items: list[Item], colour: Rgb) -> None:
    """Gives a thing another colour: its largest item, and all that are of the same colour, lighter or darker."""
    solid = [item for item in items if item.labelled and not item.emission]
    if not solid:
        return
    main = max(solid, key=lambda item: item.path.getBounds().width() * item.path.getBounds().height())
    dye, was = main.dye, np.asarray(main.albedo)
    for item in solid:
        own = np.asarray(item.albedo)
        times = float((own @ was) / max(float(was @ was), 1e-6))
        alike = item.dye is not None and item.dye.of == dye.of if dye is not None else bool(np.abs(own - was * times).max() < _ALIKE)
        if alike:
            item.albedo = np.clip(colour * (item.dye.times if item.dye is not None else times), 0, 1)
            item.dye = None


@dataclass(frozen=True, slots=True)
class Lamp:
    x: float
    y: float
    radius: float
    colour: Rgb
    strength: float


@dataclass(slots=True)
class DisplayList:
    """Items and lamps of one picture, in pixels of its canvas."""

    canvas: Canvas
    items: list[Item] = field(default_factory=list)
    lamps: list[Lamp] = field(default_factory=list)

    @property
    def width(self) -> int:
        return self.canvas.width

    @property
    def height(self) -> int:
        return self.canvas.height

    @property
    def unit(self) -> float:
        return self.canvas.unit

    def move(self, dx: float, dy: float) -> None:
        """Moves everything in it, in px."""
        for item in self.items:
            for path in (item.path, *(mark.path for mark in item.marks)):
                path.offset(float(dx), float(dy))
        self.lamps[:] = [replace(lamp, x=lamp.x + dx, y=lamp.y + dy) for lamp in self.lamps]

    def ordered(self) -> list[Item]:
        return sorted(self.items, key=lambda item: item.slot)
