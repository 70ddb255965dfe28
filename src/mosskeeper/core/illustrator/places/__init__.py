"""The places a figure can stand in. A new place is one module and one line here."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from mosskeeper.core.illustrator.places import (
    bell_tower,
    canal_market,
    fern_house,
    festival_bridge,
    forest_path,
    kitchen,
    kite_loft,
    lamp_quay,
    library_stair,
    moss_well,
    night_train,
    roof_garden,
    seed_vault,
    tide_flats,
)
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
    "kite loft": Place(kite_loft.build, 0.45, outdoors=False),
    "lamp quay": Place(lamp_quay.build, 1.05),
    "seed vault": Place(seed_vault.build, 0.40, outdoors=False),
    "festival bridge": Place(festival_bridge.build, 0.80),
    "moss well": Place(moss_well.build, 0.75),
    "bell tower": Place(bell_tower.build, 0.80),
    "night train": Place(night_train.build, 0.30, outdoors=False),
    "tide flats": Place(tide_flats.build, 0.80),
    "kitchen": Place(kitchen.build, 0.30, outdoors=False),
    "forest path": Place(forest_path.build, 0.85),
}
