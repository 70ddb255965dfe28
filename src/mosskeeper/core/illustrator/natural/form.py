"""How the measures of a person, as storybook has them, become those of a natural head. Lengths are in head heights (hh).

The head is 1 high: crown at y = −0.5, chin at 0.5; x to the person's left (the picture's right), y down, z to the viewer.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from mosskeeper.core.illustrator.description import Person
from mosskeeper.core.illustrator.vocabulary.people import CHILDREN, MEN, Expression, Proportions

MORE = 1.15  # a likeness is told by what differs: small differences are made a little larger


class Form(NamedTuple):
    """The natural measures of one head in one mood."""

    kind: tuple[float, float, float]  # child, male, old: each 0 … 1
    face: tuple[float, float, float, float]  # factor of the width, y of the chin, half width of the jaw, fat of the cheeks −1 … 2
    eye: tuple[float, float, float, float, float, float]  # x, y, half width and height of the opening, radius of the ball, slope
    brow: tuple[float, float, float, float, float, float]  # above the eye, angle, inner end up, skew, thickness, ridge of the bone
    nose: tuple[float, float, float]  # y of its base, half width at the wings, how far it stands out (1 usual)
    mouth: tuple[float, float, float, float, float]  # y, half width, fullness of the lips, smile −1 … 1, open 0 … 1
    mood: tuple[float, float, float]  # squint, brows raised, blush
    more: tuple[float, float, float]  # size of the ears, lashes, how far the lids are open of what the mood says
    look: tuple[float, float]


def form_of(p: Person, e: Expression, body: Proportions, scale: float) -> Form:
    """The measures of a person's head drawn `scale` px high: where it is small, eyes and smile are drawn larger, or they were lost."""
    g, far = p.face, float(np.clip((130 - scale) / 80, 0, 1))
    child, male, old = float(p.subject in CHILDREN), float(p.subject in MEN), float(body.age)

    def by(value: float, share: float = 1.0) -> float:
        return 1 + (value - 1) * share * MORE

    fat = (body.cheek + g.cheek * 1.3) / 0.035 + (0.25 if p.build == "round" else -0.3 if p.build == "slight" else 0.0) + 0.35 * child
    eye_y = 0.012 + 0.088 * child
    below = (0.5 - eye_y) * by(g.length * (1 + 0.35 * body.face_length), 0.85)  # from the eyes to the chin
    size = by(g.eye_size, 0.8) * body.eye**0.22 * (1 + 0.26 * far)
    opening = e.eye_open / 0.92
    smile = float(np.clip(e.mouth_curve + 0.04 + 0.10 * far, -0.95, 0.85)) / 0.85
    nose = 0.405 - 0.035 * child + 0.015 * old + 0.14 * (g.nose_length - 1) * MORE  # share of what is below the eyes
    wide = by(g.mouth_width, 0.9) * (1 + 0.75 * (e.mouth_width - 1)) * (1 + 0.10 * max(smile, 0))
    return Form(
        kind=(child, male, old),
        face=(
            by(g.width) * (1 + 0.045 * child), eye_y + below + 0.055 * e.mouth_open,
            0.203 - 0.014 * child + 0.45 * body.jaw + g.jaw * MORE, float(np.clip(fat, -1.2, 1.9)),
        ),
        eye=(
            (0.136 + 0.003 * child) * by(g.eye_spacing, 0.8), eye_y, (0.0725 + 0.0125 * child) * size,
            0.0535 * size * (1 + 0.28 * child) * (1 - 0.10 * old) * (0.45 + 0.55 * opening if opening > 1 else opening**0.8),
            (0.058 + 0.009 * child) * size**0.6, g.eye_tilt / 0.092 * 0.9 + 0.06 - 0.07 * old,
        ),
        brow=(
            0.092 - 0.006 * male + g.brow_height * MORE + 0.030 * e.brow_raise * (1 if e.brow_raise > 0 else 1.2),
            float(np.sin(g.brow_angle)), e.brow_inner, e.brow_skew, body.brow * (1 - 0.25 * child) * (1 - 0.30 * far), 0.35 + 0.65 * male - 0.45 * child,
        ),
        nose=(
            eye_y + below * nose, (0.064 - 0.009 * child + 0.008 * male + 0.004 * old) * by(g.nose_width, 0.85),
            (1.0 - 0.50 * child + 0.08 * male + 0.06 * old) * by(g.nose_length, 0.4),
        ),
        mouth=(
            eye_y + below * (0.602 + 0.35 * (nose - 0.405)) - 0.002 * smile, (0.106 - 0.018 * child + 0.004 * male) * wide,
            (0.45 + 0.55 * body.lip) * by(g.lip_fullness, 0.9), smile, e.mouth_open,
        ),
        mood=(e.squint, e.brow_raise, e.blush),
        more=(by(g.ear_size) * (1 + 0.12 * old - 0.02 * child), body.lash, p.lids),
        look=p.look,
    )  # fmt: skip
