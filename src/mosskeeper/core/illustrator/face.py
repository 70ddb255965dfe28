"""The head without its hair: skull, ears, eyes, brows, nose, mouth, marks of age, beard and glasses.

Positions are in head coordinates: x to the figure's left on the picture's right, y down, the head 1 high.
Every part takes its measures from `Face`, so that one likeness carries through all expressions and views.
"""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator import beards
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.figure import DrawnFigure
from mosskeeper.core.illustrator.items import Item
from mosskeeper.core.illustrator.shapes import Points, ellipse, point, points, spline, taper
from mosskeeper.core.illustrator.vocabulary.colours import EYE_COLOURS, Rgb, named

# Landmarks of a face seen from in front; in profile those of the far side are missing.
LANDMARKS = (
    *(
        f"{side} {name}"
        for side in ("right", "left")
        for name in (
            "pupil",
            "eye inner",
            "eye outer",
            "upper lid",
            "lower lid",
            "brow inner",
            "brow middle",
            "brow outer",
            "nostril",
            "cheek",
            "jaw",
        )
    ),
    "mouth right",
    "mouth left",
    "nose bridge",
    "nose tip",
    "upper lip",
    "lower lip",
    "chin",
    "forehead",
    *(f"{side} {name}" for side in ("right", "left") for name in ("cheek contour", "ear low")),
    "upper lip edge",
    "lower lip edge",
)
EYE_LINE = 0.075
MOUTH_LINE = 0.325
_CLOSED = 0.25  # of an open eye, below which the lids meet
_TEETH = np.array([0.98, 0.96, 0.92])
MOUTH_INSIDE = np.array([0.36, 0.09, 0.11])
_TONGUE = np.array([0.82, 0.36, 0.36])
WHITE_OF_EYE = np.array([0.975, 0.96, 0.93])
FRAME = np.array([0.30, 0.20, 0.20])
_FRECKLES = (
    (-0.17, 0.17),
    (-0.22, 0.19),
    (-0.12, 0.20),
    (-0.19, 0.225),
    (0.17, 0.17),
    (0.22, 0.19),
    (0.12, 0.20),
    (0.19, 0.225),
    (-0.02, 0.16),
    (0.03, 0.17),
    (-0.26, 0.215),
    (0.26, 0.215),
    (-0.145, 0.235),
    (0.15, 0.24),
)


def draw(f: DrawnFigure, fringe: list[Points]) -> None:
    """Draws the head; `fringe` are the outlines of hair that throws its shadow on the forehead."""
    line = line_colour(f)
    _ears(f)
    face = _skull(f, fringe)
    _flesh(f, face, line)
    _nose(f, face, line)
    if f.body.age:
        _age(f, face, line)
    for sign in (-1, 1):
        _eye(f, face, line, sign)
        _brow(f, face, line, sign)
    _mouth(f, face, line)
    beards.from_in_front(f, face, MOUTH_LINE)
    if f.is_.mark != "none":
        _mark(f, face, line)
    if f.is_.glasses:
        _glasses(f)


def line_colour(f: DrawnFigure) -> Rgb:
    """The colour in which features are drawn on the figure's skin."""
    return np.asarray(f.skin * np.array([0.42, 0.27, 0.27]) + np.array([0.05, 0.0, 0.02]))


def contour(f: DrawnFigure) -> Points:
    """Outline of the face from crown to chin, in figure coordinates."""
    g, body = f.is_.face, f.body
    jaw, cheek = body.jaw + g.jaw, body.cheek + g.cheek
    half = [
        (0.22, -0.47),
        (0.365, -0.31),
        (0.41, -0.05),
        (0.392 + cheek, 0.13),
        (0.335 + jaw + cheek, 0.285),
        (0.215 + jaw, 0.42),
        (0.09 + jaw * 0.8, 0.485),
    ]
    right = [(x * (g.width if y > -0.2 else 0.5 + 0.5 * g.width), y) for x, y in half]
    for s, side in ((-1, "right"), (1, "left")):
        f.landmarks[f"{side} jaw"] = f.px(f.on_head(_turned(f, s * right[5][0], right[5][1])))[0]
        f.landmarks[f"{side} cheek contour"] = f.px(f.on_head(_turned(f, s * right[4][0], right[4][1])))[0]
    f.landmarks["chin"] = f.px(f.on_head(_turned(f, 0.0, 0.497)))[0]
    f.landmarks["forehead"] = f.px(f.on_face((0.0, -0.22)))[0]
    outline = [(0.0, -0.5), *right, (0.0, 0.497), *((-x, y) for x, y in reversed(right))]
    return spline(f.on_head([_turned(f, x, y) for x, y in outline]), True, 6)


