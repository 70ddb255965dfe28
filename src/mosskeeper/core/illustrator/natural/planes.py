"""Light on the maps of a head: few brush-like planes, warm where light turns to shadow, and the eyes as balls between their lids."""

from __future__ import annotations

import cv2
import numba
import numpy as np

from mosskeeper.core.illustrator.natural.view import F32, HEAD, Array, Maps, thrown
from mosskeeper.core.illustrator.vocabulary.light import Light

_PLANES = 5.0, 2.8  # steps from the darkest plane to the lightest: painted, and cut from sheets


def direction(lamp: Light, small: float = 0.0) -> Array:
    """The scene's light, which has a direction in the picture, with a part towards the viewer: the less, the more it comes from behind.

    small : 0…1 for heads so small that deep planes would be blots: their light comes more from the front.
    """
    made = np.array(
        [lamp.toward[0] * 0.80, lamp.toward[1] * 0.70, 0.66 - 0.55 * float(np.clip((lamp.rim_strength - 1.1) / 0.5, 0, 1)) + 0.75 * small]
    )
    return np.asarray(made / np.linalg.norm(made))


@numba.njit(cache=True, fastmath=True, inline="always")
def _step(a, b, x):  # type: ignore[no-untyped-def]
    t = min(max((x - a) / (b - a), 0.0), 1.0)
    return t * t * (3 - 2 * t)


@numba.njit(cache=True, fastmath=True, inline="always")
def _at(sheet, i, j, u, v, q):  # type: ignore[no-untyped-def]
    above = sheet[i, j, q] * (1 - u) + sheet[i, j + 1, q] * u
    return (above * (1 - v) + (sheet[i + 1, j, q] * (1 - u) + sheet[i + 1, j + 1, q] * u) * v) / 255.0


