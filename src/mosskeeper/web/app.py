"""The web application: what it is made of, and what it does at start and end."""

from __future__ import annotations

import contextlib
import logging
import secrets
from collections.abc import AsyncIterator, Callable
from types import ModuleType

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, Response
from sqlalchemy.exc import DataError, OperationalError
from sqlalchemy.exc import TimeoutError as PoolTimeoutError
from starlette.exceptions import HTTPException

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.live_picture.pool import Rooms
from mosskeeper.queue.app import queue_app
from mosskeeper.settings import Settings
from mosskeeper.studio.database import connect, sessions
from mosskeeper.web.assets import Assets
from mosskeeper.web.beginnings import routes as beginnings
from mosskeeper.web.character import routes as characters
from mosskeeper.web.compare import routes as compare
from mosskeeper.web.controls import routes as controls
from mosskeeper.web.doors import TooLarge, guarded, too_large
from mosskeeper.web.engines import routes as engines
from mosskeeper.web.events import routes as events
from mosskeeper.web.events.hub import Hub
from mosskeeper.web.ledger import routes as ledger
from mosskeeper.web.library import many
from mosskeeper.web.library import routes as library
from mosskeeper.web.overlays.overlay import route_modules
from mosskeeper.web.pictures import routes as pictures
from mosskeeper.web.reading import routes as readings
from mosskeeper.web.render import page, wants_fragment
from mosskeeper.web.sheets import routes as sheets
from mosskeeper.web.story import items
from mosskeeper.web.story import routes as stories
from mosskeeper.web.story_check import routes as story_check
from mosskeeper.web.sweep import routes as sweeps
from mosskeeper.web.table import history, presets, runs, takes, words
from mosskeeper.web.table import routes as shots

log = logging.getLogger(__name__)
_PAGES = (
    stories,
    items,
    characters,
    sheets,
    story_check,
    ledger,
    shots,
    words,
    presets,
    history,
    sweeps,
    runs,
    takes,
    beginnings,
    *route_modules(),
    pictures,
    readings,
    many,
    library,
    compare,
    engines,
    controls,
    events,
)
_DATABASE_AWAY = "The database does not answer at the moment. What you typed is kept here; try again in a few seconds."


def pages() -> tuple[ModuleType, ...]:
    """The modules whose routers make the pages."""
    return _PAGES


def create_app(settings: Settings) -> FastAPI:
    engine = connect(settings.database_url)
    make_session = sessions(engine)
    hub, rooms = Hub(settings.database_url, make_session), Rooms(settings.live_rooms)

    @contextlib.asynccontextmanager
    async def lifespan(_app: FastAPI) -> AsyncIterator[None]:
        async with hub.listening(), rooms.open():
            yield
        engine.dispose()

    app = FastAPI(title="Moss Keeper", lifespan=lifespan, docs_url=None, redoc_url=None, openapi_url=None)
    app.state.settings, app.state.sessions, app.state.hub = settings, make_session, hub
    app.state.rooms = rooms
    app.state.thumbnails = pictures.thumbnails(make_session)
    app.state.queue = queue_app(settings.database_url)
    app.mount("/static", Assets(), "static")
    for module in pages():
        app.include_router(module.router)
    for kind, handler in _HANDLERS.items():
        app.add_exception_handler(kind, handler)
    app.add_middleware(guarded, hosts=settings.hosts)
    return app


def _problem(request: Request, status: int, sentence: str) -> Response:
    if wants_fragment(request):
        return page(request, "shared/notice.html", {"sentence": sentence}, status)
    return page(request, "shared/problem.html", {"sentence": sentence}, status)


def _artist_error(request: Request, error: Exception) -> Response:
    assert isinstance(error, ArtistError)
    status = 404 if isinstance(error, NotFound) else 422
    return _problem(request, status, error.sentence)


def _database_away(request: Request, error: Exception) -> Response:
    log.warning("database away: %s", type(error).__name__)
    return _problem(request, 503, _DATABASE_AWAY)


def _unstorable(request: Request, error: Exception) -> Response:
    """What the database itself refuses although every field was checked: a NUL in an address, a number beyond its columns."""
    log.warning("refused by the database: %s", str(error).splitlines()[0][:200])
    return _problem(request, 422, "Something in this cannot be kept: a character that is no letter, or a number out of all proportion.")


def _bad_address(request: Request, error: Exception) -> Response:
    assert isinstance(error, RequestValidationError)
    if any(e["loc"][:1] == ("body",) for e in error.errors()):
        return _problem(request, 422, _told_of(error))
    return _problem(request, 404, "This address leads nowhere. Go back to the shelf of stories.")


def _told_of(error: RequestValidationError) -> str:
    """What is wrong with the first field that is, as far as that can be told."""
    first = next(e for e in error.errors() if e["loc"][:1] == ("body",))
    field = str(first["loc"][-1])
    if first["type"] == "value_error":
        return f"{field.capitalize()}: {first['ctx']['error']}."
    if first["type"] == "missing":
        return f"Something is missing in what was sent ({field}). Try again."
    return f"{field.capitalize()} cannot be used as it was sent. Correct it and try again."


def _http_error(request: Request, error: Exception) -> Response:
    assert isinstance(error, HTTPException)
    if error.status_code == 404:
        return _problem(request, 404, "This page does not exist. Go back to the shelf of stories.")
    if error.status_code == 405:
        return _problem(request, 405, "Nothing can be done at this address in this way.")
    return _problem(request, error.status_code, f"What was sent cannot be read: {str(error.detail).rstrip('.')}.")


def _large(request: Request, error: Exception) -> Response:
    assert isinstance(error, TooLarge)
    return _problem(request, 413, too_large(error.most))


def _bug(request: Request, error: Exception) -> Response:
    number = secrets.token_hex(3)
    log.error("defect %s at %s %s", number, request.method, request.url.path)
    told = f"Something broke in the studio, and nothing was changed: defect {number}, its log says more."
    if "moss-act" in request.headers:
        return JSONResponse({"problem": told, "defect": number}, 500)
    return _problem(request, 500, f"{told} What you typed is kept here.")


_HANDLERS: dict[type[Exception], Callable[[Request, Exception], Response]] = {
    ArtistError: _artist_error,
    OperationalError: _database_away,
    PoolTimeoutError: _database_away,
    DataError: _unstorable,
    RequestValidationError: _bad_address,
    HTTPException: _http_error,
    TooLarge: _large,
    Exception: _bug,
}
