"""How a body stands: 18 joints in head heights, the ground at y = 0, y down, and how the head is held.

From a named pose by forward kinematics, or from any skeleton that is given.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from mosskeeper.core.illustrator.arrays import Array
from mosskeeper.core.illustrator.description import Layout
from mosskeeper.core.illustrator.shapes import Points, point, unit
from mosskeeper.core.illustrator.vocabulary.people import HEEL, Proportions
from mosskeeper.core.illustrator.vocabulary.poses import Pose

# COCO's 17 key points and the neck, in the order of the arrays.
JOINTS = (
    "nose",
    "neck",
    "right shoulder",
    "right elbow",
    "right wrist",
    "left shoulder",
    "left elbow",
    "left wrist",
    "right hip",
    "right knee",
    "right ankle",
    "left hip",
    "left knee",
    "left ankle",
    "right eye",
    "left eye",
    "right ear",
    "left ear",
)
AT = {name: i for i, name in enumerate(JOINTS)}
VIEWS = ("free", "front", "three-quarter", "profile")
GAZES = ("level", "up", "down")
ANGLES = ("level", "above", "below")
_SWAPPED = [JOINTS.index(n.replace("right", "?").replace("left", "right").replace("?", "left")) for n in JOINTS]
_FLESH = 0.16  # hh of body below the lowest joint of somebody who lies
_THREE_QUARTER = 0.8
_NOSE_TURN = 0.13  # hh by which the nose of a fully turned three-quarter head lies to the side
_PROFILE_FROM = 0.5  # nose beside the middle of the ears, over their distance, from which a head is in profile
_NOD = 0.34  # radians by which a head in profile tips
_REACH = 9.0  # hh: joints farther from the neck are drawn in
_SHORTEST = 0.05  # hh of a bone
_BONES = (
    ("neck", "hips"),
    ("right shoulder", "right elbow"),
    ("left shoulder", "left elbow"),
    ("right elbow", "right wrist"),
    ("left elbow", "left wrist"),
    ("right hip", "right knee"),
    ("left hip", "left knee"),
    ("right knee", "right ankle"),
    ("left knee", "left ankle"),
)
_PARENT = {
    "right shoulder": "neck",
    "left shoulder": "neck",
    "right elbow": "right shoulder",
    "left elbow": "left shoulder",
    "right wrist": "right elbow",
    "left wrist": "left elbow",
    "right hip": "neck",
    "left hip": "neck",
    "right knee": "right hip",
    "left knee": "left hip",
    "right ankle": "right knee",
    "left ankle": "left knee",
}
# Child and parent of every bone, so that parents come first.
BONE_TREE = (*_PARENT.items(), ("nose", "neck"), ("right eye", "neck"), ("left eye", "neck"), ("right ear", "neck"), ("left ear", "neck"))


@dataclass(frozen=True, slots=True)
class Head:
    """How a head is held."""

    tilt: float = 0.0  # radians, clockwise
    turn: float = 0.0  # −1…1; beyond ±.75 three-quarter
    nod: float = 0.0  # −1 up … 1 down
    profile: int = 0  # −1 or 1: the side it is seen from; 0 from in front


@dataclass(frozen=True, slots=True)
class Posture:
    joints: Array  # (18, 2) hh
    head: Head
    hands: tuple[str, str] = ("relaxed", "relaxed")  # right, left
    behind: tuple[str, ...] = ()  # limbs behind the trunk
    seated: bool = False
    lying: bool = False  # or on the hands: a named pose that does not stand on its feet

    def joint(self, name: str) -> Points:
        return np.asarray(self.joints[AT[name]])


def posture(body: Proportions, pose: Pose, layout: Layout) -> Posture:
    """The posture of a body: by its layout's skeleton where there is one, else by the named pose."""
    side = -1 if pose.turn < 0 else 1
    turn = {"free": pose.turn, "front": 0.04, "three-quarter": side * _THREE_QUARTER, "profile": float(side)}[layout.view]
    head = Head(
        np.deg2rad(pose.head_tilt + pose.lean * 0.5 + layout.sway * 0.4),
        float(np.clip(turn + layout.sway * 0.02, -1, 1)),
        {"level": 0.0, "up": -0.9, "down": 0.9}[layout.gaze],
        side if layout.view == "profile" else 0,
    )
    behind = tuple(dict.fromkeys((*pose.behind, *layout.behind)))
    made = Posture(joints(body, pose, layout.sway, head), head, pose.hands, behind, pose.seated, pose.lying)
    if body.head != 1:
        made = replace(made, joints=_shoulders_lowered(made.joints))
    if layout.skeleton is not None:
        made = replace(given(body, made, np.asarray(layout.skeleton, float), layout.measure), behind=layout.behind)
    if layout.hands is not None:
        made = replace(made, hands=layout.hands)
    return seen_from(made, layout.angle)


