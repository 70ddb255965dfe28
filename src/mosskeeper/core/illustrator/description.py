"""What is to be drawn: plain data, no style and no geometry."""

from __future__ import annotations

from dataclasses import dataclass, field, fields
from enum import IntEnum

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.traits import WORN as WORN


class Part(IntEnum):
    """Labels of the part map; below 32, so that label and figure fit into one byte."""

    SKY = 0
    STRUCTURE = 1
    GROUND = 2
    FOLIAGE = 3
    WATER = 4
    LAMP = 5
    SEAT = 6
    HAIR = 7
    FACIAL_HAIR = 8
    FACE = 9
    BROW = 10
    EYES = 11
    MOUTH = 12
    EAR = 13
    NECK = 14
    SKIN = 15  # arms and trunk
    LEG = 16
    HAND = 17
    TOP = 18
    SLEEVE = 19
    BOTTOM = 20
    SHOES = 21
    OUTER = 22
    HEADWEAR = 23
    ACCESSORY = 24
    PROP = 25
    COMPANION = 26


FIGURE_PARTS = tuple(p for p in Part if Part.HAIR <= p <= Part.PROP)
SKIN_PARTS = (Part.FACE, Part.BROW, Part.EYES, Part.MOUTH, Part.EAR, Part.NECK, Part.SKIN, Part.LEG, Part.HAND)
LIMBS = ("right arm", "left arm", "right leg", "left leg")
MOST_FIGURES = 4
MOST_THINGS = 8


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
            "width": 0.05,
            "length": 0.035,
            "jaw": 0.016,
            "cheek": 0.012,
            "eye_size": 0.08,
            "eye_spacing": 0.055,
            "eye_tilt": 0.010,
            "brow_height": 0.012,
            "brow_angle": 0.35,
            "nose_length": 0.16,
            "nose_width": 0.16,
            "mouth_width": 0.11,
            "lip_fullness": 0.22,
            "ear_size": 0.12,
        }
        middle = Face()
        return Face(*(getattr(middle, f.name) + spread[f.name] * float(np.clip(rng.normal(), -2, 2)) for f in fields(Face)))

    def as_array(self) -> NDArray[np.float64]:
        return np.array([getattr(self, f.name) for f in fields(self)])

    @staticmethod
    def from_array(values: NDArray[np.float64]) -> Face:
        return Face(*map(float, values))


Rgb = tuple[float, float, float]  # 0…1
Skeleton = tuple[tuple[float, float], ...]  # 18 joints in the order of JOINTS, in any unit, y down


@dataclass(frozen=True, slots=True)
class Layout:
    """What all exemplars of one take share: where things are, not what they are.

    Of several figures each has its own layout; the framing, angle and ground of the first are the picture's.
    """

    pose: str = "standing"
    framing: str = "half"
    facing: int = 1  # 1 or −1: mirrored
    shift: float = 0.0  # of the figure, in picture widths
    zoom: float = 1.0
    sway: float = 0.0  # degrees added to the limbs, so that no two takes stand alike
    ground: int = 0  # seed of the place's own arrangement
    view: str = "free"  # of the head: how the pose holds it, or front, three-quarter, profile
    gaze: str = "level"  # of the head: level, up, down
    angle: str = "level"  # of the camera: level, above, below
    depth: float = 0.0  # of the figure: 0 at the front … 1 far behind
    hand: str = "free"  # which holds the prop: as it suits the prop, or left, right, both
    skeleton: Skeleton | None = None  # takes the place of the named pose
    measure: float | None = None  # hh of one unit of the skeleton; None: its bones get the body's lengths
    pinned: tuple[float, float, float] | None = None  # x, y of the neck and head heights, shares of width, height, height
    behind: tuple[str, ...] = ()  # LIMBS that lie behind the trunk, besides those of the pose
    hands: tuple[str, str] | None = None  # shapes of the right and the left hand, in place of the pose's


# Things of a person that can have a colour of their own: garments of outfits, what is worn and held, and the lips.
TINTED = ("apron", "armour", "bag", "belt", "boots", "bracelets", "brooch", "cape", "cloak", "coat", "collar", "dress", "earrings", "eyepatch",
          "face paint", "gloves", "goggles", "hat", "jumper", "lining", "lips", "mask", "necklace", "nightshirt", "overalls", "prop", "ring", "robe",
          "sash", "scarf", "shirt", "skirt", "suit", "sunglasses", "tail", "tie", "trousers", "veil", "waistcoat", "wings")  # fmt: skip


@dataclass(frozen=True, slots=True)
class Person:
    """One figure: who it is, what it wears and holds, and how it stands.

    The colours of skin, hair and eyes are names of their tables, or "#" and six hexadecimal digits.
    """

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
    expression: str = "calm"  # one, or several joined by "+", which are blended
    outfit: str = "tunic"
    colour_a: Rgb = (0.72, 0.28, 0.23)
    colour_b: Rgb = (0.17, 0.49, 0.49)
    pattern: str = "plain"
    worn: tuple[str, ...] = ()  # of WORN, in its order
    prop: str = "nothing"
    second_prop: str = "nothing"  # in the other hand
    headwear_colours: tuple[Rgb, Rgb] | None = None  # those of the outfit where there are none
    headwear_size: tuple[float, float] = (1.0, 1.0)  # sideways beyond the skull, and upwards
    hair_size: tuple[float, float] = (1.0, 1.0)  # the same
    prop_size: float = 1.0
    lids: float = 1.0  # how far the eyes are open, of what the expression says; 0 closed
    look: tuple[float, float] = (0.0, 0.0)  # of the eyes in the picture: right, down; −1…1
    layout: Layout = field(default_factory=Layout)
    tints: tuple[tuple[str, Rgb], ...] = ()  # colours of single things, see `TINTED`, in place of the outfit's; in the order of names
    figure: str = "storybook"  # of `vocabulary.people.FIGURES`: the proportions and the way of drawing


@dataclass(frozen=True, slots=True)
class Standing:
    """Something that stands in a picture by itself, and where.

    Attributes
    ----------
    name : of `objects.table.OBJECTS`, or of a prop or companion.
    where : "beside", "behind" or "before" a figure, or "under" it, for a seat. of : the figure's index.
    on : the index of another thing of the picture on which it stands; None: on the ground.
    """

    name: str
    where: str = "beside"
    of: int = 0
    colour: Rgb | None = None  # in place of its own
    on: int | None = None


@dataclass(frozen=True, slots=True)
class Description(Person):
    """A whole picture: its first figure, the others, and the place around them."""

    others: tuple[Person, ...] = ()
    companion: str = "nobody"
    place: str = "roof garden"
    time: str = "noon"
    weather: str = "clear"
    light: str = "plain light"
    finish: tuple[str, ...] = ("gouache",)
    tones: tuple[tuple[str, Rgb], ...] = ()  # colours of "sky", "background" and "companion", in place of their own
    things: tuple[Standing, ...] = ()  # at most MOST_THINGS are drawn

    @property
    def figures(self) -> tuple[Person, ...]:
        return (self, *self.others)
