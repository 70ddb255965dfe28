"""How an engine makes takes: what it believes of its own, and how much work it puts in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

EXEMPLARS = 12


@dataclass(frozen=True, slots=True)
class Make:
    """One way of making takes.

    exemplars : drawn for the denoiser to choose among. priors : attribute → relative weights of its values, in place of
    the lexicon's; a value not named counts 1. scale : of the size at which the picture is drawn at last: below 1 quick
    and soft, above 1 slow and fine. least_steps : of the denoising, whatever the recipe says.
    """

    exemplars: int = EXEMPLARS
    priors: Mapping[str, Mapping[str, float]] = field(default_factory=dict)
    scale: float = 1.0
    least_steps: int = 4


ILLUSTRATOR = Make()
