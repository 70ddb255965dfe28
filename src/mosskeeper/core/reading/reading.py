"""What somebody who looked at a picture says of it: the interface between readers and all that uses them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Face
from mosskeeper.core.reading.contents import Contents
from mosskeeper.core.reading.palette import Palette, read_palette

Rgb = tuple[float, float, float]
Attributes = Mapping[str, Mapping[str, float]]  # attribute → value → confidence 0…1
SURE = 0.5  # confidence from which a figure, joint or landmark is taken as read


@dataclass(frozen=True)
class FigureRead:
    """One figure of a picture. Places are shares of the picture's width and height.

    sure : 0…1 that somebody is there. box : x0, y0, x1, y1. head : x, y of its middle, height as a share of the picture's;
    None where no head was found. joints : (18, 2), in the order of JOINTS. joint_confidence : (18,) 0…1.
    landmarks : (36, 2), in the order of LANDMARKS. colours : without light, "skin", "hair colour", "eyes", "colour" and
    "trim" where read, sRGB 0…1. held : how the head is held: turn −1…1 towards the picture's right, nod −1 up … 1 down,
    tilt in radians clockwise. identity : (64,) of length 1, near for heads of one person. mask : (h, w) bool, of any size.
    face_sure : 0…1, how surely the face was read.
    """

    sure: float
    box: tuple[float, float, float, float]
    head: tuple[float, float, float] | None
    joints: NDArray[np.float64]
    joint_confidence: NDArray[np.float32]
    mask: NDArray[np.bool_]
    attributes: Attributes = field(default_factory=dict)
    colours: Mapping[str, Rgb] = field(default_factory=dict)
    landmarks: NDArray[np.float64] | None = None
    landmark_confidence: NDArray[np.float32] | None = None
    face: Face | None = None
    held: tuple[float, float, float] | None = None
    identity: NDArray[np.float32] | None = None
    face_sure: float = 0.0

    @property
    def sure_joints(self) -> NDArray[np.float64]:
        """(18, 2), NaN where a joint was not surely read."""
        return np.where(self.joint_confidence[:, None] >= SURE, self.joints, np.nan)


@dataclass(frozen=True)
class Reading:
    """A picture, read.

    attributes : in the names of `core.words.attributes`, of the picture and of its main figure.
    face, colours : of the main figure; the colours of its clothes are "colour" and "trim", sRGB 0…1.
    joints : (18, 2) of the main figure as shares of width and height, NaN where unseen.
    depth : (H, W) float32, 0 near … 1 far; of any size. parts : (H, W) uint8, index in `classes.PARTS`; of any size.
    figures : all figures, the main one first. reader : "measured" where only plain measurement was made, "drawings" or "photo".
    version : of the weights that read it, "" where none did. contents : what the picture can lend as a reference, where more is
    known than was read: its stored scene, or an inversion. Measures do not look at it.
    """

    palette: Palette
    attributes: Attributes = field(default_factory=dict)
    face: Face | None = None
    colours: Mapping[str, Rgb] = field(default_factory=dict)
    joints: NDArray[np.float64] | None = None
    depth: NDArray[np.float32] | None = None
    parts: NDArray[np.uint8] | None = None
    figures: tuple[FigureRead, ...] = ()
    reader: str = "measured"
    version: str = ""
    contents: Contents | None = None

    @property
    def main(self) -> FigureRead | None:
        return self.figures[0] if self.figures else None


def measured(picture: NDArray[np.uint8]) -> Reading:
    """What plain measurement says of a picture (H, W, 3): its colours."""
    return Reading(read_palette(picture))
