"""What the reader tells apart: its part groups, and the attributes it names. The weights carry a copy of these lists."""

from __future__ import annotations

from types import MappingProxyType

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.face import LANDMARKS
from mosskeeper.core.illustrator.skeleton import JOINTS
from mosskeeper.core.traits import USUAL_WORN
from mosskeeper.core.words.attributes import ATTRIBUTES

PLACE, SKY, GROUND = 0, 1, 2
PARTS = (
    "place",
    "sky",
    "ground",
    "hair",
    "face",
    "neck",
    "bare limbs",
    "top",
    "sleeve",
    "bottom",
    "shoes",
    "outer",
    "headwear",
    "accessory",
    "prop",
    "companion",
)
FIGURE = slice(PARTS.index("hair"), PARTS.index("prop") + 1)
_GROUPS = {
    "sky": (Part.SKY,),
    "ground": (Part.GROUND, Part.WATER),
    "hair": (Part.HAIR,),
    "face": (Part.FACE, Part.BROW, Part.EYES, Part.MOUTH, Part.EAR, Part.FACIAL_HAIR),
    "neck": (Part.NECK,),
    "bare limbs": (Part.SKIN, Part.LEG, Part.HAND),
    "top": (Part.TOP,),
    "sleeve": (Part.SLEEVE,),
    "bottom": (Part.BOTTOM,),
    "shoes": (Part.SHOES,),
    "outer": (Part.OUTER,),
    "headwear": (Part.HEADWEAR,),
    "accessory": (Part.ACCESSORY,),
    "prop": (Part.PROP,),
    "companion": (Part.COMPANION,),
}
PART_OF = np.zeros(len(Part), np.uint8)  # Part → index in PARTS; what no group names is place
for _name, _parts in _GROUPS.items():
    PART_OF[list(_parts)] = PARTS.index(_name)

HEAD_VIEWS = ("front", "three-quarter", "profile")
UNKNOWN = "unknown"

# Attribute → values. Of the whole picture, of one figure, and of one head seen closely.
OF_PICTURE = MappingProxyType(
    {
        **{name: (*ATTRIBUTES[name].values, UNKNOWN) for name in ("place", "time", "weather", "light", "finish")},
        "companion": ATTRIBUTES["companion"].values,
    }
)
_FIGURE = (
    "subject",
    "build",
    "hair",
    "headwear",
    "outfit",
    "pattern",
    "prop",
    "pose",
    *(thing for thing in USUAL_WORN if thing != "earrings"),
)
OF_FIGURE = MappingProxyType({name: ATTRIBUTES[name].values for name in _FIGURE})
_HEAD = ("subject", "hair", "headwear", "freckles", "glasses", "facial hair", "mark", "expression", "earrings")
OF_HEAD = MappingProxyType({**{name: ATTRIBUTES[name].values for name in _HEAD}, "view": HEAD_VIEWS})
HEAD_COLOURS = ("skin", "hair colour", "eyes")
POSES_OF_HEAD = ("turn", "nod", "tilt")  # −1…1, −1…1, radians
JOINT_COUNT, LANDMARK_COUNT = len(JOINTS), len(LANDMARKS)
