"""The colours that references pull towards, step by step, each in the parts that its role is about."""

from __future__ import annotations

from collections.abc import Mapping

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.conditioning import Lent
from mosskeeper.core.diffusion.palette_pull import PalettePull, recoloured
from mosskeeper.core.illustrator.description import SKIN_PARTS, Part
from mosskeeper.core.pictures.resample import fitted
from mosskeeper.core.reading.palette import read_palette

F32 = NDArray[np.float32]
Where = tuple[str, str | None]  # the parts of the picture that a pull is about, and the area it is confined to
_SKIN_KEPT = 0.8
_SCOPES = ("all", "place")  # in the order in which they are applied


class Pulls:
    """Palette pulls of the references that lend colours; they act as far as their spans have come.

    areas : (H, W) 0…1, by name, of the cues that are confined to one.
    """

    def __init__(self, lent: list[Lent], steps: int, balance: bool, areas: Mapping[str, F32]) -> None:
        self._areas = areas
        self._lent = [one for one in lent if one.role.pulls and "palette" in one.parts]
        self._steps, self._balance = steps, balance
        self._acted = [0] * len(self._lent)
        self._seen = 0
        self._pulls: dict[Where, PalettePull] = {}
        self._evening = [1.0] * len(self._lent)

    def __bool__(self) -> bool:
        return bool(self._lent)

    @property
    def begun(self) -> bool:
        return bool(self._pulls)

    def begin(self, rgb_u8: NDArray[np.uint8], inside: Mapping[str, NDArray[np.uint8]]) -> None:
        """Takes the colours of a picture (H, W, 3) without any pull as those to start from. inside : the same of each area."""
        sources = {area: read_palette(own) for area, own in ((None, rgb_u8), *inside.items())}
        for where in sorted({_where(one) for one in self._lent}, key=_order):
            source = sources[where[1]]
            self._pulls[where] = PalettePull(source, [one.reading.palette for one in self._lent if _where(one) == where])
        if self._balance:
            self._evening = [1.0] * len(self._lent)
            for where, pull in self._pulls.items():
                far = [float(np.sqrt(np.square(o).sum(1)).mean()) + 1e-6 for o in pull.offsets]
                places = [n for n, one in enumerate(self._lent) if _where(one) == where]
                for n, distance in zip(places, far, strict=True):
                    self._evening[n] = float(np.clip(np.mean(far) / distance, 0.5, 2.0))

    def advance(self, i: int) -> None:
        """Step `i` (0…) has been taken."""
        middle = 100 * (i + 0.5) / self._steps
        self._seen = i + 1
        for n, one in enumerate(self._lent):
            self._acted[n] += one.cue.start <= middle < one.cue.end

    def amounts(self) -> list[float]:
        """Pull of each reference now: its weight times the share of the denoising in which it has acted.

        A running mean: a cue limited to the first half is thinned out by the second, so that early and late
        halves add up to the whole.
        """
        acted = zip(self._lent, self._acted, self._evening, strict=True)
        return [min(1.0, one.cue.weight) * even * done / max(self._seen, 1) for one, done, even in acted]

    def applied(self, estimate: F32, labels: NDArray[np.uint8] | None = None) -> F32:
        """An estimate (H, W, 3) in −1…1, pulled; `labels` (H, W), where known, say where skin, clothes and place are."""
        amounts = self.amounts()
        if not self._pulls or not any(amounts):
            return estimate
        for where, pull in self._pulls.items():
            own = [a for a, one in zip(amounts, self._lent, strict=True) if _where(one) == where]
            if any(own):
                estimate = recoloured(estimate, pull.cube(own), self._kept(where, labels, estimate.shape[:2]))
        return estimate

    def _kept(self, where: Where, labels: NDArray[np.uint8] | None, shape: tuple[int, ...]) -> F32:
        """(H, W) 0…1: how far a pull leaves the colours as they are."""
        scope, area = where
        protected = _protected(scope, labels, shape)
        if area is None:
            return protected
        inside = fitted(self._areas[area], (shape[1], shape[0]))
        return 1 - (1 - protected) * inside


def _where(one: Lent) -> Where:
    return one.role.pulls, one.cue.area


def _order(where: Where) -> tuple[bool, int, str]:
    """Pulls of everything before those of an area."""
    scope, area = where
    return area is not None, _SCOPES.index(scope), area or ""


def _protected(scope: str, labels: NDArray[np.uint8] | None, shape: tuple[int, ...]) -> F32:
    if labels is None:
        return np.zeros(shape, np.float32)
    if scope == "all":
        mask = np.isin(labels, SKIN_PARTS).astype(np.float32) * np.float32(_SKIN_KEPT)
    else:
        mask = (labels >= Part.HAIR).astype(np.float32)
    return np.asarray(cv2.GaussianBlur(mask, (0, 0), 1.5), np.float32)
