"""Adds the head of a natural figure, its neck and its hair to the items of a drawing, with its landmarks."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import skia
from numpy.typing import NDArray

from mosskeeper.core.illustrator import garments
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.figure import PITCH, YAW, DrawnFigure
from mosskeeper.core.illustrator.items import Canvas, Item, Painting
from mosskeeper.core.illustrator.natural import head
from mosskeeper.core.illustrator.natural.form import form_of
from mosskeeper.core.illustrator.natural.head import DrawnHead, Held
from mosskeeper.core.illustrator.natural.view import PIVOT
from mosskeeper.core.illustrator.shapes import Points, spline

BEHIND, NECK, HEAD = 104.0, 134.0, 150.0  # slots of hair behind the shoulders, of the neck, and of the head
_ARMS = (150.0, 172.6)  # slots of arms, which lie below a natural head
_PROFILE = 88.0  # degrees by which a head in profile is turned
_LONG = ("braid", "ponytail")


def add_head(f: DrawnFigure, canvas: Canvas) -> None:
    """Adds hair behind the shoulders, neck and head as paintings; fills in the landmarks and the five joints of the head."""
    made, corner = _drawn(f, canvas)
    parts = made.parts
    is_neck = np.isin(parts, (0, Part.NECK)) & (cv2.dilate((parts == Part.NECK).astype(np.uint8), np.ones((3, 3), np.uint8)) > 0)
    bare = _inside(f.px(_neckline(f)), corner, parts.shape)
    seen = _inside(f.px(garments.hood_opening(f)), corner, parts.shape) if f.hood else np.ones(parts.shape, np.float32)
    if made.behind is not None and not f.hood:
        _add(f, made.behind, np.ones(parts.shape, np.float32), corner, BEHIND)
    _add(f, made, is_neck * bare, corner, NECK)
    _add(f, made, ~is_neck * seen, corner, HEAD)
    landmarks = {name: np.asarray(at) + corner for name, at in made.landmarks.items()}
    swap = {"right": "left", "left": "right"} if f.facing < 0 else {}  # names follow the figure before it is mirrored
    f.landmarks |= {" ".join(swap.get(word, word) for word in name.split()): at for name, at in landmarks.items()}
    f.head_points = np.asarray(made.points) + corner


def below_head(items: list[Item]) -> list[Item]:
    """The items with arms below the head: theirs are slots of flat heads, which have no neck of their own."""
    low, high = _ARMS

    def placed(item: Item) -> Item:
        is_arm = item.part in (Part.SLEEVE, Part.SKIN) and low <= item.slot < high
        return replace(item, slot=HEAD - 1 + (item.slot - low) / (high - low)) if is_arm else item

    return [placed(item) for item in items]


def _drawn(f: DrawnFigure, canvas: Canvas) -> tuple[DrawnHead, tuple[int, int]]:
    """The head with its hair in a cut of the picture, and the cut's corner in px."""
    s, held, hair = f.head_size * f.scale, f.posture.head, f.is_.hair
    at, neck = f.px(f.head - f.head_up * PIVOT[1] * f.head_size), f.px(f.j["neck"])
    reach = 1.75 if hair.startswith("long") or any(name in hair for name in _LONG) else 1.15
    x0, x1 = _cut(at[0] - s, at[0] + s, canvas.width)
    y0, y1 = _cut(at[1] - 1.05 * s, at[1] + reach * s, canvas.height)
    yaw = held.profile * _PROFILE if held.profile else held.turn * YAW
    turned = Held(yaw * f.facing, held.nod * PITCH, float(np.degrees(held.tilt)) * f.facing)
    base = (neck - at) / s
    made = head.drawn(
        f.is_,
        form_of(f.is_, f.expression, f.body, s),
        turned,
        (x1 - x0, y1 - y0),
        (float(at[0] - x0), float(at[1] - y0)),
        s,
        f.light,
        (float(base[0]), float(base[1])),
        head.brush_noise(canvas)[y0:y1, x0:x1],
        f.sheets,
    )
    return made, (x0, y0)


def _cut(low: float, high: float, size: int) -> tuple[int, int]:
    """Whole pixels of a range, at least one, inside of a picture of `size`."""
    first = int(np.clip(low, 0, size - 1))
    return first, int(np.clip(high, first + 1, size))


def _add(f: DrawnFigure, made: DrawnHead, where: NDArray[np.float32], corner: tuple[int, int], slot: float) -> None:
    """Adds what lies where `where` (h, w, 0…1) says, as one painting, cut to where there is something."""
    shown = (made.colours[..., 3] > 0.02) & (where > 0)
    rows, columns = np.flatnonzero(shown.any(1)), np.flatnonzero(shown.any(0))
    if not rows.size:
        return
    cut = np.s_[rows[0] : rows[-1] + 1, columns[0] : columns[-1] + 1]
    at = (corner[0] + int(columns[0]), corner[1] + int(rows[0]))
    colours = made.colours[cut] * where[cut][..., None].astype(np.float32)
    parts = (made.parts[cut] * (where[cut] > 0.5)).astype(np.uint8)
    path, depth = _outline(colours[..., 3], at), f.depth - (slot - 100) * 0.0004
    painting = Painting(at, colours, parts, (f.skin, f.hair_colour))
    drop = 0.0 if slot == BEHIND else 0.2 if slot == NECK else 0.6
    f.display.items.append(Item(path, f.skin, Part.FACE, depth, slot, line=1.0, drop=drop, figure=f.number, painting=painting))


def _outline(alpha: NDArray[np.float32], corner: tuple[int, int]) -> skia.Path:
    """The outlines of what is opaque."""
    found, _ = cv2.findContours((alpha > 0.5).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_TC89_L1)
    path = skia.Path()
    for one in found:
        if len(one) > 2:
            path.addPoly([skia.Point(float(x) + 0.5, float(y) + 0.5) for x, y in one[:, 0] + corner], True)
    return path


def _neckline(f: DrawnFigure) -> Points:
    """Where a neck is bare: above the collar, and in the opening of what is worn."""
    opening = spline([f.at(-0.16, -0.10), f.at(-0.10, 0.085), f.at(0, 0.155), f.at(0.10, 0.085), f.at(0.16, -0.10)], False, 6)
    left, right = [f.at(-2, -3), f.at(-2, -0.17), f.at(-0.155, -0.155)], [f.at(0.155, -0.155), f.at(2, -0.17), f.at(2, -3)]
    return np.vstack([left, opening, right])


def _inside(px: Points, corner: tuple[int, int], shape: tuple[int, ...]) -> NDArray[np.float32]:
    """How far each pixel of a cut lies inside an outline, 0…1."""
    mask = np.zeros(shape, np.uint8)
    cv2.fillPoly(mask, [((px - corner) * 16).astype(np.int32)], 255, cv2.LINE_AA, 4)
    return np.asarray(mask / 255, np.float32)
