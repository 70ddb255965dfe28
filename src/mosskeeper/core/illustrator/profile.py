"""The head in profile, without its hair: the contour carries nose, lips and chin; one eye, one ear.

Coordinates are those of `Figure.on_side`. Measures come from the same `Face` as the view from in front, so that one
likeness carries over.
"""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator import beards
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.face import FRAME, MOUTH_INSIDE, WHITE_OF_EYE, line_colour
from mosskeeper.core.illustrator.figure import DrawnFigure
from mosskeeper.core.illustrator.items import Item
from mosskeeper.core.illustrator.shapes import Points, ellipse, point, spline, taper
from mosskeeper.core.illustrator.vocabulary.colours import EYE_COLOURS, Rgb, named

_EYE = (0.275, 0.068)
_FRECKLES = ((0.24, 0.17), (0.29, 0.165), (0.20, 0.19), (0.26, 0.20), (0.31, 0.195), (0.17, 0.17), (0.22, 0.225), (0.36, 0.15))


def draw(f: DrawnFigure, fringe: list[Points]) -> None:
    """Draws the head; `fringe` are the outlines of hair that throws its shadow on it."""
    line = line_colour(f)
    face = f.add(contour(f), f.skin, Part.FACE, 150, shade=0.75, drop=0.6)
    if fringe:
        f.mark(face, (outline + point(0, 0.045) for outline in fringe), "shade", 0.7, 0.9)
    _flesh(f, face, line)
    if not f.hood:
        _ear(f)
    _eye(f, face, line)
    _brow(f, line)
    _mouth(f, face, line)
    beards.from_the_side(f, face, lambda *places: _side(f, *places))
    if f.is_.mark != "none" and f.profile < 0:  # marks lie on the person's left
        _mark(f, face, line)
    if f.is_.glasses:
        _glasses(f)


def _y(f: DrawnFigure, y: float) -> float:
    """Heights below the middle of the head stretch with the length of the face."""
    return y * (1 + f.body.face_length) * f.is_.face.length if y > 0 else y


def _side(f: DrawnFigure, *rows: tuple[float, float]) -> Points:
    return f.on_side([(x, _y(f, y)) for x, y in rows])


def _mark_at(f: DrawnFigure, name: str, x: float, y: float) -> None:
    f.landmarks[name] = f.px(_side(f, (x, y)))[0]


def _nose_tip(f: DrawnFigure) -> tuple[float, float]:
    g = f.is_.face
    return 0.40 + 0.064 * (0.5 + 0.5 * g.nose_length) * (0.7 + 0.3 * g.nose_width), 0.085 + 0.09 * g.nose_length


def contour(f: DrawnFigure) -> Points:
    """Outline of the head from the forehead over nose, lips, chin and nape to the crown."""
    g, e, body = f.is_.face, f.expression, f.body
    jaw, cheek = body.jaw + g.jaw, body.cheek + g.cheek
    tip, drop = _nose_tip(f), 0.055 * e.mouth_open
    full = body.lip * g.lip_fullness
    brow = 0.012 * (body.brow - 0.8)
    outline = [
        (0.14, -0.505),
        (0.32, -0.37),
        (0.385, -0.20),
        (0.392 + brow, -0.055),
        (0.368, 0.02),
        (0.368 * 0.45 + tip[0] * 0.55, 0.02 * 0.4 + tip[1] * 0.6),
        (tip[0] - 0.004, tip[1] - 0.022),
        (tip[0], tip[1] + 0.008),
        (tip[0] - 0.022, tip[1] + 0.036),
        (0.396, tip[1] + 0.044),
        (0.388, 0.255),
        (0.394 + 0.018 * full, 0.283),
        (0.372, 0.318),
        (0.388 + 0.014 * full, 0.345 + drop),
        (0.358, 0.388 + drop),
        (0.374 + jaw * 0.4, 0.440 + drop),
        (0.335 + jaw * 0.4, 0.488 + drop),
        (0.20, 0.475 + drop * 0.8),
        (0.02, 0.405 + jaw * 0.3),
        (-0.115 - jaw * 0.3, 0.285 + cheek),
        (-0.16, 0.10),
        (-0.30, 0.20),
        (-0.46, 0.06),
        (-0.515, -0.18),
        (-0.42, -0.42),
        (-0.16, -0.535),
    ]
    for name, (x, y) in (
        ("nose tip", tip),
        ("nose bridge", (0.368, 0.02)),
        ("upper lip", (0.394, 0.283)),
        ("lower lip", (0.388, 0.345 + drop)),
        ("chin", (0.345, 0.485 + drop)),
        ("forehead", (0.36, -0.28)),
    ):
        _mark_at(f, name, x, y)
    _mark_at(f, f"{_near(f)} jaw", -0.10, 0.29)
    return spline(_side(f, *outline), True, 5)


