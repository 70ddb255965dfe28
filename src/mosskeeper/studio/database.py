"""The connection to PostgreSQL, and what only the driver does well: binary reads of pictures."""

from __future__ import annotations

from sqlalchemy import Engine, create_engine
from sqlalchemy.orm import Session, sessionmaker


def connect(url: str) -> Engine:
    """An engine for a `postgresql://` address. Connections that a restart has broken are replaced unseen."""
    return create_engine(
        url.replace("postgresql://", "postgresql+psycopg://", 1),
        pool_pre_ping=True, pool_size=8, max_overflow=8, pool_timeout=10,
        connect_args={"connect_timeout": 5},
    )  # fmt: skip


def sessions(engine: Engine) -> sessionmaker[Session]:
    return sessionmaker(engine, expire_on_commit=False)


def read_bytes(session: Session, statement: str, key: object) -> bytes | None:
    """The single bytea that a statement with one parameter selects, read in binary (text is five times slower)."""
    connection = session.connection().connection.driver_connection
    assert connection is not None
    with connection.cursor(binary=True) as cursor:
        row = cursor.execute(statement, (key,)).fetchone()
    return None if row is None else bytes(row[0])
