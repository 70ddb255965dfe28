"""Repairs that need no denoising: a mask opened in an explained picture, a hole filled, a canvas made wider."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.conditioning import References
from mosskeeper.core.diffusion.random_streams import streams
from mosskeeper.core.diffusion.result import TakeResult
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.description import Part, Person
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.illustrator.vocabulary.people import CHILDREN
from mosskeeper.core.mending.ask.changed_scene import Hand, Leeway
from mosskeeper.core.mending.ask.nearby_numbers import Near, Numbers
from mosskeeper.core.mending.fill.extension import extended
from mosskeeper.core.mending.fill.patch_fill import fill
from mosskeeper.core.mending.masks import softly
from mosskeeper.core.mending.redraw.mend import Mended, Opening
from mosskeeper.core.mending.redraw.window import mended_beyond, opened_by
from mosskeeper.core.reading.any_reader import read_any
from mosskeeper.core.recipe import FacePut, Recipe, Source
from mosskeeper.core.takes.described_person import somebody
from mosskeeper.core.takes.explained_source import SourceExplanation, explanation, largest_figure
from mosskeeper.core.takes.lending import lending

NO_FACE = "the picture stays as it was"
_OF_TARGET = ("build",)  # traits that somebody keeps who gets another's face
_SMALL_HEAD = 20.0  # px, radius
_LITTLE_FACE = 0.25  # of the area of a head
UNEXPLAINED = "no scene explains this picture, since nobody was recognised in it"


@dataclass(frozen=True, slots=True, eq=False)
class Start:
    """A source picture on the canvas.

    picture : (H, W, 3) at the size that it has there. opened : (H, W) 0…1, as far as it may change; None without a mask.
    """

    own: Source
    picture: NDArray[np.uint8]
    opened: NDArray[np.float32] | None
    explanation: SourceExplanation | None


def repaired(
    recipe: Recipe, start: Start, rng: np.random.Generator, check: Callable[[], None], references: References, hand: Hand | None = None
) -> TakeResult | None:
    """The take of a recipe that repairs a picture; None where it takes denoising.

    references : of the recipe; they lend to the figure that a mask is of. hand : what its poses and boards do there.

    Raises ArtistError where too little of the picture is left to go on from.
    """
    if start.own.face is not None:
        return _with_face(start, start.own.face, references)
    leeway = Leeway(lending(references), _numbers(recipe, rng), hand)
    if start.own.extends:
        wide = _extended(start, int(rng.integers(2**31)), check)
        return wide if start.own.window is None else _in_window(recipe, start, wide, leeway, check)
    if start.opened is None:
        return None
    opened = start.opened > 0
    if not opened.any():
        explained = None if start.explanation is None else start.explanation.by
        return TakeResult(start.picture, None, None, explained if isinstance(explained, LayeredScenes) else None)
    if start.explanation is not None:
        made = _mended(recipe, start, start.explanation, opened, leeway)
    elif not recipe.words.strip():
        made = _filled(start, opened, int(rng.integers(2**31)), check)
    else:
        return None
    # what was opened further, to outlines, is open wholly
    return replace(made, image=softly(start.picture, made.image, np.where(opened, start.opened, 1).astype(np.float32)))


def _with_face(start: Start, put: FacePut, references: References) -> TakeResult:
    """The picture with the references' face on somebody in it; where that cannot be, the picture as it is, and why."""

    def stays(why: str) -> TakeResult:
        known = None if start.explanation is None else start.explanation.by
        return TakeResult(start.picture, None, None, known if isinstance(known, LayeredScenes) else None, (f"{NO_FACE}: {why}",))

    lend, anchor = lending(references), next((one.subject.person for one in references.lent if one.subject is not None), None)
    if lend is None or anchor is None:
        return stays("no person is recognised in the anchor")
    if start.explanation is None:
        return stays(UNEXPLAINED)
    made = start.explanation.with_face(put.figure, lambda person: lend(person, _OF_TARGET))
    if made is None:
        return stays("the figure that is meant is not in it")
    scenes = made.explained if start.explanation.is_take else None
    says = (*start.explanation.says, *made.says, *_fit(start.explanation.scene, made, put, anchor))
    return TakeResult(made.picture, made.after, made.explained.scene.description, scenes, says)


