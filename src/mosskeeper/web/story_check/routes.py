"""The check of a story: what strays in its kept takes, and the anchor's face on those that do."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

from mosskeeper.core.errors import ArtistError
from mosskeeper.queue.app import submit
from mosskeeper.studio import sheets, stories, story_check
from mosskeeper.web.deps import Db, Id, Look, Queue
from mosskeeper.web.render import page

router = APIRouter()


@router.get("/stories/{story_id}/check")
def shown(request: Request, db: Look, story_id: Id) -> Response:
    found = story_check.check(db, story_id)
    astray = [one for one in found if one.says]
    context = {
        "story": stories.find(db, story_id),
        "found": found,
        "astray": astray,
        "who": {one.character.id: one.character for one in astray if one.character.lead is not None},
    }
    return page(request, "story_check/check.html", context)


@router.post("/stories/{story_id}/check/{character_id}")
def mend(db: Db, queue: Queue, story_id: Id, character_id: Id) -> Response:
    """Puts the anchor's face on all kept takes of a character that stray."""
    found = [one.take.picture_sha256 for one in story_check.check(db, story_id) if one.says and one.character.id == character_id]
    if not found:
        raise ArtistError("Nothing of this character strays any more.", "check")
    made = sheets.put_on(db, character_id, found)
    return RedirectResponse(f"/faces/{submit(db, queue, made.shot, made.recipe, made.dials).id}", 303)
