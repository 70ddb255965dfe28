"""References: what the pictures on the cue sheet lend to a take, each by its role, weight and span.

A reference lends trait by trait (`core.traits`): each trait arrives at an amount of its own (the cue's weight times the share of
the denoising in which it acts), those first that tell most about who somebody is. From there on it adds so much to the log odds
of its value that no prior stands against it; until there it adds nothing. The sums are log-linear pooling, so order never
matters, and of two references that both lend a trait the heavier one's value is the likelier. Continuous traits (a face,
the colours of clothes) go over from the take's own in proportion.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Face, Person, Rgb
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab
from mosskeeper.core.reading.contents import SURE, Contents, Subject
from mosskeeper.core.reading.reading import Reading, measured
from mosskeeper.core.recipe import Cue
from mosskeeper.core.references.of_reading import contents_of_reading
from mosskeeper.core.references.pooled import pooled
from mosskeeper.core.roles import reference
from mosskeeper.core.roles.role import Reference
from mosskeeper.core.traits import BY_NAME, MEASURED, TRAITS, Trait, of_parts

EVIDENCE = 7.0  # log odds that a sure trait adds at weight 1 besides: by this the heavier of two references wins
_DECISIVE = 24.0  # log odds of a trait that has arrived and is known surely: no prior and no chance stands against it
_LIKELY = 4.0  # the same of one that is only likely
_RAMP = 0.05  # of amount, on both sides of where a trait arrives
_WHOLE = 0.75  # amount from which continuous traits are the reference's
_HALF = 0.5  # amount under which a finish is mixed with the usual one
_USUAL_FINISH = "gouache"
_NEAR = 30.0  # Lab units over which a palette's colours count as the same cloth
EARLY = -0.6  # lean by which early steps count more for composition
LATE = 0.6  # and late ones for detail
_NOT_IN_AREAS = ("finish", "subject", "build")  # what decides where things are is one for the whole picture
_EXACT = tuple(trait for trait in TRAITS if trait.carrier in ("person", "clothes") and trait.name not in MEASURED)


def amount_of(cue: Cue, steps: int, lean: float = 0.0) -> float:
    """A cue's weight times the share of the denoising in which it acts; `lean` −1…1 counts early or late steps more."""
    return cue.weight * share_of(cue.start, cue.end, steps, lean)


def share_of(start: float, end: float, steps: int, lean: float = 0.0) -> float:
    """0…1: the share of the steps that lie in a span, per cent of the denoising; `lean` −1…1 counts early or late ones more."""
    middles = (np.arange(steps) + 0.5) / steps
    counts = 1 + lean * (2 * middles - 1)
    inside = (100 * middles >= start) & (100 * middles < end)
    return float((counts * inside).sum() / counts.sum())


def parts_of(cue: Cue, lender: Reference) -> frozenset[str]:
    """The switches of a cue that are on."""
    return lender.switched(cue.parts)


def fields_lent(cue: Cue, lender: Reference) -> frozenset[str]:
    """The fields of a description that a reference can change in an area of the picture."""
    traits = [trait for trait in of_parts(tuple(parts_of(cue, lender))) if trait.name not in _NOT_IN_AREAS]
    cloth = {"colour_a", "colour_b"} if lender.lends_palette else set()
    return frozenset(name for trait in traits for name in trait.fields) | cloth


def confined(cue: Cue) -> Reference | None:
    """The role of a cue that is a reference and acts in an area only; None of others."""
    return reference(cue.role) if cue.acts and cue.area is not None else None


