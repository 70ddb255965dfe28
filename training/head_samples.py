"""Batches of heads for `CloseNet` out of the shards of `heads`: families, each head moved, turned, mirrored and disturbed."""

from __future__ import annotations

import multiprocessing as mp
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.head_crop import REACH as SHOWN
from mosskeeper.core.reading.head_crop import SIDE
from training.augment import affine, covered, photometric
from training.heads import FAMILY, REACH, STORED
from training.samples import FACE_MIDDLE, FACE_SPREAD, FLIPPED_MARKS, LAB_MIDDLE, LAB_SPREAD

Rng = np.random.Generator
Batch = dict[str, NDArray[Any]]
UNIT = STORED / REACH  # px of a head height in a stored head
EYES_APART = 0.34  # head heights
_HELD_BACK = 16  # every so many families are never trained on


@dataclass(frozen=True)
class Heads:
    """All heads of a folder, in memory."""

    columns: dict[str, NDArray[Any]]
    trained: dict[int, dict[int, list[int]]]  # family → person → rows
    held_back: NDArray[np.int64]

    @staticmethod
    def open(folder: Path) -> Heads:
        shards = [np.load(path) for path in sorted(folder.glob("[0-9]*.npz")) if ".new" not in path.name]
        columns = {name: np.concatenate([shard[name] for shard in shards]) for name in shards[0].files}
        family = columns["person"] // FAMILY
        held = np.flatnonzero(family % _HELD_BACK == 0)
        trained: dict[int, dict[int, list[int]]] = {}
        for row in np.flatnonzero(family % _HELD_BACK):
            person = int(columns["person"][row])
            trained.setdefault(person // FAMILY, {}).setdefault(person, []).append(int(row))
        return Heads(columns, {f: who for f, who in trained.items() if len(who) > 1}, held)


def head(heads: Heads, i: int, rng: Rng, disturbed: bool = True) -> dict[str, Any]:
    """One head as a detector might cut it, with its targets. disturbed : also in other light, blurred, compressed, covered, mirrored."""
    d = heads.columns
    wide = disturbed and rng.uniform() < 0.5
    spread = (0.10, 9.0, 0.06) if wide else (0.05, 4.0, 0.03)
    scale = float(np.exp(rng.normal() * spread[0])) * SIDE / SHOWN / UNIT
    held = d["held"][i].astype(np.float32).copy()
    turn = float(rng.normal() * spread[1]) - (0.0 if wide else float(np.rad2deg(held[2])) * (abs(held[2]) > 0.2))
    flip = bool(disturbed and rng.uniform() < 0.5)
    moved = rng.normal(size=2) * spread[2] * UNIT
    matrix = affine((STORED / 2 + moved[0], STORED / 2 + moved[1]), (SIDE, SIDE), scale, turn, flip)
    image = d["image"][i]
    seen = float(d["size"][i]) * (float(np.exp(rng.uniform(-0.5, 0.1))) if disturbed else 1.0)
    if seen < UNIT:  # as small heads are seen in their pictures
        n = max(round(STORED * seen / UNIT), 24)
        image = cv2.resize(cv2.resize(image, (n, n), interpolation=cv2.INTER_AREA), (STORED, STORED), interpolation=cv2.INTER_LINEAR)
    x = cv2.warpAffine(image, matrix, (SIDE, SIDE), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE).astype(np.float32) / 255
    marks = d["landmarks"][i] @ matrix[:, :2].T.astype(np.float32) + matrix[:, 2].astype(np.float32)
    state = d["state"][i]
    if flip:
        marks, state = marks[FLIPPED_MARKS], state[FLIPPED_MARKS]
        held[[0, 2]] *= -1
    held[2] += np.float32(np.deg2rad(-turn if flip else turn))
    coloured = True
    if disturbed:
        x, coloured = photometric(x, rng)
        if rng.uniform() < 0.06:
            hidden = covered(x, rng, 0.25)
            at = marks.astype(int).clip(0, SIDE - 1)
            state = np.where((state == 2) & hidden[at[:, 1], at[:, 0]], 1, state)
    state = np.where(((marks >= 0) & (marks < SIDE)).all(1), state, 0)
    quarter = matrix @ np.array([[2, 0, 0.5], [0, 2, 0.5], [0, 0, 1]]) / 4  # parts are stored at half of the head's size
    quarter[:, 2] -= 0.375
    parts = cv2.warpAffine(d["parts"][i], quarter, (SIDE // 4, SIDE // 4), flags=cv2.INTER_NEAREST)
    lab = rgb_to_lab(d["colours"][i].astype(np.float32))
    return {
        "x": (np.clip(x, 0, 1) * 255).astype(np.uint8),
        "marks": (marks / SIDE).astype(np.float32),
        "state": state.astype(np.uint8),
        "classes": d["classes"][i].astype(np.int64),
        "colours": ((lab - LAB_MIDDLE) / np.float32(LAB_SPREAD)).astype(np.float32),
        "coloured": np.bool_(coloured),
        "face": ((d["face"][i] - FACE_MIDDLE) / FACE_SPREAD).astype(np.float32),
        "held": held,
        "parts": parts.astype(np.int64),
        "person": np.int64(d["person"][i]),
    }


def batch(heads: Heads, rows: list[int], rng: Rng, disturbed: bool = True) -> Batch:
    made = [head(heads, i, rng, disturbed) for i in rows]
    return {name: np.stack([one[name] for one in made]) for name in made[0]}


def _feed(queue: Any, heads: Heads, seed: int, amount: int) -> None:
    cv2.setNumThreads(1)
    rng = np.random.default_rng(seed)
    families = np.array(sorted(heads.trained))
    while True:
        rows: list[int] = []
        while len(rows) < amount:  # families whole, each person at least twice where there are so many looks
            for looks in heads.trained[int(rng.choice(families))].values():
                rows += [looks[k] for k in rng.permutation(len(looks))[:2]]
        queue.put(batch(heads, rows[:amount], rng))


class HeadFeeder:
    """Batches made by a process of its own."""

    def __init__(self, heads: Heads, seed: int, amount: int) -> None:
        context = mp.get_context("fork")
        self._queue = context.Queue(6)
        self._process = context.Process(target=_feed, args=(self._queue, heads, seed, amount), daemon=True)
        self._process.start()

    def __next__(self) -> Batch:
        return self._queue.get()

    def close(self) -> None:
        self._process.terminate()
