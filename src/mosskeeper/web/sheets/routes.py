"""A character's sheets, and the anchor's face on pictures: begun, watched, sorted out, given away."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, File, Form, Query, Request, UploadFile
from fastapi.responses import RedirectResponse, Response, StreamingResponse
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.pictures.decode import MAX_BYTES
from mosskeeper.formats.archive import archived
from mosskeeper.formats.png import with_recipe
from mosskeeper.queue.app import submit
from mosskeeper.queue.deferring import want_readings
from mosskeeper.studio import cast, explaining, library, pictures, sheets, takes
from mosskeeper.studio.models import Run, Take
from mosskeeper.studio.sheets import Prepared
from mosskeeper.web.deps import Db, Fields, Id, Look, Queue, Text
from mosskeeper.web.render import fragment, page, part, parts
from mosskeeper.web.sheets import view

router = APIRouter()
_MOST_TOLD = 30  # files that could not be used


def _submitted(db: Session, queue: Queue, made: Prepared) -> Run:
    return submit(db, queue, made.shot, made.recipe, made.dials)


@router.post("/characters/{character_id}/sheets/{kind}")
def begin(db: Db, queue: Queue, character_id: Id, kind: str, outfit: Annotated[int, Form(ge=0, lt=2**31)] = 0, own: Text = "") -> Response:
    run = _submitted(db, queue, sheets.begin(db, character_id, kind, outfit or None, own))
    return RedirectResponse(f"/sheets/{run.id}", 303)


@router.get("/sheets/{run_id}")
def shown(request: Request, db: Look, run_id: Id) -> Response:
    return page(request, "sheets/sheet.html", {"v": view.sheet(db, run_id)})


@router.get("/sheets/{run_id}/live")
def live(db: Look, run_id: Id) -> Response:
    v = view.sheet(db, run_id)
    return parts(
        part("sweep-state", fragment("sheets/sheet_state.html", {"v": v})),
        part("sheet-cells", fragment("sheets/sheet_cells.html", {"v": v}), "innerMorph"),
    )


@router.post("/sheets/{run_id}/mend")
def mend(db: Db, queue: Queue, run_id: Id) -> Response:
    """Puts the anchor's face on the cells that stray."""
    v = view.sheet(db, run_id)
    astray = sheets.straying(db, run_id)
    if not astray:
        raise ArtistError("No cell of this sheet strays any more.", "sheet")
    run = _submitted(db, queue, sheets.put_on(db, v.character.id, astray))
    return RedirectResponse(f"/faces/{run.id}", 303)


@router.post("/characters/{character_id}/faces")
def put_on(
    db: Db, queue: Queue, character_id: Id, pictures_in: Annotated[list[UploadFile], File(alias="pictures", max_length=200)]
) -> Response:
    """Puts the anchor's face on pictures that are brought in; those that cannot be used are told on the page."""
    character = cast.find(db, character_id)
    files = ((file.filename or "picture", file.file.read(MAX_BYTES + 1)) for file in pictures_in)
    taken, refused = library.upload(db, files, character.story_id)
    told = [("refused", f"{name}: {why}") for name, why in refused[:_MOST_TOLD]]
    if not taken:
        raise ArtistError(f"None of these files can be used. {told[0][1] if told else ''}".strip(), "faces")
    want_readings(db, queue, [entry.picture_sha256 for entry in taken])
    run = _submitted(db, queue, sheets.put_on(db, character_id, [entry.picture_sha256 for entry in taken]))
    return RedirectResponse(_address(run, told), 303)


def _address(run: Run, told: list[tuple[str, str]]) -> str:
    return f"/faces/{run.id}" + (f"?{urlencode(told)}" if told else "")


@router.get("/faces/{run_id}")
def faces(request: Request, db: Look, run_id: Id, by: str = "order", refused: Annotated[list[str], Query()] = []) -> Response:  # noqa: B006
    return page(request, "sheets/faces.html", {"v": view.faces(db, run_id, by), "refused": refused[:_MOST_TOLD]})


@router.get("/faces/{run_id}/live")
def faces_live(db: Look, run_id: Id, by: str = "order") -> Response:
    v = view.faces(db, run_id, by)
    return parts(
        part("sweep-state", fragment("sheets/faces_state.html", {"v": v})),
        part("face-rows", fragment("sheets/face_rows.html", {"v": v}), "innerMorph"),
    )


@router.post("/faces/{run_id}/again")
def again(db: Db, queue: Queue, run_id: Id, form: Fields) -> Response:
    """Puts the face on the chosen pictures of a run once more, with other things that go over, or on another figure."""
    v = view.faces(db, run_id, "order")
    chosen = [str(name) for name in form.getlist("target")]
    figures = {name: int(n) for name, _, n in (str(value).partition(" ") for value in form.getlist("figure")) if n.isdecimal()}
    wanted = [row.target for row in v.rows if row.target in chosen or row.target in figures]
    if not wanted:
        raise ArtistError("Tick the pictures that should be done again.", "faces")
    going = [str(part) for part in form.getlist("part")]
    run = _submitted(db, queue, sheets.put_on(db, v.character.id, wanted, figures, going or None))
    return RedirectResponse(f"/faces/{run.id}", 303)


@router.post("/faces/{run_id}/takes/{take_id}/{act}")
def sort_out(db: Db, run_id: Id, take_id: Id, act: str, by: str = "order") -> Response:
    """Refuses a picture, or takes it after all."""
    if act not in ("refuse", "accept"):
        raise ArtistError("A picture is refused or accepted.", "faces")
    if all(row.take is None or row.take.id != take_id for row in view.faces(db, run_id, by).rows):
        raise NotFound("This picture is none of this run.")
    takes.put_aside(db, take_id, act == "refuse")
    db.expire_all()
    return faces_live(db, run_id, by)


@router.get("/faces/{run_id}/pictures.zip")
def given_away(db: Look, run_id: Id) -> Response:
    """All pictures that were accepted, by the names of those that they came from, each with its recipe inside."""
    v = view.faces(db, run_id, "order")
    accepted = [(row.name, row.take) for row in v.rows if row.take is not None and not row.take.put_aside and not row.refused]
    files = ((name, "png", _with_recipe(db, take, name)) for name, take in accepted)
    headers = {"Content-Disposition": f'attachment; filename="faces-{run_id}.zip"'}
    return StreamingResponse(archived(files), media_type="application/zip", headers=headers)


def _with_recipe(db: Session, take: Take, name: str) -> bytes:
    scenes = explaining.of_picture(db, take.picture_sha256)
    return with_recipe(pictures.png(db, take.picture_sha256), takes.recipe_of(take), name, scenes)