def _near(f: DrawnFigure) -> str:
    return "right" if f.profile > 0 else "left"


def _flesh(f: DrawnFigure, face: Item, line: Rgb) -> None:
    red = f.skin * np.array([1.02, 0.62, 0.58])
    f.mark(face, _side(f, *ellipse((0.17, 0.215), 0.115, 0.075)), red, 0.36 * f.expression.blush + 0.10, 3.4)
    tip = _nose_tip(f)
    f.mark(face, _side(f, *ellipse((tip[0] - 0.02, tip[1] - 0.005), 0.045, 0.04)), red, 0.22, 2.2)
    if f.is_.freckles:
        f.mark(face, (_side(f, *ellipse(p, 0.0095, 0.0095, n=6)) for p in _FRECKLES), line * 0.75 + red * 0.25, 0.55)
    jaw = [(-0.16, 0.16), (-0.08, 0.34), (0.08, 0.43), (0.24, 0.48), (0.24, 0.60), (-0.25, 0.60), (-0.30, 0.2)]
    f.mark(face, spline(_side(f, *jaw)), "shade", 0.55, 1.8)
    f.mark(face, _side(f, *ellipse((_EYE[0] - 0.01, _EYE[1] - 0.01), 0.095, 0.085)), f.skin * np.array([0.86, 0.72, 0.70]), 0.33, 2.2)
    wing = [
        (tip[0] - 0.075, tip[1] - 0.035),
        (tip[0] - 0.088, tip[1] + 0.005),
        (tip[0] - 0.072, tip[1] + 0.034),
        (tip[0] - 0.045, tip[1] + 0.036),
    ]
    f.mark(face, taper(_side(f, *wing), 0.0105, 0.5), line, 0.75, vital=True)
    _mark_at(f, f"{_near(f)} nostril", tip[0] - 0.07, tip[1] + 0.025)
    _mark_at(f, f"{_near(f)} cheek", 0.17, 0.20)
    if f.body.age:
        lines = [taper(_side(f, (0.33, tip[1]), (0.29, tip[1] + 0.08), (0.285, tip[1] + 0.15)), 0.009)]
        lines += [taper(_side(f, (0.185, _EYE[1] + dy * 0.4), (0.125, _EYE[1] + dy)), 0.007) for dy in (-0.03, 0.01, 0.045)]
        lines += [taper(_side(f, (0.22, y), (0.30, y - 0.012), (0.37, y + 0.005)), 0.006) for y in (-0.24, -0.19)]
        f.mark(face, lines, line, 0.45)
    if f.male and f.is_.facial_hair not in ("beard", "long beard", "stubble"):
        chin = [(0.40, 0.26), (0.20, 0.27), (0.0, 0.24), (-0.12, 0.2), (-0.1, 0.4), (0.1, 0.6), (0.45, 0.6)]
        f.mark(face, spline(_side(f, *chin)), f.hair_colour * 0.5 + f.skin * 0.25, 0.20, 2.0)


def _ear(f: DrawnFigure) -> None:
    k = f.is_.face.ear_size
    outline = [
        (-0.115, -0.02),
        (-0.08, -0.055 * k),
        (-0.02, -0.045 * k),
        (0.0, 0.03),
        (-0.03, 0.11),
        (-0.055, 0.085 + 0.105 * k),
        (-0.09, 0.16),
        (-0.12, 0.07),
    ]
    _mark_at(f, f"{_near(f)} ear low", *outline[5])
    ear = f.add(spline(_side(f, *outline)), f.skin * np.array([0.97, 0.9, 0.88]), Part.EAR, 161.5, shade=0.3, drop=0.3)
    inner = taper(_side(f, (-0.02, 0.0), (-0.075, -0.01), (-0.09, 0.06), (-0.05, 0.12)), 0.014)
    f.mark(ear, inner, "deep", 0.5)


