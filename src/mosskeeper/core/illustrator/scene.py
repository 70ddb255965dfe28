"""A scene: everything that a drawing needs, so that drawing it gives the same bytes.

A description says what is to be seen; a scene adds where all of it stands: camera and postures, which are held when
something else is changed, things that stand by themselves, who was taken away, and a light of its own.
"""

from __future__ import annotations

import json
from dataclasses import dataclass, replace
from functools import cache
from typing import Any

import numpy as np
from pydantic import TypeAdapter, ValidationError

from mosskeeper.core.illustrator import camera, hair, headwear, props
from mosskeeper.core.illustrator.camera import Camera, Spot
from mosskeeper.core.illustrator.description import MOST_FIGURES, MOST_THINGS, Description, Person, Rgb
from mosskeeper.core.illustrator.places import place_called
from mosskeeper.core.illustrator.placing import placed, sitters
from mosskeeper.core.illustrator.scene_things import Thing as Thing
from mosskeeper.core.illustrator.skeleton import AT, Posture, posture
from mosskeeper.core.illustrator.vocabulary.light import Light
from mosskeeper.core.illustrator.vocabulary.people import CHILDREN, Expression, Proportions, body_of
from mosskeeper.core.illustrator.vocabulary.poses import POSES

VERSION = 1  # of the document
ILLUSTRATOR = 1  # raised whenever the same scene is drawn otherwise than before
_EARS = [AT["right ear"], AT["left ear"]]
_OF_HEAD = [AT[n] for n in ("nose", "right eye", "left eye", "right ear", "left ear")]
_PERSON = tuple(Person.__dataclass_fields__)


@dataclass(frozen=True, slots=True)
class Disc:
    """A sun or a moon, in place of the one that the place would have."""

    at: tuple[float, float]  # px
    radius: float  # px
    colour: Rgb
    glow: float = 0.62  # strength of its light on what is about it
    alpha: float = 1.0  # below, it is only coming


@dataclass(frozen=True, slots=True)
class Rough:
    """A shape that was roughed out on a board, painted as what it stands for."""

    kind: str  # tree, trunk, cloud, hill, water, window, light, thing
    outline: tuple[tuple[float, float], ...]  # shares of width and height
    colour: Rgb
    foot: tuple[float, float]  # the place that it grows from, shares
    grown: float = 1.0  # 0 not there … 1 as it was roughed out


@dataclass(frozen=True, slots=True)
class Mixed:
    """Between two persons: what no name stands for."""

    expression: Expression
    body: Proportions


@dataclass(frozen=True, slots=True)
class Scene:
    """What a picture is drawn from. Places are in pixels of a picture of `size`."""

    description: Description
    size: tuple[int, int]  # width, height
    camera: Camera
    postures: tuple[Posture, ...]  # of the figures, in their order
    things: tuple[Thing, ...] = ()
    absent: frozenset[int] = frozenset()  # indices of figures that were taken away
    light: Light | None = None  # in place of the one that time, light and weather name
    wind: float | None = None  # 0…1, in place of the weather's
    disc: Disc | None = None
    farther: tuple[str, float] | None = None  # another place, and the depth from which it is seen instead
    mixed: tuple[Mixed | None, ...] = ()  # of the figures, in their order; in place of what their names say
    roughs: tuple[Rough, ...] = ()
    ground: tuple[Rgb, ...] = ()  # of open country, from far to near
    cleared: tuple[tuple[float, float, float, float], ...] = ()  # boxes, shares, of people for whom the place makes room
    rendered: float = 1.0  # of its size at which it is drawn before it is brought to that

    def __post_init__(self) -> None:
        figures = len(self.description.figures)
        if figures > MOST_FIGURES:
            raise ValueError(f"a drawing has at most {MOST_FIGURES} figures, not {figures}")
        if len(self.things) > MOST_THINGS:
            raise ValueError(f"a drawing has at most {MOST_THINGS} things that stand by themselves, not {len(self.things)}")
        if self.mixed and len(self.mixed) != figures:
            raise ValueError("each figure of a scene is between two or none is")
        if not figures == len(self.postures) == len(self.camera.spots):
            raise ValueError("each figure of a scene needs a posture and a spot")

    def with_person(self, n: int, person: Person, held: Posture | None = None) -> Scene:
        """The scene with figure `n` exchanged, and its posture where one is given."""
        d, others, postures = self.description, list(self.description.others), list(self.postures)
        if n == 0:
            d = replace(d, **{name: getattr(person, name) for name in _PERSON})
        else:
            others[n - 1] = person
        postures[n] = held or postures[n]
        return replace(self, description=replace(d, others=tuple(others)), postures=tuple(postures))

    @property
    def floor(self) -> float:
        """px from the top from which down somebody can stand in the place."""
        return self._row(place_called(self.description.place).floor)

    def _row(self, y: float) -> float:
        (w, h), view = self.size, self.camera
        return (y - view.centre[1]) * view.zoom * max(w, h / 1.25) + h / 2

    def resized(self, k: float) -> Scene:
        """The scene of a picture `k` times as large, each side at least 32 px."""
        if k == 1:
            return self
        spots = tuple(Spot(s.scale * k, s.origin * k) for s in self.camera.spots)
        things = tuple(replace(t, foot=(t.foot[0] * k, t.foot[1] * k), scale=t.scale * k) for t in self.things)
        size = (max(32, round(self.size[0] * k)), max(32, round(self.size[1] * k)))
        view = replace(self.camera, spots=spots, horizon=self.camera.horizon * k)
        disc = None if self.disc is None else replace(self.disc, at=(self.disc.at[0] * k, self.disc.at[1] * k), radius=self.disc.radius * k)
        return replace(self, size=size, camera=view, things=things, disc=disc)

    def to_json(self) -> dict[str, Any]:
        """The scene as a document that JSON can hold; `from_json` gives it back bit for bit."""
        body: dict[str, Any] = json.loads(json.dumps(_adapter().dump_python(self, mode="json")))
        return {"version": VERSION, "illustrator": ILLUSTRATOR, **body}

    @staticmethod
    def from_json(document: dict[str, Any]) -> Scene:
        """The scene of a document.

        Raises
        ------
        ValueError
            where it is none, or of a version that is not known here.
        """
        if document.get("version") != VERSION:
            raise ValueError(f"a scene of version {document.get('version')!r} is not known here")
        try:
            return _adapter().validate_python({k: v for k, v in document.items() if k not in ("version", "illustrator")})
        except ValidationError as e:
            raise ValueError(f"this is no scene: {e.errors()[0]['msg']}") from None


