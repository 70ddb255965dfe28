"""Colours by their names: any of about a thousand, with words like "dark" or "dusty" before it, for cloth, hair, eyes and skin.

Names come from the illustrator's own palette, then from two free tables (`tables/colours.txt`). Of hair, eyes and skin the usual
words mean what they mean of people: red hair is copper, dark skin is brown.
"""

from __future__ import annotations

import re
from functools import cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.vocabulary import colours as palette
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab

Lab = NDArray[np.float32]
_TABLE = Path(__file__).parent / "tables/colours.txt"
# What a word before a colour does: lightness added, factor of the chroma. Fitted on the names of the survey that have such words.
_BEFORE: dict[str, tuple[float, float]] = {
    "dark": (-21, 0.80),
    "light": (20, 0.84),
    "pale": (17, 0.59),
    "soft": (10, 0.75),
    "deep": (-23, 0.78),
    "rich": (-12, 0.95),
    "dusty": (0, 0.52),
    "dull": (0, 0.59),
    "muted": (0, 0.59),
    "pastel": (12, 0.67),
    "faded": (5, 0.47),
    "washed-out": (8, 0.45),
    "greyish": (11, 0.37),
    "grayish": (11, 0.37),
    "bright": (0, 1.0),
    "vivid": (0, 1.0),
    "warm": (0, 1.0),
    "strong": (0, 1.0),
}
_DARKEST, _LIGHTEST = 8.0, 97.0  # of cloth, in Lab: beyond them no fold is seen
_OTHER_NAMES = {
    "golden": "gold",
    "blonde": "blond",
    "silvery": "silver",
    "terra cotta": "terracotta",
    "snow white": "white",
    "jet black": "black",
}
_OWN_WORDS = {"blond": "e3c27a", "auburn": "7a2f1d", "ginger": "cf7a3a", "brunette": "5e3627", "flaxen": "ecd9a8", "raven": "1d1b22",
              "jet": "1b1a1f", "coal black": "1b1a1f", "copper": "b5562b", "copper red": "b04a26", "rust red": "a8432a", "ash": "b2beb5",
              "platinum": "e5e4e2", "pearl": "eae0c8", "ebony": "3b3234", "snow": "fbfbfb", "linen": "e9dcc4", "soot": "403a3d", "lichen": "a6b58a", "straw": "dcc27a"}  # fmt: skip
_HAIR = {"red": "copper", "copper": "copper", "auburn": "copper", "copper red": "copper", "rust": "copper", "rust red": "copper",
         "ginger": "ginger", "orange": "ginger", "strawberry blond": "ginger", "amber": "ginger", "blond": "straw", "golden": "straw", "gold": "straw",
         "yellow": "straw", "honey": "straw", "straw": "straw", "fair": "flaxen", "flaxen": "flaxen", "light": "flaxen", "platinum": "flaxen",
         "platinum blond": "flaxen", "ash blond": "flaxen", "silver blond": "flaxen", "cream": "flaxen", "sand": "flaxen", "sandy": "straw",
         "brown": "walnut", "walnut": "walnut", "hazel": "walnut", "light brown": "walnut", "brunette": "chestnut", "chestnut": "chestnut",
         "dark brown": "chestnut", "dark": "soot", "black": "ink", "jet black": "ink", "jet": "ink", "raven": "ink", "raven black": "ink", "ink": "ink",
         "coal black": "ink", "charcoal": "soot", "soot": "soot", "grey": "silver", "silver": "silver", "steel grey": "silver", "slate": "soot",
         "salt and pepper": "silver", "white": "white", "snow white": "white", "plum": "plum", "teal": "teal"}  # fmt: skip
_EYES = {"green": "green", "emerald": "green", "moss": "green", "olive": "green", "leaf": "green", "blue": "sky", "sky": "sky", "sky blue": "sky", "light blue": "sky",
         "pale blue": "sky", "ice blue": "sky", "dark blue": "slate", "navy": "slate", "grey": "slate", "slate": "slate", "steel grey": "slate",
         "silver": "slate", "brown": "hazel", "hazel": "hazel", "light brown": "amber", "walnut": "hazel", "dark brown": "umber", "umber": "umber",
         "chestnut": "umber", "black": "umber", "dark": "umber", "amber": "amber", "honey": "amber", "golden": "amber", "gold": "amber",
         "copper": "amber", "violet": "violet", "purple": "violet", "lilac": "violet", "lavender": "violet", "sea": "sea", "sea green": "sea",
         "teal": "sea", "turquoise": "sea", "blue green": "sea", "pale green": "sea"}  # fmt: skip
