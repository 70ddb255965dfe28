"""Idempotent requests: an act of a page is carried out once, however often its request arrives.

A page gives each act an id. Where an answer is lost the page sends the act again; the second request finds the id here and
changes nothing. Ids are kept for a month, longer than a browser keeps an act that was never confirmed.
"""

from __future__ import annotations

from collections.abc import Callable, Collection
from datetime import UTC, datetime, timedelta
from typing import TypeVar

from sqlalchemy import delete, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError
from mosskeeper.studio.models import ActDone

T = TypeVar("T")
ACT = "act"  # key of the act's id in the `info` of a session


class Moved(ArtistError):
    """Another page changed meanwhile what an act was made on: the artist chooses which of the two stays."""


def once(session: Session, carry_out: Callable[[], T]) -> tuple[T | None, bool]:
    """Carries out the act of this transaction: what it gives, and True. None and False where it was carried out before.

    Without an id every request is an act of its own. A second request that comes while the first is being carried out waits for
    its end: both insert the same primary key.

    Raises
    ------
    Moved, ArtistError
        as `carry_out` does, also the second time: of a refused act nothing is kept but the sentence.
    """
    act_id = session.info.get(ACT)
    if act_id is None:
        with session.begin_nested():
            return carry_out(), True
    first = session.scalar(insert(ActDone).values(id=act_id).on_conflict_do_nothing().returning(ActDone.id))
    if first is None:
        known = session.get_one(ActDone, act_id)
        if known.refused is not None:
            raise (Moved if known.moved else ArtistError)(known.refused)
        return None, False
    try:
        with session.begin_nested():
            return carry_out(), True
    except ArtistError as error:
        row = session.get_one(ActDone, act_id)
        row.refused, row.moved = error.sentence, isinstance(error, Moved)
        raise


def require(session: Session, ids: Collection[str]) -> None:
    """Raises ArtistError unless all these acts were carried out: what stands on them would otherwise be of an older state."""
    kept = set(session.scalars(select(ActDone.id).where(ActDone.id.in_(ids), ActDone.refused.is_(None))))
    missing = set(ids) - kept
    if missing:
        raise ArtistError(
            f"{len(missing)} of the things done on this page just before did not arrive here. Reload the page, look what is kept, "
            "and run it again."
        )


def thin_out(session: Session, older: timedelta) -> None:
    """Forgets ids of acts that no page will send again."""
    session.execute(delete(ActDone).where(ActDone.created_at < datetime.now(UTC) - older))
