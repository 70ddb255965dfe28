"""The training of the networks of whole pictures: goes on from its last checkpoint, logs its curve, stops cleanly."""

from __future__ import annotations

import time
from pathlib import Path
from typing import Any

import numpy as np
import torch
from torch import Tensor, nn

from mosskeeper.core.reading.classes import PARTS
from training.losses import scene_losses
from training.networks import FigureNet, SceneNet
from training.samples import OUTSIDE, SHAPES, SMALL_SHAPES, Corpus, Feeder, Shapes
from training.steps import descend, follow

_RATE = 2.5e-3
_WARM = 0.03  # share of the time in which the rate rises
_SMALL_UNTIL = 0.5  # of the time: whole pictures are small until then
_DECAY = 0.997  # of the running mean of the weights
_KEPT_EVERY = 120.0  # seconds between checkpoints
_LOGGED_EVERY = 50
_AMOUNT = 16  # pictures a batch


def part_weights(corpus: Corpus) -> Tensor:
    """Rare parts count more: the root of their inverse frequency, within bounds."""
    counts = np.ones(len(PARTS))
    for shard in corpus.shards[:10]:
        counts += np.bincount(np.asarray(shard["parts"][:, ::4, ::4]).ravel(), minlength=OUTSIDE + 1)[: len(PARTS)]
    return torch.tensor(np.clip((counts.sum() / len(PARTS) / counts) ** 0.4, 0.4, 3.0), dtype=torch.float32)


def tensors(batch: dict[str, Any]) -> dict[str, Tensor]:
    out = {name: torch.from_numpy(np.ascontiguousarray(values)) for name, values in batch.items()}
    out["x"] = (out["x"].permute(0, 3, 1, 2).float() / 255).contiguous(memory_format=torch.channels_last)
    return out


def networks() -> nn.ModuleDict:
    torch.manual_seed(3)
    made = nn.ModuleDict({"scene": SceneNet(), "figure": FigureNet()})
    return made.to(memory_format=torch.channels_last)


def rate(progress: float) -> float:
    if progress < _WARM:
        return _RATE * progress / _WARM
    return _RATE * (0.5 * (1 + float(np.cos(np.pi * (progress - _WARM) / (1 - _WARM)))) + 0.002)


class Fit:
    """One run of training: networks, optimiser and running means, which its checkpoint holds."""

    def __init__(self, corpus: Path, folder: Path, seconds: float, without: tuple[str, str] | None = None) -> None:
        self.corpus, self.seconds, self.without = corpus, seconds, without
        self.checkpoint, self.log = folder / "scene.pt", folder / "scene.log"
        folder.mkdir(parents=True, exist_ok=True)
        self.nets = networks()
        self.optimiser = torch.optim.AdamW(self.nets.parameters(), lr=_RATE, weight_decay=0.015)
        self.mean = {k: v.clone() for k, v in self.nets.state_dict().items()}
        self.trained, self.steps = 0.0, 0
        if self.checkpoint.exists():
            kept = torch.load(self.checkpoint, weights_only=True)
            self.nets.load_state_dict(kept["nets"])
            self.optimiser.load_state_dict(kept["optimiser"])
            self.mean, self.trained, self.steps = kept["mean"], kept["trained"], kept["steps"]

    def save(self) -> None:
        state = {
            "nets": self.nets.state_dict(),
            "optimiser": self.optimiser.state_dict(),
            "mean": self.mean,
            "trained": self.trained,
            "steps": self.steps,
        }
        torch.save(state, self.checkpoint.with_suffix(".new"))
        self.checkpoint.with_suffix(".new").replace(self.checkpoint)

    def run(self) -> None:
        """Trains until the time is over; what was trained before counts."""
        if self.trained >= self.seconds:
            return
        weights = part_weights(Corpus.open(self.corpus, self.without))
        for until, shapes in ((_SMALL_UNTIL, SMALL_SHAPES), (1.0, SHAPES)):
            if self.trained < self.seconds * until:
                self._train(self.seconds * until, shapes, weights)

    def _train(self, until: float, shapes: Shapes, weights: Tensor) -> None:
        feeder = Feeder(self.corpus, self.without, 1000 + self.steps, _AMOUNT, shapes)
        total: dict[str, float] = {}
        since = self.steps
        last = kept = time.monotonic()
        try:
            while self.trained < until:
                values = self._step(tensors(next(feeder)), weights)
                for name, value in values.items():
                    total[name] = total.get(name, 0.0) + value
                now = time.monotonic()
                self.trained, last = self.trained + now - last, now
                if self.steps % _LOGGED_EVERY == 0:
                    self._report({name: value / (self.steps - since) for name, value in total.items()})
                    total.clear()
                    since = self.steps
                if now - kept > _KEPT_EVERY:
                    self.save()
                    kept = now
        finally:
            feeder.close()
            self.save()

    def _step(self, batch: dict[str, Tensor], weights: Tensor) -> dict[str, float]:
        losses = scene_losses(self.nets["scene"], self.nets["figure"], batch, weights)
        values = descend(self.nets, self.optimiser, losses, rate(self.trained / self.seconds))
        self.steps += 1
        follow(self.mean, self.nets, self.steps, _DECAY)
        return values

    def _report(self, values: dict[str, float]) -> None:
        line = f"{self.steps} {self.trained:.0f}s {self.trained / self.seconds:.2f} " + " ".join(f"{k} {v:.3f}" for k, v in values.items())
        print("scene", line, flush=True)
        with self.log.open("a") as file:
            file.write(line + "\n")


def fit_scene(drawings: Path, folder: Path, minutes: float, without: tuple[str, str] | None) -> None:
    """Trains as a process of its own, on one core: threads of one run would wait for each other."""
    torch.set_num_threads(1)
    try:
        Fit(drawings, folder, minutes * 60, without).run()
    except KeyboardInterrupt:
        print("scene: stopped; the same command goes on from here")