_SKIN = {"pale": "porcelain", "white": "porcelain", "porcelain": "porcelain", "ivory": "porcelain", "fair": "peach", "light": "peach", "rosy": "peach",
         "peach": "peach", "pink": "peach", "olive": "olive", "tan": "honey", "tanned": "honey", "honey": "honey", "golden": "honey",
         "light brown": "bronze", "brown": "bronze", "bronze": "bronze", "deep brown": "chestnut", "chestnut": "chestnut",
         "dark": "umber", "dark brown": "umber", "umber": "umber", "black": "ebony", "ebony": "ebony", "very dark": "ebony"}  # fmt: skip


def names() -> list[str]:
    """All names of colours, without shades."""
    return sorted(_names())


def named(name: str) -> str:
    """ "#rrggbb" of a name, as the tables have it: cloth is kept from the ends of black and white, where no fold is seen.

    Raises KeyError where there is no such name.
    """
    return f"#{_names()[name]}"


@cache
def _names() -> dict[str, str]:
    rows = [line.split(" ", 1) for line in _TABLE.read_text().splitlines() if not line.startswith("#")]
    out = {name: digits for digits, name in rows} | _OWN_WORDS
    for table in (palette.CLOTH, palette.MATERIALS):
        out |= {name: _digits(colour) for name, colour in table.items() if name not in _OWN_WORDS}
    return out


def is_colour(words: str) -> bool:
    """Whether words name a colour, alone or with a shade before it."""
    return _found(plain(words)) is not None


def is_of_people(words: str) -> bool:
    """Whether words name a colour of hair, eyes or skin, though they may be a thing elsewhere: walnut, honey."""
    return any(words in table for table in (_HAIR, _EYES, _SKIN, palette.HAIR_COLOURS, palette.EYE_COLOURS, palette.SKINS))


def plain(words: str) -> str:
    """A colour's words as the tables have them: lower case, no hyphens, "grey"."""
    words = re.sub(r"[-‐ ]+", " ", words.lower()).replace("gray", "grey").strip()
    words = re.sub(r" (?:coloured|colored)$", "", words)
    for other, usual in _OTHER_NAMES.items():
        words = re.sub(rf"\b{other}\b", usual, words)
    return words


def cloth(words: str) -> str | None:
    """ "#" and six digits for cloth and things of this colour; None where it is none."""
    found = _found(plain(words))
    if found is None:
        return None
    lab = rgb_to_lab(np.asarray(palette.rgb(found), np.float32))
    if _DARKEST <= lab[0] <= _LIGHTEST:
        return f"#{found}"
    lab[0] = np.clip(lab[0], _DARKEST, _LIGHTEST)
    return f"#{_digits(lab_to_rgb(lab))}"


def hair(words: str) -> str | None:
    """A colour of hair: a name of the illustrator's, or "#" and six digits."""
    return _of_people(words, _HAIR, palette.HAIR_COLOURS)


def eyes(words: str) -> str | None:
    return _of_people(words, _EYES, palette.EYE_COLOURS)


def skin(words: str) -> str | None:
    return _of_people(words, _SKIN, palette.SKINS)


def nearest(tone: str, table: dict[str, NDArray[np.float64]]) -> str:
    """The name of a table that comes nearest to a tone, which is a name of it or "#" and six digits."""
    if not tone.startswith("#"):
        return tone
    wanted = rgb_to_lab(np.asarray(palette.rgb(tone[1:]), np.float32))
    return min(table, key=lambda name: float(np.square(rgb_to_lab(np.asarray(table[name], np.float32)) - wanted).sum()))


def _of_people(words: str, usual: dict[str, str], own: dict[str, NDArray[np.float64]]) -> str | None:
    name = plain(words)
    for said in (words.lower().replace("-", " ").replace("blonde", "blond"), name):
        if said in own or said in usual:
            return said if said in own else usual[said]
    first, _, rest = name.partition(" ")
    if first in _BEFORE and (rest in usual or rest in own):
        base = rest if rest in own else usual[rest]
        return f"#{_shaded(_digits(own[base]), first)}" if _BEFORE[first] != (0, 1.0) else base
    return cloth(words)


def _found(name: str) -> str | None:
    table = _names()
    if name in table:
        return table[name]
    first, _, rest = name.partition(" ")
    if rest and first in _BEFORE and (below := _found(rest)) is not None:
        return _shaded(below, first)
    last = name.rpartition(" ")[2]
    return table.get(last) if rest and first in table else None


def _shaded(digits: str, shade: str) -> str:
    lightness, chroma = _BEFORE[shade]
    if (lightness, chroma) == (0, 1.0):
        return digits
    lab = rgb_to_lab(np.asarray(palette.rgb(digits), np.float32))
    return _digits(lab_to_rgb(np.array([np.clip(lab[0] + lightness, 4, 97), lab[1] * chroma, lab[2] * chroma], np.float32)))


def _digits(rgb: NDArray[np.floating]) -> str:
    return "".join(f"{round(255 * float(c)):02x}" for c in np.clip(rgb, 0, 1))