def _turned(f: DrawnFigure, x: float, y: float) -> tuple[float, float]:
    """A point of the contour as turn and nod of the head leave it."""
    near = float(np.sign(x) == np.sign(f.turn)) * (y > 0)
    x = x + f.turn * 0.075 * max(0, y + 0.15) - f.turn * 0.02 * near
    if y > 0:
        y *= (1 + f.body.face_length) * f.is_.face.length * (1 + (0.03 if f.nod > 0 else 0.10) * f.nod)
    return x, y


def _place(f: DrawnFigure, name: str, x: float, y: float) -> None:
    f.landmarks[name] = f.px(f.on_face((x, y)))[0]


def _ears(f: DrawnFigure) -> None:
    w, k, turn = f.is_.face.width, f.is_.face.ear_size, f.turn
    for s in (-1, 1):
        if f.hood or s * turn > 0.75:
            continue
        shift = turn * 0.03
        outline = [
            (s * 0.37 * w - shift, 0.085 - 0.105 * k),
            (s * (0.37 * w + 0.085 * k) - shift, 0.085 - 0.115 * k),
            (s * (0.37 * w + 0.105 * k) - shift, 0.07),
            (s * (0.37 * w + 0.06 * k) - shift, 0.085 + 0.105 * k),
            (s * 0.37 * w, 0.085 + 0.105 * k),
        ]
        f.landmarks[f"{'right' if s < 0 else 'left'} ear low"] = f.px(f.on_head(outline[3]))[0]
        item = f.add(spline(f.on_head(outline)), f.skin * np.array([0.97, 0.9, 0.88]), Part.EAR, 149, shade=0.2, drop=0.2)
        inner = taper(f.on_head([(s * 0.43 * w - shift, 0.0), (s * 0.44 * w - shift, 0.08), (s * 0.40 * w, 0.14)]), 0.012)
        f.mark(item, inner, "deep", 0.5)


def _skull(f: DrawnFigure, fringe: list[Points]) -> Item:
    item = f.add(contour(f), f.skin, Part.FACE, 150, shade=0.75, drop=0.6)
    if fringe:
        f.mark(item, (outline + point(0, 0.055) for outline in fringe), "shade", 0.75, 0.9)
    if f.nod < -0.2:  # the underside of the chin
        under = [(-0.26, 0.40), (0, 0.445), (0.26, 0.40), (0.2, 0.6), (-0.2, 0.6)]
        f.mark(item, spline(f.on_head(under)), "shade", 0.5 * -f.nod, 1.4)
    if f.hood:
        shadow = [(-0.5, -0.6), (0.5, -0.6), (0.45, -0.36), (0.2, -0.44), (-0.2, -0.44), (-0.45, -0.36)]
        f.mark(item, spline(f.on_head(shadow)), "shade", 0.8, 2)
    return item


