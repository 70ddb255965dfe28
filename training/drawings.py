"""Drawings with all that is known about them, in shards on disk that the training maps into memory.

A shard holds drawings of one size. Dense maps are stored as the reader will see them. Heads are drawn by `heads`.
"""

from __future__ import annotations

import json
import multiprocessing
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import WORN, Description
from mosskeeper.core.illustrator.draw import draw, kept
from mosskeeper.core.illustrator.drawing import Drawing, Shown
from mosskeeper.core.illustrator.face import LANDMARKS
from mosskeeper.core.illustrator.skeleton import posture
from mosskeeper.core.illustrator.vocabulary import colours
from mosskeeper.core.illustrator.vocabulary.people import body_of
from mosskeeper.core.illustrator.vocabulary.poses import POSES
from mosskeeper.core.reading.classes import HEAD_VIEWS, OF_FIGURE, OF_HEAD, OF_PICTURE, PART_OF, PARTS
from training.people import OTHER_POSE, person, picture, scene

SIZES = ((256, 320), (288, 288), (320, 256), (232, 352))
_SIZE_SHARES = (0.55, 0.15, 0.15, 0.15)
SHARD = 64
_A_SCENE = 4  # drawings in a row with the same place and light
MOST = 3  # figures of a drawing
_FACE_LABELS = np.isin(np.arange(32), [8, 9, 10, 11, 12, 13, 14, 24])  # parts that do not hide a landmark
UNNAMED = -1  # class of an attribute that nobody can know
FIRST_COLOUR, SECOND_COLOUR = 8, 16  # bits of the figure map


@dataclass(frozen=True)
class Population:
    """Which persons are drawn, and how often."""

    seed: int
    persons: int
    each: int


def drawing_size(framing: str, size: tuple[int, int], rng: np.random.Generator) -> tuple[int, int]:
    """The size at which a picture is drawn: whole figures larger, since their heads are small."""
    factor = {"close": (1.0, 1.5), "bust": (1.0, 1.5), "half": (1.0, 1.5), "full": (1.5, 2.0), "wide": (1.5, 2.0)}[framing]
    k = factor[int(rng.uniform() < 0.4)]
    return round(size[0] * k), round(size[1] * k)


def figure_facts(shown: Shown, pose: str) -> dict[str, NDArray]:
    """What is known of one figure."""
    who = shown.person
    named = {
        **{name: getattr(who, name.replace(" ", "_")) for name in ("subject", "build", "hair", "headwear", "outfit", "pattern", "prop")},
        **{thing: "yes" if thing in who.worn else "no" for thing in WORN},
    }
    held = posture(body_of(who.subject, who.build), POSES[who.layout.pose], who.layout).head
    view = "profile" if held.profile else "three-quarter" if abs(held.turn) >= 0.5 else "front"
    classes = [
        OF_FIGURE[n].index(named[n]) if n != "pose" else UNNAMED if pose == OTHER_POSE else OF_FIGURE[n].index(pose) for n in OF_FIGURE
    ]
    of_head = {
        **named,
        "freckles": "yes" if who.freckles else "no",
        "glasses": "yes" if who.glasses else "no",
        "facial hair": who.facial_hair,
        "mark": who.mark,
        "expression": who.expression,
        "view": view,
    }
    head_classes = [OF_HEAD[n].index(of_head[n]) if n != "view" else HEAD_VIEWS.index(view) for n in OF_HEAD]
    own = [
        colours.named(table, name)
        for table, name in ((colours.SKINS, who.skin), (colours.HAIR_COLOURS, who.hair_colour), (colours.EYE_COLOURS, who.eyes))
    ]
    turn = (held.profile or held.turn) * who.layout.facing
    return {
        "joints": shown.joints.astype(np.float32),
        "visible": shown.visible,
        "head": np.array(shown.head, np.float32),
        "classes": np.array(classes, np.int16),
        "head_classes": np.array(head_classes, np.int16),
        "colours": np.array([*own, who.colour_a, who.colour_b], np.float32),
        "face": who.face.as_array().astype(np.float32),
        "held": np.array([turn, held.nod, held.tilt * who.layout.facing], np.float32),
    }


def landmarks_of(shown: Shown, drawing: Drawing, number: int) -> tuple[NDArray[np.float32], NDArray[np.uint8]]:
    """(30, 2) px, and for each 0 absent or outside, 1 covered, 2 seen."""
    at = np.array([shown.landmarks.get(name, (np.nan, np.nan)) for name in LANDMARKS], np.float32)
    h, w = drawing.labels.shape
    state = np.zeros(len(LANDMARKS), np.uint8)
    for i, (x, y) in enumerate(at):
        if np.isfinite(x) and 0 <= x < w and 0 <= y < h:
            row, column = int(y), int(x)
            seen = drawing.figures[row, column] == number and _FACE_LABELS[drawing.labels[row, column]]
            state[i] = 2 if seen else 1
    return np.nan_to_num(at, nan=-1.0), state


