"""Outfit: clothes and their colours, whoever wears them."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.continuity.measures import agreement, agreements
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.roles.role import Reference
from mosskeeper.core.traits import parts_of

_FAR = 40.0  # ΔE76 between unrelated clothes
_COMPARED = ("outfit", "pattern", "headwear", "prop", "scarf", "bag", "belt")


class OutfitRole(Reference):
    name, order = "outfit", 2
    says = "Draws the clothes and their colours, not who wears them."
    weight, end = 0.7, 90.0
    too_heavy = "will copy the clothes whatever the words say of them"
    meaning = "same clothes, in the same colours"
    parts = parts_of("clothes")
    offered = parts
    contests = ("colour",)

    def lacks(self, reading: Reading, skeleton: bool) -> str:
        held = reading.contents
        if reading.main is not None or (held is not None and held.subjects):
            return ""
        return "Nobody is recognised in this picture, so it has no clothes to lend: choose a picture in which somebody wears them."

    def alike(self, a: Reading, b: Reading) -> float | None:
        one, two = a.main, b.main
        if one is None or two is None:
            return None
        named = agreements(one.attributes, two.attributes, _COMPARED)
        if not named:
            return None
        cloth = []
        for name in ("colour", "trim"):
            if name in one.colours and name in two.colours:
                lab = rgb_to_lab(np.asarray([one.colours[name], two.colours[name]], np.float32))
                cloth.append(max(0.0, 1 - float(np.linalg.norm(lab[0] - lab[1])) / _FAR))
        first = agreement(one.attributes.get("outfit", {}), two.attributes.get("outfit", {}))
        rest = sum(named) / len(named)
        return 0.4 * first + 0.2 * rest + 0.4 * (sum(cloth) / len(cloth)) if cloth else 0.65 * first + 0.35 * rest


ROLE = OutfitRole()
