"""Strokes of a bristle brush: tapered, streaked along their way, hidden by what stands before them."""

from __future__ import annotations

from dataclasses import dataclass, field

import numba
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.natural.view import Array


@dataclass(slots=True)
class Strokes:
    """Polylines in space; every point has a place (3), half width in hh and a tone 0 … 1."""

    rows: list[Array] = field(default_factory=list)  # each (strokes, points, 5)

    def add(self, at: Array, half_width: Array | float, tone: Array | float) -> None:
        """Adds strokes (n, m, 3), or one (m, 3); widths by point, tones by stroke."""
        at = at[None] if at.ndim == 2 else at
        made = np.empty((*at.shape[:2], 5))
        made[..., :3], made[..., 3], made[..., 4] = at, half_width, np.reshape(tone, (-1, 1))
        self.rows.append(made)

    def flat(self, each: int = 1) -> tuple[Array, NDArray[np.int64]]:
        """All points (N, 5) of every `each` stroke, and how many each stroke has."""
        rows = [row[::each] for row in self.rows]
        return np.concatenate([row.reshape(-1, 5) for row in rows]), np.concatenate([np.full(len(row), row.shape[1]) for row in rows])


@numba.njit(cache=True, fastmath=True)
def _noise(a, b):  # type: ignore[no-untyped-def]
    v = (a * 374761393 + b * 668265263) & 0x7FFFFFFF
    v = ((v ^ (v >> 13)) * 1274126177) & 0x7FFFFFFF
    return ((v ^ (v >> 16)) & 0xFFFF) / 65535.0


@numba.njit(cache=True, fastmath=True)
def lit(q, px, width, tone, starts, middle, sun, half):  # type: ignore[no-untyped-def]
    """Points (N, 5) in px with the tone that light gives them: by which way hair lies out from the skull, and along itself (its sheen)."""
    out = np.empty((len(q), 5))
    for s in range(starts.size - 1):
        for i in range(starts[s], starts[s + 1]):
            a, b = max(i - 1, starts[s]), min(i + 1, starts[s + 1] - 1)
            ux, uy, uz = q[b, 0] - q[a, 0], q[b, 1] - q[a, 1], q[b, 2] - q[a, 2]
            nx, ny, nz = q[i, 0] - middle[0], q[i, 1] - middle[1], q[i, 2] - middle[2]
            ny *= min(max(1 - ny / 0.3, 0.0), 1.0)  # what hangs faces outwards
            u, n = np.sqrt(ux * ux + uy * uy + uz * uz) + 1e-9, np.sqrt(nx * nx + ny * ny + nz * nz) + 1e-9
            bright = min(max(0.42 + 0.62 * (nx * sun[0] + ny * sun[1] + nz * sun[2]) / n, 0.12), 1.0)
            along = (ux * half[0] + uy * half[1] + uz * half[2]) / u
            facing = max((nx * half[0] + ny * half[1] + nz * half[2]) / n, 0.0)
            sheen = max(1 - along * along, 0.0) ** 18 * facing * facing
            out[i, :3], out[i, 3] = px[i], width[i]
            out[i, 4] = min(max(tone[i] * (0.40 + 0.85 * bright) + 0.42 * sheen * (0.4 + tone[i]), 0.0), 1.0)
    return out


@numba.njit(cache=True, fastmath=True)
def lay(rgba, parts, near, points, starts, ramp, part, slack, dry):  # type: ignore[no-untyped-def]  # noqa: C901  one loop over pixels
    """Lays strokes one after the other, in place.

    points : (N, 5) px x, px y, nearness, half width in px, tone. starts : (S + 1,) where each stroke begins.
    ramp : (3, 3) dark, own and light colour. slack : hh by which what is before a stroke may be nearer without hiding it.
    part : what it is labelled as; 0 leaves `parts` and `near` as they are. dry : how far bristles part, 0 … 1.
    """
    h, w = near.shape
    whose, before, seen = np.zeros((h, w), np.int32), np.zeros((h, w), np.float32), np.zeros(len(points), np.bool_)
    for s in range(starts.size - 1):
        first, last = starts[s], starts[s + 1]
        most = 0.0
        for k in range(first, last):
            most = max(most, points[k, 3])
            x, y = int(points[k, 0]), int(points[k, 1])
            seen[k] = 0 <= x < w and 0 <= y < h and near[y, x] <= points[k, 2] + slack
        bristles = min(max(most * 0.8, 0.5), 4.0)
        for k in range(first, last - 1):
            if not (seen[k] or seen[k + 1]):
                continue
            (x0, y0, z0, w0, t0), (x1, y1, z1, w1, t1) = points[k], points[k + 1]
            ux, uy = x1 - x0, y1 - y0
            whole, wide = ux * ux + uy * uy, max(w0 + 0.5, w1 + 0.5, 1.0)
            if whole < 1e-6 or w0 + w1 <= 0:
                continue
            left, right = max(int(min(x0, x1) - wide), 0), min(int(max(x0, x1) + wide) + 1, w - 1)
            top, below = max(int(min(y0, y1) - wide), 0), min(int(max(y0, y1) + wide) + 1, h - 1)
            steep = abs(uy) > abs(ux)
            beside = wide * np.sqrt(1 + (ux / uy) ** 2) + 1 if steep else 0.0
            for y in range(top, below + 1):
                middle = x0 + (y - y0) * ux / uy if steep else 0.0
                from_, to = (max(left, int(middle - beside)), min(right, int(middle + beside) + 1)) if steep else (left, right)
                for x in range(from_, to + 1):
                    px, py = x - x0, y - y0
                    t = (px * ux + py * uy) / whole
                    if (t < 0 and (k == first or t < -0.2)) or (t > 1 and (k == last - 2 or t > 1.2)):
                        continue
                    t = min(max(t, 0.0), 1.0)
                    ax, ay, half = px - ux * t, py - uy * t, w0 + (w1 - w0) * t
                    off = np.sqrt(ax * ax + ay * ay)
                    cover = min(half - off + 0.5, 1.0) if half > 0.5 else half * 2 * max(1.0 - off, 0.0)
                    z = z0 + (z1 - z0) * t
                    if cover <= 0 or near[y, x] > z + slack:
                        continue
                    lane = ((off if px * uy > py * ux else -off) / max(half, 0.5) + 1) * bristles + 7
                    i = int(lane)
                    bristle = 0.5
                    if part > 0:
                        first_, next_ = _noise(s, i), _noise(s, i + 1)
                        bristle = first_ + (next_ - first_) * (lane - i)
                    alpha = cover * 0.96 * (1 - dry * bristle * (0.35 + 0.65 * (k - first + t) / (last - first)))
                    if whose[y, x] == s + 1:  # a stroke does not cover itself
                        if alpha <= before[y, x]:
                            continue
                        alpha, before[y, x] = (alpha - before[y, x]) / (1 - before[y, x] + 1e-6), alpha
                    else:
                        whose[y, x], before[y, x] = s + 1, alpha
                    tone = min(max(t0 + (t1 - t0) * t + 0.22 * (bristle - 0.5), 0.0), 1.0) * 2
                    a, u = (0, tone) if tone < 1 else (1, tone - 1)
                    for q in range(3):
                        rgba[y, x, q] += (ramp[a, q] + (ramp[a + 1, q] - ramp[a, q]) * u - rgba[y, x, q]) * alpha
                    rgba[y, x, 3] += (1 - rgba[y, x, 3]) * alpha
                    if part > 0 and before[y, x] > 0.45:
                        parts[y, x], near[y, x] = part, max(near[y, x], z)
