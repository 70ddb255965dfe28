"""Outlines as arrays of points, and the few operations that build drawings from them.

A polyline is a float array of shape (N, 2), x to the right and y down, in whatever unit the caller
uses (head heights for figures, picture widths for places). Only `to_path` and `union` know skia.
"""

from __future__ import annotations

import struct
from collections.abc import Callable, Iterable, Sequence
from functools import cache

import numba
import numpy as np
import skia
from numpy.typing import ArrayLike, NDArray

Points = NDArray[np.float64]

# skia's path operations work with absolute tolerances and drop shapes whose coordinates are
# around 1, so outlines are united at this magnification and scaled back.
_UNION_SCALE = 256.0


def point(*xy: float) -> Points:
    return np.array(xy, dtype=np.float64)


def unit(v: Points) -> Points:
    """`v` at length 1; a vector of no length stays (nearly) so instead of becoming NaN."""
    return np.asarray(v / (np.hypot(*v) + 1e-9))


def points(*rows: ArrayLike) -> Points:
    return np.array(rows, dtype=np.float64)


@numba.njit(cache=True)  # type: ignore[untyped-decorator]
def _spline(p: Points, closed: bool, n: int) -> Points:
    m = p.shape[0]
    segments = m if closed else m - 1
    out = np.empty((segments * n + (0 if closed else 1), 2))
    for i in range(segments):
        for k in range(2):
            p1 = p[i, k]
            p2 = p[(i + 1) % m, k]
            p0 = p[(i - 1) % m, k] if (closed or i > 0) else 2 * p[0, k] - p[1, k]
            p3 = p[(i + 2) % m, k] if (closed or i + 2 < m) else 2 * p[m - 1, k] - p[m - 2, k]
            for j in range(n):
                t = j / n
                out[i * n + j, k] = 0.5 * (
                    2 * p1 + (p2 - p0) * t + (2 * p0 - 5 * p1 + 4 * p2 - p3) * t * t + (3 * p1 - p0 - 3 * p2 + p3) * t * t * t
                )
    if not closed:
        out[segments * n] = p[m - 1]
    return out


@numba.njit(cache=True)  # type: ignore[untyped-decorator]
def _resample(p: Points, n: int) -> Points:
    m = p.shape[0]
    d = np.zeros(m)
    for i in range(1, m):
        d[i] = d[i - 1] + np.hypot(p[i, 0] - p[i - 1, 0], p[i, 1] - p[i - 1, 1])
    out = np.empty((n, 2))
    j = 0
    for i in range(n):
        t = d[m - 1] * i / (n - 1)
        while j < m - 2 and d[j + 1] < t:
            j += 1
        u = min(max((t - d[j]) / max(d[j + 1] - d[j], 1e-12), 0.0), 1.0)
        out[i, 0] = p[j, 0] + (p[j + 1, 0] - p[j, 0]) * u
        out[i, 1] = p[j, 1] + (p[j + 1, 1] - p[j, 1]) * u
    return out


@numba.njit(cache=True)  # type: ignore[untyped-decorator]
def _normals(p: Points) -> Points:
    m = p.shape[0]
    out = np.empty((m, 2))
    for i in range(m):
        a = max(i - 1, 0)
        b = min(i + 1, m - 1)
        x = p[b, 0] - p[a, 0]
        y = p[b, 1] - p[a, 1]
        length = np.sqrt(x * x + y * y) + 1e-9
        out[i, 0] = -y / length
        out[i, 1] = x / length
    return out


@numba.njit(cache=True)  # type: ignore[untyped-decorator]
def _sweep(centre: Points, half_widths: Points) -> Points:
    m = centre.shape[0]
    n = _normals(centre)
    k = half_widths.shape[0]
    out = np.empty((2 * m, 2))
    for i in range(m):
        w = half_widths[0]
        if k > 1:
            t = i / (m - 1) * (k - 1)
            j = min(int(t), k - 2)
            w = half_widths[j] + (half_widths[j + 1] - half_widths[j]) * (t - j)
        for q in range(2):
            out[i, q] = centre[i, q] + n[i, q] * w
            out[2 * m - 1 - i, q] = centre[i, q] - n[i, q] * w
    return out


