"""The engines: what each can do, what it costs, and connecting remote ones."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.recipe import Recipe
from mosskeeper.engines import BUILT_IN
from mosskeeper.studio import engines, estimates, runs, watching
from mosskeeper.web.deps import Db, Look, Text
from mosskeeper.web.render import page

router = APIRouter()
_USUAL = Recipe(words="somebody", count=1)


@router.get("/engines")
def listed(request: Request, db: Look) -> Response:
    return _page(request, db)


def _page(request: Request, db: Session, **more: object) -> Response:
    rows = [
        (engine, engine.capabilities(), estimates.estimate(db, _USUAL.model_copy(update={"engine": engine.key})))
        for engine in engines.all_engines(db)
    ]
    context = {
        "rows": rows,
        "away": engines.away(db),
        "built_in": set(BUILT_IN),
        "usual": _USUAL,
        "active": runs.active(db),
        "workers": watching.workers_alive(db),
        **more,
    }
    return page(request, "engines/engines.html", context, 422 if "problem" in more else 200)


@router.post("/engines")
def connect(request: Request, db: Db, url: Text = "") -> Response:
    try:
        engines.connect(db, url)
    except ArtistError as error:
        return _page(request, db, problem=error.sentence, url=url)
    return RedirectResponse("/engines", 303)


@router.post("/engines/{key}/disconnect")
def disconnect(db: Db, key: str) -> Response:
    engines.disconnect(db, key)
    return RedirectResponse("/engines", 303)
