"""The light of a board: its sky, its sun or moon, and the time of day that they tell."""

from __future__ import annotations

from collections.abc import Container
from dataclasses import fields, replace
from typing import Any

import numpy as np

from mosskeeper.core.boards.read import BoardRead
from mosskeeper.core.boards.tones import hexadecimal, mixed_hex, rgb_of
from mosskeeper.core.illustrator.places import OPEN_COUNTRY, place_called
from mosskeeper.core.illustrator.scene import Disc, Scene
from mosskeeper.core.illustrator.vocabulary.colours import rgb
from mosskeeper.core.illustrator.vocabulary.light import TIMES, Light, light_of
from mosskeeper.core.pictures.colour import rgb_to_lab

_BRIGHT, _DARK = 50, 25  # L of a wall by day, and by night
_NIGHT_SKY = 30  # L of a zenith below which a disc is a moon


def light_between(base: Scene, read: BoardRead, said: Container[str], weight: float, soft: float) -> Light | None:
    """The light on its way from the words' to the board's; None where the board says nothing of it."""
    d = base.description
    own = base.light or light_of(d.time, d.light, d.weather)
    if read.sky is None:
        return base.light
    if read.wall:  # no sky is seen: only whether it is bright or dark
        bright = float(read.sky[:, 0].mean())
        time = "noon" if bright > _BRIGHT and own.dark else "night" if bright < _DARK else d.time
        return base.light if "time" in said or time == d.time else _between(own, light_of(time, d.light, d.weather), weight, soft)
    course = [read.sky[0], read.sky[len(read.sky) // 2], read.sky[-1]]

    def far(time: str) -> float:
        return sum(float(np.linalg.norm(rgb_to_lab(rgb(s)) - c)) for s, c in zip(TIMES[time].sky, course, strict=True))

    time = d.time if "time" in said else min(TIMES, key=far)
    if read.disc_lab is not None and "time" not in said and course[0][0] < _NIGHT_SKY:
        time = "night"
    # a mood that words do not name would hang its own moon into the day
    goal = light_of(time, d.light if "light" in said else "plain light", d.weather)
    zenith, middle, low = (hexadecimal(rgb_of(c)) for c in course)
    goal = replace(goal, sky=(zenith, middle, low), fog=mixed_hex(goal.fog, low, 0.6))
    if read.disc is not None:
        goal = replace(goal, direction=_towards_disc(read))
    return _between(own, goal, weight, soft)


def _towards_disc(read: BoardRead) -> tuple[float, float]:
    assert read.disc is not None
    w, h = read.size
    from_x, from_y = read.figures[0].head[:2] if read.figures else (w / 2, h * 0.45)
    dx, dy = read.disc[0] - from_x, min(read.disc[1] - from_y, -0.12 * h)
    length = float(np.hypot(dx, dy))
    return dx / length, dy / length


def _between(a: Light, b: Light, weight: float, soft: float) -> Light:
    values: dict[str, Any] = {}
    for f in fields(Light):
        x, y = getattr(a, f.name), getattr(b, f.name)
        if f.name == "sky":
            values[f.name] = tuple(mixed_hex(s, t, soft) for s, t in zip(x, y, strict=True))
        elif f.name == "fog":
            values[f.name] = mixed_hex(x, y, weight)
        elif f.name == "direction":
            values[f.name] = _over_the_top(x, y, weight)
        elif isinstance(x, tuple):
            values[f.name] = tuple(float(s * (1 - weight) + t * weight) for s, t in zip(x, y, strict=True))
        else:
            values[f.name] = float(x * (1 - weight) + y * weight)
    return Light(**values)


def _over_the_top(a: tuple[float, float], b: tuple[float, float], weight: float) -> tuple[float, float]:
    """A direction between two that never comes from below."""
    first = np.arctan2(a[1], a[0])
    turn = (np.arctan2(b[1], b[0]) - first + np.pi) % (2 * np.pi) - np.pi
    if np.sin(first + turn / 2) > 0:
        turn -= np.sign(turn) * 2 * np.pi
    angle = first + weight * turn
    return float(np.cos(angle)), float(np.sin(angle))


def disc_between(base: Scene, light: Light, read: BoardRead, weight: float) -> Disc | None:
    """The sun or moon on its way: from the one that the words' place has, or coming where it has none."""
    if read.disc is None or read.disc_lab is None:
        return base.disc
    (bw, bh), (w, h), view = read.size, base.size, base.camera
    (x, y, r), colour = read.disc, rgb_of(read.disc_lab)
    goal = Disc((x / bw * w, y / bh * h), r / bw * w, colour)
    if base.disc is not None:
        own: tuple[float, float, float] | None = (*base.disc.at, base.disc.radius)
    elif (
        base.description.place != OPEN_COUNTRY and place_called(base.description.place).outdoors and (light.background < 0.7 or light.dark)
    ):
        px, py, pr = (0.78, 0.16, 0.055) if light.background < 0.7 else (0.2 if light.direction[0] < 0 else 0.82, 0.50, 0.085)
        unit = max(w, h / 1.25) * view.zoom
        own = (px - view.centre[0]) * unit + w / 2, (py - view.centre[1]) * unit + h / 2, pr * unit
    else:
        own = None
    if own is None:
        return replace(goal, alpha=weight)
    at_x, at_y, radius = (a * (1 - weight) + b * weight for a, b in zip(own, (*goal.at, goal.radius), strict=True))
    return replace(goal, at=(at_x, at_y), radius=radius)
