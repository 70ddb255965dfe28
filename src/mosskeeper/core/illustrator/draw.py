"""`draw`: from a description to a picture, its part map, figures, depth, joints, face landmarks, camera and light.

In three steps: the place (cached, since takes and exemplars share it), the figures, the surface of the finish.
"""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass, replace
from threading import Lock

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator import (
    accessories,
    body,
    camera,
    companions,
    face,
    garments,
    hair,
    headwear,
    maps,
    profile,
    props,
    surface,
    weather,
)
from mosskeeper.core.illustrator.description import MOST_FIGURES, Description, Part, Person
from mosskeeper.core.illustrator.figure import SIDES, Figure, Setting
from mosskeeper.core.illustrator.items import FIGURE_SLOT, DisplayList, Item, Lamp
from mosskeeper.core.illustrator.paint import Halo, Painter, Palette
from mosskeeper.core.illustrator.places import PLACES
from mosskeeper.core.illustrator.places.stage import Stage
from mosskeeper.core.illustrator.shapes import ellipse, point, points, ribbon, spline
from mosskeeper.core.illustrator.skeleton import AT, Posture, mirrored, posture
from mosskeeper.core.illustrator.vocabulary.colours import rgb
from mosskeeper.core.illustrator.vocabulary.finishes import blended
from mosskeeper.core.illustrator.vocabulary.light import light_of
from mosskeeper.core.illustrator.vocabulary.people import CHILDREN, body_of
from mosskeeper.core.illustrator.vocabulary.poses import POSES
from mosskeeper.core.pictures.resample import nearest, smooth

_DETAIL_FROM = 40_000  # pixels of area: below, strokes would be smaller than a pixel
_BACKGROUND_SLOT = FIGURE_SLOT - 1
_ENDS = {"arm": ("elbow", "wrist"), "leg": ("knee", "ankle")}
_LIMB_PARTS = {"arm": (Part.SKIN, Part.HAND, Part.SLEEVE), "leg": (Part.LEG, Part.BOTTOM, Part.SHOES)}


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
    figures: NDArray[np.uint8]  # (H, W): 0 the place, 1… the persons in their order, then the companion
    depth: NDArray[np.float32]  # (H, W) 0 near … 1 far
    shown: tuple[Shown, ...]
    camera: camera.Camera
    light: tuple[float, float]  # direction towards the light, unit vector, y down
    albedo: NDArray[np.uint8] | None  # (H, W, 3) sRGB: the colours of figures and companion without light; black elsewhere

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
        image = smooth(self.image, size)
        albedo = None if self.albedo is None else nearest(self.albedo, size)
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
            image=image,
            labels=nearest(self.labels, size),
            figures=nearest(self.figures, size),
            depth=nearest(self.depth, size),
            albedo=albedo,
            shown=shown,
        )


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


def draw(description: Description, size: tuple[int, int], with_albedo: bool = False) -> Drawing:
    """Draws a description.

    Parameters
    ----------
    description : what is to be drawn; every name in it must be in the vocabularies.
    size : (width, height) in pixels, each at least 16.
    with_albedo : also draws the colours as they are without light.

    Returns
    -------
    Drawing, the same bytes for the same arguments.

    Raises
    ------
    KeyError
        where the description names something that no vocabulary has.
    ValueError
        where it has more than MOST_FIGURES figures, or a skeleton of another shape than (18, 2).
    """
    if len(description.figures) > MOST_FIGURES:
        raise ValueError(f"a drawing has at most {MOST_FIGURES} figures, not {len(description.figures)}")
    w, h = size
    light = light_of(description.time, description.light, description.weather)
    display = DisplayList(w, h)
    palette = Palette(light, blended(list(description.finish)), PLACES[description.place].haze * weather.HAZE[description.weather])
    postures = [_posture(person) for person in description.figures]
    view = camera.frame([_posed(person, held) for person, held in zip(description.figures, postures, strict=True)], size)
    main = view.spots[0]
    detailed = w * h >= _DETAIL_FROM
    painter = Painter(display, palette, main.scale / display.unit)

    backdrop = _backdrop(description, display, palette, painter, view, detailed)
    display.lamps = list(backdrop.lamps)
    outdoors = PLACES[description.place].outdoors
    wind = weather.WIND.get(description.weather, 0.0) * (1.0 if outdoors else 0.25)
    figures = []
    for n, (person, held) in enumerate(zip(description.figures, postures, strict=True), 1):
        spot = view.spots[n - 1]
        figures.append(Figure(DisplayList(w, h), person, held, Setting(n, spot.scale, spot.origin, light, wind, detailed)))
    items: list[Item] = []
    for figure in sorted(figures, key=lambda f: -f.is_.layout.depth):
        if view.shows_ground:
            _contact(figure)
        _draw_figure(figure)
        items += figure.display.ordered()
        display.lamps += figure.display.lamps
    figures[0].display = DisplayList(w, h)
    companions.draw(figures[0], description.companion, len(figures) + 1)
    items += figures[0].display.ordered()
    albedo = _albedo(items, size) if with_albedo else None
    items += sorted(backdrop.front, key=lambda item: item.slot)

    canvas = backdrop.canvas.copy()
    x, y = figures[0].px(figures[0].head + point(0, 0.9))
    painter.paint(canvas, items, Halo(float(x), float(y), 3.3 * main.scale))
    painter.lamps(canvas)
    packed = backdrop.maps.copy()
    maps.stamp(packed, items)
    labels, numbers, depth = maps.unpack(packed)

    shown = tuple(_shown(f, labels, numbers) for f in figures)
    image = np.ascontiguousarray(canvas[:, :, :3])
    surface.light_silhouette(image, labels, palette, main.scale)
    image = surface.finished(image, labels, palette, display.unit, [one.head for one in shown])
    return Drawing(image, labels, numbers, depth, shown, view, light.toward, albedo)


