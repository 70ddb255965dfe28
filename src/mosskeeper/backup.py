"""Backups: everything that a studio holds in one file, in PostgreSQL's own format, taken while it runs."""

from __future__ import annotations

import os
import re
import subprocess
from pathlib import Path

import psycopg
from alembic.script import ScriptDirectory

from mosskeeper.cluster import binaries
from mosskeeper.migrate import alembic_config, upgrade


class BackupError(Exception):
    """A backup cannot be made or restored; the sentence says why and what to do."""


def back_up(database_url: str, to: Path) -> None:
    """Writes a backup. It is complete or not there: the file gets its name when all is in it.

    Raises BackupError where there is a file of that name already, or the database or disk does not let it.
    """
    if to.exists():
        raise BackupError(f"{to} is there already, and a backup overwrites nothing. Choose another name.")
    part = to.with_name(to.name + ".part")
    try:
        part.unlink(missing_ok=True)
        _run("pg_dump", "--format=custom", "--no-owner", "--no-privileges", "--file", str(part), database_url)
        part.rename(to)
    except OSError as error:
        raise BackupError(f"The backup cannot be written to {to}: {error.strerror}.") from None
    finally:
        part.unlink(missing_ok=True)


def restore(database_url: str, source: Path) -> None:
    """Restores a backup into an empty studio, and brings it up to date.

    Raises BackupError where the studio holds something already, or the file is no backup, or one of a newer version.
    """
    if not source.is_file():
        raise BackupError(f"There is no file {source}.")
    version = _version_of(source)
    known = {script.revision for script in ScriptDirectory.from_config(alembic_config(database_url)).walk_revisions()}
    if version not in known:
        raise BackupError(
            f"This backup was made by a newer version of Moss Keeper (data version {version}; this one knows up to "
            f"{max(known)}). Update Moss Keeper, then restore it."
        )
    with psycopg.connect(database_url, autocommit=True) as connection:
        if connection.execute("select to_regclass('stories') is not null").fetchone() == (True,):
            if connection.execute("select exists (select from stories) or exists (select from pictures)").fetchone() == (True,):
                raise BackupError(
                    "This studio holds something already. A backup is restored into an empty one: set MOSS_DATA to a new folder."
                )
            connection.execute("drop schema public cascade; create schema public")
    _run("pg_restore", "--no-owner", "--no-privileges", "--exit-on-error", "--single-transaction", "--dbname", database_url, str(source))
    upgrade(database_url)


def _version_of(source: Path) -> str:
    told = _run("pg_restore", "--data-only", "--table=alembic_version", "--file=-", str(source))
    found = re.search(r"^COPY [^\n]*alembic_version[^\n]*\n(\w+)$", told, re.MULTILINE)
    if found is None:
        raise BackupError(f"{source} is a backup, but not of a Moss Keeper studio.")
    return found[1]


def _run(command: str, *arguments: str) -> str:
    env = {name: value for name, value in os.environ.items() if not name.startswith("PG")}
    done = subprocess.run([str(binaries() / command), *arguments], env=env, text=True, capture_output=True, check=False)
    if done.returncode:
        said = (done.stderr.strip().splitlines() or ["it does not say why"])[-1]
        raise BackupError(f"PostgreSQL's {command} gave up: {said}")
    return done.stdout
