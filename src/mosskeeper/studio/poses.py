"""The poses of a shot: pose cues with skeletons of their own, one for each person, kept at every act of the hand; and the book."""

from __future__ import annotations

import hashlib
import secrets
from datetime import UTC, datetime
from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from mosskeeper.core import limits
from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.illustrator.vocabulary.people import Proportions, body_of
from mosskeeper.core.posing import book
from mosskeeper.core.posing.retarget import PosedBody, impossible, in_frame, mixed, retargeted
from mosskeeper.core.recipe import JOINTS, Cue, Hand, Limb, Recipe
from mosskeeper.core.regions.words import own_words, wants
from mosskeeper.core.words.understand import Understanding, understand
from mosskeeper.formats.keypoints import read_keypoints
from mosskeeper.studio import drafts, readings, shots
from mosskeeper.studio.acts import Moved
from mosskeeper.studio.database import locked
from mosskeeper.studio.models import BookPose, Shot

MOST_FIGURES = 4
Place = Annotated[float, Field(ge=-3, le=4, allow_inf_nan=False)]
_BOOK_TAGS = 8
_UNREAD = "This picture is still being read: try again in a moment."
_NOBODY = "Nobody's joints were read in this picture. Choose a clearer one, or place the points by hand."


class PosedFigure(BaseModel):
    """One figure on the pose overlay. skeleton : joints as shares of width and height, None where hidden."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    cue: Annotated[str, Field(pattern=r"^[a-z0-9]{0,12}$")] = ""
    figure: Annotated[int, Field(ge=0, lt=MOST_FIGURES)] = 0
    skeleton: Annotated[list[tuple[Place, Place] | None], Field(min_length=JOINTS, max_length=JOINTS)]
    hands: tuple[Hand, Hand] | None = None
    behind: Annotated[list[Limb], Field(max_length=4)] = Field(default_factory=list)
    unsure: list[int] = Field(default_factory=list)  # joints that were hardly seen

    @property
    def posed(self) -> PosedBody:
        return PosedBody(np.array([(np.nan, np.nan) if p is None else p for p in self.skeleton], float), self.hands, tuple(self.behind))

    def as_cue(self, weight: float = 1.0) -> Cue:
        """The figure as a pose cue."""
        named = {"figure": self.figure, "hands": self.hands, "behind": list(self.behind)}
        return Cue(role="pose", name="pose", skeleton=self.skeleton, weight=weight, end=100.0).model_copy(update=named)


class PoseSource(BaseModel):
    """Where a pose comes from: one of these."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    book: Annotated[str, Field(max_length=80)] = ""
    own: int | None = None
    picture: Annotated[str, Field(pattern=r"^([0-9a-f]{64})?$")] = ""
    keypoints: Annotated[str, Field(max_length=2_000_000)] = ""


class PosesMoved(Moved):
    """Another page changed the poses meanwhile."""

    def __init__(self) -> None:
        super().__init__("The poses were changed in another tab meanwhile. Show those, or lay yours over them.", "pose")


def figures_of(session: Session, recipe: Recipe) -> list[PosedFigure]:
    """The figures on the pose overlay: of each pose cue its own skeleton, or the one that was read in its picture."""
    cues = [cue for cue in recipe.cues if cue.role == "pose"][:MOST_FIGURES]
    known = readings.known_of(session, [cue.picture for cue in cues if cue.skeleton is None and cue.picture])
    out = []
    for cue in cues:
        skeleton, unsure = cue.skeleton, list[int]()
        if skeleton is None:
            reading = known.get(cue.picture or "")
            if reading is None or reading.joints is None:
                continue
            skeleton = [None if np.isnan(p).any() else (float(p[0]), float(p[1])) for p in reading.joints]
            unsure = [k for k, p in enumerate(skeleton) if p is None]
        out.append(PosedFigure(cue=cue.id, figure=cue.figure, skeleton=skeleton, hands=cue.hands, behind=cue.behind, unsure=unsure))
    return out


def state_of(recipe: Recipe) -> str:
    """By which it is told whether poses were changed meanwhile."""
    told = [
        cue.model_dump_json(include={"id", "picture", "skeleton", "figure", "hands", "behind"}) for cue in recipe.cues if cue.role == "pose"
    ]
    return hashlib.sha256("".join(told).encode()).hexdigest()[:16]


