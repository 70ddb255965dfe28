"""Putting jobs into the queue, in the transaction that makes them needed: either both happen or neither."""

from __future__ import annotations

import contextlib
from collections.abc import Iterable

import procrastinate
from procrastinate.exceptions import AlreadyEnqueued
from sqlalchemy.orm import Session

from mosskeeper.queue.names import MAKE_MAP, MAKE_TAKES, MEASURE, MEASURE_CHARACTER, QUEUE, READ, READING
from mosskeeper.studio import readings


def defer(
    session: Session,
    app: procrastinate.App,
    task: str,
    queue: str,
    lock: str | None,
    once: str | None,
    priority: int = 0,
    **arguments: int | str,
) -> None:
    """Defers a job on the session's own connection. lock : of jobs that must not run at the same time. once : a job with
    the same is not put in twice while it waits.
    """
    with contextlib.suppress(AlreadyEnqueued), session.begin_nested():
        # asked for inside, or the savepoint would not be there yet
        connection = session.connection().connection.driver_connection
        job = app.configure_task(task, queue=queue, lock=lock, queueing_lock=once, priority=priority, connection=connection)
        job.defer(**arguments)


def make_run(session: Session, app: procrastinate.App, run_id: int) -> None:
    """Lets a worker make the takes of a run. Of one run's jobs only one waits, and only one is done at a time."""
    defer(session, app, MAKE_TAKES, QUEUE, f"run {run_id}", f"run {run_id}", run_id=run_id)


def want_readings(session: Session, app: procrastinate.App, names: Iterable[str]) -> None:
    """Lets pictures be read that the present reader has not seen."""
    for sha256 in dict.fromkeys(names):
        if readings.known(session, sha256) is None:
            defer(session, app, READ, READING, None, f"read {sha256}", 2, sha256=sha256)


def want_measures(session: Session, app: procrastinate.App, take_id: int) -> None:
    defer(session, app, MEASURE, READING, None, f"measure {take_id}", 1, take_id=take_id)


def want_drift(session: Session, app: procrastinate.App, character_id: int) -> None:
    """Lets the takes of a character be measured anew, its anchors having changed."""
    defer(session, app, MEASURE_CHARACTER, READING, f"drift {character_id}", f"drift {character_id}", 0, character_id=character_id)


def want_map(session: Session, app: procrastinate.App, key: str) -> None:
    defer(session, app, MAKE_MAP, READING, None, f"map {key}", 3, key=key)
