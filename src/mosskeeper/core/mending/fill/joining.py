"""Joining two pictures: each goes on over the gap, and they are laid over each other along the way of least difference."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.draw import Wider
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.mending.fill.extension import extended, extended_take
from mosskeeper.core.mending.masks import F32, Mask, eased
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab
from mosskeeper.core.pictures.resample import fitted, linear, nearest

U8 = NDArray[np.uint8]
_STRAIGHT = 0.3  # what the way costs at the gap's border, over the mean difference
_STRAYS = 2  # px by which the way may go aside in each row
_FREE = 0.6  # of a picture, the most that another may go on into
_HELD = 0.12  # of the gap, over which each picture's own border stays


@dataclass(frozen=True, slots=True, eq=False)
class Piece:
    """A picture (H, W, 3) to be joined.

    explained : its scenes, where it is a take. figures : (H, W), what is nowhere copied. stays : (H, W), what of it must be
    seen; beyond it, towards the other picture, the other may go on. None: all of it.
    """

    picture: U8
    explained: LayeredScenes | None = None
    figures: Mask | None = None
    stays: Mask | None = None

    def grown(self, wider: Wider) -> U8:
        if self.explained is not None and self.explained.holds and self.explained.size == self.picture.shape[1::-1]:
            return extended_take(self.picture, self.explained, wider)
        return extended(self.picture, wider, self.figures)

    def at_side(self, side: int, below: bool) -> Piece:
        """The piece with the side in px that it shares; its scenes are those of the size it had."""
        h, w = self.picture.shape[:2]
        if side == (w if below else h):
            return self
        k = side / (w if below else h)
        size = max(1, round(w * k)), max(1, round(h * k))
        masks = [None if one is None else nearest(one.astype(np.uint8), size) > 0 for one in (self.figures, self.stays)]
        return Piece(fitted(np.ascontiguousarray(self.picture), size), None, masks[0], masks[1])

    def free(self, below: bool, last: bool) -> int:
        """px at its end (at its beginning, where it is the last) that need not stay."""
        if self.stays is None or not self.stays.any():
            return 0
        along = np.flatnonzero(self.stays.any(1 if below else 0))
        side = self.picture.shape[0 if below else 1]
        return min(int(along[0]) if last else side - 1 - int(along[-1]), int(_FREE * side))


def join(first: Piece, second: Piece, gap: int, below: bool = False) -> Piece:
    """Two pictures side by side, or the second below the first, with `gap` px between them in which both go on.

    The second is scaled to the side that it shares with the first. Where not all of a picture stays, the other goes on into it.

    Raises ValueError where too little of a picture's place is seen to go on from.
    """
    second = second.at_side(first.picture.shape[1 if below else 0], below)
    over = first.free(below, False), second.free(below, True)
    after, before = gap + over[1], gap + over[0]
    wide = ((0, 0, 0, after), (0, before, 0, 0)) if below else ((0, 0, after, 0), (before, 0, 0, 0))
    made = joined(first.grown(wide[0]), second.grown(wide[1]), gap + sum(over), below)
    return Piece(made, None, *(_beside(one, other, gap, below) for one, other in _masks(first, second)))


def _masks(first: Piece, second: Piece) -> list[tuple[Mask, Mask]]:
    """Of two pieces: their figures, what of them stays."""

    def of(piece: Piece, mask: Mask | None, usual: bool) -> Mask:
        return np.full(piece.picture.shape[:2], usual) if mask is None else mask

    return [
        (of(first, first.figures, False), of(second, second.figures, False)),
        (of(first, first.stays, True), of(second, second.stays, True)),
    ]


def _beside(first: Mask, second: Mask, gap: int, below: bool) -> Mask:
    shape = (gap, first.shape[1]) if below else (first.shape[0], gap)
    return np.concatenate([first, np.zeros(shape, bool), second], 0 if below else 1)


def toned(picture: U8, like: U8, amount: float) -> U8:
    """A picture (H, W, 3) with the light and palette of another, 0 as it is … 1 wholly: means and deviations in Lab
    (Reinhard et al., 2001).
    """
    if amount <= 0:
        return picture
    lab, other = (rgb_to_lab(one.astype(np.float32) / 255) for one in (picture, like))
    means, spreads = [one.reshape(-1, 3).mean(0) for one in (lab, other)], [one.reshape(-1, 3).std(0) for one in (lab, other)]
    matched = (lab - means[0]) * np.clip(spreads[1] / np.maximum(spreads[0], 1.0), 0.4, 2.5) + means[1]
    mixed = lab_to_rgb(np.asarray(lab + (matched - lab) * min(amount, 1.0), np.float32))
    return np.asarray(np.clip(mixed * 255 + 0.5, 0, 255), np.uint8)


def joined(first: U8, second: U8, gap: int, below: bool = False) -> U8:
    """Two canvases (H, W, 3) that both go on over the gap, side by side or the second below the first.

    The last `gap` columns of the first and the first `gap` of the second are the gap; what lies beside it stays bit for bit.
    The seam is the way of least difference (Efros, Freeman, 2001), the blend goes band by band (Burt, Adelson, 1983).

    Raises ValueError where their heights differ (their widths, where one lies below the other).
    """
    if below:
        return np.ascontiguousarray(joined(first.swapaxes(0, 1), second.swapaxes(0, 1), gap).swapaxes(0, 1))
    if first.shape[0] != second.shape[0]:
        raise ValueError("two pictures that are joined must share a side")
    a = first.shape[1]
    x, y = (np.ascontiguousarray(one, np.float32) for one in (first[:, a - gap :], second[:, :gap]))
    seam = _seam(np.abs(cv2.GaussianBlur(x, (0, 0), 2) - cv2.GaussianBlur(y, (0, 0), 2)).sum(2))
    mask = (np.arange(gap)[None] < seam[:, None]).astype(np.float32)
    ramp = np.repeat(eased(1.1 - 1.2 * np.arange(gap) / max(gap - 1, 1))[None], x.shape[0], 0)
    blended = _bands(x, y, mask, ramp, max(1, int(np.log2(min(gap, x.shape[0]))) - 2))
    edge = np.clip(np.minimum(np.arange(gap) + 1, gap - np.arange(gap)) / (_HELD * gap), 0, 1)[None, :, None]
    made = blended * edge + np.where((np.arange(gap) < gap / 2)[None, :, None], x, y) * (1 - edge)
    return np.concatenate([first[:, : a - gap], np.clip(made + 0.5, 0, 255).astype(np.uint8), second[:, gap:]], 1)


def _seam(difference: F32) -> NDArray[np.int64]:
    """(H,): in each row of (H, gap) the column of the way from top to bottom that costs least."""
    h, gap = difference.shape
    total = difference / max(float(difference.mean()), 1e-6) + _STRAIGHT * np.abs(np.arange(gap) / gap - 0.5)[None]
    for r in range(1, h):
        before = np.pad(total[r - 1], _STRAYS, constant_values=1e9)
        total[r] += np.min([before[k : k + gap] for k in range(2 * _STRAYS + 1)], axis=0)
    seam = [int(total[-1].argmin())]
    for r in range(h - 2, -1, -1):
        low = max(seam[-1] - _STRAYS, 0)
        seam.append(low + int(total[r, low : min(seam[-1] + _STRAYS + 1, gap)].argmin()))
    return np.array(seam[::-1])


def _bands(x: F32, y: F32, mask: F32, ramp: F32, depth: int) -> F32:
    """Two pictures blended band by band, each over its own width; the coarsest along `ramp`."""
    if depth == 0:
        return np.asarray(x * ramp[..., None] + y * (1 - ramp[..., None]), np.float32)
    size = ((x.shape[1] + 1) // 2, (x.shape[0] + 1) // 2)
    small = [fitted(np.asarray(cv2.GaussianBlur(one, (0, 0), 1.2), np.float32), size) for one in (x, y, mask, ramp)]
    back = [
        linear(one, (x.shape[1], x.shape[0])) for one in (small[0], small[1], _bands(small[0], small[1], small[2], small[3], depth - 1))
    ]
    share = cv2.GaussianBlur(mask, (0, 0), 1.2)[..., None]
    return np.asarray((x - back[0]) * share + (y - back[1]) * (1 - share) + back[2], np.float32)
