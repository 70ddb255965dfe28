"""Maps that somebody asked to see: of one picture, or of the difference of two. A worker makes them; looking computes nothing."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import delete
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.reading.maps import MAPS
from mosskeeper.studio import choosing
from mosskeeper.studio.database import read_bytes
from mosskeeper.studio.map_kinds import OF_PICTURE, kind_of
from mosskeeper.studio.models import Map


def of_picture(kind: str, sha256: str) -> str:
    """The key of a map. Raises NotFound where there is no such kind."""
    if kind not in OF_PICTURE:
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
    """Raises NotFound where a key means no map, or what it is of does not exist."""
    kind, of = kind_of(key)
    kind.check(session, *of)


def make(session: Session, key: str) -> None:
    """Makes a map and stores it. An empty one says that there is no such map of this picture."""
    kind, of = kind_of(key)
    kind.check(session, *of)
    data, told = kind.make(session, *of)
    values = {"version": choosing.version(), "png": data, "facts": told}
    session.execute(insert(Map).values(key=key, **values).on_conflict_do_update(index_elements=["key"], set_=values))


def forget(session: Session, sha256: str) -> None:
    """Throws away the maps of a picture that is read differently now."""
    session.execute(delete(Map).where(Map.key.in_([f"{kind}:{sha256}" for kind in OF_PICTURE])))


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