def _flesh(f: DrawnFigure, face: Item, line: Rgb) -> None:
    w, blush, dark = f.is_.face.width, f.expression.blush, -f.light_side
    red = f.skin * np.array([1.02, 0.62, 0.58])
    cheeks = (f.on_face(ellipse((s * 0.225 * w, 0.215), 0.105, 0.07)) for s in (-1, 1))
    f.mark(face, cheeks, red, 0.36 * blush + 0.10, 3.4)
    f.mark(face, f.on_face(ellipse((0, 0.19), 0.055, 0.045)), red, 0.45, 1.8)
    if f.is_.freckles:
        f.mark(face, (f.on_face(ellipse(p, 0.0095, 0.0095, n=6)) for p in _FRECKLES), line * 0.75 + red * 0.25, 0.55)
    lit = [f.on_face(ellipse((-dark * 0.235 * w, 0.165), 0.075, 0.035, dark * 0.5)), f.on_face(ellipse((-dark * 0.12, -0.2), 0.13, 0.07))]
    f.mark(face, lit, "lit", 0.42, 2.2)
    flank = [(dark * 0.16, 0.47), (dark * 0.31, 0.30), (dark * 0.37, 0.05), (dark * 0.50, 0.1), (dark * 0.45, 0.5)]
    f.mark(face, f.on_face(spline(flank)), "shade", 0.5, 1.6)
    size = f.is_.face.eye_size * f.body.eye
    sockets = (f.on_face(ellipse((s * 0.172 * f.is_.face.eye_spacing, EYE_LINE - 0.01), 0.125 * size, 0.095 * size)) for s in (-1, 1))
    f.mark(face, sockets, f.skin * np.array([0.86, 0.72, 0.70]), 0.33, 2.2)


def _nose(f: DrawnFigure, face: Item, line: Rgb) -> None:
    g, turn, dark = f.is_.face, f.turn, -f.light_side
    tip, w = 0.095 + 0.115 * g.nose_length, g.nose_width
    side = 1.0 if (turn > 0.05 or (abs(turn) <= 0.05 and dark > 0)) else -1.0
    if side * dark > 0:
        plane = [(side * 0.01, 0.02), (side * 0.042 * w, 0.10), (side * 0.055 * w, tip), (0, tip + 0.035), (-side * 0.015, tip - 0.03)]
    else:
        plane = [
            (-side * 0.01, 0.03),
            (-side * 0.03 * w, 0.09),
            (-side * 0.065 * w, tip + 0.005),
            (-side * 0.02, tip + 0.03),
            (0, tip - 0.02),
        ]
    f.mark(face, f.on_face(spline(plane)), "shade", 0.55, 1.1)
    wing = [
        (side * 0.030 * w, tip - 0.065),
        (side * 0.052 * w, tip - 0.012),
        (side * 0.036 * w, tip + 0.014),
        (-0.004 * side, tip + 0.022),
        (-side * 0.03 * w, tip + 0.012),
    ]
    f.mark(face, taper(f.on_face(wing), 0.0105, 0.5), line, 0.78, vital=True)
    shine = np.clip(f.skin * 1.12 + 0.05, 0, 1)
    f.mark(face, f.on_face(ellipse((-side * 0.004, tip - 0.022), 0.017, 0.013)), shine, 0.6, 0.7)
    f.mark(face, f.on_face(ellipse((0, tip + 0.05), 0.05, 0.016)), "shade", 0.35, 1)
    _place(f, "nose tip", side * 0.01, tip)
    _place(f, "nose bridge", 0.0, 0.02)
    for s, name in ((-1, "right"), (1, "left")):
        _place(f, f"{name} nostril", s * 0.045 * w, tip + 0.012)
        _place(f, f"{name} cheek", s * 0.225 * g.width, 0.215)
    if f.male and f.is_.facial_hair not in ("beard", "long beard", "stubble"):  # a shaven chin is darker than the cheek
        chin = [(-0.42, 0.18), (-0.25, 0.30), (-0.13, 0.27), (0, 0.285), (0.13, 0.27), (0.25, 0.30), (0.42, 0.18), (0.4, 0.6), (-0.4, 0.6)]
        f.mark(face, spline(f.on_head(chin)), f.hair_colour * 0.5 + f.skin * 0.25, 0.20, 2.0)


