"""The pose book: poses to choose from, of one figure or of two who belong together. All are ours."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from mosskeeper.core.illustrator.description import Layout
from mosskeeper.core.illustrator.skeleton import posture
from mosskeeper.core.illustrator.vocabulary.people import Proportions, body_of
from mosskeeper.core.illustrator.vocabulary.poses import POSES, Pose
from mosskeeper.core.posing.retarget import PosedBody, in_frame, posed_of

_WOMAN = body_of("woman", "average")


@dataclass(frozen=True, slots=True)
class BookEntry:
    """A pose of the book. figures : of each its pose, and how far right of the middle it stands (head heights), and whether mirrored."""

    name: str
    tags: tuple[str, ...]
    figures: tuple[tuple[Pose, float, bool], ...]


def _one(name: str, tags: str, pose: Pose) -> BookEntry:
    return BookEntry(name, tuple(tags.split()), ((pose, 0.0, False),))


def _two(name: str, tags: str, left: Pose, right: Pose, apart: float) -> BookEntry:
    """Two who face each other: the right one is drawn mirrored."""
    return BookEntry(name, ("two", *tags.split()), ((left, -apart / 2, False), (right, apart / 2, True)))


_TAGS = {
    "standing": "standing calm",
    "facing": "standing calm front",
    "walking": "moving",
    "reaching": "acting",
    "sitting": "sitting",
    "kneeling": "low",
    "presenting": "acting showing",
    "hands on hips": "standing proud",
    "running": "moving fast",
    "dancing": "moving joyful",
    "bowing": "acting polite",
    "thinking": "standing calm",
    "hand on heart": "standing feeling",
    "arms wide": "standing joyful open",
    "pointing": "acting showing",
    "carrying": "acting holding",
    "looking back": "standing turned",
    "crouching": "low",
    "tiptoe": "standing light",
    "hands behind back": "standing shy",
    "waving": "acting greeting",
}

_GIVING = Pose((18, 4), (58, 92, 0.95, 1.0), (6, 2), (10, 2), 3, 2, 0.7, -3, 2, hands=("relaxed", "cupped"))
_HOLDING_OUT = Pose((14, 4), (38, 52), (6, 2), (9, 3), -1, 2, 0.7, -2, 2, hands=("relaxed", "relaxed"))
_EMBRACING = Pose((50, 100, 0.7, 0.8), (58, 104, 0.8, 0.9), (5, 1), (8, 2), 5, 8, 0.8, -3, 2, hands=("flat", "flat"))
_PARTNER = Pose((74, 60), (78, 96, 0.8, 0.9), (5, 2), (22, -6), -3, -5, 0.7, 5, -4, hands=("open", "flat"))
_LEANING = Pose((20, 8), (22, 10), (4, 0), (14, 8), -8, -3, -0.5, 2, -2)
_WHISPERING = Pose((16, 4), (54, 142, 0.9, 0.7), (5, 2), (9, 3), 8, 6, 0.8, -3, 2, hands=("relaxed", "flat"))
_BENDING_EAR = Pose((15, 5), (18, 6), (4, 1), (9, 3), 4, 10, 0.6, 2, -2)

BOOK: tuple[BookEntry, ...] = (
    *(_one(name, tags, POSES[name]) for name, tags in _TAGS.items()),
    _one("leaping", "moving joyful high", POSES["leaping"]),
    _one("arms crossed", "standing waiting", POSES["arms crossed"]),
    _one("cheering", "joyful acting", POSES["cheering"]),
    _one("looking out", "standing far acting", POSES["looking out"]),
    _one("throwing", "moving acting", POSES["throwing"]),
    _one("pushing", "acting heavy", POSES["pushing"]),
    _one("lunging", "moving fast low", POSES["lunging"]),
    _one("climbing", "acting high", POSES["climbing"]),
    _one("balancing", "standing light", POSES["balancing"]),
    _one("sitting on the ground", "sitting low calm", POSES["sitting on the ground"]),
    _one("reading", "standing holding calm", POSES["reading"]),
    _one("listening", "standing acting", POSES["listening"]),
    _one("shrugging", "standing feeling", POSES["shrugging"]),
    _one("stretching", "standing high", POSES["stretching"]),
    _two("handing over", "giving meeting", _GIVING, _GIVING, 3.5),
    _two("hand in hand", "walking together", _HOLDING_OUT, _HOLDING_OUT, 3.1),
    _two("embrace", "meeting feeling", _EMBRACING, _EMBRACING, 1.9),
    _two("dancing together", "joyful moving", _PARTNER, _PARTNER, 3.6),
    BookEntry("back to back", ("two", "standing"), ((_LEANING, 1.0, False), (_LEANING, -1.0, True))),
    _two("whispering", "secret near", _WHISPERING, _BENDING_EAR, 1.9),
    _two("greeting", "meeting waving", POSES["waving"], POSES["waving"], 3.6),
    _two("facing each other", "standing meeting", POSES["standing"], POSES["standing"], 3.0),
)


def entry(name: str) -> BookEntry:
    """The entry of a name. Raises KeyError where the book has none."""
    return {e.name: e for e in BOOK}[name]


def figures_of(e: BookEntry, bodies: tuple[Proportions, ...] = ()) -> list[PosedBody]:
    """The figures of an entry in head heights of the first, on the ground at y = 0; each on its body, a woman's where none is given."""
    out = []
    for n, (pose, x, turned) in enumerate(e.figures):
        body = bodies[n] if n < len(bodies) else _WOMAN
        posed = posed_of(posture(body, pose, Layout(pose="facing")))
        posed = posed.mirrored() if turned else posed
        out.append(PosedBody(posed.joints + np.array([x, 0.0]), posed.hands, posed.behind))
    return out


def placed(figures: Sequence[PosedBody], like: Sequence[Sequence[float] | None] | None, size: tuple[int, int]) -> list[PosedBody]:
    """Figures in head heights put into a picture of `size`: joints as shares of width and height.

    Parameters
    ----------
    like : 18 joints as shares, None where unseen: one figure stands where they do; several stand whole in the middle.
    """
    if len(figures) == 1:
        there = None if like is None else np.array([(np.nan, np.nan) if joint is None else joint for joint in like], float)
        return [in_frame(figures[0], there, size)]
    w, h = size
    every = np.concatenate([f.joints for f in figures])
    low, high = every.min(0), every.max(0)
    scale = min(0.82 * min(h, w * 1.25) / float(high[1] - low[1] + 0.7), 0.92 * w / float(high[0] - low[0] + 0.9))
    at = np.array([w / 2 - (low[0] + high[0]) / 2 * scale, h * 0.5 + 0.44 * min(h, w * 1.25)])
    return [replace(f, joints=(f.joints * scale + at) / (w, h)) for f in figures]
