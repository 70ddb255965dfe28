"""Mends at work: how each stands, its variants, and what is made of them."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import func, select
from sqlalchemy.orm import Session, joinedload

from mosskeeper.core import limits
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.explained import Explained
from mosskeeper.core.mending.choices import Choices
from mosskeeper.core.mending.mask_acts import acted, by_colour, grown, laid_on
from mosskeeper.core.mending.masks import Mask
from mosskeeper.core.mending.quick import Quick, drawn_as, quick_mends, quick_strays
from mosskeeper.core.mending.told_mask import told_mask
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.pictures.resample import nearest
from mosskeeper.core.reading.reading import Attributes
from mosskeeper.core.reading.structure import grey
from mosskeeper.core.recipe import MAX_SEED, Recipe
from mosskeeper.core.stack import Height, Kept, Mend, Stack, heights, key_of, top
from mosskeeper.core.words.understand import understand
from mosskeeper.studio import choosing, explaining, library, pictures, readings, runs, shots, stacks
from mosskeeper.studio.database import locked
from mosskeeper.studio.models import CopiedMend, Run, Shot, Take, Variant
from mosskeeper.studio.models import Stack as Row
from mosskeeper.studio.working import goes_well

_OPEN = 0.5
_OVERLAPS = 0.03  # of a mask, from which it is told that it lies over another mend's
_MOST_VARIANTS = 48


class Below(ArtistError):
    """A mend below has to be made first."""

    def __init__(self) -> None:
        super().__init__("A mend below stands on another picture now: make it anew first (“redo what changed”).", "mends")


@dataclass(frozen=True, slots=True)
class Standing:
    """A stack as it stands. top : the picture of its uppermost height, None where a mend has to be made first."""

    row: Row | None
    stack: Stack
    heights: list[Height]
    top: str | None

    def height(self, mend_id: str) -> Height:
        """Raises Gone where there is no such mend."""
        found = next((h for h in self.heights if h.mend.id == mend_id), None)
        if found is None:
            raise stacks.Gone
        return found


def standing(session: Session, shot_id: int, base: str) -> Standing:
    """The stack on a picture, and how each mend of it stands; nothing is written."""
    return _standing(session, stacks.known(session, shot_id, base), stacks.seen(session, shot_id, base))


def standing_of(session: Session, stack_id: int) -> Standing:
    row = stacks.find(session, stack_id)
    return _standing(session, row, stacks.stack_of(session, row))


def _standing(session: Session, row: Row | None, stack: Stack) -> Standing:
    made = heights(stack, _made(session, row))
    return Standing(row, stack, made, top(stack, made))


def _made(session: Session, row: Row | None) -> Callable[[str], str | None]:
    def picture(key: str) -> str | None:
        if row is None:
            return None
        query = select(Variant.picture_sha256).where(Variant.stack_id == row.id, Variant.made_by == key).limit(1)
        return session.scalar(query)

    return picture


def variants(session: Session, row: Row | None, mend_id: str) -> list[Variant]:
    """The variants of a mend, the newest run first, in each in their order."""
    if row is None:
        return []
    query = select(Variant).where(Variant.stack_id == row.id, Variant.mend == mend_id)
    query = query.options(joinedload(Variant.run).joinedload(Run.recipe)).order_by(Variant.run_id.desc(), Variant.place)
    return list(session.scalars(query.limit(_MOST_VARIANTS)))


def active_run(session: Session, row: Row | None, mend_id: str = "") -> Run | None:
    """The run that makes variants on a stack now, or failed to and nobody has dismissed it."""
    if row is None:
        return None
    query = select(Run).where(Run.stack_id == row.id).order_by(Run.state.in_(runs.ACTIVE).desc(), Run.id.desc()).limit(1)
    if mend_id:
        query = query.where(Run.mend == mend_id)
    run = session.scalar(query.options(joinedload(Run.recipe)))
    return run if run is not None and (run.active or run.troubled) else None


# -- masks -------------------------------------------------------------------------------------------------------


def mask_of(session: Session, mend: Mend, size: tuple[int, int]) -> Mask:
    """(H, W): where a mend may change; nowhere where nothing was chosen. size : width and height."""
    return np.zeros(size[::-1], bool) if mend.mask is None else nearest_mask(session, mend.mask, size)


def nearest_mask(session: Session, sha256: str, size: tuple[int, int]) -> Mask:
    """(H, W) of a stored mask, open where it is white, at a size (width, height)."""
    opened = grey(pictures.pixels(session, sha256)) > _OPEN
    return opened if opened.shape == size[::-1] else nearest(opened.astype(np.uint8), size).astype(bool)


def keep_choice(session: Session, stack_id: int, mend_id: str, name: str, page: str = "") -> Stack:
    """Keeps what a mend opens by a name, in place of another of that name.

    Raises ArtistError where nothing is chosen, or the name is missing or too long.
    """
    name = limits.text(name, "Name", "name", limits.TAG, needed=True)

    def change(stack: Stack) -> Stack:
        mend = stack.mend(mend_id)
        if mend is None:
            raise stacks.Gone
        if mend.mask is None:
            raise ArtistError("Nothing is chosen yet that could be kept.", "mask")
        others = [one for one in stack.kept if one.name != name]
        return stack.changed(kept=[*others, Kept(name=name, mask=mend.mask)])

    return stacks.edit(session, stack_id, change, page)


def keep_mask(session: Session, stack_id: int, mend_id: str, mask: Mask, base: str, page: str = "", over: bool = False) -> Stack:
    """Keeps the mask of a mend after an act of the hand: one step. What it says is read and kept with it.

    base : the mask that the act began from, "" none. Raises MaskMoved where the mend has another by now.
    """
    made = standing_of(session, stack_id)
    height = made.height(mend_id)
    assert made.row is not None
    w, h = height.size
    if mask.shape != (h, w):
        raise ArtistError(f"This mask is {mask.shape[1]} × {mask.shape[0]} px, the picture {w} × {h}. Reload the page.", "mask")
    sha256 = store_mask(session, mask) if mask.any() else None
    told = told_mask(mask, choices_on(session, shots.find(session, made.row.shot_id), height.on))
    told += _overlaps(session, made, mend_id, mask)

    def change(mend: Mend) -> Mend:
        if (mend.mask or "") != base and not over:
            raise MaskMoved
        return mend.model_copy(update={"mask": sha256, "told": told[:8]})

    return stacks.edit_mend(session, stack_id, mend_id, change, page)


def _overlaps(session: Session, made: Standing, mend_id: str, mask: Mask) -> list[str]:
    """Which other mends a mask lies over, and by how much: of two that overlap the upper one wins."""
    out = []
    for height in made.heights:
        other = height.mend
        if other.id != mend_id and other.shown and other.mask is not None and height.size == mask.shape[1::-1] and mask.any():
            share = float(mask_of(session, other, height.size)[mask].mean())
            if share >= _OVERLAPS:
                out.append(f"lies over “{other.name[:30]}” by {share:.0%}".replace("%", " %"))
    return out[:3]


class MaskMoved(ArtistError):
    """Another page changed the mask meanwhile."""

    def __init__(self) -> None:
        super().__init__("What this mend opens was changed in another tab meanwhile. Show that, or lay yours over it.", "mask")


def act_on_mask(session: Session, stack_id: int, mend_id: str, act: str, px: float, page: str = "") -> Stack:
    """Grows, shrinks, smooths, fills or turns over what a mend opens; one of `mask_acts.ACTS`."""
    height = standing_of(session, stack_id).height(mend_id)
    mask = acted(mask_of(session, height.mend, height.size), act, px)
    return keep_mask(session, stack_id, mend_id, mask, height.mend.mask or "", page)


def choose(session: Session, stack_id: int, mend_id: str, keys: list[str], way: str, page: str = "") -> Stack:
    """Lays what was chosen by name on the mask, in one of `mask_acts.WAYS` or in its place (“only”).

    Raises ArtistError where that is not seen in the picture, or what is seen there is not known yet.
    """
    made = standing_of(session, stack_id)
    height = made.height(mend_id)
    kept = next((one for one in made.stack.kept if keys == [f"kept {one.name}"]), None)
    if kept is not None:
        chosen = nearest_mask(session, kept.mask, height.size)
        mask = chosen if way == "only" else laid_on(mask_of(session, height.mend, height.size), chosen, way)
        return keep_mask(session, stack_id, mend_id, mask, height.mend.mask or "", page)
    choices = None if height.on is None else choosing.known(session, height.on)
    if choices is None:
        raise ArtistError("What can be chosen by name is still being looked for. Brush meanwhile, or press it again.", "mask")
    try:
        chosen = choices.mask(*keys)
    except KeyError:
        raise ArtistError("This is not seen in the picture any more.", "mask") from None
    mask = chosen if way == "only" else laid_on(mask_of(session, height.mend, height.size), chosen, way)
    return keep_mask(session, stack_id, mend_id, mask, height.mend.mask or "", page)


def store_mask(session: Session, mask: Mask) -> str:
    drawn = np.repeat((mask * 255).astype(np.uint8)[..., None], 3, 2)
    return pictures.store(session, drawn, "mask", "mask").sha256


def choices_on(session: Session, shot: Shot, picture: str | None) -> Choices | None:
    """What can be chosen by name in a picture; a lone figure that may be the shot's character is called as that is."""
    found = None if picture is None else choosing.known(session, picture)
    if found is None or shot.character is None or len(found.people) != 1:
        return found
    subjects = understand(shot.character.traits).wanted.get("subject", {})
    known = not subjects or found.people[0].removeprefix("the ") in subjects
    return found.called([shot.character.name]) if known else found


