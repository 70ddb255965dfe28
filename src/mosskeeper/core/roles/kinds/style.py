"""Style: how a picture is drawn, whatever it shows."""

from __future__ import annotations

from mosskeeper.core.continuity.measures import agreement
from mosskeeper.core.reading.handling import handled_alike, measure_handling
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.roles.role import CueComparison, Reference


class Style(Reference):
    name, order = "style", 5
    says = "Draws in the finish of the picture, with its lines, grain and handling of colour; not what it shows."
    weight = 0.7
    too_heavy = "will take over the grain of the picture whatever its own finish needs"
    meaning = "same finish, lines, grain and strength of colour"
    parts = ("finish", "line and grain")
    offered = parts
    confinable = False

    def alike(self, a: Reading, b: Reading) -> float | None:
        if "finish" not in a.attributes or "finish" not in b.attributes:
            return None
        return agreement(a.attributes["finish"], b.attributes["finish"])

    def obeyed(self, compared: CueComparison) -> float | None:
        handled = handled_alike(measure_handling(compared.source), measure_handling(compared.picture))
        named = self.alike(compared.source_reading, compared.reading)
        return handled if named is None else 0.5 * named + 0.5 * handled


ROLE = Style()
