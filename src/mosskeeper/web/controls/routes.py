"""All controls on one page, as docs/controls.md shows them."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import Response

from mosskeeper.web.render import page

router = APIRouter()


@router.get("/controls")
def controls(request: Request) -> Response:
    ways = [
        {"href": "#main", "id": f"way-{said.split()[0]}", "said": said, "key": key, "on": not key}
        for said, key in (("side by side", ""), ("swipe", "2"))
    ]
    return page(request, "controls/controls.html", {"ways": ways})
