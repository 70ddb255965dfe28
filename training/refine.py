"""The end of the head's training: face geometry and identity anew, on what the trained network sees.

While the landmarks still move, what is computed from them learns nothing; once they stand, it is a small regression over
vectors that are made once. Everything else of the network stays as it is. The state that carried over best to families held
back is kept.
"""

from __future__ import annotations

import multiprocessing as mp
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import cv2
import numpy as np
import torch
from numpy.typing import NDArray
from torch import Tensor, nn
from torch.nn import functional

from training.fit import networks, tensors
from training.losses import contrast
from training.networks import HeadNet
from training.samples import Corpus, head_batch

_AT_ONCE = 40
_STEPS, _FAMILIES, _RATE = 600, 40, 2e-3
_TOLD_EVERY = 50
_A_PERSON = 4  # looks of a person in a batch
_HELD_BACK = 12  # every so many families tell how well it carries over
_Looks = tuple[NDArray[np.float16], NDArray[np.float16], NDArray[np.float16], NDArray[np.float32], NDArray[np.int64]]


def _looks(task: tuple[Path, Path, tuple[str, str] | None, int, int, int]) -> _Looks:
    """Shapes, what was seen, what is told, true faces and persons of one share of all heads, each a little changed."""
    corpus_folder, checkpoint, without, part, parts, seed = task
    torch.set_num_threads(1)
    cv2.setNumThreads(1)
    net = _network(checkpoint)
    corpus = Corpus.open(corpus_folder, without)
    rng = np.random.default_rng([seed, part])
    mine = np.arange(part, len(corpus.heads), parts)
    found: list[list[Tensor]] = [[], [], [], [], []]
    with torch.no_grad():
        for start in range(0, len(mine), _AT_ONCE):
            batch = tensors(head_batch(corpus, mine[start : start + _AT_ONCE].tolist(), rng))
            _, shape, h, out = net.look(batch["x"], batch["context"])
            for into, value in zip(found, (shape.half(), h.half(), out.half(), batch["face"], batch["person"]), strict=True):
                into.append(value)
    shape, h, out, face, person = (torch.cat(values).numpy() for values in found)
    return shape, h, out, face, person


def _network(checkpoint: Path) -> HeadNet:
    """The trained network, with geometry and identity as they begin."""
    nets = networks("head")
    mean = torch.load(checkpoint, weights_only=True)["mean"]
    nets.load_state_dict({name: v for name, v in mean.items() if not name.startswith(("head.geometry", "head.identity"))}, strict=False)
    net = nets.eval()["head"]
    assert isinstance(net, HeadNet)
    return net


def refine(corpus: Path, folder: Path, without: tuple[str, str] | None, variants: int = 2, workers: int = 2) -> None:
    """Trains geometry and identity of the head network in `folder` anew and writes them into its checkpoint; a second time does nothing."""
    checkpoint = folder / "head.pt"
    kept = torch.load(checkpoint, weights_only=True)
    if kept.get("refined"):
        return
    tasks = [(corpus, checkpoint, without, part, workers, seed) for seed in range(variants) for part in range(workers)]
    with ProcessPoolExecutor(workers, mp.get_context("spawn")) as pool:
        looks = list(pool.map(_looks, tasks))
    shape, h, out, face = (torch.from_numpy(np.concatenate([look[k] for look in looks]).astype(np.float32)) for k in range(4))
    person = torch.from_numpy(np.concatenate([look[4] for look in looks]))
    net = _network(checkpoint)
    _train(net, shape, h, out, face, person)
    state = {f"head.{name}": value for name, value in net.state_dict().items()}
    torch.save({**kept, "nets": state, "mean": state, "refined": True}, checkpoint.with_suffix(".new"))
    checkpoint.with_suffix(".new").replace(checkpoint)


def _train(net: HeadNet, shape: Tensor, h: Tensor, out: Tensor, face: Tensor, person: Tensor) -> None:
    looks: dict[int, list[int]] = {}
    for row, who in enumerate(person.tolist()):
        looks.setdefault(who, []).append(row)
    families = sorted({who // 2 for who in looks if who ^ 1 in looks})
    test = [f for f in families if f % _HELD_BACK == 0]
    families = [f for f in families if f % _HELD_BACK]
    learned = nn.ModuleList([net.geometry, net.identity])
    optimiser = torch.optim.AdamW(learned.parameters(), lr=_RATE, weight_decay=0.05)
    rng = np.random.default_rng(2)

    def batch_of(chosen: list[int]) -> Tensor:
        rows = [row for f in chosen for who in (2 * f, 2 * f + 1) for row in rng.permutation(looks[who])[:_A_PERSON].tolist()]
        return torch.tensor(rows)

    test_rows = batch_of(test)

    def losses(rows: Tensor) -> tuple[Tensor, Tensor]:
        told, identity = net.judge(shape[rows], h[rows], out[rows])
        return functional.smooth_l1_loss(told, face[rows], beta=0.5), contrast(identity, person[rows])

    best, kept = float("inf"), learned.state_dict()
    for step in range(_STEPS):
        learned.train()
        for group in optimiser.param_groups:
            group["lr"] = _RATE * 0.5 * (1 + np.cos(np.pi * step / _STEPS))
        of_face, of_identity = losses(batch_of(rng.choice(families, _FAMILIES, replace=False).tolist()))
        optimiser.zero_grad(set_to_none=True)
        (of_face + 0.2 * of_identity).backward()
        optimiser.step()
        if step % _TOLD_EVERY == _TOLD_EVERY - 1:
            learned.eval()
            with torch.no_grad():
                told_face, told_identity = (float(v) for v in losses(test_rows))
            print(f"refine {step + 1}: held back: face {told_face:.3f}, identity {told_identity:.3f}", flush=True)
            if told_face + 0.2 * told_identity < best:
                best, kept = told_face + 0.2 * told_identity, {name: value.clone() for name, value in learned.state_dict().items()}
    learned.load_state_dict(kept)
    learned.eval()
