"""The history of a shot: its runs and what changed from each to the next, and every edit of its recipe."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

from mosskeeper.core.recipe import differences, read_recipe
from mosskeeper.studio import drafts, runs, shots
from mosskeeper.studio.models import Draft, Run
from mosskeeper.web.deps import Db, Id, Look
from mosskeeper.web.render import page

router = APIRouter()
_RUNS = 100
Changes = list[tuple[str, str, str]]


@dataclass(frozen=True, slots=True)
class Step:
    """A run, and what differs in its recipe from that of the run before."""

    run: Run
    changes: Changes | None  # None for the first


@dataclass(frozen=True, slots=True)
class Edit:
    draft: Draft
    changes: Changes


@router.get("/shots/{shot_id}/history")
def shown(request: Request, db: Look, shot_id: Id) -> Response:
    shot = shots.find(db, shot_id)
    made = runs.of_shot(db, shot_id, _RUNS)
    recipes = [read_recipe(run.recipe.body) for run in made]
    steps = [Step(run, differences(recipes[i + 1], recipes[i]) if i + 1 < len(made) else None) for i, run in enumerate(made)]
    steps_made = drafts.steps(db, shot_id)
    edits = [Edit(new, differences(read_recipe(old.body), read_recipe(new.body))) for new, old in pairwise(steps_made)]
    return page(request, "table/history.html", {"shot": shot, "steps": steps, "edits": edits})


@router.post("/shots/{shot_id}/history/{number}")
def back_to(db: Db, shot_id: Id, number: Id) -> Response:
    """Puts an earlier recipe back on the table; what stood there is one more step of the history."""
    drafts.back_to(db, shot_id, number)
    return RedirectResponse(f"/shots/{shot_id}", 303)
