"""Stored pictures. An address never changes its contents, so browsers may keep them for good."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

from fastapi import APIRouter, Request
from fastapi.responses import Response
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.errors import NotFound
from mosskeeper.studio import pictures
from mosskeeper.web.deps import Look, Sha

router = APIRouter()
_THUMBNAILS = 4000  # held in memory, some 40 MB
_FOR_GOOD = {"Cache-Control": "public, max-age=31536000, immutable"}


@router.get("/pictures/{sha256}.png")
def picture(db: Look, sha256: Sha) -> Response:
    return Response(pictures.png(db, sha256), media_type="image/png", headers=_FOR_GOOD)


@router.get("/pictures/{sha256}/thumbnail.jpg")
def thumbnail(request: Request, sha256: Sha) -> Response:
    return Response(request.app.state.thumbnails(sha256), media_type="image/jpeg", headers=_FOR_GOOD)


@router.get("/pictures/{sha256}/original")
def original(db: Look, sha256: Sha) -> Response:
    """The file as it came of a picture that was scaled down."""
    data = pictures.original(db, sha256)
    if data is None:
        raise NotFound("This picture is stored as it came: download it as PNG.")
    return Response(data, media_type="application/octet-stream", headers=_FOR_GOOD | {"Content-Disposition": "attachment"})


def thumbnails(sessions: sessionmaker[Session]) -> Callable[[str], bytes]:
    """Thumbnails by name, the last ones out of memory: a board or library asks for a hundred at once."""

    @lru_cache(_THUMBNAILS)
    def jpeg(sha256: str) -> bytes:
        with sessions() as session:
            return pictures.thumbnail_jpeg(session, sha256)

    return jpeg
