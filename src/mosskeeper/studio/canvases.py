"""What mends may begin on besides takes and uploads: an empty canvas, and pictures that were joined. Workers draw them."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.mending.ask.landscape import empty_canvas
from mosskeeper.core.mending.choose.mask_edits import grown
from mosskeeper.core.mending.fill.joining import Piece, join, toned
from mosskeeper.core.pictures.resample import cubic, fitted, linear
from mosskeeper.core.reading.structure import grey
from mosskeeper.core.recipe import SIZES
from mosskeeper.studio import drafts, explaining, library, mends, pictures, readings, shots
from mosskeeper.studio.stacks import working_size

GAPS = (16, 512)  # px
MOST_JOINED = 4
FIGURES = "figures"
_SEAM = 2.0  # px about what changed, over which it goes over into the picture as it came


@dataclass(frozen=True, slots=True)
class Joining:
    """Pictures to be joined: each of the others lies at a side of what is joined already.

    tones : 0 their own … 1 those of the first. stays : for each picture, the first included, what of it must be seen: ""
    all, FIGURES who is in it, else the name of a mask.
    """

    first: str
    others: list[str]
    side: str = "right"
    gap: int = 96
    tones: float = 0.0
    stays: list[str] = field(default_factory=list)


def empty(session: Session, shot_id: int) -> str:
    """Draws an empty canvas of the shot's shape: open country with nobody in it; its picture's name."""
    recipe = drafts.of_shot(shots.find(session, shot_id))
    explained = empty_canvas((recipe.width, recipe.height))
    sha256 = pictures.store(session, explained.drawn().image, "empty canvas", "canvas").sha256
    explaining.note(session, sha256, explained)
    return sha256


def joined(session: Session, shot_id: int, asked: Joining) -> str:
    """Joins pictures on one canvas; the name of what comes of it, which is in the library, too.

    Raises
    ------
    ArtistError
        where the canvas would become too large, or too little of a picture's place is seen to go on from.
    """
    shot = shots.find(session, shot_id)
    stays = [*asked.stays, *[""] * (1 + len(asked.others))]
    made = first = _piece(session, asked.first, stays[0])
    for sha256, part in zip(asked.others, stays[1:], strict=False):
        other = _piece(session, sha256, part)
        if asked.tones > 0:
            other = replace(other, picture=toned(other.picture, first.picture, asked.tones), explained=None)
        before, after = (other, made) if asked.side in ("left", "above") else (made, other)
        try:
            made = join(before, after, asked.gap, asked.side in ("below", "above"))
        except ValueError as error:
            raise ArtistError(f"These pictures could not be joined: {error}.", "join") from None
    whole, size = made.picture, working_size(made.picture.shape[1], made.picture.shape[0])
    if max(whole.shape[:2]) > SIZES[1] or whole.shape[1::-1] != size:
        whole = fitted(whole, size)
    name = " and ".join(pictures.find(session, one).name for one in (asked.first, *asked.others))[:160]
    sha256 = pictures.store(session, whole, name, "upload").sha256
    library.add(session, sha256, "upload", name, shot.story_id)
    return sha256


def at_full_size(session: Session, stack_id: int) -> str:
    """Puts what mends changed back into a picture that was too large to be worked on; the name of what comes of it.

    Outside of what changed the picture is as it came, value by value.

    Raises
    ------
    ArtistError
        where a mend has to be made first, or the canvas was made wider.
    """
    made = mends.standing_of(session, stack_id)
    assert made.row is not None
    if made.top is None:
        raise mends.Below
    if any(any(h.mend.wider) for h in made.heights if h.stands):
        raise ArtistError("A wider canvas cannot be put back into the picture as it came: hide that mend first.", "mends")
    large, before, after = (pictures.pixels(session, name) for name in (made.row.base_sha256, made.stack.base, made.top))
    size = (large.shape[1], large.shape[0])
    changed = grown((before != after).any(2), _SEAM)
    share = linear(changed.astype(np.float32), size)[..., None]
    mixed = large * (1 - share) + cubic(after, size) * share + 0.5
    whole = np.where(share > 0, np.clip(mixed, 0, 255), large).astype(np.uint8)
    picture = pictures.find(session, made.row.base_sha256)
    name = f"{picture.name}, mended"[:160]
    sha256 = pictures.store(session, whole, name, "upload").sha256
    library.add(session, sha256, "upload", name, shots.find(session, made.row.shot_id).story_id)
    return sha256


def _piece(session: Session, sha256: str, part: str) -> Piece:
    picture = pictures.pixels(session, sha256)
    size = working_size(picture.shape[1], picture.shape[0])
    explained = explaining.of_picture(session, sha256) if size == picture.shape[1::-1] else None
    figures = None
    for figure in readings.of_picture(session, sha256).figures:
        there = fitted(figure.mask.astype("uint8"), size) > 0
        figures = there if figures is None else figures | there
    if part == FIGURES:
        stays = figures
    else:
        stays = fitted(grey(pictures.pixels(session, part)), size) > 0.5 if part else None
    return Piece(fitted(picture, size), explained, figures, stays)
