"""Regions of a shot: drawn, moved, worded and ordered on its draft; what they will do is told before anything runs."""

from __future__ import annotations

import secrets
from collections.abc import Callable, Mapping, Sequence
from typing import Annotated, Any, Literal

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from mosskeeper.core import limits
from mosskeeper.core.cue_sheet import soloed
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.mending.choose.mask_edits import Way, laid_on
from mosskeeper.core.pictures.resample import nearest
from mosskeeper.core.recipe import Cue, Recipe, Region, explain
from mosskeeper.core.regions.layouts import common_left, layout_for, proposed
from mosskeeper.core.regions.overlaps import kept_apart
from mosskeeper.core.takes.planned_regions import Planned, planned
from mosskeeper.engines import BUILT_IN
from mosskeeper.studio import cast, choosing, drafts, layouts, masks, reference_edits, shots, stacks
from mosskeeper.studio.models import Anchor, Outfit, OwnLayout, Shot
from mosskeeper.studio.reference_edits import ReferenceEdit

LONGER = 640  # px of the longer side of a region's mask
Share = Annotated[float, Field(ge=-1, le=2)]
Mask = NDArray[np.bool_]


class RegionGone(ArtistError):
    def __init__(self) -> None:
        super().__init__("This region is not on the picture any more. Undo brings it back.", "regions")


class DrawnShape(BaseModel):
    """What the hand drew. points : shares of width and height; of a box two corners. wide : of a stroke, share of the width."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    kind: Literal["box", "outline", "stroke"]
    points: Annotated[list[tuple[Share, Share]], Field(min_length=2, max_length=4000)]
    wide: Annotated[float, Field(gt=0, le=1)] = 0.06
    way: Way = "only"


def size_of(recipe: Recipe) -> tuple[int, int]:
    """Width and height in px of the masks of a recipe's regions."""
    k = LONGER / max(recipe.width, recipe.height)
    return round(recipe.width * k), round(recipe.height * k)


def edit(
    session: Session, shot_id: int, change: Callable[[Recipe, list[Region]], list[Region]], page: str = "", alone: bool = True
) -> Shot:
    """Changes the regions of a shot's draft: one step of its history. References whose area is a region stay with it.

    Raises ArtistError where a changed region cannot be used.
    """

    def changed(now: Recipe) -> Recipe:
        after = change(now, list(now.regions))
        masks_now = {region.id: region.mask for region in after}
        moved = {region.mask: masks_now.get(region.id, region.mask) for region in now.regions}
        return now.model_copy(update={"regions": after, "cues": [_inside(cue, moved) for cue in now.cues]})

    return drafts.edit(session, shot_id, changed, page, alone)


def _inside(cue: Cue, moved: Mapping[str, str]) -> Cue:
    now = moved.get(cue.area or "", cue.area)
    return cue if now == cue.area else cue.model_copy(update={"area": now})


def add(session: Session, shot_id: int, shape: DrawnShape, page: str = "", words: str = "", name: str = "") -> str:
    """Lays one more region on the picture, behind the others; its id, which is `name` where the page has made one."""
    fresh = name or secrets.token_hex(4)

    def change(now: Recipe, there: list[Region]) -> list[Region]:
        mask = shape_on(np.zeros(size_of(now)[::-1], bool), shape)
        if not mask.any():
            raise ArtistError("Nothing was drawn on the picture: drag a region open on it.", "regions")
        return [*there, Region(id=fresh, mask=masks.store_mask(session, mask), words=words)]

    edit(session, shot_id, change, page)
    return fresh


def tell(session: Session, shot_id: int, region_id: str, update: dict[str, Any], page: str = "") -> Shot:
    """Changes what a region is told, field by field.

    Raises ArtistError with a sentence where a value cannot be.
    """

    def one(region: Region) -> Region:
        try:
            return Region.model_validate(region.model_dump() | update)
        except ValidationError as error:
            field, sentence = explain(error)[0]
            raise ArtistError(sentence, field) from None

    return edit(session, shot_id, lambda now, there: _with(there, region_id, one), page, alone=not {"words", "negative"} & update.keys())


def draw(session: Session, shot_id: int, region_id: str, shape: DrawnShape, page: str = "") -> Shot:
    """Lays what the hand drew on a region."""

    def change(now: Recipe, there: list[Region]) -> list[Region]:
        def one(region: Region) -> Region:
            mask = shape_on(mask_of(session, region, size_of(now)), shape)
            if not mask.any():
                raise ArtistError("Nothing of the region would be left. Take it off instead; undo brings it back.", "regions")
            return region.model_copy(update={"mask": masks.store_mask(session, mask)})

        return _with(there, region_id, one)

    return edit(session, shot_id, change, page)


