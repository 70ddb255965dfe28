"""Named colours. All values are sRGB in 0…1; adding a colour means adding a line."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Rgb = NDArray[np.float64]


def rgb(hexadecimal: str) -> Rgb:
    """'b5562b' → array([0.71, 0.34, 0.17])."""
    return np.array([int(hexadecimal[i : i + 2], 16) / 255 for i in (0, 2, 4)])


def named(table: dict[str, Rgb], name: str) -> Rgb:
    """A colour of a table by its name, or any colour as "#" and six hexadecimal digits.

    Raises KeyError where the table has no such name, ValueError where the digits are none.
    """
    return rgb(name[1:]) if name.startswith("#") else table[name]


def _table(**names: str) -> dict[str, Rgb]:
    return {name.replace("_", " "): rgb(value) for name, value in names.items()}


SKINS = _table(
    porcelain="f6d9c6", peach="eebf9f", olive="d3ab7c", honey="d9a074",
    bronze="b77a50", chestnut="9c6440", umber="8a5536", ebony="5d3826",
)  # fmt: skip

HAIR_COLOURS = _table(
    ink="2b2730", soot="403a3d", chestnut="5e3627", walnut="7a4f33", copper="b5562b", ginger="cf7a3a",
    straw="dcae62", flaxen="ecd9a8", silver="c3c5cc", white="eeece6", plum="54304f", teal="2f6a70",
)  # fmt: skip

EYE_COLOURS = _table(
    hazel="7d5a2d", green="4f7a46", sky="4a86b5", slate="56606f",
    umber="452a1c", amber="a8722a", violet="6f569b", sea="3f8a86",
)  # fmt: skip

CLOTH = _table(
    mustard="e0a33a", brick="b8483a", teal="2c7c7c", navy="2d3f66", cream="f1e4c8", moss="6d8045",
    rose="d9808a", plum="6b3f63", slate="5d6b7a", sky="86b4cc", rust="c26a36", charcoal="38363f",
    white="f4efe6", lilac="a493c4", leaf="4f8a4a", wine="7a2f3d", sand="cdb68a", brown="75503a",
)  # fmt: skip

_WHITEWASH, _PALER, _DARKER = rgb("f2f2f4"), 0.40, 0.66
for _name in ("mustard", "brick", "teal", "moss", "rose", "plum", "slate", "rust", "lilac", "leaf", "sand", "brown"):
    CLOTH[f"pale {_name}"] = CLOTH[_name] * (1 - _PALER) + _WHITEWASH * _PALER
for _name in ("mustard", "brick", "teal", "navy", "moss", "rose", "plum", "slate", "sky", "rust", "lilac", "leaf", "sand", "brown"):
    CLOTH[f"dark {_name}"] = CLOTH[_name] * _DARKER

# Materials that no outfit names: leather, linen, wood, metal.
MATERIALS = _table(
    leather="7a4a2e", linen="d9c9a6", wood="8a5a34", iron="3b3a40", brass="c8923f", tin="7fa3a0",
    glow="ffdf8a", paper="f0e4c8",
)  # fmt: skip
