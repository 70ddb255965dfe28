"""A natural head: from a person and how the head is held to a layer of paint, its parts and its landmarks."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import lru_cache
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Part, Person
from mosskeeper.core.illustrator.items import Canvas
from mosskeeper.core.illustrator.natural import brush, face_sheet, planes, strands
from mosskeeper.core.illustrator.natural import solid as solids
from mosskeeper.core.illustrator.natural import view as views
from mosskeeper.core.illustrator.natural.brush import Strokes
from mosskeeper.core.illustrator.natural.form import Form
from mosskeeper.core.illustrator.natural.styles import hair_of
from mosskeeper.core.illustrator.natural.view import EAR, F32, HEAD, NECK, PIVOT, Array, Maps, View
from mosskeeper.core.illustrator.shapes import resample, spline
from mosskeeper.core.illustrator.surface import textures
from mosskeeper.core.illustrator.vocabulary.colours import EYE_COLOURS, HAIR_COLOURS, SKINS, named
from mosskeeper.core.illustrator.vocabulary.light import Light

_NAMES = np.array([0, Part.FACE, Part.EAR, Part.NECK, Part.HAIR, Part.FACIAL_HAIR], np.uint8)
_FRAME = np.array([0.26, 0.19, 0.19])  # of glasses
# Outline of an ear (back of the head, down), in ear heights, from where it leaves the head above to the lobe and back.
_EAR = np.array([
    (-0.02, -0.22), (0.10, -0.42), (0.27, -0.50), (0.44, -0.44), (0.525, -0.26), (0.49, -0.03), (0.38, 0.17),
    (0.29, 0.33), (0.205, 0.46), (0.115, 0.50), (0.02, 0.42), (-0.03, 0.28), (-0.05, 0.10), (-0.06, -0.05), (-0.02, -0.22),
])  # fmt: skip
_RINGS = np.array([  # of an ear: share of the outline, height there, height at the lobe, how open it lies
    (0.0, -0.10, -0.08, 0.25), (0.18, -0.09, -0.05, 0.30), (0.36, -0.02, 0.0, 0.62), (0.50, 0.055, 0.03, 0.95), (0.62, 0.03, 0.04, 0.70),
    (0.74, -0.01, 0.045, 0.55), (0.84, 0.055, 0.045, 0.85), (0.92, 0.085, 0.04, 1.0), (1.0, 0.05, 0.02, 1.0), (1.0, -0.20, -0.20, 0.6),
])  # fmt: skip


class Held(NamedTuple):
    yaw: float = 0.0  # degrees, to the picture's right
    pitch: float = 0.0  # down
    roll: float = 0.0  # clockwise


@dataclass
class DrawnHead:
    colours: F32  # (h, w, 4) premultiplied
    parts: NDArray[np.uint8]  # (h, w), 0 where there is nothing
    near: F32
    landmarks: dict[str, tuple[float, float]] = field(default_factory=dict)  # px
    behind: DrawnHead | None = None  # hair behind the shoulders
    points: Array | None = None  # (5, 2) px: nose, right and left eye, right and left ear, seen or not


class _Model(NamedTuple):
    """All of a head that does not depend on how it is held."""

    at: Array  # (rows, columns, 3), with hair on it
    normal: Array
    carried: Array
    solid: solids.Solid
    grown: strands.Hair
    whiskers: tuple[Strokes, ...]


def _tints(f: Form, shaven: bool, at: Array) -> Array:
    """Colour of the skin at places of the head (…, 3), over the skin's own: blood, thin skin, a shaven chin."""
    (_, _, old), (w, cy, *_), (ex, ey, *_), ny, my = f.kind, f.face, f.eye, f.nose[0], f.mouth[0]
    made, x = np.ones(at.shape), at * np.where(at[..., :1] < 0, (-1, 1, 1), 1)
    zones = [
        ((0.165 * w, ny - 0.040, 0.30), (0.105, 0.080, 0.14), (1.04, 0.84, 0.81), 0.35 + 0.5 * f.mood[2]),
        ((0, ny - 0.045, 0.48), (0.055, 0.05, 0.08), (1.03, 0.85, 0.82), 0.50 + 0.2 * old),
        ((0, cy - 0.06, 0.38), (0.07, 0.05, 0.08), (1.02, 0.88, 0.86), 0.6),
        ((0, ey - 0.22, 0.36), (0.20, 0.12, 0.2), (1.02, 1.02, 0.985), 0.8),
        ((ex, ey + 0.005, 0.31), (0.07, 0.05, 0.06), (0.93, 0.83, 0.85), 0.55),
        ((0.30, 0.08, 0.0), (0.08, 0.14, 0.10), (1.03, 0.86, 0.84), 0.5),
    ]
    if shaven:
        zones += [
            ((0.10, my + 0.075, 0.34), (0.17, 0.085, 0.14), (0.84, 0.87, 0.92), 0.75),
            ((0.0, ny + 0.045, 0.42), (0.09, 0.035, 0.06), (0.86, 0.88, 0.93), 0.55),
        ]
    for centre, reach, colour, much in zones:
        made *= 1 + (np.array(colour) - 1) * (np.exp(-(((x - centre) / reach) ** 2).sum(-1)) * min(much, 1.0))[..., None]
    return made


