"""Control maps: cues that say where things are, made ready for drawings and estimates of any size.

Each control has an agreement between 0 and 1, its energy with the sign turned, by which layouts and exemplars are
chosen; tone, sketch and edges also act on the estimate itself, in proportion to their weight. What each asks is its role's.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.conditioning import EARLY, amount_of
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.pictures.resample import fitted, smooth
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.reading.structure import grey
from mosskeeper.core.recipe import Cue
from mosskeeper.core.roles import role
from mosskeeper.core.roles.role import Structure

F32 = NDArray[np.float32]


@dataclass(frozen=True)
class Control:
    """A cue that says where things are.

    amount : 0…1.5, its weight times the share of the denoising in which it acts.
    picture : (H, W, 3 or 4) uint8; alpha limits a sketch to where something was painted.
    area : (H, W) 0…1, where it acts.
    depth : (H, W) 0 near … 1 far, of a depth cue.
    """

    role: Structure
    amount: float
    picture: NDArray[np.uint8]
    area: F32 | None = None
    depth: F32 | None = None
    _asked: dict[tuple[int, int], NDArray[Any]] = field(default_factory=dict, compare=False, repr=False)

    def agreement(self, drawing: Drawing) -> float:
        """0…1: how far a drawing, at its own size, has the structure that is asked."""
        h, w = drawing.labels.shape
        mask = self._mask((w, h))
        if mask.sum() < 1:
            return 0.0
        if (w, h) not in self._asked:  # many drawings of one size are compared
            self._asked[w, h] = self.role.asked(self.picture, self.depth, (w, h))
        return self.role.agreement(drawing, self._asked[w, h], mask)

    def added_to(self, estimate: F32, share: float = 1.0) -> F32:
        """The estimate (H, W, 3) in −1…1 with what the control adds to it; `share` of its amount."""
        h, w = estimate.shape[:2]
        amount = min(self.amount, 1.0) * share
        mask = (self._mask((w, h)) * np.float32(amount))[..., None]
        return self.role.added(estimate, smooth(np.ascontiguousarray(self.picture[:, :, :3]), (w, h)), mask)

    def _mask(self, size: tuple[int, int]) -> F32:
        w, h = size
        mask = np.ones((h, w), np.float32)
        if self.area is not None:
            mask = fitted(self.area, size)
        if self.picture.shape[2] == 4:
            mask = mask * fitted(np.ascontiguousarray(self.picture[:, :, 3]), size).astype(np.float32) / np.float32(255)
        return np.asarray(mask, np.float32)


def control(name: str, amount: float, picture: NDArray[np.uint8], area: F32 | None = None, depth: F32 | None = None) -> Control:
    """A control of a structure role.

    Raises ValueError where the role is none of these.
    """
    kind = role(name)
    if not isinstance(kind, Structure):
        raise ValueError(f"{name} says nothing of where things are")
    return Control(kind, amount, picture, area, depth)


def controls(cues: list[Cue], pictures: Mapping[str, NDArray[np.uint8]], readings: Mapping[str, Reading], steps: int) -> list[Control]:
    """The structure cues that act, in an order that does not depend on that of the cues.

    A cue whose picture has no reading with a depth is taken for a depth map: bright is near.
    """
    out = []
    for cue in sorted(cues, key=lambda c: (c.role, c.picture or "", c.start, c.end, c.weight)):
        kind = role(cue.role)
        if not cue.acts or not isinstance(kind, Structure) or cue.picture is None:
            continue
        picture = pictures[cue.picture]
        area = None if cue.area is None else grey(pictures[cue.area])
        reading = readings.get(cue.picture)
        depth = reading.depth if reading is not None and reading.depth is not None else 1 - grey(picture)
        out.append(Control(kind, amount_of(cue, steps, EARLY), picture, area, depth))
    return [c for c in out if c.amount > 0]
