"""Live state over server-sent events: what a shot's run is doing, and what runs at all."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import AsyncIterator

from fastapi import APIRouter, Request
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session, sessionmaker
from sse_starlette import EventSourceResponse
from starlette.concurrency import run_in_threadpool

from mosskeeper.studio import runs
from mosskeeper.web.live.hub import Hub
from mosskeeper.web.render import fragment, part
from mosskeeper.web.sweep import view as sweep_view
from mosskeeper.web.table import view as table

router = APIRouter()
_LOOK_AGAIN = 5.0  # seconds: a worker that comes or goes sends no note
_Event = dict[str, str]


@router.get("/shots/{shot_id}/events")
async def shot_events(request: Request, shot_id: int) -> EventSourceResponse:
    return EventSourceResponse(_shot(request.app.state.hub, request.app.state.sessions, shot_id), ping=15)


async def _shot(hub: Hub, sessions: sessionmaker[Session], shot_id: int) -> AsyncIterator[_Event]:
    sent: dict[str, str] = {}
    seen: tuple[int | None, str, int] | None = None  # run, its state, takes
    with hub.subscribe() as queue:
        while True:
            with contextlib.suppress(OperationalError):
                html, seen = await run_in_threadpool(_look, sessions, shot_id, seen)
                changed = [h for target, h in html.items() if sent.get(target) != h]
                sent |= html
                if changed:
                    yield {"data": "\n".join(changed)}
            await _something_happens(queue, shot_id)


def _look(
    sessions: sessionmaker[Session], shot_id: int, seen: tuple[int | None, str, int] | None
) -> tuple[dict[str, str], tuple[int | None, str, int]]:
    with sessions() as session:
        made = table.gather(session, shot_id)
        run = made.run
        now = (run.id if run else None, run.state if run else "", len(made.takes))
        html = dict(zip(("run", "live"), table.run_parts(made), strict=True))
        html["status"] = part("status", fragment("shared/status.html", {"active": runs.active(session)}))
        if seen is not None and now[2] != seen[2]:
            c = table.context(made)
            html["strip"] = part("strip", fragment("table/strip.html", c), "outerHTML")
        if seen is not None and run is not None and seen[1] in ("waiting", "running", "stopping") and not run.active and run.takes:
            # the run that was being watched has ended: its first new take comes on the table
            made = table.gather(session, shot_id, run.takes[0].id)
            html["stage"], html["strip"], html["cues"] = table.view_parts(made)[:3]
        return html, now


@router.get("/sweeps/{run_id}/events")
async def sweep_events(request: Request, run_id: int, measure: str = "") -> EventSourceResponse:
    return EventSourceResponse(_sweep(request.app.state.hub, request.app.state.sessions, run_id, measure), ping=15)


async def _sweep(hub: Hub, sessions: sessionmaker[Session], run_id: int, measure: str) -> AsyncIterator[_Event]:
    sent: dict[str, str] = {}

    def look() -> tuple[int, dict[str, str]]:
        with sessions() as session:
            view = sweep_view.gather(session, run_id, measure)
            plots = "".join(fragment("shared/plot.html", {"plot": plot}) for plot in view.plots)
            return view.run.shot_id, {
                "state": part("sweep-state", fragment("sweep/sweep_state.html", {"v": view})),
                "grid": part("sweep-grid", fragment("sweep/sweep_grid.html", {"v": view}), "innerMorph"),
                "plots": part("sweep-plots", plots),
                "status": part("status", fragment("shared/status.html", {"active": runs.active(session)})),
            }

    with hub.subscribe() as queue:
        while True:
            shot_id = None
            with contextlib.suppress(OperationalError):
                shot_id, html = await run_in_threadpool(look)
                changed = [h for target, h in html.items() if sent.get(target) != h]
                sent |= html
                if changed:
                    yield {"data": "\n".join(changed)}
            await _something_happens(queue, shot_id)


@router.get("/stories/{story_id}/events")
async def story_events(request: Request, story_id: int) -> EventSourceResponse:
    return EventSourceResponse(_story(request.app.state.hub, request.app.state.sessions, story_id), ping=15)


async def _story(hub: Hub, sessions: sessionmaker[Session], story_id: int) -> AsyncIterator[_Event]:
    sent = ""

    def look() -> str:
        with sessions() as session:
            running = [r for r in runs.active(session) if r.shot.story_id == story_id]
            workers = runs.workers_alive(session)
            return part("running", fragment("story/running.html", {"active": running, "workers": workers})) + part(
                "status", fragment("shared/status.html", {"active": running})
            )

    with hub.subscribe() as queue:
        while True:
            with contextlib.suppress(OperationalError):
                html = await run_in_threadpool(look)
                if html != sent:
                    sent = html
                    yield {"data": html}
            await _something_happens(queue, None)


async def _something_happens(queue: asyncio.Queue[int | None], shot_id: int | None) -> None:
    """Returns when something about the shot (or anything, for None) changed, and at the latest after some seconds."""
    deadline = asyncio.get_running_loop().time() + _LOOK_AGAIN
    while (left := deadline - asyncio.get_running_loop().time()) > 0:
        with contextlib.suppress(TimeoutError):
            note = await asyncio.wait_for(queue.get(), left)
            if shot_id is None or note in (shot_id, None):
                break
    while not queue.empty():  # several notes at once need one look
        queue.get_nowait()
