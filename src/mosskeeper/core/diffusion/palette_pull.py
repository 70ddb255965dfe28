"""Palette pull: colours of a picture drawn towards those of references, smoothly in the weight.

Each of the picture's ten colours gets an offset to where optimal transport sends it; pixels take the offsets
of the colours they are near to. The offsets are baked into a colour cube, so that a step costs a look-up.
"""

from __future__ import annotations

import numba
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab
from mosskeeper.core.reading.palette import Palette, transport_plan

F32 = NDArray[np.float32]
_CUBE = 33
_SOFTNESS = 9.0  # Lab units over which a pixel belongs to a colour
_SHARPEN = 3  # power on the plan's rows: the plain barycentric target is grey


class PalettePull:
    """Pulls pictures with one source palette towards several references.

    Parameters
    ----------
    source : palette of the picture to be pulled, without any pull.
    references : palettes of the references, in any order.

    `offsets` holds for each reference the way (Lab) of every place of the colour cube at full pull.
    """

    def __init__(self, source: Palette, references: list[Palette]) -> None:
        axis = np.linspace(0, 1, _CUBE, dtype=np.float32)
        grid = np.stack(np.meshgrid(axis, axis, axis, indexing="ij"), -1).reshape(-1, 3)
        self._lab = rgb_to_lab(grid)
        d = np.square(self._lab[:, None] - source.lab[None]).sum(2)
        near = np.exp(-(d - d.min(1, keepdims=True)) / np.float32(2 * _SOFTNESS**2))
        near /= near.sum(1, keepdims=True)
        self.offsets = [near @ (_targets(source, reference) - source.lab) for reference in references]

    def cube(self, amounts: list[float]) -> F32:
        """(33, 33, 33, 3) colour cube for one amount (0…1) a reference. Amounts that sum to more than 1 share it."""
        total = max(1.0, sum(amounts))
        offset = np.zeros_like(self._lab)
        for amount, o in zip(amounts, self.offsets, strict=True):
            offset += np.float32(amount / total) * o
        return lab_to_rgb(self._lab + offset).reshape(_CUBE, _CUBE, _CUBE, 3)


def _targets(source: Palette, reference: Palette) -> F32:
    plan = transport_plan(source, reference).astype(np.float64)
    sharp = (plan / plan.sum(1, keepdims=True)) ** _SHARPEN
    sharp /= sharp.sum(1, keepdims=True)
    return np.asarray(sharp @ reference.lab, np.float32)


@numba.njit(cache=True, fastmath=True)  # type: ignore[untyped-decorator]
def _look_up(x, cube, protect, out):  # type: ignore[no-untyped-def]
    n = cube.shape[0] - 1
    for i in range(x.shape[0]):
        p = np.empty(3, np.float32)
        c = np.empty(3, np.int64)
        for q in range(3):
            v = min(max((x[i, q] + 1) * 0.5, 0.0), 1.0) * n
            c[q] = min(int(v), n - 1)
            p[q] = v - c[q]
        k = protect[i]
        for q in range(3):
            v = np.float32(0)
            for a in range(2):
                wa = p[0] if a else 1 - p[0]
                for b in range(2):
                    wb = wa * (p[1] if b else 1 - p[1])
                    v += wb * (1 - p[2]) * cube[c[0] + a, c[1] + b, c[2], q]
                    v += wb * p[2] * cube[c[0] + a, c[1] + b, c[2] + 1, q]
            out[i, q] = x[i, q] * k + (v * 2 - 1) * (1 - k)


def recoloured(x: F32, cube: F32, protect: F32) -> F32:
    """`x` (H, W, 3) in −1…1 through a colour cube, by trilinear interpolation.

    `protect` (H, W) in 0…1 keeps that share of the own colour: skin turns to clay otherwise.
    """
    flat = np.ascontiguousarray(x.reshape(-1, 3), np.float32)
    out = np.empty_like(flat)
    _look_up(flat, cube, np.ascontiguousarray(protect.ravel(), np.float32), out)
    return out.reshape(x.shape)
