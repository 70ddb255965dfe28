"""The live view: one stream of small ticks for all pages of a browser. What a tick means for a page, the page asks for itself."""

from __future__ import annotations

from collections.abc import AsyncIterator

from fastapi import APIRouter, Request
from sse_starlette import EventSourceResponse

from mosskeeper.web.events.hub import Hub

router = APIRouter()


@router.get("/live")
async def live(request: Request) -> EventSourceResponse:
    return EventSourceResponse(_ticks(request.app.state.hub), ping=15)


async def _ticks(hub: Hub) -> AsyncIterator[dict[str, str]]:
    with hub.subscribe() as queue:
        yield {"data": await hub.now()}
        while True:
            yield {"data": await queue.get()}
