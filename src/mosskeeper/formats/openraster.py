"""OpenRaster files (Baseline specification 0.0.5): pictures in layers, for painting programs."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass
from xml.etree import ElementTree

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from mosskeeper.core.pictures.decode import encode_png

_THUMBNAIL = 256  # px, as the specification prescribes


@dataclass(frozen=True, slots=True, eq=False)
class RasterLayer:
    """name : as a painting program shows it. rgba_u8 : (h, w, 4). at : x, y in px of its upper left corner."""

    name: str
    rgba_u8: NDArray[np.uint8]
    at: tuple[int, int] = (0, 0)
    visible: bool = True


def opaque(rgb_u8: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """A picture (h, w, 3) with a full alpha channel."""
    return np.dstack([rgb_u8, np.full(rgb_u8.shape[:2], 255, np.uint8)])


def openraster(size: tuple[int, int], layers: Sequence[RasterLayer], merged_u8: NDArray[np.uint8]) -> bytes:
    """The file. size : width, height of the canvas. layers : from the lowest up. merged_u8 : (H, W, 3 or 4), all of them."""
    image = ElementTree.Element("image", {"version": "0.0.5", "w": str(size[0]), "h": str(size[1])})
    stack = ElementTree.SubElement(image, "stack")
    for n, layer in reversed(list(enumerate(layers))):  # the uppermost comes first
        ElementTree.SubElement(
            stack,
            "layer",
            {
                "name": layer.name,
                "src": f"data/layer{n}.png",
                "x": str(layer.at[0]),
                "y": str(layer.at[1]),
                "visibility": "visible" if layer.visible else "hidden",
                "opacity": "1.0",
                "composite-op": "svg:src-over",
            },
        )
    small = Image.fromarray(merged_u8)
    small.thumbnail((_THUMBNAIL, _THUMBNAIL))
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as file:
        file.writestr(zipfile.ZipInfo("mimetype"), "image/openraster", zipfile.ZIP_STORED)
        file.writestr("stack.xml", ElementTree.tostring(image, encoding="utf-8", xml_declaration=True))
        for n, layer in enumerate(layers):
            file.writestr(f"data/layer{n}.png", encode_png(layer.rgba_u8))
        file.writestr("mergedimage.png", encode_png(merged_u8))
        file.writestr("Thumbnails/thumbnail.png", encode_png(np.asarray(small, np.uint8)))
    return out.getvalue()
