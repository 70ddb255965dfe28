"""Enlarging: more pixels with detail that belongs there.

What the illustrator drew is drawn again at the larger size and held to the picture; any other picture gets its detail
from itself, patch by patch.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.result import TakeResult
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.mending.fill.patches import local_detail
from mosskeeper.core.pictures.resample import sharp
from mosskeeper.core.pictures.signal import picture, signal
from mosskeeper.core.recipe import Recipe

F32 = NDArray[np.float32]
FACTORS = (2, 4)
_LEAST = 32  # px of each side
_OWN_DETAIL = "this picture was not drawn here: its detail comes from its own patches"
_REACH = 3  # px of the search for similar patches around the origin of each
_LUMA = np.array([0.299, 0.587, 0.114], np.float32)
_HELD = 3  # rounds of back-projection


def take_of(recipe: Recipe, rgb_u8: NDArray[np.uint8], known: LayeredScenes | None) -> TakeResult:
    """The take of a recipe whose source picture (H, W, 3) is enlarged to the recipe's size. known : its scenes, where it was drawn here.

    Raises ArtistError where the recipe's size is not a picture 2 or 4 times as large, or the picture is too small.
    """
    (h, w), own = rgb_u8.shape[:2], recipe.source
    assert own is not None and own.larger is not None
    factor = recipe.width // w
    if factor not in FACTORS or (recipe.width, recipe.height) != (w * factor, h * factor):
        raise ArtistError("A picture is enlarged 2 or 4 times, on both sides alike.", "source")
    if known is not None and known.holds and known.size == (w, h):
        return TakeResult(redrawn(rgb_u8, known, factor, own.larger), None, known.scene.description, known.resized(factor))
    if min(h, w) < _LEAST:
        raise ArtistError(f"A picture of less than {_LEAST} px has no detail to go on from.", "source")
    return TakeResult(enlarged(rgb_u8, factor, own.larger), None, None, None, (_OWN_DETAIL,))


def redrawn(rgb_u8: NDArray[np.uint8], explained: LayeredScenes, factor: int, amount: float = 0.3) -> NDArray[np.uint8]:
    """A take (H, W, 3) of the built-in engine, `factor` times as large, drawn again from its scenes.

    Parameters
    ----------
    amount : 0 faithful: reduced again it is the picture that was given … 1 free: it may differ as a new drawing does.

    Raises
    ------
    ValueError
        where `factor` is not one of FACTORS.
    """
    _checked(rgb_u8, factor)
    big = signal(explained.resized(factor).drawn().image)
    return picture(_held(big, signal(rgb_u8), factor, 1 - amount))


def enlarged(rgb_u8: NDArray[np.uint8], factor: int, amount: float = 0.5) -> NDArray[np.uint8]:
    """Any picture (H, W, 3), `factor` times as large, with detail from its own patches.

    The missing detail of a patch is taken from the most similar patch near the same place in the picture itself, one
    octave down.

    Parameters
    ----------
    amount : 0 none of that detail … 1 all of it.

    Raises
    ------
    ValueError
        where `factor` is not one of FACTORS, or the picture is smaller than 32 px.

    References
    ----------
    Freedman, Fattal: "Image and video upscaling from local self-examples", 2011. Irani, Peleg: "Improving resolution by
    image registration", 1991, for holding the result to the given picture by back-projection.
    """
    h, w = _checked(rgb_u8, factor)
    if min(h, w) < _LEAST:
        raise ValueError(f"a picture of less than {_LEAST} px has no patches to take detail from")
    x = signal(rgb_u8)
    for _ in range(factor // 2):
        x = _doubled(x, amount)
    return picture(x)


def _checked(rgb_u8: NDArray[np.uint8], factor: int) -> tuple[int, int]:
    if factor not in FACTORS:
        raise ValueError(f"pictures are enlarged 2 or 4 times, not {factor}")
    return rgb_u8.shape[0], rgb_u8.shape[1]


def _doubled(x: F32, amount: float) -> F32:
    h, w = x.shape[:2]
    big = sharp(x, (2 * w, 2 * h))
    blurred = sharp(sharp(x, (w // 2, h // 2)), (w, h))
    found = np.empty_like(big)
    tone, below = (np.ascontiguousarray(v @ _LUMA, np.float32) for v in (big, blurred))
    local_detail(tone, below, np.ascontiguousarray(x - blurred), 2.0, _REACH, found)
    smooth = cv2.GaussianBlur(found, (0, 0), 0.6)
    return _held(np.asarray(big + smooth * np.float32(amount), np.float32), x, 2, 1.0)


def _held(big: F32, small: F32, factor: int, strength: float) -> F32:
    """`big` drawn towards pictures that reduce to `small`."""
    h, w = small.shape[:2]
    for _ in range(_HELD):
        big = big + np.float32(strength) * sharp(small - sharp(big, (w, h)), (w * factor, h * factor))
    return np.asarray(np.clip(big, -1, 1), np.float32)
