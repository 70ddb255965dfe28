"""Several pictures of the library at once: tagged, moved, put on a cue sheet, taken out and brought back."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Form
from fastapi.responses import Response

from mosskeeper.core.errors import ArtistError
from mosskeeper.queue.app import submit
from mosskeeper.queue.deferring import want_readings
from mosskeeper.studio import cast, library, pictures, sheets, shots
from mosskeeper.web.deps import Db, Queue, Text
from mosskeeper.web.render import fragment, part, parts

router = APIRouter()
Entries = Annotated[list[Annotated[int, Form(ge=0, lt=2**31)]], Form(max_length=500)]


@router.post("/library/many/{act}")
def do(
    db: Db,
    queue: Queue,
    act: Literal["tag", "move", "take-out", "bring-back", "cue", "face"],
    entries: Entries,
    value: Text = "",
    whose: Text = "",
    shot: Text = "",
) -> Response:
    """Does one act to all entries that are chosen, or, where it cannot be done to all, to none."""
    try:
        if act == "cue":
            return _on_the_sheet(db, queue, entries, shot)
        if act == "face":
            return _with_a_face(db, queue, entries, whose)
        done = _done(db, act, entries, value)
    except ArtistError as error:
        return parts(part("many-told", fragment("library/many_told.html", {"problem": error.sentence})), status=422)
    return parts(part("many-told", fragment("library/many_told.html", {"act": act, "done": done, "value": value, "entries": entries})))


def _done(db: Db, act: str, entries: list[int], value: str) -> int:
    match act:
        case "tag":
            return library.tag_all(db, entries, value)
        case "move":
            return library.file_all(db, entries, value)
        case "take-out":
            return library.remove(db, entries)
        case _:
            return library.bring_back(db, entries)


def _on_the_sheet(db: Db, queue: Queue, entries: list[int], shot: str) -> Response:
    if not shot.isdecimal() or len(shot) > 9:
        raise ArtistError("Open the library from a shot's cue sheet, so that it is known which one is meant.", "cues")
    chosen = [library.find(db, entry_id).picture_sha256 for entry_id in entries]
    named = [(sha256, cast.name_of_lead(db, sha256) or pictures.find(db, sha256).name) for sha256 in chosen]
    shots.add_cues(db, int(shot), named)
    want_readings(db, queue, chosen)
    return Response(headers={"HX-Redirect": f"/shots/{int(shot)}"})


def _with_a_face(db: Db, queue: Queue, entries: list[int], whose: str) -> Response:
    if not whose.isdecimal() or len(whose) > 9:
        raise ArtistError("Open the library from a character's page, so that it is known whose face is meant.", "faces")
    chosen = [library.find(db, entry_id).picture_sha256 for entry_id in entries]
    made = sheets.put_on(db, int(whose), chosen)
    run = submit(db, queue, made.shot, made.recipe, made.dials)
    return Response(headers={"HX-Redirect": f"/faces/{run.id}"})
