"""Extension to any side.

Own takes are drawn again on a wider canvas, which is exact. Foreign pictures are filled from patches of their own place: no
patch of a figure is ever copied; where a figure is cut by the frame, its scene is drawn on.
"""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.draw import Wider, draw_scene
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.illustrator.vocabulary.finishes import blended
from mosskeeper.core.mending.fill.patch_fill import STAYS, fill
from mosskeeper.core.mending.masks import Mask, dilated
from mosskeeper.core.mending.redraw.light import carried_on

U8 = NDArray[np.uint8]
_LEVEL = 0.25  # cost of a displacement by the whole side across an extension, so that horizons run on
_UPRIGHT = 0.025  # the same where a picture grows upwards or downwards
_MARGIN = 0.08  # of the shorter side: the deepest margin that counts as one
_PAINTED = 20.0  # px at 512 wide of a finish's unpainted margin
_BESIDES = 4.0  # levels from which a picture has something besides its drawing


def extended_take(picture: U8, explained: LayeredScenes, wider: Wider) -> U8:
    """An own take (H, W, 3) on a wider canvas; its own part bit for bit, but for an unpainted margin, which moves outwards.

    Parameters
    ----------
    wider : px to the left, at the top, to the right, below.
    """
    left, top, right, below = wider
    scene, (h, w) = explained.scene, picture.shape[:2]
    made = draw_scene(scene, wider=wider).image.copy()
    margin = round(_PAINTED * blended(list(scene.description.finish)).margin * float(np.sqrt(w * h / (512 * 640))))
    kept = np.s_[margin * (top > 0) : h - margin * (below > 0), margin * (left > 0) : w - margin * (right > 0)]
    inner = np.s_[top : top + h, left : left + w]
    beside = cv2.GaussianBlur(picture[kept].astype(np.float32) - made[inner][kept], (0, 0), 6)
    if np.abs(beside).max() > _BESIDES:  # what the picture has besides its drawing ebbs away outside
        known, values = np.zeros(made.shape[:2], bool), np.zeros(made.shape, np.float32)
        known[inner][kept], values[inner][kept] = True, beside
        made = np.clip(made + carried_on(values, known) + 0.5, 0, 255).astype(np.uint8)
    made[inner][kept] = picture[kept]
    return made


