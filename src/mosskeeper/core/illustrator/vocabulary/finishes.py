"""Finishes: how a drawing is rendered. Numbers only; `paint` and `surface` know what they mean."""

from __future__ import annotations

from dataclasses import dataclass, fields


@dataclass(frozen=True, slots=True)
class Finish:
    shadow: float  # strength of form shadows
    softness: float = 1.0  # blur of form shadows
    rim: float = 0.0  # rim light
    line: float = 0.0  # ink outline, width
    wash: float = 0.0  # how far colours are thinned towards the paper
    edge: float = 0.0  # pigment gathered along the edges
    pigment: float = 0.0  # uneven density
    brush: float = 0.0  # brush texture
    grain: float = 0.03
    wobble: float = 1.0  # hand's irregularity, px at 512 wide
    hatch: float = 0.0
    contact: float = 0.0  # occlusion under each shape
    flat: float = 0.0  # 1: single sheets of colour, no modelling
    sheet_shadow: float = 0.0  # shadow that a paper sheet throws
    tooth: float = 0.0  # paper tooth showing through dry colour
    margin: float = 0.0  # unpainted border
    saturation: float = 1.0
    # how much of these, done to the painted picture (see `printing`)
    woodcut: float = 0.0
    linocut: float = 0.0
    pencil: float = 0.0
    glass: float = 0.0
    felt: float = 0.0

    def mixed(self, other: Finish, share: float) -> Finish:
        """This finish with `share` of another, value by value."""
        return Finish(*(getattr(self, f.name) * (1 - share) + getattr(other, f.name) * share for f in fields(self)))


FINISHES: dict[str, Finish] = {
    "gouache": Finish(0.62, rim=1.0, brush=0.40, grain=0.036, wobble=0.9, contact=0.34),
    "ink and wash": Finish(0.42, 0.08, 0.25, line=1.2, wash=0.55, edge=0.15, pigment=0.35, wobble=1.3, hatch=1.0,
                           margin=1.0, saturation=0.8),
    "paper cut": Finish(0.0, rim=0.0, grain=0.06, wobble=0.5, flat=1.0, sheet_shadow=1.75, saturation=1.25),
    "watercolour": Finish(0.5, 0.7, 0.3, wash=0.28, edge=1.0, pigment=0.95, grain=0.045, wobble=2.2, margin=1.0,
                          saturation=1.08),
    "woodcut print": Finish(0.75, 0.4, 0.5, line=0.7, grain=0.02, wobble=0.6, woodcut=1.0),
    "linocut": Finish(0.7, 0.3, 0.4, line=0.6, grain=0.02, wobble=0.5, linocut=1.0),
    "pencil study": Finish(0.6, 0.8, 0.3, line=0.8, grain=0.02, wobble=0.9, pencil=1.0),
    "stained glass": Finish(0.25, 0.2, 0.0, line=1.6, grain=0.01, wobble=0.3, flat=1.0, saturation=1.2, glass=1.0),
    "felt collage": Finish(0.15, 1.0, 0.0, grain=0.02, wobble=1.2, flat=1.0, sheet_shadow=1.1, saturation=1.12, felt=1.0),
    "chalk": Finish(0.65, 1.15, 1.3, brush=0.3, wobble=1.4, contact=0.4, tooth=1.0, saturation=1.1),
}  # fmt: skip


def blended(names: list[str]) -> Finish:
    """Equal mixture of several finishes; no name gives gouache. Raises KeyError on unknown names."""
    if not names:
        return FINISHES["gouache"]
    finish = FINISHES[names[0]]
    for i, name in enumerate(names[1:], start=2):
        finish = finish.mixed(FINISHES[name], 1 / i)
    return finish