@numba.njit(cache=True, fastmath=True)
def shaded(  # type: ignore[no-untyped-def]  # noqa: C901  one loop over pixels
    carried, normal, kind, cast, under, noise, paint, zones, marks, frame, skin, hair, key, shadow, rim, sun, eyes, iris, names, sheets
):
    """The solids as paint (h, w, 4), premultiplied RGBA 0 … 1, and their parts (h, w).

    cast, under : shadows of the head itself, and of hair on it. frame : left, top and px per head height of the painted sheet, whose layers are `paint`, `zones` and `marks`.
    eyes : for each eye its middle and where it looks, both at rest (3 + 3), px x and px y of its pupil, and its radius in px.
    iris : its colour, and its angle from the middle to the rim. names : parts of nothing, head, ear, neck, hair and beard.
    sheets : 0 painted … 1 as if cut from single sheets of colour.
    """
    h, w = kind.shape
    out, parts = np.zeros((h, w, 4), np.float32), np.zeros((h, w), np.uint8)
    lx, ly, lz = sun[0], sun[1], sun[2]
    flat = np.sqrt(lx * lx + ly * ly) + 1e-6
    half = np.sqrt(lx * lx + ly * ly + (lz + 1) ** 2)
    a, c = np.empty(3), np.empty(3)
    planes, drawn_to, rough = _PLANES[0] + (_PLANES[1] - _PLANES[0]) * sheets, 0.5 + 0.5 * sheets, 0.26 * (1 - sheets)
    for y in range(h):
        for x in range(w):
            what = kind[y, x]
            if what == 0:
                continue
            nx, ny, nz = normal[y, x, 0], normal[y, x, 1], normal[y, x, 2]
            length = np.sqrt(nx * nx + ny * ny + nz * nz) + 1e-9
            nx, ny, nz = nx / length, ny / length, nz / length
            wet, eye, over, grain = 0.0, 0.0, 0.0, noise[y, x]
            grown = carried[y, x, 7] + carried[y, x, 8] if what == HEAD else 0.0
            if grown > 0.02:
                grown = _step(0.30, 0.70, grown + 0.16 * grain)
            for q in range(3):
                a[q] = min(skin[q] * carried[y, x, 4 + q], 1.0)
            parts[y, x] = names[4] if carried[y, x, 7] > 0.5 else names[5] if carried[y, x, 8] > 0.5 else names[what]
            # what is painted on it
            tx, ty = (carried[y, x, 0] - frame[0]) * frame[2], (carried[y, x, 1] - frame[1]) * frame[2]
            i, j = int(ty), int(tx)
            u, v = tx - j, ty - i
            if (
                what == HEAD
                and grown < 1
                and carried[y, x, 2] > 0.08
                and i >= 0
                and j >= 0
                and i < paint.shape[0] - 1
                and j < paint.shape[1] - 1
            ):
                eye, wet, over = _at(zones, i, j, u, v, 0), _at(zones, i, j, u, v, 1) * (1 - grown), _at(paint, i, j, u, v, 3)
                for q in range(3):
                    a[q] = a[q] * (1 - over) + _at(paint, i, j, u, v, q)
                mark = marks[int(ty + 0.5), int(tx + 0.5), 0]
                if mark > 0 and grown < 0.5:
                    parts[y, x] = mark
            for q in range(3):
                a[q] = a[q] * (1 - grown) + hair[q] * 0.80 * grown
            # how much light reaches it
            facing = nx * lx + ny * ly + nz * lz
            lit = _step(-0.15, 0.97, facing) * (1 - 0.70 * cast[y, x])
            tone = 0.16 + 0.70 * lit + 0.14 * (0.5 - 0.5 * ny) * (0.4 + 0.6 * nz)
            tone *= 0.64 + 0.36 * _step(0.05, 0.75, carried[y, x, 3])
            steps = tone * planes + rough * grain
            plane = (np.floor(steps) + _step(0.22 + 0.24 * sheets, 0.78 - 0.24 * sheets, steps - np.floor(steps)) - rough * grain) / planes
            tone = min(max(tone + (plane - tone) * drawn_to + 0.04 * rough * grain, 0.0), 1.0)
            # from deep shadow over shadow and flesh to light
            deep, mid, top = 1 - _step(0.0, 0.30, tone), _step(0.26, 0.64, tone), _step(0.70, 1.0, tone)
            warm = max(1 - ((tone - 0.42) / 0.26) ** 2, 0.0) ** 2
            grey = (a[0] * key[0] + a[1] * key[1] + a[2] * key[2]) / 3
            gloss = max((nx * lx + ny * ly + nz * (lz + 1)) / half, 0.0)
            shine = (1 - grown) * (0.10 * _step(0.90, 0.985, gloss) + wet * 0.34 * _step(0.955, 0.992, gloss))
            shine *= (1 - 0.9 * cast[y, x]) * (1 - 0.7 * over * (1 - wet))
            edge, side = (1 - nz) * (1 - nz), (nx * lx + ny * ly) / flat
            for q in range(3):
                full = min(a[q] * key[q] * 0.965, 1.0)
                dark = min(max(grey + (full - grey) * 1.18, 0.0), 1.0) * shadow[q]
                pit = dark * (0.70 if q == 0 else 0.53)
                v = (dark * (1 - mid) + full * mid) * (1 - deep) + pit * deep
                v *= 1 + warm * (0.045 if q == 0 else -0.030 if q == 1 else -0.045)
                v += (rim[q] - v * 0.86) * 0.17 * top + (rim[q] - v * 0.62) * shine
                v *= 1 - 0.30 * edge * (1 - 0.6 * lit)
                v += (rim[q] * 0.9 - v * 0.6) * edge * max(side, 0.0) * 0.20 + (shadow[q] * 0.9 - v * 0.5) * edge * max(-side, 0.0) * 0.11
                c[q] = v
            if eye > 0.004:
                own = eyes[0 if carried[y, x, 0] < 0 else 1]
                ex, ey, ez = carried[y, x, 0] - own[0], carried[y, x, 1] - own[1], carried[y, x, 2] - own[2]
                far = np.sqrt(ex * ex + ey * ey + ez * ez) + 1e-9
                r = np.arccos(min(max((ex * own[3] + ey * own[4] + ez * own[5]) / far, -1.0), 1.0)) / iris[3]
                gx, gy, soft = (x - own[6]) / (own[8] * iris[3]), (y - own[7]) / (own[8] * iris[3]), 1.2 / (own[8] * iris[3])
                lid = _at(zones, i, j, tx - j, ty - i, 2)
                bright = (0.66 + 0.34 * _step(-0.3, 0.8, facing)) * (1 - 0.46 * lid) * (1 - 0.25 * cast[y, x])
                inside, pupil, ring = 1 - _step(1 - soft, 1 + soft, r), 1 - _step(0.42 - soft, 0.42 + soft, r), _step(0.70, 1.0, r)
                glow = max(-(gx * lx + gy * ly) / flat, 0.0) * (1 - ring)  # light gathers opposite to where it falls in
                off = np.sqrt((gx - np.sign(lx) * 0.30) ** 2 + (gy + 0.36) ** 2)
                sparkle = 1 - _step(0.17 - soft * 0.3, 0.17 + soft * 0.5, off)
                for q in range(3):
                    white = (0.90 if q == 0 else 0.865 if q == 1 else 0.835) * (0.80 + 0.20 * min(skin[q] * 1.15, 1.0)) * min(key[q], 1.0)
                    white *= bright * (1 - 0.30 * (1 - shadow[q]) * (1 - bright))
                    ball = iris[q] * (1.0 - 0.52 * ring + 0.75 * glow) * (0.60 + 0.40 * bright) * (1 - 0.25 * lid)
                    v = white * (1 - inside) + (ball * (1 - pupil) + 0.045 * pupil) * inside
                    v += (1.0 - v) * 0.92 * sparkle
                    c[q] = c[q] * (1 - eye) + (v * (1 - over) + c[q] * over) * eye  # lids and lashes lie over the ball
            for q in range(3):
                c[q] *= 1 - 0.62 * under[y, x] * (1 - shadow[q] * (0.98 if q == 0 else 0.84))
                out[y, x, q] = min(max(c[q], 0.0), 1.0)
            out[y, x, 3] = 1.0
    return out, parts


