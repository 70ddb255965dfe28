"""Persons and pictures at random: every word of the vocabularies, with colours, faces, poses and cameras beside them."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from mosskeeper.core.illustrator.camera import shifts
from mosskeeper.core.illustrator.description import WORN, Description, Face, Layout, Person
from mosskeeper.core.illustrator.skeleton import joints
from mosskeeper.core.illustrator.vocabulary import colours
from mosskeeper.core.illustrator.vocabulary.people import MEN, body_of
from mosskeeper.core.illustrator.vocabulary.poses import USUAL, Pose
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab
from mosskeeper.core.words.attributes import ATTRIBUTES

Rng = np.random.Generator
FRAMINGS = {"close": 0.09, "bust": 0.23, "half": 0.27, "full": 0.31, "wide": 0.10}
OTHER_POSE = "other"
_SHIFT = 0.05  # picture widths; whole steps, so that drawings share a backdrop
_COMPANY = (0.70, 0.24, 0.06)  # one, two, three figures
_EMPTY = 0.03  # of the pictures: nobody is there


def _pick(rng: Rng, values: tuple[str, ...]) -> str:
    return values[int(rng.integers(len(values)))]


def _jittered(rng: Rng, rgb: np.ndarray, lightness: float, hue: float) -> np.ndarray:
    lab = rgb_to_lab(np.asarray(rgb, np.float32)) + rng.normal(size=3).astype(np.float32) * (lightness, hue, hue)
    return np.clip(lab_to_rgb(lab.astype(np.float32)), 0.02, 0.99)


def _hex(rgb: np.ndarray) -> str:
    return "#" + "".join(f"{round(float(v) * 255):02x}" for v in rgb)


def _near(rng: Rng, table: dict[str, np.ndarray], lightness: float, hue: float) -> str:
    return _hex(_jittered(rng, table[_pick(rng, tuple(table))], lightness, hue))


def _any_colour(rng: Rng) -> np.ndarray:
    lab = np.array([rng.uniform(20, 92), *rng.normal(0, 26, 2)], np.float32)
    return np.clip(lab_to_rgb(lab), 0.03, 0.98)


def _skin(rng: Rng) -> str:
    table = list(colours.SKINS.values())
    i, t = int(rng.integers(len(table) - 1)), rng.uniform()
    return _hex(_jittered(rng, table[i] * (1 - t) + table[i + 1] * t, 2.0, 1.5))


def somebody(rng: Rng) -> Person:
    """A person: who it is, without clothes or pose."""
    subject = _pick(rng, ATTRIBUTES["subject"].values)
    return Person(
        subject=subject,
        build="average" if rng.uniform() < 0.45 else _pick(rng, ATTRIBUTES["build"].values),
        skin=_skin(rng),
        hair=_pick(rng, ATTRIBUTES["hair"].values),
        hair_colour=_near(rng, colours.HAIR_COLOURS, 4, 3) if rng.uniform() < 0.85 else _hex(_any_colour(rng)),
        eyes=_near(rng, colours.EYE_COLOURS, 4, 4),
        freckles=bool(rng.uniform() < 0.22),
        glasses=bool(rng.uniform() < 0.2),
        facial_hair=_pick(rng, ("beard", "moustache")) if subject in MEN and rng.uniform() < 0.45 else "none",
        mark=_pick(rng, ("scar", "mole")) if rng.uniform() < 0.25 else "none",
        face=Face.sampled(rng),
    )


def sibling(of: Person, rng: Rng) -> Person:
    """Another person with the same hair, skin, build and subject: another face, and eyes and marks of their own."""
    other = somebody(rng)
    skin = _hex(_jittered(rng, colours.rgb(of.skin[1:]), 1.5, 1.0))
    hair = _hex(_jittered(rng, colours.rgb(of.hair_colour[1:]), 1.5, 1.0))
    return replace(of, face=other.face, eyes=other.eyes, mark=other.mark, skin=skin, hair_colour=hair)


def person(seed: int, number: int) -> Person:
    """Person `number` of a population: an even one, and its sibling as the next."""
    one = somebody(np.random.default_rng([seed, number // 2, 0]))
    return one if number % 2 == 0 else sibling(one, np.random.default_rng([seed, number // 2, 1]))


def _cloth(rng: Rng) -> tuple[float, float, float]:
    rgb = _jittered(rng, colours.CLOTH[_pick(rng, tuple(colours.CLOTH))], 4, 4) if rng.uniform() < 0.7 else _any_colour(rng)
    return tuple(map(float, rgb))  # type: ignore[return-value]


def dressed(who: Person, rng: Rng) -> Person:
    """The person with clothes, things, an expression, and now and then other hair."""
    hair = who.hair if rng.uniform() < 0.88 else _pick(rng, ATTRIBUTES["hair"].values)
    prop = _pick(rng, ATTRIBUTES["prop"].values) if rng.uniform() < 0.62 else "nothing"
    return replace(
        who,
        hair=hair,
        headwear=_pick(rng, ATTRIBUTES["headwear"].values[1:]) if rng.uniform() < 0.18 else "none",
        expression=_pick(rng, ATTRIBUTES["expression"].values),
        outfit=_pick(rng, ATTRIBUTES["outfit"].values),
        colour_a=_cloth(rng),
        colour_b=_cloth(rng),
        pattern=_pick(rng, ATTRIBUTES["pattern"].values[1:]) if rng.uniform() < 0.35 else "plain",
        worn=tuple(thing for thing in WORN if rng.uniform() < 0.15),
        prop=prop,
        second_prop=_pick(rng, ATTRIBUTES["prop"].values) if prop != "nothing" and rng.uniform() < 0.08 else "nothing",
    )


def _random_pose(rng: Rng) -> Pose:
    def arm() -> tuple[float, ...]:
        upper = rng.uniform(-5, 155)
        return (upper, upper + rng.normal(0, 60), rng.uniform(0.7, 1), rng.uniform(0.7, 1))

    def leg() -> tuple[float, ...]:
        upper = abs(rng.normal(0, 24)) - 4
        return (upper, upper + rng.normal(-6, 24), rng.uniform(0.75, 1), rng.uniform(0.8, 1))

    return Pose(
        arm(), arm(), leg(), leg(), rng.normal(0, 7), rng.normal(0, 8), rng.uniform(-0.95, 0.95), rng.normal(0, 5), rng.normal(0, 4)
    )


@dataclass(frozen=True, slots=True)
class Scene:
    """Where pictures are taken: several are drawn in one, since places cost most of a drawing's time."""

    framing: str
    angle: str
    ground: int
    place: str
    time: str
    weather: str
    light: str
    finish: tuple[str, ...]


