"""The tables. Names of use: design's vocabulary, one class a table."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import (
    BigInteger,
    Boolean,
    Computed,
    DateTime,
    Float,
    ForeignKey,
    Index,
    Integer,
    LargeBinary,
    String,
    Text,
    UniqueConstraint,
    false,
    func,
    text,
)
from sqlalchemy.dialects.postgresql import ARRAY, JSONB, TSVECTOR
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship

from mosskeeper.studio.run_states import ACTIVE, TROUBLED, RunState


class Base(DeclarativeBase):
    pass


_LAST = 1_000_000  # of what is new: behind all that stands in order


def _now() -> Mapped[datetime]:
    return mapped_column(DateTime(timezone=True), server_default=func.now())


class Picture(Base):
    """Every picture's bytes, once. Keyed by the SHA-256 of the stored PNG."""

    __tablename__ = "pictures"
    sha256: Mapped[str] = mapped_column(String(64), primary_key=True)
    data: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)
    thumbnail: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)
    width: Mapped[int]
    height: Mapped[int]
    name: Mapped[str] = mapped_column(String(160), default="")
    origin: Mapped[str] = mapped_column(String(16))  # upload or take
    notes: Mapped[list[str]] = mapped_column(ARRAY(Text), server_default="{}")
    created_at: Mapped[datetime] = _now()


class OriginalFile(Base):
    """The file of a picture that was scaled down when it came, as it came."""

    __tablename__ = "original_files"
    picture_sha256: Mapped[str] = mapped_column(ForeignKey("pictures.sha256", ondelete="CASCADE"), primary_key=True)
    data: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)


class StoredReading(Base):
    """What a reader saw in a picture, and where the artist placed points by hand."""

    __tablename__ = "readings"
    picture_sha256: Mapped[str] = mapped_column(ForeignKey("pictures.sha256", ondelete="CASCADE"), primary_key=True)
    version: Mapped[str] = mapped_column(String(40))  # of readers and format: others are read anew
    body: Mapped[dict[str, Any]] = mapped_column(JSONB)
    arrays: Mapped[bytes] = mapped_column(LargeBinary)
    face_check: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))  # whether its face serves as a reference
    placed: Mapped[list[list[float] | None] | None] = mapped_column(JSONB(none_as_null=True))  # 18 joints, shares of width and height
    depth: Mapped[bytes | None] = mapped_column(LargeBinary)  # PNG, bright is near: brought in or painted over
    features: Mapped[bytes | None] = mapped_column(LargeBinary, deferred=True)  # local features, by which copies are recognised
    # traits as the artist corrected them: number of the figure → attribute → value
    corrected: Mapped[dict[str, dict[str, str]] | None] = mapped_column(JSONB(none_as_null=True))


class Removable:
    """What can be taken away and brought back."""

    removed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))


class Ordered(Removable):
    """… and has a place among its like."""

    position: Mapped[int] = mapped_column(Integer, default=_LAST)


class Story(Ordered, Base):
    __tablename__ = "stories"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(160))
    summary: Mapped[str] = mapped_column(Text, default="")
    allowance: Mapped[float | None] = mapped_column(Float)  # sparks a day, from which the story warns
    created_at: Mapped[datetime] = _now()
    characters: Mapped[list[Character]] = relationship(
        back_populates="story",
        primaryjoin="and_(Story.id == Character.story_id, Character.removed_at.is_(None))",
        order_by="(Character.position, Character.id)",
    )
    scenes: Mapped[list[StoryScene]] = relationship(
        back_populates="story",
        primaryjoin="and_(Story.id == StoryScene.story_id, StoryScene.removed_at.is_(None))",
        order_by="(StoryScene.position, StoryScene.id)",
    )
    shots: Mapped[list[Shot]] = relationship(
        back_populates="story",
        primaryjoin="and_(Story.id == Shot.story_id, Shot.removed_at.is_(None), Shot.made_for == '')",
        order_by="(Shot.position, Shot.id)",
    )


class Character(Ordered, Base):
    __tablename__ = "characters"
    id: Mapped[int] = mapped_column(primary_key=True)
    story_id: Mapped[int] = mapped_column(ForeignKey("stories.id", ondelete="CASCADE"), index=True)
    name: Mapped[str] = mapped_column(String(160))
    traits: Mapped[str] = mapped_column(Text, default="")  # words that every picture of the character carries
    summary: Mapped[str] = mapped_column(Text, default="")
    palette: Mapped[dict[str, str]] = mapped_column(JSONB, default=dict)  # colours corrected by hand: skin, hair colour, eyes → #rrggbb
    story: Mapped[Story] = relationship(back_populates="characters")
    anchors: Mapped[list[Anchor]] = relationship(
        back_populates="character",
        primaryjoin="and_(Character.id == Anchor.character_id, Anchor.removed_at.is_(None))",
        order_by="Anchor.id",
    )
    outfits: Mapped[list[Outfit]] = relationship(
        back_populates="character",
        primaryjoin="and_(Character.id == Outfit.character_id, Outfit.removed_at.is_(None))",
        order_by="(Outfit.position, Outfit.id)",
    )

    @property
    def lead(self) -> Anchor | None:
        return next((a for a in self.anchors if a.lead), None)


