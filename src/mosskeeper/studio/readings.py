"""Readings of stored pictures: read once, kept with the version of their reader, read anew where that changes."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from mosskeeper.core.continuity.drift import Drift, drift
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.skeleton import JOINTS
from mosskeeper.core.reading.any_reader import read_any, version
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Recipe
from mosskeeper.formats.reading_document import FORMAT, pack, unpack
from mosskeeper.studio import pictures
from mosskeeper.studio.models import Anchor, StoredReading

_LEAST_PLACED = 3  # joints that make a skeleton


def _version() -> str:
    return f"{version()}.{FORMAT}"


def of_picture(session: Session, sha256: str) -> Reading:
    """The reading of a picture, with the joints that the artist placed. Raises NotFound where there is no such picture."""
    row = session.get(StoredReading, sha256)
    if row is not None and row.version == _version():
        reading = unpack(row.body, row.arrays)
    else:
        reading = _read(session, sha256)
        row = session.get(StoredReading, sha256, populate_existing=True)
    return _placed(reading, row.placed) if row is not None and row.placed else reading


def _read(session: Session, sha256: str) -> Reading:
    reading = read_any(pictures.pixels(session, sha256))
    body, arrays = pack(reading)
    values = {"version": _version(), "body": body, "arrays": arrays}
    session.execute(
        insert(StoredReading).values(picture_sha256=sha256, **values).on_conflict_do_update(index_elements=["picture_sha256"], set_=values)
    )
    return unpack(body, arrays)  # as it will be read next time, to the last bit


def _placed(reading: Reading, placed: list[list[float] | None]) -> Reading:
    joints = np.array([p if p is not None else (np.nan, np.nan) for p in placed], float)
    return replace(reading, joints=joints)


def placed_by_hand(session: Session, sha256: str) -> bool:
    return session.scalar(select(StoredReading.placed.is_not(None)).where(StoredReading.picture_sha256 == sha256)) or False


def place(session: Session, sha256: str, joints: list[tuple[float, float] | None] | None) -> Reading:
    """Joints placed by hand, as shares of width and height, in place of those that were read; None takes them back.

    Raises
    ------
    ArtistError
        where their number is not 18, too few are placed, or one lies far outside the picture.
    """
    of_picture(session, sha256)
    if joints is not None:
        there = [p for p in joints if p is not None]
        if len(joints) != len(JOINTS) or len(there) < _LEAST_PLACED:
            raise ArtistError(f"Place at least {_LEAST_PLACED} of the {len(JOINTS)} points, so that a pose can be taken from them.", "pose")
        if any(not (-1 <= v <= 2) for p in there for v in p):
            raise ArtistError("A point lies far outside the picture. Drag it back, or take it away.", "pose")
    row = session.get_one(StoredReading, sha256)
    row.placed = None if joints is None else [None if p is None else [float(p[0]), float(p[1])] for p in joints]
    session.flush()
    return of_picture(session, sha256)


def of_recipe(session: Session, recipe: Recipe) -> dict[str, Reading]:
    """The readings of all pictures that a recipe refers to, masks left out."""
    cues = [*recipe.cues, *(cue for region in recipe.regions for cue in region.cues)]
    wanted = {cue.picture for cue in cues if cue.acts and cue.picture is not None}
    return {sha256: of_picture(session, sha256) for sha256 in sorted(wanted)}


def drift_of(session: Session, sha256: str, character_id: int | None) -> Drift | None:
    """How far the main figure of a picture is from a character's anchors; None where that cannot be told."""
    if character_id is None:
        return None
    anchors = session.scalars(select(Anchor.picture_sha256).where(Anchor.character_id == character_id)).all()
    if not anchors or sha256 in anchors:
        return None
    return drift(of_picture(session, sha256).main, [of_picture(session, anchor).main for anchor in anchors])
