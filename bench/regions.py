"""`./moss bench regions`: are the people of regions there, each in its region, as each was described; what bleeds; how long it takes."""

from __future__ import annotations

import statistics
import time
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from bench.region_layouts import HOB, TRIALS, WREN, Trial
from bench.report import Row, row
from mosskeeper.core.continuity.drift import drift
from mosskeeper.core.diffusion.result import TakeResult
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH, HAIR_COLOURS, SKINS
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.pictures.difference import delta_e_map
from mosskeeper.core.pictures.resample import nearest
from mosskeeper.core.reading.any_reader import read_any
from mosskeeper.core.reading.reading import FigureRead
from mosskeeper.core.recipe import Cue, Recipe, Region
from mosskeeper.core.takes.influence import influence
from mosskeeper.core.takes.take import make_take

_SEEDS = (7, 8, 9, 10, 11)
_STEPS = 12
_PARTS: dict[str, tuple[tuple[Part, ...], dict[str, NDArray[np.float64]], float]] = {
    "hair colour": ((Part.HAIR,), HAIR_COLOURS, 0.5),
    "skin": ((Part.FACE, Part.HAND, Part.NECK), SKINS, 0.5),
    "colour": ((Part.TOP, Part.SLEEVE, Part.BOTTOM, Part.OUTER), CLOTH, 0.3),
}
_LIKE = 12.0  # ΔE within which a part has the colour that was named


def recipe_of(trial: Trial, strengths: dict[int, float] | None = None, steps: int = _STEPS) -> tuple[Recipe, dict[str, NDArray[np.uint8]]]:
    """The recipe of a layout and its masks."""
    masks = {f"{n + 1:064x}": np.repeat((trial.mask(n) * 255).astype(np.uint8)[..., None], 3, 2) for n in range(len(trial.regions))}
    regions = [Region(mask=name, words=trial.words(n), strength=(strengths or {}).get(n, 1.0)) for n, name in enumerate(masks)]
    return Recipe(words=trial.common, width=trial.size[0], height=trial.size[1], steps=steps, regions=regions), masks


def measure(trials: Sequence[Trial] = TRIALS, seeds: Sequence[int] = _SEEDS) -> list[Row]:
    counts, read, ious, colours, level, ground, meets = (
        list[bool](),
        list[bool](),
        list[float](),
        list[bool](),
        list[float](),
        list[bool](),
        list[bool](),
    )
    seams = list[float]()
    for trial in trials:
        recipe, masks = recipe_of(trial)
        for seed in seeds:
            take = make_take(recipe, seed, masks)
            assert take.drawing is not None and take.explained is not None
            drawn = take.explained.drawn()
            counts.append(len(take.drawing.shown) == len(trial.people))
            read.append(sum(f.sure >= 0.5 for f in read_any(take.image).figures) == len(trial.people))
            who = _matched(drawn, trial)
            for n, somebody in trial.people.items():
                figure = who.get(n)
                ious.append(0.0 if figure is None else _fills(drawn, figure, trial.mask(n)))
                colours += [figure is not None and _coloured(drawn, figure, name, value) for name, value in somebody.colours]
                stands = None if figure is None else _on_ground(drawn, figure)
                ground += [] if stands is None else [stands]
            heads = [take.explained.scene.camera.spots[who[n] - 1].scale for n in trial.level if n in who]
            level += [max(heads) / min(heads) - 1] if len(heads) > 1 else []
            if "hand" in trial.common:
                meets.append(not any("cannot meet" in said for said in take.says))
            if trial.name == "two places":
                seams.append(_seam(take))
    return [
        row(f"people as many as named, of {len(counts)} pictures, by the exact maps", statistics.mean(counts), "", ">= 0.98"),
        row("by the reader", statistics.mean(read), "", ">= 0.95"),
        row("box to what of its region a figure can reach, IoU, median", statistics.median(ious), "", ">= 0.8"),
        row("the tenth", float(np.quantile(ious, 0.1)), ""),
        row(f"hair, skin and clothes in the named colour, of {len(colours)}", statistics.mean(colours), "", ">= 0.98"),
        row("heads at one depth apart, highest", max(level, default=0.0), "", "<= 0.02"),
        row(f"feet on ground, of {len(ground)}", statistics.mean(ground), "", ">= 0.97"),
        row(f"hands that should meet and do, of {len(meets)}", statistics.mean(meets) if meets else 1.0, ""),
        row("places side by side: steps at their border over those elsewhere", max(seams, default=0.0), "", "<= 1.2"),
        *_drifts(seeds),
        *_bleeding(trials),
        *_strengths(trials),
        *_seconds(),
    ]


