"""A drawing on paper, scanned or photographed, as a board: the page is found, shadow and paper are taken out, lines are cleaned.

1. The page is the largest bright four-cornered area; it is laid flat. Where none is found the whole picture is the page.
2. The paper's own brightness, with its shadows, is a smooth surface through what is bright; what is drawn is darker or more coloured.
3. Paper becomes open, what is drawn stays with its colour as it would be on white paper; specks go. The method is ours.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.pictures.colour import rgb_to_lab

U8 = NDArray[np.uint8]
F32 = NDArray[np.float32]
_WORKED = 900  # px of the longer side at which it is worked
_LEAST_PAGE = 0.25  # of the picture, that a page covers
_DARKER, _COLOURED = 9.0, 9.0  # Lab from the paper, from which something is drawn
_LEAST_SPECK = 1.2e-5  # of the page's area
_MUCH = 0.85  # of the page drawn on, from which there is no paper to be seen
_LITTLE = 2e-4
_ROUNDS = 6


@dataclass(frozen=True, slots=True, eq=False)
class Digitised:
    """rgba_u8 : (H, W, 4), the page upright, open where its paper is. found : whether a page was found. lined : whether it is lines alone."""

    rgba_u8: U8
    found: bool
    lined: bool


def digitised(picture_u8: U8) -> Digitised:
    """The drawing on a photographed or scanned page.

    Parameters
    ----------
    picture_u8 : (H, W, 3) sRGB.

    Raises
    ------
    ArtistError
        where nothing is drawn, or no paper is to be seen.
    """
    k = min(1.0, _WORKED / max(picture_u8.shape[:2]))
    side = (max(16, round(picture_u8.shape[1] * k)), max(16, round(picture_u8.shape[0] * k)))
    small = np.asarray(cv2.resize(np.ascontiguousarray(picture_u8[..., :3]), side, interpolation=cv2.INTER_AREA), np.uint8)
    corners = _page(small)
    flat = small if corners is None else _laid_flat(small, corners)
    even = _evened(flat)
    lab = rgb_to_lab(even)
    chroma = np.hypot(lab[..., 1] - np.median(lab[..., 1]), lab[..., 2] - np.median(lab[..., 2]))
    drawn = ((100 - lab[..., 0] > _DARKER) | (chroma > _COLOURED)).astype(np.uint8)
    drawn = _without_specks(np.asarray(cv2.morphologyEx(drawn, cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8)), np.uint8))
    share = float(drawn.mean())
    if share < _LITTLE:
        raise ArtistError("Nothing drawn was found on this page. Photograph it closer, or with more light.", "board")
    if share > _MUCH:
        raise ArtistError("No paper is to be seen in this picture. Lay it on the board as it is, or leave a margin of paper.", "board")
    colours = np.asarray(cv2.medianBlur((even * 255 + 0.5).astype(np.uint8), 3), np.uint8)
    return Digitised(np.dstack([colours, drawn * np.uint8(255)]), corners is not None, _lines_alone(drawn))


def _page(rgb_u8: U8) -> F32 | None:
    """The four corners of a page, from the upper left round; None where none stands out."""
    h, w = rgb_u8.shape[:2]
    light = cv2.GaussianBlur(rgb_to_lab(rgb_u8.astype(np.float32) / 255)[..., 0], (0, 0), 3)
    _, bright = cv2.threshold((light * 2.55).astype(np.uint8), 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    bright = cv2.morphologyEx(bright, cv2.MORPH_CLOSE, np.ones((15, 15), np.uint8))
    contours, _ = cv2.findContours(bright, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    if not contours:
        return None
    page = max(contours, key=cv2.contourArea)
    area = cv2.contourArea(page)
    if not _LEAST_PAGE * w * h < area < 0.97 * w * h:
        return None
    hull = cv2.convexHull(page)
    for loose in (0.02, 0.04, 0.06):
        corners = cv2.approxPolyDP(hull, loose * cv2.arcLength(hull, True), True)[:, 0].astype(np.float32)
        if len(corners) == 4 and cv2.contourArea(corners) > 0.85 * area:
            return _ordered(corners)
    return None


def _ordered(corners: F32) -> F32:
    total, apart = corners.sum(1), np.diff(corners, axis=1)[:, 0]
    return np.asarray(corners[[total.argmin(), apart.argmin(), total.argmax(), apart.argmax()]], np.float32)


def _laid_flat(rgb_u8: U8, corners: F32) -> U8:
    a, b, c, d = corners
    wide = float(max(np.hypot(*(b - a)), np.hypot(*(c - d))))
    high = float(max(np.hypot(*(d - a)), np.hypot(*(c - b))))
    inset = 0.012 * max(wide, high)  # the page's own edge is no line
    goal = np.array([(-inset, -inset), (wide + inset, -inset), (wide + inset, high + inset), (-inset, high + inset)], np.float32)
    matrix = cv2.getPerspectiveTransform(corners, goal)
    return np.asarray(cv2.warpPerspective(rgb_u8, matrix, (round(wide), round(high)), borderMode=cv2.BORDER_REPLICATE), np.uint8)


def _evened(rgb_u8: U8) -> F32:
    """The page as on white paper in even light: each place over the paper's brightness there, a smooth surface through what is bright."""
    h, w = rgb_u8.shape[:2]
    k = 120 / max(h, w)
    tiny = cv2.resize(rgb_u8, (max(8, round(w * k)), max(8, round(h * k))), interpolation=cv2.INTER_AREA).astype(np.float64)
    y, x = np.mgrid[-1 : 1 : tiny.shape[0] * 1j, -1 : 1 : tiny.shape[1] * 1j]
    terms = np.stack([x**i * y**j for i in range(4) for j in range(4 - i)], -1).reshape(-1, 10)
    light = tiny.reshape(-1, 3)
    bright = light.sum(1) > np.percentile(light.sum(1), 40)
    surface = light
    for _ in range(_ROUNDS):  # what lies below the surface is drawn, and does not hold it down
        coefficients, *_ = np.linalg.lstsq(terms[bright], light[bright], rcond=None)
        surface = terms @ coefficients
        bright = light.sum(1) > 0.94 * surface.sum(1)
    paper = cv2.resize(surface.reshape(tiny.shape).astype(np.float32), (w, h), interpolation=cv2.INTER_CUBIC)
    return np.asarray(np.clip(rgb_u8.astype(np.float32) / np.maximum(paper, 24.0), 0, 1), np.float32)


def _without_specks(drawn: U8) -> U8:
    least = max(6, round(_LEAST_SPECK * drawn.size))
    n, parts, stats, _ = cv2.connectedComponentsWithStats(drawn, connectivity=8)
    kept = np.zeros(n, np.uint8)
    kept[1:] = stats[1:, cv2.CC_STAT_AREA] >= least
    return np.asarray(kept[parts], np.uint8)


def _lines_alone(drawn: U8) -> bool:
    thick = cv2.distanceTransform(drawn, cv2.DIST_L2, 3)
    return bool((thick > 0.012 * max(drawn.shape)).sum() < 0.03 * drawn.sum())  # they are thicker where they meet
