"""The places a figure can stand in. A new place is one module and one line here."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from mosskeeper.core.illustrator.places import canal_market, fern_house, library_stair, roof_garden
from mosskeeper.core.illustrator.places.stage import Stage


@dataclass(frozen=True, slots=True)
class Place:
    build: Callable[[Stage], None]
    haze: float  # density of its air: 0 clear … 1 misty
    outdoors: bool = True


PLACES: dict[str, Place] = {
    "roof garden": Place(roof_garden.build, 0.80),
    "fern house": Place(fern_house.build, 0.55, outdoors=False),
    "canal market": Place(canal_market.build, 0.95),
    "library stair": Place(library_stair.build, 0.50, outdoors=False),
}
