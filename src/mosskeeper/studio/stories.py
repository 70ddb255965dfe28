"""Stories and their board."""

from __future__ import annotations

from dataclasses import dataclass, field

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session, selectinload

from mosskeeper.core import limits
from mosskeeper.core.errors import NotFound
from mosskeeper.studio import measures
from mosskeeper.studio.models import Character, Outfit, Run, Shot, Story, StoryScene, Take
from mosskeeper.studio.run_states import ACTIVE

_ON_BOARD = (Shot.removed_at.is_(None), Shot.made_for == "")
_SHOWN = 6  # pictures of a story on the shelf


@dataclass(frozen=True, slots=True)
class ShelfEntry:
    story: Story
    pictures: list[str]  # SHA-256 of six takes at most: kept ones, and where they are few, the newest others
    shots: int
    kept: int


@dataclass(slots=True)
class BoardCell:
    """One shot on the board, with the take that is shown for it."""

    shot: Shot
    take: Take | None = None
    takes: int = 0
    active: bool = False
    drift: float | None = None  # of that take, from the anchors


@dataclass(slots=True)
class StoryBoard:
    story: Story
    columns: list[tuple[Character, Outfit | None]] = field(default_factory=list)
    rows: list[tuple[StoryScene, list[list[BoardCell]]]] = field(default_factory=list)
    free: list[BoardCell] = field(default_factory=list)


def create(session: Session, name: str, summary: str = "") -> Story:
    story = Story(
        name=limits.text(name, "The name", "name", limits.NAME, needed=True),
        summary=limits.text(summary, "The summary", "summary", limits.SUMMARY),
    )
    session.add(story)
    session.flush()
    return story


def find(session: Session, story_id: int) -> Story:
    story = session.get(Story, story_id)
    if story is None:
        raise NotFound("This story does not exist.")
    return story


def shelf(session: Session) -> list[ShelfEntry]:
    shots: dict[int, int] = dict(session.execute(select(Shot.story_id, func.count()).where(*_ON_BOARD).group_by(Shot.story_id)).all())
    kept: dict[int, list[str]] = {}
    rows = session.execute(
        select(Shot.story_id, Take.picture_sha256)
        .join(Take, Take.shot_id == Shot.id)
        .where(Take.kept, *_ON_BOARD)
        .order_by(Shot.scene_id.is_(None), Shot.position, Shot.id)
    )
    for story_id, sha in rows:
        kept.setdefault(story_id, []).append(sha)
    others = _newest_others(session)
    return [
        ShelfEntry(s, _spread(own, _SHOWN) + others.get(s.id, [])[: max(0, _SHOWN - len(own))], shots.get(s.id, 0), len(own))
        for s, own in ((s, kept.get(s.id, [])) for s in all_of_them(session))
    ]


def _newest_others(session: Session) -> dict[int, list[str]]:
    """By story, its newest takes that are neither kept nor put aside."""
    place = func.row_number().over(partition_by=Shot.story_id, order_by=Take.id.desc()).label("place")
    each = select(Shot.story_id, Take.picture_sha256, place).join(Take, Take.shot_id == Shot.id)
    newest = each.where(~Take.kept, ~Take.put_aside, *_ON_BOARD).subquery()
    out: dict[int, list[str]] = {}
    query = select(newest.c.story_id, newest.c.picture_sha256).where(newest.c.place <= _SHOWN)
    for story_id, sha in session.execute(query.order_by(newest.c.story_id, newest.c.place)):
        out.setdefault(story_id, []).append(sha)
    return out


def all_of_them(session: Session) -> list[Story]:
    return list(session.scalars(select(Story).where(Story.removed_at.is_(None)).order_by(Story.position, Story.id)))


def _spread(pictures: list[str], n: int) -> list[str]:
    """`n` of the pictures, evenly from the whole story."""
    if len(pictures) <= n:
        return pictures
    return [pictures[i * len(pictures) // n] for i in range(n)]


def board(session: Session, story_id: int) -> StoryBoard:
    """Scenes × outfits. Shots without a scene or a character are free: they stand below the board."""
    story = session.scalar(
        select(Story)
        .where(Story.id == story_id)
        .options(
            selectinload(Story.scenes),
            selectinload(Story.characters).selectinload(Character.anchors),
            selectinload(Story.characters).selectinload(Character.outfits),
            selectinload(Story.shots).defer(Shot.draft),
        )
    )
    if story is None:
        raise NotFound("This story does not exist.")
    cells = _cells(session, story)
    # a shot whose scene, character or outfit was removed stands among the free ones meanwhile
    scenes, outfits = {scene.id for scene in story.scenes}, {o.id for c in story.characters for o in c.outfits} | {None}
    cast = {character.id for character in story.characters}
    placed = [c for c in cells if c.shot.scene_id in scenes and c.shot.character_id in cast and c.shot.outfit_id in outfits]
    there = {c.shot.id for c in placed}
    out = StoryBoard(story, free=[c for c in cells if c.shot.id not in there])
    for character in story.characters:
        out.columns += [(character, outfit) for outfit in character.outfits]
        if not character.outfits or any(c.shot.character_id == character.id and c.shot.outfit_id is None for c in placed):
            out.columns.append((character, None))
    at: dict[tuple[int | None, int | None, int | None], list[BoardCell]] = {}
    for cell in placed:
        at.setdefault((cell.shot.scene_id, cell.shot.character_id, cell.shot.outfit_id), []).append(cell)
    for scene in story.scenes:
        row = [at.get((scene.id, who.id, outfit.id if outfit else None), []) for who, outfit in out.columns]
        out.rows.append((scene, row))
    return out


def _cells(session: Session, story: Story) -> list[BoardCell]:
    cells = {shot.id: BoardCell(shot) for shot in story.shots}
    best = session.execute(
        select(Take, func.count().over(partition_by=Take.shot_id))
        .join(Shot, Shot.id == Take.shot_id)
        .where(Shot.story_id == story.id, *_ON_BOARD, ~Take.put_aside)
        .ext(distinct_on(Take.shot_id))
        .order_by(Take.shot_id, Take.kept.desc(), Take.number.desc())
    )
    for take, n in best:
        cells[take.shot_id].take, cells[take.shot_id].takes = take, n
    anchors = {character.id: sorted(a.picture_sha256 for a in character.anchors) for character in story.characters}
    shown = {c.take.id: anchors[c.shot.character_id] for c in cells.values() if c.take is not None and c.shot.character_id in anchors}
    told = measures.drifts(session, shown)
    for cell in cells.values():
        cell.drift = told.get(cell.take.id) if cell.take is not None else None
    active = select(Run.shot_id).join(Shot, Shot.id == Run.shot_id).where(Shot.story_id == story.id, *_ON_BOARD, Run.state.in_(ACTIVE))
    for shot_id in session.scalars(active):
        cells[shot_id].active = True
    return list(cells.values())
