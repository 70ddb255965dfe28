"""The web application: what it is made of, and what it does at start and end."""

from __future__ import annotations

import contextlib
import logging
from collections.abc import AsyncIterator
from pathlib import Path

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import HTMLResponse, Response
from fastapi.staticfiles import StaticFiles
from sqlalchemy.exc import OperationalError
from sqlalchemy.exc import TimeoutError as PoolTimeoutError
from starlette.exceptions import HTTPException

from mosskeeper.core.errors import ArtistError, Conflict, NotFound
from mosskeeper.queue.app import queue_app
from mosskeeper.settings import Settings
from mosskeeper.studio.database import connect, sessions
from mosskeeper.web.character import routes as characters
from mosskeeper.web.compare import routes as compare
from mosskeeper.web.engines import routes as engines
from mosskeeper.web.ledger import routes as ledger
from mosskeeper.web.library import routes as library
from mosskeeper.web.live import routes as events
from mosskeeper.web.live.hub import Hub
from mosskeeper.web.pictures import routes as pictures
from mosskeeper.web.reading import routes as readings
from mosskeeper.web.render import page, wants_fragment
from mosskeeper.web.story import routes as stories
from mosskeeper.web.sweep import routes as sweeps
from mosskeeper.web.table import history, presets, runs, takes, words
from mosskeeper.web.table import routes as shots

log = logging.getLogger(__name__)
_PAGES = (
    stories,
    characters,
    ledger,
    shots,
    words,
    presets,
    history,
    sweeps,
    runs,
    takes,
    pictures,
    readings,
    library,
    compare,
    engines,
    events,
)
_STATIC = Path(__file__).parent / "static"
_DATABASE_AWAY = "The database does not answer at the moment. What you typed is kept here; try again in a few seconds."


def create_app(settings: Settings) -> FastAPI:
    engine = connect(settings.database_url)
    hub = Hub(settings.database_url)

    @contextlib.asynccontextmanager
    async def lifespan(_app: FastAPI) -> AsyncIterator[None]:
        async with hub.listening():
            yield
        engine.dispose()

    app = FastAPI(title="Moss Keeper", lifespan=lifespan, docs_url=None, redoc_url=None, openapi_url=None)
    app.state.settings, app.state.sessions, app.state.hub = settings, sessions(engine), hub
    app.state.thumbnails = pictures.thumbnails(app.state.sessions)
    app.state.queue = queue_app(settings.database_url)
    app.mount("/static", StaticFiles(directory=_STATIC), "static")
    for module in _PAGES:
        app.include_router(module.router)
    app.add_exception_handler(ArtistError, _artist_error)
    app.add_exception_handler(OperationalError, _database_away)
    app.add_exception_handler(PoolTimeoutError, _database_away)
    app.add_exception_handler(RequestValidationError, _bad_address)
    app.add_exception_handler(HTTPException, _http_error)
    return app


def _problem(request: Request, status: int, sentence: str) -> Response:
    if wants_fragment(request):
        return page(request, "shared/notice.html", {"sentence": sentence}, status)
    return page(request, "shared/problem.html", {"sentence": sentence}, status)


def _artist_error(request: Request, error: Exception) -> Response:
    assert isinstance(error, ArtistError)
    status = 404 if isinstance(error, NotFound) else 409 if isinstance(error, Conflict) else 422
    return _problem(request, status, error.sentence)


def _database_away(request: Request, error: Exception) -> Response:
    log.warning("database away: %s", type(error).__name__)
    return _problem(request, 503, _DATABASE_AWAY)


def _bad_address(request: Request, error: Exception) -> Response:
    assert isinstance(error, RequestValidationError)
    if any(e["loc"][:1] == ("body",) for e in error.errors()):
        return _problem(request, 422, "Something is missing in what was sent. Try again.")
    return _problem(request, 404, "This address leads nowhere. Go back to the shelf of stories.")


def _http_error(request: Request, error: Exception) -> Response:
    assert isinstance(error, HTTPException)
    if error.status_code == 404:
        return _problem(request, 404, "This page does not exist. Go back to the shelf of stories.")
    return HTMLResponse(str(error.detail), error.status_code)