def move(session: Session, shot_id: int, region_id: str, box: tuple[float, float, float, float], page: str = "") -> Shot:
    """Moves and scales a region: its box becomes this one, shares of width and height."""

    def change(now: Recipe, there: list[Region]) -> list[Region]:
        def one(region: Region) -> Region:
            mask = moved(mask_of(session, region, size_of(now)), box)
            if not mask.any():
                raise ArtistError("The region would lie beside the picture.", "regions")
            return region.model_copy(update={"mask": masks.store_mask(session, mask)})

        return _with(there, region_id, one)

    return edit(session, shot_id, change, page)


def take_off(session: Session, shot_id: int, region_id: str, page: str = "") -> Shot:
    return edit(session, shot_id, lambda now, there: [r for r in there if r.id != region_id], page)


def order(session: Session, shot_id: int, region_id: str, by: int, page: str = "") -> Shot:
    """Moves a region nearer to the front (less than 0) or farther back."""

    def change(now: Recipe, there: list[Region]) -> list[Region]:
        at = next((n for n, r in enumerate(there) if r.id == region_id), None)
        if at is None:
            raise RegionGone
        one = there.pop(at)
        there.insert(min(max(at + by, 0), len(there)), one)
        return there

    return edit(session, shot_id, change, page)


def copy(session: Session, shot_id: int, region_id: str, page: str = "", name: str = "") -> str:
    """Lays a copy beside a region; its id, which is `name` where the page has made one."""
    fresh = name or secrets.token_hex(4)

    def change(now: Recipe, there: list[Region]) -> list[Region]:
        one = next((r for r in there if r.id == region_id), None)
        if one is None:
            raise RegionGone
        mask = mask_of(session, one, size_of(now))
        x0, y0, x1, y1 = box_of(mask)
        aside = min(0.12, 1 - x1) if x1 < 0.95 else -min(0.12, x0)
        sha256 = masks.store_mask(session, moved(mask, (x0 + aside, y0, x1 + aside, y1)))
        return [*there, one.model_copy(update={"id": fresh, "mask": sha256})]

    edit(session, shot_id, change, page)
    return fresh


def lay_out(session: Session, shot_id: int, name: str, page: str = "") -> Shot:
    """Lays a layout: regions that are there get its places in their order, what they say stays; missing ones are begun.

    name : of one that ships; one's own by its number. Raises NotFound where there is no such layout.
    """
    boxes = layouts.boxes_of(session, name)

    def change(now: Recipe, there: list[Region]) -> list[Region]:
        return _in_boxes(session, now, there, boxes)

    return edit(session, shot_id, change, page)


def keep_layout(session: Session, shot_id: int, name: str) -> OwnLayout:
    """Keeps where the regions of a shot lie as a layout of one's own."""
    now = of_shot(session, shot_id)
    return layouts.keep(session, name, [box_of(mask_of(session, region, size_of(now))) for region in now.regions])


def propose(session: Session, shot_id: int, page: str = "") -> Shot:
    """Gives each person of the shot's words a region; the rest of the words stays for the whole picture.

    Raises ArtistError where the words name nobody.
    """
    people = list[str]()

    def change(now: Recipe) -> Recipe:
        people[:] = proposed(now.words)
        if not people:
            raise ArtistError("The words name nobody. Write who is in the picture, such as “a girl hands a letter to an old man”.", "words")
        fresh = [Region(id=secrets.token_hex(4), mask="0" * 64, words=words) for words in people]
        laid = _in_boxes(session, now, fresh, layout_for(len(people)))
        return now.model_copy(update={"regions": laid, "words": common_left(now.words, people)})

    return drafts.edit(session, shot_id, change, page, alone=True)


def from_picture(session: Session, shot_id: int, picture: str, page: str = "") -> Shot:
    """Lays a region over each person that is seen in a picture, from the left.

    Raises ArtistError where nobody is seen, or what is seen is not known yet.
    """
    choices = choosing.known(session, picture)
    if choices is None:
        raise ArtistError("What is seen in this picture is still being looked for. Press it again in a moment.", "regions")
    seen = [(choice, choices.mask(choice.key)) for choice in choices.choices if choice.figure is not None and choice.name in choices.people]
    seen = [(choice, mask) for choice, mask in seen if mask.any()]
    if not seen:
        raise ArtistError("Nobody is seen in this picture.", "regions")
    seen.sort(key=lambda one: box_of(one[1])[0])

    def change(now: Recipe, there: list[Region]) -> list[Region]:
        return [*there, *(_over(session, now, mask, choice.name.removeprefix("the ")) for choice, mask in seen)]

    return edit(session, shot_id, change, page)