def joints(body: Proportions, pose: Pose, sway: float = 0.0, head: Head | None = None) -> NDArray[np.float64]:
    """The 18 joints of a posed body, shape (18, 2), by forward kinematics.

    `sway` adds a few degrees to the arms and the head, so that two takes of one pose differ.
    """
    if head is None:
        head = Head(np.deg2rad(pose.head_tilt + pose.lean * 0.5 + sway * 0.4), float(np.clip(pose.turn + sway * 0.02, -1, 1)))
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
    j |= head_joints(neck, body, head)
    out = np.array([j[name] for name in JOINTS])
    lowest = out[:, 1].max() + _FLESH if pose.lying else max(j["right ankle"][1], j["left ankle"][1]) + HEEL
    out[:, 1] -= lowest + pose.lift
    out[:, 0] -= (j["right ankle"][0] + j["left ankle"][0]) / 2 * 0.6
    return out


def _shoulders_lowered(of: Array) -> Array:
    """Joints (18, 2) with arms that hang from below the line of the shoulders, as bones do; raised arms lift their shoulder."""
    out = np.array(of, float)
    down = unit((out[AT["right hip"]] + out[AT["left hip"]]) / 2 - out[AT["neck"]])
    outwards = point(down[1], -down[0])
    for side, sign in (("right", -1), ("left", 1)):
        arm = out[AT[f"{side} elbow"]] - out[AT[f"{side} shoulder"]]
        hangs = float(np.clip(arm @ down / (np.hypot(*arm) + 1e-9), -0.6, 1))
        for joint in ("shoulder", "elbow", "wrist"):
            out[AT[f"{side} {joint}"]] += (down * 0.075 - outwards * 0.035 * sign) * hangs
    return out


def measure_of(skeleton: ArrayLike, own: Array) -> float | None:
    """Head heights of one unit of a skeleton (18, 2), by the longest of its bones, which are the least foreshortened.

    own : (18, 2) joints of a body, in head heights. None where no bone is known.
    """
    p, usual = _with_hips(np.asarray(skeleton, float)), _with_hips(own)
    ratios = []
    for a, b in _BONES:
        length = np.hypot(*(p[b] - p[a]))
        if np.isfinite(length) and length > 0:
            ratios.append(np.hypot(*(usual[b] - usual[a])) / length)
    return float(np.percentile(ratios, 25)) if ratios else None


def given(body: Proportions, usual: Posture, skeleton: ArrayLike, measure: float | None = None) -> Posture:
    """The posture of a given skeleton, in the measure of a body.

    Parameters
    ----------
    skeleton : (18, 2) joints in the order of JOINTS, in any unit, y down; NaN where a joint is not known.
    usual : stands in for what is not known.
    measure : head heights of one unit of the skeleton, whose proportions stay then; they may be nobody's.

    Without a measure the skeleton is scaled so that its longest bones, which are the least foreshortened, have the body's lengths, and
    set on the ground. All joints below the head are followed exactly; the head keeps its size and is turned and tilted
    as eyes, ears and nose say.

    Raises
    ------
    ValueError
        where the array has another shape.
    """
    p = np.array(skeleton, float)
    if p.shape != (len(JOINTS), 2):
        raise ValueError(f"a skeleton has {len(JOINTS)} joints of two coordinates, not {p.shape}")
    p[~np.isfinite(p).all(1)] = np.nan
    measure = measure_of(p, usual.joints) if measure is None else measure
    if measure is None:
        return usual
    p *= measure
    _complete(p, usual.joints)
    reach = p - p[AT["neck"]]
    far = np.hypot(*reach.T)
    p = p[AT["neck"]] + reach * np.minimum(1, _REACH / np.maximum(far, 1e-9))[:, None]
    for name, parent in _PARENT.items():  # a bone that points at the viewer still has a direction
        bone = p[AT[name]] - p[AT[parent]]
        if np.hypot(*bone) < _SHORTEST:
            p[AT[name]] = p[AT[parent]] + (0, _SHORTEST)
    head = _held(p, usual.head)
    for name, at in head_joints(p[AT["neck"]], body, head).items():
        p[AT[name]] = at
    feet = p[[AT["right ankle"], AT["left ankle"]]]
    p[:, 0] -= feet[:, 0].mean() * 0.6 + p[AT["neck"], 0] * 0.4
    p[:, 1] -= max(feet[:, 1].max(), p[2:14, 1].max()) + HEEL
    return replace(usual, joints=p, head=head, seated=False, lying=False)


