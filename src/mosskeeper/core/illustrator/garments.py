"""Garment components. An outfit names them in order; each draws itself over the figure.

A component is a function `(figure, **arguments)`. Cloth hangs from the shoulders and hips along the legs
and is never drawn above them, so that it follows every pose.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from mosskeeper.core.illustrator import body, patterns
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.figure import SIDES, Colour, DrawnFigure
from mosskeeper.core.illustrator.items import Item
from mosskeeper.core.illustrator.shapes import (
    Points,
    ellipse,
    intersect,
    limb,
    point,
    points,
    resample,
    ribbon,
    spline,
    subtract,
    taper,
    to_path,
    unit,
)
from mosskeeper.core.illustrator.vocabulary.outfits import GARMENTS, OUTFITS


def dress(f: DrawnFigure) -> None:
    """Puts the figure's whole outfit on it."""
    for (name, arguments), garment in zip(OUTFITS[f.is_.outfit], GARMENTS[f.is_.outfit], strict=True):
        COMPONENTS[name](f, **_in_own_colours(f, garment, arguments))


def _in_own_colours(f: DrawnFigure, garment: str, arguments: dict[str, Any]) -> dict[str, Any]:
    """A component's arguments with the colours that its garment, its belt and its lining have of their own."""
    of = {"colour": garment, "belt": "belt", "lining": "lining"}
    if not f.is_.tints:
        return arguments
    return {name: f.tinted(of[name], value) if name in of and value is not None else value for name, value in arguments.items()}


# -- cloth that hangs --------------------------------------------------------------------------------------


def _skirt_edges(f: DrawnFigure, length: float, flare: float, top_width: float) -> tuple[Points, Points]:
    """Left and right edge of a skirt that follows the legs; `length` 1 reaches the knees, 2 the ankles."""
    hip = f.at(0, f.torso)
    left = [f.at(-top_width, f.torso * 0.62), f.at(-(f.hip_width + 0.17), f.torso * 0.92)]
    right = [f.at(top_width, f.torso * 0.62), f.at(f.hip_width + 0.17, f.torso * 0.92)]
    for t in np.linspace(0, length, 6)[1:]:
        a, b = f.leg_at("right", t), f.leg_at("left", t)
        if a[0] > b[0]:
            a, b = b, a
        spread, least = 0.17 + flare * t, hip[1] + t * 0.35
        left.append(point(min(a[0] - spread, hip[0] - f.hip_width - spread * 0.8), max(a[1], least)))
        right.append(point(max(b[0] + spread, hip[0] + f.hip_width + spread * 0.8), max(b[1], least)))
    top = f.j["neck"][1] + f.torso * 0.8
    return f.blown(spline(left, False, 4), top, 0.13), f.blown(spline(right, False, 4), top, 0.13)


def _sheet(f: DrawnFigure, left: Points, right: Points, wave: float = 0.04, waves: int = 5) -> tuple[Points, Points]:
    """Outline between two edges with a waved hem, and the hem alone."""
    t = np.linspace(0, 1, 25)[:, None]
    hem = left[-1] * (1 - t) + right[-1] * t
    sag = np.sin(t * np.pi) * 0.10 + wave * np.sin(t * np.pi * waves * 2 + f.is_.layout.ground) * 0.7
    hem = hem + point(0, 1) * sag
    return np.vstack([left, hem[1:-1], right[::-1]]), hem


def _folds(f: DrawnFigure, item: Item, left: Points, right: Points, hem: Points, n: int = 6, alpha: float = 0.5) -> None:
    if not f.detailed:
        return
    dark, light = [], []
    side = 1.5 * -f.light_side
    for i in range(n):
        u = (i + 0.5 + f.rng.uniform(-0.25, 0.25)) / n
        start = int(len(left) * f.rng.uniform(0.12, 0.4))
        line = [(1 - u) * left[m] + u * right[m] for m in np.linspace(start, len(left) - 1, 4).astype(int)]
        line[-1] = hem[int(u * 24)] + point(0, 0.02)
        line[1] = line[1] + point(f.rng.uniform(-0.02, 0.02), 0)
        w = f.rng.uniform(0.025, 0.05) * f.shoulder_width / 0.55
        dark.append(taper(line, w, 0.8))
        light.append(taper([p - point(w * side, 0) for p in line], w * 0.5, 0.8))
    f.mark(item, dark, "shade", alpha, 1.2)
    f.mark(item, light, "lit", alpha * 0.6, 0.8)


def _trim(f: DrawnFigure, item: Item, hem: Points, width: float, colour: Colour, up: float = 0.0, dots: bool = True) -> None:
    if not f.detailed:
        return
    line = hem - point(0, up)
    f.mark(item, np.vstack([line + point(0, width * 0.1), (line - point(0, width))[::-1]]), colour, 0.95)
    if dots:
        studs = (ellipse(c - point(0, width * 0.45), width * 0.20, width * 0.20, n=8) for c in resample(line, 14))
        f.mark(item, studs, "cream", 0.8)


# -- legs --------------------------------------------------------------------------------------------------