# -- runs --------------------------------------------------------------------------------------------------------


def asked(session: Session, stack_id: int, mend_id: str) -> tuple[Shot, Recipe]:
    """The shot, and the recipe by which variants of a mend are made on the picture below it.

    Raises
    ------
    Below
        where that is not made yet.
    ArtistError
        where nothing is chosen.
    """
    made = standing_of(session, stack_id)
    height = made.height(mend_id)
    if height.on is None:
        raise Below
    if not height.mend.ready:
        raise ArtistError("Nothing is chosen yet: brush over what should change, or choose it by name.", "mask")
    assert made.row is not None and height.recipe is not None
    return shots.find(session, made.row.shot_id), height.recipe


def to_redo(session: Session, stack_id: int) -> tuple[Shot, Recipe, str] | None:
    """What has to be made next for the stack to stand: the lowest accepted mend that stands on another picture now."""
    made = standing_of(session, stack_id)
    pending = next((h for h in made.heights if h.pending), None)
    if pending is None or pending.recipe is None or pending.mend.seed is None or made.row is None:
        return None
    return shots.find(session, made.row.shot_id), pending.recipe.with_seed(pending.mend.seed), pending.mend.id


def store_variant(
    session: Session,
    run_id: int,
    place: int,
    seed: int,
    image: NDArray[np.uint8],
    seconds: float,
    explained: Explained | None,
    says: tuple[str, ...],
) -> Variant:
    """Stores one variant of a mend; a second time it changes nothing."""
    run = session.get_one(Run, run_id, options=[joinedload(Run.recipe)])
    assert run.stack_id is not None
    locked(session, Row, run.stack_id, "There are no mends on this picture any more.")
    found = session.scalar(select(Variant).where(Variant.run_id == run_id, Variant.place == place))
    if found is None:
        recipe = runs.recipe_of_place(run, place)
        sha256 = pictures.store(session, image, recipe.words[:140] or "mend", "mend").sha256
        if explained is not None:
            explaining.note(session, sha256, explained)
        found = Variant(
            stack_id=run.stack_id,
            mend=run.mend,
            run_id=run_id,
            place=place,
            seed=seed,
            picture_sha256=sha256,
            made_by=key_of(recipe, seed),
            says=[sentence[:300] for sentence in says[:8]],
            seconds=seconds,
        )
        session.add(found)
        session.flush()
        goes_well(session, run_id)
    runs.announce(session, run.shot_id)
    return found


