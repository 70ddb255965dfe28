"""Words from a picture: four descriptions of what a reader saw, each with another thing in front.

Every phrase is one that `understand` reads back as the same attribute and value.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from mosskeeper.core.traits import TRAITS

Attributes = Mapping[str, Mapping[str, float]]
SURE_ENOUGH = 0.55  # confidence from which something is said
_SILENT = {
    "none",
    "no",
    "nobody",
    "nothing",
    "free",
    "level",
    "plain",
    "plain light",
    "average",
    "clear",
    "centre",
    "standing",
    "facing",
    "unknown",
}
_FORMS = {  # attribute → pattern; what is not here is said as it is called
    **{trait.name: trait.form for trait in TRAITS if trait.form not in ("", "a {}")},
    "view": "{} view",
    "gaze": "looking {}",
    "framing": "{} framing",
    "angle": "from {}",
}
_BEFORE = {
    **dict.fromkeys(("tide flats", "lamp quay", "festival bridge", "forest path", "library stair", "night train"), "on"),
    **dict.fromkeys(("canal market", "moss well"), "at"),
    "roof garden": "on",
    "morning": "in the",
}
_EXACT = {("eyes", "umber"): "dark brown eyes", ("eyes", "sea"): "sea green eyes"}  # where a value has a form of its own
_HAIR = {  # styles that are no plain adjective of hair
    "bob": "{}bob",
    "curls": "{}curls",
    "short curls": "{}short curls",
    "bun": "{}hair in a bun",
    "low bun": "{}hair in a low bun",
    "ponytail": "{}hair in a ponytail",
    "braid": "{}hair in a braid",
    "two braids": "{}hair in two braids",
    "crown braid": "{}hair in a crown braid",
    "long with fringe": "{}long hair with a fringe",
    "pixie": "{}pixie hair",
    "shaved": "shaved head",
}
_COLOURS = {"leaf": "leaf green", "pale leaf": "pale green", "dark leaf": "dark green"}


@dataclass(frozen=True, slots=True)
class DescribedWords:
    """One description: what stands in front, and the words."""

    about: str
    words: str


_SUBJECT = ("build", "skin", "eyes", "freckles", "glasses", "facial hair", "mark", "expression")
_CLOTHES = ("pattern", "headwear", "scarf", "necklace", "earrings", "gloves", "bag", "belt", "prop")
_WHERE = ("place", "time", "weather", "light", "companion")


def located(attribute: str, value: str) -> str:
    """A place or a time of day with its preposition: the only table of them."""
    usual = "at" if attribute == "time" else "in"
    return f"{_BEFORE.get(value, usual)} {'' if attribute == 'time' else 'the '}{value}"


def phrase(attribute: str, value: str) -> str:
    """How a value of an attribute is said."""
    if (attribute, value) in _EXACT:
        return _EXACT[attribute, value]
    if value == "yes":
        return attribute
    value = _COLOURS.get(value, value) if attribute in ("colour", "trim") else value
    if attribute == "hair" and value in _HAIR:
        return _HAIR[value].format("")
    if attribute in ("place", "time"):
        return located(attribute, value)
    return _FORMS.get(attribute, "{}").format(value)


def describe(attributes: Attributes, palette: Sequence[str] = ()) -> list[DescribedWords]:
    """Four descriptions that differ in what they weigh.

    attributes : what a reader said, see `Reading`. palette : names of the main colours, the largest first.
    """
    seen = {name: value for name, value in ((name, _surest(values)) for name, values in attributes.items()) if value is not None}

    def say(*names: str) -> list[str]:
        return [phrase(name, seen[name]) for name in names if name in seen and seen[name] not in _SILENT]

    who = seen.get("subject", "")
    article = f"an {who}" if who[:1] in "aeiou" else f"a {who}"
    subject = [article] if who else []
    hair = _hair(seen)
    dress = _dress(seen)
    finish = say("finish")
    colours = [_COLOURS.get(name, name) for name in palette[:3]]
    out = [
        DescribedWords("the subject", ", ".join([*subject, *hair, *say(*_SUBJECT, "view"), *dress, *say("place")])),
        DescribedWords("the clothes", ", ".join([*dress, *say(*_CLOTHES, "pose"), *subject, *hair])),
        DescribedWords("place and light", ", ".join([*say(*_WHERE), *subject, *dress, *say("prop")])),
        DescribedWords("finish and palette", ", ".join([*finish, *colours, *say("light", "time", "place"), *subject])),
    ]
    return [one for one in out if one.words]


def _surest(values: Mapping[str, float]) -> str | None:
    if not values:
        return None
    best = max(values, key=lambda value: values[value])
    return best if values[best] >= SURE_ENOUGH else None


def _hair(seen: Mapping[str, str]) -> list[str]:
    colour, style = seen.get("hair colour", ""), seen.get("hair", "")
    if style in _HAIR:
        return [_HAIR[style].format(f"{colour} " if colour else "")]
    words = [word for word in (colour, style) if word]
    return [f"{' '.join(words)} hair"] if words else []


def _dress(seen: Mapping[str, str]) -> list[str]:
    if "outfit" not in seen:
        return []
    colour, trim = (_COLOURS.get(seen.get(name, ""), seen.get(name, "")) for name in ("colour", "trim"))
    worn = " ".join(word for word in (colour, seen["outfit"]) if word)
    article = "an" if worn[0] in "aeiou" else "a"
    return [f"wearing {article} {worn}" + (f" with {trim} trim" if trim and trim != colour else "")]
