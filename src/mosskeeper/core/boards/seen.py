"""Somebody on a board."""

from __future__ import annotations

from dataclasses import dataclass, field

from mosskeeper.core.boards.shapes import F64, Box, Mask


@dataclass(eq=False)
class FigureOnBoard:
    """A figure as a blob of shapes, or as sticks; places in px of the reading."""

    box: Box
    mask: Mask
    cut: bool = False  # the lower border cuts it
    head: tuple[float, float, float] = (0.0, 0.0, 0.0)  # x, y of its middle, height
    colours: dict[str, F64] = field(default_factory=dict)  # hair, skin, upper, lower → Lab
    joints: F64 | None = None  # (18, 2), NaN where the sticks do not say
    long_hair: bool = False

    @property
    def height(self) -> float:
        return self.box[3] - self.box[1]
