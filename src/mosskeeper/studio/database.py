"""The connection to PostgreSQL, and what only the driver does well: reading bytes in binary."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, TypeVar

from sqlalchemy import Engine, Select, create_engine
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.errors import NotFound

Row = TypeVar("Row")


def connect(url: str) -> Engine:
    """An engine for a `postgresql://` address. Connections that a restart has broken are replaced unseen."""
    return create_engine(
        url.replace("postgresql://", "postgresql+psycopg://", 1),
        pool_pre_ping=True,
        pool_size=8,
        max_overflow=8,
        pool_timeout=10,
        connect_args={"connect_timeout": 5},
    )


def sessions(engine: Engine) -> sessionmaker[Session]:
    return sessionmaker(engine, expire_on_commit=False)


def locked(session: Session, kind: type[Row], key: object, missing: str) -> Row:
    """A row as it stands in the database now, locked until this transaction ends: for all that reads and then writes.

    What the session read of it before is forgotten, or an older state would be written back. Raises NotFound with `missing`.
    """
    session.flush()
    row = session.get(kind, key, with_for_update={"of": kind}, populate_existing=True)
    if row is None:
        raise NotFound(missing)
    return row


def read_bytes(session: Session, statement: str, key: object) -> bytes | None:
    """The single bytea that a statement with one parameter selects, read in binary (text is five times slower)."""
    rows = _binary(session, statement, (key,))
    return bytes(rows[0][0]) if rows else None


def read_binary(session: Session, query: Select[Any]) -> list[tuple[Any, ...]]:
    """The rows of a query without lists of values, read in binary: for thousands of rows with a bytea in each."""
    session.flush()
    compiled = query.compile(dialect=session.get_bind().dialect)
    return _binary(session, str(compiled), compiled.params)


def _binary(session: Session, statement: str, parameters: tuple[object, ...] | Mapping[str, object]) -> list[tuple[Any, ...]]:
    connection = session.connection().connection.driver_connection
    assert connection is not None
    with connection.cursor(binary=True) as cursor:
        rows: list[tuple[Any, ...]] = cursor.execute(statement, parameters).fetchall()
    return rows
