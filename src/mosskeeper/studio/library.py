"""The library: every picture that was made or brought in, found again by words, colour, likeness and filters."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, fields
from datetime import UTC, date, datetime, timedelta
from typing import Any

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import ColumnElement, Select, Text, case, cast, func, null, select, update
from sqlalchemy.dialects.postgresql import REGCONFIG
from sqlalchemy.orm import Session, joinedload

from mosskeeper.core import limits
from mosskeeper.core.continuity.likeness import VERSION, likeness, near_colour
from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.palette import COLOURS, Palette
from mosskeeper.core.words.lexicon import FILLER
from mosskeeper.studio import pictures, readings
from mosskeeper.studio.database import locked, read_binary
from mosskeeper.studio.models import Entry, RecipeDocument, Run, Shot, Take

PAGE = 120  # so many that the usual numbers of columns divide it
_LEAST_COLOUR = 0.04  # share of the picture
_LEAST_LIKE = 0.3  # cosine
_MOST_TAGS = 20
_LEAST_CROP = 32  # px
Colour = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class SearchQuery:
    """What is looked for. Empty fields ask for nothing."""

    words: str = ""
    colour: str = ""  # #rrggbb
    like: str = ""  # name of a picture
    story: int | None = None
    studio: bool = False  # only the shelf of the whole studio
    scene: int | None = None
    character: int | None = None
    engine: str = ""
    kind: str = ""
    folder: str = ""
    tag: str = ""
    kept: bool = False
    since: date | None = None
    removed: bool = False

    @property
    def asks(self) -> bool:
        return any(getattr(self, f.name) for f in fields(self) if f.name not in ("story", "studio"))


@dataclass(frozen=True, slots=True)
class SearchResult:
    """One page of entries. total : of all pages. unread : entries that likeness cannot judge yet."""

    entries: list[Entry]
    total: int
    unread: int = 0


def add(
    session: Session, sha256: str, kind: str, name: str, story_id: int | None = None, take: Take | None = None, words: str = ""
) -> Entry:
    """Puts a picture into the library; one that is there already, in the same story, is brought back instead."""
    if take is None:
        there = session.scalar(
            select(Entry).where(Entry.picture_sha256 == sha256, Entry.story_id.is_not_distinct_from(story_id), Entry.take_id.is_(None))
        )
        if there is not None:
            there.removed_at = None
            return there
    entry = Entry(picture_sha256=sha256, kind=kind, name=name[:160], story_id=story_id, take_id=take.id if take else None, words=words)
    session.add(entry)
    session.flush()
    return entry


def name_of_file(filename: str | None) -> str:
    """What a file that came in is called: without its ending, and without what cannot be kept."""
    shown = "".join(c for c in filename or "" if c.isprintable()).strip()
    return shown.rsplit(".", 1)[0][: limits.NAME].strip() or "picture"


def upload(
    session: Session, files: Iterable[tuple[str, bytes]], story_id: int | None, folder: str = ""
) -> tuple[list[Entry], list[tuple[str, str]]]:
    """Takes files in, each on its own: those that were taken, and name and reason of those that were not."""
    taken, refused = [], []
    folder = limits.text(folder, "The folder", "folder", limits.FOLDER)
    for name, data in files:
        try:
            with session.begin_nested():
                picture = pictures.upload(session, data, name_of_file(name))
                entry = add(session, picture.sha256, "upload", name_of_file(name), story_id)
                entry.folder = folder or entry.folder
        except ArtistError as error:
            refused.append((name, error.sentence))
        else:
            taken.append(entry)
    return taken, refused


def crop(session: Session, sha256: str, box: tuple[float, float, float, float]) -> Entry:
    """Cuts a part out of a picture; it stands beside it in the library and remembers where it comes from.

    box : x0, y0, x1, y1 as shares of width and height.

    Raises
    ------
    ArtistError
        where the part is smaller than 32 px.
    """
    whole, of = pictures.pixels(session, sha256), pictures.find(session, sha256)
    h, w = whole.shape[:2]
    x0, x1 = (round(float(np.clip(v, 0, 1)) * w) for v in sorted((box[0], box[2])))
    y0, y1 = (round(float(np.clip(v, 0, 1)) * h) for v in sorted((box[1], box[3])))
    if min(x1 - x0, y1 - y0) < _LEAST_CROP:
        raise ArtistError(f"This part is {x1 - x0}×{y1 - y0} px: cut out at least {_LEAST_CROP}×{_LEAST_CROP}.", "crop")
    name = f"{of.name or 'picture'}, cut out"
    cut = pictures.store(session, np.ascontiguousarray(whole[y0:y1, x0:x1]), name, "crop")
    story_id = session.scalar(select(Entry.story_id).where(Entry.picture_sha256 == sha256).order_by(Entry.id).limit(1))
    entry = add(session, cut.sha256, "crop", name, story_id)
    entry.source_sha256 = sha256
    session.flush()
    return entry


def of_picture(session: Session, sha256: str) -> list[int]:
    """The entries that show a picture."""
    return list(session.scalars(select(Entry.id).where(Entry.picture_sha256 == sha256)))


def find(session: Session, entry_id: int) -> Entry:
    entry = session.get(Entry, entry_id)
    if entry is None:
        raise NotFound("This picture is not in the library.")
    return entry


def of_take(session: Session, take_id: int) -> Entry:
    return session.scalars(select(Entry).where(Entry.take_id == take_id)).one()


def give_up(session: Session, entry_id: int) -> None:
    """Marks an entry that cannot be read, so that it is not tried for ever."""
    find(session, entry_id).likeness_version = version()


def version() -> str:
    """Of reader and likeness: vectors of different versions are not compared."""
    return f"{readings.version_now()}.{VERSION}"


def look(session: Session, entry: Entry) -> None:
    """Reads an entry's picture for the search by colour and likeness, where that was not done by the present reader."""
    if entry.likeness_version == version():
        return
    reading = readings.of_picture(session, entry.picture_sha256)
    entry.palette = packed(reading.palette)
    entry.likeness = likeness(reading).astype(np.float16).tobytes()
    entry.likeness_version = version()
    session.flush()


