"""What a mask says before anything is run: whose and what it covers, and how much room it gives."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.headwear import CROWN
from mosskeeper.core.mending.ask.instructions import plainly
from mosskeeper.core.mending.ask.newcomers import natural
from mosskeeper.core.mending.choose.carried_mask import meant
from mosskeeper.core.mending.choose.choices import Choices
from mosskeeper.core.mending.masks import Mask
from mosskeeper.core.words.understand import understand

_LEAST_ROOM = 0.75  # of its natural size, the least at which something is drawn
_TOUCHED = 0.08  # of a part or of the mask, from which it is told


def told_mask(mask: Mask, choices: Choices | None) -> list[str]:
    """Sentences for the artist: what the mask (H, W) covers, what it only touches, and its room in px."""
    share = float(mask.mean())
    if not share:
        return ["nothing is chosen yet: brush over what should change, or press it"]
    ys, xs = np.nonzero(mask)
    wide, high = int(np.ptp(xs)) + 1, int(np.ptp(ys)) + 1
    told = [f"{_per_cent(share)} of the picture, room for something of up to {wide} × {high} px"]
    if share == 1:
        return ["all of the picture"]
    if min(wide, high) < 4:
        told.append("that is a line or a dot: nothing that can be drawn fits")
    if choices is None or choices.atoms.shape != mask.shape:
        return told
    whole = meant(mask, choices)
    if whole:
        told.insert(0, _listed([c.name for c in whole[:4]]))
    covered = {atom for choice in whole for atom in choice.atoms}
    sizes = np.bincount(choices.atoms.ravel(), minlength=256)
    inside = np.bincount(choices.atoms[mask], minlength=256)
    touched = []
    for choice in choices.choices:
        if len(choice.atoms) == 1 and choice.figure is not None and not covered & set(choice.atoms):
            part = inside[choice.atoms[0]]
            if part and (part >= _TOUCHED * mask.sum() or part >= 0.25 * sizes[choice.atoms[0]]):
                touched.append(f"{_per_cent(part / sizes[choice.atoms[0]])} of {choice.name}")
    if touched:
        told.insert(1 if whole else 0, f"touches {_listed(touched[:3])}")
    return told


def told_room(mask: Mask, choices: Choices | None, words: str, outlines: bool) -> list[str]:
    """Where what words ask needs more room than the mask (H, W) leaves: what becomes of it, for the artist.

    outlines : the mask is opened as far as what changes in it reaches.
    """
    if choices is None or choices.atoms.shape != mask.shape or not mask.any():
        return []
    heads = [frame.at["head"] for frame in choices.frames if "head" in frame.at]
    if not heads:
        return []
    ys, xs = np.nonzero(mask)
    x, y, radius = min(heads, key=lambda head: float(np.hypot(head[0] - xs.mean(), head[1] - ys.mean())))
    left, low = (int(np.ptp(xs)) + 1, int(np.ptp(ys)) + 1), []
    wanted = understand(plainly(words)).wanted
    for name in (*wanted.get("prop", {}), *wanted.get("companion", {})):
        if name in ("nothing", "nobody"):
            continue
        needs = tuple(_LEAST_ROOM * 2 * radius * side for side in natural(name))
        if needs[0] > left[0] or needs[1] > left[1]:
            low.append(f"{name} needs about {needs[0]:.0f} × {needs[1]:.0f} px here")
    for name in wanted.get("headwear", {}):
        top = y - radius * (1 + 2 * CROWN.get(name, 0.0))
        if name != "none" and ys.min() > top + 2 and np.hypot(x - xs.mean(), y - ys.mean()) < 3 * radius:
            low.append(f"{name} reaches {ys.min() - top:.0f} px above what is open")
    then = "the outline is opened as far as it reaches" if outlines else "it will be cut; let its outline be opened?"
    return [f"{sentence}: {then}" for sentence in low[:2]]


def _per_cent(share: float) -> str:
    return f"{share:.0%}".replace("%", " %") if share >= 0.005 else "less than 1 %"


def _listed(names: list[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
