"""Part labels and depth, drawn from the same paths as the colours in one pass without antialiasing."""

from __future__ import annotations

import numpy as np
import skia
from numpy.typing import NDArray

from mosskeeper.core.illustrator.items import Item

_FIGURE = 32  # parts of one figure
_IN_RED = 8  # figures that fit beside the part; the rest of their number takes the depth's lowest bit


def blank(width: int, height: int) -> NDArray[np.uint8]:
    canvas = np.zeros((height, width, 4), np.uint8)
    canvas[:, :, 1:3] = 255, 254
    canvas[:, :, 3] = 255
    return canvas


def stamp(canvas_u8: NDArray[np.uint8], items: list[Item]) -> None:
    """Writes the items into a packed canvas (H, W, 4), in place: red is figure and part, green and blue the depth and whether the figure is above 7."""
    surface = skia.Surface(canvas_u8)
    canvas = surface.getCanvas()
    p = skia.Paint(AntiAlias=False)
    for item in items:
        if not item.labelled or item.alpha < 0.5:
            continue
        depth = int(min(max(item.depth, 0), 1) * 65535)
        high, low = divmod(item.figure, _IN_RED)
        if item.painting is not None:
            surface.flushAndSubmit()
            here, parts = canvas_u8[item.painting.box], item.painting.parts
            shown = parts > 0
            here[shown] = 0, depth >> 8, depth & 254 | high, 255
            here[..., 0][shown] = low * _FIGURE + parts[shown]
            continue
        p.setColor(skia.Color(low * _FIGURE + int(item.part), depth >> 8, depth & 254 | high))
        canvas.drawPath(item.path, p)
    surface.flushAndSubmit()


def albedo(canvas_u8: NDArray[np.uint8], items: list[Item]) -> None:
    """Writes the items' own colours, unlit and without their marks, into a canvas (H, W, 4), in place."""
    surface = skia.Surface(canvas_u8)
    canvas = surface.getCanvas()
    p = skia.Paint(AntiAlias=False)
    for item in items:
        if item.labelled and item.painting is not None:
            surface.flushAndSubmit()
            shown = item.painting.parts > 0
            canvas_u8[item.painting.box][..., :3][shown] = item.painting.own_colours()[shown]
            canvas_u8[item.painting.box][..., 3][shown] = 255
        elif item.labelled and item.alpha >= 0.5:
            r, g, b = (np.clip(item.albedo, 0, 1) * 255).round().astype(int)
            p.setColor(skia.Color(int(r), int(g), int(b)))
            canvas.drawPath(item.path, p)
    surface.flushAndSubmit()


def unpack(canvas_u8: NDArray[np.uint8]) -> tuple[NDArray[np.uint8], NDArray[np.uint8], NDArray[np.float32]]:
    """Labels and figures (H, W) uint8, and depth (H, W) float32, 0 near … 1 far."""
    depth = canvas_u8[:, :, 1].astype(np.uint16) << 8 | canvas_u8[:, :, 2] | 1
    packed = canvas_u8[:, :, 0]
    return (
        packed % _FIGURE,
        packed // _FIGURE + (canvas_u8[:, :, 2] & 1) * np.uint8(_IN_RED),
        (depth.astype(np.float32) / np.float32(65535)).astype(np.float32),
    )
