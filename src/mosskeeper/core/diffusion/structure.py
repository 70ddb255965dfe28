"""Structure: control maps, how far a drawing agrees with them, and what they add to an estimate.

Each control has an agreement between 0 and 1, its energy with the sign turned, by which layouts and exemplars are
chosen; tone, sketch and edges also act on the estimate itself, in proportion to their weight. The energies are ours.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.references import EARLY, amount_of
from mosskeeper.core.illustrator.description import SKIN_PARTS, Part
from mosskeeper.core.illustrator.draw import Drawing
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.contours import edges
from mosskeeper.core.reading.palette import read_palette
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Cue

F32 = NDArray[np.float32]
_HEADWEAR = (Part.HAIR, Part.FACIAL_HAIR, Part.HEADWEAR)
ROLES = ("edges", "tone", "depth", "sketch")
# What a sketch tells apart of a figure; places by their own parts.
_GROUP = np.array([int(p) if p < Part.HAIR else 7 if p in _HEADWEAR else 8 if p in SKIN_PARTS else 9 for p in Part], np.intp)
_LUMA = np.array([0.299, 0.587, 0.114], np.float32)
_COARSE = 28.0  # a tone or sketch target is followed down to this fraction of the picture's longer side
_LINE = 0.34  # how dark a full edge cue draws its lines


@dataclass(frozen=True)
class Control:
    """A cue that says where things are.

    amount : 0…1.5, its weight times the share of the denoising in which it acts.
    picture : (H, W, 3 or 4) uint8; alpha limits a sketch to where something was painted.
    area : (H, W) 0…1, where it acts.
    depth : (H, W) 0 near … 1 far, of a depth cue.
    """

    role: str
    amount: float
    picture: NDArray[np.uint8]
    area: F32 | None = None
    depth: F32 | None = None
    _asked: dict[tuple[int, int], NDArray[Any]] = field(default_factory=dict, compare=False, repr=False)

    def agreement(self, drawing: Drawing) -> float:
        """0…1: how far a drawing, at its own size, has the structure that is asked."""
        h, w = drawing.labels.shape
        mask = self._mask((w, h))
        if mask.sum() < 1:
            return 0.0
        if (w, h) not in self._asked:  # many drawings of one size are compared
            self._asked[w, h] = self._measured((w, h))
        asked = self._asked[w, h]
        match self.role:
            case "edges":
                return edge_f_score(edges(drawing.image), asked, mask > 0.5)
            case "tone":
                return max(0.0, _correlation(coarse_tone(drawing.image), asked, mask))
            case "depth":
                return max(0.0, _correlation(drawing.depth, asked, mask))
            case _:
                return shared_information(_GROUP[drawing.labels], asked, mask)

    def _measured(self, size: tuple[int, int]) -> NDArray[Any]:
        """What drawings of a size (width, height) are compared with."""
        match self.role:
            case "edges":
                return edges(_fitted(self.picture, size))
            case "tone":
                return coarse_tone(_fitted(self.picture, size))
            case "depth":
                assert self.depth is not None
                return np.asarray(cv2.resize(self.depth, size, interpolation=cv2.INTER_AREA), np.float32)
            case _:
                return _flat_colours(_fitted(self.picture, size))

    def added_to(self, estimate: F32, share: float = 1.0) -> F32:
        """The estimate (H, W, 3) in −1…1 with what the control adds to it; `share` of its amount."""
        h, w = estimate.shape[:2]
        amount = min(self.amount, 1.0) * share
        mask = (self._mask((w, h)) * np.float32(amount))[..., None]
        target = _fitted(self.picture, (w, h)).astype(np.float32) / np.float32(127.5) - 1
        match self.role:
            case "tone":
                missing = _low((target - estimate) @ _LUMA, w, h)
                return np.asarray(np.clip(estimate + missing[..., None] * mask, -1, 1), np.float32)
            case "sketch":
                soft = cv2.GaussianBlur(mask[..., 0], (0, 0), max(w, h) / 160)[..., None]
                near = np.clip(estimate + (_low(target, w, h) - _low(estimate, w, h)) * soft, -1, 1)
                return _lined(near, edges(_fitted(self.picture, (w, h))), mask * np.float32(0.5))
            case "edges":
                return _lined(estimate, edges(_fitted(self.picture, (w, h))), mask)
            case _:
                return estimate

    def _mask(self, size: tuple[int, int]) -> F32:
        w, h = size
        mask = np.ones((h, w), np.float32)
        if self.area is not None:
            mask = np.asarray(cv2.resize(self.area, size, interpolation=cv2.INTER_AREA), np.float32)
        if self.picture.shape[2] == 4:
            mask = mask * cv2.resize(self.picture[:, :, 3], size, interpolation=cv2.INTER_AREA).astype(np.float32) / np.float32(255)
        return np.asarray(mask, np.float32)


def controls(cues: list[Cue], pictures: Mapping[str, NDArray[np.uint8]], readings: Mapping[str, Reading], steps: int) -> list[Control]:
    """The structure cues that act, in an order that does not depend on that of the cues.

    A depth cue whose picture has no reading is taken for a depth map: bright is near.
    """
    out = []
    for cue in sorted(cues, key=lambda c: (c.role, c.picture or "", c.start, c.end, c.weight)):
        if not cue.acts or cue.role not in ROLES or cue.picture is None:
            continue
        picture = pictures[cue.picture]
        area = None if cue.area is None else grey(pictures[cue.area])
        depth = None
        if cue.role == "depth":
            reading = readings.get(cue.picture)
            depth = reading.depth if reading is not None and reading.depth is not None else 1 - grey(picture)
        out.append(Control(cue.role, amount_of(cue, steps, EARLY), picture, area, depth))
    return [c for c in out if c.amount > 0]


def grey(picture: NDArray[np.uint8]) -> F32:
    """(H, W) 0…1: the luminance of a picture, as a mask."""
    return np.asarray(picture[:, :, :3].astype(np.float32) @ _LUMA / np.float32(255), np.float32)


def edge_f_score(found: NDArray[np.bool_], wanted: NDArray[np.bool_], where: NDArray[np.bool_] | None = None) -> float:
    """Harmonic mean of precision and recall of contours, within a tolerance of about 1 % of the longer side.

    References: Martin, Fowlkes, Malik, "Learning to detect natural image boundaries", 2004 (without its matching).
    """
    if where is not None:
        found, wanted = found & where, wanted & where
    if not found.any() or not wanted.any():
        return 0.0
    size = 2 * max(1, round(max(found.shape) / 100)) + 1
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    near_wanted, near_found = (cv2.dilate(e.astype(np.uint8), kernel) > 0 for e in (wanted, found))
    precision, recall = (found & near_wanted).sum() / found.sum(), (wanted & near_found).sum() / wanted.sum()
    return float(2 * precision * recall / max(precision + recall, 1e-9))


def coarse_tone(rgb_u8: NDArray[np.uint8]) -> F32:
    """(H, W) luminance without detail."""
    h, w = rgb_u8.shape[:2]
    return _low(grey(rgb_u8), w, h)


def shared_information(a: NDArray[np.integer], b: NDArray[np.integer], mask: F32) -> float:
    """0…1: how much two partitions (H, W) of a picture say of each other, their mutual information over their mean entropy.

    References: Strehl, Ghosh, "Cluster ensembles", 2002 (normalised mutual information).
    """
    joint = np.zeros((int(a.max()) + 1, int(b.max()) + 1))
    np.add.at(joint, (a.ravel(), b.ravel()), mask.ravel())
    joint /= joint.sum()
    of_a, of_b = joint.sum(1), joint.sum(0)
    entropies = [-float((p[p > 0] * np.log(p[p > 0])).sum()) for p in (of_a, of_b, joint.ravel())]
    if min(entropies[:2]) < 1e-9:
        return 0.0
    return float(2 * (entropies[0] + entropies[1] - entropies[2]) / (entropies[0] + entropies[1]))


def _flat_colours(rgb_u8: NDArray[np.uint8]) -> NDArray[np.intp]:
    """(H, W): for each pixel the nearest of the picture's main colours; what a flat sketch consists of."""
    lab = rgb_to_lab(rgb_u8.astype(np.float32) / np.float32(255))
    centres = read_palette(rgb_u8).lab
    return np.asarray(np.square(lab[:, :, None] - centres).sum(-1).argmin(-1))


