"""Takes: keep, take back, put aside, make an anchor, download."""

from __future__ import annotations

import re

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

from mosskeeper.formats.png import with_recipe
from mosskeeper.queue.app import submit
from mosskeeper.queue.deferring import want_drift
from mosskeeper.studio import cast, enlarging, explaining, holding, layers, pictures, takes
from mosskeeper.studio.models import Take
from mosskeeper.web.deps import Db, Id, Look, PageId, Queue
from mosskeeper.web.render import parts, wants_fragment
from mosskeeper.web.table import view as table

router = APIRouter()


def _shown(request: Request, db: Db, take: Take, compare: str = "") -> Response:
    if wants_fragment(request):
        db.expire_all()
        return parts(*table.view_parts(table.gather(db, take.shot_id, take.id, compare)))
    return RedirectResponse(f"/shots/{take.shot_id}?take={take.id}", 303)


@router.post("/takes/{take_id}/keep")
def keep(request: Request, db: Db, take_id: Id) -> Response:
    return _shown(request, db, takes.keep(db, take_id))


@router.post("/takes/{take_id}/take-back")
def take_back(request: Request, db: Db, take_id: Id) -> Response:
    return _shown(request, db, takes.take_back(db, take_id))


@router.post("/takes/{take_id}/aside")
def put_aside(request: Request, db: Db, take_id: Id) -> Response:
    return _shown(request, db, takes.put_aside(db, take_id, True))


@router.post("/takes/{take_id}/bring-back")
def bring_back(request: Request, db: Db, take_id: Id) -> Response:
    return _shown(request, db, takes.put_aside(db, take_id, False))


@router.post("/takes/{take_id}/larger/{factor}")
def larger(request: Request, db: Db, queue: Queue, take_id: Id, factor: Id) -> Response:
    """A run that makes the take larger; it comes into the row of takes like any other."""
    take = takes.find(db, take_id)
    submit(db, queue, *enlarging.asked(db, take, factor))
    return _shown(request, db, take)


@router.post("/takes/{take_id}/anchor")
def make_anchor(request: Request, db: Db, queue: Queue, page_id: PageId, take_id: Id) -> Response:
    take = takes.find(db, take_id)
    want_drift(db, queue, cast.make_anchor(db, take, lead=True).character_id)
    holding.hold_first(db, take.shot, page_id)
    return _shown(request, db, takes.find(db, take_id))


@router.get("/takes/{take_id}/download")
def download(db: Look, take_id: Id) -> Response:
    """The take as PNG with its recipe inside."""
    take = takes.find(db, take_id)
    title = f"{take.shot.name}, take {take.number}"
    recipe, scenes = takes.recipe_of(take), explaining.of_picture(db, take.picture_sha256)
    data = with_recipe(pictures.png(db, take.picture_sha256), recipe, title, scenes, pictures.boards_of(db, recipe))
    return Response(data, media_type="image/png", headers=_attached(title, "png"))


@router.get("/takes/{take_id}/download.ora")
def download_layers(db: Look, take_id: Id) -> Response:
    """The take with its boards, regions and areas as layers."""
    take = takes.find(db, take_id)
    headers = _attached(f"{take.shot.name}, take {take.number}", "ora")
    return Response(layers.of_take(db, take), media_type="image/openraster", headers=headers)


def _attached(title: str, ending: str) -> dict[str, str]:
    name = re.sub(r"[^a-z0-9]+", "-", title.lower()).strip("-")
    return {"Content-Disposition": f'attachment; filename="{name}.{ending}"'}


@router.get("/takes/{take_id}/recipe.json")
def recipe(db: Look, take_id: Id) -> Response:
    return Response(takes.recipe_of(takes.find(db, take_id)).model_dump_json(indent=2), media_type="application/json")
