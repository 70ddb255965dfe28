"""The queue on PostgreSQL, and putting runs into it."""

from __future__ import annotations

from collections.abc import Sequence

import procrastinate
from procrastinate import PsycopgConnector
from sqlalchemy.orm import Session

from mosskeeper.core.recipe import Recipe
from mosskeeper.core.sweep import Dial
from mosskeeper.queue.tasks import MAKE_TAKES, QUEUE, register
from mosskeeper.studio import runs
from mosskeeper.studio.models import Run, Shot


def queue_app(database_url: str) -> procrastinate.App:
    connector = PsycopgConnector(conninfo=database_url, min_size=1, max_size=4, timeout=10, reconnect_timeout=20)
    app = procrastinate.App(connector=connector)
    register(app)
    return app


def submit(session: Session, app: procrastinate.App, shot: Shot, recipe: Recipe, dials: Sequence[Dial] = ()) -> Run:
    """Creates a run and enqueues its job in the same transaction: either both exist or neither."""
    run = runs.create(session, shot, recipe, dials)
    _enqueue(session, app, run)
    return run


def resubmit(session: Session, app: procrastinate.App, run_id: int) -> Run:
    """Takes up a run again whose engine stayed busy."""
    run = runs.take_up_again(session, run_id)
    if run is not None:
        _enqueue(session, app, run)
    return runs.find(session, run_id)


def _enqueue(session: Session, app: procrastinate.App, run: Run) -> None:
    connection = session.connection().connection.driver_connection
    app.configure_task(MAKE_TAKES, queue=QUEUE, lock=f"run {run.id}", connection=connection).defer(run_id=run.id)
