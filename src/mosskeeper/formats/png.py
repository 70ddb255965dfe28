"""Takes as PNG files that carry their recipe.

Text chunks (PNG specification, third edition, 11.3.3): `mosskeeper:recipe` holds the recipe as JSON,
`mosskeeper:scenes` the scenes that it was drawn from, where they are known, `mosskeeper:pixels` the SHA-256 of the pixels that they explain, `mosskeeper:pictures` the boards that the recipe uses as
PNG files in base64 by their SHA-256, and the last an XMP packet (ISO 16684-1) with IPTC's digital source type for algorithmic media.
"""

from __future__ import annotations

import base64
import hashlib
import io
import json
from collections.abc import Mapping
from xml.sax.saxutils import quoteattr

import numpy as np
from numpy.typing import NDArray
from PIL import Image, PngImagePlugin

from mosskeeper.core.errors import BadRecipe
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.recipe import Recipe, read_recipe

RECIPE_CHUNK = "mosskeeper:recipe"
SCENES_CHUNK = "mosskeeper:scenes"
PIXELS_CHUNK = "mosskeeper:pixels"
PICTURES_CHUNK = "mosskeeper:pictures"
XMP_CHUNK = "XML:com.adobe.xmp"  # the keyword that the XMP specification prescribes
_SOURCE_TYPE = "http://cv.iptc.org/newscodes/digitalsourcetype/algorithmicMedia"
_LARGEST_CHUNK = 1_000_000
_LARGEST_PICTURES = 16_000_000


def with_recipe(
    png: bytes, recipe: Recipe, title: str, explained: LayeredScenes | None = None, boards: Mapping[str, bytes] | None = None
) -> bytes:
    """The PNG with its recipe, its scenes, its boards (PNG files by SHA-256) and its provenance inside. Pixels stay as they are."""
    image = Image.open(io.BytesIO(png), formats=("PNG",))
    info = PngImagePlugin.PngInfo()
    info.add_itxt(RECIPE_CHUNK, recipe.to_json(), zip=True)
    if explained is not None:
        info.add_itxt(SCENES_CHUNK, json.dumps(explained.to_json(), separators=(",", ":")), zip=True)
        info.add_itxt(PIXELS_CHUNK, _digest(np.asarray(image.convert("RGB"))))
    if boards:
        packed = {sha256: base64.b64encode(data).decode() for sha256, data in boards.items()}
        info.add_itxt(PICTURES_CHUNK, json.dumps(packed, separators=(",", ":")))
    info.add_itxt(XMP_CHUNK, _xmp(title))
    out = io.BytesIO()
    image.save(out, "PNG", pnginfo=info, compress_level=6)
    return out.getvalue()


def recipe_of(data: bytes) -> Recipe | None:
    """The recipe inside a PNG; None where the file is no PNG or carries none.

    Raises
    ------
    BadRecipe
        where there is one, but it is damaged or from a newer version.
    """
    document = text_chunk(data, RECIPE_CHUNK)
    if document is None:
        return None
    if len(document) > _LARGEST_CHUNK:
        raise BadRecipe("The recipe in this picture is too large to be one of ours.", "recipe")
    return read_recipe(document)


def scenes_of(data: bytes) -> LayeredScenes | None:
    """The scenes inside a PNG; None where the file is no PNG, carries none, or such as are not known here."""
    document = text_chunk(data, SCENES_CHUNK)
    if document is None or len(document) > _LARGEST_CHUNK:
        return None
    try:
        return LayeredScenes.from_json(json.loads(document))
    except (ValueError, RecursionError):
        return None


def own_scenes(data: bytes, rgb_u8: NDArray[np.uint8]) -> LayeredScenes | None:
    """The scenes inside a PNG whose pixels (H, W, 3) are still those that were drawn from them; None where they are not, or none known."""
    if text_chunk(data, PIXELS_CHUNK) != _digest(rgb_u8):
        return None
    return scenes_of(data)


def _digest(rgb_u8: NDArray[np.uint8]) -> str:
    return hashlib.sha256(str(rgb_u8.shape).encode() + np.ascontiguousarray(rgb_u8).tobytes()).hexdigest()


def pictures_of(data: bytes) -> dict[str, bytes]:
    """The boards inside a PNG by SHA-256: those whose bytes have it; none where the file is no PNG or carries none."""
    document = text_chunk(data, PICTURES_CHUNK)
    if document is None or len(document) > _LARGEST_PICTURES:
        return {}
    try:
        packed = json.loads(document)
        found = {str(sha256): base64.b64decode(str(text), validate=True) for sha256, text in packed.items()}
    except (ValueError, AttributeError, RecursionError):
        return {}
    return {sha256: png for sha256, png in found.items() if hashlib.sha256(png).hexdigest() == sha256}


def text_chunk(data: bytes, chunk: str) -> str | None:
    """A text chunk of a PNG; None where there is none, or no PNG that can be opened."""
    try:
        image = Image.open(io.BytesIO(data), formats=("PNG",))
        image.load()
        text = getattr(image, "text", {})
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        return None
    return str(text[chunk]) if chunk in text else None


def _xmp(title: str) -> str:
    return f"""<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>
<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
<rdf:Description rdf:about="" xmlns:Iptc4xmpExt="http://iptc.org/std/Iptc4xmpExt/2008-02-29/"
 xmlns:xmp="http://ns.adobe.com/xap/1.0/" xmlns:dc="http://purl.org/dc/elements/1.1/"
 Iptc4xmpExt:DigitalSourceType="{_SOURCE_TYPE}" xmp:CreatorTool="Moss Keeper" dc:source={quoteattr(title)}/>
</rdf:RDF></x:xmpmeta><?xpacket end="r"?>"""
