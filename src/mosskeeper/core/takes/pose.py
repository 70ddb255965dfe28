"""A pose cue: joints between the seed's own and the given ones, bone by bone. The method is ours."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.conditioning import EARLY, amount_of
from mosskeeper.core.illustrator import camera
from mosskeeper.core.illustrator.description import MOST_FIGURES, Description, Layout, Person
from mosskeeper.core.illustrator.skeleton import AT, JOINTS, between, given, mirrored, posture
from mosskeeper.core.illustrator.vocabulary.people import CHILDREN, body_of
from mosskeeper.core.illustrator.vocabulary.poses import POSES
from mosskeeper.core.posing.retarget import PosedBody, in_frame, retargeted
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Cue

F64 = NDArray[np.float64]
TAKES_HANDS = 0.5  # amount from which hands and the depth of limbs are the cue's
_BELOW_HEAD = [i for i, name in enumerate(JOINTS) if not name.endswith(("eye", "ear", "nose"))]


def posed_by(
    d: Description,
    cues: Sequence[Cue],
    readings: Mapping[str, Reading],
    steps: int,
    size: tuple[int, int],
    in_regions: Sequence[Cue] = (),
) -> Description:
    """A description with its figures moved by the pose cues that act, each by those that are bound to it.

    in_regions : of people in regions: a pose is taken on the own body, where the region has its person.
    """
    people = list(d.figures)
    acting = [(c, False) for c in cues] + [(c, True) for c in in_regions]
    for cue, stays in sorted((p for p in acting if p[0].acts and p[0].role == "pose"), key=lambda p: (p[0].picture or "", p[0].weight)):
        skeleton = skeleton_of(cue, readings)
        if skeleton is None or cue.figure >= len(people):
            continue
        person, amount = people[cue.figure], min(1.0, amount_of(cue, steps, EARLY))
        if cue.own_body or stays:
            own = retargeted(PosedBody(skeleton * size), body_of(person.subject, person.build, person.figure))
            skeleton = in_frame(own, _stands(person, size) if stays else skeleton, size).joints
        layout = posed(person.layout, person, skeleton, amount, size)
        if amount >= TAKES_HANDS:
            layout = replace(layout, hands=cue.hands or layout.hands, behind=tuple(cue.behind))
        people[cue.figure] = replace(person, layout=layout)
    return replace(d, layout=people[0].layout, others=tuple(people[1:]))


def held_by(cues: Sequence[Cue], readings: Mapping[str, Reading], steps: int) -> tuple[float, ...]:
    """For each figure, how much the poses that are bound to it hold where and how it stands, 0…1."""
    held = [0.0] * MOST_FIGURES
    for cue in cues:
        if cue.acts and cue.role == "pose" and skeleton_of(cue, readings) is not None:
            held[cue.figure] = max(held[cue.figure], min(1.0, amount_of(cue, steps, EARLY)))
    return tuple(held)


def _stands(person: Person, size: tuple[int, int]) -> F64:
    """(18, 2) joints, shares of width and height, of somebody whose place is given."""
    layout = person.layout
    assert layout.pinned is not None
    joints = posture(body_of(person.subject, person.build, person.figure), POSES[layout.pose], layout).joints * (layout.facing, 1)
    x, y, scale = layout.pinned
    return np.asarray((joints - joints[AT["neck"]]) * scale * size[1] / size + (x, y))


def skeleton_of(cue: Cue, readings: Mapping[str, Reading]) -> F64 | None:
    """(18, 2) joints of a pose cue, its own or those read in its picture; NaN where unseen, None where there are none."""
    if cue.skeleton is not None:
        found = np.array([(np.nan, np.nan) if joint is None else joint for joint in cue.skeleton], float)
    else:
        reading = readings.get(cue.picture or "")
        if reading is None or reading.joints is None:
            return None
        found = np.asarray(reading.joints, float)
    return found if np.isfinite(found).any() else None


def posed(layout: Layout, person: Person, skeleton: F64, amount: float, size: tuple[int, int]) -> Layout:
    """`layout` with its figure moved towards a skeleton.

    Parameters
    ----------
    skeleton : (18, 2) joints as shares of width and height; NaN where unseen.
    amount : 0 the seed's own pose … 1 the given one, place and size in the frame included.
    size : (width, height) px of the picture.
    """
    body = body_of(person.subject, person.build, person.figure)
    own = posture(body, POSES[layout.pose], layout)
    wanted = np.asarray(skeleton, float) * size
    aim = given(body, replace(own, behind=()), wanted)
    spot = camera.frame([camera.FramedFigure(own.joints, layout, person.subject in CHILDREN, head=body.head)], size).spots[0]
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
