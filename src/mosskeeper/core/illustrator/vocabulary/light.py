"""Times of day: colour and direction of the light, of sky, fog, rim and shadow."""

from __future__ import annotations

from dataclasses import dataclass

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
    "noon": Light((1.03, 1.01, 0.96), (0.55, -0.85), (0.67, 0.69, 0.82), ("5fa9d6", "a9d5e6", "e6f2ea"), "bcd9e2",
                  (1.0, 0.98, 0.86), 0.55, 0.1, 0.0, (1.0, 1.0, 1.0), 0.10),
    "dusk": Light((1.0, 0.87, 0.80), (0.9, -0.35), (0.50, 0.42, 0.68), ("39407c", "9a6797", "fbb06c"), "8a6c98",
                  (1.0, 0.70, 0.38), 0.95, 0.9, 0.85, (1.04, 0.95, 0.97), 0.28, 0.86),
    "night": Light((0.90, 0.85, 0.90), (-0.6, -0.8), (0.42, 0.42, 0.68), ("0d1535", "203565", "4a6594"), "24386a",
                   (0.66, 0.84, 1.0), 0.80, 1.3, 1.0, (0.98, 0.99, 1.04), 0.34, 0.62),
}  # fmt: skip

WEATHERS = ("clear", "rain", "fog", "snow")
