"""Things held in the left hand (of an unmirrored figure). A prop is a function and a line in `PROPS`."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.figure import Figure
from mosskeeper.core.illustrator.shapes import Points, ellipse, point, points, rectangle, ribbon, spline, taper
from mosskeeper.core.illustrator.vocabulary.colours import rgb


def draw(f: Figure) -> bool:
    """Draws the figure's prop; True where there is one."""
    prop = PROPS[f.is_.prop]
    if prop is None:
        return False
    elbow, wrist = f.j["left elbow"], f.j["left wrist"]
    direction = (wrist - elbow) / np.hypot(*(wrist - elbow))
    prop(f, wrist + direction * 0.14)
    return True


def lantern(f: Figure, grip: Points) -> None:
    c = grip + point(0, 0.44)
    bail = [grip + point(*p) for p in ((-0.10, 0.16), (-0.09, 0.02), (0, -0.03), (0.09, 0.02), (0.10, 0.16))]
    f.add(ribbon(bail, [0.014] * 5), "iron", Part.PROP, 175, shade=0.0, drop=0.3)
    roof = [c + point(*p) for p in ((-0.13, -0.19), (0, -0.30), (0.13, -0.19), (0.18, -0.15), (-0.18, -0.15))]
    f.add(spline(roof, True, 4), "iron", Part.PROP, 175.3, shade=0.3)
    glass = [c + point(*p) for p in ((-0.13, -0.16), (0.13, -0.16), (0.155, 0.03), (0.13, 0.20), (-0.13, 0.20), (-0.155, 0.03))]
    lit = f.add(spline(glass, True, 4), "glow", Part.PROP, 175.2, shade=0.0, emission=0.95)
    f.mark(lit, ellipse(c + point(0, 0.05), 0.085, 0.13), rgb("fff6d0"), 0.95, 1.2, vital=True)
    f.mark(lit, ellipse(c + point(0, 0.08), 0.03, 0.06), rgb("ffb347"), 0.7, 0.5)
    bars = [ribbon([c + point(x, -0.16), c + point(x * 1.12, 0.03), c + point(x, 0.20)], [0.012] * 3) for x in (-0.13, 0, 0.13)]
    bars += [ribbon([c + point(-0.16, y), c + point(0.16, y)], [0.016, 0.016]) for y in (-0.155, 0.2)]
    f.add(bars, "iron", Part.PROP, 175.3, shade=0.0, drop=0.0)
    f.add(rectangle(*(c + point(-0.16, 0.2)), *(c + point(0.16, 0.27))), "iron", Part.PROP, 175.3, shade=0.2)
    f.lamp(c, 2.6, rgb("ffb45a"), min(1.05, f.light.glow * 0.75 + 0.12))


def watering_can(f: Figure, grip: Points) -> None:
    c = grip + point(0.02, 0.34)
    tin = f.colour("tin")
    spout = ribbon([c + point(0.18, 0.05), c + point(0.42, -0.10), c + point(0.56, -0.28)], [0.06, 0.04, 0.032])
    f.add(spout, tin * 0.92, Part.PROP, 174.8, shade=0.4)
    rose = [c + point(*p) for p in ((0.49, -0.34), (0.58, -0.20), (0.68, -0.30), (0.60, -0.40))]
    f.add(spline(rose, True, 4), tin, Part.PROP, 174.9, shade=0.3)
    can = [
        c + point(*p)
        for p in ((-0.22, -0.17), (0.20, -0.17), (0.23, -0.12), (0.25, 0.22), (0.2, 0.26), (-0.22, 0.26), (-0.26, 0.22), (-0.24, -0.12))
    ]
    item = f.add(spline(can, True, 4), tin, Part.PROP, 175, shade=0.8)
    f.mark(
        item, [ribbon([c + point(-0.3, y), c + point(0, y + 0.02), c + point(0.3, y)], [0.012] * 3) for y in (-0.10, 0.17)], "shade", 0.8
    )
    f.mark(item, taper([c + point(-0.13, -0.1), c + point(-0.14, 0.05), c + point(-0.13, 0.2)], 0.03), "lit", 0.8, 1)
    handle = [c + point(-0.2, -0.14), c + point(-0.16, -0.32), grip + point(0, 0.01), c + point(0.13, -0.3), c + point(0.17, -0.15)]
    f.add(ribbon(handle, [0.026] * 5), tin * 0.85, Part.PROP, 175, shade=0.2)


