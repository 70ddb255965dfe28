"""A pose on another body: every bone keeps its direction, and gets the body's own length.

A bone that is shorter than its fellow on the other side is taken to point at the viewer and stays as much shorter; what
both sides share is the body's proportion and is not kept. The trunk keeps its direction, the head how it is held; what is
not known hangs as it usually does. The method is ours.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Layout
from mosskeeper.core.illustrator.skeleton import AT, Posture, between, given, head_joints, mirrored, posture
from mosskeeper.core.illustrator.vocabulary.people import Proportions
from mosskeeper.core.illustrator.vocabulary.poses import POSES

F64 = NDArray[np.float64]
_HEEL = 0.13
_SHORTENED = 0.9  # a bone below this share of its fellow points at the viewer
_LEAST = 0.35
_LIMBS = (
    ("shoulder", "elbow", "upper_arm"),
    ("elbow", "wrist", "forearm"),
    ("hip", "knee", "thigh"),
    ("knee", "ankle", "shin"),
)
_BEHIND = {"right arm": "left arm", "left arm": "right arm", "right leg": "left leg", "left leg": "right leg"}
TOO_LONG = 1.3  # of a bone's own length, from which a pose is told to be impossible
_TRUNK_KNOWN = ("neck", "right hip", "left hip")


@dataclass(frozen=True, slots=True, eq=False)
class PosedBody:
    """One figure in a pose. joints : (18, 2), y down, NaN where not known; in any unit."""

    joints: F64
    hands: tuple[str, str] | None = None  # right, left; None: as the figure's own pose has them
    behind: tuple[str, ...] = ()

    def mirrored(self) -> PosedBody:
        """The pose in a mirror."""
        behind = tuple(_BEHIND[limb] for limb in self.behind)
        hands = None if self.hands is None else (self.hands[1], self.hands[0])
        return PosedBody(mirrored(self.joints * (-1, 1)), hands, behind)


def retargeted(posed: PosedBody, body: Proportions) -> PosedBody:
    """The pose on a body: joints in head heights, the lowest of them on the ground at y = 0."""
    source = np.array(posed.joints, float)
    usual = posture(body, POSES["facing"], Layout(pose="facing"))
    if not np.isfinite(source).all(1)[1:14].any():
        return replace(posed, joints=usual.joints)
    # in the body's measure, with what is not known completed and the head held as it is
    whole = given(body, usual, source)
    out = whole.joints.copy()
    _trunk(out, whole.joints, source, body)
    for side in ("right", "left"):
        for upper, lower, name in _LIMBS:
            a, b = AT[f"{side} {upper}"], AT[f"{side} {lower}"]
            bone = whole.joints[b] - whole.joints[a]
            length = getattr(body, name) * _turned_away(source, side, upper, lower)
            out[b] = out[a] + bone / max(float(np.hypot(*bone)), 1e-9) * length
    for name, at in head_joints(out[AT["neck"]], body, whole.head).items():
        out[AT[name]] = at
    out[:, 1] -= out[2:14, 1].max() + _HEEL
    return replace(posed, joints=out)


def _trunk(out: F64, given_joints: F64, source: F64, body: Proportions) -> None:
    """Shoulders and hips at the body's own widths, about a trunk of its own length, in place."""
    neck = given_joints[AT["neck"]]
    hips = given_joints[[AT["right hip"], AT["left hip"]]]
    spine = hips.mean(0) - neck
    along = spine / max(float(np.hypot(*spine)), 1e-9)
    middle = neck + along * body.torso * _trunk_share(source)
    for name, half in (("shoulder", body.shoulder), ("hip", body.hip)):
        right, left = given_joints[AT[f"right {name}"]], given_joints[AT[f"left {name}"]]
        across = left - right
        wide = float(np.hypot(*across))
        # seen from the side they stand as near to each other as they are seen
        share = float(np.clip(wide / (2 * half), 0.2, 1.0))
        direction = across / max(wide, 1e-9)
        base = neck + along * 0.06 if name == "shoulder" else middle
        out[AT[f"right {name}"]], out[AT[f"left {name}"]] = base - direction * half * share, base + direction * half * share
    out[AT["neck"]] = neck


def _trunk_share(source: F64) -> float:
    """How much of its length a trunk shows: shortened where it is short for the shoulders' width."""
    points = [source[AT[name]] for name in (*_TRUNK_KNOWN, "right shoulder", "left shoulder")]
    if not np.isfinite(points).all():
        return 1.0
    neck, right, left, *shoulders = points
    spine = float(np.hypot(*((right + left) / 2 - neck)))
    wide = float(np.hypot(*(shoulders[1] - shoulders[0])))
    return float(np.clip(spine / max(wide * 0.9, 1e-9), 0.6, 1.0))


