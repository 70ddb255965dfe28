"""Pose, edges, tone, depth, regions."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import cache
from statistics import mean

import cv2
import numpy as np

from bench.fidelity.mends import scenes_of
from bench.fidelity.setting import BASE, DRESS, SIZE, drawn, lab_of, other, rank_correlation, sha, with_cues
from bench.report import Row, row
from mosskeeper.core.continuity.measures import ssim
from mosskeeper.core.diffusion.result import TakeResult
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH, HAIR_COLOURS
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.contours import edges
from mosskeeper.core.reading.reader import read
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.reading.structure import coarse_tone, edge_f_score
from mosskeeper.core.recipe import Cue, Recipe, Region
from mosskeeper.core.takes.take import make_take

_WEIGHTS = (0.0, 0.25, 0.5, 0.75, 1.0)
_FREE = BASE.model_copy(update={"words": "a woman in a navy festival coat with copper hair"})


def pose(seeds: int) -> list[Row]:
    errors: dict[float, list[float]] = {w: [] for w in _WEIGHTS}
    close = []
    for seed in range(seeds):
        source, _ = drawn(make_take(BASE.model_copy(update={"words": "a woman, full figure"}), 900 + seed))
        height = np.ptp(source.joints[:, 1])
        skeleton = [(float(x), float(y)) for x, y in source.joints / SIZE]
        for weight in _WEIGHTS:
            made, _ = drawn(make_take(with_cues(Cue(role="pose", skeleton=skeleton, weight=weight), base=_FREE), seed))
            off = np.hypot(*(made.joints - source.joints).T) / height
            errors[weight].append(float(np.median(off)))
            if weight == 1.0:
                close.append(float((off < 0.05).mean()))
    curve = [mean(errors[w]) for w in _WEIGHTS]
    return [
        row("joints within 5 % of the figure's height at pose weight 1", mean(close), "share", ">= 0.95"),
        row("joint error against pose weight", rank_correlation(_WEIGHTS, curve), "rho", "<= -0.98"),
    ]


def edge_cues(seeds: int) -> list[Row]:
    return _structure("edges", "F-score", lambda take, target: edge_f_score(edges(take.image), edges(target.image)), seeds)


def tone_cues(seeds: int) -> list[Row]:
    return _structure("tone", "SSIM", lambda take, target: ssim(coarse_tone(take.image), coarse_tone(target.image)), seeds)


def depth_cues(seeds: int) -> list[Row]:
    def alike(take: TakeResult, target: TakeResult) -> float:
        return rank_correlation(*(drawn(t)[0].depth[::3, ::3] for t in (take, target)))

    return _structure("depth", "rank correlation", alike, seeds)


@cache
def _read(n: int) -> Reading:
    """What the reader sees in a picture to refer to: it knows nothing of how that was drawn."""
    return read(other(n).image)


def _structure(role: str, measure: str, agreement: Callable[[TakeResult, TakeResult], float], seeds: int) -> list[Row]:
    scores: dict[float, list[float]] = {w: [] for w in _WEIGHTS}
    for seed in range(seeds):
        target = other(seed % 3)
        picture = target.image
        for weight in _WEIGHTS:
            cues = with_cues(Cue(role=role, picture=sha(9), weight=weight), base=_FREE)
            take = make_take(cues, seed, {sha(9): picture}, readings={sha(9): _read(seed % 3)})
            scores[weight].append(agreement(take, target))
    curve = [mean(scores[w]) for w in _WEIGHTS]
    best = mean(agreement(_at_best(seed), other(seed % 3)) for seed in range(seeds))
    return [
        row(f"{role}: {measure} at weight 0", curve[0], ""),
        row(f"{role}: {measure} at weight 1", curve[-1], ""),
        row(f"{role}: {measure} of the picture's own scene in which only what the words name is changed", best, ""),
        row(f"{role}: smallest rise from weight to weight", float(np.diff(curve).min()), "", ">= 0"),
        row(f"{role}: agreement at weight 1 over that at 0", curve[-1] / max(curve[0], 1e-6), "×", ">= 2"),
    ]


def _at_best(seed: int) -> TakeResult:
    """A take that follows the picture as far as the words let it: its own scene, with the subject, outfit and hair that they name."""
    scene, own = scenes_of(other(seed % 3)).scene, drawn(make_take(_FREE, seed))[1]
    named = {name: getattr(own, name) for name in ("subject", "outfit", "hair_colour", "colour_a", "colour_b")}
    described = replace(scene.description, **named)
    made = draw_scene(replace(scene, description=described))
    return TakeResult(made.image, made, described)


def regions(seeds: int) -> list[Row]:
    w, h = SIZE
    left = np.zeros((h, w, 3), np.uint8)
    left[:, : w // 2] = 255
    wide = np.zeros((h, w, 3), np.uint8)
    wide[:, : w // 2 + round(0.15 * w / 2)] = 255
    pictures = {sha(20): left, sha(21): 255 - left, sha(22): wide}
    base = Recipe(
        words="a woman in a navy festival coat in the fern house at noon, half figure, facing the viewer", width=w, height=h, steps=12
    )
    inside, outside, lapped = [], [], []
    for seed in range(seeds):
        hard = Region(mask=sha(20), words="red coat", feather=0.0)
        a, b = _red(base.model_copy(update={"regions": [hard]}), seed, pictures)
        inside.append(a)
        outside.append(b)
        soft = [Region(mask=sha(22), words="red coat", feather=0.04), Region(mask=sha(21), words="moss coat", feather=0.04)]
        lapped.append(_red(base.model_copy(update={"regions": soft}), seed, pictures)[1])
    found = [_two_people(seed, pictures) for seed in range(seeds)]
    return [
        row("colour asked in a region, share of the cloth there", float(np.nanmean(inside)), "share", ">= 0.95"),
        row("and of the cloth outside of it, disjoint masks", float(np.nanmean(outside)), "share", "<= 0.005"),
        row("and outside, 15 % overlap with feather", float(np.nanmean(lapped)), "share"),
        row("two people in two regions: hair and outfit colours right", mean(found), "share", ">= 0.95"),
    ]


def _red(recipe: Recipe, seed: int, pictures: dict[str, np.ndarray]) -> tuple[float, float]:
    """Shares of reddish pixels among the coat's, in the left half and in the right."""
    take = make_take(recipe, seed, pictures)
    drawing, _ = drawn(take)
    lab = rgb_to_lab(take.image.astype(np.float32) / 255)
    red = (lab[..., 1] > 14) & (lab[..., 1] > 0.6 * np.abs(lab[..., 2]))
    coat = cv2.erode(np.isin(drawing.labels, (Part.OUTER, Part.SLEEVE)).astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    blue_before = rgb_to_lab(drawing.image.astype(np.float32) / 255)[..., 2] < -4  # the navy cloth, without trim and buttons
    cloth = coat & blue_before
    half = np.zeros_like(cloth)
    half[:, : cloth.shape[1] // 2] = True
    # where a half shows none of the cloth there is nothing to measure
    return tuple(float(red[side].mean()) if side.sum() > 30 else np.nan for side in (cloth & half, cloth & ~half))  # type: ignore[return-value]


def _two_people(seed: int, pictures: dict[str, np.ndarray]) -> float:
    recipe = Recipe(
        words="in the fern house at noon",
        width=SIZE[0],
        height=SIZE[1],
        steps=12,
        guidance=8,
        regions=[
            Region(mask=sha(20), words="a woman with copper hair in a braid, in a navy knitted jumper"),
            Region(mask=sha(21), words="a man with black cropped hair, in a mustard tunic"),
        ],
    )
    take = make_take(recipe, seed, pictures)
    drawing, _ = drawn(take)
    right = []
    hairs = {name: rgb_to_lab(np.asarray(HAIR_COLOURS[name], np.float32)) for name in ("copper", "ink")}
    cloths = {name: rgb_to_lab(np.asarray(CLOTH[name], np.float32)) for name in ("navy", "mustard")}
    for number, (hair, cloth) in enumerate((("copper", "navy"), ("ink", "mustard")), 1):
        for colours, wanted, parts in ((hairs, hair, (Part.HAIR,)), (cloths, cloth, DRESS)):
            where = (drawing.figures == number) & np.isin(drawing.labels, parts)
            if where.sum() < 20:
                right.append(False)
                continue
            seen = lab_of(take.image, where)
            right.append(min(colours, key=lambda name: float(np.square(colours[name] - seen).sum())) == wanted)
    return float(np.mean(right))
