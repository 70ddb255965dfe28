"""Jobs that keep the rest going: giving away what dead workers had, and clearing up."""

from __future__ import annotations

import logging
from datetime import UTC, datetime, timedelta

from procrastinate import JobContext
from procrastinate.exceptions import ConnectorException
from procrastinate.jobs import Job, Status
from sqlalchemy import text
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.queue.deferring import make_run
from mosskeeper.queue.names import MAKE_TAKES, PERIODIC
from mosskeeper.studio import acts, drafts, maps, working

log = logging.getLogger(__name__)
_KEPT_HOURS = 24  # finished jobs
_KEPT_DRAFTS = timedelta(days=1)  # of typing that went on
_KEPT_MAPS_DAYS = 14
_KEPT_ACTS = timedelta(days=30)
_FORGOTTEN = """
select id from runs r
where state in ('waiting', 'running', 'stopping') and created_at < now() - interval '20 seconds'
  and not exists (
    select from procrastinate_jobs j
    where j.task_name = :task and j.status in ('todo', 'doing') and (j.args ->> 'run_id')::int = r.id)
for update skip locked
"""


async def rescue(context: JobContext, timestamp: int) -> None:
    """Gives the jobs of dead workers to others, and runs that lost their job a new one. One at a time over all workers."""
    sessions: sessionmaker[Session] = context.additional_context["sessions"]
    with sessions.begin() as alone:
        if not alone.scalar(text("select pg_try_advisory_xact_lock(hashtext('rescue'))")):
            return
        await _give_away(context, sessions)
        _enqueue_forgotten(context, sessions)


async def _give_away(context: JobContext, sessions: sessionmaker[Session]) -> None:
    manager = context.app.job_manager
    for job in await manager.get_stalled_jobs(seconds_since_heartbeat=context.additional_context["stalled_seconds"]):
        assert job.id is not None
        if job.task_name in PERIODIC or (job.task_name == MAKE_TAKES and not _is_to_go_on(sessions, job)):
            # a periodic job comes again by itself; one that waits already keeps another from being put beside it
            await manager.finish_job_by_id_async(job.id, status=Status.FAILED, delete_job=False)
            continue
        log.warning("job %s of a dead worker is given back to the queue", job.id)
        try:
            await manager.retry_job_by_id_async(job.id, retry_at=datetime.now(UTC))
        except ConnectorException:  # another for the same was put in meanwhile, and does its work
            await manager.finish_job_by_id_async(job.id, status=Status.FAILED, delete_job=False)


def _is_to_go_on(sessions: sessionmaker[Session], job: Job) -> bool:
    with sessions.begin() as session:
        return working.died(session, int(str(job.task_kwargs["run_id"])))


def _enqueue_forgotten(context: JobContext, sessions: sessionmaker[Session]) -> None:
    with sessions.begin() as session:
        for run_id in session.scalars(text(_FORGOTTEN), {"task": MAKE_TAKES}).all():
            log.warning("run %s had lost its job", run_id)
            make_run(session, context.additional_context["queue"], run_id)


async def tidy(context: JobContext, timestamp: int) -> None:
    """Throws away what nobody needs any more."""
    await context.app.job_manager.delete_old_jobs(nb_hours=_KEPT_HOURS, include_failed=True, include_cancelled=True, include_aborted=True)
    sessions: sessionmaker[Session] = context.additional_context["sessions"]
    with sessions.begin() as session:
        drafts.thin_out(session, _KEPT_DRAFTS)
        maps.thin_out(session, timedelta(days=_KEPT_MAPS_DAYS))
        acts.thin_out(session, _KEPT_ACTS)
