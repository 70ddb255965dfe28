import io

import numpy as np
import pytest
from PIL import Image, ImageCms

from mosskeeper.core.errors import BadPicture
from mosskeeper.core.pictures.decode import decode, encode_png, thumbnail


def encoded(image: Image.Image, kind: str = "PNG", **options: object) -> bytes:
    out = io.BytesIO()
    image.save(out, kind, **options)
    return out.getvalue()


PLAIN = Image.fromarray(np.arange(24 * 16 * 3, dtype=np.uint8).reshape(16, 24, 3))


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "WEBP"])
def test_the_three_formats_are_read(kind: str) -> None:
    decoded = decode(encoded(PLAIN, kind))
    assert decoded.rgb_u8.shape == (16, 24, 3)
    assert decoded.notes == ()


def test_pixels_survive_being_stored() -> None:
    pixels = np.asarray(PLAIN)
    assert np.array_equal(decode(encode_png(pixels)).rgb_u8, pixels)


def bomb() -> bytes:
    # a small file that claims 30000 × 30000 pixels
    data = bytearray(encoded(PLAIN))
    data[16:24] = (30000).to_bytes(4, "big") * 2
    import zlib

    data[29:33] = zlib.crc32(bytes(data[12:29])).to_bytes(4, "big")
    return bytes(data)


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "empty"),
        (b"hello, this is text", "not a PNG, JPEG or WebP"),
        (encoded(PLAIN, "GIF"), "not a PNG, JPEG or WebP"),
        (encoded(PLAIN)[:90], "damaged or cut off"),
        (encoded(PLAIN)[:29] + bytes([encoded(PLAIN)[29] ^ 255]) + encoded(PLAIN)[30:], "damaged or cut off"),
        (encoded(PLAIN, "JPEG")[:300], "damaged or cut off"),
        (bomb(), "megapixels"),
        (encoded(Image.new("L", (8000, 5001))), "megapixels"),
        (b"\x89PNG" + bytes(20_000_001), "MB"),
    ],
)
def test_a_file_that_is_no_picture_is_refused_with_the_reason(data: bytes, says: str) -> None:
    with pytest.raises(BadPicture, match=says) as caught:
        decode(data)
    assert caught.value.field == "picture"


def test_exif_rotation_is_applied_and_said() -> None:
    exif = Image.Exif()
    exif[0x0112] = 6
    decoded = decode(encoded(PLAIN, "JPEG", exif=exif))
    assert decoded.rgb_u8.shape == (24, 16, 3)
    assert "upright" in decoded.notes[0]


def test_alpha_is_laid_on_paper_and_said() -> None:
    decoded = decode(encoded(Image.new("RGBA", (4, 4), (0, 0, 0, 0))))
    assert decoded.rgb_u8.min() > 230
    assert "transparent" in decoded.notes[0]


def test_sixteen_bits_become_eight() -> None:
    deep = Image.fromarray(np.full((4, 4), 32768, np.uint16))
    decoded = decode(encoded(deep))
    assert np.abs(decoded.rgb_u8.astype(int) - 128).max() <= 1
    assert "16 bits" in decoded.notes[0]


def test_cmyk_is_converted() -> None:
    decoded = decode(encoded(Image.new("CMYK", (4, 4), (0, 255, 255, 0)), "JPEG"))
    r, g, b = decoded.rgb_u8[0, 0]
    assert r > 200 > 60 > max(g, b)
    assert "CMYK" in decoded.notes[0]


def test_the_first_frame_of_an_animation_is_taken() -> None:
    frames = [Image.new("RGB", (8, 8), c) for c in ("red", "blue")]
    decoded = decode(encoded(frames[0], "WEBP", save_all=True, append_images=frames[1:], duration=100))
    assert decoded.rgb_u8[4, 4, 0] > 200
    assert "animated" in decoded.notes[0]


def test_a_colour_profile_is_brought_to_srgb() -> None:
    profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    assert decode(encoded(PLAIN, icc_profile=profile)).rgb_u8.shape == (16, 24, 3)


def test_thumbnails_are_small_and_keep_the_aspect() -> None:
    big = np.zeros((640, 512, 3), np.uint8)
    image = Image.open(io.BytesIO(thumbnail(big)))
    assert image.size == (256, 320)


def test_a_transparent_picture_is_brought_to_srgb_like_any_other() -> None:
    layers = Image.fromarray(np.dstack([np.asarray(PLAIN), np.full((16, 24), 120, np.uint8)]))
    damaged = decode(encoded(layers, icc_profile=b"no profile"))
    assert any("profile is damaged" in note for note in damaged.notes)
    profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    kept = decode(encoded(layers, icc_profile=profile))
    assert kept.rgba_u8 is not None
    assert (kept.rgba_u8[..., 3] == 120).all()
    assert np.abs(kept.rgba_u8[..., :3].astype(int) - np.asarray(PLAIN)).max() <= 1


def test_what_the_studio_stored_itself_is_read_whatever_its_bytes() -> None:
    data = encoded(PLAIN)
    with pytest.raises(BadPicture, match="at most"):
        decode(data + bytes(20_000_001))
    assert decode(data, None).rgb_u8.shape == (16, 24, 3)