def _age(f: DrawnFigure, face: Item, line: Rgb) -> None:
    x, tip = 0.172 * f.is_.face.eye_spacing, 0.095 + 0.115 * f.is_.face.nose_length
    folds = [taper(f.on_face([(s * 0.085, tip - 0.01), (s * 0.125, tip + 0.06), (s * 0.13, tip + 0.12)]), 0.009) for s in (-1, 1)]
    corners = [
        taper(f.on_face([(s * (x + 0.10), EYE_LINE + dy * 0.4), (s * (x + 0.15), EYE_LINE + dy)]), 0.007)
        for s in (-1, 1)
        for dy in (-0.03, 0.01, 0.045)
    ]
    bags = [
        taper(f.on_face([(s * (x - 0.06), EYE_LINE + 0.09), (s * x, EYE_LINE + 0.108), (s * (x + 0.06), EYE_LINE + 0.085)]), 0.007)
        for s in (-1, 1)
    ]
    f.mark(face, folds + corners + bags, line, 0.45)
    forehead = (taper(f.on_face([(-0.14, y), (0, y - 0.012), (0.14, y)]), 0.006) for y in (-0.24, -0.19))
    f.mark(face, forehead, line, 0.35)


def _eye(f: DrawnFigure, face: Item, line: Rgb, s: int) -> None:
    g, e, body = f.is_.face, f.expression, f.body
    size = g.eye_size * body.eye
    opened = max(f.is_.lids, _CLOSED)
    w, h = 0.092 * size * (1 - 0.12 * max(0.0, s * f.turn)), 0.074 * size * e.eye_open * opened
    low = h * (0.72 - 0.5 * e.squint)
    c = point(s * 0.172 * g.eye_spacing, EYE_LINE)
    tilt = point(0, -g.eye_tilt)
    upper = [
        c + point(-s * w, 0.012) - tilt,
        c + point(-s * w * 0.62, -h * 0.68),
        c + point(0, -h),
        c + point(s * w * 0.62, -h * 0.78) + tilt,
        c + point(s * w * 1.04, -0.006) + tilt,
    ]
    lower = [c + point(s * w * 0.6, low * 0.78) + tilt * 0.5, c + point(0, low), c + point(-s * w * 0.6, low * 0.66)]
    gaze = point(np.clip(f.turn * 0.016, -0.02, 0.02), -0.006)
    gaze += point(f.is_.look[0] * f.facing * w * 0.45, f.is_.look[1] * 0.074 * size * 0.4)
    iris, r = c + gaze, 0.060 * size
    name = "right" if s < 0 else "left"
    for mark, p in (("pupil", iris), ("eye inner", upper[0]), ("eye outer", upper[4]), ("upper lid", upper[2]), ("lower lid", lower[1])):
        _place(f, f"{name} {mark}", *p)
    if f.is_.lids < _CLOSED:
        _closed_eye(f, face, line, s, c, w, size)
        return
    ball = f.plain(f.on_face(spline(np.array(upper + lower))), WHITE_OF_EYE, Part.EYES, 152)
    colour = named(EYE_COLOURS, f.is_.eyes)
    f.mark(ball, f.on_face(ellipse(iris, r, r * 1.05)), colour * 0.55, 1, vital=True)
    f.mark(ball, f.on_face(ellipse(iris + point(0, 0.004), r * 0.86, r * 0.9)), colour, 1)
    f.mark(ball, f.on_face(ellipse(iris + point(0, 0.022 * size), r * 0.6, r * 0.5)), np.clip(colour * 1.55 + 0.08, 0, 1), 0.75, 0.6)
    f.mark(ball, f.on_face(ellipse(iris, r * 0.47, r * 0.52)), np.array([0.07, 0.05, 0.07]), 1, vital=True)
    lid_shadow = [
        c + point(x, y) for x, y in ((-w * 1.2, -h * 1.3), (w * 1.2, -h * 1.3), (w * 1.2, -h * 0.42), (0, -h * 0.62), (-w * 1.2, -h * 0.42))
    ]
    f.mark(ball, f.on_face(np.array(lid_shadow)), np.array([0.25, 0.18, 0.25]), 0.38, 0.5)
    lit = f.light_side
    catch = [
        ellipse(iris + point(lit * 0.022 * size, -0.024 * size), 0.0165 * size, 0.019 * size, n=12),
        ellipse(iris + point(-lit * 0.02 * size, 0.02 * size), 0.008 * size, 0.008 * size, n=8),
    ]
    f.plain([f.on_face(p) for p in catch], np.ones(3), Part.EYES, 153, emission=0.8)
    _lids(f, face, line, s, (c, w, h, low, size, tilt), upper, lower)


