"""Answers to acts on a stack of mends: how it stands now, or the sentence that says why not. Parameters that their routes share."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated

from fastapi import Query
from fastapi.responses import JSONResponse

from mosskeeper.core.errors import ArtistError
from mosskeeper.studio import (
    acts,
    shots,
    stacks,
)
from mosskeeper.studio.acts import Moved
from mosskeeper.web.deps import Db
from mosskeeper.web.overlays.mends.view import state_of

Base = Annotated[str, Query(pattern=r"^[0-9a-f]{64}$")]
MendId = Annotated[str, Query(pattern=r"^[a-z0-9]{0,12}$")]


def acted(db: Db, stack_id: int, act: Callable[[], object], mend: str | None = None) -> JSONResponse:
    """Carries out an act; what cannot be done is told, and nothing is changed. mend : that stays open; None: the one that the act gives."""
    try:
        given, first = acts.once(db, act)
    except Moved as error:
        return JSONResponse({"problem": error.sentence, "moved": True}, 409)
    except ArtistError as error:
        return JSONResponse({"problem": error.sentence}, 422)
    row = stacks.find(db, stack_id)
    state = state_of(db, shots.find(db, row.shot_id), row.base_sha256, str(given or "") if mend is None else mend)
    return JSONResponse(state | {"again": not first})
