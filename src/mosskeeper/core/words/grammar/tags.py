"""The readings that a word can have, each one letter."""

from __future__ import annotations

# nouns
PERSON, BODY, GARMENT, THING, ANIMAL, PLACE, PICTURE, OTHER = "P", "B", "G", "O", "A", "L", "S", "N"
# what stands before nouns
QUALITY, COLOUR, MATERIAL = "Q", "C", "M"
# verbs: as in a table, with a person ("walks"), "walking", "walked"
VERB, FINITE, ING, PAST = "V", "v", "g", "e"
# the rest; a stop is a comma or the end of a sentence
DETERMINER, NUMBER, DEGREE, PREPOSITION, PARTICLE = "D", "#", "d", "i", "t"
AND, RELATIVE, PRONOUN, AUXILIARY, NOT, STOP = "&", "r", "o", "x", "!", ","

NOUNS = frozenset("PBGOALSN")
BEFORE_NOUNS = frozenset("QCM")
START = "^"  # before the first word; also the picture, as head of what belongs to nothing else

OPEN_KINDS = {
    "person": PERSON,
    "people": PERSON,
    "part": BODY,
    "garment": GARMENT,
    "thing": THING,
    "animal": ANIMAL,
    "place": PLACE,
    "picture": PICTURE,
    "quality": QUALITY,
    "colour": COLOUR,
    "material": MATERIAL,
    "degree": DEGREE,
    "verb": VERB,
    "particle": PARTICLE,
    "preposition": PREPOSITION,
}
CLOSED_KINDS = {
    "determiner": DETERMINER,
    "number": NUMBER,
    "conjunction": AND,
    "relative": RELATIVE,
    "negation": NOT,
    "auxiliary": AUXILIARY,
    "pronoun": PRONOUN,
}
NAMES = {
    PERSON: "a person",
    BODY: "a part of the body",
    GARMENT: "something worn",
    THING: "a thing",
    ANIMAL: "an animal",
    PLACE: "a place",
    PICTURE: "about the whole picture",
    OTHER: "something that is not seen by itself",
    QUALITY: "a quality",
    COLOUR: "a colour",
    MATERIAL: "a material",
    FINITE: "an act",
    ING: "an act",
    PAST: "a state",
    DEGREE: "a degree",
}


def coarse(tag: str) -> str:
    """All nouns as one reading, and all that stands before them as one."""
    return "N" if tag in NOUNS else "Q" if tag in BEFORE_NOUNS else tag
