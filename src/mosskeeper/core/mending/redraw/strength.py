"""Denoise strength of an explained picture: it is drawn anew on the way to another scene (image-to-image)."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.mending.redraw.colour_transfer import carried
from mosskeeper.core.mending.redraw.differences import replaced
from mosskeeper.core.scenes.interpolation import at_strength


def redrawn(picture: NDArray[np.uint8], explained: LayeredScenes, last: Scene, strength: float) -> tuple[NDArray[np.uint8], Drawing, Scene]:
    """A picture (H, W, 3) on its way to another scene: the picture, its drawing and its scene at a denoise strength.

    What it has besides its own drawing fades with the strength.
    """
    scene = at_strength(explained.scene, last, strength)
    after = draw_scene(scene, with_albedo=True)
    if strength <= 0:
        return picture.copy(), after, scene
    before = explained.drawn()
    if strength >= 1 or (picture == before.image).all():
        return after.image, after, scene
    everywhere = np.ones(picture.shape[:2], np.float32)
    tones = carried(picture, before, after, everywhere, replaced(before, after) < 0.1)
    mixed = tones * (1 - strength) + after.image.astype(np.float32) * strength
    return np.clip(mixed + 0.5, 0, 255).astype(np.uint8), after, scene
