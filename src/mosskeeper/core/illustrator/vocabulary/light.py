"""Times of day: colour and direction of the light, of sky, fog, rim and shadow."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from mosskeeper.core.illustrator.vocabulary.colours import Rgb, rgb


@dataclass(frozen=True, slots=True)
class Light:
    key: tuple[float, float, float]  # multiplies albedo; stays near 1, or greens and skin die
    direction: tuple[float, float]  # towards the light, y down
    shadow: tuple[float, float, float]
    sky: tuple[str, str, str]  # zenith, middle, horizon
    fog: str
    rim: tuple[float, float, float]
    rim_strength: float
    glow: float  # of lamps and bright areas
    windows: float  # share of lit windows
    tint: tuple[float, float, float] = (1.0, 1.0, 1.0)
    vignette: float = 0.2
    background: float = 1.0  # brightness of what lies behind the figure

    @property
    def toward(self) -> tuple[float, float]:
        x, y = self.direction
        length = float(np.hypot(x, y))
        return x / length, y / length

    @property
    def dark(self) -> bool:
        return self.windows > 0.3

    def sky_at(self, t: float) -> Rgb:
        """Sky colour at height `t`: 0 zenith … 1 horizon."""
        a, b, c = (rgb(s) for s in self.sky)
        return a * (1 - 2 * t) + b * 2 * t if t < 0.5 else b * (2 - 2 * t) + c * (2 * t - 1)


TIMES: dict[str, Light] = {
    "dawn": Light((1.05, 0.96, 0.87), (-0.85, -0.5), (0.64, 0.58, 0.80), ("7f9fd0", "e9c6c0", "fde2b4"), "d9cdd6",
                  (1.0, 0.86, 0.62), 0.75, 0.55, 0.45, (1.03, 0.97, 0.96), 0.18),
    "morning": Light((1.05, 1.01, 0.93), (-0.7, -0.7), (0.66, 0.66, 0.82), ("6fa6d8", "b5d6e4", "f4ecd4"), "cfdcdc",
                     (1.0, 0.95, 0.76), 0.65, 0.2, 0.0, (1.01, 1.0, 0.98), 0.12),
    "noon": Light((1.02, 1.01, 0.975), (0.55, -0.85), (0.67, 0.69, 0.82), ("5fa9d6", "a9d5e6", "e6f2ea"), "bcd9e2",
                  (1.0, 0.98, 0.86), 0.55, 0.1, 0.0, (1.0, 1.0, 1.0), 0.10),
    "dusk": Light((1.0, 0.87, 0.80), (0.9, -0.35), (0.50, 0.42, 0.68), ("39407c", "9a6797", "fbb06c"), "8a6c98",
                  (1.0, 0.70, 0.38), 0.95, 0.9, 0.85, (1.04, 0.95, 0.97), 0.28, 0.86),
    "night": Light((0.90, 0.85, 0.90), (-0.6, -0.8), (0.42, 0.42, 0.68), ("0d1535", "203565", "4a6594"), "24386a",
                   (0.66, 0.84, 1.0), 0.80, 1.3, 1.0, (0.98, 0.99, 1.04), 0.34, 0.62),
}  # fmt: skip

WEATHERS = ("clear", "rain", "fog", "snow", "wind", "storm")


def _scaled(v: tuple[float, float, float], k: float) -> tuple[float, float, float]:
    return v[0] * k, v[1] * k, v[2] * k


def _towards(v: tuple[float, float, float], to: tuple[float, float, float], share: float) -> tuple[float, float, float]:
    a, b, c = (x * (1 - share) + y * share for x, y in zip(v, to, strict=True))
    return a, b, c


def _low_key(light: Light) -> Light:
    return replace(
        light,
        key=_scaled(light.key, 0.80),
        shadow=_scaled(light.shadow, 0.62),
        background=light.background * 0.46,
        vignette=light.vignette + 0.26,
        rim_strength=light.rim_strength * 1.25,
    )


def _high_key(light: Light) -> Light:
    return replace(
        light,
        key=_towards(light.key, (1.13, 1.11, 1.08), 0.75),
        shadow=_towards(light.shadow, (1, 1, 1), 0.65),
        background=min(1.16, light.background * 1.22),
        vignette=0.0,
        glow=max(light.glow, 0.45),
        windows=light.windows * 0.5,
    )


def _back_light(light: Light) -> Light:
    return replace(
        light,
        key=_scaled(light.key, 0.76),
        direction=(light.direction[0] * 0.5, -0.35),
        shadow=_scaled(light.shadow, 0.72),
        rim=_towards(light.rim, (1.0, 0.97, 0.86), 0.5),
        rim_strength=1.6,
        glow=max(light.glow, 1.0),
        background=min(1.12, light.background * 1.10),
    )


def _lantern_light(light: Light) -> Light:
    return replace(
        light,
        key=_towards(light.key, (1.06, 0.88, 0.66), 0.7),
        rim=(1.0, 0.78, 0.46),
        rim_strength=0.9,
        background=light.background * 0.72,
        glow=max(light.glow, 0.9),
        windows=max(light.windows, 0.6),
        vignette=light.vignette + 0.12,
    )


def _moonlight(light: Light) -> Light:
    return replace(
        light,
        key=_towards(light.key, (0.74, 0.81, 1.0), 0.8),
        rim=(0.70, 0.86, 1.0),
        rim_strength=0.95,
        shadow=_towards(light.shadow, (0.40, 0.44, 0.70), 0.6),
        background=light.background * 0.62,
        tint=(0.96, 0.99, 1.06),
    )


MOODS: dict[str, Callable[[Light], Light]] = {
    "plain light": lambda light: light,
    "low key": _low_key,
    "high key": _high_key,
    "back light": _back_light,
    "lantern light": _lantern_light,
    "moonlight": _moonlight,
}


def light_of(time: str, mood: str, weather: str) -> Light:
    """The light of a time of day, in a mood, under a sky: rain and storm take a part of it away."""
    light = MOODS[mood](TIMES[time])
    if weather == "rain":
        light = replace(light, key=_scaled(light.key, 0.97), background=light.background * 0.92)
    if weather == "storm":
        light = replace(light, key=_scaled(light.key, 0.92), background=light.background * 0.78, vignette=light.vignette + 0.10)
    return light


def under_sky(light: Light, colour: Rgb) -> Light:
    """The light under a sky of this colour in its middle: darker above, lighter at the horizon."""
    zenith, horizon = colour * 0.72, colour * 0.62 + 0.38
    sky = (_digits(zenith), _digits(colour), _digits(horizon))
    return replace(light, sky=sky, fog=_digits(np.asarray(rgb(light.fog)) * 0.5 + horizon * 0.5))


def _digits(colour: Rgb) -> str:
    return "".join(f"{round(255 * float(c)):02x}" for c in np.clip(colour, 0, 1))