def _carried(at: Array, air: Array, tint: Array | tuple[float, float, float], *grown: Array) -> Array:
    return np.dstack([at, air, np.broadcast_to(tint, at.shape), *(grown or (np.zeros(air.shape),) * 2)])


@lru_cache(64)
def _model(f: Form, style: str, facial: str) -> _Model:
    mesh, grown = solids.mesh_of(f), hair_of(style, f, 7)
    mask = strands.grows(grown, mesh.at)
    beard, *whiskers = strands.beard_of(f, facial, mesh.at, 5) if facial != "none" else (np.zeros(mask.shape),)
    outward = mesh.at - solids.CENTRE
    outward /= np.linalg.norm(outward, axis=-1)[..., None]
    at = mesh.at + outward * (grown.thick * mask**2 * (3 - 2 * mask) + 0.012 * beard)[..., None]
    tints = _tints(f, f.kind[1] > 0 and facial not in ("beard", "long beard", "stubble"), mesh.at)
    return _Model(
        at,
        views.normals(at),
        _carried(mesh.at, mesh.air, tints, np.clip(mask * (1 + 18 * grown.thick), 0, 1), beard),
        mesh.solid,
        grown,
        tuple(whiskers),
    )


@lru_cache(32)
def _sheet(p: Person, f: Form, scale: float) -> face_sheet.Sheet:
    return face_sheet.Sheet(p, f, scale * 1.15)


def _ear(f: Form, s: int) -> tuple[Array, Array]:
    """The mesh of one ear and how open it lies."""
    high, outline, middle = 0.222 * f.more[0] * (1 - 0.05 * f.kind[0]), resample(spline(_EAR, False, 4), 41), np.array([0.16, 0.06])
    share, rise, at_lobe, air = (_RINGS[:, k, None] for k in range(4))
    flat = middle + share[..., None] * (outline - middle)
    low = np.clip((flat[..., 1] - 0.12) / 0.22, 0, 1)
    front = np.clip((0.10 - flat[..., 0]) / 0.10, 0, 1) * np.clip((share - 0.3) / 0.3, 0, 1)
    height, air = (rise * (1 - low) + at_lobe * low) * (1 - 0.6 * front), air * (1 - low) + low * 0.95
    angle, back, down = np.deg2rad(19), flat[..., 0] + flat[..., 1] * 0.06, flat[..., 1] - flat[..., 0] * 0.09
    x = 0.305 * (0.45 + 0.55 * f.face[0]) + high * (back * np.sin(angle) + height * np.cos(angle))
    at = np.stack([s * x, f.eye[1] + 0.070 + high * down, 0.015 + high * (-back * np.cos(angle) + height * np.sin(angle))], -1)
    return (at, air) if s < 0 else (at[:, ::-1], air[:, ::-1])


