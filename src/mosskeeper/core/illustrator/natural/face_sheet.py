"""What is painted on the face: lids, brows, nostrils, lips, freckles, lines, as shapes seen from in front.

They are painted once, flat, and laid over the turned surface like a skin, so that they are right in every view.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import skia

from mosskeeper.core.illustrator.description import Part, Person
from mosskeeper.core.illustrator.natural.form import Form
from mosskeeper.core.illustrator.shapes import Points, ellipse, point, resample, ribbon, spline, taper, to_path
from mosskeeper.core.illustrator.vocabulary.colours import HAIR_COLOURS, SKINS, Rgb, named

LEFT, TOP, WIDE, HIGH = -0.40, -0.42, 0.80, 1.06  # of the painted sheet, hh
_INSIDE, _TEETH, _TONGUE = np.array([0.27, 0.08, 0.09]), np.array([0.93, 0.90, 0.85]), np.array([0.66, 0.30, 0.30])
Outlines = Points | Sequence[Points]


class Sheet:
    """Layers (h, w, 4): paint (premultiplied), zones (red: the opening of an eye, green: wet, blue: shadow of a lid), marks (red: part)."""

    def __init__(self, p: Person, f: Form, scale: float) -> None:
        self.scale, self.f, self.landmarks = scale, f, dict[str, tuple[float, float]]()
        self.skin, self.hair = named(SKINS, p.skin), named(HAIR_COLOURS, p.hair_colour)
        self.line = self.skin * np.array([0.40, 0.25, 0.25]) + np.array([0.05, 0.01, 0.02])
        self.small = float(np.clip(scale / 190, 0.3, 1))  # lines are fainter where they would only be dirt
        self.rng = np.random.default_rng(int(p.face.width * 1e6) % 9973)
        h, w = int(HIGH * scale) + 1, int(WIDE * scale) + 1
        self.paint, self.zones, self.marks = (np.zeros((h, w, 4), np.uint8) for _ in range(3))
        info = skia.ImageInfo.Make(w, h, skia.kRGBA_8888_ColorType, skia.kPremul_AlphaType)
        surfaces = [skia.Surface.MakeRasterDirect(info, layer) for layer in (self.paint, self.zones, self.marks)]
        self._canvas = [surface.getCanvas() for surface in surfaces]
        self._lines()
        if p.freckles:
            self._freckles()
        self._nose()
        self._mouth()
        for s in (-1, 1):
            self._eye(s)
            self._brow(s)
        self._known_by(p.mark)
        for surface in surfaces:
            surface.flushAndSubmit()

    # -- paint ------------------------------------------------------------------------------------------------

    def _draw(self, layer: int, outlines: Outlines, colour: Sequence[float] | Rgb, alpha: float, blur: float, plus: bool = False) -> None:
        p = skia.Paint(AntiAlias=layer < 2)
        p.setColor4f(skia.Color4f(*np.clip(colour, 0, 1).tolist(), float(np.clip(alpha, 0, 1))))
        if plus:
            p.setBlendMode(skia.BlendMode.kPlus)
        if blur * self.scale > 0.3:
            p.setMaskFilter(skia.MaskFilter.MakeBlur(skia.kNormal_BlurStyle, float(blur * self.scale)))
        self._canvas[layer].drawPath(to_path(outlines, placed=lambda q: (q - (LEFT, TOP)) * self.scale), p)

    def fill(self, outlines: Outlines, colour: Rgb, alpha: float = 1.0, blur: float = 0.0, part: Part | None = None) -> None:
        self._draw(0, outlines, colour, alpha, blur)
        if part is not None:
            self.label(outlines, part)

    def stroke(
        self, line: Sequence[tuple[float, float]] | Points, half: float, colour: Rgb, alpha: float, blur: float = 0.001, peak: float = 0.45
    ) -> None:
        if alpha > 0.01:
            self.fill(taper(line, half, peak), colour, alpha, blur)

    def zone(self, outlines: Outlines, channel: int, alpha: float = 1.0, blur: float = 0.0) -> None:
        self._draw(1, outlines, [float(k == channel) for k in range(3)], alpha, blur, plus=True)

    def label(self, outlines: Outlines, part: Part) -> None:
        self._draw(2, outlines, (int(part) / 255, 0, 0), 1.0, 0.0)

    # -- features ---------------------------------------------------------------------------------------------

    def _lines(self) -> None:
        """Folds and lines of age and of the mood."""
        f, line, small = self.f, self.line, self.small
        (child, male, old), (ex, ey, ew, *_), (ny, nw, _), (my, mw, _, smile, _), (squint, raised, _) = (
            f.kind,
            f.eye,
            f.nose,
            f.mouth,
            f.mood,
        )
        fold = small * float(np.clip(0.06 + 0.45 * max(smile, 0) + 0.5 * old + 0.10 * male - 0.08 * child, 0, 0.8))
        for s in (-1, 1):
            laugh = [
                (s * (nw + 0.012), ny - 0.030),
                (s * (nw + 0.044), ny + 0.018),
                (s * (mw + 0.042), my - 0.016),
                (s * (mw + 0.050), my + 0.014 + 0.02 * old),
            ]
            self.stroke(laugh, 0.007, self.skin * np.array([0.68, 0.42, 0.40]), fold * 0.6, 0.006, 0.3)
            self.stroke(laugh[:3], 0.0026, line, fold * 0.40, 0.0012, 0.3)
            thin = self.skin * np.array([0.72, 0.52, 0.58])  # under the eyes
            self.stroke(
                [(s * (ex - 0.055), ey + 0.022), (s * (ex - 0.01), ey + 0.046), (s * (ex + 0.05), ey + 0.036)],
                0.012,
                thin,
                (0.16 + 0.2 * old) * small,
                0.007,
            )
            for dy, more in ((-0.020, 0.030), (0.004, 0.036), (0.028, 0.030)):
                corner = [(s * (ex + ew + 0.016), ey + dy * 0.45), (s * (ex + ew + 0.016 + more), ey + dy + 0.006)]
                self.stroke(corner, 0.0028, line, small * (0.42 * old + 0.35 * max(squint - 0.25, 0)))
            self.stroke(
                [(s * (ex - 0.050), ey + 0.034), (s * ex, ey + 0.062), (s * (ex + 0.052), ey + 0.048)],
                0.0038,
                line,
                0.38 * small * old,
                0.002,
            )
            self.stroke(
                [(s * (mw + 0.014), my + 0.022), (s * (mw + 0.022), my + 0.062), (s * (mw + 0.010), my + 0.10)],
                0.0042,
                line,
                0.26 * small * old,
                0.003,
                0.3,
            )
            self.stroke(
                [(s * 0.020, ey - 0.030), (s * 0.026, ey - 0.058), (s * 0.022, ey - 0.088)],
                0.0042,
                line,
                0.55 * max(-f.brow[2] - 0.2, 0),
                0.002,
            )
        (w, cy, jaw, _), top = f.face, ey - f.brow[0] - 0.03
        for s in (-1, 1):
            self.landmarks |= {f"{_side(s)} cheek": (s * 0.165 * w, ny - 0.04), f"{_side(s)} jaw": (s * jaw * w * 0.82, cy - 0.105)}
        self.landmarks |= {"chin": (0, cy - 0.02), "forehead": (0, ey - 0.22)}
        for k, y in enumerate((top - 0.030, top - 0.062, top - 0.094)):
            across = [(-0.13 + 0.015 * k, y + 0.008), (-0.06, y), (0.02, y + 0.004), (0.10, y - 0.001), (0.135 - 0.015 * k, y + 0.006)]
            self.stroke(across, 0.0030, line, small * (0.28 * old + 0.30 * max(raised - 0.4, 0) * (1 - child)), 0.0015)

    def _freckles(self) -> None:
        rng, (ex, ey, *_) = self.rng, self.f.eye
        at = np.stack([rng.normal(0, 0.115, 84), rng.normal(ey + 0.115, 0.050, 84)], 1)
        at = at[(np.abs(at[:, 0]) < 0.25) & ~((np.abs(np.abs(at[:, 0]) - ex) < 0.08) & (at[:, 1] < ey + 0.05))]
        dots = list[Points]()
        for p in at:
            wide, high = rng.uniform(0.0020, 0.0046, 2)
            dots.append(ellipse(p, wide, high, rng.uniform(0, 3), 8))
        self.fill(dots, self.line * 0.45 + self.skin * np.array([0.62, 0.36, 0.24]), 0.55, 0.0008)

    def _known_by(self, mark: str) -> None:
        if mark == "scar":
            stroke = np.array([(0.205, -0.075), (0.212, 0.02), (0.185, 0.12), (0.150, 0.165)]) + (0, self.f.eye[1])
            self.stroke(stroke + (0.008, 0.003), 0.0075, self.line, 0.55, 0.002)
            self.stroke(stroke, 0.0070, self.skin * np.array([1.10, 1.0, 0.98]) + 0.05, 0.9)
        elif mark == "mole":
            self.fill(ellipse((0.135, self.f.mouth[0] - 0.045), 0.0095, 0.0085, n=12), self.line * 0.8, 0.95, 0.001)

    def _nose(self) -> None:
        y, w, _ = self.f.nose
        for s in (-1, 1):
            hole = [(s * w * u, y - v) for u, v in ((0.20, 0.008), (0.42, 0.019), (0.66, 0.016), (0.60, 0.006), (0.36, 0.002))]
            self.fill(spline(hole), self.line * 0.62, 0.85 * self.small**0.5, 0.0022)
            wing = [(s * w * u, y - v) for u, v in ((0.86, 0.064), (1.06, 0.038), (1.03, 0.012), (0.80, 0.004))]
            self.stroke(wing, 0.0040, self.line, 0.36 * self.small, 0.0016, 0.6)
            self.landmarks[f"{_side(s)} nostril"] = (s * w * 0.45, y - 0.012)
        self.landmarks |= {"nose tip": (0, y - 0.048), "nose bridge": (0, self.f.eye[1])}

    def _mouth(self) -> None:
        (y, w, lip, smile, gape), skin, line = self.f.mouth, self.skin, self.line
        share = 0.35 + 0.25 * min(lip, 1)
        rosy = skin * (np.array([0.86, 0.50, 0.49]) * share + np.array([0.90, 0.68, 0.65]) * (1 - share))
        cy, gap, sag, glad = y + 0.003 - 0.024 * smile, 0.063 * gape, 0.006 * smile, max(smile, 0)
        over, under = 0.0190 * lip * (1 - 0.25 * glad), 0.0265 * (0.25 + 0.75 * lip) * (1 - 0.12 * glad)

        def across(*half: tuple[float, float], corner: float = 1.0) -> Points:
            """A curve from corner to corner through places given on one side, as shares of the width, and in the middle (0)."""
            right = [(w * u, v) for u, v in half]
            left = [(-x, v) for x, v in right if x]
            return spline([(-w * corner, cy), *left, *right[::-1], (w * corner, cy)], False, 6)

        def seam(down: float) -> Points:
            return across((0.55, y + sag + down * 0.72), (0.18, y + sag * 0.8 + down - 0.0015), (0, y + 0.002 + sag + down))

        high, low = seam(0.0), seam(gap)
        bow = across((0.55, y - over * 0.55 + sag * 0.6), (0.24, y - over), (0, y - over * 0.80))[::-1]
        bottom = across((0.55, y + gap * 0.85 + under * 0.78 + sag), (0, y + gap + under + sag), corner=0.94)[::-1]
        lower = np.vstack([low, bottom])
        self.fill(np.vstack([high, bow]), rosy * 0.86, 0.80, 0.0022, Part.MOUTH)
        self.fill(lower, rosy * 1.04, 0.78, 0.0026, Part.MOUTH)
        self.zone(lower * (0.8, 1), 1, 0.9, 0.003)
        if gape > 0.08:
            self.fill(np.vstack([high, low[::-1]]), _INSIDE, 1.0, 0.0008, Part.MOUTH)
            if smile > 0.2:  # one band of teeth: counted ones are never liked
                edge = across((0.5, y + sag + min(gap * 0.50, 0.020)), (0, y + sag + min(gap * 0.62, 0.027)), corner=0.86)
                self.fill(np.vstack([high[3:-3] * (0.97, 1) + (0, 0.001), edge[::-1]]), _TEETH * (0.75 + 0.25 * skin.mean()), 0.95, 0.0012)
            self.fill(ellipse((0, y + gap + 0.004), w * 0.50, gap * 0.34), _TONGUE, 0.8 * (gap > 0.03), 0.003)
        self.stroke(high, 0.0042, line * 0.62, 0.92, 0.0008, 0.5)
        self.label(taper(high, 0.0042), Part.MOUTH)
        for s in (-1, 1):
            self.fill(ellipse((s * (w + 0.002), cy + 0.001), 0.008, 0.006), line, 0.50 * self.small, 0.003)
        self.landmarks |= {
            "mouth right": (-w, cy),
            "mouth left": (w, cy),
            "upper lip": (0, y - over * 0.8),
            "lower lip": (0, y + gap + under),
        }

    def _eye(self, s: int) -> None:
        (ex, ey, w, h, _, tilt), (child, _, old), (_, lash, lids), skin, line = self.f.eye, self.f.kind, self.f.more, self.skin, self.line
        c, h, dark, low = point(s * ex, ey), h * max(lids, 0.25), line * 0.42, 0.40 * (1 - 0.5 * self.f.mood[0])

        def at(*rows: tuple[float, float]) -> Points:
            """Places in half widths outwards and heights of the opening downwards."""
            return np.array([c + (s * u * w, v * h - tilt * u * w * 0.55) for u, v in rows])

        upper = spline(
            at((-1.03, 0.20), (-0.76, -0.16), (-0.36, -0.50), (0.06, -0.585), (0.52, -0.44), (0.86, -0.10), (1.03, 0.14)), False, 6
        )
        lower = spline(at((1.03, 0.14), (0.62, low * 0.88), (0.15, low), (-0.36, low * 0.88), (-0.78, low * 0.68), (-1.03, 0.20)), False, 6)
        crease = at((-0.86, -0.20), (-0.40, -0.66), (0.08, -0.74), (0.62, -0.50), (1.06, 0.10 * old)) - (
            0,
            0.020 - 0.004 * old - 0.004 * child,
        )
        self.stroke(crease + (0, 0.004), 0.010, skin * np.array([0.78, 0.56, 0.52]), 0.40, 0.005, 0.5)
        self.stroke(crease, 0.0030, line, 0.62 * self.small, 0.001, 0.55)
        if lids < 0.25:
            shut = spline(at((-1.0, 0.25), (-0.4, 0.62), (0.2, 0.70), (0.7, 0.5), (1.05, 0.1)), False, 6)
            self.fill(taper(shut, 0.0058, 0.6), dark, 0.95, 0.0005, Part.EYES)
        else:
            self.zone(np.vstack([upper, lower[1:-1]]), 0)
            self.label(np.vstack([upper, lower[1:-1]]), Part.EYES)
            self.zone(np.vstack([upper - (0, h * 0.4), (upper + (0, h * 0.30 + 0.003))[::-1]]), 2, 0.9, 0.003)
            self.fill(ellipse(at((-0.96, 0.17))[0], 0.0075, 0.0050, 0, 10), skin * np.array([0.92, 0.60, 0.58]), 0.9, 0.001)
            rim = resample(lower[3:-2], 8)
            self.stroke(rim + (0, 0.001), 0.0032, line, 0.55 * self.small, 0.0008, 0.35)
            self.stroke(rim + (0, 0.0072), 0.0042, skin * 1.08 + 0.03, 0.30, 0.002, 0.5)
            wing = resample(np.vstack([upper, at((1.06 + 0.10 * lash, 0.02 - 0.16 * lash))]), 14) - (0, 0.0012)
            self.fill(taper(wing, 0.0048 + 0.0026 * lash, 0.66), dark, 0.95, 0.0004, Part.EYES)
            for u in np.linspace(0.10, 1.0, 8 if lash > 0.7 and self.small > 0.8 else 0):
                root, out = wing[int(6 + u * 6)], (0.10 + 0.20 * u) * w
                self.stroke([root, root + (s * out * 0.45, -0.006), root + (s * out, -0.013 - 0.004 * u)], 0.0013, dark, 0.75, 0, 0.3)
        for mark, p in (
            ("pupil", c),
            ("eye inner", upper[0]),
            ("eye outer", upper[-1]),
            ("upper lid", upper[18]),
            ("lower lid", lower[12]),
        ):
            self.landmarks[f"{_side(s)} {mark}"] = (float(p[0]), float(p[1]))

    def _brow(self, s: int) -> None:
        up_, angle, inner, skew, thickness, _ = self.f.brow
        x, y, inner, angle = self.f.eye[0], self.f.eye[1] - up_ - s * skew * 0.018, -inner * 0.026, 0.016 * angle
        line = spline([
            (s * (x - 0.074 - max(inner, 0) * 0.3), y + 0.013 + inner + angle), (s * (x - 0.030), y + 0.0005 + inner * 0.55 + angle * 0.4), (s * (x + 0.022), y - 0.009 + inner * 0.08),
            (s * (x + 0.056), y - 0.006 - inner * 0.15 - angle * 0.4), (s * (x + 0.092), y + 0.016 - inner * 0.3 - angle * 0.6),
        ], False, 6)  # fmt: skip
        thick = 0.0098 * thickness**0.75 * (1 - 0.15 * self.f.kind[0])
        colour, rng, t = self.hair * 0.66 + self.line * 0.20, self.rng, np.arange(30) / 30
        self.fill(ribbon(line, [thick * 0.75, thick * 0.95, thick * 0.75, thick * 0.15], 2), colour, 0.62, 0.0035, Part.BROW)
        spine = resample(line, 31)
        along = np.diff(spine, axis=0)
        along /= np.hypot(*along.T)[:, None] + 1e-9
        up = np.stack([along[:, 1], -along[:, 0]], 1) * s
        lean = np.clip(1.1 - 2.2 * t, 0.05, 1.0)[:, None]
        root = spine[:-1] - up * (thick * rng.uniform(-0.3, 0.9, 30) * (1 - 0.6 * t))[:, None]
        reach = (0.026 * (1 - 0.35 * t) * rng.uniform(0.7, 1.1, 30) * (0.6 + 0.4 * thickness))[:, None]
        way, side = along * (1 - 0.6 * lean) + up * lean * 0.9, up * (0.0018 + 0.0008 * thickness)
        hairs = np.stack(
            [
                root - side * 0.5,
                root + way * reach * 0.5 - side,
                root + (way + along * 0.3) * reach,
                root + way * reach * 0.5 + side,
                root + side * 0.5,
            ],
            1,
        )
        for k, tone in enumerate((0.80, 1.02)):
            self.fill(list(hairs[k::2]), colour * tone, 0.72, 0.0004)
        for name, p in zip(("inner", "middle", "outer"), (line[0], line[len(line) // 2], line[-1]), strict=True):
            self.landmarks[f"{_side(s)} brow {name}"] = (float(p[0]), float(p[1]))


def _side(s: int) -> str:
    return "right" if s < 0 else "left"
