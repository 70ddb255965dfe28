"""A character: the anchors with their checks, the canonical palette, and the drift of all takes over time."""

from __future__ import annotations

from dataclasses import dataclass

import procrastinate
from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.pictures.decode import MAX_BYTES
from mosskeeper.core.reading.face_check import FaceCheck
from mosskeeper.core.reading.reading import Reading
from mosskeeper.queue.deferring import want_drift, want_readings
from mosskeeper.studio import anchor_traits, cast, catalogue, library, measures, pictures, readings, sheets, takes
from mosskeeper.studio.measures import TakeMeasures
from mosskeeper.studio.models import Anchor, Character, Take
from mosskeeper.web.deps import Db, Fields, Id, Look, Queue, Text, Upload
from mosskeeper.web.plots import Plot, Series, plot
from mosskeeper.web.render import page

router = APIRouter()
COLOURS = ("skin", "hair colour", "eyes")
_DRIFT_TOP = 2.0
_MOST_PLOTTED = 300
_FARTHEST = 8


@dataclass(slots=True)
class AnchorRow:
    anchor: Anchor
    check: FaceCheck | None  # None: it is still being read
    colours: dict[str, str]  # as read, #rrggbb


@dataclass(slots=True)
class Drifting:
    take: Take
    measures: TakeMeasures


@router.get("/characters/{character_id}")
def shown(request: Request, db: Look, character_id: Id) -> Response:
    return _page(request, db, cast.find(db, character_id))


def _page(request: Request, db: Session, character: Character, **more: object) -> Response:
    anchors = _anchors(db, character.id)
    made = cast.takes_of(db, character.id, _MOST_PLOTTED)
    known = measures.known(db, made)
    drifting = [Drifting(t, known[t.id]) for t in made if t.id in known and known[t.id].drift is not None]
    context = {
        "character": character,
        "anchors": anchors,
        "read": _canonical(anchors),
        "offered": anchor_traits.offered(db, character),
        "let_go": cast.let_go_of(db, character.id),
        "names": COLOURS,
        "drifting": drifting,
        "plot": _plot(drifting),
        "farthest": sorted(drifting, key=lambda d: -_distance(d))[:_FARTHEST],
        "untold": len(made) - len(drifting),
        "sheet_kinds": sheets.offered(db, character),
        "price_of_a_face": sheets.price_of_a_face(db),
        "sheets_made": sheets.of_character(db, character.id),
        **more,
    }
    return page(request, "character/character.html", context, 422 if "problem" in more else 200)


def _distance(one: Drifting) -> float:
    return one.measures.drift.distance if one.measures.drift is not None else 0.0


def _anchors(db: Session, character_id: int) -> list[AnchorRow]:
    own = cast.anchors(db, character_id)
    names = [anchor.picture_sha256 for anchor in own]
    checks, read = readings.known_face_checks(db, names), readings.known_of(db, names)
    return [AnchorRow(a, checks.get(a.picture_sha256), _colours(read.get(a.picture_sha256))) for a in own]


def _colours(read: Reading | None) -> dict[str, str]:
    """The colours of the person in a picture: of one that was drawn here those of its scene, else as they were read."""
    held = None if read is None else read.contents
    subject = held.subject(None) if held is not None and held.exact else None
    found = {name: subject.tone(name) for name in COLOURS} if subject is not None else read.colours if read is not None else {}
    return {name: "#" + "".join(f"{round(v * 255):02x}" for v in found[name]) for name in COLOURS if name in found}


def _canonical(anchors: list[AnchorRow]) -> dict[str, str]:
    """The palette as read from the lead anchor, or from the first that shows a colour."""
    rows = sorted(anchors, key=lambda row: not row.anchor.lead)
    return {
        name: next(row.colours[name] for row in rows if name in row.colours) for name in COLOURS if any(name in row.colours for row in rows)
    }


