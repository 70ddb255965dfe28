"""The people of a picture with regions: the place that each should fill, and the one that they get."""

from __future__ import annotations

from collections.abc import Container
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Layout, Person
from mosskeeper.core.illustrator.scene import posture_of
from mosskeeper.core.illustrator.skeleton import AT

F32 = NDArray[np.float32]
Box = tuple[float, float, float, float]  # px: left, top, right, bottom
_THIN = 0.4  # of the fullest row or column, below which a mask's corners do not count
_EARS = [AT["right ear"], AT["left ear"]]
# hh by which a drawn figure reaches beyond its joints, medians over all poses and bodies
_CROWN, _FLESH = 0.72, 0.17
_USUAL_TOP, _USUAL_FOOT = 0.06, 0.94  # of the height, between which those stand who have no region


@dataclass(slots=True)
class PlacedPerson:
    """One person. Places are in px; what it covers in head heights from between its feet.

    box, middle : that it should fill. says : attributes that words name of it. presence : 0 not there … 1 as large as the
    region says; less where a weak region brings somebody whom the common words do not name.
    """

    person: Person
    box: Box
    middle: float
    region: int | None = None  # None: of the common words
    says: Container[str] = ()
    presence: float = 1.0
    scale: float = 0.0  # px of a head height
    foot: float = 0.0
    centre: float = 0.0
    covers: tuple[float, float, float] = field(default=(0.0, 0.0, 0.0))  # left, top, right

    def stands(self, layout: Layout) -> None:
        """Takes a pose, and what that covers."""
        self.person = Person(subject=self.person.subject, build=self.person.build, layout=layout, figure=self.person.figure)
        joints = posture_of(self.person).joints
        across = joints[:, 0] * layout.facing
        top = min(float(joints[_EARS, 1].mean()) - _CROWN, float(joints[:, 1].min()) - _FLESH)
        self.covers = float(across.min()) - _FLESH, top, float(across.max()) + _FLESH

    @property
    def tall(self) -> float:
        return -self.covers[1]

    @property
    def wide(self) -> float:
        return self.covers[2] - self.covers[0]

    @property
    def sides(self) -> tuple[float, float]:
        return self.centre + self.covers[0] * self.scale, self.centre + self.covers[2] * self.scale

    @property
    def top(self) -> float:
        return self.foot - self.tall * self.scale

    @property
    def wish(self) -> float:
        """The largest head height (px) at which it is wholly in its box."""
        return min(1.04 * (self.box[3] - self.box[1]) / self.tall, 1.15 * (self.box[2] - self.box[0]) / self.wide)


def box_of(mask: F32) -> Box:
    """Of a mask (H, W) 0…1; thin corners do not count. All of the picture where it is open nowhere."""
    hard = mask > 0.5
    if not hard.any():
        return 0.0, 0.0, float(mask.shape[1]), float(mask.shape[0])
    rows, columns = hard.sum(1), hard.sum(0)
    core = hard & (columns > _THIN * columns.max()) & (rows > _THIN * rows.max())[:, None]
    ys, xs = np.nonzero(core if core.any() else hard)
    return float(xs.min()), float(ys.min()), float(xs.max() + 1), float(ys.max() + 1)


def place_in(mask: F32 | None, k: int, many: int, n: int, people: int, size: tuple[int, int], strength: float = 1.0) -> tuple[Box, float]:
    """The box and the middle of person `k` of `many` in a region; without one, the usual place of person `n` of all `people`.

    strength : 0 the usual place … 1 the region's.
    """
    w, h = size
    usual = (w * (n + 0.06) / people, _USUAL_TOP * h, w * (n + 0.94) / people, _USUAL_FOOT * h)
    at = (usual[0] + usual[2]) / 2
    if mask is None:
        return usual, at
    x0, y0, x1, y1 = box_of(mask)
    low = (mask[int((y0 + y1) / 2) : max(int(y1), int((y0 + y1) / 2) + 1)] > 0.5).sum(0)
    middle = float((np.arange(mask.shape[1]) * low).sum() / max(low.sum(), 1)) + 0.5 if low.any() else (x0 + x1) / 2
    x0, x1 = x0 + (x1 - x0) * k / many, x0 + (x1 - x0) * (k + 1) / many
    middle = (x0 + x1) / 2 if many > 1 else middle
    box = tuple(u * (1 - strength) + v * strength for u, v in zip(usual, (x0, y0, x1, y1), strict=True))
    return (box[0], box[1], box[2], box[3]), at * (1 - strength) + middle * strength
