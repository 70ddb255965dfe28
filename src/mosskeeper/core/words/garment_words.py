"""Garments and other things in words: which thing of a person or a picture a colour goes to, and which outfit a garment stands for."""

from __future__ import annotations

from functools import cache

from mosskeeper.core.illustrator.vocabulary.outfits import main_garment
from mosskeeper.core.words.lexicon import meanings

_WORN = {
    "headwear": "hat",
    "necklace": "necklace",
    "earrings": "earrings",
    "gloves": "gloves",
    "scarf": "scarf",
    "bag": "bag",
    "belt": "belt",
    "bow tie": "tie",
    "backpack": "bag",
    **{
        thing: thing for thing in ("sunglasses", "goggles", "eyepatch", "mask", "tie", "brooch", "bracelets", "wings", "tail", "face paint")
    },
    "fairy wings": "wings",
}
_COMPONENTS: dict[str, str] = {  # garments that are parts of outfits
    **dict.fromkeys(
        "boot shoe sandal slipper sneaker trainer heel clog loafer brogue moccasin pump wellie welly footwear".split(), "boots"
    ),
    **dict.fromkeys(
        ("rubber boots", "riding boots", "combat boots", "hiking boots", "ankle boots", "wellies", "wellington boots", "heels"), "boots"
    ),
    **dict.fromkeys(
        "trousers trouser pants pant jeans jean leggings legging slacks breeches chinos corduroys shorts tights".split(), "trousers"
    ),
    **dict.fromkeys("shirt blouse undershirt t-shirt vest tee chemise".split(), "shirt"),
    **dict.fromkeys(("collar", "sash", "apron", "robe", "cape", "cloak", "coat", "dress", "lining", "armour", "skirt", "veil"), ""),
    **dict.fromkeys("jumper sweater pullover hoodie cardigan jersey sweatshirt turtleneck knitwear".split(), "jumper"),
    **dict.fromkeys("frock gown sundress pinafore".split(), "dress"),
    **dict.fromkeys("jacket blazer parka anorak overcoat greatcoat".split(), "coat"),
    "hood": "cape",
    **dict.fromkeys("mitten glove".split(), "gloves"),
    **dict.fromkeys("shawl neckerchief muffler".split(), "scarf"),
    **dict.fromkeys("satchel handbag backpack rucksack purse".split(), "bag"),
    **dict.fromkeys("lip lipstick".split(), "lips"),
}
_TRIM = frozenset("trim edging border cuff lapel piping button hem stitching embroidery".split())
# Garments that no phrase of the lexicon has, and what is drawn for them.
_OUTFITS = {
    **dict.fromkeys(("hoodie", "cardigan", "sweatshirt", "turtleneck"), "knitted jumper"),
    "sundress": "garden dress",
    "pinafore": "garden dress",
}
_OUTER = (  # outfits from the innermost to the outermost: of two that are named, the outer one is drawn
    ("t-shirt and jeans", "t-shirt and shorts", "shirt and trousers", "leotard"),
    ("tunic", "blouse and skirt", "kilt"),
    ("knitted jumper",),
    ("jumper and skirt", "waistcoat"),
    ("garden dress", "ball gown", "nightshirt", "tutu", "sari", "wedding dress"),
    (
        "suit",
        "short jacket",
        "plate armour",
        "space suit",
        "cassock",
        "bathrobe",
        "festival coat",
        "travelling coat",
        "courier uniform",
        "bark armour",
        "ceremonial robe",
        "diver's suit",
        "beekeeper's veil",
        "rain overalls",
        "workshop apron",
    ),
    ("night cloak", "rain cape", "winter coat", "poncho"),
)


@cache
def thing_of(base: str) -> str:
    """The thing of `illustrator.description.TINTED` that a noun names, or "trim" or "companion"; "" where none is."""
    if base in _TRIM:
        return "trim"
    if base in _COMPONENTS:
        return _COMPONENTS[base] or base
    for attribute, value in meanings().get(base, ()):
        if attribute == "outfit":
            return main_garment(value)
        if attribute in _WORN:
            return _WORN[attribute]
        if attribute in ("prop", "companion"):
            return attribute
    return ""


def outfit_of(base: str) -> str:
    """The outfit that a garment stands for besides those of the lexicon; "" where there is none."""
    return _OUTFITS.get(base, "")


def outermost(outfits: list[str]) -> list[str]:
    """Those of the named outfits that are drawn: the outer ones."""
    rank = {name: i for i, names in enumerate(_OUTER) for name in names}
    highest = max((rank[name] for name in outfits), default=0)
    return [name for name in outfits if rank[name] == highest]
