"""The plan of a picture with regions: who stands where, decided before anything is drawn, and what of it does not fit."""

from __future__ import annotations

from collections.abc import Container, Sequence
from dataclasses import dataclass, replace
from typing import TypeVar

import numpy as np

from mosskeeper.core.boards.compose import centred_on
from mosskeeper.core.illustrator import camera
from mosskeeper.core.illustrator.description import Layout, Person
from mosskeeper.core.illustrator.scene import Scene, posture_of
from mosskeeper.core.regions.meeting import Met, hand_towards, meet
from mosskeeper.core.regions.roles import F32, Box, PlacedPerson, place_in
from mosskeeper.core.regions.standing import View, stand_cut, stand_whole
from mosskeeper.core.regions.words import Relation, relations

T = TypeVar("T", bound=tuple[float, ...])
_HALF = 0.5  # of the way, from which somebody stands as beside the one who comes
_FACE = 0.0625  # of the height: a smaller head shows no face
_LOW = ("kneeling", "crouching", "sitting", "bowing")  # poses that are not taken unless words name them
_CALM = ("standing", "facing", "hands behind back")  # where the seed's own leaves much of the region empty
_MUCH = 1.12
_CUT = ("half", "bust", "close")
_REACHES_DOWN = 0.88  # of the height
_BEYOND = 0.05  # of the height by which a figure may leave its region untold
_HAZE = 0.25  # depth of somebody on the horizon
_BEFORE = 1e-4  # of depth between two who stand on one line


@dataclass(frozen=True, slots=True, eq=False)
class PlannedPerson:
    """A person who is to stand in the picture.

    layout : as the seed has it. says : attributes that words name of this person. mask : (H, W) 0…1 of its region, None of the
    common words; `k` of `many` people of that region. strength : 0 at its usual place … 1 in its region. known : the common
    words name this person, too; one whom they do not name comes in by size.
    """

    subject: str
    build: str
    layout: Layout
    says: Container[str] = ()
    region: int | None = None
    mask: F32 | None = None
    k: int = 0
    many: int = 1
    strength: float = 1.0
    known: bool = True
    figure: str = "storybook"


@dataclass(frozen=True, slots=True, eq=False)
class Plan:
    """layouts : of the people. boxes : px that each covers. pairs : what they do with each other, by number."""

    size: tuple[int, int]
    layouts: tuple[Layout, ...]
    boxes: tuple[Box, ...]
    framing: str
    view: View
    pairs: tuple[Relation, ...] = ()
    met: tuple[Met, ...] = ()
    told: tuple[str, ...] = ()

    def staged(self, scene: Scene) -> Scene:
        """A scene of these people, of any size, with the place about them as the plan has it."""
        w, h = scene.size
        usual = Layout("standing", self.framing)
        whole = camera.frame([camera.FramedFigure(posture_of(Person(layout=usual)).joints, usual)], scene.size)
        view = replace(scene.camera, framing=self.framing, zoom=whole.zoom, centre=whole.centre, blur=whole.blur)
        if self.view.horizon is None:
            return replace(scene, camera=view)
        horizon = self.view.horizon * h / self.size[1]
        stands = tuple(
            (x0 / self.size[0], (0.55 * y1 + 0.45 * y0) / self.size[1], x1 / self.size[0], y1 / self.size[1])
            for x0, y0, x1, y1 in self.boxes
        )
        view = centred_on(replace(view, horizon=horizon), scene.description.place, horizon, (w, h))
        return replace(scene, camera=view, cleared=stands)


def plan(
    people: Sequence[PlannedPerson],
    size: tuple[int, int],
    framing: str | None,
    angle: str,
    words: Sequence[str] = (),
    common: str = "",
    held: View | None = None,
) -> Plan:
    """Who stands where.

    Parameters
    ----------
    people : in the order of their regions, which is from front to back.
    framing : that words name; None: nobody does. angle : of the camera.
    words, common : of the regions, by which people meet.
    held : the horizon and the eye as they are, while somebody drags a region.

    Somebody who is only coming in, in a weak region that alone names them, makes room as far as they are there.
    """
    whole = _planned(people, size, framing, angle, words, common, held)
    coming = [p.strength for p in people if not p.known and p.strength < 1]
    staying = [n for n, p in enumerate(people) if p.known or p.strength >= 1]
    if not coming or not staying:
        return whole
    without = _planned([people[n] for n in staying], size, framing, angle, [], "", held)
    return _between(without, whole, staying, min(coming))


