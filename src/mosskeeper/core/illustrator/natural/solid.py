"""The head as a solid: a skull and a face given by its contours, soft puffs on it, ridges melted into it, and a mesh over it.

The face is a stack of level sections, each with its half width, its front on the midline and its back. Puffs raise or sink the surface
by a bell of some reach, so that cheeks, sockets and folds never leave an edge; only nose, lids and lips are solids of their own.
The mesh is cast from a point inside along fixed rays: the outermost surface counts.
"""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

import cv2
import numba
import numpy as np

from mosskeeper.core.illustrator.natural.form import Form
from mosskeeper.core.illustrator.natural.view import Array, normals

CENTRE = np.array([0.0, 0.04, 0.05])  # of the rays
SKULL = np.array([0.0, -0.105, -0.035])
_TOP, _LOW, _LEVELS = -0.42, 0.62, 96
_SECTIONS = np.array([  # y, half width, front, back, depth of the greatest width, squareness
    (-0.42, 0.080, 0.050, -0.20, -0.03, 2.20), (-0.30, 0.215, 0.250, -0.30, -0.02, 2.30), (-0.20, 0.280, 0.350, -0.32, 0.00, 2.35),
    (-0.10, 0.292, 0.384, -0.32, 0.01, 2.45), (-0.03, 0.294, 0.378, -0.32, 0.02, 2.40), (0.06, 0.297, 0.370, -0.30, 0.02, 2.30),
    (0.14, 0.288, 0.376, -0.25, 0.03, 2.20), (0.21, 0.270, 0.384, -0.15, 0.045, 2.12), (0.28, 0.246, 0.386, -0.06, 0.065, 2.05),
    (0.34, 0.218, 0.378, 0.00, 0.10, 2.05), (0.40, 0.180, 0.376, 0.07, 0.15, 2.10), (0.45, 0.132, 0.378, 0.13, 0.20, 2.10),
    (0.50, 0.088, 0.365, 0.19, 0.25, 2.00), (0.62, 0.060, 0.330, 0.22, 0.27, 2.20),
])  # fmt: skip


class Solid(NamedTuple):
    sections: Array  # (_LEVELS, 5) from _TOP to _LOW
    skull: Array  # middle and radii
    puffs: Array
    ridges: Array
    chin: float  # y below which there is nothing


class Mesh(NamedTuple):
    at: Array  # (rows, columns, 3): the whole head, columns from the back over its right, the face and its left to the back
    air: Array  # (rows, columns): 0 enclosed … 1 open
    solid: Solid


@numba.njit(cache=True, fastmath=True)
def field(x, y, z, sections, skull, puffs, ridges, chin):  # type: ignore[no-untyped-def]
    """About the distance from the surface, below 0 inside; left and right are the same."""
    x = abs(x)
    ax, ay, az = x / skull[3], (y - skull[1]) / skull[4], (z - skull[2]) / skull[5]
    k0 = np.sqrt(ax * ax + ay * ay + az * az) + 1e-9
    bx, by, bz = ax / skull[3], ay / skull[4], az / skull[5]
    d = k0 * (k0 - 1) / (np.sqrt(bx * bx + by * by + bz * bz) + 1e-9)
    # the face: how far beyond its section
    u = min(max((y - _TOP) / (_LOW - _TOP), 0.0), 1.0) * (sections.shape[0] - 1)
    i = min(int(u), sections.shape[0] - 2)
    u -= i
    wide = sections[i, 0] * (1 - u) + sections[i + 1, 0] * u
    front = sections[i, 1] * (1 - u) + sections[i + 1, 1] * u
    back = sections[i, 2] * (1 - u) + sections[i + 1, 2] * u
    middle = sections[i, 3] * (1 - u) + sections[i + 1, 3] * u
    n = sections[i, 4] * (1 - u) + sections[i + 1, 4] * u
    dz = z - middle
    rho = ((x / wide) ** n + (abs(dz) / (front - middle if dz > 0 else middle - back)) ** n) ** (1 / n) + 1e-9
    away = np.sqrt(x * x + dz * dz)
    e = away - away / rho
    h = max(0.08 - abs(e - y + chin), 0.0) / 0.08
    e = max(max(e, y - chin) + h * h * 0.02, _TOP - y)
    h = max(0.09 - abs(d - e), 0.0) / 0.09
    d = min(d, e) - h * h * 0.0225
    if d < 0.30:
        for i in range(puffs.shape[0]):
            p = puffs[i]
            ax, ay, az = (x - p[1]) / p[4], (y - p[2]) / p[5], (z - p[3]) / p[6]
            q = ax * ax + ay * ay + az * az
            if q < 5:
                d -= p[0] * np.exp(-q)
    for i in range(ridges.shape[0]):
        t = ridges[i]
        if (x - t[9]) ** 2 + (y - t[10]) ** 2 + (z - t[11]) ** 2 > (max(d, 0.0) + t[12]) ** 2:
            continue
        k, px, py, pz, ux, uy, uz = t[8], x - t[0], y - t[1], z - t[2], t[3] - t[0], t[4] - t[1], t[5] - t[2]
        s = min(max((px * ux + py * uy + pz * uz) / (ux * ux + uy * uy + uz * uz + 1e-12), 0.0), 1.0)
        qx, qy, qz = px - ux * s, py - uy * s, pz - uz * s
        e = np.sqrt(qx * qx + qy * qy + qz * qz) - (t[6] + (t[7] - t[6]) * s)
        h = max(k - abs(d - e), 0.0) / k
        d = min(d, e) - h * h * k * 0.25
    return d