def scene(rng: Rng, finish: str | None = None, place: str | None = None) -> Scene:
    """A scene at random; in one finish or place where these are given."""
    finishes = ATTRIBUTES["finish"].values
    return Scene(
        framing=str(rng.choice(list(FRAMINGS), p=list(FRAMINGS.values()))),
        angle="level" if rng.uniform() < 0.8 else _pick(rng, ("above", "below")),
        ground=int(rng.integers(1000)),
        place=place or _pick(rng, ATTRIBUTES["place"].values),
        time=_pick(rng, ATTRIBUTES["time"].values),
        weather="clear" if rng.uniform() < 0.5 else _pick(rng, ATTRIBUTES["weather"].values),
        light="plain light" if rng.uniform() < 0.55 else _pick(rng, ATTRIBUTES["light"].values),
        finish=(finish or _pick(rng, finishes),)
        if finish or rng.uniform() < 0.88
        else tuple(rng.choice(finishes, 2, replace=False).tolist()),
    )


def layout(who: Person, where: Scene, rng: Rng) -> tuple[Layout, str]:
    """A layout, and the name of its pose: OTHER_POSE where the limbs go where they like."""
    name = _pick(rng, USUAL)
    u = rng.uniform()
    view = "free" if u < 0.62 else "front" if u < 0.76 else "three-quarter" if u < 0.88 else "profile"
    gaze = "level" if rng.uniform() < 0.75 else _pick(rng, ("up", "down"))
    made = Layout(
        pose=name,
        framing=where.framing,
        facing=1 if rng.uniform() < 0.5 else -1,
        shift=_SHIFT * int(rng.integers(-2, 3)),
        zoom=float(np.exp(rng.normal(0, 0.09))),
        sway=float(np.clip(rng.normal(0, 5), -12, 12)),
        ground=where.ground,
        view=view,
        gaze=gaze,
        angle=where.angle,
    )
    if rng.uniform() < 0.4:
        body = body_of(who.subject, who.build)
        skeleton = joints(body, _random_pose(rng), float(rng.normal(0, 4)))
        return replace(made, skeleton=tuple((float(x), float(y)) for x, y in skeleton)), OTHER_POSE
    return made, name


def picture(main: Person, others: list[Person], where: Scene, rng: Rng) -> tuple[Description, list[str]]:
    """A picture about `main`, with as many of `others` as come along, and the pose names of its figures."""
    company = min(int(rng.choice(3, p=_COMPANY)), len(others))
    cast, poses = [], []
    for who, shift in zip([main, *others[:company]], shifts(company + 1), strict=True):
        who = dressed(who, rng)
        stands, pose = layout(who, where, rng)
        stands = replace(stands, shift=stands.shift * (0.5 if company else 1.0) + shift)
        if cast:
            stands = replace(stands, depth=float(rng.uniform(0, 0.7)) if rng.uniform() < 0.5 else 0.0)
        cast.append(replace(who, layout=stands))
        poses.append(pose)
    first, rest = cast[0], cast[1:]
    if rng.uniform() < _EMPTY:
        first, rest = replace(first, layout=replace(first.layout, pinned=(-3.0, 0.5, 0.2))), []
        poses = poses[:1]
    described = Description(
        **{name: getattr(first, name) for name in Person.__dataclass_fields__},
        others=tuple(rest),
        companion=_pick(rng, ATTRIBUTES["companion"].values) if rng.uniform() < 0.25 else "nobody",
        place=where.place,
        time=where.time,
        weather=where.weather,
        light=where.light,
        finish=where.finish,
    )
    return described, poses
