"""The scenes of pictures: stored with what was made, found for what is made from it."""

from __future__ import annotations

import logging

from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.recipe import Recipe
from mosskeeper.studio.models import StoredScenes

log = logging.getLogger(__name__)


def note(session: Session, sha256: str, explained: LayeredScenes) -> None:
    """Stores the scenes of a picture, once: the same picture has the same."""
    session.execute(insert(StoredScenes).values(picture_sha256=sha256, body=explained.to_json()).on_conflict_do_nothing())


def of_picture(session: Session, sha256: str) -> LayeredScenes | None:
    """The scenes of a picture; None where there are none, or none that are known here."""
    row = session.get(StoredScenes, sha256)
    if row is None:
        return None
    try:
        return LayeredScenes.from_json(row.body)
    except ValueError as error:
        log.warning("picture %s is taken as any picture: %s", sha256, error)
        return None


def of_recipe(session: Session, recipe: Recipe) -> dict[str, LayeredScenes]:
    """The scenes of the source picture of a recipe, by its name there."""
    found = None if recipe.source is None else of_picture(session, recipe.source.picture)
    return {} if found is None or recipe.source is None else {recipe.source.picture: found}