def trousers(f: DrawnFigure, colour: Colour, fit: float = 1.0, reach: float = 2.0) -> None:
    """Trousers that reach down the leg: 1 to the knee, 2 to the ankle."""
    k = f.thickness * fit
    for i, side in enumerate(_far_first(f)):
        hip, knee, ankle = (f.j[f"{side} {name}"] for name in ("hip", "knee", "ankle"))
        hem = ankle * 0.94 + knee * 0.06
        whole = limb([hip, knee, hem], [0.235 * k, 0.175 * k, 0.135 * k])
        if reach < 1:
            end = hip * (1 - reach) + knee * reach
            whole = limb([hip, (hip + end) / 2, end], [0.235 * k, 0.215 * k, 0.205 * k])
        item = f.add(f.union(whole), colour, Part.BOTTOM, 113 + i * 2)
        if reach < 1:
            continue
        d = unit(knee - hip)
        n = point(-d[1], d[0])
        creases = (
            taper([knee + n * 0.15 * k + point(0, y), knee + point(0, y + 0.035), knee - n * 0.1 * k + point(0, y - 0.01)], 0.016)
            for y in (-0.09, 0.0, 0.08)
        )
        f.mark(item, creases, "shade", 0.7)
        if i == 0:  # the far leg lies in the shadow of the near one
            f.mark(item, ellipse((knee + ankle) / 2, 0.4, 0.9), "shade", 0.35, 4)
    t, w = f.torso, f.hip_width
    seat = [
        f.at(-(w + 0.1), t * 0.78),
        f.at(-(w + 0.155), t),
        f.at(-0.1, t + 0.22),
        f.at(0.1, t + 0.22),
        f.at(w + 0.155, t),
        f.at(w + 0.1, t * 0.78),
    ]
    f.add(spline(seat), colour, Part.BOTTOM, 117)


def boots(f: DrawnFigure, colour: Colour, height: float) -> None:
    """Boots up to `height` of the shin; none on bare feet."""
    if "bare feet" in f.is_.worn:
        return
    k = f.thickness
    for i, side in enumerate(_far_first(f)):
        sign = -1 if side == "right" else 1
        knee, ankle = f.j[f"{side} knee"], f.j[f"{side} ankle"]
        body.foot(f, side, sign, colour, Part.SHOES, 117.5 + i, 0.035)
        top = ankle * (1 - height) + knee * height
        shaft = limb([top, ankle * 0.8 + knee * 0.2, ankle], [0.165 * k, 0.135 * k, 0.125 * k])
        item = f.add(f.union(shaft), colour, Part.SHOES, 117.8 + i, drop=0.3)
        d = unit(knee - ankle)
        n = point(-d[1], d[0])
        f.mark(item, ribbon([top - n * 0.2, top + n * 0.2], [0.05, 0.05]), "lit", 0.55)
        creases = (taper([ankle - n * 0.12 + d * y, ankle + d * (y + 0.03), ankle + n * 0.12 + d * y], 0.014) for y in (0.05, 0.14))
        f.mark(item, creases, "shade", 0.8)


def _far_first(f: DrawnFigure) -> tuple[str, str]:
    return ("right", "left") if f.turn > 0 else ("left", "right")


# -- torso -------------------------------------------------------------------------------------------------


def tunic(
    f: DrawnFigure,
    colour: Colour,
    length: float,
    belt: Colour | None = None,
    trim: Colour | None = None,
    flare: float = 0.10,
    neckline: bool = True,
    ribbed: bool = False,
) -> None:
    upper = body.torso(f, 1, 0.72)
    left, right = _skirt_edges(f, length, flare, f.hip_width + 0.1)
    skirt, hem = _sheet(f, left, right, 0.03)
    whole = f.union([upper, skirt])
    item = f.add(whole, colour, Part.TOP, 120 if length < 0.9 or ribbed else 119.5, shade=0.9)
    patterns.add(f, item, colour)
    _folds(f, item, left, right, hem, 5)
    pulls = (
        taper(
            [f.at(s * f.shoulder_width * 0.86, 0.28), f.at(s * f.shoulder_width * 0.55, 0.42), f.at(s * f.shoulder_width * 0.30, 0.46 + y)],
            0.022,
        )
        for s in (-1, 1)
        for y in (0, 0.14)
    )
    f.mark(item, pulls, "shade", 0.55, 0.6)
    if ribbed:
        ribs = [
            taper([f.at(x, 0.12), f.at(x * 0.96, f.torso * 0.5), f.at(x * 1.05, f.torso * 0.98)], 0.010)
            for x in np.linspace(-f.shoulder_width * 0.92, f.shoulder_width * 0.92, 15)
        ]
        f.mark(item, ribs, "shade", 0.6, 0.2)
        f.mark(item, (p + point(0.018, 0) for p in ribs), "lit", 0.3, 0.2)
    if trim is not None:
        _trim(f, item, hem, 0.085, trim, 0.03)
    if neckline and not f.hood:
        opening = [f.at(-0.17, -0.08), f.at(-0.1, 0.1), f.at(0, 0.17), f.at(0.1, 0.1), f.at(0.17, -0.08)]
        f.mark(item, spline(opening), f.shaded("skin", 0.93), 1, vital=True)
        edge = [f.at(-0.19, -0.06), f.at(-0.11, 0.115), f.at(0, 0.19), f.at(0.11, 0.115), f.at(0.19, -0.06)]
        f.mark(item, taper(edge, 0.016, 0.5), "deep", 0.5)
    if belt is not None:
        _belt(f, item, whole, belt)


