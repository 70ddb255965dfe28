"""What references lend to somebody who stands in a picture already: traits that have arrived, colours, a face."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace

from mosskeeper.core.diffusion.references import References
from mosskeeper.core.illustrator.description import WORN, Person
from mosskeeper.core.illustrator.vocabulary.people import CHILDREN
from mosskeeper.core.mending.asked import Lend
from mosskeeper.core.traits import MEASURED, TRAITS

_COMES = 3.0  # log odds from which a reference's value takes the place of the one that is there
_KEPT = ("build",)  # of the body that stands there
_SWITCHED = ("freckles", "glasses")
_CHOSEN = tuple(t for t in TRAITS if t.carrier in ("person", "clothes") and t.name not in (*MEASURED, *_KEPT))


def lending(references: References) -> Lend | None:
    """How references change a person; None where none of them acts."""
    if not any(one.amount(references.steps) > 0 for one in references.lent):
        return None

    def lend(person: Person, named: Collection[str]) -> Person:
        changes: dict[str, object] = {}
        worn = set(person.worn)
        for trait in _CHOSEN:
            value = None if trait.name in named else _strongest(references, trait.name)
            if value is None or (trait.name == "subject" and (value in CHILDREN) != (person.subject in CHILDREN)):
                continue
            if trait.name in WORN:
                worn = worn | {trait.name} if value == "yes" else worn - {trait.name}
            else:
                changes[trait.fields[0]] = value == "yes" if trait.name in _SWITCHED else value
        changes["worn"] = tuple(thing for thing in WORN if thing in worn)
        changes["face"] = references.face(person.face)
        if "colour" not in named and "outfit" not in named:
            changes["colour_a"] = references.cloth("colour", person.colour_a)
            changes["colour_b"] = references.cloth("trim", person.colour_b)
        lent = replace(person, **changes)  # type: ignore[arg-type]
        return replace(references.exact(lent, frozenset({*named, *_KEPT})), subject=lent.subject)

    return lend


def _strongest(references: References, attribute: str) -> str | None:
    """The value of an attribute that references lend most strongly; None where none has arrived."""
    scores = references.scores(attribute)
    best = max(scores, key=lambda value: scores[value], default=None)
    return best if best is not None and scores[best] >= _COMES else None
