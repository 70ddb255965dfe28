"""Look: person, clothes, place and colours at once."""

from __future__ import annotations

from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.roles import role
from mosskeeper.core.roles.role import Reference
from mosskeeper.core.words.attributes import ATTRIBUTES

_WHERE_THINGS_ARE = ("pose", "view", "gaze", "turned", "hand", "side", "framing", "angle")
_TOGETHER = ("palette", "face", "outfit", "place")


class Look(Reference):
    name, order = "look", 0
    says = "Draws person, clothes, place and colours towards the picture. Over .7 it leaves little to the words."
    too_heavy = "will copy the picture and mute words and styles"
    meaning = "palette, person, clothes and place together"
    lends = tuple(a for a in ATTRIBUTES if a not in (*_WHERE_THINGS_ARE, "colour", "trim"))
    lends_face = lends_cloth = lends_colours = hands_on = copies = True
    pulls = "all"
    contests = ("hair colour", "skin", "eyes", "colour")

    def alike(self, a: Reading, b: Reading) -> float | None:
        parts = [other.alike(a, b) for other in map(role, _TOGETHER) if isinstance(other, Reference)]
        known = [part for part in parts if part is not None]
        return sum(known) / len(known)


ROLE = Look()
