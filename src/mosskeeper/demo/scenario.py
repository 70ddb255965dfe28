"""The demo story: made up, and drawn by the built-in engine with fixed seeds."""

from __future__ import annotations

from dataclasses import dataclass

STORY = "The Rainward Roofs"
SUMMARY = (
    "In the rain town of Ollowmere the roofs are kept alive by moss keepers. One of them, Marrit Fenn, finds that the "
    "moss on the oldest roof has begun to glow."
)


@dataclass(frozen=True, slots=True)
class DemoCharacter:
    name: str
    traits: str
    summary: str
    outfits: dict[str, str]  # name → words
    anchor_seed: int  # of the take that becomes the lead anchor
    anchor_wear: str  # what they wear in it


@dataclass(frozen=True, slots=True)
class DemoShot:
    member: str
    outfit: str
    scene: str
    words: str
    seed: int  # of its first take
    keep: int | None = 0  # which take is kept
    count: int = 3
    styles: tuple[str, ...] = ("gouache",)


CAST = (
    DemoCharacter("Marrit Fenn", "young woman, fair skin, copper hair in a long braid, freckles, green eyes", "A young moss keeper.",
           {"rain cape": "mustard rain cape with teal trim", "festival coat": "navy festival coat with cream trim",
            "workshop apron": "brown workshop apron"}, 11, "a moss green tunic"),
    DemoCharacter("Oda Brask", "old woman, dark skin, silver curls, round glasses, brown eyes", "The old lamplighter.",
           {"night cloak": "plum night cloak with teal lining"}, 21, "a lilac knitted jumper"),
    DemoCharacter("Tobin Quill", "boy, brown skin, black tight curls, brown eyes", "A boy who carries letters.",
           {"tunic": "red tunic with teal trim"}, 31, "a red tunic"),
)  # fmt: skip

ANCHOR_WORDS = "front view, portrait, calm, at noon in the roof garden"

SCENES = {
    "Roof garden, dawn rain": "in the roof garden at dawn, rain",
    "Fern house, noon": "in the fern house at noon, clear weather",
    "Canal market, dusk": "at the canal market at dusk, clear weather",
    "Library stair, night": "on the library stair by night",
}

SHOTS = (
    DemoShot("Marrit Fenn", "rain cape", "Roof garden, dawn rain", "portrait, thoughtful, front view", 101),
    DemoShot("Marrit Fenn", "rain cape", "Fern house, noon", "half figure, smiling, empty hands", 111, 2),
    DemoShot("Marrit Fenn", "workshop apron", "Fern house, noon", "half figure, calm, empty hands", 121, 2),
    DemoShot("Marrit Fenn", "festival coat", "Canal market, dusk", "half figure, holding up a lantern, calm", 131),
    DemoShot("Marrit Fenn", "festival coat", "Library stair, night", "full figure, surprised, holding a lantern", 145),
    DemoShot("Oda Brask", "night cloak", "Library stair, night", "full figure, standing, holding a lantern", 151, 1),
    DemoShot("Oda Brask", "night cloak", "Canal market, dusk", "half figure, proud", 161, 2),
    DemoShot("Oda Brask", "night cloak", "Roof garden, dawn rain", "portrait, calm", 171),
    DemoShot("Oda Brask", "night cloak", "Fern house, noon", "half figure, smiling, natural figures", 223, 2),
    DemoShot("Tobin Quill", "tunic", "Fern house, noon", "full figure, walking, with a letter, happy", 181),
    DemoShot("Tobin Quill", "tunic", "Canal market, dusk", "half figure, waving, joyful", 191, 1),
    DemoShot("Tobin Quill", "tunic", "Roof garden, dawn rain", "full figure, sitting, holding a letter, sad", 201),
    DemoShot("Tobin Quill", "tunic", "Library stair, night", "half figure, afraid, with a lantern", 211, None),
)
