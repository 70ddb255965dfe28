"""A mask carried over to another picture: by what it is of, not by where its pixels are."""

from __future__ import annotations

import cv2
import numpy as np

from mosskeeper.core.mending.choose.choices import Choices, NamedPart
from mosskeeper.core.mending.choose.mask_edits import grown
from mosskeeper.core.mending.masks import Mask, depth_in

_OF_IT = 0.6  # of a part that a mask covers, from which it is meant
_NARROW = 0.45  # of a mask that the meant parts must fill, or it is carried by its shape


class Nowhere(ValueError):
    """What the mask is of is not seen in the other picture."""


def meant(mask: Mask, choices: Choices) -> list[NamedPart]:
    """The choices that a mask covers, the widest that say it."""
    sizes = np.bincount(choices.atoms.ravel(), minlength=256)
    inside = np.bincount(choices.atoms[mask], minlength=256)
    covered = {n for n in range(1, 256) if sizes[n] and inside[n] >= _OF_IT * sizes[n]}
    out, told = list[NamedPart](), set[int]()
    for choice in reversed(choices.choices):
        if choice.atoms and set(choice.atoms) <= covered and not set(choice.atoms) <= told:
            out.append(choice)
            told |= set(choice.atoms)
    return out


def carried_mask(mask: Mask, source: Choices, target: Choices) -> Mask:
    """The mask (H, W) as it would be drawn on another picture.

    Parts that it covers are covered there, with as much about them; else its shape goes along with the head, hand or trunk
    that it is nearest to, in the size that this has there.

    Raises Nowhere where the figure or the part that it is of is not seen there.
    """
    parts = meant(mask, source)
    known = {choice.key for choice in target.choices}
    if parts:
        own = source.mask(*(p.key for p in parts))
        if (own & mask).sum() >= _NARROW * mask.sum():
            missing = [p for p in parts if p.key not in known]
            there = [p.key for p in parts if p.key in known]
            if not there:
                raise Nowhere(f"{missing[0].name}: not seen in this picture")
            about = mask & ~own
            k = _scale(source, target, parts[0].figure)
            far = float(np.percentile(depth_in(~own)[about], 60)) * k if about.any() else 0.0
            return grown(target.mask(*there), far) if far >= 1 else target.mask(*there)
    return _moved(mask, source, target)


def _scale(source: Choices, target: Choices, n: int | None) -> float:
    if n is None or n >= min(len(source.frames), len(target.frames)):
        return float(target.atoms.shape[1] / source.atoms.shape[1])
    both = source.frames[n].at.keys() & target.frames[n].at.keys()
    return next((target.frames[n].at[name][2] / source.frames[n].at[name][2] for name in sorted(both)), 1.0)


def _moved(mask: Mask, source: Choices, target: Choices) -> Mask:
    """The mask's shape with the nearest part of a figure; where no figure is, stretched with the picture."""
    h, w = target.atoms.shape
    ys, xs = np.nonzero(mask)
    if not len(xs):
        return np.zeros((h, w), bool)
    x, y = float(xs.mean()), float(ys.mean())
    near = [
        (float(np.hypot(x - at[0], y - at[1])) / at[2], n, name)
        for n, frame in enumerate(source.frames[: len(target.frames)])
        for name, at in frame.at.items()
        if name in target.frames[n].at
    ]
    if not near:
        if source.frames and not target.frames:
            raise Nowhere("nobody is seen in this picture")
        return np.asarray(cv2.resize(mask.astype(np.uint8), (w, h), interpolation=cv2.INTER_NEAREST) > 0)
    _, n, name = min(near)
    (x0, y0, s0), (x1, y1, s1) = source.frames[n].at[name], target.frames[n].at[name]
    k = s1 / s0
    moved = np.array([[k, 0, x1 - k * x0], [0, k, y1 - k * y0]])
    out = np.asarray(cv2.warpAffine(mask.astype(np.uint8), moved, (w, h), flags=cv2.INTER_NEAREST) > 0)
    if not out.any():
        raise Nowhere(f"the mask lies beside the picture there, as far from the {name} as it is here")
    return out
