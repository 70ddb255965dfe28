"""The scenes of pictures: stored with what was made, found for what is made from it."""

from __future__ import annotations

import logging

from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from mosskeeper.core.illustrator.explained import Explained
from mosskeeper.core.recipe import Recipe
from mosskeeper.studio.models import Explanation

log = logging.getLogger(__name__)


def note(session: Session, sha256: str, explained: Explained) -> None:
    """Stores the scenes of a picture, once: the same picture has the same."""
    session.execute(insert(Explanation).values(picture_sha256=sha256, body=explained.to_json()).on_conflict_do_nothing())


def of_picture(session: Session, sha256: str) -> Explained | None:
    """The scenes of a picture; None where there are none, or none that are known here."""
    row = session.get(Explanation, sha256)
    if row is None:
        return None
    try:
        return Explained.from_json(row.body)
    except ValueError as error:
        log.warning("picture %s is taken as any picture: %s", sha256, error)
        return None


def of_recipe(session: Session, recipe: Recipe) -> dict[str, Explained]:
    """The scenes of the source picture of a recipe, by its name there."""
    found = None if recipe.source is None else of_picture(session, recipe.source.picture)
    return {} if found is None or recipe.source is None else {recipe.source.picture: found}
