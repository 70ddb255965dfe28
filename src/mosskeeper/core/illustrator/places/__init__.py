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
    lands,
    library_stair,
    moss_well,
    night_train,
    open_country,
    plain_backdrop,
    roof_garden,
    rooms,
    seed_vault,
    streets,
    tide_flats,
)
from mosskeeper.core.illustrator.places.stage import PlaceFrame


@dataclass(frozen=True, slots=True)
class Place:
    build: Callable[[PlaceFrame], None]
    haze: float  # density of its air: 0 clear … 1 misty
    floor: float  # place coordinate from which down one can stand
    outdoors: bool = True


PLACES: dict[str, Place] = {
    "roof garden": Place(roof_garden.build, 0.80, 0.99),
    "fern house": Place(fern_house.build, 0.55, 0.94, outdoors=False),
    "canal market": Place(canal_market.build, 0.95, 1.07),
    "library stair": Place(library_stair.build, 0.50, 0.96, outdoors=False),
    "kite loft": Place(kite_loft.build, 0.45, 0.98, outdoors=False),
    "lamp quay": Place(lamp_quay.build, 1.05, 1.04),
    "seed vault": Place(seed_vault.build, 0.40, 0.94, outdoors=False),
    "festival bridge": Place(festival_bridge.build, 0.80, 0.99),
    "moss well": Place(moss_well.build, 0.75, 0.91),
    "bell tower": Place(bell_tower.build, 0.80, 1.00),
    "night train": Place(night_train.build, 0.30, 1.03, outdoors=False),
    "tide flats": Place(tide_flats.build, 0.80, 0.66),
    "kitchen": Place(kitchen.build, 0.30, 0.97, outdoors=False),
    "forest path": Place(forest_path.build, 0.85, 0.87),
}

USUAL = tuple(PLACES)  # where a picture may be by chance
NAMED: dict[str, Place] = {  # only where words or references name it
    **{name: Place(lands.building(land), 0.60, 0.74) for name, land in lands.LANDS.items()},
    **{name: Place(rooms.building(room), 0.20, 0.95, outdoors=False) for name, room in rooms.ROOMS.items()},
    "city street": Place(streets.city_street, 0.42, 0.92),
    "village street": Place(streets.village_street, 0.42, 0.92),
    "alley": Place(streets.alley, 0.42, 0.92),
    "castle": Place(streets.castle, 0.42, 0.90),
    "ruins": Place(streets.ruins, 0.42, 0.90),
    "cave": Place(rooms.cave, 0.25, 0.92, outdoors=False),
    "ship's deck": Place(rooms.ship_deck, 0.80, 0.95),
    "outer space": Place(rooms.outer_space, 0.0, 0.88, outdoors=False),
    "under water": Place(rooms.under_water, 1.0, 1.0, outdoors=False),
}
PLACES |= NAMED

# Built of the colours that a board or words give them; they are no places that are chosen at random.
OPEN_COUNTRY = "open country"
PLAIN_BACKDROP = "plain backdrop"
_OF_COLOURS = {
    OPEN_COUNTRY: Place(open_country.build, 0.60, 0.66),
    PLAIN_BACKDROP: Place(plain_backdrop.build, 0.0, 0.80, outdoors=False),
}


def place_called(name: str) -> Place:
    """A place of PLACES, or one that is built of colours.

    Raises KeyError where there is none of that name.
    """
    return _OF_COLOURS[name] if name in _OF_COLOURS else PLACES[name]