def from_choice(session: Session, shot_id: int, picture: str, name: str, page: str = "") -> Shot:
    """Lays a region over a choice that was kept by name among the mends of a picture.

    Raises ArtistError where there is none of that name.
    """
    kept = next((one for one in stacks.seen(session, shot_id, picture).kept if one.name == name), None)
    if kept is None:
        raise ArtistError(f"No choice “{name}” is kept on this picture.", "regions")

    def change(now: Recipe, there: list[Region]) -> list[Region]:
        return [*there, _over(session, now, masks.nearest_mask(session, kept.mask, size_of(now)), "", name)]

    return edit(session, shot_id, change, page)


def _over(session: Session, now: Recipe, mask: Mask, words: str, name: str = "") -> Region:
    size = size_of(now)
    fitting = mask if mask.shape == size[::-1] else nearest(mask.astype(np.uint8), size) > 0
    said = f"{'an' if words[:1] in tuple('aeiou') else 'a'} {words}" if words else ""
    return Region(id=secrets.token_hex(4), mask=masks.store_mask(session, fitting), words=said, name=name)


def from_area(session: Session, shot_id: int, cue_id: str, page: str = "", name: str = "") -> str:
    """Makes the part in which a reference acts a region, drawn and moved like any; its id, which is `name` where the page made one.

    Raises ArtistError where the reference acts everywhere, or is not on the sheet any more.
    """
    fresh = name or secrets.token_hex(4)

    def change(now: Recipe) -> Recipe:
        cue = next((c for c in now.cues if c.id == cue_id), None)
        if cue is None or cue.area is None:
            raise ArtistError("This reference acts everywhere: choose a part for it on the cue sheet first.", "cues")
        mask = masks.store_mask(session, masks.nearest_mask(session, cue.area, size_of(now)))
        region = Region(id=fresh, mask=mask, name=cue.name[: limits.CUE_NAME])
        cues = [c.model_copy(update={"area": mask}) if c.area == cue.area else c for c in now.cues]
        return now.model_copy(update={"regions": [*now.regions, region], "cues": cues})

    drafts.edit(session, shot_id, change, page, alone=True)
    return fresh


def keep_apart(session: Session, shot_id: int, page: str = "") -> Shot:
    """Moves the borders of regions that lie over each other, so that they do no more."""

    def change(now: Recipe, there: list[Region]) -> list[Region]:
        size = size_of(now)
        apart = kept_apart([mask_of(session, r, size).astype(np.float32) for r in there]) if there else []
        return [
            r if not mask.any() else r.model_copy(update={"mask": masks.store_mask(session, mask > 0)})
            for r, mask in zip(there, apart, strict=True)
        ]

    return edit(session, shot_id, change, page)


def cast_in(session: Session, shot_id: int, region_id: str, character_id: int, outfit_id: int, page: str = "") -> Shot:
    """Puts somebody of the cast into a region: their traits and what they wear are said there, and their lead anchor is its reference
    by the face, in place of that of whoever was there. 0: nobody named.
    """
    character = cast.find(session, character_id) if character_id else None
    outfit = session.get(Outfit, outfit_id) if character is not None and outfit_id else None
    given = cast.given_words(character, outfit, None) if character is not None else ""
    anchored = set(session.scalars(select(Anchor.picture_sha256).where(Anchor.removed_at.is_(None))))

    def one(region: Region) -> Region:
        kept = [cue for cue in region.cues if not (shots.hands_on(cue) and cue.picture in anchored)]
        cues = shots.with_lead(kept, character)
        return region.model_copy(update={"given": given, "name": character.name if character is not None else "", "cues": cues})

    return edit(session, shot_id, lambda now, there: _with(there, region_id, one), page, alone=True)


def add_cue(session: Session, shot_id: int, region_id: str, cue: Cue, page: str = "") -> Shot:
    """Lets a reference act for the person of a region.

    Raises ArtistError where the region is gone, or has as many as it can.
    """
    return _change_cues(session, shot_id, region_id, lambda cues: [*cues, cue], page)


def weigh_cue(session: Session, shot_id: int, region_id: str, cue_id: str, weight: float, page: str = "") -> Shot:
    """Weighs a reference of a region, 0…1.5; at 0 it is taken off."""

    def weighed(cues: list[Cue]) -> list[Cue]:
        changed = [cue.model_copy(update={"weight": weight}) if cue.id == cue_id else cue for cue in cues]
        return [cue for cue in changed if cue.weight > 0]

    return _change_cues(session, shot_id, region_id, weighed, page)


def edit_reference(session: Session, shot_id: int, region_id: str, cue_id: str, edit: ReferenceEdit, page: str = "") -> Shot:
    """Changes what a reference of a region lends. Raises ArtistError as `reference_edits.edited` does."""
    return _change_cues(session, shot_id, region_id, lambda cues: reference_edits.edited_among(session, cues, cue_id, edit), page)


