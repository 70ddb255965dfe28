"""Where somebody stands, between where the words have it and where a board does."""

from __future__ import annotations

from collections.abc import Container
from dataclasses import dataclass, replace

import cv2
import numpy as np

from mosskeeper.core.boards.dressing import dressed
from mosskeeper.core.boards.extents import OUTLINE, extents, overlap
from mosskeeper.core.boards.seen import FigureOnBoard
from mosskeeper.core.boards.shapes import F64
from mosskeeper.core.illustrator.camera import Spot
from mosskeeper.core.illustrator.description import Layout, Person
from mosskeeper.core.illustrator.scene import Scene, posture_of
from mosskeeper.core.illustrator.skeleton import AT, Head, Posture, given, head_joints, measure_of, mirrored, posture
from mosskeeper.core.illustrator.skeleton import between as bones_between
from mosskeeper.core.illustrator.vocabulary.people import body_of
from mosskeeper.core.illustrator.vocabulary.poses import POSES, Pose

_BELOW_HEAD = list(range(1, 14))
_POSES = ("facing", "standing", "hands on hips", "arms wide")  # that a blob without limbs may be
_ARMS_AWAY = tuple(Pose((a, a - 8), (a, a - 8), (5, 2), (7, 3), turn=0.1) for a in (26, 36, 48))  # as wide as a coat that widens
_SQUAT = 1.7  # height over width, below which a blob may sit
_AS_WIDE = 0.7  # what a like width counts beside a like outline
_BETTER = 0.04  # of outlines' overlap, from which another posture is taken
_TURNED = {"right arm": "left arm", "left arm": "right arm", "right leg": "left leg", "left leg": "right leg"}


@dataclass(frozen=True, slots=True, eq=False)
class FigureStance:
    person: Person
    held: Posture
    spot: Spot


def standing(scene: Scene, n: int) -> FigureStance:
    return FigureStance(scene.description.figures[n], scene.postures[n], scene.camera.spots[n])


def placed(
    own: FigureStance, seen: FigureOnBoard, k: float, weight: float, soft: float, said: Container[str], held: float = 0.0
) -> FigureStance:
    """A figure on its way to the board's.

    Parameters
    ----------
    k : px of the picture in one px of the board's reading.
    weight, soft : share by which places, and by which colours go over.
    said : attributes that words name.
    held : share by which a pose holds place, size and joints: the board moves them by as much less.
    """
    person, facing = dressed(own.person, seen, weight, soft, said), own.person.layout.facing
    mine, first = own.held, own.held.joint("neck") * (facing, 1)
    if seen.joints is not None:
        if facing < 0:
            mine, facing, person = unmirrored(mine), 1, replace(person, layout=replace(person.layout, facing=1))
        goal, scale, at = _on_sticks(person, mine, seen, k)
    else:
        # the size that the whole figure will have: what names change on the way must not move it
        last = dressed(own.person, seen, 1.0, 1.0, said)
        goal = mine if "pose" in said or seen.cut else _likeliest(last, mine, seen)
        scale, at = _fitted(last, goal, seen, k)
    weight *= 1 - held
    aim = mine if goal is mine else between(person, mine, goal, weight)
    neck0, neck1 = own.spot.origin + first * own.spot.scale, at + goal.joint("neck") * (facing, 1) * scale
    size = float(own.spot.scale ** (1 - weight) * scale**weight)  # each step of the dial zooms by the same factor
    origin = neck0 * (1 - weight) + neck1 * weight - aim.joint("neck") * (facing, 1) * size
    return FigureStance(person, aim, Spot(size, origin))


def _on_sticks(person: Person, mine: Posture, seen: FigureOnBoard, k: float) -> tuple[Posture, float, F64]:
    """The posture of a stick figure, its size and origin by least squares."""
    assert seen.joints is not None
    wanted = seen.joints * k
    body = body_of(person.subject, person.build, person.figure)
    # in the measure of the body, not of the pose that it leaves, in which limbs may be foreshortened
    goal = given(body, replace(mine, behind=()), wanted, measure_of(wanted, posture(body, POSES["facing"], Layout(pose="facing")).joints))
    up = np.array(seen.head[:2]) - seen.joints[AT["neck"]]
    tilt = float(np.clip(np.arctan2(up[0], -up[1]), -0.5, 0.5))
    head = replace(goal.head, tilt=tilt, profile=0, turn=float(np.clip(goal.head.turn, -0.7, 0.7)))
    goal = _with_head(person, replace(goal, head=head))
    known = [i for i in _BELOW_HEAD if np.isfinite(wanted[i]).all()]
    a, b = goal.joints[known] - goal.joints[known].mean(0), wanted[known] - wanted[known].mean(0)
    scale = float(max((a * b).sum() / max((a * a).sum(), 1e-9), 1e-3))
    return goal, scale, wanted[known].mean(0) - goal.joints[known].mean(0) * scale