def _turned_away(source: F64, side: str, upper: str, lower: str) -> float:
    """The share of a bone's length that is seen: 1 where its fellow is no longer."""

    def long(of: str) -> float:
        a, b = source[AT[f"{of} {upper}"]], source[AT[f"{of} {lower}"]]
        return float(np.hypot(*(b - a))) if np.isfinite([a, b]).all() else np.nan

    own, fellow = long(side), long("left" if side == "right" else "right")
    if not np.isfinite([own, fellow]).all() or fellow <= 0:
        return 1.0
    share = own / fellow
    return 1.0 if share >= _SHORTENED else max(share, _LEAST)


def in_frame(posed: PosedBody, like: F64 | None, size: tuple[int, int]) -> PosedBody:
    """A pose in head heights put into a picture of `size`: joints as shares of width and height.

    Parameters
    ----------
    like : (18, 2) shares: stand where this figure stands, at its size; None: whole, in the middle.
    """
    w, h = size
    p = posed.joints
    if like is None or np.isfinite(like).all(1).sum() < 3:
        scale = 0.82 * min(h, w * 1.25) / float(np.ptp(p[:, 1]) + 0.7)
        scale = min(scale, 0.9 * w / float(np.ptp(p[:, 0]) + 0.7))
        at = np.array([w / 2 - (p[:, 0].min() + p[:, 0].max()) / 2 * scale, h * 0.5 + 0.44 * min(h, w * 1.25)])
        return replace(posed, joints=(p * scale + at) / (w, h))
    there = np.asarray(like, float) * (w, h)
    known = np.asarray(np.isfinite(there).all(1) & np.isfinite(p).all(1), np.bool_)
    scale = _measure(there, known) / max(_measure(p, known), 1e-9)
    foot = known[[AT["right ankle"], AT["left ankle"]]].all()
    if foot:
        low_there, low = (max(q[AT["right ankle"], 1], q[AT["left ankle"], 1]) for q in (there, p))
        middle_there, middle = (np.nanmean(q[[AT["right hip"], AT["left hip"]], 0]) for q in (there, p))
        at = np.array([middle_there - middle * scale, low_there - low * scale])
    else:
        i = AT["neck"] if known[AT["neck"]] else int(np.flatnonzero(known)[0])
        at = there[i] - p[i] * scale
    return replace(posed, joints=(p * scale + at) / (w, h))


def _measure(p: F64, known: NDArray[np.bool_]) -> float:
    """What tells the size of a figure whatever its pose: the lengths of its bones."""
    pairs = [
        (AT["neck"], AT["right hip"]),
        (AT["neck"], AT["left hip"]),
        *((AT[f"{s} {a}"], AT[f"{s} {b}"]) for s in ("right", "left") for a, b, _ in _LIMBS),
    ]
    lengths = [float(np.hypot(*(p[a] - p[b]))) for a, b in pairs if known[a] and known[b]]
    return float(np.sum(lengths)) if lengths else float(np.ptp(p[known][:, 1]) or 1.0)


def mixed(a: PosedBody, b: PosedBody, share: float) -> PosedBody:
    """Between two poses in head heights, bone by bone; hands and depth of the nearer."""
    near = a if share < 0.5 else b
    joints = between(a.joints, b.joints, share)
    joints[:, 1] -= joints[2:14, 1].max() + _HEEL
    return replace(near, joints=joints)


def impossible(joints: F64, body: Proportions, size: tuple[int, int]) -> list[str]:
    """The bones (named by their lower joint) that are longer than TOO_LONG times a body's own, of joints as shares of a picture."""
    p = np.asarray(joints, float) * size
    lengths = {}
    for side in ("right", "left"):
        for upper, lower, name in _LIMBS:
            a, b = p[AT[f"{side} {upper}"]], p[AT[f"{side} {lower}"]]
            if np.isfinite([a, b]).all():
                lengths[f"{side} {lower}"] = float(np.hypot(*(b - a))) / getattr(body, name)
    if len(lengths) < 3:
        return []
    usual = float(np.median(list(lengths.values())))
    return [name for name, k in lengths.items() if k > TOO_LONG * usual]


def posed_of(held: Posture) -> PosedBody:
    return PosedBody(held.joints, held.hands, held.behind)
