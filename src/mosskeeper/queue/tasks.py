"""The jobs of the queue. They may run twice or be cut off anywhere: a take is stored once all the same."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta

import procrastinate
from procrastinate import BaseRetryStrategy, JobContext, RetryDecision
from procrastinate.job_context import AbortReason
from procrastinate.jobs import Job, Status
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.errors import ArtistError, Stopped
from mosskeeper.engines.contract import Busy, Progress
from mosskeeper.studio import engines, library, measures, readings, runs, takes

log = logging.getLogger(__name__)
MAKE_TAKES = "make_takes"
RESCUE = "rescue"
LOOK = "look at the library"
QUEUE = "takes"
HOUSE = "house"  # short jobs that keep the rest going
SHELF = "shelf"  # reading what came into the library
_MOST_DEATHS = 3  # of workers in one job
_ASKED_BUSY = 6
_LONGEST_WAIT = 60  # seconds
_LOOKED_AT_ONCE = 20


def register(app: procrastinate.App) -> None:
    """Makes the jobs known to an app of the queue."""
    app.task(name=MAKE_TAKES, queue=QUEUE, pass_context=True, retry=_Retrying())(make_takes)
    rescuing = app.task(name=RESCUE, queue=HOUSE, queueing_lock=RESCUE, pass_context=True)(rescue)
    app.periodic(cron="* * * * * */5")(rescuing)  # every five seconds: the sixth field
    looking = app.task(name=LOOK, queue=SHELF, queueing_lock=LOOK, lock=LOOK, pass_context=True)(look_at_library)
    app.periodic(cron="* * * * * */5")(looking)


class Interrupted(Exception):
    """The worker is shutting down: the job goes back to the queue."""


class AskAgain(Exception):
    """The engine is busy: the job is tried again in so many seconds."""

    def __init__(self, seconds: int) -> None:
        super().__init__(f"again in {seconds} s")
        self.seconds = seconds


class _Retrying(BaseRetryStrategy):
    def get_retry_decision(self, *, exception: BaseException, job: Job) -> RetryDecision | None:
        if isinstance(exception, AskAgain):
            return RetryDecision(retry_in={"seconds": exception.seconds})
        if isinstance(exception, Interrupted) or (isinstance(exception, OperationalError) and job.attempts < _ASKED_BUSY + _MOST_DEATHS):
            return RetryDecision(retry_in={"seconds": 1})
        return None


def make_takes(context: JobContext, run_id: int) -> None:
    """Makes all takes of a run that are still missing."""
    sessions: sessionmaker[Session] = context.additional_context["sessions"]
    worker: str = context.additional_context["worker"]
    with sessions.begin() as session:
        missing = runs.begin(session, run_id, worker)
        if missing is None:
            return
    try:
        for one in missing:
            _make_one(context, sessions, run_id, one)
        _finish(sessions, run_id, "done")
    except Stopped:
        if context.abort_reason() == AbortReason.SHUTDOWN:
            with sessions.begin() as session:
                runs.give_back(session, run_id)
            raise Interrupted from None
        _finish(sessions, run_id, "stopped")
    except Busy as busy:
        _busy(sessions, run_id, busy, context.job.attempts)
    except ArtistError as error:
        _finish(sessions, run_id, "failed", error.sentence)
    except OperationalError:
        raise  # the database is away: the queue tries again
    except Exception:
        log.exception("run %s failed", run_id)
        _finish(sessions, run_id, "failed", f"Something broke inside the engine; nothing of yours is lost. The log names run {run_id}.")


def _make_one(context: JobContext, sessions: sessionmaker[Session], run_id: int, one: runs.Missing) -> None:
    """Makes, stores and measures one take."""
    started, recipe = time.monotonic(), one.recipe
    with sessions.begin() as session:
        engine = engines.find(session, recipe.engine)
        pictures = runs.cue_pixels(session, recipe)
        seen = readings.of_recipe(session, recipe)
    report, should_stop = _watch(context, sessions, run_id, one.before)
    image = engine.generate(recipe, one.seed, pictures, seen, report, should_stop)
    with sessions.begin() as session:
        take_id = runs.store_take(session, run_id, one.place, one.seed, image, time.monotonic() - started).id
    _look_at(sessions, take_id)


def _busy(sessions: sessionmaker[Session], run_id: int, busy: Busy, attempts: int) -> None:
    """Asks a busy engine again, each time later; after the last try the run is held for the artist."""
    if attempts + 1 >= _ASKED_BUSY:
        _finish(
            sessions,
            run_id,
            "held",
            f"The engine was busy {_ASKED_BUSY} times. The recipe and the finished takes are kept: try again when you like.",
        )
        return
    seconds = min(round(busy.after) if busy.after is not None else 2 ** (attempts + 1), _LONGEST_WAIT)
    message = f"The engine is busy; it is asked again in {seconds} s ({attempts + 1} of {_ASKED_BUSY})."
    with sessions.begin() as session:
        runs.give_back(session, run_id, datetime.now(UTC) + timedelta(seconds=seconds), message)
    raise AskAgain(seconds)


def _look_at(sessions: sessionmaker[Session], take_id: int) -> None:
    """Reads and measures a new take, so that nobody waits for it later. The take stands, whatever comes of this."""
    try:
        with sessions.begin() as session:
            measures.of_take(session, takes.find(session, take_id))
            library.look(session, library.of_take(session, take_id))
    except Exception:
        log.exception("take %s could not be measured", take_id)


def _finish(sessions: sessionmaker[Session], run_id: int, state: str, message: str = "") -> None:
    with sessions.begin() as session:
        runs.finish(session, run_id, state, message)


def _watch(
    context: JobContext, sessions: sessionmaker[Session], run_id: int, before: int
) -> tuple[Callable[[Progress], None], Callable[[], bool]]:
    """What an engine reports to, and asks whether to stop."""
    asked_to_stop = False

    def report(p: Progress) -> None:
        nonlocal asked_to_stop
        with sessions.begin() as session:
            asked_to_stop = not runs.progress(session, run_id, before + p.step, p.preview)

    def should_stop() -> bool:
        nonlocal asked_to_stop
        if not asked_to_stop:
            with sessions() as session:
                asked_to_stop = runs.stop_requested(session, run_id)
        return asked_to_stop or context.should_abort()

    return report, should_stop


def look_at_library(context: JobContext, timestamp: int) -> None:
    """Reads pictures of the library that the present reader has not seen, a few at a time so that runs go first."""
    sessions: sessionmaker[Session] = context.additional_context["sessions"]
    with sessions() as session:
        waiting = [entry.id for entry in library.unread(session, _LOOKED_AT_ONCE)]
    for entry_id in waiting:
        if context.should_abort():
            return
        try:
            with sessions.begin() as session:
                library.look(session, library.find(session, entry_id))
        except OperationalError:
            raise
        except Exception:
            log.exception("entry %s of the library could not be read", entry_id)
            with sessions.begin() as session:
                library.give_up(session, entry_id)


def _deaths(sessions: sessionmaker[Session], job: Job) -> int:
    """How many workers died in a stalled job. The queue counts its tries, among which are those that a busy engine ended."""
    if job.task_name != MAKE_TAKES:
        return job.attempts
    with sessions() as session:
        return runs.deaths(session, int(str(job.task_kwargs["run_id"])))


async def rescue(context: JobContext, timestamp: int) -> None:
    """Gives the jobs of dead workers back to the queue, or ends them after too many tries."""
    manager = context.app.job_manager
    sessions: sessionmaker[Session] = context.additional_context["sessions"]
    for job in await manager.get_stalled_jobs(seconds_since_heartbeat=context.additional_context["stalled_seconds"]):
        assert job.id is not None
        if _deaths(sessions, job) >= _MOST_DEATHS:
            await manager.finish_job_by_id_async(job.id, status=Status.FAILED, delete_job=False)
            if job.task_name == MAKE_TAKES:
                message = "The worker died three times in this run; the finished takes are kept. Run it again."
                _finish(sessions, int(str(job.task_kwargs["run_id"])), "failed", message)
        else:
            log.warning("job %s of a dead worker is given back to the queue", job.id)
            await manager.retry_job_by_id_async(job.id, retry_at=datetime.now(UTC))
