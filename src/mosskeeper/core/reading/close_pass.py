"""The reader's second pass: one head, cut out of the picture's own pixels.

1. Two looks of the network, the second mirrored, averaged.
2. Landmarks refined on gradients.
3. The face's measures by a small network from the refined landmarks and what moves them.
4. A second opinion of the attributes, and the colours, by two more, from the head laid by its landmarks.
5. Identity: all of it in a space in which what differs within a person is as large everywhere, weighted by what differs between
   persons (probabilistic linear discriminant analysis; Ioffe, 2006).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.face import LANDMARKS
from mosskeeper.core.pictures.colour import lab_to_rgb
from mosskeeper.core.reading.aligned import aligned_row, colour_row
from mosskeeper.core.reading.classes import HEAD_COLOURS
from mosskeeper.core.reading.head_crop import REACH, SIDE, crop_matrix, warped
from mosskeeper.core.reading.landmark_cascade import refined, shape_of
from mosskeeper.core.reading.weights import Weights

F32 = NDArray[np.float32]
MIRRORED = [LANDMARKS.index(n.replace("right", "?").replace("left", "right").replace("?", "left")) for n in LANDMARKS]
_UPRIGHT_FROM = 0.2  # radians of tilt from which a head is looked at once more, upright
_MOST_TILT = 0.6
_LARGE = 90.0  # px of a head's height from which it is seen as sharp as the networks can tell


@dataclass(frozen=True)
class Looked:
    """What the network tells of one head. at : (K, 2) in 0…1 of the crop. spread : (K,) logarithm of the expected error, in distances
    of the eyes. seen : (K,) logits. classes : logits of the head's attributes. face : (14,) scaled. held : turn, nod,
    tilt. identity : (64,).
    """

    at: F32
    spread: F32
    seen: F32
    classes: F32
    face: F32
    held: F32
    identity: F32


def looked(run: Callable[[F32], list[F32]], crop_u8: NDArray[np.uint8], sizes: tuple[int, ...]) -> Looked:
    """A crop (128, 128, 3) looked at as it is and mirrored.

    run : from (N, 3, 128, 128) in 0…1 to the outputs of the network. sizes : of the parts of its vector.
    """
    both = np.stack([crop_u8, crop_u8[:, ::-1]]).transpose(0, 3, 1, 2)
    at, spread, vector, identity = run(np.ascontiguousarray(both, np.float32) / np.float32(255))
    seen, classes, _, face, held = np.split(vector, np.cumsum(sizes)[:-1], axis=1)
    at, held = at.copy(), held.copy()
    at[1] = np.stack([1 - at[1, MIRRORED, 0], at[1, MIRRORED, 1]], 1)
    held[1, [0, 2]] *= -1
    who = identity.mean(0)
    return Looked(
        at.mean(0),
        (spread[0] + spread[1, MIRRORED]) / 2,
        (seen[0] + seen[1, MIRRORED]) / 2,
        classes.mean(0),
        face.mean(0),
        held.mean(0),
        who / max(float(np.linalg.norm(who)), 1e-6),
    )


def probabilities(logits: F32, lists: Mapping[str, tuple[str, ...]]) -> F32:
    """The probabilities of all attributes' values, one after the other."""
    out, start = [], 0
    for values in lists.values():
        part = logits[start : start + len(values)]
        start += len(values)
        p = np.exp(part - part.max())
        out.append(p / p.sum())
    return np.concatenate(out).astype(np.float32)


def beside_of(look: Looked, lists: Mapping[str, tuple[str, ...]]) -> F32:
    """What else than places the stages of the cascade are told: how the head is held, and its attributes."""
    return np.concatenate([look.held, probabilities(look.classes, lists)]).astype(np.float32)


def face_row(shape: NDArray[np.float64], look: Looked, beside: F32) -> F32:
    """What the network of the face's measures sees."""
    return np.concatenate([shape.ravel() * 6, look.spread, look.face, beside]).astype(np.float32)


def aligned_inputs(rgb_u8: NDArray[np.uint8], marks: NDArray[np.float64], height: float, look: Looked, shape: F32) -> F32:
    """What the network of the second opinion sees. marks : px, refined. shape : of the mean face, see `aligned`."""
    size = np.float32(np.log(min(height, _LARGE) / _LARGE))
    return np.concatenate([aligned_row(rgb_u8, marks, shape), look.held, [size]]).astype(np.float32)


