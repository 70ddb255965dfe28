"""The frame of one figure: its axes, its coordinate systems, and adding items in them.

Coordinates are head heights (hh), y down, the ground at y = 0. Body parts, garments, hair and props are
drawn by the neighbouring modules, which all work on a `Figure`.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any, TypeAlias

import numpy as np
import skia
from numpy.typing import ArrayLike, NDArray

from mosskeeper.core.illustrator.description import Description, Part
from mosskeeper.core.illustrator.items import DisplayList, Item, Lamp, Mark
from mosskeeper.core.illustrator.shapes import Points, point, to_path, together, union
from mosskeeper.core.illustrator.skeleton import JOINTS
from mosskeeper.core.illustrator.vocabulary import colours
from mosskeeper.core.illustrator.vocabulary.colours import Rgb
from mosskeeper.core.illustrator.vocabulary.light import Light
from mosskeeper.core.illustrator.vocabulary.outfits import has_hood
from mosskeeper.core.illustrator.vocabulary.people import CHILDREN, EXPRESSIONS, MEN, body_of

DEPTH = 0.30
SIDES = (("right", -1), ("left", 1))
Outlines: TypeAlias = Points | Sequence[Points] | skia.Path


class Figure:
    def __init__(
        self,
        display: DisplayList,
        description: Description,
        joints: NDArray[np.float64],
        scale: float,
        origin: Points,
        light: Light,
        detailed: bool,
    ) -> None:
        self.display, self.is_ = display, description
        self.scale, self.origin = scale, origin
        self.facing = description.layout.facing
        self.light, self.detailed = light, detailed
        self.light_side = self.facing * (1 if light.direction[0] > 0 else -1)
        self.body = body_of(description.subject, description.build)
        self.child, self.male = description.subject in CHILDREN, description.subject in MEN
        self.expression = EXPRESSIONS[description.expression]
        self.skin = colours.SKINS[description.skin]
        self.hair_colour = colours.HAIR_COLOURS[description.hair_colour]
        self.hood = has_hood(description.outfit)
        self.rng = np.random.default_rng(description.layout.ground + 11)
        self.landmarks: dict[str, Points] = {}
        self._axes(dict(zip(JOINTS, joints, strict=True)))

    def _axes(self, j: dict[str, Points]) -> None:
        self.j = j
        ears = j["left ear"] - j["right ear"]
        self.head_right = ears / np.hypot(*ears)
        self.head_up = point(self.head_right[1], -self.head_right[0])
        self.head = (j["left ear"] + j["right ear"]) / 2 + self.head_up * 0.1
        self.turn = float(np.clip(((j["nose"] - self.head) @ self.head_right) / 0.13, -1, 1))
        spine = (j["right hip"] + j["left hip"]) / 2 - j["neck"]
        self.torso = float(np.hypot(*spine))
        self.down = spine / self.torso
        self.right = point(self.down[1], -self.down[0])
        self.thickness = self.body.limb
        shoulders = abs((j["left shoulder"] - j["right shoulder"]) @ self.right) / 2
        self.shoulder_width = max(float(shoulders), 0.3)
        self.hip_width = max(abs(float((j["left hip"] - j["right hip"]) @ self.right)) / 2, 0.2)

    # -- coordinates -------------------------------------------------------------------------------------

    def px(self, p: ArrayLike) -> Points:
        """Figure coordinates to pixels."""
        return np.asarray(p, float) * (self.scale * self.facing, self.scale) + self.origin

    def at(self, x: float, y: float) -> Points:
        """A place on the torso: x to the side and y down from the neck, along the spine."""
        return self.j["neck"] + self.right * x + self.down * y

    def on_head(self, p: ArrayLike) -> Points:
        """Head coordinates (x right, y down, the head 1 high) to figure coordinates."""
        q = np.atleast_2d(np.asarray(p, float))
        return np.asarray(self.head + q[:, :1] * self.head_right - q[:, 1:] * self.head_up)

    def on_face(self, p: ArrayLike) -> Points:
        """Like `on_head`, on the surface of the face: it follows the turn of the head."""
        q = np.atleast_2d(np.asarray(p, float)).copy()
        x = q[:, 0]
        stretch = (1 + self.body.face_length) * self.is_.face.length
        q[:, 1] = np.where(q[:, 1] > 0, q[:, 1] * stretch, q[:, 1])
        bulge = 0.125 * np.sqrt(np.clip(1 - (x / 0.45) ** 2, 0, 1))
        q[:, 0] = x * (1 - 0.10 * abs(self.turn)) + self.turn * bulge
        return self.on_head(q)

    def leg_at(self, side: str, t: float) -> Points:
        """A point along a leg: 0 hip, 1 knee, 2 ankle."""
        a, b = ("hip", "knee") if t <= 1 else ("knee", "ankle")
        u = t if t <= 1 else t - 1
        return self.j[f"{side} {a}"] * (1 - u) + self.j[f"{side} {b}"] * u

    def union(self, outlines: list[Points]) -> skia.Path:
        """One shape out of several. In thumbnails the outlines only lie together, which fills the same area."""
        return union(outlines) if self.detailed else together(outlines)

    # -- items -------------------------------------------------------------------------------------------

    def colour(self, name: str | Rgb) -> Rgb:
        if not isinstance(name, str):
            return name
        own = {"a": self.is_.colour_a, "b": self.is_.colour_b}
        if name in own:
            return np.asarray(own[name])
        if name == "b dark":
            return np.asarray(self.is_.colour_b) * 0.8 + 0.06
        return colours.MATERIALS[name] if name in colours.MATERIALS else colours.CLOTH[name]

    def path(self, outlines: Outlines) -> skia.Path:
        if isinstance(outlines, skia.Path):
            matrix = skia.Matrix()
            x, y = map(float, self.origin)
            matrix.setScaleTranslate(self.scale * self.facing, self.scale, x, y)
            copy = skia.Path(outlines)
            copy.transform(matrix)
            return copy
        if isinstance(outlines, np.ndarray):
            return to_path(self.px(outlines))
        return to_path([self.px(p) for p in outlines])

    def add(self, outlines: Outlines, colour: str | Rgb, part: Part, slot: float, **options: Any) -> Item:
        """Adds an item. Options are those of `Item`; depth follows from the slot unless given."""
        options.setdefault("shade", 0.6)
        options.setdefault("line", 1.0)
        options.setdefault("drop", 0.7)
        options.setdefault("depth", DEPTH - (slot - 100) * 0.0004)
        item = Item(self.path(outlines), self.colour(colour), part, slot=slot, **options)
        self.display.items.append(item)
        return item

    def plain(self, outlines: Outlines, colour: str | Rgb, part: Part, slot: float, **options: Any) -> Item:
        """An item without form shadow, outline or thrown shadow: eyes, lips, small metal."""
        return self.add(outlines, colour, part, slot, **({"shade": 0.0, "line": 0.0, "drop": 0.0} | options))

    def mark(
        self, item: Item, outlines: Points | Iterable[Points], tone: str | Rgb = "shade", alpha: float = 0.5,
        blur: float = 0.0, vital: bool = False,
    ) -> None:  # fmt: skip
        """Strokes inside an item. Thumbnails leave out all but the vital ones."""
        if not (self.detailed or vital):
            return
        if isinstance(outlines, np.ndarray):
            outlines = [outlines]
        px = [self.px(p) for p in outlines if len(p) > 2]
        if px:
            own = isinstance(tone, str) and tone in ("shade", "lit", "deep")
            colour = tone if own else self.colour(tone)
            item.marks.append(Mark(to_path(px), colour, alpha, blur * self.scale / 100))

    def lamp(self, at: Points, radius: float, colour: Rgb, strength: float) -> None:
        x, y = self.px(at)
        self.display.lamps.append(Lamp(float(x), float(y), radius * self.scale, colour, strength))
