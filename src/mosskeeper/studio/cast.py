"""Characters: anchors, outfits, and the words they give to a shot."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, joinedload

from mosskeeper.core import limits
from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.studio import lineage
from mosskeeper.studio.database import locked
from mosskeeper.studio.models import Anchor, Character, Outfit, Run, Shot, StoryScene, Take


def given_words(character: Character | None, outfit: Outfit | None, scene: StoryScene | None) -> str:
    """The words that a shot gets from who is in it, what they wear and where it is."""
    parts = [character.name, character.traits] if character else []
    if outfit and outfit.words:
        parts.append(f"in {outfit.words}")
    if scene and scene.words:
        parts.append(scene.words)
    return ", ".join(p.strip() for p in parts if p.strip())[: limits.GIVEN]  # words stored before there were limits may be longer


@dataclass(frozen=True, slots=True)
class Given:
    """What a region says of somebody of the cast in one of their outfits, and how it is called."""

    words: str
    name: str


def given_to_regions(session: Session, item: object) -> dict[int | None, Given]:
    """All that regions may say of a character, or of the one whose outfit this is, by the outfit; None: without one."""
    character = item if isinstance(item, Character) else find(session, item.character_id) if isinstance(item, Outfit) else None
    if character is None:
        return {}
    outfits = session.scalars(select(Outfit).where(Outfit.character_id == character.id).order_by(Outfit.id))
    worn: dict[int | None, Outfit | None] = {None: None, **{outfit.id: outfit for outfit in outfits}}
    return {key: Given(given_words(character, outfit, None), character.name) for key, outfit in worn.items()}


def find(session: Session, character_id: int) -> Character:
    character = session.get(Character, character_id)
    if character is None:
        raise NotFound("This character does not exist.")
    return character


def add_character(session: Session, story_id: int, name: str, traits: str = "", summary: str = "") -> Character:
    character = Character(
        story_id=story_id,
        name=limits.text(name, "The name", "name", limits.NAME, needed=True),
        traits=limits.text(traits, "The traits", "traits", limits.TRAITS),
        summary=limits.text(summary, "The summary", "summary", limits.SUMMARY),
    )
    session.add(character)
    session.flush()
    return character


def add_outfit(session: Session, character_id: int, name: str, words: str = "") -> Outfit:
    """An outfit of a character; without words it is worn as it is called."""
    name = limits.text(name, "The name", "name", limits.NAME, needed=True)
    outfit = Outfit(character_id=character_id, name=name, words=limits.text(words, "The words", "words", limits.OUTFIT) or name)
    session.add(outfit)
    session.flush()
    return outfit


def add_scene(session: Session, story_id: int, name: str, words: str = "") -> StoryScene:
    scene = StoryScene(
        story_id=story_id,
        name=limits.text(name, "The name", "name", limits.NAME, needed=True),
        words=limits.text(words, "The words", "words", limits.SCENE),
    )
    session.add(scene)
    session.flush()
    return scene


def make_anchor(session: Session, take: Take, lead: bool) -> Anchor:
    """Makes a take an anchor of its shot's character; as lead it takes the place of the lead before, which stays an anchor.

    Raises ArtistError where the shot has no character, and for a take that got its face from an anchor.
    """
    if lineage.got_its_face(session, take):
        raise ArtistError(
            "The face of this take was put on from an anchor, and a subject taken from it drifts. Choose a take that was drawn whole.",
            "anchor",
        )
    character_id = take.shot.character_id
    if character_id is None:
        raise ArtistError("This shot has no character. Say who is in it first, then choose the anchor.", "character")
    _hold(session, character_id)
    session.execute(
        insert(Anchor)
        .values(character_id=character_id, picture_sha256=take.picture_sha256, take_id=take.id, lead=False)
        .on_conflict_do_update(index_elements=["character_id", "picture_sha256"], set_={"removed_at": None})
    )
    if lead:
        session.execute(update(Anchor).where(Anchor.character_id == character_id, Anchor.lead).values(lead=False))
        session.execute(
            update(Anchor).where(Anchor.character_id == character_id, Anchor.picture_sha256 == take.picture_sha256).values(lead=True)
        )
    session.expire_all()
    return session.scalars(select(Anchor).where(Anchor.character_id == character_id, Anchor.picture_sha256 == take.picture_sha256)).one()


def name_of_lead(session: Session, sha256: str) -> str:
    """What the picture is called on a cue sheet where it is somebody's lead anchor; empty where it is not."""
    name = session.scalar(
        select(Character.name).join(Anchor, Anchor.character_id == Character.id).where(Anchor.picture_sha256 == sha256, Anchor.lead)
    )
    return f"{name}, lead anchor" if name else ""