def picture_classes(d: Description) -> NDArray[np.int16]:
    """Place, time, weather, light, finish (the first of several), companion."""
    values = {"place": d.place, "time": d.time, "weather": d.weather, "light": d.light, "finish": d.finish[0], "companion": d.companion}
    return np.array([OF_PICTURE[name].index(values[name]) for name in OF_PICTURE], np.int16)


def _cloth_bits(row: dict[str, NDArray], shown: tuple[Shown, ...]) -> None:
    """Sets the bits of the figure map where cloth has its figure's first or second colour, in place."""
    flat, figures = row["albedo"].astype(np.int16), row["figures"]
    cloth = (row["parts"] >= PARTS.index("top")) & (row["parts"] <= PARTS.index("accessory"))
    for number, one in enumerate(shown, 1):
        mine = (figures % 8 == number) & cloth
        for bit, rgb in ((FIRST_COLOUR, one.person.colour_a), (SECOND_COLOUR, one.person.colour_b)):
            figures[mine & (np.abs(flat - np.round(np.array(rgb) * 255).astype(np.int16)).max(2) <= 3)] |= bit


def _job(task: tuple[Path, Population, int, list[int]]) -> Path:
    path, population, index, numbers = task
    done = path / "done"
    if done.exists():
        return path
    cv2.setNumThreads(1)
    rng = np.random.default_rng([population.seed, 77, index])
    size = SIZES[int(rng.choice(len(SIZES), p=_SIZE_SHARES))]
    kept.clear()
    rows: list[dict[str, NDArray]] = []
    for n, number in enumerate(numbers):
        if n % _A_SCENE == 0:
            where = scene(rng)
            drawn = drawing_size(where.framing, size, rng)
        others = [int(n) for n in rng.integers(0, population.persons, 2)]
        described, poses = picture(person(population.seed, number), [person(population.seed, n) for n in others], where, rng)
        drawing = draw(described, drawn, with_albedo=True)
        people = [number, *others][: len(drawing.shown)]
        rows.append(sample(drawing, described, poses, people, size))
    path.mkdir(parents=True, exist_ok=True)
    for name in rows[0]:
        np.save(path / f"{name}.npy", np.stack([row[name] for row in rows]))
    done.touch()
    return path


def sample(drawing: Drawing, described: Description, poses: list[str], people: list[int], size: tuple[int, int]) -> dict[str, NDArray]:
    """One drawing as a training row."""
    w, h = size
    kx, ky = w / drawing.image.shape[1], h / drawing.image.shape[0]
    facts = [figure_facts(shown, pose) for shown, pose in zip(drawing.shown, poses, strict=True)]
    small = cv2.resize(drawing.image, size, interpolation=cv2.INTER_AREA)
    row: dict[str, NDArray] = {
        "image": small,
        "parts": cv2.resize(PART_OF[drawing.labels], size, interpolation=cv2.INTER_NEAREST),
        "figures": cv2.resize(drawing.figures, size, interpolation=cv2.INTER_NEAREST),
        "depth": (cv2.resize(drawing.depth, size, interpolation=cv2.INTER_NEAREST) * 255).astype(np.uint8),
        "albedo": cv2.resize(drawing.albedo, size, interpolation=cv2.INTER_NEAREST),
        "of_picture": picture_classes(described),
        "blended": np.bool_(len(described.finish) > 1),
        "count": np.int8(len(facts)),
        "person": np.array((people + [-1] * MOST)[:MOST], np.int32),
    }
    _cloth_bits(row, drawing.shown)
    for name, zero in (("joints", (18, 2)), ("visible", (18,)), ("head", (3,)), ("classes", (len(OF_FIGURE),)), ("colours", (5, 3))):
        values = [fact[name] for fact in facts]
        if name == "joints":
            values = [v * np.array([kx, ky], np.float32) for v in values]
        if name == "head":
            values = [v * np.array([kx, ky, ky], np.float32) for v in values]
        row[name] = np.stack(values + [np.zeros(zero, values[0].dtype)] * (MOST - len(values)))
    return row


def make(folder: Path, population: Population, workers: int = 2) -> None:
    """Draws a population into `folder`; shards that are there already are kept."""
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "population.json").write_text(json.dumps(population.__dict__))
    numbers = np.repeat(np.arange(population.persons), population.each)
    numbers = np.random.default_rng([population.seed, 5]).permutation(numbers)
    tasks = [(folder / f"{k:04d}", population, k, numbers[i : i + SHARD].tolist()) for k, i in enumerate(range(0, len(numbers), SHARD))]
    with ProcessPoolExecutor(workers, multiprocessing.get_context("spawn")) as pool:  # threads of the parent do not survive a fork
        for n, _ in enumerate(pool.map(_job, tasks), 1):
            if n % 10 == 0 or n == len(tasks):
                print(f"drawings: {n} of {len(tasks)} shards of {SHARD}", flush=True)
