"""Figures drawn in ways that the reader was not trained on, with their joints: where it fails, it must know."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.skeleton import AT, JOINTS, joints
from mosskeeper.core.illustrator.vocabulary.people import SUBJECTS
from mosskeeper.core.illustrator.vocabulary.poses import POSES

Image = NDArray[np.uint8]
_SIZE = (512, 640)
_LIMBS = (
    ("right shoulder", "right elbow", "right wrist"),
    ("left shoulder", "left elbow", "left wrist"),
    ("right hip", "right knee", "right ankle"),
    ("left hip", "left knee", "left ankle"),
)


@dataclass(frozen=True)
class Foreign:
    name: str
    image: Image
    joints: NDArray[np.float64]  # (18, 2) px


def _skeleton(pose: str) -> NDArray[np.float64]:
    w, h = _SIZE
    j = joints(SUBJECTS["woman"], POSES[pose])
    k = h * 0.82 / (0.8 - j[:, 1].min())
    j = j * k
    return np.asarray(j - (j[:, 0].mean(), 0) + (w / 2, h * 0.94))


def _at(j: NDArray[np.float64], name: str) -> tuple[int, int]:
    x, y = j[AT[name]]
    return round(float(x)), round(float(y))


def _head(j: NDArray[np.float64]) -> tuple[tuple[int, int], int]:
    ears = (j[AT["right ear"]] + j[AT["left ear"]]) / 2
    return (round(float(ears[0])), round(float(ears[1]))), round(float(np.hypot(*(j[AT["neck"]] - ears))) * 0.68)


def _blank(rgb: tuple[int, int, int]) -> Image:
    return np.full((_SIZE[1], _SIZE[0], 3), rgb, np.uint8)


def _body(image: Image, j: NDArray[np.float64], widths: tuple[int, int], limb: tuple[int, int, int], trunk: tuple[int, int, int]) -> None:
    for names in _LIMBS:
        points = np.array([_at(j, name) for name in names], np.int32)
        cv2.polylines(image, [points], False, limb, widths[0] if "hip" not in names[0] else widths[1], cv2.LINE_AA)
    outline = [_at(j, n) for n in ("right shoulder", "left shoulder", "left hip", "right hip")]
    cv2.fillPoly(image, [np.array(outline, np.int32)], trunk, cv2.LINE_AA)
    cv2.polylines(image, [np.array(outline, np.int32)], True, trunk, widths[0], cv2.LINE_AA)


def _face(image: Image, j: NDArray[np.float64], ink: tuple[int, int, int]) -> None:
    centre, r = _head(j)
    for side in (-1, 1):
        cv2.circle(image, (centre[0] + side * r // 3, centre[1] + r // 8), max(r // 9, 2), ink, -1, cv2.LINE_AA)
    cv2.ellipse(image, (centre[0], centre[1] + r // 2), (r // 3, r // 7), 0, 0, 180, ink, 3, cv2.LINE_AA)


def flat_figure() -> Foreign:
    j, image = _skeleton("waving"), _blank((206, 226, 236))
    cv2.rectangle(image, (0, 560), (512, 640), (150, 190, 140), -1)
    _body(image, j, (40, 48), (232, 180, 150), (60, 110, 160))
    centre, r = _head(j)
    cv2.circle(image, (centre[0], centre[1] - r // 5), round(r * 1.12), (70, 45, 35), -1, cv2.LINE_AA)
    cv2.circle(image, centre, r, (232, 180, 150), -1, cv2.LINE_AA)
    _face(image, j, (40, 30, 30))
    return Foreign("flat figure", image, j)


def line_figure() -> Foreign:
    j, image = _skeleton("hands on hips"), _blank((250, 248, 242))
    _body(image, j, (38, 46), (30, 30, 40), (30, 30, 40))
    _body(image, j, (32, 40), (250, 248, 242), (250, 248, 242))
    centre, r = _head(j)
    cv2.circle(image, centre, r, (250, 248, 242), -1)
    cv2.circle(image, centre, r, (30, 30, 40), 3, cv2.LINE_AA)
    _face(image, j, (30, 30, 40))
    return Foreign("line figure", image, j)


def silhouette() -> Foreign:
    j, image = _skeleton("arms wide"), _blank((246, 214, 160))
    _body(image, j, (44, 54), (34, 30, 44), (34, 30, 44))
    centre, r = _head(j)
    cv2.circle(image, centre, r, (34, 30, 44), -1, cv2.LINE_AA)
    return Foreign("silhouette", image, j)


def stick_figure() -> Foreign:
    j, image = _skeleton("walking"), _blank((255, 255, 255))
    ink = (20, 20, 20)
    for names in _LIMBS:
        cv2.polylines(image, [np.array([_at(j, n) for n in names], np.int32)], False, ink, 5, cv2.LINE_AA)
    cv2.line(image, _at(j, "right shoulder"), _at(j, "left shoulder"), ink, 5, cv2.LINE_AA)
    hips = (np.array(_at(j, "right hip")) + _at(j, "left hip")) // 2
    cv2.line(image, _at(j, "neck"), (int(hips[0]), int(hips[1])), ink, 5, cv2.LINE_AA)
    centre, r = _head(j)
    cv2.circle(image, centre, r, ink, 5, cv2.LINE_AA)
    return Foreign("stick figure", image, j)


def wooden_figure() -> Foreign:
    """Spheres and capsules with painted light, like a jointed wooden doll."""
    j, image = _skeleton("standing"), _blank((120, 128, 138))
    for names in _LIMBS:
        for a, b in itertools.pairwise(names):
            for t in np.linspace(0, 1, 24):
                x, y = (np.array(_at(j, a)) * (1 - t) + np.array(_at(j, b)) * t).astype(int)
                r = round(24 - 10 * abs(t - 0.4))
                cv2.circle(image, (int(x), int(y)), r, (176, 132, 84), -1, cv2.LINE_AA)
                cv2.circle(image, (int(x) - r // 3, int(y) - r // 3), r // 3, (214, 176, 126), -1, cv2.LINE_AA)
    _body(image, j, (1, 1), (176, 132, 84), (176, 132, 84))
    centre, r = _head(j)
    cv2.ellipse(image, centre, (round(r * 0.8), r), 0, 0, 360, (190, 146, 98), -1, cv2.LINE_AA)
    return Foreign("wooden doll", image, j)


def blocks() -> Foreign:
    """Squares in loud colours."""
    j, image = _skeleton("reaching"), _blank((20, 24, 60))
    rng = np.random.default_rng(4)
    for names in _LIMBS:
        for a, b in itertools.pairwise(names):
            for t in np.linspace(0.1, 0.9, 4):
                x, y = (np.array(_at(j, a)) * (1 - t) + np.array(_at(j, b)) * t).astype(int)
                cv2.rectangle(image, (int(x) - 14, int(y) - 14), (int(x) + 14, int(y) + 14), [int(v) for v in rng.integers(80, 255, 3)], -1)
    top, low = np.array(_at(j, "right shoulder")), np.array(_at(j, "left hip"))
    cv2.rectangle(image, (int(top[0]), int(top[1])), (int(low[0]), int(low[1])), (250, 200, 60), -1)
    centre, r = _head(j)
    cv2.rectangle(image, (centre[0] - r, centre[1] - r), (centre[0] + r, centre[1] + r), (240, 120, 140), -1)
    return Foreign("blocks", image, j)


FOREIGN: tuple[Callable[[], Foreign], ...] = (flat_figure, line_figure, silhouette, stick_figure, wooden_figure, blocks)
SHOWN = [k for k, name in enumerate(JOINTS) if name.split()[-1] not in ("nose", "eye", "ear")]  # joints that such figures have