def accept(session: Session, stack_id: int, variant_id: int, page: str = "") -> Stack:
    """Accepts a variant of a mend: its words, mask and seed become the mend's. The others stay with it.

    Raises ArtistError where the variant is of another stack.
    """
    variant = session.get(Variant, variant_id, options=[joinedload(Variant.run).joinedload(Run.recipe)])
    if variant is None or variant.stack_id != stack_id:
        raise ArtistError("This variant is not one of these mends.", "mends")
    recipe = runs.recipe_of_place(variant.run, variant.place)
    source = recipe.source
    assert source is not None

    def change(mend: Mend) -> Mend:
        return mend.model_copy(
            update={
                "seed": variant.seed,
                "shown": True,
                "words": recipe.words,
                "negative": recipe.negative,
                "cues": recipe.cues,
                "strength": source.strength,
                "feather": source.feather,
                "outlines": source.outlines,
                "mask": source.mask or mend.mask,
                "wider": source.wider,
            }
        )

    return stacks.edit_mend(session, stack_id, variant.mend, change, page)


# -- what becomes of it ------------------------------------------------------------------------------------------


def as_take(session: Session, stack_id: int) -> tuple[Take, bool]:
    """Puts the mended picture on the shot's board as a take; whether it is new there.

    It has a recipe of its own: that of its uppermost mend on the picture below, so that it can be made again.

    Raises ArtistError where no mend is accepted, Below where one has to be made first.
    """
    made = standing_of(session, stack_id)
    if made.top is None:
        raise Below
    height = next((h for h in reversed(made.heights) if h.stands), None)
    if height is None or height.recipe is None or made.row is None or height.mend.seed is None:
        raise ArtistError("No mend of this picture is accepted yet: make variants, and accept one.", "mends")
    shot = locked(session, Shot, made.row.shot_id, "This shot does not exist.")
    there = session.scalar(select(Take).where(Take.shot_id == shot.id, Take.picture_sha256 == made.top).limit(1))
    if there is not None:
        return there, False
    recipe = height.recipe.with_seed(height.mend.seed)
    number = (session.scalar(select(func.max(Take.number)).where(Take.shot_id == shot.id)) or 0) + 1
    run = Run(
        shot_id=shot.id,
        recipe_sha256=runs.store_recipe(session, recipe.model_copy(update={"count": 1})),
        seeds=[height.mend.seed],
        steps=recipe.steps,
        step=recipe.steps,
        state="done",
        sparks=0.0,
        expected_seconds=0.0,
        message="mended",
    )
    session.add(run)
    session.flush()
    take = Take(shot_id=shot.id, run_id=run.id, place=0, number=number, seed=height.mend.seed, picture_sha256=made.top, seconds=0.0)
    session.add(take)
    session.flush()
    library.add(session, made.top, "take", f"{shot.name}, take {number}", shot.story_id, take, ", ".join(m.name for m in made.stack.mends))
    runs.announce(session, shot.id)
    return take, True


