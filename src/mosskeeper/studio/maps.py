"""Maps that somebody asked to see: of one picture, or of the difference of two. A worker makes them; looking computes nothing."""

from __future__ import annotations

import re
from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import delete
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.pictures.difference import delta_e_map, drawn, share_seen
from mosskeeper.core.reading.maps import MAPS, draw_map
from mosskeeper.studio import choosing, following, influences, pictures, readings, shots
from mosskeeper.studio.database import read_bytes
from mosskeeper.studio.models import Map

_KEY = re.compile(
    rf"(?:({'|'.join([*MAPS, 'choices'])}):([0-9a-f]{{64}})|difference:([0-9a-f]{{64}}):([0-9a-f]{{64}})|influence:([0-9]{{1,9}}):([0-7])|live:([0-9]{{1,9}}):([0-9]{{1,10}}))"
)


def of_picture(kind: str, sha256: str) -> str:
    """The key of a map. Raises NotFound where there is no such kind."""
    if kind not in (*MAPS, "choices"):
        raise NotFound(f"There is no map “{kind}”. There are {', '.join(MAPS)}.")
    return f"{kind}:{sha256}"


def of_difference(a: str, b: str) -> str:
    return f"difference:{a}:{b}"


def facts(session: Session, key: str) -> dict[str, Any] | None:
    """What was measured in making a map; None where it is not made yet."""
    row = session.get(Map, key)
    return row.facts if row is not None and row.version == choosing.version() else None


def png(session: Session, key: str) -> bytes | None:
    if facts(session, key) is None:
        return None
    data = read_bytes(session, "select png from maps where key = %s", key)
    return data or None


def check(session: Session, key: str) -> None:
    """Raises NotFound where a key means no map, or a picture of it does not exist."""
    found = _KEY.fullmatch(key)
    if found is None:
        raise NotFound("There is no such map.")
    for sha256 in (found[2], found[3], found[4]):
        if sha256 is not None:
            pictures.find(session, sha256)
    if found[7] is not None:
        shots.find(session, int(found[7]))
    if found[5] is not None:
        influences.check(session, int(found[5]), int(found[6]))


def make(session: Session, key: str) -> None:
    """Makes a map and stores it. An empty one says that the reader has no such map of this picture."""
    check(session, key)
    kind, *names = key.split(":")
    told: dict[str, Any] = {}
    if kind == "choices":
        data, told = choosing.packed(choosing.made(session, names[0]))
    elif kind == "influence":
        data, told = influences.made(session, *map(int, names))
    elif kind == "live":
        data, told = following.made(session, *map(int, names))
    elif kind == "difference":
        apart = delta_e_map(*(pictures.pixels(session, name) for name in names))
        told["seen"] = share_seen(apart)
        data = encode_png(drawn(apart))
    else:
        image = draw_map(kind, pictures.pixels(session, names[0]), readings.of_picture(session, names[0]))
        data = b"" if image is None else encode_png(image)
    values = {"version": choosing.version(), "png": data, "facts": told}
    session.execute(insert(Map).values(key=key, **values).on_conflict_do_update(index_elements=["key"], set_=values))


def forget(session: Session, sha256: str) -> None:
    """Throws away the maps of a picture that is read differently now."""
    session.execute(delete(Map).where(Map.key.in_([f"{kind}:{sha256}" for kind in (*MAPS, "choices")])))


def thin_out(session: Session, older: timedelta) -> None:
    """Throws away maps that were made long ago: whoever asks gets them again."""
    session.execute(delete(Map).where(Map.created_at < datetime.now(UTC) - older))


def wanted(session: Session, key: str) -> bool:
    """Whether a map is still to be made. Raises ArtistError where it was tried: there is none."""
    check(session, key)
    if facts(session, key) is None:
        return True
    if png(session, key) is None:
        raise ArtistError("The reader made no such map of this picture.", "maps")
    return False
