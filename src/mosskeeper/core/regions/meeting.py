"""Hands that meet: two figures near enough, and an arm of each led to one point."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Layout
from mosskeeper.core.illustrator.scene import posture_of
from mosskeeper.core.illustrator.skeleton import AT, Posture
from mosskeeper.core.illustrator.vocabulary.people import Proportions, body_of
from mosskeeper.core.regions.roles import PlacedPerson
from mosskeeper.core.regions.words import Relation

F64 = NDArray[np.float64]
_HELD = 0.95  # of the arms' length at which hands are held, and at which something is handed
_HANDED = 0.82
_GRIP = {"holds": 0.10}  # hh from the wrist to the point where the hands meet
_ASIDE = 0.30  # of a region's width by which its figure may leave its middle to meet another
_APART = 0.02  # of the picture's width, from which hands do not meet


@dataclass(frozen=True, slots=True)
class Met:
    """apart : px between the two hands, once the arms are led there."""

    pair: Relation
    apart: float


def meet(roles: Sequence[PlacedPerson], pair: Relation, size: tuple[int, int], told: list[str], name: Callable[[PlacedPerson], str]) -> Met:
    """Brings two figures near enough and their near hands to one point, each arm by two-bone inverse kinematics."""
    a, b = roles[pair.who], roles[pair.whom]
    holds = pair.kind == "holds"
    left, right = (a, b) if a.centre < b.centre else (b, a)
    held = {id(r): posture_of(r.person) for r in (a, b)}
    bodies = {id(r): body_of(r.person.subject, r.person.build, r.person.figure) for r in (a, b)}
    sides = {id(r): hand_towards(r.person.layout, r is left) for r in (a, b)}
    arm = {id(r): (bodies[id(r)].upper_arm + bodies[id(r)].forearm) * r.scale for r in (a, b)}

    def seen(r: PlacedPerson, at: F64) -> F64:
        return np.asarray(at * (r.person.layout.facing * r.scale, r.scale) + (r.centre, r.foot))

    def shoulder(r: PlacedPerson) -> F64:
        return seen(r, held[id(r)].joint(f"{sides[id(r)]} shoulder"))

    gap = float(shoulder(right)[0] - shoulder(left)[0])
    most = (0.42 if holds else 0.80) * (arm[id(a)] + arm[id(b)])
    move = max(gap - most, 0) / 2 + min(gap - 0.35 * a.scale, 0) / 2
    for r, sign in ((left, 1), (right, -1)):
        spare, own = _ASIDE * (r.box[2] - r.box[0]), r.centre + sign * move
        if move > 0:  # not far out of its region
            own = float(np.clip(own, r.box[0] - spare - r.covers[0] * r.scale * 0.5, r.box[2] + spare - r.covers[2] * r.scale * 0.5))
        r.centre = own
    at = {id(r): shoulder(r) for r in (a, b)}
    point = _between(at[id(left)], at[id(right)], (arm[id(left)], arm[id(right)]), a.scale, holds)
    hands = []
    for r in (a, b):
        line = point - at[id(r)]
        grip = point - line / max(float(np.hypot(*line)), 1e-6) * _GRIP.get(pair.kind, 0.18) * r.scale
        target = (grip - (r.centre, r.foot)) / (r.person.layout.facing * r.scale, r.scale)
        opened = r is b and not holds
        made = arm_to(held[id(r)], bodies[id(r)], sides[id(r)], target, "open" if opened else "grip")
        wrist = seen(r, made.joint(f"{sides[id(r)]} wrist"))
        hands.append(wrist + (point - grip))
        r.person = replace(r.person, layout=_as_layout(r.person.layout, made))
    apart = float(np.hypot(*(hands[0] - hands[1])))
    if apart > _APART * size[0]:
        told.append(
            f"The hands of {name(a)} and {name(b)} cannot meet: {apart:.0f} px stay between them. Draw the regions nearer to each other."
        )
    return Met(pair, apart)


def hand_towards(layout: Layout, right: bool) -> str:
    """Which hand of a figure, unmirrored as layouts have it, is towards a side of the picture."""
    return "left" if (layout.facing > 0) == right else "right"


def arm_to(p: Posture, body: Proportions, side: str, target: F64, hand: str) -> Posture:
    """The posture with a hand at `target`: bones in their full length, the elbow hanging."""
    shoulder = p.joint(f"{side} shoulder")
    line, (a, b) = target - shoulder, (body.upper_arm, body.forearm)
    reach = float(np.clip(np.hypot(*line), abs(a - b) + 0.02, (a + b) * 0.995))
    along = line / max(float(np.hypot(*line)), 1e-6)
    up = (a * a + reach * reach - b * b) / (2 * reach)
    across = np.array([-along[1], along[0]]) * np.sqrt(max(a * a - up * up, 0))
    joints = p.joints.copy()
    joints[AT[f"{side} elbow"]] = shoulder + along * up + (across if across[1] > 0 else -across)
    joints[AT[f"{side} wrist"]] = shoulder + along * reach
    hands = (hand, p.hands[1]) if side == "right" else (p.hands[0], hand)
    return replace(p, joints=joints, hands=hands, behind=tuple(limb for limb in p.behind if limb != f"{side} arm"))


def _between(left: F64, right: F64, arms: tuple[float, float], unit: float, holds: bool) -> F64:
    """The point where hands meet best: arms neither stretched nor folded, not above the lower shoulder."""
    low, high = max(left[1], right[1]), min(left[1], right[1])
    x, y = np.meshgrid(np.linspace(left[0], right[0], 25), np.linspace(high, low + 1.8 * unit, 60))
    cost = np.zeros_like(x)
    for at, arm in zip((left, right), arms, strict=True):
        far = np.hypot(x - at[0], y - at[1]) / arm
        cost += (far - (_HELD if holds else _HANDED)) ** 2 + 60 * np.maximum(far - 0.98, 0) ** 2
    cost += 0.2 * np.maximum(low + (0.7 if holds else 0.45) * unit - y, 0) / unit + 0.05 * np.abs(x - (left[0] + right[0]) / 2) / unit
    best = np.unravel_index(int(cost.argmin()), cost.shape)
    return np.array([x[best], y[best]])


def _as_layout(layout: Layout, held: Posture) -> Layout:
    """The layout of somebody who stands just so."""
    joints = tuple((float(x), float(y)) for x, y in held.joints)
    return replace(layout, skeleton=joints, measure=1.0, hands=held.hands, behind=held.behind, sway=0.0)