def _with_hips(p: NDArray[np.float64]) -> dict[str, Points]:
    out = {name: p[i] for i, name in enumerate(JOINTS)}
    out["hips"] = (out["right hip"] + out["left hip"]) / 2
    return out


def _complete(p: NDArray[np.float64], usual: NDArray[np.float64]) -> None:
    """Fills unknown joints below the head, in place: as they usually lie from the joint they hang on."""
    if not np.isfinite(p[AT["neck"]]).all():
        shoulders = p[[AT["right shoulder"], AT["left shoulder"]]]
        known = np.isfinite(p[:, 0])
        p[AT["neck"]] = shoulders.mean(0) if np.isfinite(shoulders).all() else (p[known] - usual[known]).mean(0) + usual[AT["neck"]]
    for name, parent in _PARENT.items():
        if not np.isfinite(p[AT[name]]).all():
            p[AT[name]] = p[AT[parent]] + usual[AT[name]] - usual[AT[parent]]


def _held(p: NDArray[np.float64], usual: Head) -> Head:
    """Tilt, turn and nod of a head from its five key points; the usual ones where they are not known."""
    ears, eyes, nose = p[[AT["right ear"], AT["left ear"]]], p[[AT["right eye"], AT["left eye"]]], p[AT["nose"]]
    pair = ears if np.isfinite(ears).all() else eyes
    if not (np.isfinite(pair).all() and np.isfinite(nose).all()):
        seen = [side for side, ear in zip((1, -1), ears, strict=True) if np.isfinite(ear).all()]
        return replace(usual, profile=seen[0], turn=float(seen[0])) if len(seen) == 1 and np.isfinite(nose).all() else usual
    middle, across = pair.mean(0), pair[1] - pair[0]
    up = middle - p[AT["neck"]]
    width = float(np.hypot(*across)) or 1e-6
    if width < 0.35 * np.hypot(*up):  # nearly one behind the other: the neck says where up is
        across = point(-up[1], up[0])
    tilt = float(np.arctan2(across[1], across[0]))
    right = point(np.cos(tilt), np.sin(tilt))
    beside = float((nose - middle) @ right) / width
    side = -1 if beside < 0 else 1
    usual_width = 0.82 if pair is ears else 0.34
    below = float((nose - middle) @ point(-right[1], right[0])) * usual_width / max(width, 0.3)
    nod = float(np.clip((below - (0.10 if pair is ears else 0.13)) / 0.12, -1, 1))
    if abs(beside) > _PROFILE_FROM * (1 if pair is ears else 2):
        return Head(tilt, float(side), nod, side)
    turn = beside * usual_width / _NOSE_TURN
    return Head(tilt, float(np.clip(turn, -1, 1)), nod)


def seen_from(p: Posture, angle: str) -> Posture:
    """The posture as a camera above or below the eyes sees it: the body shortened downwards, or rising."""
    if angle == "level":
        return p
    above = angle == "above"
    out, neck = p.joints.copy(), p.joint("neck")
    below = out[:, 1] - neck[1]
    deep = np.clip(below / max(-neck[1], 1e-6), 0, 1)
    out[:, 0] = neck[0] + (out[:, 0] - neck[0]) * (1 + deep * (-0.24 if above else 0.16))
    out[:, 1] = np.where(below > 0, neck[1] + below * ((1 - 0.18 * deep) if above else (1 + 0.05 * deep)), out[:, 1])
    out[:, 1] -= max(out[AT["right ankle"], 1], out[AT["left ankle"], 1]) + HEEL
    nod = float(np.clip(p.head.nod + (0.55 if above else -0.55), -1, 1))
    return replace(p, joints=out, head=replace(p.head, nod=nod))


def hand_at(p: Posture, body: Proportions, side: str, target: Points) -> Posture:
    """The posture with one hand gripping at `target`, by two-bone inverse kinematics (law of cosines)."""
    sign = -1 if side == "right" else 1
    shoulder = p.joint(f"{side} shoulder")
    line = target - shoulder
    a, b = body.upper_arm, body.forearm
    reach = float(np.clip(np.hypot(*line), abs(a - b) + 0.02, (a + b) * 0.98))
    bend = np.arccos(np.clip((a * a + reach * reach - b * b) / (2 * a * reach), -1, 1))
    angle = np.arctan2(line[1], line[0]) + sign * -bend
    elbow = shoulder + point(np.cos(angle), np.sin(angle)) * a * 0.86  # elbows come forward
    return _gripping(p, side, elbow, shoulder + unit(line) * reach)


