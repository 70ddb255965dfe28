"""The live picture of a shot as it is kept: what a worker makes after every act, where no live room is free for a page."""

from __future__ import annotations

import hashlib
from typing import Any

from sqlalchemy.orm import Session

from mosskeeper.core.boards.told import told
from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.takes.boards import boards_of
from mosskeeper.live_picture.room import Ask, LiveRequest, Room
from mosskeeper.studio import boards, drafts, readings, shots, working


def key_of(shot_id: int, seed: int) -> str:
    return f"live:{shot_id}:{seed}"


def state_of(session: Session, shot_id: int, seed: int) -> str:
    """By which it is told whether a picture is of the shot as it is now."""
    return _state(drafts.of_shot(shots.find(session, shot_id)), seed)


def _state(recipe: Recipe, seed: int) -> str:
    return hashlib.sha256(f"{seed} {recipe.to_json()}".encode()).hexdigest()


def made(session: Session, shot_id: int, seed: int) -> tuple[bytes, dict[str, Any]]:
    """The picture as PNG, of what it is, and what the board was read as: for workers, since it draws."""
    recipe = drafts.of_shot(shots.find(session, shot_id))
    pictures, room = working.cue_pixels(session, recipe), Room()
    settled = readings.settled(session, recipe)
    room.take(Ask(0, LiveRequest(settled, seed, pictures, readings.known_of_recipe(session, recipe)), None))
    image, own = room.still().image, boards.cue_of(recipe)
    read = [] if own is None else boards_of([own], pictures, recipe.steps)
    says = [{"words": t.words, "kind": t.kind, "at": t.at} for t in (told(read[0].read) if read else [])]
    return encode_png(image), {"of": _state(recipe, seed), "told": says}
