"""The surface of a finished picture: light on the silhouette, the hand's wobble, pigment, brush and paper."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields
from functools import lru_cache
from typing import Any

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator import printing
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.items import Canvas
from mosskeeper.core.illustrator.paint import PAPER, LitPalette
from mosskeeper.core.pictures.resample import cubic, fitted, linear

F32 = NDArray[np.float32]

# Printing draws the borders of pieces: a sleeve and its shoulder are one.
_PIECE = np.arange(len(Part), dtype=np.uint8)
for _part, _piece in (
    (Part.SLEEVE, Part.TOP),
    (Part.FACIAL_HAIR, Part.HAIR),
    (Part.BROW, Part.FACE),
    (Part.EAR, Part.FACE),
    (Part.NECK, Part.SKIN),
    (Part.LEG, Part.SKIN),
):
    _PIECE[_part] = _piece


@dataclass(frozen=True, slots=True)
class Textures:
    """Noise fields of one size, each of deviation 1: from fine grain to large clouds, paper fibre, brush."""

    fine: F32
    small: F32
    middle: F32
    large: F32
    cloud: F32
    fibre: F32
    brush: F32


def _normalised(field: NDArray[Any]) -> F32:
    return np.asarray(field / field.std(), np.float32)


def _stroke_noise(rng: np.random.Generator, h: int, w: int, length: int, angle: float, sigma: float) -> F32:
    kernel = np.zeros((2 * length + 1, 2 * length + 1), np.float32)
    for t in np.linspace(-length, length, 6 * length):
        y, x = round(length + t * np.sin(angle)), round(length + t * np.cos(angle))
        kernel[y, x] = 1 - abs(t) / length * 0.7
    noise = cv2.GaussianBlur(rng.normal(size=(h, w)).astype(np.float32), (0, 0), sigma)
    return _normalised(cv2.filter2D(noise, -1, kernel / kernel.sum()))


def textures(canvas: Canvas, seed: int = 3) -> Textures:
    """The fields of a canvas; beyond the picture they go on as they are in it, so that no seam shows."""
    own = _textures(*canvas.size, seed)
    if not any(canvas.wider):
        return own
    return Textures(*(_beyond(getattr(own, f.name), canvas, cv2.BORDER_REFLECT_101) for f in fields(Textures)))


def _beyond(field: F32, canvas: Canvas, border: int) -> F32:
    x0, y0, x1, y1 = (max(-px, 0) for px in canvas.wider)
    own = np.ascontiguousarray(field[y0 : field.shape[0] - y1, x0 : field.shape[1] - x1])
    left, top, right, below = (max(px, 0) for px in canvas.wider)
    return np.ascontiguousarray(cv2.copyMakeBorder(own, top, below, left, right, border), np.float32)


@lru_cache(6)
def _textures(width: int, height: int, seed: int) -> Textures:
    rng = np.random.default_rng(seed)
    octaves = []
    for cell in (2, 8, 32, 96):
        coarse = rng.normal(size=(max(2, height // cell) + 2, max(2, width // cell) + 2)).astype(np.float32)
        octaves.append(_normalised(cubic(coarse, (width, height))))
    white = rng.normal(size=(3, height, width)).astype(np.float32)
    fine = _normalised(cv2.GaussianBlur(white[0], (0, 0), 0.6))
    across = cv2.GaussianBlur(white[1], (0, 0), sigmaX=5, sigmaY=0.6)
    along = cv2.GaussianBlur(white[2], (0, 0), sigmaX=0.7, sigmaY=4)
    brush = _stroke_noise(rng, height, width, 13, -0.55, 0.9) * 0.7
    brush += _stroke_noise(rng, height, width, 18, 0.25, 1.4) * 0.6
    small, middle, large, cloud = octaves
    return Textures(fine, small, middle, large, cloud, _normalised(across) + _normalised(along), brush)


@lru_cache(6)
def _grids(width: int, height: int) -> tuple[F32, F32]:
    x, y = np.meshgrid(np.arange(width, dtype=np.float32), np.arange(height, dtype=np.float32))
    return x, y


@lru_cache(6)
def _vignette(canvas: Canvas) -> F32:
    (width, height), (left, top, _, _) = canvas.size, canvas.wider
    x, y = _grids(canvas.width, canvas.height)
    u, v = (x - left).clip(0, width - 1) / width - 0.5, (y - top).clip(0, height - 1) / height - 0.5
    return np.clip((u * u + v * v) * 2.0 - 0.15, 0, 1).astype(np.float32)


@numba.njit(cache=True, fastmath=True)  # type: ignore[untyped-decorator]
def _light_kernel(rgb, away, core, rim, shadow, rim_colour, k_away, k_core):  # type: ignore[no-untyped-def]
    for y in range(rgb.shape[0]):
        for x in range(rgb.shape[1]):
            a = away[y, x] * k_away
            c = core[y, x] * k_core
            r = rim[y, x]
            if a + c + r < 1e-4:
                continue
            for q in range(3):
                v = rgb[y, x, q] * (1 - (1 - shadow[q]) * a)
                v += (rim_colour[q] - v * 0.45) * c
                v += (rim_colour[q] * 0.92 - v * 0.7) * r
                rgb[y, x, q] = np.uint8(min(max(v, 0.0), 255.0))


def light_silhouette(rgb_u8: NDArray[np.uint8], labels: NDArray[np.uint8], palette: LitPalette, head_px: float) -> None:
    """Rim, lit flank and shaded flank of the whole figure, in place, from its silhouette alone.

    Lighting the silhouette instead of each part keeps inner seams from being outlined.
    """
    finish, light = palette.finish, palette.light
    if finish.flat > 0.5:
        return
    h, w = labels.shape
    mask = (labels >= Part.HAIR).astype(np.float32)
    lx, ly = light.toward
    k = head_px / 100

    def shifted(field: NDArray[Any], distance: float) -> F32:
        matrix = np.array([[1, 0, -lx * distance], [0, 1, -ly * distance]], np.float32)
        return cv2.warpAffine(field, matrix, (field.shape[1], field.shape[0]), borderMode=cv2.BORDER_REPLICATE).astype(np.float32)

    strength = np.float32(min(1, 0.95 * light.rim_strength * finish.rim))
    rim = cv2.GaussianBlur(mask * (1 - shifted(mask, 2.6 * k**0.6)), (0, 0), 0.8 * max(k, 0.2) ** 0.5) * strength
    small = fitted(mask, (max(1, w // 4), max(1, h // 4)))

    def flank(distance: float, blur: float) -> F32:
        soft = cv2.GaussianBlur(shifted(small, distance / 4), (0, 0), max(0.8, blur))
        return (mask * np.clip(1 - linear(soft, (w, h)), 0, 1)).astype(np.float32)

    _light_kernel(
        rgb_u8,
        flank(-26 * k, 4 * k),
        flank(26 * k, 3 * k),
        rim.astype(np.float32),
        np.asarray(light.shadow, np.float32),
        np.asarray(light.rim, np.float32) * 255,
        np.float32(0.55 * finish.shadow),
        np.float32(0.16 * light.rim_strength * finish.rim),
    )


def wobbled(rgb_u8: NDArray[np.uint8], amount: float, heads: Sequence[tuple[float, float, float]], canvas: Canvas) -> NDArray[np.uint8]:
    """Edges as a hand draws them. Around heads (x, y, radius in px) almost nothing moves: faces break first."""
    h, w = rgb_u8.shape[:2]
    gx, gy = _grids(w, h)
    a, b = textures(canvas), textures(canvas, 5)
    calm = np.ones((h, w), np.float32)
    for x, y, radius in heads:
        calm *= 1 - np.float32(0.80) * np.exp(-((((gx - x) ** 2 + (gy - y) ** 2) / (radius * radius)) ** 2))
    k = (amount * 0.8 * calm).astype(np.float32)
    dx, dy = a.middle * 0.55 + a.large * 0.6, b.middle * 0.55 + b.large * 0.6
    return np.asarray(cv2.remap(rgb_u8, gx + dx * k, gy + dy * k, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE), np.uint8)


@numba.njit(cache=True, fastmath=True)  # type: ignore[untyped-decorator]
def _surface_kernel(rgb, bloom, density, grain, tooth, face, vignette, border, tint, ground, paper, p, out):  # type: ignore[no-untyped-def]
    # p: brush/pigment gain, saturation, tooth, vignette, grain, bloom, pigment?, margin?
    for y in range(rgb.shape[0]):
        for x in range(rgb.shape[1]):
            d = density[y, x]
            r = rgb[y, x, 0] / 255.0
            g = rgb[y, x, 1] / 255.0
            b = rgb[y, x, 2] / 255.0
            if p[6] > 0:  # pigment: density acts on the absorbed light
                r = 1 - (1 - r) * d * 0.97
                g = 1 - (1 - g) * d * 0.97
                b = 1 - (1 - b) * d * 0.97
            else:
                r *= d
                g *= d
                b *= d
            if p[5] > 0:
                r += bloom[y, x, 0] * p[5] * (1 - r * 0.6)
                g += bloom[y, x, 1] * p[5] * (1 - g * 0.6)
                b += bloom[y, x, 2] * p[5] * (1 - b * 0.6)
            r *= tint[0]
            g *= tint[1]
            b *= tint[2]
            grey = 0.3 * r + 0.59 * g + 0.11 * b
            r = grey + (r - grey) * p[1]
            g = grey + (g - grey) * p[1]
            b = grey + (b - grey) * p[1]
            if p[2] > 0:
                k = 0.90 + 0.15 * tooth[y, x] * (1 - 0.7 * face[y, x]) + 0.30 * (grey - 0.40)
                k = 1 - (1 - min(max(k, 0.25), 1.0)) * p[2]
                r = ground[0] * (1 - k) + min(r * 1.06 + 0.01, 1.0) * k
                g = ground[1] * (1 - k) + min(g * 1.06 + 0.01, 1.0) * k
                b = ground[2] * (1 - k) + min(b * 1.06 + 0.01, 1.0) * k
            v = 1 - vignette[y, x] * p[3]
            n = p[4] * grain[y, x]
            e = border[y, x]
            for q in range(3):
                c = r if q == 0 else (g if q == 1 else b)
                c = min(max(c, 0.0), 1.0)
                c = (c * 0.86 + 0.14 * c * c * (3 - 2 * c)) * v
                c += n * (0.35 + 0.65 * c)
                if p[7] > 0:
                    c = (paper[q] * (1 + 0.01 * grain[y, x])) * (1 - e) + c * e
                out[y, x, q] = np.uint8(min(max(c, 0.0), 1.0) * 255 + 0.5)


def finished(
    rgb_u8: NDArray[np.uint8],
    labels: NDArray[np.uint8],
    palette: LitPalette,
    canvas: Canvas,
    heads: Sequence[tuple[float, float, float]],
) -> NDArray[np.uint8]:
    """The painted picture with the surface of its finish.

    Parameters
    ----------
    rgb_u8 : (H, W, 3) uint8, painted and with its silhouette lit.
    labels : (H, W) uint8 part labels.
    canvas : what it was painted on.
    heads : x, y and radius of each head in pixels.
    """
    finish, light, unit = palette.finish, palette.light, canvas.unit
    h, w = labels.shape
    if finish.wobble:
        rgb_u8 = wobbled(rgb_u8, finish.wobble * unit, heads, canvas)
    t = textures(canvas)
    if finish.pigment:
        density = np.clip(
            1 + finish.pigment * (0.055 * t.large + 0.035 * t.cloud + 0.045 * t.middle + 0.03 * t.small + 0.035 * t.fine), 0.72, 1.35
        )
    else:
        density = 1 + finish.brush * (0.042 * t.brush + 0.026 * t.large)
    bloom: NDArray[Any] = np.zeros((1, 1, 3), np.float32)
    bloom_gain = 0.55 * light.glow if light.glow > 0.3 and finish.flat < 0.5 else 0.0
    if bloom_gain:
        small = fitted(rgb_u8, (max(1, w // 4), max(1, h // 4)))
        bright = np.clip(small.astype(np.float32) / 255 - 0.72, 0, 1)
        bloom = linear(cv2.GaussianBlur(bright, (0, 0), max(0.6, 5 * unit)), (w, h)).reshape(h, w, 3)
    nothing: NDArray[Any] = np.zeros((1, 1), np.float32)
    tooth = face = border = nothing
    if finish.tooth:
        tooth = t.fine * 0.75 + t.fibre * 0.35 + t.brush * 0.35
        on_head = ((labels >= Part.HAIR) & (labels <= Part.MOUTH)).astype(np.float32)
        face = cv2.GaussianBlur(on_head, (0, 0), max(0.5, 2 * unit))
    gx, gy = _grids(w, h)
    if finish.margin:
        x0, y0, x1, y1 = (max(-px, 0) for px in canvas.wider)  # a window shows the margin only where it reaches it
        d = np.minimum(np.minimum(gx + x0, w - 1 - gx + x1), np.minimum(gy + y0, h - 1 - gy + y1))
        d = d - 14 * unit * finish.margin + t.large * 2.2 * unit + t.middle * 1.2 * unit
        border = np.clip(d / (1.6 * unit), 0, 1) * (1 - np.exp(-np.clip(d, 0, None) / (3 * unit)) * 0.22)
    whole = np.zeros((h, w), np.float32)

    def full(field: NDArray[np.floating]) -> F32:
        return np.ascontiguousarray(field if field.shape[:2] == (h, w) else whole, np.float32)

    ground = np.array([0.23, 0.20, 0.27] if light.dark else [0.42, 0.37, 0.40], np.float32)
    gains = np.array(
        [
            0,
            finish.saturation,
            finish.tooth,
            light.vignette * (0.4 if finish.wash > 0.2 else 1.0),
            finish.grain,
            bloom_gain,
            finish.pigment,
            finish.margin,
        ],
        np.float32,
    )
    out = np.empty((h, w, 3), np.uint8)
    _surface_kernel(
        np.ascontiguousarray(rgb_u8),
        bloom if bloom_gain else np.zeros((1, 1, 3), np.float32),
        full(density),
        full(0.40 * t.fine + 0.13 * t.fibre),
        full(tooth),
        full(face),
        _vignette(canvas),
        full(border),
        np.asarray(light.tint, np.float32),
        ground,
        PAPER.astype(np.float32),
        gains,
        out,
    )
    return _printed(out, _PIECE[labels], palette, t, unit)


def _printed(rgb_u8: NDArray[np.uint8], labels: NDArray[np.uint8], palette: LitPalette, t: Textures, unit: float) -> NDArray[np.uint8]:
    """What the finish does to the painted picture: carving, cutting, drawing, glazing, felting."""
    finish = palette.finish
    if not (finish.woodcut or finish.linocut or finish.pencil or finish.glass or finish.felt):
        return rgb_u8
    rgb: F32 = np.asarray(rgb_u8 / np.float32(255), np.float32)
    night = palette.light.background < 0.7
    ink = np.array([0.07, 0.07, 0.15] if night else [0.13, 0.10, 0.11], np.float32)
    horizon = palette.light.sky_at(0.75).astype(np.float32)
    second = np.clip(horizon * 0.72, 0.12, 0.80).astype(np.float32)

    def mixed(share: float, made: F32) -> F32:
        return np.asarray(rgb * np.float32(1 - share) + made * np.float32(share), np.float32)

    if finish.woodcut:
        rgb = mixed(finish.woodcut, printing.woodcut(rgb, labels, t.large, unit, ink))
    if finish.linocut:
        rgb = mixed(finish.linocut, printing.linocut(rgb, labels, t.large, t.fine, unit, ink, second))
    if finish.pencil:
        rgb = mixed(finish.pencil, printing.pencil(rgb, labels, t.brush, t.fine, unit))
    if finish.glass:
        rgb = mixed(finish.glass, printing.stained_glass(rgb, labels, t.large, t.fine, unit))
    if finish.felt:
        rgb = mixed(finish.felt, printing.felt(rgb, labels, t.fibre, t.fine, unit))
    return np.asarray(np.clip(rgb, 0, 1) * 255 + 0.5, np.uint8)