class Anchor(Removable, Base):
    __tablename__ = "anchors"
    __table_args__ = (
        Index("one_lead_anchor", "character_id", unique=True, postgresql_where=text("lead")),
        UniqueConstraint("character_id", "picture_sha256"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    character_id: Mapped[int] = mapped_column(ForeignKey("characters.id", ondelete="CASCADE"), index=True)
    picture_sha256: Mapped[str] = mapped_column(ForeignKey("pictures.sha256", ondelete="RESTRICT"), index=True)
    take_id: Mapped[int | None] = mapped_column(ForeignKey("takes.id", ondelete="SET NULL"), index=True)
    lead: Mapped[bool] = mapped_column(Boolean, default=False)
    created_at: Mapped[datetime] = _now()
    character: Mapped[Character] = relationship(back_populates="anchors")


class Outfit(Ordered, Base):
    __tablename__ = "outfits"
    id: Mapped[int] = mapped_column(primary_key=True)
    character_id: Mapped[int] = mapped_column(ForeignKey("characters.id", ondelete="CASCADE"), index=True)
    name: Mapped[str] = mapped_column(String(160))
    words: Mapped[str] = mapped_column(Text, default="")
    character: Mapped[Character] = relationship(back_populates="outfits")


class StoryScene(Ordered, Base):
    __tablename__ = "scenes"
    id: Mapped[int] = mapped_column(primary_key=True)
    story_id: Mapped[int] = mapped_column(ForeignKey("stories.id", ondelete="CASCADE"), index=True)
    name: Mapped[str] = mapped_column(String(160))
    words: Mapped[str] = mapped_column(Text, default="")
    story: Mapped[Story] = relationship(back_populates="scenes")


class Shot(Ordered, Base):
    __tablename__ = "shots"
    id: Mapped[int] = mapped_column(primary_key=True)
    story_id: Mapped[int] = mapped_column(ForeignKey("stories.id", ondelete="CASCADE"), index=True)
    scene_id: Mapped[int | None] = mapped_column(ForeignKey("scenes.id", ondelete="SET NULL"), index=True)
    character_id: Mapped[int | None] = mapped_column(ForeignKey("characters.id", ondelete="SET NULL"), index=True)
    outfit_id: Mapped[int | None] = mapped_column(ForeignKey("outfits.id", ondelete="SET NULL"), index=True)
    name: Mapped[str] = mapped_column(String(160))
    draft: Mapped[dict[str, Any]] = mapped_column(JSONB)  # the recipe as it stands on the light table
    revision: Mapped[int] = mapped_column(Integer, default=1)  # number of the draft that this is
    # the kind of a character's sheet, or FACES; "" of shots of the story, which alone stand on its board
    made_for: Mapped[str] = mapped_column(String(20), default="", server_default="")
    story: Mapped[Story] = relationship(back_populates="shots")
    scene: Mapped[StoryScene | None] = relationship()
    character: Mapped[Character | None] = relationship()
    outfit: Mapped[Outfit | None] = relationship()


class Draft(Base):
    """Every recipe that ever stood on a shot's light table, in the order of the edits; none is overwritten.

    Edits that follow each other closely, as typing does, are one step; undo goes to the step `after` which it came.
    """

    __tablename__ = "drafts"
    shot_id: Mapped[int] = mapped_column(ForeignKey("shots.id", ondelete="CASCADE"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    step: Mapped[int]
    after: Mapped[int | None]  # the step before; None for the first
    page: Mapped[str] = mapped_column(String(16), default="")  # on which it was edited
    things: Mapped[list[str]] = mapped_column(ARRAY(Text), default=list)  # what was edited
    body: Mapped[dict[str, Any]] = mapped_column(JSONB)
    created_at: Mapped[datetime] = _now()


class ActDone(Base):
    """An act of a page that was carried out, or refused with a sentence. moved : refused since another page was first."""

    __tablename__ = "acts"
    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    refused: Mapped[str | None] = mapped_column(Text)
    moved: Mapped[bool] = mapped_column(default=False, server_default=false())
    created_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now(), index=True)


class RemoteEngineRow(Base):
    """A remote engine that was connected, and what it told of itself then."""

    __tablename__ = "engines"
    key: Mapped[str] = mapped_column(String(60), primary_key=True)
    url: Mapped[str] = mapped_column(Text, unique=True)
    told: Mapped[dict[str, Any]] = mapped_column(JSONB)
    away_since: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))  # disconnected; recipes still name it
    created_at: Mapped[datetime] = _now()


class RecipeDocument(Base):
    """Recipes of runs, each stored once. Keyed by the SHA-256 of the JSON."""

    __tablename__ = "recipes"
    sha256: Mapped[str] = mapped_column(String(64), primary_key=True)
    body: Mapped[dict[str, Any]] = mapped_column(JSONB)


class Run(Base):
    """One request for takes. States: waiting, running, stopping, done, stopped, failed, and held for the artist: its engine
    stayed busy or is away, or workers died again and again in one step of it.

    A run with dials is a sweep: its takes are the cells, and each has the recipe of its cell.
    """

    __tablename__ = "runs"
    __table_args__ = (
        Index("runs_of_shot", "shot_id", text("id desc")),
        Index("troubled_runs", "shot_id", postgresql_where=text("state in ('held', 'failed') and dismissed_at is null")),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    shot_id: Mapped[int] = mapped_column(ForeignKey("shots.id", ondelete="CASCADE"), index=True)
    recipe_sha256: Mapped[str] = mapped_column(ForeignKey("recipes.sha256", ondelete="RESTRICT"), index=True)
    seeds: Mapped[list[int]] = mapped_column(ARRAY(BigInteger))
    dials: Mapped[list[dict[str, Any]]] = mapped_column(JSONB, default=list)
    state: Mapped[str] = mapped_column(String(16), default=RunState.WAITING, index=True)
    step: Mapped[int] = mapped_column(default=0)  # of all steps of all takes
    steps: Mapped[int]
    message: Mapped[str] = mapped_column(Text, default="")
    sparks: Mapped[float] = mapped_column(Float)
    expected_seconds: Mapped[float] = mapped_column(Float)
    attempts: Mapped[int] = mapped_column(default=0)  # times a worker took it up
    pulse: Mapped[int] = mapped_column(default=0)  # how often its engine looked up since the last step
    died_at: Mapped[str] = mapped_column(String(40), default="")  # take, step and pulse at which the last worker died …
    deaths: Mapped[int] = mapped_column(default=0)  # … how many did just there, one after the other …
    step_deaths: Mapped[int] = mapped_column(default=0)  # … and in that step
    errors: Mapped[int] = mapped_column(default=0)  # that the engine raised on the take it is at
    worker: Mapped[str] = mapped_column(String(80), default="")
    wait_until: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))  # a busy engine is asked again
    created_at: Mapped[datetime] = _now()
    started_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    finished_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    dismissed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))  # a held or failed run is shown until then
    stack_id: Mapped[int | None] = mapped_column(ForeignKey("stacks.id", ondelete="CASCADE"), index=True)  # it makes variants of a mend …
    mend: Mapped[str] = mapped_column(String(12), default="")  # … of this one
    redo: Mapped[bool] = mapped_column(Boolean, default=False)  # once it is done, the mends above are made anew as well
    shot: Mapped[Shot] = relationship()
    recipe: Mapped[RecipeDocument] = relationship()
    takes: Mapped[list[Take]] = relationship(back_populates="run", order_by="Take.place")

    @property
    def active(self) -> bool:
        return self.state in ACTIVE

    @property
    def troubled(self) -> bool:
        """Whether it waits for the artist to see what went wrong."""
        return self.state in TROUBLED and self.dismissed_at is None


