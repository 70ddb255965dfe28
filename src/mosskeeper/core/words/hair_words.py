"""Hair in words: what is said of it, however it is ordered, and the illustrator's style that it comes to."""

from __future__ import annotations

from collections.abc import Iterable

# Nouns that are hair, with what they say of its style by themselves.
HAIR_NOUNS: dict[str, str] = {
    **dict.fromkeys(("hair", "lock", "mane", "tress", "strand", "hairstyle", "hairdo", "tendril", "mop"), ""),
    **dict.fromkeys(("braid", "plait", "french braid", "side braid", "fishtail braid"), "braid"),
    **dict.fromkeys(("dreadlock", "dread", "locs", "loc"), "locs"),
    **dict.fromkeys(("cornrow", "box braid"), "cornrows"),
    **dict.fromkeys(("pigtail", "bunch"), "pigtails"),
    **dict.fromkeys(("crown braid", "milkmaid braid", "braided crown"), "crown"),
    **dict.fromkeys(("bun", "chignon", "knot", "hair bun"), "bun"),
    **dict.fromkeys(("topknot", "top knot", "man bun"), "topknot"),
    **dict.fromkeys(("space bun", "double bun", "two buns"), "twobuns"),
    **dict.fromkeys(("ponytail", "pony tail"), "ponytail"),
    **dict.fromkeys(("curl", "ringlet", "frizz"), "curly"),
    **dict.fromkeys(("afro",), "afro"),
    **dict.fromkeys(("bob", "bob cut", "pageboy", "bowl cut"), "bob"),
    **dict.fromkeys(("fringe", "bang"), "fringe"),
    **dict.fromkeys(("pixie", "pixie cut", "pixie crop"), "pixie"),
    **dict.fromkeys(("buzz cut", "crew cut", "stubble hair"), "shaved"),
    **dict.fromkeys(("undercut", "side cut", "pompadour", "quiff"), "undercut"),
    **dict.fromkeys(("waves", "hair wave"), "wavy"),
    **dict.fromkeys(("mohawk", "mohican"), "mohawk"),
    **dict.fromkeys(("mullet",), "mullet"),
    **dict.fromkeys(("crop",), "short"),
    **dict.fromkeys(("hairline",), "receding"),
}
# Qualities, with what they say of the style of hair.
HAIR_QUALITIES: dict[str, str] = {
    **dict.fromkeys(("long", "flowing", "waist-length", "cascading", "long-haired"), "long"),
    **dict.fromkeys(("short", "cropped", "clipped", "choppy", "boyish", "short-haired", "shorn"), "short"),
    **dict.fromkeys(("messy", "tousled", "dishevelled", "unkempt", "shaggy", "wild", "tangled", "windswept", "scruffy"), "messy"),
    **dict.fromkeys(("shoulder-length", "chin-length", "bobbed"), "bob"),
    **dict.fromkeys(("straight", "sleek", "smooth"), "straight"),
    **dict.fromkeys(("loose", "open", "undone"), "loose"),
    **dict.fromkeys(("wavy", "waved", "crimped"), "wavy"),
    **dict.fromkeys(("curly", "curled", "frizzy", "curly-haired", "coiled", "permed"), "curly"),
    **dict.fromkeys(("kinky", "nappy", "tight"), "tight curly"),
    **dict.fromkeys(("braided", "plaited"), "braid"),
    **dict.fromkeys(("tied", "tied-back", "pulled-back"), "ponytail"),
    **dict.fromkeys(("pinned", "pinned-up", "up", "upswept", "gathered"), "bun"),
    **dict.fromkeys(("low",), "low"),
    **dict.fromkeys(("combed",), "side"),
    **dict.fromkeys(("swept", "side-swept", "side swept"), "swept"),
    **dict.fromkeys(("slicked", "slicked-back", "slicked back", "slick", "swept-back", "combed-back"), "slicked"),
    **dict.fromkeys(("spiky", "spiked", "spikey", "pointy", "spiky-haired"), "spiky"),
    **dict.fromkeys(("dreadlocked",), "locs"),
    **dict.fromkeys(("shaved", "shaven"), "shaved"),
    **dict.fromkeys(("bald", "hairless", "bald-headed"), "bald"),
    **dict.fromkeys(("balding", "receding", "thinning"), "receding"),
}
ALONE = frozenset(  # qualities that speak of hair wherever they stand by a person or a head
    "bald spiky spiky-haired dreadlocked shaved shaven hairless bald-headed balding receding curly-haired long-haired short-haired braided plaited curly wavy frizzy".split()
)


def style(said: Iterable[str], many: bool) -> str | None:
    """The illustrator's style for what is said of somebody's hair; None where nothing is.

    many : whether braids are two.
    """
    features = {feature for words in said for feature in words.split()}
    long, short = "long" in features, bool(features & {"short", "messy", "side"}) and "long" not in features
    rules: tuple[tuple[bool, str], ...] = (
        ("bald" in features, "bald"),
        ("mohawk" in features, "mohawk"),
        ("undercut" in features, "undercut"),
        ("shaved" in features, "shaved"),
        ("afro" in features, "afro"),
        ("locs" in features, "locs"),
        ("cornrows" in features, "cornrows"),
        ("twobuns" in features or ("bun" in features and "low" not in features and many), "two buns"),
        ("topknot" in features, "topknot"),
        ("mullet" in features, "mullet"),
        ("receding" in features, "receding"),
        ("crown" in features, "crown braid"),
        ("braid" in features and (many or "pigtails" in features), "two braids"),
        ("pigtails" in features, "pigtails"),
        ("braid" in features and "bun" not in features, "braid"),
        ("bun" in features and "low" in features, "low bun"),
        ("bun" in features, "bun"),
        ("ponytail" in features, "ponytail"),
        ("slicked" in features, "slicked back"),
        ("spiky" in features and not long, "spiky"),
        ("swept" in features and not short, "side-swept"),
        ("pixie" in features or (short and bool(features & {"side", "swept"})), "pixie"),
        ("bob" in features, "bob"),
        ("fringe" in features, "long with fringe"),
        ("curly" in features and ("tight" in features or (short and "messy" not in features)), "short curls"),
        ("curly" in features, "curls"),
        ("wavy" in features and short and "short" in features, "bob"),
        ("wavy" in features or ("messy" in features and long), "long wavy"),
        (bool(features & {"long", "straight", "loose"}) and "short" not in features, "long straight"),
        (short, "cropped"),
    )
    return next((name for holds, name in rules if holds), None)
