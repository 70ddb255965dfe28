"""The queue's own tables. Knows no jobs, so that a start need not load what jobs need.

The queue ships its migrations as files and keeps no record of them: ours stands in `queue_migrations`.
"""

from __future__ import annotations

from pathlib import Path

import procrastinate
import psycopg
from procrastinate.schema import SchemaManager

# what every database has that was made before there was a record: a data folder of the first release
_UNRECORDED = "03.04.00_50_post_add_retry_failed_job_procedure.sql"


def migrations() -> list[Path]:
    """The files of the queue's migrations, in their order."""
    return sorted(Path(SchemaManager.get_migrations_path()).glob("*.sql"))


def install(database_url: str) -> None:
    """Creates the queue's tables where they are missing, and brings older ones up to date. Harmless where they are current."""
    with psycopg.connect(database_url, autocommit=True) as connection:
        connection.execute("select pg_advisory_lock(hashtext('queue migrations'))")  # of two that start at once, one waits
        there = connection.execute("select to_regclass('procrastinate_jobs') is not null").fetchone()
        recorded = connection.execute("select to_regclass('queue_migrations') is not null").fetchone()
        names = [path.name for path in migrations()]
        if there == (False,):
            _create(database_url)
        if recorded == (False,):
            connection.execute("create table queue_migrations (name text primary key, applied_at timestamptz not null default now())")
            done = names if there == (False,) else [name for name in names if name <= _UNRECORDED]
            connection.cursor().executemany("insert into queue_migrations (name) values (%s)", [(name,) for name in done])
        have = {name for (name,) in connection.execute("select name from queue_migrations")}
        for path in migrations():
            if path.name not in have:
                with connection.transaction():
                    connection.execute(path.read_bytes())
                    connection.execute("insert into queue_migrations (name) values (%s)", (path.name,))


def _create(database_url: str) -> None:
    app = procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=database_url))
    with app.open():
        app.schema_manager.apply_schema()