def search(session: Session, wanted: SearchQuery, page: int = 0) -> SearchResult:
    """One page of what is looked for: the newest first, or the nearest where a colour or likeness is asked."""
    query = _filtered(wanted)
    if not wanted.colour and not wanted.like:
        total = session.scalar(query.with_only_columns(func.count(Entry.id))) or 0
        order = query.order_by(Entry.created_at.desc(), Entry.id.desc()).limit(PAGE).offset(page * PAGE)
        return SearchResult(_loaded(session, order), total)
    empty = null()
    rows = read_binary(
        session,
        query.order_by(Entry.id.desc()).with_only_columns(
            Entry.id,
            Entry.palette if wanted.colour else empty,
            case((_looked_at(), Entry.likeness)) if wanted.like else empty,
        ),
    )
    scores, unread = np.ones(len(rows), np.float32), 0
    if wanted.colour:
        scores *= _colour_scores([palette for _, palette, _ in rows], _lab_of(wanted.colour))
    if wanted.like:
        near, unread = _like_scores([vector for _, _, vector in rows], _likeness_of(session, wanted.like))
        scores *= near
    ranked = [rows[k][0] for k in np.argsort(-scores, kind="stable") if scores[k] > 0]
    shown = ranked[page * PAGE : (page + 1) * PAGE]
    by_id = {entry.id: entry for entry in _loaded(session, select(Entry).where(Entry.id.in_(shown)))}
    return SearchResult([by_id[k] for k in shown], len(ranked), unread)


def _colour_scores(palettes: Sequence[bytes | None], lab: NDArray[np.float32]) -> NDArray[np.float32]:
    found, known = _stacked(palettes, 8 * COLOURS)
    scores = np.zeros(len(palettes), np.float32)
    areas = near_colour(found.reshape(len(known), COLOURS, 4), lab)
    scores[known] = np.where(areas >= _LEAST_COLOUR, areas, 0)
    return scores


def _like_scores(vectors: Sequence[bytes | None], own: NDArray[np.float32]) -> tuple[NDArray[np.float32], int]:
    """Cosine of each to `own`, and how many have no vector yet."""
    found, known = _stacked(vectors, 2 * len(own))
    scores = np.zeros(len(vectors), np.float32)
    near = found @ own
    scores[known] = np.where(near >= _LEAST_LIKE, near, 0)
    return scores, len(vectors) - len(known)


