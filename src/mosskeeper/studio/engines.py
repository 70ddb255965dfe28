"""Engines: those built in, and the remote ones that were connected."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import UTC, datetime
from urllib.parse import SplitResult, urlsplit

from sqlalchemy import select
from sqlalchemy.orm import Session

from mosskeeper.core import limits
from mosskeeper.core.errors import ArtistError
from mosskeeper.engines import BUILT_IN
from mosskeeper.engines.contract import Engine
from mosskeeper.engines.remote import EngineInfo, RemoteEngine, ask
from mosskeeper.studio.models import RemoteEngineRow

_MOST = 20


@dataclass(frozen=True, slots=True)
class Known:
    """An engine that a recipe may name. away : it was disconnected, or is none that this studio ever knew."""

    key: str
    title: str
    engine: Engine | None
    away: bool = False


class EngineAway(ArtistError):
    """The engine that a recipe names is not connected."""


def all_engines(session: Session) -> list[Engine]:
    """The engines that can be used now."""
    rows = session.scalars(
        select(RemoteEngineRow).where(RemoteEngineRow.away_since.is_(None)).order_by(RemoteEngineRow.created_at, RemoteEngineRow.key)
    )
    return [*BUILT_IN.values(), *(_remote(row) for row in rows)]


def known(session: Session, key: str) -> Known:
    """What is known of the engine that a recipe names, whether it is here or not."""
    if key in BUILT_IN:
        return Known(key, BUILT_IN[key].title, BUILT_IN[key])
    row = session.get(RemoteEngineRow, key)
    if row is None:
        return Known(key, key, None, away=True)
    engine = _remote(row)
    return Known(key, engine.title, engine, row.away_since is not None)


def find(session: Session, key: str) -> Engine:
    """The engine with this key. Raises EngineAway where it is not here."""
    found = known(session, key)
    if found.engine is None or found.away:
        others = ", ".join(engine.title for engine in all_engines(session))
        raise EngineAway(f"The engine “{found.title}” is away. Connect it again, or choose one of: {others}.", "engine")
    return found.engine


def connect(session: Session, url: str) -> Engine:
    """Connects the service at an address; one that is connected already is asked anew what it can do.

    Raises
    ------
    ArtistError
        where this is no address, nobody answers there, or what answers is no engine.
    """
    url = url.strip().rstrip("/")
    split = _split(url)
    if split.scheme not in ("http", "https") or not split.hostname:
        raise ArtistError("This is no address of a service: it begins with http:// or https://.", "url")
    if split.username or split.password:
        raise ArtistError("This address holds a name or a key, which would be kept and shown. Leave it out.", "url")
    told = ask(url)
    row = session.scalar(select(RemoteEngineRow).where(RemoteEngineRow.url == url))
    if row is None:
        taken = {*BUILT_IN, *session.scalars(select(RemoteEngineRow.key))}
        if len(taken) >= _MOST:
            raise ArtistError(f"{_MOST} engines are the most that one studio takes.", "url")
        row = RemoteEngineRow(key=_key(told.title, taken), url=url, told={})
        session.add(row)
    row.told, row.away_since = told.model_dump(), None
    session.flush()
    return _remote(row)


def _split(url: str) -> SplitResult:
    try:
        split = urlsplit(limits.storable(url))
        _ = split.port
    except ValueError:
        raise ArtistError("This is no address of a service. Copy it from where the service was started.", "url") from None
    return split


def disconnect(session: Session, key: str) -> None:
    """Sends a remote engine away. Recipes keep its name and say that it is away; connecting it again brings it back."""
    row = session.get(RemoteEngineRow, key)
    if row is not None:
        row.away_since = datetime.now(UTC)
        session.flush()


def away(session: Session) -> list[Known]:
    """The engines that were disconnected, the last one first."""
    rows = session.scalars(
        select(RemoteEngineRow).where(RemoteEngineRow.away_since.is_not(None)).order_by(RemoteEngineRow.away_since.desc())
    )
    return [known(session, row.key) for row in rows]


def _key(title: str, taken: set[str]) -> str:
    base = re.sub(r"[^a-z0-9]+", "-", title.lower()).strip("-")[:50] or "engine"
    return next(key for key in (base, *(f"{base}-{n}" for n in range(2, _MOST + 2))) if key not in taken)


def _remote(row: RemoteEngineRow) -> RemoteEngine:
    return RemoteEngine(row.key, row.url, EngineInfo.model_validate(row.told))