def _matched(drawn: Drawing, trial: Trial) -> dict[int, int]:
    """Region → figure: the one that overlaps it most, each taken once."""
    people = int(drawn.figures.max(initial=0))
    score = {}
    for n in trial.people:
        inside = trial.mask(n) > 0.5
        for figure in range(1, people + 1):
            there = drawn.figures == figure
            score[n, figure] = float((there & inside).sum() / max((there | inside).sum(), 1))
    out: dict[int, int] = {}
    for n, figure in sorted(score, key=lambda key: -score[key]):
        if score[n, figure] > 0 and n not in out and figure not in out.values():
            out[n] = figure
    return out


def _box(mask: NDArray[np.bool_]) -> tuple[float, float, float, float]:
    ys, xs = np.nonzero(mask)
    return (float(xs.min()), float(ys.min()), float(xs.max() + 1), float(ys.max() + 1)) if len(xs) else (0.0, 0.0, 0.0, 0.0)


def _fills(drawn: Drawing, figure: int, mask: NDArray[np.float32]) -> float:
    """IoU of a figure's box with the largest of its shape that stands in its region."""
    a, (x0, y0, x1, y1) = _box(drawn.figures == figure), _box(mask > 0.5)
    b = (x0, y0, x1, y1)
    if a[3] < drawn.figures.shape[0] - 1 and a[3] > a[1]:
        k, middle = min((x1 - x0) / (a[2] - a[0]), (y1 - y0) / (a[3] - a[1])), (x0 + x1) / 2
        wide, high = (a[2] - a[0]) * k, (a[3] - a[1]) * k
        b = (middle - wide / 2, y1 - high, middle + wide / 2, y1)
    both = max(min(a[2], b[2]) - max(a[0], b[0]), 0) * max(min(a[3], b[3]) - max(a[1], b[1]), 0)
    return both / max((a[2] - a[0]) * (a[3] - a[1]) + (b[2] - b[0]) * (b[3] - b[1]) - both, 1)


def _coloured(drawn: Drawing, figure: int, attribute: str, value: str) -> bool:
    """Whether enough of a part has the named colour, before light; one that is hardly seen does."""
    parts, table, share = _PARTS[attribute]
    assert drawn.albedo is not None
    where = np.isin(drawn.labels, parts) & (drawn.figures == figure)
    if where.sum() < 60:
        return True
    own = rgb_to_lab(drawn.albedo[where].astype(np.float32) / np.float32(255))
    return bool((np.linalg.norm(own - rgb_to_lab(np.asarray(table[value], np.float32)), axis=1) < _LIKE).mean() >= share)


def _on_ground(drawn: Drawing, figure: int) -> bool | None:
    """Whether what is seen right under the feet is something to stand on; None of cut figures."""
    there = drawn.figures == figure
    box = _box(there)
    foot = int(box[3])
    if foot >= there.shape[0] - 2:
        return None
    below = drawn.labels[foot : foot + 4, there[foot - 1]]
    return bool(np.isin(below, (Part.GROUND, Part.WATER, Part.SEAT)).mean() > 0.5)


def _seam(take: TakeResult) -> float:
    image = take.image.astype(np.float32)
    steep = np.abs(np.diff(image, axis=1)).mean((0, 2))
    middle = len(steep) // 2
    return float(steep[middle - 16 : middle + 16].max() / max(np.quantile(steep, 0.9), 1e-6))


def _bleeding(trials: Sequence[Trial]) -> list[Row]:
    """What bleeds, attribute by attribute, of the first layouts; where masks are apart, and where they overlap."""
    apart, over = list[float](), list[float]()
    for trial in trials:
        if len(trial.people) != 2 or len(trial.regions) != 2:
            continue
        recipe, masks = recipe_of(trial)
        lies_over = bool((np.minimum(trial.mask(0), trial.mask(1)) > 0).any())
        for n in trial.people:
            found = influence(recipe, 7, n, masks)
            (over if lies_over else apart).extend(bled.bled for bled in found.attributes if bled.acts > 1e-4)
    return [
        row(f"bled of attributes, masks apart, mean of {len(apart)}", statistics.mean(apart) if apart else 0.0, "", "<= 0.005"),
        row(f"bled of attributes, masks overlapping, mean of {len(over)}", statistics.mean(over) if over else 0.0, "", "<= 0.03"),
    ]


