"""Heads in bulk: windows about one head of pictures of every framing, with the whole picture's line widths, for the head's networks.

Persons come in families of four: one, a sibling (same hair and skin, other face and eyes), a twin (same eyes, colours and marks, other
face) and one more sibling, so that what tells siblings apart is always beside them. A shard holds heads of one place, light and size;
shards that are there already are kept, so that drawing may be stopped and continued.
"""

from __future__ import annotations

import gc
import json
import multiprocessing
import time
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Description, Layout, Part, Person
from mosskeeper.core.illustrator.draw import draw_scene, kept, window_of
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.scene import Scene, scene_of
from mosskeeper.core.illustrator.skeleton import AT
from mosskeeper.core.reading.head_crop import crop_matrix, warped
from training.drawings import figure_facts, landmarks_of
from training.people import OTHER_POSE, dressed, layout, scene, sibling, somebody
from training.people import Scene as Place

Rng = np.random.Generator
STORED, REACH = 192, 2.1  # px of a stored head, head heights that it shows
FAMILY = 4
SHARD = 48  # heads of one shard
_A_PLACE = 12  # heads in a row before one backdrop
# Head heights as shares of the height of a 4:5 picture, by framing: what line widths are in proportion to.
_SHARE = {"close": 0.60, "bust": 0.445, "half": 0.254, "full": 0.136, "wide": 0.092}
_WIDTHS = (128, 160, 208, 256, 320, 416, 512, 640, 832, 1024)  # px of whole pictures: a few sizes, whose paper is kept
_HEAD = (44.0, 190.0)  # px of a head's height
_EYES, _NECK = 0.44, 0.72  # where the middle of the head is, of the height; head heights from there to the neck
_AIR = 1.45  # head heights drawn to each side of the middle of the head
_COMPANY = 0.22  # of the heads: somebody else stands close by
_SEEN = 0.5  # of the disc of the head that must be seen
# What a pixel of a stored head is of: nothing of the head, hair, skin of the face, eyes, headwear, facial hair and brows, mouth, ear.
GROUPS = ("other", "hair", "skin", "eyes", "headwear", "beard", "mouth", "ear")
GROUP_OF_PART = np.zeros(len(Part), np.uint8)
for _group, _parts in (
    (1, (Part.HAIR,)),
    (2, (Part.FACE,)),
    (3, (Part.EYES,)),
    (4, (Part.HEADWEAR,)),
    (5, (Part.FACIAL_HAIR, Part.BROW)),
    (6, (Part.MOUTH,)),
    (7, (Part.EAR,)),
):
    GROUP_OF_PART[list(_parts)] = _group


@dataclass(frozen=True)
class HeadPopulation:
    """Which heads are drawn. shards : of `SHARD` heads. persons : a multiple of `FAMILY`. without : a finish and a place never drawn."""

    seed: int
    persons: int
    shards: int
    without: tuple[str, str] | None = None


def member(seed: int, number: int) -> Person:
    """Person `number` of a population: of each family one, a sibling, a twin, another sibling."""
    family, which = divmod(number, FAMILY)
    one = somebody(np.random.default_rng([seed, 41, family, 0]))
    rng = np.random.default_rng([seed, 41, family, which])
    if which == 0:
        return one
    other = sibling(one, rng)
    return replace(one, face=other.face) if which == 2 else other


def _pinned(who: Person, where: Layout, x: float, y: float, share: float) -> Person:
    return replace(who, layout=replace(where, pinned=(x, y, share), shift=0.0))


def _described(main: Person, other: Person, where: Place, share: float, rng: Rng) -> tuple[Description, str]:
    """A picture about `main`, whose head is where and as large as the framing has it."""
    who = dressed(main, rng)
    stands, pose = layout(who, where, rng)
    low = _EYES + _NECK * share  # of the neck
    first = _pinned(who, stands, 0.5, low, share)
    others: tuple[Person, ...] = ()
    if rng.uniform() < _COMPANY:
        beside = dressed(other, rng)
        own, _ = layout(beside, where, rng)
        aside = float(rng.choice((-1, 1)) * rng.uniform(1.2, 2.4)) * share * 1.25
        others = (replace(_pinned(beside, own, 0.5 + aside, low + rng.normal() * 0.06, share * float(np.exp(rng.normal() * 0.1)))),)
        others = tuple(replace(one, layout=replace(one.layout, depth=float(rng.choice((0.0, 0.5))))) for one in others)
    d = Description(
        **{name: getattr(first, name) for name in Person.__dataclass_fields__},
        others=others,
        place=where.place,
        time=where.time,
        weather=where.weather,
        light=where.light,
        finish=where.finish,
    )
    return d, pose


def middle_of(drawn: Scene) -> NDArray[np.float64]:
    """(2,) px of the middle of the first figure's head."""
    spot, held = drawn.camera.spots[0], drawn.postures[0]
    facing = drawn.description.layout.facing
    return np.asarray(held.joints[[AT["right ear"], AT["left ear"]]].mean(0) * (facing, 1) * spot.scale + spot.origin)