def _belt(f: DrawnFigure, under: Item, shape: object, colour: Colour) -> None:
    w, y = f.hip_width + 0.32, f.torso * 0.70
    upper = spline([f.at(-w, y), f.at(0, y + 0.04), f.at(w, y)], False, 6)
    lower = upper + f.down * 0.11
    band = intersect(to_path(np.vstack([upper, lower[::-1]])), shape)  # type: ignore[arg-type]
    f.add(band, colour, Part.ACCESSORY, 122, shade=0.25)
    buckle = points(f.at(-0.07, y + 0.015), f.at(0.07, y + 0.015), f.at(0.07, y + 0.155), f.at(-0.07, y + 0.155))
    f.add(spline(buckle, True, 3), "mustard", Part.ACCESSORY, 123, shade=0.2)
    f.mark(under, lower + f.down * 0.05, "shade", 0.5, 1.5)


def sleeves(f: DrawnFigure, colour: Colour, reach: float = 1.0, width: float = 1.0, cuff: bool = False, trim: Colour | None = None) -> None:
    """Sleeves to `reach` of the arm: 0.5 is the elbow, 1 the wrist."""
    k = f.thickness
    for side, sign in SIDES:
        slot = f.arm_slot(side, 170 if side == "right" else 171)
        shoulder, elbow, wrist = (f.j[f"{side} {name}"] for name in ("shoulder", "elbow", "wrist"))
        body.bare_arm(f, side, slot - 0.4, reach)
        line, widths = [shoulder - f.right * (sign * 0.095) + point(0, 0.105), elbow], [0.138 * k, 0.126 * k * width]
        if reach > 0.5:
            u = (reach - 0.5) * 2
            line.append(elbow * (1 - u) + wrist * u)
            widths.append(0.108 * k * width * (1.15 if width > 1.2 else 1))
        else:
            line[1], widths[1] = shoulder * (1 - reach * 2) + elbow * reach * 2, 0.16 * k * width
        root = f.arm_from(side)
        item = f.add(
            f.union(limb([*root, *line], [0.15 * k] * len(root) + widths)), colour, Part.SLEEVE, slot, shade=0.5, drop=0.12, rim=False
        )
        # the cloth runs on over the shoulder: no shadow or edge of the sleeve marks where it begins
        f.mark(item, ellipse(line[0] - f.right * (sign * 0.06), 0.21 * k, 0.20 * k), colour, 1.0, 4.5, vital=True)
        patterns.add(f, item, colour)
        end, d = line[-1], unit(line[-1] - line[-2])
        n, w = point(-d[1], d[0]), widths[-1]
        if reach > 0.5:
            creases = (
                taper(
                    [elbow + n * widths[1] * 1.1 * s - d * y, elbow - d * (y - 0.02) + n * 0.02, elbow - n * widths[1] * 0.5 * s - d * y],
                    0.015,
                )
                for y, s in ((-0.07, 1), (0.02, -1), (0.10, 1))
            )
            f.mark(item, creases, "shade", 0.75, 0.4)
        if cuff:
            band = [
                end + n * w * 1.12 - d * 0.04,
                end - n * w * 1.12 - d * 0.04,
                end - n * w * 1.1 + d * 0.07,
                end + n * w * 1.1 + d * 0.07,
            ]
            f.add(spline(band, True, 4), f.shaded(colour, 1.04), Part.SLEEVE, slot + 0.3, shade=0.3)
        if trim is not None:
            band = [
                end + n * w * 1.06 - d * 0.02,
                end - n * w * 1.06 - d * 0.02,
                end - n * w * 1.12 + d * 0.075,
                end + n * w * 1.12 + d * 0.075,
            ]
            f.add(spline(band, True, 4), trim, Part.SLEEVE, slot + 0.3, shade=0.3)


def collar(f: DrawnFigure, colour: Colour) -> None:
    for s in (-1, 1):
        leaf = [f.at(s * 0.15, -0.11), f.at(s * 0.30, -0.01), f.at(s * 0.25, 0.17), f.at(s * 0.03, 0.14)]
        f.add(spline(leaf, True, 5), colour, Part.TOP, 136, shade=0.3)


def scarf(f: DrawnFigure, colour: Colour, lift: float = 0.0) -> None:
    loop = [f.at(-0.27, -0.09), f.at(-0.24, 0.06), f.at(0, 0.15), f.at(0.24, 0.06), f.at(0.27, -0.09), f.at(0.12, 0), f.at(-0.12, 0)]
    item = f.add(spline(loop), colour, Part.ACCESSORY, 136 + lift, shade=0.35)
    f.mark(item, taper([f.at(-0.24, -0.02), f.at(0, 0.08), f.at(0.22, -0.02)], 0.016), "shade", 0.8)
    end = spline([f.at(0.03, 0.10), f.at(0.13, 0.08), f.at(0.2, 0.38), f.at(0.05, 0.42)])
    f.add(f.blown(end, f.j["neck"][1] + 0.08, 0.9), colour, Part.ACCESSORY, 135.5 + lift, shade=0.3)