@cache
def _adapter() -> TypeAdapter[Scene]:
    return TypeAdapter(Scene)


def scene_of(description: Description, size: tuple[int, int], rendered: float = 1.0) -> Scene:
    """The scene of a description in a picture of `size`: postures and camera as its layouts say.

    Raises
    ------
    KeyError
        where the description names something that no vocabulary has.
    ValueError
        where it has more than MOST_FIGURES figures, or a skeleton of another shape than (18, 2).
    """
    if len(description.figures) > MOST_FIGURES:
        raise ValueError(f"a drawing has at most {MOST_FIGURES} figures, not {len(description.figures)}")
    held = tuple(posture_of(person) for person in description.figures)
    view = camera.frame([_posed(person, one) for person, one in zip(description.figures, held, strict=True)], size)
    things = placed(description.things, description.figures, held, view, size)
    seated = sitters(description.things)
    held = tuple(replace(one, seated=False) if n in seated else one for n, one in enumerate(held))
    return Scene(description, size, view, held, things, rendered=rendered)


def posture_of(person: Person) -> Posture:
    """How a person stands, with the arms as what they hold needs them."""
    return props.held_with(person, posture(body_of(person.subject, person.build, person.figure), POSES[person.layout.pose], person.layout))


def _posed(person: Person, held: Posture) -> camera.FramedFigure:
    return camera.FramedFigure(
        held.joints,
        person.layout,
        person.subject in CHILDREN,
        headroom=max(props.HEADROOM.get(name, 0.0) for name in (person.prop, person.second_prop)),
        crown=max(hair.CROWN.get(person.hair, 0.0), headwear.CROWN.get(person.headwear, 0.0)),
        head=body_of(person.subject, person.build, person.figure).head,
        grip=props.grip(person, held),
    )


def reposed(scene: Scene, n: int, person: Person) -> Scene:
    """The scene with another body or pose of figure `n`: its feet stay where they are seen, else its head does."""
    fresh, spots, move = posture_of(person), list(scene.camera.spots), np.zeros(2)
    if not scene.camera.shows_ground:
        move = (scene.postures[n].joints[_EARS].mean(0) - fresh.joints[_EARS].mean(0)) * (person.layout.facing, 1) * spots[n].scale
    spots[n] = replace(spots[n], origin=spots[n].origin + move)
    return replace(scene.with_person(n, person, fresh), camera=replace(scene.camera, spots=tuple(spots)))


def head_turned(person: Person, held: Posture) -> Posture:
    """The posture with the head as the person's layout has it, the rest as it was."""
    usual = posture(body_of(person.subject, person.build, person.figure), POSES[person.layout.pose], person.layout)
    joints = held.joints.copy()
    joints[_OF_HEAD] = usual.joints[_OF_HEAD] - usual.joint("neck") + held.joint("neck")
    return replace(held, joints=joints, head=usual.head)
