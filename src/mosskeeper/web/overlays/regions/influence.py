"""Routes of what a region of a take decided: its map, its sentences, and a mend over what bled."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Path
from fastapi.responses import JSONResponse, Response

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.queue.deferring import want_map
from mosskeeper.studio import influences, maps, takes
from mosskeeper.web.deps import Db, Id, Look, PageId, Queue

router = APIRouter()
Number = Annotated[int, Path(ge=0, le=7)]


@router.post("/takes/{take_id}/influence/{region}")
def want_influence(db: Db, queue: Queue, take_id: Id, region: Number) -> Response:
    """Asks what a region of a take decided: 204 where it is known, 202 where a worker looks for it now."""
    key = influences.key_of(take_id, region)
    try:
        wanted = maps.wanted(db, key) or not influences.holds(db, take_id, region, maps.facts(db, key) or {})
    except NotFound:
        raise
    except ArtistError as error:
        return JSONResponse({"problem": error.sentence}, 422)
    if not wanted:
        return Response(status_code=204)
    want_map(db, queue, key)
    return Response(status_code=202)


@router.get("/takes/{take_id}/influence/{region}.json")
def influence(db: Look, take_id: Id, region: Number) -> JSONResponse:
    """What a region of a take decided, in sentences; empty until a worker has found it."""
    facts = maps.facts(db, influences.key_of(take_id, region)) or {}
    return JSONResponse(facts if facts and influences.holds(db, take_id, region, facts) else {})


@router.post("/takes/{take_id}/influence/{region}/mend")
def mend_what_bled(db: Db, page_id: PageId, take_id: Id, region: Number) -> JSONResponse:
    """Begins a mend over what a region's words changed outside of it; where it is looked at."""
    facts = maps.facts(db, influences.key_of(take_id, region)) or {}
    try:
        influences.mend(db, take_id, region, facts, page_id)
    except ArtistError as error:
        return JSONResponse({"problem": error.sentence}, 422)
    return JSONResponse({"to": f"/shots/{takes.find(db, take_id).shot_id}/mends?take={take_id}"})


@router.get("/takes/{take_id}/influence/{region}.png")
def influence_map(db: Look, take_id: Id, region: Number) -> Response:
    """Where a region of a take decided."""
    data = maps.png(db, influences.key_of(take_id, region))
    if data is None:
        raise NotFound("This map is not made yet.")
    return Response(data, media_type="image/png", headers={"Cache-Control": "no-cache"})
