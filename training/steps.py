"""One step of stochastic training: gradients clipped, weights moved, their exponential running mean kept."""

from __future__ import annotations

import torch
from torch import Tensor, nn

_STEEPEST = 4.0  # length at which gradients are clipped
Means = dict[str, Tensor]


def descend(net: nn.Module, optimiser: torch.optim.Optimizer, losses: dict[str, Tensor], rate: float) -> dict[str, float]:
    """Moves the weights of `net` against the sum of `losses` at a learning rate; returns the losses as numbers."""
    for group in optimiser.param_groups:
        group["lr"] = rate
    optimiser.zero_grad(set_to_none=True)
    sum(losses.values()).backward()  # type: ignore[union-attr]
    nn.utils.clip_grad_norm_(net.parameters(), _STEEPEST)
    optimiser.step()
    return {name: float(value.detach()) for name, value in losses.items()}


def follow(mean: Means, net: nn.Module, steps: int, most: float) -> None:
    """Moves the running mean towards the weights, in place. steps : taken so far; early means forget faster. most : decay at last."""
    decay = min(most, steps / (steps + 10))
    with torch.no_grad():
        for name, value in net.state_dict().items():
            if value.dtype.is_floating_point:
                mean[name].mul_(decay).add_(value, alpha=1 - decay)
            else:
                mean[name].copy_(value)
