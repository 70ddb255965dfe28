"""The jobs of the queue. They may run twice or be cut off anywhere: a take is stored once all the same."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable
from datetime import UTC, datetime

import procrastinate
from procrastinate import JobContext, RetryStrategy
from procrastinate.job_context import AbortReason
from procrastinate.jobs import Status
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.errors import ArtistError, Stopped
from mosskeeper.core.recipe import Recipe
from mosskeeper.engines import engine_for
from mosskeeper.engines.contract import Progress
from mosskeeper.studio import readings, runs

log = logging.getLogger(__name__)
MAKE_TAKES = "make_takes"
RESCUE = "rescue"
QUEUE = "takes"
HOUSE = "house"  # short jobs that keep the rest going
_MOST_ATTEMPTS = 3


def register(app: procrastinate.App) -> None:
    """Makes the jobs known to an app of the queue."""
    retry = RetryStrategy(max_attempts=_MOST_ATTEMPTS, wait=1, retry_exceptions=(Interrupted, OperationalError))
    app.task(name=MAKE_TAKES, queue=QUEUE, pass_context=True, retry=retry)(make_takes)
    rescuing = app.task(name=RESCUE, queue=HOUSE, queueing_lock=RESCUE, pass_context=True)(rescue)
    app.periodic(cron="* * * * * */5")(rescuing)  # every five seconds: the sixth field


class Interrupted(Exception):
    """The worker is shutting down: the job goes back to the queue."""


def make_takes(context: JobContext, run_id: int) -> None:
    """Makes all takes of a run that are still missing."""
    sessions: sessionmaker[Session] = context.additional_context["sessions"]
    worker: str = context.additional_context["worker"]
    with sessions.begin() as session:
        begun = runs.begin(session, run_id, worker)
        if begun is None:
            return
        recipe, missing = begun
        pictures = runs.cue_pixels(session, recipe)
        seen = readings.of_recipe(session, recipe)
    engine = engine_for(recipe.engine)
    try:
        for place, seed in missing:
            started = time.monotonic()
            report, should_stop = _watch(context, sessions, run_id, place, recipe)
            image = engine.generate(recipe.with_seed(seed), seed, pictures, seen, report, should_stop)
            with sessions.begin() as session:
                sha256 = runs.store_take(session, run_id, place, seed, image, time.monotonic() - started)
            _look_at(sessions, sha256)
        _finish(sessions, run_id, "done")
    except Stopped:
        if context.abort_reason() == AbortReason.SHUTDOWN:
            with sessions.begin() as session:
                runs.give_back(session, run_id)
            raise Interrupted from None
        _finish(sessions, run_id, "stopped")
    except ArtistError as error:
        _finish(sessions, run_id, "failed", error.sentence)
    except OperationalError:
        raise  # the database is away: the queue tries again
    except Exception:
        log.exception("run %s failed", run_id)
        _finish(sessions, run_id, "failed", f"Something broke inside the engine; nothing of yours is lost. The log names run {run_id}.")


def _look_at(sessions: sessionmaker[Session], sha256: str) -> None:
    """Reads a new take, so that nobody waits for it later. The take stands, whatever comes of this."""
    try:
        with sessions.begin() as session:
            readings.of_picture(session, sha256)
    except Exception:
        log.exception("picture %s could not be read", sha256)


def _finish(sessions: sessionmaker[Session], run_id: int, state: str, message: str = "") -> None:
    with sessions.begin() as session:
        runs.finish(session, run_id, state, message)


def _watch(
    context: JobContext, sessions: sessionmaker[Session], run_id: int, place: int, recipe: Recipe
) -> tuple[Callable[[Progress], None], Callable[[], bool]]:
    """What an engine reports to, and asks whether to stop."""
    asked_to_stop = False

    def report(p: Progress) -> None:
        nonlocal asked_to_stop
        with sessions.begin() as session:
            asked_to_stop = not runs.progress(session, run_id, place * recipe.steps + p.step, p.preview)

    def should_stop() -> bool:
        nonlocal asked_to_stop
        if not asked_to_stop:
            with sessions() as session:
                asked_to_stop = runs.stop_requested(session, run_id)
        return asked_to_stop or context.should_abort()

    return report, should_stop


async def rescue(context: JobContext, timestamp: int) -> None:
    """Gives the jobs of dead workers back to the queue, or ends them after too many tries."""
    manager = context.app.job_manager
    sessions: sessionmaker[Session] = context.additional_context["sessions"]
    for job in await manager.get_stalled_jobs(seconds_since_heartbeat=context.additional_context["stalled_seconds"]):
        assert job.id is not None
        if job.attempts >= _MOST_ATTEMPTS:
            await manager.finish_job_by_id_async(job.id, status=Status.FAILED, delete_job=False)
            if job.task_name == MAKE_TAKES:
                message = "The worker died three times in this run; the finished takes are kept. Run it again."
                _finish(sessions, int(job.task_kwargs["run_id"]), "failed", message)
        else:
            log.warning("job %s of a dead worker is given back to the queue", job.id)
            await manager.retry_job_by_id_async(job.id, retry_at=datetime.now(UTC))
