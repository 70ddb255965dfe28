"""Shots: who is in them, and the cues on their sheets."""

from __future__ import annotations

import secrets
from collections.abc import Callable, Mapping, Sequence

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from mosskeeper.core import limits
from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.pictures.areas import AREAS, area_mask
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.roles import reference, role
from mosskeeper.studio import cast, drafts, holding, pictures, readings, reference_edits
from mosskeeper.studio.database import locked
from mosskeeper.studio.models import Character, Outfit, Shot, StoryScene
from mosskeeper.studio.reference_edits import ReferenceEdit

_GONE = "This cue is not on the sheet any more: it was taken off in another tab."


def find(session: Session, shot_id: int) -> Shot:
    shot = session.get(Shot, shot_id)
    if shot is None:
        raise NotFound("This shot does not exist.")
    return shot


def draft(shot: Shot) -> Recipe:
    return drafts.of_shot(shot)


def create(
    session: Session,
    story_id: int,
    name: str = "",
    scene_id: int | None = None,
    character_id: int | None = None,
    outfit_id: int | None = None,
    recipe: Recipe | None = None,
    made_for: str = "",
) -> Shot:
    """A new shot. Without a name it is called after what is in it. The lead anchor of its character is on its cue sheet by the face,
    unless somebody is handed on there already. made_for : see `Shot.made_for`.
    """
    scene, character, outfit = _cast(session, story_id, scene_id, character_id, outfit_id)
    if not name.strip():
        n = session.scalar(select(func.count()).select_from(Shot).where(Shot.story_id == story_id)) or 0
        name = " in ".join(p for p in (character.name if character else "", outfit.name if outfit else "") if p) or f"Shot {n + 1}"
    recipe = recipe or Recipe()
    held = recipe.held or holding.held_by(session, character)
    recipe = recipe.model_copy(
        update={"given": cast.given_words(character, outfit, scene), "held": held, "cues": with_lead(recipe.cues, character)}
    )
    shot = Shot(
        story_id=story_id,
        name=limits.text(name, "The name", "name", limits.NAME),
        scene_id=scene_id,
        character_id=character_id,
        outfit_id=outfit_id,
        draft=recipe.model_dump(),
        made_for=made_for,
    )
    session.add(shot)
    session.flush()
    drafts.first(session, shot)
    return shot


def with_lead(cues: Sequence[Cue], character: Character | None, before: Character | None = None) -> list[Cue]:
    """Cues with the lead anchor of the character by the face, in place of those of whoever was there `before`; none where another
    person is handed on by them.
    """
    past = set() if before is None else {anchor.picture_sha256 for anchor in before.anchors}
    kept = [cue for cue in cues if not (hands_on(cue) and cue.picture in past)]
    lead = None if character is None else character.lead
    if character is None or lead is None or any(map(hands_on, kept)):
        return kept
    return [*kept, new_cue("face", lead.picture_sha256, f"{character.name[:100]}, lead anchor")]


def hands_on(cue: Cue) -> bool:
    lender = reference(cue.role)
    return lender is not None and lender.hands_on


def new_cue(role_name: str, sha256: str, name: str, weight: float | None = None) -> Cue:
    """A cue that begins as its role does, but for the weight where one is given."""
    begins = role(role_name)
    return Cue(
        id=secrets.token_hex(4),
        role=role_name,
        picture=sha256,
        name=name[: limits.CUE_NAME],
        weight=begins.weight if weight is None else weight,
        start=begins.start,
        end=begins.end,
    )


def add_cue(session: Session, shot_id: int, sha256: str, name: str = "", page: str = "") -> Cue:
    """Puts a stored picture on the cue sheet; see `add_cues`."""
    return add_cues(session, shot_id, [(sha256, name)], page)[0]


def add_cues(session: Session, shot_id: int, named: Sequence[tuple[str, str]], page: str = "") -> list[Cue]:
    """Puts stored pictures, each with its name, on the cue sheet by one edit: all of them, or none where there is no room.

    Each comes in the role for which it seems to be meant, or as a look while it is not read.
    """
    seems = readings.known_proposals(session, {sha256 for sha256, _ in named})
    cues = [new_cue(seems[sha256].role if sha256 in seems else "look", sha256, name) for sha256, name in named]
    drafts.edit(session, shot_id, lambda now: now.model_copy(update={"cues": [*now.cues, *cues]}), page)
    return cues


def cue(session: Session, shot_id: int, cue_id: str) -> Cue:
    """A cue of a shot's sheet. Raises ArtistError where it is not on it any more."""
    found = next((one for one in draft(find(session, shot_id)).cues if one.id == cue_id), None)
    if found is None:
        raise ArtistError(_GONE, "cues")
    return found


