"""Mending by redrawing: a picture is explained by scenes, these are changed, and what the mask opens is taken from their drawing."""

from __future__ import annotations

from copy import deepcopy
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.explained import LayeredScenes, SceneLayer, composite
from mosskeeper.core.illustrator.places import OPEN_COUNTRY
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.mending.ask.changed_scene import ChangedScene, Leeway, Somebody, asked
from mosskeeper.core.mending.masks import F32, Mask, depth_in, dilated, eased
from mosskeeper.core.mending.redraw.colour_transfer import carried
from mosskeeper.core.mending.redraw.differences import mask_grown, other_parts, replaced
from mosskeeper.core.mending.redraw.light import ebbing
from mosskeeper.core.scenes.interpolation import at_strength

_ROUNDED = 3  # grey levels between a picture of several layers and their drawings
_UNSEEN = 2  # grey levels of light that may change beyond an opened mask without being a change
_CUT = 0.97  # of what is redrawn that must lie in the mask, or it is told to be cut


@dataclass(frozen=True, slots=True)
class Opening:
    """How a mask opens a picture.

    feather : px inside the mask over which a change fades in. grown : the mask is grown to the outlines of what changes in
    it; else it is a hard limit. lights : what comes may light what lies outside.
    """

    feather: float = 3.0
    grown: bool = False
    lights: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class Mended:
    picture: NDArray[np.uint8]  # (H, W, 3)
    explained: LayeredScenes
    mask: Mask  # what was opened in the end
    says: tuple[str, ...]  # what was done and what does not fit, for the artist
    before: Drawing
    after: Drawing
    redrawn: F32  # (H, W) 0…1: replaced; elsewhere only the light changed
    fits: float  # share of what is redrawn that lies in the artist's mask


def mend(
    picture: NDArray[np.uint8],
    explained: LayeredScenes,
    mask: Mask,
    words: str,
    negative: str,
    somebody: Somebody,
    opening: Opening = Opening(),
    strength: float = 1.0,
    leeway: Leeway | None = None,
) -> Mended:
    """The picture (H, W, 3) with what words ask where the mask (H, W) is open; outside it bit for bit.

    strength : 0 the picture as it is … 1 all that was asked, one coherent drawing everywhere between.

    Raises ArtistError where the scene has no room for what is asked.
    """
    shares = explained.shares()
    drawings = [draw_scene(one.scene, with_albedo=True) for one in explained.layers]
    changed = []
    for one, drawing, share in zip(explained.layers, drawings, shares, strict=True):
        # what reaches beyond the mask reaches into layers that it does not touch; the same numbers in each, or there would be two of it
        seen = opening.grown or bool((share[mask] > 0.004).any())
        changed.append(asked(one.scene, drawing, mask, words, negative, somebody, deepcopy(leeway)) if seen else None)
    scenes = [
        one.scene if told is None else at_strength(one.scene, told.scene, strength)
        for one, told in zip(explained.layers, changed, strict=True)
    ]
    after = composite([draw_scene(scene, with_albedo=True) for scene in scenes], shares)
    last = next((told for told in reversed(changed) if told is not None), ChangedScene(scenes[-1]))
    before = composite(drawings, shares)
    if opening.grown and cv2.absdiff(picture, before.image).max() <= _ROUNDED:
        apart = cv2.absdiff(after.image, before.image).max(2)
        moved = np.asarray(apart > 0)
        reached = mask_grown(mask, moved)
        # nothing is cut, so the scenes themselves are changed, not laid over; on an empty canvas part after part makes one scene
        if apart[~reached].max(initial=0) <= _UNSEEN or all(scene.description.place == OPEN_COUNTRY for scene in scenes):
            out = np.where(moved[..., None], after.image, picture)
            return Mended(out, _changed(explained, scenes), reached | moved, last.says, before, after, replaced(before, after), 1.0)
    return taken(picture, explained, before, after, scenes, mask, last.says, opening, last.air)


def taken(
    picture: NDArray[np.uint8],
    explained: LayeredScenes,
    before: Drawing,
    after: Drawing,
    scenes: list[Scene],
    mask: Mask,
    says: tuple[str, ...] = (),
    opening: Opening = Opening(),
    air: bool = False,
) -> Mended:
    """What a mask opens, of a drawing that was changed, in the picture's own tones.

    Parameters
    ----------
    scenes : of `explained`, layer by layer, as they were changed.
    air : another light is what was asked for: it stays in the mask as it is.
    """
    redrawn = replaced(before, after)
    target = carried(picture, before, after, redrawn)
    own = mask
    if opening.grown:
        mask = mask_grown(mask, redrawn > 0.5)
    if opening.lights:
        mask = mask | ~dilated(other_parts(before, after), 9)
    depth = depth_in(mask)
    if not air:
        target = target + ebbing(target - picture, mask, redrawn, depth, after.glow > before.glow * 1.02)
    amount = eased(depth / max(opening.feather, 1e-6))
    mixed = np.clip(picture + (target - picture) * amount[..., None] + 0.5, 0, 255).astype(np.uint8)
    out = np.where(mask[..., None], mixed, picture)
    fits = float(redrawn[own].sum() / max(float(redrawn.sum()), 1.0))
    if fits < _CUT and redrawn.sum() > 30 and not opening.grown:
        says = (*says, f"{1 - fits:.0%} of what changes lies outside the mask and is cut: open its outline?")
    if (out == after.image).all() and len(scenes) == 1:
        made = LayeredScenes.of(scenes)
    elif opening.grown and cv2.absdiff(after.image, before.image).max(2)[~mask].max(initial=0) <= _UNSEEN:
        made = _changed(explained, scenes)  # the scenes draw the same outside: they are changed, not laid over
    else:
        made = explained.with_mend(scenes, amount * mask)
    return Mended(out, made, mask, says, before, after, redrawn, fits)


def _changed(explained: LayeredScenes, scenes: list[Scene]) -> LayeredScenes:
    """The layers with their scenes changed, each seen where it was."""
    return LayeredScenes(tuple(SceneLayer(scene, one.mask) for scene, one in zip(scenes, explained.layers, strict=True)))