# -- more ways to choose -----------------------------------------------------------------------------------------


def choose_alike(session: Session, stack_id: int, mend_id: str, at: tuple[int, int], near: float, way: str, page: str = "") -> Stack:
    """Opens what hangs together with a place (x, y) and is within ΔE `near` of its colour.

    Raises ArtistError where the place lies beside the picture, Below where the picture is not made yet.
    """
    height = standing_of(session, stack_id).height(mend_id)
    if height.on is None:
        raise Below
    w, h = height.size
    if not (at[0] < w and at[1] < h):
        raise ArtistError("This place lies beside the picture. Press on the picture itself.", "mask")
    lab = rgb_to_lab(pictures.pixels(session, height.on).astype(np.float32) / 255)
    chosen = by_colour(np.asarray(lab, np.float32), at, near)
    mask = chosen if way == "only" else laid_on(mask_of(session, height.mend, height.size), chosen, way)
    return keep_mask(session, stack_id, mend_id, mask, height.mend.mask or "", page)


def quick(session: Session, stack_id: int, key: str, page: str = "") -> str:
    """Lays a quick mend on top: chosen and worded; its id.

    Raises ArtistError where it is not offered for the picture as it is now.
    """
    made = standing_of(session, stack_id)
    if made.top is None:
        raise Below
    assert made.row is not None
    shot = shots.find(session, made.row.shot_id)
    choices = choices_on(session, shot, made.top)
    offered = next((one for one in quick_offers(session, shot, made.top) if one.key == key), None)
    if choices is None or offered is None:
        raise ArtistError("This is not offered for the picture as it is now. Choose by hand what should change.", "mask")
    chosen = choices.mask(*offered.keys)
    ys, xs = np.nonzero(chosen)
    mask = grown(chosen, offered.grown * float(np.ptp(xs) + np.ptp(ys)) / 2)
    told = told_mask(mask, choices)
    mend = Mend(id="new", mask=store_mask(session, mask), words=offered.words, told=told[:8])
    return stacks.add(session, stack_id, mend, page)


