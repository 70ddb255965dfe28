"""How long words may be, and what may stand in them: one set of limits for all that comes in.

They fit together: name, traits, outfit and scene, each as long as it may be, make given words that a recipe takes.
"""

from __future__ import annotations

import re

from mosskeeper.core.errors import ArtistError

NAME = 160
CUE_NAME = 120
TRAITS = 1000
OUTFIT = 1000
SCENE = 1000
SUMMARY = 4000
GIVEN = NAME + TRAITS + OUTFIT + SCENE + 40  # with what joins them
WORDS = 2000
WITHOUT = 1000
PHRASE = 120
TAG = 40
NAMED_SHAPES = 40
FOLDER = 120
_UNSTORABLE = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ud800-\udfff]")


def storable(value: str) -> str:
    """The value itself.

    Raises
    ------
    ValueError
        where it holds a control character or half of a pair: neither is a letter, and PostgreSQL takes no NUL.
    """
    found = _UNSTORABLE.search(value)
    if found is not None:
        raise ValueError(f"it holds a control character (U+{ord(found[0]):04X}), which cannot be kept: take it out")
    return value


def text(value: str, label: str, field: str, most: int, needed: bool = False) -> str:
    """A text that came in, without white space around it.

    Raises
    ------
    ArtistError
        where it is too long, empty although it is needed, or holds what cannot be stored; the sentence says which.
    """
    try:
        value = storable(value).strip()
    except ValueError as error:
        raise ArtistError(f"{label}: {error}.", field) from None
    if needed and not value:
        raise ArtistError(f"{label} is missing: write one.", field)
    if len(value) > most:
        raise ArtistError(f"{label} has {len(value)} characters; at most {most} are possible. Shorten it.", field)
    return value
