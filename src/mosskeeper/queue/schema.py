"""The queue's own tables. Knows no jobs, so that a start need not load what jobs need."""

from __future__ import annotations

import procrastinate
import psycopg


def install(database_url: str) -> None:
    """Creates the queue's tables where they are missing."""
    with psycopg.connect(database_url, autocommit=True) as connection:
        row = connection.execute("select to_regclass('procrastinate_jobs')").fetchone()
        if row and row[0]:
            return
    app = procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=database_url))
    with app.open():
        app.schema_manager.apply_schema()
