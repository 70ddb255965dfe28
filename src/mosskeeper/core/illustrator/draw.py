"""`draw`: from a description to a picture, its part map, depth, joints and face landmarks.

In three steps: the place (cached, since takes and exemplars share it), the figure, the surface of the finish.
"""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass
from threading import Lock

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator import body, camera, companions, face, garments, hair, headwear, maps, props, surface, weather
from mosskeeper.core.illustrator.description import Description, Part
from mosskeeper.core.illustrator.figure import SIDES, Figure
from mosskeeper.core.illustrator.items import FIGURE_SLOT, DisplayList, Item, Lamp
from mosskeeper.core.illustrator.paint import Halo, Painter, Palette
from mosskeeper.core.illustrator.places import PLACES
from mosskeeper.core.illustrator.places.stage import Stage
from mosskeeper.core.illustrator.shapes import ellipse, point, points, ribbon, spline
from mosskeeper.core.illustrator.skeleton import joints, mirrored
from mosskeeper.core.illustrator.vocabulary.colours import rgb
from mosskeeper.core.illustrator.vocabulary.finishes import blended
from mosskeeper.core.illustrator.vocabulary.light import light_of
from mosskeeper.core.illustrator.vocabulary.people import CHILDREN, body_of
from mosskeeper.core.illustrator.vocabulary.poses import POSES

_DETAIL_FROM = 40_000  # pixels of area: below, strokes would be smaller than a pixel
_BACKGROUND_SLOT = FIGURE_SLOT - 1


@dataclass(frozen=True, slots=True)
class Drawing:
    image: NDArray[np.uint8]  # (H, W, 3) sRGB
    labels: NDArray[np.uint8]  # (H, W) Part
    depth: NDArray[np.float32]  # (H, W) 0 near … 1 far
    joints: NDArray[np.float64]  # (18, 2) px, in the order of JOINTS
    landmarks: dict[str, NDArray[np.float64]]  # name → (2,) px
    head: tuple[float, float, float]  # x, y, radius in px


@dataclass(frozen=True, slots=True)
class _Backdrop:
    canvas: NDArray[np.uint8]
    maps: NDArray[np.uint8]
    front: list[Item]
    lamps: list[Lamp]


class _Cache:
    """The most recently used backdrops, bounded by their bytes."""

    def __init__(self, limit: int = 160_000_000) -> None:
        self._kept: OrderedDict[object, _Backdrop] = OrderedDict()
        self._limit, self._bytes, self._lock = limit, 0, Lock()

    def get(self, key: object) -> _Backdrop | None:
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
            return self._kept.get(key)

    def put(self, key: object, value: _Backdrop) -> None:
        with self._lock:
            if key in self._kept:
                return
            self._kept[key] = value
            self._bytes += value.canvas.nbytes + value.maps.nbytes
            while self._bytes > self._limit and len(self._kept) > 1:
                _, old = self._kept.popitem(last=False)
                self._bytes -= old.canvas.nbytes + old.maps.nbytes

    def clear(self) -> None:
        with self._lock:
            self._kept.clear()
            self._bytes = 0


backdrops = _Cache()


def draw(description: Description, size: tuple[int, int]) -> Drawing:
    """Draws a description.

    Parameters
    ----------
    description : what is to be drawn; every name in it must be in the vocabularies.
    size : (width, height) in pixels, each at least 16.

    Returns
    -------
    Drawing, the same bytes for the same arguments.

    Raises
    ------
    KeyError
        where the description names something that no vocabulary has.
    """
    w, h = size
    light = light_of(description.time, description.light, description.weather)
    display = DisplayList(w, h)
    palette = Palette(light, blended(list(description.finish)), PLACES[description.place].haze * weather.HAZE[description.weather])
    pose = joints(body_of(description.subject, description.build), POSES[description.layout.pose], description.layout.sway)
    view = camera.frame(pose, description.layout, size, description.subject in CHILDREN)
    detailed = w * h >= _DETAIL_FROM
    painter = Painter(display, palette, view.scale / display.unit)

    backdrop = _backdrop(description, display, palette, painter, view, detailed)
    display.items = list(backdrop.front)
    display.lamps = list(backdrop.lamps)

    figure = Figure(display, description, pose, view.scale, view.origin, light, detailed)
    if view.shows_ground:
        _contact(figure)
    _draw_figure(figure)

    items = display.ordered()
    canvas = backdrop.canvas.copy()
    x, y = figure.px(figure.head + point(0, 0.9))
    painter.paint(canvas, items, Halo(float(x), float(y), 3.3 * view.scale))
    painter.lamps(canvas)
    packed = backdrop.maps.copy()
    maps.stamp(packed, items)
    labels, depth = maps.unpack(packed)

    hx, hy = figure.px(figure.head)
    head = (float(hx), float(hy), 0.5 * view.scale)
    image = np.ascontiguousarray(canvas[:, :, :3])
    surface.light_silhouette(image, labels, palette, view.scale)
    image = surface.finished(image, labels, palette, display.unit, head)
    placed = figure.px(pose)
    return Drawing(image, labels, depth, placed if description.layout.facing > 0 else mirrored(placed), figure.landmarks, head)


