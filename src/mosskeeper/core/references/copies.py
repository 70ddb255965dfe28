"""Copy detection: a picture that was saved again as JPEG, scaled or cropped is found among stored ones.

Local features (ORB) of the two are matched, a similarity (scale, shift, small turn) is fitted by RANSAC, and the stored
picture, laid over the other by it, must have its pixels. Features alone would take two takes of one place for each other.

References: Rublee, Rabaud, Konolige, Bradski, "ORB: an efficient alternative to SIFT or SURF", 2011; Lowe, "Distinctive
image features from scale-invariant keypoints", 2004, for the ratio test.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.resample import fitted, scaled
from mosskeeper.core.reading.contents import Contents, Subject

U8 = NDArray[np.uint8]
F64 = NDArray[np.float64]
_SIDE = 512  # px of the longer side at which features are found
_FEATURES = 400
_RATIO = 0.8  # of the distance of the second best match, under which a match counts
_LEAST_MATCHES = 14
_TRIED = 6  # candidates of which the pixels are compared
_SCALES = (0.08, 12.0)
_COMPARED = 512  # px of the longer side at which pixels are compared
_SOFT = 1.6  # px by which both are blurred first: JPEG and scaling change single pixels
_WORST = 0.998  # quantile of the differences that decides: what tells two takes apart may be as small as a pair of eyes
_SAME = 12.0  # levels up to which that is the same picture
_LEAST_INSIDE = 0.95  # of the picture, that the stored one must cover


@dataclass(frozen=True, slots=True, eq=False)
class Features:
    """Local features of a picture. points : (N, 2) as shares of the width, both axes. codes : (N, 32) uint8, ORB descriptors."""

    points: NDArray[np.float32]
    codes: U8

    def pack(self) -> bytes:
        """Bytes that `unpack` gives back."""
        return len(self.codes).to_bytes(4, "big") + self.points.astype("<f4").tobytes() + self.codes.tobytes()

    @staticmethod
    def unpack(data: bytes) -> Features:
        """Raises ValueError where the bytes are none."""
        n = int.from_bytes(data[:4], "big")
        if len(data) != 4 + n * 40:
            raise ValueError("these are no features")
        return Features(
            np.frombuffer(data, "<f4", 2 * n, 4).reshape(n, 2).astype(np.float32),
            np.frombuffer(data, np.uint8, 32 * n, 4 + 8 * n).reshape(n, 32),
        )


@dataclass(frozen=True, slots=True, eq=False)
class Copy:
    """A stored picture that another is a copy of. name : of the stored one. placed : (2, 3), from px of it to px of the copy."""

    name: str
    placed: F64
    difference: float  # levels, of the pixels that differ most


def features_of(picture: U8) -> Features:
    """The local features of a picture (H, W, 3) sRGB."""
    grey = cv2.cvtColor(np.ascontiguousarray(picture[:, :, :3]), cv2.COLOR_RGB2GRAY)
    small = fitted(grey, scaled(grey.shape, min(1.0, _SIDE / max(grey.shape))))
    finder = cv2.ORB.create(_FEATURES, scaleFactor=1.2, nlevels=10, edgeThreshold=12, patchSize=31, fastThreshold=8)
    found, codes = finder.detectAndCompute(small, None)  # type: ignore[call-overload]
    if codes is None:
        return Features(np.zeros((0, 2), np.float32), np.zeros((0, 32), np.uint8))
    return Features(np.array([k.pt for k in found], np.float32) / small.shape[1], np.asarray(codes, np.uint8))


def find_copy(picture: U8, own: Features, known: Iterable[tuple[str, Features]], load: Callable[[str], U8]) -> Copy | None:
    """The stored picture that a picture (H, W, 3) was made from by saving, scaling or cropping; None where none is.

    Parameters
    ----------
    own : features of the picture. known : names and features of stored ones.
    load : gives the pixels (H, W, 3) of a stored one.
    """
    if len(own.codes) < _LEAST_MATCHES:
        return None
    matcher = cv2.BFMatcher(cv2.NORM_HAMMING)
    tried: list[tuple[int, str, NDArray[np.float32], NDArray[np.float32]]] = []
    for name, theirs in known:
        pairs = matcher.knnMatch(own.codes, theirs.codes, k=2) if len(theirs.codes) >= 2 else ()
        good = [pair[0] for pair in pairs if len(pair) == 2 and pair[0].distance < _RATIO * pair[1].distance]
        if len(good) >= _LEAST_MATCHES:
            tried.append((len(good), name, own.points[[m.queryIdx for m in good]], theirs.points[[m.trainIdx for m in good]]))
    tried.sort(key=lambda one: (-one[0], one[1]))
    found = [copy for _, name, here, there in tried[:_TRIED] if (copy := _verified(picture, name, here, there, load)) is not None]
    return min(found, key=lambda copy: (copy.difference, copy.name), default=None)


def _verified(picture: U8, name: str, here: NDArray[np.float32], there: NDArray[np.float32], load: Callable[[str], U8]) -> Copy | None:
    stored = load(name)
    h, w = picture.shape[:2]
    placed, inliers = cv2.estimateAffinePartial2D(
        there * stored.shape[1], here * w, method=cv2.RANSAC, ransacReprojThreshold=max(w, h) / 150
    )
    if placed is None or inliers.sum() < _LEAST_MATCHES * 0.7 or not _SCALES[0] < np.hypot(*placed[:, 0]) < _SCALES[1]:
        return None
    size = scaled(picture.shape, min(1.0, _COMPARED / max(h, w)))
    mine = fitted(np.ascontiguousarray(picture[:, :, :3]), size)
    to_small = np.asarray(placed, np.float64) * (size[0] / w)
    shrunk = float(np.hypot(*to_small[:, 0]))  # reduced first: a picture that is warped to a tenth would alias
    reduced = fitted(stored, scaled(stored.shape, shrunk)) if shrunk < 0.9 else stored
    to_small[:, :2] *= stored.shape[1] / reduced.shape[1]
    refined = _refined(reduced, mine, to_small)
    inside = cv2.warpAffine(np.full(reduced.shape[:2], 255, np.uint8), refined, size) > 250
    if inside.mean() < _LEAST_INSIDE:
        return None
    laid = cv2.warpAffine(np.ascontiguousarray(reduced), refined, size, flags=cv2.INTER_CUBIC)
    far = np.abs(_softly(laid) - _softly(mine)).max(2)[inside]
    worst = float(np.quantile(far, _WORST))
    return Copy(name, np.asarray(placed, np.float64), worst) if worst <= _SAME else None


def _refined(stored: U8, mine: U8, start: F64) -> F64:
    """The transform from `stored` to `mine` with the largest correlation of their tones, near `start`.

    References: Evangelidis, Psarakis, "Parametric image alignment using enhanced correlation coefficient maximization", 2008.
    """
    grey = [cv2.cvtColor(np.ascontiguousarray(p), cv2.COLOR_RGB2GRAY) for p in (mine, stored)]
    inverse = cv2.invertAffineTransform(start).astype(np.float32)
    stop = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 30, 1e-5)
    try:
        _, found = cv2.findTransformECC(grey[0], grey[1], inverse, cv2.MOTION_AFFINE, stop, None, 3)  # type: ignore[call-overload]
    except cv2.error:  # it did not converge
        return start
    return np.asarray(cv2.invertAffineTransform(found), np.float64)


def _softly(rgb_u8: NDArray[Any]) -> NDArray[np.float32]:
    return np.asarray(cv2.GaussianBlur(rgb_u8.astype(np.float32), (0, 0), _SOFT), np.float32)


def contents_of_copy(contents: Contents, copy: Copy, stored: tuple[int, int], own: tuple[int, int]) -> Contents:
    """The contents of a copy: those of the stored picture, without figures whose heads were cropped off.

    stored, own : (width, height) of the stored picture and of the copy, px.
    """
    (w, h), (width, height) = stored, own
    scale = float(np.hypot(*copy.placed[:, 0]))
    subjects = list[Subject]()
    for one in contents.subjects:
        if one.head is not None:
            x, y = copy.placed @ (one.head[0] * w, one.head[1] * h, 1.0)
            if 0 <= x <= width and 0 <= y <= height:
                subjects.append(replace(one, head=(float(x / width), float(y / height), float(one.head[2] * h * scale / height))))
    return replace(contents, subjects=tuple(subjects), origin="found", copy_of=copy.name)
