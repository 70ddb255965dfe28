"""Batches for the networks of whole pictures out of the shards of `drawings`."""

from __future__ import annotations

import multiprocessing as mp
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Face
from mosskeeper.core.illustrator.face import LANDMARKS
from mosskeeper.core.illustrator.skeleton import JOINTS
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.classes import FIGURE, OF_PICTURE, UNKNOWN
from training.augment import affine, covered, other_hand, photometric, random_ground, resampled
from training.drawings import FIRST_COLOUR, SECOND_COLOUR, UNNAMED

Rng = np.random.Generator
Batch = dict[str, NDArray[Any]]
OUTSIDE = 255
FLIPPED_JOINTS = [JOINTS.index(n.replace("right", "?").replace("left", "right").replace("?", "left")) for n in JOINTS]
FLIPPED_MARKS = [LANDMARKS.index(n.replace("right", "?").replace("left", "right").replace("?", "left")) for n in LANDMARKS]
SMALL_SHAPES = ((112, 144), (128, 128), (144, 112))  # px of the network's input, about the same area
SHAPES = ((144, 176), (160, 160), (176, 144))
Shapes = tuple[tuple[int, int], ...]
_BORDERS = (cv2.BORDER_REPLICATE, cv2.BORDER_CONSTANT, cv2.BORDER_CONSTANT)
_PICTURE = list(OF_PICTURE)
_FACES = np.stack([Face.sampled(np.random.default_rng(n)).as_array() for n in range(2000)])
FACE_MIDDLE, FACE_SPREAD = _FACES.mean(0).astype(np.float32), _FACES.std(0).astype(np.float32)
LAB_MIDDLE = np.array([[65, 12, 22], [42, 8, 12], [45, 2, 8]], np.float32)  # of skin, hair and eyes
LAB_SPREAD = 25.0
LAB = 50.0  # of the dense albedo


@dataclass(frozen=True)
class Corpus:
    """All shards of a folder, mapped into memory."""

    shards: list[dict[str, NDArray[Any]]]
    rows: NDArray[np.int64]  # (N, 2) shard, row

    @staticmethod
    def open(folder: Path, without: tuple[str, str] | None = None) -> Corpus:
        """The shards of `folder`; `without` leaves one finish and one place out."""
        shards, rows = [], []
        for path in sorted(p.parent for p in folder.glob("*/done")):
            k = len(shards)
            shard = {f.stem: np.load(f, mmap_mode="r") for f in path.glob("*.npy")}
            shards.append(shard)
            keep = np.ones(len(shard["count"]), bool)
            if without is not None:
                finish, place = (_PICTURE.index(n) for n in ("finish", "place"))
                keep &= ~shard["blended"]
                keep &= shard["of_picture"][:, finish] != OF_PICTURE["finish"].index(without[0])
                keep &= shard["of_picture"][:, place] != OF_PICTURE["place"].index(without[1])
            rows += [(k, int(i)) for i in np.flatnonzero(keep)]
        return Corpus(shards, np.array(rows))