def _draw_figure(f: Figure) -> None:
    body.draw(f)
    locks = hair.build(f)
    face.draw(f, locks.front.outlines)
    hair.draw(f, locks)
    garments.dress(f)
    headwear.draw(f)
    companions.draw(f)
    holding = props.draw(f)
    for side, sign in SIDES:
        body.hand(f, side, sign, holding and side == "left")


def _backdrop(d: Description, display: DisplayList, palette: Palette, painter: Painter, view: camera.Camera, detailed: bool) -> _Backdrop:
    w, h = display.width, display.height
    key = (d.place, d.time, d.light, d.weather, d.finish, d.layout.ground, w, h, round(view.zoom, 4), view.centre, view.blur)
    hit = backdrops.get(key)
    if hit is not None:
        return hit
    stage = Stage(display, palette.light, view.zoom, view.centre, d.layout.ground * 7 + 3, detailed)
    PLACES[d.place].build(stage)
    if PLACES[d.place].outdoors:
        weather.add(stage, d.weather)
    items = display.ordered()
    back = [item for item in items if item.slot < _BACKGROUND_SLOT]
    canvas = np.full((h, w, 4), 255, np.uint8)
    painter.paint(canvas, back)
    blur = view.blur * display.unit * (1 - palette.finish.flat)
    if blur > 0.2:
        canvas = np.ascontiguousarray(cv2.GaussianBlur(canvas, (0, 0), blur))
    packed = maps.blank(w, h)
    maps.stamp(packed, back)
    made = _Backdrop(canvas, packed, [item for item in items if item.slot >= _BACKGROUND_SLOT], list(display.lamps))
    backdrops.put(key, made)
    return made


def _contact(f: Figure) -> None:
    """The shadow on the ground and, for a seated figure, its seat."""
    ankles = [f.j["right ankle"], f.j["left ankle"]]
    middle, apart = (ankles[0] + ankles[1]) / 2, abs(ankles[0][0] - ankles[1][0])
    f.plain(
        ellipse((middle[0], 0.0), 0.75 + apart * 0.5, 0.11), rgb("2a1f33"), Part.GROUND, 99, depth=0.3, alpha=0.42, blur=5.0, labelled=False
    )
    if not POSES[f.is_.layout.pose].seated:
        return
    x = (f.j["right hip"][0] + f.j["left hip"][0]) / 2
    y = (f.j["right hip"][1] + f.j["left hip"][1]) / 2 + 0.14
    crate = points((x - 0.60, y), (x + 0.60, y), (x + 0.57, -0.10), (x - 0.57, -0.10))
    item = f.add(spline(crate, True, 3), rgb("8a6242"), Part.SEAT, 99.5, depth=0.33)
    f.mark(item, [ribbon(points((x - 0.8, y + dy), (x + 0.8, y + dy)), [0.014] * 2) for dy in (0.12, 0.42, 0.72)], "shade", 0.8)
    board = points((x - 0.66, y + 0.02), (x + 0.66, y + 0.02), (x + 0.66, y + 0.13), (x - 0.66, y + 0.13))
    f.add(spline(board, True, 3), rgb("b98a5c"), Part.SEAT, 99.6, depth=0.325, shade=0.3)
