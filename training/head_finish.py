"""The end of the close reading's training: the cascade of the landmarks, the face's measures, identity; and the files of the weights.

What is fitted here stands on what the trained network tells of the heads that it was trained on, each a little moved, as a detector
cuts them; how well it carries over is told on families that were held back.
"""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import torch
from numpy.typing import NDArray
from torch import nn

from mosskeeper.core.reading.classes import OF_HEAD
from mosskeeper.core.reading.close_pass import (
    Looked,
    beside_of,
    face_row,
    identity_row,
    looked,
    of_two_layers,
    projected,
)
from mosskeeper.core.reading.head_crop import REACH as SHOWN
from mosskeeper.core.reading.head_crop import SIDE, crop_matrix, warped
from mosskeeper.core.reading.landmark_cascade import row_of, shape_of, turned
from training.augment import photometric
from training.head_network import TOLD, CloseNet
from training.head_samples import EYES_APART, UNIT, Heads
from training.heads import FAMILY, STORED
from training.samples import FACE_MIDDLE, FACE_SPREAD

STAGES, _RIDGE = 3, 60.0
_HIDDEN, _EPOCHS, _RATE = 160, 60, 2e-3
_SMOOTH = 0.05  # of the within-person covariance, by which it is drawn to its diagonal
_LISTS = {name: tuple(values) for name, values in OF_HEAD.items()}


class Told:
    """What the network tells of some heads, with the truth."""

    def __init__(self, net: CloseNet, heads: Heads, rows: NDArray[np.int64], seed: int, disturbed: bool) -> None:
        d, rng = heads.columns, np.random.default_rng(seed)
        self.images: list[NDArray[np.uint8]] = []
        self.looks: list[Looked] = []
        self.marks = np.zeros((len(rows), d["landmarks"].shape[1], 2))
        self.heights, self.tilts = np.zeros(len(rows)), np.zeros(len(rows))
        for n, i in enumerate(rows):
            image = _as_seen(d["image"][i], float(d["size"][i]), rng)
            if disturbed and rng.uniform() < 0.5:
                image = (photometric(image.astype(np.float32) / 255, rng)[0] * 255).astype(np.uint8)
            height = UNIT * float(np.exp(rng.normal() * 0.06))
            centre = STORED / 2 + rng.normal(size=2) * 0.04 * UNIT
            matrix = crop_matrix((float(centre[0]), float(centre[1])), height * SHOWN, SIDE)
            look = looked(lambda x: _run(net, x), warped(image, matrix, SIDE), TOLD)
            tilt = float(np.clip(look.held[2], -0.6, 0.6))
            if abs(tilt) > 0.2:
                matrix = crop_matrix((float(centre[0]), float(centre[1])), height * SHOWN, SIDE, tilt)
                look = looked(lambda x: _run(net, x), warped(image, matrix, SIDE), TOLD)
                tilt += float(look.held[2])
            back = np.linalg.inv(np.vstack([matrix, [0, 0, 1]]))
            self.marks[n] = look.at.astype(np.float64) * SIDE @ back[:2, :2].T + back[:2, 2]
            self.images.append(image)
            self.looks.append(look)
            self.heights[n], self.tilts[n] = height, tilt
        self.truth = d["landmarks"][rows].astype(np.float64)
        self.state, self.person = d["state"][rows], d["person"][rows]
        self.face = (d["face"][rows] - FACE_MIDDLE) / FACE_SPREAD
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


def cascade(told: Told, test: Told) -> NDArray[np.float32]:
    """(stages, features, 2K): the stages fitted one after the other; both sets are moved."""
    out = []
    for n in range(STAGES):
        x = told.stage()
        wanted = np.stack([turned(t - m, tilt) / h for t, m, tilt, h in zip(told.truth, told.marks, told.tilts, told.heights, strict=True)])
        wanted = np.where((told.state > 0)[..., None], np.clip(wanted, -0.3, 0.3), 0).reshape(len(x), -1)
        gram = x.T.astype(np.float64) @ x
        gram[np.diag_indices_from(gram)] += _RIDGE
        stage = np.linalg.solve(gram, x.T.astype(np.float64) @ wanted)
        told.moved(x @ stage)
        test.moved(test.stage() @ stage)
        print(f"stage {n + 1}: held back {test.errors().mean():.4f}, median {np.median(test.errors()):.4f}", flush=True)
        out.append(stage.astype(np.float32))
    return np.stack(out)


