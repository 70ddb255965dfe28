"""Alembic's environment. The queue's own tables are none of its business."""

from alembic import context
from sqlalchemy import NullPool, create_engine

from mosskeeper.studio.models import Base


def _include(name: str | None, kind: str, _parents: object) -> bool:
    return not (kind == "table" and (name or "").startswith(("procrastinate_", "queue_")))


url = context.config.get_main_option("sqlalchemy.url")
assert url
with create_engine(url, poolclass=NullPool).connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata, include_name=_include, compare_type=True)
    with context.begin_transaction():
        context.run_migrations()
