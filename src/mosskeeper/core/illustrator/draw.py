"""`draw` and `draw_scene`: to a picture, its part map, figures, depth, joints, face landmarks, camera and light.

In three steps: the place, the figures and things as layers over it from the farthest to the nearest, the surface of
the finish. Places and layers are kept, since exemplars, takes and what is changed in them share most of theirs.
"""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator import companions, maps, parts, surface, weather
from mosskeeper.core.illustrator.description import Description, Layout, Part, Person
from mosskeeper.core.illustrator.drawing import Drawing, Shown
from mosskeeper.core.illustrator.figure import SIDES, DrawnFigure, Setting
from mosskeeper.core.illustrator.items import FIGURE_SLOT, Canvas, DisplayList, Item, Lamp, recoloured
from mosskeeper.core.illustrator.kept import LayerCache
from mosskeeper.core.illustrator.layers import PaintedLayer, PaintSheet, blurred, painted
from mosskeeper.core.illustrator.natural.rounding import rounded
from mosskeeper.core.illustrator.paint import Halo, LitPalette, Painter
from mosskeeper.core.illustrator.places import place_called
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.roughs import rough_items
from mosskeeper.core.illustrator.scene import Disc, Scene, Thing, posture_of, scene_of
from mosskeeper.core.illustrator.shapes import ellipse, point, points, ribbon, spline, to_path
from mosskeeper.core.illustrator.skeleton import AT, Posture, mirrored
from mosskeeper.core.illustrator.things import stand
from mosskeeper.core.illustrator.vocabulary.colours import rgb
from mosskeeper.core.illustrator.vocabulary.finishes import blended
from mosskeeper.core.illustrator.vocabulary.light import light_of, under_sky

Wider = tuple[int, int, int, int]  # px to the left, at the top, to the right, below; less than 0: cut off there
_DETAIL_FROM = 40_000  # pixels of area: below, strokes would be smaller than a pixel
_BACKGROUND_SLOT = FIGURE_SLOT - 1
_MIDDLE_GROUND = 0.6
_HALF = 0.5
_UPSIDE_DOWN = 0.6  # how far a spine points up
_DISC_SLOT, _DISC_REACH = 0.68, 4.5  # before the clouds, which would cut it; radii that its light reaches
_ENDS = {"arm": ("elbow", "wrist"), "leg": ("knee", "ankle")}
_OF_HEAD = [AT[name] for name in ("nose", "right eye", "left eye", "right ear", "left ear")]
_OTHER_SIDE = [0, 2, 1, 4, 3]  # of those: which of them is seen where the other one was, in a figure that is mirrored
_LIMB_PARTS = {"arm": (Part.SKIN, Part.HAND, Part.SLEEVE), "leg": (Part.LEG, Part.BOTTOM, Part.SHOES)}

kept = LayerCache()


