"""The kinds of maps: how the key of each begins, what it is of, how it is checked and made. A new kind is an entry here."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Any

from sqlalchemy.orm import Session

from mosskeeper.core.errors import NotFound
from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.pictures.difference import delta_e_map, drawn, share_seen
from mosskeeper.core.reading.maps import MAPS, draw_map
from mosskeeper.studio import choosing, cut_outs, following, influences, pictures, readings, shots

Made = tuple[bytes, dict[str, Any]]  # PNG, empty where there is none; and what was measured in making it
_PICTURE, _ID = "[0-9a-f]{64}", "[0-9]{1,9}"


@dataclass(frozen=True, slots=True)
class MapKind:
    """One kind of maps.

    of : patterns of what its key names after the kind. check : raises NotFound where that does not exist. make : for workers.
    """

    of: tuple[str, ...]
    check: Callable[..., None]
    make: Callable[..., Made]


def _are_there(session: Session, *names: str) -> None:
    for sha256 in names:
        pictures.find(session, sha256)


def _read_map(kind: str, session: Session, sha256: str) -> Made:
    image = draw_map(kind, pictures.pixels(session, sha256), readings.of_picture(session, sha256))
    return b"" if image is None else encode_png(image), {}


def _choices(session: Session, sha256: str) -> Made:
    return choosing.packed(choosing.made(session, sha256))


def _difference(session: Session, one: str, other: str) -> Made:
    apart = delta_e_map(pictures.pixels(session, one), pictures.pixels(session, other))
    return encode_png(drawn(apart)), {"seen": share_seen(apart)}


def _influence(session: Session, take: str, region: str) -> Made:
    return influences.made(session, int(take), int(region))


def _live(session: Session, shot: str, draft: str) -> Made:
    return following.made(session, int(shot), int(draft))


KINDS: dict[str, MapKind] = {
    **{name: MapKind((_PICTURE,), _are_there, partial(_read_map, name)) for name in MAPS},
    "choices": MapKind((_PICTURE,), _are_there, _choices),
    "cut-out": MapKind((_PICTURE,), _are_there, cut_outs.made),
    "difference": MapKind((_PICTURE, _PICTURE), _are_there, _difference),
    "influence": MapKind((_ID, "[0-7]"), lambda session, take, region: influences.check(session, int(take), int(region)), _influence),
    "live": MapKind((_ID, "[0-9]{1,10}"), lambda session, shot, _: (shots.find(session, int(shot)), None)[1], _live),
}
OF_PICTURE = tuple(name for name, kind in KINDS.items() if kind.of == (_PICTURE,))  # thrown away where a picture is read anew


def kind_of(key: str) -> tuple[MapKind, list[str]]:
    """The kind that a key names, and what the map is of. Raises NotFound where a key means no map."""
    name, *of = key.split(":")
    kind = KINDS.get(name)
    if kind is None or len(of) != len(kind.of) or not all(re.fullmatch(p, value) for p, value in zip(kind.of, of, strict=True)):
        raise NotFound("There is no such map.")
    return kind, of
