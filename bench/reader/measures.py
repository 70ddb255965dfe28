"""What is measured of readings against the truth, picture by picture, and gathered into figures."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, field

import cv2
import numpy as np
from numpy.typing import NDArray
from skimage.color import deltaE_ciede2000
from training.people import OTHER_POSE

from bench.reader.held_out import Known
from mosskeeper.core.continuity.measures import rank_correlation
from mosskeeper.core.illustrator.description import WORN
from mosskeeper.core.illustrator.drawing import Shown
from mosskeeper.core.illustrator.face import LANDMARKS
from mosskeeper.core.illustrator.skeleton import JOINTS, posture
from mosskeeper.core.illustrator.vocabulary import colours
from mosskeeper.core.illustrator.vocabulary.people import body_of
from mosskeeper.core.illustrator.vocabulary.poses import POSES
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.classes import FIGURE, PART_OF, PARTS
from mosskeeper.core.reading.reading import SURE, FigureRead, Reading

_NEAR = 0.10  # of the figure's height
_OF_PERSON = ("subject", "build", "hair", "headwear", "outfit", "pattern", "prop", "expression", "facial_hair", "mark")
_OF_PICTURE = ("place", "time", "weather", "light", "companion")
_BELOW_HEAD = ("outfit", "pattern", "prop", "build", "pose", "scarf", "bag", "belt", "gloves")  # not judged in close pictures
_EYES_APART = 0.34  # head heights between the pupils, where one is hidden


@dataclass
class Gathered:
    """Sums and lists over many pictures."""

    inter: NDArray[np.float64] = field(default_factory=lambda: np.zeros(len(PARTS)))
    union: NDArray[np.float64] = field(default_factory=lambda: np.zeros(len(PARTS)))
    figure: list[float] = field(default_factory=lambda: [0.0, 0.0])
    joints: list[bool] = field(default_factory=list)
    sure_joints: list[bool] = field(default_factory=list)
    landmarks: list[float] = field(default_factory=list)
    faces: list[tuple[NDArray[np.float64], NDArray[np.float64]]] = field(default_factory=list)  # measures as drawn, as read
    depth: list[float] = field(default_factory=list)
    colour: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    right: dict[str, list[bool]] = field(default_factory=lambda: defaultdict(list))
    found: list[bool] = field(default_factory=list)
    invented: int = 0
    identities: list[tuple[int, FigureRead]] = field(default_factory=list)

    def merge(self, other: Gathered) -> None:
        self.inter, self.union = self.inter + other.inter, self.union + other.union
        self.figure = [a + b for a, b in zip(self.figure, other.figure, strict=True)]
        for name in ("joints", "sure_joints", "landmarks", "faces", "depth", "found", "identities"):
            getattr(self, name).extend(getattr(other, name))
        for name in ("colour", "right"):
            for key, values in getattr(other, name).items():
                getattr(self, name)[key] += values
        self.invented += other.invented


def delta_e(a: NDArray[np.floating], b: NDArray[np.floating]) -> float:
    """ΔE2000 of two sRGB colours."""
    one, two = rgb_to_lab(np.asarray([a, b], np.float32))
    return float(deltaE_ciede2000(one, two))


def gather(known: Known, reading: Reading, into: Gathered) -> None:
    """Adds one picture and its reading."""
    _maps(known, reading, into)
    d = known.description
    truth = {name: getattr(d, name) for name in _OF_PICTURE}
    if len(d.finish) == 1:
        truth["finish"] = d.finish[0]
    for name, value in truth.items():
        into.right[name].append(_said(reading.attributes.get(name, {})) == value)
    h, w = known.image.shape[:2]
    taken: set[int] = set()
    for number, shown in enumerate(known.drawing.shown, 1):
        visible = known.drawing.figures == number
        x, y, radius = shown.head
        if not (0 < x < w and 0 < y < h) or visible.sum() < 60 * (radius / 10) ** 2 or visible.sum() < 300:
            continue
        match = _matching(reading, x / w, y / h, 2 * radius / h, taken)
        into.found.append(match is not None)
        if match is not None:
            taken.add(match)
            rows = np.flatnonzero(visible.any(1))
            _figure(known, shown, known.poses[number - 1], reading.figures[match], (w, h), float(rows[-1] - rows[0] + 1), into)
            if known.people:
                into.identities.append((known.people[number - 1], reading.figures[match]))
    sure = [k for k, f in enumerate(reading.figures) if f.sure >= SURE]
    into.invented += len(set(sure) - taken)


def _maps(known: Known, reading: Reading, into: Gathered) -> None:
    true = PART_OF[known.drawing.labels]
    h, w = true.shape
    assert reading.parts is not None and reading.depth is not None
    read = cv2.resize(reading.parts, (w, h), interpolation=cv2.INTER_NEAREST)
    for k in range(len(PARTS)):
        a, b = true == k, read == k
        into.inter[k] += (a & b).sum()
        into.union[k] += (a | b).sum()
    a, b = ((m >= FIGURE.start) & (m < FIGURE.stop) for m in (true, read))
    into.figure[0] += float((a & b).sum())
    into.figure[1] += float((a | b).sum())
    depth = cv2.resize(known.drawing.depth, reading.depth.shape[::-1], interpolation=cv2.INTER_NEAREST)
    into.depth.append(rank_correlation(depth, reading.depth))


def _matching(reading: Reading, x: float, y: float, height: float, taken: set[int]) -> int | None:
    away = [
        (float(np.hypot(f.head[0] - x, f.head[1] - y)), k) for k, f in enumerate(reading.figures) if f.head is not None and k not in taken
    ]
    return min(away)[1] if away and min(away)[0] < 0.7 * height else None


def _said(values: dict[str, float]) -> str | None:
    return max(values, key=lambda v: values[v]) if values else None


def _figure(known: Known, shown: Shown, pose: str, read: FigureRead, size: tuple[int, int], tall: float, into: Gathered) -> None:
    away = np.hypot(*((read.joints * size - shown.joints).T))
    for k in range(len(JOINTS)):
        if shown.visible[k]:
            into.joints.append(bool(away[k] <= _NEAR * tall))
            if read.joint_confidence[k] >= SURE:
                into.sure_joints.append(bool(away[k] <= _NEAR * tall))
    who, close = shown.person, known.description.layout.framing == "close"
    for name in (*_OF_PERSON, "freckles", "glasses", *WORN, "pose"):
        attribute = name.replace("_", " ")
        if attribute in _BELOW_HEAD and close:
            continue
        true = getattr(who, name, None) if name not in (*WORN, "pose") else pose if name == "pose" else "yes" if name in who.worn else "no"
        if true == OTHER_POSE:
            continue
        true = {True: "yes", False: "no"}.get(true, true) if isinstance(true, bool) else true
        into.right[attribute].append(_said(read.attributes.get(attribute, {})) == true)
    held = posture(body_of(who.subject, who.build), POSES[who.layout.pose], who.layout).head
    view = "profile" if held.profile else "three-quarter" if abs(held.turn) >= 0.5 else "front"
    into.right["view"].append(_said(read.attributes.get("view", {})) == view)
    if read.landmarks is None:
        return
    _landmarks(shown, read, size, known, into)
    if read.face is not None:
        into.faces.append((who.face.as_array(), read.face.as_array()))
    truth = {
        "skin": colours.named(colours.SKINS, who.skin),
        "hair colour": colours.named(colours.HAIR_COLOURS, who.hair_colour),
        "eyes": colours.named(colours.EYE_COLOURS, who.eyes),
    }
    cloth = {"colour": who.colour_a, "trim": who.colour_b}
    for name, rgb in {**truth, **({} if close else cloth)}.items():
        if name in read.colours:
            into.colour[name].append(delta_e(np.asarray(rgb), np.asarray(read.colours[name])))


def _landmarks(shown: Shown, read: FigureRead, size: tuple[int, int], known: Known, into: Gathered) -> None:
    assert read.landmarks is not None
    h, w = known.image.shape[:2]
    number = known.drawing.shown.index(shown) + 1
    errors = []
    for k, name in enumerate(LANDMARKS):
        at = shown.landmarks.get(name)
        if at is None or not (0 <= at[0] < w and 0 <= at[1] < h) or known.drawing.figures[int(at[1]), int(at[0])] != number:
            continue
        errors.append(float(np.hypot(*(read.landmarks[k] * size - at))))
    if len(errors) < 6:
        return
    pupils = [shown.landmarks.get(f"{side} pupil") for side in ("right", "left")]
    apart = float(np.hypot(*(pupils[0] - pupils[1]))) if all(p is not None for p in pupils) else 0.0
    into.landmarks.append(float(np.mean(errors)) / max(apart, _EYES_APART * 2 * shown.head[2]))
