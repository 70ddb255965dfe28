"""Where the things of a description stand in its picture: beside, behind, before or under its figures, or on each other."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from mosskeeper.core.illustrator.camera import Camera
from mosskeeper.core.illustrator.description import MOST_THINGS, Person, Standing
from mosskeeper.core.illustrator.objects.drawn_object import DrawnObject
from mosskeeper.core.illustrator.objects.table import OBJECTS
from mosskeeper.core.illustrator.scene_things import Thing
from mosskeeper.core.illustrator.skeleton import AT, Posture

_BACKWARD = 0.45  # how fast things shrink with their depth, as figures do
_BESIDE, _BEHIND, _FAR, _BEFORE, _DISTANT = 0.10, 0.60, 0.90, -0.12, 2.4  # depths
_BROAD = 1.9  # hh from which a thing stands farther back, so that it leaves room for the figure
_TRUNK = 0.75  # hh that a figure's body reaches beyond its joints
_STEPS = 25  # places that are tried across the picture
_PERCHED = 0.94, 0.62  # where no ground is seen: the share of the height at which a thing stands, and its size
_SEEN_FROM = 0.72  # share of the height above which the top of a thing must be, for it to be seen without ground
_OTHER = DrawnObject(lambda pen: None, 1.1, 1.2)  # props and companions of which only the drawing is known
_COST_FIGURE, _COST_THING, _COST_OUT, _COST_AWAY = 3.0, 4.0, 16.0, 0.35


@dataclass(frozen=True, slots=True)
class _Body:
    left: float  # px
    right: float
    middle: float
    ground: float
    scale: float


def placed(
    wanted: Sequence[Standing], people: Sequence[Person], held: Sequence[Posture], view: Camera, size: tuple[int, int]
) -> tuple[Thing, ...]:
    """Finds a place for each thing, in their order.

    Parameters
    ----------
    wanted : at most MOST_THINGS are placed. held : the postures of `people`. size : (width, height), px.

    Returns
    -------
    Things in the order of `wanted`.
    """
    return _Placing(people, held, view, size).all(wanted[:MOST_THINGS])


def sitters(wanted: Sequence[Standing]) -> set[int]:
    """Indices of figures under whom a seat stands."""
    return {one.of for one in wanted if one.where == "under" and row(one.name).seat}


def broad(wanted: Sequence[Standing]) -> bool:
    """Whether something needs so much room that the figure should stand aside and farther away."""
    return any(row(one.name).wide > _BROAD and row(one.name).stands == "ground" and one.where == "beside" for one in wanted)


def row(name: str) -> DrawnObject:
    """The row of a thing; a usual one for props and companions."""
    return OBJECTS.get(name, _OTHER)


class _Placing:
    def __init__(self, people: Sequence[Person], held: Sequence[Posture], view: Camera, size: tuple[int, int]) -> None:
        self.view, (self.w, self.h), self.held, self.people = view, size, held, people
        self.bodies = []
        for person, posture, spot in zip(people, held, view.spots, strict=True):
            x = posture.joints[:, 0] * spot.scale * person.layout.facing + spot.origin[0]
            reach = _TRUNK * spot.scale
            self.bodies.append(
                _Body(
                    float(x.min() - reach * 0.5),
                    float(x.max() + reach * 0.5),
                    float(np.median(x)),
                    float(spot.origin[1]),
                    float(spot.scale),
                )
            )
        near = max(self.bodies, key=lambda body: body.scale)
        self.scale, self.ground = near.scale, near.ground

    def all(self, wanted: Sequence[Standing]) -> tuple[Thing, ...]:
        out: list[Thing] = []
        for one in wanted:
            out.append(self._one(one, out))
        return tuple(out)

    def _one(self, one: Standing, others: list[Thing]) -> Thing:
        drawn = row(one.name)
        body = self.bodies[min(one.of, len(self.bodies) - 1)]
        if one.on is not None and one.on < len(others) and (top := row(others[one.on].name).top):
            return self._upon(one, others, top)
        if one.where == "under" and drawn.seat:
            return self._seat(one, drawn, body)
        depth = self._depth(one, drawn)
        away = 1 / (1 + _BACKWARD * depth)
        ground, scale = self.view.horizon + (self.ground - self.view.horizon) * away, self.scale * away
        seen = self.view.shows_ground or drawn.stands == "air" or ground - drawn.tall * scale < _SEEN_FROM * self.h
        if not seen:
            ground, scale = _PERCHED[0] * self.h, self.scale * _PERCHED[1]
        elif not self.view.shows_ground and drawn.stands == "air":
            ground = self.h
        x = self._free(one, drawn, scale, depth, body, others)
        half = drawn.wide * scale / 2
        hidden = any(x - half < other.right and x + half > other.left for other in self.bodies)
        facing = (1 if x <= body.middle else -1) * (-1 if hidden else 1)  # its head is where it is seen
        return Thing(one.name, (x, float(ground)), float(scale), facing, not seen, depth, one.colour)

    def _depth(self, one: Standing, drawn: DrawnObject) -> float:
        if not self.view.shows_ground and drawn.wide > _BROAD:
            return _DISTANT  # near somebody of whom only a bust is seen, it would be hidden
        if one.where == "before" or drawn.stands == "flat":
            return _BEFORE
        if drawn.stands == "far":
            return _FAR
        return _BEHIND if one.where == "behind" or drawn.wide > _BROAD or drawn.stands == "air" else _BESIDE

    def _free(self, one: Standing, drawn: DrawnObject, scale: float, depth: float, body: _Body, others: list[Thing]) -> float:
        """Where across the picture a thing hides least, is hidden least and is nearest to whom it belongs to; px."""
        half = drawn.wide * scale / 2
        hides = 0.35 if one.where in ("behind", "before") or depth >= _FAR else 1.0
        goal = (
            body.middle
            if one.where in ("before",)
            else body.middle + (half + _TRUNK * body.scale) * (1 if body.middle < self.w / 2 else -1)
        )

        def cost(x: float) -> float:
            left, right = x - half, x + half
            total = _COST_OUT * (max(-left, 0) + max(right - self.w, 0)) / self.w
            for other in self.bodies:
                total += (
                    hides
                    * _COST_FIGURE
                    * max(0.0, min(right, other.right) - max(left, other.left))
                    / min(2 * half, other.right - other.left)
                )
            for thing in others:
                reach = row(thing.name).wide * thing.scale / 2
                apart = 1.0 if abs(thing.depth - depth) < 0.3 else 0.4
                total += (
                    apart
                    * _COST_THING
                    * max(0.0, min(right, thing.foot[0] + reach) - max(left, thing.foot[0] - reach))
                    / (2 * min(half, reach))
                )
            return total + _COST_AWAY * abs(x - goal) / self.w

        return float(min(np.linspace(0.08, 0.92, _STEPS) * self.w, key=cost))

    def _upon(self, one: Standing, others: list[Thing], top: float) -> Thing:
        """On another thing, beside what stands there already."""
        base = others[one.on or 0]
        there = sum(
            thing.foot[1] < base.foot[1] and abs(thing.foot[0] - base.foot[0]) < row(base.name).wide * base.scale / 2 for thing in others
        )
        aside = (0.0, -0.28, 0.28, -0.14, 0.14)[there % 5] * row(base.name).wide * base.scale
        foot = base.foot[0] + aside, base.foot[1] - (top - 0.08) * base.scale
        return replace(base, name=one.name, foot=foot, colour=one.colour, depth=base.depth - 0.01, perch=False)

    def _seat(self, one: Standing, drawn: DrawnObject, body: _Body) -> Thing:
        """Under somebody who sits: as high as they sit."""
        n = min(one.of, len(self.bodies) - 1)
        hips = [self.held[n].joints[AT[name]] for name in ("right hip", "left hip")]
        x = (hips[0][0] + hips[1][0]) / 2 * self.people[n].layout.facing * body.scale + self.view.spots[n].origin[0]
        high = -(hips[0][1] + hips[1][1]) / 2 - 0.12
        scale = body.scale * max(high, 0.4) / drawn.seat
        return Thing(
            one.name,
            (float(x), body.ground),
            float(scale),
            self.people[n].layout.facing,
            False,
            self.people[n].layout.depth + 0.02,
            one.colour,
        )
