"""Match: how well a picture obeys one cue, 0…100, measured in its pixels and readings.

0 is what unrelated pictures reach, 100 is the same. The scales are the roles' own.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.areas import cut_to
from mosskeeper.core.reading.any_reader import read_any
from mosskeeper.core.roles import reference, role
from mosskeeper.core.roles.role import CueComparison


@dataclass(frozen=True, slots=True)
class Match:
    score: float | None  # 0…100; None: cannot be measured
    meaning: str


def match(name: str, compared: CueComparison) -> Match:
    """How well a picture obeys a cue of a role.

    Raises KeyError where there is no such role.
    """
    judge = role(name)
    value = judge.obeyed(compared)
    return Match(None if value is None else round(100 * float(np.clip(value, 0, 1)), 1), judge.meaning)


def match_inside(mask: NDArray[np.uint8], name: str, compared: CueComparison) -> Match:
    """The same in the part of the picture under a mask (h, w, 3), white where the cue acts.

    A reference lends all of its picture, so the part is read for itself; structure is that of the same part of the source.

    Raises KeyError where there is no such role.
    """
    part = cut_to(compared.picture, mask)
    if reference(name) is not None:
        told = match(name, replace(compared, picture=part, reading=read_any(part)))
    else:
        theirs, own = (None if r.depth is None else cut_to(r.depth, mask) for r in (compared.source_reading, compared.reading))
        told = match(
            name,
            CueComparison(
                cut_to(compared.source, mask),
                replace(compared.source_reading, depth=theirs),
                part,
                replace(compared.reading, depth=own),
            ),
        )
    return replace(told, meaning=f"{told.meaning}; in the part where the cue acts")
