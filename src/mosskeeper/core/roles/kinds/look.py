"""Look: a person with their clothes and colours."""

from __future__ import annotations

from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.roles import role
from mosskeeper.core.roles.role import Reference
from mosskeeper.core.traits import PERSON_PARTS, parts_of

_TOGETHER = ("palette", "face", "outfit")


class LookRole(Reference):
    name, order = "look", 0
    says = "Draws the person of the picture with their clothes, and the surroundings in its colours; not its place, light or pose."
    weight = 0.8
    meaning = "palette, person and clothes together"
    parts = (*PERSON_PARTS, *parts_of("clothes"), "palette")
    offered = parts
    hands_on = True
    pulls = "place"
    contests = ("hair colour", "skin", "eyes", "colour")

    def lacks(self, reading: Reading, skeleton: bool) -> str:
        held = reading.contents
        if reading.main is not None or (held is not None and held.subjects):
            return ""
        return "Nobody is recognised in this picture, so it lends its colours alone: choose a picture with a person, or the role palette."

    def alike(self, a: Reading, b: Reading) -> float | None:
        found = [other.alike(a, b) for other in map(role, _TOGETHER) if isinstance(other, Reference)]
        known = [part for part in found if part is not None]
        return sum(known) / len(known)


ROLE = LookRole()
