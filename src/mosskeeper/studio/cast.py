"""Characters: anchors, outfits, and the words they give to a shot."""

from __future__ import annotations

from sqlalchemy import select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, joinedload

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.studio.models import Anchor, Character, Outfit, Run, Scene, Shot, Take


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


def name_of_lead(session: Session, sha256: str) -> str:
    """What the picture is called on a cue sheet where it is somebody's lead anchor; empty where it is not."""
    name = session.scalar(
        select(Character.name).join(Anchor, Anchor.character_id == Character.id).where(Anchor.picture_sha256 == sha256, Anchor.lead)
    )
    return f"{name}, lead anchor" if name else ""


def anchors(session: Session, character_id: int) -> list[Anchor]:
    """The anchors of a character, the lead anchor first."""
    return list(session.scalars(select(Anchor).where(Anchor.character_id == character_id).order_by(Anchor.lead.desc(), Anchor.id)))


def add_anchor(session: Session, character_id: int, sha256: str) -> None:
    """Makes a stored picture a further anchor; the first of a character leads."""
    first = session.scalar(select(Anchor.id).where(Anchor.character_id == character_id).limit(1)) is None
    session.execute(insert(Anchor).values(character_id=character_id, picture_sha256=sha256, lead=first).on_conflict_do_nothing())


def lead(session: Session, anchor_id: int) -> Anchor:
    """Makes an anchor the lead one; the lead before stays an anchor."""
    anchor = _anchor(session, anchor_id)
    session.execute(update(Anchor).where(Anchor.character_id == anchor.character_id, Anchor.lead).values(lead=False))
    anchor.lead = True
    session.flush()
    return anchor


def let_go(session: Session, anchor_id: int) -> int:
    """Lets an anchor go and gives its character. Its picture stays stored, and the oldest of the others leads in its place."""
    anchor = _anchor(session, anchor_id)
    character_id, led = anchor.character_id, anchor.lead
    session.delete(anchor)
    session.flush()
    if led:
        oldest = session.scalar(select(Anchor).where(Anchor.character_id == character_id).order_by(Anchor.id).limit(1))
        if oldest is not None:
            oldest.lead = True
            session.flush()
    return character_id


def _anchor(session: Session, anchor_id: int) -> Anchor:
    anchor = session.get(Anchor, anchor_id)
    if anchor is None:
        raise NotFound("This anchor does not exist.")
    return anchor


def takes_of(session: Session, character_id: int, most: int) -> list[Take]:
    """The last takes of all shots of a character, the oldest first."""
    query = select(Take).join(Shot, Shot.id == Take.shot_id).where(Shot.character_id == character_id, ~Take.put_aside)
    options = (joinedload(Take.shot), joinedload(Take.run).joinedload(Run.recipe))
    return list(session.scalars(query.options(*options).order_by(Take.id.desc()).limit(most)))[::-1]


def describe(session: Session, character_id: int, name: str, traits: str) -> Character:
    """Renames a character and re-words its traits; the given words of its shots follow."""
    character = find(session, character_id)
    if not name.strip():
        raise ArtistError("Give the character a name.", "name")
    character.name, character.traits = name.strip()[:160], traits.strip()
    session.flush()
    for shot in session.scalars(select(Shot).where(Shot.character_id == character_id)):
        shot.draft = {**shot.draft, "given": given_words(character, shot.outfit, shot.scene)}
        shot.revision += 1
    session.flush()
    return character