def _plot(drifting: list[Drifting]) -> Plot | None:
    """Drift in the order in which the takes were made."""
    if not drifting:
        return None
    series = Series(
        "drift",
        "moss",
        [_distance(d) for d in drifting],
        [f"/shots/{d.take.shot_id}?take={d.take.id}" for d in drifting],
        [f"{d.take.shot.name}, take {d.take.number}" for d in drifting],
        [d.take.picture_sha256 for d in drifting],
    )
    return plot(
        "in the order in which they were made", [float(n + 1) for n in range(len(drifting))], [series], _DRIFT_TOP, 1.0, "another person"
    )


@router.post("/characters/{character_id}")
def describe(request: Request, db: Db, character_id: Id, name: Text = "", traits: Text = "") -> Response:
    try:
        catalogue.edit(db, catalogue.KINDS["character"], character_id, name, traits)
    except ArtistError as error:
        return _page(request, db, cast.find(db, character_id), problem=error.sentence, typed={"name": name, "traits": traits})
    return RedirectResponse(f"/characters/{character_id}", 303)


@router.post("/characters/{character_id}/traits")
def accept_trait(request: Request, db: Db, character_id: Id, trait: Text = "") -> Response:
    """Takes what the anchors show of a trait into the character's words; the given words of the shots follow."""
    try:
        anchor_traits.accept(db, character_id, trait)
    except ArtistError as error:
        return _page(request, db, cast.find(db, character_id), problem=error.sentence)
    return RedirectResponse(f"/characters/{character_id}", 303)


@router.post("/characters/{character_id}/palette")
def correct(db: Db, character_id: Id, form: Fields) -> Response:
    """Colours corrected by hand; those that are as read are not kept."""
    wanted = {name: value for name in COLOURS if (value := str(form.get(name, "")))}
    cast.correct_palette(db, character_id, wanted, [name for name in COLOURS if form.get(f"own-{name}")])
    return RedirectResponse(f"/characters/{character_id}", 303)


@router.post("/characters/{character_id}/anchors")
def add_anchor(request: Request, db: Db, queue: Queue, character_id: Id, picture: Upload) -> Response:
    """A picture from outside as a further anchor; the first one leads."""
    character = cast.find(db, character_id)
    name = library.name_of_file(picture.filename)
    try:
        stored = pictures.upload(db, picture.file.read(MAX_BYTES + 1), name)
    except ArtistError as error:
        return _page(request, db, character, problem=f"{name}: {error.sentence}", of_anchor=True)
    library.add(db, stored.sha256, "upload", name, character.story_id)
    cast.add_anchor(db, character_id, stored.sha256)
    want_readings(db, queue, [stored.sha256])
    return _changed(db, queue, character_id)


@router.post("/takes/{take_id}/further-anchor")
def further_anchor(db: Db, queue: Queue, take_id: Id) -> Response:
    return _changed(db, queue, cast.make_anchor(db, takes.find(db, take_id), lead=False).character_id)


@router.post("/anchors/{anchor_id}/lead")
def lead(db: Db, queue: Queue, anchor_id: Id) -> Response:
    return _changed(db, queue, cast.lead(db, anchor_id).character_id)


@router.post("/anchors/{anchor_id}/let-go")
def let_go(db: Db, queue: Queue, anchor_id: Id) -> Response:
    """Its picture stays in the library, from where it can be made an anchor again."""
    return _changed(db, queue, cast.let_go(db, anchor_id))


@router.post("/anchors/{anchor_id}/bring-back")
def bring_back(db: Db, queue: Queue, anchor_id: Id) -> Response:
    return _changed(db, queue, cast.bring_anchor_back(db, anchor_id))


def _changed(db: Session, queue: procrastinate.App, character_id: int) -> Response:
    """The anchors are others now, so drift is measured anew."""
    want_drift(db, queue, character_id)
    return RedirectResponse(f"/characters/{character_id}", 303)
