"""Making takes. The job may run twice or be cut off anywhere: a take is stored once all the same."""

from __future__ import annotations

import logging
import time
from datetime import UTC, datetime, timedelta

import procrastinate
from procrastinate import BaseRetryStrategy, JobContext, RetryDecision
from procrastinate.job_context import AbortReason
from procrastinate.jobs import Job
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.diffusion.result import Progress
from mosskeeper.core.errors import ArtistError, Stopped
from mosskeeper.engines.contract import Busy, Materials
from mosskeeper.queue import mending
from mosskeeper.queue.deferring import want_measures
from mosskeeper.studio import engines, explaining, mends, readings, working
from mosskeeper.studio.engines import EngineAway
from mosskeeper.studio.run_states import RunState
from mosskeeper.studio.working import Begun, Missing

log = logging.getLogger(__name__)
_ASKED_BUSY = 6
_LONGEST_WAIT = 60  # seconds


class Again(Exception):
    """The job goes back to the queue, to be tried in so many seconds."""

    def __init__(self, seconds: int) -> None:
        super().__init__(f"again in {seconds} s")
        self.seconds = seconds


class Retrying(BaseRetryStrategy):
    def get_retry_decision(self, *, exception: BaseException, job: Job) -> RetryDecision | None:
        if isinstance(exception, Again):
            return RetryDecision(retry_in={"seconds": exception.seconds})
        if isinstance(exception, OperationalError):  # the database is away, which is nobody's fault
            return RetryDecision(retry_in={"seconds": 2})
        return None


def make_takes(context: JobContext, run_id: int) -> None:
    """Makes all takes of a run that are still missing."""
    sessions: sessionmaker[Session] = context.additional_context["sessions"]
    with sessions.begin() as session:
        begun = working.begin(session, run_id, context.additional_context["worker"])
    if begun is None:
        return
    job = _Job(context, sessions, run_id, begun)
    try:
        for one in begun.missing:
            job.make(one)
        job.finish(RunState.DONE)
    except Stopped:
        if context.abort_reason() == AbortReason.SHUTDOWN and job.give_back():
            raise Again(1) from None
        job.finish(RunState.STOPPED)
    except Busy as busy:
        job.wait(busy)
    except EngineAway as error:
        job.finish(RunState.HELD, f"{error.sentence} The recipe and the finished takes are kept.")
    except OperationalError:
        raise
    except ArtistError as error:
        job.erred(error.sentence)
    except Exception:
        log.exception("run %s: the engine raised an error", run_id)
        job.erred(f"Something broke inside the engine; nothing of yours is lost. The log names run {run_id}.")


class _Job:
    """One worker's hold on one run."""

    def __init__(self, context: JobContext, sessions: sessionmaker[Session], run_id: int, begun: Begun) -> None:
        self.context, self.sessions, self.run_id = context, sessions, run_id
        self.token, self.of_mend = begun.token, begun.of_mend
        self.asked_to_stop = False

    def make(self, one: Missing) -> None:
        """Makes and stores one take; it is measured by a job of its own."""
        started, recipe = time.monotonic(), one.recipe
        with self.sessions.begin() as session:
            engine = engines.find(session, recipe.engine)
            explained = explaining.of_recipe(session, recipe)
            drawn_here = {name for name, scenes in explained.items() if scenes.holds and scenes.size == recipe.source_size}
            materials = Materials(working.cue_pixels(session, recipe), readings.of_recipe(session, recipe, drawn_here), explained)

        def report(p: Progress) -> None:
            with self.sessions.begin() as session:
                self.asked_to_stop = not working.progress(session, self.run_id, self.token, one.before + p.step, p.preview)

        made = engine.generate(recipe, one.seed, materials, report, self.should_stop)
        queue: procrastinate.App = self.context.additional_context["queue"]
        with self.sessions.begin() as session:
            seconds = time.monotonic() - started
            if self.of_mend:
                variant = mends.store_variant(session, self.run_id, one.place, one.seed, made.image, seconds, made.explained, made.says)
                mending.after_variant(session, variant)
            else:
                take = working.store_take(session, self.run_id, one.place, one.seed, made.image, seconds, made.explained, made.says)
                want_measures(session, queue, take.id)

    def should_stop(self) -> bool:
        if not self.asked_to_stop:
            with self.sessions.begin() as session:
                self.asked_to_stop = working.stop_requested(session, self.run_id, self.token)
        return self.asked_to_stop or self.context.should_abort()

    def finish(self, state: RunState, message: str = "") -> None:
        with self.sessions.begin() as session:
            if working.finish(session, self.run_id, self.token, state, message) and self.of_mend:
                mending.after_run(session, self.context.additional_context["queue"], self.run_id)

    def give_back(self) -> bool:
        with self.sessions.begin() as session:
            return working.give_back(session, self.run_id, self.token)

    def erred(self, sentence: str) -> None:
        with self.sessions.begin() as session:
            again = working.errored(session, self.run_id, self.token, sentence)
        if again:
            raise Again(1)

    def wait(self, busy: Busy) -> None:
        """Asks a busy engine again, each time later; after the last try the run is held for the artist."""
        asked = self.context.job.attempts + 1
        if asked >= _ASKED_BUSY:
            self.finish(
                RunState.HELD,
                f"The engine was busy {_ASKED_BUSY} times. The recipe and the finished takes are kept: try again when you like.",
            )
            return
        seconds = min(round(busy.after) if busy.after is not None else 2**asked, _LONGEST_WAIT)
        until = datetime.now(UTC) + timedelta(seconds=seconds)
        with self.sessions.begin() as session:
            message = f"The engine is busy; it is asked again in {seconds} s ({asked} of {_ASKED_BUSY})."
            mine = working.give_back(session, self.run_id, self.token, until, message)
        if mine:
            raise Again(seconds)
