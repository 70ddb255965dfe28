"""Sweeps: choosing dials, and the grid that fills as takes arrive."""

from __future__ import annotations

import math
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request
from fastapi.responses import RedirectResponse, Response
from starlette.datastructures import FormData

from mosskeeper.core.cue_sheet import soloed
from mosskeeper.core.dials import FACE_ON, SAID, SAID_TOO, DialKind, dials_of
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.vocabulary.finishes import FINISHES
from mosskeeper.core.posing.book import BOOK
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.sweep import MOST_CELLS, Dial, cells, check, spread
from mosskeeper.queue.app import submit
from mosskeeper.studio import drafts, engines, estimates, shots, takes
from mosskeeper.web.deps import Db, Fields, Id, Look, Queue
from mosskeeper.web.render import fragment, page, part, parts, seconds
from mosskeeper.web.sweep import view as sweep_view

router = APIRouter()


@router.get("/shots/{shot_id}/sweep")
def choose(request: Request, db: Look, shot_id: Id, first: str = "", second: str = "") -> Response:
    """The form of a sweep, on the recipe as it stands on the table."""
    shot = shots.find(db, shot_id)
    recipe = soloed(shots.draft(shot))
    kinds = _kinds(recipe)
    first = first if first in kinds else next(iter(kinds))
    second = second if second in kinds and second != first else ""
    context = {
        "shot": shot,
        "recipe": recipe,
        "dials": kinds,
        "first": first,
        "second": second,
        "styles": list(FINISHES),
        "engines": engines.all_engines(db),
        "poses": [entry.name for entry in BOOK],
        "most": MOST_CELLS,
        "typed": dict(request.query_params),  # choosing one dial keeps what was typed for the other
    }
    return page(request, "sweep/sweep_form.html", context)


def _kinds(recipe: Recipe) -> dict[str, DialKind]:
    """The dials that the form offers: faces are put on pictures from the character's page."""
    return {name: kind for name, kind in dials_of(recipe).items() if name != FACE_ON}


@router.post("/shots/{shot_id}/sweep/price")
def price(db: Look, shot_id: Id, form: Fields) -> Response:
    """Price and time of the sweep that stands in the form; or what is wrong with it."""
    recipe = soloed(shots.draft(shots.find(db, shot_id)))
    return parts(part("sweep-price", fragment("sweep/sweep_price.html", _priced(db, recipe, form))))


def _priced(db: Db, recipe: Recipe, form: FormData) -> dict[str, Any]:
    try:
        dials = _dials(form, recipe)
        n = cells(dials)
        if n > MOST_CELLS:
            return {"problem": _too_many(db, recipe, dials)}
        check(recipe, dials)
        return {"cells": n, "estimate": estimates.estimate(db, recipe, dials)}
    except ArtistError as error:
        return {"problem": error.sentence}


def _too_many(db: Db, recipe: Recipe, dials: list[Dial]) -> str:
    """What so many cells would cost, told by the price of one."""
    one, n = estimates.estimate(db, recipe.model_copy(update={"count": 1})), cells(dials)
    return (
        f"{n} cells would cost {one.sparks * n:.0f} sparks and take about {seconds(one.seconds * n)}. "
        f"A sweep has at most {MOST_CELLS}: take fewer values."
    )


@router.post("/shots/{shot_id}/sweep")
def start(request: Request, db: Db, queue: Queue, shot_id: Id, form: Fields) -> Response:
    shot = shots.find(db, shot_id)
    recipe = soloed(shots.draft(shot))
    try:
        dials = _dials(form, recipe)
        if cells(dials) > MOST_CELLS:
            raise ArtistError(_too_many(db, recipe, dials), "sweep")
        check(recipe, dials)
        with db.begin_nested():
            run = submit(db, queue, shot, recipe, dials)
    except ArtistError as error:
        return parts(part("sweep-price", fragment("sweep/sweep_price.html", {"problem": error.sentence})), status=422)
    return Response(headers={"HX-Redirect": f"/sweeps/{run.id}"})


def _dials(form: FormData, recipe: Recipe) -> list[Dial]:
    """The dials that the form describes. Raises ArtistError with what is wrong."""
    kinds = _kinds(recipe)
    names = {which: str(form[which]) for which in ("first", "second") if form.get(which)}
    if any(name not in kinds for name in names.values()):
        raise ArtistError("This shot has no such dial any more. Choose another.", "sweep")
    return [_dial(form, which, kinds[name]) for which, name in names.items()]


def _dial(form: FormData, which: str, kind: DialKind) -> Dial:
    if kind.begins is None:
        phrases = kind.name in (SAID, SAID_TOO)
        given = str(form.get(f"{which}-lines", "")).splitlines() if phrases else form.getlist(f"{which}-values")
        named = (" ".join(str(v).split())[:120] for v in given)
        values = tuple(dict.fromkeys(v for v in named if v or not phrases))[: MOST_CELLS + 1]
        if len(values) < 2:
            raise ArtistError("Write at least two phrases, one a line." if phrases else "Tick at least two to compare.", "sweep")
        if len(values) > MOST_CELLS:
            raise ArtistError(f"A dial takes 2 to {MOST_CELLS} values.", "sweep")
        return Dial(name=kind.name, values=values)
    try:
        low, high = (float(str(form.get(f"{which}-{end}", "")).replace(",", ".")) for end in ("from", "to"))
        count = int(str(form.get(f"{which}-count", "")))
    except ValueError:
        raise ArtistError("A dial needs numbers: from, to, and how many values.", "sweep") from None
    if not (math.isfinite(low) and math.isfinite(high)):
        raise ArtistError("A dial needs numbers: from, to, and how many values.", "sweep")
    return spread(kind, low, high, count)


@router.get("/sweeps/{run_id}")
def grid(request: Request, db: Look, run_id: Id, measure: Annotated[str, Query()] = "") -> Response:
    view = sweep_view.gather(db, run_id, measure)
    return page(request, "sweep/sweep.html", {"v": view})


@router.get("/sweeps/{run_id}/live")
def live(db: Look, run_id: Id, measure: Annotated[str, Query()] = "") -> Response:
    """The grid, its plots and how the run stands, for a page that heard of a change."""
    view = sweep_view.gather(db, run_id, measure)
    plots = "".join(fragment("shared/plot.html", {"plot": plot}) for plot in view.plots)
    return parts(
        part("sweep-state", fragment("sweep/sweep_state.html", {"v": view})),
        part("sweep-grid", fragment("sweep/sweep_grid.html", {"v": view}), "innerMorph"),
        part("sweep-plots", plots),
    )


@router.post("/takes/{take_id}/continue")
def go_on(db: Db, take_id: Id) -> Response:
    """Puts the recipe of a take on its shot's table, to go on from there; what stood there can be undone to."""
    take = takes.find(db, take_id)
    shot = take.shot
    recipe = takes.recipe_of(take)
    drafts.edit(db, shot.id, lambda now: recipe.model_copy(update={"count": now.count}))
    return RedirectResponse(f"/shots/{shot.id}?take={take.id}", 303)
