"""The training of `CloseNet`: goes on from its last checkpoint, logs its curve on families that are held back, stops cleanly."""

from __future__ import annotations

import time
from pathlib import Path

import numpy as np
import torch
from torch import Tensor
from torch.nn import functional

from mosskeeper.core.reading.classes import OF_HEAD
from mosskeeper.core.reading.head_crop import REACH as SHOWN
from training.head_network import TOLD, CloseNet
from training.head_samples import EYES_APART, HeadFeeder, Heads, batch
from training.losses import contrast
from training.steps import descend, follow

_RATE, _WARM, _DECAY = 2.5e-3, 0.01, 0.998
_AMOUNT = 32
_TOLD_EVERY, _KEPT_EVERY = 120.0, 180.0  # seconds
_WEIGHTS = {
    "expression": 0.8,
    "hair": 0.7,
    "subject": 0.4,
    "view": 0.3,
    "facial hair": 0.3,
    "glasses": 0.25,
    "freckles": 0.5,
    "mark": 0.5,
    "earrings": 0.3,
}
_TESTED = 256


def tensors(rows: dict[str, np.ndarray]) -> dict[str, Tensor]:
    out = {name: torch.from_numpy(np.ascontiguousarray(values)) for name, values in rows.items()}
    out["x"] = (out["x"].permute(0, 3, 1, 2).float() / 255).contiguous(memory_format=torch.channels_last)
    return out


def losses(net: CloseNet, rows: dict[str, Tensor]) -> dict[str, Tensor]:
    at, log_spread, score, told, identity, parts = net(rows["x"])
    marks, state = rows["marks"], rows["state"]
    weight = (state > 0).float() * (0.35 + 0.65 * (state == 2).float())
    total = weight.sum() + 1
    error = (at - marks).abs().sum(2) * SHOWN / EYES_APART  # in distances of the eyes
    s = log_spread.clamp(-5, 2)
    n = 16
    cells = torch.arange(n) + 0.5
    apart = (cells[None, None, None] - marks[..., 0, None, None] * n) ** 2 + (
        cells[None, None, :, None] - marks[..., 1, None, None] * n
    ) ** 2
    bump = torch.exp(-apart / 1.2).flatten(2)
    bump = bump / (bump.sum(2, keepdim=True) + 1e-6)
    seen, classes, colours, face, held = torch.split(told, list(TOLD), 1)
    named = sum(
        _WEIGHTS.get(name, 0.15) * functional.cross_entropy(part, rows["classes"][:, k], label_smoothing=0.02)
        for k, (name, part) in enumerate(zip(OF_HEAD, torch.split(classes, [len(v) for v in OF_HEAD.values()], 1), strict=True))
    )
    toned = rows["coloured"].float()[:, None]
    known = torch.tensor([1.0, 1.0, 0.8]).repeat_interleave(3)[None] * toned
    return {
        "nll": 0.5 * ((error * torch.exp(-s) + 2 * s) * weight).sum() / total,
        "error": (error * weight).sum() / total,
        "cells": 0.25 * (-(bump * torch.log_softmax(score, 2)).sum(2) * weight).sum() / total,
        "seen": 0.3 * functional.binary_cross_entropy_with_logits(seen, (state == 2).float()),
        "named": named,
        "colours": 1.5 * (functional.smooth_l1_loss(colours, rows["colours"].flatten(1), beta=0.3, reduction="none") * known).mean(),
        "face": 0.6 * functional.smooth_l1_loss(face, rows["face"], beta=0.5),
        "held": functional.smooth_l1_loss(held, rows["held"], beta=0.1),
        "identity": 0.2 * contrast(identity, rows["person"]),
        "parts": 0.6 * functional.cross_entropy(parts, rows["parts"]),
    }


