"""The end of the close reading's training: the cascade of the landmarks, the face's measures, attributes and colours of
the aligned head, identity.

What is fitted here stands on what the trained network tells of the heads that it was trained on, each a little moved, as a detector
cuts them; how well it carries over is told on families that were held back.
"""

from __future__ import annotations

import itertools
import multiprocessing
import os
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
import torch
from numpy.typing import NDArray
from torch import nn

from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.aligned import colour_row
from mosskeeper.core.reading.classes import HEAD_COLOURS, OF_HEAD
from mosskeeper.core.reading.close_pass import (
    Looked,
    aligned_inputs,
    beside_of,
    face_row,
    identity_row,
    layered,
    looked,
    probabilities,
    projected,
)
from mosskeeper.core.reading.head_crop import REACH as SHOWN
from mosskeeper.core.reading.head_crop import SIDE, crop_matrix, warped
from mosskeeper.core.reading.landmark_cascade import row_of, shape_of, turned
from training.augment import photometric
from training.discriminants import projection_of, tell_areas
from training.head_network import TOLD, CloseNet
from training.head_samples import EYES_APART, UNIT, Heads
from training.heads import STORED
from training.samples import FACE_MIDDLE, FACE_SPREAD, LAB_MIDDLE, LAB_SPREAD

STAGES, _RIDGE = 3, 60.0
_RATE = 2e-3
_LEAST_MARKS = 20  # landmarks that a head must have for its colours to be learned
_MISPLACED = 0.025  # standard deviation of read landmarks, in distances of the eyes
_FITTED = 0.65  # of the heads, on which all but identity is fitted
_FACING = 0.3  # turn up to which a head shows the mean face
_LISTS = {name: tuple(values) for name, values in OF_HEAD.items()}


Seen = tuple[NDArray[np.uint8], Looked, NDArray[np.float64], float, float]


def _seen(net: CloseNet, heads: Heads, i: int, rng: np.random.Generator, disturbed: bool) -> Seen:
    """A head as a detector cuts it: image, look, landmarks (K, 2) px, height px, tilt."""
    d = heads.columns
    image = _as_seen(d["image"][i], float(d["size"][i]), rng)
    if disturbed and rng.uniform() < 0.5:
        image = (photometric(image.astype(np.float32) / 255, rng)[0] * 255).astype(np.uint8)
    height = UNIT * float(np.exp(rng.normal() * 0.06))
    x, y = STORED / 2 + rng.normal(size=2) * 0.04 * UNIT
    matrix = crop_matrix((float(x), float(y)), height * SHOWN, SIDE)
    look = looked(lambda crops: _run(net, crops), warped(image, matrix, SIDE), TOLD)
    tilt = float(np.clip(look.held[2], -0.6, 0.6))
    if abs(tilt) > 0.2:
        matrix = crop_matrix((float(x), float(y)), height * SHOWN, SIDE, tilt)
        look = looked(lambda crops: _run(net, crops), warped(image, matrix, SIDE), TOLD)
        tilt += float(look.held[2])
    back = np.linalg.inv(np.vstack([matrix, [0, 0, 1]]))
    return image, look, look.at.astype(np.float64) * SIDE @ back[:2, :2].T + back[:2, 2], height, tilt


_given: tuple[CloseNet, Heads] | None = None  # what forked workers look with and at


def _seen_by_a_worker(task: tuple[list[int], int, bool]) -> list[Seen]:
    rows, seed, disturbed = task
    assert _given is not None
    torch.set_num_threads(1)
    cv2.setNumThreads(1)
    return [_seen(*_given, row, np.random.default_rng([seed, row]), disturbed) for row in rows]


@dataclass(frozen=True)
class Small:
    """A small network: sizes of its hidden layers, share that is dropped, decay of its weights, noise on its inputs, epochs."""

    hidden: tuple[int, ...]
    dropped: float
    decay: float
    noise: float
    epochs: int


