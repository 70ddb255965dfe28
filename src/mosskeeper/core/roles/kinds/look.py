"""Look: a person with their clothes and colours."""

from __future__ import annotations

from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.roles import role
from mosskeeper.core.roles.role import Reference
from mosskeeper.core.traits import parts_of

_TOGETHER = ("palette", "face", "outfit")


class Look(Reference):
    name, order = "look", 0
    says = "Draws the person of the picture with their clothes, and the surroundings in its colours; not its place, light or pose."
    weight = 0.8
    meaning = "palette, person and clothes together"
    parts = (*parts_of("person", "clothes"), "palette")
    offered = parts
    hands_on = True
    pulls = "place"
    contests = ("hair colour", "skin", "eyes", "colour")

    def alike(self, a: Reading, b: Reading) -> float | None:
        found = [other.alike(a, b) for other in map(role, _TOGETHER) if isinstance(other, Reference)]
        known = [part for part in found if part is not None]
        return sum(known) / len(known)


ROLE = Look()
