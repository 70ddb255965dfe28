"""What words mean: phrases and the attributes they speak about. A new word is one line in a table.

Three kinds of entry: meanings (attribute and value), colour words (bound to the noun they stand beside),
and nouns (what a colour can be bound to).
"""

from __future__ import annotations

from functools import cache

# attribute → value → phrases. Plurals and the value's own name are added by `meanings`.
_PHRASES: dict[str, dict[str, tuple[str, ...]]] = {
    "subject": {
        "woman": ("young woman", "lady", "she", "female"),
        "man": ("young man", "gentleman", "he", "male", "fellow"),
        "girl": ("little girl", "schoolgirl", "daughter"),
        "boy": ("little boy", "schoolboy", "lad", "son"),
        "old woman": ("elderly woman", "grandmother", "old lady", "granny", "aged woman", "crone"),
        "old man": ("elderly man", "grandfather", "old gentleman", "aged man", "grandpa"),
    },
    "skin": {
        "porcelain": ("pale skin", "very fair skin", "porcelain skin"),
        "peach": ("fair skin", "light skin", "rosy skin", "peach skin"),
        "olive": ("olive skin", "olive complexion"),
        "honey": ("tanned skin", "honey skin", "golden skin"),
        "bronze": ("brown skin", "bronze skin"),
        "chestnut": ("deep brown skin", "chestnut skin"),
        "umber": ("dark skin", "dark brown skin", "umber skin"),
        "ebony": ("very dark skin", "black skin", "ebony skin"),
    },
    "hair": {
        "cropped": ("short hair", "cropped hair", "tousled hair", "messy hair"),
        "bob": ("bob cut", "chin length hair", "bobbed hair"),
        "long straight": ("long hair", "straight hair", "long straight hair", "loose hair", "flowing hair"),
        "long wavy": ("wavy hair", "long wavy hair", "waves"),
        "bun": ("hair in a bun", "topknot", "hair up", "pinned up hair", "chignon"),
        "ponytail": ("pony tail", "hair tied back", "tied back hair"),
        "curls": ("curly hair", "long curls", "big curls", "frizzy hair", "wild curls"),
        "short curls": ("tight curls", "short curly hair", "tight short curls"),
        "braid": ("long braid", "plait", "braided hair", "hair in a braid", "hair in a long braid", "plaited hair"),
        "two braids": ("pigtails", "two plaits", "double braids", "pair of braids"),
    },
    "freckles": {"yes": ("freckles", "freckled", "freckled face")},
    "glasses": {"yes": ("glasses", "round glasses", "spectacles", "eyeglasses")},
    "beard": {"yes": ("beard", "bearded", "full beard", "whiskers"), "no": ("clean shaven", "beardless")},
    "expression": {
        "calm": ("neutral", "serene", "peaceful", "quiet smile", "gentle", "composed", "relaxed"),
        "joyful": ("happy", "smiling", "laughing", "joy", "cheerful", "grinning", "delighted", "merry", "smile", "beaming"),
        "sad": ("unhappy", "sorrowful", "gloomy", "mournful", "downcast", "melancholy", "tearful"),
        "surprised": ("astonished", "amazed", "startled", "surprise", "shocked"),
        "angry": ("furious", "cross", "enraged", "scowling", "anger", "annoyed"),
        "thoughtful": ("pensive", "thinking", "dreamy", "wistful", "contemplative", "musing"),
        "proud": ("confident", "self assured", "pride", "smug"),
        "afraid": ("scared", "frightened", "fearful", "terrified", "anxious", "worried", "nervous"),
    },
    "outfit": {
        "rain cape": ("raincoat", "rain coat", "hooded cape", "cape", "oilskin", "rain jacket", "hood"),
        "workshop apron": ("apron", "leather apron", "work apron", "smock"),
        "festival coat": ("coat", "long coat", "embroidered coat", "festive coat", "frock coat", "jacket"),
        "night cloak": ("cloak", "hooded cloak", "long cloak", "mantle"),
        "tunic": ("belted tunic", "shirt", "short tunic"),
        "garden dress": ("dress", "gown", "frock", "summer dress", "skirt"),
        "knitted jumper": ("jumper", "sweater", "pullover", "knitted sweater", "jersey", "knitwear"),
    },
    "prop": {
        "lantern": ("lamp in hand", "holding a lantern", "holding up a lantern", "carrying a lantern", "with a lantern"),
        "watering can": ("holding a watering can", "with a watering can", "watering"),
        "book": ("holding a book", "with a book", "carrying a book", "books under her arm"),
        "letter": ("holding a letter", "with a letter", "envelope", "holding up a letter", "carrying letters", "mail"),
        "staff": ("walking staff", "holding a staff", "with a staff", "walking stick", "crook"),
        "nothing": ("empty hands", "empty handed"),
    },
    "place": {
        "roof garden": ("rooftop", "rooftop garden", "roof terrace", "on the roof", "roofs", "terrace", "garden"),
        "fern house": ("greenhouse", "glasshouse", "conservatory", "hothouse", "ferns", "palm house", "fernery"),
        "canal market": ("market", "canal", "canals", "market stalls", "quay", "by the water", "waterside", "floating market"),
        "library stair": ("library", "staircase", "bookshelves", "book shelves", "reading room", "among books", "stair"),
    },
    "time": {
        "dawn": ("sunrise", "daybreak", "early morning", "first light"),
        "morning": ("mid morning", "in the morning", "morning light"),
        "noon": ("midday", "daylight", "bright day", "day", "afternoon", "sunny", "sunshine"),
        "dusk": ("sunset", "evening", "twilight", "golden hour", "sundown"),
        "night": ("midnight", "nighttime", "moonlight", "by night", "after dark", "starlight", "moonlit"),
    },
    "weather": {
        "clear": ("clear sky", "clear weather", "dry", "cloudless"),
        "rain": ("raining", "rainy", "drizzle", "in the rain", "downpour", "rainfall", "wet"),
        "fog": ("foggy", "mist", "misty", "haze", "hazy"),
        "snow": ("snowing", "snowy", "snowfall", "snowflakes", "winter"),
    },
    "pose": {
        "standing": ("stands", "stand", "upright"),
        "facing": ("front view", "facing the viewer", "facing forward", "front facing", "looking at the viewer", "from the front", "portrait pose"),
        "walking": ("walks", "walk", "strolling", "striding", "stepping", "going", "running"),
        "reaching": ("holding up a lantern", "holding up a letter", "holding up a book", "reaching up", "reaches", "arm raised", "raising her arm", "raising his arm", "holding up", "raised hand", "stretching"),
        "sitting": ("sits", "seated", "sit", "resting"),
        "kneeling": ("kneels", "kneel", "crouching", "crouched"),
        "presenting": ("arm out", "showing", "offering", "outstretched arm", "pointing"),
        "hands on hips": ("arms akimbo", "hand on hip", "hands on her hips", "hands on his hips"),
        "waving": ("waves", "wave", "greeting", "saying hello", "beckoning"),
    },
    "framing": {
        "close": ("close up", "closeup", "face only", "extreme close up"),
        "bust": ("portrait", "head and shoulders", "bust portrait", "headshot"),
        "half": ("half figure", "half length", "waist up", "medium shot", "upper body", "half body"),
        "full": ("full figure", "full length", "full body", "whole figure", "head to toe"),
        "wide": ("wide shot", "long shot", "from afar", "distant view", "wide view", "far away"),
    },
    "finish": {
        "gouache": ("painted", "painting"),
        "ink and wash": ("ink", "pen and ink", "ink drawing", "line drawing"),
        "paper cut": ("papercut", "paper cutout", "cut paper", "collage"),
        "watercolour": ("watercolor", "aquarelle", "water colour"),
        "woodcut print": ("woodcut", "wood engraving", "woodblock print"),
        "linocut": ("lino print", "linocut print", "two colour print"),
        "pencil study": ("pencil", "pencil drawing", "graphite", "sketch", "pencil sketch"),
        "stained glass": ("stained glass window", "leaded glass"),
        "felt collage": ("felt", "felted", "wool felt"),
        "chalk": ("pastel", "chalk drawing", "pastels"),
    },
}  # fmt: skip