def draw(description: Description, size: tuple[int, int], with_albedo: bool = False) -> Drawing:
    """Draws a description as its layouts frame it.

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
    return draw_scene(scene_of(description, size), with_albedo)


def draw_scene(
    scene: Scene, with_albedo: bool = False, wider: Wider = (0, 0, 0, 0), layers: LayerCache = kept, detailed: bool | None = None
) -> Drawing:
    """Draws a scene: where everything stands is held, whatever else was changed in it.

    Parameters
    ----------
    with_albedo : also draws the colours as they are without light.
    wider : pixels that the canvas goes on beyond the picture, where the same place continues. Less than 0, they are cut off:
        see `window_of`.
    layers : what was painted before and may be laid again.
    detailed : with all leaves and strokes; None: where a picture is large enough for them.

    Returns
    -------
    Drawing, the same bytes for the same scene and detail; it does not depend on what `layers` has.

    Raises KeyError where the scene names something that no vocabulary has.
    """
    if scene.rendered != 1:
        own = replace(scene.resized(scene.rendered), rendered=1.0)
        beyond = tuple(round(px * scene.rendered) for px in wider)
        canvas = Canvas(scene.size, wider)
        return draw_scene(own, with_albedo, beyond, layers, detailed).resized((canvas.width, canvas.height))  # type: ignore[arg-type]
    return _Drawn(scene, Canvas(scene.size, wider), with_albedo, layers, detailed).drawing()


def window_of(size: tuple[int, int], box: tuple[int, int, int, int]) -> Wider:
    """What `draw_scene` takes as `wider` to draw only a window of a picture, as it is drawn in the whole but for its border.

    size : (width, height) of the picture in px. box : (left, top, right, bottom) of the window, px, at least 16 wide and high.
    Raises ValueError where the window is smaller, or not inside of the picture.
    """
    (w, h), (x0, y0, x1, y1) = size, box
    if not (0 <= x0 <= x1 - 16 and 0 <= y0 <= y1 - 16 and x1 <= w and y1 <= h):
        raise ValueError(f"{box} is no window of a picture of {w} × {h} px")
    return -x0, -y0, x1 - w, y1 - h


def measured(description: Description, thing: Thing) -> tuple[float, float]:
    """How wide a thing is, and how high from its foot up, in px."""
    light = light_of(description.time, description.light, description.weather)
    setting = Setting(2, thing.scale, point(*thing.foot), light, 0.0, False)
    f = DrawnFigure(DisplayList(Canvas((512, 640))), description, scene_of(description, (512, 640)).postures[0], setting)
    stand(f, thing)
    boxes = [item.path.getBounds() for item in f.display.items if item.labelled]
    return float(max(b.right() for b in boxes) - min(b.left() for b in boxes)), thing.foot[1] - float(min(b.top() for b in boxes))


@dataclass(frozen=True, slots=True)
class _FigureLayer:
    layer: PaintedLayer
    figure: DrawnFigure

    @property
    def nbytes(self) -> int:
        return self.layer.nbytes


@dataclass(frozen=True, slots=True)
class _Backdrop:
    colours: NDArray[np.uint8]  # (H, W, 4)
    packed: NDArray[np.uint8]
    front: PaintedLayer  # what lies before figures
    lamps: tuple[Lamp, ...]

    @property
    def nbytes(self) -> int:
        return self.colours.nbytes + self.packed.nbytes + self.front.nbytes


class _Drawn:
    """One scene on its way to a drawing."""

    def __init__(self, scene: Scene, canvas: Canvas, with_albedo: bool, layers: LayerCache, detailed: bool | None) -> None:
        d = scene.description
        self.scene, self.canvas, self.with_albedo, self.layers = scene, canvas, with_albedo, layers
        self.shift = point(*map(float, canvas.wider[:2]))
        self.detailed = scene.size[0] * scene.size[1] >= _DETAIL_FROM if detailed is None else detailed
        self.light = scene.light or light_of(d.time, d.light, d.weather)
        if (sky := dict(d.tones).get("sky")) is not None:
            self.light = under_sky(self.light, np.asarray(sky))
        place = place_called(d.place)
        self.palette = LitPalette(self.light, blended(list(d.finish)), place.haze * weather.HAZE[d.weather])
        main = scene.camera.spots[0].scale
        self.painter = Painter(DisplayList(canvas), self.palette, main / canvas.unit)
        by_weather = weather.WIND.get(d.weather, 0.0) * (1.0 if place.outdoors else 0.25)
        self.wind = by_weather if scene.wind is None else scene.wind
        self.air: Hashable = (canvas, self.detailed, self.light, d.finish, self.palette.haze)
        self.main = main

    def drawing(self) -> Drawing:
        scene, view = self.scene, self.scene.camera
        backdrop = self.layers.get(self._place_key(), self._backdrop)
        sheet = PaintSheet.of(backdrop.colours, backdrop.packed, backdrop.lamps, self.with_albedo)
        if scene.roughs:
            self._roughs().lay(sheet)
        figures = {n: self._figure(n) for n in range(len(scene.postures))}
        first = figures[0].figure
        x, y = first.px(first.head + point(0, 0.9))
        self.painter.halo(sheet.colours, Halo(float(x), float(y), 3.3 * self.main))
        waiting = sorted(enumerate(scene.things), key=lambda one: -one[1].depth)
        for n in sorted(figures, key=lambda n: -scene.description.figures[n].layout.depth):
            while waiting and waiting[0][1].depth > scene.description.figures[n].layout.depth:
                self._thing(*waiting.pop(0)).lay(sheet)
            if n not in scene.absent:
                figures[n].layer.lay(sheet)
        if scene.description.companion != "nobody":
            self._companion(first).lay(sheet)
        for thing in waiting:
            self._thing(*thing).lay(sheet)
        backdrop.front.lay(sheet)

        self.painter.lamps(sheet.colours, sheet.lamps)
        labels, numbers, depth = maps.unpack(sheet.packed)
        shown = tuple(_shown(figures[n].figure, labels, numbers) for n in sorted(figures))
        image = np.ascontiguousarray(sheet.colours[:, :, :3])
        surface.light_silhouette(image, labels, self.palette, self.main)
        image = surface.finished(image, labels, self.palette, self.canvas, [one.head for one in shown])
        view = replace(
            view, horizon=view.horizon + float(self.shift[1]), spots=tuple(replace(s, origin=s.origin + self.shift) for s in view.spots)
        )
        glow = sum(lamp.strength * lamp.radius**2 for lamp in sheet.lamps) / labels.size
        return Drawing(image, labels, numbers, depth, shown, view, self.light.toward, glow, sheet.albedo)

    # -- layers ------------------------------------------------------------------------------------------

    def _figure(self, n: int) -> _FigureLayer:
        person, held, spot = self.scene.description.figures[n], self.scene.postures[n], self.scene.camera.spots[n]
        ground = self.scene.camera.shows_ground
        mixed = self.scene.mixed[n] if self.scene.mixed else None
        key = (
            "figure",
            self.air,
            n,
            person,
            mixed,
            _key(held),
            spot.scale,
            tuple(spot.origin),
            self.main,
            self.wind,
            ground,
            self.with_albedo,
        )

        def make() -> _FigureLayer:
            setting = Setting(n + 1, spot.scale, spot.origin + self.shift, self.light, self.wind, self.detailed, self.palette.finish.flat)
            figure = DrawnFigure(DisplayList(self.canvas), person, held, setting)
            if mixed is not None:
                figure.mixed = mixed.expression, mixed.body
            if ground:
                _contact(figure)
            where = (self.canvas, self.detailed, n, _key(held), spot.scale, tuple(spot.origin), mixed, person.layout)
            parts.draw(figure, where)
            layer = painted(self.painter, self.canvas, figure.display.ordered(), figure.display.lamps, self.with_albedo)
            if figure.natural:
                layer = self._rounded(layer, figure)
            figure.display = DisplayList(self.canvas)
            return _FigureLayer(layer, figure)

        return self.layers.get(key, make)

    def _rounded(self, layer: PaintedLayer, f: DrawnFigure) -> PaintedLayer:
        """The layer of a natural figure with its cloth and limbs lit as if they were round."""
        if not layer.colours.size:
            return layer
        labels = np.where(layer.packed[..., 3] > 0, maps.unpack(layer.packed)[0], 0)
        shoulders = f.px([f.j[f"{side} shoulder"] - (0, 0.02) for side, _ in SIDES]) - layer.corner
        return replace(layer, colours=rounded(layer.colours, labels, f.scale, self.light, shoulders))

    def _companion(self, beside: DrawnFigure) -> PaintedLayer:
        d, spot = self.scene.description, self.scene.camera.spots[0]
        number = len(self.scene.postures) + 1
        stance = d.figures[0], _key(self.scene.postures[0]), spot.scale, tuple(spot.origin), self.wind
        own = dict(d.tones).get("companion")
        key = ("companion", self.air, d.companion, own, number, stance, self.main, self.with_albedo)

        def make() -> PaintedLayer:
            setting = Setting(number, spot.scale, spot.origin, self.light, self.wind, self.detailed)
            f = DrawnFigure(DisplayList(Canvas(self.canvas.size)), beside.is_, beside.posture, setting)
            before = len(f.display.items)
            companions.draw(f, d.companion)  # on the side on which the picture itself has room
            if own is not None:
                recoloured(f.display.items[before:], np.asarray(own))
            f.display.move(*self.shift)
            return painted(self.painter, self.canvas, f.display.ordered(), f.display.lamps, self.with_albedo)

        return self.layers.get(key, make)

    def _thing(self, k: int, thing: Thing) -> PaintedLayer:
        number = len(self.scene.postures) + 2 + k
        key = ("thing", self.air, thing, number, self.main, self.with_albedo)

        def make() -> PaintedLayer:
            setting = Setting(number, thing.scale, point(*thing.foot), self.light, 0.0, self.detailed)
            # a thing has nobody's colours: it stays as it is, whatever people wear
            nobody = Person(layout=Layout(facing=thing.facing, depth=max(thing.depth, 0.0)))
            f = DrawnFigure(DisplayList(Canvas(self.canvas.size)), nobody, posture_of(nobody), setting)
            stand(f, thing)
            f.display.move(*self.shift)
            return painted(self.painter, self.canvas, f.display.ordered(), f.display.lamps, self.with_albedo)

        return self.layers.get(key, make)

    def _place_key(self) -> Hashable:
        d, view = self.scene.description, self.scene.camera
        return (
            "place",
            self.air,
            d.place,
            self.scene.farther,
            self.scene.disc,
            self.scene.ground,
            d.tones,
            self._roughed,
            self.scene.cleared,
            d.weather,
            d.layout.ground,
            round(view.zoom, 4),
            view.centre,
            view.blur,
            self.main,
        )

    def _add_disc(self, stage: PlaceFrame, disc: Disc) -> None:
        """The sun or moon, and its light."""
        (x, y), colour = self.shift + disc.at, np.asarray(disc.colour)
        outline = to_path(ellipse((float(x), float(y)), disc.radius, disc.radius, n=40))
        stage.display.items.append(Item(outline, colour, Part.LAMP, 1.0, _DISC_SLOT, emission=1.0, alpha=0.95 * disc.alpha))
        stage.display.lamps.append(Lamp(float(x), float(y), disc.radius * _DISC_REACH, colour, disc.glow * disc.alpha))

    @property
    def _roughed(self) -> frozenset[str]:
        """What stands in the place's own clouds' and hills' stead: shapes that are half grown."""
        return frozenset(rough.kind for rough in self.scene.roughs if rough.grown >= _HALF)

    def _stage(self) -> PlaceFrame:
        d, view = self.scene.description, self.scene.camera
        background = tuple(colour for name, colour in d.tones if name == "background")
        tones = tuple(np.asarray(colour) for colour in self.scene.ground or background)
        own_disc, seed = self.scene.disc is None, d.layout.ground * 7 + 3
        return PlaceFrame(
            DisplayList(self.canvas),
            self.light,
            view.zoom,
            view.centre,
            seed,
            self.detailed,
            own_disc,
            tones,
            self._roughed,
            self.scene.cleared,
        )

    def _roughs(self) -> PaintedLayer:
        """What a board puts into the place, over it and behind everybody."""
        view, scene = self.scene.camera, self.scene
        feet = max(spot.origin[1] for spot in view.spots)
        key = (
            "roughs",
            self.air,
            scene.roughs,
            view.zoom,
            view.centre,
            view.blur,
            view.horizon,
            round(feet / self.canvas.size[1], 2),
            self.main,
        )

        def make() -> PaintedLayer:
            items = rough_items(self._stage(), scene.roughs, view.horizon, feet)
            layer = painted(self.painter, self.canvas, items, [], self.with_albedo)
            blur = view.blur * self.canvas.unit * (1 - self.palette.finish.flat)
            return blurred(layer, blur, self.canvas) if blur > 0.2 else layer

        return self.layers.get(key, make)

    def _backdrop(self) -> _Backdrop:
        d, view, canvas, disc = self.scene.description, self.scene.camera, self.canvas, self.scene.disc
        stage = self._stage()
        if self.scene.farther is None:
            place_called(d.place).build(stage)
        else:
            _built_between(stage, d.place, *self.scene.farther)
        outdoors = [place_called(name).outdoors for name in (d.place, *(self.scene.farther or ())[:1])]
        if outdoors[0]:
            weather.add(stage, d.weather)
        if disc is not None and any(outdoors):  # one that is coming stands behind the walls of a place that goes
            self._add_disc(stage, disc)
        items = stage.display.ordered()
        back = [item for item in items if item.slot < _BACKGROUND_SLOT]
        colours = np.full((canvas.height, canvas.width, 4), 255, np.uint8)
        self.painter.paint(colours, back)
        blur = view.blur * canvas.unit * (1 - self.palette.finish.flat)
        if blur > 0.2:
            colours = np.ascontiguousarray(cv2.GaussianBlur(colours, (0, 0), blur))
        packed = maps.blank(canvas.width, canvas.height)
        maps.stamp(packed, back)
        before = [item for item in items if item.slot >= _BACKGROUND_SLOT]
        return _Backdrop(colours, packed, painted(self.painter, canvas, before, [], False), tuple(stage.display.lamps))


