"""Stages of a board: gone back to, compared, taken along."""

from __future__ import annotations

import re

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

from mosskeeper.formats.png import with_recipe
from mosskeeper.studio import pictures, shots, stages
from mosskeeper.web.deps import Db, Id, Look, PageId
from mosskeeper.web.render import page

router = APIRouter()


@router.get("/shots/{shot_id}/stages")
def row(request: Request, db: Look, shot_id: Id) -> Response:
    """The row of stages."""
    return page(request, "overlays/sketch/stages.html", {"shot": shots.find(db, shot_id), "stages": stages.of_shot(db, shot_id)})


@router.post("/stages/{stage_id}/back")
def back(db: Db, page_id: PageId, stage_id: Id) -> Response:
    """Puts a stage's board and words back on the table; undo leads on."""
    stage = stages.back_to(db, stage_id, page_id)
    return RedirectResponse(f"/shots/{stage.shot_id}/sketch", 303)


@router.get("/stages/{stage_id}/download")
def download(db: Look, stage_id: Id) -> Response:
    """The live picture as PNG with its recipe and its board inside."""
    stage = stages.find(db, stage_id)
    shot, recipe = shots.find(db, stage.shot_id), stages.recipe_of(stage)
    title = f"{shot.name}, stage {stage.id}"
    data = with_recipe(pictures.png(db, stage.picture_sha256), recipe, title, None, pictures.boards_of(db, recipe))
    name = re.sub(r"[^a-z0-9]+", "-", title.lower()).strip("-")
    return Response(data, media_type="image/png", headers={"Content-Disposition": f'attachment; filename="{name}.png"'})