@torch.no_grad()
def measured(net: CloseNet, heads: Heads, amount: int = _TESTED) -> dict[str, float]:
    """On heads that are held back: landmark error over the distance of the eyes, shares of classes that are right."""
    net.eval()
    rng = np.random.default_rng(0)
    rows = heads.held_back[:: max(1, len(heads.held_back) // amount)]
    errors, right = [], []
    for start in range(0, len(rows), 32):
        b = tensors(batch(heads, rows[start : start + 32].tolist(), rng, disturbed=False))
        at, _, _, told, _, _ = net(b["x"])
        far = torch.hypot(*(at - b["marks"]).unbind(2)) * SHOWN / EYES_APART
        errors += [float(far[k][b["state"][k] == 2].mean()) for k in range(len(far)) if (b["state"][k] == 2).sum() > 5]
        parted = torch.split(torch.split(told, list(TOLD), 1)[1], [len(v) for v in OF_HEAD.values()], 1)
        right.append(torch.stack([part.argmax(1) == b["classes"][:, k] for k, part in enumerate(parted)], 1).float())
    net.train()
    shares = dict(zip(OF_HEAD, torch.cat(right).mean(0).tolist(), strict=True))
    return {"error": float(np.mean(errors)), "median": float(np.median(errors)), **shares}


class HeadFit:
    """One run of training: network, optimiser and running mean, which its checkpoint holds."""

    def __init__(self, folder: Path, seconds: float) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        self.checkpoint, self.log, self.seconds = folder / "close.pt", folder / "close.log", seconds
        torch.manual_seed(3)
        self.net = CloseNet().to(memory_format=torch.channels_last)
        self.mean = {name: value.clone() for name, value in self.net.state_dict().items()}
        self.optimiser = torch.optim.AdamW(self.net.parameters(), lr=_RATE, weight_decay=0.015)
        self.trained, self.steps = 0.0, 0
        if self.checkpoint.exists():
            kept = torch.load(self.checkpoint, weights_only=True)
            self.net.load_state_dict(kept["net"])
            self.optimiser.load_state_dict(kept["optimiser"])
            self.mean, self.trained, self.steps = kept["mean"], kept["trained"], kept["steps"]

    def save(self) -> None:
        state = {
            "net": self.net.state_dict(),
            "mean": self.mean,
            "optimiser": self.optimiser.state_dict(),
            "trained": self.trained,
            "steps": self.steps,
        }
        torch.save(state, self.checkpoint.with_suffix(".new"))
        self.checkpoint.with_suffix(".new").replace(self.checkpoint)

    def run(self, heads: Heads) -> None:
        feeder = HeadFeeder(heads, 1000 + self.steps, _AMOUNT)
        last = told = kept = time.monotonic()
        try:
            while self.trained < self.seconds:
                values = self._step(tensors(next(feeder)))
                now = time.monotonic()
                self.trained, last = self.trained + now - last, now
                if now - told > _TOLD_EVERY:
                    self._report(heads, values)
                    told = last = time.monotonic()
                if now - kept > _KEPT_EVERY:
                    self.save()
                    kept = now
        finally:
            feeder.close()
            self.save()

    def _rate(self) -> float:
        t = self.trained / self.seconds
        return _RATE * min(1.0, (self.steps + 1) / 60) * (0.5 * (1 + float(np.cos(np.pi * t))) + 0.003)

    def _step(self, rows: dict[str, Tensor]) -> dict[str, float]:
        values = descend(self.net, self.optimiser, losses(self.net, rows), self._rate())
        self.steps += 1
        follow(self.mean, self.net, self.steps, _DECAY)
        return values

    def _report(self, heads: Heads, values: dict[str, float]) -> None:
        averaged = CloseNet().to(memory_format=torch.channels_last)
        averaged.load_state_dict(self.mean)
        shown = measured(averaged, heads)
        line = f"{self.steps} steps, {self.steps * _AMOUNT} samples, {self.trained:.0f} s: "
        line += " ".join(f"{name} {value:.3f}" for name, value in shown.items()) + " | "
        line += " ".join(f"{name} {value:.3f}" for name, value in values.items())
        print(line, flush=True)
        with self.log.open("a") as file:
            file.write(line + "\n")


def fit_close(heads: Path, folder: Path, minutes: float) -> None:
    """Trains as a process of its own, on one core."""
    torch.set_num_threads(1)
    try:
        HeadFit(folder, minutes * 60).run(Heads.open(heads))
    except KeyboardInterrupt:
        print("close: stopped; the same command goes on from here")
