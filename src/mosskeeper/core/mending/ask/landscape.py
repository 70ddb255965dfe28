"""Open country from words and masks: an empty canvas on which part after part is described.

The horizon and the light are held from the first; hills, water, trees and clouds take the mask's outline, grounds its place.
"""

from __future__ import annotations

import re
from dataclasses import replace

import cv2
import numpy as np

from mosskeeper.core.illustrator.description import Description, Layout, Rgb
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.places import OPEN_COUNTRY
from mosskeeper.core.illustrator.scene import Disc, Rough, Scene, scene_of
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH
from mosskeeper.core.mending.masks import Mask
from mosskeeper.core.words.understand import understand

_MOST_POINTS = 36
_MOST_ROUGHS = 24
# Words, the shape that they are, and its colour where they name none.
_SHAPES: tuple[tuple[str, str, Rgb], ...] = (
    (r"mountains?|range|ridges?|cliffs?|peaks?", "hill", (0.50, 0.52, 0.60)),
    (r"hills?|dunes?", "hill", (0.52, 0.60, 0.40)),
    (r"trees?|woods?|forest|bush(?:es)?|hedge", "tree", (0.33, 0.48, 0.27)),
    (r"sea|waves?|water|lake|river|pond|stream", "water", (0.36, 0.56, 0.64)),
    (r"clouds?", "cloud", (0.95, 0.94, 0.92)),
)
_GROUNDS: tuple[tuple[str, tuple[Rgb, ...]], ...] = (
    (r"sand|beach|desert", ((0.88, 0.80, 0.62), (0.84, 0.73, 0.53))),
    (r"grass|meadow|lawn|field", ((0.60, 0.68, 0.42), (0.42, 0.55, 0.28))),
    (r"snow", ((0.93, 0.95, 0.98), (0.88, 0.91, 0.96))),
    (r"earth|path|road|mud|soil", ((0.62, 0.52, 0.40), (0.50, 0.40, 0.30))),
    (r"stones?|rock|gravel", ((0.62, 0.61, 0.60), (0.50, 0.50, 0.51))),
)
_LIGHTS: tuple[tuple[str, Rgb], ...] = ((r"sun", (1.0, 0.90, 0.62)), (r"moon", (0.94, 0.95, 0.90)))


def empty_canvas(size: tuple[int, int]) -> LayeredScenes:
    """Open country with nobody in it, of a size (width, height): what an empty canvas begins as."""
    description = Description(place=OPEN_COUNTRY, time="noon", weather="clear", layout=Layout("standing", "full"))
    bare = ((0.90, 0.88, 0.82), (0.86, 0.83, 0.76))
    return LayeredScenes.of([replace(scene_of(description, size), absent=frozenset({0}), ground=bare)])


def landscaped(scene: Scene, mask: Mask, words: str, told: list[str]) -> Scene:
    """The scene with the country that words name where a mask (H, W) is open; of other places nothing is changed."""
    if scene.description.place != OPEN_COUNTRY or not mask.any():
        return scene
    named = understand(words).wanted.get("colour", {})
    colour: Rgb | None = next((_rgb(CLOTH[name]) for name in named), None)
    for pattern, tones in _GROUNDS:
        if re.search(rf"\b(?:{pattern})\b", words, re.IGNORECASE):
            told.append(f"ground: {re.search(pattern, words, re.IGNORECASE)[0]}")  # type: ignore[index]
            scene = replace(scene, ground=tones)
    for pattern, kind, usual in _SHAPES:
        found = re.search(rf"\b(?:{pattern})\b", words, re.IGNORECASE)
        if found and len(scene.roughs) < _MOST_ROUGHS:
            told.append(f"{found[0]}, in the outline of the mask")
            scene = replace(scene, roughs=(*scene.roughs, _rough(mask, kind, colour or usual)))
    for pattern, usual in _LIGHTS:
        if re.search(rf"\b{pattern}\b", words, re.IGNORECASE):
            ys, xs = np.nonzero(mask)
            radius = float(min(np.ptp(xs), np.ptp(ys))) / 2 + 1
            told.append(pattern)
            scene = replace(scene, disc=Disc((float(xs.mean()), float(ys.mean())), radius, colour or usual))
    return scene


def _rough(mask: Mask, kind: str, colour: Rgb) -> Rough:
    h, w = mask.shape
    contours, _ = cv2.findContours(mask.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    points = max(contours, key=cv2.contourArea)[:, 0].astype(float)
    chosen = points[np.linspace(0, len(points) - 1, min(_MOST_POINTS, len(points))).astype(int)]
    outline = tuple((float(x) / w, float(y) / h) for x, y in chosen)
    ys = [y for _, y in outline]
    return Rough(kind, outline, colour, (float(np.mean([x for x, _ in outline])), max(ys)))


def _rgb(colour: object) -> Rgb:
    r, g, b = map(float, colour)  # type: ignore[call-overload]
    return r, g, b
