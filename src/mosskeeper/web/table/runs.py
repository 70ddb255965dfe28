"""Runs: stopping them, taking them up again, and their previews."""

from __future__ import annotations

from fastapi import APIRouter
from fastapi.responses import Response

from mosskeeper.queue.app import resubmit
from mosskeeper.studio import runs
from mosskeeper.web.deps import Db, Queue
from mosskeeper.web.render import parts
from mosskeeper.web.table import view as table

router = APIRouter()


@router.post("/runs/{run_id}/stop")
def stop(db: Db, run_id: int) -> Response:
    run = runs.stop(db, run_id)
    return parts(*table.run_parts(table.gather(db, run.shot_id)))


@router.post("/runs/{run_id}/again")
def again(db: Db, queue: Queue, run_id: int) -> Response:
    """Takes up a run whose engine stayed busy: with the same recipe, and only what is missing."""
    run = resubmit(db, queue, run_id)
    return parts(*table.run_parts(table.gather(db, run.shot_id)))


@router.get("/runs/{run_id}/previews/{number}.jpg")
def preview(db: Db, run_id: int, number: int) -> Response:
    """The newest preview; the number only keeps browsers from showing an old one."""
    return Response(runs.preview_jpeg(db, run_id), media_type="image/jpeg", headers={"Cache-Control": "no-store"})
