"""Routes of the regions overlay: its page, its plan, and acts on regions."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any

from fastapi import APIRouter, Body, Query, Request
from fastapi.responses import JSONResponse, Response

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.recipe import MAX_SEED
from mosskeeper.core.regions.layouts import LAYOUTS
from mosskeeper.queue.deferring import want_map, want_readings
from mosskeeper.studio import acts, choosing, layouts, pictures, regions, shots, stacks, takes
from mosskeeper.studio.reference_edits import read_edit
from mosskeeper.studio.regions import DrawnShape
from mosskeeper.web.deps import Db, Fields, Id, Look, NewId, PageId, Queue
from mosskeeper.web.overlays.regions.view import state_of
from mosskeeper.web.render import page
from mosskeeper.web.table import view as table

router = APIRouter()
Seed = Annotated[int, Query(ge=0, le=MAX_SEED)]
Sha = Annotated[str, Query(pattern=r"^[0-9a-f]{64}$")]
Share = Annotated[float, Query(ge=-1, le=2)]
_TOLD = (
    "words",
    "negative",
    "name",
    "strength",
    "feather",
    "threshold",
    "overlap",
    "start",
    "end",
    "on",
    "solo",
)  # fields that the page sends


@router.get("/shots/{shot_id}/regions")
def overlay(request: Request, db: Look, shot_id: Id, take: Annotated[int | None, Query(ge=0, lt=2**31)] = None) -> Response:
    made = table.gather(db, shot_id, take)
    did = takes.recipe_of(takes.find(db, made.shown.id)).regions if made.shown is not None else []
    context = table.context(made) | {"overlay": "regions", "layouts": LAYOUTS, "own_layouts": layouts.own(db), "did": did}
    context["state"] = state_of(db, shot_id)
    context["kept"] = [] if made.shown is None else [one.name for one in stacks.seen(db, shot_id, made.shown.picture_sha256).kept]
    return page(request, "overlays/regions/regions.html", context)


@router.get("/shots/{shot_id}/regions.json")
def state(db: Look, shot_id: Id) -> JSONResponse:
    """The regions as they are kept: for pages that acted, watch, or went back."""
    return JSONResponse(state_of(db, shot_id))


@router.post("/shots/{shot_id}/regions/plan")
def plan(
    db: Look,
    shot_id: Id,
    seed: Seed = 1,
    dragged: Annotated[dict[str, tuple[float, float, float, float]] | None, Body()] = None,
    view: Annotated[tuple[float, float] | None, Body()] = None,
) -> JSONResponse:
    """Who will stand where, and what is told. Nothing is drawn, nothing is kept.

    dragged : boxes of regions that are being moved, by their ids. view : the horizon (share of the height) and the eye (head
    heights), which hold meanwhile.
    """
    recipe = regions.of_shot(db, shot_id)
    if not recipe.regions:
        return JSONResponse({"people": [], "told": [], "overlaps": [], "view": None})
    found = regions.plan_of(db, recipe, recipe.seed if recipe.seed is not None else seed, dragged, view)
    return JSONResponse(
        {
            "people": [{"region": p.region, "subject": p.subject, "box": p.box, "head": p.head} for p in found.people],
            "told": list(found.told),
            "overlaps": [{"of": [o.first, o.second], "share": o.share} for o in found.overlaps],
            "view": found.view,
        }
    )


@router.post("/shots/{shot_id}/regions")
def add(db: Db, page_id: PageId, shot_id: Id, shape: Annotated[DrawnShape, Body()], region: NewId = "") -> JSONResponse:
    """Lays one more region on the picture."""
    return acted(db, shot_id, lambda: regions.add(db, shot_id, shape, page_id, name=region), region or None)


@router.post("/shots/{shot_id}/regions/layout")
def lay_out(db: Db, page_id: PageId, shot_id: Id, name: Annotated[str, Query(max_length=40)]) -> JSONResponse:
    """Lays a layout; what the regions say stays."""
    return acted(db, shot_id, lambda: regions.lay_out(db, shot_id, name, page_id))


@router.post("/shots/{shot_id}/layouts")
def keep_layout(db: Db, shot_id: Id, form: Fields) -> JSONResponse:
    """Keeps where the regions of a shot lie as a layout of one's own."""
    try:
        row = regions.keep_layout(db, shot_id, str(form.get("name", "")))
    except ArtistError as error:
        return JSONResponse({"problem": error.sentence, "field": error.field}, 422)
    return JSONResponse({"layout": row.id})


@router.post("/layouts/{layout_id}/out")
def take_layout_out(db: Db, layout_id: Id, back: bool = False) -> JSONResponse:
    """Takes a layout of one's own away, or brings it back."""
    return JSONResponse({"layout": layouts.take_out(db, layout_id, back).id})


@router.post("/shots/{shot_id}/regions/area")
def from_area(db: Db, page_id: PageId, shot_id: Id, cue: Annotated[str, Query(max_length=12)], region: NewId = "") -> JSONResponse:
    """Makes the part in which a reference acts a region."""
    return acted(db, shot_id, lambda: regions.from_area(db, shot_id, cue, page_id, region), region or None)


@router.post("/shots/{shot_id}/regions/propose")
def propose(db: Db, page_id: PageId, shot_id: Id) -> JSONResponse:
    """Gives each person of the words a region."""
    return acted(db, shot_id, lambda: regions.propose(db, shot_id, page_id))


@router.post("/shots/{shot_id}/regions/apart")
def keep_apart(db: Db, page_id: PageId, shot_id: Id) -> JSONResponse:
    """Moves borders until no region lies over another."""
    return acted(db, shot_id, lambda: regions.keep_apart(db, shot_id, page_id))


