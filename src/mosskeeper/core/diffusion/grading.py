"""Grading: an estimate's lines, grain, chroma, warmth and contrast drawn towards those of a reference, in proportion to its amount.

Bands of lightness and chroma are multiplied by powers of the ratio of the two pictures' measures, so that half of an amount is
half of the way in logarithms; means are shifted.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.conditioning import LATE, Lent
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab
from mosskeeper.core.pictures.signal import picture, signal
from mosskeeper.core.reading.handling import Handling, LightSeen, bands, measure_handling, measure_light

F32 = NDArray[np.float32]
_MOST_GAIN = 2.2  # of a band: more would draw noise, or rub all lines out
_MOST_SHIFT = 22.0  # Lab units
_LEAST = 0.25


@dataclass(frozen=True, slots=True)
class _Grade:
    handling: Handling | None
    light: LightSeen | None
    amount: float  # 0…1


class Grading:
    """The grades of the references of a take. pictures : by name, (H, W, 3 or 4) uint8."""

    def __init__(self, lent: list[Lent], pictures: Mapping[str, NDArray[np.uint8]], steps: int) -> None:
        self._grades = []
        for one in lent:
            handled, lit = (part in one.parts for part in ("line and grain", "warmth and contrast"))
            amount = min(1.0, one.amount(steps, LATE))
            if (handled or lit) and amount > 0 and one.cue.picture is not None and one.cue.area is None:
                source = pictures[one.cue.picture]
                own = _Grade(measure_handling(source) if handled else None, measure_light(source) if lit else None, amount)
                self._grades.append(own)

    def applied(self, estimate: F32) -> F32:
        """An estimate (H, W, 3) in −1…1, graded."""
        for grade in self._grades:
            seen = picture(estimate)
            lab = rgb_to_lab(seen.astype(np.float32) / np.float32(255))
            if grade.handling is not None:
                lab = _handled(lab, measure_handling(seen), grade.handling, grade.amount)
            if grade.light is not None:
                lab = _lit(lab, measure_light(seen), grade.light, grade.amount)
            estimate = signal(np.clip(lab_to_rgb(lab) * 255 + 0.5, 0, 255).astype(np.uint8))
        return estimate


def _gain(own: float, wanted: float, amount: float) -> np.float32:
    ratio = float(np.clip(max(wanted, _LEAST) / max(own, _LEAST), 1 / _MOST_GAIN, _MOST_GAIN))
    return np.float32(ratio**amount)


def _handled(lab: F32, own: Handling, wanted: Handling, amount: float) -> F32:
    coarse, line, grain = bands(np.ascontiguousarray(lab[..., 0]), max(lab.shape[:2]))
    out = lab.copy()
    out[..., 0] = coarse + line * _gain(own.line, wanted.line, amount) + grain * _gain(own.grain, wanted.grain, amount)
    out[..., 1:] *= _gain(own.colour, wanted.colour, amount)
    return out


def _lit(lab: F32, own: LightSeen, wanted: LightSeen, amount: float) -> F32:
    out = lab.copy()
    out[..., 0] = (lab[..., 0] - own.lightness) * _gain(own.spread, wanted.spread, amount) + own.lightness
    for channel, (mine, theirs) in enumerate(((own.lightness, wanted.lightness), (own.a, wanted.a), (own.b, wanted.b))):
        out[..., channel] += np.float32(amount * float(np.clip(theirs - mine, -_MOST_SHIFT, _MOST_SHIFT)))
    return out