@numba.njit(cache=True, fastmath=True)
def along(ox, oy, oz, dx, dy, dz, start, sections, skull, puffs, ridges, chin):  # type: ignore[no-untyped-def]
    """How far along a ray the outermost surface lies, looked for from `start` inwards."""
    r = start
    d = field(ox + dx * r, oy + dy * r, oz + dz * r, sections, skull, puffs, ridges, chin)
    while d < 0 and r < 1.6:
        r += 0.03
        d = field(ox + dx * r, oy + dy * r, oz + dz * r, sections, skull, puffs, ridges, chin)
    last, before = r + 0.002, d
    for _ in range(90):
        if d < 0:
            break
        last, before = r, d
        r -= d * 1.02 + 0.0012
        d = field(ox + dx * r, oy + dy * r, oz + dz * r, sections, skull, puffs, ridges, chin)
    for _ in range(6):  # exactly, since how the surface faces is told from differences
        m = r + (last - r) * d / min(d - before, -1e-7)
        g = field(ox + dx * m, oy + dy * m, oz + dz * m, sections, skull, puffs, ridges, chin)
        if abs(g) < 0.00015:
            return m
        if g < 0:
            r, d, before = m, g, before * 0.5
        else:
            last, before, d = m, g, d * 0.5
    return m


@numba.njit(cache=True, fastmath=True)
def _cast(rows, columns, c, sections, skull, puffs, ridges, chin):  # type: ignore[no-untyped-def]
    out = np.empty((rows.size, columns.size, 3))
    beside = np.full(rows.size, 0.0)
    for j in range(columns.size):
        r = 0.7
        for i in range(rows.size):
            dx, dy, dz = np.cos(rows[i]) * np.sin(columns[j]), np.sin(rows[i]), np.cos(rows[i]) * np.cos(columns[j])
            start = min(max(r, beside[i]) + 0.015, 0.9)
            r = along(c[0], c[1], c[2], dx, dy, dz, start, sections, skull, puffs, ridges, chin)
            out[i, j, 0], out[i, j, 1], out[i, j, 2], beside[i] = c[0] + dx * r, c[1] + dy * r, c[2] + dz * r, r
    return out


@numba.njit(cache=True, fastmath=True)
def _open(at, out, reach, sections, skull, puffs, ridges, chin):  # type: ignore[no-untyped-def]
    air = np.empty(at.shape[:2])
    for i in range(at.shape[0]):
        for j in range(at.shape[1]):
            p, n = at[i, j], out[i, j]
            e = field(p[0] + n[0] * reach, p[1] + n[1] * reach, p[2] + n[2] * reach, sections, skull, puffs, ridges, chin)
            air[i, j] = min(max(e / reach, 0.0), 1.0)
    return air


def _spaced(*knots: tuple[float, float, int]) -> Array:
    parts = [np.deg2rad(np.linspace(a, b, n, endpoint=False)) for a, b, n in knots]
    return np.concatenate([*parts, np.deg2rad([knots[-1][1]])])


ROWS = _spaced((-89.9, -34, 13), (-34, -16, 12), (-16, 62, 84), (62, 89.9, 8))
COLUMNS = _spaced((0, 13, 24), (13, 30, 18), (30, 90, 34), (90, 180, 12))


