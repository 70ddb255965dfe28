"""Analysis by synthesis of a head: how well each value of a trait explains its pixels.

The head is drawn as the scene has it, once with each value, and compared with the picture at the same scale. Two numbers
tell about a value: how far the pixels about the head are from its drawing, and how well the fine structure of the face
agrees with it (normalised cross-correlation of what is left after smoothing). Both allow small shifts, since landmarks are
read to a few pixels only.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Part, Person
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.pictures.resample import fitted

F32 = NDArray[np.float32]
_HEAD = 76.0  # px of a head's height at which it is compared
_LARGEST = 400  # px of the longer side of what is drawn
_WINDOW = (1.35, 1.25, 1.75)  # head heights beside, above and below the middle of the head
_SHIFTS = (-2, 0, 2)  # px
_FINE = 3.0  # px below which structure is fine
_MOST = 40.0  # Lab units that a pixel counts at most
_FACE = (Part.FACE, Part.BROW, Part.EYES, Part.MOUTH, Part.FACIAL_HAIR, Part.EAR, Part.ACCESSORY)


@dataclass(frozen=True, slots=True)
class Fit:
    """How a drawing explains a head. cost : mean difference about the head, Lab units. fine : −1…1, correlation of the face's fine
    structure. explains : of the structure that this value adds to the plainest one, how much is in the picture: about 1 all, 0 nothing.
    """

    cost: float
    fine: float
    explains: float


class HeadView:
    """The head of figure `n` of a picture (H, W, 3), at the scale at which drawings are compared with it."""

    def __init__(self, picture: NDArray[np.uint8], scene: Scene, n: int) -> None:
        h, w = picture.shape[:2]
        self._n = n
        k = min(_HEAD / max(scene.camera.spots[n].scale, 1.0), _LARGEST / max(w, h))
        self.scene = scene.resized(k)
        self._size = self.scene.size
        self._picture = _lab(fitted(picture, self._size))
        shown = draw_scene(self.scene).shown[n].head
        x, y, high = float(shown[0]), float(shown[1]), self.scene.camera.spots[n].scale
        beside, above, below = _WINDOW
        self._box = (
            max(0, round(y - above * high)),
            min(self._size[1], round(y + below * high)),
            max(0, round(x - beside * high)),
            min(self._size[0], round(x + beside * high)),
        )
        self._seen = self._cut(self._picture)
        self._seen_fine = self._seen[..., 0] if self.empty else _fine(self._seen)

    @property
    def empty(self) -> bool:
        """Whether hardly anything of the head is in the frame."""
        y0, y1, x0, x1 = self._box
        return y1 - y0 < 16 or x1 - x0 < 16

    def _cut(self, whole: NDArray[np.float32]) -> F32:
        y0, y1, x0, x1 = self._box
        return np.ascontiguousarray(whole[y0:y1, x0:x1])

    def fits(self, field: str, values: Sequence[object], plain: object) -> list[Fit]:
        """How each of several values of a person's field explains the head. plain : the value without any structure of its own."""
        person = self.scene.description.figures[self._n]
        drawn = {value: self._drawn(replace(person, **{field: value})) for value in dict.fromkeys([*values, plain])}  # type: ignore[arg-type]
        base = drawn[plain][0]
        return [self._fit(*drawn[value], base) for value in values]

    def _drawn(self, person: Person) -> tuple[F32, NDArray[np.bool_]]:
        d = draw_scene(self.scene.with_person(self._n, person))
        y0, y1, x0, x1 = self._box
        face = (np.isin(d.labels, _FACE) & (d.figures == self._n + 1))[y0:y1, x0:x1]
        return self._cut(_lab(d.image)), face

    def _fit(self, drawn: F32, face: NDArray[np.bool_], base: F32) -> Fit:
        fine, adds = _fine(drawn), drawn - base
        cost, correlation, best = np.inf, -1.0, 0.0
        power = float(np.square(adds).sum())
        rest = self._seen - base
        for dy in _SHIFTS:
            for dx in _SHIFTS:
                moved = np.roll(drawn, (dy, dx), (0, 1))
                cost = min(cost, float(np.minimum(np.linalg.norm(moved - self._seen, axis=2), _MOST).mean()))
                if face.sum() > 40:
                    correlation = max(
                        correlation, _correlation(np.roll(fine, (dy, dx), (0, 1)), self._seen_fine, np.roll(face, (dy, dx), (0, 1)))
                    )
                if power > 1:
                    best = max(best, float((np.roll(adds, (dy, dx), (0, 1)) * rest).sum()) / power)
        return Fit(cost, correlation, best)


def _fine(lab: F32) -> F32:
    light = lab[..., 0]
    return np.asarray(light - cv2.GaussianBlur(light, (0, 0), _FINE), np.float32)


def _correlation(a: F32, b: F32, mask: NDArray[np.bool_]) -> float:
    x, y = a[mask] - a[mask].mean(), b[mask] - b[mask].mean()
    return float((x * y).sum() / max(float(np.sqrt(np.square(x).sum() * np.square(y).sum())), 1e-6))


def _lab(rgb_u8: NDArray[np.uint8]) -> F32:
    return np.asarray(rgb_to_lab(rgb_u8.astype(np.float32) / np.float32(255)), np.float32)
