"""Routes of the live pictures of a board as they were seen: noted, shown in a row, gone back to."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import RedirectResponse, Response

from mosskeeper.core.recipe import MAX_SEED
from mosskeeper.live_picture.pool import Rooms
from mosskeeper.studio import seen_live, shots
from mosskeeper.web.deps import Db, Id, Look, PageId
from mosskeeper.web.render import page

router = APIRouter()


@router.post("/shots/{shot_id}/seen-live")
def note(request: Request, db: Db, shot_id: Id, page_id: PageId, seed: Annotated[int, Query(ge=0, le=MAX_SEED)] = 1) -> Response:
    """Notes the picture that a page's room answered last; 204 also where it has none."""
    rooms: Rooms = request.app.state.rooms
    jpeg = rooms.seen(f"{shot_id} {page_id}")
    if jpeg:
        seen_live.note(db, shot_id, seed, jpeg)
    return Response(status_code=204)


@router.get("/shots/{shot_id}/seen-live")
def row(request: Request, db: Look, shot_id: Id) -> Response:
    """What was seen live, as a row."""
    return page(request, "overlays/sketch/seen_live.html", {"shot": shots.find(db, shot_id), "seen": seen_live.of_shot(db, shot_id)})


@router.get("/seen-live/{seen_id}.jpg")
def picture(db: Look, seen_id: Id) -> Response:
    return Response(seen_live.jpeg(db, seen_id), media_type="image/jpeg", headers={"Cache-Control": "private, max-age=86400"})


@router.post("/seen-live/{seen_id}/back")
def back(db: Db, page_id: PageId, seen_id: Id) -> Response:
    """Puts the board of a live picture back on the table, and its seed on the page; undo leads on."""
    seen = seen_live.back_to(db, seen_id, page_id)
    return RedirectResponse(f"/shots/{seen.shot_id}/sketch?seed={seen.seed}", 303)
