"""Several pictures of one person pooled as one: what the first leaves open, the others say."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from mosskeeper.core.illustrator.description import Face
from mosskeeper.core.reading.contents import SURE, Subject
from mosskeeper.core.traits import OF_PERSON


def pooled(subjects: Sequence[Subject]) -> Subject:
    """One subject out of several of the same person, the one that is meant first.

    A trait of the person that the first knows surely is its own. Else the value with the largest sum of probabilities is taken, with
    the probability of its surest picture; a face that no picture shows exactly is the mean of all, by how surely they are read. What
    somebody wears is the first one's: it says nothing of who they are.

    Raises ValueError where there is none.
    """
    if not subjects:
        raise ValueError("nobody to pool")
    first, *others = subjects
    changes: dict[str, object] = {}
    sure = dict(first.sure)
    for trait in OF_PERSON:
        if first.sure.get(trait.name, 0.0) >= SURE or not others:
            continue
        known = [one for one in subjects if trait.name in one.sure]
        if not known:
            continue
        if trait.name == "face shape":
            chosen = _face(known)
            changes["face"], sure[trait.name] = chosen, max(one.sure[trait.name] for one in known)
            continue
        votes: dict[str, float] = {}
        for one in known:
            votes[one.value(trait.name)] = votes.get(one.value(trait.name), 0.0) + one.sure[trait.name]
        best = max(votes, key=lambda value: votes[value])
        giver = max((one for one in known if one.value(trait.name) == best), key=lambda one: one.sure[trait.name])
        changes |= {name: getattr(giver.person, name) for name in trait.fields}
        sure[trait.name] = giver.sure[trait.name]
    return replace(first, person=replace(first.person, **changes), sure=sure) if changes else first  # type: ignore[arg-type]


def _face(known: Sequence[Subject]) -> Face:
    weights = np.array([one.sure["face shape"] for one in known])
    faces = np.stack([one.person.face.as_array() for one in known])
    return Face.from_array((weights[:, None] * faces).sum(0) / max(float(weights.sum()), 1e-9))
