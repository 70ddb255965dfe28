"""Further small things that somebody wears only where words name them: on the face, at the neck and on the back."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.figure import DrawnFigure
from mosskeeper.core.illustrator.shapes import Points, ellipse, points, ribbon, spline
from mosskeeper.core.illustrator.vocabulary.colours import rgb

EYE, LEVEL = 0.175, 0.10  # of the face: where its eyes are
_SLOT = 161.0
_BACK = 90.0  # behind the whole figure


def _eyes(f: DrawnFigure) -> list[tuple[float, float]]:
    k = f.is_.face.eye_spacing
    return [(-EYE * k, LEVEL), (EYE * k, LEVEL)]


def on_features(f: DrawnFigure, places: list[tuple[float, float]]) -> Points:
    """Places of a face seen from in front, on the face as it is turned, or in profile."""
    return f.on_side([(x * 0.55 + 0.33, y) for x, y in places]) if f.profile else f.on_face(places)


def sunglasses(f: DrawnFigure) -> None:
    dark = f.tinted("sunglasses", rgb("23242a"))
    for x, y in _eyes(f)[1 if f.profile else 0 :]:
        f.add(
            spline(
                on_features(f, [(x - 0.135, y - 0.07), (x + 0.135, y - 0.07), (x + 0.11, y + 0.07), (x, y + 0.10), (x - 0.11, y + 0.07)])
            ),
            dark,
            Part.ACCESSORY,
            _SLOT,
            shade=0.3,
            drop=0.3,
        )
        f.plain(
            spline(on_features(f, [(x - 0.09, y - 0.04), (x - 0.02, y - 0.045), (x - 0.06, y + 0.02)])),
            rgb("8a94a4"),
            Part.ACCESSORY,
            _SLOT + 0.1,
            alpha=0.7,
        )
    f.plain(ribbon(on_features(f, [(-0.08, LEVEL - 0.04), (0.08, LEVEL - 0.04)]), [0.016] * 2), dark, Part.ACCESSORY, _SLOT + 0.2)


def goggles(f: DrawnFigure) -> None:
    strap = f.tinted("goggles", rgb("5a3c28"))
    f.add(ribbon(f.on_head([(-0.45, -0.20), (0, -0.30), (0.45, -0.20)]), [0.045] * 3), strap, Part.ACCESSORY, 165.6, shade=0.3)
    for s in (-1, 1):
        c = f.on_head((s * 0.15 + f.turn * 0.06, -0.28))[0]
        f.add(ellipse(c, 0.135, 0.12), rgb("b8903f"), Part.ACCESSORY, 166, shade=0.5)
        f.plain(ellipse(c, 0.095, 0.085), rgb("7fb0b8"), Part.ACCESSORY, 166.1)


def eyepatch(f: DrawnFigure) -> None:
    black = f.tinted("eyepatch", rgb("262428"))
    x, y = _eyes(f)[1]
    f.plain(ribbon(on_features(f, [(-0.42, -0.20), (x, y - 0.08), (0.42, 0.14)]), [0.014] * 3), black, Part.ACCESSORY, _SLOT)
    f.add(
        spline(on_features(f, [(x - 0.12, y - 0.08), (x + 0.12, y - 0.08), (x + 0.11, y + 0.06), (x, y + 0.12), (x - 0.11, y + 0.06)])),
        black,
        Part.ACCESSORY,
        _SLOT + 0.1,
        shade=0.4,
        drop=0.3,
    )


def mask(f: DrawnFigure) -> None:
    """A half mask about the eyes."""
    cloth = f.tinted("mask", rgb("2c2a30"))
    outer = [
        (-0.37, LEVEL - 0.06),
        (-0.2, LEVEL - 0.14),
        (0, LEVEL - 0.09),
        (0.2, LEVEL - 0.14),
        (0.37, LEVEL - 0.06),
        (0.28, LEVEL + 0.12),
        (0.08, LEVEL + 0.09),
        (0, LEVEL + 0.06),
        (-0.08, LEVEL + 0.09),
        (-0.28, LEVEL + 0.12),
    ]
    holes = [ellipse(on_features(f, [place])[0], 0.098, 0.07, n=24)[::-1] for place in _eyes(f)]
    f.add([spline(on_features(f, outer)), *holes], cloth, Part.ACCESSORY, _SLOT, shade=0.3, drop=0.2)


def face_cover(f: DrawnFigure) -> None:
    """A cloth over nose and mouth."""
    cloth = f.tinted("mask", rgb("b8c8d0"))
    item = f.add(
        spline(on_features(f, [(-0.36, 0.20), (0, 0.19), (0.36, 0.20), (0.30, 0.44), (0.12, 0.56), (-0.12, 0.56), (-0.30, 0.44)])),
        cloth,
        Part.ACCESSORY,
        _SLOT,
        shade=0.5,
        drop=0.3,
    )
    f.mark(item, (ribbon(on_features(f, [(-0.3, y), (0, y + 0.03), (0.3, y)]), [0.008] * 3) for y in (0.28, 0.36, 0.44)), "shade", 0.6)


def tears(f: DrawnFigure) -> None:
    for x, y in _eyes(f)[1 if f.profile else 0 :]:
        drop = on_features(f, [(x + 0.02, y + 0.08), (x + 0.05, y + 0.17), (x + 0.015, y + 0.22), (x - 0.02, y + 0.17)])
        f.plain(spline(drop), rgb("a8d4ec"), Part.FACE, 160.5, alpha=0.9, emission=0.25)


def face_paint(f: DrawnFigure) -> None:
    colour = f.tinted("face paint", rgb("b8383a"))
    for s in (-1, 1):
        for y in (0.22, 0.28):
            f.plain(ribbon(on_features(f, [(s * 0.14, y), (s * 0.30, y - 0.02)]), [0.018] * 2), colour, Part.FACE, 160.4, alpha=0.85)


def tie(f: DrawnFigure) -> None:
    cloth = f.tinted("tie", "b")
    f.add(
        spline([f.at(-0.05, 0.0), f.at(0.05, 0.0), f.at(0.035, 0.10), f.at(-0.035, 0.10)], True, 4), cloth, Part.ACCESSORY, 137, shade=0.3
    )
    f.add(
        spline([f.at(-0.035, 0.10), f.at(0.035, 0.10), f.at(0.075, 0.62), f.at(0, 0.74), f.at(-0.075, 0.62)], True, 4),
        cloth,
        Part.ACCESSORY,
        136.9,
        shade=0.4,
    )


def bow_tie(f: DrawnFigure) -> None:
    cloth = f.tinted("tie", "b")
    for s in (-1, 1):
        f.add(spline([f.at(0, 0.06), f.at(s * 0.17, -0.03), f.at(s * 0.18, 0.15)], True, 5), cloth, Part.ACCESSORY, 137, shade=0.4)
    f.add(ellipse(f.at(0, 0.06), 0.035, 0.045), cloth, Part.ACCESSORY, 137.2, shade=0.2)


def brooch(f: DrawnFigure) -> None:
    c = f.at(0.20, 0.26)
    f.add(ellipse(c, 0.065, 0.065), rgb("d8b04a"), Part.ACCESSORY, 137, shade=0.3, drop=0.3)
    f.plain(ellipse(c, 0.04, 0.04), f.tinted("brooch", rgb("b8323a")), Part.ACCESSORY, 137.1)


def medal(f: DrawnFigure) -> None:
    for k, x in enumerate((0.16, 0.29)):
        f.plain(
            points(f.at(x - 0.04, 0.22), f.at(x + 0.04, 0.22), f.at(x + 0.03, 0.38), f.at(x - 0.03, 0.38)),
            rgb(("8a2f3a", "3f5f8a")[k]),
            Part.ACCESSORY,
            137,
        )
        f.add(ellipse(f.at(x, 0.43), 0.055, 0.055), rgb("d8b04a"), Part.ACCESSORY, 137.1, shade=0.3, drop=0.3)


def bracelets(f: DrawnFigure) -> None:
    for side in ("right", "left"):
        elbow, wrist = f.j[f"{side} elbow"], f.j[f"{side} wrist"]
        d = (wrist - elbow) / max(float(np.hypot(*(wrist - elbow))), 1e-6)
        n = np.array([-d[1], d[0]])
        for t in (0.02, 0.09):
            c = wrist - d * t
            f.add(
                ribbon(np.array([c - n * 0.115, c + d * 0.015, c + n * 0.115]), [0.022] * 3),
                f.tinted("bracelets", rgb("d8b04a")),
                Part.ACCESSORY,
                f.arm_slot(side, 160),
                shade=0.2,
                drop=0.2,
            )


def quiver(f: DrawnFigure) -> None:
    f.add(ribbon([f.at(0.34, -0.35), f.at(-0.30, f.torso * 0.8)], [0.14, 0.12]), rgb("6b4630"), Part.ACCESSORY, _BACK + 1, shade=0.5)
    for k, x in enumerate((0.30, 0.38, 0.46)):
        f.plain(ribbon([f.at(x, -0.30), f.at(x + 0.06, -0.60 - 0.05 * k)], [0.014] * 2), rgb("c8a870"), Part.ACCESSORY, _BACK)
        f.plain(
            ribbon([f.at(x + 0.045, -0.55), f.at(x + 0.07, -0.72 - 0.05 * k)], [0.045, 0.02]), rgb("e8e0d0"), Part.ACCESSORY, _BACK + 0.5
        )
    f.add(
        ribbon([f.at(0.42, -0.05), f.at(0.0, f.torso * 0.4), f.at(-0.38, f.torso * 0.85)], [0.04] * 3),
        rgb("6b4630"),
        Part.ACCESSORY,
        133.4,
        shade=0.2,
    )


def backpack(f: DrawnFigure) -> None:
    pack = f.tinted("bag", rgb("6f7a4a"))
    w, t = f.shoulder_width, f.torso
    f.add(
        spline(
            [
                f.at(-w * 1.05, 0.0),
                f.at(-w * 0.7, -0.22),
                f.at(w * 0.7, -0.22),
                f.at(w * 1.05, 0.0),
                f.at(w * 1.1, t * 0.9),
                f.at(-w * 1.1, t * 0.9),
            ]
        ),
        pack,
        Part.ACCESSORY,
        _BACK,
        shade=0.7,
    )
    for s in (-1, 1):
        f.add(
            ribbon([f.at(s * w * 0.62, -0.04), f.at(s * w * 0.66, 0.35), f.at(s * w * 0.92, t * 0.62)], [0.055] * 3),
            f.shaded(pack, 0.8),
            Part.ACCESSORY,
            133.4,
            shade=0.3,
        )


def wings(f: DrawnFigure) -> None:
    colour = f.tinted("wings", rgb("f0ece4"))
    for s in (-1, 1):
        wing = f.add(
            spline([f.at(s * 0.12, 0.25), f.at(s * 0.75, -0.55), f.at(s * 1.45, -0.75), f.at(s * 1.75, -0.15), f.at(s * 1.55, 0.65), f.at(s * 1.15, 1.25), f.at(s * 0.65, 1.0), f.at(s * 0.25, 0.7)]),
            colour, Part.ACCESSORY, _BACK, shade=0.7,
        )  # fmt: skip
        f.mark(
            wing,
            (
                ribbon(
                    [
                        f.at(s * (0.55 + 0.18 * k), -0.15 + 0.1 * k),
                        f.at(s * (1.0 + 0.14 * k), 0.55 - 0.1 * k),
                        f.at(s * (1.1 + 0.14 * k), 1.05 - 0.28 * k),
                    ],
                    [0.018] * 3,
                )
                for k in range(4)
            ),
            "shade",
            0.7,
        )


def fairy_wings(f: DrawnFigure) -> None:
    colour = f.tinted("wings", rgb("b8dce0"))
    for s in (-1, 1):
        for outline in (
            [(0.1, 0.2), (0.8, -0.75), (1.4, -0.6), (1.25, 0.1), (0.5, 0.4)],
            [(0.1, 0.4), (0.8, 0.45), (1.05, 0.95), (0.6, 1.2), (0.2, 0.8)],
        ):
            wing = f.add(spline([f.at(s * x, y) for x, y in outline]), colour, Part.ACCESSORY, _BACK, shade=0.3, alpha=0.72)
            f.mark(wing, (ribbon([f.at(s * 0.15, 0.3), f.at(s * x, y)], [0.010] * 2) for x, y in outline[1:4]), "shade", 0.7)


def tail(f: DrawnFigure) -> None:
    root = (f.j["right hip"] + f.j["left hip"]) / 2
    s = -f.light_side
    end = [
        root + np.array([s * 0.3, 0.3]),
        root + np.array([s * 0.9, 0.55]),
        root + np.array([s * 1.15, 0.05]),
        root + np.array([s * 1.05, -0.35]),
    ]
    f.add(ribbon(np.array([root, *end]), [0.06, 0.09, 0.10, 0.10, 0.02]), f.tinted("tail", f.hair_colour), Part.ACCESSORY, _BACK, shade=0.6)


def pointed_ears(f: DrawnFigure) -> None:
    if f.profile:
        f.add(
            spline(f.on_side([(-0.08, 0.16), (-0.12, 0.02), (-0.20, -0.20), (0.0, -0.02), (0.0, 0.14)]), True, 4),
            "skin",
            Part.EAR,
            161.5,
            shade=0.4,
        )
        return
    for s in (-1, 1):
        if s * f.turn < 0.75:
            f.add(
                spline(f.on_head([(s * 0.38, 0.15), (s * 0.47, 0.0), (s * 0.66, -0.22), (s * 0.50, 0.10)]), True, 4),
                "skin",
                Part.EAR,
                161.5,
                shade=0.4,
            )


MORE: dict[str, Callable[[DrawnFigure], None]] = {
    "sunglasses": sunglasses, "goggles": goggles, "eyepatch": eyepatch, "mask": mask, "face cover": face_cover, "tears": tears,
    "face paint": face_paint, "tie": tie, "bow tie": bow_tie, "brooch": brooch, "medal": medal, "bracelets": bracelets, "quiver": quiver,
    "backpack": backpack, "wings": wings, "fairy wings": fairy_wings, "tail": tail, "pointed ears": pointed_ears,
}  # fmt: skip