def unmirrored(p: Posture) -> Posture:
    """The posture that is seen when a mirrored figure is drawn unmirrored."""
    head = Head(-p.head.tilt, -p.head.turn, p.head.nod, -p.head.profile)
    behind = tuple(_TURNED[limb] for limb in p.behind)
    return replace(p, joints=mirrored(p.joints * (-1, 1)), head=head, hands=p.hands[::-1], behind=behind)


def between(person: Person, a: Posture, b: Posture, weight: float) -> Posture:
    """The posture between two, bone by bone."""
    near, w = a if weight < 0.5 else b, weight
    head = Head(
        a.head.tilt * (1 - w) + b.head.tilt * w,
        a.head.turn * (1 - w) + b.head.turn * w,
        a.head.nod * (1 - w) + b.head.nod * w,
        near.head.profile,
    )
    joints = bones_between(a.joints, b.joints, w)
    return _with_head(person, replace(near, joints=joints, head=head))


def _with_head(person: Person, p: Posture) -> Posture:
    joints = p.joints.copy()
    for name, place in head_joints(joints[AT["neck"]], body_of(person.subject, person.build, person.figure), p.head).items():
        joints[AT[name]] = place
    return replace(p, joints=joints)


def _likeliest(person: Person, mine: Posture, seen: FigureOnBoard) -> Posture:
    """Of the words' own posture and a few plain ones, the one whose outline fills the blob best."""
    x0, y0, x1, y1 = (int(v) for v in seen.box)
    wide = max(4, round(OUTLINE * (x1 - x0) / (y1 - y0)))
    blob = cv2.resize(seen.mask[y0:y1, x0:x1].astype(np.float32), (wide, OUTLINE), interpolation=cv2.INTER_AREA) > 0.5
    squat = y1 - y0 < _SQUAT * (x1 - x0)
    named = [posture_of(replace(person, layout=replace(person.layout, pose=p, skeleton=None))) for p in (*_POSES, *["sitting"] * squat)]
    body, layout = body_of(person.subject, person.build, person.figure), replace(person.layout, skeleton=None)
    away = [] if person.prop != "nothing" else [posture(body, pose, layout) for pose in _ARMS_AWAY]

    def fills(held: Posture) -> float:
        outline = extents.of(person, held).outline
        widths = sorted((outline.shape[1], blob.shape[1]))
        return float(overlap(outline, blob) + _AS_WIDE * widths[0] / widths[1])

    best, most = mine, -1.0 if mine.seated and not squat else fills(mine) + _BETTER
    for other in (*named, *away):
        score = fills(other)
        if score > most:
            best, most = other, score
    return best


def _fitted(person: Person, held: Posture, seen: FigureOnBoard, k: float) -> tuple[float, F64]:
    """Size and origin with which the drawn figure fills the blob; one that the border cuts is fitted by its head."""
    extent = extents.of(person, held)
    body, head = extent.body, extent.head
    if person.layout.facing < 0:
        body, head = (np.array([-box[2], box[1], -box[0], box[3]]) for box in (body, head))
    x0, y0, x1, y1 = np.array(seen.box) * k
    if not seen.cut:
        scale = (y1 - y0) / (body[3] - body[1])
        x = 0.5 * (seen.head[0] * k - (head[0] + head[2]) / 2 * scale) + 0.5 * ((x0 + x1) / 2 - (body[0] + body[2]) / 2 * scale)
        return float(scale), np.array([x, y1 - body[3] * scale])
    x, y, high = np.array(seen.head) * k
    scale = high / (head[3] - head[1])
    return float(scale), np.array([x - (head[0] + head[2]) / 2 * scale, y + high / 2 - head[3] * scale])
