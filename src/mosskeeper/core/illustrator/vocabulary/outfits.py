"""Outfits: lists of garment components.

A component is (method of the garment painter, arguments). The colours 'a' and 'b' are the outfit's own,
set by the description; 'b dark' is b in shade; other names are looked up in the colour tables.
"""

from __future__ import annotations

from typing import Any

Component = tuple[str, dict[str, Any]]

OUTFITS: dict[str, list[Component]] = {
    "rain cape": [
        ("trousers", {"colour": "charcoal", "fit": 1.1}),
        ("boots", {"colour": "b", "height": 0.62}),
        ("tunic", {"colour": "b dark", "length": 0.55, "neckline": False}),
        ("sleeves", {"colour": "b dark", "reach": 1.0}),
        ("cape", {"colour": "a", "hood": True, "length": 0.62}),
    ],
    "workshop apron": [
        ("trousers", {"colour": "b", "fit": 1.15}),
        ("boots", {"colour": "leather", "height": 0.3}),
        ("tunic", {"colour": "cream", "length": 0.12}),
        ("sleeves", {"colour": "cream", "reach": 0.55, "width": 1.3, "cuff": True}),
        ("apron", {"colour": "a"}),
        ("scarf", {"colour": "b"}),
    ],
    "festival coat": [
        ("trousers", {"colour": "linen", "fit": 0.95}),
        ("boots", {"colour": "charcoal", "height": 0.5}),
        ("tunic", {"colour": "cream", "length": 0.25}),
        ("coat", {"colour": "a", "trim": "b", "length": 0.95}),
        ("sleeves", {"colour": "a", "reach": 0.93, "width": 1.3, "trim": "b"}),
        ("collar", {"colour": "b"}),
    ],
    "night cloak": [
        ("trousers", {"colour": "charcoal"}),
        ("boots", {"colour": "leather", "height": 0.75}),
        ("tunic", {"colour": "b", "length": 0.6, "belt": "leather"}),
        ("sleeves", {"colour": "b", "reach": 0.95, "width": 1.05}),
        ("cloak", {"colour": "a", "lining": "b"}),
    ],
    "tunic": [
        ("trousers", {"colour": "b", "fit": 0.95}),
        ("boots", {"colour": "leather", "height": 0.42}),
        ("tunic", {"colour": "a", "length": 0.7, "belt": "leather", "trim": "b"}),
        ("sleeves", {"colour": "a", "reach": 0.9, "width": 1.1, "trim": "b"}),
    ],
    "garden dress": [
        ("boots", {"colour": "leather", "height": 0.35}),
        ("tunic", {"colour": "a", "length": 1.45, "belt": "leather", "trim": "b", "flare": 0.24}),
        ("sleeves", {"colour": "a", "reach": 0.4, "width": 1.5, "cuff": True}),
        ("collar", {"colour": "b"}),
    ],
    "knitted jumper": [
        ("trousers", {"colour": "b", "fit": 1.05}),
        ("boots", {"colour": "leather", "height": 0.35}),
        ("tunic", {"colour": "a", "length": 0.18, "ribbed": True}),
        ("sleeves", {"colour": "a", "reach": 0.95, "width": 1.25, "cuff": True}),
    ],
    "jumper and skirt": [
        ("boots", {"colour": "leather", "height": 0.5}),
        ("tunic", {"colour": "b", "length": 1.0, "flare": 0.2, "neckline": False}),
        ("tunic", {"colour": "a", "length": 0.12, "ribbed": True}),
        ("sleeves", {"colour": "a", "reach": 0.95, "width": 1.2, "cuff": True}),
    ],
    "travelling coat": [
        ("trousers", {"colour": "charcoal"}),
        ("boots", {"colour": "leather", "height": 0.7}),
        ("tunic", {"colour": "linen", "length": 0.2}),
        ("coat", {"colour": "a", "trim": "b", "length": 1.45}),
        ("sleeves", {"colour": "a", "reach": 0.95, "width": 1.15, "trim": "b"}),
        ("scarf", {"colour": "b"}),
        ("satchel", {"colour": "leather"}),
    ],
    "ceremonial robe": [
        ("boots", {"colour": "b", "height": 0.25}),
        ("tunic", {"colour": "a", "length": 1.85, "flare": 0.16, "trim": "b"}),
        ("sleeves", {"colour": "a", "reach": 0.85, "width": 1.75, "trim": "b"}),
        ("sash", {"colour": "b"}),
        ("collar", {"colour": "b"}),
    ],
    "rain overalls": [
        ("tunic", {"colour": "b", "length": 0.1}),
        ("sleeves", {"colour": "b", "reach": 0.95, "width": 1.15}),
        ("trousers", {"colour": "a", "fit": 1.25}),
        ("boots", {"colour": "charcoal", "height": 0.55}),
        ("bib", {"colour": "a"}),
    ],
    "bark armour": [
        ("trousers", {"colour": "charcoal"}),
        ("boots", {"colour": "leather", "height": 0.8}),
        ("tunic", {"colour": "b", "length": 0.65, "neckline": False}),
        ("sleeves", {"colour": "b", "reach": 0.95}),
        ("plates", {"colour": "a"}),
    ],
    "ball gown": [
        ("boots", {"colour": "b", "height": 0.2}),
        ("tunic", {"colour": "a", "length": 1.9, "flare": 0.42, "trim": "b"}),
        ("sleeves", {"colour": "a", "reach": 0.26, "width": 1.6, "cuff": True}),
        ("sash", {"colour": "b"}),
    ],
    "nightshirt": [
        ("tunic", {"colour": "a", "length": 1.25, "flare": 0.12}),
        ("sleeves", {"colour": "a", "reach": 0.9, "width": 1.3, "cuff": True}),
        ("collar", {"colour": "b"}),
    ],
    "courier uniform": [
        ("trousers", {"colour": "b", "fit": 0.95}),
        ("boots", {"colour": "charcoal", "height": 0.6}),
        ("tunic", {"colour": "cream", "length": 0.2}),
        ("coat", {"colour": "a", "trim": "b", "length": 0.45}),
        ("sleeves", {"colour": "a", "reach": 0.95, "trim": "b"}),
        ("collar", {"colour": "b"}),
        ("satchel", {"colour": "leather"}),
    ],
    "diver's suit": [
        ("trousers", {"colour": "a", "fit": 1.35}),
        ("boots", {"colour": "iron", "height": 0.3}),
        ("tunic", {"colour": "a", "length": 0.1, "belt": "leather", "neckline": False}),
        ("sleeves", {"colour": "a", "reach": 0.98, "width": 1.3, "cuff": True}),
        ("neck_ring", {"colour": "brass"}),
    ],
    "beekeeper's veil": [
        ("trousers", {"colour": "linen", "fit": 1.2}),
        ("boots", {"colour": "leather", "height": 0.5}),
        ("tunic", {"colour": "a", "length": 0.6, "belt": "leather"}),
        ("sleeves", {"colour": "a", "reach": 0.98, "width": 1.3, "cuff": True}),
        ("scarf", {"colour": "b"}),
        ("veil_hat", {"colour": "sand"}),
    ],
}

