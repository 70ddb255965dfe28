"""The check of a story: its kept takes, and what of each is not as the character's anchor and wardrobe have it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from mosskeeper.core.continuity.drift import Drift
from mosskeeper.core.continuity.story_check import strays
from mosskeeper.core.words.understand import understand
from mosskeeper.studio import measures, readings
from mosskeeper.studio.models import Character, Outfit, Run, Shot, Take


@dataclass(frozen=True, slots=True)
class Finding:
    """A kept take. says : what strays, none where nothing does. why : why its drift is not told, where it is not."""

    take: Take
    character: Character
    drift: Drift | None
    says: tuple[str, ...]
    why: str


def check(session: Session, story_id: int) -> list[Finding]:
    """Every kept take of a story in which somebody of the cast is, what strays first. Only what workers measured is told."""
    on_board = (Shot.story_id == story_id, Shot.removed_at.is_(None), Shot.made_for == "", Shot.character_id.is_not(None), Take.kept)
    query = select(Take).join(Shot, Shot.id == Take.shot_id).where(*on_board).order_by(Shot.position, Shot.id)
    made = list(
        session.scalars(
            query.options(
                joinedload(Take.shot).joinedload(Shot.character).selectinload(Character.anchors),
                joinedload(Take.shot).joinedload(Shot.outfit),
                joinedload(Take.run).joinedload(Run.recipe),
            )
        )
    )
    known = measures.known(session, made)
    leads = {t.shot.character.lead.picture_sha256 for t in made if t.shot.character is not None and t.shot.character.lead is not None}
    read = readings.known_of(session, {t.picture_sha256 for t in made} | leads)
    worn = {outfit.id: _worn(outfit) for outfit in {t.shot.outfit for t in made if t.shot.outfit is not None}}
    out = []
    for take in made:
        who = take.shot.character
        assert who is not None
        told = known.get(take.id)
        drift = None if told is None else told.drift
        own, lead = read.get(take.picture_sha256), None if who.lead is None else read.get(who.lead.picture_sha256)
        says = strays(
            drift,
            None if own is None else own.contents,
            None if lead is None else lead.contents,
            worn.get(take.shot.outfit_id or 0, ()),
        )
        an_anchor = take.picture_sha256 in {anchor.picture_sha256 for anchor in who.anchors}
        why = "being measured" if told is None else "an anchor" if an_anchor else told.untold or "drift not told: no face is read"
        out.append(Finding(take, who, drift, says, why))
    return sorted(out, key=lambda one: (not one.says, -(one.drift.distance if one.drift is not None else 0.0)))


def _worn(outfit: Outfit) -> Sequence[str]:
    """The outfits that an outfit's words ask for."""
    return tuple(understand(outfit.words).first.wanted.get("outfit", {}))
