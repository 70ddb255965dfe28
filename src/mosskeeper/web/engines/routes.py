"""The engines: what each can do, what it costs, and connecting remote ones."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.recipe import Recipe
from mosskeeper.engines import BUILT_IN
from mosskeeper.studio import engines, runs
from mosskeeper.web.deps import Db
from mosskeeper.web.render import page

router = APIRouter()
_USUAL = Recipe(words="somebody", count=1)


@router.get("/engines")
def listed(request: Request, db: Db) -> Response:
    return _page(request, db)


def _page(request: Request, db: Db, **more: object) -> Response:
    rows = [
        (engine, engine.capabilities(), runs.estimate(db, _USUAL.model_copy(update={"engine": engine.key})))
        for engine in engines.all_engines(db)
    ]
    context = {
        "rows": rows,
        "built_in": set(BUILT_IN),
        "usual": _USUAL,
        "active": runs.active(db),
        "workers": runs.workers_alive(db),
        **more,
    }
    return page(request, "engines/engines.html", context, 422 if "problem" in more else 200)


@router.post("/engines")
def connect(request: Request, db: Db, url: Annotated[str, Form()] = "") -> Response:
    try:
        engines.connect(db, url)
    except ArtistError as error:
        return _page(request, db, problem=error.sentence, url=url)
    return RedirectResponse("/engines", 303)


@router.post("/engines/{key}/disconnect")
def disconnect(db: Db, key: str) -> Response:
    engines.disconnect(db, key)
    return RedirectResponse("/engines", 303)
