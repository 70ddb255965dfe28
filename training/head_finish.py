"""The end of the close reading's training: the cascade of the landmarks, the face's measures, attributes and colours of
the aligned head, identity.

What is fitted here stands on what the trained network tells of the heads that it was trained on, each a little moved, as a detector
cuts them; how well it carries over is told on families that were held back.
"""

from __future__ import annotations

import multiprocessing
import os
from concurrent.futures import ProcessPoolExecutor
from typing import Any

import cv2
import numpy as np
import torch
from numpy.typing import NDArray
from torch import nn

from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.classes import HEAD_COLOURS, OF_HEAD
from mosskeeper.core.reading.close_pass import (
    Looked,
    agreed,
    aligned_inputs,
    beside_of,
    face_row,
    identity_row,
    looked,
    of_two_layers,
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
_HIDDEN, _EPOCHS, _RATE = 160, 40, 2e-3
_SEEN, _ROUNDS = 160, 24  # of the network of attributes and colours
_FITTED = 0.65  # of the heads, on which all but identity is fitted
_FACING = 0.3  # turn up to which a head shows the mean face
_LISTS = {name: tuple(values) for name, values in OF_HEAD.items()}


Seen = tuple[NDArray[np.uint8], Looked, NDArray[np.float64], float, float, float]


def _seen(net: CloseNet, heads: Heads, i: int, rng: np.random.Generator, disturbed: bool) -> Seen:
    """A head as a detector cuts it: image, look, landmarks (K, 2) px, height px, tilt, and 0 where other light took the colours away."""
    d, toned = heads.columns, 1.0
    image = _as_seen(d["image"][i], float(d["size"][i]), rng)
    if disturbed and rng.uniform() < 0.5:
        lit, toned = photometric(image.astype(np.float32) / 255, rng)
        image = (lit * 255).astype(np.uint8)
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
    return image, look, look.at.astype(np.float64) * SIDE @ back[:2, :2].T + back[:2, 2], height, tilt, float(toned)


_given: tuple[CloseNet, Heads] | None = None  # what forked workers look with and at


def _seen_by_a_worker(task: tuple[list[int], int, bool]) -> list[Seen]:
    rows, seed, disturbed = task
    assert _given is not None
    torch.set_num_threads(1)
    cv2.setNumThreads(1)
    return [_seen(*_given, row, np.random.default_rng([seed, row]), disturbed) for row in rows]


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
        self.toned = np.array([one[5] for one in seen], np.float32)
        self.sizes = np.minimum(d["size"][rows] / UNIT, 1.0)  # how much smaller a head was in its picture
        self.truth = d["landmarks"][rows].astype(np.float64)
        self.state, self.person = d["state"][rows], d["person"][rows]
        self.face = (d["face"][rows] - FACE_MIDDLE) / FACE_SPREAD
        self.seen = np.zeros((len(rows), 0), np.float32)  # what the network of attributes and colours sees
        self.classes = d["classes"][rows].astype(np.int64)
        lab = rgb_to_lab(d["colours"][rows].astype(np.float32))
        self.colours = ((lab - LAB_MIDDLE) / np.float32(LAB_SPREAD)).reshape(len(rows), -1).astype(np.float32)
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


def faces(told: Told, test: Told) -> dict[str, NDArray[np.float32]]:
    """The network of the face's measures as plain arrays; R² of each on what is held back."""
    x, y = (torch.from_numpy(v.astype(np.float32)) for v in (told.face_rows(), told.face))
    middle, spread = x.mean(0), x.std(0) + 1e-3
    torch.manual_seed(5)
    net = nn.Sequential(nn.Linear(x.shape[1], _HIDDEN), nn.ReLU(), nn.Linear(_HIDDEN, y.shape[1]))
    optimiser = torch.optim.AdamW(net.parameters(), lr=_RATE, weight_decay=0.1)
    for epoch in range(_EPOCHS):
        for group in optimiser.param_groups:
            group["lr"] = _RATE * 0.5 * (1 + np.cos(np.pi * epoch / _EPOCHS))
        for rows in torch.randperm(len(x)).split(256):
            loss = nn.functional.smooth_l1_loss(
                net((x[rows] - middle) / spread + 0.1 * torch.randn(len(rows), x.shape[1])), y[rows], beta=0.5
            )
            optimiser.zero_grad()
            loss.backward()
            optimiser.step()
    w1 = (net[0].weight.detach() / spread).T
    arrays = {
        "face_w1": w1.numpy(),
        "face_b1": (net[0].bias.detach() - middle @ w1).numpy(),
        "face_w2": net[2].weight.detach().T.numpy(),
        "face_b2": net[2].bias.detach().numpy(),
    }
    guessed = np.stack([of_two_layers(row, arrays, "face") for row in test.face_rows()])
    r2 = 1 - np.square(guessed - test.face).mean(0) / np.square(test.face - test.face.mean(0)).mean(0)
    print("R² of the measures:", " ".join(f"{v:.2f}" for v in r2), f"median {np.median(r2):.3f}", flush=True)
    return arrays


def aligned(told: Told, test: Told) -> dict[str, NDArray[np.float32]]:
    """The mean face, and the network of attributes and colours as plain arrays; how often it is right on what is held back."""
    shapes = np.stack([shape_of(m, h, t) for m, h, t in zip(told.marks, told.heights, told.tilts, strict=True)])
    facing = np.abs([look.held[0] for look in told.looks]) < _FACING
    mean = shapes[facing].mean(0)
    out = {"aligned_shape": (mean - mean.mean(0)).astype(np.float32)}
    for one in (told, test):
        one.seen = one.aligned_rows(out["aligned_shape"])
    x = torch.from_numpy(told.seen)
    classes, colours, toned = (torch.from_numpy(v) for v in (told.classes, told.colours, told.toned))
    sizes = [len(values) for values in OF_HEAD.values()]
    middle, spread = x.mean(0), x.std(0) + 1e-3
    torch.manual_seed(6)
    net = nn.Sequential(nn.Linear(x.shape[1], _SEEN), nn.ReLU(), nn.Dropout(0.3), nn.Linear(_SEEN, sum(sizes) + colours.shape[1]))
    optimiser = torch.optim.AdamW(net.parameters(), lr=_RATE, weight_decay=0.2)
    for epoch in range(_ROUNDS):
        for group in optimiser.param_groups:
            group["lr"] = _RATE * 0.5 * (1 + np.cos(np.pi * epoch / _ROUNDS))
        for rows in torch.randperm(len(x)).split(128):
            *named, lab = torch.split(
                net((x[rows] - middle) / spread + 0.1 * torch.randn(len(rows), x.shape[1])), [*sizes, colours.shape[1]], 1
            )
            far = nn.functional.smooth_l1_loss(lab, colours[rows], beta=0.2, reduction="none").mean(1)
            loss = 4 * (far * toned[rows]).mean()
            for k, logits in enumerate(named):
                loss = loss + nn.functional.cross_entropy(logits, classes[rows, k], label_smoothing=0.02)
            optimiser.zero_grad()
            loss.backward()
            optimiser.step()
    net.eval()
    w1 = (net[0].weight.detach() / spread).T
    out |= {
        "aligned_w1": w1.numpy(),
        "aligned_b1": (net[0].bias.detach() - middle @ w1).numpy(),
        "aligned_w2": net[3].weight.detach().T.numpy(),
        "aligned_b2": net[3].bias.detach().numpy(),
    }
    _tell_aligned(test, out)
    return out


def _tell_aligned(test: Told, arrays: dict[str, NDArray[np.float32]]) -> None:
    """Prints how often the looks alone and both opinions together are right on what is held back, and how far their colours are off."""
    both = [agreed(look, of_two_layers(row, arrays, "aligned")) for look, row in zip(test.looks, test.seen, strict=True)]
    start = 0
    for k, (name, values) in enumerate(OF_HEAD.items()):
        part = slice(start, start + len(values))
        start += len(values)
        first = np.mean([look.classes[part].argmax() == true for look, true in zip(test.looks, test.classes[:, k], strict=True)])
        right = np.mean([named[part].argmax() == true for (named, _), true in zip(both, test.classes[:, k], strict=True)])
        print(f"{name}: {first:.3f}, with the aligned head {right:.3f}", flush=True)
    for k, name in enumerate(HEAD_COLOURS):
        part = slice(3 * k, 3 * k + 3)
        first, right = (
            np.median([np.linalg.norm(lab[part] - true[part]) for lab, true in zip(labs, test.colours, strict=True)]) * LAB_SPREAD
            for labs in ([look.colours for look in test.looks], [colours for _, colours in both])
        )
        print(f"{name}: {first:.1f}, with the aligned head {right:.1f} in Lab", flush=True)


def identities(told: Told, test: Told, arrays: dict[str, Any]) -> dict[str, NDArray[np.float32]]:
    """The projection of identities; areas under the curves on what is held back."""
    out = projection_of(_identity_rows(told, arrays), told.person)
    tell_areas(np.stack([projected(row, out) for row in _identity_rows(test, arrays)]), test.person)
    return out


def _identity_rows(told: Told, arrays: dict[str, Any]) -> NDArray[np.float32]:
    rows = []
    for look, of_face, seen in zip(told.looks, told.face_rows(), told.seen, strict=True):
        named, colours = agreed(look, of_two_layers(seen, arrays, "aligned"))
        rows.append(identity_row(look, of_two_layers(of_face, arrays, "face"), colours, probabilities(named, _LISTS)))
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
    arrays |= aligned(first, test)
    others.seen = others.aligned_rows(arrays["aligned_shape"])
    return arrays | identities(others, test, arrays)