def apron(f: DrawnFigure, colour: Colour) -> None:
    w, t, base = f.shoulder_width, f.torso, f.colour(colour)
    left, right = _skirt_edges(f, 0.92, 0.05, f.hip_width + 0.05)
    middle = (left + right) / 2
    left, right = middle + (left - middle) * 0.78, middle + (right - middle) * 0.78
    skirt, hem = _sheet(f, left, right, 0.02, 3)
    bib = spline(
        [
            f.at(-w * 0.44, t * 0.27),
            f.at(0, t * 0.29),
            f.at(w * 0.44, t * 0.27),
            f.at(w * 0.52, t * 0.62),
            f.at(0, t * 0.7),
            f.at(-w * 0.52, t * 0.62),
        ],
        True,
        5,
    )
    for s in (-1, 1):
        strap = ribbon([f.at(s * w * 0.40, t * 0.30), f.at(s * w * 0.42, 0.05), f.at(s * w * 0.34, -0.08)], [0.045] * 3)
        f.add(strap, colour, Part.OUTER, 129, shade=0.2, drop=0.3)
    item = f.add(f.union([bib, skirt]), colour, Part.OUTER, 130, shade=0.7)
    patterns.add(f, item, colour)
    _folds(f, item, left, right, hem, 4, 0.4)
    y = t * 0.93
    pocket = points(f.at(-0.24, y), f.at(0.24, y), f.at(0.21, y + 0.34), f.at(-0.21, y + 0.34))
    f.add(pocket, np.clip(base * 0.94, 0, 1), Part.OUTER, 131, shade=0.2, drop=0.25)
    tie = ribbon([f.at(-(f.hip_width + 0.27), t * 0.66), f.at(0, t * 0.69), f.at(f.hip_width + 0.27, t * 0.66)], [0.04] * 3)
    waist = to_path(body.torso(f, 1.6))
    f.add(intersect(to_path(tie), waist), np.clip(base * 0.85, 0, 1), Part.OUTER, 132, shade=0.2, drop=0.2)
    for s in (-1, 1):
        f.add(ellipse(f.at(s * w * 0.40, t * 0.31), 0.032, 0.032), "mustard", Part.ACCESSORY, 132, shade=0.0, drop=0.1)
    tool = ribbon([f.at(0.08, y + 0.1), f.at(0.10, y - 0.1), f.at(0.13, y - 0.2)], [0.022, 0.02, 0.03])
    f.add(tool, "cream", Part.ACCESSORY, 130.5, shade=0.0, drop=0.1)


def coat(f: DrawnFigure, colour: Colour, trim: Colour, length: float, plain: bool = False) -> None:
    """A coat that is open in front. plain : with buttons only."""
    t = f.torso
    left, right = _skirt_edges(f, length, 0.22, f.hip_width + 0.12)
    skirt, hem = _sheet(f, left, right, 0.035)
    whole = f.union([body.torso(f, 1.4, 0.7), skirt])
    middle, half = (left + right) / 2, right - (left + right) / 2
    gape = np.linspace(0.02, 0.34, len(left))[:, None]
    below = middle[-1:] + point(0, 0.4)
    opening = np.vstack(
        [
            points(f.at(-0.02, -0.15), f.at(-0.04, t * 0.3)),
            middle - half * gape * 0.6,
            below - half[-1:] * 0.4,
            below + half[-1:] * 0.4,
            (middle + half * gape * 0.6)[::-1],
            points(f.at(0.04, t * 0.3), f.at(0.02, -0.15)),
        ]
    )
    item = f.add(subtract(whole, to_path(opening)), colour, Part.OUTER, 126, shade=0.9)
    patterns.add(f, item, colour)
    _folds(f, item, left, right, hem, 7)
    if plain:
        _lapels(f, item)
        return
    _trim(f, item, hem, 0.10, trim, 0.02)
    for s in (-1, 1):
        edge = np.vstack([points(f.at(s * 0.05, -0.1), f.at(s * 0.05, t * 0.3)), middle + s * half * gape * 0.6])
        f.mark(item, ribbon(resample(edge, 8) + f.right * (s * 0.025), [0.042] * 8), trim, 0.95)
    for i in range(4):
        y = t * (0.22 + 0.16 * i)
        for s in (-1, 1):
            f.add(ellipse(f.at(s * 0.155, y), 0.034, 0.034), "mustard", Part.ACCESSORY, 127, shade=0.15, drop=0.15)
        f.mark(item, taper([f.at(-0.15, y), f.at(0, y + 0.015), f.at(0.15, y)], 0.012), "mustard", 0.9)
    for s in (-1, 1):  # embroidered leaves on the chest
        leaves = (
            ellipse(f.at(s * (f.shoulder_width * 0.62 + 0.035 * (-1) ** i), 0.34 + i * 0.11), 0.05, 0.022, s * (0.7 if i % 2 else -0.7), 10)
            for i in range(4)
        )
        f.mark(item, leaves, trim, 0.9)


