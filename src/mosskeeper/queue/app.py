"""The queue on PostgreSQL: its jobs, and putting runs into it."""

from __future__ import annotations

from collections.abc import Sequence

import procrastinate
from procrastinate import PsycopgConnector
from sqlalchemy.orm import Session

from mosskeeper.core.recipe import Recipe
from mosskeeper.core.sweep import Dial
from mosskeeper.queue import house, mending, reading
from mosskeeper.queue.deferring import make_run
from mosskeeper.queue.names import (
    CATCH_UP,
    COPY_MEND,
    DRAW_CANVAS,
    FULL_SIZE,
    HOUSE,
    MAKE_MAP,
    MAKE_TAKES,
    MEASURE,
    MEASURE_CHARACTER,
    QUEUE,
    READ,
    READING,
    RESCUE,
    TIDY,
)
from mosskeeper.queue.tasks import Retrying, make_takes
from mosskeeper.studio import readings, runs
from mosskeeper.studio.models import Run, Shot


def queue_app(database_url: str) -> procrastinate.App:
    connector = PsycopgConnector(conninfo=database_url, min_size=1, max_size=4, timeout=10, reconnect_timeout=20)
    app = procrastinate.App(connector=connector)
    _register(app)
    return app


def _register(app: procrastinate.App) -> None:
    """Makes the jobs known to an app of the queue. Periodic ones wait once and run once over all workers."""
    app.task(name=MAKE_TAKES, queue=QUEUE, pass_context=True, retry=Retrying())(make_takes)
    for name, job in (
        (READ, reading.read_picture),
        (MEASURE, reading.measure_take),
        (MEASURE_CHARACTER, reading.measure_character),
        (MAKE_MAP, reading.make_map),
        (COPY_MEND, mending.copy_mend),
        (DRAW_CANVAS, mending.draw_canvas),
        (FULL_SIZE, mending.put_back),
    ):
        app.task(name=name, queue=READING, pass_context=True, retry=Retrying())(job)
    for name, queue, chore, cron, lock in (
        (RESCUE, HOUSE, house.rescue, "* * * * * */5", None),  # every five seconds: the sixth field
        (TIDY, HOUSE, house.tidy, "17 * * * *", TIDY),
        (CATCH_UP, READING, reading.catch_up, "* * * * * */5", CATCH_UP),
    ):
        # no lock on rescue: one that died with its worker would keep all others from rescuing it
        app.periodic(cron=cron)(app.task(name=name, queue=queue, queueing_lock=name, lock=lock, pass_context=True)(chore))


def submit(
    session: Session,
    app: procrastinate.App,
    shot: Shot,
    recipe: Recipe,
    dials: Sequence[Dial] = (),
    of_mend: runs.OfMend | None = None,
) -> Run:
    """Creates a run and enqueues its job in the same transaction: either both exist or neither."""
    recipe = readings.settled(session, recipe)
    run = runs.create(session, shot, recipe, dials, of_mend)
    make_run(session, app, run.id)
    return run


def resubmit(session: Session, app: procrastinate.App, run_id: int) -> Run:
    """Takes up a held or failed run again: with the same recipe, and only what is missing."""
    run = runs.take_up_again(session, run_id)
    if run is not None:
        make_run(session, app, run.id)
    return runs.find(session, run_id)
