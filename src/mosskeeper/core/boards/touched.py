"""A board laid on a scene that stands already: it moves, colours and adds only where it was painted.

Unlike a board from which a picture is composed, it says nothing of the camera, the place and the sky.
"""

from __future__ import annotations

from collections.abc import Container
from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.boards.compose import figure_joined, roughs_of, soft_share
from mosskeeper.core.boards.lighting import disc_between
from mosskeeper.core.boards.read import OF_FIGURE, BoardRead
from mosskeeper.core.boards.seen import FigureOnBoard
from mosskeeper.core.boards.shapes import F64, Mask, ReadShape
from mosskeeper.core.boards.standing import placed, standing
from mosskeeper.core.boards.tones import hexadecimal, mixed_rgb
from mosskeeper.core.illustrator.description import MOST_FIGURES, SKIN_PARTS, Part, Person
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.illustrator.vocabulary.colours import HAIR_COLOURS, SKINS, named
from mosskeeper.core.illustrator.vocabulary.light import light_of

U8 = NDArray[np.uint8]
_ON_FIGURE = 0.5  # of a shape that must lie on a figure to be about it
_SAME_PLACE = 0.3  # of a figure on the board that must lie on one of the picture to be that one
_OF_POT = {"hair": "hair", "skin": "skin", "cloth": "upper", "second cloth": "lower"}
_OF_PART = {Part.HAIR: "hair", Part.FACIAL_HAIR: "hair", Part.BOTTOM: "lower", **dict.fromkeys(SKIN_PARTS, "skin")}
_WORN = (Part.TOP, Part.SLEEVE, Part.OUTER, Part.HEADWEAR)
_SIDES = {"upper": "colour_a", "lower": "colour_b"}


@dataclass(frozen=True, eq=False)
class Touch:
    """A board for a scene, and its place on the dial from the scene (0) to the board (1)."""

    read: BoardRead
    weight: float

    def on(self, scene: Scene, before: Drawing, told: list[str], said: Container[str] = ()) -> Scene:
        """The scene with what the board has. before : its drawing. said : attributes that words name. Adds to `told`."""
        figures = _at_reading(before.figures, self.read)
        labels = _at_reading(before.labels, self.read)
        k, soft = scene.size[1] / self.read.size[1], soft_share(self.weight)
        used: list[ReadShape] = []
        for seen in self.read.figures:
            n = _who(seen.mask, figures)
            scene = self._figure(scene, seen, n, k, soft, said, told)
            used += [s for s in self.read.shapes if (s.mask & seen.mask).sum() > _ON_FIGURE * s.area]
        for shape in self.read.shapes:
            n = _who(shape.mask, figures)
            if n is None or any(shape is one for one in used) or (shape.pot and shape.pot not in OF_FIGURE):
                continue
            part = _OF_POT.get(shape.pot) or _part_under(shape, figures == n + 1, labels)
            if part is not None:
                scene = scene.with_person(n, _coloured(scene.description.figures[n], part, shape.lab, soft))
                told.append("in the board's colours")
                used.append(shape)
        rest = [s for s in self.read.shapes if not any(s is one for one in used)]
        found = roughs_of(replace(self.read, shapes=rest), self.weight)
        if found:
            told.append(f"{', '.join(sorted({rough.kind for rough in found}))} as it was roughed out")
        if self.read.disc is not None:
            own = scene.light or light_of(scene.description.time, scene.description.light, scene.description.weather)
            scene = replace(scene, disc=disc_between(scene, own, self.read, self.weight))
            told.append("a sun or moon as it was painted")
        return replace(scene, roughs=(*scene.roughs, *found))

    def _figure(
        self, scene: Scene, seen: FigureOnBoard, n: int | None, k: float, soft: float, said: Container[str], told: list[str]
    ) -> Scene:
        if n is not None:
            one, spots = placed(standing(scene, n), seen, k, self.weight, soft, said), list(scene.camera.spots)
            spots[n] = one.spot
            told.append("stands as on the board")
            return replace(scene.with_person(n, one.person, one.held), camera=replace(scene.camera, spots=tuple(spots)))
        if len(scene.postures) >= MOST_FIGURES:
            told.append(f"there are {MOST_FIGURES} people in this picture already: whom the board adds is left out")
            return scene
        told.append("somebody comes in from the board")
        return figure_joined(scene, seen, self.read, k, self.weight)


def _at_reading(what: U8, read: BoardRead) -> U8:
    return np.asarray(cv2.resize(what, read.size, interpolation=cv2.INTER_NEAREST), np.uint8)


def _who(mask: Mask, figures: U8) -> int | None:
    """The figure of the picture on which a mask lies for the most part."""
    counts = np.bincount(figures[mask], minlength=MOST_FIGURES + 1)[1 : MOST_FIGURES + 1]
    best = int(counts.argmax())
    return best if counts[best] > _SAME_PLACE * mask.sum() else None


def _part_under(shape: ReadShape, there: Mask, labels: U8) -> str | None:
    under = labels[shape.mask & there]
    part = Part(int(np.bincount(under).argmax())) if under.size else Part.SKY
    return "upper" if part in _WORN else _OF_PART.get(part)


def _coloured(person: Person, part: str, lab: F64, soft: float) -> Person:
    if part == "hair":
        return replace(person, hair_colour="#" + hexadecimal(mixed_rgb(named(HAIR_COLOURS, person.hair_colour), lab, soft)))
    if part == "skin":
        return replace(person, skin="#" + hexadecimal(mixed_rgb(named(SKINS, person.skin), lab, soft)))
    side = _SIDES[part if person.outfit != "rain overalls" else {"upper": "lower", "lower": "upper"}[part]]
    return replace(person, **{side: mixed_rgb(getattr(person, side), lab, soft)})  # type: ignore[arg-type]