@numba.njit(cache=True)  # type: ignore[untyped-decorator]
def _taper(centre: Points, half_width: float, peak: float) -> Points:
    m = centre.shape[0]
    n = _normals(centre)
    out = np.empty((2 * m, 2))
    for i in range(m):
        t = i / (m - 1)
        if t < peak:
            w = half_width * np.sin(t / peak * np.pi / 2)
        else:
            w = half_width * np.cos((t - peak) / (1 - peak) * np.pi / 2)
        for q in range(2):
            out[i, q] = centre[i, q] + n[i, q] * w
            out[2 * m - 1 - i, q] = centre[i, q] - n[i, q] * w
    return out


@numba.njit(cache=True)  # type: ignore[untyped-decorator]
def _ellipse(cx: float, cy: float, rx: float, ry: float, turn: float, n: int) -> Points:
    out = np.empty((n, 2))
    cos = np.cos(turn)
    sin = np.sin(turn)
    for i in range(n):
        x = rx * np.cos(2 * np.pi * i / n)
        y = ry * np.sin(2 * np.pi * i / n)
        out[i, 0] = cx + x * cos - y * sin
        out[i, 1] = cy + x * sin + y * cos
    return out


def _f64(p: ArrayLike) -> Points:
    return np.ascontiguousarray(p, dtype=np.float64)


def spline(control: ArrayLike, closed: bool = True, n: int = 7) -> Points:
    """Catmull-Rom curve through the control points, `n` points per segment.

    References: Catmull and Rom, "A class of local interpolating splines", 1974.
    """
    p = _f64(control)
    return p if len(p) < 3 else _spline(p, closed, n)


def resample(p: ArrayLike, n: int) -> Points:
    """`n` points at equal arc length along a polyline."""
    out: Points = _resample(_f64(p), n)
    return out


def normals(p: ArrayLike) -> Points:
    """Unit normals of a polyline, shape (N, 2)."""
    return _normals(_f64(p))


def ribbon(control: ArrayLike, half_widths: Sequence[float], n: int = 7) -> Points:
    """Closed outline of a band along a curve; the half widths are spread evenly over its length."""
    p = _f64(control)
    centre = _spline(p, False, n) if len(p) > 2 else _resample(p, 12)
    return _sweep(centre, _f64(half_widths))


def taper(control: ArrayLike, half_width: float, peak: float = 0.45) -> Points:
    """Closed outline of one brush stroke: thin at both ends, widest at `peak` of its length."""
    p = _f64(control)
    centre = _spline(p, False, 5) if len(p) > 2 else _resample(p, 8)
    out: Points = _taper(centre, float(half_width), float(peak))
    return out


def ellipse(centre: Points | tuple[float, float], rx: float, ry: float, turn: float = 0.0, n: int = 22) -> Points:
    """Ellipse as a polyline; `turn` in radians."""
    outline: Points = _ellipse(float(centre[0]), float(centre[1]), float(rx), float(ry), float(turn), n)
    return outline


def rectangle(x0: float, y0: float, x1: float, y1: float) -> Points:
    return points((x0, y0), (x1, y0), (x1, y1), (x0, y1))


def wobble(outline: Points, amount: float, rng: np.random.Generator, waves: int = 3) -> Points:
    """The outline with a smooth irregularity of about `amount`, so that nothing looks turned on a lathe."""
    t = np.linspace(0, 2 * np.pi, len(outline), endpoint=False)
    offset = sum(rng.normal() * np.sin(k * t + rng.uniform(0, 2 * np.pi)) for k in range(2, 2 + waves))
    centre = outline.mean(0)
    ray = outline - centre
    unit = ray / (np.hypot(*ray.T)[:, None] + 1e-6)
    moved: Points = outline + unit * amount * (np.asarray(offset) / waves)[:, None]
    return moved


def limb(joints: Sequence[ArrayLike], half_widths: Sequence[float]) -> list[Points]:
    """Parts of a jointed limb: a swelling band for each bone and a disc at each joint, to be united."""
    p = [_f64(j) for j in joints]
    parts = []
    for a, b, wa, wb in zip(p, p[1:], half_widths, half_widths[1:], strict=False):
        d = b - a
        n = point(-d[1], d[0]) / (np.hypot(*d) + 1e-6)
        swell = (wa * 0.62 + wb * 0.38) * 1.06
        parts.append(
            points(
                a + n * wa,
                a + d * 0.3 + n * swell,
                b + n * wb,
                b - n * wb,
                a + d * 0.3 - n * swell,
                a - n * wa,
            )
        )
    parts += [ellipse(j, w, w) for j, w in zip(p, half_widths, strict=True)]
    return parts