def book(f: Figure, grip: Points) -> None:
    raised = f.j["left wrist"][1] < f.j["left elbow"][1]
    c, a = grip + point(-0.02, -0.02), 0.1 if raised else -0.12
    cos, sin = np.cos(a), np.sin(a)

    def at(x: float, y: float) -> Points:
        return c + point(x * cos - y * sin, x * sin + y * cos)

    f.add(points(at(-0.27, -0.30), at(0.27, -0.30), at(0.27, 0.34), at(-0.27, 0.34)), "wine", Part.PROP, 175, shade=0.5)
    f.plain(points(at(-0.26, 0.285), at(0.27, 0.285), at(0.27, 0.325), at(-0.26, 0.325)), "cream", Part.PROP, 175.1, line=0.6)
    border = [points(at(-0.19, -0.23), at(0.21, -0.23), at(0.21, 0.22), at(-0.19, 0.22)),
              points(at(-0.17, -0.21), at(-0.17, 0.20), at(0.19, 0.20), at(0.19, -0.21))]  # fmt: skip
    f.plain(border, "mustard", Part.PROP, 175.2)
    f.plain(ellipse(at(0.01, -0.02), 0.085, 0.085), "mustard", Part.PROP, 175.2)


def letter(f: Figure, grip: Points) -> None:
    c = grip + point(0.04, -0.06)
    sheet = points(c + (-0.24, -0.17), c + (0.24, -0.20), c + (0.26, 0.14), c + (-0.22, 0.17))
    item = f.add(sheet, "paper", Part.PROP, 175, shade=0.25)
    f.mark(item, taper([sheet[0], c + point(0.02, 0.02), sheet[1]], 0.012), "shade", 0.9, vital=True)
    f.plain(ellipse(c + point(0.02, 0.01), 0.045, 0.045), "wine", Part.PROP, 175.1, drop=0.2)


def staff(f: Figure, grip: Points) -> None:
    axis = point(0.06, -1) / np.hypot(0.06, 1)
    top = grip + axis * max(1.6, grip[1] - (f.j["neck"][1] - 1.3))
    foot = grip - axis * max(0.6, -grip[1] - 0.02)
    crook = [foot, grip, top, *(top + point(*p) for p in ((0.06, -0.22), (0.26, -0.33), (0.40, -0.18), (0.32, 0.0), (0.20, -0.02)))]
    item = f.add(ribbon(crook, [0.045, 0.05, 0.048, 0.046, 0.04, 0.034, 0.028, 0.015]), "wood", Part.PROP, 174, shade=0.4)
    rings = [
        taper([foot * (1 - t) + top * t + point(0.01, 0), foot * (0.9 - t) + top * (t + 0.1)], 0.008) for t in np.linspace(0.05, 0.85, 8)
    ]
    f.mark(item, rings, "shade", 0.8)
    light = top + point(0.24, 0.06)
    f.add(ellipse(light, 0.07, 0.09), rgb("bff3e2"), Part.PROP, 175, shade=0.0, emission=0.9)
    f.lamp(light, 1.3, rgb("8fffe0"), 0.3 + 0.4 * f.light.glow)


PROPS: dict[str, Callable[[Figure, Points], None] | None] = {
    "nothing": None,
    "lantern": lantern,
    "watering can": watering_can,
    "book": book,
    "letter": letter,
    "staff": staff,
}