def _neck(f: Form, body_yaw: float, view: View, base: tuple[float, float]) -> tuple[Array, Array]:
    """The neck in the picture's axes: its upper end goes with the head, its lower end with the body."""
    (child, male, old), cy, fat = f.kind, f.face[1], f.face[3]
    t, around = np.linspace(0, 1, 22)[:, None], np.linspace(-np.pi, np.pi, 49)[None, :]
    thick = 0.154 + 0.042 * male - 0.036 * child + 0.012 * max(fat, 0)
    cord = (
        np.exp(-(((np.abs(around) - (1.15 - 0.95 * t)) / 0.20) ** 2))
        * np.sin(np.pi * np.clip(t * 0.9 + 0.08, 0, 1))
        * (1 - 0.7 * child)
        * (0.7 + 0.5 * old)
    )
    apple = male * (1 - child) * np.exp(-((around / 0.18) ** 2) - (((t - 0.44) / 0.09) ** 2))
    pit = np.exp(-((around / 0.22) ** 2) - (((t - 0.80) / 0.09) ** 2))
    x = thick * (1.02 - 0.10 * np.sin(np.pi * np.clip(t * 1.2, 0, 1)) + 0.55 * t**4) * np.sin(around) * (1 + 0.05 * cord)
    z = thick * (1.08 - 0.08 * np.sin(np.pi * t)) * np.cos(around) - 0.085 - 0.045 * t + 0.018 * cord + 0.022 * apple - 0.03 * pit
    rest = np.stack([x, 0.12 + (cy - 0.5) * 0.5 + 0.98 * t + 0 * around, z + 0.05 * t**3], -1)
    with_body = (rest - PIVOT) @ views.rotation(body_yaw, 0, 0).T + np.array([base[0], base[1] - 0.68, 0]) * t[..., None]
    share = ((1 - t) ** 1.3)[..., None]
    return view.turned(rest) * share + with_body * (1 - share), np.clip(0.45 + 0.75 * t, 0, 1) * (1 - 0.25 * pit)


def _eyes(f: Form, view: View) -> Array:
    """Where both eyes lie and look: the same way, and they meet at somebody before them."""
    out = np.zeros((2, 9))
    for i, s in enumerate((-1, 1)):
        middle = np.array([s * f.eye[0], f.eye[1], solids.eye_z(f)])
        gaze = np.array([-s * 0.03 + 0.30 * f.look[0], -0.05 + 0.22 * f.look[1], 1.0])
        gaze /= np.linalg.norm(gaze)
        out[i] = *middle, *gaze, *view.px(view.turned(middle + gaze * f.eye[4]))[:2], f.eye[4] * view.scale
    return out


@lru_cache(4)
def brush_noise(canvas: Canvas) -> F32:
    """The brush of the finish: streaks, and the larger touches that they make up."""
    made = textures(canvas)
    return cv2.GaussianBlur(made.brush, (0, 0), 1.1) * np.float32(1.1) + made.middle * np.float32(0.22)


