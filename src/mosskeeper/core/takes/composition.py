"""Which composition a take gets where controls say something about structure.

Around the seed's own composition others are tried, one thing at a time: framing and side, pose, head, place in the
frame. All are drawn very small and scored; the one is taken that is best for Σ_c w_c·agreement_c + (1 − w)·likeness
to the seed's own. Since the candidates do not depend on the weight, agreement can only rise with it. The search is
ours.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from mosskeeper.core.diffusion.control_maps import Control
from mosskeeper.core.diffusion.exemplars import small_size
from mosskeeper.core.illustrator import places
from mosskeeper.core.illustrator.camera import FRAMINGS
from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.illustrator.skeleton import GAZES, VIEWS
from mosskeeper.core.illustrator.vocabulary import poses
from mosskeeper.core.takes.beliefs import GROUNDS, Beliefs, Composition, Stance

_AREA = 72 * 90  # px of the drawings that are only scored
_FINE_AREA = 128 * 160  # where few are
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


def offered(own: Composition, scene: Scene, measure: float | None) -> Composition:
    """A composition with its first figure where, and posed as, that of a scene is.

    Without a `measure` the skeleton is fitted to the own body, with one of 1 it keeps the scene's proportions.
    """
    stance, held, spot = own.stances[0], scene.postures[0], scene.camera.spots[0]
    (w, h), neck = scene.size, spot.origin + held.joint("neck") * spot.scale
    skeleton = tuple((float(x), float(y)) for x, y in held.joints)
    layout = replace(
        stance.layout,
        framing=scene.camera.framing,
        facing=1,
        shift=0.0,
        zoom=1.0,
        view="profile" if held.head.profile else "free",
        gaze="level",
        skeleton=skeleton,
        measure=measure,
        pinned=(float(neck[0] / w), float(neck[1] / h), spot.scale / h),
        behind=(),
    )
    return own.with_first(replace(stance, layout=layout))


def choose(
    own: Composition,
    example: Description,
    beliefs: Beliefs,
    controls: list[Control],
    size: tuple[int, int],
    check: Callable[[], None],
    scenes: Sequence[Scene] = (),
) -> tuple[Composition, str]:
    """The composition and the place that suit the controls, by their amounts.

    Parameters
    ----------
    example : a description on `own`, of which all candidates are variants.
    check : asked before each drawing; may raise.
    scenes : that explain the controls' pictures: their compositions are tried, too.
    """
    search = _Search(own, example, beliefs, controls, small_size(size, _FINE_AREA if scenes else _AREA), check)
    search.run(scenes)
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

    def run(self, scenes: Sequence[Scene]) -> None:
        """Tries variants of the best so far, group by group; the place in the frame, which is finest, last and twice."""
        groups: tuple[Callable[[], Iterator[tuple[Composition, str]]], ...]
        groups = (self._frames, self._poses, self._heads, self._places, self._shifts, self._fine_shifts)
        if scenes:  # what explains a picture is nearer than what small drawings tell: only what it leaves open is tried about it
            named = self._beliefs.says("place")
            for scene, measure in itertools.product(scenes, (None, 1.0)):
                place = self._example.place if named else scene.description.place
                self.seen.append(self._scored(offered(self._own, scene, measure), place))
            self._best = max(self.seen[1:], key=lambda candidate: candidate.fit)
            groups = (self._grounds, self._shifts, self._fine_shifts)
        for variants in groups:
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
            for pose in self._possible("pose", iter(poses.USUAL)):
                yield self._variant(pose=pose)

    def _heads(self) -> Iterator[tuple[Composition, str]]:
        for view in self._possible("view", iter(VIEWS)):
            yield self._variant(view=view)
        for gaze in self._possible("gaze", iter(GAZES)):
            yield self._variant(gaze=gaze)

    def _places(self) -> Iterator[tuple[Composition, str]]:
        composition = self._best.composition
        for place in self._possible("place", iter(places.USUAL)):
            yield composition, place
        yield from self._grounds()

    def _grounds(self) -> Iterator[tuple[Composition, str]]:
        for ground in range(GROUNDS):
            yield self._variant(ground=ground)

    def _shifts(self, by: float = 0.12) -> Iterator[tuple[Composition, str]]:
        if self._layout.pinned is not None:
            x, y, size = self._layout.pinned
            for dx, dy in ((0.0, 0.0), (by / 4, 0.0), (-by / 4, 0.0), (0.0, by / 4), (0.0, -by / 4)):
                for k in (1 / (1 + by / 2), 1.0, 1 + by / 2):
                    yield self._variant(pinned=(x + dx, y + dy, size * k))
        else:
            for shift in (-by, 0.0, by):
                for zoom in (1 / (1 + by), 1.0, 1 + by):
                    yield self._variant(shift=self._layout.shift + shift, zoom=self._layout.zoom * zoom)

    def _fine_shifts(self) -> Iterator[tuple[Composition, str]]:
        return self._shifts(0.04)
