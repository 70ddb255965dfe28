"""What the networks are taught: one loss a task, with the weights by which they are added."""

from __future__ import annotations

import torch
from torch import Tensor
from torch.nn import functional

from mosskeeper.core.reading.classes import FIGURE, JOINT_COUNT, OF_FIGURE, OF_PICTURE, PARTS
from training.networks import FigureNet, SceneNet, pooled
from training.samples import OUTSIDE

Losses = dict[str, Tensor]
_STEP = 4  # px of the input per cell of the coarse maps
_OFFSET = 8.0  # cells per unit of the offset maps
SIZE = 16.0  # px of the input: the unit of head sizes
_OF_FIGURE = {"outfit": 0.5, "prop": 0.5, "hair": 0.4, "subject": 0.5, "pose": 0.25}


def _grid(h: int, w: int) -> tuple[Tensor, Tensor]:
    y, x = torch.meshgrid(torch.arange(h) + 0.5, torch.arange(w) + 0.5, indexing="ij")
    return y, x


def _gaussians(at: Tensor, h: int, w: int, sigma: float) -> Tensor:
    """(M, K, h, w) bumps of height 1 about (M, K, 2) places in cells."""
    y, x = _grid(h, w)
    return torch.exp(-((x - at[..., 0, None, None]) ** 2 + (y - at[..., 1, None, None]) ** 2) / (2 * sigma**2))


def _classes(
    logits: Tensor, targets: Tensor, values: dict[str, tuple[str, ...]], weights: dict[str, float], smooth: float = 0.02
) -> Tensor:
    total = logits.new_zeros(())
    for i, (name, part) in enumerate(zip(values, torch.split(logits, [len(v) for v in values.values()], 1), strict=True)):
        if (targets[:, i] >= 0).any():
            total = total + weights.get(name, 0.2) * functional.cross_entropy(part, targets[:, i], ignore_index=-1, label_smoothing=smooth)
    return total


def scene_losses(net: SceneNet, figures: FigureNet, batch: dict[str, Tensor], part_weights: Tensor) -> Losses:
    x = batch["x"]
    fine, coarse, features, whole, picture = net(x)
    parts, n = batch["parts"].long(), len(PARTS)
    known = parts != OUTSIDE
    figure = (parts >= FIGURE.start) & (parts < FIGURE.stop) & known
    out: Losses = {"parts": 1.5 * functional.cross_entropy(fine[:, :n], parts, weight=part_weights, ignore_index=OUTSIDE)}
    depth = batch["depth"].float() / 255
    out["depth"] = 3 * ((fine[:, n] - depth).abs() * known).sum() / known.sum()
    inked = (figure & batch["coloured"][:, None, None])[:, None]
    out["albedo"] = (
        2.5
        * (
            functional.smooth_l1_loss(fine[:, n + 1 : n + 4], batch["albedo"].float().permute(0, 3, 1, 2), beta=0.1, reduction="none")
            * inked
        ).sum()
        / (3 * inked.sum() + 1)
    )
    cloth = torch.stack([(batch["cloth"] & 8) > 0, (batch["cloth"] & 16) > 0], 1).float()
    out["cloth"] = (
        0.5
        * (functional.binary_cross_entropy_with_logits(fine[:, n + 4 : n + 6], cloth, reduction="none") * figure[:, None]).sum()
        / (2 * figure.sum() + 1)
    )
    h, w = coarse.shape[2:]
    rows, numbers = batch["rows"], batch["numbers"]
    heads = batch["heads"] / _STEP
    head_map = torch.zeros(len(x), h, w)
    if len(rows):
        out |= _figure_losses(figures, batch, x, (fine, coarse, features, whole), rows)
        bumps = _gaussians(heads[:, None, :2], h, w, 1.2)[:, 0]
        for row, bump in zip(rows.tolist(), bumps, strict=True):
            head_map[row] = torch.maximum(head_map[row], bump)
        own = (batch["figures"][rows] == numbers[:, None, None]).float()
        y, xx = _grid(h, w)
        target = torch.stack([heads[:, 0, None, None] - xx, heads[:, 1, None, None] - y], 1) / _OFFSET
        error = functional.smooth_l1_loss(coarse[rows, JOINT_COUNT + 1 : JOINT_COUNT + 3], target, beta=0.2, reduction="none").sum(1)
        out["offset"] = 0.5 * (error * own).sum() / (own.sum() + 1)
        near = bumps > 0.3
        size = (coarse[rows, JOINT_COUNT + 3] - torch.log(batch["heads"][:, 2] / SIZE)[:, None, None]).abs()
        out["size"] = 0.5 * (size * near).sum() / (near.sum() + 1)
    logit = coarse[:, JOINT_COUNT]
    p = torch.sigmoid(logit)
    positive = (head_map > 0.9).float()
    focal = positive * (1 - p) ** 2 * functional.softplus(-logit) + (1 - positive) * (1 - head_map) ** 4 * p**2 * functional.softplus(logit)
    out["heads"] = focal.sum() / (positive.sum() + 1)
    out["picture"] = _classes(picture, batch["of_picture"], dict(OF_PICTURE), {"place": 0.4, "finish": 0.3})
    return out


def _figure_losses(
    figures: FigureNet, batch: dict[str, Tensor], x: Tensor, seen: tuple[Tensor, Tensor, Tensor, Tensor], rows: Tensor
) -> Losses:
    coarse = seen[1]
    h, w = coarse.shape[2:]
    state = batch["state"]
    bumps = _gaussians(batch["joints"] / _STEP, h, w, 1.1)
    weight = (state > 0).float() * (0.3 + 0.7 * (state == 2))
    bumps = bumps * weight[..., None, None]
    target = torch.zeros(len(x), JOINT_COUNT, h, w).index_add_(0, rows, bumps).flatten(2)
    there = torch.zeros(len(x), JOINT_COUNT).index_add_(0, rows, weight).clamp(max=1)
    target = target / (target.sum(2, keepdim=True) + 1e-6)
    log_p = torch.log_softmax(coarse[:, :JOINT_COUNT].flatten(2), 2)
    out = {"joints": 0.6 * (-(target * log_p).sum(2) * there).sum() / (there.sum() + 1)}
    logits = figures(pooled(x, *seen, batch["masks"], rows))
    named = logits[:, :-JOINT_COUNT]
    out["figure"] = _classes(named, batch["classes"], dict(OF_FIGURE), _OF_FIGURE)
    out["seen"] = 0.4 * functional.binary_cross_entropy_with_logits(logits[:, -JOINT_COUNT:], (state == 2).float())
    return out


def contrast(identity: Tensor, person: Tensor, temperature: float = 0.08) -> Tensor:
    """Supervised contrastive loss (Khosla et al., 2020): heads of one person near each other, those of all others far."""
    s = identity @ identity.T / temperature
    itself = torch.eye(len(s), dtype=torch.bool)
    s = s.masked_fill(itself, -1e9)
    log_p = s - torch.logsumexp(s, 1, keepdim=True)
    same = (person[:, None] == person[None]) & ~itself
    per = -(log_p * same).sum(1) / same.sum(1).clamp(min=1)
    return per[same.any(1)].mean()
