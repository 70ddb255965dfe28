"""Which composition a take gets where controls say something about structure.

Around the seed's own composition others are tried, one thing at a time: framing and side, pose, head, place in the
frame. All are drawn very small and scored; the one is taken that is best for Σ_c w_c·agreement_c + (1 − w)·likeness
to the seed's own. Since the candidates do not depend on the weight, agreement can only rise with it. The search is
ours.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np

from mosskeeper.core.diffusion.beliefs import GROUNDS, Beliefs, Composition, Stance
from mosskeeper.core.diffusion.exemplars import small_size
from mosskeeper.core.diffusion.structure import Control
from mosskeeper.core.illustrator.camera import FRAMINGS
from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.places import PLACES
from mosskeeper.core.illustrator.skeleton import GAZES, VIEWS
from mosskeeper.core.illustrator.vocabulary.poses import POSES

_AREA = 72 * 90  # px of the drawings that are only scored
_POSSIBLE = 0.02  # probability below which the words rule a value out
_WORTH = 3.0  # of full agreement, against being wholly the seed's own


@dataclass(frozen=True, slots=True)
class _Candidate:
    composition: Composition
    place: str
    agreements: tuple[float, ...]
    likeness: float  # 0…1, to the seed's own

    @property
    def fit(self) -> float:
        return sum(self.agreements)


def choose(
    own: Composition, example: Description, beliefs: Beliefs, controls: list[Control], size: tuple[int, int], check: Callable[[], None]
) -> tuple[Composition, str]:
    """The composition and the place that suit the controls, by their amounts.

    Parameters
    ----------
    example : a description on `own`, of which all candidates are variants.
    check : asked before each drawing; may raise.
    """
    search = _Search(own, example, beliefs, controls, small_size(size, _AREA), check)
    search.run()
    amounts = [min(c.amount, 1.0) for c in controls]
    keep = 1 - max(amounts)

    def score(candidate: _Candidate) -> float:
        return _WORTH * sum(w * a for w, a in zip(amounts, candidate.agreements, strict=True)) + keep * candidate.likeness

    best = max(search.seen, key=score)
    return best.composition, best.place


class _Search:
    def __init__(
        self,
        own: Composition,
        example: Description,
        beliefs: Beliefs,
        controls: list[Control],
        size: tuple[int, int],
        check: Callable[[], None],
    ) -> None:
        self._example, self._beliefs, self._controls = example, beliefs, controls
        self._size, self._check = size, check
        self._own = own
        self.seen = [self._scored(own, example.place)]
        self._best = self.seen[0]

    def run(self) -> None:
        """Tries variants of the best so far, group by group; the place in the frame, which is finest, last and twice."""
        for variants in (self._frames, self._poses, self._heads, self._places, self._shifts, self._fine_shifts):
            for composition, place in list(variants()):
                if any(composition == c.composition and place == c.place for c in self.seen):
                    continue
                candidate = self._scored(composition, place)
                self.seen.append(candidate)
                if candidate.fit > self._best.fit:
                    self._best = candidate

    def _scored(self, composition: Composition, place: str) -> _Candidate:
        self._check()
        first = composition.stances[0]
        drawing = draw(replace(self._example, layout=first.layout, place=place), self._size)
        return _Candidate(composition, place, tuple(c.agreement(drawing) for c in self._controls), self._likeness(first, place))

    def _likeness(self, stance: Stance, place: str) -> float:
        mine, theirs = self._own.stances[0].layout, stance.layout
        same = [getattr(mine, name) == getattr(theirs, name) for name in ("pose", "framing", "facing", "view", "gaze", "ground")]
        moved = abs(mine.shift - theirs.shift) + abs(np.log(theirs.zoom / mine.zoom))
        return float((sum(same) + (place == self._example.place) + np.exp(-4 * moved)) / (len(same) + 2))

    def _variant(self, **changes: object) -> tuple[Composition, str]:
        stance = self._best.composition.stances[0]
        layout = replace(stance.layout, **changes)  # type: ignore[arg-type]
        return self._best.composition.with_first(replace(stance, layout=layout)), self._best.place

    def _possible(self, attribute: str, values: Iterator[str]) -> list[str]:
        odds = self._beliefs.probabilities(attribute)
        named = self._beliefs.says(attribute)
        return [v for v in values if not named or odds[v] > _POSSIBLE]

    @property
    def _layout(self) -> Layout:
        return self._best.composition.stances[0].layout

    def _frames(self) -> Iterator[tuple[Composition, str]]:
        if self._layout.pinned is None:
            for framing in self._possible("framing", iter(FRAMINGS)):
                for facing in (1, -1):
                    yield self._variant(framing=framing, facing=facing)

    def _poses(self) -> Iterator[tuple[Composition, str]]:
        if self._layout.skeleton is None:
            for pose in self._possible("pose", iter(POSES)):
                yield self._variant(pose=pose)

    def _heads(self) -> Iterator[tuple[Composition, str]]:
        for view in self._possible("view", iter(VIEWS)):
            yield self._variant(view=view)
        for gaze in self._possible("gaze", iter(GAZES)):
            yield self._variant(gaze=gaze)

    def _places(self) -> Iterator[tuple[Composition, str]]:
        composition = self._best.composition
        for place in self._possible("place", iter(PLACES)):
            yield composition, place
        for ground in range(GROUNDS):
            yield self._variant(ground=ground)

    def _shifts(self, by: float = 0.12) -> Iterator[tuple[Composition, str]]:
        if self._layout.pinned is None:
            for shift in (-by, 0.0, by):
                for zoom in (1 / (1 + by), 1.0, 1 + by):
                    yield self._variant(shift=self._layout.shift + shift, zoom=self._layout.zoom * zoom)

    def _fine_shifts(self) -> Iterator[tuple[Composition, str]]:
        return self._shifts(0.04)