def _eye(f: DrawnFigure, face: Item, line: Rgb) -> None:
    g, e, body = f.is_.face, f.expression, f.body
    size = g.eye_size * body.eye
    h = 0.070 * size * e.eye_open
    low = h * (0.72 - 0.5 * e.squint)
    cx, cy = _EYE
    tilt = g.eye_tilt
    front, back = (cx + 0.052 * size, cy - 0.004), (cx - 0.062 * size, cy + 0.008 - tilt)
    top, bottom = (cx + 0.022 * size, cy - h), (cx + 0.024 * size, cy + low)
    ball = f.plain(
        spline(_side(f, back, (cx - 0.02 * size, cy - h * 0.72), top, front, bottom, (cx - 0.02 * size, cy + low * 0.62))),
        WHITE_OF_EYE,
        Part.EYES,
        152,
    )
    colour = named(EYE_COLOURS, f.is_.eyes)
    iris, r = point(cx + 0.034 * size, cy - 0.004), 0.056 * size
    f.mark(ball, _side(f, *ellipse(iris, r * 0.52, r * 1.05)), colour * 0.55, 1, vital=True)
    f.mark(ball, _side(f, *ellipse(iris + point(0.002, 0.004), r * 0.42, r * 0.9)), colour, 1)
    f.mark(ball, _side(f, *ellipse(iris + point(0.008 * size, 0), r * 0.22, r * 0.5)), np.array([0.07, 0.05, 0.07]), 1, vital=True)
    lid = [(cx - 0.09, cy - h * 1.4), (cx + 0.09, cy - h * 1.4), (cx + 0.08, cy - h * 0.5), (cx, cy - h * 0.62), (cx - 0.09, cy - h * 0.3)]
    f.mark(ball, _side(f, *lid), np.array([0.25, 0.18, 0.25]), 0.38, 0.5)
    f.plain(
        _side(f, *ellipse(iris + point(0.004, -0.024 * size), 0.011 * size, 0.017 * size, n=10)), np.ones(3), Part.EYES, 153, emission=0.8
    )
    lash = body.lash
    wing = [
        back,
        (cx - 0.02 * size, cy - h * 0.74),
        top,
        (front[0] + 0.012, cy - h * 0.55),
        (front[0] + 0.035 + 0.025 * lash, cy - h * 0.75 - 0.01 * lash),
    ]
    f.plain(taper(_side(f, *wing), 0.020 * size * (0.65 + 0.35 * lash) * 0.78, 0.66), line * 0.45, Part.EYES, 154)
    f.plain(taper(_side(f, back, (cx, cy + low * 0.82), (front[0], cy + low * 0.4)), 0.006, 0.35), line, Part.EYES, 154, alpha=0.7)
    f.mark(
        face,
        taper(_side(f, (cx - 0.06 * size, cy - h - 0.008), (cx, cy - h - 0.032), (cx + 0.05 * size, cy - h - 0.02)), 0.0075),
        line,
        0.55,
    )
    near = _near(f)
    for name, p in (("pupil", iris), ("eye inner", front), ("eye outer", back), ("upper lid", top), ("lower lid", bottom)):
        _mark_at(f, f"{near} {name}", *p)


def _brow(f: DrawnFigure, line: Rgb) -> None:
    g, e = f.is_.face, f.expression
    sign = 1 if f.profile > 0 else -1
    y = _EYE[1] - 0.145 - e.brow_raise * 0.05 - g.brow_height + sign * e.brow_skew * 0.032
    inner = -e.brow_inner * 0.055 + np.sin(g.brow_angle) * 0.03
    stroke = [
        (0.362, y + inner + 0.014),
        (0.285, y - 0.016 + inner * 0.25),
        (0.175, y + 0.022 + e.brow_inner * 0.028 - np.sin(g.brow_angle) * 0.02),
    ]
    colour = f.hair_colour * 0.62 + line * 0.22
    f.plain(taper(_side(f, *stroke), 0.0185 * f.body.brow * (1 + 0.15 * f.body.age), 0.3), colour, Part.BROW, 155)
    for name, p in zip(("inner", "middle", "outer"), stroke, strict=True):
        _mark_at(f, f"{_near(f)} brow {name}", *p)


