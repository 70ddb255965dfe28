"""Palette: colours, whatever they are on."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.reading.palette import FAR, palette_distance
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.roles.role import Reference


class PaletteRole(Reference):
    name, order = "palette", 6
    says = "Moves the colours towards those of the picture, skin protected."
    weight = 0.6
    too_heavy = "leaves the styles no colours of their own"
    meaning = "how far colours travel from one palette to the other"
    parts = ("palette",)
    offered = parts
    lends_palette = True
    pulls = "all"

    def alike(self, a: Reading, b: Reading) -> float | None:
        return float(np.clip(1 - palette_distance(a.palette, b.palette) / FAR, 0, 1))


ROLE = PaletteRole()
