"""Quick mends: what is often repaired, offered from what is seen in a picture."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from mosskeeper.core.illustrator.description import Person
from mosskeeper.core.mending.choose.choices import Choices
from mosskeeper.core.mending.choose.mask_edits import grown
from mosskeeper.core.mending.masks import Mask
from mosskeeper.core.reading.reading import Attributes
from mosskeeper.core.traits import BY_NAME, value_in

SURE_OF_IT = 0.6  # of both pictures, from which a difference is no misreading


@dataclass(frozen=True, slots=True)
class Quick:
    """One press. keys : what it opens, of `Choices`. grown : by how much, in heads. words : what it asks; none takes away."""

    key: str
    name: str
    keys: tuple[str, ...]
    words: str = ""
    grown: float = 0.0


# Name, what it opens of a figure, words, what must be there for it, by how much the mask is grown.
_OF_FIGURE = (
    ("eyes", "eyes wide open, looking at you", ("eyes", "eyes open"), 0.06),
    ("mouth", "mouth smiling", ("mouth", "smiling"), 0.06),
    ("hair short", "hair cut short", ("hair", "short hair"), 0.12),
    ("glasses on", "glasses on", ("face", "glasses"), 0.05),
    ("glasses off", "glasses off", ("face", "without glasses"), 0.05),
    ("hat on", "a hat on", ("face", "a hat"), 0.45),
    ("hat off", "hat off", ("hat", "bareheaded"), 0.12),
    ("empty hand", "empty hands", ("thing in the hand", ""), 0.08),
)


def quick_mends(choices: Choices) -> list[Quick]:
    """What can be mended by one press in a picture, figure by figure; then what stands there, to be taken away."""
    known = {choice.key for choice in choices.choices}
    out = []
    for n, who in enumerate(choices.people):
        hatted = f"{n + 1} hat" in known
        for key, says, (part, words), grows in _OF_FIGURE:
            if f"{n + 1} {part}" not in known or (key == "hat on" and hatted):
                continue
            name = says if len(choices.people) == 1 else f"{who}: {says}"
            out.append(Quick(f"{n + 1} {key}", name, (f"{n + 1} {part}",), words, grows))
    out += [Quick(c.key, f"without {c.name}", (c.key,), "", 0.1) for c in choices.choices if c.key.startswith("thing ")]
    return out


# What of a figure is compared with the anchor, and what of it a mend opens.
_OPENED = {
    "hair": "hair",
    "hair colour": "hair",
    "headwear": "head",
    "glasses": "face",
    "freckles": "face",
    "outfit": "clothes",
    "eyes": "eyes",
}
_ABSENT = {"none", "no", "nothing"}


def drawn_as(person: Person) -> Attributes:
    """What is known of somebody who was drawn here, as a reader would say it."""
    return {name: {value_in(person, BY_NAME[name]): 1.0} for name in _OPENED}


def quick_strays(choices: Choices, seen: Attributes, anchor: Attributes) -> list[Quick]:
    """What of the first figure is surely otherwise than in the anchor, each as a mend that brings it back."""
    if not choices.people:
        return []
    known, out = {choice.key for choice in choices.choices}, list[Quick]()
    for attribute, part in _OPENED.items():
        form = attribute if BY_NAME[attribute].kind == "switch" else BY_NAME[attribute].form
        now, was = (_surely(of, attribute) for of in (seen, anchor))
        if now is None or was is None or now == was or f"1 {part}" not in known or now.startswith("#") or was.startswith("#"):
            continue
        words = f"without {form.format(now).removeprefix('a ')}" if was in _ABSENT else form.format(was)
        name = f"as in the anchor: {words}"
        out.append(Quick(f"1 stray {attribute}", name, (f"1 {part}",), words, 0.12))
    return out


def _surely(of: Attributes, attribute: str) -> str | None:
    values = of.get(attribute, {})
    best = max(values, key=lambda value: values[value], default=None)
    return best if best is not None and values[best] >= SURE_OF_IT else None


def opened_by(offered: Quick, choices: Choices) -> Mask:
    """(H, W): what a quick mend opens."""
    chosen = choices.mask(*offered.keys)
    ys, xs = np.nonzero(chosen)
    figure = int(offered.key.split()[0]) - 1 if offered.key[0].isdigit() else -1
    head = choices.frames[figure].at.get("head") if 0 <= figure < len(choices.frames) else None
    size = 2 * head[2] if head is not None else float(np.ptp(xs) + np.ptp(ys)) / 2
    return grown(chosen, offered.grown * size)