def _built_between(stage: PlaceFrame, place: str, other: str, depth: float) -> None:
    """Builds a place that is another from a depth on; its lamps are of the one that the middle ground is."""
    display, items, lamps = stage.display, [], []
    for name in (place, other):
        display.items, display.lamps = [], []
        place_called(name).build(stage)
        items += [item for item in display.items if (item.depth >= depth) == (name == other)]
        lamps += display.lamps if (depth < _MIDDLE_GROUND) == (name == other) else []
    display.items, display.lamps = items, lamps


def _key(held: Posture) -> Hashable:
    return held.joints.tobytes(), held.head, held.hands, held.behind, held.seated, held.lying


def _shown(f: DrawnFigure, labels: NDArray[np.uint8], numbers: NDArray[np.uint8]) -> Shown:
    placed = f.px(f.posture.joints)
    if f.head_points is not None:  # of a solid, which knows them by their own sides
        placed[_OF_HEAD] = f.head_points if f.facing > 0 else f.head_points[_OTHER_SIDE]
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
    head = (float(hx), float(hy), 0.5 * f.scale * f.head_size)
    if f.facing > 0:
        return Shown(f.is_, placed, visible, f.landmarks, head)
    swap = {"right": "left", "left": "right"}
    landmarks = {" ".join(swap.get(word, word) for word in name.split()): at for name, at in f.landmarks.items()}
    return Shown(f.is_, mirrored(placed), mirrored(visible), landmarks, head)


def _contact(f: DrawnFigure) -> None:
    """The shadow on the ground and, for a seated figure, its seat."""
    ankles = [f.j["right ankle"], f.j["left ankle"]]
    middle, apart = (ankles[0] + ankles[1]) / 2, abs(ankles[0][0] - ankles[1][0])
    if f.posture.lying:  # with the whole body, or on the hands
        x = f.posture.joints[:, 0] if f.down[1] > -_UPSIDE_DOWN else f.posture.joints[[AT["right wrist"], AT["left wrist"]], 0]
        middle, apart = point((x.min() + x.max()) / 2, 0.0), float(np.ptp(x))
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
