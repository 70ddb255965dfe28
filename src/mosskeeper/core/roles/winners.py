"""Which of several references a picture took a thing from, as far as its pixels tell."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from mosskeeper.core.continuity.measures import agreement
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.reading import SURE, Reading
from mosskeeper.core.recipe import Cue
from mosskeeper.core.roles import reference
from mosskeeper.core.traits import BY_NAME

_CLEAR = 0.15  # of agreement by which the first must lead
_CLEAR_COLOUR = 6.0  # ΔE76 by which the nearest must be nearer
_FAR_COLOUR = 30.0  # ΔE76 from which a colour is nobody's
_CONTESTED = ("subject", "hair", "headwear", "outfit", "pattern", "place", "time", "weather", "light", "finish")
_COLOURS = ("hair colour", "skin", "eyes", "colour")
_PART_OF_COLOUR = {name: BY_NAME[name].part for name in ("hair colour", "skin", "eyes")}
_SAID = {"colour": "colour of the clothes", "subject": "person"}


def winners(cues: Sequence[Cue], reading: Reading, readings: Mapping[str, Reading]) -> dict[str, int]:
    """What a picture took from which cue, by the cue's place among `cues`; only what two or more lend, and where it is clear.

    reading : of the picture. readings : of the cues' pictures, by name. Cues that act in an area only are left out: what
    was read is of the whole picture.
    """
    lent = {
        i: (lender.switched(cue.parts), lender, readings[cue.picture])
        for i, cue in enumerate(cues)
        if cue.acts
        and cue.area is None
        and cue.picture is not None
        and cue.picture in readings
        and (lender := reference(cue.role)) is not None
    }
    won: dict[str, int] = {}
    for attribute in _CONTESTED:
        sources = {i: r for i, (on, _, r) in lent.items() if BY_NAME[attribute].part in on and attribute in r.attributes}
        first = winner(attribute, reading, sources) if len(sources) > 1 else None
        if first is not None:
            won[_SAID.get(attribute, attribute)] = first
    for colour in _COLOURS:
        colours = {
            i: r.colours[colour]
            for i, (on, lender, r) in lent.items()
            if colour in lender.contests and _PART_OF_COLOUR.get(colour, "clothes") in on and colour in r.colours
        }
        if len(colours) > 1 and colour in reading.colours:
            first = _nearest(reading.colours[colour], colours)
            if first is not None:
                won[_SAID.get(colour, colour)] = first
    return won


def winner(attribute: str, reading: Reading, sources: Mapping[int, Reading]) -> int | None:
    """Which of several sources a picture took an attribute from: the one that agrees most; None where that is not clear."""
    belief = reading.attributes.get(attribute)
    if not belief:
        return None
    scores = sorted(
        ((agreement(belief, source.attributes[attribute]), key) for key, source in sources.items() if attribute in source.attributes),
        reverse=True,
    )
    if not scores or scores[0][0] < SURE or (len(scores) > 1 and scores[0][0] - scores[1][0] < _CLEAR):
        return None
    return scores[0][1]


def _nearest(rgb: tuple[float, float, float], sources: Mapping[int, tuple[float, float, float]]) -> int | None:
    lab = rgb_to_lab(np.asarray([rgb, *sources.values()], np.float32))
    away = sorted(zip(np.linalg.norm(lab[1:] - lab[0], axis=1).tolist(), sources, strict=True))
    if away[0][0] > _FAR_COLOUR or away[1][0] - away[0][0] < _CLEAR_COLOUR:
        return None
    return away[0][1]