def quick_offers(session: Session, shot: Shot, picture: str) -> list[Quick]:
    """The quick mends of a picture: what is seen, and what of the first figure strays from the lead anchor."""
    choices = choices_on(session, shot, picture)
    if choices is None:
        return []
    lead = shot.character.lead if shot.character is not None else None
    if lead is None or lead.picture_sha256 == picture:
        return quick_mends(choices)
    return [*quick_strays(choices, _attributes(session, picture), _attributes(session, lead.picture_sha256)), *quick_mends(choices)]


def _attributes(session: Session, sha256: str) -> Attributes:
    """What is known of the first figure of a picture: from its scene, where it was drawn here, else as it was read."""
    explained = explaining.of_picture(session, sha256)
    if explained is not None:
        return drawn_as(explained.scene.description)
    read = readings.known(session, sha256)
    return {} if read is None else read.attributes


def other_seeds(session: Session, stack_id: int, mend_id: str) -> None:
    """Lets the next run of a mend draw from other seeds than those before."""
    stacks.edit_mend(
        session, stack_id, mend_id, lambda one: one.model_copy(update={"first_seed": secrets.randbelow(MAX_SEED)}), thing="first_seed"
    )


@dataclass(frozen=True, slots=True)
class Copied:
    """A mend that was carried over to another take. after : what it made of it, None where nothing was made yet."""

    take: Take
    before: str
    after: str | None
    told: tuple[str, ...]


def copies(session: Session, row: Row, mend_id: str) -> list[Copied]:
    """Where a mend was carried over to, with the pictures before and after it."""
    out = []
    for take, stack_id, copied in session.execute(
        select(Take, Row.id, CopiedMend.copy)
        .join(Row, (Row.shot_id == Take.shot_id) & (Row.base_sha256 == Take.picture_sha256))
        .join(CopiedMend, CopiedMend.to_stack == Row.id)
        .where(CopiedMend.from_stack == row.id, CopiedMend.mend == mend_id)
        .order_by(CopiedMend.id.desc())
    ):
        made = standing_of(session, stack_id)
        height = next((h for h in made.heights if h.mend.id == copied), None)
        if height is not None and height.on is not None:
            out.append(Copied(take, height.on, height.picture, tuple(height.mend.told)))
    return out