def faces(told: Told, test: Told) -> dict[str, NDArray[np.float32]]:
    """The network of the face's measures as plain arrays; R² of each on what is held back."""
    x, y = (torch.from_numpy(v.astype(np.float32)) for v in (told.face_rows(), told.face))
    middle, spread = x.mean(0), x.std(0) + 1e-3
    torch.manual_seed(5)
    net = nn.Sequential(nn.Linear(x.shape[1], _HIDDEN), nn.ReLU(), nn.Linear(_HIDDEN, y.shape[1]))
    optimiser = torch.optim.AdamW(net.parameters(), lr=_RATE, weight_decay=0.03)
    for epoch in range(_EPOCHS):
        for group in optimiser.param_groups:
            group["lr"] = _RATE * 0.5 * (1 + np.cos(np.pi * epoch / _EPOCHS))
        for rows in torch.randperm(len(x)).split(256):
            loss = nn.functional.smooth_l1_loss(
                net((x[rows] - middle) / spread + 0.05 * torch.randn(len(rows), x.shape[1])), y[rows], beta=0.5
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


def identities(told: Told, test: Told, arrays: dict[str, Any]) -> dict[str, NDArray[np.float32]]:
    """The projection of identities; areas under the curves on what is held back."""
    rows = _identity_rows(told, arrays)
    middle = rows.mean(0)
    x, people = rows - middle, told.person
    means = {p: x[people == p].mean(0) for p in np.unique(people)}
    inside = x - np.stack([means[p] for p in people])
    within = inside.T @ inside / len(x)
    within = (1 - _SMOOTH) * within + _SMOOTH * np.diag(np.diag(within)) + 1e-4 * np.eye(len(within))
    m = np.stack(list(means.values()))
    between = m.T @ m / len(m)
    root = np.linalg.inv(np.linalg.cholesky(within))
    values, vectors = np.linalg.eigh(root @ between @ root.T)
    best = np.argsort(values)[::-1][:64]
    share = np.sqrt(np.maximum(values[best], 0) / (1 + np.maximum(values[best], 0)))
    projection = (root.T @ vectors[:, best]) * share
    out = {"identity_middle": middle.astype(np.float32), "identity_projection": projection.astype(np.float32)}
    who = np.stack([projected(row, out) for row in _identity_rows(test, arrays)])
    told_areas(who, test.person)
    return out


def _identity_rows(told: Told, arrays: dict[str, Any]) -> NDArray[np.float32]:
    faces_told = np.stack([of_two_layers(row, arrays, "face") for row in told.face_rows()])
    return np.stack([identity_row(look, f, b) for look, f, b in zip(told.looks, faces_told, told.beside, strict=True)])


def told_areas(who: NDArray[np.float32], person: NDArray[np.int32]) -> None:
    """Prints areas under the curve of one person against all, siblings, twins; single pairs and three pictures pooled."""
    i, j = np.triu_indices(len(who), 1)
    score, same = (who[i] * who[j]).sum(1), person[i] == person[j]
    kin = (person[i] // FAMILY == person[j] // FAMILY) & ~same
    which = np.sort(np.stack([person[i] % FAMILY, person[j] % FAMILY]), axis=0)
    twins = kin & (which[0] == 0) & (which[1] == 2)
    far = ~same & ~kin
    cut = np.quantile(score[far], 0.99)
    print(
        f"area: all {_area(score[same], score[far]):.3f}, siblings {_area(score[same], score[kin & ~twins]):.3f}, "
        f"twins {_area(score[same], score[twins]):.3f}; accepted at 1 % {float((score[same] >= cut).mean()):.2f}",
        flush=True,
    )


def _area(inside: NDArray[np.float32], outside: NDArray[np.float32]) -> float:
    order = np.sort(outside)
    return float(np.searchsorted(order, inside).mean() / len(order))


def finish(heads: Heads, checkpoint: Path, target: Path, amount: int) -> dict[str, Any]:
    """Fits all of it and writes `close.npz` and `close.onnx` into `target`; returns what the card says of it."""
    from training.export import write_close

    kept = torch.load(checkpoint, weights_only=True)
    net = CloseNet()
    net.load_state_dict(kept["mean"])
    net.eval()
    trained = np.array(sorted(row for people in heads.trained.values() for looks in people.values() for row in looks))
    rng = np.random.default_rng(11)
    families = rng.permutation(sorted(heads.trained))
    chosen = np.array([row for f in families for looks in heads.trained[int(f)].values() for row in looks])[:amount]
    print(f"{len(chosen)} of {len(trained)} heads", flush=True)
    told, test = Told(net, heads, chosen, 1, True), Told(net, heads, heads.held_back, 2, False)
    print(f"network, two looks: held back {test.errors().mean():.4f}, median {np.median(test.errors()):.4f}", flush=True)
    arrays: dict[str, Any] = {"cascade": cascade(told, test)}
    arrays |= faces(told, test)
    arrays |= identities(told, test, arrays)
    target.mkdir(parents=True, exist_ok=True)
    np.savez(
        target / "close.npz", **{name: np.asarray(value, np.float16 if value.ndim > 1 else np.float32) for name, value in arrays.items()}
    )
    write_close(net, target)
    facts = {"steps": kept["steps"], "minutes": round(kept["trained"] / 60, 1), "heads": len(trained)}
    (target / "close.json").write_text(json.dumps(facts) + "\n")
    return facts


def main() -> None:
    parser = argparse.ArgumentParser(description="Fits what stands on the trained network of heads, and writes its weights.")
    parser.add_argument("heads", type=Path)
    parser.add_argument("checkpoint", type=Path)
    parser.add_argument("target", type=Path)
    parser.add_argument("--amount", type=int, default=12000)
    arguments = parser.parse_args()
    torch.set_num_threads(1)
    cv2.setNumThreads(1)
    finish(Heads.open(arguments.heads), arguments.checkpoint, arguments.target, arguments.amount)


if __name__ == "__main__":
    main()
