"""A hundred pictures as artists bring them in, each with the roles for which it is meant."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from bench.subject.renderers import flat, line, soft
from mosskeeper.commands.subject_people import people, portrait
from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.places import PLACES
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.illustrator.skeleton import AT, joints
from mosskeeper.core.illustrator.vocabulary.people import SUBJECTS
from mosskeeper.core.illustrator.vocabulary.poses import POSES

U8 = NDArray[np.uint8]
_SIZE = (384, 480)
_STICKS = (
    ("nose", "neck"),
    ("right shoulder", "left shoulder"),
    ("right shoulder", "right elbow", "right wrist"),
    ("left shoulder", "left elbow", "left wrist"),
    ("neck", "right hip", "right knee", "right ankle"),
    ("neck", "left hip", "left knee", "left ankle"),
)


@dataclass(frozen=True, slots=True, eq=False)
class Brought:
    kind: str
    picture: U8
    roles: tuple[str, ...]  # that an artist would mean


def brought(seed: int = 4711) -> Iterator[Brought]:
    """The pictures, kind by kind."""
    rng = np.random.default_rng(seed)
    own = people(48, seed)
    for n in range(20):
        drawn = _drawn(portrait(own[n], n))
        yield Brought("portrait", (flat, soft)[n % 2](drawn), ("look", "face"))
    for n in range(20):
        drawn = _drawn(replace(portrait(own[20 + n], n), layout=Layout(list(POSES)[n % len(POSES)], "full", ground=n % 6)))
        yield Brought("figure", (flat, soft, lambda d: d.image)[n % 3](drawn), ("look", "pose"))
    for n in range(15):
        framing = ("bust", "full", "half")[n % 3]
        drawn = _drawn(replace(portrait(own[n + 3], n), layout=Layout("facing", framing, ground=n % 6)))
        yield Brought("line drawing", _uncoloured(line(drawn)), ("edges",))
    for n in range(15):
        yield Brought("sticks", _sticks(list(POSES)[(3 * n) % len(POSES)], rng), ("pose",))
    for _ in range(10):
        yield Brought("scribble", _scribble(rng), ("sketch",))
    for n in range(10):
        place = list(PLACES)[n % len(PLACES)]
        scene = scene_of(Description(place=place, time=("noon", "dusk", "morning")[n % 3]), _SIZE)
        yield Brought("place", draw_scene(replace(scene, absent=frozenset({0}))).image, ("place",))
    for n in range(10):
        drawn = _drawn(Description(place=list(PLACES)[n % len(PLACES)], layout=Layout("facing", "full")))
        grey = np.round((1 - drawn.depth) * 255).astype(np.uint8)
        yield Brought("depth map", np.repeat(cv2.GaussianBlur(grey, (0, 0), 1.5)[..., None], 3, 2), ("depth",))


def _drawn(description: Description) -> Drawing:
    return draw_scene(scene_of(description, _SIZE), with_albedo=True)


def _uncoloured(picture: U8) -> U8:
    """Lines alone: what is light becomes paper."""
    light = picture.min(2).astype(np.float32)
    local = light / np.maximum(cv2.GaussianBlur(light, (0, 0), 6), 1)
    return np.repeat(np.clip(255 * np.minimum(1.0, (local - 0.3) / 0.5), 0, 255).astype(np.uint8)[..., None], 3, 2)


def _sticks(pose: str, rng: np.random.Generator) -> U8:
    j = joints(SUBJECTS["woman"], POSES[pose])
    w, h = _SIZE
    j = j * (h * 0.78 / max(float(np.ptp(j[:, 1])), 1.0))
    j = j - (j[:, 0].mean(), j[:, 1].max()) + (w / 2, h * 0.94)
    out = np.full((h, w, 3), rng.integers(235, 256), np.uint8)
    ink, width = tuple(int(v) for v in rng.integers(0, 110, 3)), int(rng.integers(2, 7))
    for names in _STICKS:
        cv2.polylines(out, [np.array([j[AT[name]] for name in names], np.int32)], False, ink, width, cv2.LINE_AA)
    nose = j[AT["nose"]]
    cv2.circle(out, (round(float(nose[0])), round(float(nose[1]))), round(h * 0.05), ink, width, cv2.LINE_AA)
    return out


def _scribble(rng: np.random.Generator) -> U8:
    """Loose strokes of a few colours that rough out masses: nobody in particular."""
    w, h = _SIZE
    out = np.full((h, w, 3), 250, np.uint8)
    for _ in range(int(rng.integers(4, 8))):
        colour = tuple(int(v) for v in rng.integers(20, 235, 3))
        centre, spread = rng.uniform((0.2, 0.2), (0.8, 0.8)) * (w, h), rng.uniform(0.06, 0.22) * w
        points = centre + np.cumsum(rng.normal(0, 0.35, (60, 2)), 0) * spread * 0.6
        cv2.polylines(out, [np.clip(points, 4, (w - 4, h - 4)).astype(np.int32)], False, colour, int(rng.integers(4, 14)), cv2.LINE_AA)
    return out
