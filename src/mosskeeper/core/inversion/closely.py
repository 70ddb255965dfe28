"""Analysis by synthesis of a head: how well each value of a trait explains its pixels.

The head is drawn as the scene has it, once with each value, and compared with the picture at the same scale. Two numbers
tell about a value: how far the pixels about the head are from its drawing, and how well the fine structure of the face
agrees with it (normalised cross-correlation of what is left after smoothing). Both allow small shifts, since landmarks are
read to a few pixels only.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Part, Person
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.face import LANDMARKS
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.pictures.resample import fitted

F32 = NDArray[np.float32]
HEAD = 76.0  # px of a head's height at which hair, beard and glasses are compared …
FACE = 140.0  # … and at which the lines of age are seen
_LARGEST = 330  # px of the longer side of what is drawn, at HEAD
_WINDOW = (1.35, 1.25, 1.75)  # head heights beside, above and below the middle of the head
_SHIFTS = (-2, 0, 2)  # px
_FINE = 3.0  # px below which structure is fine
_MOST = 40.0  # Lab units that a pixel counts at most
_FACE = (Part.FACE, Part.BROW, Part.EYES, Part.MOUTH, Part.FACIAL_HAIR, Part.EAR, Part.ACCESSORY)


MEASURES = ("brow", "lash", "lines", "eye open", "eye wide", "face long", "jaw wide", "lips")
_NEEDED = (
    *(
        f"{side} {name}"
        for side in ("right", "left")
        for name in ("pupil", "eye inner", "eye outer", "upper lid", "lower lid", "brow middle", "cheek", "jaw")
    ),
    *("upper lip", "lower lip", "chin", "nose tip"),
)
_DARKER = 8.0  # Lab units by which ink is darker than skin


def face_measures(light: F32, at: Mapping[str, tuple[float, float]]) -> NDArray[np.float64] | None:
    """MEASURES of a face, in distances of its pupils: how heavy brows and lashes are, how lined the skin is, and proportions.

    light : (H, W), L* of a picture. at : x, y px of its landmarks. None where one that is needed is missing, or the face is tiny.
    """
    if any(name not in at for name in _NEEDED):
        return None
    points = {name: np.asarray(at[name], float) for name in _NEEDED}
    unit = float(np.hypot(*(points["right pupil"] - points["left pupil"])))
    if unit < 8:
        return None

    def box(middle: NDArray[np.float64], wide: float, above: float, below: float) -> F32:
        (h, w), (x, y) = light.shape, middle
        x0, x1 = int(max(x - wide * unit, 0)), int(min(x + wide * unit + 1, w))
        y0, y1 = int(max(y - above * unit, 0)), int(min(y + below * unit + 1, h))
        return light[y0:y1, x0:x1] if x1 > x0 and y1 > y0 else np.zeros((1, 1), np.float32)

    skin = float(np.median(np.concatenate([box(points[f"{side} cheek"], 0.12, 0.12, 0.12).ravel() for side in ("right", "left")])))

    def ink(patch: F32) -> float:
        return float(np.maximum(skin - _DARKER - patch, 0).sum()) / (unit * unit * 100)

    def rough(patch: F32) -> float:
        return float(np.abs(patch - cv2.GaussianBlur(patch, (0, 0), max(unit / 14, 1.0))).mean())

    sides = ("right", "left")
    eyes = (points["right pupil"] + points["left pupil"]) / 2
    opened = [points[f"{side} lower lid"][1] - points[f"{side} upper lid"][1] for side in sides]
    wide = [np.hypot(*(points[f"{side} eye outer"] - points[f"{side} eye inner"])) for side in sides]
    lined = [rough(box(points[f"{side} cheek"], 0.22, 0.1, 0.3)) for side in sides]
    return np.array(
        [
            np.mean([ink(box(points[f"{side} brow middle"], 0.32, 0.14, 0.12)) for side in sides]),
            np.mean([ink(box(points[f"{side} upper lid"], 0.42, 0.2, 0.02)) for side in sides]),
            np.mean([*lined, rough(box((points["right brow middle"] + points["left brow middle"]) / 2, 0.25, 0.4, 0.0))]),
            np.mean(opened) / unit,
            np.mean(wide) / unit,
            np.hypot(*(points["chin"] - eyes)) / unit,
            np.hypot(*(points["right jaw"] - points["left jaw"])) / unit,
            np.hypot(*(points["upper lip"] - points["lower lip"])) / unit,
        ]
    )


@dataclass(frozen=True, slots=True)
class Fit:
    """How a drawing explains a head. cost : mean difference about the head, Lab units. fine : −1…1, correlation of the face's fine
    structure. explains : of the structure that this value adds to the plainest one, how much is in the picture: about 1 all, 0 nothing.
    measures : of the drawn face, None where not all of it is seen.
    """

    cost: float
    fine: float
    explains: float
    measures: NDArray[np.float64] | None = None


class HeadView:
    """The head of figure `n` of a picture (H, W, 3), at the scale at which drawings are compared with it."""

    def __init__(self, picture: NDArray[np.uint8], scene: Scene, n: int, head_px: float = HEAD) -> None:
        """
        Parameters
        ----------
        scene : that explains the picture, aligned to its landmarks.
        head_px : height of the head at which both are compared, px; less where the whole picture would get too large.
        """
        h, w = picture.shape[:2]
        self._n = n
        head = scene.camera.spots[n].scale
        k = min(head_px / max(head, 1.0), _LARGEST * head_px / HEAD / max(w, h))
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
        self._seen_fine = _fine(self._seen)

    def measure(self, landmarks: NDArray[np.float64]) -> NDArray[np.float64] | None:
        """MEASURES of the face in the picture. landmarks : (30, 2) as they were read, shares of width and height."""
        at = {name: (float(x * self._size[0]), float(y * self._size[1])) for name, (x, y) in zip(LANDMARKS, landmarks, strict=True)}
        return face_measures(np.ascontiguousarray(self._picture[..., 0]), at)

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

    def with_value(self, scene: Scene, field: str, value: object) -> Scene:
        """A scene with a value of a field of this figure."""
        return scene.with_person(self._n, replace(scene.description.figures[self._n], **{field: value}))  # type: ignore[arg-type]

    def _drawn(self, person: Person) -> tuple[F32, NDArray[np.bool_], NDArray[np.float64] | None]:
        d = draw_scene(self.scene.with_person(self._n, person))
        y0, y1, x0, x1 = self._box
        face, lab = (np.isin(d.labels, _FACE) & (d.figures == self._n + 1))[y0:y1, x0:x1], _lab(d.image)
        at = {name: (float(x), float(y)) for name, (x, y) in d.shown[self._n].landmarks.items()}
        return self._cut(lab), face, face_measures(np.ascontiguousarray(lab[..., 0]), at)

    def _fit(self, drawn: F32, face: NDArray[np.bool_], measures: NDArray[np.float64] | None, base: F32) -> Fit:
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
        return Fit(cost, correlation, best, measures)


def _fine(lab: F32) -> F32:
    light = lab[..., 0]
    return np.asarray(light - cv2.GaussianBlur(light, (0, 0), _FINE), np.float32)


def _correlation(a: F32, b: F32, mask: NDArray[np.bool_]) -> float:
    x, y = a[mask] - a[mask].mean(), b[mask] - b[mask].mean()
    return float((x * y).sum() / max(float(np.sqrt(np.square(x).sum() * np.square(y).sum())), 1e-6))


def _lab(rgb_u8: NDArray[np.uint8]) -> F32:
    return np.asarray(rgb_to_lab(rgb_u8.astype(np.float32) / np.float32(255)), np.float32)