def _closed_eye(f: DrawnFigure, face: Item, line: Rgb, s: int, eye: Points, w: float, size: float) -> None:
    """The lids together, with the lashes hanging."""
    c = eye + point(0, 0.022)

    def at(*places: tuple[float, float]) -> Points:
        return f.on_face([c + point(s * w * x, y) for x, y in places])

    lids = taper(at((-1, -0.004), (-0.5, 0.020), (0.1, 0.028), (0.7, 0.018), (1.1, -0.006)), 0.017 * size, 0.6)
    f.plain(lids, line * 0.45, Part.EYES, 154)
    f.mark(face, f.on_face(ellipse(c + point(0, -0.035), w * 0.95, 0.042)), "shade", 0.30, 1.2)
    f.mark(face, taper(at((-0.8, -0.062), (0, -0.082), (0.9, -0.06)), 0.0065), line, 0.45)
    lashes = [taper(at((k, 0.022 - 0.02 * k), (k + 1.5, 0.046 - 0.02 * k)), 0.008, 0.4) for k in (0.35, 0.7, 1.0)]
    f.plain(lashes, line * 0.45, Part.EYES, 154, alpha=0.4 + 0.5 * f.body.lash)


def _lids(
    f: DrawnFigure,
    face: Item,
    line: Rgb,
    s: int,
    measures: tuple[Points, float, float, float, float, Points],
    upper: list[Points],
    lower: list[Points],
) -> None:
    c, w, h, low, size, tilt = measures
    lash = f.body.lash
    wing = [
        c + point(-s * w * 1.02, 0.016) - tilt,
        *upper[1:4],
        c + point(s * w * 1.12, -0.014) + tilt,
        c + point(s * w * (1.18 + 0.14 * lash), -0.022 - 0.02 * lash) + tilt,
    ]
    f.plain(taper(f.on_face(wing), 0.022 * size * (0.65 + 0.35 * lash) * 0.78, 0.66), line * 0.45, Part.EYES, 154)
    under = [lower[0] + point(s * 0.01, -0.008), lower[1] + point(s * 0.01, 0.003), lower[2]]
    f.plain(taper(f.on_face(under), 0.0065, 0.35), line, Part.EYES, 154, alpha=0.75)
    crease = [c + point(-s * w * 0.7, -h * 0.95 - 0.012), c + point(0, -h - 0.030), c + point(s * w * 0.85, -h * 0.85 - 0.014) + tilt]
    f.mark(face, taper(f.on_face(crease), 0.0075), line, 0.55)
    if f.expression.squint > 0.3:
        pouch = [c + point(-s * w * 0.7, low + 0.022), c + point(0, low + 0.036), c + point(s * w * 0.8, low + 0.018)]
        f.mark(face, taper(f.on_face(pouch), 0.008), line, 0.4)


def _brow(f: DrawnFigure, face: Item, line: Rgb, s: int) -> None:
    g, e = f.is_.face, f.expression
    size = g.eye_size * f.body.eye
    y = -0.145 * (0.8 + 0.2 * size) - e.brow_raise * 0.05 - g.brow_height - s * e.brow_skew * 0.032
    inner = -e.brow_inner * 0.055 + np.sin(g.brow_angle) * 0.03
    c = point(s * 0.172 * g.eye_spacing, EYE_LINE)
    stroke = [
        c + point(-s * 0.075, y + inner + 0.012),
        c + point(s * 0.01, y - 0.018 + inner * 0.25),
        c + point(s * 0.115, y + 0.022 + e.brow_inner * 0.028 - np.sin(g.brow_angle) * 0.02),
    ]
    for name, p in zip(("inner", "middle", "outer"), stroke, strict=True):
        _place(f, f"{'right' if s < 0 else 'left'} brow {name}", *p)
    colour = f.hair_colour * 0.62 + line * 0.22
    f.plain(taper(f.on_face(stroke), 0.0185 * f.body.brow * (1 + 0.15 * f.body.age), 0.3), colour, Part.BROW, 155)
    if e.brow_inner < -0.5:
        f.mark(face, taper(f.on_face([(s * 0.04, 0.0), (s * 0.032, -0.06)]), 0.008), line, 0.55)


