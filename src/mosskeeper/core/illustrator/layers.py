"""Painted layers: things on nothing, with their labels, that are laid over a place one after another.

Laying commutes with painting, since all paint is laid over what is below; so a drawing that shares a figure or its
place with the last one only lays it again.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numba
import numpy as np
import skia
from numpy.typing import NDArray

from mosskeeper.core.illustrator import maps
from mosskeeper.core.illustrator.items import Canvas, Item, Lamp
from mosskeeper.core.illustrator.paint import Painter

U8 = NDArray[np.uint8]


@dataclass(frozen=True, slots=True)
class PaintedLayer:
    """What was painted, cut to where there is something."""

    corner: tuple[int, int]  # x, y px
    colours: U8  # (h, w, 4) multiplied by their alpha
    packed: U8  # (h, w, 4) as `maps.stamp` writes it; alpha 0 where nothing is labelled
    albedo: U8 | None  # (h, w, 3), where packed has alpha
    lamps: tuple[Lamp, ...] = ()

    @property
    def nbytes(self) -> int:
        return self.colours.nbytes + self.packed.nbytes + (0 if self.albedo is None else self.albedo.nbytes)

    def lay(self, sheet: PaintSheet) -> None:
        """Lays the layer over what is drawn so far."""
        if not self.colours.size:
            return
        (x, y), (h, w) = self.corner, self.colours.shape[:2]
        here = np.s_[y : y + h, x : x + w]
        _lay(sheet.colours[here], sheet.packed[here], self.colours, self.packed)
        if sheet.albedo is not None and self.albedo is not None:
            known = self.packed[:, :, 3] > 0
            sheet.albedo[here][known] = self.albedo[known]
        sheet.lamps += self.lamps


@dataclass(slots=True)
class PaintSheet:
    """A picture being drawn: opaque colours (H, W, 4), packed maps (H, W, 4), unlit colours (H, W, 3) where asked, lamps."""

    colours: U8
    packed: U8
    albedo: U8 | None
    lamps: list[Lamp]

    @staticmethod
    def of(colours: U8, packed: U8, lamps: tuple[Lamp, ...], with_albedo: bool) -> PaintSheet:
        """Copies, to be drawn on."""
        albedo = np.zeros((*colours.shape[:2], 3), np.uint8) if with_albedo else None
        return PaintSheet(colours.copy(), packed.copy(), albedo, list(lamps))


def painted(painter: Painter, canvas: Canvas, items: list[Item], lamps: list[Lamp], with_albedo: bool) -> PaintedLayer:
    """A layer of items in painter's order."""
    colours = np.zeros((canvas.height, canvas.width, 4), np.uint8)
    info = skia.ImageInfo.MakeN32Premul(canvas.width, canvas.height).makeColorType(skia.kRGBA_8888_ColorType)
    surface = skia.Surface.MakeRasterDirect(info, colours)
    painter.paint_on(surface.getCanvas(), items)
    surface.flushAndSubmit()
    packed = np.zeros_like(colours)
    maps.stamp(packed, items)
    rows, columns = np.flatnonzero(colours[:, :, 3].any(1)), np.flatnonzero(colours[:, :, 3].any(0))
    if not rows.size:
        nothing = np.zeros((0, 0, 4), np.uint8)
        return PaintedLayer((0, 0), nothing, nothing, None, tuple(lamps))
    x, y = int(columns[0]), int(rows[0])
    cut = np.s_[y : int(rows[-1]) + 1, x : int(columns[-1]) + 1]
    albedo = None
    if with_albedo:
        whole = np.zeros_like(colours)
        maps.albedo(whole, items)
        albedo = np.ascontiguousarray(whole[cut][:, :, :3])
    return PaintedLayer((x, y), np.ascontiguousarray(colours[cut]), np.ascontiguousarray(packed[cut]), albedo, tuple(lamps))


def blurred(layer: PaintedLayer, blur: float, canvas: Canvas) -> PaintedLayer:
    """The layer out of focus; `blur` in px. Its labels stay sharp."""
    if not layer.colours.size:
        return layer
    (x, y), (h, w) = layer.corner, layer.colours.shape[:2]
    whole = np.zeros((canvas.height, canvas.width, 4), np.uint8)
    packed = np.zeros_like(whole)
    here = np.s_[y : y + h, x : x + w]
    whole[here], packed[here] = layer.colours, layer.packed
    albedo = None
    if layer.albedo is not None:
        albedo = np.zeros((canvas.height, canvas.width, 3), np.uint8)
        albedo[here] = layer.albedo
    soft = np.ascontiguousarray(cv2.GaussianBlur(whole, (0, 0), blur), np.uint8)
    return PaintedLayer((0, 0), soft, packed, albedo, layer.lamps)


@numba.njit(cache=True)  # type: ignore[untyped-decorator]
def _lay(colours, packed, over, over_packed):  # type: ignore[no-untyped-def]
    for y in range(over.shape[0]):
        for x in range(over.shape[1]):
            a = np.int64(over[y, x, 3])
            if a == 255:
                for q in range(3):
                    colours[y, x, q] = over[y, x, q]
            elif a > 0:
                for q in range(3):
                    colours[y, x, q] = min(np.int64(over[y, x, q]) + (np.int64(colours[y, x, q]) * (255 - a) + 127) // 255, 255)
            if over_packed[y, x, 3] > 0:
                for q in range(4):
                    packed[y, x, q] = over_packed[y, x, q]
