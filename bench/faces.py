"""`./moss bench faces`: whether the anchor's face on a picture is the anchor's, and whether all else of the picture stays.

Targets are drawings of other people in other places, lights, finishes, expressions and views, some of them two at once: as takes,
with their stored scenes, and redrawn by other hands, known by their pixels alone. Drift is measured as the studio measures it.
"""

from __future__ import annotations

import time
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from statistics import mean, median

import cv2
import numpy as np
from numpy.typing import NDArray

from bench.report import Row, row
from bench.subject.own import IDENTITY, A, B, read_as_own, reference_of, same
from bench.subject.renderers import RENDERERS
from mosskeeper.commands.subject_people import people
from mosskeeper.core.continuity.drift import drift
from mosskeeper.core.illustrator.description import Description, Layout, Part
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.illustrator.vocabulary.people import CHILDREN
from mosskeeper.core.mending.masks import dilated
from mosskeeper.core.reading.any_reader import read_any
from mosskeeper.core.recipe import Cue, FacePut, Recipe, Source
from mosskeeper.core.takes.repair import NO_FACE
from mosskeeper.core.takes.take import make_take

_PERSONS, _OWN, _FOREIGN = 20, 6, 3
_SIZE = (384, 480)
_SEED = 20261202
_EXPRESSIONS = ("calm", "joyful", "sad", "surprised", "angry", "laughing")
_PLACES = ("bell tower", "lamp quay", "fern house", "kitchen", "canal market", "forest path")
_HEAD_AND_SKIN = (Part.HAIR, Part.FACIAL_HAIR, Part.FACE, Part.BROW, Part.EYES, Part.MOUTH, Part.EAR, Part.NECK, Part.SKIN, Part.LEG,
                  Part.HAND, Part.ACCESSORY)  # fmt: skip
_ABOUT = 25  # px about a head in which its shadow falls
_KEPT = tuple(name for name in IDENTITY if name not in ("build", "subject"))


@dataclass(frozen=True, slots=True)
class _Put:
    """One face put on. refused : told, the picture as it was. outside : values changed where nothing of head and skin is."""

    before: float | None
    after: float | None
    refused: bool
    identity: bool
    expression: bool
    others: bool
    outside: float
    seconds: float


def _target(n: int, k: int) -> Description:
    """Somebody else than person `n`, of the same kind of body: a face goes on another's, a head on a child's is told."""
    rng = np.random.default_rng([_SEED, n, k])
    alike = [p for m, p in enumerate(people()) if m != n and (p.subject in CHILDREN) == (people()[n].subject in CHILDREN)]
    who, other = rng.choice(len(alike), 2, replace=False) if len(alike) > 1 else (0, 0)
    layout = Layout("facing", ("bust", "half")[k % 2], view=("front", "three-quarter", "free")[k % 3])
    fields = {name: getattr(alike[who], name) for name in IDENTITY}
    target = Description(
        **fields,
        layout=layout,
        expression=_EXPRESSIONS[k % len(_EXPRESSIONS)],
        place=_PLACES[int(rng.integers(len(_PLACES)))],
        time=("noon", "morning", "dusk")[k % 3],
        finish=(("gouache", "watercolour", "felt collage")[k % 3],),
    )
    if k % 5 != 4:
        return target
    beside = replace(alike[other], layout=replace(layout, framing="half", shift=0.25))
    return replace(target, layout=replace(layout, framing="half", shift=-0.2), others=(beside,))


def _measured(n: int) -> list[tuple[bool, _Put]]:
    cv2.setNumThreads(1)
    return list(_puts(n))


def _puts(n: int) -> Iterator[tuple[bool, _Put]]:
    """Person `n` on all targets; whether each was an own take."""
    anchor, reading = reference_of(n)[0], read_as_own(n)
    for k in range(_OWN + _FOREIGN):
        own, scenes = k < _OWN, LayeredScenes.of([scene_of(_target(n, k), _SIZE)])
        drawing = scenes.drawn()
        picture = drawing.image if own else list(RENDERERS.values())[k % len(RENDERERS)](draw_scene(scenes.scene, with_albedo=True))
        seen = read_any(picture)
        cue = Cue(id="1", role="face", picture=A, weight=1.0)
        recipe = Recipe(
            width=_SIZE[0], height=_SIZE[1], steps=4, cues=[cue], source=Source(picture=B, face=FacePut(figure=0 if own else None))
        )
        started = time.perf_counter()
        made = make_take(
            recipe, k, {A: anchor, B: picture}, readings={A: reading} | ({} if own else {B: seen}), explained={B: scenes} if own else None
        )
        seconds = time.perf_counter() - started
        far = [drift(one.main, [reading.main]) for one in (seen, read_any(made.image))]
        now = made.explained.scene.description.figures if made.explained is not None else ()
        yield (
            own,
            _Put(
                *(None if one is None else one.distance for one in far),
                any(said.startswith(NO_FACE) for said in made.says),
                bool(now) and same(now[0], people()[n], _KEPT),
                bool(now) and now[0].expression == scenes.scene.description.expression,
                not now or now[1:] == scenes.scene.description.figures[1:],
                _outside(picture, made.image, scenes, made.explained),
                seconds,
            ),
        )


def _outside(before: NDArray[np.uint8], after: NDArray[np.uint8], scenes: LayeredScenes, made: LayeredScenes | None) -> float:
    """The share of pixels changed where nothing of head and skin is; of what was not drawn here, where no figure is."""
    drawings = [scenes.drawn(), *([] if made is None else [made.drawn()])]
    parts = [(d.figures == 1) & (np.isin(d.labels, _HEAD_AND_SKIN) if made is not None else d.figures > 0) for d in drawings]
    away = ~dilated(np.any(parts, axis=0), _ABOUT)
    return float((before[away] != after[away]).any(-1).mean())


def measure() -> list[Row]:
    """Rows of own takes, then of pictures of other hands."""
    with ProcessPoolExecutor(2, initializer=cv2.setNumThreads, initargs=(1,)) as pool:
        found = [one for made in pool.map(_measured, range(_PERSONS)) for one in made]
    rows = []
    for own, called, aim in ((True, "own takes", ">= 0.95"), (False, "drawn by others", ">= 0.85")):
        puts = [put for mine, put in found if mine == own]
        rows += [
            row(f"{called}: drift to the anchor over 1 before, of {len(puts)}", _share(put.before for put in puts), "share", ">= 0.9"),
            row(f"{called}: drift at most 1 after", 1 - _share(put.after for put in puts), "share", aim),
            row(f"{called}: refused, and told", mean(put.refused for put in puts), "share"),
            row(f"{called}: pixels changed elsewhere", mean(put.outside for put in puts), "share", "<= 0" if own else "<= 0.01"),
            row(f"{called}: seconds a picture of {_SIZE[0]} × {_SIZE[1]}", median(put.seconds for put in puts), "s"),
        ]
        if own:
            rows += [
                row(
                    f"{called}: marks, beard, glasses, hair, skin and face the anchor's",
                    mean(put.identity for put in puts),
                    "share",
                    ">= 0.95",
                ),
                row(f"{called}: expression kept", mean(put.expression for put in puts), "share", ">= 0.9"),
                row(f"{called}: a person not meant changed", mean(not put.others for put in puts), "share", "<= 0"),
            ]
    return rows


def _share(distances: Iterator[float | None]) -> float:
    """How many of those that can be told are another person's."""
    told = [value > 1 for value in distances if value is not None]
    return mean(told) if told else 0.0
