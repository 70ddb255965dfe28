"""Regions: parts of a picture with words of their own. Their denoisers are crossfaded, D = Σ m_r D_r."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields, replace
from typing import TypeVar

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.beliefs import Placed
from mosskeeper.core.diffusion.references import confined, fields_lent
from mosskeeper.core.illustrator.description import Description, Person
from mosskeeper.core.pictures.resample import fitted
from mosskeeper.core.reading.structure import grey
from mosskeeper.core.recipe import Cue, Recipe, Region
from mosskeeper.core.words.understand import Figure, Scores, understand

F32 = NDArray[np.float32]
P = TypeVar("P", bound=Person)


@dataclass(frozen=True)
class Patch:
    """A part of the picture, its mask (H, W) 0…1, and what is asked there in place of what is asked everywhere.

    cues : the references that act there; empty: those that act everywhere.
    area, fields : where it is one of references, its name and what of the description they change; the rest is as everywhere.
    """

    mask: F32
    cues: list[Cue]
    wanted: Scores
    unwanted: Scores
    area: str | None = None
    fields: frozenset[str] = frozenset()

    def described(self, everywhere: Description, here: Description) -> Description:
        """What is drawn in this part, of what was chosen everywhere and here."""
        if self.area is None:
            return here
        others = tuple(_adopted(a, b, self.fields) for a, b in zip(everywhere.others, here.others, strict=True))
        return replace(_adopted(everywhere, here, self.fields), others=others)


def _adopted(person: P, other: Person, names: frozenset[str]) -> P:
    return replace(person, **{f.name: getattr(other, f.name) for f in fields(person) if f.name in names})


def read_regions(recipe: Recipe, pictures: Mapping[str, NDArray[np.uint8]]) -> tuple[tuple[Placed, ...], list[Patch]]:
    """Who stands in regions, and what else regions ask.

    A region whose words name a person or a kind of person places them; one without such words changes what is there.
    A region over the whole picture has a box of the whole picture.
    """
    placed, patches = [], []
    for region in recipe.regions:
        if not region.acts:
            continue
        sharp = _mask(pictures[region.mask], recipe)
        if sharp.max() < 0.5:
            continue
        said = understand(region.words)
        if "subject" in said.wanted or said.likeness is not None:
            placed.append(Placed(Figure(said.wanted, said.unwanted, said.likeness), _box(sharp), region))
        else:
            patches.append(Patch(_softened(sharp, region), region.cues, said.wanted, said.unwanted))
    return tuple(placed), patches


def read_areas(recipe: Recipe, pictures: Mapping[str, NDArray[np.uint8]]) -> list[Patch]:
    """A patch for each area to which references are confined; what acts everywhere acts there, too."""
    everywhere = [cue for cue in recipe.cues if confined(cue) is None]
    by_area: dict[str, list[Cue]] = {}
    fields_of: dict[str, frozenset[str]] = {}
    for cue in recipe.cues:
        lender = confined(cue)
        if lender is not None and cue.area is not None:
            by_area.setdefault(cue.area, []).append(cue)
            fields_of[cue.area] = fields_of.get(cue.area, frozenset()) | fields_lent(lender)
    return [
        Patch(_mask(pictures[area], recipe), [*everywhere, *own], {}, {}, area, fields_of[area]) for area, own in sorted(by_area.items())
    ]


def shares(masks: list[F32], shape: tuple[int, int]) -> list[F32]:
    """Masks of `shape` (H, W) as a partition: first what no mask claims, then each mask, summing to one everywhere.

    Where masks together claim more than everything, they share it in proportion.
    """
    total = np.sum(masks, axis=0) if masks else np.zeros(shape, np.float32)
    over = np.maximum(total, np.float32(1))
    return [np.asarray(1 - np.minimum(total, 1), np.float32), *(np.asarray(m / over, np.float32) for m in masks)]


def overlap(a: F32, b: F32) -> float:
    """Share of the smaller of two masks that lies in both, 0…1."""
    smaller = min(a.sum(), b.sum())
    return float(np.minimum(a, b).sum() / smaller) if smaller > 0 else 0.0


def _mask(picture: NDArray[np.uint8], recipe: Recipe) -> F32:
    return fitted(grey(picture), (recipe.width, recipe.height))


def _softened(mask: F32, region: Region) -> F32:
    sigma = region.feather * mask.shape[1] / 2
    soft = cv2.GaussianBlur(mask, (0, 0), sigma) if sigma > 0.3 else mask
    return np.asarray(soft * np.float32(region.strength), np.float32)


def _box(mask: F32) -> tuple[float, float, float, float]:
    h, w = mask.shape
    ys, xs = np.nonzero(mask > 0.5)
    return float(xs.min() / w), float(ys.min() / h), float((xs.max() + 1) / w), float((ys.max() + 1) / h)