class Preview(Base):
    """The last preview of a run, while it runs."""

    __tablename__ = "previews"
    run_id: Mapped[int] = mapped_column(ForeignKey("runs.id", ondelete="CASCADE"), primary_key=True)
    number: Mapped[int] = mapped_column(default=0)  # grows with every preview, so that addresses differ
    jpeg: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)


class Map(Base):
    """A map made of pictures, for somebody who asked to see it. It can be made again at any time."""

    __tablename__ = "maps"
    key: Mapped[str] = mapped_column(String(160), primary_key=True)  # what it is of
    version: Mapped[str] = mapped_column(String(80))  # of what made it: others are made anew
    png: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)
    facts: Mapped[dict[str, Any]] = mapped_column(JSONB)  # what was measured in making it
    created_at: Mapped[datetime] = _now()


class Take(Base):
    __tablename__ = "takes"
    __table_args__ = (
        # a take is stored once, however often its job runs
        UniqueConstraint("run_id", "place"),
        UniqueConstraint("shot_id", "number"),
        Index("one_kept_take", "shot_id", unique=True, postgresql_where=text("kept")),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    shot_id: Mapped[int] = mapped_column(ForeignKey("shots.id", ondelete="CASCADE"), index=True)
    run_id: Mapped[int] = mapped_column(ForeignKey("runs.id", ondelete="CASCADE"), index=True)
    place: Mapped[int]  # in its run, from 0
    number: Mapped[int]  # in its shot, from 1
    seed: Mapped[int] = mapped_column(BigInteger)
    picture_sha256: Mapped[str] = mapped_column(ForeignKey("pictures.sha256", ondelete="RESTRICT"), index=True)
    seconds: Mapped[float] = mapped_column(Float)
    kept: Mapped[bool] = mapped_column(Boolean, default=False)
    put_aside: Mapped[bool] = mapped_column(Boolean, default=False)
    says: Mapped[list[str]] = mapped_column(ARRAY(Text), default=list)  # what was told in making it
    created_at: Mapped[datetime] = _now()
    run: Mapped[Run] = relationship(back_populates="takes")
    shot: Mapped[Shot] = relationship()


class StoredScenes(Base):
    """The scenes that a picture was drawn from, so that it can be drawn anew with something changed."""

    __tablename__ = "explanations"
    picture_sha256: Mapped[str] = mapped_column(ForeignKey("pictures.sha256", ondelete="CASCADE"), primary_key=True)
    body: Mapped[dict[str, Any]] = mapped_column(JSONB)


class StoredMeasures(Base):
    """What was measured of a take: how well it obeyed each cue, and which reference won."""

    __tablename__ = "measures"
    take_id: Mapped[int] = mapped_column(ForeignKey("takes.id", ondelete="CASCADE"), primary_key=True)
    version: Mapped[str] = mapped_column(String(200))  # of reader and measures: others are measured anew
    body: Mapped[dict[str, Any]] = mapped_column(JSONB)


class Entry(Base):
    """A picture in the library: of a story, or on the shelf of the whole studio."""

    __tablename__ = "entries"
    __table_args__ = (
        Index("entries_searched", "searched", postgresql_using="gin"),
        Index("entries_newest", text("created_at desc"), text("id desc"), postgresql_where=text("removed_at is null")),
        Index("entries_of_story", "story_id", text("created_at desc"), text("id desc"), postgresql_where=text("removed_at is null")),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    picture_sha256: Mapped[str] = mapped_column(ForeignKey("pictures.sha256", ondelete="RESTRICT"), index=True)
    story_id: Mapped[int | None] = mapped_column(ForeignKey("stories.id", ondelete="SET NULL"), index=True)
    take_id: Mapped[int | None] = mapped_column(ForeignKey("takes.id", ondelete="CASCADE"), unique=True)
    source_sha256: Mapped[str | None] = mapped_column(
        ForeignKey("pictures.sha256", ondelete="RESTRICT"), index=True
    )  # what a crop was cut out of
    kind: Mapped[str] = mapped_column(String(16))  # take, upload or crop
    name: Mapped[str] = mapped_column(String(160))
    words: Mapped[str] = mapped_column(Text, default="")  # of the recipe, or of the reader
    tags: Mapped[list[str]] = mapped_column(ARRAY(Text), default=list)
    folder: Mapped[str] = mapped_column(String(120), default="")
    palette: Mapped[bytes | None] = mapped_column(LargeBinary)  # float16: L, a, b and share of each colour
    likeness: Mapped[bytes | None] = mapped_column(LargeBinary, deferred=True)  # float16
    likeness_version: Mapped[str] = mapped_column(String(60), default="")
    searched: Mapped[Any] = mapped_column(TSVECTOR, Computed("searched(name, words, tags)", persisted=True), deferred=True)
    removed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    created_at: Mapped[datetime] = _now()
    take: Mapped[Take | None] = relationship()
    story: Mapped[Story | None] = relationship()


class Preset(Base):
    """A named recipe, of a character or of the whole studio."""

    __tablename__ = "presets"
    id: Mapped[int] = mapped_column(primary_key=True)
    character_id: Mapped[int | None] = mapped_column(ForeignKey("characters.id", ondelete="CASCADE"), index=True)
    name: Mapped[str] = mapped_column(String(160))
    body: Mapped[dict[str, Any]] = mapped_column(JSONB)
    removed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    created_at: Mapped[datetime] = _now()


class LiveStage(Base):
    """A live picture and its board as they were at one moment."""

    __tablename__ = "stages"
    id: Mapped[int] = mapped_column(primary_key=True)
    shot_id: Mapped[int] = mapped_column(ForeignKey("shots.id", ondelete="CASCADE"), index=True)
    picture_sha256: Mapped[str] = mapped_column(ForeignKey("pictures.sha256", ondelete="RESTRICT"), index=True)
    body: Mapped[dict[str, Any]] = mapped_column(JSONB)  # the recipe, with the seed of the live picture
    created_at: Mapped[datetime] = _now()


class SeenLive(Base):
    """A live picture as it was seen: found again without having been kept. draft : the step of the history that its board was."""

    __tablename__ = "seen_live"
    __table_args__ = (Index("ix_seen_live_shot", "shot_id", "id"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    shot_id: Mapped[int] = mapped_column(ForeignKey("shots.id", ondelete="CASCADE"))
    draft: Mapped[int]
    seed: Mapped[int] = mapped_column(BigInteger)
    jpeg: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)
    created_at: Mapped[datetime] = _now()


class MendStack(Base):
    """The mends that lie on one picture of a shot; each act on it is a step that can be undone."""

    __tablename__ = "stacks"
    __table_args__ = (UniqueConstraint("shot_id", "base_sha256"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    shot_id: Mapped[int] = mapped_column(ForeignKey("shots.id", ondelete="CASCADE"), index=True)
    base_sha256: Mapped[str] = mapped_column(ForeignKey("pictures.sha256", ondelete="RESTRICT"), index=True)  # as it came
    number: Mapped[int]  # of the step at which it stands
    created_at: Mapped[datetime] = _now()
    shot: Mapped[Shot] = relationship()


class StackStep(Base):
    """A stack as it was after an act; none is overwritten."""

    __tablename__ = "stack_steps"
    stack_id: Mapped[int] = mapped_column(ForeignKey("stacks.id", ondelete="CASCADE"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    after: Mapped[int | None]  # the step before; None for the first
    page: Mapped[str] = mapped_column(String(16), default="")
    thing: Mapped[str] = mapped_column(String(40), default="")  # that was edited: typing in one field is one step
    body: Mapped[dict[str, Any]] = mapped_column(JSONB)
    created_at: Mapped[datetime] = _now()


class Variant(Base):
    """A picture that a mend made of the picture below it."""

    __tablename__ = "variants"
    __table_args__ = (UniqueConstraint("run_id", "place"), Index("variants_of_mend", "stack_id", "mend"))
    id: Mapped[int] = mapped_column(primary_key=True)
    stack_id: Mapped[int] = mapped_column(ForeignKey("stacks.id", ondelete="CASCADE"))
    mend: Mapped[str] = mapped_column(String(12))
    run_id: Mapped[int] = mapped_column(ForeignKey("runs.id", ondelete="CASCADE"), index=True)
    place: Mapped[int]
    seed: Mapped[int] = mapped_column(BigInteger)
    picture_sha256: Mapped[str] = mapped_column(ForeignKey("pictures.sha256", ondelete="RESTRICT"), index=True)
    made_by: Mapped[str] = mapped_column(String(64), index=True)  # the name of its recipe with its seed: core.stack.key_of
    says: Mapped[list[str]] = mapped_column(ARRAY(Text), default=list)
    seconds: Mapped[float] = mapped_column(Float)
    created_at: Mapped[datetime] = _now()
    run: Mapped[Run] = relationship()


class CopiedMend(Base):
    """A mend that was carried over to another picture."""

    __tablename__ = "copied_mends"
    __table_args__ = (Index("copies_of_mend", "from_stack", "mend"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    from_stack: Mapped[int] = mapped_column(ForeignKey("stacks.id", ondelete="CASCADE"))
    mend: Mapped[str] = mapped_column(String(12))
    to_stack: Mapped[int] = mapped_column(ForeignKey("stacks.id", ondelete="CASCADE"), index=True)
    copy: Mapped[str] = mapped_column(String(12))


class OwnLayout(Removable, Base):
    """Where regions lie, kept by an artist for other shots."""

    __tablename__ = "layouts"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(80))
    boxes: Mapped[list[Any]] = mapped_column(JSONB)  # from front to back, shares of width and height: left, top, right, bottom
    created_at: Mapped[datetime] = _now()


class BookPose(Base):
    """A pose that an artist added to the pose book."""

    __tablename__ = "book_poses"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(80))
    tags: Mapped[list[str]] = mapped_column(ARRAY(Text), default=list)
    figures: Mapped[list[Any]] = mapped_column(JSONB)  # of each its posture, as formats/pose_document writes it
    removed_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))
    created_at: Mapped[datetime] = _now()
