"""A source picture that is explained by scenes: drawn anew with something changed, never painted over."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Description
from mosskeeper.core.illustrator.draw import Wider, draw_scene
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.inversion.invert import Inverted, invert
from mosskeeper.core.mending.ask.changed_scene import Leeway, Somebody
from mosskeeper.core.mending.fill.extension import extended, extended_take
from mosskeeper.core.mending.redraw.cut_out import FIRST_OF_FIGURE
from mosskeeper.core.mending.redraw.faces import Change, put_face, put_face_foreign
from mosskeeper.core.mending.redraw.foreign import DRAWN_FROM, mend_foreign, strengthened_foreign
from mosskeeper.core.mending.redraw.mend import Mended, Opening, mend
from mosskeeper.core.mending.redraw.strength import redrawn
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.scenes.interpolation import on_composition

U8 = NDArray[np.uint8]
_EXPLAINED = 0.5  # of a picture's figure, from which its scene is used
_OLDER = "this take was drawn by an older illustrator: it was read like any picture"


@dataclass(frozen=True, slots=True, eq=False)
class SourceExplanation:
    """What a source picture was drawn from (a take), or what explains it (any other)."""

    picture: U8  # (H, W, 3)
    by: LayeredScenes | Inverted
    older: bool = False

    @property
    def scene(self) -> Scene:
        """The scene whose composition stays."""
        return self.by.scene

    def mended(
        self,
        opened: NDArray[np.bool_],
        words: str,
        negative: str,
        somebody: Somebody,
        opening: Opening,
        strength: float,
        leeway: Leeway | None = None,
    ) -> Mended:
        """The picture with what words ask where a mask (H, W) is open."""
        if isinstance(self.by, LayeredScenes):
            return mend(self.picture, self.by, opened, words, negative, somebody, opening, strength, leeway)
        return mend_foreign(self.picture, self.by, opened, words, negative, somebody, opening, strength, leeway)

    def towards(self, description: Description, strength: float) -> tuple[U8, Drawing, Scene]:
        """The picture on its way to another description: the picture, its drawing and its scene."""
        last = on_composition(self.scene, description)
        if isinstance(self.by, LayeredScenes):
            return redrawn(self.picture, self.by, last, strength)
        return strengthened_foreign(self.picture, self.by, last, strength)

    def with_face(self, figure: int | None, change: Change) -> Mended | None:
        """The picture with another face on its figure of this number; None: on the largest. None where it has no such figure."""
        drawing = draw_scene(self.scene)
        n = largest_figure(drawing) if figure is None else figure
        if n >= len(drawing.shown):
            return None
        if isinstance(self.by, LayeredScenes):
            return put_face(self.picture, self.by, n, change)
        return put_face_foreign(self.picture, self.by, n, change)

    def extended(self, wider: Wider, seed: int, check: Callable[[], None]) -> U8:
        """The picture on its wider canvas.

        Raises ValueError where too little of the place is seen to go on from.
        """
        if isinstance(self.by, LayeredScenes):
            return extended_take(self.picture, self.by, wider)
        return extended(self.picture, wider, self.by.parts >= FIRST_OF_FIGURE, self.by.scene, seed, check)

    def explains_what_is_made(self, strength: float) -> bool:
        """Whether a scene on the way to another description draws all of the picture there: of one not drawn here only from a half on."""
        return self.is_take or strength >= DRAWN_FROM

    @property
    def is_take(self) -> bool:
        return isinstance(self.by, LayeredScenes)

    @property
    def says(self) -> tuple[str, ...]:
        return (_OLDER,) if self.older else ()


def largest_figure(drawing: Drawing) -> int:
    """The figure of which most is seen, from 0."""
    seen = np.bincount(drawing.figures.ravel(), minlength=2)[1:]
    return int(np.argmax(seen))


def explanation(
    picture: U8, known: LayeredScenes | None, reading: Reading | None, check: Callable[[], None] = lambda: None
) -> SourceExplanation | None:
    """What explains a picture; None where nobody is seen in it, or too little of it is explained.

    Parameters
    ----------
    picture : (H, W, 3), of the size that it has on the canvas.
    known : its scenes, where it is a take.
    check : asked between drawings; may raise.
    """
    if known is not None and known.holds and known.size == picture.shape[1::-1]:
        return SourceExplanation(picture, known)
    found = None if reading is None else invert(picture, reading, check)
    if found is None or found.explains["figure"] < _EXPLAINED:
        return None
    return SourceExplanation(picture, found, older=known is not None and not known.holds)