def _mouth(f: DrawnFigure, face: Item, line: Rgb) -> None:
    g, e, lip = f.is_.face, f.expression, f.body.lip
    w, y, curve = 0.098 * g.mouth_width * e.mouth_width, MOUTH_LINE, e.mouth_curve
    rosy, pale = f.skin * np.array([0.86, 0.50, 0.48]), f.skin * np.array([0.9, 0.68, 0.64])
    colour = f.painted("lips", rosy * lip + pale * (1 - lip))
    left, right = point(-w, y - curve * 0.032), point(w, y - curve * 0.032)
    _place(f, "mouth right", *left)
    _place(f, "mouth left", *right)
    opening = (0.085 if curve > 0.3 else 0.10) * e.mouth_open if e.mouth_open > 0.1 else 0.03
    _place(f, "upper lip", 0.0, y - 0.014)
    _place(f, "lower lip", 0.0, y + opening + 0.01)
    top, low = _lip_edges(lip * g.lip_fullness, e.mouth_open, curve)
    _place(f, "upper lip edge", 0.0, y + top)
    _place(f, "lower lip edge", 0.0, y + low)
    if e.mouth_open > 0.1:
        _open_mouth(f, face, line, colour, (w, y, curve, left, right))
    else:
        _closed_mouth(f, face, line, colour, (w, y, curve, left, right))


def _lip_edges(full: float, mouth_open: float, curve: float) -> tuple[float, float]:
    """How far the outer edges of the upper and the lower lip lie from the line of the mouth, head heights."""
    if mouth_open <= 0.1:
        return -0.012 * full + curve * 0.02, 0.04 * (0.6 + 0.4 * full) + curve * 0.018
    smiling = curve > 0.3
    tall = (0.085 if smiling else 0.10) * mouth_open
    top, low = curve * 0.012 - (0.0 if smiling else 0.026) * 0.85, tall + 0.008
    middle = tall * 0.4
    return (top - middle) * 1.16 + middle, (low - middle) * 1.16 + middle


_Mouth = tuple[float, float, float, Points, Points]


def _open_mouth(f: DrawnFigure, face: Item, line: Rgb, colour: Rgb, m: _Mouth) -> None:
    w, y, curve, left, right = m
    smiling = curve > 0.3
    tall = (0.085 if smiling else 0.10) * f.expression.mouth_open
    bow = 0.0 if smiling else 0.026
    upper = [
        left,
        point(-w * 0.5, y + curve * 0.004 - bow),
        point(0, y + curve * 0.012 - bow * 0.85),
        point(w * 0.5, y + curve * 0.004 - bow),
        right,
    ]
    lower = [
        point(w * 0.74, y + tall * 0.55),
        point(w * 0.36, y + tall * 0.95),
        point(0, y + tall + 0.008),
        point(-w * 0.36, y + tall * 0.95),
        point(-w * 0.74, y + tall * 0.55),
    ]
    shape = np.array(upper + lower)
    middle = point(0, y + tall * 0.4)
    f.plain(f.on_face(spline((shape - middle) * point(1.07, 1.16) + middle)), colour, Part.MOUTH, 156, alpha=0.85)
    inside = f.plain(f.on_face(spline(shape)), MOUTH_INSIDE, Part.MOUTH, 157)
    if smiling:
        teeth = [
            (-w * 1.1, y - 0.06),
            (w * 1.1, y - 0.06),
            (w * 0.80, y + curve * 0.008 + 0.010),
            (0, y + curve * 0.020 + 0.020),
            (-w * 0.80, y + curve * 0.008 + 0.010),
        ]
        f.mark(inside, f.on_face(spline(teeth)), _TEETH, 0.97, vital=True)
    f.mark(inside, f.on_face(ellipse((0, y + tall + 0.01), w * 0.55, tall * 0.42)), _TONGUE, 0.95)
    dimples = (
        taper(f.on_face([(s * w * 1.14, y - curve * 0.06), (s * w * 1.26, y - 0.005), (s * w * 1.2, y + 0.03)]), 0.008) for s in (-1, 1)
    )
    f.mark(face, dimples, line, 0.3)


