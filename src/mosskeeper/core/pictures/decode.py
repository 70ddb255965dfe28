"""Safe decoding: from bytes that anybody may have sent to an sRGB picture."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms, ImageOps, UnidentifiedImageError

from mosskeeper.core.errors import BadPicture

MAX_BYTES = 20_000_000
MAX_PIXELS = 40_000_000
_FORMATS = ("PNG", "JPEG", "WEBP")
_WAS_CMYK = "The picture is in CMYK: it was converted to sRGB, colours may shift slightly."
_BEGINNINGS = (b"\x89PNG\r\n", b"\xff\xd8\xff")
_DAMAGED = "This picture is damaged or cut off and cannot be read. Export it again."
_MATTE = (247, 244, 236)  # what shows through transparent pictures: the page's paper

Image.MAX_IMAGE_PIXELS = MAX_PIXELS


@dataclass(frozen=True, slots=True)
class Decoded:
    rgb_u8: NDArray[np.uint8]  # (H, W, 3) sRGB
    notes: tuple[str, ...]  # what was done to it, as sentences for the artist
    rgba_u8: NDArray[np.uint8] | None = None  # (H, W, 4) sRGB with its alpha, where parts of it are open

    @property
    def layers_u8(self) -> NDArray[np.uint8]:
        """(H, W, 4) where parts are open, else (H, W, 3)."""
        return self.rgb_u8 if self.rgba_u8 is None else self.rgba_u8


def decode(data: bytes, most_bytes: int | None = MAX_BYTES) -> Decoded:
    """Decodes PNG, JPEG or WebP.

    most_bytes : that are taken; None for what the studio stored itself: noise takes more as PNG than as the JPEG that came.

    CMYK, 16 bit, palettes, colour profiles and EXIF rotation are brought to upright 8 bit sRGB; open parts are laid on
    paper in `rgb_u8` and stay open in `rgba_u8`; of an animation the first frame is taken. What changed is said in `notes`.

    Raises
    ------
    BadPicture
        where the bytes are empty, too many, no picture of these formats, damaged, or too large when unpacked.
    """
    if not data:
        raise BadPicture("This file is empty (0 bytes). Choose another picture.", "picture")
    if most_bytes is not None and len(data) > most_bytes:
        raise BadPicture(
            f"This file has {len(data) / 1e6:.0f} MB; at most {MAX_BYTES // 1_000_000} MB are taken. Save it smaller.", "picture"
        )
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            image = Image.open(io.BytesIO(data), formats=_FORMATS)
            if image.width * image.height > MAX_PIXELS:
                raise Image.DecompressionBombError
            notes: list[str] = []
            if getattr(image, "n_frames", 1) > 1:
                image.seek(0)
                notes.append("The picture is animated: its first frame is used.")
            image.load()
            turned = _profiled(_upright(image, notes), notes)
            upright, layers = _to_srgb(turned, notes), _layers(turned)
    except (Image.DecompressionBombError, Image.DecompressionBombWarning):
        raise BadPicture(f"This picture has more than {MAX_PIXELS // 1_000_000} megapixels. Scale it down first.", "picture") from None
    except UnidentifiedImageError:
        claims = data.startswith(_BEGINNINGS)
        raise BadPicture(_DAMAGED if claims else "This is not a PNG, JPEG or WebP picture.", "picture") from None
    except (OSError, ValueError, SyntaxError, EOFError):
        raise BadPicture(_DAMAGED, "picture") from None
    return Decoded(np.asarray(upright, np.uint8), tuple(notes), layers)


def _upright(image: Image.Image, notes: list[str]) -> Image.Image:
    turned = ImageOps.exif_transpose(image)
    if image.getexif().get(0x0112, 1) != 1:
        notes.append("The picture was turned upright as its camera noted.")
    return turned


def _profiled(image: Image.Image, notes: list[str]) -> Image.Image:
    """The picture in sRGB where it has a colour profile; what is open in it stays open."""
    profile = image.info.get("icc_profile")
    modes = {"RGB": "RGB", "CMYK": "RGB", "L": "RGB", "RGBA": "RGBA"}
    if image.mode == "P" and profile:
        image = image.convert("RGBA" if "transparency" in image.info else "RGB")
    if image.mode == "LA" and profile:
        image = image.convert("RGBA")
    if not profile or image.mode not in modes:
        return image
    if image.mode == "CMYK":
        notes.append(_WAS_CMYK)
    try:
        source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        colours = image.convert("RGB") if image.mode == "RGBA" else image
        converted = ImageCms.profileToProfile(colours, source, ImageCms.createProfile("sRGB"), outputMode="RGB")
    except (ImageCms.PyCMSError, OSError, ValueError, SyntaxError, TypeError):
        notes.append("The picture's colour profile is damaged: its colours are taken as sRGB.")
        return image
    if converted is None:
        return image
    if image.mode == "RGBA":
        converted.putalpha(image.getchannel("A"))
    return converted


def _to_srgb(image: Image.Image, notes: list[str]) -> Image.Image:
    if image.mode.startswith("I") or image.mode == "F":
        notes.append("The picture has 16 bits a channel: 8 are used.")
        deep = np.asarray(image, np.float64)
        scale = 65535 if deep.max(initial=0) > 255 else 255
        return Image.fromarray((deep / scale * 255).round().clip(0, 255).astype(np.uint8)).convert("RGB")
    if image.mode == "CMYK":
        notes.append(_WAS_CMYK)
    if image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info:
        if _layers(image) is not None:
            notes.append("The picture has transparent parts: on a board they stay open, elsewhere they are laid on paper.")
        layer = image.convert("RGBA")
        ground = Image.new("RGBA", layer.size, (*_MATTE, 255))
        return Image.alpha_composite(ground, layer).convert("RGB")
    return image.convert("RGB")


def _layers(image: Image.Image) -> NDArray[np.uint8] | None:
    """(H, W, 4) of a picture of which parts are open; what is wholly open has the colour of paper. None where none is."""
    if image.mode not in ("RGBA", "LA", "PA") and "transparency" not in image.info:
        return None
    out = np.array(image.convert("RGBA"), np.uint8)
    if (out[:, :, 3] == 255).all():
        return None
    out[out[:, :, 3] == 0, :3] = _MATTE
    return out


def on_paper(layers_u8: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """(H, W, 3) of a picture (H, W, 3 or 4), laid on paper where it is open."""
    if layers_u8.shape[2] == 3:
        return layers_u8
    alpha = layers_u8[:, :, 3:].astype(np.float32) / 255
    return np.asarray(layers_u8[:, :, :3] * alpha + np.array(_MATTE, np.float32) * (1 - alpha) + 0.5, np.uint8)


def encode_png(rgb_u8: NDArray[np.uint8], level: int = 6) -> bytes:
    """(H, W, 3 or 4) uint8 → PNG bytes without metadata."""
    out = io.BytesIO()
    Image.fromarray(rgb_u8).save(out, "PNG", compress_level=level)
    return out.getvalue()


def encode_jpeg(rgb_u8: NDArray[np.uint8], quality: int = 82) -> bytes:
    out = io.BytesIO()
    Image.fromarray(rgb_u8).save(out, "JPEG", quality=quality)
    return out.getvalue()


def thumbnail(rgb_u8: NDArray[np.uint8], side: int = 320) -> bytes:
    """JPEG bytes of the picture, scaled so that its longer side is at most `side`."""
    image = Image.fromarray(on_paper(rgb_u8))
    image.thumbnail((side, side), Image.Resampling.LANCZOS)
    return encode_jpeg(np.asarray(image), 84)
