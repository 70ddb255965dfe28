"""`Thing`: something that stands in a scene by itself."""

from __future__ import annotations

from dataclasses import dataclass

from mosskeeper.core.illustrator.description import Rgb


@dataclass(frozen=True, slots=True)
class Thing:
    """An object, a companion or a prop that stands by itself."""

    name: str
    foot: tuple[float, float]  # px
    scale: float  # px of a head height there
    facing: int = 1
    perch: bool = False  # on a crate, since the ground is not in the frame
    depth: float = 0.0  # as in a Layout
    colour: Rgb | None = None  # in place of its own