def to_path(
    outlines: Points | Iterable[Points] | skia.Path, closed: bool = True, placed: Callable[[Points], Points] | None = None
) -> skia.Path:
    """One path of outlines. placed : moves their points, all at once."""
    if isinstance(outlines, skia.Path):
        return outlines
    given = [outlines] if isinstance(outlines, np.ndarray) and outlines.ndim == 2 else [p for p in outlines if len(p)]
    if not given:
        return skia.Path()
    p = given[0] if len(given) == 1 else np.concatenate(given)
    return _polygons(p if placed is None else placed(p), [len(outline) for outline in given], closed)


def _polygons(p: Points, counts: Sequence[int], closed: bool) -> skia.Path:
    """A path of polylines whose points (N, 2) lie one after the other.

    Points one by one cost as much as all the painting, so the path is read as Skia writes one: counts, points, verbs. Where another
    version of Skia writes it otherwise, it is built point by point.
    """
    path = skia.Path()
    if _READS_PATHS:
        verbs = b"".join([_verbs(n, closed) for n in counts])
        data = _PATH_HEAD.pack(_PATH_FORMAT, len(p), 0, len(verbs)) + p.astype("<f4").tobytes() + verbs
        data += bytes(-len(data) % 4)
        if path.readFromMemory(data):
            return path
        path = skia.Path()
    at = 0
    for n in counts:
        path.addPoly([skia.Point(x, y) for x, y in p[at : at + n].tolist()], closed)
        at += n
    return path


@cache
def _verbs(n: int, closed: bool) -> bytes:
    """To the first point, lines to the others, and back."""
    return b"\0" + b"\1" * (n - 1) + (b"\5" if closed else b"")


def _reads_paths() -> bool:
    """Whether this Skia writes paths as `_polygons` does."""
    path = skia.Path()
    path.addPoly([skia.Point(1, 2), skia.Point(3, 4), skia.Point(5, 6)], True)
    points_of = np.array([(1, 2), (3, 4), (5, 6)], "<f4").tobytes()
    return bytes(path.serialize()) == _PATH_HEAD.pack(_PATH_FORMAT, 3, 0, 4) + points_of + _verbs(3, True)


_PATH_HEAD, _PATH_FORMAT = struct.Struct("<4i"), 5
_READS_PATHS = _reads_paths()


def _counter_clockwise(p: Points) -> Points:
    x, y = p[:, 0], p[:, 1]
    area = np.dot(x[:-1], y[1:]) - np.dot(y[:-1], x[1:]) + x[-1] * y[0] - y[-1] * x[0]
    return p if area > 0 else p[::-1]


def union(outlines: Iterable[Points]) -> skia.Path:
    """One path that covers all the outlines, without inner edges."""
    scaled = [np.round(_counter_clockwise(_f64(p)) * _UNION_SCALE * 4) / 4 for p in outlines]
    path = skia.Simplify(to_path(scaled)) or to_path(scaled)
    return scaled_path(path, 1 / _UNION_SCALE)


def together(outlines: Iterable[Points]) -> skia.Path:
    """One path of all the outlines, turned the same way round, so that overlaps stay filled."""
    return to_path([_counter_clockwise(_f64(p)) for p in outlines])


def scaled_path(path: skia.Path, scale: float, dx: float = 0.0, dy: float = 0.0) -> skia.Path:
    matrix = skia.Matrix()
    matrix.setScaleTranslate(scale, scale, float(dx), float(dy))
    copy = skia.Path(path)
    copy.transform(matrix)
    return copy


def intersect(a: skia.Path, b: skia.Path) -> skia.Path:
    return _operate(a, b, skia.PathOp.kIntersect_PathOp)


def subtract(a: skia.Path, b: skia.Path) -> skia.Path:
    return _operate(a, b, skia.PathOp.kDifference_PathOp)


def _operate(a: skia.Path, b: skia.Path, operation: skia.PathOp) -> skia.Path:
    """The first path as it is where Skia cannot: paths of limbs a thousand heads long and no width."""
    try:
        big = skia.Op(scaled_path(a, _UNION_SCALE), scaled_path(b, _UNION_SCALE), operation)
    except RuntimeError:
        return a
    return a if big is None else scaled_path(big, 1 / _UNION_SCALE)