def arm_held(p: Posture, body: Proportions, side: str, arm: tuple[float, ...]) -> Posture:
    """The posture with one arm at the angles of `arm` (as in a `Pose`), its hand gripping."""
    sign = -1 if side == "right" else 1
    elbow = p.joint(f"{side} shoulder") + _bone(sign, arm[0], body.upper_arm, arm, 2)
    return _gripping(p, side, elbow, elbow + _bone(sign, arm[1], body.forearm, arm, 3))


def _gripping(p: Posture, side: str, elbow: Points, wrist: Points) -> Posture:
    out = p.joints.copy()
    out[AT[f"{side} elbow"]], out[AT[f"{side} wrist"]] = elbow, wrist
    hands = ("grip", p.hands[1]) if side == "right" else (p.hands[0], "grip")
    return replace(p, joints=out, hands=hands, behind=tuple(limb for limb in p.behind if limb != f"{side} arm"))


def arms_swapped(p: Posture) -> Posture:
    """The posture with left and right arm exchanged, each hanging from its own shoulder."""
    out = p.joints.copy()
    for side, other in (("right", "left"), ("left", "right")):
        for joint in ("elbow", "wrist"):
            out[AT[f"{side} {joint}"]] = p.joint(f"{side} shoulder") + (p.joint(f"{other} {joint}") - p.joint(f"{other} shoulder")) * (
                -1,
                1,
            )
    swap = {"right arm": "left arm", "left arm": "right arm"}
    return replace(p, joints=out, hands=p.hands[::-1], behind=tuple(swap.get(limb, limb) for limb in p.behind))


def mirrored(joints_px: NDArray[Any]) -> NDArray[Any]:
    """Joints of a picture that was mirrored: left and right change their names."""
    return joints_px[_SWAPPED]


def _bone(sign: int, degrees: float, length: float, limb: tuple[float, ...], shortening: int) -> Points:
    angle = np.deg2rad(degrees)
    shortened = limb[shortening] if len(limb) > shortening else 1.0
    return point(sign * np.sin(angle), np.cos(angle)) * length * shortened


def nodded(p: NDArray[np.float64], nod: float) -> NDArray[np.float64]:
    """Points of a head in profile (x towards the nose), turned about the top of the spine."""
    angle, pivot = nod * _NOD, np.array([-0.10, 0.12])
    turned = np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])
    return np.asarray((p - pivot) @ turned + pivot)


def head_joints(neck: Points, body: Proportions, head: Head) -> dict[str, Points]:
    """Nose, eyes and ears of a head on a neck."""
    up, across = point(np.sin(head.tilt), -np.cos(head.tilt)), point(np.cos(head.tilt), np.sin(head.tilt))
    centre, s, nod = neck + up * body.neck, head.profile, head.nod

    def at(x: float, y: float) -> Points:
        return np.asarray(centre + across * (x * body.head) - up * (y * body.head))

    if s:
        near, far = ("right", "left") if s > 0 else ("left", "right")
        seen = {
            "nose": (0.46, 0.15),
            f"{near} eye": (0.29, 0.06),
            f"{far} eye": (0.35, 0.06),
            f"{near} ear": (-0.06, 0.09),
            f"{far} ear": (-0.02, 0.09),
        }
        return {name: at(s * x, y) for name, (x, y) in zip(seen, nodded(np.array(list(seen.values())), nod), strict=True)}
    turn = head.turn
    return {
        "nose": at(turn * _NOSE_TURN, 0.2 + 0.07 * nod),
        "right eye": at(-0.17 + turn * 0.12, 0.07 + 0.06 * nod),
        "left eye": at(0.17 + turn * 0.12, 0.07 + 0.06 * nod),
        "right ear": at(-0.41, 0.1 - 0.04 * nod),
        "left ear": at(0.41, 0.1 - 0.04 * nod),
    }


def between(own: NDArray[np.float64], aim: NDArray[np.float64], amount: float) -> NDArray[np.float64]:
    """Joints (18, 2) between two postures: every bone is turned and stretched by that share, from the neck outwards."""
    out = own.copy()
    for child, parent in BONE_TREE:
        a, b = own[AT[child]] - own[AT[parent]], aim[AT[child]] - aim[AT[parent]]
        turn = (np.arctan2(b[1], b[0]) - np.arctan2(a[1], a[0]) + np.pi) % (2 * np.pi) - np.pi
        angle = np.arctan2(a[1], a[0]) + amount * turn
        length = np.hypot(*a) * (1 - amount) + np.hypot(*b) * amount
        out[AT[child]] = out[AT[parent]] + length * np.array([np.cos(angle), np.sin(angle)])
    return out
