"""References: what the pictures on the cue sheet lend to a take, each by its role, weight and span.

A reference adds w·s·k·confidence to the log odds of what was read in it (log-linear pooling, so order never matters);
continuous values (a face, the colours of clothes) are pooled like measurements, with a precision that grows with w².
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import WORN, Face
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab
from mosskeeper.core.reading.reading import Reading, measured
from mosskeeper.core.recipe import Cue
from mosskeeper.core.roles import reference
from mosskeeper.core.roles.role import Reference
from mosskeeper.core.words.attributes import OF_PICTURE

EVIDENCE = 7.0  # log odds that a sure reading adds at weight 1: as much as words do at the usual guidance
_PRECISION = 9.0  # of a face or colour read in a reference at weight 1, against the seed's own
_NEAR = 30.0  # Lab units over which a palette's colours count as the same cloth
EARLY = -0.6  # lean by which early steps count more for composition
LATE = 0.6  # and late ones for detail
# fields of a description that have another name than their attribute
_FIELDS = {"hair colour": "hair_colour", "facial hair": "facial_hair", **dict.fromkeys(WORN, "worn")}


def amount_of(cue: Cue, steps: int, lean: float = 0.0) -> float:
    """A cue's weight times the share of the denoising in which it acts; `lean` −1…1 counts early or late steps more."""
    return cue.weight * share_of(cue.start, cue.end, steps, lean)


def share_of(start: float, end: float, steps: int, lean: float = 0.0) -> float:
    """0…1: the share of the steps that lie in a span, per cent of the denoising; `lean` −1…1 counts early or late ones more."""
    middles = (np.arange(steps) + 0.5) / steps
    counts = 1 + lean * (2 * middles - 1)
    inside = (100 * middles >= start) & (100 * middles < end)
    return float((counts * inside).sum() / counts.sum())


def fields_lent(lender: Reference) -> frozenset[str]:
    """The fields of a description that a reference of a role can change."""
    own = {_FIELDS.get(attribute, attribute) for attribute in lender.lends} - {"finish", "subject", "build"}
    face = {"face"} if lender.lends_face else set()
    cloth = {"colour_a", "colour_b"} if lender.lends_colours else set()
    return frozenset(own | face | cloth)


def confined(cue: Cue) -> Reference | None:
    """The role of a cue that is a reference and acts in an area only; None of others."""
    return reference(cue.role) if cue.acts and cue.area is not None else None


@dataclass(frozen=True, slots=True)
class Lent:
    """One reference that acts, and what was read in it."""

    cue: Cue
    role: Reference
    reading: Reading
    factor: float = 1.0  # of its evidence, by which balance makes references equal

    def amount(self, steps: int, lean: float = 0.0) -> float:
        """See `amount_of`."""
        return amount_of(self.cue, steps, lean)


class References:
    """All references of a recipe or a region.

    Parameters
    ----------
    cues : of any role; those that lend nothing are left aside.
    pictures, readings : by the cues' names. What has no reading is measured.
    """

    def __init__(
        self,
        cues: list[Cue],
        pictures: Mapping[str, NDArray[np.uint8]],
        readings: Mapping[str, Reading],
        steps: int,
        balance: bool,
    ) -> None:
        lending = [(c, kind) for c in cues if c.acts and c.picture is not None and (kind := reference(c.role)) is not None]
        lending.sort(key=lambda one: (one[0].picture or "", one[0].role, one[0].start, one[0].end, one[0].weight))
        self.steps = steps
        lent = [Lent(c, kind, readings.get(c.picture or "") or measured(_rgb(pictures[c.picture or ""]))) for c, kind in lending]
        self.lent = _balanced(lent) if balance else lent

    def scores(self, attribute: str) -> dict[str, float]:
        """Log odds for the values of an attribute."""
        lean = EARLY if attribute in OF_PICTURE or attribute in ("subject", "build") else LATE
        total: dict[str, float] = {}
        for one in self.lent:
            if attribute not in one.role.lends:
                continue
            for value, confidence in one.reading.attributes.get(attribute, {}).items():
                total[value] = total.get(value, 0.0) + EVIDENCE * one.factor * confidence * one.amount(self.steps, lean)
        return total

    def face(self, own: Face) -> Face:
        """A face drawn towards those of the references."""
        total, mixed = 1.0, own.as_array()
        for one in self.lent:
            if one.role.lends_face and one.reading.face is not None:
                precision = _PRECISION * one.factor * one.amount(self.steps, LATE) ** 2
                total, mixed = total + precision, mixed + precision * one.reading.face.as_array()
        return Face.from_array(mixed / total)

    def cloth(self, attribute: str, own: tuple[float, float, float]) -> tuple[float, float, float]:
        """A colour of clothes drawn towards the references': what was read of theirs, or their palettes' nearest colours."""
        lab = rgb_to_lab(np.asarray(own, np.float32)).astype(np.float64)
        total, mixed = 1.0, lab.copy()
        for one in self.lent:
            read = one.reading.colours.get(attribute)
            amount = one.amount(self.steps, LATE)
            if read is not None and one.role.lends_cloth:
                precision, theirs = _PRECISION * one.factor * amount**2, rgb_to_lab(np.asarray(read, np.float32)).astype(np.float64)
            elif one.role.lends_colours:
                palette = one.reading.palette
                near = palette.area * np.exp(-np.square(palette.lab - lab).sum(1) / (2 * _NEAR**2)) + 1e-9
                precision, theirs = amount, (near @ palette.lab / near.sum()).astype(np.float64)
            else:
                continue
            total, mixed = total + precision, mixed + precision * theirs
        if total == 1.0:
            return own
        r, g, b = lab_to_rgb(mixed / total)
        return float(r), float(g), float(b)


def _balanced(lent: list[Lent]) -> list[Lent]:
    """References whose evidence weighs the same in each role, however sure their readings are."""
    masses = [sum(max(v.values(), default=0.0) for a, v in one.reading.attributes.items() if a in one.role.lends) for one in lent]
    out = []
    for one, mass in zip(lent, masses, strict=True):
        peers = [m for other, m in zip(lent, masses, strict=True) if other.cue.role == one.cue.role and m > 0]
        out.append(Lent(one.cue, one.role, one.reading, float(np.mean(peers)) / mass if mass > 0 else 1.0))
    return out


def _rgb(picture: NDArray[np.uint8]) -> NDArray[np.uint8]:
    return np.ascontiguousarray(picture[:, :, :3])
