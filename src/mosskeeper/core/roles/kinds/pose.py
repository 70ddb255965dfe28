"""Pose: where the joints are. It moves the composition itself (`diffusion/pose.py`)."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.skeleton import AT
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.roles.role import CueComparison, Role

_FAR = 0.25  # of the figure's height: a joint that far away counts nothing
_LEAST_JOINTS = 4


class PoseRole(Role):
    name, order = "pose", 7
    says = "Puts the joints where they are in the picture. Poses are settled early: what acts after 60 % only stiffens."
    weight, end = 0.9, 60.0
    confinable = False
    meaning = "mean distance of the joints, in figure heights, after laying neck on neck"

    def lacks(self, reading: Reading, skeleton: bool) -> str:
        if skeleton or (reading.joints is not None and np.isfinite(reading.joints).all(1).sum() >= _LEAST_JOINTS):
            return ""
        return "Hardly a joint is read in this picture: place the points by hand, and the pose can act."

    def obeyed(self, compared: CueComparison) -> float | None:
        wanted = compared.skeleton if compared.skeleton is not None else compared.source_reading.joints
        got = compared.reading.joints
        if wanted is None or got is None:
            return None
        size = np.array([compared.picture.shape[1], compared.picture.shape[0]])
        a, b = (_about_neck(np.asarray(joints, float) * size) for joints in (wanted, got))
        both = np.isfinite(a).all(1) & np.isfinite(b).all(1)
        if both.sum() < _LEAST_JOINTS:
            return None
        a, b = a[both], b[both]
        scale = float((a * b).sum() / max((b * b).sum(), 1e-9))  # the size of a figure is not its pose
        tall = max(float(np.ptp(a[:, 1])), float(np.ptp(a[:, 0])), 1e-6)
        away = np.hypot(*(a - b * scale).T) / tall
        return float(np.clip(1 - away / _FAR, 0, 1).mean())


def _about_neck(joints: NDArray[np.float64]) -> NDArray[np.float64]:
    neck = joints[AT["neck"]]
    return np.asarray(joints - (neck if np.isfinite(neck).all() else np.nanmean(joints, axis=0)))


ROLE = PoseRole()