# What nobody wears by chance, only where words or references name it.
NAMED: dict[str, list[Component]] = {
    "suit": [
        ("trousers", {"colour": "a", "fit": 0.98}),
        ("boots", {"colour": "charcoal", "height": 0.12}),
        ("tunic", {"colour": "white", "length": 0.06, "neckline": False}),
        ("coat", {"colour": "a", "trim": "a", "length": 0.34, "plain": True}),
        ("sleeves", {"colour": "a", "reach": 0.97, "width": 1.05}),
        ("collar", {"colour": "white"}),
    ],
    "waistcoat": [
        ("trousers", {"colour": "b", "fit": 0.98}),
        ("boots", {"colour": "leather", "height": 0.2}),
        ("sleeves", {"colour": "white", "reach": 0.95, "width": 1.2, "cuff": True}),
        ("tunic", {"colour": "white", "length": 0.05, "neckline": False}),
        ("coat", {"colour": "a", "trim": "a", "length": 0.06, "plain": True}),
        ("collar", {"colour": "white"}),
    ],
    "shirt and trousers": [
        ("trousers", {"colour": "b"}),
        ("boots", {"colour": "leather", "height": 0.22}),
        ("tunic", {"colour": "a", "length": 0.14, "neckline": False}),
        ("sleeves", {"colour": "a", "reach": 0.95, "width": 1.05, "cuff": True}),
        ("collar", {"colour": "a"}),
    ],
    "t-shirt and jeans": [
        ("trousers", {"colour": "b", "fit": 0.98}),
        ("boots", {"colour": "white", "height": 0.1}),
        ("tunic", {"colour": "a", "length": 0.12}),
        ("sleeves", {"colour": "a", "reach": 0.36, "width": 1.25}),
    ],
    "t-shirt and shorts": [
        ("trousers", {"colour": "b", "fit": 1.25, "reach": 0.8}),
        ("boots", {"colour": "white", "height": 0.1}),
        ("tunic", {"colour": "a", "length": 0.12}),
        ("sleeves", {"colour": "a", "reach": 0.36, "width": 1.25}),
    ],
    "short jacket": [
        ("trousers", {"colour": "b", "fit": 0.96}),
        ("boots", {"colour": "charcoal", "height": 0.35}),
        ("tunic", {"colour": "white", "length": 0.12}),
        ("coat", {"colour": "a", "trim": "a", "length": 0.08, "plain": True}),
        ("sleeves", {"colour": "a", "reach": 0.97, "width": 1.2}),
        ("collar", {"colour": "a"}),
    ],
    "winter coat": [
        ("trousers", {"colour": "charcoal"}),
        ("boots", {"colour": "leather", "height": 0.55}),
        ("coat", {"colour": "a", "trim": "b", "length": 0.95, "plain": True}),
        ("tunic", {"colour": "a", "length": 0.2, "neckline": False}),
        ("sleeves", {"colour": "a", "reach": 0.97, "width": 1.45, "cuff": True}),
        ("scarf", {"colour": "b"}),
    ],
    "plate armour": [
        ("trousers", {"colour": "a", "fit": 1.05}),
        ("boots", {"colour": "a", "height": 0.85}),
        ("tunic", {"colour": "b", "length": 0.6, "neckline": False, "belt": "leather"}),
        ("sleeves", {"colour": "a", "reach": 1.0, "width": 1.1, "trim": "a"}),
        ("plates", {"colour": "a"}),
    ],
    "space suit": [
        ("trousers", {"colour": "a", "fit": 1.4}),
        ("boots", {"colour": "slate", "height": 0.4}),
        ("tunic", {"colour": "a", "length": 0.1, "belt": "slate", "neckline": False}),
        ("sleeves", {"colour": "a", "reach": 0.98, "width": 1.45, "cuff": True}),
        ("neck_ring", {"colour": "b"}),
    ],
    "bathrobe": [
        ("boots", {"colour": "b", "height": 0.05}),
        ("tunic", {"colour": "a", "length": 1.2, "flare": 0.14}),
        ("sleeves", {"colour": "a", "reach": 0.9, "width": 1.5, "cuff": True}),
        ("sash", {"colour": "b"}),
        ("collar", {"colour": "b"}),
    ],
    "cassock": [
        ("boots", {"colour": "charcoal", "height": 0.2}),
        ("tunic", {"colour": "a", "length": 1.85, "flare": 0.12, "neckline": False}),
        ("sleeves", {"colour": "a", "reach": 0.97, "width": 1.15}),
        ("collar", {"colour": "b"}),
    ],
    "tutu": [
        ("boots", {"colour": "b", "height": 0.25}),
        ("tunic", {"colour": "a", "length": 0.42, "flare": 0.75}),
        ("sleeves", {"colour": "a", "reach": 0.16, "width": 1.3}),
        ("sash", {"colour": "b"}),
    ],
    "kilt": [
        ("boots", {"colour": "charcoal", "height": 0.5}),
        ("tunic", {"colour": "a", "length": 0.72, "flare": 0.16, "neckline": False}),
        ("tunic", {"colour": "b", "length": 0.08, "belt": "leather"}),
        ("sleeves", {"colour": "b", "reach": 0.95}),
    ],
    "poncho": [
        ("trousers", {"colour": "b"}),
        ("boots", {"colour": "leather", "height": 0.45}),
        ("tunic", {"colour": "linen", "length": 0.2}),
        ("sleeves", {"colour": "linen", "reach": 0.95}),
        ("cape", {"colour": "a", "hood": False, "length": 0.5}),
    ],
    "wedding dress": [
        ("boots", {"colour": "b", "height": 0.1}),
        ("tunic", {"colour": "a", "length": 1.95, "flare": 0.55, "trim": "b"}),
        ("sleeves", {"colour": "a", "reach": 0.9, "width": 0.95, "trim": "b"}),
        ("sash", {"colour": "b"}),
    ],
    "blouse and skirt": [
        ("boots", {"colour": "leather", "height": 0.2}),
        ("tunic", {"colour": "b", "length": 1.05, "flare": 0.2, "neckline": False}),
        ("tunic", {"colour": "a", "length": 0.06}),
        ("sleeves", {"colour": "a", "reach": 0.9, "width": 1.35, "cuff": True}),
        ("collar", {"colour": "a"}),
    ],
    "sari": [
        ("boots", {"colour": "leather", "height": 0.05}),
        ("tunic", {"colour": "a", "length": 1.85, "flare": 0.14, "trim": "b"}),
        ("sleeves", {"colour": "b", "reach": 0.36, "width": 1.05}),
        ("sash", {"colour": "b"}),
        ("satchel", {"colour": "a"}),
    ],
    "leotard": [
        ("trousers", {"colour": "b", "fit": 0.86}),
        ("boots", {"colour": "b", "height": 0.05}),
        ("tunic", {"colour": "a", "length": 0.02}),
        ("sleeves", {"colour": "a", "reach": 0.95, "width": 0.9}),
    ],
}
USUAL = tuple(OUTFITS)  # what somebody may wear by chance
OUTFITS |= NAMED

