"""Sketch: rough shapes and their colours; where a board has alpha, only what was painted counts."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import SKIN_PARTS, Part
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.pictures.resample import fitted, smooth
from mosskeeper.core.pictures.signal import signal
from mosskeeper.core.reading.contours import edges
from mosskeeper.core.reading.palette import FAR
from mosskeeper.core.reading.structure import COMPARED, flat_colours, lined, shared_information, without_detail
from mosskeeper.core.reading.structure import compared as fitting
from mosskeeper.core.roles.role import F32, CueComparison, Structure

_HEADWEAR = (Part.HAIR, Part.FACIAL_HAIR, Part.HEADWEAR)
# What a sketch tells apart of a figure; places by their own parts.
_GROUP = np.array([int(p) if p < Part.HAIR else 7 if p in _HEADWEAR else 8 if p in SKIN_PARTS else 9 for p in Part], np.intp)
_LEAST_PAINTED = 16  # px


class Sketch(Structure):
    name, order = "sketch", 11
    says = "Follows rough shapes and their colours."
    weight, end = 0.7, 50.0
    too_heavy = "copies the sketch with its roughness"
    meaning = "structural similarity of coarse colours"

    def asked(self, picture: NDArray[np.uint8], depth: F32 | None, size: tuple[int, int]) -> NDArray[Any]:
        return flat_colours(smooth(picture[:, :, :3], size))

    def agreement(self, drawing: Drawing, asked: NDArray[Any], mask: F32) -> float:
        return shared_information(_GROUP[drawing.labels], asked, mask)

    def added(self, estimate: F32, picture: NDArray[np.uint8], mask: F32) -> F32:
        soft = cv2.GaussianBlur(mask[..., 0], (0, 0), max(estimate.shape[:2]) / 160)[..., None]
        near = np.clip(estimate + (without_detail(signal(picture)) - without_detail(estimate)) * soft, -1, 1)
        return lined(np.asarray(near, np.float32), edges(picture), mask * np.float32(0.5))

    def obeyed(self, compared: CueComparison) -> float | None:
        small = fitting(compared.picture)
        h, w = small.shape[:2]
        board = fitted(compared.source, (w, h))
        painted = board[:, :, 3] > 127 if board.shape[2] == 4 else np.ones((h, w), bool)
        if painted.sum() < _LEAST_PAINTED:
            return None
        share = cv2.GaussianBlur(painted.astype(np.float32), (0, 0), COMPARED / 28)[..., None] + 1e-6

        def low(x: NDArray[np.uint8]) -> F32:
            """Lab without detail, of what lies under the paint alone."""
            lab = rgb_to_lab(x[:, :, :3].astype(np.float32) / 255) * painted[..., None]
            return np.asarray(cv2.GaussianBlur(lab, (0, 0), COMPARED / 28) / share, np.float32)

        return 1 - float(np.linalg.norm(low(board) - low(small), axis=2)[painted].mean()) / FAR


ROLE = Sketch()