def _lapels(f: DrawnFigure, item: Item) -> None:
    """The lapels and buttons of a plain coat."""
    t = f.torso
    for s in (-1, 1):
        lapel = np.array([f.at(s * 0.06, -0.10), f.at(s * 0.28, 0.10), f.at(s * 0.18, 0.24), f.at(s * 0.05, t * 0.52)])
        f.mark(item, lapel, "deep", 0.35)
        f.mark(item, taper(lapel[[0, 1, 2, 3]], 0.014), "deep", 0.6)
    for y in (0.60, 0.78):
        f.add(ellipse(f.at(0.09, t * y), 0.028, 0.028), "charcoal", Part.ACCESSORY, 127, shade=0.15, drop=0.15)


def cape(f: DrawnFigure, colour: Colour, hood: bool, length: float) -> None:
    """A closed cape over both arms; a raised hand comes out above it."""
    t, base = f.torso, f.colour(colour)
    bottom = f.j["neck"][1] + t * length + 0.28

    def edge(side: str, sign: int) -> Points:
        elbow, shoulder = f.j[f"{side} elbow"], f.j[f"{side} shoulder"]
        d = elbow - shoulder
        over = shoulder + d * 0.8 + point(sign * 0.17, 0) if d[1] > -0.1 else shoulder + d * 0.62 + point(sign * 0.10, -0.12)
        out = max(sign * over[0], sign * (f.j["neck"][0] + sign * f.shoulder_width * 1.15)) * sign + sign * 0.10
        return spline(
            [
                f.at(sign * 0.16, -0.12),
                shoulder + point(sign * 0.06, -0.12),
                over + point(0, -0.05),
                point(out, max(bottom, over[1] + 0.22)),
            ],
            False,
            5,
        )

    left, right = (f.blown(edge(side, sign), f.j["neck"][1] + 0.1, 0.22) for side, sign in SIDES)
    sheet, hem = _sheet(f, left, right, 0.035, 4)
    item = f.add(sheet, colour, Part.OUTER, 173, shade=1.0, drop=1.0)
    patterns.add(f, item, colour)
    _folds(f, item, left, right, hem, 8, 0.6)
    f.mark(item, np.vstack([hem - point(0, 0.025), (hem - point(0, 0.08))[::-1]]), np.clip(base * 1.12, 0, 1), 0.95)
    f.mark(item, taper([f.at(0.01, -0.1), f.at(0, t * 0.3), hem[13]], 0.012), "deep", 0.7)
    for i in range(3):
        toggle = ribbon([f.at(-0.06, 0.2 + 0.22 * i), f.at(0.06, 0.2 + 0.22 * i)], [0.022, 0.022])
        f.add(toggle, "cream", Part.ACCESSORY, 173.5, shade=0.1, drop=0.1)
    if hood:
        _hood(f, colour)


def hood_opening(f: DrawnFigure) -> Points:
    """Outline of the opening of a hood, through which face and hair are seen."""
    if f.profile:
        return f.on_side(
            spline(
                [
                    (0.10, 0.60),
                    (0.02, 0.34),
                    (0.00, 0.05),
                    (0.04, -0.26),
                    (0.14, -0.46),
                    (0.34, -0.60),
                    (0.62, -0.50),
                    (0.66, 0.0),
                    (0.60, 0.50),
                    (0.34, 0.66),
                ]
            )
        )
    k = f.turn * 0.06
    return f.on_head(
        spline(
            [
                (-0.30 + k, 0.47),
                (-0.40 + k, 0.22),
                (-0.42 + k, -0.08),
                (-0.36 + k, -0.32),
                (-0.18 + k, -0.45),
                (k, -0.48),
                (0.18 + k, -0.45),
                (0.36 + k, -0.32),
                (0.42 + k, -0.08),
                (0.40 + k, 0.22),
                (0.30 + k, 0.47),
                (k, 0.56),
            ]
        )
    )