def _window(middle: NDArray[np.float64], high: float, size: tuple[int, int]) -> tuple[int, int, int, int]:
    w, h = size
    r = _AIR * high
    x0, y0 = (int(np.clip(round(float(v)), 0, most - 16)) for v, most in zip(middle - r, (w, h), strict=True))
    x1, y1 = (int(np.clip(round(float(v)), 16, most)) for v, most in zip(middle + r, (w, h), strict=True))
    return x0, y0, max(x1, x0 + 16), max(y1, y0 + 16)


def _scene(rng: Rng, without: tuple[str, str] | None) -> Place:
    where = scene(rng)
    while without is not None and (without[0] in where.finish or without[1] == where.place):
        where = scene(rng)
    return where


def _heads(population: HeadPopulation, shard: int) -> list[dict[str, NDArray[Any]]]:
    rng = np.random.default_rng([population.seed, 43, shard])
    families = rng.permutation(population.persons // FAMILY)
    order = [int(f) * FAMILY + int(k) for f in families[: SHARD // FAMILY + 2] for k in rng.permutation(FAMILY)]
    rows: list[dict[str, NDArray[Any]]] = []
    share = size = where = box = None
    for n, number in enumerate(order):
        if len(rows) == SHARD:
            break
        if n % _A_PLACE == 0:
            where, box = _scene(rng, population.without), None
            share = _SHARE[where.framing] * float(np.exp(rng.normal() * 0.1))
            high = float(np.exp(rng.uniform(*np.log(_HEAD))))
            width = min(_WIDTHS, key=lambda w: abs(np.log(w * 1.25 * share / high)))
            size = (width, round(width * 1.25))
            kept.clear()
        assert where is not None and share is not None and size is not None
        other = member(population.seed, int(rng.integers(population.persons)))
        described, pose = _described(member(population.seed, number), other, where, share, rng)
        drawn = scene_of(described, size)
        high = drawn.camera.spots[0].scale
        own = _window(middle_of(drawn), high, size)
        # one window for all heads before a backdrop, so that it is painted once, as long as the head is well inside of it
        if box is None or np.abs(np.subtract(own, box)).max() > 0.25 * high:
            box = own
        row = row_of(draw_scene(drawn, wider=window_of(size, box)), pose, number, float(high))
        if row is not None:
            rows.append(row)
    return rows


def row_of(drawing: Drawing, pose: str, number: int, high: float) -> dict[str, NDArray[Any]] | None:
    """A head with all that is known of it; None where it is mostly out of sight."""
    shown = drawing.shown[0]
    x, y, radius = shown.head
    disc = np.zeros(drawing.labels.shape, np.uint8)
    cv2.circle(disc, (round(x), round(y)), round(radius * 0.8), 1, -1)
    if ((drawing.figures == 1) & (disc > 0)).sum() < _SEEN * np.pi * (0.8 * radius) ** 2:
        return None
    matrix = crop_matrix((x, y), 2 * radius * REACH, STORED)
    half = matrix / 2
    half[:, 2] -= 0.25
    own = np.where(drawing.figures == 1, GROUP_OF_PART[drawing.labels], 0).astype(np.uint8)
    at, state = landmarks_of(shown, drawing, 1)
    facts = figure_facts(shown, pose if pose != OTHER_POSE else "standing")
    d = shown.person
    assert isinstance(d, Person)
    return {
        "image": warped(drawing.image, matrix, STORED),
        "parts": cv2.warpAffine(own, half, (STORED // 2, STORED // 2), flags=cv2.INTER_NEAREST),
        "landmarks": (at @ matrix[:, :2].T + matrix[:, 2]).astype(np.float32),
        "state": state,
        "person": np.int32(number),
        "size": np.float32(high),
        "classes": facts["head_classes"],
        "colours": facts["colours"][:3],
        "face": facts["face"],
        "held": facts["held"],
    }


def _job(task: tuple[Path, HeadPopulation, int]) -> int:
    folder, population, shard = task
    path = folder / f"{shard:05d}.npz"
    if path.exists():
        return 0
    cv2.setNumThreads(1)
    gc.freeze()
    rows = _heads(population, shard)
    new = path.with_suffix(".new.npz")
    np.savez(new, **{name: np.stack([row[name] for row in rows]) for name in rows[0]})
    new.replace(path)
    return len(rows)


def draw_heads(folder: Path, population: HeadPopulation, workers: int) -> None:
    """Draws a population of heads into `folder`."""
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "population.json").write_text(json.dumps(population.__dict__))
    began, drawn = time.monotonic(), 0
    tasks = [(folder, population, shard) for shard in range(population.shards)]
    with ProcessPoolExecutor(workers, multiprocessing.get_context("spawn")) as pool:
        for n, heads in enumerate(pool.map(_job, tasks), 1):
            drawn += heads
            if n % 20 == 0 or n == len(tasks):
                print(f"heads: {n} of {len(tasks)} shards, {drawn / (time.monotonic() - began) * 60:.0f} a minute", flush=True)
