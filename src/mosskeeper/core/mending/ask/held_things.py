"""What figures of a scene hold: put into the hand that a mask reaches, or taken away."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from mosskeeper.core.illustrator import props
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.illustrator.vocabulary.poses import POSES
from mosskeeper.core.mending.ask.extent import extent
from mosskeeper.core.mending.ask.newcomers import natural
from mosskeeper.core.mending.masks import Mask

_REACH = 0.16  # head heights from the mask within which a hand is meant
_LARGE, _LARGEST = 1.5, 4.0  # head heights of a mask's side, from which no hand is meant: what is long needs more room
_OF_LENGTH = 0.9
_PALM = 0.14  # hh beyond the wrist
_SIZES = (0.8, 1.6)  # how far a prop is fitted to its mask


def hand_in(scene: Scene, mask: Mask, name: str) -> tuple[int, str] | None:
    """Figure and side (of the unmirrored figure) of the hand in which a thing is meant to be; None: it stands by itself.

    The hand nearest to the middle of the mask, where the mask reaches it and leaves no more room than the thing needs.
    """
    ys, xs = np.nonzero(mask)
    large = min(max(_LARGE, _OF_LENGTH * natural(name)[1]), _LARGEST)
    best: tuple[float, int, str] | None = None
    for n, (spot, p) in enumerate(zip(scene.camera.spots, scene.postures, strict=True)):
        if np.sqrt(float(np.ptp(xs)) * float(np.ptp(ys))) > large * spot.scale:
            continue  # so much room is for something that stands there
        for side in ("left", "right"):
            elbow, wrist = p.joint(f"{side} elbow"), p.joint(f"{side} wrist")
            grip = wrist + (wrist - elbow) / max(float(np.hypot(*(wrist - elbow))), 1e-6) * _PALM
            x, y = grip * (spot.scale * scene.description.figures[n].layout.facing, spot.scale) + spot.origin
            away = np.hypot(max(xs.min() - x, x - xs.max(), 0), max(ys.min() - y, y - ys.max(), 0))
            middle = float(np.hypot(xs.mean() - x, ys.mean() - y))
            if n not in scene.absent and away < _REACH * spot.scale and (best is None or middle < best[0]):
                best = (middle, n, side)
    return None if best is None else best[1:]


def holding(scene: Scene, n: int, side: str, name: str, mask: Mask) -> Scene:
    """The scene with a thing in one hand of a figure, as large as the mask wants it; the arm stays where it is."""
    person, held = scene.description.figures[n], scene.postures[n]
    has = props.hand_of(person) if props.PROPS[person.prop] else None
    if has in (None, side, "both"):
        hand = side if person.layout.facing > 0 else props.OTHER[side]
        person = replace(person, prop=name, prop_size=1.0, layout=replace(person.layout, hand=hand))
    else:
        person = replace(person, second_prop=name)
    grips = ("grip", held.hands[1]) if side == "right" else (held.hands[0], "grip")
    scene = scene.with_person(n, person, replace(held, hands=grips))
    box, (my, mx) = extent(scene, n, Part.PROP), np.nonzero(mask)
    if box is None or person.prop != name:
        return scene
    room = np.ptp(mx) * np.ptp(my) * 0.8
    k = float(np.clip(np.sqrt(room / max((box[1] - box[0]) * (box[3] - box[2]), 1)), *_SIZES))
    return scene.with_person(n, replace(person, prop_size=k))


def emptied(scene: Scene, n: int, names: set[str]) -> Scene:
    """Hands without what they hold; the arms stay as they are, the hands open as the pose has them."""
    person, held = scene.description.figures[n], scene.postures[n]
    usual, first = POSES[person.layout.pose].hands, props.hand_of(person)
    if person.prop in names:
        right, left = (
            open_ if first in (side, "both") else now for open_, now, side in zip(usual, held.hands, ("right", "left"), strict=True)
        )
        held = replace(held, hands=(right, left))
        person = replace(person, prop=person.second_prop, second_prop="nothing", prop_size=1.0, layout=replace(person.layout, hand="free"))
    elif person.second_prop in names:
        person = replace(person, second_prop="nothing")
    return scene.with_person(n, person, held)
