"""Exact readings: contours, line art, tones, measures, palettes with names, depth maps."""

import io

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from mosskeeper.core.errors import BadPicture
from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH
from mosskeeper.core.pictures.depth_map import read_depth_map
from mosskeeper.core.reading.contours import contours, line_art
from mosskeeper.core.reading.measures import measure, named_palette, tones
from mosskeeper.core.reading.palette import read_palette


def square() -> np.ndarray:
    picture = np.full((128, 128, 3), 230, np.uint8)
    picture[40:90, 30:100] = (60, 70, 90)
    return picture


def test_a_contour_is_found_at_every_scale_and_flat_ground_at_none() -> None:
    found = contours(square())
    border = cv2.morphologyEx((square()[..., 0] < 100).astype(np.uint8), cv2.MORPH_GRADIENT, np.ones((7, 7), np.uint8)) > 0
    assert found.max() == 1
    assert found[~cv2.dilate(border.astype(np.uint8), np.ones((13, 13), np.uint8)).astype(bool)].max() == 0
    assert (found[border] > 0.6).any()


@pytest.mark.parametrize("shape", [(1, 1, 3), (3, 200, 3), (17, 17, 3)])
def test_tiny_pictures_have_contours_of_their_size(shape: tuple[int, ...]) -> None:
    assert contours(np.full(shape, 90, np.uint8)).shape == shape[:2]


def test_lines_are_found_under_an_uneven_light_and_dust_is_not() -> None:
    paper = np.tile(np.linspace(150, 245, 200, dtype=np.float32), (160, 1))
    drawn = np.zeros((160, 200), np.uint8)
    cv2.circle(drawn, (60, 80), 40, 255, 2)
    cv2.line(drawn, (120, 20), (180, 140), 255, 2)
    scan = paper * (1 - 0.75 * (drawn > 0))
    scan[10, 10] = scan[150, 100] = 60  # dust
    found = line_art(np.repeat(scan.astype(np.uint8)[..., None], 3, 2))
    assert (found & (drawn > 0)).sum() > 0.9 * (drawn > 0).sum()
    assert not found[10, 10]
    assert (found & (cv2.dilate(drawn, np.ones((3, 3), np.uint8)) == 0)).sum() == 0


@pytest.mark.parametrize("value", [0, 128, 255])
def test_an_empty_page_has_no_lines(value: int) -> None:
    assert not line_art(np.full((60, 60, 3), value, np.uint8)).any()


def test_colours_of_one_lightness_stay_apart_in_grey() -> None:
    picture = np.empty((64, 64, 3), np.float32)
    picture[:, ::2], picture[:, 1::2] = (200, 60, 60), (60, 122, 60)
    noisy = np.clip(picture + np.random.default_rng(0).normal(0, 8, picture.shape), 0, 255).astype(np.uint8)
    plain, kept = (g.astype(int) for g in (cv2.cvtColor(noisy, cv2.COLOR_RGB2GRAY), tones(noisy)))
    apart = [abs(g[:, ::2].mean() - g[:, 1::2].mean()) for g in (plain, kept)]
    assert apart[1] > 3 * apart[0]


def test_blur_lowers_sharpness_whatever_the_size_of_the_picture() -> None:
    picture = draw(Description(layout=Layout("standing", "bust")), (320, 400)).image
    sharp, soft = measure(picture), measure(cv2.GaussianBlur(picture, (0, 0), 2.0))
    assert soft.sharpness < 0.7 * sharp.sharpness
    assert soft.texture < sharp.texture


@given(st.integers(0, 255))
def test_the_key_rises_with_the_lightness(value: int) -> None:
    flat = measure(np.full((20, 20, 3), value, np.uint8))
    brighter = measure(np.full((20, 20, 3), min(255, value + 30), np.uint8))
    order = ["low key", "middle key", "high key"]
    assert order.index(flat.key) <= order.index(brighter.key)
    assert flat.contrast == pytest.approx(0, abs=1e-5)


@pytest.mark.parametrize("name", ["mustard", "navy", "moss", "brick"])
def test_a_colour_is_called_by_its_name_and_has_its_area(name: str) -> None:
    picture = np.full((64, 64, 3), 245, np.uint8)
    picture[:32] = np.clip(np.asarray(CLOTH[name]) * 255 + 0.5, 0, 255)
    found = {c.name: c for c in named_palette(read_palette(picture))}
    assert found[name].share == pytest.approx(0.5, abs=0.03)
    assert np.abs(np.array(found[name].rgb) - CLOTH[name]).max() < 0.05
    assert sum(c.share for c in found.values()) == pytest.approx(1, abs=0.02)


def png(array: np.ndarray) -> bytes:
    out = io.BytesIO()
    Image.fromarray(array).save(out, "PNG")
    return out.getvalue()


@pytest.mark.parametrize("top", [255, 65535])
def test_a_depth_map_of_8_or_16_bits_keeps_its_steps(top: int) -> None:
    values = np.tile(np.linspace(0, top, 50).round(), (20, 1)).astype(np.uint8 if top == 255 else np.uint16)
    depth = read_depth_map(png(values))
    assert (depth[0, 0], depth[0, -1]) == (1, 0)
    assert np.allclose(np.diff(depth[0]), -1 / 49, atol=1.1 / top)
    assert np.allclose(read_depth_map(png(values), near_is_bright=False), 1 - depth)


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "must be a PNG"),
        (b"\x89PNG\r\n\x1a\n", "must be a PNG|damaged"),
        (png(np.full((9, 9), 7, np.uint8)), "one depth"),
        (png(square())[:200], "damaged"),
    ],
)
def test_a_bad_depth_map_is_explained(data: bytes, says: str) -> None:
    with pytest.raises(BadPicture, match=says):
        read_depth_map(data)
