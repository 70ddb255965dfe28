"""Proportions of bodies, and expressions. Lengths are in head heights."""

from __future__ import annotations

from dataclasses import astuple, dataclass, replace
from functools import cache


@dataclass(frozen=True, slots=True)
class Proportions:
    shoulder: float = 0.56  # half width
    hip: float = 0.30  # half width
    torso: float = 1.50  # neck to hip
    upper_arm: float = 0.88
    forearm: float = 0.80
    thigh: float = 1.16
    shin: float = 1.14
    neck: float = 0.73  # neck joint to centre of the head
    limb: float = 0.92  # thickness
    waist: float = 0.80
    face_length: float = 0.0
    jaw: float = 0.0
    cheek: float = 0.0
    eye: float = 1.0
    brow: float = 0.85
    lip: float = 1.0
    lash: float = 1.0
    age: float = 0.0  # 0 young … 1 old: lines of age
    stoop: float = 0.0  # degrees of forward lean
    head: float = 1.0  # height of the head; other than 1 in figures whose bodies are measured in the heads of storybook ones


_woman = Proportions()
_man = Proportions(
    shoulder=0.72,
    hip=0.31,
    torso=1.62,
    upper_arm=0.98,
    forearm=0.88,
    thigh=1.22,
    shin=1.20,
    neck=0.72,
    limb=1.13,
    waist=0.92,
    face_length=0.10,
    jaw=0.060,
    cheek=-0.022,
    eye=0.78,
    brow=1.45,
    lip=0.6,
    lash=0.45,
)
_girl = Proportions(
    shoulder=0.42,
    hip=0.24,
    torso=1.06,
    upper_arm=0.59,
    forearm=0.54,
    thigh=0.72,
    shin=0.72,
    neck=0.64,
    limb=0.80,
    waist=0.98,
    face_length=-0.05,
    jaw=-0.010,
    cheek=0.035,
    eye=1.18,
    brow=0.75,
    lip=0.72,
    lash=0.9,
)

SUBJECTS: dict[str, Proportions] = {
    "woman": _woman,
    "man": _man,
    "girl": _girl,
    "boy": replace(_girl, shoulder=0.44, waist=1.04, jaw=0.004, cheek=0.024, eye=1.10, brow=0.95, lip=0.6, lash=0.6),
    "old woman": replace(
        _woman,
        torso=1.38,
        upper_arm=0.85,
        forearm=0.77,
        thigh=1.02,
        shin=1.0,
        neck=0.68,
        waist=0.95,
        face_length=0.03,
        jaw=0.02,
        cheek=-0.005,
        eye=0.84,
        brow=1.05,
        lip=0.62,
        lash=0.4,
        age=1.0,
        stoop=4.0,
    ),
    "old man": replace(
        _man,
        shoulder=0.66,
        torso=1.48,
        upper_arm=0.92,
        forearm=0.84,
        thigh=1.08,
        shin=1.06,
        neck=0.66,
        face_length=0.11,
        jaw=0.045,
        eye=0.72,
        brow=1.55,
        lip=0.5,
        lash=0.3,
        age=1.0,
        stoop=5.0,
    ),
}
BUILDS: dict[str, dict[str, float]] = {  # factors on the proportions
    "average": {},
    "slight": {"shoulder": 0.93, "hip": 0.92, "limb": 0.86},
    "sturdy": {"shoulder": 1.08, "hip": 1.10, "limb": 1.16, "waist": 1.10},
    "tall": {"torso": 1.06, "thigh": 1.12, "shin": 1.14, "upper_arm": 1.06, "forearm": 1.06},
    "round": {"hip": 1.24, "limb": 1.14, "waist": 1.34, "shoulder": 1.02},
}


CHILDREN = ("girl", "boy")
MEN = ("man", "old man")
FIGURES = ("storybook", "natural", "small")  # ways to draw a figure: about 5, 7½ and 3 heads high

HEEL = 0.13  # hh from the ankles to the ground
_HEADS = {"woman": 7.4, "man": 7.5, "girl": 5.7, "boy": 5.7, "old woman": 7.0, "old man": 7.1}  # of natural figures
# Factors that bring a storybook body to other figures.
_NATURAL = {"thigh": 1.06, "shin": 1.06, "forearm": 0.90, "upper_arm": 0.97, "shoulder": 0.93, "limb": 0.95}
_NATURAL_CHILD = {"forearm": 0.90, "upper_arm": 0.97, "shoulder": 0.83, "limb": 0.86}
_SMALL = {
    "thigh": 0.46,
    "shin": 0.46,
    "torso": 0.58,
    "upper_arm": 0.56,
    "forearm": 0.54,
    "shoulder": 0.70,
    "hip": 0.82,
    "limb": 0.86,
    "neck": 0.86,
}
_SMALL_CHILD = {
    "thigh": 0.56,
    "shin": 0.56,
    "torso": 0.70,
    "upper_arm": 0.72,
    "forearm": 0.70,
    "shoulder": 0.84,
    "limb": 0.92,
    "neck": 0.94,
}


