"""Routes that begin a picture to be mended: one that is brought, an empty canvas, several joined."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Query
from fastapi.responses import JSONResponse
from pydantic import StringConstraints
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.pictures.decode import MAX_BYTES
from mosskeeper.formats.stack_file import stack_inside
from mosskeeper.queue import mending
from mosskeeper.queue.deferring import want_readings
from mosskeeper.studio import (
    carrying,
    library,
    pictures,
    shots,
    stacks,
)
from mosskeeper.studio.canvases import FIGURES, GAPS, MOST_JOINED, Joining
from mosskeeper.web.deps import Db, Id, Queue, Upload
from mosskeeper.web.overlays.mends.answers import Base, MendId

router = APIRouter()
_Part = Annotated[str, StringConstraints(pattern=r"^(all|figures|chosen|kept .{1,80})$")]


@router.post("/shots/{shot_id}/mends/pictures")
def bring(db: Db, queue: Queue, shot_id: Id, picture: Upload) -> JSONResponse:
    """Takes in a picture to be mended; one that carries mends comes with them."""
    name, shot = library.name_of_file(picture.filename), shots.find(db, shot_id)
    try:
        with db.begin_nested():
            data = picture.file.read(MAX_BYTES + 1)
            inside = stack_inside(data)
            if inside is not None:
                base = carrying.restored(db, shot_id, inside)
            else:
                base = pictures.upload(db, data, name).sha256
                library.add(db, base, "upload", name, shot.story_id)
            want_readings(db, queue, [base])
    except ArtistError as error:
        return JSONResponse({"problem": f"{name}: {error.sentence}"}, 422)
    return JSONResponse({"base": base})


@router.post("/shots/{shot_id}/mends/empty")
def begin_empty(db: Db, queue: Queue, shot_id: Id) -> JSONResponse:
    """Begins an empty canvas: open country, on which part after part is described. A worker draws it."""
    shots.find(db, shot_id)
    mending.want_canvas(db, queue, shot_id)
    return JSONResponse({"waits": True}, 202)


@router.post("/shots/{shot_id}/mends/join")
def join(
    db: Db,
    queue: Queue,
    shot_id: Id,
    first: Base,
    other: Annotated[list[Base], Query(min_length=1, max_length=MOST_JOINED - 1)],
    side: Literal["right", "left", "below", "above"] = "right",
    gap: Annotated[int, Query(ge=GAPS[0], le=GAPS[1])] = 96,
    tones: Annotated[float, Query(ge=0, le=1)] = 0.0,
    stays: _Part = "all",
    theirs: Annotated[list[_Part] | None, Query(max_length=MOST_JOINED - 1)] = None,
    mend: MendId = "",
) -> JSONResponse:
    """Lays pictures on one canvas; a worker lets what is between them grow.

    stays, theirs : what of this one and of each other must be seen: "all", "figures", "chosen", or "kept NAME".
    """
    shots.find(db, shot_id)
    for sha256 in (first, *other):
        pictures.find(db, sha256)
    asked = [stays, *(theirs or []), *["all"] * len(other)]
    try:
        parts = [_stays(db, shot_id, sha256, part, mend) for sha256, part in zip((first, *other), asked, strict=False)]
    except ArtistError as error:
        return JSONResponse({"problem": error.sentence}, 422)
    mending.want_canvas(db, queue, shot_id, Joining(first, other, side, gap, tones, parts))
    return JSONResponse({"waits": True}, 202)


def _stays(db: Session, shot_id: int, picture: str, part: str, mend: str) -> str:
    """What of a picture must be seen when it is joined: who is in it, what its open mend hatches, or what was kept by a name.

    Raises ArtistError where nothing is hatched, or kept by that name.
    """
    if part == "figures":
        return FIGURES
    if part == "all":
        return ""
    stack = stacks.seen(db, shot_id, picture)
    own = stack.mend(mend) if part == "chosen" else next((one for one in stack.kept if f"kept {one.name}" == part), None)
    if own is None or own.mask is None:
        what = "Nothing is hatched yet" if part == "chosen" else f"“{part.removeprefix('kept ')}” is not kept of this picture any more"
        raise ArtistError(f"{what}: say again what of it stays.", "mends")
    return own.mask
