"""The shelf of stories, and a story's board."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from mosskeeper.core.errors import ArtistError
from mosskeeper.studio import cast, ledger, runs, shots, stories
from mosskeeper.studio.models import Outfit, Scene
from mosskeeper.web.deps import Db, Fields
from mosskeeper.web.render import page
from mosskeeper.web.table.forms import optional_id

router = APIRouter()
Text = Annotated[str, Form()]


@router.get("/")
def shelf(request: Request, db: Db) -> Response:
    return page(request, "story/shelf.html", {"shelf": stories.shelf(db), "active": runs.active(db)})


@router.post("/stories")
def create_story(request: Request, db: Db, name: Text = "", summary: Text = "") -> Response:
    try:
        story = stories.create(db, name, summary)
    except ArtistError as error:
        context = {"shelf": stories.shelf(db), "active": runs.active(db), "problem": error, "name": name, "summary": summary}
        return page(request, "story/shelf.html", context, 422)
    return RedirectResponse(f"/stories/{story.id}", 303)


@router.get("/stories/{story_id}")
def board(request: Request, db: Db, story_id: int) -> Response:
    return _board(request, db, story_id)


def _board(request: Request, db: Db, story_id: int, **more: object) -> Response:
    made = stories.board(db, story_id)
    running = [r for r in runs.active(db) if r.shot.story_id == story_id]
    context = {
        "board": made,
        "story": made.story,
        "active": running,
        "workers": runs.workers_alive(db),
        "today": ledger.spent_today(db, story_id),
        **more,
    }
    return page(request, "story/story.html", context, 422 if "problem" in more else 200)


@router.post("/stories/{story_id}/shots")
def create_shot(db: Db, story_id: int, form: Fields) -> Response:
    stories.find(db, story_id)
    shot = shots.create(
        db, story_id, str(form.get("name", "")), optional_id(form, "scene"), optional_id(form, "character"), optional_id(form, "outfit")
    )
    return RedirectResponse(f"/shots/{shot.id}", 303)


@router.post("/stories/{story_id}/characters")
def create_character(request: Request, db: Db, story_id: int, name: Text = "", traits: Text = "") -> Response:
    stories.find(db, story_id)
    try:
        cast.add_character(db, story_id, name, traits)
    except ArtistError as error:
        return _board(request, db, story_id, problem=error, adding="character", typed={"name": name, "traits": traits})
    return RedirectResponse(f"/stories/{story_id}", 303)


@router.post("/stories/{story_id}/scenes")
def create_scene(request: Request, db: Db, story_id: int, name: Text = "", words: Text = "") -> Response:
    stories.find(db, story_id)
    if not name.strip():
        problem = ArtistError("Give the scene a name.", "name")
        return _board(request, db, story_id, problem=problem, adding="scene", typed={"name": name, "words": words})
    db.add(Scene(story_id=story_id, name=name.strip()[:160], words=words.strip()))
    return RedirectResponse(f"/stories/{story_id}", 303)


@router.post("/characters/{character_id}/outfits")
def create_outfit(request: Request, db: Db, character_id: int, name: Text = "", words: Text = "") -> Response:
    character = cast.find(db, character_id)
    if not name.strip():
        problem = ArtistError("Give the outfit a name.", "name")
        return _board(
            request, db, character.story_id, problem=problem, adding=f"outfit-{character_id}", typed={"name": name, "words": words}
        )
    db.add(Outfit(character_id=character_id, name=name.strip()[:160], words=words.strip() or name.strip()))
    return RedirectResponse(f"/stories/{character.story_id}", 303)
