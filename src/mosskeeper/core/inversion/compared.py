"""A picture at the size at which drawings are compared with it, and what fits it best in closed form."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Part, Person, Rgb
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.illustrator.vocabulary.colours import HAIR_COLOURS, SKINS, named
from mosskeeper.core.inversion.guess import hexadecimal
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab
from mosskeeper.core.pictures.resample import fitted, nearest
from mosskeeper.core.reading.classes import PART_OF, PARTS
from mosskeeper.core.reading.reading import FigureRead

_SIDE = 160  # px of the longer side
_ONLY_ONE = 40.0  # cost of a place where only one of both shows the figure, in Lab units; and the most that colours cost
_OTHER_PART = 12.0
_CLOTH = (Part.TOP, Part.SLEEVE, Part.BOTTOM, Part.OUTER)
_TABLES = {"skin": SKINS, "hair_colour": HAIR_COLOURS}
_SAME_CLOTH = 0.03


class FigureComparison:
    """One figure of a picture (H, W, 3) with the reader's parts (H, W)."""

    def __init__(self, picture: NDArray[np.uint8], parts: NDArray[np.uint8], n: int, figure: FigureRead) -> None:
        assert figure.head is not None
        h, w = picture.shape[:2]
        self.n, self.shrunk = n, _SIDE / max(w, h)
        self.size = size = (max(32, round(w * self.shrunk)), max(32, round(h * self.shrunk)))
        self.lab = _lab(fitted(picture, size))
        self.parts = nearest(parts, size)
        self.figure = fitted(figure.mask.astype(np.float32), size) > 0.5
        (x, y, high), (gy, gx) = figure.head, np.mgrid[: size[1], : size[0]]
        away = np.hypot(gx - x * size[0], gy - y * size[1]) / (1.3 * high * size[1])
        self.weight = 0.25 + np.exp(-np.square(away))  # the head counts most

    def cost(self, scene: Scene) -> float:
        """How badly a scene explains the figure: colours and parts where both show it, a fixed cost where only one does."""
        d = draw_scene(scene.resized(self.shrunk))
        there = d.figures == self.n + 1
        far = np.minimum(np.linalg.norm(_lab(d.image) - self.lab, axis=2), _ONLY_ONE)
        cost = np.where(there & self.figure, far + (PART_OF[d.labels] != self.parts) * _OTHER_PART, (there != self.figure) * _ONLY_ONE)
        weight = self.weight * (there | self.figure)
        return float((cost * weight).sum() / max(float(weight.sum()), 1e-6))

    def coloured(self, scene: Scene) -> Scene:
        """Skin, hair and cloth in the colours with which the drawing's medians are those of the picture, under the drawing's light."""
        d, person = draw_scene(scene.resized(self.shrunk), with_albedo=True), scene.description.figures[self.n]
        assert d.albedo is not None
        shown, cloth, changes = _lab(d.image), np.isin(d.labels, _CLOTH), dict[str, Any]()
        groups = {"skin": np.isin(d.labels, (Part.FACE, Part.NECK)), "hair_colour": d.labels == Part.HAIR}
        for name in ("colour_a", "colour_b"):
            groups[name] = cloth & (np.abs(d.albedo / 255 - np.asarray(getattr(person, name))).max(2) < _SAME_CLOTH)
        for name, there in groups.items():
            there = there & (d.figures == self.n + 1)
            agreed = there & np.isin(self.parts, np.unique(PART_OF[d.labels[there]]))
            inside = agreed if agreed.sum() > 12 else there & self.figure
            if inside.sum() < 8:
                continue
            own = named(_TABLES[name], getattr(person, name)) if name in _TABLES else np.asarray(getattr(person, name))
            rgb = self._fitted(own, inside, shown)
            changes[name] = hexadecimal(rgb) if name in _TABLES else rgb
        changes["headwear_colours"] = self._of_hat(person, d, shown)
        return scene.with_person(self.n, replace(person, **changes))

    def _of_hat(self, person: Person, d: Drawing, shown: NDArray[np.float32]) -> tuple[Rgb, Rgb] | None:
        """The two colours of what is worn on the head, which need not be those of the clothes."""
        if person.headwear == "none":
            return None
        assert d.albedo is not None
        out = []
        for own in person.headwear_colours or (person.colour_a, person.colour_b):
            there = (d.labels == Part.HEADWEAR) & (d.figures == self.n + 1)
            there &= (np.abs(d.albedo / 255 - np.asarray(own)).max(2) < _SAME_CLOTH) & self.figure
            out.append(self._fitted(np.asarray(own), there, shown) if there.sum() >= 8 else own)
        return out[0], out[1]

    def _fitted(self, own: NDArray[Any], inside: NDArray[np.bool_], shown: NDArray[np.float32]) -> Rgb:
        """An unlit colour changed so that the drawing's median becomes the picture's."""
        want, got = (lab_to_rgb(np.median(lab[inside], axis=0)) for lab in (self.lab, shown))
        return _triple(np.clip(own * (want + 0.03) / (got + 0.03), 0.02, 0.98))

    def explained(self, scene: Scene) -> dict[str, float]:
        """How well the scene's drawing lies on what was read, 0…1 (intersection over union): "figure", and each part group seen."""
        d = draw_scene(scene.resized(self.shrunk))
        there = d.figures == self.n + 1
        out = {"figure": _iou(there, self.figure)}
        for k, name in enumerate(PARTS):
            read, drawn = (self.parts == k) & self.figure, (PART_OF[d.labels] == k) & there
            if k >= PARTS.index("hair") and max(read.sum(), drawn.sum()) > 12:
                out[name] = _iou(read, drawn)
        return out


def _iou(a: NDArray[np.bool_], b: NDArray[np.bool_]) -> float:
    return float((a & b).sum() / max(float((a | b).sum()), 1.0))


def _lab(rgb_u8: NDArray[np.uint8]) -> NDArray[np.float32]:
    return rgb_to_lab(rgb_u8.astype(np.float32) / np.float32(255))


def _triple(rgb: NDArray[Any]) -> Rgb:
    r, g, b = map(float, rgb)
    return r, g, b
