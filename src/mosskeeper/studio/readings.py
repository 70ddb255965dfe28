"""Readings of stored pictures: read once, kept with the version of their reader, read anew where that changes."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import asdict, replace

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from mosskeeper.core.continuity.drift import Drift, drift, not_measured
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.skeleton import JOINTS
from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.pictures.depth_map import read_depth_map
from mosskeeper.core.pictures.resample import fitted, scaled
from mosskeeper.core.reading.any_reader import read_any, version
from mosskeeper.core.reading.face_check import FaceCheck, check_face
from mosskeeper.core.reading.measures import Measures, measure
from mosskeeper.core.reading.proposal import Proposal, propose
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.references.copies import features_of
from mosskeeper.core.roles import reference
from mosskeeper.formats.reading_document import FORMAT, pack, unpack
from mosskeeper.studio import contents, pictures
from mosskeeper.studio.database import locked
from mosskeeper.studio.models import Anchor, StoredReading

_DEPTH_SIDE = 640  # px of the longer side of a kept depth map
_LEAST_PLACED = 3  # joints that make a skeleton


def version_now() -> str:
    """Of readers and format: what has another is read anew."""
    return f"{version()}.{FORMAT}"


def of_picture(session: Session, sha256: str) -> Reading:
    """The reading of a picture, with joints and depth as the artist corrected them. Raises NotFound where there is no such picture."""
    row = session.get(StoredReading, sha256)
    if row is not None and row.version == version_now():
        reading = unpack(row.body, row.arrays)
    else:
        reading = _read(session, sha256)
        row = session.get(StoredReading, sha256, populate_existing=True)
    return reading if row is None else _corrected(reading, row)


def known(session: Session, sha256: str) -> Reading | None:
    """The reading of a picture where the present reader has read it; looking reads nothing."""
    return known_of(session, [sha256]).get(sha256)


def known_of(session: Session, names: Collection[str]) -> dict[str, Reading]:
    """The readings of several pictures, as far as they are known."""
    return {row.picture_sha256: _corrected(unpack(row.body, row.arrays), row) for row in _current(session, names)}


def known_of_recipe(session: Session, recipe: Recipe) -> dict[str, Reading]:
    """The readings of the pictures that a recipe refers to, as far as they are known."""
    return known_of(session, _referred(recipe))


def settled(session: Session, recipe: Recipe) -> Recipe:
    """The recipe as it runs: an anchor stands for all anchors of its character, and what artists corrected is in it."""
    recipe = contents.with_anchors(session, recipe)
    return contents.with_corrections(session, recipe, lambda: known_of_recipe(session, recipe))


def correct_of_cue(session: Session, cue: Cue, trait: str, value: str) -> None:
    """Keeps a trait of the figure that a reference means as the artist says it is; an empty value takes the correction back.

    Raises
    ------
    ArtistError
        where the cue has no picture, or the picture was not read yet; and as `contents.correct` does.
    """
    reading = None if cue.picture is None else known(session, cue.picture)
    if cue.picture is None or reading is None or reading.contents is None:
        raise ArtistError("This picture is still being read. Try again in a moment.", "cues")
    contents.correct(session, cue.picture, reading.contents.meant(cue.subject), trait, value)


def known_face_checks(session: Session, names: Collection[str]) -> dict[str, FaceCheck]:
    """Whether the faces of pictures serve as references, as far as they were read."""
    rows = ((row.picture_sha256, row.face_check) for row in _current(session, names))
    return {name: FaceCheck(**{**told, "verdicts": tuple(told["verdicts"])}) for name, told in rows if told is not None}


def known_proposals(session: Session, names: Collection[str]) -> dict[str, Proposal]:
    """For which roles pictures seem to be meant, as far as they were read. An anchor says who somebody is, whatever it resembles."""
    if not names:
        return {}
    query = select(StoredReading.picture_sha256, StoredReading.body["proposal"])
    rows = session.execute(query.where(StoredReading.picture_sha256.in_(names), StoredReading.version == version_now()))
    proposals = {name: Proposal(**told) for name, told in rows if told is not None}
    anchored = select(Anchor.picture_sha256).where(Anchor.picture_sha256.in_(proposals), Anchor.removed_at.is_(None))
    for name in session.scalars(anchored):
        lender = reference(proposals[name].role)
        if lender is None or not lender.hands_on:
            proposals[name] = Proposal("look", "somebody's anchor")
    return proposals


def _current(session: Session, names: Collection[str]) -> list[StoredReading]:
    """The rows of the present reader."""
    if not names:
        return []
    query = select(StoredReading).where(StoredReading.picture_sha256.in_(names), StoredReading.version == version_now())
    return list(session.scalars(query))


def measured(session: Session, sha256: str) -> Measures | None:
    """What was measured in a picture when it was read; None where it was not read yet."""
    return next((Measures(**row.body["measures"]) for row in _current(session, [sha256])), None)


def _read(session: Session, sha256: str) -> Reading:
    image = pictures.pixels(session, sha256)
    reading, features = read_any(image), features_of(image)
    reading = replace(reading, contents=contents.of_pixels(session, sha256, image, reading, features))
    body, arrays = pack(reading)
    body["measures"] = asdict(measure(image))
    body["proposal"] = asdict(propose(image, reading))
    values = {
        "version": version_now(),
        "body": body,
        "arrays": arrays,
        "face_check": asdict(check_face(image, reading)),
        "features": features.pack(),
    }
    session.execute(
        insert(StoredReading).values(picture_sha256=sha256, **values).on_conflict_do_update(index_elements=["picture_sha256"], set_=values)
    )
    return unpack(body, arrays)  # as it will be read next time, to the last bit


def _corrected(reading: Reading, row: StoredReading) -> Reading:
    """The reading with what the artist knows better."""
    if row.placed:
        reading = replace(reading, joints=np.array([p if p is not None else (np.nan, np.nan) for p in row.placed], float))
    return replace(reading, depth=read_depth_map(row.depth, spread=False)) if row.depth else reading


def placed_by_hand(session: Session, sha256: str) -> bool:
    return session.scalar(select(StoredReading.placed.is_not(None)).where(StoredReading.picture_sha256 == sha256)) or False


def place(session: Session, sha256: str, joints: list[tuple[float, float] | None] | None) -> Reading:
    """Joints placed by hand, as shares of width and height, in place of those that were read; None takes them back.

    Raises
    ------
    ArtistError
        where their number is not 18, too few are placed, or one lies far outside the picture.
    """
    if joints is not None:
        there = [p for p in joints if p is not None]
        if len(joints) != len(JOINTS) or len(there) < _LEAST_PLACED:
            raise ArtistError(f"Place at least {_LEAST_PLACED} of the {len(JOINTS)} points, so that a pose can be taken from them.", "pose")
        if any(not (-1 <= v <= 2) for p in there for v in p):
            raise ArtistError("A point lies far outside the picture. Drag it back, or take it away.", "pose")
    row = _row(session, sha256)
    row.placed = None if joints is None else [None if p is None else [float(p[0]), float(p[1])] for p in joints]
    session.flush()
    return of_picture(session, sha256)


def place_depth(session: Session, sha256: str, data: bytes | None, painted: bool = False) -> Reading:
    """A depth map in place of the one that was read, an 8 or 16 bit PNG in which bright is near; None takes it back.

    painted : it was painted over the map that was shown; else it is spread over the whole range.

    Raises BadPicture where it is no depth map; the sentence says why.
    """
    row = _row(session, sha256)
    if data is None:
        row.depth = None
    else:
        near = 1 - read_depth_map(data, spread=not painted)
        grey = np.round(_fitting(near) * 255).astype(np.uint8)
        row.depth = encode_png(np.repeat(grey[..., None], 3, 2))
    session.flush()
    return of_picture(session, sha256)


def _row(session: Session, sha256: str) -> StoredReading:
    """The stored reading, locked: what is placed by hand lies over it."""
    pictures.find(session, sha256)
    if known(session, sha256) is None:
        raise ArtistError("This picture is still being read. Try again in a moment.", "pose")
    return locked(session, StoredReading, sha256, "This picture is still being read. Try again in a moment.")


def _fitting(depth: NDArray[np.float32]) -> NDArray[np.float32]:
    k = _DEPTH_SIDE / max(depth.shape)
    return depth if k >= 1 else fitted(depth, scaled(depth.shape, k))


def depth_by_hand(session: Session, sha256: str) -> bool:
    return session.scalar(select(StoredReading.depth.is_not(None)).where(StoredReading.picture_sha256 == sha256)) or False


def skeleton_of(cue: Cue) -> NDArray[np.float64] | None:
    """(18, 2) of a pose cue with a skeleton of its own, NaN where a joint is unseen."""
    if cue.skeleton is None:
        return None
    return np.array([(np.nan, np.nan) if joint is None else joint for joint in cue.skeleton], float)


def of_recipe(session: Session, recipe: Recipe, known: Collection[str] = ()) -> dict[str, Reading]:
    """The readings of all pictures that a recipe refers to, masks left out, and of `known` ones only where they are there already."""
    there = known_of(session, known)
    others = {sha256: of_picture(session, sha256) for sha256 in _referred(recipe) if sha256 not in known}
    return {**there, **others}


def _referred(recipe: Recipe) -> list[str]:
    cues = [*recipe.cues, *(cue for region in recipe.regions for cue in region.cues)]
    sources = set() if recipe.source is None else {recipe.source.picture}
    further = {name for cue in cues if cue.acts for name in cue.also}
    return sorted(sources | further | {cue.picture for cue in cues if cue.acts and cue.picture is not None})


def drift_of(session: Session, sha256: str, anchors: list[str]) -> tuple[Drift | None, str]:
    """How far the main figure of a picture is from the anchors, pooled, and why it is not measured where there is something to say.

    The drift is None where it cannot be told, and of an anchor itself.
    """
    if not anchors or sha256 in anchors:
        return None, ""
    own, others = of_picture(session, sha256), [of_picture(session, anchor) for anchor in anchors]
    why = not_measured([own, *others])
    return (None, why) if why else (drift(own.main, [other.main for other in others]), "")
