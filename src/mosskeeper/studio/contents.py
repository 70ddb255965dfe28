"""Contents of stored pictures: what references lend of them, how copies of takes are recognised, and what artists correct."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Mapping
from typing import Any, cast

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import Select, select
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.reading.contents import Contents
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.references.copies import Features
from mosskeeper.core.references.resolve import resolved
from mosskeeper.core.roles import reference
from mosskeeper.core.traits import BY_NAME, MEASURED
from mosskeeper.core.words.attributes import ATTRIBUTES
from mosskeeper.studio import explaining, pictures
from mosskeeper.studio.database import locked, read_binary
from mosskeeper.studio.models import Anchor, Picture, StoredReading, StoredScenes

_MOST_COMPARED = 2000  # stored takes, the newest first, among which a picture is looked for
_MOST_ANCHORS = 8  # that one reference pools besides its own
_UNREAD = "This picture is still being read. Try again in a moment."


def of_pixels(session: Session, sha256: str, picture: NDArray[np.uint8], reading: Reading, features: Features) -> Contents:
    """What a picture holds: its stored scene, that of the take it is a copy of, or what reader and inversion say. For workers."""

    def load(name: str) -> tuple[NDArray[np.uint8], LayeredScenes | None]:
        return pictures.pixels(session, name), explaining.of_picture(session, name)

    return resolved(picture, reading, features, explaining.of_picture(session, sha256), _takes(session, sha256), load)


def _takes(session: Session, but: str) -> Iterator[tuple[str, Features]]:
    """The features of stored pictures whose scenes are known; the database is asked when the first is wanted."""
    query = (
        select(StoredReading.picture_sha256, StoredReading.features)
        .join(StoredScenes, StoredScenes.picture_sha256 == StoredReading.picture_sha256)
        .join(Picture, Picture.sha256 == StoredReading.picture_sha256)
        .where(StoredReading.features.is_not(None), StoredReading.picture_sha256 != but)
        .order_by(Picture.created_at.desc(), Picture.sha256)
        .limit(_MOST_COMPARED)
    )
    for name, data in read_binary(session, cast(Select[Any], query)):
        yield name, Features.unpack(bytes(data))


def corrections(session: Session, names: Collection[str]) -> dict[str, dict[int, dict[str, str]]]:
    """What artists corrected in several pictures: picture → number of the figure → attribute → value."""
    if not names:
        return {}
    rows = session.execute(
        select(StoredReading.picture_sha256, StoredReading.corrected).where(
            StoredReading.picture_sha256.in_(names), StoredReading.corrected.is_not(None)
        )
    )
    return {name: {int(number): dict(values) for number, values in (told or {}).items()} for name, told in rows}


def correct(session: Session, sha256: str, number: int, trait: str, value: str) -> None:
    """Keeps a trait of a figure as the artist says it is; an empty value takes the correction back.

    Raises
    ------
    ArtistError
        where the trait or the value is none, or the picture was not read yet.
    """
    if trait not in BY_NAME or trait in MEASURED or BY_NAME[trait].carrier not in ("person", "clothes"):
        raise ArtistError(f"“{trait}” is no trait that can be corrected.", "cues")
    if value and value not in ATTRIBUTES[trait].every:
        raise ArtistError(
            f"“{value}” is not known as {BY_NAME[trait].called}. Choose one of: {', '.join(ATTRIBUTES[trait].every)}.", "cues"
        )
    pictures.find(session, sha256)
    if session.get(StoredReading, sha256) is None:
        raise ArtistError(_UNREAD, "cues")
    row = locked(session, StoredReading, sha256, _UNREAD)
    known = {number: dict(values) for number, values in (row.corrected or {}).items()}
    own = known.setdefault(str(number), {})
    if value:
        own[trait] = value
    else:
        own.pop(trait, None)
    row.corrected = {number: values for number, values in known.items() if values} or None
    session.flush()


def with_corrections(session: Session, recipe: Recipe, known: Callable[[], Mapping[str, Reading]]) -> Recipe:
    """The recipe with what artists corrected in the pictures of its references, so that it determines its takes by itself.

    known : gives the readings of its pictures, by which the figure that is meant is told; asked where something was corrected.
    """
    names = {cue.picture for cue in _references(recipe) if cue.picture is not None}
    corrected = corrections(session, names)
    if not corrected:
        return recipe
    readings = known()

    def told(cue: Cue) -> Cue:
        own = corrected.get(cue.picture or "")
        reading = readings.get(cue.picture or "")
        if own is None or reference(cue.role) is None:
            return cue
        number = cue.subject or 0 if reading is None or reading.contents is None else reading.contents.meant(cue.subject)
        return cue.model_copy(update={"corrected": {**cue.corrected, **own.get(number, {})}})

    return _with_cues(recipe, told)


def with_anchors(session: Session, recipe: Recipe) -> Recipe:
    """The recipe with the other anchors of a character beside each reference whose picture is one of them."""
    handed_on = {cue.picture for cue in _references(recipe) if (kind := reference(cue.role)) is not None and kind.hands_on}
    if not handed_on:  # asked with every stroke of a live board
        return recipe
    own = dict(
        session.execute(
            select(Anchor.picture_sha256, Anchor.character_id)
            .where(Anchor.picture_sha256.in_(handed_on), Anchor.removed_at.is_(None))
            .order_by(Anchor.id.desc())
        ).all()
    )
    if not own:
        return recipe
    together: dict[int, list[str]] = {}
    query = select(Anchor.character_id, Anchor.picture_sha256).where(Anchor.character_id.in_(own.values()), Anchor.removed_at.is_(None))
    for character_id, sha256 in session.execute(query.order_by(Anchor.lead.desc(), Anchor.id)):
        together.setdefault(character_id, []).append(sha256)

    def joined(cue: Cue) -> Cue:
        kind = reference(cue.role)
        if kind is None or not kind.hands_on or cue.picture not in own:
            return cue
        others = [name for name in together[own[cue.picture]] if name != cue.picture]
        return cue.model_copy(update={"also": others[:_MOST_ANCHORS]})

    return _with_cues(recipe, joined)


def _with_cues(recipe: Recipe, change: Callable[[Cue], Cue]) -> Recipe:
    regions = [region.model_copy(update={"cues": [change(cue) for cue in region.cues]}) for region in recipe.regions]
    return recipe.model_copy(update={"cues": [change(cue) for cue in recipe.cues], "regions": regions})


def _references(recipe: Recipe) -> list[Cue]:
    return [cue for cue in (*recipe.cues, *(cue for region in recipe.regions for cue in region.cues)) if reference(cue.role) is not None]
