"""What words mean: phrases and the attributes they speak about. A new word is one line in a table.

Colours are in `core.words.colours`, hair in `hair_words`, garments that are parts of outfits in `garment_words`.
"""

from __future__ import annotations

from functools import cache

from mosskeeper.core.traits import NAMED_WORN
from mosskeeper.core.words.named_phrases import NAMED_PHRASES

# attribute → value → phrases. Plurals and the value's own name are added by `meanings`.
_PHRASES: dict[str, dict[str, tuple[str, ...]]] = {
    "subject": {
        "woman": ("young woman", "lady", "she", "female", "mother", "sister", "wife", "aunt"),
        "man": ("young man", "gentleman", "he", "male", "fellow", "father", "husband", "uncle"),
        "girl": ("little girl", "schoolgirl", "daughter"),
        "boy": ("little boy", "schoolboy", "lad", "son", "brother"),
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
        "cropped": ("short hair", "short haired", "cropped hair", "tousled hair", "messy hair"),
        "bob": ("bob cut", "chin length hair", "bobbed hair"),
        "long straight": ("long hair", "long haired", "straight hair", "long straight hair", "loose hair", "flowing hair"),
        "long wavy": ("wavy hair", "long wavy hair", "waves"),
        "bun": ("hair in a bun", "hair up", "pinned up hair", "chignon"),
        "ponytail": ("pony tail", "hair tied back", "tied back hair"),
        "curls": ("curly hair", "curly haired", "long curls", "big curls", "frizzy hair", "wild curls"),
        "short curls": ("tight curls", "short curly hair", "tight short curls"),
        "crown braid": ("braided crown", "braid around the head", "milkmaid braid"),
        "low bun": ("bun at the nape", "hair in a low bun", "nape bun"),
        "long with fringe": ("long hair with a fringe", "long hair with bangs", "straight fringe", "bangs"),
        "pixie": ("pixie cut", "side swept short hair", "very short hair"),
        "shaved": ("shaved head", "buzz cut", "stubble hair"),
        "receding": ("receding hair", "receding hairline", "balding", "thinning hair"),
        "braid": ("long braid", "plait", "braided hair", "hair in a braid", "hair in a long braid", "plaited hair"),
        "two braids": ("braided pigtails", "two plaits", "double braids", "pair of braids"),
    },
    "freckles": {"yes": ("freckles", "freckled", "freckled face")},
    "glasses": {"yes": ("glasses", "round glasses", "spectacles", "eyeglasses")},
    "facial hair": {
        "beard": ("bearded", "full beard", "whiskers"),
        "moustache": ("mustache", "moustached"),
        "none": ("clean shaven", "beardless"),
    },
    "mark": {"scar": ("scarred", "scar on the cheek", "scarred cheek"), "mole": ("beauty spot", "mole on the cheek")},
    "headwear": {
        "hat": ("felt hat", "wide brimmed hat", "brimmed hat"), "cap": ("flat cap", "peaked cap", "soft cap", "beanie", "woollen cap"),
        "headscarf": ("kerchief", "head scarf", "bandana"), "none": ("bareheaded", "hatless"),
    },
    "build": {
        "slight": ("slim", "thin", "slender", "thinner", "lean", "petite"), "sturdy": ("strong", "broad", "stocky", "muscular"),
        "tall": ("lanky", "long legged", "taller"), "round": ("plump", "stout", "chubby", "fat"), "average": ("average build",),
    },
    "pattern": {
        "plain": ("unpatterned",), "striped": ("stripes", "stripy"), "dotted": ("dots", "spotted", "polka dots", "polka dotted"),
        "checked": ("chequered", "checks", "plaid", "tartan"), "embroidered": ("embroidery", "flowered", "floral"),
    },
    "expression": {
        "calm": ("neutral", "serene", "peaceful", "quiet smile", "gentle", "composed", "relaxed"),
        "laughing": ("laugh", "roaring with laughter", "in stitches"),
        "confused": ("puzzled", "bewildered", "perplexed", "doubtful"),
        "sleepy": ("tired", "drowsy", "yawning", "weary", "exhausted"),
        "joyful": ("happy", "smiling", "joy", "cheerful", "grinning", "delighted", "merry", "smile", "beaming"),
        "sad": ("unhappy", "sorrowful", "gloomy", "mournful", "downcast", "melancholy", "tearful"),
        "surprised": ("astonished", "amazed", "startled", "surprise", "shocked"),
        "angry": ("furious", "cross", "enraged", "scowling", "anger", "annoyed"),
        "thoughtful": ("pensive", "dreamy", "wistful", "contemplative", "musing"),
        "proud": ("confident", "self assured", "pride", "smug"),
        "afraid": ("scared", "frightened", "fearful", "terrified", "anxious", "worried", "nervous"),
    },
    "outfit": {
        "rain cape": ("raincoat", "rain coat", "hooded cape", "cape", "oilskin", "rain jacket", "hood"),
        "workshop apron": ("apron", "leather apron", "work apron", "smock"),
        "festival coat": ("coat", "long coat", "festive coat", "frock coat", "jacket"),
        "night cloak": ("cloak", "hooded cloak", "long cloak", "mantle"),
        "tunic": ("belted tunic", "shirt", "short tunic"),
        "garden dress": ("dress", "frock", "summer dress"),
        "jumper and skirt": ("skirt", "skirt and jumper", "knitted jumper and skirt", "sweater and skirt"),
        "travelling coat": ("travel coat", "traveling coat", "traveller's coat", "greatcoat", "overcoat"),
        "ceremonial robe": ("robe", "robes", "kimono", "ceremonial gown", "vestment"),
        "rain overalls": ("overalls", "dungarees", "waders", "bib and brace"),
        "bark armour": ("armour", "armor", "armour of bark plates", "bark plates", "plate armour"),
        "ball gown": ("gown", "ballgown", "evening dress", "evening gown", "party dress"),
        "nightshirt": ("night shirt", "nightgown", "pyjamas", "pajamas"),
        "courier uniform": ("uniform", "messenger's uniform", "postman's uniform", "livery"),
        "diver's suit": ("diving suit", "diver suit", "divers suit"),
        "beekeeper's veil": ("beekeeper", "beekeeper suit", "beekeeping suit", "bee veil", "veil"),
        "knitted jumper": ("jumper", "sweater", "pullover", "knitted sweater", "jersey", "knitwear"),
    },
    "prop": {
        "lantern": ("lamp in hand", "holding a lantern", "holding up a lantern", "carrying a lantern", "with a lantern"),
        "watering can": ("holding a watering can", "with a watering can", "watering"),
        "book": ("holding a book", "with a book", "carrying a book", "books under her arm"),
        "letter": ("holding a letter", "with a letter", "envelope", "holding up a letter", "carrying letters", "mail"),
        "staff": ("walking staff", "holding a staff", "with a staff", "walking stick", "crook"),
        "umbrella": ("parasol", "with an umbrella", "under an umbrella", "holding an umbrella", "brolly"),
        "basket": ("with a basket", "fruit basket", "holding a basket", "carrying a basket", "basket of fruit"),
        "kite": ("flying a kite", "with a kite", "holding a kite"),
        "broom": ("sweeping", "broomstick", "with a broom"),
        "map": ("reading a map", "with a map", "chart", "holding a map"),
        "teapot": ("tea pot", "with a teapot", "pouring tea", "kettle"),
        "net": ("butterfly net", "with a net", "fishing net", "landing net"),
        "bird": ("bird on the hand", "with a bird", "bird on her hand", "bird on his hand", "songbird"),
        "flowers": ("bunch of flowers", "bouquet", "with flowers", "holding flowers", "posy"),
        "cup": ("mug", "cup of tea", "with a cup", "tea cup", "teacup", "drinking tea"),
        "key": ("with a key", "holding a key", "old key"),
        "nothing": ("empty hands", "empty handed"),
    },
    "companion": {
        "fox": ("with a fox", "a fox beside her", "a fox beside him", "tame fox"),
        "cat": ("with a cat", "kitten", "tomcat", "a cat beside her", "a cat beside him"),
        "heron": ("with a heron", "stork", "crane", "a heron beside her", "a heron beside him"),
        "snail": ("giant snail", "with a snail", "a snail beside her", "a snail beside him"),
        "nobody": ("alone", "by herself", "by himself", "on her own", "on his own"),
    },
    "place": {
        "roof garden": ("rooftop", "rooftop garden", "roof terrace", "roofs", "terrace"),
        "fern house": ("greenhouse", "glasshouse", "conservatory", "hothouse", "ferns", "palm house", "fernery"),
        "kite loft": ("loft", "attic", "kite workshop", "under the rafters"),
        "lamp quay": ("quay", "harbour", "harbor", "port", "docks", "pier", "quayside", "ships"),
        "seed vault": ("vault", "cellar", "seed store", "crypt", "storeroom"),
        "festival bridge": ("bridge", "wooden bridge", "festival", "on the bridge", "fair"),
        "moss well": ("well", "courtyard", "old well", "mossy courtyard", "fountain"),
        "bell tower": ("tower", "belfry", "steeple", "in the tower", "bell"),
        "night train": ("train", "railway carriage", "train compartment", "compartment", "carriage", "sleeper train"),
        "tide flats": ("beach", "shore", "seaside", "mud flats", "tidal flats", "coast", "sands", "by the sea"),
        "kitchen": ("hearth", "in the kitchen", "cottage kitchen", "fireplace"),
        "forest path": ("forest", "woods", "wood", "woodland", "among trees", "forest track", "in the woods"),
        "canal market": ("market", "canal", "canals", "market stalls", "by the water", "waterside", "floating market"),
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
        "wind": ("windy", "breeze", "breezy", "gale", "windswept"),
        "storm": ("stormy", "thunderstorm", "tempest", "storm clouds", "heavy rain"),
        "rain": ("raining", "rainy", "drizzle", "in the rain", "downpour", "rainfall", "wet"),
        "fog": ("foggy", "mist", "misty", "haze", "hazy"),
        "snow": ("snowing", "snowy", "snowfall", "snowflakes", "winter"),
    },
    "light": {
        "low key": ("dark mood", "gloom", "dim light", "moody light", "chiaroscuro"),
        "high key": ("bright light", "airy light", "soft bright light", "luminous"),
        "back light": ("backlit", "back lit", "against the light", "rim light", "contre jour"),
        "lantern light": ("lamplight", "candlelight", "firelight", "by candlelight", "by lamplight", "lantern lit"),
        "moonlight": ("moonlit", "by moonlight", "under the moon"),
        "plain light": ("even light", "neutral light"),
    },
    "pose": {
        "standing": ("stands", "stand", "upright"),
        "facing": ("facing the viewer", "facing forward", "front facing", "looking at the viewer", "portrait pose"),
        "walking": ("walks", "walk", "strolling", "striding", "stepping", "going"),
        "running": ("runs", "run", "hurrying", "rushing", "racing"),
        "dancing": ("dances", "dance", "twirling"),
        "bowing": ("bows", "bow", "curtsying", "stooping"),
        "thinking": ("hand on chin", "hand to her chin", "hand to his chin", "pondering"),
        "hand on heart": ("hand on her heart", "hand on his heart", "hand on the chest", "swearing"),
        "arms wide": ("open arms", "arms outstretched", "welcoming", "arms spread"),
        "pointing": ("points", "point", "pointing ahead"),
        "carrying": ("arms bent", "hands before her", "hands before him", "both hands forward"),
        "hands behind back": ("hands behind her back", "hands behind his back", "hands behind the back", "arms behind her back", "arms behind his back"),
        "looking back": ("looks back", "over the shoulder", "looking over her shoulder", "looking over his shoulder", "turning round"),
        "tiptoe": ("on tiptoe", "tiptoeing", "on her toes", "on his toes"),
        "crouching": ("crouched", "crouches", "squatting", "ducking"),
        "reaching": ("holding up a lantern", "holding up a letter", "holding up a book", "reaching up", "reaches", "arm raised", "raising her arm", "raising his arm", "holding up", "raised hand", "stretching"),
        "sitting": ("sits", "seated", "sit", "resting"),
        "kneeling": ("kneels", "kneel", "on one knee"),
        "presenting": ("arm out", "showing", "offering", "outstretched arm"),
        "hands on hips": ("arms akimbo", "hand on hip", "hands on her hips", "hands on his hips"),
        "waving": ("waves", "wave", "greeting", "saying hello", "beckoning"),
    },
    "view": {
        "front": ("front view", "from the front", "from in front", "seen from the front", "seen from in front", "head on", "face to face"),
        "three-quarter": ("three quarter view", "three quarter profile", "half turned", "three quarters"),
        "profile": ("in profile", "profile portrait", "portrait in profile", "side view", "from the side", "seen from the side", "profile view"),
    },
    "gaze": {
        "up": ("looking up", "looks up", "gazing up", "head raised", "upturned face", "looking at the sky"),
        "down": ("looking down", "looks down", "gazing down", "head bowed", "bowed head", "lowered head", "looking at the ground"),
    },
    "angle": {
        "above": ("from above", "seen from above", "high angle", "overhead view", "bird's eye view"),
        "below": ("from below", "seen from below", "low angle", "worm's eye view"),
        "level": ("eye level", "at eye level"),
    },
    "side": {
        "left": ("on the left", "at the left", "left of the picture", "left side"),
        "right": ("on the right", "at the right", "right of the picture", "right side"),
        "centre": ("in the middle", "centred", "centered", "in the centre"),
    },
    "turned": {
        "left": ("facing left", "turned left", "looking left", "to the left"),
        "right": ("facing right", "turned right", "looking right", "to the right"),
    },
    "hand": {
        "left": ("in her left hand", "in his left hand", "in the left hand", "left handed"),
        "right": ("in her right hand", "in his right hand", "in the right hand", "right handed"),
        "both": ("in both hands", "with both hands", "in her hands", "in his hands", "two handed"),
    },
    "necklace": {"yes": ("necklace", "beads", "amber beads", "string of beads", "pendant")},
    "earrings": {"yes": ("earrings", "earring", "ear rings", "ear drops")},
    "gloves": {"yes": ("gloves", "glove", "mittens", "gloved")},
    "scarf": {"yes": ("scarf", "neckerchief", "muffler", "shawl")},
    "bag": {"yes": ("bag", "satchel", "shoulder bag", "messenger bag")},
    "belt": {"yes": ("belt", "belted", "leather belt")},
    "framing": {
        "close": ("close framing", "close up", "closeup", "face only", "extreme close up"),
        "bust": ("bust framing", "portrait", "profile portrait", "portrait in profile", "head and shoulders", "bust portrait", "headshot"),
        "half": ("half framing", "half figure", "half length", "waist up", "medium shot", "upper body", "half body"),
        "full": ("full framing", "full figure", "full length", "full body", "whole figure", "head to toe"),
        "wide": ("wide framing", "wide shot", "long shot", "from afar", "distant view", "wide view", "far away"),
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
    "figure": {
        "storybook": ("storybook figure", "storybook figures", "storybook proportions", "storybook style"),
        "natural": ("natural figure", "natural figures", "natural proportions", "natural style", "realistic proportions", "realistic figure", "realistic figures", "lifelike",
                    "realistic", "realistic style", "true proportions"),
        "small": ("small figures", "small proportions", "three heads high", "chibi", "chibi style"),
    },
}  # fmt: skip

# Words for several persons: who they are, in turn, and how many there are without a number.
GROUPS: dict[str, tuple[tuple[str, ...], int]] = {
    "children": (("girl", "boy"), 2), "kids": (("girl", "boy"), 2), "siblings": (("girl", "boy"), 2), "twins": (("girl", "girl"), 2),
    "couple": (("woman", "man"), 2), "lovers": (("woman", "man"), 2), "people": (("woman", "man", "old woman"), 2), "friends": (("woman", "man"), 2),
    "adults": (("woman", "man"), 2), "family": (("woman", "man", "girl"), 3), "parents": (("woman", "man"), 2), "grandparents": (("old woman", "old man"), 2),
    "trio": (("woman", "man", "girl"), 3), "persons": (("woman", "man", "old woman"), 2),
}  # fmt: skip
PLURALS = frozenset(
    ["women", "men", "girls", "boys", "ladies", "gentlemen", "lads", "daughters", "sons", "sisters", "brothers", "mothers", "fathers", "grandmothers", "grandfathers"]
) | {"old women", "old men", "young women", "young men", "little girls", "little boys", "elderly women", "elderly men"}  # fmt: skip

# Words of the story's world: understood, and of no effect on the drawing.
KNOWN_WITHOUT_EFFECT = {
    "moss keeper": "a trade of Ollowmere", "person": "somebody", "character": "somebody",
    "figure": "somebody", "someone": "somebody", "crowd": "at most four figures are drawn", "young": "age comes with woman, man, girl or boy",
    "outdoors": "the place decides", "indoors": "the place decides", "storybook": "all finishes are",
    "illustration": "all pictures here are", "picture": "all pictures here are", "drawing": "all pictures here are",
}  # fmt: skip

_FILLER = """
a an the of in on at by with and or to from for into over under near up her his their its is are be it this that some
very wearing wears dressed clad holding holds carrying has having who which as against before behind beside between
below above upon along across among amid inside outside toward towards while when where looking there here one own all
around through each every other another both few many more most so too just also full big small large little nice
beautiful please
"""
FILLER = frozenset(_FILLER.split())
NEGATIONS = ("without", "no", "not", "never")


# Attributes whose values are no words by themselves: "left", "front".
_NO_OWN_NAME = ("skin", "view", "gaze", "angle", "side", "turned", "hand")


@cache
def meanings() -> dict[str, tuple[tuple[str, str], ...]]:
    """All phrases of the lexicon, lower case, each with what it says: pairs of attribute and value."""
    out: dict[str, list[tuple[str, str]]] = {}
    tables = (
        (attribute, value, phrases)
        for table in (_PHRASES, NAMED_PHRASES)
        for attribute, values in table.items()
        for value, phrases in values.items()
    )
    for attribute, value, phrases in tables:
        own = (attribute,) if value == "yes" and attribute in NAMED_WORN else ()
        if not (value in ("yes", "no", "none", "average") or attribute in _NO_OWN_NAME):
            own = (value,)
        for phrase in (*own, *phrases):
            said = out.setdefault(phrase, [])
            if (attribute, value) not in said:
                said.append((attribute, value))
    for phrase, said in list(out.items()):
        if said[0][0] in ("prop", "outfit", "place", "subject", "headwear") and " " not in phrase[-3:] and not phrase.endswith("s"):
            out.setdefault(_plural(phrase), said)
    return {phrase: tuple(said) for phrase, said in out.items()}


def _plural(phrase: str) -> str:
    irregular = {"woman": "women", "man": "men", "lady": "ladies", "gentleman": "gentlemen", "wife": "wives"}
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
    return tuple(sorted({*meanings(), *GROUPS, *KNOWN_WITHOUT_EFFECT}))
