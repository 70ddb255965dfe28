"""What mends open: masks drawn by hand, chosen by name or by colour, kept act by act."""

from __future__ import annotations

from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from mosskeeper.core import limits
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.mending.choose.choices import Choices
from mosskeeper.core.mending.choose.mask_edits import Act, Way, acted, by_colour, laid_on
from mosskeeper.core.mending.choose.mask_report import told_mask, told_room
from mosskeeper.core.mending.masks import Mask, Soft, opened_at
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.pictures.resample import nearest
from mosskeeper.core.reading.structure import grey
from mosskeeper.core.stack import Height, KeptMask, Mend, Stack
from mosskeeper.core.words.understand import understand
from mosskeeper.studio import choosing, mends, pictures, shots, stacks
from mosskeeper.studio.acts import Moved
from mosskeeper.studio.models import Shot

_OPEN = 0.5
_OVERLAPS = 0.03  # of a mask, from which it is told that it lies over another mend's


def mask_of(session: Session, mend: Mend, size: tuple[int, int]) -> Mask:
    """(H, W): where a mend may change; nowhere where nothing was chosen. size : width and height."""
    return np.zeros(size[::-1], bool) if mend.mask is None else nearest_mask(session, mend.mask, size)


def soft_mask_of(session: Session, mend: Mend, size: tuple[int, int]) -> Soft:
    """(H, W) 0…1: as far as a mend may change; a border that the hand drew softly stays soft."""
    if mend.mask is None:
        return np.zeros(size[::-1], np.float32)
    return opened_at(np.asarray(grey(pictures.pixels(session, mend.mask)), np.float32), size)


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
            raise stacks.MendGone
        if mend.mask is None:
            raise ArtistError("Nothing is chosen yet that could be kept.", "mask")
        others = [one for one in stack.kept if one.name != name]
        return stack.changed(kept=[*others, KeptMask(name=name, mask=mend.mask)])

    return stacks.edit(session, stack_id, change, page)


def keep_mask(session: Session, stack_id: int, mend_id: str, mask: Mask | Soft, base: str, page: str = "", over: bool = False) -> Stack:
    """Keeps the mask of a mend after an act of the hand: one step. What it says is read and kept with it.

    mask : (H, W); 0…1 where its border may be soft. base : the mask that the act began from, "" none. Raises MaskMoved where the mend has another by now.
    """
    made = mends.standing_of(session, stack_id)
    height = made.height(mend_id)
    assert made.row is not None
    w, h = height.size
    if mask.shape != (h, w):
        raise ArtistError(f"This mask is {mask.shape[1]} × {mask.shape[0]} px, the picture {w} × {h}. Reload the page.", "mask")
    sha256 = store_mask(session, mask) if mask.any() else None
    told = _told(session, made, height, height.mend, np.asarray(mask > _OPEN))

    def change(mend: Mend) -> Mend:
        if (mend.mask or "") != base and not over:
            raise MaskMoved
        return mend.model_copy(update={"mask": sha256, "told": told[:8]})

    return stacks.edit_mend(session, stack_id, mend_id, change, page)


def _told(session: Session, made: mends.StackState, height: Height, mend: Mend, mask: Mask) -> list[str]:
    """What a mask says, with the words of its mend."""
    assert made.row is not None
    choices = choices_on(session, shots.find(session, made.row.shot_id), height.on)
    room = told_room(mask, choices, mend.words, mend.outlines)
    return [*room, *told_mask(mask, choices), *_overlaps(session, made, mend.id, mask)]


def tell(session: Session, stack_id: int, mend_id: str, update: dict[str, Any], page: str = "") -> Stack:
    """Changes what a mend is told, and says where its words need more room than its mask leaves.

    Raises ArtistError with a sentence where a value cannot be.
    """
    made = mends.standing_of(session, stack_id)
    height = made.height(mend_id)
    if height.mend.mask is not None and {"words", "outlines"} & update.keys():
        mend = stacks.told(height.mend, update)
        update = update | {"told": _told(session, made, height, mend, mask_of(session, mend, height.size))[:8]}
    return stacks.tell(session, stack_id, mend_id, update, page)


