"""From a named pose to 18 joints in head heights: the ground at y = 0, y down."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.shapes import Points, point
from mosskeeper.core.illustrator.vocabulary.people import Proportions
from mosskeeper.core.illustrator.vocabulary.poses import Pose

# COCO's 17 key points and the neck, in the order of the arrays.
JOINTS = (
    "nose", "neck", "right shoulder", "right elbow", "right wrist", "left shoulder", "left elbow", "left wrist",
    "right hip", "right knee", "right ankle", "left hip", "left knee", "left ankle", "right eye", "left eye",
    "right ear", "left ear",
)  # fmt: skip
_SWAPPED = [JOINTS.index(n.replace("right", "?").replace("left", "right").replace("?", "left")) for n in JOINTS]
_HEEL = 0.13  # ankle above the ground


def joints(body: Proportions, pose: Pose, sway: float = 0.0) -> NDArray[np.float64]:
    """The 18 joints of a posed body, shape (18, 2), by forward kinematics.

    `sway` adds a few degrees to the arms and the head, so that two takes of one pose differ.
    """
    j: dict[str, Points] = {}
    lean = np.deg2rad(pose.lean + body.stoop)
    up = point(np.sin(lean), -np.cos(lean))
    neck = up * body.torso
    j["neck"] = neck
    tilt, hips = lean + np.deg2rad(pose.shoulder_tilt), np.deg2rad(pose.hip_tilt)
    shoulder = point(np.cos(tilt), np.sin(tilt)) * body.shoulder
    hip = point(np.cos(hips), np.sin(hips)) * body.hip
    drop = point(0, 0.06)
    j["right shoulder"], j["left shoulder"] = neck - shoulder + drop, neck + shoulder + drop
    j["right hip"], j["left hip"] = -hip, hip
    for side, sign, arm, leg in (
        ("right", -1, pose.right_arm, pose.right_leg),
        ("left", 1, pose.left_arm, pose.left_leg),
    ):
        swing = sway * (1.0 if side == "right" else -0.8)
        j[f"{side} elbow"] = j[f"{side} shoulder"] + _bone(sign, arm[0] + swing, body.upper_arm, arm, 2)
        j[f"{side} wrist"] = j[f"{side} elbow"] + _bone(sign, arm[1] - swing, body.forearm, arm, 3)
        j[f"{side} knee"] = j[f"{side} hip"] + _bone(sign, leg[0], body.thigh, leg, 2)
        j[f"{side} ankle"] = j[f"{side} knee"] + _bone(sign, leg[1], body.shin, leg, 3)
    j |= _head(neck, body, pose, sway)
    out = np.array([j[name] for name in JOINTS])
    out[:, 1] -= max(j["right ankle"][1], j["left ankle"][1]) + _HEEL
    out[:, 0] -= (j["right ankle"][0] + j["left ankle"][0]) / 2 * 0.6
    return out


def mirrored(joints_px: NDArray[np.float64]) -> NDArray[np.float64]:
    """Joints of a picture that was mirrored: left and right change their names."""
    return joints_px[_SWAPPED]


def _bone(sign: int, degrees: float, length: float, limb: tuple[float, ...], shortening: int) -> Points:
    angle = np.deg2rad(degrees)
    shortened = limb[shortening] if len(limb) > shortening else 1.0
    return point(sign * np.sin(angle), np.cos(angle)) * length * shortened


def _head(neck: Points, body: Proportions, pose: Pose, sway: float) -> dict[str, Points]:
    tilt = np.deg2rad(pose.head_tilt + pose.lean * 0.5 + sway * 0.4)
    up, across = point(np.sin(tilt), -np.cos(tilt)), point(np.cos(tilt), np.sin(tilt))
    centre = neck + up * body.neck
    turn = float(np.clip(pose.turn + sway * 0.02, -1, 1))

    def at(x: float, y: float) -> Points:
        return centre + across * x - up * y

    return {
        "nose": at(turn * 0.13, 0.2),
        "right eye": at(-0.17 + turn * 0.12, 0.07),
        "left eye": at(0.17 + turn * 0.12, 0.07),
        "right ear": at(-0.41, 0.1),
        "left ear": at(0.41, 0.1),
    }
