"""The first guess at a scene: what the reader says, as it says it."""

from __future__ import annotations

from dataclasses import fields, replace
from typing import Any

import numpy as np

from mosskeeper.core.illustrator.camera import Camera, Spot
from mosskeeper.core.illustrator.description import MOST_FIGURES, Description, Person
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.illustrator.shapes import Points, point
from mosskeeper.core.illustrator.skeleton import AT, Head, Posture, given, head_joints, posture
from mosskeeper.core.illustrator.vocabulary.people import Proportions, body_of
from mosskeeper.core.illustrator.vocabulary.poses import POSES
from mosskeeper.core.reading.classes import UNKNOWN
from mosskeeper.core.reading.reading import Attributes, FigureRead, Reading, Rgb
from mosskeeper.core.traits import OF_FIGURE, OF_PLACE, TRAITS, USUAL_WORN

_NAMED = tuple(
    trait for trait in TRAITS if trait.carrier in ("person", "clothes", "moment") and trait.kind == "name" and trait.name != "companion"
)
_SWITCHES = tuple(trait for trait in OF_FIGURE if trait.kind == "switch")
_TONES = tuple(trait for trait in OF_FIGURE if trait.kind == "tone")
_CLOTH = (("colour_a", "colour"), ("colour_b", "trim"))
_PROP_SURE = 0.6  # confidence from which something is taken to be held or worn
_FEW = 3  # joints without which a skeleton says nothing
_ZOOMS = {"full": 1.0, "half": 1.3, "bust": 1.75}
_HORIZON = 0.52  # of the height, where nothing says more
_PERSON = tuple(f.name for f in fields(Person) if f.name != "layout")


def first_guess(reading: Reading, size: tuple[int, int]) -> Scene | None:
    """The scene as the reader tells it; None where nobody's head was found. The main figure is the first."""
    main = reading.main
    if main is None or main.head is None:
        return None
    seen = [main, *(f for f in reading.figures[1:] if f.head is not None)][:MOST_FIGURES]
    people, postures, spots, framings = [], list[Posture](), list[Spot](), list[str]()
    for n, figure in enumerate(seen):
        attributes = {**reading.attributes, **figure.attributes} if n == 0 else figure.attributes
        person = _person(figure, attributes)
        # of the main figure the picture's own joints, which an artist may have placed by hand
        joints = reading.joints if n == 0 and reading.joints is not None else figure.sure_joints
        held, spot, framing = _standing(person, figure, attributes, joints * size, size)
        people.append(replace(person, layout=replace(person.layout, framing=framing, hand="left", depth=_depth(spot, spots))))
        postures.append(held)
        spots.append(spot)
        framings.append(framing)
    first = people[0]
    named: dict[str, Any] = {a: value for a in OF_PLACE if (value := _top(reading.attributes, a)) not in (None, UNKNOWN)}
    finish = _top(reading.attributes, "finish")
    d = Description(
        **{name: getattr(first, name) for name in _PERSON},
        layout=first.layout,
        others=tuple(people[1:]),
        finish=("gouache" if finish in (None, UNKNOWN) else str(finish),),
        **named,
    )
    framing = framings[0]
    view = Camera(framing, "level", _ZOOMS[framing], (0.5, 0.55), float(framing != "full"), _HORIZON * size[1], tuple(spots))
    return Scene(d, size, view, tuple(postures))


def _depth(spot: Spot, before: list[Spot]) -> float:
    """How far behind the first figure somebody stands whose head is smaller."""
    return float(np.clip((before[0].scale / spot.scale - 1) / 0.45, 0, 1)) if before else 0.0


def _top(attributes: Attributes, name: str) -> str | None:
    told = attributes.get(name) or {}
    return max(told, key=lambda value: told[value]) if told else None


def _person(figure: FigureRead, attributes: Attributes) -> Person:
    named: dict[str, Any] = {}
    for trait in _NAMED:
        value = _top(attributes, trait.name)
        if value is not None and (trait.name != "prop" or attributes[trait.name][value] > _PROP_SURE):
            named[trait.field] = value
    named |= {trait.field: hexadecimal(figure.colours[trait.name]) for trait in _TONES if trait.name in figure.colours}
    named |= {trait.field: _top(attributes, trait.name) == "yes" for trait in _SWITCHES}
    named |= {name: tuple(map(float, figure.colours[a])) for name, a in _CLOTH if a in figure.colours}
    if figure.face is not None:
        named["face"] = figure.face
    return Person(
        **named,
        worn=tuple(t for t in USUAL_WORN if attributes.get(t, {}).get("yes", 0) > _PROP_SURE),
    )


def _standing(
    person: Person, figure: FigureRead, attributes: Attributes, skeleton: Points, size: tuple[int, int]
) -> tuple[Posture, Spot, str]:
    """Posture, place and framing of one figure: the head as it was read, the joints of `skeleton` (px, NaN where unseen), the rest as
    the pose has it."""
    assert figure.head is not None
    w, h = size
    body, (hx, hy, high), (turn, nod, tilt) = (
        body_of(person.subject, person.build, person.figure),
        figure.head,
        figure.held or (0.0, 0.0, 0.0),
    )
    side = 0 if _top(attributes, "view") != "profile" else 1 if turn > 0 else -1
    head, scale = Head(tilt, float(side or turn), nod, side), high * h
    usual = posture(body, POSES[_top(attributes, "pose") or "standing"], person.layout)
    known = np.isfinite(skeleton[:, 0]) & (np.arange(18) >= 1) & (np.arange(18) < 14)
    held = given(body, usual, skeleton) if known.sum() >= _FEW else usual
    joints, neck = held.joints.copy(), held.joint("neck")
    if known.sum() >= _FEW:  # the figure's own proportions, in its own head heights
        spread = np.square(joints[known] - joints[known].mean(0)).sum()
        k = np.sqrt(np.square(skeleton[known] - skeleton[known].mean(0)).sum() / max(spread, 1e-6))
        joints = neck + (joints - neck) * np.clip(k / scale, 0.6, 1.6)
    held = replace(held, joints=with_head(joints, neck, body, head), head=head)
    origin = np.array([hx * w, hy * h]) - (neck + up(tilt) * body.neck) * scale
    hips = float(origin[1] + joints[8:12, 1].min() * scale)
    framing = "full" if origin[1] < 1.04 * h else "half" if hips < 1.1 * h else "bust"
    return held, Spot(float(scale), origin), framing


def up(tilt: float) -> Points:
    """The direction from the neck to the middle of a head."""
    return point(float(np.sin(tilt)), float(-np.cos(tilt)))


def with_head(joints: Points, neck: Points, body: Proportions, head: Head) -> Points:
    """Joints (18, 2) with those of the head as `head` holds it; in place."""
    for name, at in head_joints(neck, body, head).items():
        joints[AT[name]] = at
    return joints


def hexadecimal(rgb: Rgb) -> str:
    return "#" + "".join(f"{int(np.clip(round(float(c) * 255), 0, 255)):02x}" for c in rgb)
