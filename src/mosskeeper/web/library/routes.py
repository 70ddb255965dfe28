"""The library: searching it, taking pictures in, naming them, and putting them to use."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any
from urllib.parse import urlencode

import numpy as np
from fastapi import APIRouter, File, Form, Query, Request, UploadFile
from fastapi.responses import RedirectResponse, Response
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.pictures.colour import lab_to_rgb
from mosskeeper.core.pictures.decode import MAX_BYTES
from mosskeeper.queue.deferring import want_readings
from mosskeeper.studio import cast, engines, library, lineage, readings, shots, stories, takes
from mosskeeper.studio.library import PAGE, SearchQuery
from mosskeeper.studio.models import Entry
from mosskeeper.web.deps import Db, Id, Look, Queue, Sha, Text
from mosskeeper.web.render import fragment, page, part, parts, wants_fragment

router = APIRouter()
Share = Annotated[float, Form(allow_inf_nan=False)]  # of width or height
_MOST_FILES = 300
_SWATCHES = 6


@router.get("/library")
def listed(
    request: Request,
    db: Look,
    words: str = "",
    colour: str = "",
    like: str = "",
    story: str = "",
    scene: str = "",
    character: str = "",
    engine: str = "",
    kind: str = "",
    folder: str = "",
    tag: str = "",
    kept: bool = False,
    days: str = "",
    removed: bool = False,
    at: Annotated[int, Query(ge=0, le=100_000)] = 0,
    entry: Annotated[int | None, Query(ge=0, lt=2**31)] = None,
    use: Annotated[int | None, Query(alias="for", ge=0, lt=2**31)] = None,
    face: Annotated[int | None, Query(ge=0, lt=2**31)] = None,
) -> Response:
    """The pictures that are looked for. use : the shot on whose cue sheet they are put; face : the character whose face goes on them."""
    wanted = SearchQuery(
        words,
        colour,
        like,
        _number(story),
        story == "studio",
        _number(scene),
        _number(character),
        engine,
        kind,
        folder,
        tag,
        kept,
        library.days_ago(_number(days) or 0) if _number(days) else None,
        removed,
    )
    problem = ""
    try:
        found = library.search(db, wanted, at)
    except ArtistError as error:
        found, problem = library.search(db, replace(wanted, colour="", like="")), error.sentence
    context = {
        "found": found,
        "at": at,
        "more": (at + 1) * PAGE < found.total,
        "query": _query(request),
        "wanted": wanted,
        "days": days,
        "shot_id": use,
        "problem": problem,
    }
    if at and wants_fragment(request):
        return Response(fragment("library/library_page.html", context), media_type="text/html")
    return page(request, "library/library.html", context | _sides(db, wanted, entry, use, face))


def _number(value: str) -> int | None:
    return int(value) if value.isdecimal() and len(value) < 10 else None


def _query(request: Request) -> str:
    """The address's query without the page and the chosen entry."""
    return urlencode([(k, v) for k, v in request.query_params.multi_items() if v and k not in ("at", "entry")])


def _sides(db: Session, wanted: SearchQuery, entry_id: int | None, shot_id: int | None, face: int | None) -> dict[str, Any]:
    """What stands beside the pictures: the filters there are, and the entry that was chosen."""
    story = stories.find(db, wanted.story) if wanted.story is not None else None
    return {
        "story": story,
        "stories": stories.all_of_them(db),
        "engines": engines.all_engines(db),
        "folders": library.folders(db, wanted.story),
        "tags": library.tags(db, wanted.story),
        "chosen": _chosen(db, entry_id) if entry_id is not None else None,
        "shot": shots.find(db, shot_id) if shot_id is not None else None,
        "whose": cast.find(db, face) if face is not None else None,
    }


