"""One take: from a recipe and a seed to a picture, by denoising.

1. K exemplar descriptions are drawn from the beliefs, on one layout, and drawn small.
2. From noise, the segment posterior over them decides, step by step, which exemplar each part of the picture
   follows: the place, the hair, the person, the dress, the prop.
3. Where the noise is low enough that all have decided, the description recombined from the chosen parts is drawn
   at full size; it is the one exemplar of the last steps.
4. Look references pull the colours of every estimate towards their palettes, inside their spans.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.beliefs import GROUPS, OF_PERSON, Beliefs
from mosskeeper.core.diffusion.integrate import step
from mosskeeper.core.diffusion.noise import coloured, octaves
from mosskeeper.core.diffusion.palette_pull import PalettePull, recoloured
from mosskeeper.core.diffusion.posterior import Posterior, Segments
from mosskeeper.core.diffusion.schedule import karras
from mosskeeper.core.errors import Stopped
from mosskeeper.core.illustrator.description import SKIN_PARTS, Description, Part, Person
from mosskeeper.core.illustrator.draw import Drawing, draw
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab
from mosskeeper.core.reading.palette import Palette, read_palette
from mosskeeper.core.recipe import Cue, Recipe

F32 = NDArray[np.float32]
EXEMPLARS = 12
FEW_EXEMPLARS = 8  # for preview sizes, which must be quick
PREVIEW_AREA = 150_000  # px
SMALL_AREA = 128 * 160  # px of the small exemplars
DECIDED = 0.35  # noise level below which the parts have chosen
_PREVIEW_EVERY = 2
_SKIN_KEPT = 0.8
_COLOUR_PULL = 1.0  # strength of a reference's colours on clothes that no word names, against their own

_GROUP_NAMES = tuple(GROUPS)
_GROUP_OF_PART = np.zeros(len(Part), np.int64)
for _part in Part:
    _name = (
        "place" if _part < Part.HAIR
        else "hair" if _part in (Part.HAIR, Part.HEADWEAR)
        else "person" if _part in (*SKIN_PARTS, Part.FACIAL_HAIR)
        else "prop" if _part == Part.PROP
        else "companion" if _part == Part.COMPANION
        else "dress"
    )  # fmt: skip
    _GROUP_OF_PART[_part] = _GROUP_NAMES.index(_name)


@dataclass(frozen=True, slots=True)
class Progress:
    """Where a take stands. The preview is the denoised estimate, small, (H, W, 3) uint8; None between previews."""

    step: int
    steps: int
    preview: NDArray[np.uint8] | None = None


@dataclass(frozen=True, slots=True)
class Take:
    image: NDArray[np.uint8]  # (H, W, 3) sRGB
    drawing: Drawing  # the last exemplar, with its maps; its own image is without palette pull
    description: Description


@dataclass(slots=True)
class _Looks:
    """The look cues of a recipe: their palettes, and how much each has acted so far."""

    cues: list[Cue]
    palettes: list[Palette]
    pull: PalettePull | None = None
    acted: list[int] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.acted = [0] * len(self.cues)

    def amounts(self, i: int) -> list[float]:
        """Pull of each cue after step `i`: its weight times the share of the denoising in which it has acted.

        A running mean: a cue limited to the first half is thinned out by the second, so that early and late
        halves add up to the whole.
        """
        return [min(1.0, cue.weight) * done / (i + 1) for cue, done in zip(self.cues, self.acted, strict=True)]

    def advance(self, i: int, steps: int) -> None:
        middle = 100 * (i + 0.5) / steps
        for n, cue in enumerate(self.cues):
            self.acted[n] += cue.start <= middle < cue.end

    def whole(self, steps: int) -> list[float]:
        """Pull of each cue at the end, its weight not capped."""
        middles = 100 * (np.arange(steps) + 0.5) / steps
        return [float(c.weight * ((middles >= c.start) & (middles < c.end)).mean()) for c in self.cues]


def make_take(
    recipe: Recipe,
    seed: int,
    pictures: Mapping[str, NDArray[np.uint8]] | None = None,
    report: Callable[[Progress], None] = lambda _: None,
    should_stop: Callable[[], bool] = lambda: False,
) -> Take:
    """Makes the take of a recipe for one seed; the same bytes for the same arguments.

    Parameters
    ----------
    pictures : the cues' pictures (H, W, 3) uint8, by the name the cues give.
    report : called after every step.
    should_stop : asked before every exemplar and every step.

    Raises
    ------
    Stopped
        where `should_stop` said so.
    KeyError
        where a cue's picture is missing.
    """
    layout_rng, noise_rng = (np.random.default_rng(s) for s in np.random.SeedSequence(seed).spawn(2))
    beliefs = Beliefs(recipe)
    looks = _looks(recipe, pictures or {})
    size = (recipe.width, recipe.height)
    small = _small_size(size)

    descriptions = beliefs.exemplars(layout_rng, EXEMPLARS if size[0] * size[1] > PREVIEW_AREA else FEW_EXEMPLARS)
    drawn: dict[Description, Drawing] = {}
    for description in descriptions:  # where words say much, many exemplars are the same
        _check(should_stop)
        if description not in drawn:
            drawn[description] = draw(description, small)
    drawings = [drawn[description] for description in descriptions]
    segments = Segments(_shared_segments(drawings), len(GROUPS))
    posterior = Posterior(_signal(np.stack([d.image for d in drawings])), segments)

    sigmas = karras(recipe.steps)
    decided = int(np.searchsorted(-sigmas, -DECIDED))
    decided = min(max(decided, 1), recipe.steps - 1)
    x = coloured(noise_rng, segments.labels, segments.n) * np.float32(sigmas[0])
    nothing_kept = np.zeros(segments.labels.shape, np.float32)

    def fresh() -> F32:
        return coloured(noise_rng, segments.labels, segments.n)

    weights = posterior.weights(x, sigmas[0])
    for i in range(decided):
        _check(should_stop)
        weights = posterior.weights(x, sigmas[i])
        estimate = posterior.mean(weights)
        x = step(x, estimate, sigmas[i], sigmas[i + 1], recipe.sampler, posterior, fresh)
        looks.advance(i, recipe.steps)
        shown = None
        if i % _PREVIEW_EVERY == 0:
            if looks.pull is None:
                looks.pull = PalettePull(read_palette(_picture(estimate)), looks.palettes)
            shown = _enlarged(_pulled(estimate, looks, looks.amounts(i), nothing_kept))
        report(Progress(i + 1, recipe.steps, shown))

    chosen = recombined(descriptions, weights)
    if looks.cues:
        # the pull starts from the colours that were chosen, before any of it
        looks.pull = PalettePull(read_palette(_picture(posterior.mean(weights))), looks.palettes)
        chosen = _coloured_by(chosen, beliefs, looks, looks.whole(recipe.steps))
    _check(should_stop)
    drawing = draw(chosen, size)
    target = _signal(drawing.image)
    skin = _skin(drawing)
    x = cv2.resize(x, size, interpolation=cv2.INTER_CUBIC).astype(np.float32)
    estimate = target
    for i in range(decided, recipe.steps):
        _check(should_stop)
        looks.advance(i, recipe.steps)
        amounts = looks.amounts(i)
        estimate = _recolour(target, looks, amounts, skin)

        def last(_x: F32, _sigma: float, estimate: F32 = estimate) -> F32:
            return estimate

        x = step(x, estimate, sigmas[i], sigmas[i + 1], recipe.sampler, last, lambda: octaves(noise_rng, size[1], size[0]))
        preview: NDArray[np.uint8] | None = None
        if (i - decided) % _PREVIEW_EVERY == 0 and i + 1 < recipe.steps:
            half = (max(1, size[0] // 2), max(1, size[1] // 2))
            preview = np.asarray(cv2.resize(_picture(estimate), half, interpolation=cv2.INTER_AREA), np.uint8)
        report(Progress(i + 1, recipe.steps, preview))
    return Take(_picture(x), drawing, chosen)


def recombined(descriptions: list[Description], weights: F32) -> Description:
    """One description: for each group of attributes, what its segment follows most.

    Attribute by attribute, the value with the greatest total weight wins, among the exemplars that agree with what
    won before it: eleven exemplars that say the same outweigh one that says something else, however loud that is.

    Parameters
    ----------
    weights : (K, groups) as the posterior gives them.
    """
    column = dict(zip(GROUPS, weights.T, strict=True))
    changes: dict[str, object] = {}
    for group, attributes in GROUPS.items():
        changes |= _voted(descriptions, column[group], attributes)
    others = []
    for n, group in enumerate(("second", "third")[: len(descriptions[0].others)]):
        versions = [d.others[n] for d in descriptions]
        chosen: dict[str, object] = {}
        for attributes in OF_PERSON.values():
            chosen |= _voted(versions, column[group], attributes)
        others.append(replace(versions[0], **chosen))  # type: ignore[arg-type]
    return replace(descriptions[0], others=tuple(others), **changes)  # type: ignore[arg-type]


def _voted(versions: Sequence[Person], weights: F32, attributes: tuple[str, ...]) -> dict[str, object]:
    agreeing = list(range(len(versions)))
    winners: dict[str, object] = {}
    for name in attributes:
        votes: dict[object, float] = {}
        for k in agreeing:
            value = getattr(versions[k], name)
            votes[value] = votes.get(value, 0.0) + float(weights[k])
        winners[name] = winner = max(votes, key=lambda value: votes[value])
        agreeing = [k for k in agreeing if getattr(versions[k], name) == winner]
    return winners


def _looks(recipe: Recipe, pictures: Mapping[str, NDArray[np.uint8]]) -> _Looks:
    # sorted, so that the order in which cues were added never matters
    cues = sorted((c for c in recipe.cues if c.acts), key=lambda c: (c.picture, c.start, c.end, c.weight))
    return _Looks(cues, [read_palette(pictures[c.picture]) for c in cues])


def _small_size(size: tuple[int, int]) -> tuple[int, int]:
    w, h = size
    k = min(1.0, float(np.sqrt(SMALL_AREA / (w * h))))
    return max(32, round(w * k)), max(32, round(h * k))


def _shared_segments(drawings: list[Drawing]) -> NDArray[np.int64]:
    """(H, W): for each pixel, the group that most exemplars show there."""
    groups = _GROUP_OF_PART[np.stack([d.labels for d in drawings])]
    numbers = np.stack([d.figures for d in drawings])
    for n, name in enumerate(("second", "third")[: len(drawings[0].shown) - 1], 2):
        groups[numbers == n] = _GROUP_NAMES.index(name)
    votes = np.stack([(groups == g).sum(0) for g in range(len(GROUPS))])
    return np.asarray(votes.argmax(0), np.int64)


def _coloured_by(d: Description, beliefs: Beliefs, looks: _Looks, amounts: list[float]) -> Description:
    """Clothes whose colour no word names move towards the references' nearest colours."""
    people = [replace(person, **_pooled(person, n, beliefs, looks, amounts)) for n, person in enumerate(d.figures)]  # type: ignore[arg-type]
    main = people[0]
    return replace(d, colour_a=main.colour_a, colour_b=main.colour_b, others=tuple(people[1:]))


