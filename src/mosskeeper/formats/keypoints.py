"""Skeletons as COCO key points (JSON), in and out.

COCO's 17 points with visibility v: 0 not there, 1 hidden, 2 seen. The neck, which COCO has not, is the middle of the
shoulders. References: Lin et al., "Microsoft COCO: common objects in context", 2014, and its data format.
"""

from __future__ import annotations

import json
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.errors import BadPicture
from mosskeeper.core.illustrator.skeleton import JOINTS

F64 = NDArray[np.float64]
NAMES = (
    "nose",
    "left eye",
    "right eye",
    "left ear",
    "right ear",
    "left shoulder",
    "right shoulder",
    "left elbow",
    "right elbow",
    "left wrist",
    "right wrist",
    "left hip",
    "right hip",
    "left knee",
    "right knee",
    "left ankle",
    "right ankle",
)
_MOST = 100  # figures in one file


def read_keypoints(data: bytes) -> list[F64]:
    """The skeletons of a file: of each (18, 2) joints in px in the order of JOINTS, NaN where a point is not there.

    A COCO file with "annotations", a list of annotations, or one annotation with "keypoints".

    Raises
    ------
    BadPicture
        where it is no JSON, holds no key points, or their number is not 17 · 3; the sentence says which.
    """
    try:
        document = json.loads(data)
    except (ValueError, RecursionError):
        raise BadPicture("This file is not readable as JSON. Export the key points again, in COCO's format.", "pose") from None
    found = document.get("annotations", [document]) if isinstance(document, dict) else document
    if not isinstance(found, list):
        raise BadPicture("This file holds no list of annotations. Export the key points in COCO's format.", "pose")
    skeletons = [_skeleton(one["keypoints"]) for one in found[:_MOST] if isinstance(one, dict) and "keypoints" in one]
    if not skeletons:
        raise BadPicture("This file holds no “keypoints”. Export the key points in COCO's format.", "pose")
    return skeletons


def write_keypoints(skeletons: list[F64], size: tuple[int, int]) -> bytes:
    """A COCO file of skeletons, (18, 2) joints in px each, of one picture of `size` = (width, height)."""
    annotations = []
    for n, joints in enumerate(skeletons, 1):
        points: list[float] = []
        for name in NAMES:
            x, y = joints[JOINTS.index(name)]
            points += [round(float(x), 2), round(float(y), 2), 2] if np.isfinite([x, y]).all() else [0, 0, 0]
        known = np.asarray(joints)[np.isfinite(joints).all(1)]
        box = [*known.min(0), *np.ptp(known, axis=0)] if len(known) else [0, 0, 0, 0]
        annotations.append(
            {
                "id": n,
                "image_id": 1,
                "category_id": 1,
                "iscrowd": 0,
                "num_keypoints": sum(v > 0 for v in points[2::3]),
                "keypoints": points,
                "bbox": [round(float(v), 2) for v in box],
                "area": round(float(box[2] * box[3]), 2),
            }
        )
    document: dict[str, Any] = {
        "images": [{"id": 1, "width": size[0], "height": size[1]}],
        "annotations": annotations,
        "categories": [{"id": 1, "name": "person", "keypoints": [name.replace(" ", "_") for name in NAMES]}],
    }
    return json.dumps(document, indent=1).encode()


def _skeleton(points: object) -> F64:
    try:
        array = np.asarray(points, float)
    except (TypeError, ValueError):
        raise BadPicture("The key points must be numbers: x, y and visibility of each of 17 points.", "pose") from None
    if array.shape != (len(NAMES) * 3,):
        raise BadPicture(f"A figure must have {len(NAMES)} key points of three numbers each; this one has {array.size} numbers.", "pose")
    array = array.reshape(-1, 3)
    joints = np.full((len(JOINTS), 2), np.nan)
    for name, (x, y, seen) in zip(NAMES, array, strict=True):
        if seen > 0 and np.isfinite([x, y]).all():
            joints[JOINTS.index(name)] = x, y
    shoulders = joints[[JOINTS.index("left shoulder"), JOINTS.index("right shoulder")]]
    joints[JOINTS.index("neck")] = shoulders.mean(0)
    return joints