def _hood(f: DrawnFigure, colour: Colour) -> None:
    base = f.colour(colour)
    if f.profile:
        outside = f.on_side(
            spline(
                [
                    (0.24, 0.62),
                    (-0.06, 0.64),
                    (-0.34, 0.56),
                    (-0.56, 0.30),
                    (-0.66, -0.05),
                    (-0.62, -0.36),
                    (-0.42, -0.62),
                    (-0.10, -0.75),
                    (0.24, -0.72),
                    (0.36, -0.58),
                    (0.22, -0.40),
                    (0.12, -0.1),
                    (0.12, 0.2),
                ]
            )
        )
    else:
        outside = f.on_head(
            spline(
                [
                    (-0.36, 0.56),
                    (-0.52, 0.30),
                    (-0.57, -0.05),
                    (-0.50, -0.40),
                    (-0.27, -0.62),
                    (0.02 - f.turn * 0.05, -0.72),
                    (0.27, -0.62),
                    (0.50, -0.40),
                    (0.57, -0.05),
                    (0.52, 0.30),
                    (0.36, 0.56),
                    (0, 0.66),
                ]
            )
        )
    inside = hood_opening(f)
    f.add(outside, base * 0.62, Part.OUTER, 104, shade=0.5)
    item = f.add(subtract(to_path(outside), to_path(inside)), colour, Part.OUTER, 174, shade=0.6)
    f.mark(item, (taper(f.on_head([(s * 0.47, 0.42), (s * 0.50, 0), (s * 0.33, -0.45)]), 0.022) for s in (-1, 1)), "shade", 0.5, 1)
    edge = np.vstack([inside, (f.head + (inside - f.head) * 1.06)[::-1]]) if not f.profile else taper(inside[:40], 0.03)
    f.mark(item, edge, "lit", 0.55)


def cloak(f: DrawnFigure, colour: Colour, lining: Colour) -> None:
    """An open cloak: a sheet behind the figure, two drapes in front, a mantle and a clasp."""
    j, t = f.j, f.torso
    foot = max(j["right ankle"][1], j["left ankle"][1]) - 0.15
    drift, flare = -0.25 * f.turn, 0.42

    def outermost(side: str, choose: Callable[..., float]) -> float:
        if j[f"{side} elbow"][1] <= j[f"{side} shoulder"][1]:
            return float(j[f"{side} shoulder"][0])
        return float(choose(j[f"{side} {name}"][0] for name in ("elbow", "shoulder", "knee")))

    x0, x1, neck = outermost("right", min), outermost("left", max), j["neck"]
    left = spline(
        [
            f.at(-0.2, -0.08),
            j["right shoulder"] + point(-0.10, -0.05),
            point(x0 - 0.16, neck[1] + t * 0.6),
            point(x0 - 0.26 + drift, neck[1] + t * 1.2),
            point(x0 - flare + drift * 1.6, foot),
        ],
        False,
        5,
    )
    right = spline(
        [
            f.at(0.2, -0.08),
            j["left shoulder"] + point(0.10, -0.05),
            point(x1 + 0.16, neck[1] + t * 0.6),
            point(x1 + 0.26 + drift, neck[1] + t * 1.2),
            point(x1 + flare + drift * 1.6, foot),
        ],
        False,
        5,
    )
    left, right = (f.blown(side, neck[1] + 0.2, 0.26) for side in (left, right))
    sheet, hem = _sheet(f, left, right, 0.05, 4)
    item = f.add(sheet, f.shaded(lining, 0.72), Part.OUTER, 100, shade=0.8, drop=1.2)
    _folds(f, item, left, right, hem, 9, 0.7)
    for side, sign, edge in (("right", -1, left), ("left", 1, right)):
        w = f.shoulder_width
        inner = [f.at(sign * w * 0.98, t * 0.62), f.at(sign * w * 0.62, 0.32), f.at(sign * 0.10, 0.04)]
        turn = (edge[-1] + point(-sign * 0.15, 0)) * 0.5 + point(neck[0] + sign * w * 1.05, neck[1] + t * 1.1) * 0.5
        outline = np.vstack([edge, spline([edge[-1] + point(-sign * 0.22, 0.06), turn, *inner], False, 5)])
        raised = j[f"{side} wrist"][1] < j[f"{side} elbow"][1] + 0.3
        drape = f.add(outline, colour, Part.OUTER, 168 if raised else 172.5, shade=0.7, drop=1.0)
        patterns.add(f, drape, colour)
        folds = (
            taper(
                [
                    f.at(sign * 0.2, 0),
                    f.at(sign * w * (0.7 + 0.15 * i), t * 0.4),
                    edge[int(len(edge) * 0.6)] - point(sign * (0.06 + 0.07 * i), 0),
                    edge[-1] - point(sign * (0.05 + 0.07 * i), 0),
                ],
                0.03,
                0.7,
            )
            for i in range(3)
        )
        f.mark(drape, folds, "shade", 0.6, 1.0)
    w = f.shoulder_width + 0.04
    mantle = [
        f.at(-w, 0.14),
        f.at(-0.38, -0.08),
        f.at(-0.16, -0.16),
        f.at(0, 0.02),
        f.at(0.16, -0.16),
        f.at(0.38, -0.08),
        f.at(w, 0.14),
        f.at(0.3, 0.30),
        f.at(0, 0.24),
        f.at(-0.3, 0.30),
    ]
    item = f.add(spline(mantle), colour, Part.OUTER, 173, shade=0.5)
    f.mark(item, (taper([f.at(s * f.shoulder_width, 0.1), f.at(s * 0.2, 0.2), f.at(0, 0.2)], 0.02) for s in (-1, 1)), "shade", 0.6, 0.5)
    f.add(ellipse(f.at(0, 0.17), 0.075, 0.075), "mustard", Part.ACCESSORY, 174, shade=0.2)
    f.add(ellipse(f.at(0, 0.17), 0.036, 0.036), "teal", Part.ACCESSORY, 174, shade=0.0, line=0.5, drop=0.0)


