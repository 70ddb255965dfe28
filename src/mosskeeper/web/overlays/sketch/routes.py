"""The sketch overlay: a board on the picture, and what was painted on it kept at every act."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, get_args

import numpy as np
from fastapi import APIRouter, Query, Request
from fastapi.responses import JSONResponse, Response
from numpy.typing import NDArray

from mosskeeper.core.boards.digitise import digitised
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.places import PLACES
from mosskeeper.core.illustrator.vocabulary.finishes import FINISHES
from mosskeeper.core.pictures.colour import lab_to_rgb
from mosskeeper.core.pictures.decode import MAX_BYTES, decode
from mosskeeper.core.recipe import MAX_SEED, Pot, Recipe, ShapeKind
from mosskeeper.formats.board import read_document
from mosskeeper.queue.app import submit
from mosskeeper.queue.deferring import want_readings
from mosskeeper.studio import acts, boards, drafts, library, pictures, readings, shots, stages
from mosskeeper.studio.acts import Moved
from mosskeeper.web.deps import After, Db, Id, Look, PageId, Queue, Text, Upload
from mosskeeper.web.render import page
from mosskeeper.web.table import view as table
from mosskeeper.web.table.forms import digest, fields_of

router = APIRouter()
CueId = Annotated[str, Query(pattern=r"^[a-z0-9]{0,12}$")]
Share = Annotated[float, Query(ge=0, le=1)]
# Colours that the pots begin with, each its own: the order of the field desk, from the figure to the far.
POTS: dict[Pot, str] = {
    "skin": "e8bf9e",
    "hair": "b5562b",
    "cloth": "2b3a67",
    "second cloth": "efe6d2",
    "sky": "bcd9e8",
    "ground": "8c6b52",
    "water": "5b93a8",
    "leaves": "5f8a4a",
    "wall": "c9a06e",
    "light": "f4d06a",
}


@router.get("/shots/{shot_id}/sketch")
def sketch(
    request: Request,
    db: Look,
    shot_id: Id,
    take: Annotated[int | None, Query(ge=0, lt=2**31)] = None,
    seed: Annotated[int | None, Query(ge=0, le=MAX_SEED)] = None,
) -> Response:
    made = table.gather(db, shot_id, take)
    cue = boards.cue_of(made.recipe)
    board = boards.pieces_of(db, made.recipe, cue)
    pots = {pot: _colour(board.pots, pot) for pot in get_args(Pot)}
    anchor = None if made.anchor is None else readings.known(db, made.anchor.picture_sha256)
    palette = [] if anchor is None else [_hexadecimal(c) for c in anchor.palette.lab[:7]]
    return page(
        request,
        "overlays/sketch/sketch.html",
        table.context(made)
        | {
            "overlay": "sketch",
            "cue": cue,
            "state": _state(db, shot_id, made.recipe),
            "size": boards.size_of(made.recipe),
            "pots": pots,
            "palette": palette,
            "kinds": get_args(ShapeKind),
            "places": PLACES,
            "surfaces": FINISHES,
            "stages": stages.of_shot(db, shot_id),
            "live_seed": seed,
        },
    )


def _colour(used: dict[str, Pot], pot: Pot) -> str:
    """The colour of a pot: the one that was last painted from it on this board."""
    return next((colour for colour, name in reversed(used.items()) if name == pot), POTS[pot])


def _hexadecimal(lab: NDArray[np.floating]) -> str:
    return "".join(f"{round(float(np.clip(v, 0, 1)) * 255):02x}" for v in lab_to_rgb(np.asarray(lab, np.float32)))


@router.get("/shots/{shot_id}/board.json")
def board(db: Look, shot_id: Id) -> JSONResponse:
    """The board as it is kept: for pages that watch, and for undo."""
    shot = shots.find(db, shot_id)
    return JSONResponse(_state(db, shot_id, drafts.of_shot(shot)))


@router.post("/shots/{shot_id}/board")
def keep_board(
    db: Db,
    page_id: PageId,
    shot_id: Id,
    picture: Upload,
    document: Text,
    base: Annotated[str, Query(max_length=64)] = "",
    cue: CueId = "",
    over: Annotated[bool, Query()] = False,
) -> JSONResponse:
    """Keeps the board after an act. Another tab's board is not painted over: 409, and both are there to choose from."""

    def keep() -> None:
        painted = decode(picture.file.read(MAX_BYTES + 1)).layers_u8
        if painted.shape[2] == 3:  # wholly covered
            painted = np.dstack([painted, np.full(painted.shape[:2], 255, np.uint8)])
        size = boards.size_of(drafts.of_shot(shots.find(db, shot_id)))
        if painted.shape[1::-1] != size:
            raise ArtistError("The picture's shape was changed meanwhile: reload the page, the board comes along.", "board")
        boards.keep(db, shot_id, painted, read_document(document), base, cue, page_id, over)

    return _after(db, shot_id, keep)


