"""Storing and reading pictures."""

from __future__ import annotations

import hashlib
from collections.abc import Collection, Mapping

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from mosskeeper.core.errors import BadPicture, NotFound
from mosskeeper.core.pictures.bounded import bounded
from mosskeeper.core.pictures.decode import decode, encode_png, thumbnail
from mosskeeper.core.recipe import Recipe
from mosskeeper.formats.png import own_scenes
from mosskeeper.studio import explaining
from mosskeeper.studio.database import read_bytes
from mosskeeper.studio.models import OriginalFile, Picture


def store(session: Session, rgb_u8: NDArray[np.uint8], name: str, origin: str, notes: tuple[str, ...] = ()) -> Picture:
    """Stores a picture (H, W, 3 or 4) as PNG, once: the same pixels are the same row."""
    return store_png(session, encode_png(rgb_u8), rgb_u8, name, origin, notes)


def store_png(session: Session, png: bytes, rgb_u8: NDArray[np.uint8], name: str, origin: str, notes: tuple[str, ...] = ()) -> Picture:
    """Stores bytes of a PNG as they are, with what they carry beside the pixels `rgb_u8`."""
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
    """Decodes and stores what somebody sent, with the scenes that a take brings along.

    A picture that is larger than any take is scaled down, once and here; the file that came is kept beside it.

    Raises BadPicture with the reason.
    """
    decoded = decode(data)
    layers_u8, notes = bounded(decoded.layers_u8), decoded.notes
    if layers_u8 is not decoded.layers_u8:
        (h, w), (height, width) = decoded.layers_u8.shape[:2], layers_u8.shape[:2]
        notes = (*notes, f"The picture was scaled down from {w} × {h} to {width} × {height} px; the file that came is kept.")
    stored = store(session, layers_u8, name, "upload", notes)
    if layers_u8 is not decoded.layers_u8:
        session.execute(insert(OriginalFile).values(picture_sha256=stored.sha256, data=data).on_conflict_do_nothing())
    scenes = own_scenes(data, decoded.rgb_u8)
    if scenes is not None and scenes.size == (stored.width, stored.height):
        explaining.note(session, stored.sha256, scenes)
    return stored


def find(session: Session, sha256: str) -> Picture:
    picture = session.get(Picture, sha256)
    if picture is None:
        raise NotFound("This picture does not exist.")
    return picture


def sizes(session: Session, names: Collection[str]) -> dict[str, tuple[int, int]]:
    """Width and height in px of several pictures; what is not there is left out."""
    rows = session.execute(select(Picture.sha256, Picture.width, Picture.height).where(Picture.sha256.in_(names)))
    return {sha256: (width, height) for sha256, width, height in rows}


def original(session: Session, sha256: str) -> bytes | None:
    """The file as it came of a picture that was scaled down when it was stored; None of any other."""
    return read_bytes(session, "select data from original_files where picture_sha256 = %s", sha256)


def has_original(session: Session, sha256: str) -> bool:
    return session.get(OriginalFile, sha256) is not None


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
    return decode(png(session, sha256), None).rgb_u8


def layers(session: Session, sha256: str) -> NDArray[np.uint8]:
    """(H, W, 4) uint8 of a stored picture of which parts are open, (H, W, 3) of any other."""
    return decode(png(session, sha256), None).layers_u8


def boards_of(session: Session, recipe: Recipe) -> dict[str, bytes]:
    """The boards that a recipe uses: PNG files, with their pieces, by name. Other pictures belong to whoever lent them."""
    names = sorted({cue.picture for cue in recipe.cues if cue.role == "sketch" and cue.picture is not None})
    return {name: png(session, name) for name in names if find(session, name).origin == "board"}


def take_in_boards(session: Session, found: Mapping[str, bytes]) -> None:
    """Stores boards that came inside a picture, as they are; what is no picture is left."""
    for data in found.values():
        try:
            layers_u8 = decode(data).layers_u8
        except BadPicture:
            continue
        store_png(session, data, layers_u8, "board", "board")
