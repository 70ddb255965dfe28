"""The frame of one figure: its axes, its coordinate systems, and adding items in them.

Coordinates are head heights (hh), y down, the ground at y = 0. Body parts, garments, hair and props are
drawn by the neighbouring modules, which all work on a `DrawnFigure`.
"""

from __future__ import annotations

import contextlib
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any, TypeAlias

import numba
import numpy as np
import skia
from numpy.typing import ArrayLike

from mosskeeper.core.illustrator.description import Part, Person
from mosskeeper.core.illustrator.description import Rgb as Rgb3
from mosskeeper.core.illustrator.items import DisplayList, Dye, Item, Lamp, Mark
from mosskeeper.core.illustrator.natural.view import PIVOT, rotation
from mosskeeper.core.illustrator.shapes import Points, point, to_path, together, union
from mosskeeper.core.illustrator.skeleton import JOINTS, Posture, nodded
from mosskeeper.core.illustrator.vocabulary import colours
from mosskeeper.core.illustrator.vocabulary.colours import Rgb
from mosskeeper.core.illustrator.vocabulary.light import Light
from mosskeeper.core.illustrator.vocabulary.outfits import has_hood
from mosskeeper.core.illustrator.vocabulary.people import CHILDREN, MEN, Expression, Proportions, body_of, expression_of

DEPTH = 0.30
SIDES = (("right", -1), ("left", 1))
Outlines: TypeAlias = Points | Sequence[Points] | skia.Path
Colour: TypeAlias = str | Dye | Rgb

_DYES = {"a": Dye("a"), "b": Dye("b"), "b dark": Dye("b", 0.8, 0.06), "skin": Dye("skin")}
_UNDYED = np.zeros(3)

_TORN = 0.2  # hh by which a shoulder may stray from the trunk before a piece of cloth bridges the gap
_BEHIND = 66.0  # slots by which a limb behind the trunk lies below its usual place


_SLIMMER = 0.78  # of what sits on a storybook head, sideways, on a natural one
YAW, PITCH = 46.0, 19.0  # degrees of a natural head that is turned, or nods, as far as it goes
_CHEEK = 0.31  # heads from the middle of a natural face to its border
_FORWARD = 0.10  # heads by which a natural profile lies farther to the front
_SPREAD = 1.6  # by how much what lies beyond the skull spreads for each part that it is larger


@dataclass(frozen=True, slots=True)
class _Stretch:
    sideways: float
    upwards: float
    rim: float
    low: float

    def of(self, p: Points) -> Points:
        """Head coordinates (n, 2) stretched."""
        x, y = p[:, 0], p[:, 1]
        beyond = np.maximum(np.abs(x) - self.rim, 0) * (self.sideways - 1) * _SPREAD
        return np.stack([x + np.sign(x) * beyond, np.where(y < self.low, self.low + (y - self.low) * self.upwards, y)], 1)


@dataclass(frozen=True, slots=True)
class Setting:
    """Where a figure stands in the picture, and in what air."""

    number: int  # 1… from the first
    scale: float  # pixels of one head height
    origin: Points  # pixel of the figure's origin: between the feet, on the ground
    light: Light
    wind: float  # 0 none … 1 storm, towards the picture's right
    detailed: bool
    sheets: float = 0.0  # 0 painted … 1 cut from single sheets of colour, as the finish has it


@numba.njit(cache=True)  # type: ignore[untyped-decorator]
def _laid(at: Points, right: Points, up: Points, q: Points) -> Points:
    """Points (N, 2) in axes of their own: x to the right, y down."""
    out = np.empty((len(q), 2))
    for i in range(len(q)):
        for k in range(2):
            out[i, k] = at[k] + q[i, 0] * right[k] - q[i, 1] * up[k]
    return out


@numba.njit(cache=True)  # type: ignore[untyped-decorator]
def _turned(p: Points, stretch: float, turn: float, nod: float) -> Points:
    """Points (N, 2) of a face seen from the front, as it is turned and nods: it slides over the skull, most in the middle."""
    out = np.empty((len(p), 2))
    for i in range(len(p)):
        x, y = p[i, 0], p[i, 1]
        if y > 0:
            y = y * stretch
        out[i, 0] = x * (1 - 0.10 * abs(turn)) + turn * (0.125 * np.sqrt(min(max(1 - (x / 0.45) ** 2, 0.0), 1.0)))
        out[i, 1] = y
        if nod != 0:  # foreshortened towards where it turns
            slides = np.sqrt(min(max(1 - (out[i, 0] / 0.62) ** 2, 0.0), 1.0))
            out[i, 1] = y * (1 - 0.08 * abs(nod)) + nod * 0.085 * slides * (1 - 0.35 * abs(y - 0.1))
    return out