@dataclass(frozen=True, slots=True)
class Lent:
    """One reference that acts.

    subject : the figure that is meant, with the artist's corrections; None where nobody is in the picture.
    parts : its switches that are on.
    """

    cue: Cue
    role: Reference
    reading: Reading
    contents: Contents
    subject: Subject | None
    parts: frozenset[str]
    factor: float = 1.0  # of its evidence, by which balance makes references equal

    def amount(self, steps: int, lean: float = 0.0) -> float:
        """See `amount_of`."""
        return amount_of(self.cue, steps, lean)

    def known(self, trait: Trait) -> tuple[str, float] | None:
        """The value that it lends of a trait, and how surely that is known; None where it lends none, and of measures."""
        if trait.part not in self.parts or trait.kind == "measure":
            return None
        if trait.name == "finish":
            return (self.contents.finish[0], self.contents.finish_sure) if self.contents.finish else None
        if trait.name in self.contents.surroundings:
            return self.contents.surroundings[trait.name]
        if self.subject is None or trait.name not in self.subject.sure:
            return None
        return self.subject.value(trait.name), self.subject.sure[trait.name]

    def arrived(self, trait: Trait, steps: int) -> float:
        """0…1: how far a trait has come at the cue's amount."""
        amount = self.amount(steps, EARLY if trait.early else LATE)
        return float(np.clip((amount - trait.arrives + _RAMP) / (2 * _RAMP), 0, 1))

    def log_odds(self, trait: Trait, sure: float, steps: int) -> float:
        """What it adds to the log odds of its value of a trait."""
        arrived = self.arrived(trait, steps)
        if arrived == 0:
            return 0.0
        own = self.factor * sure * self.amount(steps, EARLY if trait.early else LATE)
        return arrived * ((_DECISIVE if sure >= SURE else _LIKELY) + EVIDENCE * own)

    def whole(self, trait: str, steps: int) -> float:
        """0…1: how far a measure has gone over to that of the reference."""
        if self.subject is None or trait not in self.subject.sure or BY_NAME[trait].part not in self.parts:
            return 0.0
        return min(1.0, self.amount(steps, LATE) / _WHOLE) * min(1.0, self.subject.sure[trait])


class References:
    """All references of a recipe or a region.

    Parameters
    ----------
    cues : of any role; those that lend nothing are left aside.
    pictures, readings : by the cues' names. What has no reading is measured; what a reading's contents hold is lent, or without
        them what was read.
    """

    def __init__(
        self,
        cues: list[Cue],
        pictures: Mapping[str, NDArray[np.uint8]],
        readings: Mapping[str, Reading],
        steps: int,
        balance: bool,
    ) -> None:
        lending = [(c, kind) for c in cues if c.acts and c.picture is not None and (kind := reference(c.role)) is not None]
        lending.sort(key=lambda one: (one[0].picture or "", one[0].role, one[0].start, one[0].end, one[0].weight))
        self.steps = steps
        lent = [_lent(c, kind, pictures, readings) for c, kind in lending]
        self.lent = _balanced(lent) if balance else lent

    def scores(self, attribute: str) -> dict[str, float]:
        """Log odds for the values of an attribute."""
        trait = BY_NAME.get(attribute)
        total: dict[str, float] = {}
        for one in self.lent if trait is not None else ():
            assert trait is not None
            known = one.known(trait)
            if known is not None and (odds := one.log_odds(trait, known[1], self.steps)) > 0:
                total[known[0]] = total.get(known[0], 0.0) + odds
        return total

    def face(self, own: Face) -> Face:
        """A face drawn towards those of the references: the mean of theirs by weight, mixed with the take's own."""
        theirs = [(one.whole("face shape", self.steps) * one.factor, one.subject) for one in self.lent]
        known = [(weight, subject.person.face) for weight, subject in theirs if subject is not None and weight > 0]
        if not known:
            return own
        share = min(1.0, max(weight for weight, _ in known))
        total = sum(weight for weight, _ in known)
        mean = sum((weight / total * face.as_array() for weight, face in known), np.zeros(len(own.as_array())))
        return known[0][1] if share == 1 and len(known) == 1 else Face.from_array((1 - share) * own.as_array() + share * mean)

    def cloth(self, attribute: str, own: Rgb) -> Rgb:
        """A colour of clothes drawn towards the references': that of their clothes, or their palettes' nearest colours.

        attribute : "colour", the first of an outfit, or "trim".
        """
        field = "colour_a" if attribute == "colour" else "colour_b"
        lab = rgb_to_lab(np.asarray(own, np.float32)).astype(np.float64)
        total, mixed, share = 0.0, np.zeros(3), 0.0
        for one in self.lent:
            weight = one.whole("cloth colours", self.steps) * one.factor
            if weight > 0 and one.subject is not None:
                theirs = rgb_to_lab(np.asarray(getattr(one.subject.person, field), np.float32)).astype(np.float64)
            elif one.role.lends_palette and (weight := min(1.0, one.amount(self.steps, LATE)) / 2) > 0:
                palette = one.reading.palette
                near = palette.area * np.exp(-np.square(palette.lab - lab).sum(1) / (2 * _NEAR**2)) + 1e-9
                theirs = (near @ palette.lab / near.sum()).astype(np.float64)
            else:
                continue
            total, mixed, share = total + weight, mixed + weight * theirs, max(share, min(1.0, weight))
        if total == 0:
            return own
        sole = [one.subject for one in self.lent if one.whole("cloth colours", self.steps) == 1 and one.subject is not None]
        if len(sole) == 1 and total == 1:
            exact: Rgb = getattr(sole[0].person, field)
            return exact
        r, g, b = lab_to_rgb((1 - share) * lab + share * mixed / total)
        return float(r), float(g), float(b)

    def finish(self, drawn: str) -> tuple[str, ...]:
        """The styles of a picture whose finish was drawn as `drawn`: those of the reference that lent it, which may be several; at
        less than half of an amount mixed with the usual one.
        """
        trait = BY_NAME["finish"]
        for one in self.lent:
            if "finish" in one.parts and one.contents.finish[:1] == (drawn,) and one.arrived(trait, self.steps) == 1:
                half = one.amount(self.steps, EARLY) < _HALF and _USUAL_FINISH not in one.contents.finish
                return (_USUAL_FINISH, *one.contents.finish) if half else one.contents.finish
        return (drawn,)

    def exact(self, person: Person, named: frozenset[str]) -> Person:
        """A person whose traits have the values that references lent, with what goes with those values exactly.

        A tone that no table has, the colours and the size of a hat, the size of the hair. named : attributes that words name.
        """
        changes: dict[str, object] = {}
        for trait in _EXACT:
            if trait.name in named or trait.fields[0] == "worn":
                continue
            subject = self._giver(trait, Subject(person, {}).value(trait.name))
            if subject is not None:
                changes |= {name: getattr(subject.person, name) for name in trait.fields}
        hatted = changes.get("headwear", "none") != "none"
        if hatted and changes.get("headwear_colours") is None:  # a hat is in the colours of the clothes that are worn with it
            given = self._giver(BY_NAME["headwear"], str(changes["headwear"]))
            assert given is not None
            changes["headwear_colours"] = (given.person.colour_a, given.person.colour_b)
        return replace(person, **changes) if changes else person  # type: ignore[arg-type]

    def silent(self) -> tuple[str, ...]:
        """Sentences about references that act and lend nothing of what their role is about, since it is not in their pictures."""
        nobody = [one for one in self.lent if one.role.hands_on and one.subject is None]
        return tuple(f"“{one.cue.name or one.role.name}” lends nobody: no person is recognised in it" for one in nobody)

    def _giver(self, trait: Trait, value: str) -> Subject | None:
        """The subject that lends a value of a trait most strongly; None where none does."""
        best: tuple[float, Subject] | None = None
        for one in self.lent:
            known = one.known(trait)
            if known is None or known[0] != value or one.subject is None or one.arrived(trait, self.steps) < 0.5:
                continue
            odds = one.log_odds(trait, known[1], self.steps)
            best = (odds, one.subject) if best is None or odds > best[0] else best
        return None if best is None else best[1]


