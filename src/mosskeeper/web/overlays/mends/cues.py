"""Routes of the references of a mend."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import JSONResponse

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.stack import Mend
from mosskeeper.queue.deferring import want_readings
from mosskeeper.studio import (
    drafts,
    pictures,
    shots,
    stacks,
)
from mosskeeper.studio.reference_edits import edited_among, read_edit
from mosskeeper.web.deps import Db, Fields, Id, PageId, Queue
from mosskeeper.web.overlays.mends.answers import Base, acted

router = APIRouter()


@router.post("/stacks/{stack_id}/mends/{mend}/cues")
def add_cue(
    db: Db, queue: Queue, page_id: PageId, stack_id: Id, mend: str, picture: Base, role: Annotated[str, Query(max_length=20)]
) -> JSONResponse:
    """Lets a reference act in a mend."""

    def lay() -> None:
        cue = shots.new_cue(role, picture, pictures.find(db, picture).name)
        stacks.edit_mend(
            db,
            stack_id,
            mend,
            lambda one: Mend.model_validate(one.model_dump() | {"cues": [c.model_dump() for c in (*one.cues, cue)]}),
            page_id,
        )
        want_readings(db, queue, [picture])

    return acted(db, stack_id, lay, mend)


@router.post("/stacks/{stack_id}/mends/{mend}/of-shot/{cue_id}")
def add_cue_of_shot(db: Db, queue: Queue, page_id: PageId, stack_id: Id, mend: str, cue_id: str) -> JSONResponse:
    """Lets a cue of the shot act in a mend as it stands on the cue sheet: its pose, its board, any reference."""

    def lay() -> None:
        sheet = drafts.of_shot(shots.find(db, stacks.find(db, stack_id).shot_id)).cues
        cue = next((one for one in sheet if one.id == cue_id), None)
        if cue is None:
            raise ArtistError("This cue is not on the shot’s cue sheet any more.", "cues")
        fresh = cue.model_copy(update={"id": "", "on": True, "solo": False})
        stacks.edit_mend(
            db,
            stack_id,
            mend,
            lambda one: Mend.model_validate(one.model_dump() | {"cues": [c.model_dump() for c in (*one.cues, fresh)]}),
            page_id,
        )

    return acted(db, stack_id, lay, mend)


@router.post("/stacks/{stack_id}/mends/{mend}/cues/{cue_id}")
def change_cue(
    db: Db, page_id: PageId, stack_id: Id, mend: str, cue_id: str, weight: Annotated[float, Query(ge=0, le=1.5)]
) -> JSONResponse:
    """Weighs a reference of a mend; at 0 it is taken off."""

    def changed(one: Mend) -> Mend:
        cues = [c.model_copy(update={"weight": weight}) if c.id == cue_id else c for c in one.cues]
        return one.model_copy(update={"cues": [c for c in cues if c.weight > 0]})

    return acted(db, stack_id, lambda: stacks.edit_mend(db, stack_id, mend, changed, page_id, f"cue {cue_id}"), mend)


@router.post("/stacks/{stack_id}/mends/{mend}/cues/{cue_id}/lends")
def edit_reference(db: Db, page_id: PageId, stack_id: Id, mend: str, cue_id: str, form: Fields) -> JSONResponse:
    """Changes what a reference of a mend lends: a part, the figure that is meant, a trait of that person."""

    def changed(one: Mend) -> Mend:
        return one.model_copy(update={"cues": edited_among(db, list(one.cues), cue_id, read_edit(dict(form)))})

    return acted(db, stack_id, lambda: stacks.edit_mend(db, stack_id, mend, changed, page_id), mend)
