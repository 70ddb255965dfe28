"""One figure of a scene changed by words: who it is, what it wears, how it looks."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from mosskeeper.core.illustrator.description import WORN, Part, Person
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.scene import Scene, head_turned, reposed
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH
from mosskeeper.core.illustrator.vocabulary.outfits import USUAL_COLOURS, has_hood
from mosskeeper.core.mending.ask.extent import extent
from mosskeeper.core.mending.ask.words_of_mend import Said
from mosskeeper.core.mending.masks import Mask
from mosskeeper.core.traits import OF_FIGURE
from mosskeeper.core.words.tints import in_tints, rgb_of

_APART = ("outfit", "headwear")  # which come with their colours
PLAIN = {t.name: t.field for t in OF_FIGURE if t.kind in ("name", "tone") and t.name not in _APART}  # attributes that are one field
_SWITCHES = tuple(trait.name for trait in OF_FIGURE if trait.kind == "switch")
_TAKEN_OFF = {trait.name: trait.field for trait in OF_FIGURE if trait.off == "none"}
_EYES_ONLY = 0.75  # head heights: a mask that is not higher moves the eyes, a higher one the head
_FACE_SEEN = 0.9  # of a full turn or nod, of a head that looks somewhere


def changed(scene: Scene, n: int, mask: Mask, before: Drawing, what: Said, told: list[str]) -> Scene:
    """The scene with figure `n` as words want it; `told` gets what was done.

    Under a small mask the body stays as it stands. A hat keeps its colours, whatever the coat's become.
    """
    person, held = scene.description.figures[n], scene.postures[n]
    wanted, gone = what.wanted, what.gone
    there = before.figures == n + 1
    changes: dict[str, object] = {name: wanted[a] for a, name in PLAIN.items() if a in wanted}
    changes |= {thing: thing in wanted for thing in _SWITCHES if thing in wanted or thing in gone}
    changes |= {name: "none" for a, name in _TAKEN_OFF.items() if a in gone}
    worn = tuple(t for t in WORN if (t in person.worn or t in wanted) and t not in gone)
    if worn != person.worn:
        changes["worn"] = worn
    if "expression" in wanted:
        changes |= {"expression": "+".join(sorted(what.names["expression"])), "lids": 1.0}
    over = int(np.bincount(before.labels[mask & there], minlength=32).argmax()) if (mask & there).any() else 0
    on_head = ("headwear" in wanted or (person.headwear != "none" and over == Part.HEADWEAR)) and "headwear" not in gone
    changes |= _coloured(person, what, on_head, told)
    tints = {thing: tone for thing, tone in what.tints.items() if thing not in (("hat", "outfit") if on_head else ("hat",))}
    if what.look is not None:
        low = np.ptp(np.nonzero(mask)[0]) < _EYES_ONLY * scene.camera.spots[n].scale
        if what.look.lids is not None:
            changes["lids"] = what.look.lids
        if what.look.way is not None and low:
            changes["look"] = what.look.way
        elif what.look.way is not None:
            x, y = what.look.way
            turn = _FACE_SEEN * x * person.layout.facing if x else held.head.turn
            held = replace(held, head=replace(held.head, turn=turn, nod=_FACE_SEEN * y if y else held.head.nod, profile=0))
    elif "view" in wanted or "gaze" in wanted:
        layout = replace(person.layout, view=wanted.get("view", person.layout.view), gaze=wanted.get("gaze", person.layout.gaze))
        changes["layout"] = layout
        held = head_turned(replace(person, layout=layout), held)
    person = in_tints(replace(person, **changes), tints)  # type: ignore[arg-type]
    told += [f"{name.replace('_', ' ')}: {value}" for name, value in changes.items() if isinstance(value, str)]
    told += [f"{name} {'on' if value else 'off'}" for name, value in changes.items() if isinstance(value, bool)]
    told += [
        f"{thing} {'on' if thing in worn else 'off'}" for thing in WORN if (thing in worn) != (thing in scene.description.figures[n].worn)
    ]
    told += [f"{thing}: {what.coloured.get(thing, tone)}" for thing, tone in what.tints.items()]
    if what.look is not None:
        told.append("eyes" if held is scene.postures[n] else "head turned")
    scene = scene.with_person(n, person, held)
    whole = (mask & there).sum() > 0.5 * there.sum()
    if "pose" in wanted or (whole and {"subject", "build"} & changes.keys()):
        scene = reposed(scene, n, replace(person, layout=replace(person.layout, pose=wanted.get("pose", person.layout.pose))))
    part = Part.HEADWEAR if on_head else Part.HAIR if "hair" in wanted else None
    return scene if part is None else _sized(scene, n, mask, part, told)


def _coloured(person: Person, what: Said, on_head: bool, told: list[str]) -> dict[str, object]:
    """Outfit, hat and their colours."""
    wanted, changes = what.wanted, dict[str, object]()
    colours = {name: tuple(map(float, CLOTH[wanted[a]])) for a, name in (("colour", "colour_a"), ("trim", "colour_b")) if a in wanted}
    worn = person.headwear_colours or (person.colour_a, person.colour_b)
    if person.headwear != "none":
        changes["headwear_colours"] = worn
    if on_head:  # the colour that is named is the hat's
        tone = what.tints.get("hat") or what.tints.get("outfit")
        first = rgb_of(tone) if tone else next(iter(colours.values()), worn[1])
        style = wanted.get("headwear", person.headwear)
        changes |= {"headwear": style, "headwear_colours": (first, worn[1]) if style == "headscarf" else (worn[0], first)}
        colours = colours if "outfit" in wanted else {}
        if has_hood(person.outfit):
            told.append("no hat is worn over a hood")
    if "outfit" in wanted:
        span = what.spoken[("outfit", wanted["outfit"])]
        said = [word for word in span.split() if word not in ("a", "an", "the")]
        if len(said) > 1 or said[0] not in person.outfit.split():  # "the coat" of somebody in a travelling coat is that one
            usual = (tuple(map(float, CLOTH[c])) for c in USUAL_COLOURS[wanted["outfit"]])
            changes |= {"outfit": wanted["outfit"], **dict(zip(("colour_a", "colour_b"), usual, strict=True))}
    return changes | colours


def _sized(scene: Scene, n: int, mask: Mask, part: Part, told: list[str]) -> Scene:
    """Hat or hair as large as the mask wants it, within what can be worn."""
    box, (my, mx) = extent(scene, n, part), np.nonzero(mask)
    if box is None:
        return scene
    x0, x1, top, low = box
    base = low if part == Part.HEADWEAR else top + 0.3 * scene.camera.spots[n].scale
    wide, high = np.ptp(mx) / max(x1 - x0, 1), (base - my.min()) / max(base - top, 1)
    person = scene.description.figures[n]
    if part == Part.HEADWEAR:  # a mask leaves some room about a hat
        size = float(np.clip(0.95 * wide, 0.85, 1.8)), float(np.clip(0.9 * high, 0.95, 1.3))
        if 0.95 * wide > 1.9 or 0.9 * high > 1.4:
            told.append("the mask asks for a larger hat than can be worn: it stays within 1.8 heads")
        person = replace(person, headwear_size=size)
    else:  # hair follows only a mask that is clearly larger
        size = float(np.clip(wide - 0.15, 1.0, 1.3)), float(np.clip(high - 0.25, 1.0, 1.12))
        person = replace(person, hair_size=size)
    told.append(f"{part.name.lower()} ×{size[0]:.2f} wide, ×{size[1]:.2f} high")
    return scene.with_person(n, person)
