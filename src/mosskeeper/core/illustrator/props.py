"""Things held in either hand or in both. A prop is a function and a line in `PROPS`.

A prop is drawn as for the left hand, from where that hand closes; in the right hand it is mirrored.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from mosskeeper.core.illustrator.description import Part, Person
from mosskeeper.core.illustrator.figure import DrawnFigure
from mosskeeper.core.illustrator.items import recoloured
from mosskeeper.core.illustrator.objects import held
from mosskeeper.core.illustrator.shapes import Points, ellipse, point, points, rectangle, ribbon, spline, taper
from mosskeeper.core.illustrator.skeleton import Posture, arm_held, arms_swapped, hand_at
from mosskeeper.core.illustrator.vocabulary.colours import rgb
from mosskeeper.core.illustrator.vocabulary.people import body_of

_APART = {"map": 0.44, "book": 0.26, "basket": 0.22, "net": 0.12, "broom": 0.14, "staff": 0.12, "kite": 0.14}  # of two hands, hh
HEADROOM = {"umbrella": 0.75, "staff": 0.25, "kite": 0.5, "net": 0.3}  # hh that a prop needs above the head in whole figures
_RAISED = {"half": (6, 118, 1.0, 0.50), "bust": (8, 176, 0.8, 1.0), "close": (0, 178, 0.6, 1.0)}  # arms, as in a pose
_BOTH_AT = {"bust": 0.12, "close": 0.05}  # of the spine: where two hands meet; else at the waist
_USUALLY_BOTH = ("map",)
OTHER = {"left": "right", "right": "left"}


def hand_of(person: Person) -> str:
    """The hand, of the unmirrored figure, that holds the prop: left, right or both."""
    hand = person.layout.hand
    if hand == "free":
        return "both" if person.prop in _USUALLY_BOTH and person.second_prop == "nothing" else "left"
    return hand if hand == "both" or person.layout.facing > 0 else OTHER[hand]


def held_with(person: Person, posture: Posture) -> Posture:
    """The posture with the arms as the prop needs them."""
    if PROPS[person.prop] is None:
        return posture
    hand = hand_of(person)
    if hand == "both":
        body, apart = body_of(person.subject, person.build, person.figure), point(_APART.get(person.prop, 0.14), 0)
        middle = _on_spine(posture, _BOTH_AT.get(person.layout.framing, 0.60))
        return hand_at(hand_at(posture, body, "right", middle - apart), body, "left", middle + apart)
    if hand == "right" and person.second_prop == "nothing":
        posture = arms_swapped(posture)
    for side in ("left", "right") if PROPS[person.second_prop] else (hand,):
        posture = _raised(person, posture, side)
    return posture


def _raised(person: Person, posture: Posture, side: str) -> Posture:
    """The posture with a hand that hangs below the frame brought up, so that what it holds is seen."""
    arm = _RAISED.get(person.layout.framing)
    if arm is None or person.layout.skeleton is not None:
        return posture
    raised = arm_held(posture, body_of(person.subject, person.build, person.figure), side, arm)
    return raised if posture.joint(f"{side} wrist")[1] > raised.joint(f"{side} wrist")[1] + 0.1 else posture


def _on_spine(posture: Posture, share: float) -> Points:
    """A place between the neck (0) and the hips (1)."""
    hips = (posture.joint("right hip") + posture.joint("left hip")) / 2
    return posture.joint("neck") * (1 - share) + hips * share


def grip(person: Person, posture: Posture) -> Points | None:
    """Where one hand holds the first prop, in hh; none where there is none, or both hands hold it before the trunk."""
    hand = hand_of(person)
    return None if PROPS[person.prop] is None or hand == "both" else posture.joint(f"{hand} wrist")


def draw(f: DrawnFigure) -> tuple[str, ...]:
    """Draws what the figure holds; the sides of the hands that grip something."""
    prop, second = PROPS[f.is_.prop], PROPS[f.is_.second_prop]
    hand, before = hand_of(f.is_), len(f.display.items)
    holding: list[str] = []
    if prop is not None:
        if hand == "both":
            grip = (_grip(f, "left") + _grip(f, "right")) / 2
            with f.enlarged(grip, f.is_.prop_size):
                prop(f, grip)
            holding += ["left", "right"]
        else:
            with f.enlarged(_grip(f, hand), f.is_.prop_size):
                _in_hand(f, prop, hand)
            holding.append(hand)
        if (own := dict(f.is_.tints).get("prop")) is not None:
            recoloured(f.display.items[before:], np.asarray(own))
    if second is not None and len(holding) < 2:
        free = OTHER[holding[0]] if holding else "right"
        _in_hand(f, second, free)
        holding.append(free)
    return tuple(holding)


def _in_hand(f: DrawnFigure, prop: Callable[[DrawnFigure, Points], None], side: str) -> None:
    grip = _grip(f, side)
    if side == "left":
        prop(f, grip)
    else:
        with f.mirrored_about(float(grip[0])):
            prop(f, grip)


def _grip(f: DrawnFigure, side: str) -> Points:
    elbow, wrist = f.j[f"{side} elbow"], f.j[f"{side} wrist"]
    length = float(np.hypot(*(wrist - elbow)))
    return np.asarray(wrist + ((wrist - elbow) / length if length > 1e-6 else point(0, 1)) * 0.14)


def lantern(f: DrawnFigure, grip: Points) -> None:
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
    f.lamp(c, 2.6, rgb("ffb45a"), min(1.05, f.air.glow * 0.75 + 0.12))


def watering_can(f: DrawnFigure, grip: Points) -> None:
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
        item, (ribbon([c + point(-0.3, y), c + point(0, y + 0.02), c + point(0.3, y)], [0.012] * 3) for y in (-0.10, 0.17)), "shade", 0.8
    )
    f.mark(item, taper([c + point(-0.13, -0.1), c + point(-0.14, 0.05), c + point(-0.13, 0.2)], 0.03), "lit", 0.8, 1)
    handle = [c + point(-0.2, -0.14), c + point(-0.16, -0.32), grip + point(0, 0.01), c + point(0.13, -0.3), c + point(0.17, -0.15)]
    f.add(ribbon(handle, [0.026] * 5), tin * 0.85, Part.PROP, 175, shade=0.2)


def book(f: DrawnFigure, grip: Points) -> None:
    raised = grip[1] < f.at(0, f.torso * 0.75)[1]
    c, a = grip + point(-0.02, -0.02), 0.1 if raised else -0.12
    cos, sin = np.cos(a), np.sin(a)

    def at(x: float, y: float) -> Points:
        return c + point(x * cos - y * sin, x * sin + y * cos)

    f.add(points(at(-0.27, -0.30), at(0.27, -0.30), at(0.27, 0.34), at(-0.27, 0.34)), "wine", Part.PROP, 175, shade=0.5)
    f.plain(points(at(-0.26, 0.285), at(0.27, 0.285), at(0.27, 0.325), at(-0.26, 0.325)), "cream", Part.PROP, 175.1, line=0.6)
    border = [
        points(at(-0.19, -0.23), at(0.21, -0.23), at(0.21, 0.22), at(-0.19, 0.22)),
        points(at(-0.17, -0.21), at(-0.17, 0.20), at(0.19, 0.20), at(0.19, -0.21)),
    ]
    f.plain(border, "mustard", Part.PROP, 175.2)
    f.plain(ellipse(at(0.01, -0.02), 0.085, 0.085), "mustard", Part.PROP, 175.2)


def letter(f: DrawnFigure, grip: Points) -> None:
    c = grip + point(0.04, -0.06)
    sheet = points(c + (-0.24, -0.17), c + (0.24, -0.20), c + (0.26, 0.14), c + (-0.22, 0.17))
    item = f.add(sheet, "paper", Part.PROP, 175, shade=0.25)
    f.mark(item, taper([sheet[0], c + point(0.02, 0.02), sheet[1]], 0.012), "shade", 0.9, vital=True)
    f.plain(ellipse(c + point(0.02, 0.01), 0.045, 0.045), "wine", Part.PROP, 175.1, drop=0.2)


def staff(f: DrawnFigure, grip: Points) -> None:
    axis = point(0.06, -1) / np.hypot(0.06, 1)
    top = grip + axis * max(1.6, grip[1] - (f.j["neck"][1] - 1.3))
    foot = grip - axis * max(0.6, -grip[1] - 0.02)
    crook = [foot, grip, top, *(top + point(*p) for p in ((0.06, -0.22), (0.26, -0.33), (0.40, -0.18), (0.32, 0.0), (0.20, -0.02)))]
    item = f.add(ribbon(crook, [0.045, 0.05, 0.048, 0.046, 0.04, 0.034, 0.028, 0.015]), "wood", Part.PROP, 174, shade=0.4)
    rings = (
        taper([foot * (1 - t) + top * t + point(0.01, 0), foot * (0.9 - t) + top * (t + 0.1)], 0.008) for t in np.linspace(0.05, 0.85, 8)
    )
    f.mark(item, rings, "shade", 0.8)
    light = top + point(0.24, 0.06)
    f.add(ellipse(light, 0.07, 0.09), rgb("bff3e2"), Part.PROP, 175, shade=0.0, emission=0.9)
    f.lamp(light, 1.3, rgb("8fffe0"), 0.3 + 0.4 * f.air.glow)


def umbrella(f: DrawnFigure, grip: Points) -> None:
    # held over the head, wherever the hand is
    top = point((grip[0] + f.seen_x(f.head[0])) / 2, f.head[1] - 1.05)
    f.add(ribbon([grip + point(0.01, 0.16), grip, top], [0.02, 0.022, 0.018]), "wood", Part.PROP, 174, shade=0.3)
    f.add(
        ribbon([grip + point(p, q) for p, q in ((0.01, 0.14), (0.03, 0.24), (0.10, 0.24), (0.11, 0.17))], [0.022] * 4),
        "wood",
        Part.PROP,
        174,
        shade=0.2,
    )
    t = np.linspace(np.pi, 0, 19)
    dome = np.stack([top[0] + 1.15 * np.cos(t), top[1] + 0.34 - 0.62 * np.sin(t)], 1)
    scallops = [top + point(1.15 - 2.3 * (k + 0.5) / 6, 0.26) for k in range(6)]
    edge = np.array([q for k in range(6) for q in (scallops[k], top + point(1.15 - 2.3 * (k + 1) / 6, 0.34))])
    item = f.add(np.vstack([dome, edge]), "b", Part.PROP, 103, shade=0.9, drop=0.8)
    ribs = (
        taper([top + point(0, -0.28), top + point(x * 0.7, -0.02), top + point(x, 0.32)], 0.012) for x in (-0.76, -0.38, 0.0, 0.38, 0.76)
    )
    f.mark(item, ribs, "deep", 0.6)
    f.add(taper([top + point(0, -0.42), top + point(0, -0.24)], 0.03), "iron", Part.PROP, 103.2, shade=0.2)


def basket(f: DrawnFigure, grip: Points) -> None:
    c = grip + point(0, 0.48)
    f.add(
        ribbon([c + point(*p) for p in ((-0.26, -0.10), (-0.20, -0.36), (0, -0.46), (0.20, -0.36), (0.26, -0.10))], [0.022] * 5),
        "wood",
        Part.PROP,
        174.6,
        shade=0.2,
    )
    for k, colour in enumerate(("brick", "mustard", "leaf", "mustard", "brick")):
        f.add(ellipse(c + point(-0.20 + 0.10 * k, -0.13 - 0.03 * (k % 2)), 0.085, 0.08), colour, Part.PROP, 174.8, shade=0.4, drop=0.3)
    bowl = [c + point(*p) for p in ((-0.32, -0.12), (0.32, -0.12), (0.27, 0.14), (0.18, 0.20), (-0.18, 0.20), (-0.27, 0.14))]
    item = f.add(spline(bowl, True, 4), rgb("b58a52"), Part.PROP, 175, shade=0.7)
    weave = (ribbon([c + point(-0.34, y), c + point(0, y + 0.03), c + point(0.34, y)], [0.012] * 3) for y in (-0.08, 0.0, 0.08, 0.15))
    f.mark(item, weave, "shade", 0.7)
    f.mark(item, (taper([c + point(x, -0.12), c + point(x * 0.85, 0.2)], 0.012) for x in np.linspace(-0.26, 0.26, 9)), "deep", 0.45)


def kite(f: DrawnFigure, grip: Points) -> None:
    c = grip + point(0.45, -1.25)
    f.plain(ribbon([grip, grip + point(0.28, -0.45), c], [0.008] * 3), "paper", Part.PROP, 173.5)
    sail = points(c + (0, -0.55), c + (0.40, -0.12), c + (0, 0.55), c + (-0.40, -0.12))
    item = f.add(sail, "brick", Part.PROP, 174, shade=0.4)
    f.mark(
        item,
        [points(c + (0, -0.55), c + (0.40, -0.12), c + (0, -0.12)), points(c + (0, 0.55), c + (-0.40, -0.12), c + (0, -0.12))],
        "mustard",
        0.95,
        vital=True,
    )
    f.mark(item, [taper([c + (0, -0.55), c + (0, 0.55)], 0.014), taper([c + (-0.40, -0.12), c + (0.40, -0.12)], 0.014)], "deep", 0.7)
    tail = [c + point(0.05 * np.sin(k * 1.6), 0.55 + 0.10 * k) for k in range(6)]
    f.plain(ribbon(tail, [0.010] * 3), "paper", Part.PROP, 173.8)
    f.plain([ellipse(p, 0.05, 0.025, 0.5 * (-1) ** k, 8) for k, p in enumerate(tail[1::2])], "teal", Part.PROP, 173.9)


def broom(f: DrawnFigure, grip: Points) -> None:
    top, foot = grip + point(-0.10, -1.25), grip + point(0.16, max(0.7, -grip[1] - 0.34))
    f.add(ribbon([top, grip, foot], [0.028, 0.03, 0.03]), "wood", Part.PROP, 174, shade=0.4)
    bristles = [foot + point(*p) for p in ((-0.09, -0.06), (0.09, -0.06), (0.24, 0.30), (0.06, 0.34), (-0.20, 0.30))]
    item = f.add(spline(bristles, True, 4), rgb("c9a85a"), Part.PROP, 174.2, shade=0.6)
    f.mark(item, (taper([foot + point(x * 0.4, 0), foot + point(x, 0.33)], 0.014) for x in np.linspace(-0.18, 0.2, 8)), "shade", 0.8)
    f.mark(item, ribbon([foot + point(-0.12, 0.02), foot + point(0.12, 0.02)], [0.035] * 2), "brick", 0.95)


def folded_map(f: DrawnFigure, grip: Points) -> None:
    c = grip + point(-0.05, -0.10)
    folds = np.linspace(-0.48, 0.48, 5)
    edge = [c + point(x, -0.30 + 0.05 * (-1) ** k) for k, x in enumerate(folds)]
    lower = [c + point(x, 0.30 + 0.05 * (-1) ** k) for k, x in enumerate(folds)]
    item = f.add(np.array([*edge, *reversed(lower)]), "paper", Part.PROP, 175, shade=0.2)
    f.mark(item, (np.array([edge[k], edge[k + 1], lower[k + 1], lower[k]]) for k in (1, 3)), "shade", 0.5)
    river = ribbon([c + point(-0.45, 0.16), c + point(-0.12, -0.02), c + point(0.10, 0.08), c + point(0.45, -0.16)], [0.03] * 4)
    f.mark(item, river, "sky", 0.9, vital=True)
    f.mark(item, (ellipse(c + point(x, y), 0.06, 0.05) for x, y in ((-0.28, -0.12), (0.24, 0.16), (0.02, -0.18))), "moss", 0.7)
    f.mark(item, ellipse(c + point(0.30, -0.05), 0.03, 0.03), "brick", 1.0)


def teapot(f: DrawnFigure, grip: Points) -> None:
    c, blue = grip + point(0.05, 0.30), rgb("6f9aa0")
    f.add(
        ribbon([c + point(0.18, 0.06), c + point(0.36, -0.02), c + point(0.44, -0.16)], [0.06, 0.04, 0.028]),
        blue,
        Part.PROP,
        174.8,
        shade=0.4,
    )
    f.add(
        ribbon([c + point(-0.16, -0.12), c + point(-0.12, -0.28), grip, c + point(0.10, -0.28), c + point(0.14, -0.14)], [0.026] * 5),
        blue * 0.85,
        Part.PROP,
        174.7,
        shade=0.2,
    )
    body = f.add(ellipse(c, 0.27, 0.22), blue, Part.PROP, 175, shade=0.8)
    f.mark(body, (ellipse(c + point(x, 0.02), 0.035, 0.05) for x in (-0.14, 0.0, 0.14)), "cream", 0.8)
    f.mark(body, taper([c + point(-0.16, -0.12), c + point(-0.19, 0.0), c + point(-0.14, 0.1)], 0.03), "lit", 0.8, 1)
    f.add(ellipse(c + point(0, -0.20), 0.13, 0.05), blue * 0.9, Part.PROP, 175.1, shade=0.3, drop=0.2)
    f.add(ellipse(c + point(0, -0.26), 0.04, 0.04), "brass", Part.PROP, 175.2, shade=0.2, drop=0.2)


def net(f: DrawnFigure, grip: Points) -> None:
    top, foot = grip + point(0.22, -1.15), grip + point(-0.12, 0.6)
    f.add(ribbon([foot, grip, top], [0.028, 0.028, 0.022]), "wood", Part.PROP, 174, shade=0.4)
    c = top + point(0.06, -0.26)
    bag = spline([c + point(*p) for p in ((-0.27, 0.0), (0.27, 0.0), (0.20, 0.30), (0.30, 0.62), (0.10, 0.56), (-0.12, 0.30))], True, 5)
    item = f.add(bag, rgb("d8dcc8"), Part.PROP, 173.6, shade=0.4, alpha=0.75)
    mesh = [taper([c + point(x, 0), c + point(x * 0.7 + 0.08, 0.6)], 0.007) for x in np.linspace(-0.24, 0.24, 8)]
    mesh += [taper([c + point(-0.28, y), c + point(0.30, y + 0.04)], 0.007) for y in (0.10, 0.20, 0.30, 0.40, 0.50)]
    f.mark(item, mesh, "deep", 0.6)
    ring = ellipse(c, 0.28, 0.10, -0.1, 30)
    f.add([ring, ellipse(c, 0.25, 0.078, -0.1, 30)[::-1]], "brass", Part.PROP, 174.1, shade=0.0)


def bird(f: DrawnFigure, grip: Points) -> None:
    c, blue = grip + point(0.02, -0.24), rgb("4f7fa8")
    f.plain([taper([c + point(x, 0.12), c + point(x, 0.26)], 0.012) for x in (-0.02, 0.04)], "rust", Part.PROP, 177.5)
    f.add(
        spline([c + point(*p) for p in ((-0.14, 0.05), (-0.42, 0.20), (-0.40, 0.10), (-0.10, -0.04))], True, 4),
        blue * 0.8,
        Part.PROP,
        177.6,
        shade=0.4,
    )
    body = f.add(
        spline([c + point(*p) for p in ((-0.18, 0.06), (-0.10, -0.10), (0.05, -0.15), (0.17, -0.06), (0.15, 0.08), (0.0, 0.15))]),
        blue,
        Part.PROP,
        177.7,
        shade=0.7,
    )
    f.mark(body, ellipse(c + point(0.07, 0.06), 0.11, 0.09), "rust", 0.9, 1.0, vital=True)
    f.add(ellipse(c + point(0.13, -0.16), 0.10, 0.095), blue, Part.PROP, 177.8, shade=0.5, drop=0.2)
    f.plain(points(c + (0.21, -0.18), c + (0.31, -0.14), c + (0.21, -0.11)), "mustard", Part.PROP, 177.9)
    f.plain(ellipse(c + point(0.155, -0.18), 0.022, 0.022), "charcoal", Part.PROP, 177.9)
    f.add(
        spline([c + point(*p) for p in ((-0.02, -0.06), (-0.26, 0.10), (-0.10, 0.09), (0.06, 0.0))], True, 4),
        blue * 0.72,
        Part.PROP,
        177.8,
        shade=0.3,
        drop=0.2,
    )


def flowers(f: DrawnFigure, grip: Points) -> None:
    heads = [
        grip + point(*p)
        for p in ((-0.22, -0.46), (-0.06, -0.58), (0.12, -0.52), (0.24, -0.38), (0.02, -0.40), (-0.14, -0.32), (0.14, -0.28))
    ]
    f.add(
        [ribbon([grip + point(0.01, 0.14), grip, h], [0.012, 0.012, 0.010]) for h in heads], "leaf", Part.PROP, 174.5, shade=0.0, drop=0.2
    )
    f.add(
        [spline([grip + point(s * 0.04, -0.1), grip + point(s * 0.24, -0.26), grip + point(s * 0.30, -0.12)], True, 4) for s in (-1, 1)],
        "leaf",
        Part.PROP,
        174.6,
        shade=0.3,
    )
    for k, h in enumerate(heads):
        colour = ("rose", "mustard", "white", "lilac")[k % 4]
        petals = [ellipse(h + point(0.06 * np.cos(a), 0.06 * np.sin(a)), 0.055, 0.045, a, 12) for a in np.linspace(0, 5.03, 5)]
        f.add(petals, colour, Part.PROP, 175 + 0.01 * k, shade=0.3, drop=0.3)
        f.plain(ellipse(h, 0.032, 0.032), "brass", Part.PROP, 175.2 + 0.01 * k)


def cup(f: DrawnFigure, grip: Points) -> None:
    c = grip + point(0.06, -0.10)
    body = [c + point(*p) for p in ((-0.13, -0.16), (0.13, -0.16), (0.11, 0.12), (0.05, 0.16), (-0.05, 0.16), (-0.11, 0.12))]
    item = f.add(spline(body, True, 4), "cream", Part.PROP, 175.5, shade=0.7)
    f.mark(item, ribbon([c + point(-0.14, -0.06), c + point(0.14, -0.06)], [0.03] * 2), "teal", 0.9)
    f.plain(ellipse(c + point(0, -0.155), 0.12, 0.03), rgb("6b4630"), Part.PROP, 175.6, line=0.5)
    for x in (-0.04, 0.05):
        steam = taper([c + point(x, -0.22), c + point(x + 0.05, -0.34), c + point(x - 0.02, -0.46), c + point(x + 0.03, -0.56)], 0.022)
        f.plain(steam, "white", Part.PROP, 175.7, alpha=0.45, blur=2.0, labelled=False)


def key(f: DrawnFigure, grip: Points) -> None:
    c = grip + point(0.0, 0.10)
    ring = [ellipse(c, 0.11, 0.11, n=24), ellipse(c, 0.065, 0.065, n=24)[::-1]]
    f.add(ring, "brass", Part.PROP, 175, shade=0.3)
    f.add(ribbon([c + point(0, 0.10), c + point(0.01, 0.48)], [0.028] * 2), "brass", Part.PROP, 175, shade=0.3)
    f.add(
        [rectangle(*(c + point(0.0, 0.36)), *(c + point(0.13, 0.41))), rectangle(*(c + point(0.0, 0.44)), *(c + point(0.11, 0.49)))],
        "brass",
        Part.PROP,
        175,
        shade=0.2,
    )


PROPS: dict[str, Callable[[DrawnFigure, Points], None] | None] = {
    "nothing": None,
    "lantern": lantern,
    "watering can": watering_can,
    "book": book,
    "letter": letter,
    "staff": staff,
    "umbrella": umbrella,
    "basket": basket,
    "kite": kite,
    "broom": broom,
    "map": folded_map,
    "teapot": teapot,
    "net": net,
    "bird": bird,
    "flowers": flowers,
    "cup": cup,
    "key": key,
}
USUAL = tuple(PROPS)  # those that somebody may hold by chance
PROPS |= held.HELD
HEADROOM |= held.HEADROOM
