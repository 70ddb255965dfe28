"""What a character's anchors show, as words to accept; and trait words that say otherwise than the lead anchor."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.reading.contents import SURE, Subject
from mosskeeper.core.references.pooled import pooled
from mosskeeper.core.traits import MEASURED, OF_PERSON
from mosskeeper.core.words.describe import phrase
from mosskeeper.core.words.understand import understand
from mosskeeper.studio import cast, catalogue, contents, readings
from mosskeeper.studio.database import locked
from mosskeeper.studio.models import Character

_SILENT = ("none", "no", "average")  # what nobody needs to say of a person


@dataclass(frozen=True, slots=True)
class TraitOffered:
    """A trait of the person in the anchors. words : that say it. sure : whether it is known surely. instead_of : what the character's
    trait words say of it, where that is something else; "" where they say nothing.
    """

    trait: str
    label: str
    words: str
    sure: bool
    instead_of: str = ""


def offered(session: Session, character: Character) -> list[TraitOffered]:
    """What the anchors show and the trait words do not say, or say otherwise, in the order of the table of traits."""
    subject = _person(session, character)
    if subject is None:
        return []
    said = understand(character.traits).wanted
    out = []
    for trait in OF_PERSON:
        if trait.name in MEASURED or trait.name not in subject.sure:
            continue
        value = subject.value(trait.name)
        mine = said.get(trait.name, {})
        if value in mine or (trait.name == "subject" and any(value.endswith(word) for word in mine)):
            continue
        if value in _SILENT and not mine:
            continue
        words = f"no {trait.called}" if value in _SILENT else phrase(trait.name, value)
        before = ", ".join(phrase(trait.name, one) for one in mine)
        out.append(TraitOffered(trait.name, trait.called, words, subject.sure[trait.name] >= SURE, before))
    return out


def accept(session: Session, character_id: int, trait: str) -> None:
    """Takes what the anchors show of a trait into the character's trait words; the given words of the shots follow.

    Raises
    ------
    ArtistError
        where it is not offered any more, or the words get too long.
    """
    character = locked(session, Character, character_id, "This character does not exist.")
    one = next((one for one in offered(session, character) if one.trait == trait), None)
    if one is None:
        raise ArtistError("This is not offered any more: the words say it, or the anchors are others now.", "traits")
    words = character.traits.strip().rstrip(",")
    for before in filter(None, one.instead_of.split(", ")):
        words = _without(words, before)
    words = f"{words}, {one.words}" if words else one.words
    catalogue.edit(session, catalogue.KINDS["character"], character_id, character.name, words)


def _without(words: str, phrase_said: str) -> str:
    """The words without the clause that understands as `phrase_said`; as they are where that is no clause of its own."""
    clauses = [clause.strip() for clause in words.split(",")]
    wanted = understand(phrase_said).wanted
    kept = [clause for clause in clauses if understand(clause).wanted != wanted]
    return ", ".join(kept)


def _person(session: Session, character: Character) -> Subject | None:
    """The person of all anchors, the lead anchor first, with what the artist corrected."""
    names = [anchor.picture_sha256 for anchor in cast.anchors(session, character.id)]
    known, corrected = readings.known_of(session, names), contents.corrections(session, names)
    subjects = []
    for name in names:
        held = known[name].contents if name in known else None
        subject = None if held is None else held.subject(None)
        if held is not None and subject is not None:
            subjects.append(subject.corrected(corrected.get(name, {}).get(held.largest, {})))
    return pooled(subjects) if subjects else None
