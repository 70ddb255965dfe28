"""What can be chosen by name in pictures: found by a worker, kept, looked at by pages."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import cv2
import numpy as np
from sqlalchemy.orm import Session

from mosskeeper.core.mending.choose.choices import Choices, choices_of_drawing, choices_of_reading
from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.studio import explaining, pictures, readings
from mosskeeper.studio.models import Map

_VERSION = "1"


def key_of(sha256: str) -> str:
    return f"choices:{sha256}"


def version() -> str:
    return f"{readings.version_now()}.{_VERSION}"


def known(session: Session, sha256: str) -> Choices | None:
    """What can be chosen in a picture; None where it is not found yet."""
    row = session.get(Map, key_of(sha256))
    if row is None or row.version != version():
        return None
    return _unpacked(row.png, row.facts)


def made(session: Session, sha256: str) -> Choices:
    """What can be chosen in a picture, found now where it is not known: for workers, since it draws or reads."""
    found = known(session, sha256)
    if found is not None:
        return found
    picture = pictures.find(session, sha256)
    explained = explaining.of_picture(session, sha256)
    if explained is not None and explained.holds and explained.size == (picture.width, picture.height):
        return choices_of_drawing(explained.drawn(), explained.scene)
    return choices_of_reading(readings.of_picture(session, sha256), (picture.width, picture.height))


def packed(choices: Choices) -> tuple[bytes, dict[str, Any]]:
    """As a map is stored: the atoms as PNG, and what they mean."""
    return encode_png(np.repeat(choices.atoms[..., None], 3, 2)), choices.to_json()


def _unpacked(png: bytes, facts: Mapping[str, Any]) -> Choices | None:
    atoms = cv2.imdecode(np.frombuffer(png, np.uint8), cv2.IMREAD_GRAYSCALE)
    if atoms is None:
        return None
    try:
        return Choices.from_json(np.asarray(atoms, np.uint8), facts)
    except ValueError:
        return None