def _chosen(db: Session, entry_id: int) -> dict[str, Any]:
    entry = library.find(db, entry_id)
    return {
        "entry": entry,
        "origin": lineage.origin(db, entry.picture_sha256),
        "swatches": _swatches(entry),
        "recipe": takes.recipe_of(takes.find(db, entry.take_id)) if entry.take_id is not None else None,
        "used": library.used_in(db, entry.picture_sha256),
        "check": readings.known_face_checks(db, [entry.picture_sha256]).get(entry.picture_sha256),
    }


def _swatches(entry: Entry) -> list[str]:
    """The largest colours of an entry, as #rrggbb."""
    if not entry.palette:
        return []
    colours = library.unpacked(entry.palette)
    rgb = lab_to_rgb(colours[np.argsort(-colours[:, 3])][:_SWATCHES, :3])
    return ["#" + "".join(f"{round(float(v) * 255):02x}" for v in c) for c in rgb]


@router.post("/library")
def take_in(
    db: Db,
    queue: Queue,
    pictures: Annotated[list[UploadFile], File()],
    story: Text = "",
    folder: Text = "",
    came: Annotated[int, Form(ge=0)] = 0,
    missed: Annotated[int, Form()] = 0,
    of: Annotated[int, Form()] = 0,
) -> Response:
    """Takes several files in; those that cannot be used are listed with the reason.

    Many files come in several requests: `came` and `missed` before this one, `of` all.
    """
    if len(pictures) > _MOST_FILES:
        raise ArtistError(f"{len(pictures)} files at once are too many: at most {_MOST_FILES}.", "pictures")
    files = ((file.filename or "pasted picture", file.file.read(MAX_BYTES + 1)) for file in pictures)
    story_id = _number(story)
    taken, refused = library.upload(db, files, stories.find(db, story_id).id if story_id is not None else None, folder)
    want_readings(db, queue, [entry.picture_sha256 for entry in taken])
    told = fragment("library/library_taken.html", {"came": came + len(taken), "missed": missed + len(refused), "of": of})
    items = fragment("library/library_items.html", {"entries": taken[::-1], "query": ""})
    listed = fragment("library/library_refused.html", {"refused": refused})
    return parts(part("taken", told), part("refused", listed, "beforeend"), part("newest", items, "afterbegin"))


@router.post("/pictures/{sha256}/crop")
def cut_out(
    db: Db,
    queue: Queue,
    sha256: Sha,
    x0: Share,
    y0: Share,
    x1: Share,
    y1: Share,
) -> Response:
    """Cuts a part out of a picture, given as shares of width and height."""
    entry = library.crop(db, sha256, (x0, y0, x1, y1))
    want_readings(db, queue, [entry.picture_sha256])
    return RedirectResponse(f"/library?kind=crop&entry={entry.id}", 303)


@router.post("/library/{entry_id}")
def describe(
    request: Request,
    db: Db,
    entry_id: Id,
    name: Text = "",
    tags: Text = "",
    folder: Text = "",
) -> Response:
    entry = library.describe(db, entry_id, name, tags, folder)
    if wants_fragment(request):
        return parts(part("described", "noted"))
    return RedirectResponse(f"/library?entry={entry.id}", 303)


@router.post("/library/{entry_id}/remove")
def remove(db: Db, entry_id: Id, back: Text = "", sure: Annotated[bool, Form()] = False) -> Response:
    """Takes a picture out of the library; where shots use it, that is told first. It can be brought back."""
    entry = library.find(db, entry_id)
    used = library.used_in(db, entry.picture_sha256)
    if used and not sure:
        return parts(part("remove-asked", fragment("library/library_remove.html", {"entry": entry, "used": used, "back": back})))
    library.remove(db, [entry_id])
    return Response(headers={"HX-Redirect": f"/library?{back}"})


@router.post("/library/{entry_id}/bring-back")
def bring_back(db: Db, entry_id: Id, back: Text = "") -> Response:
    library.bring_back(db, [entry_id])
    return RedirectResponse(f"/library?{back}&entry={entry_id}", 303)
