"""Things and animals in words that stand in the picture by themselves: which are meant, how many, where and in what colour."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from mosskeeper.core.illustrator.objects.table import OBJECTS
from mosskeeper.core.illustrator.placing import row
from mosskeeper.core.words.cast import NUMBERS, Cast
from mosskeeper.core.words.grammar import tags
from mosskeeper.core.words.grammar.bindings import Parse
from mosskeeper.core.words.grammar.tags import NOUNS
from mosskeeper.core.words.lexicon import meanings

_WORDS: dict[str, str] = {  # object → further words for it; its own name is one
    "dog": "puppy hound sheepdog terrier greyhound retriever collie spaniel poodle mutt doggy labrador",
    "wolf": "wolves werewolf husky coyote jackal",
    "horse": "pony mare stallion foal steed gelding mustang",
    "donkey": "mule ass",
    "cow": "bull ox calf cattle",
    "sheep": "lamb ram ewe",
    "goat": "ibex",
    "pig": "piglet boar hog sow",
    "deer": "stag doe fawn elk reindeer moose antelope gazelle",
    "lion": "lioness",
    "leopard": "jaguar cheetah lynx panther puma",
    "rabbit": "hare bunny",
    "mouse": "rat mice hamster",
    "squirrel": "chipmunk",
    "crow": "raven magpie blackbird jackdaw rook",
    "gull": "seagull albatross tern",
    "hawk": "falcon eagle kestrel buzzard vulture osprey",
    "parrot": "macaw parakeet cockatoo budgie",
    "goose": "geese",
    "duck": "duckling mallard",
    "hen": "chicken chick",
    "rooster": "cockerel",
    "butterflies": "butterfly moth",
    "frog": "toad",
    "snake": "serpent viper cobra python",
    "fish": "trout salmon carp goldfish koi herring",
    "turtle": "tortoise",
    "dragon": "wyvern drake",
    "table": "desk workbench counter",
    "chair": "armchair seat rocking_chair",
    "bench": "park_bench pew",
    "throne": "",
    "bed": "cot mattress",
    "sofa": "couch settee",
    "barrel": "cask keg",
    "crate": "box boxes",
    "chest": "treasure_chest trunk coffer",
    "mirror": "looking_glass",
    "bookshelf": "bookcase shelf shelves",
    "clock": "grandfather_clock",
    "stove": "oven",
    "cauldron": "",
    "easel": "",
    "candles": "candle candlestick candelabra",
    "suitcase": "suitcases luggage",
    "bucket": "pail",
    "bathtub": "tub",
    "flower pot": "potted_plant houseplant flowerpot",
    "wheelchair": "",
    "tree": "oak elm willow beech birch maple",
    "apple tree": "orange_tree cherry_tree",
    "pine": "fir spruce pine_tree conifer",
    "palm": "palm_tree",
    "bush": "shrub hedge bushes",
    "rose bush": "rosebush",
    "sunflowers": "sunflower",
    "mushrooms": "mushroom toadstool fungi",
    "rock": "boulder rocks stones",
    "fire": "campfire bonfire flames",
    "gravestone": "tombstone headstone grave gravestones",
    "fence": "railing picket_fence",
    "wall": "stone_wall brick_wall",
    "lamp post": "street_lamp streetlight street_light lamppost lantern_post",
    "signpost": "signs road_sign",
    "tent": "tents",
    "puddle": "puddles",
    "boat": "rowboat sailboat ship raft canoe ships yacht dinghy",
    "bicycle": "bike",
    "cart": "wagon wheelbarrow",
    "car": "taxi automobile",
    "pumpkin": "pumpkins",
    "cactus": "cacti",
    "hay": "haystack straw_bale hay_bale",
    "hot-air balloon": "airship",
}  # fmt: skip
_HOLDING = frozenset("hold carry hug cradle lift embrace".split())
_RELATIONS = {"behind": "behind", "in front of": "before", "before": "before", "under": "under", "beneath": "under"}
_INVERSE = {"behind": "before", "before": "behind", "under": "", "beside": "beside"}
_ON = ("on", "upon", "in", "at", "onto", "astride")
_MOST_ALIKE = 3  # drawn of what is many
_STAND = frozenset("stand jump climb dance walk".split())
_SIT = frozenset("sit rest perch seat lounge".split())


@dataclass(frozen=True, slots=True)
class ThingSaid:
    """A thing of a prompt.

    Attributes
    ----------
    at : the word. name : of the object, prop or companion. where : as in `Standing`. of : the figure's index.
    on : the word of the thing on which it stands, −1 none. note : what of it is not drawn.
    """

    at: int
    name: str
    count: int
    where: str
    of: int
    on: int
    note: str = ""


@cache
def _objects() -> dict[str, str]:
    out = {name: name for name in OBJECTS}
    for name, words in _WORDS.items():
        out |= {word.replace("_", " "): name for word in words.split()}
    return out


def object_called(base: str) -> str:
    """The object that a noun names; "" where none is."""
    known = _objects()
    last = "" if base in meanings() else base.rpartition(" ")[2]
    return known.get(base) or known.get(base.replace("-", " ")) or known.get(last, "")


def things(parse: Parse, made: Cast) -> list[ThingSaid]:
    """All things and animals of a prompt that stand by themselves, in their order; what stands on another follows it."""
    names = {
        at: object_called(word.base) or object_called(word.low)
        for at, word in enumerate(parse.words)
        if word.tag in NOUNS and word.tag != tags.PERSON and not word.name
    }
    names = {at: name for at, name in names.items() if name and not _qualifies(parse, at) and not _held(parse, made, at)}
    second = _again(parse, names)
    out = [_said(parse, made, names, at) for at in names if at not in second]
    return out + [_said(parse, made, names, at) for at in _on_things(parse, names)]


def _again(parse: Parse, named: dict[int, str]) -> set[int]:
    """Second mentions: "the table" after "a table"."""
    out: set[int] = set()
    for at, name in named.items():
        chunk = parse.chunk_of(at)
        if chunk is not None and chunk.article == "the" and any(earlier < at and other == name for earlier, other in named.items()):
            out.add(at)
    return out


def _held(parse: Parse, made: Cast, at: int) -> bool:
    """Whether a word means something that somebody holds: the mirror of "a hand mirror", a candle that is not on a table."""
    before = f"{parse.words[at - 1].low} {parse.words[at].low}" if at else ""
    if any(attribute == "prop" for attribute, _ in meanings().get(before, ())):
        return True
    return bool(_prop(parse.words[at].base)) and not parse.dependents_of(at, "on", "upon", "behind", "in front of")


def _qualifies(parse: Parse, at: int) -> bool:
    """Whether a noun only says something of the next: the chair of "chair back", the horse of "horse blanket"."""
    return any(h >= 0 and h > at and parse.words[h].tag in NOUNS for h in parse.heads_of(at, "attr"))


def _on_things(parse: Parse, names: dict[int, str]) -> list[int]:
    """Words for props that are said to stand on one of the things."""
    out = []
    for at, word in enumerate(parse.words):
        if at in names or word.tag not in NOUNS or not _prop(word.base):
            continue
        if any(base in names for base in parse.dependents_of(at, "on", "upon")):
            out.append(at)
    return out


def _prop(base: str) -> str:
    return next(
        (
            value
            for attribute, value in meanings().get(base, ())
            if attribute in ("prop", "companion") and value not in ("nothing", "nobody")
        ),
        "",
    )


def _said(parse: Parse, made: Cast, names: dict[int, str], at: int) -> ThingSaid:
    word = parse.words[at]
    name = names.get(at) or _prop(word.base)
    counted = [parse.words[d].low for d in parse.dependents_of(at, "count")]
    number = next((int(c) if c.isdigit() else NUMBERS[c] for c in counted if c.isdigit() or c in NUMBERS), 0)
    many = number or (2 if word.low != word.base and word.low.endswith("s") and not name.endswith("s") else 1)
    where, of, on, note = "beside", 0, -1, ""
    for h, relation, d in sorted(parse.bindings):
        if d == at and h >= 0 and h != at:
            figures = made.of_word.get(h, ())
            if figures:
                of = figures[0]
                where = _INVERSE.get(_RELATIONS.get(relation, ""), where) or where  # somebody behind it: it is before them
                if relation == "at" and row(name).top:
                    where = "before"
                if relation in _ON and row(name).seat and (relation == "on" or _acts(parse, h, _SIT)) and not _acts(parse, h, _STAND):
                    where = "under"
            if parse.words[h].base in _HOLDING and relation == "obj":
                note = "stands beside; in arms it is not drawn yet"
        elif h == at and d >= 0:
            figures = made.of_word.get(d, ())
            if figures and relation in _RELATIONS:
                of, where = figures[0], _RELATIONS[relation]
            elif relation in ("on", "upon") and d == at:  # "a table with a candle on it"
                on = max((other for other in names if other < at and row(names[other]).top), default=-1)
            elif relation in ("on", "upon") and d in names and row(names[d]).top:
                on = min(other for other in names if names[other] == names[d])
    if where == "under" and not row(name).seat:
        where = "beside"
    return ThingSaid(at, name, min(many, _MOST_ALIKE), where, of, on, note)


def _acts(parse: Parse, person: int, acts: frozenset[str]) -> bool:
    return any(parse.words[d].base in acts for d in parse.dependents_of(person, "does", "attr"))
