"""Interpolation between two scenes on one composition: denoise strength without double exposure.

Every point of the way is one coherent drawing. Numbers go over gradually (faces, bodies, colours, light, joints), names
one after the other, small things first, a place from far to near.
"""

from __future__ import annotations

import json
from collections import OrderedDict
from dataclasses import astuple, dataclass, fields, replace
from threading import Lock
from typing import Any

import numpy as np
from numpy.typing import ArrayLike

from mosskeeper.core.illustrator.camera import Spot
from mosskeeper.core.illustrator.description import Description, Face, Person, Rgb
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.scene import Mixed, Scene, reposed
from mosskeeper.core.illustrator.vocabulary.colours import EYE_COLOURS, HAIR_COLOURS, SKINS, named
from mosskeeper.core.illustrator.vocabulary.light import Light, light_of
from mosskeeper.core.illustrator.vocabulary.people import Expression, Proportions, body_of, expression_of
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab
from mosskeeper.core.traits import SIZES, TRAITS

# Names that go over together, in the order in which they do.
_STEPS = tuple(
    tuple(dict.fromkeys(name for trait in TRAITS if trait.order == order for name in trait.fields if name not in SIZES))
    for order in sorted({trait.order for trait in TRAITS if trait.order})
)
_OF_PICTURE = ("weather", "companion")
_PLACE = ("place",)
_PLACES = 6  # steps in which a place goes over to another, each a like part of the picture
_TONES: dict[str, dict[str, Any]] = {"skin": SKINS, "eyes": EYE_COLOURS, "hair_colour": HAIR_COLOURS}
_NUMBERS = (*SIZES, "prop_size", "lids", "look")
_HALF = 0.5  # of the way, from which things that came stand, and who was taken away is gone
_SMALL = 0.25  # of its size at which the way is measured
_SUDDEN = 5e-3  # of the way: shorter is one step, of which the nearer side is taken


@dataclass(frozen=True, slots=True, eq=False)
class Way:
    first: Scene
    last: Scene
    steps: tuple[tuple[int, tuple[str, ...]], ...]  # figure (−1 the picture), names that go over there
    depths: tuple[float, ...] = ()  # from which the new place is seen, in turn

    def at(self, t: float) -> Scene:
        """The scene at `t`, 0 the first … 1 the last."""
        if t <= 0 or t >= 1:
            return self.first if t <= 0 else self.last
        a, b = self.first, self.last
        done = [step for k, step in enumerate(self.steps) if t >= (k + 0.5) / len(self.steps)]
        placed = sum(names == _PLACE for _, names in done)
        scene, mixed = a, []
        for n, (p, q) in enumerate(zip(a.description.figures, b.description.figures, strict=True)):
            changes: dict[str, Any] = {name: getattr(q, name) for k, names in done if k == n for name in names}
            changes |= {name: _tone(table, getattr(p, name), getattr(q, name), t) for name, table in _TONES.items()}
            changes |= {name: _mixed_rgb(getattr(p, name), getattr(q, name), t) for name in ("colour_a", "colour_b")}
            changes |= {name: _lerp(getattr(p, name), getattr(q, name), t) for name in _NUMBERS}
            changes["face"] = Face.from_array(p.face.as_array() * (1 - t) + q.face.as_array() * t)
            bodies = body_of(p.subject, p.build, p.figure), body_of(q.subject, q.build, q.figure)
            body = Proportions(*_lerp(astuple(bodies[0]), astuple(bodies[1]), t))
            body = replace(body, age=bodies["subject" in changes].age)  # lines of age come at once
            expressions = astuple(expression_of(p.expression)), astuple(expression_of(q.expression))
            mixed.append(Mixed(Expression(*_lerp(*expressions, t)), body))
            held, other = a.postures[n], b.postures[n]
            head = replace(held.head, **{k: _lerp(getattr(held.head, k), getattr(other.head, k), t) for k in ("tilt", "turn", "nod")})
            held = replace(other if "prop" in changes else held, joints=held.joints * (1 - t) + other.joints * t, head=head)
            scene = scene.with_person(n, replace(p, **changes), held)
        picture: dict[str, Any] = {name: getattr(b.description, name) for k, names in done if k < 0 and names != _PLACE for name in names}
        spots = tuple(
            Spot(x.scale * (1 - t) + y.scale * t, x.origin * (1 - t) + y.origin * t)
            for x, y in zip(a.camera.spots, b.camera.spots, strict=True)
        )
        return replace(
            scene,
            description=replace(scene.description, **picture),
            camera=replace(a.camera, spots=spots),
            light=_mixed_light(_light(a), _light(b), t),
            things=b.things if t >= _HALF else a.things,
            absent=b.absent if t >= _HALF else a.absent,
            farther=(b.description.place, self.depths[placed - 1]) if placed else None,
            mixed=tuple(mixed),
        )

    def even(self, strength: float) -> float:
        """How far along the way the difference has come to `strength` of the whole; within a step the nearer side of it."""
        if strength <= 0 or strength >= 1:
            return float(np.clip(strength, 0, 1))
        ts, far = np.array(responses.get(self)).T
        far = np.maximum.accumulate(far) + np.linspace(0, 1e-6, len(far))
        k = int(np.clip(np.searchsorted(far, strength * far[-1]), 1, len(far) - 1))
        share = float((strength * far[-1] - far[k - 1]) / max(far[k] - far[k - 1], 1e-9))
        inside = float(share > 0.5) if ts[k] - ts[k - 1] < _SUDDEN else share
        return float(ts[k - 1] + inside * (ts[k] - ts[k - 1]))

    def response(self) -> list[tuple[float, float]]:
        """(t, difference to the first as a share of the whole) before and after every step, from small drawings."""
        count = len(self.steps)
        ts = {0.0, 1.0, *((k + 0.5 + side) / count for k in range(count) for side in (-1e-3, 1e-3))}
        ts |= {k / 4 for k in range(1, 4) if count < 3}
        labs = [rgb_to_lab(draw_scene(self.at(t).resized(_SMALL)).image.astype(np.float32) / np.float32(255)) for t in sorted(ts)]
        far = [float(np.linalg.norm(lab - labs[0], axis=2).mean()) for lab in labs]
        return [(t, d / max(far[-1], 1e-6)) for t, d in zip(sorted(ts), far, strict=True)]


