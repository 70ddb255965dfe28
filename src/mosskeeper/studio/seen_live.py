"""Live pictures as they were seen: the last of each shot, with board and seed, without having been kept by hand."""

from __future__ import annotations

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from mosskeeper.core.errors import NotFound
from mosskeeper.studio import drafts, shots
from mosskeeper.studio.database import locked, read_bytes
from mosskeeper.studio.models import SeenLive, Shot

MOST = 100  # of a shot
_GONE = "This live picture is not there any more: the last hundred of a shot are kept."


def note(session: Session, shot_id: int, seed: int, jpeg: bytes) -> None:
    """Notes what is seen of a shot as it is on the table now; the same board and seed once. The oldest go beyond `MOST`."""
    shot = locked(session, Shot, shot_id, "This shot does not exist.")
    same = select(SeenLive.id).where(SeenLive.shot_id == shot_id, SeenLive.draft == shot.revision, SeenLive.seed == seed)
    session.execute(delete(SeenLive).where(SeenLive.id.in_(same)))
    session.add(SeenLive(shot_id=shot_id, draft=shot.revision, seed=seed, jpeg=jpeg))
    session.flush()
    newest = select(SeenLive.id).where(SeenLive.shot_id == shot_id).order_by(SeenLive.id.desc()).limit(MOST)
    session.execute(delete(SeenLive).where(SeenLive.shot_id == shot_id, SeenLive.id.not_in(newest)))


def of_shot(session: Session, shot_id: int) -> list[SeenLive]:
    """What was seen live of a shot, the newest first."""
    return list(session.scalars(select(SeenLive).where(SeenLive.shot_id == shot_id).order_by(SeenLive.id.desc()).limit(MOST)))


def find(session: Session, seen_id: int) -> SeenLive:
    seen = session.get(SeenLive, seen_id)
    if seen is None:
        raise NotFound(_GONE)
    return seen


def jpeg(session: Session, seen_id: int) -> bytes:
    data = read_bytes(session, "select jpeg from seen_live where id = %s", seen_id)
    if data is None:
        raise NotFound(_GONE)
    return data


def back_to(session: Session, seen_id: int, page: str = "") -> SeenLive:
    """Puts the board of a live picture back on the table; a step that can be undone.

    Raises NotFound where picture or board are not there any more.
    """
    seen = find(session, seen_id)
    board = drafts.numbered(session, seen.shot_id, seen.draft)
    if board is None:
        raise NotFound("The board of this live picture is not there any more.")
    now = drafts.of_shot(shots.find(session, seen.shot_id))
    drafts.edit(session, seen.shot_id, lambda _: board.model_copy(update={"seed": now.seed, "count": now.count}), page, alone=True)
    return seen