@numba.njit(cache=True, fastmath=True)
def softened(rgba, near):  # type: ignore[no-untyped-def]
    """The picture with the steps taken out of its edges: where what is near ends, and only there."""
    out = rgba.copy()
    for y in range(1, near.shape[0] - 1):
        for x in range(1, near.shape[1] - 1):
            a, b, c, d = near[y - 1, x], near[y + 1, x], near[y, x - 1], near[y, x + 1]
            if max(a, b, c, d) - min(a, b, c, d) > 0.06:
                for q in range(4):
                    beside = rgba[y - 1, x, q] + rgba[y + 1, x, q] + rgba[y, x - 1, q] + rgba[y, x + 1, q]
                    corners = rgba[y - 1, x - 1, q] + rgba[y - 1, x + 1, q] + rgba[y + 1, x - 1, q] + rgba[y + 1, x + 1, q]
                    out[y, x, q] = (4 * rgba[y, x, q] + 2 * beside + corners) / 16
    return out


def shadows(maps: Maps, sun: Array, scale: float) -> F32:
    """Shadows that parts of the head throw on others, softened, 0 … 1."""
    s, flat = scale / 3, float(np.hypot(sun[0], sun[1])) + 1e-6
    made = thrown(np.ascontiguousarray(maps.near[::3, ::3]), sun[0] / flat, sun[1] / flat, sun[2] / flat / s, 0.34 * s, 0.085 * s)
    return np.asarray(cv2.resize(cv2.GaussianBlur(made, (0, 0), max(0.008 * s, 0.6)), None, fx=3, fy=3), np.float32)
