"""Trades and figures of tales: what somebody of a trade wears, holds and has, unless words say otherwise.

One row each, over what the illustrator can draw: attribute → value. "tint THING" is a colour, "#rrggbb".
"""

from __future__ import annotations

from collections.abc import Mapping

_ROYAL = {"headwear": "crown", "outfit": "ceremonial robe"}
_SOLDIER = {"outfit": "courier uniform", "headwear": "helmet"}
_MAGIC = {"outfit": "ceremonial robe", "headwear": "pointed hat", "prop": "wand"}
_SEA = {"outfit": "courier uniform", "headwear": "cap"}
_SICK = {"outfit": "workshop apron", "tint apron": "#f2efe8"}

_TRADES: dict[str, Mapping[str, str]] = {
    "knight paladin crusader": {"outfit": "plate armour", "headwear": "helmet", "prop": "sword"},
    "king emperor": _ROYAL | {"tint outfit": "#7d1f2e"},
    "queen empress": {"headwear": "crown", "outfit": "ball gown", "tint outfit": "#7d1f2e"},
    "prince": {"headwear": "crown", "outfit": "festival coat"},
    "princess": {"headwear": "tiara", "outfit": "ball gown"},
    "pirate buccaneer corsair": {"headwear": "tricorn", "outfit": "travelling coat", "prop": "sword", "eyepatch": "yes"},
    "captain admiral": {"headwear": "tricorn", "outfit": "festival coat"},
    "sailor seaman deckhand mariner": _SEA,
    "soldier guard sentry trooper": _SOLDIER | {"prop": "spear"},
    "warrior fighter barbarian gladiator viking": {"outfit": "bark armour", "prop": "axe"},
    "samurai ronin swordsman swordswoman mercenary": {"outfit": "bark armour", "prop": "sword"},
    "archer ranger": {"outfit": "tunic", "tint outfit": "#4f6b3a", "prop": "bow", "quiver": "yes"},
    "hunter huntress trapper poacher": {"outfit": "travelling coat", "prop": "bow", "quiver": "yes"},
    "assassin rogue thief burglar ninja bandit": {"outfit": "night cloak", "face cover": "yes", "tint mask": "#2c2a30", "prop": "dagger"},
    "highwayman robber": {"outfit": "travelling coat", "mask": "yes", "headwear": "tricorn"},
    "wizard sorcerer mage magician warlock": _MAGIC | {"tint outfit": "#2f3f78"},
    "witch sorceress enchantress": {"outfit": "night cloak", "headwear": "pointed hat", "prop": "broom"},
    "druid shaman": {"outfit": "ceremonial robe", "tint outfit": "#4f6b3a", "headwear": "antlers", "prop": "staff"},
    "bard minstrel troubadour": {"outfit": "tunic", "headwear": "beret", "prop": "lute"},
    "fairy pixie sprite": {"outfit": "garden dress", "fairy wings": "yes", "prop": "wand"},
    "angel": {"outfit": "nightshirt", "wings": "yes", "headwear": "halo"},
    "demon devil imp": {"headwear": "horns", "tail": "yes", "skin": "#a8382c", "outfit": "night cloak"},
    "elf": {"pointed ears": "yes", "outfit": "tunic", "tint outfit": "#4f6b3a"},
    "faun satyr": {"headwear": "horns", "pointed ears": "yes"},
    "goblin orc troll": {"skin": "#6f8a4a", "pointed ears": "yes", "outfit": "tunic"},
    "vampire": {"outfit": "night cloak", "skin": "#e4dcd8", "tint outfit": "#2a2228"},
    "alien": {"skin": "#7fae7a", "outfit": "space suit"},
    "astronaut cosmonaut spaceman": {"outfit": "space suit"},
    "pilot aviator airman": {"outfit": "short jacket", "tint outfit": "#6b4630", "goggles": "yes", "scarf": "yes"},
    "engineer mechanic inventor tinker": {"outfit": "rain overalls", "goggles": "yes", "prop": "wrench"},
    "plumber carpenter builder": {"outfit": "rain overalls", "prop": "hammer", "headwear": "cap"},
    "smith blacksmith farrier": {"outfit": "workshop apron", "prop": "hammer"},
    "miner": {"outfit": "rain overalls", "headwear": "helmet", "prop": "pickaxe"},
    "baker": {"outfit": "workshop apron", "headwear": "chef's hat", "prop": "bread", "tint apron": "#f2efe8"},
    "cook chef": {"outfit": "workshop apron", "headwear": "chef's hat", "tint apron": "#f2efe8"},
    "butcher": {"outfit": "workshop apron", "prop": "dagger", "tint apron": "#f2efe8"},
    "waiter waitress barista": {"outfit": "waistcoat", "prop": "tray", "bow tie": "yes"},
    "maid servant": {"outfit": "workshop apron", "headwear": "bonnet", "tint apron": "#f2efe8"},
    "butler footman valet": {"outfit": "suit", "prop": "tray", "bow tie": "yes"},
    "farmer peasant farmhand": {"outfit": "rain overalls", "headwear": "straw hat", "prop": "pitchfork"},
    "fisherman fisher angler": {"outfit": "rain cape", "prop": "fishing rod"},
    "shepherd shepherdess": {"outfit": "poncho", "prop": "staff"},
    "gravedigger": {"outfit": "travelling coat", "prop": "shovel"},
    "cowboy cowgirl rancher sheriff": {"headwear": "cowboy hat", "outfit": "waistcoat", "scarf": "yes"},
    "nurse": _SICK | {"headwear": "cap", "tint hat": "#f2efe8"},
    "doctor surgeon physician": {"outfit": "winter coat", "tint outfit": "#f2efe8", "glasses": "yes"},
    "scientist chemist alchemist": {"outfit": "winter coat", "tint outfit": "#f2efe8", "goggles": "yes", "prop": "potion"},
    "teacher scholar professor tutor": {"outfit": "suit", "glasses": "yes", "prop": "book"},
    "student pupil": {"outfit": "blouse and skirt", "backpack": "yes", "prop": "book"},
    "scribe clerk poet writer author": {"outfit": "waistcoat", "prop": "quill"},
    "judge lawyer": {"outfit": "cassock", "tint outfit": "#2a2a30"},
    "priest": {"outfit": "cassock"},
    "monk friar": {"outfit": "cassock", "tint outfit": "#6b4a34", "hair": "receding"},
    "nun abbess": {"outfit": "cassock", "headwear": "headscarf", "tint hat": "#2a2a30"},
    "detective inspector spy": {"outfit": "travelling coat", "headwear": "hat", "prop": "magnifying glass"},
    "policeman policewoman constable officer": {"outfit": "courier uniform", "headwear": "cap", "tint outfit": "#2a3450"},
    "fireman firefighter": {"outfit": "rain cape", "headwear": "helmet", "tint hat": "#b8322a"},
    "postman postwoman mailman": {"outfit": "courier uniform", "headwear": "cap", "prop": "letter"},
    "conductor": {"outfit": "courier uniform", "headwear": "cap"},
    "painter artist": {"outfit": "workshop apron", "headwear": "beret", "prop": "paintbrush"},
    "photographer journalist reporter": {"outfit": "short jacket", "prop": "camera"},
    "musician fiddler violinist": {"outfit": "suit", "prop": "violin"},
    "guitarist singer": {"outfit": "short jacket", "prop": "guitar"},
    "drummer": {"outfit": "courier uniform", "prop": "drum"},
    "piper flautist": {"outfit": "tunic", "prop": "flute"},
    "dancer ballerina": {"outfit": "tutu"},
    "acrobat gymnast trapezist": {"outfit": "leotard"},
    "clown jester": {"outfit": "ceremonial robe", "face paint": "yes", "prop": "balloons"},
    "bride": {"outfit": "wedding dress", "prop": "flowers", "headwear": "flower crown"},
    "groom": {"outfit": "suit", "bow tie": "yes"},
    "boxer athlete runner footballer": {"outfit": "t-shirt and shorts"},
    "explorer adventurer hiker traveller wanderer archaeologist": {"outfit": "travelling coat", "headwear": "hat", "backpack": "yes", "prop": "map"},
    "merchant trader pedlar shopkeeper": {"outfit": "ceremonial robe", "headwear": "turban", "prop": "coins"},
    "beggar vagrant": {"outfit": "poncho", "prop": "cup"},
    "fortune-teller seer oracle": {"headwear": "headscarf", "outfit": "sari", "prop": "crystal ball"},
    "businessman businesswoman banker": {"outfit": "suit", "tie": "yes", "prop": "briefcase"},
    "lumberjack woodcutter woodsman": {"outfit": "shirt and trousers", "prop": "axe"},
    "gardener": {"outfit": "workshop apron", "headwear": "straw hat", "prop": "watering can"},
    "librarian": {"outfit": "knitted jumper", "glasses": "yes", "prop": "book"},
    "messenger courier": {"outfit": "courier uniform", "prop": "letter"},
    "lamplighter": {"outfit": "travelling coat", "headwear": "cap", "prop": "lantern"},
    "diver": {"outfit": "diver's suit"},
    "superhero hero heroine": {"outfit": "leotard", "mask": "yes"},
}  # fmt: skip
TRADES: dict[str, Mapping[str, str]] = {word: row for words, row in _TRADES.items() for word in words.split()}
_TINT = "tint "


def with_trade(trade: str, wanted: dict[str, dict[str, float]], tints: dict[str, str]) -> None:
    """Adds what somebody of a trade has to what is wanted of them, where nothing is said of it.

    wanted : attribute → value → score. tints : thing → "#rrggbb". Both are changed.
    """
    row = TRADES.get(trade, {})
    dressed = "outfit" in wanted
    for attribute, value in row.items():
        thing = attribute.removeprefix(_TINT)
        if thing != attribute:
            if thing not in tints and not (dressed and thing != "hat"):
                tints[thing] = value
        elif attribute == "skin":
            if "skin" not in wanted and "skin" not in tints:
                tints["skin"] = value
        elif attribute not in wanted:
            wanted[attribute] = {value: 1.0}