def _mouth(f: DrawnFigure, face: Item, line: Rgb) -> None:
    g, e, lip = f.is_.face, f.expression, f.body.lip
    curve, drop = e.mouth_curve, 0.055 * e.mouth_open
    corner = (0.375 - 0.085 * g.mouth_width * e.mouth_width, 0.318 - curve * 0.030 + drop * 0.3)
    colour = f.painted("lips", f.skin * np.array([0.86, 0.50, 0.48]) * lip + f.skin * np.array([0.9, 0.68, 0.64]) * (1 - lip))
    full = lip * g.lip_fullness
    if e.mouth_open > 0.1:
        inside = [(0.385, 0.308), corner, (0.335, 0.325 + drop), (0.382, 0.330 + drop)]
        f.plain(spline(_side(f, *inside), True, 4), MOUTH_INSIDE, Part.MOUTH, 157)
        if curve > 0.3:
            f.plain(_side(f, (0.386, 0.304), corner, (0.34, 0.325), (0.384, 0.318)), np.array([0.98, 0.96, 0.92]), Part.MOUTH, 157.1)
    upper = [corner, (0.335, 0.298 - 0.008 * full), (0.396 + 0.014 * full, 0.276), (0.400 + 0.016 * full, 0.292), (0.375, 0.314)]
    _mark_at(f, "upper lip edge", *upper[2])
    f.plain(spline(_side(f, *upper), True, 4), colour * 0.92, Part.MOUTH, 156.5, alpha=0.9)
    lower = [
        (corner[0] + 0.02, corner[1] + 0.006),
        (0.374, 0.320 + drop),
        (0.394 + 0.012 * full, 0.338 + drop),
        (0.386, 0.360 + drop),
        (0.335, 0.352 + drop),
    ]
    _mark_at(f, "lower lip edge", *lower[2])
    f.plain(spline(_side(f, *lower), True, 4), np.clip(colour * 1.08, 0, 1), Part.MOUTH, 156, alpha=0.85)
    if e.mouth_open <= 0.1:
        f.plain(taper(_side(f, (0.382, 0.317), (0.33, 0.322 - curve * 0.006), corner), 0.0095, 0.5), line * 0.75, Part.MOUTH, 157)
    f.mark(
        face,
        taper(
            _side(f, (corner[0] - 0.004, corner[1] - 0.025), (corner[0] - 0.016, corner[1]), (corner[0] - 0.008, corner[1] + 0.025)), 0.008
        ),
        line,
        0.5,
    )
    _mark_at(f, f"mouth {_near(f)}", *corner)


def _mark(f: DrawnFigure, face: Item, line: Rgb) -> None:
    if f.is_.mark == "scar":
        stroke = _side(f, (0.19, 0.12), (0.165, 0.20), (0.20, 0.29))
        f.mark(face, taper(stroke, 0.017), np.clip(f.skin * 1.12 + 0.05, 0, 1), 0.85, vital=True)
    else:
        f.mark(face, _side(f, *ellipse((0.24, 0.28), 0.015, 0.017, n=12)), line * 0.7, 0.95, vital=True)


def _glasses(f: DrawnFigure) -> None:
    x, y = _EYE[0] + 0.045, _EYE[1] + 0.01
    rim = [_side(f, *ellipse((x, y), 0.070, 0.122, n=24)), _side(f, *ellipse((x, y), 0.054, 0.105, n=24))[::-1]]
    f.plain(rim, FRAME, Part.ACCESSORY, 159, drop=0.2)
    f.plain(taper(_side(f, (x - 0.06, y - 0.02), (0.10, y - 0.03), (-0.04, y - 0.035)), 0.012), FRAME, Part.ACCESSORY, 159, drop=0.1)
