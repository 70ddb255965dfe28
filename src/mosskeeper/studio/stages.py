"""Stages: live pictures with their boards as they were at one moment, kept with the shot."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import select
from sqlalchemy.orm import Session

from mosskeeper.core.errors import NotFound
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.recipe import Recipe, read_recipe
from mosskeeper.studio import drafts, explaining, pictures
from mosskeeper.studio.database import locked
from mosskeeper.studio.models import LiveStage, Shot

_MOST_SHOWN = 24


def keep(session: Session, shot_id: int, recipe: Recipe, image: NDArray[np.uint8], scenes: LayeredScenes | None = None) -> LiveStage:
    """Keeps a live picture (h, w, 3) with its recipe, which has the seed; the same one twice in a row is kept once.

    scenes : that it was drawn from, so that it lends them as a reference.
    """
    shot = locked(session, Shot, shot_id, "This shot does not exist.")
    stored = pictures.store(session, image, f"{shot.name}, stage", "stage")
    if scenes is not None:
        explaining.note(session, stored.sha256, scenes)
    body = recipe.model_dump()
    last = of_shot(session, shot_id)[:1]
    if last and last[0].picture_sha256 == stored.sha256 and last[0].body == body:
        return last[0]
    stage = LiveStage(shot_id=shot_id, picture_sha256=stored.sha256, body=body)
    session.add(stage)
    session.flush()
    return stage


def of_shot(session: Session, shot_id: int) -> list[LiveStage]:
    """The latest stages of a shot, the newest first."""
    return list(session.scalars(select(LiveStage).where(LiveStage.shot_id == shot_id).order_by(LiveStage.id.desc()).limit(_MOST_SHOWN)))


def find(session: Session, stage_id: int) -> LiveStage:
    stage = session.get(LiveStage, stage_id)
    if stage is None:
        raise NotFound("This stage does not exist.")
    return stage


def recipe_of(stage: LiveStage) -> Recipe:
    """The recipe of a stage, with the seed of its picture."""
    return read_recipe(stage.body)


def back_to(session: Session, stage_id: int, page: str = "") -> LiveStage:
    """Puts the recipe of a stage, its board included, back on the table; a step that can be undone."""
    stage = find(session, stage_id)
    recipe = recipe_of(stage)

    def change(now: Recipe) -> Recipe:
        return recipe.model_copy(update={"seed": now.seed, "count": now.count})

    drafts.edit(session, stage.shot_id, change, page, alone=True)
    return stage
