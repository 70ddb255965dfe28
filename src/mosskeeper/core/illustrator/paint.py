"""From a display list to colour: base coats, form shadows, marks, outlines and lamps."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import skia
from numpy.typing import NDArray

from mosskeeper.core.illustrator.items import FIGURE_SLOT, DisplayList, Item, Lamp, Mark
from mosskeeper.core.illustrator.vocabulary.colours import Rgb, rgb
from mosskeeper.core.illustrator.vocabulary.finishes import Finish
from mosskeeper.core.illustrator.vocabulary.light import Light

Tone = tuple[float, float, float]  # of a colour, sRGB 0…1
PAPER = rgb("f6efe0")
_PAPER: Tone = (float(PAPER[0]), float(PAPER[1]), float(PAPER[2]))
_FOG_FROM = 0.38  # depth at which the air begins to be seen
_DEEP = 0.62
_FINE_FROM = 0.4  # unit below which shadows between shapes and rims inside them would be under a pixel


@dataclass(frozen=True, slots=True)
class Halo:
    """Air in the colour of the horizon behind the figure, which lifts it off the place."""

    x: float
    y: float
    radius: float


class LitPalette:
    """The light of one picture, applied to albedos. `haze` is the density of the air, by place and weather.

    Three numbers at a time are reckoned with as plain floats: as arrays they cost ten times as much, for every item and mark.
    """

    def __init__(self, light: Light, finish: Finish, haze: float = 1.0) -> None:
        self.light, self.finish, self.haze = light, finish, haze
        self._key, self._shadow, self._rim = _tone(light.key), _tone(light.shadow), _tone(light.rim)
        self.fog_colour = _tone(rgb(light.fog))
        self._lit: dict[tuple[Tone, float, float], Tone] = {}

    def fog(self, depth: float) -> float:
        return min(max((depth - _FOG_FROM) / (1 - _FOG_FROM), 0.0), 1.0) * 0.74 * self.haze

    def lit(self, albedo: Rgb, depth: float, emission: float = 0.0) -> Tone:
        """A colour under the light, in the air between, and with the paper shining through."""
        asked = _tone(albedo), depth, emission
        if asked not in self._lit:
            self._lit[asked] = self._thinned(self._under_light(*asked), emission)
        return self._lit[asked]

    def _under_light(self, albedo: Tone, depth: float, emission: float) -> Tone:
        dimmed = self.light.background if depth > 0.385 else 1.0
        fog = min(1.0, self.fog(depth)) * (1 - 0.8 * emission)

        def one(own: float, key: float, air: float) -> float:
            return _clipped((own * key * dimmed * (1 - emission) + own * emission) * (1 - fog) + air * fog)

        return (
            one(albedo[0], self._key[0], self.fog_colour[0]),
            one(albedo[1], self._key[1], self.fog_colour[1]),
            one(albedo[2], self._key[2], self.fog_colour[2]),
        )

    def _thinned(self, colour: Tone, emission: float) -> Tone:
        wash = self.finish.wash
        return colour if not wash or emission else _mixed(colour, 1 - wash, _mixed(colour, 0.35, _PAPER, 0.65), wash)

    def shadow(self, base: Tone, depth: float) -> Tone:
        fog = min(1.0, self.fog(depth))
        grey = (base[0] + base[1] + base[2]) / 3

        def one(own: float, shadow: float) -> float:
            return _clipped(_clipped(grey + (own - grey) * 1.12) * (shadow * (1 - fog) + fog))

        return one(base[0], self._shadow[0]), one(base[1], self._shadow[1]), one(base[2], self._shadow[2])

    def highlight(self, base: Tone) -> Tone:
        def one(own: float, rim: float) -> float:
            return _clipped(own + (rim - own * 0.55) * 0.42)

        return one(base[0], self._rim[0]), one(base[1], self._rim[1]), one(base[2], self._rim[2])

    @property
    def ink(self) -> Tone:
        return (0.05, 0.05, 0.11) if self.light.background < 0.7 else (0.13, 0.10, 0.14)


def _tone(c: Rgb | Sequence[float]) -> Tone:
    r, g, b = c.tolist() if isinstance(c, np.ndarray) else c
    return float(r), float(g), float(b)


def _clipped(v: float) -> float:
    return min(max(v, 0.0), 1.0)


def _mixed(a: Tone, much: float, b: Tone, more: float) -> Tone:
    """`much` of one colour and `more` of another."""
    return a[0] * much + b[0] * more, a[1] * much + b[1] * more, a[2] * much + b[2] * more


def _times(c: Tone, k: float) -> Tone:
    return c[0] * k, c[1] * k, c[2] * k


def _colour(c: Tone, alpha: float = 1.0) -> skia.Color4f:
    return skia.Color4f(c[0], c[1], c[2], float(min(alpha, 1.0)))


def _fill(c: Tone, alpha: float = 1.0, blur: float = 0.0) -> skia.Paint:
    p = skia.Paint(AntiAlias=True)
    p.setColor4f(_colour(c, alpha))
    if blur > 0.25:
        p.setMaskFilter(skia.MaskFilter.MakeBlur(skia.kNormal_BlurStyle, float(blur)))
    return p


def _stroke(c: Tone, alpha: float, width: float) -> skia.Paint:
    p = _fill(c, alpha)
    p.setStyle(skia.Paint.kStroke_Style)
    p.setStrokeWidth(float(width))
    p.setStrokeJoin(skia.Paint.kRound_Join)
    return p


def _moved(path: skia.Path, dx: float, dy: float) -> skia.Path:
    copy = skia.Path(path)
    copy.offset(float(dx), float(dy))
    return copy


def _outside(path: skia.Path) -> skia.Path:
    copy = skia.Path(path)
    copy.setFillType(skia.PathFillType.kInverseWinding)
    return copy


class Painter:
    """Paints items of a display list into one canvas.

    `figure_px` is the height of a head in pixels / 0.78: form shadows and contact shadows scale with it.
    """

    def __init__(self, display: DisplayList, palette: LitPalette, figure_px: float) -> None:
        self.display, self.palette = display, palette
        self.finish, self.light = palette.finish, palette.light
        self.unit = display.unit
        self.head = figure_px / 100
        self.toward = palette.light.toward
        self._hatch: skia.Path | None = None
        self.fine = self.unit > _FINE_FROM

    def paint(self, canvas_u8: NDArray[np.uint8], items: list[Item]) -> None:
        """Draws `items` into an opaque RGBA canvas (H, W, 4) uint8, in place."""
        surface = skia.Surface(canvas_u8)
        self.paint_on(surface.getCanvas(), items)
        surface.flushAndSubmit()

    def paint_on(self, canvas: skia.Canvas, items: list[Item]) -> None:
        for item in items:
            self._item(canvas, item)

    def halo(self, canvas_u8: NDArray[np.uint8], halo: Halo) -> None:
        """Draws the air behind figures into an opaque RGBA canvas, in place."""
        if self.finish.flat < 0.5:
            surface = skia.Surface(canvas_u8)
            self._halo(surface.getCanvas(), halo)
            surface.flushAndSubmit()

    def lamps(self, canvas_u8: NDArray[np.uint8], lamps: list[Lamp]) -> None:
        """Draws the light of lamps into an opaque RGBA canvas, in place."""
        surface = skia.Surface(canvas_u8)
        canvas = surface.getCanvas()
        modes = (skia.BlendMode.kSoftLight, skia.BlendMode.kScreen, skia.BlendMode.kScreen)
        for lamp in lamps:
            own = _tone(lamp.colour)
            for reach, alpha, mode in zip((1.25, 1.0, 0.36), (0.85, 0.26, 0.50), modes, strict=True):
                stops = [
                    _colour(own, min(1, alpha * lamp.strength)).toColor(),
                    _colour(own, alpha * lamp.strength * 0.35).toColor(),
                    _colour(own, 0).toColor(),
                ]
                radius = float(lamp.radius * reach)
                p = skia.Paint()
                p.setShader(skia.GradientShader.MakeRadial((lamp.x, lamp.y), radius, stops, [0, 0.35, 1.0]))
                p.setBlendMode(mode)
                canvas.drawCircle(lamp.x, lamp.y, radius, p)
        surface.flushAndSubmit()

    # -- one item ---------------------------------------------------------------------------------------

    def _item(self, canvas: skia.Canvas, item: Item) -> None:
        base = self.palette.lit(item.albedo, item.depth, item.emission)
        self._thrown_shadow(canvas, item)
        if item.painting is not None:
            canvas.drawImage(
                skia.Image.fromarray(self._in_air(item), skia.kRGBA_8888_ColorType, skia.kPremul_AlphaType),
                *map(float, item.painting.corner),
            )
            if self.finish.line and item.line:
                self._outline(canvas, item, self.palette.shadow(base, item.depth))
            return
        canvas.drawPath(item.path, _fill(base, item.alpha, item.blur * self.unit))
        inside = item.shade > 0 or item.marks or item.gradient or (self.finish.edge and item.drop)
        outlined = self.finish.line and item.line
        if not (inside or outlined):
            return
        shade = self.palette.shadow(base, item.depth)
        if inside:
            canvas.save()
            canvas.clipPath(item.path, skia.ClipOp.kIntersect, True)
            self._inside(canvas, item, shade, self.palette.highlight(base))
            canvas.restore()
        if outlined:
            self._outline(canvas, item, shade)

    def _in_air(self, item: Item) -> NDArray[np.uint8]:
        """Pixels of a painting (h, w, 4), multiplied by their alpha: in the air before them, and with the paper shining through."""
        assert item.painting is not None
        colours: NDArray[Any] = item.painting.colours
        fog, wash = min(1.0, self.palette.fog(item.depth)), 0.65 * self.finish.wash
        if fog or wash:
            over = np.asarray(self.palette.fog_colour, np.float32) * (fog * (1 - wash)) + np.asarray(_PAPER, np.float32) * wash
            colours = colours * np.float32((1 - fog) * (1 - wash)) + np.append(over, np.float32(0)) * colours[..., 3:]
            colours[..., 3] = item.painting.colours[..., 3]
        return np.ascontiguousarray(np.minimum(colours * np.float32(255) + np.float32(0.5), np.float32(255)), np.uint8)

    def _thrown_shadow(self, canvas: skia.Canvas, item: Item) -> None:
        lx, ly = self.toward
        if self.finish.sheet_shadow and item.drop:
            d = item.drop * self.finish.sheet_shadow * self.unit
            path = _moved(item.path, -lx * 2.6 * d, abs(ly) * 2.2 * d + 2.0 * d)
            canvas.drawPath(path, _fill((0.06, 0.04, 0.10), 0.58 * item.alpha, 2.4 * d))
        if self.fine and self.finish.contact and item.drop and item.slot >= FIGURE_SLOT:
            k = self.unit * self.head
            path = _moved(item.path, -lx * 1.6 * k, 1.8 * k)
            alpha = self.finish.contact * min(1, item.drop)
            canvas.drawPath(path, _fill((0.10, 0.05, 0.16), alpha, 2.6 * k))

    def _inside(self, canvas: skia.Canvas, item: Item, shade: Tone, light: Tone) -> None:
        finish, (lx, ly) = self.finish, self.toward
        k = item.shade * self.unit * self.head
        if item.gradient and finish.flat < 0.5:
            self._gradient(canvas, item, shade, light)
        if item.shade > 0 and finish.shadow:
            steps = ((0.23, 0.13, 0.66), (0.085, 0.05, 0.60)) if finish.softness > 0.3 else ((0.12, 0.02, 0.8),)
            if not self.fine:
                steps = steps[:1]
            self._form_shadow(
                canvas,
                item,
                shade,
                [(reach * 100 * k, blur * 100 * k * finish.softness, a * finish.shadow * 1.25) for reach, blur, a in steps],
            )
        if finish.hatch > 0.3 and item.shade > 0:
            canvas.save()
            canvas.clipPath(_moved(item.path, lx * 20 * k, ly * 20 * k), skia.ClipOp.kDifference, True)
            canvas.drawPath(self._hatching(), _stroke(_mixed(self.palette.ink, 0.7, shade, 0.3), 0.5, 0.85 * self.unit))
            canvas.restore()
        for mark in item.marks:
            self._mark(canvas, item, mark, shade, light)
        if self.fine and item.rim and item.shade > 0 and finish.rim:
            path = _moved(_outside(item.path), -lx * 3.1 * k**0.5, -ly * 2.2 * k**0.5)
            colour = _mixed(_tone(self.light.rim), 0.6, light, 0.4)
            alpha = 0.22 * self.light.rim_strength * finish.rim
            canvas.drawPath(path, _fill(colour, alpha, 0.9 * self.unit))
        if finish.edge and item.drop and item.alpha > 0.8:
            paint = _stroke(_times(shade, 0.78), 0.66 * finish.edge * (1 - 0.4 * self.palette.fog(item.depth)), 2.6 * self.unit)
            canvas.drawPath(item.path, paint)
        if finish.flat > 0.5 and item.drop:
            canvas.drawPath(_moved(item.path, -0.4 * lx, 0.5), _stroke((1.0, 1.0, 1.0), 0.42, 0.8 * self.unit))

    def _form_shadow(self, canvas: skia.Canvas, item: Item, shade: Tone, steps: list[tuple[float, float, float]]) -> None:
        """Shadow on the side away from the light: the item's own outside, moved towards the light and blurred.

        `steps` are (distance, blur, alpha), in px. A soft shadow needs no fine grid: it is drawn small and enlarged.
        """
        lx, ly = self.toward
        box = item.path.getBounds()
        coarse = min(4, int(steps[-1][1]))
        outside = _outside(item.path)
        if coarse < 2 or box.isEmpty():
            for reach, blur, alpha in steps:
                canvas.drawPath(_moved(outside, lx * reach, ly * reach), _fill(shade, alpha, blur))
            return
        box = box.makeOutset(coarse, coarse)
        if not box.intersect(skia.Rect.MakeWH(self.display.width, self.display.height)):
            return
        w, h = int(box.width() / coarse) + 1, int(box.height() / coarse) + 1
        small = skia.Surface.MakeRaster(skia.ImageInfo.MakeA8(w, h))
        on_small = small.getCanvas()
        on_small.scale(1 / coarse, 1 / coarse)
        on_small.translate(-box.left(), -box.top())
        for reach, blur, alpha in steps:
            on_small.drawPath(_moved(outside, lx * reach, ly * reach), _fill(shade, alpha, blur))
        to = skia.Rect.MakeXYWH(box.left(), box.top(), w * coarse, h * coarse)
        canvas.drawImageRect(small.makeImageSnapshot(), to, skia.SamplingOptions(skia.FilterMode.kLinear), _fill(shade))

    def _gradient(self, canvas: skia.Canvas, item: Item, shade: Tone, light: Tone) -> None:
        box = item.path.getBounds()
        top = 0.0 if item.gradient < 0 else 0.28 * item.gradient
        stops = [_colour(light, top).toColor(), _colour(shade, 0.75 * abs(item.gradient)).toColor()]
        p = skia.Paint(AntiAlias=True)
        p.setShader(skia.GradientShader.MakeLinear([(box.left(), box.top()), (box.left(), box.bottom())], stops))
        canvas.drawRect(box, p)

    def _mark(self, canvas: skia.Canvas, item: Item, mark: Mark, shade: Tone, light: Tone) -> None:
        flat, alpha = self.finish.flat > 0.5, mark.alpha
        if isinstance(mark.tone, str):
            colour = {"shade": shade, "lit": light, "deep": _times(shade, _DEEP)}[mark.tone]
            if flat:
                alpha *= 0.35 if mark.tone == "lit" else 0.75
        else:
            colour = self.palette.lit(mark.tone, item.depth, item.emission)
        blur = min(mark.blur, 0.6) if flat else mark.blur
        canvas.drawPath(mark.path, _fill(colour, alpha, blur * self.unit))

    def _outline(self, canvas: skia.Canvas, item: Item, shade: Tone) -> None:
        fog = self.palette.fog(item.depth)
        ink = _mixed(self.palette.ink, 1 - fog, _times(_tone(rgb(self.light.fog)), 0.8), fog)
        ink = _mixed(ink, 0.75, shade, 0.25)
        width = item.line * self.finish.line * self.unit * 1.15 * (1 - 0.5 * fog)
        canvas.drawPath(item.path, _stroke(ink, 0.92, width))
        # the line swells on the side away from the light, as a pen pressed harder
        canvas.save()
        canvas.clipPath(item.path, skia.ClipOp.kIntersect, True)
        lx, ly = self.toward
        canvas.drawPath(_moved(_outside(item.path), lx * 1.5 * width, ly * 1.5 * width), _fill(ink, 0.9))
        canvas.restore()

    def _hatching(self) -> skia.Path:
        if self._hatch is None:
            rng, path, canvas = np.random.default_rng(4), skia.Path(), self.display.canvas
            (w, h), (left, top, right, below), u = canvas.size, canvas.wider, self.unit
            gap = 4.6 * u
            own = int((w + h) / gap)
            before = int((left + below) / gap) + (left + below > 0)
            for i in (*range(own), *range(-before, 0), *range(own, own + int((right + top + below) / gap))):
                x = i * gap + left
                jitter = rng.normal(0, u, 3)
                line = [
                    (x + jitter[0] * 0.5, top),
                    (x - h * 0.22 + jitter[1], top + h * 0.35),
                    (x - h * 0.42, top + h * 0.7),
                    (x - h * 0.6 + jitter[2], top + h),
                ]
                if top > 0:
                    line.insert(0, (line[0][0] + top * 0.63, 0))
                if below > 0:
                    line.append((line[-1][0] - below * 0.6, top + h + below))
                path.addPoly([skia.Point(*map(float, p)) for p in line], False)
            self._hatch = path
        return self._hatch

    def _halo(self, canvas: skia.Canvas, halo: Halo) -> None:
        colour = _mixed(_tone(rgb(self.light.fog)), 0.45, _tone(rgb(self.light.sky[2])), 0.55)
        stops = [_colour(colour, a).toColor() for a in (0.50, 0.26, 0.0)]
        p = skia.Paint()
        p.setShader(skia.GradientShader.MakeRadial((halo.x, halo.y), float(halo.radius), stops, [0, 0.45, 1.0]))
        canvas.drawPaint(p)
