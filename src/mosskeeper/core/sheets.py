"""Sheets of a character: one picture for each expression, turn, pose or light, all else fixed.

A sheet is a sweep: the words that all cells share, and along its dial the phrase that each cell says besides.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from mosskeeper.core.dials import SAID, SAID_TOO
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.sweep import Dial

MOST_OWN = 24  # phrases of the artist's own on one sheet


@dataclass(frozen=True, slots=True)
class SheetKind:
    """A kind of sheet.

    words : of all cells. phrases : what each cell says besides; of outfits they come from the wardrobe. down : what is said along a
    second dial, down the sheet. about : what it shows, for its button.
    """

    name: str
    title: str
    words: str
    phrases: tuple[str, ...] = ()
    down: tuple[str, ...] = ()
    about: str = ""


_PLAIN = "in the centre, plain background"
_VIEWS = ("seen from the front", "three-quarter view", "in profile, facing left")
KINDS: dict[str, SheetKind] = {
    kind.name: kind
    for kind in (
        SheetKind(
            "expressions",
            "Expressions",
            f"head and shoulders, seen from the front, {_PLAIN}",
            ("calm", "joyful", "laughing", "sad", "angry", "surprised", "afraid", "thoughtful", "proud", "confused", "sleepy", "shouting"),
            about="one portrait for each expression",
        ),
        SheetKind(
            "turns",
            "Turns",
            f"head and shoulders, calm, {_PLAIN}",
            (
                "seen from the front",
                "three-quarter view, facing left",
                "three-quarter view, facing right",
                "in profile, facing left",
                "in profile, facing right",
                "seen from above",
                "seen from below",
            ),
            about="the head from all sides",
        ),
        SheetKind(
            "outfits", "Outfits", f"full figure, standing, {_PLAIN}", down=_VIEWS, about="everything in the wardrobe, from three sides"
        ),
        SheetKind(
            "poses",
            "Poses",
            f"full figure, {_PLAIN}",
            (
                "standing",
                "walking",
                "running",
                "sitting",
                "kneeling",
                "crouching",
                "arms crossed",
                "hands on hips",
                "waving",
                "pointing",
                "dancing",
                "leaping",
            ),
            about="the whole figure, acting",
        ),
        SheetKind(
            "hands",
            "Hands and props",
            f"half figure, {_PLAIN}",
            (
                "holding a lantern",
                "holding a letter",
                "holding a cup",
                "holding a basket",
                "holding a book",
                "holding a rose",
                "pointing",
                "arms crossed",
            ),
            about="what hands hold",
        ),
        SheetKind(
            "light",
            "Light",
            "head and shoulders, three-quarter view, in a meadow",
            ("at dawn", "at noon", "at dusk", "at night, moonlight", "at night, lantern light", "back light"),
            about="one portrait in six lights",
        ),
    )
}


def kind_called(name: str) -> SheetKind:
    """Raises ArtistError where there is no such kind of sheet."""
    if name not in KINDS:
        raise ArtistError("There is no such sheet. Choose one of: " + ", ".join(KINDS) + ".", "sheet")
    return KINDS[name]


def dials(kind: SheetKind, wardrobe: Sequence[str] = (), own: str = "") -> tuple[Dial, ...]:
    """The dials of a sheet.

    Parameters
    ----------
    wardrobe : the words of the character's outfits.
    own : further phrases of the artist, one a line.

    Raises
    ------
    ArtistError
        where there is nothing to show along the sheet.
    """
    added = [line for line in (" ".join(line.split())[:120] for line in own.splitlines()) if line]
    if len(added) > MOST_OWN:
        raise ArtistError(f"A sheet takes at most {MOST_OWN} phrases of your own.", "own")
    worn = tuple(f"in {words}" for words in wardrobe) if not kind.phrases else ()
    along = tuple(dict.fromkeys((*kind.phrases, *worn, *added)))
    if not along:
        raise ArtistError("The wardrobe is empty. Add an outfit first, then make the sheet of outfits.", "sheet")
    first = Dial(name=SAID, values=along)
    return (first, Dial(name=SAID_TOO, values=kind.down)) if kind.down else (first,)