def _stacked(rows: Sequence[bytes | None], size: int) -> tuple[NDArray[np.float32], list[int]]:
    """(N, size / 2) of the float16 rows that have this many bytes, and which those are."""
    known = [k for k, row in enumerate(rows) if row is not None and len(row) == size]
    joined = b"".join(rows[k] for k in known)  # type: ignore[misc]
    return np.frombuffer(joined, np.float16).astype(np.float32).reshape(len(known), size // 2), known


def _looked_at() -> ColumnElement[bool]:
    """Whether the present reader has looked at an entry."""
    return Entry.likeness_version == version()


def _likeness_of(session: Session, sha256: str) -> NDArray[np.float32]:
    kept = session.scalar(select(Entry.likeness).where(Entry.picture_sha256 == sha256, _looked_at(), Entry.likeness.is_not(None)).limit(1))
    if kept is None:
        pictures.find(session, sha256)
        raise ArtistError("This picture is still being read; what is like it can be found in a moment.", "like")
    return np.frombuffer(kept, np.float16).astype(np.float32)


def _loaded(session: Session, query: Select[Any]) -> list[Entry]:
    return list(session.scalars(query.options(joinedload(Entry.take).joinedload(Take.shot), joinedload(Entry.story))))


def _filtered(wanted: SearchQuery) -> Select[Any]:
    query = select(Entry).where(Entry.removed_at.is_not(None) if wanted.removed else Entry.removed_at.is_(None))
    if wanted.story is not None:
        query = query.where(Entry.story_id == wanted.story)
    elif wanted.studio:
        query = query.where(Entry.story_id.is_(None))
    words = _query_of(wanted.words)
    if words:
        query = query.where(Entry.searched.op("@@")(func.to_tsquery(cast("simple", REGCONFIG), words)))
    for column, value in ((Entry.kind, wanted.kind), (Entry.folder, wanted.folder)):
        if value:
            query = query.where(column == value)
    if wanted.tag:
        query = query.where(Entry.tags.contains([wanted.tag]))
    if wanted.since:
        query = query.where(Entry.created_at >= datetime.combine(wanted.since, datetime.min.time(), UTC))
    return _of_takes(query, wanted) if wanted.kept or wanted.scene or wanted.character or wanted.engine else query


def _of_takes(query: Select[Any], wanted: SearchQuery) -> Select[Any]:
    """Only takes: those that were kept, that are of a scene or of somebody, or that an engine made."""
    query = query.join(Take, Take.id == Entry.take_id).join(Shot, Shot.id == Take.shot_id)
    if wanted.kept:
        query = query.where(Take.kept)
    if wanted.scene:
        query = query.where(Shot.scene_id == wanted.scene)
    if wanted.character:
        query = query.where(Shot.character_id == wanted.character)
    if wanted.engine:
        query = query.join(Run, Run.id == Take.run_id).join(RecipeDocument, RecipeDocument.sha256 == Run.recipe_sha256)
        query = query.where(RecipeDocument.body["engine"].astext == wanted.engine)
    return query


def _query_of(words: str) -> str:
    """A tsquery that asks for all words but those that say nothing alone ("with", "a"); each may be the beginning of one."""
    asked = re.findall(r"\w+", words.lower())
    telling = [word for word in asked if word not in FILLER] or asked
    return " & ".join(f"{word}:*" for word in telling[:12])


def _lab_of(colour: str) -> NDArray[np.float32]:
    if not re.fullmatch(r"#[0-9a-fA-F]{6}", colour):
        raise ArtistError("A colour is written as # and six hexadecimal digits.", "colour")
    return np.asarray(rgb_to_lab(np.array([[int(colour[k : k + 2], 16) / 255 for k in (1, 3, 5)]], np.float32))[0], np.float32)


def packed(palette: Palette) -> bytes:
    """A palette as an entry keeps it."""
    return np.concatenate([palette.lab, palette.area[:, None]], 1).astype(np.float16).tobytes()


def unpacked(data: bytes) -> NDArray[np.float32]:
    """(COLOURS, 4) Lab and share of each colour."""
    return np.frombuffer(data, np.float16).astype(np.float32).reshape(COLOURS, 4)


def describe(session: Session, entry_id: int, name: str, tags: str, folder: str) -> Entry:
    """Names, tags and files an entry; tags are parted by commas."""
    own = _tags_of(tags)
    name, folder = limits.text(name, "The name", "name", limits.NAME), limits.text(folder, "The folder", "folder", limits.FOLDER)
    entry = locked(session, Entry, entry_id, "This picture is not in the library.")
    entry.name, entry.tags, entry.folder = name or entry.name, own, folder
    session.flush()
    return entry


def _tags_of(typed: str, there: Sequence[str] = ()) -> list[str]:
    """The tags that are there, and those that are typed, parted by commas."""
    typed_ones = (limits.text(t, "A tag", "tags", limits.TAG).lower() for t in typed.split(",") if t.strip())
    out = list(dict.fromkeys([*there, *typed_ones]))
    if len(out) > _MOST_TAGS:
        raise ArtistError(f"A picture takes {_MOST_TAGS} tags at most.", "tags")
    return out


def tag_all(session: Session, entry_ids: Sequence[int], tags: str) -> int:
    """Adds tags, parted by commas, to several entries. Nothing is tagged where one of them would have too many."""
    if not tags.strip():
        raise ArtistError("Write the tags that they get.", "tags")
    entries = _several(session, entry_ids)
    for entry, own in [(entry, _tags_of(tags, entry.tags)) for entry in entries]:
        entry.tags = own
    session.flush()
    return len(entries)


def file_all(session: Session, entry_ids: Sequence[int], folder: str) -> int:
    """Moves several entries into a folder; an empty name takes them out of theirs."""
    folder, entries = limits.text(folder, "The folder", "folder", limits.FOLDER), _several(session, entry_ids)
    for entry in entries:
        entry.folder = folder
    session.flush()
    return len(entries)


def _several(session: Session, entry_ids: Sequence[int]) -> list[Entry]:
    """Entries, locked one after the other in an order that all keep."""
    query = select(Entry).where(Entry.id.in_(entry_ids)).order_by(Entry.id)
    return list(session.scalars(query.with_for_update().execution_options(populate_existing=True)))


def used_in(session: Session, sha256: str) -> list[Shot]:
    """The shots whose tables use a picture as a cue, a source or a mask."""
    pattern = f'%"{sha256}"%'
    return list(session.scalars(select(Shot).where(cast(Shot.draft, Text).like(pattern)).order_by(Shot.id)))


def remove(session: Session, entry_ids: Sequence[int]) -> int:
    """Takes entries out of the library. Pictures stay stored: recipes and anchors keep them, and entries can be brought back."""
    there = update(Entry).where(Entry.id.in_(entry_ids), Entry.removed_at.is_(None))
    return len(session.scalars(there.values(removed_at=datetime.now(UTC)).returning(Entry.id)).all())


def bring_back(session: Session, entry_ids: Sequence[int]) -> int:
    return len(session.scalars(update(Entry).where(Entry.id.in_(entry_ids)).values(removed_at=None).returning(Entry.id)).all())


def unread(session: Session, limit: int) -> list[Entry]:
    """Entries that the present reader has not looked at, the newest first."""
    query = select(Entry).where(~_looked_at(), Entry.removed_at.is_(None))
    return list(session.scalars(query.order_by(Entry.id.desc()).limit(limit)))


def folders(session: Session, story_id: int | None) -> list[str]:
    query = select(Entry.folder).where(Entry.folder != "", Entry.removed_at.is_(None)).distinct().order_by(Entry.folder)
    return list(session.scalars(query if story_id is None else query.where(Entry.story_id == story_id)))


def tags(session: Session, story_id: int | None, most: int = 40) -> list[str]:
    """The tags in use, the commonest first."""
    each = select(func.unnest(Entry.tags).label("tag")).where(Entry.removed_at.is_(None))
    one = (each if story_id is None else each.where(Entry.story_id == story_id)).subquery()
    return list(session.scalars(select(one.c.tag).group_by(one.c.tag).order_by(func.count().desc(), one.c.tag).limit(most)))


def days_ago(days: int) -> date:
    return (datetime.now(UTC) - timedelta(days=days)).date()