def _drifts(seeds: Sequence[int]) -> list[Row]:
    """Two of the cast in regions, each with a reference of their own anchor: how far each is from it, read from the pixels."""
    cast, far, unread = (WREN, HOB), list[float](), 0
    anchors = {
        f"{n + 101:064x}": make_take(Recipe(words=f"{who.words}, portrait, facing, calm", width=512, height=640), 40 + n).image
        for n, who in enumerate(cast)
    }
    readings = {name: read_any(image) for name, image in anchors.items()}
    for trial in (t for t in TRIALS if len(t.people) == 2 == len(t.regions)):
        dressed = replace(trial, regions=tuple((box, who) for (box, _), who in zip(trial.regions, cast, strict=True)))
        recipe, masks = recipe_of(dressed, steps=20)
        regions = [
            r.model_copy(update={"cues": [Cue(id="face", role="face", picture=name, weight=1.0)]})
            for r, name in zip(recipe.regions, anchors, strict=True)
        ]
        for seed in seeds[:3]:
            take = make_take(recipe.model_copy(update={"regions": regions}), seed, {**masks, **anchors}, readings=readings)
            figures = read_any(take.image).figures
            for n, name in enumerate(anchors):
                inside = dressed.mask(n) > 0.5
                best = max(figures, key=lambda f, there=inside: _inside(f, there), default=None)  # type: ignore[misc]
                found = None if best is None else drift(best, [readings[name].main])
                unread += found is None
                far += [] if found is None else [found.distance]
    return [
        row(
            f"drift of the cast in regions at most 1, of {len(far)} read ({unread} faces too small to read)",
            float(np.mean(np.array(far) <= 1)),
            "",
            ">= 0.9",
        ),
        row("drift of the cast in regions, median", statistics.median(far), ""),
    ]


def _inside(figure: FigureRead, region: NDArray[np.bool_]) -> float:
    there = nearest(region.astype(np.uint8), figure.mask.shape[::-1]) > 0
    return float((figure.mask & there).sum() / max(int(figure.mask.sum()), 1))


def _strengths(trials: Sequence[Trial]) -> list[Row]:
    ranks, steps = list[float](), list[float]()
    for trial in trials[:3]:
        images = []
        for strength in np.linspace(0, 1, 11):
            recipe, masks = recipe_of(trial, {1: float(strength)})
            take = make_take(recipe, 7, masks)
            assert take.explained is not None
            images.append(take.explained.drawn().image)
        far = np.array([float(delta_e_map(image, images[0]).mean()) for image in images])
        ranks.append(float(np.corrcoef(np.argsort(np.argsort(far)), np.arange(11))[0, 1]))
        steps.append(float(np.abs(np.diff(far)).max() / max(far.max(), 1e-9)))
    return [
        row("strength of a region: rank correlation, lowest of three", min(ranks), "", ">= 0.98"),
        row("strength of a region: largest of ten steps, highest of three", max(steps), "", "<= 0.2"),
    ]


def _seconds() -> list[Row]:
    """Takes with regions over a take of one person without."""
    two, four = (next(t for t in TRIALS if t.name == name) for name in ("pair", "four, counted"))
    ratios: dict[str, list[float]] = {"two": [], "four": []}
    for seed in range(20, 25):
        seconds = {}
        plain = Recipe(words=f"{two.common}, {WREN.words}", width=512, height=640, steps=20)
        for name, (recipe, masks) in {"plain": (plain, {}), "two": recipe_of(two, steps=20), "four": recipe_of(four, steps=20)}.items():
            began = time.perf_counter()
            make_take(recipe, seed, masks)
            seconds[name] = time.perf_counter() - began
        for name in ratios:
            ratios[name].append(seconds[name] / seconds["plain"])
    return [
        row("two regions over a take without, median", statistics.median(ratios["two"]), "×", "<= 1.4"),
        row("four regions over a take without, median", statistics.median(ratios["four"]), "×", "<= 2"),
    ]
