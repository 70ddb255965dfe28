"""Where regions lie over each other: how much, and what is done about it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.regions.words import Wanted

F32 = NDArray[np.float32]
_OPEN = 0.5


@dataclass(frozen=True, slots=True)
class Overlap:
    """Two regions, by number, and the share of the smaller one that lies in both, 0…1."""

    first: int
    second: int
    share: float


def overlap(a: F32, b: F32) -> float:
    """Share of the smaller of two masks (H, W) 0…1 that lies in both, 0…1."""
    smaller = min(a.sum(), b.sum())
    return float(np.minimum(a, b).sum() / smaller) if smaller > 0 else 0.0


def overlaps(masks: Sequence[F32], wants: Sequence[frozenset[Wanted]]) -> list[Overlap]:
    """Pairs of regions that lie over each other and ask for something of one kind: a person may stand in a place."""
    found = []
    for j in range(len(masks)):
        for i in range(j):
            if wants[i] & wants[j] or not (wants[i] and wants[j]):
                share = overlap(masks[i], masks[j])
                if share > 0.002:
                    found.append(Overlap(i, j, share))
    return found


def kept_apart(masks: Sequence[F32]) -> list[F32]:
    """Borders moved: what lies in several goes to the one whose own part is nearest. A mask that lies wholly in another keeps its place."""
    hard = np.stack([mask > _OPEN for mask in masks])
    alone = hard & (hard.sum(0) == 1)
    far = [
        cv2.distanceTransform((~own).astype(np.uint8), cv2.DIST_L2, 5) if own.any() else np.zeros(own.shape, np.float32) for own in alone
    ]
    owner = np.argmin(np.where(hard, np.stack(far), np.inf), 0)
    return [np.where((hard.sum(0) > 1) & (owner != n), 0, mask).astype(np.float32) for n, mask in enumerate(masks)]


def front_wins(masks: Sequence[F32], wins: Sequence[bool]) -> list[F32]:
    """Masks in their order from front to back, without what lies under one before them that wins there."""
    out, covered = list[F32](), np.zeros_like(masks[0]) if masks else None
    for mask, own in zip(masks, wins, strict=True):
        assert covered is not None
        out.append(np.asarray(np.minimum(mask, 1 - covered), np.float32))
        covered = np.maximum(covered, mask) if own else covered
    return out
