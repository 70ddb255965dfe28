"""Fits how much reader, drawing and proportions tell about a trait of a foreign picture: the weights of `core/references/weighed.py`.

    python -m training.weigh_traits

Persons that the reader was not trained on are drawn in all finishes, places and lights, read and inverted; of each trait the
evidence for all its values is gathered by the code that uses it, and a multinomial logit with a small ridge is fitted by
gradient descent. The weights are printed, with the share that they get right; they are copied into the table by hand.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.commands.subject_people import elsewhere, people
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.inversion.invert import invert
from mosskeeper.core.reading.contents import Subject
from mosskeeper.core.reading.reader import read
from mosskeeper.core.references.weighed import WEIGHINGS, ReadFigure, evidence
from mosskeeper.core.words.attributes import ATTRIBUTES

_SEED, _PERSONS = 77, 100
_RIDGE, _ROUNDS, _STEP = 0.01, 6000, 0.05
F64 = NDArray[np.float64]


def gathered() -> dict[str, list[tuple[F64, int]]]:
    """For each trait the evidence (values, kinds) of every picture, and which value is true."""
    rng = np.random.default_rng(_SEED + 1)
    found: dict[str, list[tuple[F64, int]]] = {name: [] for name in WEIGHINGS}
    for person in people(_PERSONS, _SEED):
        picture = draw(replace(elsewhere(person, rng), expression="calm"), (448, 560)).image
        reading = read(picture)
        inverted = invert(picture, reading)
        if inverted is None or reading.main is None:
            continue
        seen = ReadFigure(picture, {**reading.attributes, **reading.main.attributes}, reading.main)
        for name, weighing in WEIGHINGS.items():
            true = ATTRIBUTES[name].values.index(Subject(person, {}).value(name))
            found[name].append((evidence(weighing, name, seen, inverted.scene), true))
    return found


def fitted(rows: list[tuple[F64, int]]) -> F64:
    """The weights of a multinomial logit: descent on the mean negative log likelihood with a ridge."""
    x, true = np.stack([one for one, _ in rows]), np.array([number for _, number in rows])
    w = np.full(x.shape[2], 0.3)
    own = x[np.arange(len(x)), true]
    for _ in range(_ROUNDS):
        odds = x @ w
        p = np.exp(odds - odds.max(1, keepdims=True))
        p /= p.sum(1, keepdims=True)
        w -= _STEP * (((p[..., None] * x).sum(1) - own).mean(0) + 2 * _RIDGE * w)
    return w


def main() -> None:
    for name, rows in gathered().items():
        w = fitted(rows)
        right = np.mean([int((x @ w).argmax()) == true for x, true in rows])
        told = ", ".join(f"{kind} {value:.2f}" for kind, value in zip(WEIGHINGS[name].evidence, w, strict=True))
        print(f"{name}: {told}; right {right:.2f} of {len(rows)}")


if __name__ == "__main__":
    main()
