"""Presets: named recipes of a character or of the whole studio."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import or_, select, text
from sqlalchemy.orm import Session

from mosskeeper.core import limits
from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.recipe import Recipe, read_recipe
from mosskeeper.studio.database import locked
from mosskeeper.studio.models import Preset, Shot


def for_shot(session: Session, shot: Shot) -> list[Preset]:
    """The presets that a shot can take: those of its character and those of the studio."""
    whose = or_(Preset.character_id.is_(None), Preset.character_id == shot.character_id)
    return list(session.scalars(select(Preset).where(whose, Preset.removed_at.is_(None)).order_by(Preset.name, Preset.id)))


def save(session: Session, name: str, recipe: Recipe, character_id: int | None) -> Preset:
    """Saves a recipe under a name; one of the same name and owner is put aside for it, not lost."""
    name = limits.text(name, "The preset's name", "preset", limits.NAME, needed=True)
    _one_at_a_time(session, character_id, name)
    for old in _called(session, name, character_id):
        old.removed_at = datetime.now(UTC)
    preset = Preset(
        name=name, character_id=character_id, body=recipe.model_copy(update={"given": "", "held": [], "seed": None}).model_dump()
    )
    session.add(preset)
    session.flush()
    return preset


def _one_at_a_time(session: Session, character_id: int | None, name: str) -> None:
    """Or two of one name would both stand."""
    session.execute(text("select pg_advisory_xact_lock(hashtext('preset ' || :whose))"), {"whose": f"{character_id} {name}"})


def _called(session: Session, name: str, character_id: int | None) -> list[Preset]:
    """The presets of an owner that have a name: one at most."""
    whose = Preset.character_id.is_not_distinct_from(character_id)
    return list(session.scalars(select(Preset).where(Preset.name == name, whose, Preset.removed_at.is_(None))))


def find(session: Session, preset_id: int) -> Preset:
    preset = session.get(Preset, preset_id)
    if preset is None:
        raise NotFound("This preset does not exist.")
    return preset


def applied(preset: Preset, draft: Recipe, words_too: bool) -> Recipe:
    """The recipe on a table after taking a preset over: given and held words and the seed stay, the artist's words where they are wanted."""
    kept: dict[str, Any] = {"given": draft.given, "held": draft.held, "seed": draft.seed}
    if not words_too:
        kept |= {"words": draft.words, "negative": draft.negative, "emphasis": draft.emphasis}
    return read_recipe(preset.body).model_copy(update=kept)


def rename(session: Session, preset_id: int, name: str) -> Preset:
    """Gives a preset another name.

    Raises
    ------
    ArtistError
        where the name is missing, or another preset of the same owner has it.
    """
    name = limits.text(name, "The name", "preset", limits.NAME, needed=True)
    preset = locked(session, Preset, preset_id, "This preset does not exist.")
    _one_at_a_time(session, preset.character_id, name)
    if any(other.id != preset_id for other in _called(session, name, preset.character_id)):
        raise ArtistError(f"Another preset is called “{name}” already. Choose another name.", "preset")
    preset.name = name
    session.flush()
    return preset


def put_away(session: Session, preset_id: int, away: bool) -> Preset:
    preset = locked(session, Preset, preset_id, "This preset does not exist.")
    preset.removed_at = datetime.now(UTC) if away else None
    session.flush()
    return preset