def _lent(cue: Cue, kind: Reference, pictures: Mapping[str, NDArray[np.uint8]], readings: Mapping[str, Reading]) -> Lent:
    name = cue.picture or ""
    reading = readings.get(name) or measured(_rgb(pictures[name]))
    contents = reading.contents or contents_of_reading(reading)
    subject = contents.subject(cue.subject)
    if subject is not None and cue.corrected:
        subject = subject.corrected(cue.corrected)
    further = [one for other in cue.also if other in readings and (one := _main(readings[other])) is not None]
    if subject is not None and further:
        subject = pooled([subject, *further])
    return Lent(cue, kind, reading, contents, subject, parts_of(cue, kind))


def _main(reading: Reading) -> Subject | None:
    return (reading.contents or contents_of_reading(reading)).subject(None)


def _balanced(lent: list[Lent]) -> list[Lent]:
    """References whose evidence weighs the same in each role, however sure it is known what they hold."""
    masses = [sum(known[1] for trait in TRAITS if (known := one.known(trait)) is not None) for one in lent]
    out = []
    for one, mass in zip(lent, masses, strict=True):
        peers = [m for other, m in zip(lent, masses, strict=True) if other.cue.role == one.cue.role and m > 0]
        out.append(replace(one, factor=float(np.mean(peers)) / mass if mass > 0 else 1.0))
    return out


def _rgb(picture: NDArray[np.uint8]) -> NDArray[np.uint8]:
    return np.ascontiguousarray(picture[:, :, :3])
