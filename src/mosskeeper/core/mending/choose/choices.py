"""What of a picture can be chosen by name: figures, their parts, things, sky and ground.

A picture is cut into atoms, the finest that can be told apart; a choice is a set of them. Atoms come from the drawing of a
picture's scene, exact to the pixel, or from what a reader saw in it.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.face import LANDMARKS
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.illustrator.skeleton import AT
from mosskeeper.core.mending.masks import Mask
from mosskeeper.core.pictures.resample import nearest
from mosskeeper.core.reading.classes import PART_OF, PARTS
from mosskeeper.core.reading.reading import SURE, Reading

U8 = NDArray[np.uint8]
_PALM = 0.42  # of the length of the lower arm beyond the wrist: the middle of the hand
_HAND = 0.75  # … and its reach
_EYE = 0.33  # head radii about a pupil
_MOUTH = 0.36
_LEAST = 12  # px, below which nothing can be pressed
_MOST_ATOMS = 250
_CLOTHES = ("top", "sleeve", "bottom", "outer", "shoes")
_SIDES = ("right", "left")
# Choices of a figure from narrow to wide: name and the parts in it.
_OF_FIGURE: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("right eye", ("right eye",)),
    ("left eye", ("left eye",)),
    ("mouth", ("mouth",)),
    ("hair", ("hair",)),
    ("hat", ("headwear",)),
    ("right hand", ("right hand",)),
    ("left hand", ("left hand",)),
    ("thing in the hand", ("prop",)),
    ("accessories", ("accessory",)),
    ("shoes", ("shoes",)),
    ("eyes", ("right eye", "left eye")),
    ("hands", ("right hand", "left hand")),
    ("coat", ("outer",)),
    ("face", ("face", "right eye", "left eye", "mouth")),
    ("head", ("face", "right eye", "left eye", "mouth", "hair", "headwear")),
    ("clothes", _CLOTHES),
)
_OF_PLACE = ("sky", "ground", "background")


@dataclass(frozen=True, slots=True)
class NamedPart:
    """Something that can be chosen. key : lasting between pictures, such as “1 hair”. figure : whose it is, from 0."""

    key: str
    name: str
    atoms: tuple[int, ...]
    figure: int | None = None


@dataclass(frozen=True, slots=True)
class Frame:
    """Where parts of a figure are, px, for carrying a mask over to another picture: x, y and size of each."""

    at: Mapping[str, tuple[float, float, float]]


@dataclass(frozen=True, slots=True, eq=False)
class Choices:
    """atoms : (H, W) uint8. choices : the narrow ones before the wide. frames : of the figures, in their order."""

    atoms: U8
    choices: tuple[NamedPart, ...]
    frames: tuple[Frame, ...] = ()
    people: tuple[str, ...] = ()

    def mask(self, *keys: str) -> Mask:
        """(H, W), open where one of some choices is. Raises KeyError where there is no such choice."""
        known = {choice.key: choice for choice in self.choices}
        return np.isin(self.atoms, [atom for key in keys for atom in known[key].atoms])

    def called(self, names: Sequence[str]) -> Choices:
        """With figures called by their names, as far as these are known ("" where not)."""
        choices = list(self.choices)
        for n, name in enumerate(names[: len(self.people)]):
            if name:
                choices = [replace(c, name=c.name.replace(self.people[n], name)) for c in choices]
        people = tuple(names[n] if n < len(names) and names[n] else who for n, who in enumerate(self.people))
        return replace(self, choices=tuple(choices), people=people)

    def to_json(self) -> dict[str, Any]:
        return {
            "choices": [{"key": c.key, "name": c.name, "atoms": list(c.atoms), "figure": c.figure} for c in self.choices],
            "frames": [dict(f.at) for f in self.frames],
            "people": list(self.people),
        }

    @staticmethod
    def from_json(atoms: U8, document: Mapping[str, Any]) -> Choices:
        """Raises ValueError where the document is none of ours."""
        try:
            choices = tuple(NamedPart(c["key"], c["name"], tuple(c["atoms"]), c["figure"]) for c in document["choices"])
            frames = tuple(Frame({name: tuple(at) for name, at in f.items()}) for f in document["frames"])
            return Choices(atoms, choices, frames, tuple(document["people"]))
        except (KeyError, TypeError, AttributeError):
            raise ValueError("these choices are damaged") from None


@dataclass(slots=True)
class _Parts:
    """What is known of a picture, whoever said so. parts : (H, W) index in PARTS. figures : (H, W), 0 nobody."""

    parts: U8
    figures: U8
    subjects: list[str]
    joints: list[NDArray[np.float64]]  # (18, 2) px, NaN where unseen
    landmarks: list[Mapping[str, NDArray[np.float64]]]
    heads: list[tuple[float, float, float] | None]
    things: list[str] = field(default_factory=list)  # that stand by themselves; their figure numbers follow the people's


def choices_of_drawing(drawing: Drawing, scene: Scene) -> Choices:
    """What can be chosen of a picture that was drawn from a scene."""
    people = [shown for n, shown in enumerate(drawing.shown) if n not in scene.absent]
    numbers = [n for n in range(len(drawing.shown)) if n not in scene.absent]
    figures, things = np.zeros_like(drawing.figures), list[str]()
    for k, n in enumerate(numbers):
        figures[drawing.figures == n + 1] = k + 1
    # the companion has the number after the people's, standing things those after it
    beside = [scene.description.companion, *(t.name for t in scene.things)]
    for number, name in enumerate(beside, len(drawing.shown) + 1):
        if (drawing.figures == number).any():
            things.append(name)
            figures[drawing.figures == number] = len(people) + len(things)
    parts = PART_OF[drawing.labels].copy()
    parts[drawing.labels == Part.MOUTH] = PARTS.index("face")
    seen = _Parts(
        parts,
        figures,
        [p.person.subject for p in people],
        [np.where(np.isfinite(p.joints), p.joints, np.nan) for p in people],
        [p.landmarks for p in people],
        [p.head for p in people],
        things,
    )
    return _choices(seen)


def choices_of_reading(reading: Reading, size: tuple[int, int]) -> Choices:
    """What can be chosen of a picture of a size (width, height) that a reader has read."""
    w, h = size
    parts = np.zeros((h, w), np.uint8) if reading.parts is None else nearest(reading.parts, size)
    people = [f for f in reading.figures if f.sure >= SURE]
    figures = np.zeros((h, w), np.uint8)
    own = np.isin(parts, range(PARTS.index("hair"), PARTS.index("prop") + 1))
    for k, figure in reversed(list(enumerate(people))):
        figures[nearest(figure.mask.astype(np.uint8), size).astype(bool) & own] = k + 1
    things = list[str]()
    loose = np.isin(parts, (PARTS.index("companion"), PARTS.index("prop"))) & (figures == 0)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(loose.astype(np.uint8))
    for n in range(1, min(count, 9)):
        if stats[n, cv2.CC_STAT_AREA] > 0.001 * w * h:
            things.append("thing")
            figures[labels == n] = len(people) + len(things)
    scale = np.array(size, float)
    seen = _Parts(
        parts,
        figures,
        [max(f.attributes.get("subject", {"person": 1.0}).items(), key=lambda kv: kv[1])[0] for f in people],
        [f.sure_joints * scale for f in people],
        [
            {}
            if f.landmarks is None
            else {name: at * scale for name, at in zip(LANDMARKS, f.landmarks, strict=True) if np.isfinite(at).all()}
            for f in people
        ],
        [None if f.head is None else (f.head[0] * w, f.head[1] * h, f.head[2] * h / 2) for f in people],
        things,
    )
    return _choices(seen)


def _choices(seen: _Parts) -> Choices:
    people = _called(seen)
    atoms, of = np.zeros(seen.parts.shape, np.uint8), dict[tuple[int, str], int]()

    def atom(figure: int, part: str, where: Mask) -> None:
        if int(where.sum()) >= _LEAST and len(of) < _MOST_ATOMS:
            of[figure, part] = len(of) + 1
            atoms[where] = len(of)

    for n in range(len(people)):
        own, fine = seen.figures == n + 1, np.zeros(seen.parts.shape, bool)
        for part, where in _fine_parts(seen, n, own):
            atom(n, part, where & ~fine)
            fine |= where
        for part in PARTS[PARTS.index("hair") : PARTS.index("prop") + 1]:
            atom(n, part, own & (seen.parts == PARTS.index(part)) & ~fine)
    for k, _ in enumerate(seen.things):
        atom(len(people) + k, "thing", seen.figures == len(people) + k + 1)
    nobody = seen.figures == 0
    for part in ("sky", "ground"):
        atom(-1, part, nobody & (seen.parts == PARTS.index(part)))
    return Choices(atoms, tuple(_listed(seen, people, of)), tuple(_frame(seen, n) for n in range(len(people))), tuple(people))


def _listed(seen: _Parts, people: list[str], of: Mapping[tuple[int, str], int]) -> list[NamedPart]:
    out = []
    for n, who in enumerate(people):
        for name, parts in _OF_FIGURE:
            there = tuple(of[n, part] for part in parts if (n, part) in of)
            if there and (len(parts) == 1 or len(there) > 1 or name in ("coat", "clothes", "face")):
                out.append(
                    NamedPart(f"{n + 1} {name}", f"what {who} holds" if name == "thing in the hand" else f"{who}’s {name}", there, n)
                )
    for k, name in enumerate(seen.things):
        if (len(people) + k, "thing") in of:
            out.append(NamedPart(f"thing {k + 1}", f"the {name}", (of[len(people) + k, "thing"],)))
    for n, who in enumerate(people):
        whole = tuple(number for (figure, _), number in of.items() if figure == n)
        if whole:
            out.append(NamedPart(f"{n + 1} figure", who, whole, n))
    out += [NamedPart(part, f"the {part}", (of[-1, part],)) for part in ("sky", "ground") if (-1, part) in of]
    place = (0, *(number for (figure, _), number in of.items() if figure == -1))
    out.append(NamedPart("background", "all but who and what stands there", place))
    for n, who in enumerate(people):
        rest = tuple(number for (figure, _), number in of.items() if figure != n)
        out.append(NamedPart(f"but {n + 1}", f"everything but {who}", (0, *rest)))
    return out


def _called(seen: _Parts) -> list[str]:
    """The figures by who they are, from left to right where several are alike."""
    called = []
    for n, subject in enumerate(seen.subjects):
        alike = [k for k, other in enumerate(seen.subjects) if other == subject]
        if len(alike) == 1:
            called.append(f"the {subject}")
            continue
        middles = {k: float(np.nonzero(seen.figures == k + 1)[1].mean()) if (seen.figures == k + 1).any() else 0.0 for k in alike}
        order = sorted(alike, key=lambda k: middles[k]).index(n) + 1
        called.append(f"the {subject} {order} from the left")
    return called


def _fine_parts(seen: _Parts, n: int, own: Mask) -> list[tuple[str, Mask]]:
    """Eyes, mouth and hands of a figure: discs about what is known of them, where it is face or bare."""
    out, marks, head, joints = list[tuple[str, Mask]](), seen.landmarks[n], seen.heads[n], seen.joints[n]
    face = own & (seen.parts == PARTS.index("face"))
    for side in _SIDES:
        if head is not None and f"{side} pupil" in marks:
            out.append((f"{side} eye", face & _disc(own.shape, marks[f"{side} pupil"], _EYE * head[2])))
    if head is not None and {"upper lip", "lower lip"} <= marks.keys():
        out.append(("mouth", face & _disc(own.shape, (marks["upper lip"] + marks["lower lip"]) / 2, _MOUTH * head[2])))
    bare = own & np.isin(seen.parts, (PARTS.index("bare limbs"), PARTS.index("accessory")))
    for side in _SIDES:
        hand = _hand(joints, side)
        if hand is not None:
            out.append((f"{side} hand", bare & _disc(own.shape, np.array(hand[:2]), hand[2])))
    return out


def _hand(joints: NDArray[np.float64], side: str) -> tuple[float, float, float] | None:
    elbow, wrist = joints[AT[f"{side} elbow"]], joints[AT[f"{side} wrist"]]
    if not (np.isfinite(elbow).all() and np.isfinite(wrist).all()):
        return None
    x, y = wrist + (wrist - elbow) * _PALM
    reach = max(float(np.hypot(*(wrist - elbow))) * _HAND, 4.0)
    return float(x), float(y), reach


def _frame(seen: _Parts, n: int) -> Frame:
    at = dict[str, tuple[float, float, float]]()
    head, joints = seen.heads[n], seen.joints[n]
    size = None if head is None else head[2]
    if head is not None:
        at["head"] = head
    for side in _SIDES:
        hand = _hand(joints, side)
        if hand is not None:
            at[f"{side} hand"] = (hand[0], hand[1], size or hand[2])
    shoulders = joints[[AT["right shoulder"], AT["left shoulder"]]]
    ys, xs = np.nonzero(seen.figures == n + 1)
    if np.isfinite(shoulders).all():
        x, y = shoulders.mean(0)
        at["trunk"] = (float(x), float(y), size or float(np.hypot(*(shoulders[0] - shoulders[1]))))
    elif len(xs):
        at["trunk"] = (float(xs.mean()), float(ys.mean()), size or float(np.sqrt(len(xs))) / 4)
    if len(xs):
        at["feet"] = (float(xs.mean()), float(ys.max()), size or float(np.sqrt(len(xs))) / 4)
    return Frame(at)


def _disc(shape: tuple[int, ...], at: NDArray[np.float64], radius: float) -> Mask:
    y, x = np.ogrid[: shape[0], : shape[1]]
    return np.asarray((x - at[0]) ** 2 + (y - at[1]) ** 2 <= radius**2)