def _closed_mouth(f: DrawnFigure, face: Item, line: Rgb, colour: Rgb, m: _Mouth) -> None:
    w, y, curve, left, right = m
    full = f.body.lip * f.is_.face.lip_fullness
    middle = point(0, y + curve * 0.022)
    upper = [
        left,
        point(-w * 0.45, y - 0.004 - 0.016 * full + curve * 0.008),
        point(-w * 0.12, y - 0.020 * full + curve * 0.018),
        point(0, y - 0.012 * full + curve * 0.02),
        point(w * 0.12, y - 0.020 * full + curve * 0.018),
        point(w * 0.45, y - 0.004 - 0.016 * full + curve * 0.008),
        right,
    ]
    seam = [right, point(w * 0.5, y + curve * 0.014), middle, point(-w * 0.5, y + curve * 0.014), left]
    outline = np.vstack([f.on_face(spline(upper, False, 4)), f.on_face(spline(seam, False, 4))])
    f.plain(outline, colour * 0.92, Part.MOUTH, 156, alpha=0.9)
    corner = y - curve * 0.004 + 0.004
    lower = [
        point(-w * 0.72, corner),
        middle + point(0, 0.004),
        point(w * 0.72, corner),
        point(w * 0.42, y + 0.012 + 0.018 * full + curve * 0.014),
        point(0, y + 0.04 * (0.6 + 0.4 * full) + curve * 0.018),
        point(-w * 0.42, y + 0.012 + 0.018 * full + curve * 0.014),
    ]
    under = f.plain(f.on_face(spline(lower)), np.clip(colour * 1.08, 0, 1), Part.MOUTH, 156, alpha=0.8)
    f.mark(under, f.on_face(ellipse((f.light_side * 0.012, y + 0.02 + curve * 0.016), w * 0.3, 0.006)), np.array([1, 0.9, 0.88]), 0.5, 0.5)
    f.plain(taper(f.on_face(seam), 0.0098, 0.5), line * 0.75, Part.MOUTH, 157)
    f.mark(face, f.on_face(ellipse((0, y + 0.066), w * 0.55, 0.014)), "shade", 0.6, 0.9)
    corners = (
        taper(f.on_face([(s * w, y - curve * 0.05 + 0.004), (s * w * 1.10, y - curve * 0.028), (s * w * 1.06, y + 0.008)]), 0.008)
        for s in (-1, 1)
    )
    f.mark(face, corners, line, 0.34)


def _mark(f: DrawnFigure, face: Item, line: Rgb) -> None:
    """What somebody is known by: a scar over the cheek, or a mole. Always on the same side of the person."""
    if f.is_.mark == "scar":
        stroke = f.on_face([(0.25, 0.10), (0.275, 0.19), (0.235, 0.29)])
        f.mark(face, taper(stroke, 0.017), np.clip(f.skin * 1.12 + 0.05, 0, 1), 0.85, vital=True)
        f.mark(face, taper(stroke + point(0.010, 0.004), 0.008), line, 0.5)
    else:
        f.mark(face, f.on_face(ellipse((0.17, 0.275), 0.017, 0.017, n=12)), line * 0.7, 0.95, vital=True)


def _glasses(f: DrawnFigure) -> None:
    x = 0.172 * f.is_.face.eye_spacing
    for s in (-1, 1):
        c = (s * x, EYE_LINE + 0.01)
        rim = [f.on_face(ellipse(c, 0.135, 0.122, n=26)), f.on_face(ellipse(c, 0.118, 0.105, n=26))[::-1]]
        f.plain(rim, FRAME, Part.ACCESSORY, 159, drop=0.2)
        temple = points((s * (x + 0.128), EYE_LINE - 0.005), (s * (x + 0.20), EYE_LINE - 0.012))
        f.plain(taper(f.on_face(temple), 0.012), FRAME, Part.ACCESSORY, 159, drop=0.1)
    bridge = taper(f.on_face([(-0.05, EYE_LINE - 0.01), (0, EYE_LINE - 0.035), (0.05, EYE_LINE - 0.01)]), 0.012)
    f.plain(bridge, FRAME, Part.ACCESSORY, 159, drop=0.1)