def _change_cues(session: Session, shot_id: int, region_id: str, change: Callable[[list[Cue]], list[Cue]], page: str) -> Shot:
    """Changes a region's references as they stand now: the shot is locked meanwhile."""

    def one(region: Region) -> Region:
        try:
            return Region.model_validate(region.model_dump() | {"cues": [cue.model_dump() for cue in change(list(region.cues))]})
        except ValidationError as error:
            field, sentence = explain(error)[0]
            raise ArtistError(sentence, field) from None

    return edit(session, shot_id, lambda now, there: _with(there, region_id, one), page, alone=True)


def plan_of(
    session: Session,
    recipe: Recipe,
    seed: int,
    dragged: dict[str, tuple[float, float, float, float]] | None = None,
    view: tuple[float, float] | None = None,
) -> Planned:
    """Who will stand where, and what is told of it. dragged : boxes of regions that are being moved, by their ids. view : that holds."""
    recipe, size, found = soloed(recipe), size_of(recipe), {}
    for region in recipe.regions:
        mask = mask_of(session, region, size)
        box = (dragged or {}).get(region.id)
        found[region.id] = (mask if box is None else moved(mask, box)).astype(np.float32)
    return planned(recipe, seed, found, view, (BUILT_IN.get(recipe.engine) or BUILT_IN["built-in"]).make)


# -- masks -----------------------------------------------------------------------------------------------------


def mask_of(session: Session, region: Region, size: tuple[int, int]) -> Mask:
    """(H, W), open where a region is."""
    return masks.nearest_mask(session, region.mask, size)


def shape_on(mask: Mask, shape: DrawnShape) -> Mask:
    """A mask (H, W) with what the hand drew laid on it."""
    h, w = mask.shape
    points = np.round(np.array(shape.points) * (w, h)).astype(np.int32)
    drawn = np.zeros((h, w), np.uint8)
    if shape.kind == "box":
        (x0, y0), (x1, y1) = points.min(0), points.max(0)
        drawn[max(y0, 0) : max(y1, 0), max(x0, 0) : max(x1, 0)] = 1
    elif shape.kind == "outline":
        cv2.fillPoly(drawn, [points], 1)
    else:
        cv2.polylines(drawn, [points], False, 1, max(1, round(shape.wide * w)), cv2.LINE_8)
    return laid_on(mask, drawn > 0, shape.way)


def moved(mask: Mask, box: tuple[float, float, float, float]) -> Mask:
    """A mask (H, W) with its box moved and scaled to another, shares of width and height."""
    h, w = mask.shape
    x0, y0, x1, y1 = box_of(mask)
    a, b = (np.array([x0, y0, x1, y1]) * (w, h, w, h)), (np.array(box) * (w, h, w, h))
    kx, ky = max(b[2] - b[0], 1) / max(a[2] - a[0], 1), max(b[3] - b[1], 1) / max(a[3] - a[1], 1)
    turned = np.array([[kx, 0, b[0] - kx * a[0]], [0, ky, b[1] - ky * a[1]]])
    return np.asarray(cv2.warpAffine(mask.astype(np.uint8), turned, (w, h), flags=cv2.INTER_NEAREST) > 0)


def box_of(mask: Mask) -> tuple[float, float, float, float]:
    """Of a mask (H, W), shares of width and height; nothing where it is open nowhere."""
    ys, xs = np.nonzero(mask)
    if not len(xs):
        return 0.0, 0.0, 0.0, 0.0
    h, w = mask.shape
    return float(xs.min() / w), float(ys.min() / h), float((xs.max() + 1) / w), float((ys.max() + 1) / h)


def _in_boxes(session: Session, now: Recipe, there: list[Region], boxes: Sequence[tuple[float, float, float, float]]) -> list[Region]:
    laid, empty = [], np.zeros(size_of(now)[::-1], bool)
    for n, box in enumerate(boxes):
        mask = shape_on(empty, DrawnShape(kind="box", points=[(box[0], box[1]), (box[2], box[3])]))
        sha256 = masks.store_mask(session, mask)
        own = there[n] if n < len(there) else None
        laid.append(Region(id=secrets.token_hex(4), mask=sha256) if own is None else own.model_copy(update={"mask": sha256}))
    return [*laid, *there[len(boxes) :]]


def _with(there: list[Region], region_id: str, change: Callable[[Region], Region]) -> list[Region]:
    if not any(r.id == region_id for r in there):
        raise RegionGone
    return [change(r) if r.id == region_id else r for r in there]


def of_shot(session: Session, shot_id: int) -> Recipe:
    """The recipe on the table of a shot."""
    return drafts.of_shot(shots.find(session, shot_id))
