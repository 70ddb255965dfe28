"""Characters: anchors, outfits, and the words they give to a shot."""

from __future__ import annotations

from sqlalchemy import select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.studio.models import Anchor, Character, Outfit, Scene, Take


def given_words(character: Character | None, outfit: Outfit | None, scene: Scene | None) -> str:
    """The words that a shot gets from who is in it, what they wear and where it is."""
    parts = [character.name, character.traits] if character else []
    if outfit and outfit.words:
        parts.append(f"in {outfit.words}")
    if scene and scene.words:
        parts.append(scene.words)
    return ", ".join(p.strip() for p in parts if p.strip())


def find(session: Session, character_id: int) -> Character:
    character = session.get(Character, character_id)
    if character is None:
        raise NotFound("This character does not exist.")
    return character


def add_character(session: Session, story_id: int, name: str, traits: str = "", summary: str = "") -> Character:
    name = name.strip()
    if not name:
        raise ArtistError("Give the character a name.", "name")
    character = Character(story_id=story_id, name=name, traits=traits.strip(), summary=summary.strip())
    session.add(character)
    session.flush()
    return character


def make_anchor(session: Session, take: Take, lead: bool) -> Anchor:
    """Makes a take an anchor of its shot's character; as lead it takes the place of the lead before, which stays
    an anchor."""
    character_id = take.shot.character_id
    if character_id is None:
        raise ArtistError("This shot has no character. Say who is in it first, then choose the anchor.", "character")
    session.execute(
        insert(Anchor)
        .values(character_id=character_id, picture_sha256=take.picture_sha256, take_id=take.id, lead=False)
        .on_conflict_do_nothing()
    )
    if lead:
        session.execute(update(Anchor).where(Anchor.character_id == character_id, Anchor.lead).values(lead=False))
        session.execute(
            update(Anchor).where(Anchor.character_id == character_id, Anchor.picture_sha256 == take.picture_sha256).values(lead=True)
        )
    session.expire_all()
    return session.scalars(select(Anchor).where(Anchor.character_id == character_id, Anchor.picture_sha256 == take.picture_sha256)).one()
