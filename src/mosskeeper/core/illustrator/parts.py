"""The parts of a figure one after the other, each built once for all figures of which it is the same.

Exemplars of a take differ in a face or a colour: what a part reads of a person is noted while it is built, and what was
built is taken again where all that was read is the same. Each thread keeps its own, since paths are not shared by threads.
"""

from __future__ import annotations

import itertools
from collections import OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from threading import local
from typing import Any

from mosskeeper.core.illustrator import accessories, body, face, garments, hair, headwear, profile, props
from mosskeeper.core.illustrator.description import Person
from mosskeeper.core.illustrator.figure import SIDES, Figure
from mosskeeper.core.illustrator.items import Item, Lamp
from mosskeeper.core.illustrator.locks import Hair
from mosskeeper.core.illustrator.shapes import Points

_MOST = 240  # parts that a thread keeps
_VERSIONS = 16  # of one part in one place


class _Noting:
    """A person that notes what is read of it."""

    def __init__(self, person: Person) -> None:
        object.__setattr__(self, "_person", person)
        object.__setattr__(self, "read", {})

    def __getattr__(self, name: str) -> Any:
        value = getattr(self._person, name)
        self.read[name] = value
        return value


@dataclass(frozen=True, slots=True)
class _Part:
    read: dict[str, Any]  # of the person, by field
    items: list[Item]
    lamps: list[Lamp]
    landmarks: dict[str, Points]
    random: Any  # the state that the figure's random numbers were left in
    gave: Any
    serial: int  # no other part ever has it


class _Kept(local):
    def __init__(self) -> None:
        self.parts: OrderedDict[Hashable, list[_Part]] = OrderedDict()


_kept = _Kept()
_serials = itertools.count()


def draw(f: Figure, where: Hashable) -> None:
    """Adds all items of a figure to its display.

    Parameters
    ----------
    where : all that its parts depend on besides the person and its light: posture, place in the picture, wind.
    """

    person = f.is_

    def part(name: str, build: Callable[[], Any], *on: Hashable) -> _Part:
        state = f.rng.bit_generator.state
        random = state["state"]["state"], state["has_uint32"], state["uinteger"]
        return _built(f, (name, where, person.subject, person.build, f.light_side, random, *on), build)

    part("body", lambda: body.draw(f))
    hairs = part("locks", lambda: hair.build(f))
    locks: Hair = hairs.gave
    show = profile.draw if f.profile else face.draw
    part("face", lambda: show(f, locks.front.outlines), hairs.serial)
    part("hair", lambda: hair.draw(f, locks), hairs.serial)
    part("garments", lambda: garments.dress(f))
    part("accessories", lambda: accessories.draw(f))
    part("headwear", lambda: headwear.draw(f))
    holding: tuple[str, ...] = part("props", lambda: props.draw(f), f.light.glow).gave
    part("hands", lambda: _hands(f, holding), holding)


def _hands(f: Figure, holding: tuple[str, ...]) -> None:
    for side, sign in SIDES:
        body.hand(f, side, sign, side in holding)


def _built(f: Figure, key: Hashable, build: Callable[[], Any]) -> _Part:
    """Adds what a part consists of, built anew where none is kept of a person who is the same in all that it read."""
    display, person = f.display, f.is_
    kept = _kept.parts.setdefault(key, [])
    _kept.parts.move_to_end(key)
    found = next((one for one in kept if all(getattr(person, name) == value for name, value in one.read.items())), None)
    if found is None:
        noting, items, lamps, marks = _Noting(person), len(display.items), len(display.lamps), dict(f.landmarks)
        f.is_ = noting  # type: ignore[assignment]
        try:
            gave = build()
        finally:
            f.is_ = person
        new = {name: at for name, at in f.landmarks.items() if name not in marks}
        found = _Part(noting.read, display.items[items:], display.lamps[lamps:], new, f.rng.bit_generator.state, gave, next(_serials))
        kept.append(found)
        del kept[:-_VERSIONS]
        while len(_kept.parts) > _MOST:
            _kept.parts.popitem(last=False)
    else:
        display.items += found.items
        display.lamps += found.lamps
        f.landmarks |= found.landmarks
        f.rng.bit_generator.state = found.random
    return found