def _pooled(person: Person, figure: int, beliefs: Beliefs, looks: _Looks, amounts: list[float]) -> dict[str, object]:
    """Own colour and reference are pooled like two measurements of one value, whose precisions are 1 and the amount."""
    changes: dict[str, object] = {}
    for attribute, name in (("colour", "colour_a"), ("trim", "colour_b")):
        if beliefs.says(attribute, figure):
            continue
        own = rgb_to_lab(np.asarray(getattr(person, name), np.float32))
        total, mixed = 1.0, own.astype(np.float64)
        for palette, amount in zip(looks.palettes, amounts, strict=True):
            near = palette.area * np.exp(-np.square(palette.lab - own).sum(1) / (2 * 30.0**2)) + 1e-9
            k = _COLOUR_PULL * amount
            mixed = mixed + k * (near @ palette.lab) / near.sum()
            total += k
        r, g, b = lab_to_rgb(mixed / total)
        changes[name] = (float(r), float(g), float(b))
    return changes


def _skin(drawing: Drawing) -> F32:
    mask = np.isin(drawing.labels, SKIN_PARTS).astype(np.float32) * np.float32(_SKIN_KEPT)
    return np.asarray(cv2.GaussianBlur(mask, (0, 0), 1.5), np.float32)


def _recolour(estimate: F32, looks: _Looks, amounts: list[float], protect: F32) -> F32:
    if looks.pull is None or not any(amounts):
        return estimate
    return recoloured(estimate, looks.pull.cube(amounts), protect)


def _pulled(estimate: F32, looks: _Looks, amounts: list[float], protect: F32) -> NDArray[np.uint8]:
    return _picture(_recolour(estimate, looks, amounts, protect))


def _enlarged(preview: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """Twice the size, smoothly: small previews would show their pixels."""
    return np.asarray(cv2.resize(preview, None, fx=2, fy=2, interpolation=cv2.INTER_CUBIC), np.uint8)


def _check(should_stop: Callable[[], bool]) -> None:
    if should_stop():
        raise Stopped


def _signal(rgb_u8: NDArray[np.uint8]) -> F32:
    return np.asarray(rgb_u8.astype(np.float32) / np.float32(127.5) - 1, np.float32)


def _picture(x: F32) -> NDArray[np.uint8]:
    return np.asarray(np.clip((x + 1) * 127.5 + 0.5, 0, 255), np.uint8)