def extended(
    picture: U8,
    wider: Wider,
    figures: Mask | None = None,
    scene: Scene | None = None,
    seed: int = 0,
    check: Callable[[], None] = lambda: None,
) -> U8:
    """A foreign picture (H, W, 3) on a wider canvas; its own part bit for bit, but for an unpainted margin, which is painted over.

    Wide extensions are made in several goes of at most half the side, so that what is new can be gone on from.

    Parameters
    ----------
    wider : px to the left, at the top, to the right, below.
    figures : (H, W), what is nowhere copied.
    scene : of the figure, drawn on where the frame cuts it.

    Raises ValueError where too little of the place is seen to go on from.
    """
    h, w = picture.shape[:2]
    figures = np.zeros((h, w), bool) if figures is None else figures
    gone = _margin_towards(picture, wider)
    out, known, place, left_to_do = picture, ~gone, ~dilated(figures, 9) & ~gone, list(wider)
    while any(left_to_do):
        height, width = out.shape[:2]
        sides = [min(px, (width if k % 2 == 0 else height) // 2) for k, px in enumerate(left_to_do)]
        if sides[0] + sides[2]:  # one direction after the other: each has its own horizon
            sides[1] = sides[3] = 0
        out, place = _grown(out, known, place, sides, seed, check)
        known, left_to_do = np.ones(out.shape[:2], bool), [a - b for a, b in zip(left_to_do, sides, strict=True)]
    if scene is not None:
        out = _figure_drawn_on(out, picture, figures, scene, wider)
    inner = out[wider[1] : wider[1] + h, wider[0] : wider[0] + w]
    inner[~gone] = picture[~gone]
    return out


def _grown(picture: U8, known: Mask, place: Mask, sides: list[int], seed: int, check: Callable[[], None]) -> tuple[U8, Mask]:
    """A picture grown by `sides`, and where it shows its place."""
    left, top, right, below = sides
    usable, there = (cv2.copyMakeBorder(m.astype(np.uint8), top, below, left, right, cv2.BORDER_CONSTANT) > 0 for m in (place, known))
    own = cv2.copyMakeBorder(picture, top, below, left, right, cv2.BORDER_REFLECT_101)
    rough = np.where(place[..., None], picture, np.clip(carried_on(picture.astype(np.float32), place), 0, 255)).astype(np.uint8)
    mirrored = cv2.copyMakeBorder(rough, top, below, left, right, cv2.BORDER_REFLECT_101)
    begun = np.where(there[..., None], own, mirrored).astype(np.uint8)
    lean = (_LEVEL, STAYS) if left + right else (STAYS, _UPRIGHT)
    made = fill(begun, ~there, seed, lean, usable, begun=True, check=check)
    return made, usable | ~there


def _margin_towards(picture: U8, wider: Wider) -> Mask:
    """(H, W): an unpainted margin on the sides to which a picture grows."""
    left, top, right, below = wider
    (h, w), (y, x) = picture.shape[:2], np.mgrid[: picture.shape[0], : picture.shape[1]]
    deep = _MARGIN * min(h, w)
    beside = ((x < deep) & (left > 0)) | ((y < deep) & (top > 0)) | ((w - x <= deep) & (right > 0)) | ((h - y <= deep) & (below > 0))
    return dilated(unpainted(picture) & beside, 5)


def unpainted(picture: U8) -> Mask:
    """(H, W): paper that was left unpainted around a picture; nowhere where there is none."""
    h, w = picture.shape[:2]
    y, x = np.mgrid[:h, :w]
    from_edge = np.minimum.reduce([x, y, w - 1 - x, h - 1 - y])
    lab = cv2.cvtColor(picture.astype(np.float32) / 255, cv2.COLOR_RGB2Lab)
    paper = np.median(lab[from_edge < 2], 0)
    like = (np.linalg.norm(lab - paper, axis=2) < 9) & (from_edge < _MARGIN * min(h, w))
    if paper[0] < 75 or like[from_edge < 2].mean() < 0.85:
        return np.zeros((h, w), bool)
    _, pieces = cv2.connectedComponents(like.astype(np.uint8))
    return np.asarray(like & np.isin(pieces, np.unique(pieces[from_edge == 0])))


def _figure_drawn_on(out: U8, picture: U8, figures: Mask, scene: Scene, wider: Wider) -> U8:
    """The drawn figure outside the frame, where it hangs together with the figure inside, in the tones that it has there."""
    left, top, right, below = wider
    h, w = picture.shape[:2]
    d, inner = draw_scene(scene, wider=wider), np.s_[top : top + h, left : left + w]
    body, reach, agreed = d.figures == 1, np.zeros(d.figures.shape, bool), np.zeros(d.figures.shape, bool)
    reach[inner], agreed[inner] = figures, figures & body[inner]
    outside = body.copy()
    outside[inner] = False
    _, pieces = cv2.connectedComponents(dilated(outside, 3).astype(np.uint8))
    keep = outside & np.isin(pieces, [k for k in np.unique(pieces[dilated(reach, 5) & dilated(body, 5)]) if k])
    if not keep.any() or not agreed.any():
        return out
    whole = cv2.copyMakeBorder(picture, top, below, left, right, cv2.BORDER_REPLICATE).astype(np.float32)
    tones = cv2.GaussianBlur(whole, (0, 0), 4) - cv2.GaussianBlur(d.image.astype(np.float32), (0, 0), 4)
    alpha = cv2.GaussianBlur(keep.astype(np.float32), (0, 0), 0.8)[..., None]
    return np.asarray(np.clip(out * (1 - alpha) + (d.image + carried_on(tones, agreed)) * alpha + 0.5, 0, 255), np.uint8)
