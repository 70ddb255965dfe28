"""What a story costs: sparks by day, and the allowance from which it warns."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime

from sqlalchemy import Subquery, func, select
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError
from mosskeeper.studio.models import RecipeDocument, Run, Shot, Story, Take

_MOST = 1e6  # sparks
_LINES = 300


@dataclass(frozen=True, slots=True)
class LedgerLine:
    """What one run cost: the share of its price for the takes that were made."""

    day: date
    run_id: int
    shot: Shot
    engine: str
    takes: int
    asked: int
    sparks: float
    seconds: float | None
    sweep: bool


def _made() -> Subquery:
    """Takes of each run."""
    return select(Take.run_id, func.count().label("n")).group_by(Take.run_id).subquery()


def spent(session: Session, story_id: int, day: date | None = None) -> float:
    """Sparks of a story: on one day (UTC), or ever."""
    made = _made()
    price = func.sum(Run.sparks * made.c.n / func.cardinality(Run.seeds))
    query = select(price).join(Shot, Shot.id == Run.shot_id).join(made, made.c.run_id == Run.id).where(Shot.story_id == story_id)
    if day is not None:
        query = query.where(func.date(func.timezone("UTC", Run.created_at)) == day)
    return round(float(session.scalar(query) or 0.0), 1)


def spent_today(session: Session, story_id: int) -> float:
    return spent(session, story_id, datetime.now(UTC).date())


def lines(session: Session, story_id: int) -> list[LedgerLine]:
    """The last runs of a story that made something, the newest first."""
    made = _made()
    query = (
        select(Run, Shot, RecipeDocument.body["engine"].astext, made.c.n)
        .join(Shot, Shot.id == Run.shot_id)
        .join(made, made.c.run_id == Run.id)
        .join(RecipeDocument, RecipeDocument.sha256 == Run.recipe_sha256)
        .where(Shot.story_id == story_id)
        .order_by(Run.id.desc())
        .limit(_LINES)
    )
    return [
        LedgerLine(
            run.created_at.astimezone(UTC).date(),
            run.id,
            shot,
            engine,
            n,
            len(run.seeds),
            round(run.sparks * n / len(run.seeds), 1),
            (run.finished_at - run.started_at).total_seconds() if run.finished_at and run.started_at else None,
            bool(run.dials),
        )
        for run, shot, engine, n in session.execute(query)
    ]


def allow(session: Session, story: Story, sparks: str) -> None:
    """Sets the daily allowance of a story; empty sets it off."""
    if not sparks.strip():
        story.allowance = None
        return
    try:
        value = float(sparks.replace(",", "."))
    except ValueError:
        raise ArtistError("The allowance is a number of sparks; empty sets it off.", "allowance") from None
    if not 0 <= value <= _MOST:
        raise ArtistError(f"The allowance lies between 0 and {_MOST:g} sparks.", "allowance")
    story.allowance = value
    session.flush()


def warning(session: Session, story: Story, price: float) -> str:
    """A sentence where a run of this price would go over the day's allowance."""
    if story.allowance is None:
        return ""
    today = spent_today(session, story.id)
    if today + price <= story.allowance:
        return ""
    return f"With this, the story goes over its {story.allowance:g} sparks of today: {today:g} are spent. It runs all the same."
