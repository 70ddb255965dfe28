"""What an artist sets up: stories, characters, outfits, scenes, shots. Renamed, re-worded, put in order, doubled, removed, brought back.

Nothing is deleted: what is removed is marked, and comes back as it was.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from mosskeeper.core import limits
from mosskeeper.core.errors import NotFound
from mosskeeper.studio import cast, drafts
from mosskeeper.studio.database import locked
from mosskeeper.studio.models import Anchor, Character, Outfit, Shot, Story, StoryScene

Item = Story | Character | Outfit | StoryScene | Shot


@dataclass(frozen=True, slots=True)
class ItemKind:
    """of : the column that names what it belongs to, "" of stories. words : its column of words, how it is called, and the most."""

    name: str
    row: type[Any]
    of: str
    words: tuple[str, str, int] | None


KINDS = {
    kind.name: kind
    for kind in (
        ItemKind("story", Story, "", ("summary", "The summary", limits.SUMMARY)),
        ItemKind("character", Character, "story_id", ("traits", "The traits", limits.TRAITS)),
        ItemKind("outfit", Outfit, "character_id", ("words", "The words", limits.OUTFIT)),
        ItemKind("scene", StoryScene, "story_id", ("words", "The words", limits.SCENE)),
        ItemKind("shot", Shot, "story_id", None),
    )
}


@dataclass(frozen=True, slots=True)
class Removed:
    kind: str
    id: int
    name: str
    removed_at: datetime


def kind_of(name: str) -> ItemKind:
    if name not in KINDS:
        raise NotFound(f"There is nothing called “{name[:40]}” that could be changed.")
    return KINDS[name]


def find(session: Session, kind: ItemKind, item_id: int) -> Item:
    item: Item | None = session.get(kind.row, item_id)
    if item is None:
        raise NotFound(f"This {kind.name} does not exist.")
    return item


def story_of(session: Session, item: Item) -> int:
    """The story in which an item stands; of a story itself."""
    if isinstance(item, Story):
        return item.id
    if isinstance(item, Outfit):
        return cast.find(session, item.character_id).story_id
    return item.story_id


def edit(session: Session, kind: ItemKind, item_id: int, name: str, words: str = "") -> Item:
    """Renames an item and re-words it; the given words of the shots that carry them follow.

    Raises
    ------
    ArtistError
        where name or words cannot be used; the sentence says why.
    """
    name = limits.text(name, "The name", "name", limits.NAME, needed=True)
    if kind.words is not None:
        words = limits.text(words, kind.words[1], kind.words[0], kind.words[2])
    item: Item = locked(session, kind.row, item_id, f"This {kind.name} does not exist.")
    before = cast.given_to_regions(session, item)
    item.name = name
    if kind.words is not None:
        setattr(item, kind.words[0], words)
    session.flush()
    _reword_regions(session, story_of(session, item), before, cast.given_to_regions(session, item))
    for shot in _worded_by(session, item):
        shot.draft = {**shot.draft, "given": cast.given_words(shot.character, shot.outfit, shot.scene)}
    session.flush()
    return item


def _reword_regions(
    session: Session, story_id: int, before: Mapping[int | None, cast.Given], after: Mapping[int | None, cast.Given]
) -> None:
    """Regions say what the cast gives them now. Which of the cast somebody is, is known by what they were given."""
    # an outfit may have come in another tab between the two
    now = {old.words: after[key] for key, old in before.items() if key in after and old != after[key] and old.words}
    if not now:
        return
    query = select(Shot).where(Shot.story_id == story_id).order_by(Shot.id).with_for_update(of=Shot)
    for shot in session.scalars(query.execution_options(populate_existing=True)):
        regions = [
            r | {"given": now[r["given"]].words, "name": now[r["given"]].name} if r["given"] in now else r
            for r in shot.draft.get("regions", [])
        ]
        if regions != shot.draft.get("regions", []):
            shot.draft = {**shot.draft, "regions": regions}
    session.flush()


def _worded_by(session: Session, item: Item) -> list[Shot]:
    """The shots, locked, whose given words come from an item."""
    column = {Character: Shot.character_id, Outfit: Shot.outfit_id, StoryScene: Shot.scene_id}.get(type(item))
    if column is None:
        return []
    query = select(Shot).where(column == item.id).order_by(Shot.id).with_for_update(of=Shot)
    return list(session.scalars(query.execution_options(populate_existing=True)))


def remove(session: Session, kind: ItemKind, item_id: int) -> Item:
    """Takes an item away; it can be brought back as it was, with all that belongs to it."""
    item: Item = locked(session, kind.row, item_id, f"This {kind.name} does not exist.")
    item.removed_at = item.removed_at or datetime.now(UTC)
    session.flush()
    return item


def bring_back(session: Session, kind: ItemKind, item_id: int) -> Item:
    item: Item = locked(session, kind.row, item_id, f"This {kind.name} does not exist.")
    item.removed_at = None
    session.flush()
    return item


def uses(session: Session, item: Item) -> str:
    """What uses an item and what becomes of it, in a sentence; empty where nothing does."""
    column = {Character: Shot.character_id, Outfit: Shot.outfit_id, StoryScene: Shot.scene_id}.get(type(item))
    if column is None:
        return ""
    on_board = (column == item.id, Shot.removed_at.is_(None), Shot.made_for == "")
    n = session.scalar(select(func.count()).select_from(Shot).where(*on_board)) or 0
    if not n:
        return ""
    shots = "1 shot has" if n == 1 else f"{n} shots have"
    return f"{shots} it and keep{'s' if n == 1 else ''} it; on the board {'it stands' if n == 1 else 'they stand'} among the free shots meanwhile."


def move(session: Session, kind: ItemKind, item_id: int, by: int) -> Item:
    """Moves an item among its like: by −1 before the one in front of it, by 1 behind the next."""
    item = find(session, kind, item_id)
    if not isinstance(item, Story):  # who stands where is decided by one at a time
        locked(session, Story, story_of(session, item), "This story does not exist.")
    query = select(kind.row).where(kind.row.removed_at.is_(None)).order_by(kind.row.position, kind.row.id)
    if kind.of:
        query = query.where(getattr(kind.row, kind.of) == getattr(item, kind.of))
    like: list[Item] = list(session.scalars(query.with_for_update().execution_options(populate_existing=True)))
    at = next((n for n, other in enumerate(like) if other.id == item_id), None)
    if at is not None and 0 <= at + by < len(like):
        like.insert(at + by, like.pop(at))
        for position, other in enumerate(like):
            other.position = position
        session.flush()
    return item


def duplicate(session: Session, kind: ItemKind, item_id: int) -> Item:
    """A copy behind the original: of a shot its table without takes, of a character its outfits and anchors, too.

    Raises NotFound where the item does not exist, or is of a kind that is not doubled.
    """
    item = find(session, kind, item_id)
    name = f"{item.name[: limits.NAME - 9]}, again"
    if isinstance(item, Shot):
        copy: Item = Shot(
            story_id=item.story_id,
            scene_id=item.scene_id,
            character_id=item.character_id,
            outfit_id=item.outfit_id,
            name=name,
            draft=dict(item.draft),
        )
    elif isinstance(item, StoryScene):
        copy = StoryScene(story_id=item.story_id, name=name, words=item.words)
    elif isinstance(item, Outfit):
        copy = Outfit(character_id=item.character_id, name=name, words=item.words)
    elif isinstance(item, Character):
        copy = Character(story_id=item.story_id, name=name, traits=item.traits, summary=item.summary, palette=dict(item.palette))
    else:
        raise NotFound("A story is not doubled. A backup keeps all of it.")
    session.add(copy)
    session.flush()
    copy.position = item.position
    if isinstance(copy, Shot):
        drafts.first(session, copy)
    if isinstance(copy, Character) and isinstance(item, Character):
        for outfit in item.outfits:
            session.add(Outfit(character_id=copy.id, name=outfit.name, words=outfit.words, position=outfit.position))
        for anchor in item.anchors:
            session.add(Anchor(character_id=copy.id, picture_sha256=anchor.picture_sha256, take_id=anchor.take_id, lead=anchor.lead))
    session.flush()
    return copy


def removed_of(session: Session, story_id: int) -> list[Removed]:
    """What was removed from a story, the last first."""
    found = []
    for kind in KINDS.values():
        query = select(kind.row.id, kind.row.name, kind.row.removed_at).where(kind.row.removed_at.is_not(None))
        if kind.row is Outfit:
            query = query.join(Character, Character.id == Outfit.character_id).where(Character.story_id == story_id)
        elif kind.row is Story:
            continue
        else:
            query = query.where(kind.row.story_id == story_id)
        found += [Removed(kind.name, *row) for row in session.execute(query)]
    return sorted(found, key=lambda one: one.removed_at, reverse=True)


def removed_stories(session: Session) -> list[Removed]:
    query = select(Story.id, Story.name, Story.removed_at).where(Story.removed_at.is_not(None)).order_by(Story.removed_at.desc())
    return [Removed("story", number, name, at) for number, name, at in session.execute(query) if at is not None]
