"""Lineage: where a picture comes from, and how many generations it is away from an anchor."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from mosskeeper.core.recipe import Recipe
from mosskeeper.core.roles import reference
from mosskeeper.studio import takes
from mosskeeper.studio.models import Anchor, Entry, Run, Take

_FAR = 20  # generations that are followed


@dataclass(frozen=True, slots=True)
class Origin:
    """anchor : it is one. take : that it is, or was cut out of. away : generations from an anchor, None where none is among its sources."""

    anchor: bool
    take: Take | None
    away: int | None

    @property
    def derived(self) -> bool:
        """True of takes that are no anchors: a subject taken from them drifts."""
        return self.take is not None and not self.anchor


def origin(session: Session, sha256: str) -> Origin:
    """Where a picture comes from. An upload that is no anchor has neither take nor generations; a crop is what it was cut out of."""
    source = session.scalar(select(Entry.source_sha256).where(Entry.picture_sha256 == sha256, Entry.source_sha256.is_not(None)).limit(1))
    if _is_anchor(session, sha256):
        return Origin(True, _take_of(session, sha256), 0)
    if source is not None:
        return origin(session, source)
    take = _take_of(session, sha256)
    return Origin(False, take, _away(session, take, _FAR))


def _is_anchor(session: Session, sha256: str) -> bool:
    return session.scalar(select(Anchor.id).where(Anchor.picture_sha256 == sha256).limit(1)) is not None


def _take_of(session: Session, sha256: str) -> Take | None:
    query = select(Take).where(Take.picture_sha256 == sha256).order_by(Take.id).limit(1)
    return session.scalar(query.options(joinedload(Take.run).joinedload(Run.recipe), joinedload(Take.shot)))


def _away(session: Session, take: Take | None, far: int) -> int | None:
    if take is None or far == 0:
        return None
    found = []
    for sha256 in sources(takes.recipe_of(take)):
        if _is_anchor(session, sha256):
            found.append(1)
        else:
            further = _away(session, _take_of(session, sha256), far - 1)
            if further is not None:
                found.append(1 + further)
    return max(found) if found else None


def sources(recipe: Recipe) -> list[str]:
    """The pictures that hand a subject on to the takes of a recipe."""
    handed = [
        cue.picture
        for cue in recipe.cues
        if cue.acts and cue.picture is not None and (lender := reference(cue.role)) is not None and lender.hands_on
    ]
    return handed + ([recipe.source.picture] if recipe.source is not None else [])
