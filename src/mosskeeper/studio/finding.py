"""Finding a subject: from a name and a few words to a shot that is made for it, and from the chosen anchor into a scene."""

from __future__ import annotations

import re

from sqlalchemy.orm import Session

from mosskeeper.core import limits
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.recipe import Recipe
from mosskeeper.studio import cast, shots
from mosskeeper.studio.models import Shot

_LEADING = re.compile(r"^((in|at|on|by|near|under|wearing)\s+)?((the|a|an)\s+)?", re.IGNORECASE)
_SHORT = 40  # characters of a name that is made from words
WORDS = "portrait, calm, front view"  # in which a face is seen clearly


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
    cues = [] if like is None else [shots.new_cue("look", like, f"{character.name[:100]} is like this")]
    recipe = Recipe(words=WORDS, cues=cues)
    return shots.create(session, story_id, f"Find {character.name}"[: limits.NAME], None, character.id, None, recipe)


def into_scene(session: Session, story_id: int, character_id: int, scene_id: int | None = None, place: str = "", dress: str = "") -> Shot:
    """A shot of a character in a scene, with the lead anchor on its cue sheet by the face, where there is one.

    scene_id : a scene of the story; without one, the words `place` become one. dress : words that become an outfit.

    Raises
    ------
    ArtistError
        where neither a scene, nor where, nor in what is said, or words are too long.
    """
    if scene_id is None and not place.strip() and not dress.strip():
        raise ArtistError("Say where, or in what: one of the two makes the scene.", "scene")
    cast.find(session, character_id)
    if scene_id is None and place.strip():
        scene_id = cast.add_scene(session, story_id, short_name(place), place).id
    outfit_id = cast.add_outfit(session, character_id, short_name(dress), _undressed(dress)).id if dress.strip() else None
    return shots.create(session, story_id, "", scene_id, character_id, outfit_id, Recipe(words="full figure"))


def short_name(words: str) -> str:
    """What words are called: “at the canal market at dusk, raining hard” is “Canal market at dusk”."""
    first = _LEADING.sub("", words.strip().split(",")[0]) or words.strip()
    kept = first if len(first) <= _SHORT else first[:_SHORT].rsplit(" ", 1)[0]
    return kept[:1].upper() + kept[1:]


def _undressed(words: str) -> str:
    """The words of an outfit without the preposition that a shot puts before them."""
    return re.sub(r"^(in|wearing)\s+", "", words.strip(), flags=re.IGNORECASE)