def _low(x: NDArray[np.floating], w: int, h: int) -> F32:
    return np.asarray(cv2.GaussianBlur(np.ascontiguousarray(x, np.float32), (0, 0), max(w, h) / _COARSE / 2), np.float32)


def _lined(estimate: F32, lines: NDArray[np.bool_], mask: F32) -> F32:
    h, w = lines.shape
    soft = cv2.GaussianBlur(lines.astype(np.float32), (0, 0), max(0.6, max(w, h) / 900))
    soft = np.clip(soft / max(float(soft.max()), 1e-6), 0, 1)[..., None] * mask * np.float32(_LINE)
    return np.asarray((estimate + 1) * (1 - soft) - 1, np.float32)


def _correlation(a: F32, b: F32, mask: F32) -> float:
    total = mask.sum()
    da, db = a - (a * mask).sum() / total, b - (b * mask).sum() / total
    scale = np.sqrt((mask * da * da).sum() * (mask * db * db).sum())
    return float((mask * da * db).sum() / scale) if scale > 1e-9 else 0.0


def _fitted(picture: NDArray[np.uint8], size: tuple[int, int]) -> NDArray[np.uint8]:
    small = picture.shape[1] > size[0]
    return np.asarray(cv2.resize(picture[:, :, :3], size, interpolation=cv2.INTER_AREA if small else cv2.INTER_CUBIC), np.uint8)
