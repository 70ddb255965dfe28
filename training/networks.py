"""The reader's networks: `SceneNet` sees a whole picture, `FigureNet` one figure in what it saw.

Inverted residuals after Sandler et al., "MobileNetV2", 2018; a fused decoder after Lin et al., "Feature pyramid networks
for object detection", 2017; figures by offsets to their heads after Cheng et al., "Panoptic-DeepLab", 2020.
"""

from __future__ import annotations

import torch
from torch import Tensor, nn
from torch.nn import functional

from mosskeeper.core.reading.classes import FIGURE, JOINT_COUNT, OF_FIGURE, OF_PICTURE, PARTS

FEATURES = 48  # channels in which figures are described
GLOBAL = 96  # of the whole picture
GROUPS = FIGURE.stop - FIGURE.start
FINE = len(PARTS) + 6  # at half size: parts, depth, albedo (3), first and second colour
COARSE = JOINT_COUNT + 4  # at a quarter: joints, heads, offset to the own head (2), log of its size
POOLED = GROUPS * (FEATURES + 7) + 2 * FEATURES + GLOBAL + 2 * JOINT_COUNT


def _conv(i: int, o: int, k: int = 3, stride: int = 1, groups: int = 1, act: bool = True) -> nn.Sequential:
    layers: list[nn.Module] = [nn.Conv2d(i, o, k, stride, k // 2, groups=groups, bias=False), nn.BatchNorm2d(o)]
    return nn.Sequential(*layers, *([nn.ReLU(True)] if act else []))


class _Residual(nn.Module):
    def __init__(self, c: int) -> None:
        super().__init__()
        self.f = nn.Sequential(_conv(c, c), _conv(c, c, act=False))

    def forward(self, x: Tensor) -> Tensor:
        return functional.relu(x + self.f(x))


def _doubled(x: Tensor) -> Tensor:
    return functional.interpolate(x, scale_factor=2.0, mode="bilinear", align_corners=False)


class _Joined(nn.Module):
    """Coarse features, doubled, joined with finer ones by a dense convolution."""

    def __init__(self, coarse: int, fine: int, out: int) -> None:
        super().__init__()
        self.a, self.b, self.mix = nn.Conv2d(coarse, out, 1), nn.Conv2d(fine, out, 1), _conv(out, out)

    def forward(self, coarse: Tensor, fine: Tensor) -> Tensor:
        return self.mix(functional.relu(_doubled(self.a(coarse)) + self.b(fine)))


def _mlp(inputs: int, hidden: int, outputs: int) -> nn.Sequential:
    return nn.Sequential(
        nn.BatchNorm1d(inputs),
        nn.Linear(inputs, hidden),
        nn.BatchNorm1d(hidden),
        nn.ReLU(True),
        nn.Dropout(0.1),
        nn.Linear(hidden, hidden),
        nn.BatchNorm1d(hidden),
        nn.ReLU(True),
        nn.Linear(hidden, outputs),
    )


def _means(x: Tensor) -> Tensor:
    return torch.cat([x.mean((2, 3)), x.amax((2, 3))], 1)


class SceneNet(nn.Module):
    """(N, 3, H, W) RGB in 0…1, H and W multiples of 16 → fine maps, coarse maps, features, global features, picture logits.

    Dense convolutions throughout: on two cores they are trained faster than separable ones of fewer multiplications.
    """

    def __init__(self) -> None:
        super().__init__()
        self.s1 = _conv(3, 16, 3, 2)
        self.s2 = nn.Sequential(_conv(16, 32, 3, 2), _Residual(32))
        self.s3 = nn.Sequential(_conv(32, 80, 3, 2), *(_Residual(80) for _ in range(3)))
        self.s4 = nn.Sequential(_conv(80, 160, 3, 2), *(_Residual(160) for _ in range(2)))
        self.f3, self.f2 = _Joined(160, 80, 96), _Joined(96, 32, 64)
        self.up, self.skip = nn.Conv2d(64, 24, 1), nn.Conv2d(16, 24, 1)
        self.fine = nn.Sequential(_conv(24, 32), nn.Conv2d(32, FINE, 1))
        self.coarse = nn.Sequential(_conv(64, 64, 1), nn.Conv2d(64, COARSE, 1))
        self.features = nn.Conv2d(64, FEATURES, 1)
        nn.init.constant_(self.coarse[-1].bias[JOINT_COUNT : JOINT_COUNT + 1], -4.0)  # heads are rare
        self.whole = nn.Linear(2 * 160, GLOBAL)
        self.picture = _mlp(GLOBAL + 3 * FEATURES + 12, 160, sum(map(len, OF_PICTURE.values())))

    def forward(self, x: Tensor) -> tuple[Tensor, Tensor, Tensor, Tensor, Tensor]:
        a = self.s1(x)
        b = self.s2(a)
        c = self.s3(b)
        d = self.s4(c)
        u = self.f2(self.f3(d, c), b)
        fine = self.fine(functional.relu(_doubled(self.up(u)) + self.skip(a)))
        coarse, features = self.coarse(u), self.features(u)
        whole = self.whole(_means(d))
        parts = torch.softmax(functional.avg_pool2d(fine[:, : len(PARTS)], 2), 1)
        place, beast = parts[:, :3].sum(1, keepdim=True), parts[:, -1:]
        pooled = [(features * w).mean((2, 3)) / (w.mean((2, 3)) + 1e-3) for w in (place, beast)]
        small = functional.avg_pool2d(x, 4)
        light = [(small * place).mean((2, 3)) / (place.mean((2, 3)) + 1e-3), small.mean((2, 3)), (small * small).mean((2, 3))]
        edge = functional.avg_pool2d((x[:, :, 1:] - x[:, :, :-1]).abs(), 4).mean((2, 3))
        picture = self.picture(torch.cat([whole, *pooled, features.amax((2, 3)), *light, edge], 1))
        return fine, coarse, features, whole, picture


def pooled(x: Tensor, fine: Tensor, coarse: Tensor, features: Tensor, whole: Tensor, mask: Tensor, rows: Tensor) -> Tensor:
    """(M, POOLED) what the scene network saw of M figures.

    mask : (M, h, w) 0…1 at a quarter of the picture's size. rows : (M,) which picture of the batch each is in.
    """
    small = functional.avg_pool2d(x, 4)[rows]
    half = functional.avg_pool2d(fine, 2)[rows]
    parts = torch.softmax(half[:, : len(PARTS)], 1)[:, FIGURE] * mask[:, None]
    albedo = half[:, len(PARTS) + 1 : len(PARTS) + 4]
    seen = features[rows]
    weight = parts.flatten(2)
    area = weight.mean(2, keepdim=True)
    carried = torch.cat([seen, small, albedo], 1).flatten(2).transpose(1, 2)
    by_part = torch.matmul(weight, carried) / (area * weight.shape[2] + 0.5)
    share = area / (area.sum(1, keepdim=True) + 1e-4)
    inside = mask[:, None]
    mean = (seen * inside).sum((2, 3)) / (inside.sum((2, 3)) + 0.5)
    most = (seen * inside).amax((2, 3))
    return torch.cat([by_part.flatten(1), share.flatten(1), mean, most, whole[rows], joints_of(coarse[rows], mask)], 1)


def joints_of(coarse: Tensor, mask: Tensor) -> Tensor:
    """(M, 2·joints) where each figure's joints are, from the middle of the figure, in figure heights."""
    _, _, h, w = coarse.shape
    logits = coarse[:, :JOINT_COUNT] - 6.0 * (1 - mask[:, None])
    p = torch.softmax(logits.flatten(2), 2)
    y, x = torch.meshgrid(torch.arange(h, dtype=p.dtype), torch.arange(w, dtype=p.dtype), indexing="ij")
    at = torch.stack([(p * x.flatten()).sum(2), (p * y.flatten()).sum(2)], 2)
    middle = at.mean(1, keepdim=True)
    spread = (at - middle).abs().mean((1, 2), keepdim=True) + 0.5
    return ((at - middle) / spread).flatten(1).detach()


class FigureNet(nn.Module):
    """(M, POOLED) → logits of the attributes of figures, and of how surely each joint is seen."""

    def __init__(self) -> None:
        super().__init__()
        self.f = _mlp(POOLED, 288, sum(map(len, OF_FIGURE.values())) + JOINT_COUNT)

    def forward(self, seen: Tensor) -> Tensor:
        return self.f(seen)
