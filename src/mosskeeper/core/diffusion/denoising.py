"""The way of one take out of the noise: small until all parts have chosen, then at full size with what was chosen."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.control_maps import Control
from mosskeeper.core.diffusion.exemplars import Exemplars
from mosskeeper.core.diffusion.grading import Grading
from mosskeeper.core.diffusion.integrators import step
from mosskeeper.core.diffusion.noise import coloured
from mosskeeper.core.diffusion.palette_pulls import Pulls
from mosskeeper.core.diffusion.result import Progress, Report, report_rest
from mosskeeper.core.diffusion.schedule import noise_levels
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.pictures.resample import cubic, fitted, scaled
from mosskeeper.core.pictures.signal import picture
from mosskeeper.core.recipe import Recipe

F32 = NDArray[np.float32]
_DECIDED = 0.35  # noise level below which the parts have chosen
_PREVIEW_EVERY = 2


class Denoising:
    """Steps, noise and pulls of one take."""

    def __init__(
        self,
        recipe: Recipe,
        noise: np.random.Generator,
        pulls: Pulls,
        tones: Sequence[Control],
        areas: Sequence[str | None],
        grading: Grading,
        report: Report,
        check: Callable[[], None],
    ) -> None:
        """
        Parameters
        ----------
        tones : controls that are added to every estimate.
        grading : of every estimate, after tones.
        areas : for each group of exemplars but the first, the area of references that it is of; None: a region.
        check : asked before every step; may raise.
        """
        self._recipe, self._size = recipe, (recipe.width, recipe.height)
        self._noise = noise
        self._other = np.random.default_rng(recipe.variation.seed) if recipe.variation else None
        self._pulls, self._tones, self._areas, self._grading = pulls, tones, areas, grading
        self._report, self._check = report, check
        self._sigmas = noise_levels(recipe.schedule, recipe.steps)

    @property
    def _decided(self) -> int:
        """The step from which the parts have chosen."""
        decided = int(np.searchsorted(-self._sigmas, -_DECIDED))
        return min(max(decided, 1), self._recipe.steps - 1)

    def decide(self, groups: Sequence[Exemplars], masks: Sequence[F32]) -> None:
        """Denoises small until all parts have chosen.

        Parameters
        ----------
        masks : where each group is followed, (H, W) of the exemplars' size, adding up to 1.
        """
        recipe, segments = self._recipe, groups[0].segments

        def fresh() -> F32:
            return self._varied(lambda rng: coloured(rng, segments.labels, segments.n))

        # each region on a path of its own from the same noise: what it asks changes nothing outside of it
        start = fresh() * np.float32(self._sigmas[0])
        xs = [start] * len(groups)
        for i in range(self._decided):
            self._check()
            estimates = [g.estimate(x, float(self._sigmas[i])) for g, x in zip(groups, xs, strict=True)]
            weights = [g.weights for g in groups]
            noise = fresh() if recipe.sampler == "ancestral" else start
            xs = [
                step(x, e, self._sigmas[i], self._sigmas[i + 1], recipe.sampler, g.estimate, lambda n=noise: n, recipe.eta)  # type: ignore[misc]
                for g, x, e in zip(groups, xs, estimates, strict=True)
            ]
            for group, own in zip(groups, weights, strict=True):
                group.weights = own
            self._pulls.advance(i)
            shown = None
            if i % _PREVIEW_EVERY == 0:
                if self._pulls and not self._pulls.begun:
                    self._begin_pulls(estimates)
                shown = _enlarged(picture(self._pulls.applied(self._toned(crossfaded(estimates, masks)))))
            self._report(Progress(i + 1, recipe.steps, shown))
        if self._pulls:  # the pull starts from the colours that were chosen, before any of it
            self._begin_pulls([g.posterior.mean(g.weights) for g in groups])

    def finish(self, target: F32, drawing: Drawing) -> NDArray[np.uint8]:
        """The last steps at full size.

        With one exemplar left, every step's estimate is that exemplar, whatever noise is still in the state; and the last step, to
        noise level 0, gives its estimate with every sampler. So estimates are made, and no states.

        Parameters
        ----------
        target : the signal (H, W, 3) of the one exemplar that is left.
        drawing : what it is of.
        """
        target = self._toned(target)
        half = (max(1, self._size[0] // 2), max(1, self._size[1] // 2))
        for i in range(self._decided, self._recipe.steps):
            self._check()
            self._pulls.advance(i)
            shown = (i - self._decided) % _PREVIEW_EVERY == 0 and i + 1 < self._recipe.steps
            preview = fitted(picture(self._pulls.applied(target, drawing.labels)), half) if shown else None
            self._report(Progress(i + 1, self._recipe.steps, preview))
        return picture(self._pulls.applied(target, drawing.labels))

    def skip_rest(self) -> None:
        """Tells that the last steps are done, where what was made needs none."""
        report_rest(self._report, self._decided, self._recipe.steps)

    def _begin_pulls(self, estimates: Sequence[F32]) -> None:
        """From the colours of what is everywhere; those of an area from what is there, so that it changes nothing outside of it."""
        inside = {area: picture(own) for area, own in zip(self._areas, estimates[1:], strict=True) if area is not None}
        self._pulls.begin(picture(estimates[0]), inside)

    def _varied(self, noise: Callable[[np.random.Generator], F32]) -> F32:
        """Noise of the seed, turned towards that of a variation; the variance stays."""
        own = noise(self._noise)
        if self._other is None or self._recipe.variation is None:
            return own
        angle = self._recipe.variation.amount * np.pi / 2
        return np.asarray(np.float32(np.cos(angle)) * own + np.float32(np.sin(angle)) * noise(self._other), np.float32)

    def _toned(self, estimate: F32) -> F32:
        for tone in self._tones:
            estimate = tone.added_to(estimate)
        return self._grading.applied(estimate)


def crossfaded(estimates: Sequence[F32], masks: Sequence[F32]) -> F32:
    """What each shows where it is followed; one alone as it is."""
    if len(estimates) == 1:
        return estimates[0]
    return np.asarray(sum(e * m[..., None] for e, m in zip(estimates, masks, strict=True)), np.float32)


def _enlarged(preview: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """Twice the size, smoothly: small previews would show their pixels."""
    return cubic(preview, scaled(preview.shape, 2))