@router.post("/shots/{shot_id}/regions/seen")
def from_picture(
    db: Db, queue: Queue, page_id: PageId, shot_id: Id, picture: Sha, name: Annotated[str, Query(max_length=80)] = ""
) -> JSONResponse:
    """Lays regions over the people of a picture, or over a choice that is kept of it by name."""
    pictures.find(db, picture)
    if not name and choosing.known(db, picture) is None:
        want_map(db, queue, choosing.key_of(picture))
        return JSONResponse({"waits": True}, 202)
    if name:
        return acted(db, shot_id, lambda: regions.from_choice(db, shot_id, picture, name, page_id), "")
    return acted(db, shot_id, lambda: regions.from_picture(db, shot_id, picture, page_id), "")


@router.post("/shots/{shot_id}/regions/{region}")
def tell(db: Db, page_id: PageId, shot_id: Id, region: str, form: Fields) -> JSONResponse:
    """Changes what a region is told; what is not sent stays."""
    update: dict[str, Any] = {name: str(form[name]) for name in _TOLD if name in form}
    if update.get("threshold") == "":
        update["threshold"] = None
    return acted(db, shot_id, lambda: regions.tell(db, shot_id, region, update, page_id), region)


@router.post("/shots/{shot_id}/regions/{region}/shape")
def draw(db: Db, page_id: PageId, shot_id: Id, region: str, shape: Annotated[DrawnShape, Body()]) -> JSONResponse:
    """Lays what the hand drew on a region."""
    return acted(db, shot_id, lambda: regions.draw(db, shot_id, region, shape, page_id), region)


@router.post("/shots/{shot_id}/regions/{region}/move")
def move(db: Db, page_id: PageId, shot_id: Id, region: str, x0: Share, y0: Share, x1: Share, y1: Share) -> JSONResponse:
    """Moves and scales a region to a box."""
    return acted(db, shot_id, lambda: regions.move(db, shot_id, region, (x0, y0, x1, y1), page_id), region)


@router.post("/shots/{shot_id}/regions/{region}/order")
def order(db: Db, page_id: PageId, shot_id: Id, region: str, by: Annotated[int, Query(ge=-8, le=8)]) -> JSONResponse:
    """Moves a region to the front or farther back."""
    return acted(db, shot_id, lambda: regions.order(db, shot_id, region, by, page_id), region)


@router.post("/shots/{shot_id}/regions/{region}/copy")
def copy(db: Db, page_id: PageId, shot_id: Id, region: str, fresh: NewId = "") -> JSONResponse:
    """Lays a copy of a region beside it."""
    return acted(db, shot_id, lambda: regions.copy(db, shot_id, region, page_id, fresh), fresh or None)


@router.post("/shots/{shot_id}/regions/{region}/off")
def take_off(db: Db, page_id: PageId, shot_id: Id, region: str) -> JSONResponse:
    """Takes a region off; undo brings it back."""
    return acted(db, shot_id, lambda: regions.take_off(db, shot_id, region, page_id), "")


@router.post("/shots/{shot_id}/regions/{region}/cast")
def cast_in(
    db: Db,
    page_id: PageId,
    shot_id: Id,
    region: str,
    character: Annotated[int, Query(ge=0, lt=2**31)] = 0,
    outfit: Annotated[int, Query(ge=0, lt=2**31)] = 0,
) -> JSONResponse:
    """Puts somebody of the cast into a region."""
    return acted(db, shot_id, lambda: regions.cast_in(db, shot_id, region, character, outfit, page_id), region)


@router.post("/shots/{shot_id}/regions/{region}/cues")
def add_cue(
    db: Db,
    queue: Queue,
    page_id: PageId,
    shot_id: Id,
    region: str,
    picture: Sha,
    role: Annotated[str, Query(max_length=20)],
) -> JSONResponse:
    """Lets a reference act for the person of a region."""

    def lay() -> None:
        regions.add_cue(db, shot_id, region, shots.new_cue(role, picture, pictures.find(db, picture).name), page_id)
        want_readings(db, queue, [picture])

    return acted(db, shot_id, lay, region)


@router.post("/shots/{shot_id}/regions/{region}/cues/{cue_id}")
def weigh_cue(
    db: Db, page_id: PageId, shot_id: Id, region: str, cue_id: str, weight: Annotated[float, Query(ge=0, le=1.5)]
) -> JSONResponse:
    """Weighs a reference of a region; at 0 it is taken off."""
    return acted(db, shot_id, lambda: regions.weigh_cue(db, shot_id, region, cue_id, weight, page_id), region)


@router.post("/shots/{shot_id}/regions/{region}/cues/{cue_id}/lends")
def edit_reference(db: Db, page_id: PageId, shot_id: Id, region: str, cue_id: str, form: Fields) -> JSONResponse:
    """Changes what a reference of a region lends: a part, the figure that is meant, a trait of that person."""
    return acted(db, shot_id, lambda: regions.edit_reference(db, shot_id, region, cue_id, read_edit(dict(form)), page_id), region)


def acted(db: Db, shot_id: int, act: Callable[[], object], chosen: str | None = None) -> JSONResponse:
    """Carries out an act; what cannot be done is told, and nothing is changed. chosen : stays; None: the one that the act gives."""
    try:
        given, first = acts.once(db, act)
    except ArtistError as error:
        return JSONResponse({"problem": error.sentence, "field": error.field}, 422)
    named = given if chosen is None and isinstance(given, str) else chosen or ""
    return JSONResponse(state_of(db, shot_id) | {"chosen": named, "again": not first})
