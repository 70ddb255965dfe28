"""`read`: any picture, looked at by the trained networks. It sees pixels only, never a recipe."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Face
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH, EYE_COLOURS, HAIR_COLOURS, SKINS
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab
from mosskeeper.core.pictures.resample import fitted, linear
from mosskeeper.core.reading.classes import UNKNOWN
from mosskeeper.core.reading.close_pass import look_closely
from mosskeeper.core.reading.palette import read_palette
from mosskeeper.core.reading.reading import FigureRead, Reading, Rgb
from mosskeeper.core.reading.scene_pass import FigureFound, SceneFound, look
from mosskeeper.core.reading.weights import Weights, shipped

F32 = NDArray[np.float32]
MOST_READ = 4  # figures of one picture that are read closely
_LARGEST = 1400  # px of the longer side from which heads are cut; larger pictures are reduced first
_WORTH_SAYING = 0.04  # confidence below which a value is not told
_LEAST_ERROR = 6.0  # Lab units: names nearer to each other are not told apart
_SMALL_HEAD = 9.0  # px
_FINER = 4  # how much the part map is enlarged
_NAMED_COLOURS = {"skin": SKINS, "hair colour": HAIR_COLOURS, "eyes": EYE_COLOURS, "colour": CLOTH, "trim": CLOTH}


def read(picture: NDArray[np.uint8], weights: Weights | None = None) -> Reading:
    """Reads a picture (H, W, 3) sRGB of any size from 1×1.

    The networks were trained on the illustrator's drawings: elsewhere their confidence falls, and what is not read is left
    out. Nobody in the picture gives a reading without figures.
    """
    weights = weights or shipped()
    rgb = _reduced(np.ascontiguousarray(picture[:, :, :3]))
    seen = look(rgb, weights)
    figures = tuple(_figure(rgb, found, weights) for found in seen.figures[:MOST_READ])
    told = _told(_named(seen.picture, weights.card.of_picture))
    if not figures:
        return Reading(read_palette(rgb), told, depth=seen.depth, parts=_parts(seen), reader="drawings", version=weights.card.version)
    main = figures[0]
    return Reading(
        read_palette(rgb),
        {**told, **main.attributes},
        main.face,
        main.colours,
        main.sure_joints,
        seen.depth,
        _parts(seen),
        figures,
        "drawings",
        weights.card.version,
    )


def _reduced(rgb_u8: NDArray[np.uint8]) -> NDArray[np.uint8]:
    k = _LARGEST / max(rgb_u8.shape[:2])
    if k >= 1:
        return rgb_u8
    h, w = rgb_u8.shape[:2]
    return fitted(rgb_u8, (max(round(w * k), 1), max(round(h * k), 1)))


def _parts(seen: SceneFound) -> NDArray[np.uint8]:
    """The part map, enlarged before it is decided, so that its borders are smooth."""
    _, h, w = seen.parts.shape
    fine = linear(np.ascontiguousarray(seen.parts.transpose(1, 2, 0)), (w * _FINER, h * _FINER))
    return np.asarray(fine.argmax(2), np.uint8)


def _figure(rgb_u8: NDArray[np.uint8], found: FigureFound, weights: Weights) -> FigureRead:
    h, w = rgb_u8.shape[:2]
    size = np.array([w, h])
    named = _named(found.named, weights.card.of_figure)
    colours: dict[str, Rgb] = {}
    for name, lab in zip(("colour", "trim"), found.colours, strict=True):
        if lab is not None:
            r, g, b = lab_to_rgb(lab)
            colours[name] = (float(r), float(g), float(b))
    mask = found.mask > 0.5
    box = _box(mask)
    x, y, height = found.head
    close = look_closely(rgb_u8, (x, y), height, weights) if height > _SMALL_HEAD else None
    if close is None:
        attributes = _told(named) | _colour_names(colours, weights)
        head = (x / w, y / h, height / h) if height else None
        return FigureRead(found.sure, box, head, found.joints / size, found.joint_confidence, mask, attributes, colours)
    of_head = _named(close.named, weights.card.of_head)
    for name in named.keys() & of_head.keys():  # both passes saw it: two opinions
        named[name] = _agreed(named[name], of_head.pop(name))
    colours = {**close.colours, **colours}
    face_sure = float(np.median(close.confidence)) * min(1.0, found.sure * 1.5)
    attributes = _told({**named, **of_head}) | _colour_names(colours, weights)
    return FigureRead(
        found.sure,
        box,
        (x / w, y / h, height / h),
        found.joints / size,
        found.joint_confidence,
        mask,
        attributes,
        colours,
        close.landmarks / size,
        close.confidence,
        Face.from_array(close.face.astype(np.float64)),
        close.held,
        close.identity,
        face_sure,
    )


def _box(mask: NDArray[np.bool_]) -> tuple[float, float, float, float]:
    h, w = mask.shape
    rows, columns = np.flatnonzero(mask.any(1)), np.flatnonzero(mask.any(0))
    if not len(rows):
        return 0.0, 0.0, 1.0, 1.0
    return columns[0] / w, rows[0] / h, (columns[-1] + 1) / w, (rows[-1] + 1) / h


def _named(logits: F32, lists: Mapping[str, Sequence[str]]) -> dict[str, dict[str, float]]:
    """Attribute → value → probability."""
    out, start = {}, 0
    for name, values in lists.items():
        part = logits[start : start + len(values)].astype(np.float64)
        start += len(values)
        p = np.exp(part - part.max())
        out[name] = dict(zip(values, (p / p.sum()).tolist(), strict=True))
    return out


def _agreed(a: Mapping[str, float], b: Mapping[str, float]) -> dict[str, float]:
    """Two opinions, multiplied."""
    both = {value: a[value] * b[value] + 1e-12 for value in a.keys() & b.keys()}
    total = sum(both.values())
    return {value: p / total for value, p in both.items()}


def _told(named: Mapping[str, Mapping[str, float]]) -> dict[str, dict[str, float]]:
    """What is worth saying of each attribute; nothing of one that is most likely unknown."""
    out = {}
    for name, values in named.items():
        if max(values, key=lambda v: values[v]) == UNKNOWN:
            continue
        out[name] = {value: p for value, p in values.items() if p >= _WORTH_SAYING and value != UNKNOWN}
    return out


def _colour_names(colours: Mapping[str, Rgb], weights: Weights) -> dict[str, dict[str, float]]:
    """Names of colours, as sure as the weights are known to be of each: a colour that is often misread is told as nothing."""
    errors = weights.card.colour_errors
    named = {name: _nearest(rgb, _NAMED_COLOURS[name], max(errors.get(name, 0.0), _LEAST_ERROR)) for name, rgb in colours.items()}
    return {name: values for name, values in named.items() if values}


def _nearest(rgb: Iterable[float], table: Mapping[str, NDArray[np.float64]], error: float) -> dict[str, float]:
    """The names of a colour, by their distance in Lab."""
    names = list(table)
    known = rgb_to_lab(np.asarray([table[name] for name in names], np.float32))
    distance = np.sqrt(np.square(known - rgb_to_lab(np.asarray(list(rgb), np.float32))).sum(1))
    p = np.exp(-np.square(distance / error) / 2 + np.square(distance.min() / error) / 2)
    p /= p.sum()
    return {name: float(v) for name, v in zip(names, p, strict=True) if v >= _WORTH_SAYING}
