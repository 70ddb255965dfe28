"""Photographs and realistic pictures, by the optional extra `photo`: faces, five points of each, and 128 numbers of identity.

The packages ship their models; nothing is fetched. Their files are loaded by path, since the package of models does not
import everywhere. References: dlib's frontal face detector (Dalal, Triggs, "Histograms of oriented gradients", 2005) and
face descriptor (King, "High quality face recognition with deep metric learning", 2017).
"""

from __future__ import annotations

import importlib.util
from functools import cache, lru_cache
from pathlib import Path
from threading import Lock
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.face import LANDMARKS
from mosskeeper.core.pictures.resample import gentle, scaled
from mosskeeper.core.reading.palette import read_palette
from mosskeeper.core.reading.reading import FigureRead, Reading

VERSION = "photo-1"
LIMIT = 0.6  # Euclidean distance between descriptors at which dlib's authors part same from other persons
_POINTS = ("left eye outer", "left eye inner", "right eye outer", "right eye inner", "nose tip")  # in dlib's order
_LARGEST, _SMALLEST = 1000, 240  # px of the longer side at which faces are looked for
_FULL_SCORE = 1.5  # of the detector, taken as sure
_HEAD_OF_FACE = 1.25  # height of a head over that of the detector's square
_MOST = 6
_ONE_AT_A_TIME = Lock()  # dlib's models keep their layers in themselves: two threads in them at once ruin the heap


@cache
def installed() -> bool:
    """Whether the extra is there."""
    return importlib.util.find_spec("dlib") is not None and _models() is not None


def _models() -> Path | None:
    spec = importlib.util.find_spec("face_recognition_models")
    places = list(spec.submodule_search_locations or ()) if spec is not None else []
    return Path(places[0]) / "models" if places else None


@lru_cache(1)
def _loaded() -> tuple[Any, Any, Any]:
    import dlib

    models = _models()
    assert models is not None, "the extra `photo` is not installed"
    points = dlib.shape_predictor(str(models / "shape_predictor_5_face_landmarks.dat"))
    describe = dlib.face_recognition_model_v1(str(models / "dlib_face_recognition_resnet_model_v1.dat"))
    return dlib.get_frontal_face_detector(), points, describe


def read_photo(picture: NDArray[np.uint8]) -> Reading:
    """Reads the faces of a picture (H, W, 3) sRGB; without faces it is only measured. Threads wait for each other.

    Raises AssertionError where the extra is not installed.
    """
    rgb = np.ascontiguousarray(picture[:, :, :3])
    longer = max(rgb.shape[:2])
    k = min(1.0, _LARGEST / longer) if longer > _SMALLEST else _SMALLEST / longer
    small = gentle(rgb, scaled(rgb.shape, k))
    if min(small.shape[:2]) < 40:
        return Reading(read_palette(rgb))
    with _ONE_AT_A_TIME:
        detect, points, describe = _loaded()
        squares, scores, _ = detect.run(small, 1, 0.0)
        found = sorted(zip(squares, scores, strict=True), key=lambda one: -one[0].area())[:_MOST]
        figures = tuple(_figure(small, square, score, points, describe) for square, score in found)
    if not figures:
        return Reading(read_palette(rgb), reader="photo", version=VERSION)
    return Reading(read_palette(rgb), colours=figures[0].colours, figures=figures, reader="photo", version=VERSION)


def _figure(rgb_u8: NDArray[np.uint8], square: Any, score: float, points: Any, describe: Any) -> FigureRead:
    h, w = rgb_u8.shape[:2]
    shape = points(rgb_u8, square)
    landmarks, confidence = np.full((len(LANDMARKS), 2), np.nan), np.zeros(len(LANDMARKS), np.float32)
    sure = float(np.clip(score / _FULL_SCORE, 0.1, 1))
    for k, name in enumerate(_POINTS):
        landmarks[LANDMARKS.index(name)] = shape.part(k).x / w, shape.part(k).y / h
        confidence[LANDMARKS.index(name)] = sure
    centre, height = square.center(), square.height() * _HEAD_OF_FACE
    x0, y0, x1, y1 = (max(v, 0) for v in (square.left(), square.top(), square.right(), square.bottom()))
    mask = np.zeros((h, w), bool)
    mask[y0:y1, x0:x1] = True
    inner = rgb_u8[y0 + (y1 - y0) // 3 : y1 - (y1 - y0) // 4, x0 + (x1 - x0) // 4 : x1 - (x1 - x0) // 4].reshape(-1, 3)
    r, g, b = np.median(inner, axis=0) / 255 if len(inner) else (0.0, 0.0, 0.0)
    return FigureRead(
        sure,
        (x0 / w, y0 / h, x1 / w, y1 / h),
        (centre.x / w, (centre.y - 0.1 * height) / h, height / h),
        np.full((18, 2), np.nan),
        np.zeros(18, np.float32),
        mask,
        {},
        {"skin": (float(r), float(g), float(b))} if len(inner) else {},
        landmarks,
        confidence,
        identity=np.asarray(describe.compute_face_descriptor(rgb_u8, shape), np.float32),
        face_sure=sure,
    )
