"""What regions will do, before anything is drawn: who stands where, what does not fit, what lies over what."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.random_streams import streams
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.regions.overlaps import Overlap, overlaps
from mosskeeper.core.regions.standing import View
from mosskeeper.core.regions.words import own_words, wants
from mosskeeper.core.takes.beliefs import Beliefs
from mosskeeper.core.takes.make import ILLUSTRATOR, Make
from mosskeeper.core.takes.people_of_regions import present
from mosskeeper.core.takes.regions import read_regions, spanned
from mosskeeper.core.takes.staging import staged

F32 = NDArray[np.float32]


@dataclass(frozen=True, slots=True)
class Stands:
    """Somebody of the picture, by the region's number. box : that the figure covers; head : its height; shares of width and height."""

    region: int
    subject: str
    box: tuple[float, float, float, float]
    head: float


@dataclass(frozen=True, slots=True, eq=False)
class Planned:
    """view : the horizon, share of the height, and the eye, head heights; None: as the place has it."""

    people: tuple[Stands, ...]
    told: tuple[str, ...]
    overlaps: tuple[Overlap, ...]
    view: tuple[float, float] | None


def planned(
    recipe: Recipe, seed: int, masks: Mapping[str, F32], held: tuple[float, float] | None = None, make: Make = ILLUSTRATOR
) -> Planned:
    """The plan of a recipe for one seed, as its take will have it but for what references lend; nothing is drawn.

    masks : (H, W) 0…1 of all regions, by their ids. held : the view while somebody drags a region.
    """
    # by number: two regions of one shape share a mask, and one of them may be dragged
    own = [r.model_copy(update={"mask": f"{n:064x}"}) for n, r in enumerate(recipe.regions)]
    pictures = {f"{n:064x}": _drawn(masks[r.id]) for n, r in enumerate(recipe.regions)}
    plain = spanned(recipe.model_copy(update={"regions": own, "cues": []}))
    asked = read_regions(plain, pictures)
    people = tuple(present(plain, asked.people))
    beliefs = Beliefs(plain, None, people, make.priors)
    composition = beliefs.composition(streams(seed).layout)
    _, composition, stage = staged(
        plain, replace(asked, people=people), beliefs, composition, None if held is None else View(held[0] * recipe.height, held[1])
    )
    w, h = recipe.width, recipe.height
    stands = []
    if stage.plan is not None:
        for one, stance, box, layout in zip(people, composition.stances, stage.plan.boxes, stage.plan.layouts, strict=True):
            assert layout.pinned is not None
            x0, y0, x1, y1 = box
            stands.append(Stands(one.number, stance.subject, (x0 / w, y0 / h, x1 / w, y1 / h), layout.pinned[2]))
    asks = [wants(own_words(r.prompt)) for r in recipe.regions]
    acting = [n for n, r in enumerate(recipe.regions) if r.acts]
    found = overlaps([masks[recipe.regions[n].id] for n in acting], [asks[n] for n in acting])
    over = tuple(Overlap(acting[o.first], acting[o.second], o.share) for o in found)
    areas = {cue.area for cue in recipe.cues if cue.acts}  # one that only says where references act need not say anything
    silent = [
        f"Region {chr(65 + n)} says nothing yet: write who or what is there."
        for n, r in enumerate(recipe.regions)
        if r.on and not r.prompt and not r.cues and r.mask not in areas
    ]
    view = None if stage.plan is None else stage.plan.view
    seen = None if view is None or view.horizon is None else (view.horizon / h, view.eye)
    return Planned(tuple(stands), (*silent, *asked.told, *beliefs.told, *stage.told), over, seen)


def _drawn(mask: F32) -> NDArray[np.uint8]:
    return np.repeat((mask * 255).astype(np.uint8)[..., None], 3, 2)
