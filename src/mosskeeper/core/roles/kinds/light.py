"""Light: how a picture is lit, wherever that is."""

from __future__ import annotations

from mosskeeper.core.continuity.measures import agreements
from mosskeeper.core.reading.handling import lit_alike, measure_light
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.roles.role import CueComparison, Reference


class LightRole(Reference):
    name, order = "light", 4
    says = "Lights the picture like this one: time of day and direction, warmth and contrast; not its place or weather."
    weight = 0.7
    too_heavy = "fixes light and dark: words can no longer change the light"
    meaning = "same time of day and light, as warm and as contrasted"
    parts = ("time of day", "light", "warmth and contrast")
    offered = parts
    confinable = False

    def alike(self, a: Reading, b: Reading) -> float | None:
        found = agreements(a.attributes, b.attributes, ("time", "light"))
        return sum(found) / len(found) if found else None

    def obeyed(self, compared: CueComparison) -> float | None:
        lit = lit_alike(measure_light(compared.source), measure_light(compared.picture))
        named = self.alike(compared.source_reading, compared.reading)
        return lit if named is None else 0.5 * named + 0.5 * lit


ROLE = LightRole()
