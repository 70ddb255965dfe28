"""What begins from a picture: variations of it, and runs that start from it instead of from noise (image-to-image)."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from mosskeeper.core.recipe import Recipe, Source
from mosskeeper.studio import drafts, pictures, shots, stacks, takes
from mosskeeper.studio.models import Shot, Take

STRENGTH = 0.5  # with which a run begins from a picture where nobody said otherwise


def begin_from(session: Session, shot_id: int, picture: str, page: str = "") -> Shot:
    """Lets the next runs of a shot start from a picture, in the picture's own shape.

    Raises NotFound where shot or picture does not exist.
    """
    found = pictures.find(session, picture)
    width, height = stacks.working_size(found.width, found.height)
    source = Source(picture=picture, strength=STRENGTH)
    return drafts.edit(
        session, shot_id, lambda recipe: recipe.model_copy(update={"source": source, "width": width, "height": height}), page, alone=True
    )


def begin_anew(session: Session, shot_id: int, page: str = "") -> Shot:
    """Lets the next runs start from noise again."""
    return drafts.edit(session, shot_id, lambda recipe: recipe.model_copy(update={"source": None}), page, alone=True)


def variation(session: Session, shot_id: int, picture: str, amount: float) -> tuple[Shot, Recipe]:
    """The recipe of variations of a picture: what made it where it is a take, else what is on the table, started from the picture.

    amount : 0…1, denoise strength: how far the variations are from it. Raises NotFound where shot or picture does not exist.
    """
    shot, found = shots.find(session, shot_id), pictures.find(session, picture)
    take = session.scalars(select(Take).where(Take.picture_sha256 == picture).order_by(Take.id).limit(1)).first()
    recipe = drafts.of_shot(shot) if take is None else takes.recipe_of(takes.find(session, take.id))
    width, height = stacks.working_size(found.width, found.height)
    update = {
        "source": Source(picture=picture, strength=amount),
        "width": width,
        "height": height,
        "seed": None,
        "variation": None,
        "count": drafts.of_shot(shot).count,
    }
    return shot, Recipe.model_validate(recipe.model_copy(update=update).model_dump())