def keep(session: Session, shot_id: int, figures: list[PosedFigure], base: str, over: bool = False) -> Shot:
    """Keeps the figures as they are after an act: one step of the shot's history.

    Raises
    ------
    PosesMoved
        where they are others by now than those of `base`.
    ArtistError
        where two figures are bound to one person, or there are too many.
    """
    if len(figures) > MOST_FIGURES:
        raise ArtistError(f"A picture has at most {MOST_FIGURES} figures.", "pose")
    if len({f.figure for f in figures}) < len(figures):
        raise ArtistError("Two figures are bound to one person. Bind one of them to another.", "pose")

    def change(now: Recipe) -> Recipe:
        if state_of(now) != base and not over:
            raise PosesMoved
        mine = {f.cue: f for f in figures if f.cue}
        cues = [_changed(cue, mine[cue.id]) if cue.id in mine else cue for cue in now.cues if cue.role != "pose" or cue.id in mine]
        there = {cue.id for cue in cues}
        cues += [_changed(_new(f.cue), f) for f in figures if f.cue not in there]
        return now.model_copy(update={"cues": cues})

    return drafts.edit(session, shot_id, change, alone=True)


def _new(name: str) -> Cue:
    """A cue of a figure; name : its id, where the page has made one."""
    return Cue(id=name or secrets.token_hex(4), role="pose", name="pose", skeleton=[(0.5, 0.5)] * JOINTS, weight=1.0, end=100.0)


def _changed(cue: Cue, f: PosedFigure) -> Cue:
    return cue.model_copy(
        update={"skeleton": f.skeleton, "figure": f.figure, "hands": f.hands, "behind": list(f.behind), "own_body": False}
    )


def bodies_of(recipe: Recipe) -> list[Proportions]:
    """The bodies of the persons that regions name, else of those that the words do: a woman's where they do not say."""
    people = [wanted for said in _naming(recipe) for wanted in (said.wanted, *(other.wanted for other in said.others))]
    out = []
    for wanted in people[:MOST_FIGURES]:
        subject, build = (max(wanted[a], key=lambda v: wanted[a][v]) if wanted.get(a) else usual for a, usual in _USUAL)
        out.append(body_of(subject, build))
    return out


def _naming(recipe: Recipe) -> list[Understanding]:
    """What names the people of a picture: its regions, where one of them names any; else the common words."""
    regions = [own_words(region.prompt) for region in recipe.regions if region.speaks]
    return [said for said in regions if "person" in wants(said)] or [understand(recipe.prompt)]


_USUAL = (("subject", "woman"), ("build", "average"))


def fitted(
    session: Session, shot_id: int, wanted: PoseSource, onto: PosedFigure | None, mirror: bool, half_of: PoseSource | None
) -> list[PosedFigure]:
    """A pose on the bodies of a shot's persons, where a figure stands or in the middle of the picture.

    Parameters
    ----------
    onto : the figure whose place it takes. half_of : another pose with which it is mixed half and half.
    """
    recipe = drafts.of_shot(shots.find(session, shot_id))
    size, bodies = (recipe.width, recipe.height), bodies_of(recipe)
    found, in_place = _found(session, wanted, bodies)
    if half_of is not None:
        others, _ = _found(session, half_of, bodies)
        pairs = zip(found, others, _bodies(bodies), strict=False)
        found = [mixed(retargeted(a, body), retargeted(b, body), 0.5) for a, b, body in pairs]
        in_place = False
    if mirror:
        found = [f.mirrored() for f in found]
    first = onto.figure if onto is not None else 0
    out = []
    if len(found) == 1 or in_place:
        for n, (one, body) in enumerate(zip(found, _bodies(bodies[first:] or bodies), strict=False)):
            like = onto.posed.joints if onto is not None and n == 0 else one.joints if in_place else None
            pixels = PosedBody(one.joints * np.array(size if in_place else (1, 1)), one.hands, one.behind)
            out.append(in_frame(retargeted(pixels, body), like, size))
    else:
        out = book.placed([_on_body(one, body) for one, body in zip(found, _bodies(bodies), strict=False)], None, size)
    return [
        PosedFigure.model_validate(
            {
                "figure": min(first + n, MOST_FIGURES - 1),
                "skeleton": [(round(float(x), 5), round(float(y), 5)) for x, y in one.joints],
                "hands": one.hands,
                "behind": one.behind,
            }
        )
        for n, one in enumerate(out[:MOST_FIGURES])
    ]


