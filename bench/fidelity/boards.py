"""Boards: what was roughed out is where, and as, it was roughed out; the words decide the rest."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from statistics import median

import cv2
import numpy as np
from numpy.typing import NDArray

from bench.fidelity.board_set import SIZE, Roughed, boards
from bench.report import Row, row
from mosskeeper.core.boards.compose import Composed
from mosskeeper.core.boards.pull import parts_of
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.skeleton import AT
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.takes.boards import BoardControl, boards_of, in_board_colours, on_boards
from mosskeeper.core.takes.live_picture import ChosenScene, choose

_SHA = "b" * 64
_STEPS = 11
_FEW = 200  # px of a part below which its colour says nothing
_STAIN = 14.0  # Lab distance to all that a picture may show there


@dataclass(frozen=True)
class _Made:
    image: NDArray[np.uint8]
    drawn: Drawing
    composed: Composed
    plain: NDArray[np.uint8]  # the drawing before the pull


@cache
def _choice(n: int, seed: int) -> ChosenScene:
    b = _all()[n]
    return choose(Recipe(words=b.words, width=SIZE[0], height=SIZE[1], steps=8), 300 + seed, {}, {})


@cache
def _all() -> list[Roughed]:
    return boards()


def _board(b: Roughed, weight: float) -> list[BoardControl]:
    cue = Cue(role="sketch", picture=_SHA, weight=weight, end=100, pots=b.pots)
    return boards_of([cue], {_SHA: b.picture}, 20) if weight > 0 else []


def _made(n: int, seed: int, weight: float) -> _Made:
    choice, b = _choice(n, seed), _all()[n]
    composed = on_boards(choice.scene, _board(b, weight), choice.said)
    scene = composed[-1].scene if composed else choice.scene
    drawn = draw_scene(scene)
    last = composed[-1] if composed else Composed(scene, _board(b, 1e-3)[0].read, 0.0)
    return _Made(in_board_colours(drawn, composed), drawn, last, drawn.image)


def boards_at_work(seeds: int) -> list[Row]:
    at_one = [(n, seed, _made(n, seed, 1.0)) for n in range(len(_all())) for seed in range(seeds)]
    return [*_places(at_one), *_colours(at_one), *_words(at_one), *_dial(seeds)]


def _places(made: list[tuple[int, int, _Made]]) -> list[Row]:
    ious, joints, discs, numbers, heads = [], [], [], [], []
    for n, _, m in made:
        b = _all()[n]
        there = [k for k in range(len(m.drawn.shown)) if (m.drawn.figures == k + 1).sum() > 200]
        numbers.append(len(there) == max(len(b.figures), 1))
        if not b.joints:
            boxes = [_box(m.drawn, k) for k in there]
            ious += [max((_iou(box, own) for own in boxes), default=0.0) for box in b.figures]
        for wanted, (_, y0, _, y1) in zip(b.joints, b.figures, strict=False):
            joints += [float(np.hypot(*(m.drawn.shown[0].joints[AT[name]] - at))) / (y1 - y0) for name, at in wanted.items()]
        if b.disc is not None and m.composed.scene.disc is not None:
            discs.append(float(np.hypot(*np.subtract(m.composed.scene.disc.at, b.disc))) / SIZE[0])
        for k in there:
            heads.append(abs(2 * m.drawn.shown[k].head[2] / m.composed.scene.camera.spots[k].scale - 1))
    return [
        row("boards: figure box IoU at 1, median", median(ious), "IoU", ">= 0.85"),
        row("boards: figure box IoU at 1, lowest", min(ious), "IoU", ">= 0.65"),
        row("boards: joints of stick figures off theirs, share of height, median", median(joints), "share", "<= 0.03"),
        row("boards: joints of stick figures off theirs, share of height, 90th", float(np.percentile(joints, 90)), "share", "<= 0.03"),
        row("boards: sun or moon off its place, share of width, most", max(discs), "share", "<= 0.04"),
        row("boards: as many figures as roughed out", float(np.mean(numbers)), "share", ">= 0.97"),
        row("boards: head over body height off the illustrator's own, most", max(heads), "share", "<= 0.15"),
    ]


def _colours(made: list[tuple[int, int, _Made]]) -> list[Row]:
    parts, things, stains = [], [], []
    for _, _, m in made:
        lab = rgb_to_lab(m.image.astype(np.float32) / 255)
        for k, seen in m.composed.matched:
            there = m.drawn.figures == k + 1
            for name, labels in parts_of(m.drawn.labels, there).items():
                where = there & np.isin(m.drawn.labels, labels)
                if name in seen.colours and where.sum() > _FEW:
                    parts.append(_delta(np.median(lab[where], axis=0), seen.colours[name]))
        for kind, part in (("disc", Part.LAMP), ("water", Part.WATER)):
            found = m.composed.read.of(kind)
            where = (m.drawn.labels == part) & (m.drawn.figures == 0)
            if found and where.sum() > _FEW:
                things.append(_delta(np.median(lab[where], axis=0), found[0].lab))
        stains.append(_stained(m))
    return [
        row("boards: colour of matched parts, median", median(parts), "ΔE", "<= 3"),
        row("boards: colour of matched parts, worst", max(parts), "ΔE", "<= 8"),
        row("boards: colour of disc and water, worst", max(things), "ΔE", "<= 10"),
        row("boards: stains, share of pixels, median", median(stains), "share", "<= 0.002"),
    ]


def _stained(m: _Made) -> float:
    """Share of pixels that the pull moved otherwise than the rest of their part about them."""
    before, after = (rgb_to_lab(x.astype(np.float32) / 255) for x in (m.plain, m.image))
    way = (after - before).astype(np.float32)
    key, off = m.drawn.figures.astype(np.int32) * 32 + m.drawn.labels, np.zeros(way.shape[:2], bool)
    for part in np.unique(key):
        there = (key == part).astype(np.float32)
        if there.sum() < _FEW:
            continue
        near = np.maximum(cv2.blur(there, (31, 31)), 1e-3)[..., None]
        usual = cv2.blur(way * there[..., None], (31, 31)) / near
        inside = cv2.erode(there, np.ones((5, 5), np.uint8)) > 0
        off |= inside & (np.linalg.norm(way - usual, axis=2) > _STAIN)
    return float(off.mean())


def _words(made: list[tuple[int, int, _Made]]) -> list[Row]:
    right = []
    for n, _, m in made:
        d = m.composed.scene.description
        for attribute, value in _all()[n].silent.items():
            own = d.layout.pose if attribute == "pose" else getattr(d, attribute)
            right.append(value in str(own))
    return [row("boards: what the words name and the board leaves open", float(np.mean(right)), "share", ">= 0.9")]


def _dial(seeds: int) -> list[Row]:
    colour, geometry, largest, same = [], [], [], []
    weights = np.linspace(0, 1, _STEPS)
    for n in range(len(_all())):
        for seed in range(min(seeds, 2)):
            steps = [_made(n, seed, float(w)) for w in weights]
            last = steps[-1]
            same.append(np.array_equal(steps[0].image, draw_scene(_choice(n, seed).scene).image))
            goal = _low(last.image)
            far = [float(np.linalg.norm(_low(s.image) - goal, axis=2).mean()) for s in steps]
            colour.append(_rank(far))
            boxes = [_geometry(s, last) for s in steps]
            if np.ptp(boxes) > 0.02:
                geometry.append(_rank(boxes))
            way = boxes if _all()[n].joints else far  # lines have no colours to agree with
            largest.append(float(np.abs(np.diff(way)).max() / max(np.ptp(way), 1e-9)))
    return [
        row("boards: dial, rank correlation of agreement in colour, lowest", min(colour), "rho", ">= 0.99"),
        row("boards: dial, rank correlation of agreement in geometry, lowest", min(geometry), "rho", ">= 0.99"),
        row("boards: dial, rank correlation, mean of both", float(np.mean([*colour, *geometry])), "rho", ">= 0.99"),
        row("boards: dial, largest of ten steps, median", median(largest), "share", "<= 0.18"),
        row("boards: dial, largest of ten steps, worst", max(largest), "share", "<= 0.18"),
        row("boards: dial at 0 has the bytes of the picture without the board", float(np.mean(same)), "share", ">= 1"),
    ]


def _geometry(s: _Made, last: _Made) -> float:
    """How far the first figure is from where it is at last: mean distance of neck, hips and ankles, in picture heights."""
    names = [AT[n] for n in ("neck", "right hip", "left hip", "right ankle", "left ankle")]
    return float(np.hypot(*(s.drawn.shown[0].joints[names] - last.drawn.shown[0].joints[names]).T).mean() / SIZE[1])


def _low(image: NDArray[np.uint8]) -> NDArray[np.float32]:
    return cv2.GaussianBlur(rgb_to_lab(image.astype(np.float32) / 255), (0, 0), 8)


def _rank(falling: list[float]) -> float:
    order = np.argsort(np.argsort(-np.array(falling))).astype(float)
    return float(np.corrcoef(np.arange(len(falling)), order)[0, 1])


def _delta(a: NDArray[np.floating], b: NDArray[np.floating]) -> float:
    return float(np.linalg.norm(np.asarray(a) - np.asarray(b)))


def _box(drawn: Drawing, k: int) -> tuple[float, float, float, float]:
    ys, xs = np.nonzero((drawn.figures == k + 1) & (drawn.labels != Part.PROP))
    return float(xs.min()), float(ys.min()), float(xs.max() + 1), float(ys.max() + 1)


def _iou(a: tuple[float, float, float, float], b: tuple[float, float, float, float]) -> float:
    w, h = min(a[2], b[2]) - max(a[0], b[0]), min(a[3], b[3]) - max(a[1], b[1])
    both = max(w, 0) * max(h, 0)
    return both / ((a[2] - a[0]) * (a[3] - a[1]) + (b[2] - b[0]) * (b[3] - b[1]) - both + 1e-9)
