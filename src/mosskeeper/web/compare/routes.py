"""Comparing two to four pictures."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

import numpy as np
from fastapi import APIRouter, Query, Request
from fastapi.responses import Response
from sqlalchemy.orm import Session

from mosskeeper.core.continuity.drift import drift
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.pictures.difference import delta_e_map, drawn, share_seen
from mosskeeper.core.recipe import LABELS, differences
from mosskeeper.core.roles.kinds.palette import ROLE as PALETTE
from mosskeeper.studio import lineage, pictures, readings, takes
from mosskeeper.studio.models import Picture, Take
from mosskeeper.web.deps import Db
from mosskeeper.web.render import page

router = APIRouter()
WAYS = ("side", "swipe", "blink", "difference", "heads")
_MOST = 4
_HEAD_SHARE = 0.34  # of the pane's height that every head gets


@dataclass(slots=True)
class Pane:
    picture: Picture
    title: str
    take: Take | None
    anchor: bool
    head: tuple[float, float, float] | None  # x, y and height as shares, of the main figure
    drift: float | None = None  # from the first picture
    palette: float | None = None  # agreement with the first, 0…100
    seen: float | None = None  # per cent of pixels that differ noticeably from the first
    changed: list[tuple[str, str, str]] | None = None  # what differs in the recipe from the first's

    @property
    def zoom(self) -> float:
        """By how much the picture is enlarged so that all heads are of one size."""
        return _HEAD_SHARE / self.head[2] if self.head else 1.0


@router.get("/compare")
def compare(request: Request, db: Db, p: Annotated[list[str], Query()] = [], way: str = "side") -> Response:  # noqa: B006
    names = list(dict.fromkeys(p))[:_MOST]
    if len(names) < 2:
        raise ArtistError("Hold two to four pictures to compare them: “hold” stands beside every picture.")
    panes = [_pane(db, name) for name in names]
    for pane in panes[1:]:
        _measure(db, panes[0], pane)
    way = way if way in WAYS else "side"
    return page(
        request,
        "compare/compare.html",
        {"panes": panes, "way": way, "ways": WAYS, "address": "&".join(f"p={n}" for n in names), "labels": LABELS},
    )


def _pane(db: Session, sha256: str) -> Pane:
    picture, main = pictures.find(db, sha256), readings.of_picture(db, sha256).main
    came = lineage.origin(db, sha256)
    head = main.head if main is not None and main.head is not None and main.head[2] > 0.02 else None
    return Pane(picture, picture.name or "picture", came.take, came.anchor, head)


def _measure(db: Session, first: Pane, other: Pane) -> None:
    one, two = (readings.of_picture(db, pane.picture.sha256) for pane in (first, other))
    found, palette = drift(two.main, [one.main]), PALETTE.alike(one, two)
    other.drift = found.distance if found is not None else None
    other.palette = 100 * palette if palette is not None else None
    other.seen = 100 * share_seen(_difference(db, first.picture.sha256, other.picture.sha256))
    if first.take is not None and other.take is not None:
        other.changed = differences(takes.recipe_of(first.take), takes.recipe_of(other.take))


def _difference(db: Session, a: str, b: str) -> np.ndarray:
    return delta_e_map(pictures.pixels(db, a), pictures.pixels(db, b))


@router.get("/compare/{a}/{b}/difference.png")
def difference(db: Db, a: str, b: str) -> Response:
    """The map of differences of two pictures; names never change their pictures, so browsers may keep it."""
    return Response(encode_png(drawn(_difference(db, a, b))), media_type="image/png", headers={"Cache-Control": "max-age=86400, immutable"})
