"""Regions: parts of a picture with words of their own. Their denoisers are crossfaded, D = Σ m_r D_r."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, fields, replace
from typing import TypeVar

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.conditioning import confined, fields_lent, share_of
from mosskeeper.core.illustrator.description import MOST_FIGURES, Description, Person
from mosskeeper.core.pictures.resample import fitted
from mosskeeper.core.reading.structure import grey
from mosskeeper.core.recipe import Cue, Recipe, Region
from mosskeeper.core.regions.overlaps import front_wins
from mosskeeper.core.regions.words import AROUND, own_words, wants
from mosskeeper.core.takes.people_of_regions import Placed, plainly
from mosskeeper.core.words.understand import Scores, understand

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
    tints: Mapping[str, str] = field(default_factory=dict)

    def described(self, everywhere: Description, here: Description) -> Description:
        """What is drawn in this part, of what was chosen everywhere and here."""
        if self.area is None:
            return here
        others = tuple(_adopted(a, b, self.fields) for a, b in zip(everywhere.others, here.others, strict=True))
        return replace(_adopted(everywhere, here, self.fields), others=others)


def _adopted(person: P, other: Person, names: frozenset[str]) -> P:
    return replace(person, **{f.name: getattr(other, f.name) for f in fields(person) if f.name in names})


@dataclass(frozen=True, slots=True, eq=False)
class RegionThing:
    """Something that stands by itself in a region: its name, and the mask (H, W)."""

    name: str
    mask: F32


@dataclass(frozen=True, slots=True, eq=False)
class RegionRequests:
    """What the regions of a recipe ask: people, who are the people of the picture; things; other words for parts of it.

    told : what of it cannot be.
    """

    people: tuple[Placed, ...] = ()
    things: tuple[RegionThing, ...] = ()
    patches: tuple[Patch, ...] = ()
    told: tuple[str, ...] = ()


def spanned(recipe: Recipe) -> Recipe:
    """A recipe whose regions are as strong as their spans leave them: one that acts in half of the steps is half as strong."""
    regions = [
        r if (share := share_of(r.start, r.end, recipe.steps)) == 1 else r.model_copy(update={"strength": r.strength * share})
        for r in recipe.regions
    ]
    return recipe.model_copy(update={"regions": regions})


def read_regions(recipe: Recipe, pictures: Mapping[str, NDArray[np.uint8]]) -> RegionRequests:
    """What the regions of a recipe ask, in their order, which is from front to back.

    A region whose words name a person or a kind of person places them; a thing that nobody is there to hold stands by itself;
    a place, a time or other words without a person change what is there.
    """
    people, things, patches, wins = list[Placed](), list[RegionThing](), list[Patch](), list[bool]()
    for n, region in enumerate(recipe.regions):
        if not region.speaks:
            continue
        sharp = _mask(pictures[region.mask], recipe)
        if sharp.max() < 0.5:
            continue
        said, barred = own_words(region.prompt), understand(region.negative).wanted
        wanted = wants(said)
        around = {a: v for a, v in said.wanted.items() if a in AROUND}
        if "person" in wanted:
            of_region = [said.first, *said.others]
            for k, one in enumerate(of_region):
                own = replace(one, unwanted={**barred, **one.unwanted})
                people.append(Placed(own, sharp, region, n, k, len(of_region)))
        if not region.acts:  # without strength, who is there is as the common words have it
            continue
        if "thing" in wanted or ("person" in wanted and ("companion" in said.wanted or said.things)):
            names = {**said.wanted.get("companion", {}), **({} if "person" in wanted else said.wanted.get("prop", {}))}
            named = [*(name for name in names if name not in ("nobody", "nothing")), *(one.name for one in said.things)]
            things += [RegionThing(name, sharp) for name in named]
        if around and wanted & {"person", "thing"}:
            patches.append(Patch(_acting(sharp, region, True), [], plainly(around), {}))
        elif not wanted & {"person", "thing"}:
            place = bool(said.wanted) and set(said.wanted) <= set(AROUND)
            patches.append(
                Patch(_acting(sharp, region, place), region.cues, plainly(said.wanted), {**barred, **said.unwanted}, tints=said.tints)
            )
        wins += [region.overlap == "front"] * (len(patches) - len(wins))
    masks = front_wins([patch.mask for patch in patches], wins)
    patches = [replace(patch, mask=mask) for patch, mask in zip(patches, masks, strict=True)]
    told = (f"The regions name {len(people)} people: the first {MOST_FIGURES} are drawn.",) if len(people) > MOST_FIGURES else ()
    return RegionRequests(tuple(people[:MOST_FIGURES]), tuple(things), tuple(patches), told)


def read_areas(recipe: Recipe, pictures: Mapping[str, NDArray[np.uint8]]) -> list[Patch]:
    """A patch for each area to which references are confined; what acts everywhere acts there, too."""
    everywhere = [cue for cue in recipe.cues if confined(cue) is None]
    by_area: dict[str, list[Cue]] = {}
    fields_of: dict[str, frozenset[str]] = {}
    for cue in recipe.cues:
        lender = confined(cue)
        if lender is not None and cue.area is not None:
            by_area.setdefault(cue.area, []).append(cue)
            fields_of[cue.area] = fields_of.get(cue.area, frozenset()) | fields_lent(cue, lender)
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


def _mask(picture: NDArray[np.uint8], recipe: Recipe) -> F32:
    return fitted(grey(picture), (recipe.width, recipe.height))


def softened(mask: F32, region: Region) -> F32:
    """A mask (H, W) 0…1 with the border of a region: blurred, and with a threshold hard where the blurred one is above it."""
    sigma = region.feather * mask.shape[1] / 2
    soft = cv2.GaussianBlur(mask, (0, 0), sigma) if sigma > 0.3 else mask
    return np.asarray(soft if region.threshold is None else soft > region.threshold, np.float32)


def _acting(mask: F32, region: Region, grows: bool) -> F32:
    """A region as it acts: a place `grows` over a share of it from its core; then its border is softened."""
    if grows and region.strength < 1:  # half a strength is a place over half of the region, never two places through each other
        inside = mask > 0.5
        far = cv2.distanceTransform(inside.astype(np.uint8), cv2.DIST_L2, 5)
        mask = mask * (far >= np.quantile(far[inside], 1 - region.strength)) if inside.any() else mask
    return softened(mask, region) * np.float32(1.0 if grows else region.strength)
