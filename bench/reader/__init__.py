"""`./moss bench reader`: how well the reader reads, measured against what pictures were drawn from. Writes docs/reader.md."""

from __future__ import annotations

import os
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from functools import cache
from multiprocessing import get_context
from pathlib import Path

import cv2
import numpy as np
from training.__main__ import LEFT_OUT

from bench.reader import identity
from bench.reader.foreign import FOREIGN, SHOWN
from bench.reader.held_out import Known, demo_takes, drawings, takes
from bench.reader.measures import Gathered, gather
from bench.reader.page import write
from bench.report import Row, median_seconds, row
from mosskeeper.core.reading.classes import FIGURE
from mosskeeper.core.reading.reader import read
from mosskeeper.core.reading.reading import SURE
from mosskeeper.core.reading.weights import FOLDER, Weights
from mosskeeper.settings import Settings

DRAWINGS, OF_EACH, TAKES, A_JOB = 300, 120, 24, 10
_AIMS = {"all": (0.90, 0.60, 0.95, 0.045), "left out": (0.80, 0.55, 0.90, 0.08)}
_COLOURS = {"skin": 5, "hair colour": 7, "eyes": 8, "colour": 7, "trim": 10}
_ATTRIBUTE = 0.85
_OF_ATTRIBUTES = {
    "expression": 0.8,
    **dict.fromkeys(("facial hair", "glasses", "freckles", "mark"), 0.92),
    **dict.fromkeys(("place", "time"), 0.9),
    **dict.fromkeys(("weather", "pose"), 0.8),
    "subject": 0.75,
    "prop": 0.7,
}


@cache
def _weights(folder: Path) -> Weights:
    cv2.setNumThreads(1)
    return Weights(folder)


def _part(source: str, numbers: range, folder: Path, finish: str | None, place: str | None) -> Gathered:
    made: Iterator[Known] = {"drawings": lambda: drawings(numbers, finish, place), "takes": lambda: takes(numbers), "demo": demo_takes}[
        source
    ]()
    into = Gathered()
    for known in made:
        gather(known, read(known.image, _weights(folder)), into)
    return into


def gathered(source: str, amount: int, folder: Path, finish: str | None = None, place: str | None = None) -> Gathered:
    """All pictures of a source, read with the weights of a folder; over all cores, since this measures no time."""
    total = Gathered()
    with ProcessPoolExecutor(os.cpu_count(), get_context("spawn")) as pool:
        jobs = [pool.submit(_part, source, range(n, min(n + A_JOB, amount)), folder, finish, place) for n in range(0, amount, A_JOB)]
        for job in jobs:
            total.merge(job.result())
    return total


def rows_of(g: Gathered, label: str, aims: str = "all") -> list[Row]:
    figure, parts, joints, marks = _AIMS[aims]
    iou = g.inter[FIGURE] / np.maximum(g.union[FIGURE], 1)
    return [
        row(f"figure against the rest, IoU, {label}", g.figure[0] / max(g.figure[1], 1), "", f">= {figure}"),
        row(f"figure parts, mean IoU, {label}", float(iou.mean()), "", f">= {parts}"),
        row(f"joints within 10 % of the figure, {label}", float(np.mean(g.joints)), "share", f">= {joints}"),
        row(f"the same of joints told as sure, {label}", float(np.mean(g.sure_joints)), "share"),
        row(f"landmark error over the distance of the eyes, {label}", float(np.mean(g.landmarks)), "", f"<= {marks}"),
        row(f"the same, median of heads, {label}", float(np.median(g.landmarks)), "", "<= 0.03"),
        row(f"face measures, median R² of the 14, {label}", _explained(g), "", ">= 0.6"),
        row(f"depth, rank correlation, {label}", float(np.mean(g.depth)), "", ">= 0.88"),
        row(f"figures found, {label}", float(np.mean(g.found)), "share"),
        row(f"figures told that are not there, {label}", float(g.invented), "", ""),
    ]


def _explained(g: Gathered) -> float:
    """The median over the face's measures of the share of their variance that is read."""
    true, read = (np.stack(side) for side in zip(*g.faces, strict=True))
    return float(np.median(1 - np.square(read - true).mean(0) / np.maximum(np.square(true - true.mean(0)).mean(0), 1e-9)))


def named_rows(g: Gathered, label: str) -> list[Row]:
    out = [row(f"{name}, median ΔE2000, {label}", float(np.median(g.colour[name])), "", f"<= {aim}") for name, aim in _COLOURS.items()]
    for name in sorted(g.right):
        aim = _OF_ATTRIBUTES.get(name, _ATTRIBUTE)
        out.append(row(f"{name}, right, {label}", float(np.mean(g.right[name])), "share", f">= {aim}"))
    return out


def foreign_rows(folder: Path) -> list[Row]:
    """Drawings by other hands: joints that are told as sure must be right; where few are, the artist is asked for points."""
    out = []
    for make in FOREIGN:
        foreign = make()
        reading = read(foreign.image, _weights(folder))
        tall = float(np.ptp(foreign.joints[:, 1]))
        if reading.main is None:
            out.append(row(f"{foreign.name}: nobody found, joints told as sure", 0.0, ""))
            continue
        away = np.hypot(*(reading.main.joints * foreign.image.shape[1::-1] - foreign.joints).T)[SHOWN]
        sure = reading.main.joint_confidence[SHOWN] >= SURE
        wrong = int((sure & (away > 0.1 * tall)).sum())
        out.append(row(f"{foreign.name}: joints told as sure, of {len(SHOWN)}", int(sure.sum()), ""))
        out.append(row(f"{foreign.name}: wrong ones among them", wrong, "", "<= 1"))
    return out


def measure() -> list[Row]:
    """All rows; the page in docs is written anew."""
    g = gathered("drawings", DRAWINGS, FOLDER)
    rows = rows_of(g, "drawings") + named_rows(g, "drawings") + identity.rows(g.identities, "drawings")
    left_out = Settings.from_environment().data / "reader" / "left-out" / "weights"
    if (left_out / "card.json").exists():
        finish, place = LEFT_OUT
        rows += rows_of(gathered("drawings", OF_EACH, left_out, finish=finish), f"a finish left out ({finish})", "left out")
        rows += rows_of(gathered("drawings", OF_EACH, left_out, place=place), f"a place left out ({place})", "left out")
    mixed = gathered("takes", TAKES, FOLDER)
    rows += rows_of(mixed, "takes with mixed exemplars")
    shown = gathered("demo", 1, FOLDER)
    rows += rows_of(shown, "the demo's takes") + foreign_rows(FOLDER) + costs()
    write(rows)
    return rows


def costs() -> list[Row]:
    known = next(drawings(range(1)))
    weights = _weights(FOLDER)
    sizes = {path.name: path.stat().st_size / 2**20 for path in sorted([*FOLDER.glob("*.onnx"), *FOLDER.glob("*.npz")])}
    return [
        row(
            "one picture of one figure, both passes, one thread",
            median_seconds(lambda: read(known.image, weights), 25) * 1000,
            "ms",
            "<= 60",
        ),
        *(row(f"{name}", size, "MiB", "<= 4") for name, size in sizes.items()),
    ]
