"""Storing and reading pictures."""

from __future__ import annotations

import hashlib

import numpy as np
from numpy.typing import NDArray
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from mosskeeper.core.errors import NotFound
from mosskeeper.core.pictures.decode import decode, encode_png, thumbnail
from mosskeeper.studio.database import read_bytes
from mosskeeper.studio.models import Picture


def store(session: Session, rgb_u8: NDArray[np.uint8], name: str, origin: str, notes: tuple[str, ...] = ()) -> Picture:
    """Stores a picture as PNG, once: the same pixels are the same row."""
    png = encode_png(rgb_u8)
    sha = hashlib.sha256(png).hexdigest()
    height, width = rgb_u8.shape[:2]
    session.execute(
        insert(Picture)
        .values(
            sha256=sha, data=png, thumbnail=thumbnail(rgb_u8), width=width, height=height, name=name[:160], origin=origin, notes=list(notes)
        )
        .on_conflict_do_nothing()
    )
    return session.get_one(Picture, sha)


def upload(session: Session, data: bytes, name: str) -> Picture:
    """Decodes and stores what somebody sent. Raises BadPicture with the reason."""
    decoded = decode(data)
    return store(session, decoded.rgb_u8, name, "upload", decoded.notes)


def find(session: Session, sha256: str) -> Picture:
    picture = session.get(Picture, sha256)
    if picture is None:
        raise NotFound("This picture does not exist.")
    return picture


def png(session: Session, sha256: str) -> bytes:
    data = read_bytes(session, "select data from pictures where sha256 = %s", sha256)
    if data is None:
        raise NotFound("This picture does not exist.")
    return data


def thumbnail_jpeg(session: Session, sha256: str) -> bytes:
    data = read_bytes(session, "select thumbnail from pictures where sha256 = %s", sha256)
    if data is None:
        raise NotFound("This picture does not exist.")
    return data


def pixels(session: Session, sha256: str) -> NDArray[np.uint8]:
    """(H, W, 3) uint8 of a stored picture."""
    return decode(png(session, sha256)).rgb_u8
