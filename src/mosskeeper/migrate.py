"""Bringing a database up to date: our tables by Alembic, the queue's by itself."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config

from mosskeeper.queue import schema

_MIGRATIONS = Path(__file__).parent / "migrations"


def alembic_config(database_url: str) -> Config:
    config = Config()
    config.set_main_option("script_location", str(_MIGRATIONS))
    config.set_main_option("sqlalchemy.url", database_url.replace("postgresql://", "postgresql+psycopg://", 1))
    return config


def upgrade(database_url: str) -> None:
    command.upgrade(alembic_config(database_url), "head")
    schema.install(database_url)
