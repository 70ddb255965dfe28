"""The trained networks: loaded when first asked for, on one thread, with the lists they were trained with.

Their origin, sizes and limits stand in `weights/card.json`.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np
import onnxruntime
from numpy.typing import NDArray

FOLDER = Path(__file__).parent / "weights"
Arrays = list[NDArray[np.float32]]


@dataclass(frozen=True)
class Card:
    """What the weights say of themselves."""

    version: str
    parts: tuple[str, ...]
    of_picture: dict[str, tuple[str, ...]]
    of_figure: dict[str, tuple[str, ...]]
    of_head: dict[str, tuple[str, ...]]
    head_sizes: tuple[int, ...]  # of the parts of what is told of a head: landmarks seen, classes, colours, face, how it is held
    scales: dict[str, Any]
    identity: dict[str, Any]
    colour_errors: dict[str, float]  # Lab, median on persons that were not trained on


def card_of(folder: Path) -> Card:
    told = json.loads((folder / "card.json").read_text())

    def lists(name: str) -> dict[str, tuple[str, ...]]:
        return {key: tuple(values) for key, values in told[name].items()}

    return Card(
        told["version"],
        tuple(told["parts"]),
        lists("of_picture"),
        lists("of_figure"),
        lists("of_head"),
        tuple(told["head_sizes"]),
        told["scales"],
        told.get("identity", {}),
        told.get("colour_errors", {}),
    )


class Weights:
    """The networks of one folder, and the arrays of what is computed from what they see of a head."""

    def __init__(self, folder: Path) -> None:
        self.card = card_of(folder)
        options = onnxruntime.SessionOptions()
        options.intra_op_num_threads = options.inter_op_num_threads = 1
        options.log_severity_level = 3
        self._sessions = {
            name: onnxruntime.InferenceSession(str(folder / f"{name}.onnx"), options, providers=["CPUExecutionProvider"])
            for name in ("scene", "figure", "close")
        }
        with np.load(folder / "close.npz") as kept:
            self.arrays: dict[str, NDArray[np.float32]] = {name: kept[name].astype(np.float32) for name in kept.files}

    def run(self, name: str, **inputs: NDArray[np.float32]) -> Arrays:
        return list(self._sessions[name].run(None, inputs))


@lru_cache(1)
def card() -> Card:
    """What the shipped weights say of themselves; the networks are not loaded for it."""
    return card_of(FOLDER)


@lru_cache(1)
def shipped() -> Weights:
    return Weights(FOLDER)
