"""Face: who somebody is, by the face alone."""

from __future__ import annotations

from mosskeeper.core.continuity.drift import drift
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.roles.role import Reference


class Face(Reference):
    name, order = "face", 1
    says = "Draws the face alone. It begins at 20 %, so that words and pose lay out the picture first."
    weight, start = 0.8, 20.0
    meaning = "distance of the faces: 100 the same, 50 the limit between one person and another"
    lends = ("skin", "eyes", "freckles", "glasses", "facial hair", "mark")
    lends_face = hands_on = True
    contests = ("skin", "eyes")

    def lacks(self, reading: Reading, skeleton: bool) -> str:
        if reading.main is not None and reading.main.identity is not None:
            return ""
        return "No face is read in this picture, so it cannot lend one: choose a picture in which it is seen clearly."

    def alike(self, a: Reading, b: Reading) -> float | None:
        found = drift(b.main, [a.main])
        return None if found is None else 0.5**found.distance


ROLE = Face()
