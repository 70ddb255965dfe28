"""What a reference lends, for the cue sheet, regions and mends: its switches, who of its picture is meant, and what is known of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from mosskeeper.core.diffusion.conditioning import parts_of
from mosskeeper.core.reading.contents import SURE, Contents, Subject
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Cue
from mosskeeper.core.roles import reference
from mosskeeper.core.traits import MEASURED, OF_PERSON, Trait
from mosskeeper.core.words.attributes import ATTRIBUTES
from mosskeeper.core.words.describe import phrase
from mosskeeper.studio import contents, readings
from mosskeeper.web.render import fragment

_ORIGINS = {
    "scene": "Drawn here: what it holds is known exactly.",
    "found": "A copy of a picture that was drawn here: what it holds is known exactly.",
}
_PLAIN = ("no", "none", "average", "")


@dataclass(frozen=True, slots=True)
class TraitShown:
    """A trait of the person of a reference. says : its value as words, "" where there is nothing to say. values : what it can be
    corrected to. likely : other values that were nearly chosen.
    """

    name: str
    label: str
    value: str
    says: str
    sure: bool
    corrected: bool
    values: tuple[str, ...]
    likely: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Lends:
    """parts : of the cue's role, with whether each is lent. places : of the figures, number, x and y as shares; empty for a single one.
    chosen : the number of the one that is meant. origin : how what it holds is known. traits : of the person that is meant.
    """

    parts: tuple[tuple[str, bool], ...]
    places: tuple[tuple[int, float, float], ...] = ()
    chosen: int = 0
    origin: str = ""
    traits: tuple[TraitShown, ...] = ()

    @property
    def unsure(self) -> tuple[TraitShown, ...]:
        return tuple(trait for trait in self.traits if not trait.sure)


def lends(cue: Cue, reading: Reading | None, corrected: Mapping[int, Mapping[str, str]]) -> Lends | None:
    """What a cue lends; None where it is no reference.

    corrected : what artists corrected in its picture, by the figure's number.
    """
    lender = reference(cue.role)
    if lender is None:
        return None
    on = parts_of(cue, lender)
    parts = tuple((part, part in on) for part in lender.offered) if len(lender.offered) > 1 else ()
    contents = None if reading is None else reading.contents
    subject = None if contents is None else contents.subject(cue.subject)
    if contents is None or subject is None or not lender.hands_on:
        return Lends(parts)
    chosen = contents.meant(cue.subject)
    own = {**cue.corrected, **corrected.get(chosen, {})}
    subject = subject.corrected(own)
    traits = tuple(_shown(trait, subject, own) for trait in OF_PERSON if trait.name not in MEASURED and trait.part in on)
    return Lends(parts, places_of(contents), chosen, _ORIGINS.get(contents.origin, ""), () if contents.exact else traits)


def shown(session: Session, cues: Sequence[Cue]) -> dict[str, Lends]:
    """What each of several cues lends, by its id, as far as its picture is read."""
    names = {cue.picture for cue in cues if cue.picture is not None and reference(cue.role) is not None}
    seen, corrected = readings.known_of(session, names), contents.corrections(session, names)
    found = {cue.id: lends(cue, seen.get(cue.picture or ""), corrected.get(cue.picture or "", {})) for cue in cues}
    return {name: one for name, one in found.items() if one is not None}


def html(cue: Cue, lent: Lends | None) -> str:
    """The part of a page that shows it; "" where there is nothing to show."""
    return "" if lent is None else str(fragment("references/lends.html", {"cue": cue, "lends": lent}))


def places_of(contents: Contents) -> tuple[tuple[int, float, float], ...]:
    seen = [(n, one.head) for n, one in enumerate(contents.subjects)]
    return tuple((n, head[0], head[1]) for n, head in seen if head is not None) if len(seen) > 1 else ()


def _shown(trait: Trait, subject: Subject, corrected: Mapping[str, str]) -> TraitShown:
    known = trait.name in subject.sure
    value = subject.value(trait.name) if known else ""
    sure = subject.sure.get(trait.name, 0.0) >= SURE
    says = "" if value in _PLAIN else phrase(trait.name, value)
    likely = subject.others.get(trait.name, ())[:2]
    return TraitShown(trait.name, trait.called, value, says, sure, trait.name in corrected, ATTRIBUTES[trait.name].every, likely)
