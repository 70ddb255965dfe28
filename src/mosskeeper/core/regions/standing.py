"""Where everyone stands: one horizon and one height of the eye for all, so that those at one depth are of one scale.

Size and lower border of each box give a wish; horizon and eye (foot = horizon + eye · head height) are fitted to all of them by
least squares, held near to where a picture usually has them.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from mosskeeper.core.regions.roles import PlacedPerson
from mosskeeper.core.regions.words import Relation

_SAME_DEPTH = 0.07  # of the height: lower borders this near stand at one depth
_OUTLIER = 0.74  # a figure that much smaller than the others of its depth goes farther back
_HORIZONS = {"level": 0.52, "above": 0.30, "below": 0.74}
_USUAL_FOOT, _USUAL_HEAD = 0.925, 0.143  # of the height, of a whole figure
_DEEP = {"half": 3.1, "bust": 2.0, "close": 1.6}  # hh of a cut figure that are seen
_OVERLAPS = 0.12  # of the narrower box, from which who is in front must not be the smaller one

Named = Callable[[PlacedPerson], str]


@dataclass(frozen=True, slots=True)
class View:
    """horizon : px from the top; None: where the place has it, of cut figures. eye : hh of the camera above the ground."""

    horizon: float | None
    eye: float


def stand_whole(
    roles: Sequence[PlacedPerson],
    size: tuple[int, int],
    angle: str,
    pairs: Sequence[Relation],
    told: list[str],
    name: Named,
    held: View | None,
) -> View:
    """Sets scale and foot of figures that are seen whole. held : the view while somebody drags. Adds to `told`."""
    h, own = size[1], list[float]()
    groups = depths(roles, h)
    view = held or _perspective(roles, groups, h, angle)
    assert view.horizon is not None
    hz, eye = view.horizon, view.eye
    for r in roles:
        (_, y0, _, y1), limits = r.box, [r.wish]
        if y1 < hz + 0.6 * limits[0] * eye:
            at = hz + eye * limits[0]
            told.append(
                f"{name(r)} floats above the ground: move it down {at - y1:.0f} px? Its feet stand at {100 * at / h:.0f} % of the height."
            )
        else:
            limits.append(1.03 * (y1 - hz) / eye)
            if r.tall > eye and y0 < hz:
                limits.append(max(1.03 * (hz - y0) / (r.tall - eye), 0.3 * limits[0]))
        own.append(min(limits))
    sizes, back = _levelled(roles, groups, own)
    for r, scale in zip(roles, sizes, strict=True):
        r.scale = scale
    told += [f"{name(roles[i])} leaves less room than the others beside it: its figure stands farther back." for i in back]
    for pair in pairs:  # hands can only meet at one depth
        roles[pair.who].scale = roles[pair.whom].scale = min(roles[pair.who].scale, roles[pair.whom].scale)
    for i, front in enumerate(roles):  # who is before somebody stands no farther away
        for behind in roles[i + 1 :]:
            over = min(front.box[2], behind.box[2]) - max(front.box[0], behind.box[0])
            if over > _OVERLAPS * min(front.box[2] - front.box[0], behind.box[2] - behind.box[0]) and front.scale < behind.scale:
                behind.scale = front.scale
    for r in roles:
        r.foot = hz + eye * r.scale
    return view


def stand_cut(roles: Sequence[PlacedPerson], size: tuple[int, int], framing: str, told: list[str], name: Named) -> View:
    """Sets scale and foot of figures that the lower border cuts: heads of one size, one ground below the frame."""
    h, deep = size[1], _DEEP.get(framing, 3.1)
    own = [min((r.box[3] - r.box[1]) / deep, 1.12 * (r.box[2] - r.box[0]) / (r.wide if framing == "half" else 1.9)) for r in roles]
    middle = float(np.median(own))
    together = min((v for v in own if v >= _OUTLIER * middle), default=middle)
    for r, s in zip(roles, own, strict=True):
        r.scale = together if s >= _OUTLIER * middle else s
    tallest = max(roles, key=lambda r: r.tall * r.scale)
    ground = max(tallest.box[1] + tallest.tall * tallest.scale + 0.02 * h, 1.02 * h)
    for r in roles:
        r.foot, top, low = ground, ground - r.tall * r.scale, min(r.box[3], h) - 1.5 * r.scale
        if top > low or top < r.box[1] - 0.06 * h:
            r.foot = max(float(np.clip(top, r.box[1], max(low, r.box[1]))) + r.tall * r.scale, 1.01 * h)
            told.append(
                f"{name(r)}: the figure stands {'higher' if r.foot < ground else 'lower'} than the others so that its head is in its region."
            )
    return View(None, 2.83)


def depths(roles: Sequence[PlacedPerson], h: int) -> list[list[int]]:
    """Groups that stand at one depth, by the lower borders of their boxes, the nearest first."""
    groups: list[list[int]] = []
    for i in sorted(range(len(roles)), key=lambda i: -roles[i].box[3]):
        near = bool(groups) and roles[groups[-1][-1]].box[3] - roles[i].box[3] < _SAME_DEPTH * h
        groups = [*groups[:-1], [*groups[-1], i]] if near else [*groups, [i]]
    return groups


def _levelled(roles: Sequence[PlacedPerson], groups: Sequence[Sequence[int]], sizes: Sequence[float]) -> tuple[list[float], list[int]]:
    """One size for all who stand at one depth: the smallest, but for those whose boxes leave much less than the others'; these."""
    out, back = list(sizes), list[int]()
    for group in groups:
        away = [i for i in group if sizes[i] < _OUTLIER * np.median([sizes[j] for j in group])]
        back += away
        for i in set(group) - set(away):
            out[i] = min(sizes[j] for j in group if j not in away)
    return out, back


def _perspective(roles: Sequence[PlacedPerson], groups: Sequence[Sequence[int]], h: int, angle: str) -> View:
    h0 = _HORIZONS[angle]
    e0 = (_USUAL_FOOT - h0) / _USUAL_HEAD
    sizes, back = _levelled(roles, groups, [r.wish for r in roles])
    wish = np.array([(sizes[i] / h, roles[i].box[3] / h) for i in range(len(roles)) if i not in back and roles[i].box[3] > h0 * h])
    if not len(wish):
        return View(h0 * h, e0)
    s, f = wish.T
    a = np.array([[len(s) + 0.3, s.sum()], [s.sum(), (s * s).sum() + 0.002]])
    hz, _ = np.linalg.solve(a, np.array([f.sum() + 0.3 * h0, (f * s).sum() + 0.002 * e0]))
    hz = float(np.clip(hz, h0 - 0.14, h0 + 0.08))
    return View(hz * h, float(np.clip(((f - hz) * s).sum() / (s * s).sum(), 1.7, 5.2)))
