"""The mended picture as files."""

from __future__ import annotations

from fastapi import APIRouter
from fastapi.responses import Response

from mosskeeper.formats.stack_file import with_stack
from mosskeeper.studio import (
    carrying,
    mends,
    pictures,
)
from mosskeeper.web.deps import Id, Look

router = APIRouter()


@router.get("/stacks/{stack_id}/download.png")
def download(db: Look, stack_id: Id) -> Response:
    """The mended picture as PNG with its base and all its mends inside: dropped here, it is a stack again."""
    made = mends.standing_of(db, stack_id)
    data = with_stack(pictures.png(db, made.top or made.stack.base), carrying.packed(db, made))
    return _attached(data, "image/png", f"mended-{stack_id}.png")


@router.get("/stacks/{stack_id}/download.ora")
def download_layers(db: Look, stack_id: Id) -> Response:
    """The mended picture in layers, one for each mend, as OpenRaster."""
    made = mends.standing_of(db, stack_id)
    return _attached(carrying.layered(db, made), "image/openraster", f"mended-{stack_id}.ora")


def _attached(data: bytes, kind: str, name: str) -> Response:
    return Response(data, media_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})
