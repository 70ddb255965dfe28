"""For which role a picture seems to be meant: measured where it is drawn with lines or flat shapes, else from its reading."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.skeleton import JOINTS
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.pictures.resample import fitted, scaled
from mosskeeper.core.reading.reading import SURE, FigureRead, Reading

_SIDE = 256  # px of the longer side at which it is measured
_GROUND = 8.0  # ΔE within which a pixel is of the plain ground
_GREY = 2.0  # mean of a* and b* up to which a picture is of greys
_FLAT = 4.0  # ΔE within which a pixel is of a flat colour
_NEAR = np.ones((5, 5), np.uint8)  # px around one that are of its shape
_MOST_OF_IT = 0.65  # of the picture: as much is calm in one of flat shapes
_MOST_FLAT = 12  # flat colours of a board
_HEAD = 0.36  # of the picture's height: from there on a head is what the picture is about
_BODY = 3  # joints below the neck with which a head is not alone
_BELOW_THE_NECK = [n for n, name in enumerate(JOINTS) if name.split()[-1] in ("elbow", "wrist", "hip", "knee", "ankle")]
_ONE_INK = 0.9  # length of the mean direction from the ground to the strokes of one pen; 1 where all are the same
_BONES = 3.4  # length of all strokes in diagonals of the drawing: bones have less, outlines more
_STRAIGHT = 0.05  # breadth of a drawing for its length: below, it is a single stroke, which is nobody


@dataclass(frozen=True, slots=True)
class Proposal:
    """A role, and the reason for it as the start of a sentence: “a head alone”."""

    role: str
    reason: str


def propose(picture: NDArray[np.uint8], reading: Reading) -> Proposal:
    """The role for which a picture (H, W, 3) sRGB seems to be meant."""
    small = fitted(picture[:, :, :3], scaled(picture.shape, min(1.0, _SIDE / max(picture.shape[:2]))))
    lab = rgb_to_lab(small.astype(np.float32) / 255)
    main = reading.main
    faced = main is not None and main.sure >= SURE and main.face_sure >= SURE
    drawn = _lines(lab)
    if drawn is not None:
        if drawn >= _BONES:
            return Proposal("edges", "a drawing of lines")
        return Proposal("pose", "a figure of sticks") if _of_one_ink(lab) else Proposal("sketch", "loose strokes of colour")
    nobody = main is None or main.sure < SURE
    if not faced and np.abs(lab[..., 1:]).mean() < _GREY:
        return Proposal("depth", "greys without a face")
    if not faced and _flat(lab):
        return Proposal("sketch", "flat shapes of colour")
    if main is None or nobody:
        return Proposal("place", "a place with nobody in it")
    if _head_alone(main):
        return Proposal("face", "a head alone")
    return Proposal("look", "a figure with its clothes")


def _of_one_ink(lab: NDArray[np.float32]) -> bool:
    """Whether strokes on a plain ground have one colour: sticks do, loose strokes of paint do not.

    The soft edges of a stroke lie between ground and ink, so directions from the ground are compared, not colours.
    """
    ink = (lab - _commonest(lab)).reshape(-1, 3)
    far = np.linalg.norm(ink, axis=1)
    towards = ink[far > _GROUND * 2] / far[far > _GROUND * 2, None]
    common = towards.mean(0)
    return bool(np.linalg.norm(common) > _ONE_INK)


def _lines(lab: NDArray[np.float32]) -> float | None:
    """The length of all strokes, in diagonals of what is drawn, where a picture is of several thin strokes on a plain ground; else None."""
    ground = _commonest(lab)
    ink = (np.linalg.norm(lab - ground, axis=2) > _GROUND * 2).astype(np.uint8)
    plain = np.linalg.norm(lab - ground, axis=2) < _GROUND
    covered = float(ink.mean())
    if plain.mean() < 0.7 or not 0.002 < covered < 0.3:
        return None
    depth = cv2.distanceTransform(ink, cv2.DIST_L2, 3)
    if depth.max() > 0.05 * max(ink.shape):  # something is filled
        return None
    ys, xs = np.nonzero(ink)
    least, most = np.linalg.svd(np.stack([xs - xs.mean(), ys - ys.mean()]), compute_uv=False)[::-1] if len(xs) > 1 else (0.0, 0.0)
    if least <= _STRAIGHT * most:
        return None
    diagonal = float(np.hypot(np.ptp(xs) + 1, np.ptp(ys) + 1))
    width = max(1.0, 4 * float(depth[ink > 0].mean()) - 1)  # of a stroke: the mean depth in it is a quarter of that
    return float(ink.sum()) / width / diagonal


def _flat(lab: NDArray[np.float32]) -> bool:
    """Whether it is of a few colours in large shapes: prints and studies have few colours, too, but everywhere an edge."""
    calm = np.ones(lab.shape[:2], bool)
    for channel in np.moveaxis(lab, 2, 0):
        calm &= cv2.dilate(channel, _NEAR) - cv2.erode(channel, _NEAR) < _FLAT
    if calm.mean() < _MOST_OF_IT:
        return False
    left = calm
    for _ in range(_MOST_FLAT):
        left = left & (np.linalg.norm(lab - _commonest(lab[left]), axis=2) >= _FLAT)
        if not left.any():
            break
    return bool(left.mean() < 1 - _MOST_OF_IT)


def _commonest(lab: NDArray[np.float32]) -> NDArray[np.float32]:
    """The colour of the fullest cell of a coarse grid."""
    flat = lab.reshape(-1, 3)
    cells = np.floor(flat / 6).astype(np.int64)
    keys = cells @ np.array([1_000_000, 1_000, 1]) + 500_500
    values, counts = np.unique(keys, return_counts=True)
    return np.asarray(np.median(flat[keys == values[counts.argmax()]], axis=0), np.float32)


def _head_alone(figure: FigureRead) -> bool:
    if figure.head is None:
        return False
    below = int((figure.joint_confidence[_BELOW_THE_NECK] >= SURE).sum())
    return figure.head[2] >= _HEAD or below < _BODY
