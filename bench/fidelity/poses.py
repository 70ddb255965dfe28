"""Poses of the book, and poses taken from other bodies: the joints are where they were put, on every body and in every frame."""

from __future__ import annotations

import itertools

import numpy as np
from numpy.typing import NDArray

from bench.report import Row, row
from mosskeeper.core.illustrator.description import Description, Layout, Person
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.illustrator.skeleton import AT
from mosskeeper.core.illustrator.vocabulary.people import body_of
from mosskeeper.core.posing.book import BOOK, figures_of, placed
from mosskeeper.core.posing.retarget import PosedBody, retargeted
from mosskeeper.core.recipe import Cue
from mosskeeper.core.takes.pose import posed_by

_SIZE = (256, 320)
_BODIES = (("woman", "average"), ("man", "sturdy"), ("girl", "average"), ("boy", "slight"), ("old woman", "round"), ("old man", "average"))
_FRAMES = {"wide": (0.55, 0.86), "full": (0.84, 0.94), "half": (1.75, 1.72)}  # height of the figure and its feet, of the picture's
_BONES = tuple(
    (f"{s} {a}", f"{s} {b}")
    for s in ("right", "left")
    for a, b in (("shoulder", "elbow"), ("elbow", "wrist"), ("hip", "knee"), ("knee", "ankle"))
)
_NEAR, _TURN = 0.05, 8.0


def book_poses(seeds: int) -> list[Row]:
    """Every pose of the book on six bodies in three framings at weight 1, told by the drawing's own joints."""
    near, pairs = [], []
    for entry, (subject, build) in itertools.product(BOOK, _BODIES):
        figures = figures_of(entry, tuple(body_of(subject, build) for _ in entry.figures))
        for high, foot in _FRAMES.values() if len(figures) == 1 else (_FRAMES["full"],):
            there = placed(figures, None, _SIZE) if len(figures) > 1 else [_framed(figures[0], high, foot)]
            off = _drawn(there, subject, build)
            (near if len(figures) == 1 else pairs).extend(off <= _NEAR)
    return [
        row(f"poses of the book: joints within 5 % of the height, of {len(near)}", float(np.mean(near)), "share", ">= 0.97"),
        row(f"poses of two: joints within 5 % of the height, of {len(pairs)}", float(np.mean(pairs)), "share", ">= 0.97"),
    ]


def other_bodies(seeds: int) -> list[Row]:
    """Poses of the book taken from one body to another, from busts, and from doodles with big heads: the angles of limbs."""
    off = []
    for entry in BOOK:
        for (subject, build), (other, shape) in itertools.product(_BODIES, _BODIES):
            if subject == other or len(entry.figures) > 1:
                continue
            source = figures_of(entry, (body_of(subject, build),))[0]
            for changed in (source.joints, _bust(source.joints), _doodle(source.joints)):
                fitted = retargeted(PosedBody(changed * 37.0 + 11.0, source.hands, source.behind), body_of(other, shape)).joints
                off += _turned(changed, fitted)
    angles = np.array(off)
    return [
        row(f"poses on other bodies: angles of bones within 8°, of {len(angles)}", float((angles <= _TURN).mean()), "share", ">= 0.97"),
        row("poses on other bodies: angles of bones, most", float(angles.max()), "°", "<= 8"),
    ]


def _framed(posed: PosedBody, high: float, foot: float) -> PosedBody:
    p = posed.joints
    scale = high * _SIZE[1] / 6.2
    at = np.array([_SIZE[0] / 2 - p[AT["neck"], 0] * scale, foot * _SIZE[1]])
    return PosedBody((p * scale + at) / _SIZE, posed.hands, posed.behind)


def _drawn(there: list[PosedBody], subject: str, build: str) -> NDArray[np.float64]:
    """For each joint below the head, how far the drawing's is from the asked one, in heights of the figure."""
    layout = Layout(framing="full")
    others = tuple(Person(subject=subject, build=build, layout=layout) for _ in there[1:])
    d = Description(subject=subject, build=build, layout=layout, others=others)
    cues = [Cue(role="pose", skeleton=[tuple(p) for p in f.joints.tolist()], weight=1, end=100, figure=n) for n, f in enumerate(there)]
    drawn = draw_scene(scene_of(posed_by(d, cues, {}, 20, _SIZE), _SIZE), detailed=False)
    off = []
    for n, f in enumerate(there):
        wanted = f.joints * _SIZE
        off += list(np.hypot(*(drawn.shown[n].joints[1:14] - wanted[1:14]).T) / np.ptp(wanted[:, 1]))
    return np.array(off)


def _bust(joints: NDArray[np.float64]) -> NDArray[np.float64]:
    """Without what a frame at the hips cuts off."""
    out = joints.copy()
    out[[AT[f"{s} {n}"] for s in ("right", "left") for n in ("knee", "ankle")]] = np.nan
    return out


def _doodle(joints: NDArray[np.float64]) -> NDArray[np.float64]:
    """With a head twice as large, and legs half as long."""
    out, neck = joints.copy(), joints[AT["neck"]]
    for name in ("nose", "right eye", "left eye", "right ear", "left ear"):
        out[AT[name]] = neck + (joints[AT[name]] - neck) * 2
    for s in ("right", "left"):
        for a, b in (("hip", "knee"), ("knee", "ankle")):
            out[AT[f"{s} {b}"]] = out[AT[f"{s} {a}"]] + (joints[AT[f"{s} {b}"]] - joints[AT[f"{s} {a}"]]) * 0.5
    return out


def _turned(source: NDArray[np.float64], fitted: NDArray[np.float64]) -> list[float]:
    out = []
    for a, b in _BONES:
        u, v = source[AT[b]] - source[AT[a]], fitted[AT[b]] - fitted[AT[a]]
        if np.isfinite(u).all():
            turn = np.degrees(np.arctan2(v[1], v[0]) - np.arctan2(u[1], u[0]))
            out.append(float(abs((turn + 180) % 360 - 180)))
    return out