def anchors(session: Session, character_id: int) -> list[Anchor]:
    """The anchors of a character, the lead anchor first."""
    query = select(Anchor).where(Anchor.character_id == character_id, Anchor.removed_at.is_(None))
    return list(session.scalars(query.order_by(Anchor.lead.desc(), Anchor.id)))


def add_anchor(session: Session, character_id: int, sha256: str) -> None:
    """Makes a stored picture a further anchor; the first of a character leads."""
    _hold(session, character_id)
    there = select(Anchor.id).where(Anchor.character_id == character_id, Anchor.removed_at.is_(None)).limit(1)
    first = session.scalar(there) is None
    new = insert(Anchor).values(character_id=character_id, picture_sha256=sha256, lead=first)
    session.execute(new.on_conflict_do_update(index_elements=["character_id", "picture_sha256"], set_={"removed_at": None}))


def lead(session: Session, anchor_id: int) -> Anchor:
    """Makes an anchor the lead one; the lead before stays an anchor."""
    anchor = _anchor(session, anchor_id)
    session.execute(update(Anchor).where(Anchor.character_id == anchor.character_id, Anchor.lead).values(lead=False))
    session.execute(update(Anchor).where(Anchor.id == anchor.id).values(lead=True))
    session.refresh(anchor)
    return anchor


def let_go(session: Session, anchor_id: int) -> int:
    """Lets an anchor go and gives its character. Its picture stays stored, and the oldest of the others leads in its place."""
    anchor = _anchor(session, anchor_id)
    led, anchor.lead, anchor.removed_at = anchor.lead, False, datetime.now(UTC)
    session.flush()
    if led:
        _let_the_oldest_lead(session, anchor.character_id)
    return anchor.character_id


def bring_anchor_back(session: Session, anchor_id: int) -> int:
    """Brings an anchor back that was let go; it leads only where no other does. Gives its character."""
    anchor = _anchor(session, anchor_id)
    anchor.removed_at = None
    session.flush()
    if session.scalar(select(Anchor.id).where(Anchor.character_id == anchor.character_id, Anchor.lead)) is None:
        _let_the_oldest_lead(session, anchor.character_id)
    return anchor.character_id


def _let_the_oldest_lead(session: Session, character_id: int) -> None:
    oldest = select(Anchor.id).where(Anchor.character_id == character_id, Anchor.removed_at.is_(None)).order_by(Anchor.id).limit(1)
    session.execute(update(Anchor).where(Anchor.id == oldest.scalar_subquery()).values(lead=True))


def let_go_of(session: Session, character_id: int) -> list[Anchor]:
    """The anchors that a character has let go, the last first."""
    query = select(Anchor).where(Anchor.character_id == character_id, Anchor.removed_at.is_not(None))
    return list(session.scalars(query.order_by(Anchor.removed_at.desc())))


def _anchor(session: Session, anchor_id: int) -> Anchor:
    """An anchor as it stands now, its character held: who leads is decided by one at a time."""
    anchor = session.get(Anchor, anchor_id)
    if anchor is None:
        raise NotFound("This anchor does not exist.")
    _hold(session, anchor.character_id)
    return locked(session, Anchor, anchor_id, "This anchor does not exist any more.")


def _hold(session: Session, character_id: int) -> None:
    locked(session, Character, character_id, "This character does not exist.")


def takes_of(session: Session, character_id: int, most: int) -> list[Take]:
    """The last takes of all shots of a character, the oldest first."""
    query = (
        select(Take)
        .join(Shot, Shot.id == Take.shot_id)
        .where(Shot.character_id == character_id, Shot.removed_at.is_(None), ~Take.put_aside)
    )
    options = (joinedload(Take.shot), joinedload(Take.run).joinedload(Run.recipe))
    return list(session.scalars(query.options(*options).order_by(Take.id.desc()).limit(most)))[::-1]


def correct_palette(session: Session, character_id: int, colours: Mapping[str, str], own: Collection[str]) -> Character:
    """Keeps colours as #rrggbb in place of those that are read. own : the names of those that were corrected by hand."""
    if any(not re.fullmatch(r"#[0-9a-fA-F]{6}", value) for value in colours.values()):
        raise ArtistError("A colour is written as # and six hexadecimal digits.", "palette")
    character = locked(session, Character, character_id, "This character does not exist.")
    character.palette = {name: value for name, value in colours.items() if name in own}
    session.flush()
    return character
