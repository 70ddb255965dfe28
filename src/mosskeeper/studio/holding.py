"""Held words of a shot: what the lead anchor shows and no word names, kept so that it is not drawn anew at random each time."""

from __future__ import annotations

from sqlalchemy.orm import Session

from mosskeeper.core.diffusion.conditioning import parts_of
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.roles import reference
from mosskeeper.core.traits import of_parts
from mosskeeper.core.words.held import held_words, with_held
from mosskeeper.core.words.left_open import chosen, left_open
from mosskeeper.core.words.understand import understand
from mosskeeper.studio import drafts, explaining, readings, takes
from mosskeeper.studio.models import Character, Shot


def held_by(session: Session, character: Character | None) -> list[str]:
    """What a shot of a character holds: from the reading of their lead anchor, and the styles that made it. Empty while it is not read."""
    lead = character.lead if character is not None else None
    reading = readings.known(session, lead.picture_sha256) if lead is not None else None
    if lead is None or reading is None:
        return []
    styles = takes.recipe_of(takes.find(session, lead.take_id)).styles if lead.take_id is not None else []
    return held_words(reading.attributes, styles)


def hold(session: Session, shot: Shot, page: str = "") -> Shot:
    """Holds what the lead anchor shows, in place of what the shot held before.

    Raises
    ------
    ArtistError
        where there is no lead anchor, or nothing is known of it yet.
    """
    held = held_by(session, shot.character)
    if not held:
        raise ArtistError("Nothing can be held yet: it needs a lead anchor that was read. Try again in a moment.", "words")
    return drafts.edit(session, shot.id, lambda now: now.model_copy(update={"held": held}), page)


def hold_shown(session: Session, shot: Shot, sha256: str, page: str = "") -> Shot:
    """Holds what a picture chose of all that words, references and styles leave open, besides what the shot holds already.

    Raises
    ------
    ArtistError
        where it is not known what the picture was drawn from.
    """
    explained = explaining.of_picture(session, sha256)
    if explained is None:
        raise ArtistError("This picture does not say what it was drawn from: hold what the anchor shows, or write it.", "words")
    shown = explained.layers[0].scene.description

    def with_shown(now: Recipe) -> Recipe:
        open_ = left_open(understand(with_held(now.prompt, now.held, now.styles)), lent_by(now))
        return now.model_copy(update={"held": [*now.held, *chosen(shown, open_)]})

    return drafts.edit(session, shot.id, with_shown, page)


def lent_by(recipe: Recipe) -> frozenset[str]:
    """The attributes that references and poses of a recipe decide."""
    out = set[str]()
    for cue in recipe.cues:
        lender = reference(cue.role)
        if not cue.acts or cue.picture is None:
            continue
        if lender is not None:
            out |= {trait.name for trait in of_parts(tuple(parts_of(cue, lender)))}
        elif cue.role == "pose":
            out |= {"pose", "framing"}
    return frozenset(out)


def hold_first(session: Session, shot: Shot, page: str = "") -> None:
    """Where a shot holds nothing yet, what its lead anchor shows, as far as it was read."""
    held = [] if drafts.of_shot(shot).held else held_by(session, shot.character)
    if held:
        drafts.edit(session, shot.id, lambda now: now.model_copy(update={"held": now.held or held}), page)


def let_go(session: Session, shot_id: int, words: str, page: str = "") -> Shot:
    """Lets held words go: from then on each take chooses for itself what they were about."""

    def without(now: Recipe) -> Recipe:
        return now.model_copy(update={"held": [held for held in now.held if held != words]})

    return drafts.edit(session, shot_id, without, page)
