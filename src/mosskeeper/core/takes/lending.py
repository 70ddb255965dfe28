"""What references lend to somebody who stands in a picture already: traits that have arrived, colours, a face."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace

from mosskeeper.core.diffusion.conditioning import References
from mosskeeper.core.illustrator.description import Person
from mosskeeper.core.illustrator.vocabulary.people import CHILDREN
from mosskeeper.core.mending.ask.changed_scene import Lend
from mosskeeper.core.traits import MEASURED, OF_FIGURE, changes

_COMES = 3.0  # log odds from which a reference's value takes the place of the one that is there
_KEPT = ("build",)  # of the body that stands there
_CHOSEN = tuple(t for t in OF_FIGURE if t.name not in (*MEASURED, *_KEPT))


def lending(references: References) -> Lend | None:
    """How references change a person; None where none of them acts."""
    if not any(one.amount(references.steps) > 0 for one in references.lent):
        return None

    def lend(person: Person, named: Collection[str]) -> Person:
        values: dict[str, str] = {}
        for trait in _CHOSEN:
            value = None if trait.name in named else _strongest(references, trait.name)
            if value is None or (trait.name == "subject" and (value in CHILDREN) != (person.subject in CHILDREN)):
                continue
            values[trait.name] = value
        changed = changes(person, values)
        changed["face"] = references.face(person.face)
        if "colour" not in named and "outfit" not in named:
            changed["colour_a"] = references.cloth("colour", person.colour_a)
            changed["colour_b"] = references.cloth("trim", person.colour_b)
        lent = replace(person, **changed)
        return replace(references.exact(lent, frozenset({*named, *_KEPT})), subject=lent.subject)

    return lend


def _strongest(references: References, attribute: str) -> str | None:
    """The value of an attribute that references lend most strongly; None where none has arrived."""
    scores = references.scores(attribute)
    best = max(scores, key=lambda value: scores[value], default=None)
    return best if best is not None and scores[best] >= _COMES else None
