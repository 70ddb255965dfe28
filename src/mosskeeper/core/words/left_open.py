"""What a prompt leaves open, so that each take chooses it anew; and how what one take chose is said."""

from __future__ import annotations

from collections.abc import Collection

from mosskeeper.core.illustrator.description import Description
from mosskeeper.core.traits import BY_NAME, value_in
from mosskeeper.core.words.describe import phrase
from mosskeeper.core.words.understand import Understanding

# In the order in which an artist would decide them, with how they are called.
_NAMES = {
    "subject": "who",
    "hair": "hair",
    "outfit": "clothes",
    "pose": "pose",
    "expression": "expression",
    "place": "place",
    "time": "time of day",
    "framing": "framing",
}
_OF_LAYOUT = ("pose", "framing")


def left_open(said: Understanding, lent: Collection[str]) -> list[str]:
    """The attributes that neither words nor what `lent` names (attributes of references) decide."""
    decided = {*said.wanted, *lent, *(("place",) if "background" in said.tones else ())}
    return [name for name in _NAMES if name not in decided]


def called(attribute: str) -> str:
    """How an attribute is called where it is told that it is open."""
    return _NAMES[attribute]


def chosen(description: Description, attributes: Collection[str]) -> list[str]:
    """Words for what a picture shows of these attributes, of its first figure and its place."""
    out = []
    for name in attributes:
        value = getattr(description.layout, name) if name in _OF_LAYOUT else value_in(description, BY_NAME[name])
        out.append(phrase(name, value))
    return out
