"""Routes of what begins from a picture: variations, runs that start from it, people cut out of it."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import JSONResponse, Response

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.queue.app import submit
from mosskeeper.queue.deferring import want_map
from mosskeeper.studio import beginnings, maps, pictures
from mosskeeper.web.deps import Db, Id, Look, PageId, Queue, Sha

router = APIRouter()


@router.post("/shots/{shot_id}/begin/{sha256}/vary")
def vary(db: Db, queue: Queue, shot_id: Id, sha256: Sha, amount: Annotated[float, Query(gt=0, le=1)] = 0.25) -> JSONResponse:
    """Runs variations of a picture; the table stays as it is."""
    try:
        shot, recipe = beginnings.variation(db, shot_id, sha256, amount)
        with db.begin_nested():
            submit(db, queue, shot, recipe)
    except NotFound:
        raise
    except ArtistError as error:
        return JSONResponse({"problem": error.sentence}, 422)
    return JSONResponse({"says": f"{recipe.count} variations are on their way."})


@router.post("/shots/{shot_id}/begin/{sha256}")
def begin_from(db: Db, page_id: PageId, shot_id: Id, sha256: Sha) -> JSONResponse:
    """Lets the next runs of a shot start from a picture."""
    beginnings.begin_from(db, shot_id, sha256, page_id)
    return JSONResponse({"to": f"/shots/{shot_id}"})


@router.post("/shots/{shot_id}/begin-anew")
def begin_anew(db: Db, page_id: PageId, shot_id: Id) -> Response:
    """Lets the next runs start from noise again; the page is made anew."""
    beginnings.begin_anew(db, shot_id, page_id)
    return Response(headers={"HX-Refresh": "true"})


@router.post("/pictures/{sha256}/cut-out")
def want_cut_out(db: Db, queue: Queue, sha256: Sha) -> Response:
    """Asks for who is in a picture, cut out: 204 where it is there, 202 where a worker makes it now, 422 where nobody is in it."""
    pictures.find(db, sha256)
    key = maps.of_picture("cut-out", sha256)
    try:
        wanted = maps.wanted(db, key)
    except NotFound:
        raise
    except ArtistError:
        return JSONResponse({"problem": "Nobody was found in this picture to be cut out."}, 422)
    if not wanted:
        return Response(status_code=204)
    want_map(db, queue, key)
    return Response(status_code=202)


@router.get("/pictures/{sha256}/cut-out.png")
def cut_out(db: Look, sha256: Sha) -> Response:
    """Who is in a picture, as PNG with an open ground."""
    data = maps.png(db, maps.of_picture("cut-out", sha256))
    if data is None:
        raise NotFound("This is not cut out yet: ask for it beside the picture.")
    headers = {"Content-Disposition": f'attachment; filename="cut-out-{sha256[:8]}.png"', "Cache-Control": "no-cache"}
    return Response(data, media_type="image/png", headers=headers)
