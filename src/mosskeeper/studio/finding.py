"""Finding a subject: from a name and a few words to a shot that is made for it, and from the chosen anchor into a scene."""

from __future__ import annotations

import secrets

from sqlalchemy.orm import Session

from mosskeeper.core import limits
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.roles import role
from mosskeeper.studio import cast, shots
from mosskeeper.studio.models import Shot

WORDS = "portrait, calm, front view"  # in which a face is seen clearly
_LIKENESS = 0.5  # weight of the picture of whom somebody is like


def begin(session: Session, story_id: int, name: str, traits: str, like: str | None = None) -> Shot:
    """A new character, and a shot in which it is looked for. like : a stored picture of whom it is like.

    Raises
    ------
    ArtistError
        where the name is missing, or there is nothing to draw from: neither words nor a picture.
    """
    character = cast.add_character(session, story_id, name, traits)
    if not character.traits and like is None:
        raise ArtistError("Say in a few words who it is, or bring a picture of whom they are like.", "traits")
    cues = [] if like is None else [_cue("look", like, f"{character.name[:100]} is like this", _LIKENESS)]
    recipe = Recipe(words=WORDS, cues=cues)
    return shots.create(session, story_id, f"Find {character.name}"[: limits.NAME], None, character.id, None, recipe)


def into_scene(session: Session, story_id: int, character_id: int, scene_id: int | None, outfit_id: int | None) -> Shot:
    """A shot of a character in a scene, with the lead anchor on its cue sheet by the face, where there is one."""
    character = cast.find(session, character_id)
    lead = character.lead
    cues = [] if lead is None else [_cue("face", lead.picture_sha256, f"{character.name[:100]}, lead anchor", role("face").weight)]
    return shots.create(session, story_id, "", scene_id, character_id, outfit_id, Recipe(words="full figure", cues=cues))


def _cue(name: str, sha256: str, title: str, weight: float) -> Cue:
    begins = role(name)
    return Cue(id=secrets.token_hex(4), role=name, picture=sha256, name=title, weight=weight, start=begins.start, end=begins.end)
