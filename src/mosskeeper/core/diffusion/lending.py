"""What references lend to somebody who stands in a picture already: values that they are sure of, colours, a face."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace

from mosskeeper.core.diffusion.references import EVIDENCE, References
from mosskeeper.core.illustrator.description import WORN, Person
from mosskeeper.core.mending.asked import Lend
from mosskeeper.core.mending.person import PLAIN

_SURE = 0.22 * EVIDENCE  # log odds from which a reference's value takes the place of the one that is there
_BODY = ("subject", "build")  # whoever stands there keeps these
_NAMED = {name: field for name, field in PLAIN.items() if name not in _BODY} | {name: name for name in ("headwear", "outfit", "expression")}
_SWITCHED = ("freckles", "glasses")


def lending(references: References) -> Lend | None:
    """How references change a person; None where none of them acts."""
    if not any(one.amount(references.steps) > 0 for one in references.lent):
        return None

    def lend(person: Person, named: Collection[str]) -> Person:
        changes: dict[str, object] = {}
        for attribute, field in _NAMED.items():
            value = _surest(references, attribute)
            if value is not None and attribute not in named:
                changes[field] = value
        for attribute in _SWITCHED:
            value = _surest(references, attribute)
            if value is not None and attribute not in named:
                changes[attribute] = value == "yes"
        lent = {thing: _surest(references, thing) for thing in WORN if thing not in named}
        if any(value is not None for value in lent.values()):
            had = {thing: thing in person.worn for thing in WORN}
            changes["worn"] = tuple(t for t in WORN if (had[t] if lent.get(t) is None else lent[t] == "yes"))
        changes["face"] = references.face(person.face)
        if "colour" not in named and "outfit" not in named:
            changes["colour_a"] = references.cloth("colour", person.colour_a)
            changes["colour_b"] = references.cloth("trim", person.colour_b)
        return replace(person, **changes)  # type: ignore[arg-type]

    return lend


def _surest(references: References, attribute: str) -> str | None:
    scores = references.scores(attribute)
    if not scores:
        return None
    best = max(scores, key=lambda value: scores[value])
    return best if scores[best] >= _SURE else None
