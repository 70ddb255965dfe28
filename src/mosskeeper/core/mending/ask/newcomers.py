"""Things and people who come into a scene: on the ground, in its perspective, where a mask is."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import numpy as np

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.camera import Spot, standing_in
from mosskeeper.core.illustrator.description import MOST_FIGURES, MOST_THINGS, Description, Person, Rgb
from mosskeeper.core.illustrator.draw import measured
from mosskeeper.core.illustrator.scene import Scene, Thing, posture_of
from mosskeeper.core.mending.masks import Mask

_FLOOR = 0.3  # hh by which a mask may end above the floor
_NEAREST, _FARTHEST = -0.6, 1.0  # depths at which something stands
_FITTED = (0.75, 1.3)  # how far a thing is fitted to its mask
_ON_CRATE = (0.6, 1.35)


@cache
def natural(name: str) -> tuple[float, float]:
    """Width and height of a thing, hh."""
    wide, high = measured(Description(), Thing(name, (0.0, 0.0), 100.0))
    return wide / 100, high / 100


def ground(scene: Scene, foot: float) -> tuple[float, float, float]:
    """Of somebody with the feet at `foot`: px of a head height by the ground's perspective, how much of it that is, depth."""
    spot, layout, horizon = scene.camera.spots[0], scene.description.layout, scene.camera.horizon
    away = (foot - horizon) / max(float(spot.origin[1]) - horizon, 1.0)
    own = spot.scale / (1 if layout.pinned else layout.zoom)
    return own * max(away, 0.01), away, float(np.clip((1 / max(away, 0.3) - 1) / 0.45, _NEAREST, _FARTHEST))


def standing(scene: Scene, name: str, mask: Mask, told: list[str], colour: Rgb | None = None) -> Scene:
    """A thing with its foot at the mask's, in the ground's perspective; on a crate where no ground is in the frame there."""
    if len(scene.things) >= MOST_THINGS:
        told.append(f"no more than {MOST_THINGS} things stand in one picture: take one away first")
        return scene
    ys, xs = np.nonzero(mask)
    x, foot, tall, broad = float(xs.mean()), float(ys.max()), float(np.ptp(ys)), float(np.ptp(xs))
    wide, high = natural(name)
    facing = 1 if x < scene.camera.spots[0].origin[0] else -1
    scale, away, depth = ground(scene, foot)
    perch = not (scene.camera.shows_ground and away > 0.35 and foot >= scene.floor - _FLOOR * scale)
    if perch:
        own, depth = scale / max(away, 0.01), 0.0
        foot -= min(0.16 * tall, 0.2 * own) if foot < scene.size[1] * 0.995 else 0  # room for the top of the crate inside the mask
        k, scale = float(np.clip(min(0.84 * tall / high, 0.94 * broad / wide) / own, *_ON_CRATE)), own
    else:
        k = float(np.clip(min(tall / high, 0.94 * broad / wide) / scale, *_FITTED))
    told.append(f"{name} on {'a crate' if perch else 'the ground'}, ×{k:.2f}")
    return replace(scene, things=(*scene.things, Thing(name, (x, foot), scale * k, facing, perch, depth, colour)))


def with_somebody(scene: Scene, mask: Mask, made: Person) -> Scene:
    """The scene with one more person, standing where the mask is and as large as the ground says.

    Raises ArtistError where the scene has MOST_FIGURES already.
    """
    if len(scene.postures) >= MOST_FIGURES:
        raise ArtistError(f"There are {MOST_FIGURES} people in this picture already: take one away first.")
    ys, xs = np.nonzero(mask)
    (w, h), view = scene.size, scene.camera
    size, _, depth = ground(scene, float(ys.max()))
    facing = 1 if xs.mean() < view.spots[0].origin[0] else -1
    layout = replace(made.layout, framing=view.framing, facing=facing, ground=scene.description.layout.ground, depth=max(depth, 0.0))
    held = posture_of(replace(made, layout=layout))
    if view.shows_ground:  # feet at the mask's foot
        size *= float(np.clip(np.ptp(ys) / (size * (0.55 - held.joints[:, 1].min())), 0.9, 1.1))
        neck = np.array([xs.mean(), ys.max() + (held.joint("neck")[1] - 0.04) * size])
    else:
        box = (xs.min() / w, ys.min() / h, (xs.max() + 1) / w, (ys.max() + 1) / h)
        pinned = standing_in(box, layout, made, scene.size).pinned
        assert pinned is not None
        neck, size = np.array([pinned[0] * w, pinned[1] * h]), pinned[2] * h
    person = replace(
        Person(**{name: getattr(made, name) for name in Person.__dataclass_fields__}),
        layout=replace(layout, pinned=(float(neck[0] / w), float(neck[1] / h), size / h)),
    )
    spot = Spot(size, neck - held.joint("neck") * (facing, 1) * size)
    return replace(
        scene,
        description=replace(scene.description, others=(*scene.description.others, person)),
        camera=replace(view, spots=(*view.spots, spot)),
        postures=(*scene.postures, held),
    )