class _Responses:
    """The responses of the last ways: all strengths of a run or of a sweep lie on one."""

    def __init__(self, most: int = 16) -> None:
        self._kept: OrderedDict[str, list[tuple[float, float]]] = OrderedDict()
        self._most, self._lock = most, Lock()

    def get(self, path: Way) -> list[tuple[float, float]]:
        key = json.dumps([path.first.to_json(), path.last.to_json()])
        with self._lock:
            if key in self._kept:
                return self._kept[key]
        made = path.response()
        with self._lock:
            self._kept[key] = made
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)
        return made

    def clear(self) -> None:
        with self._lock:
            self._kept.clear()


responses = _Responses()


def way(first: Scene, last: Scene) -> Way:
    """The way between two scenes that have the same figures in number."""
    a, b = first.description, last.description
    steps: list[tuple[int, tuple[str, ...]]] = []
    for names in _STEPS:
        if names[0] in _OF_PICTURE:
            if any(getattr(a, x) != getattr(b, x) for x in names):
                steps.append((-1, names))
        else:
            for n, (p, q) in enumerate(zip(a.figures, b.figures, strict=True)):
                if any(getattr(p, x) != getattr(q, x) for x in names):
                    steps.append((n, names))
    if a.place == b.place:
        return Way(first, last, tuple(steps))
    every = (len(steps) + 1) / (_PLACES + 1)  # spread among the others
    for k in range(_PLACES):
        steps.insert(round((k + 1) * every) + k, (-1, _PLACE))
    return Way(first, last, tuple(steps), _depths(first, last))


def _depths(first: Scene, last: Scene) -> tuple[float, ...]:
    """Depths by which the places of two scenes fall into like parts, from the farthest; the last is before everything."""
    seen = [draw_scene(scene.resized(_SMALL)) for scene in (first, last)]
    far = np.concatenate([d.depth[d.figures == 0] for d in seen])
    parts = np.quantile(far, np.arange(_PLACES - 1, 0, -1) / _PLACES) if far.size else np.zeros(_PLACES - 1)
    return (*map(float, parts), -1.0)


def on_composition(first: Scene, description: Description) -> Scene:
    """Another description on the composition of a scene: its places, poses and finish stay; who is there, what and when change.

    Of two descriptions with different numbers of figures the first's number stays.
    """
    kept = first.description
    theirs = [description, *description.others]
    others = tuple(replace(theirs[n + 1] if n + 1 < len(theirs) else own, layout=own.layout) for n, own in enumerate(kept.others))
    scene = replace(first, description=replace(description, layout=kept.layout, finish=kept.finish, others=others))
    for n, person in enumerate(scene.description.figures):
        scene = reposed(scene, n, Person(**{f.name: getattr(person, f.name) for f in fields(Person)}))
    return scene


def at_strength(first: Scene, last: Scene, strength: float) -> Scene:
    """The scene between two at a denoise strength, 0 the first … 1 the last; the difference to the first rises evenly with it.

    Where somebody came, which no way leads to, the nearer of the two.
    """
    if strength <= 0 or strength >= 1:
        return first if strength <= 0 else last
    if len(first.postures) != len(last.postures):
        return first if strength < _HALF else last
    path = way(first, last)
    return path.at(path.even(strength))


def _lerp(a: Any, b: Any, t: float) -> Any:
    if isinstance(a, tuple):
        return tuple(x * (1 - t) + y * t for x, y in zip(a, b, strict=True))
    return a * (1 - t) + b * t


def _mixed_rgb(a: ArrayLike, b: ArrayLike, t: float) -> Rgb:
    lab = rgb_to_lab(np.asarray([a, b], np.float32))
    red, green, blue = map(float, lab_to_rgb(lab[0] * np.float32(1 - t) + lab[1] * np.float32(t)))
    return red, green, blue


def _tone(table: dict[str, Any], a: str, b: str, t: float) -> str:
    if a == b:
        return a
    return "#" + "".join(f"{round(min(max(c, 0.0), 1.0) * 255):02x}" for c in _mixed_rgb(named(table, a), named(table, b), t))


def _light(scene: Scene) -> Light:
    d = scene.description
    return scene.light or light_of(d.time, d.light, d.weather)


def _mixed_light(a: Light, b: Light, t: float) -> Light | None:
    def mixed(x: Any, y: Any) -> Any:
        if isinstance(x, str):
            return "".join(f"{round(int(x[i : i + 2], 16) * (1 - t) + int(y[i : i + 2], 16) * t):02x}" for i in (0, 2, 4))
        if isinstance(x, tuple):
            return tuple(mixed(p, q) for p, q in zip(x, y, strict=True))
        return x * (1 - t) + y * t

    return None if a == b else Light(*(mixed(getattr(a, f.name), getattr(b, f.name)) for f in fields(Light)))
