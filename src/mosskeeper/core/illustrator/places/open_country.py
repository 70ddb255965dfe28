"""Open country in colours that it is given: sky, low hills, ground with what its colour suggests growing or lying on it."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import Points, ellipse, spline, taper
from mosskeeper.core.illustrator.vocabulary.colours import Rgb

HORIZON = 0.62  # place coordinate
_MEADOW = np.array([0.55, 0.60, 0.40])
_BANDS = 18
_ROWS, _EACH = 14, 15  # of what grows, and how much of it in a row


def build(s: PlaceFrame) -> None:
    s.sky()
    tones = [np.asarray(c) for c in s.tones] or [_MEADOW]

    def tone(t: float) -> Rgb:
        return np.asarray(tones[min(int(t * len(tones)), len(tones) - 1)])

    if not s.roughed & {"hill", "water"}:
        _hills(s, tone(0))
    across = np.linspace(-0.9, 1.9, 14)
    for i in range(_BANDS):
        t = i / _BANDS
        y = HORIZON + 0.02 * np.sin(across * (4 + i) + i) * t + (1.9 - HORIZON) * t**1.6
        band = np.array([*zip(across, y, strict=True), (1.9, 2.0), (-0.9, 2.0)])
        colour = tone(min(1.0, (1.9 - HORIZON) * t**1.6 / 0.63)) * (1.03 - 0.06 * (i % 2))
        s.plain(band, colour, Part.GROUND, 0.88 - 0.58 * min(1, t * 1.3), 22 + i * 0.05, emission=1.0)
    _growing(s, [tone(t) for t in np.linspace(0, 1, 16)])


def _hills(s: PlaceFrame, colour: Rgb) -> None:
    for k, (high, share) in enumerate(((0.055, 0.62), (0.030, 0.35))):
        x = np.linspace(-0.3, 1.3, 12)
        y = HORIZON - high * (0.5 + 0.5 * np.sin(x * (5 + 3 * k) + s.rng.uniform(0, 6))) * s.rng.uniform(0.7, 1.0, 12)
        outline = spline([(-0.5, HORIZON + 0.05), *zip(x, y, strict=True), (1.5, HORIZON + 0.05)], True, 4)
        haze = colour * (1 - share) + s.light.sky_at(0.9) * share
        s.add(outline, haze, Part.STRUCTURE, 0.94 - 0.02 * k, 20 + k, emission=1.0, line=0.25, drop=0.2)


def _growing(s: PlaceFrame, tones: list[Rgb]) -> None:
    """Grass on green ground, drifts on pale, pebbles and ripples on any other; what lies at one depth is one item."""
    middle = tones[9]
    green = bool(middle[1] > middle[0] * 1.03 and middle[1] > middle[2] * 1.15)
    pale = bool(middle.min() > 0.82)
    for k in range(_ROWS):
        t = (k + 0.5) / _ROWS
        own = tones[int(t * 15)]
        dark, light = list[Points](), list[Points]()
        for _ in range(_EACH if s.detailed else _EACH // 3):
            marks = _mark(s, t + s.rng.uniform(-0.5, 0.5) / _ROWS, green, pale)
            (dark if s.rng.random() < 0.6 else light).extend(marks)
        below, above = (own * (0.90, 0.93, 0.98),) * 2 if pale else (own * s.rng.uniform(0.72, 0.9), np.clip(own * 1.08 + 0.04, 0, 1))
        for marks, tone in ((dark, below), (light, above)):
            if marks:
                s.plain(marks, np.clip(tone, 0, 1), Part.GROUND, 0.86 - 0.5 * t, 30 + 50 * t, emission=1.0, alpha=0.7, labelled=False)
    if green and s.detailed:
        blades = [
            taper([(x + d, 1.32), (x + d * 1.6, 1.26), (x + d * 2.6, 1.18 + s.rng.uniform(0, 0.05))], 0.006, 0.3)
            for x in s.rng.uniform(-0.1, 1.1, 9)
            for d in (-0.02, -0.006, 0.008, 0.02)
        ]
        s.plain(blades[::2], tones[-1] * 0.62, Part.FOLIAGE, 0.1, 205, emission=1.0)
        s.plain(blades[1::2], tones[-1] * 0.85, Part.FOLIAGE, 0.1, 205, emission=1.0)


def _mark(s: PlaceFrame, t: float, green: bool, pale: bool) -> list[Points]:
    x, y, k = s.rng.uniform(-0.25, 1.25), HORIZON + 0.012 + 0.66 * max(t, 0.0) ** 1.6, 0.25 + 1.1 * t
    if green:
        return [
            taper([(x + d * k, y), (x + 1.5 * d * k, y - 0.022 * k), (x + 2.6 * d * k, y - s.rng.uniform(0.03, 0.05) * k)], 0.0028 * k, 0.3)
            for d in (-0.006, 0.0, 0.006)
        ]
    if pale:
        return [taper([(x, y), (x + 0.08 * k, y - 0.006 * k), (x + 0.17 * k, y)], 0.0035 * k)]
    if s.rng.random() < 0.35:
        return [ellipse((x, y), 0.014 * k * s.rng.uniform(0.5, 1.2), 0.006 * k, n=10)]
    return [taper([(x, y), (x + 0.05 * k, y - 0.004 * k), (x + 0.10 * k, y)], 0.002 * k)]
