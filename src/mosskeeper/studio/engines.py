"""Engines: those built in, and the remote ones that were connected."""

from __future__ import annotations

import re
from urllib.parse import urlsplit

from sqlalchemy import select
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError
from mosskeeper.engines import BUILT_IN
from mosskeeper.engines.contract import Engine
from mosskeeper.engines.remote import RemoteEngine, Told, ask
from mosskeeper.studio.models import RemoteEngineRow

_MOST = 20


def all_engines(session: Session) -> list[Engine]:
    rows = session.scalars(select(RemoteEngineRow).order_by(RemoteEngineRow.created_at, RemoteEngineRow.key))
    return [*BUILT_IN.values(), *(_remote(row) for row in rows)]


def find(session: Session, key: str) -> Engine:
    """The engine with this key. Raises ArtistError where there is none."""
    if key in BUILT_IN:
        return BUILT_IN[key]
    row = session.get(RemoteEngineRow, key)
    if row is None:
        known = ", ".join(engine.title for engine in all_engines(session))
        raise ArtistError(f"There is no engine “{key}” here. Choose one of: {known}.", "engine")
    return _remote(row)


def connect(session: Session, url: str) -> Engine:
    """Connects the service at an address; one that is connected already is asked anew what it can do.

    Raises
    ------
    ArtistError
        where this is no address, nobody answers there, or what answers is no engine.
    """
    url = url.strip().rstrip("/")
    split = urlsplit(url)
    if split.scheme not in ("http", "https") or not split.hostname:
        raise ArtistError("This is no address of a service: it begins with http:// or https://.", "url")
    told = ask(url)
    row = session.scalar(select(RemoteEngineRow).where(RemoteEngineRow.url == url))
    if row is None:
        taken = {engine.key for engine in all_engines(session)}
        if len(taken) >= _MOST:
            raise ArtistError(f"{_MOST} engines are the most that one studio takes.", "url")
        row = RemoteEngineRow(key=_key(told.title, taken), url=url, told={})
        session.add(row)
    row.told = told.model_dump()
    session.flush()
    return _remote(row)


def disconnect(session: Session, key: str) -> None:
    """Forgets a remote engine. Recipes that name it stay as they are, and say so when they are run."""
    row = session.get(RemoteEngineRow, key)
    if row is not None:
        session.delete(row)
        session.flush()


def _key(title: str, taken: set[str]) -> str:
    base = re.sub(r"[^a-z0-9]+", "-", title.lower()).strip("-")[:50] or "engine"
    return next(key for key in (base, *(f"{base}-{n}" for n in range(2, _MOST + 2))) if key not in taken)


def _remote(row: RemoteEngineRow) -> RemoteEngine:
    return RemoteEngine(row.key, row.url, Told.model_validate(row.told))