# The colours an outfit has when nothing else is asked.
USUAL_COLOURS: dict[str, tuple[str, str]] = {
    "rain cape": ("mustard", "teal"),
    "workshop apron": ("brown", "slate"),
    "festival coat": ("navy", "cream"),
    "night cloak": ("plum", "teal"),
    "tunic": ("brick", "teal"),
    "garden dress": ("moss", "cream"),
    "knitted jumper": ("leaf", "charcoal"),
    "jumper and skirt": ("cream", "wine"),
    "travelling coat": ("slate", "rust"),
    "ceremonial robe": ("wine", "mustard"),
    "rain overalls": ("mustard", "navy"),
    "bark armour": ("brown", "moss"),
    "ball gown": ("sky", "white"),
    "nightshirt": ("white", "sky"),
    "courier uniform": ("teal", "mustard"),
    "diver's suit": ("sand", "charcoal"),
    "beekeeper's veil": ("white", "moss"),
    "suit": ("charcoal", "wine"),
    "waistcoat": ("brown", "charcoal"),
    "shirt and trousers": ("white", "slate"),
    "t-shirt and jeans": ("brick", "navy"),
    "t-shirt and shorts": ("sky", "sand"),
    "short jacket": ("charcoal", "navy"),
    "winter coat": ("rust", "cream"),
    "plate armour": ("slate", "wine"),
    "space suit": ("white", "slate"),
    "bathrobe": ("sky", "white"),
    "cassock": ("charcoal", "white"),
    "tutu": ("rose", "white"),
    "kilt": ("moss", "cream"),
    "poncho": ("rust", "brown"),
    "wedding dress": ("white", "cream"),
    "blouse and skirt": ("white", "navy"),
    "sari": ("wine", "mustard"),
    "leotard": ("plum", "charcoal"),
}