def radii(f: Form) -> Array:
    """Of the skull."""
    return np.array([0.323 * (0.5 + 0.5 * f.face[0]) * (1 + 0.03 * f.kind[0]), 0.396, 0.415])


def eye_z(f: Form) -> float:
    """Depth of the middles of the eyeballs."""
    return 0.318 - f.eye[4] - 0.006 * f.kind[0]


def solid_of(f: Form) -> Solid:
    """What the head of these measures is made of."""
    (child, male, old), (w, cy, jaw, fat), (ex, ey, _, eh, ball, _) = f.kind, f.face, f.eye
    (ny, nw, out), (my, mw, lip, smile, gape), squint = f.nose, f.mouth, f.mood[0]
    drop, glad, jaw, ridge = 0.055 * gape, max(smile, 0), jaw - 0.203, f.brow[5]
    puffs: list[tuple[float, ...]] = []
    ridges: list[tuple[float, ...]] = []

    def puff(height: float, at: tuple[float, float, float], reach: tuple[float, float, float]) -> None:
        puffs.append((height, *at, *reach))

    def bar(k: float, *knots: tuple[float, float, float, float]) -> None:
        """A round bar through places (x, y, z) with half widths there, melted in within `k`."""
        for a, b in zip(np.array(knots), np.array(knots)[1:], strict=False):
            ridges.append((*a[:3], *b[:3], a[3], b[3], k, *(a + b)[:3] / 2, np.linalg.norm(b[:3] - a[:3]) / 2 + max(a[3], b[3]) + k))

    # sections: their heights follow eyes, nose, mouth and chin
    s = _SECTIONS.copy()
    y = s[:, 0] = np.interp(s[:, 0], (-0.5, -0.3, 0.0, 0.205, 0.30, 0.50, 0.7), (-0.5, -0.3 + 0.5 * ey, ey, ny, my, cy, cy + 0.2))
    lower = np.clip((y - 0.05) / 0.3, 0, 1)
    s[:, 1] *= np.where(y > -0.2, w, 0.5 + 0.5 * w)
    s[:, 1] += lower * (jaw * np.clip((0.62 - y) / 0.3, 0.35, 1) + 0.010 * fat * np.exp(-(((y - my) / 0.14) ** 2)))
    s[:, 1] += child * 0.010 * np.exp(-(((y - ny - 0.03) / 0.10) ** 2))
    s[:, 2] -= child * 0.020 * lower
    s[:, 3] += drop * 0.2 * lower
    levels = np.stack([np.interp(np.linspace(_TOP, _LOW, _LEVELS), y, s[:, k]) for k in range(1, 6)], 1)
    levels = cv2.GaussianBlur(levels, (1, 0), sigmaX=0.1, sigmaY=2.6, borderType=cv2.BORDER_REPLICATE)
    # forehead, brow, temples, sockets
    brow = ey - f.brow[0] + 0.016
    puff(0.014 * child - 0.010 * male, (0, -0.20, 0.36), (0.16, 0.10, 0.2))
    puff(0.004 + 0.018 * ridge, (0.105, brow, 0.355), (0.085, 0.034, 0.10))
    puff(0.001 + 0.006 * ridge, (0, brow + 0.012, 0.40), (0.035, 0.03, 0.06))
    puff(-0.006 - 0.014 * old, (0.29 * w, ey - 0.06, 0.17), (0.05, 0.09, 0.10))
    puff(-0.046, (ex - 0.012, ey - 0.008, 0.345), (0.070, 0.044, 0.075))
    puff(-0.020, (0.060, ey + 0.002, 0.36), (0.028, 0.036, 0.06))
    puff(-0.006 - 0.002 * male, (0, ey - 0.012, 0.38), (0.030, 0.032, 0.05))
    # cheeks and their folds
    puff(0.014 - 0.004 * child, (0.195 * w, ey + 0.095, 0.27), (0.075, 0.050, 0.09))
    puff(0.010 + 0.007 * max(fat, 0) + 0.014 * glad, (0.150 * w, ny - 0.035 - 0.030 * glad - 0.02 * squint, 0.33), (0.060, 0.050, 0.08))
    puff(0.012 * fat, (0.19 * w, my - 0.03, 0.24), (0.085, 0.09, 0.11))
    puff(-0.008 * (1 - min(fat, 1.0)) - 0.008 * old, (0.185 * w, my - 0.035, 0.27), (0.05, 0.07, 0.08))
    for t in (0.0, 0.5, 1.0):
        puff(
            -0.0055 * (0.35 + 0.9 * glad + 0.7 * old),
            (nw + 0.022 + 0.022 * t, ny - 0.030 + 0.085 * t, 0.385 - 0.02 * t),
            (0.016, 0.028, 0.05),
        )
    puff(0.007 * old, (ex, ey + eh * 0.5 + 0.030, 0.315), (0.045, 0.016, 0.05))
    puff(0.012 * old, (0.165 * w, my + 0.085, 0.22), (0.045, 0.05, 0.07))
    puff(-0.008 * old, (0.105, my + 0.09, 0.33), (0.025, 0.05, 0.05))
    # about the mouth, chin
    puff(0.018 - 0.003 * old - 0.004 * child, (0, my - 0.015 + drop * 0.4, 0.39), (0.105, 0.060 + drop * 0.6, 0.08))
    puff(-0.006 - 0.006 * abs(smile), (mw + 0.016, my + 0.004 - 0.02 * smile, 0.355), (0.020, 0.026, 0.04))
    puff(-0.021, (0, my + 0.066 + drop * 0.9, 0.395), (0.085, 0.026, 0.06))
    puff(0.012 + 0.010 * male - 0.004 * child, (0, cy - 0.070, 0.375), (0.060 + 0.4 * jaw, 0.045, 0.06))
    puff(-0.007, (0, (ny + my) / 2 - 0.006, 0.42), (0.012, 0.022, 0.04))
    # lids over the eyes, nose, lips
    z, r = eye_z(f), ball + 0.005
    bar(0.024, (ex - 0.004, ey, z, r), (ex + 0.004, ey, z, r))
    wide, tip_y, tip_z = nw - 0.066, ny - 0.046, 0.406 + 0.066 * out
    bar(0.042, (0, ey - 0.050, 0.348, 0.024), (0, ey + 0.004, 0.338 + 0.010 * out, 0.018),
        (0, ey * 0.45 + tip_y * 0.55, 0.372 + 0.036 * out, 0.022 + 0.2 * wide), (0, tip_y - 0.01, tip_z - 0.028, 0.031 + 0.2 * wide))  # fmt: skip
    bar(0.030, (-0.004, tip_y, tip_z - 0.026, 0.037 + 0.2 * wide), (0.006, tip_y + 0.003, tip_z - 0.026, 0.037 + 0.2 * wide))
    bar(0.030, (0, tip_y + 0.014, tip_z - 0.026, 0.022), (0, ny - 0.006, 0.372, 0.024))
    bar(0.024, (nw * 0.56, ny - 0.034, tip_z - 0.068, 0.026 + 0.1 * wide), (nw * 0.66, ny - 0.030, 0.374, 0.022))
    corner = (mw, my + 0.003 - 0.022 * smile, 0.352 - 0.010 * glad - 0.012 * child, 0.005)
    thick, gap, fore = 0.0125 * (0.45 + 0.55 * lip), drop * 1.15, -0.016 * child
    bar(0.020, (0, my - 0.012, 0.398 + fore, thick * 0.9), (0.03, my - 0.0145, 0.395 + fore, thick), corner)
    bar(
        0.020,
        (0, my + 0.0165 + gap, 0.391 + fore - gap * 0.2, thick * 1.3),
        (0.04, my + 0.015 + gap, 0.385 + fore - gap * 0.2, thick * 1.15),
        corner,
    )
    return Solid(np.asarray(levels, np.float64), np.array([*SKULL, *radii(f)]), np.array(puffs), np.array(ridges), cy + 0.014)


@lru_cache(64)
def mesh_of(f: Form) -> Mesh:
    solid = solid_of(f)
    half = _cast(ROWS, COLUMNS, CENTRE, *solid)
    half = np.dstack([half, _open(half, normals(half), 0.055, *solid)])
    whole = np.concatenate([(half * (-1, 1, 1, 1))[:, :0:-1], half], 1)
    return Mesh(np.ascontiguousarray(whole[:, :, :3]), np.ascontiguousarray(whole[:, :, 3]), solid)


def on_front(solid: Solid, xy: Array) -> Array:
    """Points (n, 2) of the face seen from in front, with the z of the surface there: (n, 3)."""
    return np.array([(x, y, along(x, y, -0.4, 0.0, 0.0, 1.0, 1.1, *solid) - 0.4) for x, y in np.atleast_2d(xy)])