def scene(corpus: Corpus, index: int, size: tuple[int, int], rng: Rng | None) -> dict[str, Any]:
    """One picture for SceneNet with its targets; without `rng` as it is, fitted into `size`."""
    k, i = corpus.rows[index]
    shard = corpus.shards[k]
    image = np.asarray(shard["image"][i])
    h, w = image.shape[:2]
    count = int(shard["count"][i])
    head = np.asarray(shard["head"][i], float)
    width, height = size
    fit = min(width / w, height / h)
    flip, border, centre, scale, turn = False, cv2.BORDER_CONSTANT, (w / 2, h / 2), fit, 0.0
    if rng is not None:
        flip, border, turn = bool(rng.uniform() < 0.5), int(_BORDERS[rng.integers(3)]), float(rng.normal() * 5)
        scale = fit * float(np.exp(rng.uniform(-0.2, 0.4)))
        centre = (w / 2 + rng.normal() * 0.06 * w, h / 2 + rng.normal() * 0.06 * h)
        if rng.uniform() < 0.2:  # as a second look at one figure
            n = int(rng.integers(count))
            own = np.asarray(shard["joints"][i, n], float)
            own = own[(own >= 0).all(1) & (own < [w, h]).all(1)]
            if len(own) > 3:
                low, high = own.min(0) - head[n, 2] * 2, own.max(0) + head[n, 2]
                centre = tuple((low + high) / 2 + rng.normal(size=2) * head[n, 2] * 0.5)
                scale = float(
                    np.clip(min(width / (high - low)[0], height / (high - low)[1]) * np.exp(rng.normal() * 0.12), fit * 0.8, fit * 2.2)
                )
    matrix = affine(centre, size, scale, turn, flip)
    x = resampled(image, matrix, size, border)
    half = np.diag([0.5, 0.5]) @ matrix
    half[:, 2] -= 0.25
    small = (width // 2, height // 2)

    def mapped(name: str, beyond: int) -> NDArray[np.uint8]:
        source = np.asarray(shard[name][i])
        return cv2.warpAffine(source, half, small, flags=cv2.INTER_NEAREST, borderMode=cv2.BORDER_CONSTANT, borderValue=(beyond,) * 3)

    parts, packed, depth, albedo = (
        mapped("parts", OUTSIDE if border == cv2.BORDER_REPLICATE else 0),
        mapped("figures", 0),
        mapped("depth", 0),
        mapped("albedo", 0),
    )
    of_picture = np.asarray(shard["of_picture"][i], np.int64).copy()
    if shard["blended"][i]:
        of_picture[_PICTURE.index("finish")] = UNNAMED
    coloured = True
    if rng is not None:
        x, parts, coloured = _disturbed(x, parts, albedo, of_picture, rng)
    figures = packed % 8
    joints = np.asarray(shard["joints"][i], np.float32)[:count] @ matrix[:, :2].T.astype(np.float32) + matrix[:, 2].astype(np.float32)
    visible = np.asarray(shard["visible"][i])[:count]
    if flip:
        joints, visible = joints[:, FLIPPED_JOINTS], visible[:, FLIPPED_JOINTS]
    inside = ((joints >= 0) & (joints < [width, height])).all(2)
    heads = np.concatenate([head[:count, :2] @ matrix[:, :2].T + matrix[:, 2], head[:count, 2:] * 2 * scale], 1).astype(np.float32)
    quarter = figures[1::2, 1::2]
    masks = np.stack(
        [cv2.resize((figures == n + 1).astype(np.float32), (width // 4, height // 4), interpolation=cv2.INTER_AREA) for n in range(count)]
    )
    keep = np.flatnonzero(masks.sum((1, 2)) >= 8)
    lab = rgb_to_lab(albedo.astype(np.float32) / 255) / np.float32(LAB)
    return {
        "x": (x * 255).astype(np.uint8),
        "parts": parts,
        "depth": depth,
        "albedo": lab.astype(np.float16),
        "cloth": (packed & (FIRST_COLOUR | SECOND_COLOUR)),
        "figures": quarter,
        "coloured": coloured,
        "of_picture": of_picture,
        "joints": joints[keep],
        "state": np.where(inside, np.where(visible, 2, 1), 0)[keep],
        "heads": heads[keep],
        "numbers": keep + 1,
        "masks": masks[keep],
        "classes": np.asarray(shard["classes"][i], np.int64)[:count][keep],
    }


def _disturbed(
    x: NDArray[np.float32], parts: NDArray[np.uint8], albedo: NDArray[np.uint8], of_picture: NDArray[np.int64], rng: Rng
) -> tuple[NDArray[np.float32], NDArray[np.uint8], bool]:
    """Another ground, another hand, another light; classes that nobody can know any more are changed in place."""
    coloured = True
    h, w = x.shape[:2]
    full = cv2.resize(parts, (w, h), interpolation=cv2.INTER_NEAREST)
    figure = (full >= FIGURE.start) & (full != OUTSIDE)
    u = rng.uniform()
    if u < 0.12:
        of_picture[[_PICTURE.index(n) for n in ("time", "weather", "light")]] = UNNAMED
        of_picture[_PICTURE.index("place")] = OF_PICTURE["place"].index(UNKNOWN)
        parts = np.where((parts < FIGURE.start) & (parts != OUTSIDE), 0, parts).astype(np.uint8)
        if u < 0.06:
            x = np.where(figure[..., None], x, random_ground(h, w, rng))
            of_picture[_PICTURE.index("finish")] = UNNAMED
        else:
            flat = cv2.resize(albedo, (w, h), interpolation=cv2.INTER_NEAREST).astype(np.float32) / 255
            x, coloured = other_hand(flat, figure, full, rng)
            of_picture[_PICTURE.index("finish")] = OF_PICTURE["finish"].index(UNKNOWN)
    x, kept = photometric(x, rng)
    if rng.uniform() < 0.05:
        hidden = covered(x, rng)
        parts = np.where(hidden[1::2, 1::2], OUTSIDE, parts).astype(np.uint8)
    return x, parts, coloured and kept


def scene_batch(corpus: Corpus, indices: NDArray[np.int64], size: tuple[int, int], rng: Rng | None) -> Batch:
    rows = [scene(corpus, int(n), size, rng) for n in indices]
    batch: Batch = {
        name: np.stack([row[name] for row in rows])
        for name in ("x", "parts", "depth", "albedo", "cloth", "figures", "coloured", "of_picture")
    }
    for name in ("joints", "state", "heads", "numbers", "masks", "classes"):
        batch[name] = np.concatenate([row[name] for row in rows])
    batch["rows"] = np.concatenate([np.full(len(row["numbers"]), n, np.int64) for n, row in enumerate(rows)])
    return batch


def _feed(queue: Any, folder: Path, without: tuple[str, str] | None, seed: int, amount: int, shapes: Shapes) -> None:
    cv2.setNumThreads(1)
    rng = np.random.default_rng(seed)
    corpus = Corpus.open(folder, without)
    order: list[int] = []
    while True:
        if len(order) < amount:
            order = rng.permutation(len(corpus.rows)).tolist()
        indices, order = np.array(order[:amount]), order[amount:]
        queue.put(scene_batch(corpus, indices, shapes[int(rng.choice(3, p=(0.6, 0.2, 0.2)))], rng))


class Feeder:
    """Batches made by a process of their own."""

    def __init__(self, folder: Path, without: tuple[str, str] | None, seed: int, amount: int, shapes: Shapes = SHAPES) -> None:
        context = mp.get_context("fork")
        self._queue = context.Queue(5)
        self._process = context.Process(target=_feed, args=(self._queue, folder, without, seed, amount, shapes), daemon=True)
        self._process.start()

    def __next__(self) -> Batch:
        return self._queue.get()

    def close(self) -> None:
        self._process.terminate()