def drawn(p: Person, f: Form, held: Held, size: tuple[int, int], at: tuple[float, float], scale: float, lamp: Light,
          base: tuple[float, float], noise: F32, sheets: float) -> DrawnHead:  # fmt: skip
    """A head in a picture of `size`: its pivot at `at`, `scale` px high; `base` is the pit of the neck, hh from the pivot.

    noise : of the brush, (h, w). sheets : 0 painted … 1 cut from single sheets of colour.
    """
    w, h = size
    view, model, maps = View(views.rotation(*np.deg2rad(held)), at, scale), _model(f, p.hair, p.facial_hair), Maps.blank(h, w)
    views.stamp(maps, view.turned(model.at), model.normal @ view.turn.T, model.carried, view, HEAD)
    for s in (-1, 1):
        ear, air = _ear(f, s)
        views.stamp(maps, view.turned(ear), views.normals(ear) @ view.turn.T, _carried(ear, air, (1.01, 0.90, 0.88)), view, EAR)
    neck, air = _neck(f, np.deg2rad(held.yaw * 0.35), view, base)
    views.stamp(maps, neck, views.normals(neck), _carried(neck, air, (0.985, 0.95, 0.94)), view, NECK)
    sheet, sun = _sheet(p, f, scale), planes.direction(lamp, float(np.clip((150 - scale) / 90, 0, 1)))
    colour = named(HAIR_COLOURS, p.hair_colour)
    over = Strokes([row for strokes in (model.grown.under, *model.whiskers[:1]) for row in strokes.rows])
    rgba, parts = planes.shaded(
        maps.carried, maps.normal, maps.kind, planes.shadows(maps, sun, scale), _under(over, maps.near, view, sun), noise,
        sheet.paint, sheet.zones, sheet.marks, np.array([face_sheet.LEFT, face_sheet.TOP, sheet.scale]), named(SKINS, p.skin), colour,
        np.array(lamp.key), np.array(lamp.shadow), np.array(lamp.rim), sun, _eyes(f, view),
        np.array([*named(EYE_COLOURS, p.eyes), 0.465 + 0.01 * f.kind[0]]), _NAMES, sheets,
    )  # fmt: skip
    made = DrawnHead(planes.softened(rgba, maps.near), parts, maps.near)
    made.behind = DrawnHead(np.zeros_like(rgba), np.zeros_like(parts), maps.near.copy())  # nothing is drawn where the head hides it
    strands, back, ramp = _Strands(made, view, sun), _Strands(made.behind, view, sun), _ramp(colour, lamp)
    for strokes in model.whiskers:
        strands.lay(strokes, ramp, Part.FACIAL_HAIR, 0.03)
    if p.glasses:
        strands.lay(_glasses(f), _ramp(_FRAME, lamp), Part.ACCESSORY, 0.02, 0.0)
    for strokes in (model.grown.under, model.grown.locks, model.grown.fine):
        front, behind = _split(strokes, view)
        if strokes is not model.grown.fine:
            back.lay(behind, ramp * (0.86, 0.84, 0.88), Part.HAIR, 0.035)
        strands.lay(front, ramp, Part.HAIR, 0.035)
    made.landmarks = _landmarks(sheet, model, view, maps.near)
    (ex, ey, *_), surface, beside = f.eye, solids.eye_z(f) + f.eye[4], 0.30 * f.face[0]
    tip = (0, f.nose[0] - 0.046, 0.416 + 0.066 * f.nose[2])
    five = np.array([tip, (-ex, ey, surface), (ex, ey, surface), (-beside, ey + 0.07, 0.0), (beside, ey + 0.07, 0.0)])
    made.points = view.px(view.turned(five))[:, :2]
    return made


def _landmarks(sheet: face_sheet.Sheet, model: _Model, view: View, near: F32) -> dict[str, tuple[float, float]]:
    """The marks of the face in px; those that the head itself hides are left out."""
    px = view.px(view.turned(solids.on_front(model.solid, np.array(list(sheet.landmarks.values())))))
    inside = np.clip(px[:, :2].round().astype(int), 0, np.array(near.shape[::-1]) - 1)
    seen = near[inside[:, 1], inside[:, 0]] < px[:, 2] + 0.03
    return {name: (float(x), float(y)) for name, (x, y, _), shown in zip(sheet.landmarks, px, seen, strict=True) if shown}


def _ramp(own: Array, lamp: Light) -> Array:
    """Dark, own and light colour of strands under a light."""
    lit = np.clip(own * lamp.key, 0, 1)
    grey = lit.mean()
    dark = np.clip(grey + (lit - grey) * 1.2, 0, 1) * np.array(lamp.shadow) ** 1.3 * (0.58 + 0.24 * grey)
    return np.stack([dark, lit, np.clip(lit + (np.array(lamp.rim) - lit * 0.55) * (0.26 + 0.26 * grey**0.7), 0, 1)])


def _split(strokes: Strokes, view: View) -> tuple[Strokes, Strokes]:
    """What lies before the shoulders, and what hangs behind them."""
    front, behind = Strokes(), Strokes()
    for row in strokes.rows:
        tips = view.turned(row[:, -1, :3])
        gone = (tips[:, 2] < -0.03) & (tips[:, 1] > 0.22)
        cut = row[gone].copy()
        cut[..., 3] *= np.clip((0.42 - cut[..., 1]) / 0.08, 0, 1)
        front.rows += [part for part in (cut, row[~gone]) if len(part)]
        behind.rows += [row[gone]] if gone.any() else []
    return front, behind


