"""Differences, areas and likeness of pictures."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosskeeper.core.continuity.likeness import LENGTH, likeness, near_colour
from mosskeeper.core.pictures.areas import AREAS, SIDE, area_mask, cut_to
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.pictures.difference import delta_e_map, drawn, share_seen
from mosskeeper.core.reading.reading import Reading, measured

RED, BLUE = (np.full((32, 32, 3), rgb, np.uint8) for rgb in ((200, 30, 30), (30, 30, 200)))


def test_the_difference_of_a_picture_to_itself_is_paper_and_nowhere_seen() -> None:
    noise = np.random.default_rng(0).integers(0, 255, (24, 30, 3), np.uint8)
    same = delta_e_map(noise, noise)
    assert same.shape == (24, 30)
    assert same.max() == share_seen(same) == 0
    assert (drawn(same) == (247, 244, 236)).all()


def test_a_difference_lies_where_the_pictures_differ_and_is_darker_the_farther() -> None:
    near, far = RED.copy(), RED.copy()
    near[:, 16:] = (200, 60, 30)
    far[:, 16:] = BLUE[:, 16:]
    maps = [delta_e_map(RED, other) for other in (near, far)]
    for found in maps:
        assert found[:, :16].max() == 0
        assert share_seen(found) == 0.5
    light = [drawn(found)[:, 16:].mean() for found in maps]
    assert light[0] > light[1]
    assert delta_e_map(RED, np.full((64, 64, 3), (200, 30, 30), np.uint8)).max() < 1  # of another size


@pytest.mark.parametrize(
    ("name", "inside", "outside"),
    [
        ("left", (0.5, 0.2), (0.5, 0.8)),
        ("right", (0.5, 0.8), (0.5, 0.2)),
        ("above", (0.2, 0.5), (0.8, 0.5)),
        ("below", (0.8, 0.5), (0.2, 0.5)),
        ("middle", (0.5, 0.5), (0.1, 0.1)),
    ],
)
def test_an_area_is_white_inside_black_outside_and_fades_between(
    name: str, inside: tuple[float, float], outside: tuple[float, float]
) -> None:
    mask = area_mask(name)[..., 0]
    assert mask[int(inside[0] * SIDE), int(inside[1] * SIDE)] == 255
    assert mask[int(outside[0] * SIDE), int(outside[1] * SIDE)] == 0
    assert ((mask > 0) & (mask < 255)).any()


def test_opposite_areas_cover_the_picture_once() -> None:
    for one, other in (("left", "right"), ("above", "below")):
        assert np.abs(area_mask(one).astype(int) + area_mask(other) - 255).max() <= 1
    assert len({area_mask(name).tobytes() for name in AREAS}) == len(AREAS)


@given(st.integers(0, 255), st.integers(0, 255), st.integers(0, 255))
def test_likeness_has_length_one_and_is_full_to_itself(r: int, g: int, b: int) -> None:
    vector = likeness(measured(np.full((8, 8, 3), (r, g, b), np.uint8)))
    assert vector.shape == (LENGTH,)
    assert vector @ vector == pytest.approx(1, abs=1e-4)


def test_pictures_are_more_alike_the_more_they_share() -> None:
    def reading(image: np.ndarray, place: str) -> Reading:
        return replace(measured(image), attributes={"place": {place: 1.0}})

    own = likeness(reading(RED, "bell tower"))
    both, colours, place, none = (
        own @ likeness(reading(image, where))
        for image, where in ((RED, "bell tower"), (RED, "library stair"), (BLUE, "bell tower"), (BLUE, "library stair"))
    )
    assert both > max(colours, place)
    assert min(colours, place) > none


def test_a_part_is_cut_out_where_a_mask_is_white() -> None:
    ramp = np.arange(200, dtype=np.float32)[None].repeat(100, 0)
    left, below = cut_to(ramp, area_mask("left")), cut_to(ramp.T, area_mask("below"))
    assert left.shape == (100, 100)
    assert left.max() == 99
    assert below.min() == 100
    assert cut_to(ramp, np.zeros((8, 8, 3), np.uint8)).shape == ramp.shape


def test_a_colour_is_found_by_the_area_it_has() -> None:
    half = RED.copy()
    half[16:] = BLUE[16:]
    palettes = [measured(image).palette for image in (RED, half, BLUE)]
    packed = np.stack([np.concatenate([p.lab, p.area[:, None]], 1) for p in palettes])
    found = near_colour(packed, rgb_to_lab(np.array([200, 30, 30]) / 255))
    assert found[0] == pytest.approx(1, abs=0.05)
    assert found[1] == pytest.approx(0.5, abs=0.1)
    assert found[2] < 0.05