def _albedo(items: list[Item], size: tuple[int, int]) -> NDArray[np.uint8]:
    canvas = np.zeros((size[1], size[0], 4), np.uint8)
    maps.albedo(canvas, items)
    return np.ascontiguousarray(canvas[:, :, :3])


def _posture(person: Person) -> Posture:
    held = posture(body_of(person.subject, person.build), POSES[person.layout.pose], person.layout)
    return props.held_with(person, held)


def _posed(person: Person, held: Posture) -> camera.Posed:
    return camera.Posed(
        held.joints,
        person.layout,
        person.subject in CHILDREN,
        headroom=max(props.HEADROOM.get(name, 0.0) for name in (person.prop, person.second_prop)),
        crown=max(hair.CROWN.get(person.hair, 0.0), headwear.CROWN.get(person.headwear, 0.0)),
        grip=props.grip(person, held),
    )


def _draw_figure(f: Figure) -> None:
    body.draw(f)
    locks = hair.build(f)
    if f.profile:
        profile.draw(f, locks.front.outlines)
    else:
        face.draw(f, locks.front.outlines)
    hair.draw(f, locks)
    garments.dress(f)
    accessories.draw(f)
    headwear.draw(f)
    holding = props.draw(f)
    for side, sign in SIDES:
        body.hand(f, side, sign, side in holding)


def _shown(f: Figure, labels: NDArray[np.uint8], numbers: NDArray[np.uint8]) -> Shown:
    placed = f.px(f.posture.joints)
    h, w = labels.shape
    column, row = placed[:, 0].round().astype(int), placed[:, 1].round().astype(int)
    visible = (column >= 0) & (column < w) & (row >= 0) & (row < h)
    at = row.clip(0, h - 1), column.clip(0, w - 1)
    visible &= (numbers[at] == f.number) & (labels[at] != Part.PROP)
    if f.profile:
        far = "left" if f.profile > 0 else "right"
        visible[[AT[f"{far} eye"], AT[f"{far} ear"]]] = False
    for limb in f.posture.behind:
        side, kind = limb.split()
        ends = [AT[f"{side} {name}"] for name in _ENDS[kind]]
        visible[ends] &= np.isin(labels[at][ends], _LIMB_PARTS[kind])
    hx, hy = f.px(f.head)
    head = (float(hx), float(hy), 0.5 * f.scale)
    if f.facing > 0:
        return Shown(f.is_, placed, visible, f.landmarks, head)
    swap = {"right": "left", "left": "right"}
    landmarks = {" ".join(swap.get(word, word) for word in name.split()): at for name, at in f.landmarks.items()}
    return Shown(f.is_, mirrored(placed), mirrored(visible), landmarks, head)


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
    if not f.posture.seated:
        return
    x = (f.j["right hip"][0] + f.j["left hip"][0]) / 2
    y = (f.j["right hip"][1] + f.j["left hip"][1]) / 2 + 0.14
    crate = points((x - 0.60, y), (x + 0.60, y), (x + 0.57, -0.10), (x - 0.57, -0.10))
    item = f.add(spline(crate, True, 3), rgb("8a6242"), Part.SEAT, 99.5, depth=0.33)
    f.mark(item, (ribbon(points((x - 0.8, y + dy), (x + 0.8, y + dy)), [0.014] * 2) for dy in (0.12, 0.42, 0.72)), "shade", 0.8)
    board = points((x - 0.66, y + 0.02), (x + 0.66, y + 0.02), (x + 0.66, y + 0.13), (x - 0.66, y + 0.13))
    f.add(spline(board, True, 3), rgb("b98a5c"), Part.SEAT, 99.6, depth=0.325, shade=0.3)
