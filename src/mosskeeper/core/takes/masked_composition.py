"""Composing what words ask for into a masked place of any picture.

A colour is given to what is there; a thing is drawn by the illustrator, fitted to the mask, lit like its surroundings
and laid over the picture; another background is drawn without anybody in it. The methods are ours.
"""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import FIGURE_PARTS, SKIN_PARTS, Description, Layout, Part
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH, EYE_COLOURS, HAIR_COLOURS, SKINS
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab
from mosskeeper.core.traits import BY_NAME, OF_PLACE, WORN
from mosskeeper.core.words.understand import Scores

F32 = NDArray[np.float32]
Rgb = NDArray[np.float64]
# What parts of a drawing a thing that words name consists of; the first that is named counts.
_THINGS: tuple[tuple[str, tuple[Part, ...]], ...] = (
    ("subject", FIGURE_PARTS),
    ("companion", (Part.COMPANION,)),
    *(
        (name, tuple(Part[part] for part in BY_NAME[name].shows_in if part != "HAND"))
        for name in ("prop", "headwear", "hair", "facial hair")
    ),
    ("expression", (Part.FACE, Part.BROW, Part.EYES, Part.MOUTH)),
    ("glasses", (Part.EYES, Part.BROW)),  # a frame alone would be composed without the eyes behind it
    ("outfit", tuple(Part[part] for part in BY_NAME["outfit"].shows_in)),
    *((thing, (Part.ACCESSORY,)) for thing in WORN),
)
_COLOURS = (("hair colour", HAIR_COLOURS), ("eyes", EYE_COLOURS), ("skin", SKINS), ("colour", CLOTH), ("trim", CLOTH))
_NOWHERE = Layout("standing", "half", pinned=(-9.0, 0.5, 0.1))
_BRIGHTER = (0.6, 1.5)  # how far the light of what is composed is fitted to its surroundings


def composed(source_u8: NDArray[np.uint8], mask: F32, description: Description, wanted: Scores) -> NDArray[np.uint8]:
    """A picture (H, W, 3) with what `wanted` names in the masked place (H, W); only what the mask opens should be used of it.

    Parameters
    ----------
    description : a person and a place that the words describe, to draw the thing from.
    """
    parts = next((parts for attribute, parts in _THINGS if attribute in wanted), None)
    if parts is not None:
        return _with_thing(source_u8, mask, description, parts)
    if any(attribute in wanted for attribute in OF_PLACE):
        h, w = mask.shape
        return draw(replace(description, layout=_NOWHERE, others=(), companion="nobody"), (w, h)).image
    for attribute, table in _COLOURS:
        if attribute in wanted:
            scores = wanted[attribute]
            return _tinted(source_u8, mask, np.asarray(table[max(scores, key=lambda name: scores[name])]))
    h, w = mask.shape
    return draw(description, (w, h)).image


def _with_thing(source_u8: NDArray[np.uint8], mask: F32, description: Description, parts: tuple[Part, ...]) -> NDArray[np.uint8]:
    h, w = mask.shape
    x0, y0, x1, y1 = _box(mask > 0.5)
    whole = Part.COMPANION in parts or set(parts) & {Part.BOTTOM, Part.SHOES}
    layout = Layout("facing" if not whole else description.layout.pose, "full" if whole else "half", description.layout.facing)
    if Part.PROP in parts:
        layout = replace(description.layout, framing="half")
    big = max(256, int(max(h, w) * 1.2))
    drawing = draw(replace(description, layout=layout, others=()), (big, big * 5 // 4))
    matte = _matte(drawing, parts)
    if not (matte > 0.5).any():
        return source_u8.copy()
    a0, b0, a1, b1 = _box(matte > 0.5)
    scale = float(np.sqrt((x1 - x0) * (y1 - y0) / max((a1 - a0) * (b1 - b0), 1)))
    move = np.array([[scale, 0, (x0 + x1) / 2 - scale * (a0 + a1) / 2], [0, scale, (y0 + y1) / 2 - scale * (b0 + b1) / 2]])
    thing = cv2.warpAffine(drawing.image, move, (w, h), flags=cv2.INTER_AREA if scale < 1 else cv2.INTER_CUBIC)
    alpha = cv2.warpAffine(matte, move, (w, h), flags=cv2.INTER_LINEAR)[..., None]
    lit = thing.astype(np.float32) * _light(source_u8, mask, drawing, parts)
    return np.asarray(np.clip(source_u8 * (1 - alpha) + lit * alpha + 0.5, 0, 255), np.uint8)


def _light(source_u8: NDArray[np.uint8], mask: F32, drawing: Drawing, parts: tuple[Part, ...]) -> float:
    """How much brighter the picture is around the mask than the drawing is around the thing."""
    ring = cv2.dilate((mask > 0.5).astype(np.uint8), np.ones((25, 25), np.uint8)) > (mask > 0.5)
    skin = np.isin(drawing.labels, (*SKIN_PARTS, *(Part[part] for part in BY_NAME["outfit"].shows_in))) & ~np.isin(drawing.labels, parts)
    if not ring.any() or not skin.any():
        return 1.0
    return float(np.clip(np.sqrt(source_u8[ring].mean() / max(drawing.image[skin].mean(), 1.0)), *_BRIGHTER))


def _matte(drawing: Drawing, parts: tuple[Part, ...]) -> F32:
    """(H, W) 0…1 with a soft border half a pixel wide: where the parts are."""
    wanted = np.isin(drawing.labels, parts).astype(np.float32)
    if Part.EYES in parts and Part.FACE not in parts:  # what is worn about the eyes: with the skin between
        wanted = np.asarray(cv2.morphologyEx(wanted, cv2.MORPH_CLOSE, np.ones((15, 15), np.uint8)), np.float32)
    if Part.COMPANION not in parts:
        wanted *= drawing.figures == 1
    return np.asarray(np.clip(cv2.GaussianBlur(wanted, (0, 0), 1.0) * 2 - 0.5, 0, 1), np.float32)


def _tinted(source_u8: NDArray[np.uint8], mask: F32, colour: Rgb) -> NDArray[np.uint8]:
    """The picture in another colour: the mean of the masked place becomes that colour, light and grain stay."""
    lab = rgb_to_lab(source_u8.astype(np.float32) / np.float32(255))
    aim = rgb_to_lab(np.asarray(colour, np.float32))
    inside = mask > 0.5
    mean = lab[inside].mean(0)
    out = lab.copy()
    out[..., 1:] = aim[1:] + (lab[..., 1:] - mean[1:]) * np.float32(0.4)
    out[..., 0] = np.clip(lab[..., 0] + (aim[0] - mean[0]) * np.float32(0.8), 0, 100)
    return np.asarray(np.clip(lab_to_rgb(out) * 255 + 0.5, 0, 255), np.uint8)


def _box(mask: NDArray[np.bool_]) -> tuple[int, int, int, int]:
    ys, xs = np.nonzero(mask)
    return int(xs.min()), int(ys.min()), int(xs.max()) + 1, int(ys.max()) + 1