def remove_cue(session: Session, shot_id: int, cue_id: str, page: str = "") -> tuple[Shot, Cue | None]:
    """Takes a cue off the sheet; its picture stays. The cue that went, None where it was off already."""
    gone: Cue | None = None

    def without(now: Recipe) -> Recipe:
        nonlocal gone
        gone = next((cue for cue in now.cues if cue.id == cue_id), None)
        return now.model_copy(update={"cues": [cue for cue in now.cues if cue.id != cue_id]})

    return drafts.edit(session, shot_id, without, page), gone


def use_anchor(session: Session, shot_id: int, cue_id: str, page: str = "") -> Shot:
    """Puts the lead anchor in the place of a cue's picture; role, weight and span stay."""
    shot = find(session, shot_id)
    lead = shot.character.lead if shot.character else None
    if lead is None:
        raise ArtistError("Nobody in this shot has a lead anchor now. Choose one first.", "cues")
    name = cast.name_of_lead(session, lead.picture_sha256)[: limits.CUE_NAME]
    return _change_cue(session, shot_id, cue_id, lambda _: {"picture": lead.picture_sha256, "name": name, "subject": None}, page)


def confine(session: Session, shot_id: int, cue_id: str, area: str, page: str = "") -> Shot:
    """Lets a cue act in one part only: a named area, or a region of the shot by its id; an empty name lets it act everywhere."""
    region = next((r for r in drafts.of_shot(find(session, shot_id)).regions if r.id == area), None)
    if area and area not in AREAS and region is None:
        raise ArtistError(f"There is no area “{area}”. Choose one of: {', '.join(AREAS)}, or a region of this shot.", "cues")
    mask = pictures.store(session, area_mask(area), f"area: {area}", "mask").sha256 if area in AREAS else None
    return _change_cue(session, shot_id, cue_id, lambda _: {"area": mask if region is None else region.mask}, page)


def edit_reference(session: Session, shot_id: int, cue_id: str, edit: ReferenceEdit, page: str = "") -> Shot:
    """Changes what a reference of the cue sheet lends. Raises ArtistError as `reference_edits.edited` does."""

    def changed(now: Recipe) -> Recipe:
        return now.model_copy(update={"cues": reference_edits.edited_among(session, now.cues, cue_id, edit)})

    return drafts.edit(session, shot_id, changed, page)


def _change_cue(session: Session, shot_id: int, cue_id: str, change: Callable[[Cue], Mapping[str, object]], page: str) -> Shot:
    def changed(now: Recipe) -> Recipe:
        if all(cue.id != cue_id for cue in now.cues):
            raise ArtistError(_GONE, "cues")
        return now.model_copy(update={"cues": [c.model_copy(update=change(c)) if c.id == cue_id else c for c in now.cues]})

    return drafts.edit(session, shot_id, changed, page)


def recast(session: Session, shot_id: int, scene_id: int | None, character_id: int | None, outfit_id: int | None) -> Shot:
    """Changes who is in a shot, what they wear and where; the given words follow, and with another character the held ones."""
    shot = locked(session, Shot, shot_id, "This shot does not exist.")
    if character_id != shot.character_id:
        outfit_id = None if outfit_id == shot.outfit_id else outfit_id
    scene, character, outfit = _cast(session, shot.story_id, scene_id, character_id, outfit_id)
    now, before = draft(shot), shot.character
    same = character_id == shot.character_id
    held = now.held if same else holding.held_by(session, character)
    cues = now.cues if same else with_lead(now.cues, character, before)
    shot.scene_id, shot.character_id, shot.outfit_id = scene_id, character_id, outfit_id
    recast = now.model_copy(update={"given": cast.given_words(character, outfit, scene), "held": held, "cues": cues})
    shot.draft = recast.model_dump()
    session.flush()
    session.refresh(shot)
    return shot


def _cast(
    session: Session, story_id: int, scene_id: int | None, character_id: int | None, outfit_id: int | None
) -> tuple[StoryScene | None, Character | None, Outfit | None]:
    scene = session.get(StoryScene, scene_id) if scene_id else None
    character = session.get(Character, character_id) if character_id else None
    outfit = session.get(Outfit, outfit_id) if outfit_id else None
    if (scene and scene.story_id != story_id) or (character and character.story_id != story_id):
        raise ArtistError("This scene or character belongs to another story.", "scene")
    if outfit and outfit.character_id != character_id:
        raise ArtistError("This outfit belongs to another character.", "outfit")
    return scene, character, outfit