def _between(first: Plan, last: Plan, staying: Sequence[int], share: float) -> Plan:
    """A plan on its way from that of those who are there anyway to that of all."""
    layouts, boxes = list(last.layouts), list(last.boxes)
    for k, n in enumerate(staying):
        near = last.layouts[n] if share >= _HALF else replace(first.layouts[k], depth=last.layouts[n].depth)
        a, b = first.layouts[k].pinned, last.layouts[n].pinned
        assert a is not None and b is not None
        layouts[n] = replace(near, pinned=_mixed(a, b, share))
        boxes[n] = _mixed(first.boxes[k], last.boxes[n], share)
    view = last.view
    if first.view.horizon is not None and last.view.horizon is not None:
        view = View(*_mixed((first.view.horizon, first.view.eye), (last.view.horizon, last.view.eye), share))
    framing = last.framing if share >= _HALF else first.framing
    return replace(last, layouts=tuple(layouts), boxes=tuple(boxes), view=view, framing=framing)


def _mixed(a: T, b: T, share: float) -> T:
    return tuple(x * (1 - share) + y * share for x, y in zip(a, b, strict=True))  # type: ignore[return-value]


def _planned(
    people: Sequence[PlannedPerson],
    size: tuple[int, int],
    framing: str | None,
    angle: str,
    words: Sequence[str],
    common: str,
    held: View | None,
) -> Plan:
    w, h = size
    roles, told = list[PlacedPerson](), list[str]()
    places = [place_in(p.mask, p.k, p.many, n, len(people), size, p.strength if p.known else 1.0) for n, p in enumerate(people)]
    broad = all(b[3] > _REACHES_DOWN * h and (b[3] - b[1]) / 6.4 < (b[2] - b[0]) / 3.4 for b, _ in places)
    cut = framing in _CUT or (framing is None and broad)
    seen = (framing if framing in ("bust", "close") else "half") if cut else "full"
    # to which side somebody turns is decided by where they end: nobody turns round while a strength rises
    ends = [place_in(p.mask, p.k, p.many, n, len(people), size)[1] for n, p in enumerate(people)]
    mean = float(np.mean(ends))
    for p, (box, middle), end in zip(people, places, ends, strict=True):
        facing = p.layout.facing if "turned" in p.says or len(people) == 1 else 1 if end <= mean else -1
        pose = p.layout.pose if "pose" in p.says or p.layout.pose not in _LOW else "standing"
        layout = replace(p.layout, framing=seen, facing=facing, pose=pose, pinned=None, shift=0.0, zoom=1.0, angle="level")
        role = PlacedPerson(
            Person(subject=p.subject, build=p.build, figure=p.figure), box, middle, p.region, p.says, 1.0 if p.known else p.strength
        )
        role.stands(layout)
        roles.append(role)
    subjects, regions, at = [p.subject for p in people], [p.region for p in people], [r.middle for r in roles]
    pairs = relations(words, common, subjects, regions, at)
    busy = {n for pair in pairs for n in (pair.who, pair.whom)}
    for n in busy:
        _faces(roles[n], next(roles[p.whom if n == p.who else p.who] for p in pairs if n in (p.who, p.whom)))
    for n, role in enumerate(roles):
        if n not in busy and "pose" not in role.says:
            _calmer(role)
    view = stand_cut(roles, size, seen, told, _name_of) if cut else stand_whole(roles, size, angle, pairs, told, _name_of, held)
    for role in roles:  # what is drawn lies about the region's middle, and in the picture
        role.centre = role.middle - (role.covers[0] + role.covers[2]) / 2 * role.scale
        lowest, highest = 3 - role.covers[0] * role.scale, w - 3 - role.covers[2] * role.scale
        role.centre = float(np.clip(role.centre, lowest, highest)) if lowest < highest else role.centre
    met = tuple(meet(roles, pair, size, told, _name_of) for pair in pairs if pair.kind != "looks")
    _tell(roles, size, cut, told)
    boxes = tuple(_covered(r) for r in roles)
    return Plan(size, tuple(_layouts(roles, view, size)), boxes, seen, view, tuple(pairs), met, tuple(told))


