"""What is to be drawn: plain data, no style and no geometry."""

from __future__ import annotations

from dataclasses import dataclass, field, fields
from enum import IntEnum

import numpy as np
from numpy.typing import NDArray


class Part(IntEnum):
    """Labels of the part map."""

    SKY = 0
    STRUCTURE = 1
    GROUND = 2
    FOLIAGE = 3
    WATER = 4
    LAMP = 5
    FOREGROUND = 6
    SEAT = 7
    HAIR = 8
    FACE = 9
    EYES = 10
    MOUTH = 11
    SKIN = 12
    HAND = 13
    TOP = 14
    BOTTOM = 15
    SHOES = 16
    OUTER = 17
    ACCESSORY = 18
    PROP = 19
    COMPANION = 20


FIGURE_PARTS = tuple(p for p in Part if Part.HAIR <= p <= Part.PROP)
SKIN_PARTS = (Part.FACE, Part.EYES, Part.MOUTH, Part.SKIN, Part.HAND)


@dataclass(frozen=True, slots=True)
class Face:
    """Continuous face geometry, each about 1 (or 0 for angles and offsets). The likeness of a person."""

    width: float = 1.0
    length: float = 1.0
    jaw: float = 0.0
    cheek: float = 0.0
    eye_size: float = 1.0
    eye_spacing: float = 1.0
    eye_tilt: float = 0.0
    brow_height: float = 0.0
    brow_angle: float = 0.0
    nose_length: float = 1.0
    nose_width: float = 1.0
    mouth_width: float = 1.0
    lip_fullness: float = 1.0
    ear_size: float = 1.0

    @staticmethod
    def sampled(rng: np.random.Generator) -> Face:
        """A likeness at random: each parameter normal about the middle, cut at two deviations."""
        spread = {
            "width": 0.05, "length": 0.035, "jaw": 0.016, "cheek": 0.012, "eye_size": 0.08,
            "eye_spacing": 0.055, "eye_tilt": 0.010, "brow_height": 0.012, "brow_angle": 0.35,
            "nose_length": 0.16, "nose_width": 0.16, "mouth_width": 0.11, "lip_fullness": 0.22,
            "ear_size": 0.12,
        }  # fmt: skip
        middle = Face()
        return Face(*(getattr(middle, f.name) + spread[f.name] * float(np.clip(rng.normal(), -2, 2)) for f in fields(Face)))

    def as_array(self) -> NDArray[np.float64]:
        return np.array([getattr(self, f.name) for f in fields(self)])

    @staticmethod
    def from_array(values: NDArray[np.float64]) -> Face:
        return Face(*map(float, values))


@dataclass(frozen=True, slots=True)
class Layout:
    """What all exemplars of one take share: where things are, not what they are."""

    pose: str = "standing"
    framing: str = "half"
    facing: int = 1  # 1 or −1: mirrored
    shift: float = 0.0  # of the figure, in picture widths
    zoom: float = 1.0
    sway: float = 0.0  # degrees added to the limbs, so that no two takes stand alike
    ground: int = 0  # seed of the place's own arrangement


@dataclass(frozen=True, slots=True)
class Description:
    subject: str = "woman"
    build: str = "average"
    skin: str = "peach"
    hair: str = "long straight"
    hair_colour: str = "chestnut"
    eyes: str = "green"
    freckles: bool = False
    glasses: bool = False
    facial_hair: str = "none"
    mark: str = "none"
    headwear: str = "none"
    face: Face = field(default_factory=Face)
    expression: str = "calm"
    outfit: str = "tunic"
    colour_a: tuple[float, float, float] = (0.72, 0.28, 0.23)
    colour_b: tuple[float, float, float] = (0.17, 0.49, 0.49)
    pattern: str = "plain"
    prop: str = "nothing"
    companion: str = "nobody"
    place: str = "roof garden"
    time: str = "noon"
    weather: str = "clear"
    light: str = "plain light"
    finish: tuple[str, ...] = ("gouache",)
    layout: Layout = field(default_factory=Layout)
