"""`CloseNet`: one head at 128 px. Landmarks by score maps at an eighth of the crop with offsets and a predicted spread (after Lathuilière
et al., "A comprehensive analysis of deep regression", 2019, and Kendall and Gal, "What uncertainties do we need", 2017), everything
else from what is seen at the landmarks and of the whole head.
"""

from __future__ import annotations

import torch
from torch import Tensor, nn
from torch.nn import functional

from mosskeeper.core.reading.classes import HEAD_COLOURS, LANDMARK_COUNT, OF_HEAD, POSES_OF_HEAD
from training.heads import GROUPS

CLASSES = sum(map(len, OF_HEAD.values()))
FACE = 14
IDENTITY = 64
TOLD = (LANDMARK_COUNT, CLASSES, 3 * len(HEAD_COLOURS), FACE, len(POSES_OF_HEAD))
_AT_MARKS = 20  # channels that are looked at in each landmark


def _conv(i: int, o: int, k: int = 3, stride: int = 1, act: bool = True) -> nn.Sequential:
    layers: list[nn.Module] = [nn.Conv2d(i, o, k, stride, k // 2, bias=False), nn.BatchNorm2d(o)]
    return nn.Sequential(*layers, *([nn.ReLU(True)] if act else []))


class _Residual(nn.Module):
    def __init__(self, c: int) -> None:
        super().__init__()
        self.f = nn.Sequential(_conv(c, c), _conv(c, c, act=False))

    def forward(self, x: Tensor) -> Tensor:
        return functional.relu(x + self.f(x))


class CloseNet(nn.Module):
    """(N, 3, 128, 128) RGB 0…1 → places (N, 36, 2) in 0…1 of the crop, log spread (N, 36), score logits (N, 36, 256), a vector of
    `TOLD` (how surely each landmark is seen, class logits, scaled Lab of skin, hair and eyes, scaled face, how the head is held),
    identity (N, 64) of length 1, part logits (N, groups, 32, 32).
    """

    def __init__(self) -> None:
        super().__init__()
        a, b, c, d, e = 16, 32, 64, 112, 160
        self.s1, self.s2 = _conv(3, a, 5, 2), _conv(a, b, 3, 2)
        self.s3 = nn.Sequential(_conv(b, c, 3, 2), _Residual(c))
        self.s4 = nn.Sequential(_conv(c, d, 3, 2), _Residual(d), _Residual(d))
        self.s5 = nn.Sequential(_conv(d, e, 3, 2), _Residual(e))
        self.u4, self.j4, self.u3 = nn.Conv2d(e, d, 1), _conv(d, d, 1), nn.Conv2d(d, c, 1)
        self.edges = nn.Conv2d(b, c, 3, 2, 1)  # straight to where places are told
        self.mix = nn.Sequential(_conv(c, c), _conv(c, c))
        self.out = nn.Conv2d(c, 4 * LANDMARK_COUNT, 1)
        self.parts = nn.Sequential(nn.Conv2d(c, 4 * len(GROUPS), 1), nn.PixelShuffle(2))
        self.small = nn.Conv2d(c, _AT_MARKS, 1)
        self.at = nn.Linear(LANDMARK_COUNT * (_AT_MARKS + 3), 192)
        inputs = 2 * e + 192 + 3 * LANDMARK_COUNT + 3 * len(GROUPS)
        self.body = nn.Sequential(
            nn.BatchNorm1d(inputs),
            nn.Linear(inputs, 288),
            nn.BatchNorm1d(288),
            nn.ReLU(True),
            nn.Dropout(0.1),
            nn.Linear(288, 256),
            nn.ReLU(True),
        )
        self.told = nn.Linear(256, sum(TOLD))
        self.identity = nn.Linear(256, IDENTITY)

    def forward(self, x: Tensor) -> tuple[Tensor, ...]:
        a = self.s2(self.s1(x))
        b = self.s3(a)
        c = self.s4(b)
        d = self.s5(c)
        c = self.j4(functional.relu(c + functional.interpolate(self.u4(d), scale_factor=2.0, mode="nearest")))
        v = self.mix(functional.relu(b + self.edges(a) + functional.interpolate(self.u3(c), scale_factor=2.0, mode="nearest")))
        n, h, w = v.shape[0], 16, 16
        score, dx, dy, spread = self.out(v).view(n, 4, LANDMARK_COUNT, h * w).unbind(1)
        p = torch.softmax(score, 2)
        gy, gx = torch.meshgrid((torch.arange(h) + 0.5) / h, (torch.arange(w) + 0.5) / w, indexing="ij")
        at = torch.stack([(p * (gx.flatten() + dx / w)).sum(2), (p * (gy.flatten() + dy / h)).sum(2)], 2)
        log_spread = (p * spread).sum(2)
        # the picture's own colours at the landmarks, and in the parts, tell skin, hair and eyes
        fine = functional.avg_pool2d(x, 8).flatten(2)
        seen = torch.cat([self.small(v).flatten(2), fine], 1).transpose(1, 2)
        marked = self.at(torch.matmul(p, seen).flatten(1))
        parts = self.parts(v)
        weight = torch.softmax(parts, 1).flatten(2)
        toned = torch.matmul(weight, functional.avg_pool2d(x, 4).flatten(2).transpose(1, 2)) / (weight.sum(2, keepdim=True) + 1.0)
        shape = (at - at.mean(1, keepdim=True)) * 6
        body = self.body(torch.cat([d.mean((2, 3)), d.amax((2, 3)), marked, shape.flatten(1), log_spread, toned.flatten(1)], 1))
        identity = self.identity(body)
        return at, log_spread, score, self.told(body), identity / torch.sqrt((identity * identity).sum(1, keepdim=True) + 1e-6), parts
