"""The parts of a figure one after the other, each built once for all figures of which it is the same.

Exemplars of a take differ in a face, a colour or the weather: what a part reads of a person and of the air is noted while it
is built, and what was built is taken again where all that was read is the same. What only has a person's colours is dyed
afterwards. Each thread keeps its own, since paths are not shared by threads.
"""

from __future__ import annotations

import itertools
from collections import OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from threading import local
from typing import Any

from mosskeeper.core.illustrator import accessories, body, face, garments, hair, headwear, profile, props
from mosskeeper.core.illustrator.figure import SIDES, DrawnFigure
from mosskeeper.core.illustrator.items import Item, Lamp, dyed
from mosskeeper.core.illustrator.locks import Hair
from mosskeeper.core.illustrator.natural import hands
from mosskeeper.core.illustrator.natural.figure import add_head, below_head
from mosskeeper.core.illustrator.shapes import Points

_MOST = 240  # parts that a thread keeps
_VERSIONS = 16  # of one part in one place
_Random = tuple[int, int, int]  # the state of random numbers


class _Noting:
    """A person or the air, noting what is read of it."""

    def __init__(self, of: object) -> None:
        self._of, self.read = of, dict[str, Any]()

    def __getattr__(self, name: str) -> Any:
        value = getattr(self._of, name)
        self.read[name] = value
        return value


@dataclass(frozen=True, slots=True)
class _Part:
    person: dict[str, Any]  # what was read of the person, by field
    air: dict[str, Any]
    drew: _Random | None  # the state that the figure's random numbers were in, where it drew any
    items: list[Item]
    lamps: list[Lamp]
    landmarks: dict[str, Points]
    left: dict[str, Any]  # the state that the random numbers were left in
    gave: Any
    serial: int  # no other part ever has it

    def suits(self, f: DrawnFigure, random: _Random) -> bool:
        """Whether it would be built in the same way for this figure."""
        return (
            self.drew in (None, random)
            and all(getattr(f.is_, name) == value for name, value in self.person.items())
            and all(getattr(f.air, name) == value for name, value in self.air.items())
        )


class _Kept(local):
    def __init__(self) -> None:
        self.parts: OrderedDict[Hashable, list[_Part]] = OrderedDict()


_kept = _Kept()
_serials = itertools.count()


def draw(f: DrawnFigure, where: Hashable) -> None:
    """Adds all items of a figure to its display.

    Parameters
    ----------
    where : all that its parts depend on besides the person and the air: posture, place in the picture.
    """
    person, before = f.is_, len(f.display.items)
    f.undyed = True

    def part(name: str, build: Callable[[], Any], *on: Hashable) -> _Part:
        return _built(f, (name, where, person.subject, person.build, person.figure, *on), build)

    part("body", lambda: body.draw(f))
    if f.natural:
        _dressed_natural(f, part)
        f.undyed = False
        f.display.items[before:] = below_head(dyed(f.display.items[before:], f.colour))
        add_head(f, f.display.canvas)
        return
    hairs = part("locks", lambda: hair.build(f))
    locks: Hair = hairs.gave
    show = profile.draw if f.profile else face.draw
    part("face", lambda: show(f, locks.front.outlines), hairs.serial)
    part("hair", lambda: hair.draw(f, locks), hairs.serial)
    part("garments", lambda: garments.dress(f))
    part("accessories", lambda: accessories.draw(f))
    part("headwear", lambda: headwear.draw(f))
    holding: tuple[str, ...] = part("props", lambda: props.draw(f)).gave
    part("hands", lambda: _hands(f, holding), holding)
    f.undyed = False
    f.display.items[before:] = dyed(f.display.items[before:], f.colour)


def _dressed_natural(f: DrawnFigure, part: Callable[..., _Part]) -> None:
    """Clothes, things and hands of a figure whose head is a solid."""
    part("garments", lambda: garments.dress(f))
    part("accessories", lambda: accessories.draw(f))
    part("headwear", lambda: headwear.draw(f))
    holding: tuple[str, ...] = part("props", lambda: props.draw(f)).gave

    def both() -> None:
        for side, sign in SIDES:
            hands.hand(f, side, sign, side in holding)

    part("hands", both, holding)


def _hands(f: DrawnFigure, holding: tuple[str, ...]) -> None:
    for side, sign in SIDES:
        body.hand(f, side, sign, side in holding)


def _built(f: DrawnFigure, key: Hashable, build: Callable[[], Any]) -> _Part:
    """Adds what a part consists of, built anew where none is kept that would be the same."""
    display, random = f.display, _random(f)
    kept = _kept.parts.setdefault(key, [])
    _kept.parts.move_to_end(key)
    found = next((one for one in kept if one.suits(f, random)), None)
    if found is None:
        found = _noted(f, random, build)
        kept.append(found)
        del kept[:-_VERSIONS]
        while len(_kept.parts) > _MOST:
            _kept.parts.popitem(last=False)
    else:
        display.items += found.items
        display.lamps += found.lamps
        f.landmarks |= found.landmarks
        if found.drew is not None:
            f.rng.bit_generator.state = found.left
    return found


def _noted(f: DrawnFigure, random: _Random, build: Callable[[], Any]) -> _Part:
    """Builds a part, with what it was built from."""
    display, person, air = f.display, f.is_, f.air
    items, lamps, marks = len(display.items), len(display.lamps), set(f.landmarks)
    of_person, of_air = _Noting(person), _Noting(air)
    f.is_, f.air = of_person, of_air  # type: ignore[assignment]
    try:
        gave = build()
    finally:
        f.is_, f.air = person, air
    return _Part(
        of_person.read,
        of_air.read,
        None if _random(f) == random else random,
        display.items[items:],
        display.lamps[lamps:],
        {name: at for name, at in f.landmarks.items() if name not in marks},
        dict(f.rng.bit_generator.state),
        gave,
        next(_serials),
    )


def _random(f: DrawnFigure) -> _Random:
    state = f.rng.bit_generator.state
    return state["state"]["state"], state["has_uint32"], state["uinteger"]
