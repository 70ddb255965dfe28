"""Shapes of a board as the painter paints them: leaves, puffs, ripples, or a smooth body in its own colour."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.items import Item, Mark
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.scene import Rough
from mosskeeper.core.illustrator.shapes import Points, ribbon, spline, taper, to_path

_LEAST = 0.03  # of its size, from which a shape is seen
_PARTS = {"tree": Part.FOLIAGE, "cloud": Part.SKY, "water": Part.WATER, "light": Part.LAMP}
_OPTIONS: dict[str, dict[str, Any]] = {
    "tree": {"shade": 0.7, "line": 0.4, "drop": 0.6},
    "cloud": {"alpha": 0.9, "blur": 2.5},
    "hill": {"shade": 0.9, "gradient": 0.5, "line": 0.3},
    "water": {"gradient": -0.3},
    "light": {"emission": 1.0},
}
_BODY: dict[str, Any] = {"shade": 0.6, "line": 0.7, "drop": 0.9}
_FRAME = (0.46, 0.33, 0.22)  # of a window


def rough_items(stage: PlaceFrame, roughs: Sequence[Rough], horizon: float, feet: float) -> list[Item]:
    """What shapes are painted as, in painter's order.

    Parameters
    ----------
    horizon, feet : px of the picture: from the horizon down things are nearer; what stands below the feet of figures, nearest.
    """
    for rough in roughs:
        if rough.grown >= _LEAST:
            _add(stage, rough, horizon, feet)
    return stage.display.ordered()


def _add(stage: PlaceFrame, rough: Rough, horizon: float, feet: float) -> None:
    (w, h), (left, top, _, _) = stage.display.canvas.size, stage.display.canvas.wider
    p, foot = np.array(rough.outline) * (w, h), np.array(rough.foot) * (w, h)
    p = foot + (p - foot) * ((1, rough.grown) if rough.kind == "water" else rough.grown)
    low = float(p[:, 1].max())
    p = p + (left, top)
    depth, slot = _depth(rough.kind, low, horizon, feet, h)
    smooth = spline(p, True, 3) if rough.kind in ("tree", "cloud", "hill") else p
    part, colour = _PARTS.get(rough.kind, Part.STRUCTURE), np.array(rough.colour)
    item = Item(to_path(smooth), colour, part, depth, slot, **({"emission": 0.92} | _OPTIONS.get(rough.kind, _BODY)))
    stage.display.items.append(item)
    rng = np.random.default_rng(len(p))
    if rough.kind == "tree":
        _leaves(stage, p, colour, depth, slot, rng)
    elif rough.kind == "water":
        item.marks += _ripples(p, colour, w, rng)
    elif rough.kind == "window":
        panes = Item(to_path(_panes(p)), np.array(_FRAME), Part.STRUCTURE, depth, slot + 0.02, shade=0.3, line=0.5, drop=0.8)
        stage.display.items.append(panes)
    elif rough.kind in ("hill", "trunk", "thing"):
        item.marks += _strokes(p, rough.kind == "trunk", rng)


def _depth(kind: str, low: float, horizon: float, feet: float, h: int) -> tuple[float, float]:
    """Depth and painter's slot: far things first, by where they stand."""
    fixed = {"cloud": (0.99, 10.0), "hill": (0.93, 20.5), "water": (0.88, 92.8)}
    if kind in fixed:
        return fixed[kind]
    near = float(np.clip((low - horizon) / max(h - horizon, 1), 0, 1))
    return 0.82 - 0.5 * near, 93 + 4 * near if low < feet - 2 else 97.5


def _leaves(stage: PlaceFrame, p: Points, colour: Points, depth: float, slot: float, rng: np.random.Generator) -> None:
    size = float(np.ptp(p, axis=0).max())
    r = 0.5 * float(np.sqrt(np.ptp(p[:, 0]) * np.ptp(p[:, 1]))) / (stage.zoom * stage.unit)
    middle = p.mean(0)
    for q in [*p[:: max(1, len(p) // 9)], *(middle + rng.normal(size=(4, 2)) * size * 0.16)]:
        tone = np.clip(colour * rng.uniform(0.86, 1.1), 0, 1)
        centre, own = stage.placed(middle + (q - middle) * 0.72), slot + 0.01 * rng.random()
        stage.leaves(centre, r * 0.42, tone, depth, 26, own, leaf=max(0.010, r * 0.10), emission=0.9)  # type: ignore[arg-type]


def _ripples(p: Points, colour: Points, w: int, rng: np.random.Generator) -> list[Mark]:
    (x0, y0), (x1, y1), out = p.min(0), p.max(0), []
    for k in range(60):
        y = y0 + (y1 - y0) * rng.random() ** 1.3
        x, long = rng.uniform(x0, x1), rng.uniform(0.02, 0.11) * w
        tone = colour * 0.72 if k % 2 else colour * 0.6 + 0.4
        out.append(Mark(to_path(taper([(x, y), (x + long, y + 0.3)], 0.6 + 0.006 * (y - y0))), tone, 0.5, 0.0))
    return out


def _panes(p: Points) -> list[Points]:
    (x0, y0), (x1, y1), size = p.min(0), p.max(0), float(np.ptp(p, axis=0).max())
    xm, ym = (x0 + x1) / 2, (y0 + y1) / 2
    lines = (
        ((x0, y0), (x1, y0)),
        ((x0, y1), (x1, y1)),
        ((x0, y0), (x0, y1)),
        ((x1, y0), (x1, y1)),
        ((xm, y0), (xm, y1)),
        ((x0, ym), (x1, ym)),
    )
    return [ribbon([a, b], [0.02 * size] * 2) for a, b in lines]


def _strokes(p: Points, upright: bool, rng: np.random.Generator) -> list[Mark]:
    (x0, y0), (x1, y1), size, out = p.min(0), p.max(0), float(np.ptp(p, axis=0).max()), []
    for _ in range(14):
        a = rng.uniform((x0, y0), (x1, y1))
        b = np.array([0.0, 0.22 * (y1 - y0)]) if upright else np.array([0.1 * (x1 - x0), 0.10 * (y1 - y0)])
        tone = "lit" if rng.random() < 0.4 else "shade"
        out.append(Mark(to_path(taper([a, a + b * 0.5 + rng.normal(size=2) * 2, a + b], 0.012 * size)), tone, 0.45, 0.6))
    return out
