"""Runs: stopping them, taking them up again, dismissing what went wrong, and their previews."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

from mosskeeper.queue.app import resubmit
from mosskeeper.studio import runs, watching
from mosskeeper.studio.models import Run
from mosskeeper.web.deps import Db, Id, Look, Queue
from mosskeeper.web.render import parts, wants_fragment
from mosskeeper.web.table import view as table

router = APIRouter()


def _shown(request: Request, db: Db, run: Run) -> Response:
    if not wants_fragment(request):
        return RedirectResponse(f"/stories/{run.shot.story_id}", 303)
    return parts(*table.run_parts(table.gather(db, run.shot_id)))


@router.post("/runs/{run_id}/stop")
def stop(request: Request, db: Db, run_id: Id) -> Response:
    return _shown(request, db, runs.stop(db, run_id))


@router.post("/runs/{run_id}/again")
def again(request: Request, db: Db, queue: Queue, run_id: Id) -> Response:
    """Takes up a held or failed run: with the same recipe, and only what is missing."""
    return _shown(request, db, resubmit(db, queue, run_id))


@router.post("/runs/{run_id}/dismiss")
def dismiss(request: Request, db: Db, run_id: Id) -> Response:
    """The artist has seen what went wrong."""
    return _shown(request, db, runs.dismiss(db, run_id))


@router.get("/runs/{run_id}/previews/{number}.jpg")
def preview(db: Look, run_id: Id, number: Id) -> Response:
    """The newest preview; the number only keeps browsers from showing an old one."""
    return Response(watching.preview_jpeg(db, run_id), media_type="image/jpeg", headers={"Cache-Control": "no-store"})
