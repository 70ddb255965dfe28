"""Watching runs: the little that a live view asks again and again."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import text
from sqlalchemy.orm import Session

from mosskeeper.core.errors import NotFound
from mosskeeper.studio.database import read_bytes

MADE = "made"  # channel of NOTIFY: "reading SHA", "take ID" or "map KEY" of what a worker has made
_ALIVE_SECONDS = 20.0

_STANDING = """
select r.shot_id, s.story_id, r.id, r.state, r.step, r.steps, cardinality(r.seeds), r.message, p.number,
       (select count(*) from takes t where t.run_id = r.id), jsonb_array_length(r.dials) > 0, r.stack_id
from (
    select distinct on (shot_id, stack_id) * from runs where {which}
    order by shot_id, stack_id, (state in ('running', 'stopping')) desc, (state = 'waiting') desc,
             case when state in ('waiting', 'running', 'stopping') then id else -id end
) r
join shots s on s.id = r.shot_id
left join previews p on p.run_id = r.id
order by r.id
"""


@dataclass(frozen=True, slots=True)
class RunProgress:
    """How the run of a shot stands: the first of those at work, or the newest. preview : number of the last preview. made : takes that are stored.
    stack : of mends, where it makes variants for one.
    """

    shot: int
    story: int
    run: int
    state: str
    step: int
    steps: int
    takes: int
    message: str
    preview: int | None
    made: int
    sweep: bool
    stack: int | None


def standing(session: Session, shot_ids: list[int]) -> list[RunProgress]:
    """The run at work, or the newest one, of each of these shots, in one statement."""
    # of mends only what is at work, or has just ended: a shot may have many stacks
    lately = "(stack_id is null or finished_at is null or finished_at > now() - interval '1 minute')"
    rows = session.execute(text(_STANDING.format(which=f"shot_id = any(:shots) and {lately}")), {"shots": shot_ids})
    return [RunProgress(*row) for row in rows]


def at_work(session: Session) -> list[RunProgress]:
    """The runs that wait or run, the newest of each shot."""
    return [RunProgress(*row) for row in session.execute(text(_STANDING.format(which="state in ('waiting', 'running', 'stopping')")))]


def workers_alive(session: Session, within_seconds: float = _ALIVE_SECONDS) -> int:
    """Workers whose heartbeat was seen lately."""
    query = "select count(*) from procrastinate_workers where last_heartbeat > now() - make_interval(secs => :s)"
    return int(session.scalar(text(query), {"s": within_seconds}) or 0)


def tell_made(session: Session, what: str) -> None:
    """Tells all who watch that something was made; sent when the transaction commits."""
    session.execute(text("select pg_notify(:channel, :what)"), {"channel": MADE, "what": what})


def preview_jpeg(session: Session, run_id: int) -> bytes:
    data = read_bytes(session, "select jpeg from previews where run_id = %s", run_id)
    if data is None:
        raise NotFound("This run has no preview now.")
    return data
