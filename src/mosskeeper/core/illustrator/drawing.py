"""What drawing a scene gives: the picture and all that is known of it exactly."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.camera import Camera
from mosskeeper.core.illustrator.description import Person
from mosskeeper.core.pictures.resample import nearest, smooth


@dataclass(frozen=True, slots=True)
class Shown:
    """One figure as it is seen in a drawing."""

    person: Person
    joints: NDArray[np.float64]  # (18, 2) px, in the order of JOINTS
    visible: NDArray[np.bool_]  # (18,): in the frame, and hidden neither by the head nor by another thing
    landmarks: dict[str, NDArray[np.float64]]  # name → (2,) px; those of LANDMARKS that this view shows
    head: tuple[float, float, float]  # x, y, radius in px


@dataclass(frozen=True, slots=True)
class Drawing:
    image: NDArray[np.uint8]  # (H, W, 3) sRGB
    labels: NDArray[np.uint8]  # (H, W) Part
    figures: NDArray[np.uint8]  # (H, W): 0 the place, 1… the persons in their order, then the companion, then standing things
    depth: NDArray[np.float32]  # (H, W) 0 near … 1 far
    shown: tuple[Shown, ...]
    camera: Camera
    light: tuple[float, float]  # direction towards the light, unit vector, y down
    glow: float  # of all lamps: strength times area, as a share of the picture's
    albedo: NDArray[np.uint8] | None  # (H, W, 3) sRGB: the colours of figures and things without light; black elsewhere

    @property
    def joints(self) -> NDArray[np.float64]:
        return self.shown[0].joints

    @property
    def landmarks(self) -> dict[str, NDArray[np.float64]]:
        return self.shown[0].landmarks

    @property
    def head(self) -> tuple[float, float, float]:
        return self.shown[0].head

    def resized(self, size: tuple[int, int]) -> Drawing:
        """The drawing with all its maps and places at another size (width, height)."""
        k = size[0] / self.image.shape[1]
        shown = tuple(
            replace(
                s,
                joints=s.joints * k,
                landmarks={n: at * k for n, at in s.landmarks.items()},
                head=(s.head[0] * k, s.head[1] * k, s.head[2] * k),
            )
            for s in self.shown
        )
        return replace(
            self,
            image=smooth(self.image, size),
            labels=nearest(self.labels, size),
            figures=nearest(self.figures, size),
            depth=nearest(self.depth, size),
            albedo=None if self.albedo is None else nearest(self.albedo, size),
            shown=shown,
        )
