"""Takes: keeping, putting aside, finding."""

from __future__ import annotations

from sqlalchemy import select, update
from sqlalchemy.orm import Session, joinedload

from mosskeeper.core.errors import NotFound
from mosskeeper.core.recipe import Recipe
from mosskeeper.studio import runs
from mosskeeper.studio.database import locked
from mosskeeper.studio.models import Run, Shot, Take


def find(session: Session, take_id: int) -> Take:
    take = session.get(Take, take_id, options=[joinedload(Take.shot), joinedload(Take.run).joinedload(Run.recipe)])
    if take is None:
        raise NotFound("This take does not exist.")
    return take


def recipe_of(take: Take) -> Recipe:
    """The complete recipe of one take, with its own seed."""
    return runs.recipe_of_place(take.run, take.place)


def of_shot(session: Session, shot_id: int) -> list[Take]:
    """All takes of a shot, the newest first."""
    return list(session.scalars(select(Take).where(Take.shot_id == shot_id).order_by(Take.number.desc())))


def keep(session: Session, take_id: int) -> Take:
    """Keeps a take for its shot; the one kept before is let go."""
    take = _held(session, take_id)
    session.execute(update(Take).where(Take.shot_id == take.shot_id, Take.kept).values(kept=False))
    session.execute(update(Take).where(Take.id == take_id).values(kept=True, put_aside=False))
    session.refresh(take)
    return take


def take_back(session: Session, take_id: int) -> Take:
    """Undoes keeping."""
    take = _held(session, take_id)
    take.kept = False
    session.flush()
    return take


def put_aside(session: Session, take_id: int, aside: bool) -> Take:
    """Hides a take, or brings it back. Nothing is deleted."""
    take = _held(session, take_id)
    take.put_aside = aside
    if aside:
        take.kept = False
    session.flush()
    return take


def _held(session: Session, take_id: int) -> Take:
    """A take as it stands now, its shot locked: which take is kept is decided by one at a time."""
    locked(session, Shot, find(session, take_id).shot_id, "This shot does not exist.")
    return locked(session, Take, take_id, "This take does not exist.")
