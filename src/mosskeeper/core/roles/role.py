"""What a role is: how it begins, what it warns of, what it takes from a picture, and how well it was obeyed."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.traits import MEASURED, of_parts

F32 = NDArray[np.float32]


@dataclass(frozen=True, slots=True)
class CueComparison:
    """A picture beside the source of a cue.

    source, picture : (H, W, 3 or 4) and (H, W, 3) uint8. skeleton : (18, 2) as shares of width and height, of a pose cue
    without picture. depth : (H, W) 0 near … 1 far, of a depth cue's map.
    """

    source: NDArray[np.uint8]
    source_reading: Reading
    picture: NDArray[np.uint8]
    reading: Reading
    skeleton: NDArray[np.float64] | None = None
    depth: F32 | None = None


class Role(ABC):
    """One role of cues.

    order : its place in lists. says : what it does to the picture. weight, start, end : with which a new cue begins.
    too_heavy : what a weight over .85 does, "" where nothing is wrong with it. confinable : whether it can act in a part of
    the picture. meaning : of its match.
    """

    name: ClassVar[str]
    order: ClassVar[int]
    says: ClassVar[str]
    weight: ClassVar[float] = 0.5
    start: ClassVar[float] = 0.0
    end: ClassVar[float] = 100.0
    too_heavy: ClassVar[str] = ""
    confinable: ClassVar[bool] = True
    meaning: ClassVar[str]

    def lacks(self, reading: Reading, skeleton: bool) -> str:
        """A sentence where a picture has nothing for this role; skeleton : whether the cue has points of its own."""
        return ""

    @abstractmethod
    def obeyed(self, compared: CueComparison) -> float | None:
        """0…1: how well a picture obeys a cue of this role; None where that cannot be told."""


class Reference(Role):
    """A role that lends what its picture holds.

    parts : the switches (`core.traits`) that are on where an artist says nothing else. offered : all that a cue of this role can
    switch on. lends_palette : whether its palette gives colours to clothes. pulls : the parts of the picture whose colours it
    pulls, "" none. hands_on : whether a subject is handed on by it. contests : colours of which it can be told that they came from it.
    """

    parts: ClassVar[tuple[str, ...]] = ()
    offered: ClassVar[tuple[str, ...]] = ()
    lends_palette: ClassVar[bool] = False
    pulls: ClassVar[str] = ""
    hands_on: ClassVar[bool] = False
    contests: ClassVar[tuple[str, ...]] = ()

    def switched(self, chosen: Sequence[str] | None) -> frozenset[str]:
        """The switches that are on: those chosen for a cue where they are of this role, else the role's own."""
        return frozenset(chosen or ()) & frozenset(self.offered) or frozenset(self.parts)

    @property
    def lends(self) -> tuple[str, ...]:
        """The attributes whose values it lends, in the order of the table of traits."""
        return tuple(trait.name for trait in of_parts(self.parts) if trait.name not in MEASURED)

    @abstractmethod
    def alike(self, a: Reading, b: Reading) -> float | None:
        """0…1: how far two pictures agree in what this role lends; None where that cannot be told."""

    def obeyed(self, compared: CueComparison) -> float | None:
        return self.alike(compared.source_reading, compared.reading)


class Structure(Role):
    """A role that says where things are by a map. Its agreement chooses layouts and exemplars; it may also act on estimates."""

    @abstractmethod
    def asked(self, picture: NDArray[np.uint8], depth: F32 | None, size: tuple[int, int]) -> NDArray[Any]:
        """What drawings of a size (width, height) are compared with."""

    @abstractmethod
    def agreement(self, drawing: Drawing, asked: NDArray[Any], mask: F32) -> float:
        """0…1: how far a drawing, at its own size, has the structure that is asked; mask : (H, W) 0…1, where it counts."""

    def added(self, estimate: F32, picture: NDArray[np.uint8], mask: F32) -> F32:
        """The estimate (H, W, 3) in −1…1 with what the role adds to it. picture : of that size. mask : (H, W, 1), 0…1 times the amount."""
        return estimate
