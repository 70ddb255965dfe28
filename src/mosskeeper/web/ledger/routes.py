"""The ledger of a story: what was spent, on what, and the daily allowance."""

from __future__ import annotations

from itertools import groupby

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError
from mosskeeper.studio import engines, ledger, stories
from mosskeeper.web.deps import Db, Id, Look, Text
from mosskeeper.web.render import page

router = APIRouter()


@router.get("/stories/{story_id}/ledger")
def shown(request: Request, db: Look, story_id: Id) -> Response:
    return _page(request, db, story_id)


def _page(request: Request, db: Session, story_id: int, **more: object) -> Response:
    story = stories.find(db, story_id)
    days = [(day, list(lines)) for day, lines in groupby(ledger.lines(db, story_id), lambda line: line.day)]
    context = {
        "story": story,
        "today": ledger.spent_today(db, story_id),
        "ever": ledger.spent(db, story_id),
        "days": days,
        "engines": {e.key: e.title for e in engines.all_engines(db)},
        **more,
    }
    return page(request, "ledger/ledger.html", context, 422 if "problem" in more else 200)


@router.post("/stories/{story_id}/allowance")
def allow(request: Request, db: Db, story_id: Id, allowance: Text = "") -> Response:
    try:
        ledger.allow(db, stories.find(db, story_id), allowance)
    except ArtistError as error:
        return _page(request, db, story_id, problem=error.sentence, typed=allowance)
    return RedirectResponse(f"/stories/{story_id}/ledger", 303)