def identity_row(look: Looked, face: F32, colours: F32, named: F32) -> F32:
    """What an identity is made of, before it is projected.

    face : (14,) scaled measures. colours : (9,) scaled Lab. named : probabilities of all attributes' values.
    """
    return np.concatenate([look.identity * 4, face, colours * 2, named]).astype(np.float32)


def layered(row: F32, arrays: Mapping[str, F32], name: str) -> F32:
    """A network of fully connected layers with rectified ones between them, out of plain arrays `NAME_w1`, `NAME_b1` …"""
    n = 1
    while f"{name}_w{n + 1}" in arrays:
        row = np.maximum(row @ arrays[f"{name}_w{n}"] + arrays[f"{name}_b{n}"], 0)
        n += 1
    return np.asarray(row @ arrays[f"{name}_w{n}"] + arrays[f"{name}_b{n}"], np.float32)


def projected(row: F32, arrays: Mapping[str, F32]) -> F32:
    """(64,) of length 1: an identity, whose cosine tells how alike two persons are."""
    who = (row - arrays["identity_middle"]) @ arrays["identity_projection"]
    return np.asarray(who / max(float(np.linalg.norm(who)), 1e-6), np.float32)


@dataclass(frozen=True)
class Close:
    """A head seen closely; places in px of the picture."""

    landmarks: NDArray[np.float64]  # (36, 2)
    confidence: F32  # (36,) that each is seen, and how surely it lies there
    named: F32  # logits of the head's attributes
    colours: dict[str, tuple[float, float, float]]  # of skin, hair and eyes without light, sRGB 0…1
    face: F32  # (14,) geometry in the order of `Face`
    held: tuple[float, float, float]  # turn −1…1 (to the picture's right), nod −1 up … 1 down, tilt in radians clockwise
    identity: F32  # (64,) of length 1


def look_closely(rgb_u8: NDArray[np.uint8], centre: tuple[float, float], height: float, weights: Weights) -> Close:
    """Reads the head of `height` px about `centre` in a picture (H, W, 3)."""
    first, matrix = _look(rgb_u8, centre, height, weights, 0.0)
    tilt = float(np.clip(first.held[2], -_MOST_TILT, _MOST_TILT))
    look = first
    if abs(tilt) > _UPRIGHT_FROM:
        look, matrix = _look(rgb_u8, centre, height, weights, tilt)
        tilt += float(look.held[2])
    back = np.linalg.inv(np.vstack([matrix, [0, 0, 1]]))
    marks = look.at.astype(np.float64) * SIDE @ back[:2, :2].T + back[:2, 2]
    arrays, lists, scales = weights.arrays, weights.card.of_head, weights.card.scales
    beside = beside_of(look, lists)
    marks = refined(rgb_u8, marks, height, tilt, beside, arrays["cascade"])
    face = layered(face_row(shape_of(marks, height, tilt), look, beside), arrays, "face")
    again = layered(aligned_inputs(rgb_u8, marks, height, look, arrays["aligned_shape"]), arrays, "aligned")
    named = look.classes + again  # two opinions, multiplied
    colours = layered(colour_row(rgb_u8, marks, arrays["aligned_shape"]), arrays, "colours")
    lab = colours.reshape(-1, 3) * scales["lab_spread"] + np.asarray(scales["lab_middle"])
    rgb = lab_to_rgb(lab.astype(np.float32))
    sure = 1 / (1 + np.exp(-np.clip(look.seen, -30, 30))) * np.clip(1.15 - np.exp(look.spread), 0, 1)
    return Close(
        marks,
        sure.astype(np.float32),
        named,
        {name: (float(r), float(g), float(b)) for name, (r, g, b) in zip(HEAD_COLOURS, rgb, strict=True)},
        np.asarray(np.clip(face, -2.2, 2.2) * np.asarray(scales["face_spread"]) + np.asarray(scales["face_middle"]), np.float32),
        (float(np.clip(look.held[0], -1, 1)), float(np.clip(look.held[1], -1, 1)), tilt),
        projected(identity_row(look, face, colours, probabilities(named, lists)), arrays),
    )


def _look(
    rgb_u8: NDArray[np.uint8], centre: tuple[float, float], height: float, weights: Weights, tilt: float
) -> tuple[Looked, NDArray[np.float64]]:
    matrix = crop_matrix(centre, height * REACH, SIDE, tilt)
    return looked(lambda x: weights.run("close", x=x), warped(rgb_u8, matrix, SIDE), weights.card.head_sizes), matrix