@router.post("/shots/{shot_id}/board/place")
def choose_place(db: Db, page_id: PageId, shot_id: Id, name: Annotated[str, Query(max_length=40)]) -> JSONResponse:
    """Lays a place under the board: the words say it, and the engine draws it wherever the board is open."""
    return _after(db, shot_id, lambda: boards.choose_place(db, shot_id, name, page_id))


@router.post("/shots/{shot_id}/board/surface")
def choose_surface(db: Db, page_id: PageId, shot_id: Id, name: Annotated[str, Query(max_length=40)]) -> JSONResponse:
    """Chooses the finish in which board and place are drawn, or leaves it to the words."""
    return _after(db, shot_id, lambda: boards.choose_surface(db, shot_id, name, page_id))


@router.post("/shots/{shot_id}/board/names")
def name_shape(db: Db, page_id: PageId, shot_id: Id, x: Share, y: Share, kind: ShapeKind, cue: CueId = "") -> JSONResponse:
    """Says what a shape on the board is."""
    return _after(db, shot_id, lambda: boards.name_shape(db, shot_id, cue, (x, y), kind, page_id))


@router.post("/shots/{shot_id}/board/pictures")
def add_picture(db: Db, queue: Queue, shot_id: Id, picture: Upload) -> JSONResponse:
    """Stores a picture that was pasted or dropped on the board; it becomes a piece there."""
    name = library.name_of_file(picture.filename)
    shot = shots.find(db, shot_id)
    try:
        with db.begin_nested():
            stored = pictures.upload(db, picture.file.read(MAX_BYTES + 1), name)
            library.add(db, stored.sha256, "upload", name, shot.story_id)
            want_readings(db, queue, [stored.sha256])
    except ArtistError as error:
        return JSONResponse({"problem": f"{name}: {error.sentence}"}, 422)
    return JSONResponse({"picture": stored.sha256, "width": stored.width, "height": stored.height})


@router.post("/shots/{shot_id}/board/paper")
def digitise(db: Db, queue: Queue, shot_id: Id, picture: Upload) -> JSONResponse:
    """Brings in a drawing on paper: the photograph goes to the library, what is drawn on its page becomes a piece of the board."""
    name = library.name_of_file(picture.filename)
    shot = shots.find(db, shot_id)
    try:
        with db.begin_nested():
            photograph = pictures.upload(db, picture.file.read(MAX_BYTES + 1), name)
            page_of_it = digitised(pictures.pixels(db, photograph.sha256))
            library.add(db, photograph.sha256, "upload", name, shot.story_id)
            stored = pictures.store(db, page_of_it.rgba_u8, f"{name}, digitised"[:160], "board")
            want_readings(db, queue, [photograph.sha256])
    except ArtistError as error:
        return JSONResponse({"problem": f"{name}: {error.sentence}"}, 422)
    told = "Its page was found and laid flat" if page_of_it.found else "The whole picture was taken for the page"
    note = f"{told}; shadow and paper were taken out. {'Lines alone' if page_of_it.lined else 'Lines and colours'} are on the board now."
    before = f"/pictures/{photograph.sha256}/thumbnail.jpg"
    return JSONResponse({"picture": stored.sha256, "width": stored.width, "height": stored.height, "note": note, "before": before})


@router.post("/shots/{shot_id}/board/large")
def make_large(db: Db, queue: Queue, after: After, shot_id: Id, seed: Annotated[int, Query(ge=0, le=2**31 - 1)]) -> JSONResponse:
    """Makes the live picture large: one take of its seed, with the board as its cue."""
    shot = shots.find(db, shot_id)
    try:
        acts.require(db, after)
        with db.begin_nested():
            run = submit(db, queue, shot, drafts.of_shot(shot).with_seed(seed))
    except ArtistError as error:
        return JSONResponse({"problem": error.sentence}, 422)
    return JSONResponse({"run": run.id})


def _after(db: Db, shot_id: int, act: Callable[[], object]) -> JSONResponse:
    """How the board stands after an act, or why it was refused."""
    try:
        _, first = acts.once(db, act)
    except Moved as error:
        return JSONResponse({"problem": error.sentence, "moved": True}, 409)
    except ArtistError as error:
        return JSONResponse({"problem": error.sentence}, 422)
    return JSONResponse(_state(db, shot_id, drafts.of_shot(shots.find(db, shot_id))) | {"again": not first})


def _state(db: Db, shot_id: int, recipe: Recipe) -> dict[str, object]:
    cue = boards.cue_of(recipe)
    shot = shots.find(db, shot_id)
    undoes, redoes = drafts.can_walk(db, shot)
    others = recipe.model_copy(update={"cues": [c for c in recipe.cues if cue is None or c.id != cue.id]})
    return {
        "revision": shot.revision,
        "cue": cue.id if cue else "",
        "weight": cue.weight if cue else None,
        "picture": cue.picture if cue else "",
        "board": boards.pieces_of(db, recipe, cue).model_dump(),
        "undoes": undoes,
        "redoes": redoes,
        "fields": fields_of(recipe),
        "surface": " + ".join(recipe.styles),
        "rest": digest(others),
    }
