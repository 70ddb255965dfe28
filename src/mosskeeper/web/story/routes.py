"""The shelf of stories, and a story's board."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, File, Request, UploadFile
from fastapi.responses import RedirectResponse, Response
from sqlalchemy.orm import Session

from mosskeeper.core import limits
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.pictures.decode import MAX_BYTES
from mosskeeper.queue.app import submit
from mosskeeper.studio import cast, catalogue, finding, ledger, library, pictures, runs, shots, stories, watching
from mosskeeper.web.deps import Db, Fields, Id, Look, Queue, Text
from mosskeeper.web.render import fragment, page, part, parts
from mosskeeper.web.story import items
from mosskeeper.web.table.forms import optional_id

router = APIRouter()


@router.get("/")
def shelf(request: Request, db: Look, gone: str = "") -> Response:
    return _shelf(request, db, gone)


def _shelf(request: Request, db: Session, gone: str = "", **more: object) -> Response:
    context = {
        "shelf": stories.shelf(db),
        "active": runs.active(db),
        "removed": catalogue.removed_stories(db),
        "gone": items.gone(db, gone),
        **more,
    }
    return page(request, "story/shelf.html", context, 422 if "problem" in more else 200)


@router.post("/stories")
def create_story(request: Request, db: Db, name: Text = "", summary: Text = "") -> Response:
    try:
        story = stories.create(db, name, summary)
    except ArtistError as error:
        return _shelf(request, db, problem=error, name=name, summary=summary)
    return RedirectResponse(f"/stories/{story.id}", 303)


@router.get("/stories/{story_id}")
def board(request: Request, db: Look, story_id: Id, gone: str = "") -> Response:
    return _board(request, db, story_id, gone=items.gone(db, gone))


def _board(request: Request, db: Session, story_id: int, **more: object) -> Response:
    made = stories.board(db, story_id)
    context = {
        "board": made,
        "story": made.story,
        **_running(db, story_id),
        "removed": catalogue.removed_of(db, story_id),
        "today": ledger.spent_today(db, story_id),
        **more,
    }
    return page(request, "story/story.html", context, 422 if "problem" in more else 200)


def _running(db: Session, story_id: int) -> dict[str, Any]:
    """What is at work in a story, and what went wrong in it."""
    return {
        "active": [r for r in runs.active(db) if r.shot.story_id == story_id],
        "troubled": runs.troubled(db, story_id),
        "workers": watching.workers_alive(db),
    }


@router.get("/stories/{story_id}/running")
def running(db: Look, story_id: Id) -> Response:
    stories.find(db, story_id)
    return parts(part("running", fragment("story/running.html", _running(db, story_id))))


@router.post("/stories/{story_id}/shots")
def create_shot(db: Db, story_id: Id, form: Fields) -> Response:
    stories.find(db, story_id)
    shot = shots.create(
        db, story_id, str(form.get("name", "")), optional_id(form, "scene"), optional_id(form, "character"), optional_id(form, "outfit")
    )
    return RedirectResponse(f"/shots/{shot.id}", 303)


@router.post("/stories/{story_id}/characters")
def create_character(request: Request, db: Db, story_id: Id, name: Text = "", traits: Text = "") -> Response:
    stories.find(db, story_id)
    try:
        cast.add_character(db, story_id, name, traits)
    except ArtistError as error:
        return _board(request, db, story_id, problem=error, adding="character", typed={"name": name, "traits": traits})
    return RedirectResponse(f"/stories/{story_id}", 303)


@router.post("/stories/{story_id}/find")
def find(
    request: Request,
    db: Db,
    queue: Queue,
    story_id: Id,
    name: Text = "",
    traits: Text = "",
    picture: Annotated[UploadFile | None, File()] = None,
) -> Response:
    """From a name and a few words to the first pictures: a character, a shot made for it, and its first run."""
    stories.find(db, story_id)
    like = None
    try:
        if picture is not None and picture.filename:  # kept in the library, whatever comes of the rest
            stored = pictures.upload(db, picture.file.read(MAX_BYTES + 1), library.name_of_file(picture.filename))
            library.add(db, stored.sha256, "upload", library.name_of_file(picture.filename), story_id)
            like = stored.sha256
        with db.begin_nested():
            shot = finding.begin(db, story_id, name, traits, like)
            submit(db, queue, shot, shots.draft(shot))
    except ArtistError as error:
        return _board(request, db, story_id, problem=error, adding="character", typed={"name": name, "traits": traits})
    return RedirectResponse(f"/shots/{shot.id}", 303)


@router.post("/characters/{character_id}/into-scene")
def into_scene(db: Db, character_id: Id, form: Fields) -> Response:
    """Puts a character that was found into a scene that is there, or into one of the artist's own words, the anchor with it."""
    story_id = cast.find(db, character_id).story_id
    place, dress = (limits.storable(str(form.get(name, ""))) for name in ("place", "dress"))
    shot = finding.into_scene(db, story_id, character_id, optional_id(form, "scene"), place, dress)
    return RedirectResponse(f"/shots/{shot.id}", 303)


@router.post("/stories/{story_id}/scenes")
def create_scene(request: Request, db: Db, story_id: Id, name: Text = "", words: Text = "") -> Response:
    stories.find(db, story_id)
    try:
        cast.add_scene(db, story_id, name, words)
    except ArtistError as error:
        return _board(request, db, story_id, problem=error, adding="scene", typed={"name": name, "words": words})
    return RedirectResponse(f"/stories/{story_id}", 303)


@router.post("/characters/{character_id}/outfits")
def create_outfit(request: Request, db: Db, character_id: Id, name: Text = "", words: Text = "") -> Response:
    story_id = cast.find(db, character_id).story_id
    try:
        cast.add_outfit(db, character_id, name, words)
    except ArtistError as error:
        return _board(request, db, story_id, problem=error, adding=f"outfit-{character_id}", typed={"name": name, "words": words})
    return RedirectResponse(f"/stories/{story_id}", 303)
