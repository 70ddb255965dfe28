"""Changing what an artist set up: a story, its cast, outfits, scenes and shots. Each act leads back to the page it was done on."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import urlsplit

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError
from mosskeeper.studio import catalogue
from mosskeeper.studio.catalogue import Item, ItemKind
from mosskeeper.studio.models import Shot, Story
from mosskeeper.web.deps import Db, Id, Text
from mosskeeper.web.render import page

router = APIRouter()


@router.post("/items/{kind}/{item_id}")
def edit(request: Request, db: Db, kind: str, item_id: Id, name: Text = "", words: Text = "") -> Response:
    of = catalogue.kind_of(kind)
    item = catalogue.find(db, of, item_id)
    try:
        with db.begin_nested():
            catalogue.edit(db, of, item_id, name, words)
    except ArtistError as error:
        context = {"kind": of, "item": item, "name": name, "words": words, "problem": error, "back": _home(db, item)}
        return page(request, "story/item.html", context, 422)
    return _back(request, db, item)


@router.post("/items/{kind}/{item_id}/remove")
def remove(request: Request, db: Db, kind: str, item_id: Id) -> Response:
    """Takes it away at once; the page that follows says what used it, and offers to bring it back."""
    item = catalogue.remove(db, catalogue.kind_of(kind), item_id)
    home = "/" if isinstance(item, Story) else f"/stories/{catalogue.story_of(db, item)}"
    return RedirectResponse(f"{home}?gone={kind}-{item_id}", 303)


@router.post("/items/{kind}/{item_id}/bring-back")
def bring_back(db: Db, kind: str, item_id: Id) -> Response:
    return RedirectResponse(_home(db, catalogue.bring_back(db, catalogue.kind_of(kind), item_id)), 303)


@router.post("/items/{kind}/{item_id}/move")
def move(request: Request, db: Db, kind: str, item_id: Id, by: Annotated[int, Form(ge=-1, le=1)]) -> Response:
    return _back(request, db, catalogue.move(db, catalogue.kind_of(kind), item_id, by))


@router.post("/items/{kind}/{item_id}/duplicate")
def duplicate(request: Request, db: Db, kind: str, item_id: Id) -> Response:
    copy = catalogue.duplicate(db, catalogue.kind_of(kind), item_id)
    return RedirectResponse(f"/shots/{copy.id}", 303) if isinstance(copy, Shot) else _back(request, db, copy)


def _home(db: Session, item: Item) -> str:
    return f"/shots/{item.id}" if isinstance(item, Shot) else f"/stories/{catalogue.story_of(db, item)}"


def _back(request: Request, db: Session, item: Item) -> Response:
    """To the page on which the act was done, where that is one of an item's own; else to its story."""
    came = urlsplit(request.headers.get("referer", "")).path
    return RedirectResponse(came if came == "/" or came.startswith(("/stories/", "/shots/", "/characters/")) else _home(db, item), 303)


def gone(db: Session, told: str) -> dict[str, object] | None:
    """What was just removed, as the address says: the item, its kind, and what used it."""
    name, _, number = told.partition("-")
    if name not in catalogue.KINDS or not number.isdecimal() or len(number) > 9:
        return None
    kind: ItemKind = catalogue.KINDS[name]
    item: Item | None = db.get(kind.row, int(number))
    if item is None or item.removed_at is None:
        return None
    return {"kind": name, "item": item, "uses": catalogue.uses(db, item)}
