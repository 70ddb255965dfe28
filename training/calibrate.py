"""Fits the identity distance on persons that the networks never saw: how much each part counts, and where the limit is.

The limit is set where 19 in 20 pictures of one person elsewhere (other light, finish, clothes, view, expression) stay below it.
"""

from __future__ import annotations

import multiprocessing
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.commands.subject_people import elsewhere, people, portrait
from mosskeeper.core.continuity.drift import PARTS, raw_parts
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.vocabulary import colours
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.reader import read
from mosskeeper.core.reading.reading import FigureRead, Reading
from mosskeeper.core.reading.weights import Weights
from training.drawings import Population
from training.people import person, picture, scene

CALIBRATED_ON = Population(seed=733, persons=60, each=5)
_STAY = 0.95  # of the pictures of one person, within the limit
_JUDGED, _JUDGED_PERSONS = 500, 80  # seed and number of the persons by whom it is set
_USUAL = 90  # per cent of the readings of one person that stay within 1.0 of a part
_ROUNDS, _STEP = 4000, 0.05
_SIZE = (384, 480)
_weights: Weights | None = None


def _start(folder: Path) -> None:
    global _weights
    cv2.setNumThreads(1)
    _weights = Weights(folder)


def matched(reading: Reading, x: float, y: float, height: float) -> FigureRead | None:
    """The figure of a reading whose head is at a place (shares), if one is."""
    near = [f for f in reading.figures if f.head is not None and np.hypot(f.head[0] - x, f.head[1] - y) < height * 0.6]
    return near[0] if near else None


def _read_one(task: tuple[int, int, int]) -> tuple[FigureRead | None, dict[str, float]]:
    """The reading of one drawing of a person, and how far its colours are from the true ones in Lab."""
    seed, number, n = task
    rng = np.random.default_rng([seed, 9, number, n])
    described, _ = picture(person(seed, number), [], scene(rng), rng)
    drawing = draw(described, _SIZE)
    x, y, radius = drawing.head
    w, h = _SIZE
    if not (0 < x < w and 0 < y < h):
        return None, {}
    figure = matched(read(drawing.image, _weights), x / w, y / h, 2 * radius / h)
    if figure is None:
        return None, {}
    truth = {
        "skin": colours.rgb(described.skin[1:]),
        "hair colour": colours.rgb(described.hair_colour[1:]),
        "eyes": colours.rgb(described.eyes[1:]),
        "colour": np.array(described.colour_a),
        "trim": np.array(described.colour_b),
    }
    return figure, {name: _distance(truth[name], figure.colours[name]) for name in truth if name in figure.colours}


def _distance(a: NDArray[np.float64], b: tuple[float, float, float]) -> float:
    one, two = rgb_to_lab(np.asarray([a, b], np.float32))
    return float(np.linalg.norm(one - two))


def read_persons(folder: Path, population: Population, workers: int = 2) -> tuple[list[tuple[int, FigureRead]], dict[str, float]]:
    """(person, reading) of a population, each alone in its pictures; and the median error of each colour."""
    tasks = [(population.seed, number, n) for number in range(population.persons) for n in range(population.each)]
    with ProcessPoolExecutor(workers, multiprocessing.get_context("spawn"), _start, (folder,)) as pool:
        read_all = list(pool.map(_read_one, tasks, chunksize=8))
    found = [
        (task[1], figure) for task, (figure, _) in zip(tasks, read_all, strict=True) if figure is not None and figure.identity is not None
    ]
    names = {name for _, errors in read_all for name in errors}
    return found, {name: float(np.median([errors[name] for _, errors in read_all if name in errors])) for name in sorted(names)}


def pairs(found: list[tuple[int, FigureRead]]) -> tuple[NDArray[np.float64], NDArray[np.bool_], NDArray[np.bool_]]:
    """(P, parts) distances of all pairs, whether they are one person, and whether they are siblings."""
    rows, same, siblings = [], [], []
    for i, (one, a) in enumerate(found):
        for other, b in found[i + 1 :]:
            parts = raw_parts(a, b)
            rows.append([parts.get(name, 0.0) for name in PARTS])
            same.append(one == other)
            siblings.append(one // 2 == other // 2 and one != other)
    return np.array(rows), np.array(same), np.array(siblings)


def fitted(
    rows: NDArray[np.float64], same: NDArray[np.bool_], siblings: NDArray[np.bool_], elsewhere: NDArray[np.float64]
) -> dict[str, Any]:
    """Weights of the parts by logistic regression without negative weights, and the limit.

    elsewhere : (P, parts) distances of pictures of one person from a bust of them, by which the limit is set.

    One person, siblings and strangers count as much as each other.
    """
    scale = rows.std(0) + 1e-9
    x = rows / scale
    weight = np.where(
        same, 1 / max(same.sum(), 1), np.where(siblings, 0.5 / max(siblings.sum(), 1), 0.5 / max((~same & ~siblings).sum(), 1))
    )
    w, b = np.ones(rows.shape[1]), -3.0
    for _ in range(_ROUNDS):
        p = 1 / (1 + np.exp(-(x @ w + b)))
        error = (p - ~same) * weight
        w = np.maximum(w - _STEP * (x.T @ error), 0.0)
        b -= _STEP * error.sum()
    weights = w / scale
    usual = np.percentile(rows[same], _USUAL, axis=0)
    return {
        "weights": dict(zip(PARTS, map(float, weights), strict=True)),
        "limit": float(np.quantile(elsewhere @ weights, _STAY)),
        "usual": {name: max(float(value), 1e-3) for name, value in zip(PARTS, usual, strict=True)},
        "persons": CALIBRATED_ON.persons,
        "seed": CALIBRATED_ON.seed,
    }


def distances_elsewhere(folder: Path) -> NDArray[np.float64]:
    """(P, parts): how far persons in three scenes each are from their own busts."""
    rng = np.random.default_rng(_JUDGED + 1)
    weights, rows = Weights(folder), []
    for n, one in enumerate(people(_JUDGED_PERSONS, _JUDGED)):
        drawn = [portrait(one, n), *(elsewhere(one, rng) for _ in range(3))]
        anchor, *others = (read(draw(described, (448, 560)).image, weights).main for described in drawn)
        told = [raw_parts(anchor, other) for other in others if anchor is not None and other is not None]
        rows += [[parts.get(name, 0.0) for name in PARTS] for parts in told]
    return np.array(rows)


def calibrate(folder: Path) -> dict[str, Any]:
    """What the card of the weights in `folder` says of identity and of the errors of colours."""
    found, errors = read_persons(folder, CALIBRATED_ON)
    return {"identity": fitted(*pairs(found), distances_elsewhere(folder)), "colour_errors": errors}
