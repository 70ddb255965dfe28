"""A window over the edge of a picture: the same place goes on there, with what words ask in it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.camera import Spot
from mosskeeper.core.illustrator.draw import Wider, draw_scene
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import Scene, Thing
from mosskeeper.core.mending.ask.changed_scene import Leeway, Somebody, asked
from mosskeeper.core.mending.masks import Mask
from mosskeeper.core.mending.redraw.mend import Mended, Opening, taken
from mosskeeper.core.scenes.interpolation import at_strength

Window = tuple[int, int, int, int]  # px on the wider canvas: left, top, width, height


def opened_by(window: Window, size: tuple[int, int]) -> Mask:
    """(H, W), open where a window lies on a canvas of a size (width, height)."""
    left, top, wide, high = window
    mask = np.zeros(size[::-1], bool)
    mask[max(top, 0) : top + high, max(left, 0) : left + wide] = True
    return mask


def mended_beyond(
    picture: NDArray[np.uint8],
    explained: LayeredScenes,
    wider: Wider,
    mask: Mask,
    words: str,
    negative: str,
    somebody: Somebody,
    opening: Opening,
    strength: float,
    leeway: Leeway | None,
) -> Mended:
    """A take that was made wider by `wider` px (H, W, 3), with what words ask where a mask (H, W) is open.

    explained : the scenes of the take as it was before; the last one's place goes on.
    """
    scene = explained.scene
    before = draw_scene(scene, with_albedo=True, wider=wider)
    told = asked(moved(scene, wider), before, mask, words, negative, somebody, leeway)
    last = at_strength(scene, moved_back(told.scene, wider, scene), strength)
    after = draw_scene(last, with_albedo=True, wider=wider)
    own = LayeredScenes.of([replace(scene, size=(picture.shape[1], picture.shape[0]))])
    return taken(picture, own, before, after, [last], mask, told.says, opening, told.air)


def moved(scene: Scene, wider: Wider) -> Scene:
    """A scene in the measure of its wider canvas: everything stands where it is seen there."""
    (w, h), (left, top, right, below), view = scene.size, wider, scene.camera
    size = (w + left + right, h + top + below)
    spots = tuple(Spot(s.scale, s.origin + (left, top)) for s in view.spots)
    k = max(w, h / 1.25) / max(size[0], size[1] / 1.25)
    middle = view.centre[1] + (size[1] / 2 - h / 2 - top) / (view.zoom * max(w, h / 1.25))
    camera = replace(view, spots=spots, horizon=view.horizon + top, zoom=view.zoom * k, centre=(view.centre[0], middle))
    return replace(scene, size=size, camera=camera, things=_moved_things(scene, left, top))


def moved_back(scene: Scene, wider: Wider, like: Scene) -> Scene:
    """The scene in the measure of its own canvas again, which `like` has."""
    left, top = wider[:2]
    spots = tuple(Spot(s.scale, s.origin - (left, top)) for s in scene.camera.spots)
    return replace(scene, size=like.size, camera=replace(like.camera, spots=spots), things=_moved_things(scene, -left, -top))


def _moved_things(scene: Scene, x: int, y: int) -> tuple[Thing, ...]:
    return tuple(replace(thing, foot=(thing.foot[0] + x, thing.foot[1] + y)) for thing in scene.things)