def _on_solid(p: Points, turn: float, nod: float) -> Points:
    """Points (N, 2) of a storybook face seen from the front, where a natural head that is turned and nods shows them; heads."""
    x = _CHEEK * np.tanh(p[:, 0] * 0.85 / _CHEEK)  # eyes lie as far apart as a natural head has them, what lies farther out at its cheeks
    return _turned_solid(np.stack([x, p[:, 1], 0.39 * np.sqrt(np.clip(1 - (x / 0.36) ** 2, 0, 1))], 1), turn, nod)


def _turned_solid(p: Points, turn: float, nod: float) -> Points:
    """Places (N, 3) of a natural head, in heads: to its left, down, to the front of it; as (N, 2) where it shows them turned."""
    return np.asarray(((p - PIVOT) @ rotation(np.deg2rad(YAW) * turn, np.deg2rad(PITCH) * nod, 0.0).T)[:, :2] + PIVOT[:2])


@dataclass(frozen=True, slots=True)
class Air:
    """What is about a figure, in its own coordinates."""

    wind: float  # 0 none … ±1 storm, towards positive x
    light_side: int  # ±1: the side from which the light comes
    glow: float  # of lamps


class DrawnFigure:
    def __init__(self, display: DisplayList, person: Person, posture: Posture, setting: Setting) -> None:
        self.display, self.is_, self.posture = display, person, posture
        self.number, self.scale, self.origin = setting.number, setting.scale, setting.origin
        self.facing = person.layout.facing
        self.detailed, light = setting.detailed, setting.light
        self.light, self.sheets = light, setting.sheets
        self.air = Air(setting.wind * self.facing, self.facing * (1 if light.direction[0] > 0 else -1), light.glow)
        self.child, self.male = person.subject in CHILDREN, person.subject in MEN
        self.rng = np.random.default_rng(person.layout.ground + 11)
        self.landmarks: dict[str, Points] = {}
        self.head_points: Points | None = None  # (5, 2) px: nose, right and left eye, right and left ear, of heads that are solids
        self._mirror: float | None = None
        self._stretch: _Stretch | None = None
        self._cloth: tuple[Rgb3, Rgb3] | None = None
        self.undyed = False  # what is added waits for the person's colours
        self.mixed: tuple[Expression, Proportions] | None = None  # in place of what names say
        self.depth = DEPTH + 0.25 * person.layout.depth
        self._axes(dict(zip(JOINTS, posture.joints, strict=True)))

    def _axes(self, j: dict[str, Points]) -> None:
        self.j = j
        held = self.posture.head
        self.turn, self.nod, self.profile = held.turn, held.nod, held.profile
        self.head_right = point(np.cos(held.tilt), np.sin(held.tilt))
        self.head_up = point(np.sin(held.tilt), -np.cos(held.tilt))
        self.head = j["neck"] + self.head_up * self.body.neck
        spine = (j["right hip"] + j["left hip"]) / 2 - j["neck"]
        self.torso = float(np.hypot(*spine))
        if self.torso > 0.3:
            self.down = spine / self.torso
        else:  # seen from above or below: there is no telling where the spine points
            self.torso, self.down = 0.3, point(0, 1)
        self.right = point(self.down[1], -self.down[0])
        self.thickness = self.body.limb
        shoulders = abs((j["left shoulder"] - j["right shoulder"]) @ self.right) / 2
        self.shoulder_width = max(float(shoulders), 0.3)
        self.head_size = self.body.head
        self.hip_width = max(abs(float((j["left hip"] - j["right hip"]) @ self.right)) / 2, 0.2)

    # What its names and the air say is read when it is needed, so that it can be told on what a part of the drawing depends.

    @property
    def wind(self) -> float:
        return self.air.wind

    @property
    def light_side(self) -> int:
        return self.air.light_side

    @property
    def natural(self) -> bool:
        return self.is_.figure == "natural"

    @property
    def body(self) -> Proportions:
        return body_of(self.is_.subject, self.is_.build, self.is_.figure) if self.mixed is None else self.mixed[1]

    @property
    def expression(self) -> Expression:
        return expression_of(self.is_.expression) if self.mixed is None else self.mixed[0]

    @property
    def skin(self) -> Rgb:
        return colours.named(colours.SKINS, self.is_.skin)

    @property
    def hair_colour(self) -> Rgb:
        return colours.named(colours.HAIR_COLOURS, self.is_.hair_colour)

    @property
    def hood(self) -> bool:
        return has_hood(self.is_.outfit)

    # -- coordinates -------------------------------------------------------------------------------------

    def px(self, p: ArrayLike) -> Points:
        """Figure coordinates to pixels."""
        q = np.asarray(p, float)
        if self._mirror is not None:
            q = q * (-1, 1) + (2 * self._mirror, 0)
        return q * (self.scale * self.facing, self.scale) + self.origin

    @contextlib.contextmanager
    def mirrored_about(self, x: float) -> Iterator[None]:
        """What is drawn meanwhile is mirrored about a vertical line."""
        self._mirror = x
        yield
        self._mirror = None

    @contextlib.contextmanager
    def stretched(self, size: tuple[float, float], rim: float, low: float) -> Iterator[None]:
        """What is drawn on the head meanwhile is stretched: sideways beyond `rim`, upwards above `low`; what lies on the skull stays."""
        self._stretch = None if size == (1.0, 1.0) else _Stretch(*size, rim, low)
        yield
        self._stretch = None

    @contextlib.contextmanager
    def enlarged(self, about: Points, k: float) -> Iterator[None]:
        """What is drawn meanwhile is `k` times as large about a place of the figure."""
        origin, scale, centre = self.origin, self.scale, self.px(about)
        self.origin, self.scale = centre + (origin - centre) * k, scale * k
        yield
        self.origin, self.scale = origin, scale

    @contextlib.contextmanager
    def coloured(self, colours: tuple[Rgb3, Rgb3] | None) -> Iterator[None]:
        """The first and second colour of what is drawn meanwhile."""
        self._cloth = colours
        yield
        self._cloth = None

    def seen_x(self, x: float) -> float:
        """The x to draw at for something to be seen at `x`, mirrored or not."""
        return x if self._mirror is None else 2 * self._mirror - x

    def at(self, x: float, y: float) -> Points:
        """A place on the torso: x to the side and y down from the neck, along the spine."""
        return self.j["neck"] + self.right * x + self.down * y

    def arm_from(self, side: str) -> list[Points]:
        """Where an arm begins besides its shoulder: on the trunk, where a skeleton tears the two apart."""
        sign = -1 if side == "right" else 1
        on_trunk = self.at(sign * self.shoulder_width, 0.06)
        if self.natural and (self.j[f"{side} elbow"] - self.j[f"{side} shoulder"]) @ self.down < 0:  # raised: sloping shoulders leave a gap
            return [self.at(sign * self.shoulder_width * 0.70, 0.16)]
        return [self.at(sign * self.shoulder_width * 0.6, 0.2)] if np.hypot(*(self.j[f"{side} shoulder"] - on_trunk)) > _TORN else []

    def on_head(self, p: ArrayLike) -> Points:
        """Head coordinates (x right, y down, the head 1 high) to figure coordinates."""
        q = np.atleast_2d(np.asarray(p, float))
        if self._stretch is not None:
            q = self._stretch.of(q)
        if self.head_size != 1:
            q = q * (self.head_size * _SLIMMER, self.head_size)
        return np.asarray(_laid(self.head, self.head_right, self.head_up, q))

    def on_side(self, p: ArrayLike) -> Points:
        """Like `on_head` for a head in profile: x runs from the back of the skull (−) to the nose (+), and nods with it."""
        if self.natural:
            q = nodded(np.atleast_2d(np.asarray(p, float)), self.nod) + (_FORWARD, 0)
            return self._on_natural_head(q * (self.profile, 1))
        return self.on_head(nodded(np.atleast_2d(np.asarray(p, float)), self.nod) * (self.profile, 1))

    def on_face(self, p: ArrayLike) -> Points:
        """Like `on_head`, on the surface of the face: it follows the turn of the head."""
        if self.natural:
            return self._on_natural_head(_on_solid(np.atleast_2d(np.asarray(p, float)), float(self.turn), float(self.nod)))
        stretch = (1 + self.body.face_length) * self.is_.face.length
        return self.on_head(_turned(np.atleast_2d(np.asarray(p, float)), float(stretch), float(self.turn), float(self.nod)))

    def _on_natural_head(self, p: Points) -> Points:
        return np.asarray(_laid(self.head, self.head_right, self.head_up, p * self.head_size))

    def on_lobe(self, sign: int) -> Points:
        """Where an earring hangs on a natural head that is not in profile. sign : −1 right, 1 left."""
        place = np.array([(sign * 0.315, 0.10 + 0.10 * self.is_.face.ear_size, 0.015)])
        return np.asarray(self._on_natural_head(_turned_solid(place, float(self.turn), float(self.nod)))[0])

    def leg_at(self, side: str, t: float) -> Points:
        """A point along a leg: 0 hip, 1 knee, 2 ankle."""
        a, b = ("hip", "knee") if t <= 1 else ("knee", "ankle")
        u = t if t <= 1 else t - 1
        return self.j[f"{side} {a}"] * (1 - u) + self.j[f"{side} {b}"] * u

    def arm_slot(self, side: str, slot: float) -> float:
        """The slot of something on an arm, which may lie behind the trunk."""
        return slot - _BEHIND if f"{side} arm" in self.posture.behind else slot

    def blown(self, p: Points, from_y: float, amount: float) -> Points:
        """Points moved by the wind, the more the farther they hang below `from_y`."""
        if not self.wind:
            return p
        hang = np.clip(p[:, 1] - from_y, 0, None)
        ripple = 0.10 * np.sin(hang * 4.2 + p[:, 0] * 2.0)
        return p + np.stack([self.wind * amount * hang**1.25 * (1 + ripple), -abs(self.wind) * amount * 0.34 * hang**1.4], 1)

    def union(self, outlines: list[Points]) -> skia.Path:
        """One shape out of several. In thumbnails the outlines only lie together, which fills the same area."""
        return union(outlines) if self.detailed else together(outlines)

    # -- items -------------------------------------------------------------------------------------------

    def colour(self, name: Colour) -> Rgb:
        """A colour that a name or a dye stands for."""
        if isinstance(name, str) and name in _DYES:
            name = _DYES[name]
        if isinstance(name, Dye):
            a, b = self._cloth or (self.is_.colour_a, self.is_.colour_b)
            return name.on(self.skin if name.of == "skin" else np.asarray(a if name.of == "a" else b))
        if not isinstance(name, str):
            return name
        return colours.MATERIALS[name] if name in colours.MATERIALS else colours.CLOTH[name]

    def shaded(self, name: Colour, times: float) -> Colour:
        """A colour made darker or lighter."""
        if isinstance(name, str) and name in ("a", "b", "skin"):
            return Dye(name, times)
        return np.clip(self.colour(name) * times, 0, 1)

    def painted(self, thing: str, usual: Rgb) -> Rgb:
        """The same, where colours are numbers."""
        own = dict(self.is_.tints).get(thing)
        return usual if own is None else np.asarray(own)

    def tinted(self, thing: str, usual: Colour) -> Colour:
        """The colour of one of `TINTED`: its own where it has one."""
        own = dict(self.is_.tints).get(thing)
        return usual if own is None else np.asarray(own)

    def _waiting(self, colour: Colour) -> Dye | None:
        """The dye in which something is added, where it waits for it."""
        if not self.undyed or self._cloth is not None:
            return None
        return _DYES.get(colour) if isinstance(colour, str) else colour if isinstance(colour, Dye) else None

    def path(self, outlines: Outlines) -> skia.Path:
        if isinstance(outlines, skia.Path):
            matrix = skia.Matrix()
            left, top = self.px((0.0, 0.0))
            right, _ = self.px((1.0, 0.0))
            matrix.setScaleTranslate(float(right - left), self.scale, float(left), float(top))
            copy = skia.Path(outlines)
            copy.transform(matrix)
            return copy
        return to_path(outlines, placed=self.px)

    def add(self, outlines: Outlines, colour: Colour, part: Part, slot: float, **options: Any) -> Item:
        """Adds an item. Options are those of `Item`; depth follows from the slot unless given."""
        options.setdefault("shade", 0.6)
        options.setdefault("line", 1.0)
        options.setdefault("drop", 0.7)
        options.setdefault("depth", self.depth - (slot - 100) * 0.0004)
        dye = self._waiting(colour)
        albedo = _UNDYED if dye is not None else self.colour(colour)
        item = Item(self.path(outlines), albedo, part, slot=slot, figure=self.number, dye=dye, **options)
        self.display.items.append(item)
        return item

    def plain(self, outlines: Outlines, colour: Colour, part: Part, slot: float, **options: Any) -> Item:
        """An item without form shadow, outline or thrown shadow: eyes, lips, small metal."""
        return self.add(outlines, colour, part, slot, **({"shade": 0.0, "line": 0.0, "drop": 0.0} | options))

    def mark(
        self,
        item: Item,
        outlines: Points | Iterable[Points],
        tone: Colour = "shade",
        alpha: float = 0.5,
        blur: float = 0.0,
        vital: bool = False,
    ) -> None:
        """Strokes inside an item. Thumbnails leave out all but the vital ones."""
        if not (self.detailed or vital):
            return
        if isinstance(outlines, np.ndarray):
            outlines = [outlines]
        px = [self.px(p) for p in outlines if len(p) > 2]
        if px:
            dye, colour = self._waiting(tone), "shade" if isinstance(tone, Dye) else tone
            if dye is None and not (isinstance(tone, str) and tone in ("shade", "lit", "deep")):
                colour = self.colour(tone)
            item.marks.append(Mark(to_path(px), colour, alpha, blur * self.scale / 100, dye))

    def lamp(self, at: Points, radius: float, colour: Rgb, strength: float) -> None:
        x, y = self.px(at)
        self.display.lamps.append(Lamp(float(x), float(y), radius * self.scale, colour, strength))
