"""Mends at work: how each stands, its variants, and what is made of them."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import func, select
from sqlalchemy.orm import Session, joinedload

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.recipe import MAX_SEED, Recipe
from mosskeeper.core.stack import Height, Mend, Stack, heights, key_of, top
from mosskeeper.studio import explaining, library, pictures, runs, shots, stacks
from mosskeeper.studio.database import locked
from mosskeeper.studio.models import CopiedMend, Run, Shot, Take, Variant
from mosskeeper.studio.models import MendStack as Row
from mosskeeper.studio.run_states import ACTIVE
from mosskeeper.studio.working import goes_well, kept_of

_MOST_VARIANTS = 48


class Below(ArtistError):
    """A mend below has to be made first."""

    def __init__(self) -> None:
        super().__init__("A mend below stands on another picture now: make it anew first (“redo what changed”).", "mends")


@dataclass(frozen=True, slots=True)
class StackState:
    """A stack as it stands. top : the picture of its uppermost height, None where a mend has to be made first."""

    row: Row | None
    stack: Stack
    heights: list[Height]
    top: str | None

    def height(self, mend_id: str) -> Height:
        """Raises Gone where there is no such mend."""
        found = next((h for h in self.heights if h.mend.id == mend_id), None)
        if found is None:
            raise stacks.MendGone
        return found


def standing(session: Session, shot_id: int, base: str) -> StackState:
    """The stack on a picture, and how each mend of it stands; nothing is written."""
    return _standing(session, stacks.known(session, shot_id, base), stacks.seen(session, shot_id, base))


def standing_of(session: Session, stack_id: int) -> StackState:
    row = stacks.find(session, stack_id)
    return _standing(session, row, stacks.stack_of(session, row))


def _standing(session: Session, row: Row | None, stack: Stack) -> StackState:
    made = heights(stack, _made(session, row))
    return StackState(row, stack, made, top(stack, made))


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


def said_of(session: Session, made: StackState, height: Height) -> tuple[str, ...]:
    """What was done in making a height's picture, as it was told."""
    if made.row is None or height.picture is None:
        return ()
    query = select(Variant.says).where(Variant.stack_id == made.row.id, Variant.picture_sha256 == height.picture).limit(1)
    return tuple(session.scalar(query) or ())


def active_run(session: Session, row: Row | None) -> Run | None:
    """The run that makes variants on a stack now, or failed to and nobody has dismissed it."""
    if row is None:
        return None
    query = select(Run).where(Run.stack_id == row.id).order_by(Run.state.in_(ACTIVE).desc(), Run.id.desc()).limit(1)
    run = session.scalar(query.options(joinedload(Run.recipe)))
    return run if run is not None and (run.active or run.troubled) else None


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
    explained: LayeredScenes | None,
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
            says=kept_of(says),
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
                "window": source.window,
                "near": None if recipe.variation is None else recipe.variation.seed,
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
    run = runs.finished(session, shot.id, recipe, "mended")
    take = Take(shot_id=shot.id, run_id=run.id, place=0, number=number, seed=height.mend.seed, picture_sha256=made.top, seconds=0.0)
    session.add(take)
    session.flush()
    library.add(session, made.top, "take", f"{shot.name}, take {number}", shot.story_id, take, ", ".join(m.name for m in made.stack.mends))
    runs.announce(session, shot.id)
    return take, True


def other_seeds(session: Session, stack_id: int, mend_id: str, near: int | None = None) -> None:
    """Lets the next run of a mend draw from other seeds than those before.

    near : a variant to which the next ones should be near; one that was made near to another stands for that one.

    Raises ArtistError where the variant is of another mend.
    """
    variant = None if near is None else session.get(Variant, near, options=[joinedload(Variant.run).joinedload(Run.recipe)])
    if near is not None and (variant is None or (variant.stack_id, variant.mend) != (stack_id, mend_id)):
        raise ArtistError("This variant is not one of this mend.", "mends")
    seed = None
    if variant is not None:
        variation = runs.recipe_of_place(variant.run, variant.place).variation
        seed = variant.seed if variation is None else variation.seed
    fresh = {"first_seed": secrets.randbelow(MAX_SEED), "near": seed}
    stacks.edit_mend(session, stack_id, mend_id, lambda one: one.model_copy(update=fresh), thing="first_seed")


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