class Told:
    """What the network tells of some heads, with the truth."""

    def __init__(self, net: CloseNet, heads: Heads, rows: NDArray[np.int64], seed: int, disturbed: bool) -> None:
        global _given
        _given, d = (net, heads), heads.columns
        tasks = [(part.tolist(), seed, disturbed) for part in np.array_split(rows, max(1, len(rows) // 100))]
        with ProcessPoolExecutor(os.cpu_count(), multiprocessing.get_context("fork")) as pool:  # forked: the heads are not copied
            seen = [one for part in pool.map(_seen_by_a_worker, tasks) for one in part]
        self.images, self.looks = [one[0] for one in seen], [one[1] for one in seen]
        self.marks = np.stack([one[2] for one in seen])
        self.heights, self.tilts = np.array([one[3] for one in seen]), np.array([one[4] for one in seen])
        self.sizes = np.minimum(d["size"][rows] / UNIT, 1.0)  # how much smaller a head was in its picture
        self.truth = d["landmarks"][rows].astype(np.float64)
        self.state, self.person = d["state"][rows], d["person"][rows]
        self.face = (d["face"][rows] - FACE_MIDDLE) / FACE_SPREAD
        self.seen = np.zeros((len(rows), 0), np.float32)  # what the network of the second opinion sees
        self.classes = d["classes"][rows].astype(np.int64)
        self.beside = np.stack([beside_of(look, _LISTS) for look in self.looks])

    def stage(self) -> NDArray[np.float32]:
        return np.stack(
            [row_of(*one) for one in zip(self.images, self.marks, self.heights, self.tilts, self.beside, strict=True)]  # type: ignore[arg-type]
        )

    def moved(self, steps: NDArray[np.float64]) -> None:
        for n, step in enumerate(steps.reshape(len(steps), -1, 2)):
            self.marks[n] += turned(step, -self.tilts[n]) * self.heights[n]

    def face_rows(self) -> NDArray[np.float32]:
        shapes = (shape_of(m, h, t) for m, h, t in zip(self.marks, self.heights, self.tilts, strict=True))
        return np.stack([face_row(s, look, b) for s, look, b in zip(shapes, self.looks, self.beside, strict=True)])

    def aligned_rows(self, shape: NDArray[np.float32]) -> NDArray[np.float32]:
        told = zip(self.images, self.marks, self.heights * self.sizes, self.looks, strict=True)
        return np.stack([aligned_inputs(image, m, h, look, shape) for image, m, h, look in told])

    def errors(self) -> NDArray[np.float64]:
        """Mean error of the seen landmarks of each head, over the distance of the eyes."""
        far = np.hypot(*np.moveaxis(self.marks - self.truth, 2, 0)) / (EYES_APART * UNIT)
        return np.array([far[n][self.state[n] == 2].mean() for n in range(len(far)) if (self.state[n] == 2).sum() > 5])


def _as_seen(image: NDArray[np.uint8], size: float, rng: np.random.Generator) -> NDArray[np.uint8]:
    """A stored head with no more detail than it had in its picture."""
    seen = size * float(np.exp(rng.uniform(-0.3, 0.1)))
    if seen >= UNIT:
        return image
    n = max(round(STORED * seen / UNIT), 24)
    small = cv2.resize(image, (n, n), interpolation=cv2.INTER_AREA)
    return np.asarray(cv2.resize(small, (STORED, STORED), interpolation=cv2.INTER_LINEAR), np.uint8)


@torch.no_grad()
def _run(net: CloseNet, x: NDArray[np.float32]) -> list[NDArray[np.float32]]:
    at, spread, _, told, identity, _ = net(torch.from_numpy(x))
    return [value.numpy() for value in (at, spread, told, identity)]


def cascade(told: Told, others: tuple[Told, ...]) -> NDArray[np.float32]:
    """(stages, features, 2K): the stages fitted one after the other; all sets are moved."""
    out = []
    for n in range(STAGES):
        x = told.stage()
        wanted = np.stack([turned(t - m, tilt) / h for t, m, tilt, h in zip(told.truth, told.marks, told.tilts, told.heights, strict=True)])
        wanted = np.where((told.state > 0)[..., None], np.clip(wanted, -0.3, 0.3), 0).reshape(len(x), -1)
        gram = x.T.astype(np.float64) @ x
        gram[np.diag_indices_from(gram)] += _RIDGE
        stage = np.linalg.solve(gram, x.T.astype(np.float64) @ wanted)
        told.moved(x @ stage)
        for other in others:
            other.moved(other.stage() @ stage)
        test = others[-1]
        print(f"stage {n + 1}: held back {test.errors().mean():.4f}, median {np.median(test.errors()):.4f}", flush=True)
        out.append(stage.astype(np.float32))
    return np.stack(out)


def _network(
    name: str,
    x: NDArray[np.float32],
    outputs: int,
    loss_of: Callable[[torch.Tensor, torch.Tensor], torch.Tensor],
    small: Small,
) -> dict[str, NDArray[np.float32]]:
    """A small fully connected network, fitted, as the plain arrays that `core.reading.close_pass.layered` computes with.

    x : (N, D). loss_of : from what the network tells of some rows, and their numbers (M,), to the loss.
    """
    rows = torch.from_numpy(x)
    middle, spread = rows.mean(0), rows.std(0) + 1e-3
    torch.manual_seed(5)
    widths = [x.shape[1], *small.hidden, outputs]
    linear = [nn.Linear(a, b) for a, b in itertools.pairwise(widths)]
    layers: list[nn.Module] = []
    for one in linear[:-1]:
        layers += [one, nn.ReLU(), nn.Dropout(small.dropped)]
    net = nn.Sequential(*layers, linear[-1])
    optimiser = torch.optim.AdamW(net.parameters(), lr=_RATE, weight_decay=small.decay)
    for epoch in range(small.epochs):
        for group in optimiser.param_groups:
            group["lr"] = _RATE * 0.5 * (1 + np.cos(np.pi * epoch / small.epochs))
        for some in torch.randperm(len(rows)).split(128):
            told = net((rows[some] - middle) / spread + small.noise * torch.randn(len(some), x.shape[1]))
            loss = loss_of(told, some)
            optimiser.zero_grad()
            loss.backward()
            optimiser.step()
    out: dict[str, NDArray[np.float32]] = {}
    for n, one in enumerate(linear, 1):
        w, b = one.weight.detach().T, one.bias.detach()
        if n == 1:  # the rows are normalised by the first layer
            w = w / spread[:, None]
            b = b - middle @ w
        out |= {f"{name}_w{n}": w.numpy(), f"{name}_b{n}": b.numpy()}
    return out


def faces(told: Told, test: Told) -> dict[str, NDArray[np.float32]]:
    """The network of the face's measures; R² of each on what is held back."""
    true = torch.from_numpy(told.face.astype(np.float32))
    arrays = _network(
        "face",
        told.face_rows().astype(np.float32),
        true.shape[1],
        lambda face, some: nn.functional.smooth_l1_loss(face, true[some], beta=0.5),
        Small((160,), 0.0, 0.1, 0.1, 40),
    )
    guessed = np.stack([layered(row, arrays, "face") for row in test.face_rows()])
    r2 = 1 - np.square(guessed - test.face).mean(0) / np.square(test.face - test.face.mean(0)).mean(0)
    print("R² of the measures:", " ".join(f"{v:.2f}" for v in r2), f"median {np.median(r2):.3f}", flush=True)
    return arrays


def mean_face(told: Told) -> NDArray[np.float32]:
    """(K, 2) the landmarks of heads that look at the viewer, about their middle, in head heights: what heads are aligned to."""
    shapes = np.stack([shape_of(m, h, t) for m, h, t in zip(told.marks, told.heights, told.tilts, strict=True)])
    mean = shapes[np.abs([look.held[0] for look in told.looks]) < _FACING].mean(0)
    return np.asarray(mean - mean.mean(0), np.float32)


def second_opinion(told: Told, test: Told) -> dict[str, NDArray[np.float32]]:
    """The network of attributes of the aligned head; how often the looks alone and both are right on what is held back."""
    sizes, classes = [len(values) for values in OF_HEAD.values()], torch.from_numpy(told.classes)

    def loss_of(logits: torch.Tensor, some: torch.Tensor) -> torch.Tensor:
        parts = torch.split(logits, sizes, 1)
        return sum(  # type: ignore[return-value]
            nn.functional.cross_entropy(part, classes[some, k], label_smoothing=0.02) for k, part in enumerate(parts)
        )

    arrays = _network("aligned", told.seen, sum(sizes), loss_of, Small((160,), 0.3, 0.2, 0.1, 24))
    again = np.stack([layered(row, arrays, "aligned") for row in test.seen])
    first, start = np.stack([look.classes for look in test.looks]), 0
    for k, (name, size) in enumerate(zip(OF_HEAD, sizes, strict=True)):
        part = slice(start, start + size)
        start += size
        right = [(logits[:, part].argmax(1) == test.classes[:, k]).mean() for logits in (first, first + again)]
        print(f"{name}: {right[0]:.3f}, with the second opinion {right[1]:.3f}", flush=True)
    return arrays


def colours(heads: Heads, shape: NDArray[np.float32]) -> dict[str, NDArray[np.float32]]:
    """The network of the colours of skin, hair and eyes without light, from landmarks that are as far off as read ones."""
    d, rng = heads.columns, np.random.default_rng(3)
    lab = (rgb_to_lab(d["colours"].astype(np.float32)) - LAB_MIDDLE) / np.float32(LAB_SPREAD)
    seen, true, held = [], [], []
    known = set(heads.held_back.tolist())
    for i in np.flatnonzero((d["state"] > 0).sum(1) > _LEAST_MARKS):
        marks = d["landmarks"][i] + rng.normal(size=d["landmarks"][i].shape) * _MISPLACED * EYES_APART * UNIT
        absent = d["state"][i] == 0
        marks[absent] = marks[~absent].mean(0)
        seen.append(colour_row(_as_seen(d["image"][i], float(d["size"][i]), rng), marks, shape))
        true.append(lab[i].ravel())
        held.append(int(i) in known)
    x, y, test = np.stack(seen), np.stack(true).astype(np.float32), np.array(held)
    wanted = torch.from_numpy(y[~test])
    arrays = _network(
        "colours",
        x[~test],
        y.shape[1],
        lambda told, some: nn.functional.smooth_l1_loss(told, wanted[some], beta=0.1),
        Small((192, 96), 0.1, 0.1, 0.05, 30),
    )
    told = np.stack([layered(row, arrays, "colours") for row in x[test]])
    for k, name in enumerate(HEAD_COLOURS):
        far = np.linalg.norm((told - y[test])[:, 3 * k : 3 * k + 3], axis=1) * LAB_SPREAD
        print(f"{name}: {np.median(far):.1f} in Lab", flush=True)
    return arrays


def identities(told: Told, test: Told, arrays: dict[str, Any]) -> dict[str, NDArray[np.float32]]:
    """The projection of identities; areas under the curves on what is held back."""
    out = projection_of(_identity_rows(told, arrays), told.person)
    tell_areas(np.stack([projected(row, out) for row in _identity_rows(test, arrays)]), test.person)
    return out


def _identity_rows(told: Told, arrays: dict[str, Any]) -> NDArray[np.float32]:
    rows, shape = [], arrays["aligned_shape"]
    for n, (look, of_face, seen) in enumerate(zip(told.looks, told.face_rows(), told.seen, strict=True)):
        named = probabilities(look.classes + layered(seen, arrays, "aligned"), _LISTS)
        toned = layered(colour_row(told.images[n], told.marks[n], shape), arrays, "colours")
        rows.append(identity_row(look, layered(of_face, arrays, "face"), toned, named))
    return np.stack(rows)


def finish(heads: Heads, net: CloseNet, amount: int = 20000) -> dict[str, NDArray[np.float32]]:
    """Fits all of it on at most `amount` heads; returns the arrays that `core.reading.close_pass` computes with.

    Identity is fitted on other families than what it is made of: there the face's measures are as far off as they will be in use.
    """
    order = np.random.default_rng(11).permutation(sorted(heads.trained))
    chosen = np.array([row for f in order for looks in heads.trained[int(f)].values() for row in looks])[:amount]
    many = round(len(chosen) * _FITTED)
    first, others = Told(net, heads, chosen[:many], 1, True), Told(net, heads, chosen[many:], 3, True)
    test = Told(net, heads, heads.held_back, 2, False)
    print(f"network, two looks: held back {test.errors().mean():.4f}, median {np.median(test.errors()):.4f}", flush=True)
    arrays: dict[str, NDArray[np.float32]] = {"cascade": cascade(first, (others, test))}
    arrays |= faces(first, test)
    arrays["aligned_shape"] = mean_face(first)
    for one in (first, others, test):
        one.seen = one.aligned_rows(arrays["aligned_shape"])
    arrays |= second_opinion(first, test)
    arrays |= colours(heads, arrays["aligned_shape"])
    return arrays | identities(others, test, arrays)