def _bodies(known: list[Proportions]) -> list[Proportions]:
    return [*known, *[body_of("woman", "average")] * MOST_FIGURES][:MOST_FIGURES]


def _on_body(posed: PosedBody, body: Proportions) -> PosedBody:
    """A figure of a pair on its own body, its neck over where it was."""
    own = retargeted(posed, body)
    move = posed.joints[[8, 11], 0].mean() - own.joints[[8, 11], 0].mean()
    return PosedBody(own.joints + np.array([move, 0.0]), own.hands, own.behind)


def _found(session: Session, wanted: PoseSource, bodies: list[Proportions]) -> tuple[list[PosedBody], bool]:
    """The figures of a pose, and whether their joints are shares of a picture, where they stand."""
    if wanted.book:
        try:
            return book.figures_of(book.entry(wanted.book)), False
        except KeyError:
            raise NotFound("The pose book has no such pose.") from None
    if wanted.own is not None:
        row = session.get(BookPose, wanted.own)
        if row is None:
            raise NotFound("This pose is not in the book any more.")
        return [PosedFigure.model_validate(f).posed for f in row.figures], True
    if wanted.picture:
        reading = readings.known(session, wanted.picture)
        joints = [] if reading is None else [f.sure_joints for f in reading.figures]
        if reading is not None and reading.joints is not None and joints:
            joints[0] = reading.joints
        seen = [PosedBody(np.asarray(j, float)) for j in joints if np.isfinite(j).all(1).sum() >= 4][:MOST_FIGURES]
        if not seen:
            unread = reading is None
            raise ArtistError(_UNREAD if unread else _NOBODY, "pose")
        return seen, True
    if wanted.keypoints:
        skeletons = read_keypoints(wanted.keypoints.encode())
        every = np.concatenate(skeletons)
        known = every[np.isfinite(every).all(1)]
        low, span = known.min(0), float(np.ptp(known, axis=0).max() or 1.0)
        return [PosedBody((s - low) / span) for s in skeletons[:MOST_FIGURES]], False
    return book.figures_of(book.entry("facing")), False


def told(figures: list[PosedFigure], recipe: Recipe) -> list[str]:
    """What is odd about the figures, in words: bones too long, persons that the words do not name."""
    out, bodies = [], bodies_of(recipe)
    for f in figures:
        name = "ABCD"[f.figure]
        body = bodies[f.figure] if f.figure < len(bodies) else body_of("woman", "average")
        long = impossible(f.posed.joints, body, (recipe.width, recipe.height))
        if long:
            out.append(f"{name}: the bone to the {' and the '.join(long)} is longer than a body's. It is drawn so all the same.")
        if f.figure >= len(bodies):
            named = f"{len(bodies)} {'person is' if len(bodies) == 1 else 'people are'} named"
            out.append(f"{named}: {name} stands for nobody yet. Name them in the words, or in a region.")
    return out


# -- the book ---------------------------------------------------------------------------------------------------------


def own_poses(session: Session) -> list[BookPose]:
    return list(session.scalars(select(BookPose).where(BookPose.removed_at.is_(None)).order_by(BookPose.id.desc()).limit(200)))


def add_to_book(session: Session, name: str, tags: str, figures: list[PosedFigure]) -> BookPose:
    """Adds a pose to the book. Raises ArtistError where it has no name, or nobody in it."""
    if not figures:
        raise ArtistError("There is no figure on the picture: pose one first.", "pose")
    words = [limits.text(tag, "A tag", "tags", limits.TAG) for tag in tags.replace(",", " ").split()[:_BOOK_TAGS]]
    pose = BookPose(
        name=limits.text(name, "The name", "name", 80, needed=True), tags=words, figures=[f.model_dump(mode="json") for f in figures]
    )
    session.add(pose)
    session.flush()
    return pose


def take_out(session: Session, pose_id: int, back: bool = False) -> BookPose:
    """Takes an own pose out of the book, or brings it back."""
    pose = locked(session, BookPose, pose_id, "This pose is not in the book.")
    pose.removed_at = None if back else datetime.now(UTC)
    session.flush()
    return pose