def sash(f: DrawnFigure, colour: Colour) -> None:
    """A broad band at the waist with two hanging ends."""
    w, y = f.hip_width + 0.20, f.torso * 0.62
    band = spline(
        [f.at(-w, y), f.at(0, y + 0.03), f.at(w, y), f.at(w + 0.02, y + 0.17), f.at(0, y + 0.21), f.at(-w - 0.02, y + 0.17)], True, 4
    )
    whole = to_path(body.torso(f, 1.8))
    item = f.add(intersect(to_path(band), whole), colour, Part.ACCESSORY, 128, shade=0.4)
    f.mark(item, (taper([f.at(-w, y + k), f.at(0, y + k + 0.02), f.at(w, y + k)], 0.010) for k in (0.05, 0.12)), "shade", 0.7)
    for s, length in ((-1, 0.62), (1, 0.78)):
        end = ribbon(
            [f.at(0.10 + s * 0.03, y + 0.15), f.at(0.12 + s * 0.05, y + 0.45), f.at(0.10 + s * 0.10, y + length)], [0.06, 0.065, 0.085]
        )
        f.add(end, colour, Part.ACCESSORY, 128.2, shade=0.3, drop=0.5)


def bib(f: DrawnFigure, colour: Colour) -> None:
    """The upper part of overalls: a bib on two straps."""
    w, t = f.shoulder_width, f.torso
    front = [
        f.at(-w * 0.5, t * 0.26),
        f.at(0, t * 0.28),
        f.at(w * 0.5, t * 0.26),
        f.at(w * 0.74, t * 0.60),
        f.at(f.hip_width + 0.17, t * 0.98),
        f.at(-f.hip_width - 0.17, t * 0.98),
        f.at(-w * 0.74, t * 0.60),
    ]
    for s in (-1, 1):
        f.add(
            ribbon([f.at(s * w * 0.42, t * 0.30), f.at(s * w * 0.50, 0.06), f.at(s * w * 0.42, -0.08)], [0.055] * 3),
            colour,
            Part.OUTER,
            129,
            shade=0.2,
            drop=0.3,
        )
    item = f.add(spline(front, True, 5), colour, Part.OUTER, 130, shade=0.7)
    f.mark(item, [taper([f.at(-w * 0.4, t * 0.31), f.at(0, t * 0.33), f.at(w * 0.4, t * 0.31)], 0.010)], "deep", 0.6)
    pocket = points(f.at(-0.17, t * 0.40), f.at(0.17, t * 0.40), f.at(0.15, t * 0.62), f.at(-0.15, t * 0.62))
    f.add(pocket, f.shaded(colour, 0.92), Part.OUTER, 131, shade=0.2, drop=0.25)
    for s in (-1, 1):
        f.add(ellipse(f.at(s * w * 0.42, t * 0.31), 0.035, 0.035), "brass", Part.ACCESSORY, 132, shade=0.1, drop=0.1)


def plates(f: DrawnFigure, colour: Colour) -> None:
    """Armour of overlapping bark plates over chest, shoulders and hips."""
    t, base = f.torso, f.colour(colour)
    rng = f.rng
    for row in range(6):
        y = t * (0.12 + 0.155 * row)
        half = f.shoulder_width * (0.92 - 0.30 * min(1.0, row / 3.2)) + (0.12 if row > 3 else 0.0)
        n = 4 if row < 2 else 3
        for i in range(n):
            x = half * (2 * (i + 0.5) / n - 1)
            w, h = half / n * 1.25, t * 0.155
            plate = [
                f.at(x - w, y - h * 0.3),
                f.at(x, y - h * 0.5),
                f.at(x + w, y - h * 0.3),
                f.at(x + w * 0.8, y + h * 0.7),
                f.at(x, y + h * 1.05),
                f.at(x - w * 0.8, y + h * 0.7),
            ]
            item = f.add(
                spline(plate, True, 4),
                np.clip(base * rng.uniform(0.85, 1.10), 0, 1),
                Part.OUTER,
                126 + row * 0.1 + i * 0.01,
                shade=0.4,
                drop=0.6,
            )
            grain = (taper([f.at(x + q * w, y - h * 0.2), f.at(x + q * w * 0.8, y + h * 0.7)], 0.012) for q in (-0.4, 0.05, 0.45))
            f.mark(item, grain, "deep", 0.5)
    for side, sign in SIDES:
        shoulder, elbow = f.j[f"{side} shoulder"], f.j[f"{side} elbow"]
        d = unit(elbow - shoulder)
        n2 = point(-d[1], d[0])
        for k in range(3):
            c = shoulder + d * (0.02 + 0.17 * k) + f.right * (sign * 0.02)
            w = 0.24 * f.thickness * (1 - 0.16 * k)
            guard = [
                c - n2 * w - d * 0.06,
                c - d * 0.13,
                c + n2 * w - d * 0.06,
                c + n2 * w * 0.8 + d * 0.12,
                c + d * 0.19,
                c - n2 * w * 0.8 + d * 0.12,
            ]
            item = f.add(
                spline(guard, True, 4), np.clip(base * (1.05 - 0.07 * k), 0, 1), Part.OUTER, 172 + (2 - k) * 0.1, shade=0.5, drop=0.6
            )
            f.mark(
                item, (taper([c + n2 * w * q - d * 0.05, c + n2 * w * q * 0.8 + d * 0.14], 0.012) for q in (-0.4, 0.1, 0.5)), "deep", 0.5
            )