def _fit(before: Scene, made: Mended, put: FacePut, anchor: Person) -> list[str]:
    """What does not fit where a face was put on: little of it is seen, or the body is another's."""
    shown, said = made.after.shown, list[str]()
    n = largest_figure(made.before) if put.figure is None else put.figure
    face = (made.after.figures == n + 1) & np.isin(made.after.labels, (Part.FACE, Part.EYES, Part.BROW, Part.MOUTH, Part.FACIAL_HAIR))
    radius = shown[n].head[2]
    if radius < _SMALL_HEAD:
        said.append(f"the head is {round(2 * radius)} px high: a face is hardly seen at that size")
    if face.sum() < _LITTLE_FACE * np.pi * radius**2:
        said.append("little of the face is seen: it is turned away or covered")
    child = before.description.figures[n].subject in CHILDREN
    if child != (anchor.subject in CHILDREN):
        said.append(f"the body is {'a child' if child else 'a grown-up'}'s: the head keeps its proportions")
    return said


def _numbers(recipe: Recipe, rng: np.random.Generator) -> Numbers:
    """A seed's numbers, near to those of the seed that the recipe's variation names."""
    if recipe.variation is None:
        return rng
    return Near(rng, streams(recipe.variation.seed).source, recipe.variation.amount)


def _in_window(recipe: Recipe, start: Start, wide: TakeResult, leeway: Leeway, check: Callable[[], None]) -> TakeResult:
    """What the words ask in a window over the edge of a picture that was made wider."""
    window, own = start.own.window, start.own
    if window is None or not (recipe.words.strip() or recipe.negative.strip() or leeway.says):
        return wide
    opened, opening = opened_by(window, (recipe.width, recipe.height)), Opening(own.feather, own.outlines)

    def whom(words: str, rng: np.random.Generator) -> Person:
        return somebody(words, rng, recipe)

    known = start.explanation
    if known is not None and isinstance(known.by, LayeredScenes):
        made = mended_beyond(wide.image, known.by, own.wider, opened, recipe.words, recipe.negative, whom, opening, own.strength, leeway)
    else:
        check()
        read = explanation(wide.image, None, read_any(wide.image), check)
        if read is None:
            return replace(wide, says=(*wide.says, f"{UNEXPLAINED}: the place goes on, what the words ask is left out"))
        made = read.mended(opened, recipe.words, recipe.negative, whom, opening, own.strength, leeway)
    return replace(wide, image=made.picture, says=(*wide.says, *made.says))


def _mended(recipe: Recipe, start: Start, explanation: SourceExplanation, opened: NDArray[np.bool_], leeway: Leeway) -> TakeResult:
    """With what the words ask where the mask is open."""

    def whom(words: str, rng: np.random.Generator) -> Person:
        return somebody(words, rng, recipe)

    made = explanation.mended(
        opened, recipe.words, recipe.negative, whom, Opening(start.own.feather, start.own.outlines), start.own.strength, leeway
    )
    # what was not drawn here is not drawn by the changed scene either: it is read again for the next mend
    scenes = made.explained if explanation.is_take else None
    return TakeResult(made.picture, made.after, made.explained.scene.description, scenes, (*explanation.says, *made.says))


def _filled(start: Start, opened: NDArray[np.bool_], seed: int, check: Callable[[], None]) -> TakeResult:
    """With the masked place made up from the rest."""
    try:
        made = fill(start.picture, opened, seed, check=check)
    except ValueError as error:
        raise ArtistError(f"The masked place could not be filled: {error}.", "source") from None
    return TakeResult(made, None, None, None, (f"{UNEXPLAINED}: what the mask covers is filled",))


def _extended(start: Start, seed: int, check: Callable[[], None]) -> TakeResult:
    """On a wider canvas, in the same place."""
    try:
        if start.explanation is not None:
            image = start.explanation.extended(start.own.wider, seed, check)
        else:
            image = extended(start.picture, start.own.wider, seed=seed, check=check)
    except ValueError as error:
        raise ArtistError(f"The picture could not be extended: {error}.", "source") from None
    return TakeResult(image, None, None, None, () if start.explanation is None else start.explanation.says)
