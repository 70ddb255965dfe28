"""Match: how well a picture obeys one cue, 0…100, measured in its pixels and readings; None where that cannot be told.

0 is what unrelated pictures reach, 100 is the same. The scales are ours.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.continuity.drift import drift
from mosskeeper.core.diffusion.structure import coarse_tone, edge_f_score
from mosskeeper.core.illustrator.skeleton import AT
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.contours import edges
from mosskeeper.core.reading.palette import palette_distance
from mosskeeper.core.reading.reading import Reading

F32 = NDArray[np.float32]
_FAR_PALETTE = 45.0  # ΔE76 between palettes of unrelated pictures
_FAR_CLOTH = 40.0  # ΔE76 between unrelated clothes
_JOINT_FAR = 0.25  # of the figure's height: a joint that far away counts nothing
_LEAST_JOINTS = 4
_SIDE = 256  # px at which structure is compared
_OUTFIT = ("outfit", "pattern", "headwear", "prop", "scarf", "bag", "belt")
_PLACE = ("place", "time", "weather", "light")
_MEANING = {
    "look": "palette, person, clothes and place together",
    "face": "distance of the faces: 100 the same, 50 the limit between one person and another",
    "outfit": "same clothes, in the same colours",
    "place": "same place, time of day, weather and light",
    "palette": "how far colours travel from one palette to the other",
    "pose": "mean distance of the joints, in figure heights, after laying neck on neck",
    "edges": "contours found in both: harmonic mean of precision and recall",
    "tone": "structural similarity of light and dark",
    "depth": "rank correlation of near and far",
    "sketch": "structural similarity of coarse colours",
}


@dataclass(frozen=True, slots=True)
class Match:
    score: float | None  # 0…100; None: cannot be measured
    meaning: str


def match(
    role: str,
    source: NDArray[np.uint8],
    source_reading: Reading,
    picture: NDArray[np.uint8],
    reading: Reading,
    skeleton: NDArray[np.float64] | None = None,
    depth: F32 | None = None,
) -> Match:
    """How well `picture` (H, W, 3) obeys a cue of a role whose source is another picture.

    skeleton : (18, 2) as shares of width and height, of a pose cue without picture. depth : of a depth cue's map.

    Raises KeyError where there is no such role.
    """
    meaning = _MEANING[role]
    match role:
        case "look" | "face" | "outfit" | "place" | "palette":
            value = alike(role, source_reading, reading)
        case "pose":
            value = _pose(skeleton if skeleton is not None else source_reading.joints, reading.joints, picture.shape)
        case "edges":
            value = edge_f_score(edges(_fitted(picture)), edges(_fitted(source, _fitted(picture).shape)))
        case "tone":
            a = _fitted(picture)
            value = max(0.0, ssim(coarse_tone(a), coarse_tone(_fitted(source, a.shape))))
        case "depth":
            value = _depth(depth if depth is not None else source_reading.depth, reading.depth)
        case _:
            value = _sketch(source, picture)
    return Match(None if value is None else round(100 * float(np.clip(value, 0, 1)), 1), meaning)


def alike(role: str, a: Reading, b: Reading) -> float | None:
    """0…1: how far two pictures agree in what a reference of this role lends; None where that cannot be told.

    Raises KeyError where `role` is not one of a reference.
    """
    if role == "look":
        known = [p for p in (alike(part, a, b) for part in ("palette", "face", "outfit", "place")) if p is not None]
        return sum(known) / len(known)
    return {"face": _face, "outfit": _outfit, "place": _place, "palette": _palette}[role](a, b)


def _palette(a: Reading, b: Reading) -> float | None:
    return float(np.clip(1 - palette_distance(a.palette, b.palette) / _FAR_PALETTE, 0, 1))


def _face(a: Reading, b: Reading) -> float | None:
    found = drift(b.main, [a.main])
    return None if found is None else 0.5**found.distance


def agreement(a: Mapping[str, float], b: Mapping[str, float]) -> float:
    """0…1: how far two beliefs about one attribute overlap (Bhattacharyya coefficient)."""
    total = np.sqrt(sum(a.values()) * sum(b.values()))
    return float(sum(np.sqrt(p * b.get(value, 0.0)) for value, p in a.items()) / total) if total else 0.0


def _agreements(a: Mapping[str, Mapping[str, float]], b: Mapping[str, Mapping[str, float]], names: tuple[str, ...]) -> list[float]:
    return [agreement(a[name], b[name]) for name in names if name in a and name in b]


def _outfit(one: Reading, two: Reading) -> float | None:
    a, b = one.main, two.main
    if a is None or b is None:
        return None
    named = _agreements(a.attributes, b.attributes, _OUTFIT)
    if not named:
        return None
    cloth = []
    for name in ("colour", "trim"):
        if name in a.colours and name in b.colours:
            lab = rgb_to_lab(np.asarray([a.colours[name], b.colours[name]], np.float32))
            cloth.append(max(0.0, 1 - float(np.linalg.norm(lab[0] - lab[1])) / _FAR_CLOTH))
    first = agreement(a.attributes.get("outfit", {}), b.attributes.get("outfit", {}))
    rest = sum(named) / len(named)
    return 0.4 * first + 0.2 * rest + 0.4 * (sum(cloth) / len(cloth)) if cloth else 0.65 * first + 0.35 * rest


def _place(a: Reading, b: Reading) -> float | None:
    found = _agreements(a.attributes, b.attributes, _PLACE)
    return sum(found) / len(found) if found else None


def _pose(wanted: NDArray[np.float64] | None, got: NDArray[np.float64] | None, shape: tuple[int, ...]) -> float | None:
    if wanted is None or got is None:
        return None
    size = np.array([shape[1], shape[0]])
    a, b = (_about_neck(np.asarray(joints, float) * size) for joints in (wanted, got))
    both = np.isfinite(a).all(1) & np.isfinite(b).all(1)
    if both.sum() < _LEAST_JOINTS:
        return None
    a, b = a[both], b[both]
    scale = float((a * b).sum() / max((b * b).sum(), 1e-9))  # the size of a figure is not its pose
    tall = max(float(np.ptp(a[:, 1])), float(np.ptp(a[:, 0])), 1e-6)
    away = np.hypot(*(a - b * scale).T) / tall
    return float(np.clip(1 - away / _JOINT_FAR, 0, 1).mean())


def _about_neck(joints: NDArray[np.float64]) -> NDArray[np.float64]:
    neck = joints[AT["neck"]]
    return np.asarray(joints - (neck if np.isfinite(neck).all() else np.nanmean(joints, axis=0)))


def _depth(wanted: F32 | None, got: F32 | None) -> float | None:
    if wanted is None or got is None:
        return None
    h, w = got.shape
    return max(0.0, rank_correlation(np.asarray(cv2.resize(wanted, (w, h), interpolation=cv2.INTER_AREA), np.float32), got))


def _sketch(source: NDArray[np.uint8], picture: NDArray[np.uint8]) -> float | None:
    """Compared where something was painted; `source` may have alpha."""
    small = _fitted(picture)
    h, w = small.shape[:2]
    board = cv2.resize(source, (w, h), interpolation=cv2.INTER_AREA)
    painted = board[:, :, 3] > 127 if board.shape[2] == 4 else np.ones((h, w), bool)
    if painted.sum() < 16:
        return None
    share = cv2.GaussianBlur(painted.astype(np.float32), (0, 0), _SIDE / 28)[..., None] + 1e-6

    def low(x: NDArray[np.uint8]) -> F32:
        """Lab without detail, of what lies under the paint alone."""
        lab = rgb_to_lab(x[:, :, :3].astype(np.float32) / 255) * painted[..., None]
        return np.asarray(cv2.GaussianBlur(lab, (0, 0), _SIDE / 28) / share, np.float32)

    a, b = low(np.asarray(board, np.uint8)), low(small)
    return 1 - float(np.linalg.norm(a - b, axis=2)[painted].mean()) / _FAR_PALETTE


def _fitted(picture: NDArray[np.uint8], shape: tuple[int, ...] | None = None) -> NDArray[np.uint8]:
    if shape is not None:
        return np.asarray(cv2.resize(picture[:, :, :3], (shape[1], shape[0]), interpolation=cv2.INTER_AREA), np.uint8)
    k = _SIDE / max(picture.shape[:2])
    size = (max(round(picture.shape[1] * k), 1), max(round(picture.shape[0] * k), 1))
    return np.asarray(cv2.resize(picture[:, :, :3], size, interpolation=cv2.INTER_AREA), np.uint8)


def ssim(a: F32, b: F32) -> float:
    """Mean structural similarity of two maps (H, W) in 0…1.

    References: Wang, Bovik, Sheikh, Simoncelli, "Image quality assessment", 2004.
    """

    def low(x: F32) -> F32:
        return np.asarray(cv2.GaussianBlur(x, (0, 0), 1.5), np.float32)

    ma, mb = low(a), low(b)
    va, vb, cov = low(a * a) - ma * ma, low(b * b) - mb * mb, low(a * b) - ma * mb
    c1, c2 = 0.01**2, 0.03**2
    return float((((2 * ma * mb + c1) * (2 * cov + c2)) / ((ma * ma + mb * mb + c1) * (va + vb + c2))).mean())


def rank_correlation(a: F32, b: F32) -> float:
    """Spearman's rank correlation of two maps of one size; 0 where one of them is flat."""
    x, y = (_ranks(m.ravel()) for m in (a, b))
    spread = float(x.std() * y.std())
    return float(((x - x.mean()) * (y - y.mean())).mean() / spread) if spread > 1e-9 else 0.0


def _ranks(values: NDArray[np.floating]) -> NDArray[np.float64]:
    """Mean ranks, equal values sharing theirs."""
    _, inverse, counts = np.unique(values, return_inverse=True, return_counts=True)
    ends = np.cumsum(counts)
    return np.asarray((ends - (counts - 1) / 2)[inverse], np.float64)