def _under(strokes: Strokes, near: F32, view: View, sun: Array) -> F32:
    """The shadow of strands on what lies below them, 0 … 1."""
    if not strokes.rows:
        return np.zeros(near.shape, np.float32)
    p, counts = strokes.flat(1 + (view.scale < 110))
    points, d, flat = (
        np.column_stack([view.px(view.turned(p[:, :3])), p[:, 3:] * view.scale]),
        0.030 * view.scale,
        sun[:2] / np.hypot(*sun[:2]),
    )
    points[:, :2] += -flat[0] * d * 0.8, abs(flat[1]) * d
    points[:, (0, 1, 3)] /= 2
    near = np.ascontiguousarray(near[::2, ::2])
    cast, begin = np.zeros((*near.shape, 4), np.float32), np.concatenate([[0], np.cumsum(counts)])
    brush.lay(cast, np.zeros(near.shape, np.uint8), near, points, begin, np.zeros((3, 3)), 0, 0.06, 0.0)
    soft = cv2.GaussianBlur(np.ascontiguousarray(cast[..., 3]), (0, 0), max(0.0035 * view.scale, 0.5))
    return np.asarray(cv2.resize(soft, None, fx=2, fy=2), np.float32)


class _Strands:
    """Lays strokes over a head."""

    def __init__(self, made: DrawnHead, view: View, sun: Array) -> None:
        self.made, self.view, self.sun, self.middle = made, view, sun, view.turned(solids.SKULL)
        self.half = (sun + (0, 0, 1)) / np.linalg.norm(sun + (0, 0, 1))

    def placed(self, strokes: Strokes, each: int) -> tuple[Array, Array]:
        """Points (N, 5) in px of every `each` stroke, lit, and where each begins; the farthest strokes first."""
        p, counts = strokes.flat(each)
        q, starts = self.view.turned(p[:, :3]), np.cumsum(counts) - counts
        order = np.argsort(np.add.reduceat(q[:, 2], starts) / counts)
        begin = np.concatenate([[0], np.cumsum(counts[order])])
        index = np.repeat(starts[order] - begin[:-1], counts[order]) + np.arange(begin[-1])
        p, q = p[index], q[index]
        return brush.lit(q, self.view.px(q), p[:, 3] * self.view.scale * each**0.6, p[:, 4], begin, self.middle, self.sun, self.half), begin

    def lay(self, strokes: Strokes, ramp: Array, part: Part, slack: float, dry: float = 0.55) -> None:
        if strokes.rows:
            few = 1 + (self.view.scale < 110) + (self.view.scale < 70) if dry else 1  # small heads have fewer, broader strands
            points, starts = self.placed(strokes, few)
            brush.lay(self.made.colours, self.made.parts, self.made.near, points, starts, ramp, int(part), slack, dry)


def _glasses(f: Form) -> Strokes:
    made, (ex, ey, ew, _, ball, _), t = Strokes(), f.eye, np.linspace(0, 2 * np.pi, 30)
    x, y, z, r = ex + 0.006, ey + 0.012, solids.eye_z(f) + ball + 0.040, 0.46 * (ex + ew * 0.6)
    for s in (-1, 1):
        ring = np.stack([s * (x + r * 1.06 * np.cos(t)), y + r * 0.92 * np.sin(t), z - 0.10 * np.abs(x + r * np.cos(t)) ** 1.5], 1)
        made.add(ring, 0.0062, 0.40)
        made.add(
            np.array([ring[0] - (0, 0.01, 0), (s * 0.315 * f.face[0], y - 0.02, 0.10), (s * 0.335 * f.face[0], y - 0.005, 0.0)]),
            0.006,
            0.40,
        )
    b = x - r * 1.06
    made.add(
        np.array(
            [(-b, y - 0.012, z - 0.004), (-b * 0.4, y - 0.026, z + 0.004), (b * 0.4, y - 0.026, z + 0.004), (b, y - 0.012, z - 0.004)]
        ),
        0.0062,
        0.40,
    )
    return made