# Words of the story's world: understood, and of no effect on the drawing.
KNOWN_WITHOUT_EFFECT = {
    "moss keeper": "a trade of Ollowmere", "lamplighter": "a trade of Ollowmere", "messenger": "a trade",
    "gardener": "a trade", "librarian": "a trade", "person": "somebody", "character": "somebody",
    "figure": "somebody", "someone": "somebody", "young": "age comes with woman, man, girl or boy",
    "outdoors": "the place decides", "indoors": "the place decides", "storybook": "all finishes are",
    "illustration": "all pictures here are", "picture": "all pictures here are", "drawing": "all pictures here are",
}  # fmt: skip

# Colour words → the nearest value for cloth, hair and eyes ('' where such hair or eyes do not exist).
COLOUR_WORDS: dict[str, tuple[str, str, str]] = {
    "red": ("brick", "copper", ""), "brick": ("brick", "copper", ""), "scarlet": ("brick", "copper", ""),
    "crimson": ("wine", "copper", ""), "wine": ("wine", "plum", ""), "burgundy": ("wine", "plum", ""),
    "maroon": ("wine", "plum", ""), "copper": ("rust", "copper", "amber"), "copper red": ("rust", "copper", "amber"),
    "rust": ("rust", "copper", "amber"), "orange": ("rust", "ginger", "amber"), "ginger": ("rust", "ginger", "amber"),
    "auburn": ("rust", "copper", "amber"), "yellow": ("mustard", "straw", "amber"), "mustard": ("mustard", "straw", "amber"),
    "gold": ("mustard", "straw", "amber"), "golden": ("mustard", "straw", "amber"), "ochre": ("mustard", "straw", "amber"),
    "amber": ("mustard", "ginger", "amber"), "blond": ("cream", "straw", ""), "blonde": ("cream", "straw", ""),
    "straw": ("sand", "straw", "amber"), "fair": ("cream", "flaxen", ""), "flaxen": ("cream", "flaxen", ""),
    "green": ("leaf", "teal", "green"), "leaf green": ("leaf", "teal", "green"), "moss": ("moss", "teal", "green"),
    "moss green": ("moss", "teal", "green"), "olive": ("moss", "teal", "green"), "dark green": ("leaf", "teal", "green"),
    "pale green": ("moss", "teal", "sea"), "emerald": ("leaf", "teal", "green"), "lichen": ("moss", "teal", "green"),
    "teal": ("teal", "teal", "sea"), "turquoise": ("teal", "teal", "sea"), "sea green": ("teal", "teal", "sea"),
    "blue": ("navy", "teal", "sky"), "navy": ("navy", "ink", "slate"), "navy blue": ("navy", "ink", "slate"),
    "dark blue": ("navy", "ink", "slate"), "indigo": ("navy", "ink", "slate"), "sky blue": ("sky", "teal", "sky"),
    "light blue": ("sky", "teal", "sky"), "pale blue": ("sky", "teal", "sky"), "sky": ("sky", "teal", "sky"),
    "grey": ("slate", "silver", "slate"), "gray": ("slate", "silver", "slate"), "slate": ("slate", "soot", "slate"),
    "silver": ("slate", "silver", "slate"), "silvery": ("slate", "silver", "slate"), "black": ("charcoal", "ink", "umber"),
    "charcoal": ("charcoal", "soot", "umber"), "dark": ("charcoal", "soot", "umber"), "white": ("white", "white", ""),
    "snow white": ("white", "white", ""), "cream": ("cream", "flaxen", ""), "ivory": ("cream", "flaxen", ""),
    "linen": ("sand", "flaxen", ""), "sand": ("sand", "flaxen", "amber"), "beige": ("sand", "flaxen", ""),
    "brown": ("brown", "walnut", "hazel"), "chestnut": ("brown", "chestnut", "umber"), "walnut": ("brown", "walnut", "hazel"),
    "dark brown": ("brown", "chestnut", "umber"), "light brown": ("sand", "walnut", "amber"), "hazel": ("brown", "walnut", "hazel"),
    "pink": ("rose", "copper", ""), "rose": ("rose", "copper", ""), "lilac": ("lilac", "plum", "violet"),
    "lavender": ("lilac", "plum", "violet"), "purple": ("plum", "plum", "violet"), "violet": ("plum", "plum", "violet"),
    "plum": ("plum", "plum", "violet"), "ink": ("charcoal", "ink", "umber"), "soot": ("charcoal", "soot", "umber"),
}  # fmt: skip

