"""Layouts of one's own: where the regions of a shot lie, kept by a name for other shots."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from mosskeeper.core import limits
from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.regions.layouts import LAYOUTS, Box
from mosskeeper.studio.database import locked
from mosskeeper.studio.models import OwnLayout

_MOST = 40
_MISSING = "There is no layout of that name any more."


def own(session: Session) -> list[OwnLayout]:
    """Those that artists kept, the last first."""
    return list(session.scalars(select(OwnLayout).where(OwnLayout.removed_at.is_(None)).order_by(OwnLayout.id.desc()).limit(_MOST)))


def boxes_of(session: Session, name: str) -> Sequence[Box]:
    """The boxes of a layout: one that ships by its name, one's own by its number.

    Raises NotFound where there is none.
    """
    if name in LAYOUTS:
        return LAYOUTS[name]
    row = session.get(OwnLayout, int(name)) if name.isdecimal() and len(name) < 10 else None
    if row is None or row.removed_at is not None:
        raise NotFound(_MISSING)
    return [(x0, y0, x1, y1) for x0, y0, x1, y1 in row.boxes]


def keep(session: Session, name: str, boxes: Sequence[Box]) -> OwnLayout:
    """Keeps boxes, from front to back, as a layout.

    Raises ArtistError where there are none, or the name is missing or too long.
    """
    if not boxes:
        raise ArtistError("There are no regions on the picture yet that a layout could keep.", "regions")
    row = OwnLayout(name=limits.text(name, "The name", "name", 80, needed=True), boxes=[list(box) for box in boxes])
    session.add(row)
    session.flush()
    return row


def take_out(session: Session, layout_id: int, back: bool = False) -> OwnLayout:
    """Takes a layout of one's own away, or brings it back."""
    row = locked(session, OwnLayout, layout_id, _MISSING)
    row.removed_at = None if back else datetime.now(UTC)
    session.flush()
    return row
