"""`./moss sheets mend`: what mending does, on takes of many kinds, to be looked at."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.result import TakeResult
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.inversion.invert import invert
from mosskeeper.core.mending.fill.extension import extended, extended_take
from mosskeeper.core.mending.fill.joining import Piece, join
from mosskeeper.core.mending.masks import dilated
from mosskeeper.core.mending.redraw.faces import face_of, put_face, put_face_foreign
from mosskeeper.core.mending.redraw.foreign import mend_foreign
from mosskeeper.core.mending.redraw.mend import Mended, Opening, mend
from mosskeeper.core.pictures.resample import fitted
from mosskeeper.core.reading.classes import PARTS
from mosskeeper.core.reading.reader import read
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.scenes.interpolation import at_strength, on_composition
from mosskeeper.core.takes.described_person import somebody
from mosskeeper.core.takes.take import make_take

U8 = NDArray[np.uint8]
_TAKES = (
    (
        131,
        "a young woman with copper hair in a long braid, freckles, in a navy festival coat at the canal market at dusk, with a lantern, half figure",
    ),
    (7, "an old woman with silver curls and round glasses in a plum night cloak in the kitchen at noon, full figure, holding a book"),
    (21, "a girl in a red coat and an old man with a lantern on the forest path at dawn, full figure"),
    (5, "a young woman with copper hair in a tunic in the fern house at noon, portrait, proud"),
    (3, "a boy with a kite on the roof garden, ink and wash, full figure"),
    (9, "a man with a beard in a tunic at the lamp quay at night, half figure"),
)
_FOREIGN = tuple((300 + k, words) for k, words in enumerate(("half figure", "full figure", "portrait", "half figure, at night") * 2))
_WAYS = (
    (131, "an old man with a beard in a ball gown at the lamp quay at noon, sad, with a fox"),
    (5, "a boy with red hair, laughing, in rain overalls on the roof garden at night"),
    (9, "a woman with black curls in a garden dress in the fern house at dawn, joyful"),
)


@dataclass(frozen=True, slots=True)
class MendCase:
    """One kind of mend: what is said, and where."""

    name: str
    words: str
    where: str
    negative: str = ""
    grown: bool = True


KINDS = (
    MendCase("hat on", "a straw hat", "hat"),
    MendCase("hair", "black curls", "head"),
    MendCase("glasses", "round glasses", "head"),
    MendCase("expression", "laughing", "head"),
    MendCase("coat", "a travelling coat", "all"),
    MendCase("colour", "a red coat", "all"),
    MendCase("in the hand", "an umbrella", "hand"),
    MendCase("put down", "a fox", "ground"),
    MendCase("person removed", "", "figure"),
    MendCase("sky", "night", "sky", grown=False),
    MendCase("weather", "snow", "place", grown=False),
    MendCase("eyes", "looking left", "eyes"),
)


def where(name: str, drawing: Drawing) -> NDArray[np.bool_]:
    """(H, W): a place of a drawing as somebody would brush it over."""
    (h, w), (x, y, r) = drawing.labels.shape, drawing.head
    hand = drawing.shown[0].joints[7 if drawing.shown[0].joints[7, 1] < h else 4]
    ellipses = {
        "hat": (x - 1.9 * r, y - 2.1 * r, x + 1.9 * r, y - 0.1 * r),
        "head": (x - 1.7 * r, y - 1.9 * r, x + 1.7 * r, y + 1.5 * r),
        "eyes": (x - r, y - 0.35 * r, x + r, y + 0.6 * r),
        "hand": (hand[0] - 1.6 * r, hand[1] - 2.4 * r, hand[0] + 1.6 * r, hand[1] + 1.6 * r),
        "ground": (0.02 * w, h - 3.2 * r, 0.02 * w + 3.0 * r, h - 4),
    }
    if name in ellipses:
        x0, y0, x1, y1 = ellipses[name]
        mask = np.zeros((h, w), np.uint8)
        cv2.ellipse(mask, (((x0 + x1) / 2, (y0 + y1) / 2), (x1 - x0, y1 - y0), 0), 255, -1)
        return np.asarray(mask > 0)
    if name == "figure":
        return dilated(drawing.figures == len(drawing.shown), 15)
    if name == "sky":
        return np.asarray((drawing.labels == Part.SKY) & (drawing.figures == 0))
    if name == "place":
        return np.asarray(drawing.figures == 0)
    return np.ones((h, w), dtype=bool)


def mended(take: TakeResult, kind: MendCase) -> Mended:
    """An own take with one kind of mend."""
    assert take.explained is not None and take.drawing is not None
    mask = where(kind.where, take.drawing)
    return mend(take.image, take.explained, mask, kind.words, kind.negative, somebody, Opening(grown=kind.grown))


def make(out: Path, width: int) -> Iterator[Path]:
    """Writes the sheets and yields the path of each."""
    out.mkdir(parents=True, exist_ok=True)
    for name, rows in (("own", _own()), ("foreign", _foreign()), ("strength", _strengths()), ("larger", _larger()), ("faces", _faces())):
        path = out / f"mend-{name}.jpg"
        cv2.imwrite(str(path), sheet(list(rows), width)[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, 82])
        yield path


def _take(seed: int, words: str) -> TakeResult:
    return make_take(Recipe(words=words, width=512, height=640, styles=[] if "ink" in words else ["gouache"]), seed)


def _own() -> Iterator[list[U8]]:
    for seed, words in _TAKES:
        take = _take(seed, words)
        yield [take.image, *(mended(take, kind).picture for kind in KINDS)]


def _foreign() -> Iterator[list[U8]]:
    """Takes mended as if nobody knew their scenes: the picture, the scene that explains it, mends."""
    for seed, words in _FOREIGN:
        take = _take(seed, words)
        found = invert(take.image, read(take.image))
        if found is None:
            continue
        drawing = draw_scene(found.scene)
        row = [take.image, drawing.image]
        for kind in KINDS[:6]:
            made = mend_foreign(take.image, found, where(kind.where, drawing), kind.words, "", somebody, Opening(grown=True))
            row.append(made.picture)
        yield row


def _strengths() -> Iterator[list[U8]]:
    words_of = dict(_TAKES)
    for seed, words in _WAYS:
        take, other = _take(seed, words_of[seed]), _take(seed + 1, words)
        assert take.explained is not None and other.description is not None
        last = on_composition(take.explained.scene, other.description)
        yield [draw_scene(at_strength(take.explained.scene, last, k / 7)).image for k in range(8)]


def _larger() -> Iterator[list[U8]]:
    takes = [_take(seed, words) for seed, words in _TAKES[:4]]
    for take in takes:
        assert take.explained is not None
        found = invert(take.image, read(take.image))
        figures = None if found is None else found.parts >= PARTS.index("hair")
        foreign = extended(take.image, (128, 0, 128, 0), figures, None if found is None else found.scene)
        yield [take.image, extended_take(take.image, take.explained, (128, 0, 128, 0)), foreign]
    pieces = [Piece(take.image, take.explained) for take in takes]
    yield [join(pieces[0], pieces[3], 96).picture, join(Piece(takes[0].image), Piece(takes[1].image), 96).picture]


def _faces() -> Iterator[list[U8]]:
    anchor = _take(*_TAKES[0]).description
    assert anchor is not None
    for seed, words in _FOREIGN[:6]:
        take = _take(seed, words)
        assert isinstance(take.explained, LayeredScenes)
        found = invert(take.image, read(take.image))
        foreign = [] if found is None else [put_face_foreign(take.image, found, 0, face_of(anchor)).picture]
        yield [take.image, put_face(take.image, take.explained, 0, face_of(anchor)).picture, *foreign]


def sheet(rows: list[list[U8]], width: int) -> U8:
    """Rows of pictures under each other, all of one height."""
    height = min(width * 640 // sum(p.shape[1] * 640 // p.shape[0] for p in row) for row in rows)
    lines = []
    for row in rows:
        line = np.hstack([fitted(p, (round(p.shape[1] * height / p.shape[0]), height)) for p in row])
        lines.append(np.pad(line, ((0, 4), (0, max(0, width - line.shape[1])), (0, 0)), constant_values=245)[:, :width])
    return np.vstack(lines)
