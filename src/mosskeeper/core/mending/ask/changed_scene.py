"""What words and a mask ask of a scene: the scene with only that changed."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, replace

import numpy as np

from mosskeeper.core.illustrator import companions, props
from mosskeeper.core.illustrator.description import MOST_THINGS, Description, Part, Person
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.mending.ask import held_things as hands
from mosskeeper.core.mending.ask import newcomers as standing
from mosskeeper.core.mending.ask import person
from mosskeeper.core.mending.ask.instructions import resized
from mosskeeper.core.mending.ask.landscape import landscaped
from mosskeeper.core.mending.ask.nearby_numbers import Near, Numbers
from mosskeeper.core.mending.ask.variants import varied
from mosskeeper.core.mending.ask.words_of_mend import Said, said
from mosskeeper.core.mending.masks import Mask
from mosskeeper.core.traits import OF_PLACE

_GONE = {Part.PROP: "prop", Part.HEADWEAR: "headwear", Part.COMPANION: "companion", Part.FACIAL_HAIR: "facial hair"}
_COVERED = 0.7  # of a thing, from which a mask without words takes it away
_COVERED_FIGURE = 0.75
_UNCHANGED = "it is so already, or the mask does not reach it: nothing changes"
_UNKNOWN = "nothing of this is known here, or the mask covers nothing whole: nothing changes"
_STRANGER = 0.25  # of the mask that a figure must fill for a person named in it to be that figure

Somebody = Callable[[str, np.random.Generator], Person]  # the person whom words describe
Lend = Callable[[Person, Collection[str]], Person]  # a person with what references lend, but for attributes that words name
# a scene with what poses and boards give; its drawing, whom the mask is of, what is told of it, attributes that words name
Hand = Callable[[Scene, Drawing, int | None, list[str], Collection[str]], Scene]


@dataclass(frozen=True, slots=True)
class Leeway:
    """Besides words: what references lend, what the hand gives, and the numbers from which what nobody named is drawn."""

    lend: Lend | None = None
    rng: Numbers | None = None
    hand: Hand | None = None

    @property
    def says(self) -> bool:
        """Whether something is asked without words."""
        return self.lend is not None or self.hand is not None


@dataclass(frozen=True, slots=True)
class ChangedScene:
    scene: Scene
    says: tuple[str, ...] = ()  # what was done, for the artist
    air: bool = False  # whether another light, time, weather or place was asked for


def asked(
    scene: Scene, before: Drawing, mask: Mask, words: str, negative: str, somebody: Somebody, leeway: Leeway | None = None
) -> ChangedScene:
    """The scene with what `words` ask where `mask` (H, W) is open, and without what they send away.

    Who is meant, which hand, where a thing stands and how large it may be are read from the mask. No words at all take
    away what the mask covers.

    Parameters
    ----------
    before : the scene's drawing, with its albedo.
    somebody : gives the person whom words describe, for one who comes into the picture.
    leeway : None for the usual one of all that words leave open.
    """
    what, given = said(words, negative), scene
    leeway = leeway or Leeway()
    if not (words.strip() or what.gone or leeway.says):
        what = replace(what, gone=_covered(scene, before, mask))
    if landscaped(scene, mask, words, []) is not scene:
        what = what.without_place()
    wanted, gone, told = what.wanted, what.gone, list[str]()
    scene = _of_picture(scene, what, told)
    n, share = _whom(before, mask, wanted.get("subject") or next(iter(gone.get("subject", ())), None))
    if "subject" in gone and n is not None:
        return ChangedScene(replace(scene, absent=scene.absent | {n}), ("taken away",))
    if "subject" in wanted and share < _STRANGER:
        made = _newcomer(words, somebody, leeway.rng or np.random.default_rng(int(mask.sum())))
        scene, told = standing.with_somebody(scene, mask, made), [f"{made.subject} added"]
        if leeway.hand is not None:
            scene = leeway.hand(scene, before, len(scene.postures) - 1, told, wanted.keys())
        return ChangedScene(scene, tuple(told))
    scene = _of_figure(scene, n, mask, before, what, leeway.lend, told)
    if leeway.hand is not None:
        scene = leeway.hand(scene, before, n, told, wanted.keys() | gone.keys())
    scene = _without(scene, gone, told)
    scene = _with_things(scene, what, mask, n, told)
    scene = landscaped(scene, mask, words, told)
    if _same(scene, given) and "finish" not in wanted and what.size is None and len(scene.things) < MOST_THINGS:
        told = [_UNCHANGED if wanted or gone or what.look else _UNKNOWN]
    if leeway.rng is not None:
        scene = varied(given, scene, frozenset(wanted) | what.tints.keys(), leeway.rng)
    return ChangedScene(scene, tuple(told), any(name in wanted for name in (*OF_PLACE, "finish")))


def _of_picture(scene: Scene, what: Said, told: list[str]) -> Scene:
    """Another place, time, weather, light or finish, where words name one."""
    named: dict[str, object] = {name: what.wanted[name] for name in OF_PLACE if name in what.wanted}
    told += [f"{name}: {value}" for name, value in named.items()]
    if "finish" in what.wanted:
        named["finish"] = finish = tuple(what.names["finish"])
        told.append(f"finish: {' and '.join(finish)}")
    return replace(scene, description=replace(scene.description, **named))  # type: ignore[arg-type]


def _of_figure(scene: Scene, n: int | None, mask: Mask, before: Drawing, what: Said, lend: Lend | None, told: list[str]) -> Scene:
    """What is asked of the figure that the mask is of: other looks, an emptied hand, another size, what references lend."""
    if n is not None and (set(what.wanted) - {*OF_PLACE, "finish"} or what.gone or what.look):
        scene = person.changed(scene, n, mask, before, what, told)
    if n is not None and "prop" in what.gone:
        held = scene.description.figures[n]
        scene = hands.emptied(scene, n, what.gone["prop"])
        if scene.description.figures[n] != held:
            told.append("taken out of the hand")
    if what.size is not None:
        scene = resized(scene, n, before, mask, what.size, told)
    if n is not None and lend is not None:
        now = scene.description.figures[n]
        lent = lend(now, what.wanted.keys() | what.gone.keys())
        if lent != now:
            scene = scene.with_person(n, lent)
            told.append("as the references have it")
    return scene


def _without(scene: Scene, gone: Mapping[str, Collection[str]], told: list[str]) -> Scene:
    """Things that stand there, and a companion, taken away."""
    stay = tuple(thing for thing in scene.things if not any(thing.name in names for names in gone.values()))
    told += ["taken away"] * (len(stay) < len(scene.things))
    scene = replace(scene, things=stay)
    if "companion" in gone and scene.description.companion != "nobody":
        scene = replace(scene, description=replace(scene.description, companion="nobody"))
        told.append("companion taken away")
    return scene


def _with_things(scene: Scene, what: Said, mask: Mask, n: int | None, told: list[str]) -> Scene:
    """Props put into the hand that the mask is at, or beside it where there is none; companions stand there."""
    for name in what.names.get("prop", []):
        at = None if name == "nothing" else hands.hand_in(scene, mask, name)
        if name == "nothing":
            scene = hands.emptied(scene, n or 0, set(props.PROPS))
        elif at is not None:
            scene = hands.holding(scene, *at, name, mask)
            told.append(f"{name} in the {at[1]} hand of figure {at[0] + 1}")
        else:
            scene = standing.standing(scene, name, mask, told)
    for name in what.names.get("companion", []):
        if name != "nobody":
            scene = standing.standing(scene, name, mask, told)
    for one in what.stands:
        scene = standing.standing(scene, one.name, mask, told, one.colour)
    return scene


def _newcomer(words: str, somebody: Somebody, rng: Numbers) -> Person:
    if isinstance(rng, Near):
        return rng.somebody(lambda numbers: somebody(words, numbers))
    return somebody(words, rng)


def _same(a: Scene, b: Scene) -> bool:
    held = len(a.postures) == len(b.postures) and all(p is q for p, q in zip(a.postures, b.postures, strict=True))
    kept = (a.things, a.absent, a.roughs, a.ground, a.disc) == (b.things, b.absent, b.roughs, b.ground, b.disc)
    return held and kept and _plain(a.description) == _plain(b.description)


def _plain(d: Description) -> Description:
    """Without what only says how something is drawn that is not there."""
    return replace(d, headwear_colours=None) if d.headwear == "none" else d


def _whom(before: Drawing, mask: Mask, subject: str | None) -> tuple[int | None, float]:
    """The figure that the mask covers most, and how much of the mask it fills."""
    y, x = np.mgrid[: mask.shape[0], : mask.shape[1]]
    shares = []
    for n, shown in enumerate(before.shown):
        near = (before.figures == n + 1) | (np.hypot(x - shown.head[0], y - shown.head[1]) < 1.5 * shown.head[2])
        shares.append(float((near & mask).sum() / max(mask.sum(), 1)) * (2.0 if subject == shown.person.subject else 1.0))
    best = int(np.argmax(shares))
    return (best, shares[best]) if shares[best] > 0.02 else (None, 0.0)


def _covered(scene: Scene, before: Drawing, mask: Mask) -> dict[str, set[str]]:
    """What a mask without words covers wholly: that goes."""
    for n, shown in enumerate(before.shown):
        there = before.figures == n + 1
        if there.any() and mask[there].mean() > _COVERED_FIGURE:
            return {"subject": {shown.person.subject}}
    for k, thing in enumerate(scene.things):
        there = before.figures == len(scene.postures) + 2 + k
        if there.any() and mask[there].mean() > _COVERED:
            return {"thing": {thing.name}}
    for part, name in _GONE.items():
        there = before.labels == part
        if there.any() and mask[there].mean() > _COVERED:
            return {name: set(props.PROPS) | set(companions.COMPANIONS)}
    return {}
