"""Place: where it is, when, in which weather and light."""

from __future__ import annotations

from mosskeeper.core.continuity.measures import agreements
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.roles.role import Reference
from mosskeeper.core.traits import parts_of


class PlaceRole(Reference):
    name, order = "place", 3
    says = "Draws place, time of day, weather and light. It ends at 60 %, so that details stay with the words."
    weight, end = 0.6, 60.0
    too_heavy = "will copy the place whatever the words say of it"
    meaning = "same place, time of day, weather and light"
    parts = (*parts_of("place", "light"), "palette")
    offered = parts
    pulls = "place"

    def lacks(self, reading: Reading, skeleton: bool) -> str:
        if reading.contents is None or reading.contents.surroundings:
            return ""
        return "Neither place nor light is recognised in this picture, so it lends its colours alone: name the place in the words."

    def alike(self, a: Reading, b: Reading) -> float | None:
        found = agreements(a.attributes, b.attributes, self.lends)
        return sum(found) / len(found) if found else None


ROLE = PlaceRole()