# Nouns that a colour can belong to, and where it goes: cloth colour, trim, hair or eyes.
NOUNS: dict[str, str] = {
    **dict.fromkeys(("hair", "braid", "braids", "curls", "plait", "plaits", "bun", "ponytail", "bob", "pigtails", "locks",
                     "beard", "waves", "topknot"), "hair colour"),
    **dict.fromkeys(("eyes", "eye", "eyed"), "eyes"),
    **dict.fromkeys(("trim", "trimmed", "collar", "scarf", "lining", "trousers", "cuffs", "edging", "embroidery", "sash"), "trim"),
}  # fmt: skip

_FILLER = """
a an the of in on at by with and or to from for into over under near up her his their its is are be it this that some
very wearing wears dressed clad holding holds carrying has having who which as against before behind beside between
below above upon along across among amid inside outside toward towards while when where looking there here one own all
around through each every other another both few many more most so too just also full big small large little nice
beautiful
"""
FILLER = frozenset(_FILLER.split())
NEGATIONS = ("without", "no", "not", "never")


@cache
def meanings() -> dict[str, tuple[tuple[str, str], ...]]:
    """All phrases of the lexicon, lower case, each with what it says: pairs of attribute and value."""
    out: dict[str, list[tuple[str, str]]] = {}
    for attribute, values in _PHRASES.items():
        for value, phrases in values.items():
            own = () if value in ("yes", "no") else (value,)
            if attribute == "skin":
                own = ()
            for phrase in (*own, *phrases):
                out.setdefault(phrase, []).append((attribute, value))
    for phrase, said in list(out.items()):
        if said[0][0] in ("prop", "outfit", "place", "subject") and " " not in phrase[-3:] and not phrase.endswith("s"):
            out.setdefault(_plural(phrase), said)
    return {phrase: tuple(said) for phrase, said in out.items()}


def _plural(phrase: str) -> str:
    irregular = {"woman": "women", "man": "men", "lady": "ladies"}
    head, _, last = phrase.rpartition(" ")
    if last in irregular:
        last = irregular[last]
    elif last.endswith(("s", "x", "ch", "sh")):
        last += "es"
    elif last.endswith("y") and last[-2:-1] not in "aeiou":
        last = last[:-1] + "ies"
    else:
        last += "s"
    return f"{head} {last}".strip()


@cache
def vocabulary() -> tuple[str, ...]:
    """Every phrase that is known, for offering the nearest one."""
    return tuple(sorted({*meanings(), *COLOUR_WORDS, *NOUNS, *KNOWN_WITHOUT_EFFECT}))