# What an artist calls the components of each outfit, in their order: colours that are said of a garment go to these.
GARMENTS: dict[str, tuple[str, ...]] = {
    "rain cape": ("trousers", "boots", "shirt", "shirt", "cape"),
    "workshop apron": ("trousers", "boots", "shirt", "shirt", "apron", "scarf"),
    "festival coat": ("trousers", "boots", "shirt", "coat", "coat", "collar"),
    "night cloak": ("trousers", "boots", "shirt", "shirt", "cloak"),
    "tunic": ("trousers", "boots", "shirt", "shirt"),
    "garden dress": ("boots", "dress", "dress", "collar"),
    "knitted jumper": ("trousers", "boots", "jumper", "jumper"),
    "jumper and skirt": ("boots", "skirt", "jumper", "jumper"),
    "travelling coat": ("trousers", "boots", "shirt", "coat", "coat", "scarf", "bag"),
    "ceremonial robe": ("boots", "robe", "robe", "sash", "collar"),
    "rain overalls": ("shirt", "shirt", "overalls", "boots", "overalls"),
    "bark armour": ("trousers", "boots", "shirt", "shirt", "armour"),
    "ball gown": ("boots", "dress", "dress", "sash"),
    "nightshirt": ("nightshirt", "nightshirt", "collar"),
    "courier uniform": ("trousers", "boots", "shirt", "coat", "coat", "collar", "bag"),
    "diver's suit": ("suit", "boots", "suit", "suit", "ring"),
    "beekeeper's veil": ("trousers", "boots", "suit", "suit", "scarf", "veil"),
    "suit": ("suit", "boots", "shirt", "suit", "suit", "collar"),
    "waistcoat": ("trousers", "boots", "shirt", "shirt", "waistcoat", "collar"),
    "shirt and trousers": ("trousers", "boots", "shirt", "shirt", "collar"),
    "t-shirt and jeans": ("trousers", "boots", "shirt", "shirt"),
    "t-shirt and shorts": ("trousers", "boots", "shirt", "shirt"),
    "short jacket": ("trousers", "boots", "shirt", "coat", "coat", "collar"),
    "winter coat": ("trousers", "boots", "coat", "coat", "coat", "scarf"),
    "plate armour": ("armour", "armour", "shirt", "armour", "armour"),
    "space suit": ("suit", "boots", "suit", "suit", "ring"),
    "bathrobe": ("boots", "robe", "robe", "sash", "collar"),
    "cassock": ("boots", "robe", "robe", "collar"),
    "tutu": ("boots", "dress", "dress", "sash"),
    "kilt": ("boots", "skirt", "shirt", "shirt"),
    "poncho": ("trousers", "boots", "shirt", "shirt", "cape"),
    "wedding dress": ("boots", "dress", "dress", "sash"),
    "blouse and skirt": ("boots", "skirt", "shirt", "shirt", "collar"),
    "sari": ("boots", "dress", "shirt", "sash", "bag"),
    "leotard": ("trousers", "boots", "suit", "suit"),
}


def main_garment(outfit: str) -> str:
    """The garment that has an outfit's first colour."""
    return next(g for g, (_, said) in zip(GARMENTS[outfit], OUTFITS[outfit], strict=True) if said["colour"] == "a")


PATTERNS = ("plain", "striped", "dotted", "checked", "embroidered")
WEAR = ("patched", "stained", "torn")  # states of cloth that only words name


def has_hood(outfit: str) -> bool:
    return any(arguments.get("hood") for _, arguments in OUTFITS[outfit])


def covers_shoulders(outfit: str) -> bool:
    """True where a cape lies over the arms."""
    return any(name == "cape" for name, _ in OUTFITS[outfit])
