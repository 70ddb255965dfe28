"""Moss well: a mossy courtyard, an old stone well with its roof, arches, and moss that glows at night."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.places.stage import PlaceFrame
from mosskeeper.core.illustrator.shapes import ellipse, point, points, rectangle, ribbon, wobble


def build(s: PlaceFrame) -> None:
    s.sky()
    for i in range(10):
        s.leaves(
            point(-0.35 + i * 0.19, 0.42 + s.rng.uniform(-0.04, 0.04)), 0.13, ("6f8f78", "7f9f80")[i % 2], 0.90, 14, leaf=0.03, shade=0.2
        )
    _wall(s)
    s.ground(0.90, "7d7f68", 0.62, 0.28)
    _paving(s)
    _well(s, 0.80, 0.96)
    for i in range(16):
        x, y = s.rng.uniform(-0.3, 1.3), 0.95 + 0.24 * s.rng.random()
        s.leaves(
            point(x, y),
            0.035 + 0.03 * (y - 0.9),
            ("6d8045", "7f9a4e", "5c7440")[i % 3],
            0.45 - 0.3 * (y - 0.95),
            12,
            slot=95 + (y - 0.9) * 5,
            stretch=1.8,
            leaf=0.014,
        )
    if s.light.dark:
        for _ in range(14):
            at = point(s.rng.uniform(-0.1, 1.1), s.rng.uniform(0.72, 1.2))
            s.plain(ellipse(at, 0.005, 0.005, n=8), "c8f0a0", Part.LAMP, 0.4, 97, emission=1.0)
            s.lamp(at, 0.07, "b0f0a0", 0.6)
    s.near_fronds("33502f")


def _wall(s: PlaceFrame) -> None:
    item = s.add(rectangle(-0.9, 0.40, 1.9, 1.0), "8f8a7d", Part.STRUCTURE, 0.72, gradient=0.4, drop=1.0)
    stones = [
        rectangle(-0.9 + i * 0.09 + (j % 2) * 0.045, 0.42 + j * 0.05, -0.9 + i * 0.09 + (j % 2) * 0.045 + 0.082, 0.462 + j * 0.05)
        for i in range(32)
        for j in range(11)
        if s.rng.random() < 0.4
    ]
    s.mark(item, stones, "shade", 0.35)
    s.add(rectangle(-0.9, 0.385, 1.9, 0.412), "a8a292", Part.STRUCTURE, 0.71, drop=0.6)
    t = np.linspace(np.pi, 0, 20)
    for cx in (-0.30, 0.22, 0.74, 1.26):
        arch = np.vstack([[(cx - 0.13, 0.96)], np.stack([cx + 0.13 * np.cos(t), 0.62 - 0.13 * np.sin(t)], 1), [(cx + 0.13, 0.96)]])
        s.add(arch, "4f5a58", Part.STRUCTURE, 0.74, 33, drop=0.6, gradient=0.5)
        ring = np.stack([cx + 0.142 * np.cos(t), 0.62 - 0.142 * np.sin(t)], 1)
        s.add(ribbon(ring[::3], [0.012] * 3), "b0a998", Part.STRUCTURE, 0.70, drop=0.5)
    for i in range(20):
        s.leaves(
            point(-0.4 + i * 0.095 + s.rng.uniform(-0.03, 0.03), 0.39 + 0.10 * s.rng.random()),
            0.045,
            ("5c7440", "6d8a4a", "4f7048")[i % 3],
            0.69,
            14,
            leaf=0.018,
            drop=0.6,
        )


def _paving(s: PlaceFrame) -> None:
    for i in range(7):
        y0, y1 = 0.91 + 0.34 * (i / 7) ** 1.35, 0.91 + 0.34 * ((i + 0.90) / 7) ** 1.35
        n, shift = 9 - i // 2, (i % 2) * 0.08
        slabs = [
            wobble(
                points(
                    (0.5 + (j - n / 2) * 2.4 / n + 0.012 + shift, y0),
                    (0.5 + (j + 1 - n / 2) * 2.4 / n - 0.012 + shift, y0),
                    (0.5 + (j + 1 - n / 2) * 2.5 / n - 0.012 + shift, y1),
                    (0.5 + (j - n / 2) * 2.5 / n + 0.012 + shift, y1),
                ),
                0.004,
                s.rng,
            )
            for j in range(n)
        ]
        s.add(slabs, ("a39d8a", "948f7e")[i % 2], Part.GROUND, 0.5 - 0.02 * i, 94, line=0.3, drop=0.2)


def _well(s: PlaceFrame, x: float, y: float) -> None:
    for dx in (-0.13, 0.13):
        s.add(rectangle(x + dx - 0.012, y - 0.44, x + dx + 0.012, y), "6b4a38", Part.STRUCTURE, 0.44, 96, drop=0.7, shade=0.2)
    s.add(
        points((x - 0.20, y - 0.42), (x, y - 0.56), (x + 0.20, y - 0.42), (x + 0.17, y - 0.40), (x - 0.17, y - 0.40)),
        "8a5a44",
        Part.STRUCTURE,
        0.43,
        96.4,
        drop=1.0,
        gradient=0.4,
    )
    for i in range(5):
        s.leaves(
            point(x - 0.14 + i * 0.07, y - 0.47 - 0.04 * (2 - abs(i - 2))),
            0.04,
            ("6d8045", "7f9a4e")[i % 2],
            0.425,
            14,
            slot=96.5,
            leaf=0.016,
        )
    s.add(ribbon(points((x - 0.14, y - 0.33), (x + 0.14, y - 0.33)), [0.014] * 2), "7d5a40", Part.STRUCTURE, 0.44, 96.1)
    s.plain(ribbon(points((x, y - 0.33), (x, y - 0.17)), [0.003] * 2), "b59a6a", Part.STRUCTURE, 0.44, 96.1)
    s.add(
        points((x - 0.032, y - 0.18), (x + 0.032, y - 0.18), (x + 0.026, y - 0.11), (x - 0.026, y - 0.11)),
        "8a6a4c",
        Part.STRUCTURE,
        0.435,
        96.2,
        shade=0.4,
    )
    s.add(ellipse((x, y - 0.10), 0.165, 0.035, n=30), "3f4a48", Part.STRUCTURE, 0.44, 95.9, drop=0.3)
    drum = np.vstack([ellipse((x, y - 0.10), 0.17, 0.038, 0, 30)[:16], ellipse((x, y + 0.06), 0.165, 0.04, 0, 30)[:16][::-1] * (1, 1)])
    item = s.add(drum, "9a9486", Part.STRUCTURE, 0.42, 96.6, shade=0.5, drop=1.0)
    s.mark(
        item,
        [
            rectangle(
                x - 0.17 + i * 0.058 + (j % 2) * 0.03,
                y - 0.085 + j * 0.045,
                x - 0.17 + i * 0.058 + (j % 2) * 0.03 + 0.05,
                y - 0.05 + j * 0.045,
            )
            for i in range(7)
            for j in range(4)
        ],
        "shade",
        0.4,
    )
    for i in range(6):
        s.leaves(
            point(x - 0.15 + i * 0.06, y + 0.055 + 0.012 * (i % 2)),
            0.03,
            ("6d8045", "5c7440")[i % 2],
            0.41,
            12,
            slot=96.8,
            stretch=1.5,
            leaf=0.014,
        )