def satchel(f: DrawnFigure, colour: Colour) -> None:
    """A bag at the hip on a strap across the chest."""
    w, t = f.shoulder_width, f.torso
    strap = ribbon([f.at(-w * 0.62, -0.04), f.at(-0.08, t * 0.42), f.at(f.hip_width + 0.16, t * 0.92)], [0.045] * 3)
    f.add(strap, colour, Part.ACCESSORY, 133, shade=0.3, drop=0.5)
    c = f.at(f.hip_width + 0.20, t * 1.08)
    bag = spline([c + point(*p) for p in ((-0.26, -0.20), (0.26, -0.20), (0.28, 0.20), (-0.28, 0.20))], True, 3)
    f.add(bag, colour, Part.ACCESSORY, 169, shade=0.6, drop=0.7)
    flap = spline([c + point(*p) for p in ((-0.27, -0.21), (0.27, -0.21), (0.24, 0.04), (0, 0.10), (-0.24, 0.04))], True, 3)
    f.add(flap, f.shaded(colour, 0.85), Part.ACCESSORY, 169.1, shade=0.4, drop=0.4)
    f.add(ellipse(c + point(0, 0.06), 0.035, 0.035), "brass", Part.ACCESSORY, 169.2, shade=0.1, drop=0.1)


def neck_ring(f: DrawnFigure, colour: Colour) -> None:
    """The brass ring of a diver's suit, with its bolts, and a weight on the chest."""
    ring = spline(
        [f.at(-0.52, 0.04), f.at(-0.30, -0.12), f.at(0.30, -0.12), f.at(0.52, 0.04), f.at(0.34, 0.24), f.at(0, 0.32), f.at(-0.34, 0.24)],
        True,
        5,
    )
    item = f.add(ring, colour, Part.ACCESSORY, 173, shade=0.7)
    f.mark(item, spline([f.at(-0.22, -0.02), f.at(0.22, -0.02), f.at(0.16, 0.12), f.at(0, 0.16), f.at(-0.16, 0.12)], True, 4), "deep", 0.55)
    for x, y in ((-0.40, 0.07), (-0.22, 0.20), (0, 0.25), (0.22, 0.20), (0.40, 0.07)):
        f.add(ellipse(f.at(x, y), 0.035, 0.035), "iron", Part.ACCESSORY, 173.2, shade=0.2, drop=0.2)
    weight = f.at(0, f.torso * 0.42)
    f.add(
        spline([weight + point(*p) for p in ((-0.13, -0.10), (0.13, -0.10), (0.16, 0.16), (-0.16, 0.16))], True, 3),
        "iron",
        Part.ACCESSORY,
        133,
        shade=0.5,
        drop=0.5,
    )


def veil_hat(f: DrawnFigure, colour: Colour) -> None:
    """A straw hat with a veil of fine net down to the shoulders."""
    veil = spline(
        f.on_head([(-0.62, -0.24), (0.62, -0.24), (0.66, 0.30), (0.58, 0.72), (0.2, 0.82), (-0.2, 0.82), (-0.58, 0.72), (-0.66, 0.30)])
    )
    net = f.add(veil, "white", Part.HEADWEAR, 166, shade=0.0, alpha=0.30, drop=0.3, line=0.6)
    f.mark(net, (taper(f.on_head([(x, -0.22), (x * 1.05, 0.3), (x * 0.9, 0.8)]), 0.006) for x in np.linspace(-0.56, 0.56, 12)), "deep", 0.5)
    brim = spline(f.on_head([(-0.86, -0.20), (-0.5, -0.34), (0.5, -0.34), (0.86, -0.20), (0.5, -0.13), (0, -0.10), (-0.5, -0.13)]))
    f.add(brim, f.shaded(colour, 0.9), Part.HEADWEAR, 167, shade=0.4)
    crown = f.add(
        spline(f.on_head([(-0.48, -0.24), (-0.42, -0.50), (-0.2, -0.68), (0.2, -0.68), (0.42, -0.50), (0.48, -0.24), (0, -0.18)])),
        colour,
        Part.HEADWEAR,
        168,
        shade=0.7,
    )
    f.mark(crown, ribbon(f.on_head([(-0.5, -0.30), (0, -0.25), (0.5, -0.30)]), [0.045] * 3), "b", 0.95)


_COMPONENTS = (trousers, boots, tunic, sleeves, collar, scarf, apron, coat, cape, cloak, sash, bib, plates, satchel, neck_ring, veil_hat)
COMPONENTS: dict[str, Callable[..., None]] = {component.__name__: component for component in _COMPONENTS}
