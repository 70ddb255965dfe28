"""Denoise strength, masks, fill, enlarging."""

from __future__ import annotations

import time
from collections.abc import Callable
from statistics import mean

import cv2
import numpy as np
from numpy.typing import NDArray
from skimage import data
from skimage.restoration import inpaint_biharmonic

from bench.fidelity.setting import BASE, SIZE, largest_step, other, psnr, sha
from bench.report import Row, row
from mosskeeper.core.continuity.measures import ssim
from mosskeeper.core.mending.fill.extension import extended
from mosskeeper.core.mending.fill.patch_fill import fill
from mosskeeper.core.recipe import Source
from mosskeeper.core.takes.enlarge import enlarged, redrawn
from mosskeeper.core.takes.take import make_take

Picture = NDArray[np.uint8]
_STRENGTHS = np.linspace(0, 1, 11)
_FILLED = ("brick", "grass", "gravel", "coffee", "rocket", "cat")


def strength(seeds: int) -> list[Row]:
    steps, monotone, ends = [], [], []
    for seed in range(max(3, seeds // 3)):
        start = other(seed % 3).image
        curve = []
        for s in _STRENGTHS:
            recipe = BASE.model_copy(update={"source": Source(picture=sha(1), strength=float(s))})
            curve.append(float(np.abs(make_take(recipe, seed, {sha(1): start}).image.astype(float) - start).mean()))
        steps.append(largest_step(curve))
        monotone.append(float(np.diff(curve).min()))
        ends.append(curve[0])
    return [
        row("difference to the source at denoise strength 0", max(ends), "levels", "<= 0"),
        row("smallest rise of the difference from strength to strength", min(monotone), "levels", ">= 0"),
        row("largest step of the difference", max(steps), "share", "<= 0.2"),
    ]


def masks(seeds: int) -> list[Row]:
    changed, jumps, drawn_jumps = [], [], []
    for seed in range(seeds):
        start = other(seed % 3).image
        mask = np.zeros((SIZE[1], SIZE[0], 3), np.uint8)
        cv2.ellipse(mask, (60 + 13 * seed % 130, 70 + 29 * seed % 180), (46, 58), 0, 0, 360, (255, 255, 255), -1)
        for words in ("", "a forest path at noon", "a fox"):
            recipe = BASE.model_copy(update={"words": words, "source": Source(picture=sha(1), mask=sha(2))})
            made = make_take(recipe, seed, {sha(1): start, sha(2): mask}).image
            opened = mask[..., 0] > 127
            changed.append(float((made != start).any(2)[~opened].mean()))
            (drawn_jumps if words else jumps).append(_seam(made, opened))
    return [
        row("pixels changed outside of a mask", max(changed), "share", "<= 0"),
        row("gradient across the mask's border over the picture's own, filled", mean(jumps), "×", "<= 1.5"),
        row("the same, with something else drawn there", mean(drawn_jumps), "×"),
    ]


def _seam(made: Picture, opened: NDArray[np.bool_]) -> float:
    tone = made.astype(np.float32).mean(2)
    gradient = np.hypot(cv2.Sobel(tone, cv2.CV_32F, 1, 0), cv2.Sobel(tone, cv2.CV_32F, 0, 1))
    border = cv2.morphologyEx(opened.astype(np.uint8), cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8)) > 0
    return float(gradient[border].mean() / gradient[~border].mean())


def fills(_: int) -> list[Row]:
    methods: dict[str, Callable[[Picture, NDArray[np.bool_]], Picture]] = {
        "patch posterior": lambda p, hole: fill(p, hole),
        "OpenCV, Navier–Stokes": lambda p, hole: np.asarray(cv2.inpaint(p, hole.astype(np.uint8), 3, cv2.INPAINT_NS), np.uint8),
        "OpenCV, Telea": lambda p, hole: np.asarray(cv2.inpaint(p, hole.astype(np.uint8), 3, cv2.INPAINT_TELEA), np.uint8),
        "scikit-image, biharmonic": lambda p, hole: np.clip(inpaint_biharmonic(p, hole, channel_axis=2) * 255 + 0.5, 0, 255).astype(
            np.uint8
        ),
    }
    rows = []
    for name, method in methods.items():
        quality, likeness, kept, seconds = [], [], [], []
        for n, title in enumerate(_FILLED):
            picture = _scene(title)
            hole = np.zeros(picture.shape[:2], bool)
            hole[96 + 8 * n : 152 + 8 * n, 80 + 10 * n : 150 + 10 * n] = True
            method(picture[:64, :64].copy(), np.pad(np.ones((8, 8), bool), 28))
            started = time.perf_counter()
            made = method(picture, hole)
            seconds.append(time.perf_counter() - started)
            ys, xs = np.nonzero(hole)
            box = slice(ys.min(), ys.max() + 1), slice(xs.min(), xs.max() + 1)
            quality.append(psnr(made[box], picture[box]))
            likeness.append(ssim(made[box].mean(2) / 255, picture[box].mean(2) / 255))
            kept.append(_fine(made[box]) / _fine(picture[box]))
        rows += [
            row(f"fill, {name}: PSNR", mean(quality), "dB"),
            row(f"fill, {name}: SSIM", mean(likeness), ""),
            row(f"fill, {name}: high-frequency energy kept", mean(kept), "share", ">= 0.5" if name == "patch posterior" else ""),
            row(f"fill, {name}: time", mean(seconds), "s"),
        ]
    wide = np.asarray(cv2.resize(_scene("coffee"), (512, 512), interpolation=cv2.INTER_CUBIC), np.uint8)
    started = time.perf_counter()
    extended(wide, (0, 0, 128, 0))
    rows.append(row("extension of 512 × 512 px by 25 %", time.perf_counter() - started, "s", "<= 2"))
    return rows


def _scene(title: str) -> Picture:
    picture = getattr(data, title)()
    if picture.ndim == 2:
        picture = np.repeat(picture[..., None], 3, 2)
    h, w = picture.shape[:2]
    return np.asarray(cv2.resize(picture[:, :, :3], (320, round(320 * h / w)), interpolation=cv2.INTER_AREA), np.uint8)


def _fine(picture: Picture) -> float:
    tone = picture.astype(np.float32).mean(2)
    return float(np.square(tone - cv2.GaussianBlur(tone, (0, 0), 1.5)).mean())


def enlarging(seeds: int) -> list[Row]:
    gains, shapes, seconds, times, foreign, foreign_times = [], [], [], [], [], []
    for seed in range(max(3, seeds // 3)):
        take = make_take(BASE, seed)
        assert take.explained is not None
        truth = take.explained.resized(2).drawn().image
        for small in (take.image, np.asarray(cv2.resize(truth, SIZE, interpolation=cv2.INTER_AREA), np.uint8)):
            plain = np.asarray(cv2.resize(small, None, fx=2, fy=2, interpolation=cv2.INTER_LANCZOS4), np.uint8)
            started = time.perf_counter()
            large = redrawn(small, take.explained, 2)
            seconds.append(time.perf_counter() - started)
            gains.append(psnr(large, truth) - psnr(plain, truth))
            shapes.append(ssim(large.mean(2) / 255, truth.mean(2) / 255) - ssim(plain.mean(2) / 255, truth.mean(2) / 255))
    for title in _FILLED:
        truth = _scene(title)
        truth = truth[: truth.shape[0] // 2 * 2, : truth.shape[1] // 2 * 2]
        small = np.asarray(cv2.resize(truth, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA), np.uint8)
        plain = np.asarray(cv2.resize(small, truth.shape[1::-1], interpolation=cv2.INTER_LANCZOS4), np.uint8)
        started = time.perf_counter()
        large = enlarged(small, 2)
        foreign_times.append(time.perf_counter() - started)
        foreign.append(psnr(large, truth) - psnr(plain, truth))
        times.append(ssim(large.mean(2) / 255, truth.mean(2) / 255) - ssim(plain.mean(2) / 255, truth.mean(2) / 255))
    return [
        row("enlarging own takes ×2 over Lanczos: PSNR", mean(gains), "dB", ">= 1.5"),
        row("the same, the least of all", min(gains), "dB"),
        row("the same: SSIM", mean(shapes), "", "> 0"),
        row("its time", mean(seconds), "s"),
        row("enlarging other pictures ×2 over Lanczos: PSNR", mean(foreign), "dB"),
        row("the same: SSIM", mean(times), ""),
        row("its time", mean(foreign_times), "s"),
    ]