@cache
def body_of(subject: str, build: str, figure: str = "storybook") -> Proportions:
    """The body of somebody of an age, sex and build, in one of `FIGURES`.

    Raises KeyError where a name is unknown.
    """
    body = SUBJECTS[subject]
    rounder = 0.016 if build == "round" else 0.0
    changes = {name: getattr(body, name) * factor for name, factor in BUILDS[build].items()}
    body = replace(body, cheek=body.cheek + rounder, jaw=body.jaw + rounder, **changes)
    return {"storybook": _as_it_is, "natural": _natural, "small": _small}[figure](body, subject)


def _as_it_is(body: Proportions, subject: str) -> Proportions:
    return body


def _natural(body: Proportions, subject: str) -> Proportions:
    child = subject in CHILDREN
    made = _times(body, _NATURAL_CHILD if child else _NATURAL)
    below = 0.18 if child else 0.235  # from the chin to the neck, in heads
    head = (HEEL + made.shin + made.thigh + made.torso) / (_HEADS[subject] - 1 - below)
    return replace(made, neck=(0.5 + below) * head, head=head)


def _small(body: Proportions, subject: str) -> Proportions:
    return _times(body, _SMALL_CHILD if subject in CHILDREN else _SMALL)


def _times(body: Proportions, factors: dict[str, float]) -> Proportions:
    return replace(body, **{name: getattr(body, name) * factor for name, factor in factors.items()})


@dataclass(frozen=True, slots=True)
class Expression:
    brow_raise: float = 0.0
    brow_inner: float = 0.0  # + worried, − angry
    eye_open: float = 0.92
    squint: float = 0.0
    mouth_curve: float = 0.35
    mouth_open: float = 0.0
    mouth_width: float = 1.0
    blush: float = 0.5
    brow_skew: float = 0.0  # one brow up, the other down


EXPRESSIONS: dict[str, Expression] = {
    "calm": Expression(),
    "joyful": Expression(0.25, 0.05, 0.80, 0.42, 0.95, 0.62, 1.15, 0.9),
    "sad": Expression(-0.05, 0.75, 0.74, 0.05, -0.75, 0.0, 0.85, 0.35),
    "surprised": Expression(0.9, 0.2, 1.26, 0.0, 0.0, 0.9, 0.55, 0.6),
    "angry": Expression(-0.35, -1.0, 0.80, 0.35, -0.55, 0.0, 0.95, 0.7),
    "thoughtful": Expression(0.15, 0.30, 0.80, 0.12, -0.08, 0.0, 0.82, 0.4),
    "proud": Expression(0.30, -0.25, 0.76, 0.15, 0.62, 0.0, 1.02, 0.5),
    "laughing": Expression(0.35, 0.10, 0.46, 0.62, 1.1, 1.0, 1.22, 1.0),
    "confused": Expression(0.20, 0.25, 1.02, 0.05, -0.30, 0.0, 0.85, 0.5, 0.9),
    "sleepy": Expression(0.10, 0.15, 0.42, 0.10, 0.10, 0.0, 0.85, 0.4),
    "afraid": Expression(0.65, 0.85, 1.18, 0.0, -0.45, 0.35, 0.75, 0.2),
}

# Expressions that nobody has by chance, only where words name them.
NAMED_EXPRESSIONS: dict[str, Expression] = {
    "shouting": Expression(0.05, -0.55, 0.95, 0.15, -0.10, 1.0, 1.05, 0.7),
    "asleep": Expression(0.05, 0.10, 0.0, 0.0, 0.18, 0.0, 0.88, 0.45),
    "shy": Expression(0.15, 0.38, 0.78, 0.12, 0.25, 0.0, 0.78, 1.0),
    "stern": Expression(-0.25, -0.60, 0.82, 0.20, -0.22, 0.0, 0.92, 0.3),
    "disgusted": Expression(-0.15, -0.40, 0.66, 0.48, -0.60, 0.10, 0.80, 0.3, 0.4),
    "smirking": Expression(0.10, -0.18, 0.74, 0.25, 0.60, 0.0, 0.72, 0.4, 0.5),
}
USUAL_EXPRESSIONS = tuple(EXPRESSIONS)
EXPRESSIONS |= NAMED_EXPRESSIONS


def expression_of(name: str) -> Expression:
    """One expression, or the mean of several joined by "+".

    Raises KeyError where one of them is unknown.
    """
    parts = [astuple(EXPRESSIONS[part]) for part in name.split("+")]
    return Expression(*(sum(values) / len(parts) for values in zip(*parts, strict=True)))
