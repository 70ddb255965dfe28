"""Face: who somebody is, whatever they wear and wherever they are."""

from __future__ import annotations

from mosskeeper.core.continuity.drift import drift, not_measured
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.roles.role import Reference
from mosskeeper.core.traits import PERSON_PARTS, parts_of


class FaceRole(Reference):
    name, order = "face", 1
    says = "Draws the person of the picture: face, hair, beard, marks, glasses, skin, age and sex; not clothes, place, light or pose."
    weight = 0.8
    meaning = "distance of the faces: 100 the same, 50 the limit between one person and another"
    parts = PERSON_PARTS
    offered = (*PERSON_PARTS, *parts_of("clothes"))
    hands_on = True
    contests = ("hair colour", "skin", "eyes")

    def lacks(self, reading: Reading, skeleton: bool) -> str:
        held = reading.contents
        if (held is not None and held.exact and held.subjects) or (reading.main is not None and reading.main.identity is not None):
            return ""
        return "No face is read in this picture, so it cannot lend one: choose a picture in which it is seen clearly."

    def alike(self, a: Reading, b: Reading) -> float | None:
        found = None if not_measured([a, b]) else drift(b.main, [a.main])
        return None if found is None else 0.5**found.distance


ROLE = FaceRole()
