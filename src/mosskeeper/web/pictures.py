"""Stored pictures. An address never changes its contents, so browsers may keep them for good."""

from __future__ import annotations

from fastapi import APIRouter
from fastapi.responses import Response

from mosskeeper.studio import pictures
from mosskeeper.web.deps import Db

router = APIRouter()
_FOR_GOOD = {"Cache-Control": "public, max-age=31536000, immutable"}


@router.get("/pictures/{sha256}.png")
def picture(db: Db, sha256: str) -> Response:
    return Response(pictures.png(db, sha256), media_type="image/png", headers=_FOR_GOOD)


@router.get("/pictures/{sha256}/thumbnail.jpg")
def thumbnail(db: Db, sha256: str) -> Response:
    return Response(pictures.thumbnail_jpeg(db, sha256), media_type="image/jpeg", headers=_FOR_GOOD)
