"""A pose cue: joints between the seed's own and the given ones, bone by bone. The method is ours."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator import camera
from mosskeeper.core.illustrator.description import Layout
from mosskeeper.core.illustrator.skeleton import AT, BONE_TREE, JOINTS, given, mirrored, posture
from mosskeeper.core.illustrator.vocabulary.people import CHILDREN, body_of
from mosskeeper.core.illustrator.vocabulary.poses import POSES

F64 = NDArray[np.float64]
_BELOW_HEAD = [i for i, name in enumerate(JOINTS) if not name.endswith(("eye", "ear", "nose"))]


def posed(layout: Layout, subject: str, build: str, skeleton: F64, amount: float, size: tuple[int, int]) -> Layout:
    """`layout` with its figure moved towards a skeleton.

    Parameters
    ----------
    skeleton : (18, 2) joints as shares of width and height; NaN where unseen.
    amount : 0 the seed's own pose … 1 the given one, place and size in the frame included.
    size : (width, height) px of the picture.
    """
    body = body_of(subject, build)
    own = posture(body, POSES[layout.pose], layout)
    wanted = np.asarray(skeleton, float) * size
    aim = given(body, replace(own, behind=()), wanted)
    spot = camera.frame([camera.Posed(own.joints, layout, subject in CHILDREN)], size).spots[0]
    mine = own.joints if layout.facing > 0 else mirrored(own.joints * (-1, 1))
    blended = between(mine, aim.joints, amount)
    return replace(
        layout,
        skeleton=tuple((float(x), float(y)) for x, y in blended),
        pinned=_pin_between(spot, own.joints, layout, aim.joints, wanted, amount, size),
        facing=1,
        view="free",
        gaze="level",
        sway=0.0,
    )


def between(own: F64, aim: F64, amount: float) -> F64:
    """Joints (18, 2) between two postures: every bone is turned and stretched by that share, from the neck outwards."""
    out = own.copy()
    for child, parent in BONE_TREE:
        a, b = own[AT[child]] - own[AT[parent]], aim[AT[child]] - aim[AT[parent]]
        turn = (np.arctan2(b[1], b[0]) - np.arctan2(a[1], a[0]) + np.pi) % (2 * np.pi) - np.pi
        angle = np.arctan2(a[1], a[0]) + amount * turn
        length = np.hypot(*a) * (1 - amount) + np.hypot(*b) * amount
        out[AT[child]] = out[AT[parent]] + length * np.array([np.cos(angle), np.sin(angle)])
    return out


def _pin_between(
    spot: camera.Spot, own: F64, layout: Layout, aim: F64, wanted: F64, amount: float, size: tuple[int, int]
) -> tuple[float, float, float]:
    """Neck and size between where the seed has them and where the given skeleton does (by least squares)."""
    w, h = size
    x, y = spot.origin + own[AT["neck"]] * (layout.facing, 1) * spot.scale
    known = [i for i in _BELOW_HEAD if np.isfinite(wanted[i]).all()]
    a, b = aim[known] - aim[known].mean(0), wanted[known] - wanted[known].mean(0)
    scale = max(float((a * b).sum() / max((a * a).sum(), 1e-9)), 1e-3)
    there = wanted[known].mean(0) + (aim[AT["neck"]] - aim[known].mean(0)) * scale
    return (
        float((x * (1 - amount) + there[0] * amount) / w),
        float((y * (1 - amount) + there[1] * amount) / h),
        float(spot.scale ** (1 - amount) * scale**amount / h),
    )
