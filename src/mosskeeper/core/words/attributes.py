"""The attributes of a picture that words and references can speak about: their values and priors.

Values come from the illustrator's vocabularies, so a new outfit or place is known here at once.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from mosskeeper.core.illustrator import beards, headwear, headwear_more, places, props
from mosskeeper.core.illustrator.camera import FRAMINGS, SIDES
from mosskeeper.core.illustrator.companions import COMPANIONS
from mosskeeper.core.illustrator.hair import USUAL_STYLES
from mosskeeper.core.illustrator.hair_more import MORE_STYLES
from mosskeeper.core.illustrator.objects import held
from mosskeeper.core.illustrator.skeleton import ANGLES, GAZES, VIEWS
from mosskeeper.core.illustrator.vocabulary import outfits, people, poses
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH, EYE_COLOURS, HAIR_COLOURS, SKINS
from mosskeeper.core.illustrator.vocabulary.finishes import FINISHES
from mosskeeper.core.illustrator.vocabulary.light import MOODS, TIMES, WEATHERS
from mosskeeper.core.illustrator.vocabulary.outfits import PATTERNS, WEAR
from mosskeeper.core.illustrator.vocabulary.people import BUILDS, FIGURES, SUBJECTS
from mosskeeper.core.traits import NAMED_WORN, USUAL_WORN


@dataclass(frozen=True, slots=True)
class Attribute:
    """The values of an attribute.

    Attributes
    ----------
    values : those that a picture may have by chance; the reader knows them.
    prior : their relative weights; a value not named counts 1.
    named : further values, which a picture has only where words or references name them.
    """

    values: tuple[str, ...]
    prior: dict[str, float] = field(default_factory=dict)
    named: tuple[str, ...] = ()

    @property
    def every(self) -> tuple[str, ...]:
        return (*self.values, *self.named)


_NO_YES = ("no", "yes")
_SHADES = {name: 0.25 for name in CLOTH if name.startswith(("pale ", "dark "))}

ATTRIBUTES: dict[str, Attribute] = {
    "subject": Attribute(tuple(SUBJECTS)),
    "build": Attribute(tuple(BUILDS), {"average": 12.0}),
    "skin": Attribute(tuple(SKINS)),
    "hair": Attribute(USUAL_STYLES, named=tuple(MORE_STYLES)),
    "hair colour": Attribute(tuple(HAIR_COLOURS), {"plum": 0.3, "teal": 0.3}),
    "eyes": Attribute(tuple(EYE_COLOURS), {"violet": 0.3}),
    "freckles": Attribute(_NO_YES, {"no": 5.0}),
    "glasses": Attribute(_NO_YES, {"no": 9.0}),
    "facial hair": Attribute(beards.USUAL, {"none": 5.0}, beards.NAMED),
    "mark": Attribute(("none", "scar", "mole"), {"none": 36.0}),
    "headwear": Attribute(headwear.USUAL, {"none": 36.0}, tuple(headwear_more.MORE)),
    "expression": Attribute(people.USUAL_EXPRESSIONS, {"calm": 4.0}, tuple(people.NAMED_EXPRESSIONS)),
    "outfit": Attribute(outfits.USUAL, named=tuple(outfits.NAMED)),
    "pattern": Attribute(PATTERNS, {"plain": 36.0}, WEAR),
    "colour": Attribute(tuple(CLOTH), _SHADES),
    "trim": Attribute(tuple(CLOTH), _SHADES),
    **{thing: Attribute(_NO_YES, {"no": 60.0}) for thing in USUAL_WORN},
    **{thing: Attribute(("no",), named=("yes",)) for thing in NAMED_WORN},
    "prop": Attribute(props.USUAL, {"nothing": 150.0}, tuple(held.HELD)),
    "companion": Attribute(tuple(COMPANIONS), {"nobody": 150.0}),
    "place": Attribute(places.USUAL, named=tuple(places.NAMED)),
    "time": Attribute(tuple(TIMES)),
    "weather": Attribute(WEATHERS, {"clear": 14.0, "storm": 0.6}),
    "light": Attribute(tuple(MOODS), {"plain light": 45.0}),
    "pose": Attribute(poses.USUAL, {"standing": 3.0, "facing": 2.0, "kneeling": 0.6, "crouching": 0.3, "bowing": 0.4}, tuple(poses.NAMED)),
    "view": Attribute(VIEWS, {"free": 40.0}),
    "gaze": Attribute(GAZES, {"level": 36.0}),
    "turned": Attribute(("free", "left", "right"), {"free": 60.0}),
    "hand": Attribute(("free", "left", "right", "both"), {"free": 200.0}),
    "side": Attribute(SIDES, {"centre": 30.0}),
    "angle": Attribute(ANGLES, {"level": 40.0}),
    "framing": Attribute(FRAMINGS, {"half": 2.0, "close": 0.4, "wide": 0.4}),
    "finish": Attribute(tuple(FINISHES), {"gouache": 60.0}),
    "figure": Attribute(FIGURES[:1], named=FIGURES[1:]),
}

# Attributes of the whole picture; all others belong to a person.
OF_PICTURE = ("place", "time", "weather", "light", "framing", "angle", "finish", "figure", "companion")