def _overlaps(session: Session, made: mends.StackState, mend_id: str, mask: Mask) -> list[str]:
    """Which other mends a mask lies over, and by how much: of two that overlap the upper one wins."""
    out = []
    for height in made.heights:
        other = height.mend
        if other.id != mend_id and other.shown and other.mask is not None and height.size == mask.shape[1::-1] and mask.any():
            share = float(mask_of(session, other, height.size)[mask].mean())
            if share >= _OVERLAPS:
                out.append(f"lies over “{other.name[:30]}” by {share:.0%}".replace("%", " %"))
    return out[:3]


class MaskMoved(Moved):
    """Another page changed the mask meanwhile."""

    def __init__(self) -> None:
        super().__init__("What this mend opens was changed in another tab meanwhile. Show that, or lay yours over it.", "mask")


def act_on_mask(session: Session, stack_id: int, mend_id: str, act: Act, px: float, page: str = "") -> Stack:
    """Grows, shrinks, smooths, fills or turns over what a mend opens."""
    height = mends.standing_of(session, stack_id).height(mend_id)
    mask = acted(mask_of(session, height.mend, height.size), act, px)
    return keep_mask(session, stack_id, mend_id, mask, height.mend.mask or "", page)


def choose(session: Session, stack_id: int, mend_id: str, keys: list[str], way: Way, page: str = "") -> Stack:
    """Lays what was chosen by name on the mask.

    Raises ArtistError where that is not seen in the picture, or what is seen there is not known yet.
    """
    made = mends.standing_of(session, stack_id)
    height = made.height(mend_id)
    kept = next((one for one in made.stack.kept if keys == [f"kept {one.name}"]), None)
    chosen = _named(session, height, keys) if kept is None else nearest_mask(session, kept.mask, height.size)
    mask = laid_on(soft_mask_of(session, height.mend, height.size), chosen, way)
    return keep_mask(session, stack_id, mend_id, mask, height.mend.mask or "", page)


def _named(session: Session, height: Height, keys: list[str]) -> Mask:
    choices = None if height.on is None else choosing.known(session, height.on)
    if choices is None:
        raise ArtistError("What can be chosen by name is still being looked for. Brush meanwhile, or press it again.", "mask")
    try:
        return choices.mask(*keys)
    except KeyError:
        raise ArtistError("This is not seen in the picture any more.", "mask") from None


def store_mask(session: Session, mask: Mask | Soft) -> str:
    drawn = np.repeat(np.round(mask * 255.0).astype(np.uint8)[..., None], 3, 2)
    return pictures.store(session, drawn, "mask", "mask").sha256


def choices_on(session: Session, shot: Shot, picture: str | None) -> Choices | None:
    """What can be chosen by name in a picture; a lone figure that may be the shot's character is called as that is."""
    found = None if picture is None else choosing.known(session, picture)
    if found is None or shot.character is None or len(found.people) != 1:
        return found
    subjects = understand(shot.character.traits).wanted.get("subject", {})
    known = not subjects or found.people[0].removeprefix("the ") in subjects
    return found.called([shot.character.name]) if known else found


def choose_alike(session: Session, stack_id: int, mend_id: str, at: tuple[int, int], near: float, way: Way, page: str = "") -> Stack:
    """Opens what hangs together with a place (x, y) and is within ΔE `near` of its colour.

    Raises ArtistError where the place lies beside the picture, Below where the picture is not made yet.
    """
    height = mends.standing_of(session, stack_id).height(mend_id)
    if height.on is None:
        raise mends.Below
    w, h = height.size
    if not (at[0] < w and at[1] < h):
        raise ArtistError("This place lies beside the picture. Press on the picture itself.", "mask")
    lab = rgb_to_lab(pictures.pixels(session, height.on).astype(np.float32) / 255)
    chosen = by_colour(np.asarray(lab, np.float32), at, near)
    mask = laid_on(soft_mask_of(session, height.mend, height.size), chosen, way)
    return keep_mask(session, stack_id, mend_id, mask, height.mend.mask or "", page)