def _covered(r: PlacedPerson) -> Box:
    k = r.scale * r.presence
    return r.centre + r.covers[0] * k, r.foot - r.tall * k, r.centre + r.covers[2] * k, r.foot


def _name_of(role: PlacedPerson) -> str:
    subject = role.person.subject
    return f"The {subject} of the common words" if role.region is None else f"Region {chr(65 + role.region)} ({subject})"


def _faces(role: PlacedPerson, other: PlacedPerson) -> None:
    """Turns somebody to the one with whom something is done."""
    layout = role.person.layout
    pose = layout.pose if "pose" in role.says else "standing"
    role.stands(replace(layout, pose=pose, facing=1 if role.middle <= other.middle else -1, view="three-quarter", gaze="level"))


def _calmer(role: PlacedPerson) -> None:
    own = role.person.layout
    best = role.wish * _MUCH
    for pose in _CALM:
        role.stands(replace(own, pose=pose))
        if role.wish > best:
            return
    role.stands(own)


def _layouts(roles: Sequence[PlacedPerson], view: View, size: tuple[int, int]) -> list[Layout]:
    """The layouts with the places that were found, and how far back each stands."""
    (w, h), out = size, list[Layout]()
    nearest = max(r.foot for r in roles)
    for n, r in enumerate(roles):
        layout, scale = r.person.layout, r.scale * r.presence
        depth = _BEFORE * n
        if view.horizon is not None:
            away = (r.foot - view.horizon) / max(nearest - view.horizon, 1.0)
            depth += _HAZE * float(np.clip(1 - away, 0, 1))
        neck = posture_of(r.person).joint("neck")
        pinned = (float((r.centre + neck[0] * layout.facing * scale) / w), float((r.foot + neck[1] * scale) / h), float(scale / h))
        out.append(replace(layout, pinned=pinned, depth=float(depth)))
    return out


def _tell(roles: Sequence[PlacedPerson], size: tuple[int, int], cut: bool, told: list[str]) -> None:
    (w, h), floats = size, " ".join(told)
    for r in roles:
        left, right = r.sides
        if r.scale < _FACE * h:
            told.append(f"{_name_of(r)}: its head would be {r.scale:.0f} px: too small for a face, which needs {_FACE * h:.0f}.")
        over = max(r.box[0] - left, right - r.box[2], r.box[1] - r.top, 0 if cut else r.foot - r.box[3])
        if cut and r.region is not None:
            deep = (min(h, r.box[3]) - r.top) / r.scale
            told.append(
                f"{_name_of(r)} shows the figure from the head to the {'chest' if deep < 2.3 else 'waist' if deep < 3.5 else 'knees'}."
            )
        elif r.region is not None and over > _BEYOND * h and f"{_name_of(r)} floats" not in floats:
            high = r.box[1] - r.top == over
            told.append(
                f"{_name_of(r)} {'lies lower than somebody of that size stands' if high else 'cuts the figure'}: it reaches {over:.0f} px {'above' if high else 'beyond'} the region."
            )
        if left < -2 or right > w + 2 or r.top < -2:
            told.append(f"{_name_of(r)}: the picture's border cuts the figure.")


def hands_of(made: Plan) -> dict[int, tuple[str, str]]:
    """Who gives something: by number, what, and in which hand."""
    return {
        pair.who: (pair.thing, hand_towards(made.layouts[pair.who], made.boxes[pair.who][0] < made.boxes[pair.whom][0]))
        for pair in made.pairs
        if pair.kind == "gives" and pair.thing
    }
