"""The random numbers of a seed: each purpose has a stream of its own, so that none shifts another."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True, slots=True)
class Streams:
    """layout : where things are. exemplars : the seed of what is drawn there. noise : of the denoising. source : of repairs."""

    layout: np.random.Generator
    exemplars: int
    noise: np.random.Generator
    source: np.random.Generator


def streams(seed: int) -> Streams:
    layout, noise, source = (np.random.default_rng(s) for s in np.random.SeedSequence(seed).spawn(3))
    return Streams(layout, int(layout.integers(2**63)), noise, source)
