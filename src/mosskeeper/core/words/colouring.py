"""Colours in a prompt: each goes to the thing that it is bound to, as a colour, not as the nearest of a few."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.vocabulary.colours import CLOTH, EYE_COLOURS, HAIR_COLOURS, SKINS
from mosskeeper.core.words import colours
from mosskeeper.core.words.garment_words import thing_of
from mosskeeper.core.words.grammar import tags
from mosskeeper.core.words.grammar.bindings import OF_PICTURE, Parse
from mosskeeper.core.words.grammar.tags import NOUNS
from mosskeeper.core.words.hair_words import HAIR_NOUNS
from mosskeeper.core.words.lexicon import meanings
from mosskeeper.core.words.thing_words import object_called

_BEARDS = frozenset("beard moustache mustache stubble goatee whisker sideburn".split())
_EYES = frozenset(("eye", "iris", "gaze"))
_SKIN = frozenset(("skin", "complexion"))
_OF_HAIR = frozenset(  # qualities that are colours of hair where they are said of a person
    "blond blonde ginger brunette auburn flaxen grey-haired red-haired fair-haired".split()
)
_OF_PEOPLE = frozenset("black white brown pale tan tanned bronze olive swarthy pallid fair ebony".split())  # of a person: the skin
_SKIN_WORDS = {
    "swarthy": "olive",
    "pallid": "pale",
    "sallow": "olive",
    "ruddy": "rosy",
    "ashen": "pale",
    "sunburnt": "rosy",
    "freckled": "fair",
}
_TONES = frozenset("dark light fair pale tanned rosy ruddy golden warm".split())  # qualities that are colours of hair, skin and eyes
_BARE = {"dark": "38363f", "light": "e9e4d6", "pale": "ded9cf"}  # of cloth and things, where nothing more is said
_PICTURE = {
    **dict.fromkeys(("sky", "cloud", "sunset", "sunrise", "dusk", "dawn"), "sky"),
    **dict.fromkeys(("background", "backdrop"), "background"),
}
_PLAIN = frozenset("plain simple solid empty blank neutral clean".split())
PLAIN_BACKGROUND = "#dcd9d1"
Table = dict[str, NDArray[np.float64]]


@dataclass(frozen=True, slots=True)
class Coloured:
    """A colour and where it goes.

    Attributes
    ----------
    words : indices of the colour's words.
    word : of the thing that has it; −1 the picture.
    says : pairs of attribute and value that come nearest. tints : pairs of a thing and "#rrggbb".
    note : why it has no effect, "" where it has one.
    """

    words: tuple[int, ...]
    word: int
    says: tuple[tuple[str, str], ...] = ()
    tints: tuple[tuple[str, str], ...] = ()
    note: str = ""


def coloured(parse: Parse) -> list[Coloured]:
    """All colours of a prompt, in their order."""
    out = []
    for at, word in enumerate(parse.words):
        if word.stop:
            continue
        if _is_colour(parse, at):
            out += _one(parse, at)
        elif word.tag == tags.QUALITY and (compound := _compound(word.low)) is not None:
            out.append(_of_compound(at, *compound))
        elif word.tag in "QeN" and word.low in _PLAIN:
            out += _plain_background(parse, at)
    return out


def _is_colour(parse: Parse, at: int) -> bool:
    word = parse.words[at]
    if word.tag == tags.COLOUR:
        return colours.is_colour(word.low) or colours.is_of_people(word.low)
    bound = parse.heads_of(at, "attr")
    if word.tag in NOUNS | {tags.MATERIAL, tags.QUALITY}:  # a thing is a colour only before what can be coloured: walnut hair, sky trim
        of = {_kind(parse.words[h].base) for h in bound if h >= 0}
        if "person" in of and colours.is_of_people(word.low):
            return True
        if word.tag in NOUNS:
            return "worn" in of and word.low in CLOTH
    if not bound or any(parse.words[h].tag in "LS" and parse.words[h].base not in _PICTURE for h in bound if h >= 0):
        return False
    if word.low in _TONES or word.low in _SKIN_WORDS:
        return True
    if any(h == at and relation == "attr" for h, relation, _ in parse.bindings):
        return False
    return word.tag in (tags.MATERIAL, tags.QUALITY) and colours.is_colour(word.low)


def _kind(base: str) -> str:
    """What of somebody a noun is: "person" hair, eyes and skin, "worn" garments; "" something else."""
    last = base.rpartition(" ")[2]
    if {base, last} & (HAIR_NOUNS.keys() | _EYES | _SKIN | _BEARDS):
        return "person"
    return "worn" if (thing_of(base) or thing_of(last)) not in ("", "prop", "companion") else ""


def _words(parse: Parse, at: int) -> tuple[tuple[int, ...], str]:
    """The words of a colour with what stands before it, and its name."""
    before = sorted(d for d in parse.dependents_of(at, "degree") if parse.words[d].low not in ("very", "so", "too", "quite"))
    near = [d for d in before if d < at]
    return (*near, at), " ".join(parse.words[w].low for w in (*near, at))


def _one(parse: Parse, at: int) -> list[Coloured]:
    words, name = _words(parse, at)
    heads = parse.heads_of(at, "attr", "has", "in")
    chunk = parse.chunk_of(at)
    out = []
    for head in heads or [OF_PICTURE]:
        if head == OF_PICTURE:
            out.append(_alone(parse, words, name))
            continue
        dressed = chunk is not None and chunk.mark == "in" and parse.words[head].tag in "Po"
        listed = chunk is not None and chunk.gap > 0 and not chunk.mark and parse.words[head].tag in "PoLSN" and name not in _OF_HAIR
        if listed and not chunk.predicate:  # type: ignore[union-attr]
            out.append(_alone(parse, words, name))
            continue
        out.append(_dressed(words, name, head) if dressed else _on(parse, words, name, head))
    return out


def _alone(parse: Parse, words: tuple[int, ...], name: str) -> Coloured:
    """A colour that stands by itself is of the clothes of whoever there is."""
    tone = colours.cloth(name)
    if tone is None:
        return Coloured(words, OF_PICTURE, note="no such colour here")
    return Coloured(words, OF_PICTURE, (("colour", _nearest_cloth(name, tone)),), (("outfit", tone),))


def _dressed(words: tuple[int, ...], name: str, head: int) -> Coloured:
    tone = colours.cloth(name) or f"#{_BARE.get(name, '38363f')}"
    return Coloured(words, head, (("colour", _nearest_cloth(name, tone)),), (("outfit", tone),))


def _on(parse: Parse, words: tuple[int, ...], name: str, head: int) -> Coloured:
    """A colour on what it is bound to."""
    thing = parse.words[head]
    last = thing.base.rpartition(" ")[2]
    if last in _BEARDS or ((last in HAIR_NOUNS or thing.base in HAIR_NOUNS) and last != "knot"):
        return _of_person("hair colour", "hair", colours.hair(name), HAIR_COLOURS, words, head)
    if last in _EYES:
        return _of_person("eyes", "eyes", colours.eyes(name), EYE_COLOURS, words, head)
    if last in _SKIN:
        return _of_person("skin", "skin", colours.skin(_SKIN_WORDS.get(name, name)), SKINS, words, head)
    if thing.tag == tags.PERSON:
        return _of_somebody(parse, words, name, head)
    if last in _PICTURE:
        tone = colours.cloth(name) or f"#{_BARE.get(name, '38363f')}"
        return Coloured(words, head, (), ((_PICTURE[last], tone),))
    of = thing_of(thing.base) or thing_of(last) or object_called(thing.base)
    if not of:
        return Coloured(words, head, note=f"{thing.low} is not drawn in a colour of its own yet")
    colour = colours.cloth(name) or (f"#{_BARE[name]}" if name in _BARE else None)
    if colour is None:
        return Coloured(words, head, note="no such colour here")
    if of == "trim":
        return Coloured(words, head, (("trim", _nearest_cloth(name, colour)),), (("trim", colour),))
    says = (("colour", _nearest_cloth(name, colour)),) if _is_outfit(thing.base) or _is_outfit(last) else ()
    return Coloured(words, head, says, ((of, colour),))


def _is_outfit(base: str) -> bool:
    return any(attribute == "outfit" for attribute, _ in meanings().get(base, ()))


def _of_somebody(parse: Parse, words: tuple[int, ...], name: str, head: int) -> Coloured:
    """A colour of a person: of the hair ("a blonde woman") or the skin ("a black woman")."""
    if name in _OF_HAIR:
        return _of_person("hair colour", "hair", colours.hair(name), HAIR_COLOURS, words, head)
    if name in _OF_PEOPLE or name in _SKIN_WORDS:
        return _of_person("skin", "skin", colours.skin(_SKIN_WORDS.get(name, name)), SKINS, words, head)
    if name in ("green", "blue", "purple", "grey", "red", "golden", "silver"):
        return _of_person("skin", "skin", colours.cloth(name), SKINS, words, head)
    return Coloured(words, head, note="of what: hair, skin or clothes?")


def _of_person(attribute: str, thing: str, tone: str | None, table: Table, words: tuple[int, ...], head: int) -> Coloured:
    if tone is None:
        return Coloured(words, head, note="no such colour here")
    exact = ((thing, tone),) if tone.startswith("#") else ()
    return Coloured(words, head, ((attribute, colours.nearest(tone, table)),), exact)


def _compound(low: str) -> tuple[str, str] | None:
    """ "silver-haired", "dark-skinned", "blue-eyed": a colour, and of what."""
    first, _, last = low.rpartition("-")
    of = {"haired": "hair", "skinned": "skin", "eyed": "eyes", "bearded": "hair"}.get(last)
    return (first, of) if first and of else None


def _of_compound(at: int, name: str, of: str) -> Coloured:
    attribute, find, table = {
        "hair": ("hair colour", colours.hair, HAIR_COLOURS),
        "skin": ("skin", colours.skin, SKINS),
        "eyes": ("eyes", colours.eyes, EYE_COLOURS),
    }[of]
    if of == "hair" and name in ("long", "short", "curly", "wavy", "straight", "messy"):
        return Coloured((), at)
    made = _of_person(attribute, of, find(name), table, (at,), at)
    return made if not made.note else Coloured((at,), at, note="no such colour here")


def _plain_background(parse: Parse, at: int) -> list[Coloured]:
    """ "Plain background", "simple white background": a backdrop."""
    heads = [h for h in parse.heads_of(at, "attr") if h >= 0 and _PICTURE.get(parse.words[h].base) == "background"]
    return [Coloured((at,), h, (), (("background", PLAIN_BACKGROUND),)) for h in heads]


def _nearest_cloth(name: str, tone: str) -> str:
    """The cloth of the illustrator's that has this name, or comes nearest."""
    said = colours.plain(name)
    usual = {"red": "brick", "dark red": "dark brick", "yellow": "mustard", "bright yellow": "mustard", "blue": "navy", "green": "leaf", "black": "charcoal",
             "grey": "slate", "orange": "rust", "purple": "plum", "pink": "rose", "white": "white", "brown": "brown", "gold": "mustard"}  # fmt: skip
    if said in CLOTH:
        return said
    if said in usual:
        return usual[said]
    first, _, rest = said.partition(" ")
    shade = {"pale": "pale", "light": "pale", "faded": "pale", "dark": "dark", "deep": "dark", "rich": "dark"}.get(first)
    if shade and rest and f"{shade} {_nearest_cloth(rest, colours.cloth(rest) or tone)}" in CLOTH:
        return f"{shade} {_nearest_cloth(rest, colours.cloth(rest) or tone)}"
    if said.endswith(" green") and said[:-6] in CLOTH:
        return said[:-6]
    return colours.nearest(tone, CLOTH)
