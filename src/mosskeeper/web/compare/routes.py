"""Comparing two to four pictures."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import Response
from sqlalchemy.orm import Session

from mosskeeper.core.continuity.drift import drift, not_measured
from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.recipe import LABELS, differences
from mosskeeper.core.roles.kinds.palette import ROLE as PALETTE
from mosskeeper.queue.deferring import want_map, want_readings
from mosskeeper.studio import lineage, maps, pictures, readings, takes
from mosskeeper.studio.models import Picture, Take
from mosskeeper.web.deps import Db, Look, Queue, Sha
from mosskeeper.web.render import page

router = APIRouter()
WAYS = {"side": "side by side", "swipe": "swipe", "blink": "blink", "difference": "difference", "heads": "heads of one size"}
_MOST = 4
_HEAD_SHARE = 0.34  # of the pane's height that every head gets


@dataclass(slots=True)
class Pane:
    picture: Picture
    title: str
    take: Take | None
    anchor: bool
    head: tuple[float, float, float] | None  # x, y and height as shares, of the main figure
    waits: str = ""  # what a worker still has to make of it
    drift: float | None = None  # from the first picture
    palette: float | None = None  # agreement with the first, 0…100
    seen: float | None = None  # per cent of pixels that differ noticeably from the first
    changed: list[tuple[str, str, str]] | None = None  # what differs in the recipe from the first's

    @property
    def zoom(self) -> float:
        """By how much the picture is enlarged so that all heads are of one size."""
        return _HEAD_SHARE / self.head[2] if self.head else 1.0


@router.get("/compare")
def compare(request: Request, db: Look, p: Annotated[list[str], Query()] = [], way: str = "side") -> Response:  # noqa: B006
    names = list(dict.fromkeys(p))[:_MOST]
    if len(names) < 2:
        raise ArtistError("Hold two to four pictures to compare them: “hold” stands beside every picture.")
    panes = [_pane(db, name) for name in names]
    for pane in panes[1:]:
        _measure(db, panes[0], pane)
    way = way if way in WAYS else "side"
    address = "&".join(f"p={n}" for n in names)
    ruled = [
        {"href": f"/compare?{address}&way={w}", "id": f"way-{n}", "said": said, "key": n, "on": w == way}
        for n, (w, said) in enumerate(WAYS.items(), 1)
    ]
    return page(
        request,
        "compare/compare.html",
        {"panes": panes, "way": way, "ruled": ruled, "address": address, "labels": LABELS},
    )


def _pane(db: Session, sha256: str) -> Pane:
    picture, read = pictures.find(db, sha256), readings.known(db, sha256)
    main = read.main if read is not None else None
    came = lineage.origin(db, sha256)
    head = main.head if main is not None and main.head is not None and main.head[2] > 0.02 else None
    return Pane(picture, picture.name or "picture", came.take, came.anchor, head, "" if read is not None else f"reading {sha256}")


def _measure(db: Session, first: Pane, other: Pane) -> None:
    one, two = (readings.known(db, pane.picture.sha256) for pane in (first, other))
    if one is not None and two is not None:
        found = None if not_measured([one, two]) else drift(two.main, [one.main])
        palette = PALETTE.alike(one, two)
        other.drift = found.distance if found is not None else None
        other.palette = 100 * palette if palette is not None else None
    key = maps.of_difference(first.picture.sha256, other.picture.sha256)
    apart = maps.facts(db, key)
    if apart is None:
        other.waits = other.waits or f"map {key}"
    else:
        other.seen = 100 * apart["seen"]
    if first.take is not None and other.take is not None:
        other.changed = differences(takes.recipe_of(first.take), takes.recipe_of(other.take))


@router.post("/compare/{a}/{b}")
def ask(db: Db, queue: Queue, a: Sha, b: Sha) -> Response:
    """Asks for what comparing two pictures shows: their readings, and the map of their difference."""
    key = maps.of_difference(a, b)
    want_readings(db, queue, [a, b])
    if maps.wanted(db, key):
        want_map(db, queue, key)
    return Response(status_code=204)


@router.get("/compare/{a}/{b}/difference.png")
def difference(db: Look, a: Sha, b: Sha) -> Response:
    data = maps.png(db, maps.of_difference(a, b))
    if data is None:
        raise NotFound("This map is not made yet.")
    return Response(data, media_type="image/png", headers={"Cache-Control": "max-age=86400, immutable"})
