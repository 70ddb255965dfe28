"""A head moved, scaled and tilted until its drawn landmarks lie on those that were read; the body stays where it was read."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np

from mosskeeper.core.illustrator.camera import Spot
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.face import LANDMARKS
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.illustrator.vocabulary.people import body_of
from mosskeeper.core.inversion.guess import up, with_head
from mosskeeper.core.reading.reading import FigureRead

_SIDE = 200  # px of the longer side at which landmarks are drawn
_SURE = 0.35  # confidence from which a landmark counts
_LEAST = 5
_ROUNDS = 2
_SIZES, _MOST_TILT = (0.75, 1.33), 0.25


def aligned(scene: Scene, n: int, figure: FigureRead) -> Scene:
    """The scene with figure `n`'s head on the landmarks of its reading."""
    if figure.landmarks is None or figure.landmark_confidence is None:
        return scene
    sure = zip(LANDMARKS, figure.landmarks * scene.size, figure.landmark_confidence, strict=True)
    at = {name: p for name, p, confidence in sure if confidence > _SURE}
    k = min(1.0, _SIDE / max(scene.size))
    for _ in range(_ROUNDS):
        shown = {name: p / k for name, p in draw_scene(scene.resized(k)).shown[n].landmarks.items() if name in at}
        if len(shown) < _LEAST:
            return scene
        drawn, read = np.array(list(shown.values()), np.float32), np.array([at[name] for name in shown], np.float32)
        move, _ = cv2.estimateAffinePartial2D(drawn, read, method=cv2.LMEDS)
        if move is None:
            return scene
        factor = float(np.clip(np.hypot(move[0, 0], move[1, 0]), *_SIZES))
        angle = float(np.clip(np.arctan2(move[1, 0], move[0, 0]), -_MOST_TILT, _MOST_TILT))
        scene = _moved(scene, n, drawn.mean(0), read.mean(0), factor, angle)
    return scene


def _moved(scene: Scene, n: int, drawn: np.ndarray, read: np.ndarray, factor: float, angle: float) -> Scene:
    person, held, spot = scene.description.figures[n], scene.postures[n], scene.camera.spots[n]
    body, neck, mirror = body_of(person.subject, person.build, person.figure), held.joint("neck"), (person.layout.facing, 1)
    tilt, scale = held.head.tilt + angle * person.layout.facing, spot.scale * factor
    head_now = (neck + up(held.head.tilt) * body.neck) * mirror * spot.scale + spot.origin
    turned = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]]) * factor
    origin = read + turned @ (head_now - drawn) - (neck + up(tilt) * body.neck) * mirror * scale
    joints = neck + (held.joints - neck) / factor
    joints[2:14] += (spot.origin + neck * mirror * spot.scale - origin - neck * mirror * scale) * mirror / scale
    head = replace(held.head, tilt=tilt)
    held = replace(held, joints=with_head(joints, neck, body, head), head=head)
    spots = list(scene.camera.spots)
    spots[n] = Spot(scale, origin)
    return replace(scene.with_person(n, person, held), camera=replace(scene.camera, spots=tuple(spots)))
