"""Shots: the recipe on the light table, saved with every change."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError, Conflict, NotFound
from mosskeeper.core.pictures.areas import AREAS, area_mask
from mosskeeper.core.recipe import Recipe, read_recipe
from mosskeeper.studio import pictures
from mosskeeper.studio.cast import given_words
from mosskeeper.studio.models import Character, Draft, Outfit, Scene, Shot

_TYPING = timedelta(seconds=4)
_DRAGGED = ("weight", "start", "end")  # of a cue


def find(session: Session, shot_id: int) -> Shot:
    shot = session.get(Shot, shot_id)
    if shot is None:
        raise NotFound("This shot does not exist.")
    return shot


def draft(shot: Shot) -> Recipe:
    return read_recipe(shot.draft)


def create(
    session: Session,
    story_id: int,
    name: str = "",
    scene_id: int | None = None,
    character_id: int | None = None,
    outfit_id: int | None = None,
    recipe: Recipe | None = None,
) -> Shot:
    """A new shot. Without a name it is called after what is in it."""
    scene, character, outfit = _cast(session, story_id, scene_id, character_id, outfit_id)
    if not name.strip():
        n = session.scalar(select(func.count()).select_from(Shot).where(Shot.story_id == story_id)) or 0
        name = " in ".join(p for p in (character.name if character else "", outfit.name if outfit else "") if p) or f"Shot {n + 1}"
    recipe = (recipe or Recipe()).model_copy(update={"given": given_words(character, outfit, scene)})
    shot = Shot(
        story_id=story_id,
        name=name.strip()[:160],
        scene_id=scene_id,
        character_id=character_id,
        outfit_id=outfit_id,
        draft=recipe.model_dump(),
    )
    session.add(shot)
    session.flush()
    session.add(Draft(shot_id=shot.id, number=1, body=shot.draft))
    session.flush()
    return shot


def save(session: Session, shot_id: int, recipe: Recipe, revision: int) -> Shot:
    """Saves the recipe on the light table.

    Raises
    ------
    Conflict
        where the shot was saved elsewhere since `revision`; nothing is overwritten.
    """
    shot = session.get(Shot, shot_id, with_for_update=True)
    if shot is None:
        raise NotFound("This shot does not exist.")
    document = recipe.model_dump()
    if shot.draft == document:
        return shot
    if shot.revision != revision:
        raise Conflict(
            "This shot was changed in another tab or by somebody else. Your changes are still in the fields, but not saved: "
            "save over the other version, or load it.",
            "shot",
        )
    _stand(session, shot, document)
    return shot


def _stand(session: Session, shot: Shot, document: dict[str, Any]) -> None:
    """Puts a new recipe on the table as the latest draft; what was undone before is gone then.

    Changes of the same words or numbers that follow each other closely, as typing and dragging do, become one draft.
    """
    session.execute(delete(Draft).where(Draft.shot_id == shot.id, Draft.number > shot.draft_number))
    here, before = (session.get(Draft, (shot.id, shot.draft_number - back)) for back in (0, 1))
    if here is not None and before is not None and _recent(here) and _fields(before.body, here.body) == _fields(here.body, document):
        here.body, here.created_at = document, datetime.now(UTC)
    else:
        shot.draft_number += 1
        session.add(Draft(shot_id=shot.id, number=shot.draft_number, body=document, created_at=datetime.now(UTC)))
    shot.draft, shot.revision = document, shot.revision + 1
    session.flush()


def _recent(draft: Draft) -> bool:
    return datetime.now(UTC) - draft.created_at < _TYPING


def _fields(old: dict[str, Any], new: dict[str, Any]) -> set[str]:
    """What differs between two recipes; of cues, where each stands and what of it."""
    changed = {name for name in new if old.get(name) != new[name]}
    if "cues" in changed:
        if len(old["cues"]) != len(new["cues"]):
            changed.add(f"{len(new['cues'])} cues")
        for place, (a, b) in enumerate(zip(old["cues"], new["cues"], strict=False)):
            changed |= {f"cue {place} {name} {'' if name in _DRAGGED else b[name]}" for name in b if a.get(name) != b[name]}
    return changed


def walk(session: Session, shot_id: int, by: int) -> Shot:
    """Undoes (by −1) or redoes (by 1) the last change of the recipe; at either end nothing changes."""
    shot = session.get(Shot, shot_id, with_for_update=True)
    if shot is None:
        raise NotFound("This shot does not exist.")
    draft = session.get(Draft, (shot_id, shot.draft_number + by))
    if draft is not None:
        # the words that come from the cast belong to the shot, not to the change
        shot.draft = {**draft.body, "given": shot.draft["given"]}
        shot.draft_number, shot.revision = draft.number, shot.revision + 1
        session.flush()
    return shot


def back_to(session: Session, shot_id: int, number: int) -> Shot:
    """Puts an earlier draft back on the table, as a new step of the history."""
    shot, draft = find(session, shot_id), session.get(Draft, (shot_id, number))
    if draft is None:
        raise NotFound("This step of the history does not exist.")
    return save(session, shot_id, read_recipe({**draft.body, "given": shot.draft["given"]}), shot.revision)


def can_walk(session: Session, shot: Shot) -> tuple[bool, bool]:
    """Whether there is something to undo, and to redo."""
    numbers = set(
        session.scalars(
            select(Draft.number).where(Draft.shot_id == shot.id, Draft.number.in_((shot.draft_number - 1, shot.draft_number + 1)))
        )
    )
    return shot.draft_number - 1 in numbers, shot.draft_number + 1 in numbers


def drafts(session: Session, shot_id: int, limit: int = 200) -> list[Draft]:
    """The drafts of a shot, the newest first."""
    return list(session.scalars(select(Draft).where(Draft.shot_id == shot_id).order_by(Draft.number.desc()).limit(limit)))


def confine(session: Session, shot_id: int, place: int, area: str) -> Shot:
    """Lets a cue act in a named area only; an empty name lets it act everywhere."""
    shot = find(session, shot_id)
    recipe = draft(shot)
    mask = None
    if area:
        if area not in AREAS:
            raise ArtistError(f"There is no area “{area}”. Choose one of: {', '.join(AREAS)}.", "cues")
        mask = pictures.store(session, area_mask(area), f"area: {area}", "mask").sha256
    cues = [cue.model_copy(update={"area": mask}) if i == place else cue for i, cue in enumerate(recipe.cues)]
    return save(session, shot_id, recipe.model_copy(update={"cues": cues}), shot.revision)


def recast(session: Session, shot_id: int, scene_id: int | None, character_id: int | None, outfit_id: int | None) -> Shot:
    """Changes who is in a shot, what they wear and where; the given words follow."""
    shot = find(session, shot_id)
    if character_id != shot.character_id:
        outfit_id = None if outfit_id == shot.outfit_id else outfit_id
    scene, character, outfit = _cast(session, shot.story_id, scene_id, character_id, outfit_id)
    shot.scene_id, shot.character_id, shot.outfit_id = scene_id, character_id, outfit_id
    shot.draft = {**shot.draft, "given": given_words(character, outfit, scene)}
    shot.revision += 1
    session.flush()
    session.refresh(shot)
    return shot


def _cast(
    session: Session, story_id: int, scene_id: int | None, character_id: int | None, outfit_id: int | None
) -> tuple[Scene | None, Character | None, Outfit | None]:
    scene = session.get(Scene, scene_id) if scene_id else None
    character = session.get(Character, character_id) if character_id else None
    outfit = session.get(Outfit, outfit_id) if outfit_id else None
    if (scene and scene.story_id != story_id) or (character and character.story_id != story_id):
        raise ArtistError("This scene or character belongs to another story.", "scene")
    if outfit and outfit.character_id != character_id:
        raise ArtistError("This outfit belongs to another character.", "outfit")
    return scene, character, outfit
