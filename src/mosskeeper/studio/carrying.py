"""Stacks of mends taken along and brought back: in one file with all that they need."""

from __future__ import annotations

from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from mosskeeper.core.errors import BadPicture, BadRecipe
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.pictures.decode import decode
from mosskeeper.core.stack import Height, Stack, heights, key_of
from mosskeeper.formats.openraster import RasterLayer, opaque, openraster
from mosskeeper.formats.stack_file import Carried, MadeHere
from mosskeeper.studio import explaining, library, mends, pictures, runs, shots, stacks
from mosskeeper.studio.mends import StackState
from mosskeeper.studio.models import MendStack as Row
from mosskeeper.studio.models import Variant


def packed(session: Session, made: StackState) -> Carried:
    """A stack with its base, its masks, and what the mends that stand have made."""
    stack, kept = made.stack, dict[str, bytes]()
    kept[stack.base] = pictures.png(session, stack.base)
    for mend in stack.mends:
        for name in (mend.mask, *(cue.picture for cue in mend.cues)):
            if name is not None:
                kept[name] = pictures.png(session, name)
    found = []
    for height in made.heights:
        if height.picture is not None and height.mend.seed is not None:
            kept[height.picture] = pictures.png(session, height.picture)
            says = mends.said_of(session, made, height)
            found.append(MadeHere(height.mend.id, height.mend.seed, height.picture, says, _scenes(session, height.picture)))
    return Carried(stack, tuple(found), kept, _scenes(session, stack.base))


def _scenes(session: Session, sha256: str) -> dict[str, Any] | None:
    explained = explaining.of_picture(session, sha256)
    return None if explained is None else explained.to_json()


def restored(session: Session, shot_id: int, carried: Carried) -> str:
    """Lays a stack that was taken along on its picture in a shot; the picture's name.

    Where mends lie on that picture already, the ones that come take their place, and undo leads back.

    Raises
    ------
    BadRecipe
        where a picture that came with it is none.
    """
    shot = shots.find(session, shot_id)
    for sha256, data in carried.pictures.items():
        try:
            shown = decode(data)
        except BadPicture as error:
            raise BadRecipe(f"A picture that came with these mends cannot be used. {error.sentence}", "mends") from None
        pictures.store_png(session, data, shown.layers_u8, "brought with mends", "upload" if sha256 == carried.stack.base else "mend")
    base = carried.stack.base
    library.add(session, base, "upload", "mended picture, as it came", shot.story_id)
    _note(session, base, carried.scenes)
    for one in carried.made:
        _note(session, one.picture, one.scenes)
    row = stacks.opened(session, shot_id, base)
    stack = stacks.edit(session, row.id, lambda _: carried.stack)
    _remember(session, row, stack, {one.mend: one for one in carried.made})
    return base


def _note(session: Session, sha256: str, scenes: dict[str, Any] | None) -> None:
    """Notes the scenes of a picture that came; such as are not known here are left."""
    if scenes is None:
        return
    try:
        explaining.note(session, sha256, LayeredScenes.from_json(scenes))
    except ValueError:
        return


def _remember(session: Session, row: Row, stack: Stack, made: dict[str, MadeHere]) -> None:
    """Lets what came along stand as what the mends made: nothing is made again."""
    known: dict[str, str] = {}
    for mend in stack.mends:
        height = next(h for h in heights(stack, known.get) if h.mend.id == mend.id)
        one = made.get(mend.id)
        if height.recipe is None or one is None or mend.seed != one.seed:
            continue
        recipe = height.recipe.with_seed(one.seed)
        run = runs.finished(session, row.shot_id, recipe, "brought", runs.OfMend(row.id, mend.id))
        key = key_of(recipe, one.seed)
        session.add(
            Variant(
                stack_id=row.id,
                mend=mend.id,
                run_id=run.id,
                place=0,
                seed=one.seed,
                picture_sha256=one.picture,
                made_by=key,
                says=list(one.says),
                seconds=0.0,
            )
        )
        known[key] = one.picture
    session.flush()


def layered(session: Session, made: StackState) -> bytes:
    """The mended picture as OpenRaster: the base, and for each mend that stands a layer with what it changed."""
    standing = [h for h in made.heights if h.stands]
    offsets = _offsets(standing)
    base = pictures.pixels(session, made.stack.base)
    layers = [RasterLayer("as it came", opaque(base), offsets[0])]
    below = base
    for height, at in zip(standing, offsets[1:], strict=True):
        assert height.picture is not None
        now = pictures.pixels(session, height.picture)
        left, above, _, _ = height.mend.wider
        changed = np.ones(now.shape[:2], bool)
        h, w = below.shape[:2]
        changed[above : above + h, left : left + w] = (now[above : above + h, left : left + w] != below).any(2)
        layers.append(RasterLayer(height.mend.name, np.dstack([now, changed.astype(np.uint8) * 255]), at))
        below = now
    return openraster((below.shape[1], below.shape[0]), layers, below)


def _offsets(standing: list[Height]) -> list[tuple[int, int]]:
    """Where each height's canvas lies on the last one, px; the base's first."""
    out = [(0, 0)]
    for height in reversed(standing):
        left, above, _, _ = height.mend.wider
        x, y = out[0]
        out.insert(0, (x + left, y + above))
    return out
